//! Looking runs up.

use axum::extract::{Query, State};
use axum::routing::get;
use axum::{Json, Router};
use rumek_core::formats::{Problems, RunDoc};
use rumek_store::{Entry, Search};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};

use crate::app::App;
use crate::openapi::{Description, of_query, text};
use crate::problem::Problem;
use crate::routes::resources::{asked_moment, parse_id};
use crate::wire::StoredDoc;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/logbook", get(look_up))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let entries = api.schema::<Vec<EntryDoc<RunDoc>>>();
    let search = ["text", "pack", "gear", "from", "until", "outcome"].map(|name| of_query(name, false, text()));
    let operation = json!({
        "summary": "Look runs up",
        "parameters": search,
        "responses": { "200": { "description": "Those going on first, then the newest", "content": { "application/json": { "schema": entries } } } }
    });
    api.add_special("/api/logbook", "get", operation, &[400, 404, 422, 503]);
}

/// Which runs are looked for; what is absent does not matter.
#[derive(Clone, Debug, Default, Deserialize)]
struct SearchQuery {
    text: Option<String>,
    pack: Option<String>,
    gear: Option<String>,
    from: Option<String>,
    until: Option<String>,
    outcome: Option<String>,
}

/// A run as the logbook lists it.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
struct EntryDoc<T> {
    /// The run; its document without `result` and `preflight`.
    pub run: StoredDoc<T>,
    /// How many readings it has.
    pub readings: i32,
}

impl From<Entry> for EntryDoc<Value> {
    fn from(entry: Entry) -> Self {
        Self { run: entry.run.into(), readings: entry.readings }
    }
}

/// The runs looked for: those going on first, then the newest, at most 500.
async fn look_up(
    State(app): State<App>,
    Query(query): Query<SearchQuery>,
) -> Result<Json<Vec<EntryDoc<Value>>>, Problem> {
    let mut problems = Problems::default();
    let from = asked_moment(&mut problems, "from", query.from.as_deref());
    let until = asked_moment(&mut problems, "until", query.until.as_deref());
    problems.into_result(())?;
    let search = Search {
        text: query.text,
        pack: query.pack.as_deref().map(parse_id).transpose()?,
        gear: query.gear,
        from,
        until,
        outcome: query.outcome,
    };
    Ok(Json(app.database.look_up(search).await?.into_iter().map(EntryDoc::from).collect()))
}
