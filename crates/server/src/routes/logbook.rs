//! Looking runs up.

use axum::Json;
use axum::extract::{Query, State};
use rumek_core::formats::Problems;
use rumek_store::{Entry, Search};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use crate::app::App;
use crate::problem::Problem;
use crate::routes::resources::{asked_moment, parse_id};
use crate::wire::StoredDoc;

/// Which runs are looked for; what is absent does not matter.
#[derive(Clone, Debug, Default, Deserialize)]
pub(crate) struct SearchQuery {
    text: Option<String>,
    pack: Option<String>,
    gear: Option<String>,
    from: Option<String>,
    until: Option<String>,
    outcome: Option<String>,
}

/// A run as the logbook lists it.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
pub(crate) struct EntryDoc<T> {
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
pub(crate) async fn look_up(
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
