//! Questions that are answered without keeping anything; a database is asked for a pack's mark at most.

use std::time::Instant;

use axum::Json;
use axum::body::Bytes;
use axum::extract::{Query, State};
use rumek_core::chemistries as all_chemistries;
use rumek_core::formats::ChemistryDoc;
use rumek_core::formats::{
    JudgeAskDoc, JudgementDoc, PreflightAskDoc, PreflightDoc, Problems, Read, RescueDoc, RescueResultDoc, ResultDoc,
    RunAskDoc, RunStateDoc, SizingAskDoc, SizingDoc, from_bytes,
};
use rumek_core::quick_line::QuickLine;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::problem::Problem;
use crate::routes::marks::marked;
use crate::wire::shown;

/// A line of text.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
pub(crate) struct LineDoc {
    /// What was typed.
    pub text: String,
}

impl Read for LineDoc {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let text = value.get("text").and_then(Value::as_str).map(str::to_owned);
        if text.is_none() {
            problems.add(format!("{at}/text"), "there is no text", "one line of text");
        }
        text.map(|text| Self { text })
    }
}

/// Which Rumek answers, and what its clock says.
#[derive(Clone, Debug, Serialize, JsonSchema)]
pub(crate) struct VersionOfRumek {
    /// As `rumek --version` says.
    pub(crate) version: &'static str,
    /// The server's clock, RFC 3339 UTC.
    pub(crate) now: String,
}

/// The pack on the shelf whose mark counts.
#[derive(Clone, Copy, Debug, Default, Deserialize)]
pub(crate) struct PackQuery {
    pack: Option<Uuid>,
}

/// Computes a plan without saving it; the header says how long the core took.
pub(crate) async fn plan(
    State(app): State<App>,
    Query(query): Query<PackQuery>,
    body: Bytes,
) -> Result<([(&'static str, String); 1], Json<ResultDoc>), Problem> {
    let plan = marked(&app, query.pack, from_bytes(&body)?).await?;
    let start = Instant::now();
    let result = rumek_core::answer(&plan)?;
    let core_ms = start.elapsed().as_secs_f64() * 1e3;
    Ok(([("server-timing", format!("core;dur={core_ms:.3}"))], Json(result)))
}

/// Answers the reverse questions of a plan.
pub(crate) async fn sizing(
    State(app): State<App>,
    Query(query): Query<PackQuery>,
    body: Bytes,
) -> Result<Json<SizingDoc>, Problem> {
    let mut ask: SizingAskDoc = from_bytes(&body)?;
    if let Some(plan) = ask.plan.take() {
        ask.plan = Some(marked(&app, query.pack, plan).await?);
    }
    Ok(Json(rumek_core::size(&ask)?))
}

/// Judges a pack in trouble.
pub(crate) async fn rescue(body: Bytes) -> Result<Json<RescueResultDoc>, Problem> {
    let doc: RescueDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::rescue(&doc)?))
}

/// Judges the readings of a rescue's stage.
pub(crate) async fn judge(body: Bytes) -> Result<Json<JudgementDoc>, Problem> {
    let ask: JudgeAskDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::judge(&ask)?))
}

/// The list to go through before a charge, and what is off with its answers.
pub(crate) async fn preflight(
    State(app): State<App>,
    Query(query): Query<PackQuery>,
    body: Bytes,
) -> Result<Json<PreflightDoc>, Problem> {
    let mut ask: PreflightAskDoc = from_bytes(&body)?;
    if let Some(plan) = ask.plan.take() {
        ask.plan = Some(marked(&app, query.pack, plan).await?);
    }
    Ok(Json(rumek_core::preflight(&ask)?))
}

/// What a run's readings mean, and how it goes on.
pub(crate) async fn understand(body: Bytes) -> Result<Json<RunStateDoc>, Problem> {
    let ask: RunAskDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::understand(&ask)?))
}

/// Reads a quick line.
pub(crate) async fn quick_line(body: Bytes) -> Result<Json<QuickLine>, Problem> {
    let line: LineDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::quick_line::read(&line.text)))
}

/// Says which Rumek this is, and its time.
pub(crate) async fn version() -> Json<VersionOfRumek> {
    Json(VersionOfRumek { version: env!("CARGO_PKG_VERSION"), now: shown(OffsetDateTime::now_utc()) })
}

/// Every chemistry Rumek knows.
pub(crate) async fn chemistries() -> Json<Vec<ChemistryDoc>> {
    Json(all_chemistries())
}
