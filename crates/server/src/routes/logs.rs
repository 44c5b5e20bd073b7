//! Bringing in logs of other instruments: a look at the file's beginning, then all of it in one
//! transaction while it is still being sent.

use std::io::Read;

use axum::body::{Body, Bytes};
use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::routing::post;
use axum::{Json, Router};
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use futures::TryStreamExt;
use rumek_core::formats::{
    BadLineDoc, LogLookAskDoc, LogLookDoc, LogMappingDoc, PLAN_FORMAT, PackDoc, PlanDoc, Problems, RUN_FORMAT, RunDoc,
    RunWay, from_bytes, from_value,
};
use rumek_core::{
    LogError, LogReader, LogSums, LogTotals, decoded_log, log_cells_fit, log_fits, log_head_text, look_at_log,
    understand_sums,
};
use rumek_store::{Database, Draft, Links, Listing, LogEnd, LogMappings, LoggedReading, Origin, Packs, Plans, Stored};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use tokio::sync::{mpsc, oneshot};
use tokio_util::io::{StreamReader, SyncIoBridge};
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{self, Description, of_query, text};
use crate::problem::Problem;
use crate::routes::resources::{as_json, asked_moment, parse_id};
use crate::wire::{StoredDoc, shown};

/// So many lines that cannot be read are named; all are counted.
const NAMED: usize = 200;
/// Lines handed on at a time.
const BATCH: usize = 2000;

/// The requests of this file that answer at once.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/logs/look", post(look))
}

/// A log is long, and has no limit of time.
pub(crate) fn long_routes() -> Router<App> {
    Router::new().route("/logs", post(bring_in))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let (ask, looked) = (api.schema::<LogLookAskDoc>(), api.schema::<LogLookedDoc>());
    let look = "Look at the beginning of a logger's file";
    api.add("/api/logs/look", "post", look, Some(ask), (200, looked), &[400, 413, 415, 422, 503]);
    let brought = api.schema::<BroughtInDoc<RunDoc>>();
    let operation = json!({
        "summary": "Bring in a logger's file as a run: all of it or nothing",
        "parameters": [
            of_query("mapping", true, openapi::id()), of_query("malformed", true, json!({ "enum": ["skip", "refuse"] })),
            of_query("id", false, openapi::id()), of_query("pack", false, openapi::id()),
            of_query("plan", false, openapi::id()), of_query("name", false, text()), of_query("file", false, text()),
            of_query("began_at", false, text())
        ],
        "requestBody": { "required": true, "content": { "text/csv": { "schema": text() } } },
        "responses": { "201": { "description": "It is a run now", "content": { "application/json": { "schema": brought } } } }
    });
    api.add_special("/api/logs", "post", operation, &[400, 404, 409, 413, 415, 422, 503]);
}

/// What the beginning of a file shows, and what is known of such files.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
struct LogLookedDoc {
    /// What it shows.
    pub look: LogLookDoc,
    /// The mapping kept for files with this header, by which it was read.
    pub remembered: Option<Uuid>,
    /// The packs it may be of, the likeliest first.
    pub packs: Vec<Uuid>,
}

/// What is done with lines, or rows, that cannot be kept.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "snake_case")]
pub(crate) enum Malformed {
    Skip,
    Refuse,
}

/// What a file becomes.
#[derive(Clone, Debug, Deserialize)]
struct BringInQuery {
    mapping: String,
    id: Option<String>,
    pack: Option<String>,
    plan: Option<String>,
    name: Option<String>,
    file: Option<String>,
    began_at: Option<String>,
    malformed: Malformed,
}

/// What became of a file.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
struct BroughtInDoc<T> {
    /// The run it became.
    pub run: StoredDoc<T>,
    /// Lines that are its readings now.
    pub lines: usize,
    /// Lines passed over.
    pub skipped: usize,
    /// The first of those.
    pub bad: Vec<BadLineDoc>,
}

/// Looks at the beginning of a file. A mapping kept for its header is used where none is given.
async fn look(State(app): State<App>, body: Bytes) -> Result<Json<LogLookedDoc>, Problem> {
    let mut ask: LogLookAskDoc = from_bytes(&body)?;
    if let Some(encoded) = ask.base64.take() {
        let mut problems = Problems::default();
        match STANDARD.decode(encoded) {
            Ok(bytes) => ask.text = Some(log_head_text(&bytes, ask.whole == Some(true))),
            Err(_) => problems.add("/base64", "this is no Base64", "the first bytes of the file as Base64"),
        }
        problems.into_result(())?;
    }
    let mut look = look_at_log(&ask)?;
    let mut remembered = None;
    // What the person has set goes before what is remembered.
    if ask.mapping.is_none() {
        let kept = app.database.shelf::<LogMappings>().list(Listing::Active).await?;
        let header = look.mapping.header.clone().filter(|header| !header.is_empty());
        let same = |row: &&Stored| header.is_some() && row.document.get("header") == Some(&json!(header));
        if let Some(row) = kept.iter().find(same) {
            remembered = Some(row.id);
            ask.mapping = Some(from_value(&row.document)?);
            look = look_at_log(&ask)?;
        }
    }
    let mut fits = Vec::new();
    let lines = look.readings.iter().flatten();
    let cells = lines.filter_map(|line| Some(line.reading.cell_voltages_v.as_ref()?.len())).max().unwrap_or(0);
    if let Some(volts) = look.volts {
        for row in app.database.shelf::<Packs>().list(Listing::Active).await? {
            // A pack that cannot be read is no reason to refuse a log of another.
            let Ok(pack) = from_value::<PackDoc>(&row.document) else { continue };
            if let Ok(Some(off)) = log_fits(&pack, volts)
                && log_cells_fit(&pack, cells)
            {
                fits.push((off, row.id));
            }
        }
    }
    fits.sort_by(|a, b| a.0.total_cmp(&b.0));
    Ok(Json(LogLookedDoc { look, remembered, packs: fits.into_iter().map(|(_, id)| id).collect() }))
}

/// How the reading of a file ended.
struct Outcome {
    totals: LogTotals,
    /// None where its plan says too little to make anything out.
    sums: Option<LogSums>,
    bad: Vec<BadLineDoc>,
    bad_count: usize,
    failed: Option<LogError>,
}

/// Brings a file in: all of it, or nothing where it breaks off, is another file or, if so chosen,
/// has a line that cannot be read.
async fn bring_in(
    State(app): State<App>,
    Query(query): Query<BringInQuery>,
    body: Body,
) -> Result<(StatusCode, Json<BroughtInDoc<Value>>), Problem> {
    let mapping = app.database.shelf::<LogMappings>().get(parse_id(&query.mapping)?).await?;
    let mapping: LogMappingDoc = from_value(&mapping.document)?;
    let began_unix_s = began(&query)?;
    let (run, links) = begun(&app.database, &query).await?;
    let draft = Draft { document: as_json(&run)?, links };
    let id = query.id.as_deref().map(parse_id).transpose()?.unwrap_or_else(Uuid::now_v7);
    let bytes = StreamReader::new(body.into_data_stream().map_err(std::io::Error::other));
    let source = SyncIoBridge::new(Box::pin(bytes));
    LogReader::new(&mapping, began_unix_s, std::io::empty())?;
    let (lines, arriving) = mpsc::channel(8);
    let (told, mut outcome) = oneshot::channel::<Outcome>();
    let sums = run.plan.as_ref().and_then(|plan| LogSums::new(plan, run.discharge.as_ref()).ok());
    let pack = run.plan.as_ref().and_then(|plan| plan.pack.clone()).unwrap_or_default();
    let totals = LogTotals::of(&pack).unwrap_or_default();
    let reading = tokio::task::spawn_blocking(move || {
        let mut source = match decoded_log(source) {
            Ok(source) => source,
            Err(error) => {
                let failed = Some(LogError::from(error));
                if lines.blocking_send(Vec::new()).is_ok() {
                    let _ = told.send(Outcome { totals, sums, bad: Vec::new(), bad_count: 0, failed });
                }
                return Ok(0);
            }
        };
        if let Ok(reader) = LogReader::new(&mapping, began_unix_s, &mut source) {
            read_all(reader, totals, sums, lines, told);
        }
        // A browser listens only once it has sent everything.
        std::io::copy(&mut source, &mut std::io::sink())
    });
    let mut left = None;
    let end = || {
        let outcome = outcome.try_recv().ok()?;
        let end = ended(&outcome, query.malformed, run, &pack);
        left = Some(outcome);
        end
    };
    let kept = app.database.logs().bring_in(id, draft, arriving, end).await;
    // Whoever has gone away breaks off here; what was read of it is told below.
    let _ = reading.await.map_err(|error| Problem::failed(&error))?;
    let kept = kept?;
    let Some(outcome) = left else { return Err(Problem::failed(&"a log was not read to its end")) };
    match kept {
        Some(row) => Ok((
            StatusCode::CREATED,
            Json(BroughtInDoc {
                run: row.into(),
                lines: outcome.totals.lines,
                skipped: outcome.bad_count,
                bad: outcome.bad,
            }),
        )),
        None => Err(refused(&outcome, &pack)),
    }
}

/// When the log began, as the person says, s since 1970; 0 for a file that says so itself.
fn began(query: &BringInQuery) -> Result<f64, Problem> {
    let mut problems = Problems::default();
    let at = asked_moment(&mut problems, "began_at", query.began_at.as_deref());
    problems.into_result(())?;
    Ok(at.map_or(0.0, |at| at.unix_timestamp_nanos() as f64 / 1e9))
}

/// The run a file becomes, before its lines are known: its pack and, where chosen, its plan with
/// what that had foretold.
async fn begun(database: &Database, query: &BringInQuery) -> Result<(RunDoc, Links), Problem> {
    let mut run = RunDoc {
        format: Some(RUN_FORMAT.to_owned()),
        core_version: Some(env!("CARGO_PKG_VERSION").to_owned()),
        log_name: query.file.clone(),
        ..RunDoc::default()
    };
    let mut links = Links::default();
    let mut plan = PlanDoc { format: Some(PLAN_FORMAT.to_owned()), ..PlanDoc::default() };
    if let Some(id) = &query.plan {
        let row = database.shelf::<Plans>().get(parse_id(id)?).await?;
        plan = from_value(&row.document)?;
        links.pack = row.links.pack;
        let result = rumek_core::answer(&plan)?;
        plan = result.resolved.clone();
        run.result = Some(as_json(&result)?);
    }
    if let Some(id) = &query.pack {
        let row = database.shelf::<Packs>().get(parse_id(id)?).await?;
        if query.plan.is_none() {
            plan.pack = Some(from_value(&row.document)?);
        }
        links.pack = Some(Origin { id: row.id, version: row.version });
    }
    let named = query.name.clone().filter(|name| !name.trim().is_empty());
    run.name = named.or_else(|| plan.name.clone()).or_else(|| query.file.clone());
    run.plan = Some(plan);
    Ok((run, links))
}

/// Reads every line, handing them on; the outcome is told before the last of them is let go.
fn read_all<R: Read>(
    mut reader: LogReader<R>,
    totals: LogTotals,
    sums: Option<LogSums>,
    lines: mpsc::Sender<Vec<LoggedReading>>,
    told: oneshot::Sender<Outcome>,
) {
    let mut outcome = Outcome { totals, sums, bad: Vec::new(), bad_count: 0, failed: None };
    let mut batch = Vec::with_capacity(BATCH);
    loop {
        match reader.next_row() {
            Ok(Some(Ok(row))) => {
                outcome.totals.push(&row);
                if let Some(sums) = &mut outcome.sums {
                    sums.push(&row);
                }
                batch.extend(logged(&row));
                if batch.len() == BATCH && lines.blocking_send(std::mem::take(&mut batch)).is_err() {
                    return;
                }
            }
            Ok(Some(Err(bad))) => {
                outcome.bad_count += 1;
                if outcome.bad.len() < NAMED {
                    outcome.bad.push(bad);
                }
            }
            Ok(None) => break,
            Err(error) => {
                outcome.failed = Some(error);
                break;
            }
        }
    }
    if lines.blocking_send(batch).is_ok() {
        // Nobody is left to tell where the request is gone.
        let _ = told.send(outcome);
    }
}

/// As the database keeps it.
fn to_the_microsecond(unix_s: f64) -> Option<OffsetDateTime> {
    OffsetDateTime::from_unix_timestamp_nanos((unix_s * 1e6).round() as i128 * 1000).ok()
}

fn logged(row: &rumek_core::LogRow) -> Option<LoggedReading> {
    Some(LoggedReading {
        taken_at: to_the_microsecond(row.unix_s)?,
        document: serde_json::to_string(&row.reading).ok()?,
    })
}

/// What is kept of it; nothing where it is not to be kept.
fn ended(outcome: &Outcome, malformed: Malformed, mut run: RunDoc, pack: &PackDoc) -> Option<LogEnd> {
    let another = !log_cells_fit(pack, outcome.totals.cells) || outcome.totals.another().is_some();
    let refused = another
        || future(&outcome.totals).is_some()
        || outcome.failed.is_some()
        || (malformed == Malformed::Refuse && outcome.bad_count > 0);
    let (first_s, last_s) = outcome.totals.taken.filter(|_| !refused)?;
    run.started_at = to_the_microsecond(first_s).map(shown);
    run.ended_at = to_the_microsecond(last_s).map(shown);
    // Out of the pack counts against it, and of several cycles a sum says nothing.
    let way = outcome.sums.as_ref().map_or(RunWay::Charge, |sums| understand_sums(sums, first_s, None).way);
    let charge_ah = match way {
        RunWay::Charge => outcome.totals.charge_ah(),
        RunWay::Discharge => outcome.totals.charge_ah().map(|ah| -ah.abs()),
        RunWay::Several | RunWay::Unclear => None,
    };
    run.charge_ah = charge_ah.map(|ah| (ah * 1e4).round() / 1e4);
    let sums = outcome.sums.as_ref().and_then(|sums| sums.to_json().ok());
    let sums = sums.map(|sums| (outcome.totals.lines, sums));
    Some(LogEnd { document: serde_json::to_value(&run).ok()?, overview: outcome.totals.clone().overview(), sums })
}

/// When its first line was written, where that lies ahead.
fn future(totals: &LogTotals) -> Option<OffsetDateTime> {
    /// Clocks of two machines are no further apart, s.
    const APART_S: f64 = 86_400.0;
    let now_s = OffsetDateTime::now_utc().unix_timestamp() as f64;
    let (first_s, _) = totals.taken.filter(|(first_s, _)| *first_s > now_s + APART_S)?;
    to_the_microsecond(first_s)
}

/// Why nothing was kept: the lines that cannot be read, or what ended the reading.
fn refused(outcome: &Outcome, pack: &PackDoc) -> Problem {
    let mut problems = Problems::default();
    let (cells, series) = (outcome.totals.cells, pack.series.unwrap_or(0));
    if !log_cells_fit(pack, cells) {
        let message = format!("the log holds volts of {cells} cells, and the pack has {series} in series");
        problems.add("", message, "the pack it was logged of, or the columns that are no cells left out");
    }
    if let Some(why) = outcome.totals.another() {
        let allowed = "a log of this pack, with the volts at its terminals and not those before its charger";
        problems.add("", why, allowed);
    }
    if let Some(at) = future(&outcome.totals) {
        let message = format!("its first line was written at {}, which is still to come", shown(at));
        problems.add("", message, "the right order of day and month, or another way to read its time");
    }
    if let Some(error) = &outcome.failed {
        problems.add("", error.to_string(), "the file this mapping was made for, sent whole");
    } else if outcome.totals.lines == 0 && outcome.bad_count == 0 {
        problems.add("", "the file holds no lines", "at least one line that can be read");
    }
    for bad in &outcome.bad {
        problems.add(format!("/lines/{}", bad.line), bad.message.clone(), "a line like the others, or skipping it");
    }
    let problem = Problem::from(problems);
    let count = outcome.bad_count;
    match count {
        0 => problem,
        1 => problem.saying("One line cannot be read; nothing was brought in."),
        _ => problem.saying(format!("{count} lines cannot be read; nothing was brought in.")),
    }
}
