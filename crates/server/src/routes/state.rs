//! What a run's readings mean, made out from every one of them.

use axum::extract::{Path, Query, State};
use axum::routing::get;
use axum::{Json, Router};
use rumek_core::formats::{PlanDoc, Problems, RunDoc, RunReadingDoc, RunStateDoc, from_value};
use rumek_core::{LogRow, LogSums, understand_sums};
use rumek_store::{Logs, Runs, StoredReading};
use serde::Deserialize;
use serde_json::json;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, of_path, of_query};
use crate::problem::Problem;
use crate::routes::clock;
use crate::routes::resources::parse_id;
use crate::routes::runs::{PAGE, unix_s};
use crate::wire::moment;

/// Sums of so many more readings than were kept before are kept in turn.
const WORTH_KEEPING: usize = 500;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/runs/{id}/state", get(state))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let state = api.schema::<RunStateDoc>();
    let operation = json!({
        "summary": "What a run's readings mean, by every one of them",
        "parameters": [of_path("id"), of_query("now_s", false, json!({ "type": "number" }))],
        "responses": { "200": { "description": "As it stands", "content": { "application/json": { "schema": state } } } }
    });
    api.add_special("/api/runs/{id}/state", "get", operation, &[400, 404, 422, 503]);
}

/// The moment a run is looked at.
#[derive(Clone, Copy, Debug, Deserialize)]
struct StateQuery {
    now_s: Option<f64>,
}

/// What the readings of a run mean, by every one of them.
async fn state(
    State(app): State<App>,
    Path(id): Path<String>,
    Query(query): Query<StateQuery>,
) -> Result<Json<RunStateDoc>, Problem> {
    let row = app.database.shelf::<Runs>().get(parse_id(&id)?).await?;
    let run: RunDoc = from_value(&row.document)?;
    let began = clock::began(&row, &run);
    let plan = run.plan.unwrap_or_default();
    let sums = of_all(&app.database.logs(), row.id, &plan, began).await?;
    let ended = run.ended_at.as_deref().and_then(|at| moment(at, "ended_at").ok());
    let until = ended.unwrap_or_else(OffsetDateTime::now_utc);
    let now_s = query.now_s.filter(|now_s| now_s.is_finite()).unwrap_or((until - began).as_seconds_f64());
    Ok(Json(understand_sums(&sums, unix_s(began), Some(now_s.max(0.0)))))
}

/// The sums of all readings of a run: those that were kept, gone on with.
async fn of_all(logs: &Logs, run: Uuid, plan: &PlanDoc, began: OffsetDateTime) -> Result<LogSums, Problem> {
    let under = |wrong: Problems| Problem::from(wrong.under("/plan"));
    let (covered, kept) = logs.sums(run).await?.unzip();
    let resumed = match &kept {
        Some(kept) => LogSums::resume(plan, kept).map_err(under)?,
        None => None,
    };
    let covered = covered.filter(|_| resumed.is_some()).unwrap_or(0);
    let sums = match resumed {
        Some(sums) => sums,
        None => LogSums::new(plan).map_err(under)?,
    };
    let (sums, read) = match go_on(logs, run, sums, covered, began).await? {
        Some(done) => done,
        // A reading was taken before some that are summed already: all anew, by their times.
        None => anew(logs, run, LogSums::new(plan).map_err(under)?, began).await?,
    };
    if read >= covered + WORTH_KEEPING {
        let document = sums.to_json().map_err(|error| Problem::failed(&error))?;
        logs.keep_sums(run, read, &document).await?;
    }
    Ok(sums)
}

/// Goes on from the first so many readings; none where they are not in the order of their times.
async fn go_on(
    logs: &Logs,
    run: Uuid,
    mut sums: LogSums,
    covered: usize,
    began: OffsetDateTime,
) -> Result<Option<(LogSums, usize)>, Problem> {
    let mut read = covered;
    loop {
        let page = logs.page(run, read, PAGE).await?;
        if page.is_empty() {
            return Ok(Some((sums, read)));
        }
        read += page.len();
        for row in page.iter().filter_map(|row| line(row, began)) {
            if sums.last_unix_s().is_some_and(|last_s| row.unix_s < last_s) {
                return Ok(None);
            }
            sums.push(&row);
        }
    }
}

/// All of them, put in the order of their times.
async fn anew(logs: &Logs, run: Uuid, mut sums: LogSums, began: OffsetDateTime) -> Result<(LogSums, usize), Problem> {
    let rows = logs.page(run, 0, usize::MAX).await?;
    let mut lines: Vec<LogRow> = rows.iter().filter_map(|row| line(row, began)).collect();
    lines.sort_by(|a, b| a.unix_s.total_cmp(&b.unix_s));
    lines.iter().for_each(|line| sums.push(line));
    Ok((sums, rows.len()))
}

/// A reading as a line of a log; none of one that was taken back, cannot be placed, or not be read.
fn line(row: &StoredReading, began: OffsetDateTime) -> Option<LogRow> {
    if row.struck_at.is_some() {
        return None;
    }
    let at = clock::placed(row, began)?;
    let reading = from_value::<RunReadingDoc>(&row.document).ok()?;
    Some(LogRow { unix_s: unix_s(at), reading })
}
