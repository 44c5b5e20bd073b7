//! Readings of a run, each kept once however often it is sent.

use axum::body::Bytes;
use axum::extract::{Path, Query, State};
use axum::http::{StatusCode, header};
use axum::routing::{get, put};
use axum::{Json, Router};
use rumek_core::LogRow;
use rumek_core::codes::LogColumns;
use rumek_core::formats::{Problems, Read, RunDoc, RunReadingDoc, from_bytes, from_value};
use rumek_store::{Kept, NewReading, Runs, Stored, StoredReading};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, of_path, of_query, text};
use crate::problem::Problem;
use crate::routes::clock::{self, PAGE, unix_s};
use crate::routes::ended::{CameTo, came_to, follow};
use crate::routes::resources::{asked_moment, parse_id};
use crate::wire::{instant, shown};

/// The requests of this file that answer at once.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/runs/{id}/readings/{client_id}", put(put_reading))
        .route("/runs/{id}/readings/{client_id}/struck", put(strike))
}

/// A log is long, and has no limit of time.
pub(crate) fn long_routes() -> Router<App> {
    Router::new().route("/runs/{id}/log", get(log))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let columns = api.schema::<LogColumns>();
    let operation = json!({
        "summary": "A run's readings as CSV",
        "parameters": [of_path("id"), of_query("columns", false, columns)],
        "responses": { "200": { "description": "The log", "content": { "text/csv": { "schema": text() } } } }
    });
    api.add_special("/api/runs/{id}/log", "get", operation, &[400, 404, 422, 503]);
    let (sent, kept) = (api.schema::<SentReadingDoc<RunReadingDoc>>(), api.schema::<KeptReadingDoc<RunReadingDoc>>());
    let one = "/api/runs/{id}/readings/{client_id}";
    api.add(one, "put", "Keep a reading, once", Some(sent), (201, kept), &[400, 404, 409, 415, 422, 503]);
    let late = of_query(
        "late",
        false,
        json!({ "type": "boolean", "description": "It belongs to its run though that has ended before, or is put away" }),
    );
    api.parameters(one, "put", [of_path("client_id"), late]);
    let (struck, kept) = (api.schema::<StruckDoc>(), api.schema::<KeptReadingDoc<RunReadingDoc>>());
    let back = "/api/runs/{id}/readings/{client_id}/struck";
    api.add(
        back,
        "put",
        "Take a reading back, or let it count again",
        Some(struck),
        (200, kept),
        &[400, 404, 415, 422, 503],
    );
    api.parameters(back, "put", [of_path("client_id")]);
}

/// A reading as it is sent.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
struct SentReadingDoc<T> {
    /// When it was taken, by the sender's clock, RFC 3339.
    pub taken_at: String,
    /// The sender's clock minus the server's, as far as the sender knows, ms.
    #[serde(default)]
    pub clock_offset_ms: i64,
    /// The reading.
    pub reading: T,
}

/// A reading as it is kept.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
pub(crate) struct KeptReadingDoc<T> {
    /// From 1, in the order of arrival.
    pub n: i32,
    /// The id it was sent with; null where a log was read in.
    pub client_id: Option<Uuid>,
    /// When it was taken, by the sender's clock, RFC 3339 UTC.
    pub taken_at: String,
    /// When it was taken, by the server's clock, RFC 3339 UTC; null where that is no time of its run: it is
    /// kept, and cannot be placed.
    pub at: Option<String>,
    /// When it arrived, RFC 3339 UTC.
    pub received_at: String,
    /// When it was taken back, RFC 3339 UTC; it is kept, and not counted.
    pub struck_at: Option<String>,
    /// The reading.
    pub reading: T,
}

/// Whether a reading is taken back.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, JsonSchema)]
struct StruckDoc {
    /// `false`: it counts again.
    struck: bool,
}

impl Read for StruckDoc {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let struck = value.get("struck").and_then(Value::as_bool);
        if struck.is_none() {
            problems.add(format!("{at}/struck"), "it is not said whether", "true or false");
        }
        struck.map(|struck| Self { struck })
    }
}

impl Read for SentReadingDoc<Value> {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        match serde_json::from_value(value.clone()) {
            Ok(sent) => Some(sent),
            Err(error) => {
                problems.add(
                    at,
                    format!("the envelope cannot be read: {error}"),
                    "taken_at, clock_offset_ms and reading",
                );
                None
            }
        }
    }
}

impl KeptReadingDoc<Value> {
    /// A reading of a run that began at a moment.
    pub(crate) fn of(row: StoredReading, began: OffsetDateTime) -> Self {
        Self {
            n: row.n,
            client_id: row.client_id,
            at: clock::placed(&row, began).map(shown),
            taken_at: shown(row.taken_at),
            received_at: shown(row.received_at),
            struck_at: row.struck_at.map(shown),
            reading: row.document,
        }
    }
}

/// Which columns a log has.
#[derive(Clone, Copy, Debug, Deserialize)]
pub(crate) struct LogQuery {
    columns: Option<LogColumns>,
}

/// A run's readings as CSV, for other tools.
async fn log(
    State(app): State<App>,
    Path(id): Path<String>,
    Query(query): Query<LogQuery>,
) -> Result<([(header::HeaderName, String); 2], String), Problem> {
    let row = app.database.shelf::<Runs>().get(parse_id(&id)?).await?;
    let run: RunDoc = from_value(&row.document)?;
    let began = clock::began(&row, &run);
    let mut rows: Vec<LogRow> = Vec::new();
    let mut read = 0;
    loop {
        let page = app.database.logs().page(row.id, read, PAGE).await?;
        if page.is_empty() {
            break;
        }
        read += page.len();
        for kept in page {
            // What was taken back, or cannot be placed in its run, has no line among the others.
            if kept.struck_at.is_some() {
                continue;
            }
            let Some(at) = clock::placed(&kept, began) else { continue };
            let reading = from_value::<RunReadingDoc>(&kept.document)?;
            let t_s = (at - began).as_seconds_f64().max(0.0);
            let unix_s = unix_s(at);
            rows.push(LogRow { unix_s, reading: RunReadingDoc { t_s: Some(t_s), ..reading } });
        }
    }
    let columns = query.columns.unwrap_or(LogColumns::Rumek);
    let text = rumek_core::log_csv(&run.plan.unwrap_or_default(), run.discharge.as_ref(), rows, columns)?;
    let ending = if columns == LogColumns::Bdf { "bdf.csv" } else { "csv" };
    let headers = [
        (header::CONTENT_TYPE, "text/csv; charset=utf-8".to_owned()),
        (header::CONTENT_DISPOSITION, format!("attachment; filename=\"run-{}.{ending}\"", row.id)),
    ];
    Ok((headers, text))
}

/// Whether a reading is meant for a run that has ended before it was taken, or is put away.
#[derive(Clone, Copy, Debug, Deserialize)]
struct LateQuery {
    #[serde(default)]
    late: bool,
}

/// Why a reading is asked about before it is kept: its run ended before it was taken, or is put away.
fn too_late(row: &Stored, run: &RunDoc, at: OffsetDateTime) -> Option<Problem> {
    let ended = run.ended_at.as_deref().and_then(instant);
    let why = match ended {
        Some(ended) if at > ended => format!("This run ended at {} and the reading was taken after it.", shown(ended)),
        _ if row.archived_at.is_some() => "This run is put away.".to_owned(),
        _ => return None,
    };
    Some(Problem::ended(format!("{why} Add it all the same, if it belongs there.")))
}

/// Keeps a reading: 201 where it is new, 200 where the same was kept before, 409 where another was.
async fn put_reading(
    State(app): State<App>,
    Path((id, client_id)): Path<(String, String)>,
    Query(LateQuery { late }): Query<LateQuery>,
    body: Bytes,
) -> Result<(StatusCode, Json<KeptReadingDoc<Value>>), Problem> {
    let sent: SentReadingDoc<Value> = from_bytes(&body)?;
    let read = from_value::<RunReadingDoc>(&sent.reading).map_err(|wrong| Problem::from(wrong.under("/reading")))?;
    let mut problems = Problems::default();
    read.bounds("/reading", &mut problems);
    let Some(taken_at) = asked_moment(&mut problems, "taken_at", Some(&sent.taken_at)) else {
        return Err(problems.into());
    };
    clock::check(&mut problems, taken_at, sent.clock_offset_ms);
    problems.into_result(())?;
    let run = parse_id(&id)?;
    let (of, document) = of_run(&app, run).await?;
    let at = taken_at - time::Duration::milliseconds(sent.clock_offset_ms);
    if let Some(why) = too_late(&of, &document, at).filter(|_| !late) {
        return Err(why);
    }
    let before = came_to(&app, &of, &document).await.ok().flatten();
    let reading = NewReading {
        client_id: parse_id(&client_id)?,
        taken_at,
        clock_offset_ms: sent.clock_offset_ms,
        document: sent.reading,
    };
    let (status, row) = match app.database.readings().put(run, reading).await? {
        Kept::New(row) => (StatusCode::CREATED, row),
        Kept::Before(row) => (StatusCode::OK, row),
        Kept::Different => return Err(Problem::conflict("Another reading is kept under this id.")),
    };
    // Sent again it changes nothing.
    if status == StatusCode::CREATED {
        follow_on(&app, run, before).await;
    }
    Ok((status, Json(KeptReadingDoc::of(row, clock::began(&of, &document)))))
}

async fn of_run(app: &App, id: Uuid) -> Result<(Stored, RunDoc), Problem> {
    let row = app.database.shelf::<Runs>().get(id).await?;
    // A run that cannot be read still takes its readings.
    let run = from_value(&row.document).unwrap_or_default();
    Ok((row, run))
}

/// What an ended run came to is written anew. The reading is kept whatever becomes of that.
async fn follow_on(app: &App, run: Uuid, before: Option<CameTo>) {
    if let Err(error) = follow(app, run, before).await {
        tracing::warn!(?error, %run, "what this run came to does not follow its readings");
    }
}

/// Takes a reading back, or lets it count again: it stays kept either way.
async fn strike(
    State(app): State<App>,
    Path((id, client_id)): Path<(String, String)>,
    body: Bytes,
) -> Result<Json<KeptReadingDoc<Value>>, Problem> {
    let StruckDoc { struck } = from_bytes(&body)?;
    let run = parse_id(&id)?;
    let (of, document) = of_run(&app, run).await?;
    let before = came_to(&app, &of, &document).await.ok().flatten();
    let row = app.database.readings().strike(run, parse_id(&client_id)?, struck).await?;
    follow_on(&app, run, before).await;
    Ok(Json(KeptReadingDoc::of(row, clock::began(&of, &document))))
}
