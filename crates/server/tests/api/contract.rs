//! What is written down of the service is what it does.

use axum::body::Body;
use serde_json::Value;

use crate::Api;

fn committed(name: &str) -> Value {
    let path = format!("{}/../../docs/formats/{name}", env!("CARGO_MANIFEST_DIR"));
    serde_json::from_slice(&std::fs::read(&path).unwrap()).unwrap()
}

#[test]
fn the_committed_documents_are_current() {
    assert!(committed("openapi.json") == rumek_server::openapi(), "run make client and commit");
    for (name, schema) in rumek_server::schemas() {
        assert!(committed(&format!("{name}.schema.json")) == schema, "{name}: run make client and commit");
    }
}

#[tokio::test]
async fn every_documented_request_is_answered_and_with_a_documented_status() {
    let api = Api::start().await;
    let document = api.get("/api/openapi.json").await.json();
    let mut count = 0;
    for (path, methods) in document["paths"].as_object().unwrap() {
        let path = path.replace("{id}", "01960000-0000-7000-8000-00000000cccc").replace("{name}", "rumek.plan.1.json");
        for (method, operation) in methods.as_object().unwrap() {
            if operation["responses"]["200"]["content"].get("text/event-stream").is_some() {
                continue; // it never ends; changes.rs reads it
            }
            let body = if operation.get("requestBody").is_some() { Body::from("{}") } else { Body::empty() };
            let answer = api.send(&method.to_uppercase(), &path, &[], body).await;
            let status = answer.status.as_str();
            assert!(operation["responses"].get(status).is_some(), "{method} {path}: {answer:?}");
            assert_ne!(answer.status, 405);
            count += 1;
        }
    }
    assert!(count > 20, "{count}");
}

#[tokio::test]
async fn the_formats_schemas_are_served() {
    let api = Api::start().await;
    let schema = api.get("/api/schema/rumek.plan.1.json").await.json();
    assert!(schema["properties"]["pack"].is_object());
    assert_eq!(api.get("/api/schema/rumek.soup.1.json").await.problem()["status"], 404);
}
