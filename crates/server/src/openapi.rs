//! The OpenAPI 3.1 document, built from the types: its schemas are JSON Schema, so the documents'
//! own schemas are used as they are and each shape has one source.

use axum::Json;
use axum::extract::Path;
use rumek_core::codes::LogColumns;
use rumek_core::formats::ChemistryDoc;
use rumek_core::formats::{
    ChargerDoc, JudgeAskDoc, JudgementDoc, LeadDoc, LogLookAskDoc, LogMappingDoc, PackDoc, PlanDoc, PreflightAskDoc,
    PreflightDoc, RescueCaseDoc, RescueDoc, RescueResultDoc, ResultDoc, RunAskDoc, RunDoc, RunReadingDoc, RunStateDoc,
    SizingAskDoc, SizingDoc, SourceDoc,
};
use rumek_core::quick_line::QuickLine;
use schemars::generate::SchemaSettings;
use schemars::{JsonSchema, SchemaGenerator};
use serde_json::{Map, Value, json};

use crate::problem::Problem;
use crate::routes::archive::{ArchivedReadingDoc, PutInDoc};
use crate::routes::compute::{LineDoc, VersionOfRumek};
use crate::routes::logbook::EntryDoc;
use crate::routes::logs::{BroughtInDoc, LogLookedDoc};
use crate::routes::rescues::CloseDoc;
use crate::routes::runs::{KeptReadingDoc, SentReadingDoc};
use crate::wire::{DraftDoc, StoredDoc, VersionDoc};

struct Builder {
    generator: SchemaGenerator,
    paths: Map<String, Value>,
}

impl Builder {
    fn schema<T: JsonSchema>(&mut self) -> Value {
        self.generator.subschema_for::<T>().to_value()
    }

    /// One request: its summary, what it takes, what it gives, and which failures it has of its own.
    fn add(
        &mut self,
        path: &str,
        method: &str,
        summary: &str,
        takes: Option<Value>,
        gives: (u16, Value),
        fails: &[u16],
    ) {
        let content = |media: &str, schema: &Value| json!({ media: { "schema": schema } });
        let problem = self.schema::<Problem>();
        let mut responses = Map::new();
        responses.insert(
            gives.0.to_string(),
            json!({ "description": summary, "content": content("application/json", &gives.1) }),
        );
        for status in fails {
            responses.insert(
                status.to_string(),
                json!({ "description": "What went wrong", "content": content("application/problem+json", &problem) }),
            );
        }
        let mut parameters = Vec::new();
        for name in ["id", "client_id"].into_iter().filter(|name| path.contains(&format!("{{{name}}}"))) {
            parameters.push(json!({ "name": name, "in": "path", "required": true, "schema": { "type": "string", "format": "uuid" } }));
        }
        if !path.contains("{id}") && method == "get" && fails.contains(&503) {
            parameters
                .push(json!({ "name": "archived", "in": "query", "required": false, "schema": { "type": "boolean" } }));
        }
        let mut operation = json!({ "summary": summary, "parameters": parameters, "responses": responses });
        if let Some(schema) = takes {
            operation["requestBody"] = json!({ "required": true, "content": content("application/json", &schema) });
        }
        let entry = self.paths.entry(path.to_owned()).or_insert_with(|| json!({}));
        entry[method] = operation;
    }

    /// A pack on the shelf whose mark counts whatever the plan's copy says.
    fn marked(&mut self, path: &str) {
        self.paths[path]["post"]["parameters"] =
            json!([of_query("pack", false, json!({ "type": "string", "format": "uuid" }))]);
    }

    /// A request whose parameters or media are of its own.
    fn add_special(&mut self, path: &str, method: &str, mut operation: Value, fails: &[u16]) {
        let problem = self.schema::<Problem>();
        for status in fails {
            operation["responses"][status.to_string()] = json!({ "description": "What went wrong", "content": { "application/problem+json": { "schema": problem } } });
        }
        let entry = self.paths.entry(path.to_owned()).or_insert_with(|| json!({}));
        entry[method] = operation;
    }

    /// A run's log as CSV.
    fn log(&mut self) {
        let columns = self.schema::<LogColumns>();
        let csv = json!({ "text/csv": { "schema": { "type": "string" } } });
        let operation = json!({
            "summary": "A run's readings as CSV",
            "parameters": [of_path("id"), of_query("columns", false, columns)],
            "responses": { "200": { "description": "The log", "content": csv } }
        });
        self.add_special("/api/runs/{id}/log", "get", operation, &[400, 404, 422, 503]);
    }

    /// Bringing in logs of other instruments.
    fn logs(&mut self) {
        let (ask, looked) = (self.schema::<LogLookAskDoc>(), self.schema::<LogLookedDoc>());
        let look = "Look at the beginning of a logger's file";
        self.add("/api/logs/look", "post", look, Some(ask), (200, looked), &[400, 413, 415, 422, 503]);
        let brought = self.schema::<BroughtInDoc<RunDoc>>();
        let id = || json!({ "type": "string", "format": "uuid" });
        let text = || json!({ "type": "string" });
        let operation = json!({
            "summary": "Bring in a logger's file as a run: all of it or nothing",
            "parameters": [
                of_query("mapping", true, id()), of_query("malformed", true, json!({ "enum": ["skip", "refuse"] })),
                of_query("id", false, id()), of_query("pack", false, id()), of_query("plan", false, id()),
                of_query("name", false, text()), of_query("file", false, text()), of_query("began_at", false, text())
            ],
            "requestBody": { "required": true, "content": { "text/csv": { "schema": text() } } },
            "responses": { "201": { "description": "It is a run now", "content": { "application/json": { "schema": brought } } } }
        });
        self.add_special("/api/logs", "post", operation, &[400, 404, 409, 413, 415, 422, 503]);
    }

    /// Looking runs up, their readings, and hints of changes.
    fn logbook(&mut self) {
        let entries = self.schema::<Vec<EntryDoc<RunDoc>>>();
        let text = || json!({ "type": "string" });
        let search = ["text", "pack", "gear", "from", "until", "outcome"].map(|name| of_query(name, false, text()));
        let operation = json!({
            "summary": "Look runs up",
            "parameters": search,
            "responses": { "200": { "description": "Those going on first, then the newest", "content": { "application/json": { "schema": entries } } } }
        });
        self.add_special("/api/logbook", "get", operation, &[400, 404, 422, 503]);
        let readings = self.schema::<Vec<KeptReadingDoc<RunReadingDoc>>>();
        let operation = json!({
            "summary": "A run's readings: every one, or few that keep every extreme",
            "parameters": [
                of_path("id"),
                of_query("at_most", false, json!({ "type": "integer", "minimum": 20 })),
                of_query("from", false, text()),
                of_query("until", false, text()),
            ],
            "responses": { "200": { "description": "By when they were taken, the nearest before and after a span among them", "content": { "application/json": { "schema": readings } } } }
        });
        self.add_special("/api/runs/{id}/readings", "get", operation, &[400, 404, 422, 503]);
        let state = self.schema::<RunStateDoc>();
        let operation = json!({
            "summary": "What a run's readings mean, by every one of them",
            "parameters": [of_path("id"), of_query("now_s", false, json!({ "type": "number" }))],
            "responses": { "200": { "description": "As it stands", "content": { "application/json": { "schema": state } } } }
        });
        self.add_special("/api/runs/{id}/state", "get", operation, &[400, 404, 422, 503]);
        let operation = json!({
            "summary": "Hints of what has changed, as server-sent events",
            "responses": { "200": { "description": "Names of tables, `readings` with a run's id, or `everything`", "content": { "text/event-stream": { "schema": text() } } } }
        });
        self.add_special("/api/changes", "get", operation, &[]);
    }

    /// The whole workshop, out and in.
    fn archive(&mut self) {
        let archive = archive_schema(&mut self.generator);
        let put_in = self.schema::<PutInDoc>();
        let content = json!({ "application/json": { "schema": archive } });
        let out = json!({ "summary": "The whole workshop", "responses": { "200": { "description": "rumek.archive/1", "content": content } } });
        self.add_special("/api/archive", "get", out, &[503]);
        let taken = json!({
            "summary": "Put an archive into an empty workshop: all of it or nothing",
            "requestBody": { "required": true, "content": content },
            "responses": { "201": { "description": "What it brought", "content": { "application/json": { "schema": put_in } } } }
        });
        self.add_special("/api/archive", "post", taken, &[400, 409, 413, 415, 422, 503]);
    }

    /// The six requests of a shelf.
    fn shelf<T: JsonSchema>(&mut self, path: &str, one: &str) {
        let stored = self.schema::<StoredDoc<T>>();
        let draft = self.schema::<DraftDoc<T>>();
        let version = self.schema::<VersionDoc>();
        let many = json!({ "type": "array", "items": stored });
        let item = format!("{path}/{{id}}");
        self.add(path, "get", &format!("Every {one}"), None, (200, many), &[503]);
        self.add(
            path,
            "post",
            &format!("Save a new {one}"),
            Some(draft.clone()),
            (201, stored.clone()),
            &[400, 409, 413, 415, 422, 503],
        );
        self.add(&item, "get", &format!("One {one}"), None, (200, stored.clone()), &[404, 503]);
        self.add(
            &item,
            "put",
            &format!("Save a {one} over the version it was based on"),
            Some(draft),
            (200, stored.clone()),
            &[400, 404, 409, 413, 415, 422, 503],
        );
        for (verb, what) in [("archive", "Put away"), ("restore", "Take out again")] {
            self.add(
                &format!("{item}/{verb}"),
                "post",
                &format!("{what} a {one}"),
                Some(version.clone()),
                (200, stored.clone()),
                &[400, 404, 409, 415, 422, 503],
            );
        }
    }
}

/// The whole document.
#[must_use]
pub fn document() -> Value {
    let settings = SchemaSettings::draft2020_12().with(|s| s.definitions_path = "/components/schemas".into());
    let mut b = Builder { generator: settings.into_generator(), paths: Map::new() };
    let (plan, result) = (b.schema::<PlanDoc>(), b.schema::<ResultDoc>());
    b.add("/api/plan", "post", "Compute a plan without saving it", Some(plan), (200, result), &[400, 413, 415, 422]);
    let (ask, sizes) = (b.schema::<SizingAskDoc>(), b.schema::<SizingDoc>());
    let asked = "Ask how big, how many, how thick";
    b.add("/api/sizing", "post", asked, Some(ask), (200, sizes), &[400, 413, 415, 422]);
    b.marked("/api/plan");
    b.marked("/api/sizing");
    let (found, decided) = (b.schema::<RescueDoc>(), b.schema::<RescueResultDoc>());
    b.add("/api/rescue", "post", "Judge a pack in trouble", Some(found), (200, decided), &[400, 413, 415, 422]);
    let (readings, said) = (b.schema::<JudgeAskDoc>(), b.schema::<JudgementDoc>());
    let judged = "Judge the readings of a rescue's stage";
    b.add("/api/rescue/judge", "post", judged, Some(readings), (200, said), &[400, 413, 415, 422]);
    let (list, items) = (b.schema::<PreflightAskDoc>(), b.schema::<PreflightDoc>());
    let before = "The list to go through before a charge";
    b.add("/api/run/preflight", "post", before, Some(list), (200, items), &[400, 413, 415, 422]);
    b.marked("/api/run/preflight");
    let (run, state) = (b.schema::<RunAskDoc>(), b.schema::<RunStateDoc>());
    let means = "What a run's readings mean";
    b.add("/api/run/understand", "post", means, Some(run), (200, state), &[400, 413, 415, 422]);
    let (line, read) = (b.schema::<LineDoc>(), b.schema::<QuickLine>());
    b.add("/api/quick-line", "post", "Read a quick line", Some(line), (200, read), &[400, 413, 415, 422]);
    let chemistries = b.schema::<Vec<ChemistryDoc>>();
    b.add("/api/chemistries", "get", "Every chemistry Rumek knows", None, (200, chemistries), &[]);
    let version = b.schema::<VersionOfRumek>();
    b.add("/api/version", "get", "Which Rumek this is", None, (200, version), &[]);
    b.shelf::<PackDoc>("/api/packs", "pack");
    b.shelf::<SourceDoc>("/api/gear", "supply");
    b.shelf::<ChargerDoc>("/api/chargers", "charger");
    b.shelf::<LeadDoc>("/api/leads", "lead");
    b.shelf::<PlanDoc>("/api/plans", "plan");
    b.shelf::<RescueCaseDoc>("/api/rescues", "rescue");
    let (close, closed) = (b.schema::<CloseDoc>(), b.schema::<StoredDoc<RescueCaseDoc>>());
    let end = "End a rescue, and keep with its pack what it carries from then on";
    let fails = [400, 404, 409, 415, 422, 503];
    b.add("/api/rescues/{id}/close", "post", end, Some(close), (200, closed), &fails);
    b.shelf::<RunDoc>("/api/runs", "run");
    let kept = b.schema::<KeptReadingDoc<RunReadingDoc>>();
    let sent = b.schema::<SentReadingDoc<RunReadingDoc>>();
    b.logbook();
    b.log();
    let fails = [400, 404, 409, 415, 422, 503];
    b.add("/api/runs/{id}/readings/{client_id}", "put", "Keep a reading, once", Some(sent), (201, kept), &fails);
    b.shelf::<LogMappingDoc>("/api/log-mappings", "log mapping");
    b.logs();
    b.archive();
    json!({
        "openapi": "3.1.0",
        "info": { "title": "Rumek", "version": env!("CARGO_PKG_VERSION"), "license": { "name": "Apache-2.0", "identifier": "Apache-2.0" } },
        "paths": b.paths,
        "components": { "schemas": b.generator.take_definitions(true) }
    })
}

fn of_path(name: &str) -> Value {
    json!({ "name": name, "in": "path", "required": true, "schema": { "type": "string", "format": "uuid" } })
}

#[allow(clippy::needless_pass_by_value, reason = "a schema is made for its one parameter")]
fn of_query(name: &str, required: bool, schema: Value) -> Value {
    json!({ "name": name, "in": "query", "required": required, "schema": schema })
}

/// The archive format; it is read and written piece by piece, so that no type holds all of it.
fn archive_schema(generator: &mut SchemaGenerator) -> Value {
    let mut list = |of: fn(&mut SchemaGenerator) -> schemars::Schema| json!({ "type": "array", "items": of(generator).to_value() });
    json!({
        "type": "object",
        "required": ["format"],
        "additionalProperties": false,
        "properties": {
            "format": { "const": "rumek.archive/1" },
            "rumek": { "type": "string", "description": "Which Rumek wrote it." },
            "made_at": { "type": "string", "description": "RFC 3339, UTC." },
            "packs": list(SchemaGenerator::subschema_for::<StoredDoc<PackDoc>>),
            "gear": list(SchemaGenerator::subschema_for::<StoredDoc<SourceDoc>>),
            "chargers": list(SchemaGenerator::subschema_for::<StoredDoc<ChargerDoc>>),
            "leads": list(SchemaGenerator::subschema_for::<StoredDoc<LeadDoc>>),
            "log_mappings": list(SchemaGenerator::subschema_for::<StoredDoc<LogMappingDoc>>),
            "plans": list(SchemaGenerator::subschema_for::<StoredDoc<PlanDoc>>),
            "rescues": list(SchemaGenerator::subschema_for::<StoredDoc<RescueCaseDoc>>),
            "runs": list(SchemaGenerator::subschema_for::<StoredDoc<RunDoc>>),
            "readings": list(SchemaGenerator::subschema_for::<ArchivedReadingDoc<RunReadingDoc>>)
        }
    })
}

fn archive_format() -> Value {
    let mut generator = SchemaSettings::draft2020_12().into_generator();
    let mut schema = archive_schema(&mut generator);
    schema["title"] = json!("rumek.archive/1");
    schema["$defs"] = generator.take_definitions(true).into();
    schema
}

/// The open formats' own schemas, by name.
#[must_use]
pub fn schemas() -> Vec<(&'static str, Value)> {
    vec![
        ("rumek.plan.1", schemars::schema_for!(PlanDoc).to_value()),
        ("rumek.result.1", schemars::schema_for!(ResultDoc).to_value()),
        ("rumek.rescue.1", schemars::schema_for!(RescueDoc).to_value()),
        ("rumek.rescue-result.1", schemars::schema_for!(RescueResultDoc).to_value()),
        ("rumek.log-mapping.1", schemars::schema_for!(LogMappingDoc).to_value()),
        ("rumek.archive.1", archive_format()),
        ("rumek.run.1", schemars::schema_for!(RunDoc).to_value()),
        ("rumek.rescue-case.1", schemars::schema_for!(RescueCaseDoc).to_value()),
    ]
}

/// One open format's schema.
pub(crate) async fn schema(Path(name): Path<String>) -> Result<Json<Value>, Problem> {
    schemas()
        .into_iter()
        .find(|(known, _)| name.strip_suffix(".json") == Some(known))
        .map(|(_, schema)| Json(schema))
        .ok_or_else(|| Problem::not_found("There is no schema of this name."))
}
