//! Ending a rescue: the rescue and its pack are written together.

use axum::body::Bytes;
use axum::extract::{Path, State};
use axum::routing::post;
use axum::{Json, Router};
use rumek_core::formats::{PackDoc, Problems, Read, RescueCaseDoc, RescueOutcome, from_bytes, from_value};
use rumek_store::{Change, Draft, Origin, Packs, Rescues};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

use crate::app::App;
use crate::openapi::Description;
use crate::problem::Problem;
use crate::routes::resources::{as_json, parse_id};
use crate::wire::StoredDoc;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/rescues/{id}/close", post(close))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let (end, closed) = (api.schema::<CloseDoc>(), api.schema::<StoredDoc<RescueCaseDoc>>());
    let summary = "End a rescue, and keep with its pack what it carries from then on";
    let fails = [400, 404, 409, 415, 422, 503];
    api.add("/api/rescues/{id}/close", "post", summary, Some(end), (200, closed), &fails);
}

/// What is sent to end a rescue.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, JsonSchema)]
struct CloseDoc {
    /// The version this is based on.
    pub version: i32,
    /// How it ended.
    pub outcome: RescueOutcome,
}

impl Read for CloseDoc {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        match serde_json::from_value(value.clone()) {
            Ok(close) => Some(close),
            Err(error) => {
                let outcomes = "version, a whole number; outcome, one of recovered, sound, retired";
                problems.add(at, format!("this cannot be read: {error}"), outcomes);
                None
            }
        }
    }
}

/// Ends a rescue; what its pack carries from then on is kept with the pack in the same transaction.
async fn close(State(app): State<App>, Path(id): Path<String>, body: Bytes) -> Result<Json<StoredDoc<Value>>, Problem> {
    let ask: CloseDoc = from_bytes(&body)?;
    let row = app.database.shelf::<Rescues>().get(parse_id(&id)?).await?;
    let mut case: RescueCaseDoc = from_value(&row.document)?;
    case.outcome = Some(ask.outcome);
    case.ended_at = OffsetDateTime::now_utc().format(&Rfc3339).ok();
    let Some(origin) = row.links.pack else {
        let alone = case.rescue.as_ref().and_then(|rescue| rescue.pack.clone()).unwrap_or_default();
        rumek_core::close_rescue(&case, &alone)?;
        let draft = Draft { document: as_json(&case)?, links: row.links };
        let row = app.database.shelf::<Rescues>().update(row.id, ask.version, draft).await?;
        return Ok(Json(row.into()));
    };
    let pack = app.database.shelf::<Packs>().get(origin.id).await?;
    let after = rumek_core::close_rescue(&case, &from_value::<PackDoc>(&pack.document)?)?;
    let mut links = row.links;
    links.pack = Some(Origin { id: pack.id, version: pack.version + 1 });
    let change = Change { id: row.id, version: ask.version, draft: Draft { document: as_json(&case)?, links } };
    let pack_change =
        Change { id: pack.id, version: pack.version, draft: Draft { document: as_json(&after)?, links: pack.links } };
    let (row, _) = app.database.update_both::<Rescues, Packs>(change, pack_change).await?;
    Ok(Json(row.into()))
}
