//! How the service is described: an OpenAPI 3.1 document built from the types. Its schemas are JSON
//! Schema, so the documents' own schemas are used as they are and each shape has one source. What is
//! said of a route stands with the route.

use schemars::generate::SchemaSettings;
use schemars::{JsonSchema, SchemaGenerator};
use serde_json::{Map, Value, json};

use crate::problem::Problem;

/// The description as it grows.
pub(crate) struct Description {
    generator: SchemaGenerator,
    paths: Map<String, Value>,
}

impl Description {
    /// Nothing described yet.
    pub(crate) fn new() -> Self {
        let settings = SchemaSettings::draft2020_12().with(|s| s.definitions_path = "/components/schemas".into());
        Self { generator: settings.into_generator(), paths: Map::new() }
    }

    /// A reference to a type's schema.
    pub(crate) fn schema<T: JsonSchema>(&mut self) -> Value {
        self.generator.subschema_for::<T>().to_value()
    }

    /// The generator, for a format that no single type holds.
    pub(crate) fn generator(&mut self) -> &mut SchemaGenerator {
        &mut self.generator
    }

    /// One request: its summary, what it takes, what it gives, and which failures it has of its own.
    pub(crate) fn add(
        &mut self,
        path: &str,
        method: &str,
        summary: &str,
        takes: Option<Value>,
        gives: (u16, Value),
        fails: &[u16],
    ) {
        let gives_content = json!({ "application/json": { "schema": gives.1 } });
        let mut operation = json!({
            "summary": summary,
            "parameters": if path.contains("{id}") { vec![of_path("id")] } else { Vec::new() },
            "responses": { gives.0.to_string(): { "description": summary, "content": gives_content } }
        });
        if let Some(schema) = takes {
            operation["requestBody"] =
                json!({ "required": true, "content": { "application/json": { "schema": schema } } });
        }
        self.add_special(path, method, operation, fails);
    }

    /// Parameters of a request that is already described, beside those of its path.
    pub(crate) fn parameters(&mut self, path: &str, method: &str, more: impl IntoIterator<Item = Value>) {
        if let Some(Value::Array(parameters)) = self.paths[path][method].get_mut("parameters") {
            parameters.extend(more);
        }
    }

    /// A request whose parameters or media are of its own.
    pub(crate) fn add_special(&mut self, path: &str, method: &str, mut operation: Value, fails: &[u16]) {
        let problem = self.schema::<Problem>();
        for status in fails {
            operation["responses"][status.to_string()] = json!({ "description": "What went wrong", "content": { "application/problem+json": { "schema": problem } } });
        }
        let entry = self.paths.entry(path.to_owned()).or_insert_with(|| json!({}));
        entry[method] = operation;
    }

    /// The whole document.
    pub(crate) fn finish(mut self) -> Value {
        json!({
            "openapi": "3.1.0",
            "info": { "title": "Rumek", "version": env!("CARGO_PKG_VERSION"), "license": { "name": "Apache-2.0", "identifier": "Apache-2.0" } },
            "paths": self.paths,
            "components": { "schemas": self.generator.take_definitions(true) }
        })
    }
}

/// A part of a path: an id.
pub(crate) fn of_path(name: &str) -> Value {
    json!({ "name": name, "in": "path", "required": true, "schema": { "type": "string", "format": "uuid" } })
}

/// A parameter of a query.
#[allow(clippy::needless_pass_by_value, reason = "a schema is made for its one parameter")]
pub(crate) fn of_query(name: &str, required: bool, schema: Value) -> Value {
    json!({ "name": name, "in": "query", "required": required, "schema": schema })
}

/// Any text.
pub(crate) fn text() -> Value {
    json!({ "type": "string" })
}

/// An id.
pub(crate) fn id() -> Value {
    json!({ "type": "string", "format": "uuid" })
}
