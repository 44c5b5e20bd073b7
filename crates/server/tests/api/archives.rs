//! A whole workshop, out and in.

use rumek_server::demo;
use rumek_store::Database;
use serde_json::{Value, json};
use uuid::Uuid;

use crate::{Answer, Api};

async fn filled() -> Api {
    let api = Api::start().await;
    demo::fill(&Database::connect(api.database.url()).await.unwrap()).await.unwrap();
    api
}

async fn archive(api: &Api) -> Answer {
    let answer = api.get("/api/archive").await;
    assert_eq!(answer.status, 200, "{answer:?}");
    answer
}

/// Everything but when it was written.
fn content(answer: &Answer) -> Value {
    let mut all = answer.json();
    all["made_at"] = Value::Null;
    all
}

#[tokio::test]
async fn a_workshop_goes_into_an_empty_one_without_loss() {
    let from = filled().await;
    let pack = from.get("/api/packs").await.json()[0].clone();
    let path = format!("/api/packs/{}/archive", pack["id"].as_str().unwrap());
    assert_eq!(from.post(&path, &json!({"version": pack["version"]})).await.status, 200);
    // A long log, so that what is drawn from it is worked out again.
    let mapping = json!({"format": "rumek.log-mapping/1", "header": ["t", "v"], "time": "seconds", "columns": [{"is": "time"}, {"is": "bms_v"}]});
    let mapping = from.post("/api/log-mappings", &json!({"document": mapping})).await.json()["id"].clone();
    let text = "t,v\n".to_owned()
        + &(0..3000).map(|k| format!("{k},{}\n", 12.0 + f64::from(k % 90) / 100.0)).collect::<String>();
    let path =
        format!("/api/logs?malformed=refuse&began_at=2026-11-01T09:00:00Z&mapping={}", mapping.as_str().unwrap());
    let run = from.post_csv(&path, text).await.json()["run"]["id"].as_str().unwrap().to_owned();
    let out = archive(&from).await;
    assert!(out.headers["content-disposition"].to_str().unwrap().contains("attachment; filename=\"rumek-"));

    let into = Api::start().await;
    let put_in = into.send("POST", "/api/archive", &[], out.bytes.clone()).await;
    assert_eq!(put_in.status, 201, "{put_in:?}");
    assert_eq!(put_in.json()["readings"], json!(content(&out)["readings"].as_array().unwrap().len()));
    assert!(content(&archive(&into).await) == content(&out), "what comes out again is what went in");
    let drawn = format!("/api/runs/{run}/readings?at_most=300");
    assert_eq!(from.get(&drawn).await.json(), into.get(&drawn).await.json());
    assert_eq!(into.send("POST", "/api/archive", &[], out.bytes).await.problem()["status"], 409);
}

#[tokio::test]
async fn a_broken_archive_is_named_and_leaves_nothing_behind() {
    let api = Api::start().await;
    let head = json!({"format": "rumek.archive/1"});
    let row = |document: Value| {
        json!([{"id": Uuid::now_v7(), "version": 1, "created_at": "2026-11-25T09:00:00Z", "updated_at": "2026-11-25T09:00:00Z",
            "archived_at": null, "links": {}, "document": document}])
    };
    let with = |more: Value| {
        let mut all = head.clone();
        all.as_object_mut().unwrap().extend(more.as_object().unwrap().clone());
        all.to_string()
    };
    let good = row(json!({"chemistry": "lipo", "series": 6, "capacity_ah": 4.1}));
    let reading = json!([{"run_id": Uuid::now_v7(), "n": 1, "client_id": null, "taken_at": "2026-11-25T09:00:00Z",
        "received_at": "2026-11-25T09:00:00Z", "clock_offset_ms": 0, "reading": {"terminal_v": 22}}]);
    for (text, pointer, words) in [
        ("{".to_owned(), "", "cannot be read"),
        (json!({"format": "rumek.archive/9"}).to_string(), "", "rumek.archive/9"),
        (with(json!({"packs": good, "soup": []})), "", "“soup” is not known"),
        (with(json!({"packs": row(json!({"chemistry": "lipo", "volts": 3}))})), "/packs/0/document/volts", ""),
        ("{\"format\": \"rumek.archive/1\", \"runs\": [], \"readings\": [{\"n\": 1}]}".to_owned(), "", "missing field"),
        (with(json!({"packs": good, "readings": reading})), "", "no list “runs” stands before"),
        (format!("{{\"format\": \"rumek.archive/1\", \"runs\": [], \"readings\": {reading}}}"), "", "does not exist"),
    ] {
        let problem = api.send("POST", "/api/archive", &[], text.clone()).await.problem();
        let said = format!("{} {}", problem["detail"], problem["problems"]);
        assert!(said.contains(words) && (pointer.is_empty() || said.contains(pointer)), "{text}: {said}");
        assert_eq!(api.get("/api/packs").await.json(), json!([]), "{text}");
    }
}
