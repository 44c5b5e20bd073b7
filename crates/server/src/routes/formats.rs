//! The open formats' own schemas.

use axum::extract::Path;
use axum::routing::get;
use axum::{Json, Router};
use rumek_core::formats::{
    LogMappingDoc, LogResultDoc, MatchDoc, MatchResultDoc, PlanDoc, RecordDoc, RescueCaseDoc, RescueDoc,
    RescueResultDoc, ResultDoc, RunDoc, TestDoc, TestResultDoc,
};
use schemars::generate::SchemaSettings;
use serde_json::{Value, json};

use crate::app::App;
use crate::problem::Problem;
use crate::routes::workshop::archive_schema;

/// The requests of this file.
pub(crate) fn routes() -> Router<App> {
    Router::new().route("/schema/{name}", get(schema))
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
        ("rumek.log-result.1", schemars::schema_for!(LogResultDoc).to_value()),
        ("rumek.match.1", schemars::schema_for!(MatchDoc).to_value()),
        ("rumek.match-result.1", schemars::schema_for!(MatchResultDoc).to_value()),
        ("rumek.test.1", schemars::schema_for!(TestDoc).to_value()),
        ("rumek.test-result.1", schemars::schema_for!(TestResultDoc).to_value()),
        ("rumek.record.1", schemars::schema_for!(RecordDoc).to_value()),
        ("rumek.archive.1", archive_format()),
        ("rumek.run.1", schemars::schema_for!(RunDoc).to_value()),
        ("rumek.rescue-case.1", schemars::schema_for!(RescueCaseDoc).to_value()),
    ]
}

fn archive_format() -> Value {
    let mut generator = SchemaSettings::draft2020_12().into_generator();
    let mut schema = archive_schema(&mut generator);
    schema["title"] = json!("rumek.archive/1");
    schema["$defs"] = generator.take_definitions(true).into();
    schema
}

/// One open format's schema.
async fn schema(Path(name): Path<String>) -> Result<Json<Value>, Problem> {
    schemas()
        .into_iter()
        .find(|(known, _)| name.strip_suffix(".json") == Some(known))
        .map(|(_, schema)| Json(schema))
        .ok_or_else(|| Problem::not_found("There is no schema of this name."))
}
