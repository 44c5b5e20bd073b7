//! Questions that are answered without keeping anything; a database is asked for a pack's mark at most.

use std::time::Instant;

use axum::body::Bytes;
use axum::extract::{Query, State};
use axum::routing::{get, post};
use axum::{Json, Router};
use rumek_core::formats::{
    JudgeAskDoc, JudgementDoc, PlanDoc, PreflightAskDoc, PreflightDoc, Problems, Read, RescueDoc, RescueResultDoc,
    RunAskDoc, RunStateDoc, SizingAskDoc, SizingDoc, from_bytes,
};
use rumek_core::formats::{KindsDoc, LinesDoc};
use rumek_core::formats::{PlanAnswerDoc, QuickLine};
use rumek_core::{kinds as all_kinds, lines as all_lines};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, id, of_query};
use crate::problem::Problem;
use crate::routes::marks::marked;
use crate::wire::shown;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/plan", post(plan))
        .route("/sizing", post(sizing))
        .route("/rescue", post(rescue))
        .route("/rescue/judge", post(judge))
        .route("/run/preflight", post(preflight))
        .route("/run/understand", post(understand))
        .route("/quick-line", post(quick_line))
        .route("/quick-line/of", post(line_of))
        .route("/kinds", get(kinds))
        .route("/lines", get(lines))
        .route("/version", get(version))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let fails = [400, 413, 415, 422];
    let (plan, result) = (api.schema::<PlanDoc>(), api.schema::<PlanAnswerDoc>());
    api.add("/api/plan", "post", "Compute a plan without saving it", Some(plan), (200, result), &fails);
    let (ask, sizes) = (api.schema::<SizingAskDoc>(), api.schema::<SizingDoc>());
    api.add("/api/sizing", "post", "Ask how big, how many, how thick", Some(ask), (200, sizes), &fails);
    let (found, decided) = (api.schema::<RescueDoc>(), api.schema::<RescueResultDoc>());
    api.add("/api/rescue", "post", "Judge a pack in trouble", Some(found), (200, decided), &fails);
    let (readings, said) = (api.schema::<JudgeAskDoc>(), api.schema::<JudgementDoc>());
    let judged = "Judge the readings of a rescue's stage";
    api.add("/api/rescue/judge", "post", judged, Some(readings), (200, said), &fails);
    let (list, items) = (api.schema::<PreflightAskDoc>(), api.schema::<PreflightDoc>());
    let before = "The list to go through before a charge";
    api.add("/api/run/preflight", "post", before, Some(list), (200, items), &fails);
    for marked in ["/api/plan", "/api/sizing", "/api/run/preflight"] {
        api.parameters(marked, "post", [of_query("pack", false, id())]);
    }
    let (run, state) = (api.schema::<RunAskDoc>(), api.schema::<RunStateDoc>());
    api.add("/api/run/understand", "post", "What a run's readings mean", Some(run), (200, state), &fails);
    let (line, read) = (api.schema::<LineDoc>(), api.schema::<QuickLine>());
    api.add("/api/quick-line", "post", "Read a quick line", Some(line), (200, read), &fails);
    let (plan, line) = (api.schema::<PlanDoc>(), api.schema::<LineDoc>());
    api.add("/api/quick-line/of", "post", "The quick line that makes a plan", Some(plan), (200, line), &fails);
    let kinds = api.schema::<KindsDoc>();
    api.add("/api/kinds", "get", "Every chemistry and kind of gear Rumek knows", None, (200, kinds), &[]);
    let lines = api.schema::<LinesDoc>();
    api.add("/api/lines", "get", "Every line Rumek judges by", None, (200, lines), &[]);
    let version = api.schema::<VersionOfRumek>();
    api.add("/api/version", "get", "Which Rumek this is", None, (200, version), &[]);
}

/// A line of text.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
struct LineDoc {
    /// What was typed.
    text: String,
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
struct VersionOfRumek {
    /// As `rumek --version` says.
    version: &'static str,
    /// The server's clock, RFC 3339 UTC.
    now: String,
}

/// The pack on the shelf whose mark counts.
#[derive(Clone, Copy, Debug, Default, Deserialize)]
struct PackQuery {
    pack: Option<Uuid>,
}

/// Computes a plan without saving it; the header says how long the core took.
async fn plan(
    State(app): State<App>,
    Query(query): Query<PackQuery>,
    body: Bytes,
) -> Result<([(&'static str, String); 1], Json<PlanAnswerDoc>), Problem> {
    let plan = marked(&app, query.pack, from_bytes(&body)?).await?;
    let start = Instant::now();
    let result = match rumek_core::answer(&plan) {
        Ok(result) => PlanAnswerDoc::Answer(Box::new(result)),
        Err(problems) => match rumek_core::quick_line::unfinished(&plan, &problems) {
            Some(unfinished) => PlanAnswerDoc::Unfinished { unfinished },
            None => return Err(problems.into()),
        },
    };
    let core_ms = start.elapsed().as_secs_f64() * 1e3;
    Ok(([("server-timing", format!("core;dur={core_ms:.3}"))], Json(result)))
}

/// Answers the reverse questions of a plan.
async fn sizing(
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
async fn rescue(body: Bytes) -> Result<Json<RescueResultDoc>, Problem> {
    let doc: RescueDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::rescue(&doc)?))
}

/// Judges the readings of a rescue's stage.
async fn judge(body: Bytes) -> Result<Json<JudgementDoc>, Problem> {
    let ask: JudgeAskDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::judge(&ask)?))
}

/// The list to go through before a charge, and what is off with its answers.
async fn preflight(
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
async fn understand(body: Bytes) -> Result<Json<RunStateDoc>, Problem> {
    let ask: RunAskDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::understand(&ask)?))
}

/// Reads a quick line.
async fn quick_line(body: Bytes) -> Result<Json<QuickLine>, Problem> {
    let line: LineDoc = from_bytes(&body)?;
    Ok(Json(rumek_core::quick_line::say(&line.text)))
}

/// The line that makes a plan, as far as a line has words for it.
async fn line_of(body: Bytes) -> Result<Json<LineDoc>, Problem> {
    let plan: PlanDoc = from_bytes(&body)?;
    Ok(Json(LineDoc { text: rumek_core::quick_line::line_of(&plan) }))
}

/// Says which Rumek this is, and its time.
async fn version() -> Json<VersionOfRumek> {
    Json(VersionOfRumek { version: env!("CARGO_PKG_VERSION"), now: shown(OffsetDateTime::now_utc()) })
}

/// Every chemistry and kind of gear Rumek knows.
async fn kinds() -> Json<KindsDoc> {
    Json(all_kinds())
}

/// Every line Rumek judges by.
async fn lines() -> Json<LinesDoc> {
    Json(all_lines())
}
