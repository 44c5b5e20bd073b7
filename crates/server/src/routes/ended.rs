//! What an ended run came to, which follows its readings.

use rumek_core::formats::{RefitDoc, RunDoc, from_value};
use rumek_core::understand_sums;
use rumek_store::{Draft, Runs, StoreError, Stored};
use uuid::Uuid;

use crate::app::App;
use crate::problem::Problem;
use crate::routes::clock::{self, unix_s};
use crate::routes::summed::of_all;

/// The charge of an ended run is kept as it was told, to this many Ah.
const TOLD_AH: f64 = 0.0006;
/// Somebody else may write the run meanwhile, so often.
const TRIES: usize = 5;

/// What the readings of an ended run make of it.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct CameTo {
    /// Into the pack or out of it, Ah.
    charge_ah: f64,
    /// What they make of its pack; none where they tell too little.
    fitted: Option<RefitDoc>,
}

/// What the readings of a run make of it by now; none while it goes on.
pub(crate) async fn came_to(app: &App, row: &Stored, run: &RunDoc) -> Result<Option<CameTo>, Problem> {
    let Some(plan) = run.plan.as_ref().filter(|_| run.ended_at.is_some()) else { return Ok(None) };
    let began = clock::began(row, run);
    let sums = of_all(&app.database.logs(), row.id, run, began).await?;
    let state = understand_sums(&sums, unix_s(began), None);
    let fitted = rumek_core::refit_of(plan, &state);
    Ok(Some(CameTo { charge_ah: state.account.charge_ah.abs(), fitted }))
}

/// What the readings of a run had made of its pack when it ended; none where they told too little.
pub(crate) async fn ended_fit(app: &App, id: Uuid, run: &RunDoc) -> Result<Option<RefitDoc>, Problem> {
    let row = app.database.shelf::<Runs>().get(id).await?;
    Ok(came_to(app, &row, run).await?.and_then(|came_to| came_to.fitted))
}

/// Writes anew what an ended run came to, once its readings have changed. A charge that somebody typed stays as typed:
/// only one that was told from the readings before follows them.
pub(crate) async fn follow(app: &App, id: Uuid, before: Option<CameTo>) -> Result<(), Problem> {
    let Some(before) = before else { return Ok(()) };
    for _ in 0..TRIES {
        let row = app.database.shelf::<Runs>().get(id).await?;
        let run: RunDoc = from_value(&row.document)?;
        let Some(now) = came_to(app, &row, &run).await?.filter(|now| *now != before) else { return Ok(()) };
        let told = |ah: f64| (ah.abs() - before.charge_ah).abs() < TOLD_AH;
        let follows = |ah: f64| if told(ah) { now.charge_ah.copysign(ah) } else { ah };
        let followed = RunDoc { charge_ah: run.charge_ah.map(follows), fitted: now.fitted, ..run };
        let document = serde_json::to_value(&followed).map_err(|error| Problem::failed(&error))?;
        let draft = Draft { document, links: row.links };
        match app.database.shelf::<Runs>().update(id, row.version, draft).await {
            Err(StoreError::Conflict(_)) => {}
            written => return Ok(written.map(drop)?),
        }
    }
    Err(Problem::conflict("The run is being changed elsewhere. The reading is kept: open the run again."))
}
