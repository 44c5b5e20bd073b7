//! Packs, gear and plans over HTTP: the same six requests for each.

use axum::body::Bytes;
use axum::extract::{Path, Query, State};
use axum::http::StatusCode;
use axum::routing::{get, post};
use axum::{Json, Router};
use rumek_core::formats::{
    ChargerDoc, LOG_MAPPING_FORMAT, LeadDoc, LogMappingDoc, PLAN_FORMAT, PackDoc, PlanDoc, Problems,
    RESCUE_CASE_FORMAT, RUN_FORMAT, Read, RecordDoc, RescueCaseDoc, RunDoc, SourceDoc, from_bytes, from_value,
};
use rumek_store::{
    Chargers, Draft, Leads, Listing, LogMappings, Packs, Plans, Records, Repository, Rescues, Runs, Shelf, StoreError,
    Supplies,
};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::{Value, json};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::app::App;
use crate::openapi::{Description, of_query};
use crate::problem::Problem;
use crate::routes::clock::check_said;
use crate::routes::ended::ended_fit;
use crate::routes::marks::on_shelf;
use crate::wire::{DraftDoc, StoredDoc, VersionDoc, instant};

/// Which rows to list.
#[derive(Clone, Copy, Debug, Default, Deserialize)]
pub(crate) struct ListQuery {
    #[serde(default)]
    archived: bool,
}

/// A document of the core's as it is stored.
pub(crate) fn as_json<T: Serialize>(document: &T) -> Result<Value, Problem> {
    serde_json::to_value(document).map_err(|error| Problem::failed(&error))
}

/// A shelf whose documents are checked on the way in: packs and gear by all of their rules,
/// plans and rescues by their shape alone, since they may be unfinished.
pub(crate) trait Documents: Shelf {
    fn check(document: &Value) -> Result<(), Problems>;

    /// What is kept of something new: of most what was given.
    fn begun(_app: &App, draft: DraftDoc<Value>) -> impl Future<Output = Result<DraftDoc<Value>, Problem>> + Send {
        async { Ok(draft) }
    }

    /// What is kept of something that is there: of most what was given.
    fn changed(
        _app: &App,
        _id: Uuid,
        draft: DraftDoc<Value>,
    ) -> impl Future<Output = Result<DraftDoc<Value>, Problem>> + Send {
        async { Ok(draft) }
    }
}

impl Documents for Packs {
    fn check(document: &Value) -> Result<(), Problems> {
        rumek_core::check_pack(&from_value::<PackDoc>(document)?)
    }
}

impl Documents for Supplies {
    fn check(document: &Value) -> Result<(), Problems> {
        rumek_core::check_source(&from_value::<SourceDoc>(document)?)
    }
}

impl Documents for Chargers {
    fn check(document: &Value) -> Result<(), Problems> {
        rumek_core::check_charger(&from_value::<ChargerDoc>(document)?)
    }
}

impl Documents for Leads {
    fn check(document: &Value) -> Result<(), Problems> {
        rumek_core::check_lead(&from_value::<LeadDoc>(document)?)
    }
}

impl Documents for Plans {
    fn check(document: &Value) -> Result<(), Problems> {
        format_is(from_value::<PlanDoc>(document)?.format, PLAN_FORMAT)
    }
}

impl Documents for Records {
    fn check(document: &Value) -> Result<(), Problems> {
        rumek_core::check_record(&from_value::<RecordDoc>(document)?)
    }
}

impl Documents for Rescues {
    fn check(document: &Value) -> Result<(), Problems> {
        let case = from_value::<RescueCaseDoc>(document)?;
        check_said([("/stage_started_at", &case.stage_started_at), ("/ended_at", &case.ended_at)])?;
        format_is(case.format, RESCUE_CASE_FORMAT)
    }
}

impl Documents for Runs {
    fn check(document: &Value) -> Result<(), Problems> {
        let run = from_value::<RunDoc>(document)?;
        check_said([("/started_at", &run.started_at), ("/ended_at", &run.ended_at)])?;
        format_is(run.format, RUN_FORMAT)
    }

    async fn begun(app: &App, draft: DraftDoc<Value>) -> Result<DraftDoc<Value>, Problem> {
        let run: RunDoc = from_value(&draft.document)?;
        let pack = on_shelf(app, draft.links.and_then(|links| links.pack).map(|pack| pack.id)).await?;
        let begun = rumek_core::begin_run(&run, pack.as_ref()).map_err(|wrong| wrong.under("/document"))?;
        Ok(DraftDoc { document: as_json(&begun)?, ..draft })
    }

    /// A run that has ended is kept with what its readings made of its pack.
    async fn changed(app: &App, id: Uuid, draft: DraftDoc<Value>) -> Result<DraftDoc<Value>, Problem> {
        let run: RunDoc = from_value(&draft.document)?;
        if run.ended_at.is_none() || run.plan.is_none() {
            return Ok(draft);
        }
        let fitted = ended_fit(app, id, &run).await?;
        Ok(DraftDoc { document: as_json(&RunDoc { fitted, ..run })?, ..draft })
    }
}

impl Documents for LogMappings {
    fn check(document: &Value) -> Result<(), Problems> {
        format_is(from_value::<LogMappingDoc>(document)?.format, LOG_MAPPING_FORMAT)
    }
}

fn format_is(said: Option<String>, format: &str) -> Result<(), Problems> {
    let mut problems = Problems::default();
    if said.as_deref() != Some(format) {
        problems.add("/format", "the format is not said", format);
    }
    problems.into_result(())
}

impl Read for DraftDoc<Value> {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        match serde_json::from_value(value.clone()) {
            Ok(draft) => Some(draft),
            Err(error) => {
                problems.add(at, format!("the envelope cannot be read: {error}"), "id, version, links and document");
                None
            }
        }
    }
}

impl Read for VersionDoc {
    fn read(value: &Value, at: &str, problems: &mut Problems) -> Option<Self> {
        let version = value.get("version").and_then(Value::as_i64).and_then(|v| i32::try_from(v).ok());
        if version.is_none() {
            problems.add(format!("{at}/version"), "the version is not said", "a whole number");
        }
        version.map(|version| Self { version })
    }
}

type Answer = Result<Json<StoredDoc<Value>>, Problem>;

/// The six requests of every shelf.
pub(crate) fn routes() -> Router<App> {
    Router::new()
        .nest("/packs", shelf_routes::<Packs>())
        .nest("/supplies", shelf_routes::<Supplies>())
        .nest("/chargers", shelf_routes::<Chargers>())
        .nest("/leads", shelf_routes::<Leads>())
        .nest("/plans", shelf_routes::<Plans>())
        .nest("/records", shelf_routes::<Records>())
        .nest("/rescues", shelf_routes::<Rescues>())
        .nest("/log-mappings", shelf_routes::<LogMappings>())
        .nest("/runs", shelf_routes::<Runs>())
}

/// What is said of them.
pub(crate) fn describe(api: &mut Description) {
    describe_shelf::<PackDoc>(api, "/api/packs", "pack");
    describe_shelf::<SourceDoc>(api, "/api/supplies", "supply");
    describe_shelf::<ChargerDoc>(api, "/api/chargers", "charger");
    describe_shelf::<LeadDoc>(api, "/api/leads", "lead");
    describe_shelf::<PlanDoc>(api, "/api/plans", "plan");
    describe_shelf::<RecordDoc>(api, "/api/records", "record");
    describe_shelf::<RescueCaseDoc>(api, "/api/rescues", "rescue");
    describe_shelf::<RunDoc>(api, "/api/runs", "run");
    describe_shelf::<LogMappingDoc>(api, "/api/log-mappings", "log mapping");
}

fn shelf_routes<E: Documents>() -> Router<App> {
    Router::new()
        .route("/", get(list::<E>).post(create::<E>))
        .route("/{id}", get(read::<E>).put(update::<E>))
        .route("/{id}/archive", post(archive::<E>))
        .route("/{id}/restore", post(restore::<E>))
}

fn describe_shelf<T: JsonSchema>(api: &mut Description, path: &str, one: &str) {
    let stored = api.schema::<StoredDoc<T>>();
    let draft = api.schema::<DraftDoc<T>>();
    let version = api.schema::<VersionDoc>();
    let many = json!({ "type": "array", "items": stored });
    let item = format!("{path}/{{id}}");
    let fails = [400, 409, 413, 415, 422, 503];
    api.add(path, "get", &format!("Every {one}"), None, (200, many), &[503]);
    api.parameters(path, "get", [of_query("archived", false, json!({ "type": "boolean" }))]);
    api.add(path, "post", &format!("Save a new {one}"), Some(draft.clone()), (201, stored.clone()), &fails);
    api.add(&item, "get", &format!("One {one}"), None, (200, stored.clone()), &[404, 503]);
    let over = format!("Save a {one} over the version it was based on");
    api.add(&item, "put", &over, Some(draft), (200, stored.clone()), &[400, 404, 409, 413, 415, 422, 503]);
    for (verb, what) in [("archive", "Put away"), ("restore", "Take out again")] {
        let summary = format!("{what} a {one}");
        let fails = [400, 404, 409, 415, 422, 503];
        api.add(&format!("{item}/{verb}"), "post", &summary, Some(version.clone()), (200, stored.clone()), &fails);
    }
}

fn shelf<E: Documents>(app: &App) -> Repository<E> {
    app.database.shelf::<E>()
}

pub(crate) fn parse_id(id: &str) -> Result<Uuid, Problem> {
    Uuid::parse_str(id).map_err(|_| Problem::not_found("There is nothing with this id."))
}

/// A moment of a request; what is wrong with it is noted.
pub(crate) fn asked_moment(problems: &mut Problems, name: &str, text: Option<&str>) -> Option<OffsetDateTime> {
    let at = text.map(instant);
    if at == Some(None) {
        problems.add(format!("/{name}"), "this is no time", "RFC 3339, such as 2026-11-25T00:00:00Z");
    }
    at.flatten()
}

async fn list<E: Documents>(
    State(app): State<App>,
    Query(query): Query<ListQuery>,
) -> Result<Json<Vec<StoredDoc<Value>>>, Problem> {
    let listing = if query.archived { Listing::Archived } else { Listing::Active };
    let rows = shelf::<E>(&app).list(listing).await?;
    Ok(Json(rows.into_iter().map(StoredDoc::from).collect()))
}

async fn read<E: Documents>(State(app): State<App>, Path(id): Path<String>) -> Answer {
    let row = shelf::<E>(&app).get(parse_id(&id)?).await?;
    Ok(Json(row.into()))
}

async fn create<E: Documents>(
    State(app): State<App>,
    body: Bytes,
) -> Result<(StatusCode, Json<StoredDoc<Value>>), Problem> {
    let draft = E::begun(&app, checked::<E>(&body)?).await?;
    let id = draft.id.unwrap_or_else(Uuid::now_v7);
    let draft = into_draft(draft);
    match shelf::<E>(&app).create(id, draft.clone()).await {
        Ok(row) => Ok((StatusCode::CREATED, Json(row.into()))),
        // Sent again, because its answer was lost: what is there is what was sent.
        Err(StoreError::Exists(one)) => {
            let row = shelf::<E>(&app).get(id).await?;
            let same = row.document == draft.document && row.links == draft.links;
            if same { Ok((StatusCode::OK, Json(row.into()))) } else { Err(StoreError::Exists(one).into()) }
        }
        Err(error) => Err(error.into()),
    }
}

async fn update<E: Documents>(State(app): State<App>, Path(id): Path<String>, body: Bytes) -> Answer {
    let draft = checked::<E>(&body)?;
    let mut problems = Problems::default();
    let Some(version) = draft.version else {
        problems.add("/version", "the version this is based on is not said", "a whole number");
        return Err(problems.into());
    };
    let id = parse_id(&id)?;
    let draft = E::changed(&app, id, draft).await?;
    let row = shelf::<E>(&app).update(id, version, into_draft(draft)).await?;
    Ok(Json(row.into()))
}

async fn archive<E: Documents>(state: State<App>, id: Path<String>, body: Bytes) -> Answer {
    put_away::<E>(state, id, &body, Listing::Archived).await
}

async fn restore<E: Documents>(state: State<App>, id: Path<String>, body: Bytes) -> Answer {
    put_away::<E>(state, id, &body, Listing::Active).await
}

async fn put_away<E: Documents>(
    State(app): State<App>,
    Path(id): Path<String>,
    body: &[u8],
    listing: Listing,
) -> Answer {
    let based_on: VersionDoc = from_bytes(body)?;
    let row = shelf::<E>(&app).put_away(parse_id(&id)?, based_on.version, listing).await?;
    Ok(Json(row.into()))
}

/// An envelope whose document has the right shape; problems point into the envelope.
fn checked<E: Documents>(body: &[u8]) -> Result<DraftDoc<Value>, Problem> {
    let draft: DraftDoc<Value> = from_bytes(body)?;
    E::check(&draft.document).map_err(|wrong| Problem::from(wrong.under("/document")))?;
    Ok(draft)
}

fn into_draft(draft: DraftDoc<Value>) -> Draft {
    Draft { document: draft.document, links: draft.links.unwrap_or_default().into() }
}
