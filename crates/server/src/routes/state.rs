//! What a run's readings mean, made out from every one of them.

use axum::extract::{Path, Query, State};
use axum::routing::get;
use axum::{Json, Router};
use rumek_core::formats::{RunDoc, RunStateDoc, from_value};
use rumek_core::understand_sums;
use rumek_store::Runs;
use serde::Deserialize;
use serde_json::json;
use time::OffsetDateTime;

use crate::app::App;
use crate::openapi::{Description, of_path, of_query};
use crate::problem::Problem;
use crate::routes::clock::{self, unix_s};
use crate::routes::resources::parse_id;
use crate::routes::summed::of_all;
use crate::wire::instant;

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
    let sums = of_all(&app.database.logs(), row.id, &run, began).await?;
    let ended = run.ended_at.as_deref().and_then(instant);
    let until = ended.unwrap_or_else(OffsetDateTime::now_utc);
    let now_s = query.now_s.filter(|now_s| now_s.is_finite()).unwrap_or((until - began).as_seconds_f64());
    Ok(Json(understand_sums(&sums, unix_s(began), Some(now_s.max(0.0)))))
}
