//! The OpenAPI 3.1 document, built from the types: its schemas are JSON Schema, so the documents'
//! own schemas are used as they are and each shape has one source.

use axum::Json;
use axum::extract::Path;
use rumek_core::LogColumns;
use rumek_core::chemistry::ChemistryDoc;
use rumek_core::document::{
    ChargerDoc, JudgeAskDoc, JudgementDoc, LeadDoc, PackDoc, PlanDoc, PreflightAskDoc, PreflightDoc, RescueCaseDoc,
    RescueDoc, RescueResultDoc, ResultDoc, RunAskDoc, RunDoc, RunReadingDoc, RunStateDoc, SizingAskDoc, SizingDoc,
    SourceDoc,
};
use rumek_core::quick_line::QuickLine;
use schemars::generate::SchemaSettings;
use schemars::{JsonSchema, SchemaGenerator};
use serde_json::{Map, Value, json};

use crate::compute::{LineDoc, VersionOfRumek};
use crate::problem::Problem;
use crate::rescues::CloseDoc;
use crate::resources::{DraftDoc, StoredDoc, VersionDoc};
use crate::runs::{KeptReadingDoc, SentReadingDoc};

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

    /// A run's log as CSV.
    fn log(&mut self, path: &str) {
        let columns = self.schema::<LogColumns>();
        let problem = self.schema::<Problem>();
        let failed = json!({ "description": "What went wrong", "content": { "application/problem+json": { "schema": problem } } });
        let csv = json!({ "text/csv": { "schema": { "type": "string" } } });
        self.paths.insert(path.to_owned(), json!({ "get": {
            "summary": "A run's readings as CSV",
            "parameters": [
                { "name": "id", "in": "path", "required": true, "schema": { "type": "string", "format": "uuid" } },
                { "name": "columns", "in": "query", "required": false, "schema": columns }
            ],
            "responses": { "200": { "description": "The log", "content": csv }, "400": failed, "404": failed, "422": failed, "503": failed }
        } }));
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
    let (found, decided) = (b.schema::<RescueDoc>(), b.schema::<RescueResultDoc>());
    b.add("/api/rescue", "post", "Judge a pack in trouble", Some(found), (200, decided), &[400, 413, 415, 422]);
    let (readings, said) = (b.schema::<JudgeAskDoc>(), b.schema::<JudgementDoc>());
    let judged = "Judge the readings of a rescue's stage";
    b.add("/api/rescue/judge", "post", judged, Some(readings), (200, said), &[400, 413, 415, 422]);
    let (list, items) = (b.schema::<PreflightAskDoc>(), b.schema::<PreflightDoc>());
    let before = "The list to go through before a charge";
    b.add("/api/run/preflight", "post", before, Some(list), (200, items), &[400, 413, 415, 422]);
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
    let many = json!({ "type": "array", "items": kept });
    b.add("/api/runs/{id}/readings", "get", "Every reading of a run", None, (200, many), &[404, 503]);
    b.log("/api/runs/{id}/log");
    let fails = [400, 404, 409, 415, 422, 503];
    b.add("/api/runs/{id}/readings/{client_id}", "put", "Keep a reading, once", Some(sent), (201, kept), &fails);
    json!({
        "openapi": "3.1.0",
        "info": { "title": "Rumek", "version": env!("CARGO_PKG_VERSION"), "license": { "name": "Apache-2.0", "identifier": "Apache-2.0" } },
        "paths": b.paths,
        "components": { "schemas": b.generator.take_definitions(true) }
    })
}

/// The open formats' own schemas, by name.
#[must_use]
pub fn schemas() -> Vec<(&'static str, Value)> {
    vec![
        ("rumek.plan.1", schemars::schema_for!(PlanDoc).to_value()),
        ("rumek.result.1", schemars::schema_for!(ResultDoc).to_value()),
        ("rumek.rescue.1", schemars::schema_for!(RescueDoc).to_value()),
        ("rumek.rescue-result.1", schemars::schema_for!(RescueResultDoc).to_value()),
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
