//! The shelf: each pack with what it is worth now, worked out once and kept until something changes; its own page; its
//! history out of a logger's file.

use std::time::Duration;

use axum::body::{Body, Bytes};
use axum::extract::{Path, Query, State};
use axum::routing::{get, post};
use axum::{Json, Router};
use futures::TryStreamExt;
use rumek_core::formats::{
    GaugeAskDoc, GaugeDoc, LogMappingDoc, LogResultDoc, MatchDoc, MatchResultDoc, NeedCode, PackDoc, Problems,
    RECORD_FORMAT, RecordDoc, RecordKind, StandingAskDoc, StandingDoc, TestDoc, TestResultDoc, from_bytes, from_value,
};
use rumek_store::{KnownOf, LogMappings, Packs, Shelved, SortBy, Stored, Unknown, Worth};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use tokio_util::io::{StreamReader, SyncIoBridge};
use uuid::Uuid;

use crate::app::App;
use crate::history::{HistoryError, history};
use crate::openapi::{self, Description, of_query, text};
use crate::problem::Problem;
use crate::routes::resources::parse_id;
use crate::wire::{StoredDoc, instant, shown};

/// A page of the shelf holds so many packs, unless fewer are asked for.
const PAGE: u32 = 60;
const MOST: u32 = 500;
/// So many standings are worked out at a time.
const BATCH: u32 = 200;
/// … and so many at a look, so that it does not wait for all.
const AT_A_LOOK: u32 = 25;

/// The requests of this file that answer at once.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .route("/shelf", get(shelf))
        .route("/packs/{id}/page", get(page))
        .route("/test", post(test))
        .route("/match", post(match_cells))
        .route("/gauge", post(gauge))
}

/// A log is long, and has no limit of time.
pub(crate) fn long_routes() -> Router<App> {
    Router::new().route("/logs/history", post(log_history))
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    let fails = [400, 413, 415, 422];
    let shelf = api.schema::<ShelfDoc<PackDoc>>();
    api.add("/api/shelf", "get", "The shelf, a page of it", None, (200, shelf), &[400, 503]);
    let whole = json!({ "type": "integer" });
    api.parameters(
        "/api/shelf",
        "get",
        [
            of_query("sort", false, json!({ "enum": ["need", "name", "health", "used"] })),
            of_query("search", false, text()),
            of_query("tag", false, text()),
            of_query("offset", false, whole.clone()),
            of_query("limit", false, whole),
        ],
    );
    let page = api.schema::<PackPageDoc<PackDoc, RecordDoc>>();
    let one = "/api/packs/{id}/page";
    api.add(one, "get", "A pack's own page", None, (200, page), &[404, 422, 503]);
    let (ask, planned) = (api.schema::<TestDoc>(), api.schema::<TestResultDoc>());
    api.add("/api/test", "post", "Plan a capacity test", Some(ask), (200, planned), &fails);
    let (ask, matched) = (api.schema::<MatchDoc>(), api.schema::<MatchResultDoc>());
    api.add("/api/match", "post", "Put cells together", Some(ask), (200, matched), &fails);
    let (ask, meant) = (api.schema::<GaugeAskDoc>(), api.schema::<GaugeDoc>());
    api.add("/api/gauge", "post", "What a gauge by volts means", Some(ask), (200, meant), &fails);
    let told = api.schema::<LogResultDoc>();
    let operation = json!({
        "summary": "Read a logger's file as a history, keeping nothing",
        "parameters": [of_query("mapping", false, openapi::id()), of_query("read_as", false, text()), of_query("pack", false, openapi::id())],
        "requestBody": { "required": true, "content": { "text/csv": { "schema": text() } } },
        "responses": { "200": { "description": "Its history", "content": { "application/json": { "schema": told } } } }
    });
    api.add_special("/api/logs/history", "post", operation, &[400, 404, 413, 415, 422, 503]);
}

/// A page of the shelf.
#[derive(Clone, Debug, Serialize, JsonSchema)]
struct ShelfDoc<T> {
    /// Each pack with what it is worth.
    packs: Vec<ShelvedDoc<T>>,
    /// How many there are in all.
    total: i64,
    /// Packs whose standing is yet to be worked out: until then their order may be another.
    waiting: i64,
    /// Tags in use, the most used first, with how many packs have them.
    tags: Vec<(String, i64)>,
}

/// A pack on the shelf.
#[derive(Clone, Debug, Serialize, JsonSchema)]
struct ShelvedDoc<T> {
    /// It.
    pack: StoredDoc<T>,
    /// What it is worth; null where the pack is not said well enough to tell.
    standing: Option<StandingDoc>,
}

/// A pack's own page.
#[derive(Clone, Debug, Serialize, JsonSchema)]
struct PackPageDoc<T, R> {
    /// The pack.
    pack: StoredDoc<T>,
    /// What it is worth.
    standing: StandingDoc,
    /// What is known of it, newest first.
    records: Vec<StoredDoc<R>>,
    /// Its runs that have ended, newest first.
    runs: Vec<PackRunDoc>,
    /// Rows among these that tell nothing, because they cannot be read.
    unread: Vec<UnreadDoc>,
}

/// A row that cannot be read.
#[derive(Clone, Debug, PartialEq, Serialize, JsonSchema)]
struct UnreadDoc {
    /// Which.
    id: Uuid,
    /// `record` or `run`.
    kind: String,
    /// Why not.
    why: String,
}

const RECORD: &str = "record";
const RUN: &str = "run";

/// A run as a pack's page lists it.
#[derive(Clone, Debug, Serialize, JsonSchema)]
struct PackRunDoc {
    /// Which.
    id: Uuid,
    /// What it is called.
    name: Option<String>,
    /// When it began, RFC 3339 UTC.
    started_at: Option<String>,
    /// When it ended.
    ended_at: Option<String>,
    /// What went in, Ah; negative what came out.
    charge_ah: Option<f64>,
    /// How it ended.
    end: Option<String>,
}

/// Which part of the shelf.
#[derive(Clone, Debug, Deserialize)]
struct ShelfQuery {
    sort: Option<Sort>,
    search: Option<String>,
    tag: Option<String>,
    offset: Option<u32>,
    limit: Option<u32>,
}

#[derive(Clone, Copy, Debug, Deserialize)]
#[serde(rename_all = "snake_case")]
enum Sort {
    Need,
    Name,
    Health,
    Used,
}

impl From<Sort> for SortBy {
    fn from(sort: Sort) -> Self {
        match sort {
            Sort::Need => Self::Need,
            Sort::Name => Self::Name,
            Sort::Health => Self::Health,
            Sort::Used => Self::Used,
        }
    }
}

async fn shelf(State(app): State<App>, Query(query): Query<ShelfQuery>) -> Result<Json<ShelfDoc<Value>>, Problem> {
    // What has changed is worked out first, so that the order is true; a whole shelf that was put in at once takes a few
    // looks.
    let stale = app.database.standings().unknown(AT_A_LOOK).await?;
    work_out(&app, stale).await?;
    let wanted = Shelved {
        sort: query.sort.unwrap_or(Sort::Need).into(),
        words: query.search.unwrap_or_default().split_whitespace().map(str::to_owned).collect(),
        tag: query.tag.filter(|tag| !tag.is_empty()),
        offset: query.offset.unwrap_or(0),
        limit: query.limit.unwrap_or(PAGE).clamp(1, MOST),
    };
    let page = app.database.standings().page(&wanted).await?;
    let tags = app.database.standings().tags().await?;
    let mut packs = Vec::with_capacity(page.packs.len());
    for (pack, kept) in page.packs {
        let standing = match kept {
            // What cannot be told is kept as nothing.
            Some(kept) => serde_json::from_value(kept).ok(),
            None => told(&app, &pack).await?.standing,
        };
        packs.push(ShelvedDoc { pack: pack.into(), standing });
    }
    Ok(Json(ShelfDoc { packs, total: page.total, waiting: page.waiting, tags }))
}

/// Works standings out and keeps them; how many were kept.
async fn work_out(app: &App, packs: Vec<Unknown>) -> Result<u64, Problem> {
    let mut kept = Vec::with_capacity(packs.len());
    for Unknown { pack, known } in packs {
        let told = told(app, &pack).await?;
        kept.push(worth(pack.id, known, told)?);
    }
    Ok(app.database.standings().keep(&kept).await?)
}

/// Keeps working out what is yet to be, until nothing is left or the service ends.
pub(crate) async fn keep_up(app: App) {
    const PAUSE: Duration = Duration::from_secs(60);
    /// A change is soon followed by another.
    const AFTER_A_CHANGE: Duration = Duration::from_secs(2);
    let mut hints = app.hints.subscribe();
    loop {
        let kept = match app.database.standings().unknown(BATCH).await {
            Ok(unknown) => work_out(&app, unknown).await.unwrap_or_else(|error| {
                tracing::debug!(?error, "standings are not kept up; trying again in a minute");
                0
            }),
            Err(_) => 0,
        };
        if kept > 0 {
            tokio::task::yield_now().await;
            continue;
        }
        tokio::select! {
            () = app.closing.cancelled() => return,
            _ = hints.recv() => tokio::time::sleep(AFTER_A_CHANGE).await,
            () = tokio::time::sleep(PAUSE) => {}
        }
    }
}

/// What is told of a pack.
struct Told {
    /// What it is worth; none where the pack is not said well enough.
    standing: Option<StandingDoc>,
    /// When it was last used.
    used: Option<OffsetDateTime>,
}

async fn told(app: &App, pack: &Stored) -> Result<Told, Problem> {
    let known = app.database.standings().known_of(pack.id).await?;
    let used = known.runs.first().and_then(|(_, run)| instant(run["ended_at"].as_str()?));
    let (id, document) = (pack.id, pack.document.clone());
    // Off the threads that answer, and guarded: one pack that breaks the reckoning leaves the others theirs.
    let standing = tokio::task::spawn_blocking(move || {
        from_value::<PackDoc>(&document).and_then(|pack| standing_of(pack, &known, OffsetDateTime::now_utc()))
    });
    let standing = standing.await.map(|told| told.ok().map(|(standing, _)| standing)).unwrap_or_else(|error| {
        tracing::error!(%error, pack = %id, "the standing of this pack cannot be worked out");
        None
    });
    Ok(Told { standing, used })
}

/// A standing as it is kept. One that cannot be told is kept as nothing, for a day.
fn worth(pack: Uuid, known: i64, Told { standing, used }: Told) -> Result<Worth, Problem> {
    let now = OffsetDateTime::now_utc();
    let Some(standing) = standing else {
        let holds_until = spread(pack, now, now + time::Duration::DAY);
        let rank = rank(NeedCode::Nothing);
        return Ok(Worth { pack, known, document: json!({}), rank, due: None, health: None, used, holds_until });
    };
    let due = standing.need.by.as_deref().or_else(|| standing.upcoming.as_ref()?.by.as_deref());
    Ok(Worth {
        pack,
        known,
        document: serde_json::to_value(&standing).map_err(|error| Problem::failed(&error))?,
        rank: rank(standing.need.code),
        due: due.and_then(instant),
        health: standing.health.map(|health| health.value),
        used,
        holds_until: spread(pack, now, instant(&standing.holds_until).unwrap_or(now)),
    })
}

/// A moment in the last quarter before `until`, another for each pack: what was put in at once is not worked out anew
/// at once.
fn spread(pack: Uuid, now: OffsetDateTime, until: OffsetDateTime) -> OffsetDateTime {
    let share = f64::from(pack.as_bytes()[15]) / f64::from(u8::MAX);
    until - (until - now) * (0.25 * share)
}

/// What comes first on a shelf sorted by what needs the person.
fn rank(code: NeedCode) -> i16 {
    match code {
        NeedCode::Retire => 0,
        NeedCode::LookAt | NeedCode::Rescue => 1,
        NeedCode::TopUp => 2,
        NeedCode::Storage => 3,
        NeedCode::Test => 4,
        NeedCode::Nothing => 5,
    }
}

/// A pack's standing from all that is known of it, and what of that could not be read. One row that cannot be read
/// leaves the others what they tell.
fn standing_of(pack: PackDoc, known: &KnownOf, now: OffsetDateTime) -> Result<(StandingDoc, Vec<UnreadDoc>), Problems> {
    let (mut unread, mut rows, mut records) = (Vec::new(), Vec::new(), Vec::new());
    let told = known.records.iter().map(|row| (row.id, RECORD, from_value::<RecordDoc>(&row.document)));
    let runs = known.runs.iter().map(|(id, run)| (*id, RUN, Ok(of_run(run))));
    let unreadable =
        |(id, kind): (Uuid, &str), why: &Problems| UnreadDoc { id, kind: kind.to_owned(), why: why.to_string() };
    for (id, kind, read) in told.chain(runs) {
        match read {
            Ok(record) => {
                rows.push((id, kind));
                records.push(record);
            }
            Err(problems) => unread.push(unreadable((id, kind), &problems)),
        }
    }
    let (kept_at_c, next_use) = (pack.kept_at_c, pack.next_use.clone());
    let mut asked =
        StandingAskDoc { kept_at_c, next_use, pack: Some(pack), records: Some(records), now: Some(shown(now)) };
    loop {
        let problems = match rumek_core::standing(&asked) {
            Ok(standing) => return Ok((standing, unread)),
            Err(problems) => problems,
        };
        let wrong = problems.problems.iter().find_map(|problem| of_record(&problem.pointer));
        let (Some(place), Some(records)) = (wrong.filter(|place| *place < rows.len()), &mut asked.records) else {
            return Err(problems);
        };
        records.remove(place);
        unread.push(unreadable(rows.remove(place), &problems));
    }
}

/// Which record a pointer leads to.
fn of_record(pointer: &str) -> Option<usize> {
    pointer.strip_prefix("/records/")?.split('/').next()?.parse().ok()
}

/// What a run tells of its pack; of several packs in parallel an even share.
fn of_run(run: &Value) -> RecordDoc {
    let at = run["ended_at"].as_str().map(str::to_owned);
    let share = run["packs_in_parallel"].as_f64().unwrap_or(1.0).max(1.0);
    let charge_ah = run["charge_ah"].as_f64().map(|ah| ah / share);
    let done = run["end"].as_str() == Some("done");
    let fitted = |field: &str| run["fitted"][field].as_f64();
    RecordDoc {
        format: Some(RECORD_FORMAT.to_owned()),
        kind: Some(if charge_ah.is_some_and(|ah| ah < 0.0) { RecordKind::Discharge } else { RecordKind::Charge }),
        at,
        charge_ah: charge_ah.map(f64::abs),
        // Where a plan ends is where a charge or a discharge by it ended; what came out of a charge, or went to and fro,
        // ended elsewhere.
        end_soc: run["end_soc"]
            .as_f64()
            .filter(|_| done && charge_ah.is_some_and(|ah| (ah < 0.0) == (run["run_down"] == json!(true)))),
        capacity_ah: fitted("capacity_ah"),
        capacity_sd_ah: fitted("capacity_sd_ah"),
        resistance_mohm: fitted("resistance_mohm"),
        resistance_sd_mohm: fitted("resistance_sd_mohm"),
        whole: run["fitted"]["whole"].as_bool(),
        ..RecordDoc::default()
    }
}

async fn page(State(app): State<App>, Path(id): Path<String>) -> Result<Json<PackPageDoc<Value, Value>>, Problem> {
    let pack = app.database.shelf::<Packs>().get(parse_id(&id)?).await?;
    let known = app.database.standings().known_of(pack.id).await?;
    let (standing, unread) = standing_of(from_value(&pack.document)?, &known, OffsetDateTime::now_utc())?;
    let said = |run: &Value, field: &str| run[field].as_str().map(str::to_owned);
    let runs = known.runs.iter().map(|(id, run)| PackRunDoc {
        id: *id,
        name: said(run, "name"),
        started_at: said(run, "started_at"),
        ended_at: said(run, "ended_at"),
        charge_ah: run["charge_ah"].as_f64(),
        end: said(run, "end"),
    });
    Ok(Json(PackPageDoc {
        runs: runs.collect(),
        records: known.records.into_iter().map(StoredDoc::from).collect(),
        pack: pack.into(),
        standing,
        unread,
    }))
}

async fn test(body: Bytes) -> Result<Json<TestResultDoc>, Problem> {
    Ok(Json(rumek_core::plan_test(&from_bytes(&body)?)?))
}

async fn match_cells(body: Bytes) -> Result<Json<MatchResultDoc>, Problem> {
    let ask: MatchDoc = from_bytes(&body)?;
    // Many cells take a good part of a second: other requests go on meanwhile.
    let matched = tokio::task::spawn_blocking(move || rumek_core::match_cells(&ask)).await;
    Ok(Json(matched.map_err(|error| Problem::failed(&error))??))
}

async fn gauge(body: Bytes) -> Result<Json<GaugeDoc>, Problem> {
    Ok(Json(rumek_core::gauge(&from_bytes(&body)?)?))
}

/// How a file is read, and whose it is.
#[derive(Clone, Debug, Deserialize)]
struct HistoryQuery {
    mapping: Option<String>,
    /// A mapping that is not kept, as JSON: its columns as somebody has mended them.
    read_as: Option<String>,
    pack: Option<String>,
}

async fn log_history(
    State(app): State<App>,
    Query(query): Query<HistoryQuery>,
    body: Body,
) -> Result<Json<LogResultDoc>, Problem> {
    let mapping = match &query.mapping {
        None if query.read_as.is_some() => {
            query.read_as.as_deref().map(|text| from_bytes::<LogMappingDoc>(text.as_bytes())).transpose()?
        }
        Some(id) => {
            let row = app.database.shelf::<LogMappings>().get(parse_id(id)?).await?;
            Some(from_value::<LogMappingDoc>(&row.document)?)
        }
        None => None,
    };
    let pack = match &query.pack {
        Some(id) => {
            let row = app.database.shelf::<Packs>().get(parse_id(id)?).await?;
            Some(from_value::<PackDoc>(&row.document)?)
        }
        None => None,
    };
    let bytes = StreamReader::new(body.into_data_stream().map_err(std::io::Error::other));
    let told = tokio::task::spawn_blocking(move || {
        let mut source = SyncIoBridge::new(Box::pin(bytes));
        let told = history(&mut source, mapping.as_ref(), pack.as_ref());
        // A browser listens only once it has sent everything.
        let _ = std::io::copy(&mut source, &mut std::io::sink());
        told
    });
    match told.await.map_err(|error| Problem::failed(&error))? {
        Ok(result) => Ok(Json(result)),
        Err(HistoryError::Problems(problems)) => Err(problems.into()),
        Err(HistoryError::Log(error)) => {
            let mut problems = Problems::default();
            problems.add("", error.to_string(), "the file this mapping was made for, sent whole");
            Err(problems.into())
        }
    }
}
