//! What a plan's pack is marked as on the shelf.

use rumek_core::formats::{PackDoc, PlanDoc, from_value};
use rumek_store::{Packs, StoreError};
use uuid::Uuid;

use crate::app::App;
use crate::problem::Problem;

/// A pack on the shelf; none where it is not there, or no database.
pub(crate) async fn on_shelf(app: &App, pack: Option<Uuid>) -> Result<Option<PackDoc>, Problem> {
    let Some(id) = pack else { return Ok(None) };
    match app.database.shelf::<Packs>().get(id).await {
        Ok(row) => Ok(Some(from_value(&row.document)?)),
        Err(StoreError::NotFound(_) | StoreError::Unavailable(_)) => Ok(None),
        Err(error) => Err(error.into()),
    }
}

/// The plan with the mark of its pack on the shelf; where that cannot be had, its own copy of the mark counts.
pub(crate) async fn marked(app: &App, pack: Option<Uuid>, plan: PlanDoc) -> Result<PlanDoc, Problem> {
    Ok(match on_shelf(app, pack).await? {
        Some(pack) => rumek_core::as_marked(&plan, &pack),
        None => plan,
    })
}
