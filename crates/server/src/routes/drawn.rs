//! Which readings of a run are drawn: every one, or few that keep every extreme; all along or of a span.

use axum::extract::{Path, Query, State};
use axum::routing::get;
use axum::{Json, Router};
use rumek_core::formats::{Problems, RunReadingDoc, from_value};
use rumek_core::{Extremes, thinned_to};
use rumek_store::{Logs, Runs, StoreError, StoredReading};
use serde::Deserialize;
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, of_path, of_query, text};
use crate::problem::Problem;
use crate::routes::clock;
use crate::routes::resources::{asked_moment, parse_id};
use crate::routes::runs::KeptReadingDoc;

/// A drawing of fewer readings shows nothing.
const FEWEST: usize = 20;
/// So many times what is drawn is read whole and thinned; of more the log's overview is read.
const READ_WHOLE: usize = 4;
/// A span is read this part of itself further at both ends, so that its lines go on past them.
const BEYOND: usize = 50;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/runs/{id}/readings", get(list))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let readings = api.schema::<Vec<KeptReadingDoc<RunReadingDoc>>>();
    let operation = json!({
        "summary": "A run's readings: every one, or few that keep every extreme",
        "parameters": [
            of_path("id"),
            of_query("at_most", false, json!({ "type": "integer", "minimum": FEWEST })),
            of_query("from", false, text()),
            of_query("until", false, text()),
        ],
        "responses": { "200": { "description": "By when they were taken, the nearest before and after a span among them", "content": { "application/json": { "schema": readings } } } }
    });
    api.add_special("/api/runs/{id}/readings", "get", operation, &[400, 404, 422, 503]);
}

/// How many readings are asked for, and from when until when.
#[derive(Clone, Debug, Deserialize)]
struct ReadingsQuery {
    at_most: Option<usize>,
    from: Option<String>,
    until: Option<String>,
}

/// A run's readings by when they were taken: every one, or no more than asked for, chosen so that
/// no extreme is lost; of a span, with the nearest before and after it.
async fn list(
    State(app): State<App>,
    Path(id): Path<String>,
    Query(query): Query<ReadingsQuery>,
) -> Result<Json<Vec<KeptReadingDoc<Value>>>, Problem> {
    let run = parse_id(&id)?;
    let mut problems = Problems::default();
    let from = asked_moment(&mut problems, "from", query.from.as_deref());
    let until = asked_moment(&mut problems, "until", query.until.as_deref());
    problems.into_result(())?;
    let logs = app.database.logs();
    let row = app.database.shelf::<Runs>().get(run).await?;
    let began = clock::began(&row, &from_value(&row.document)?);
    let at_most = query.at_most.map_or(usize::MAX, |most| most.max(FEWEST));
    let covered = logs.covered(run).await?;
    let mut rows = logged(&logs, run, covered, (from, until), at_most).await?;
    rows.extend(logs.page(run, covered, usize::MAX).await?);
    // What cannot be placed in its run is shown after all others, of the whole run.
    let (mut rows, astray): (Vec<_>, Vec<_>) = rows.into_iter().partition(|row| clock::placed(row, began).is_some());
    rows.sort_by_key(StoredReading::at);
    let mut rows = thinned(within(rows, from, until), at_most);
    if from.is_none() && until.is_none() {
        rows.extend(astray);
    }
    Ok(Json(rows.into_iter().map(|row| KeptReadingDoc::of(row, began)).collect()))
}

/// What a log brought in holds of a span and a little beyond, few enough to be thinned.
async fn logged(
    logs: &Logs,
    run: Uuid,
    covered: usize,
    (from, until): (Option<OffsetDateTime>, Option<OffsetDateTime>),
    at_most: usize,
) -> Result<Vec<StoredReading>, StoreError> {
    let first = match from {
        Some(from) => logs.taken_before(run, covered, from).await?,
        None => 0,
    };
    let end = match until {
        Some(until) => logs.taken_before(run, covered, until).await?,
        None => covered,
    };
    let beyond = end.saturating_sub(first) / BEYOND + 2;
    let (first, end) = (first.saturating_sub(beyond), (end + beyond).min(covered));
    let count = end.saturating_sub(first);
    let level = if count > at_most.saturating_mul(READ_WHOLE) { Extremes::level_for(count, at_most) } else { None };
    match level {
        Some(level) => logs.overview(run, level, first, end).await,
        None => logs.page(run, first, count).await,
    }
}

/// Those of a span, and the nearest before and after it.
fn within(rows: Vec<StoredReading>, from: Option<OffsetDateTime>, until: Option<OffsetDateTime>) -> Vec<StoredReading> {
    let first = from.map_or(0, |from| rows.partition_point(|row| row.at() < Some(from)).saturating_sub(1));
    let end = until.map_or(rows.len(), |until| rows.partition_point(|row| row.at() <= Some(until)) + 1);
    rows.into_iter().take(end).skip(first).collect()
}

fn thinned(rows: Vec<StoredReading>, at_most: usize) -> Vec<StoredReading> {
    // What cannot be read as a reading has no extremes.
    let points: Vec<_> =
        rows.iter().map(|row| from_value(&row.document).map_or((None, None), |r: RunReadingDoc| r.at_pack())).collect();
    let kept = thinned_to(&points, at_most);
    let stays = |(k, row): (usize, StoredReading)| kept.binary_search(&k).is_ok().then_some(row);
    rows.into_iter().enumerate().filter_map(stays).collect()
}
