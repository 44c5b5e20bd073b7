//! The Tern Point club's packs, supplies and plans.

use rumek_store::{Database, Draft, Gear, Links, Origin, Packs, Plans, StoreError};
use serde::Deserialize;
use serde_json::Value;
use uuid::Uuid;

/// The demo data as it is written down.
#[derive(Debug, Deserialize)]
struct Workshop {
    packs: Vec<Item>,
    gear: Vec<Item>,
    plans: Vec<Item>,
}

#[derive(Debug, Deserialize)]
struct Item {
    id: Uuid,
    #[serde(default)]
    pack: Option<Uuid>,
    #[serde(default)]
    source: Option<Uuid>,
    document: Value,
}

const WORKSHOP: &str = include_str!("demo/tern_point.json");

/// Fills an empty database; leaves one with anything in it alone.
///
/// # Errors
/// Whatever the store reports.
pub async fn fill(database: &Database) -> Result<(), StoreError> {
    if !database.shelf::<Packs>().is_empty().await? || !database.shelf::<Plans>().is_empty().await? {
        return Ok(());
    }
    let workshop: Workshop =
        serde_json::from_str(WORKSHOP).map_err(|error| StoreError::Refused(format!("the demo data: {error}")))?;
    let origin = |id: Option<Uuid>| id.map(|id| Origin { id, version: 1 });
    let draft = |item: &Item| Draft {
        document: item.document.clone(),
        links: Links { pack: origin(item.pack), source: origin(item.source) },
    };
    // Lists show what changed last first: written in reverse, they come in the order of the file.
    for item in workshop.packs.iter().rev() {
        database.shelf::<Packs>().create(item.id, draft(item)).await?;
    }
    for item in workshop.gear.iter().rev() {
        database.shelf::<Gear>().create(item.id, draft(item)).await?;
    }
    for item in workshop.plans.iter().rev() {
        database.shelf::<Plans>().create(item.id, draft(item)).await?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use rumek_core::document::{PackDoc, PlanDoc, SourceDoc, from_value};

    use super::*;

    #[test]
    #[allow(clippy::unwrap_used)]
    fn every_demo_document_reads_and_every_demo_plan_answers() {
        let workshop: Workshop = serde_json::from_str(WORKSHOP).unwrap();
        for pack in &workshop.packs {
            from_value::<PackDoc>(&pack.document).unwrap();
        }
        for source in &workshop.gear {
            from_value::<SourceDoc>(&source.document).unwrap();
        }
        for plan in &workshop.plans {
            rumek_core::answer(&from_value::<PlanDoc>(&plan.document).unwrap()).unwrap();
        }
        assert!(workshop.packs.len() >= 6 && workshop.gear.len() >= 3 && workshop.plans.len() >= 5);
    }
}
