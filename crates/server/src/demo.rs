//! The Tern Point club's packs, gear, plans, packs in trouble and logbook.

use rumek_store::{
    Chargers, Database, Draft, Leads, Links, Origin, Packs, Plans, Rescues, Shelf, StoreError, Supplies,
};
use serde::Deserialize;
use time::OffsetDateTime;
use uuid::Uuid;

mod item;
mod runs;
mod shelf;

use item::Item;

/// The demo data as it is written down.
#[derive(Debug, Deserialize)]
struct Workshop {
    packs: Vec<Item>,
    gear: Vec<Item>,
    chargers: Vec<Item>,
    leads: Vec<Item>,
    plans: Vec<Item>,
    rescues: Vec<Item>,
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
    put::<Packs>(database, &workshop.packs).await?;
    put::<Supplies>(database, &workshop.gear).await?;
    put::<Chargers>(database, &workshop.chargers).await?;
    put::<Leads>(database, &workshop.leads).await?;
    put::<Plans>(database, &workshop.plans).await?;
    put::<Rescues>(database, &workshop.rescues).await?;
    let now = OffsetDateTime::now_utc().truncate_to_second();
    shelf::fill(database, now).await?;
    runs::fill(database, &workshop.plans, now).await
}

/// Lists show what changed last first: written in reverse, they come in the order of the file.
async fn put<E: Shelf>(database: &Database, items: &[Item]) -> Result<(), StoreError> {
    let origin = |id: Option<Uuid>| id.map(|id| Origin { id, version: 1 });
    for item in items.iter().rev() {
        let links = Links {
            pack: origin(item.pack),
            source: origin(item.source),
            charger: origin(item.charger),
            input: origin(item.input),
            output: origin(item.output),
        };
        database.shelf::<E>().create(item.id, Draft { document: item.document.clone(), links }).await?;
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use std::collections::BTreeSet;

    use rumek_core::codes::LimitCode;
    use rumek_core::formats::{ChargerDoc, LeadDoc, PackDoc, PlanDoc, RescueCaseDoc, SourceDoc, Verdict, from_value};

    use super::*;

    #[test]
    #[allow(clippy::unwrap_used)]
    fn every_demo_document_reads_and_every_demo_plan_answers() {
        let workshop: Workshop = serde_json::from_str(WORKSHOP).unwrap();
        for pack in &workshop.packs {
            rumek_core::check_pack(&from_value::<PackDoc>(&pack.document).unwrap()).unwrap();
        }
        for source in &workshop.gear {
            rumek_core::check_source(&from_value::<SourceDoc>(&source.document).unwrap()).unwrap();
        }
        for charger in &workshop.chargers {
            rumek_core::check_charger(&from_value::<ChargerDoc>(&charger.document).unwrap()).unwrap();
        }
        for lead in &workshop.leads {
            rumek_core::check_lead(&from_value::<LeadDoc>(&lead.document).unwrap()).unwrap();
        }
        let mut pinches = BTreeSet::new();
        let mut checks = BTreeSet::new();
        for plan in &workshop.plans {
            let result = rumek_core::answer(&from_value::<PlanDoc>(&plan.document).unwrap()).unwrap();
            pinches.extend(result.pinch.iter().map(|span| span.limit.code()));
            checks.extend(result.checks.iter().map(|check| check.code.code()));
        }
        let verdicts: BTreeSet<Verdict> = workshop
            .rescues
            .iter()
            .map(|case| from_value::<RescueCaseDoc>(&case.document).unwrap().rescue.unwrap())
            .map(|rescue| rumek_core::rescue(&rescue).unwrap().verdict)
            .collect();
        assert_eq!(Vec::from_iter(verdicts), [Verdict::Precharge, Verdict::Wake, Verdict::Retire]);
        let chemistries: BTreeSet<_> = workshop.packs.iter().map(|p| p.document["chemistry"].to_string()).collect();
        assert!(workshop.packs.len() >= 9 && chemistries.len() >= 7, "{chemistries:?}");
        assert!(workshop.gear.len() >= 8 && workshop.chargers.len() >= 7 && workshop.plans.len() >= 8);
        for limit in LimitCode::ALL {
            assert!(pinches.contains(limit.code()), "no demo plan is pinched by {}", limit.code());
        }
        assert!(checks.len() >= 40, "{} checks: {checks:?}", checks.len());
    }
}
