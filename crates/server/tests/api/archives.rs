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

/// A row of an archive with a document.
fn archived(n: u32, document: &Value) -> Value {
    json!({"id": Uuid::from_u128(u128::from(n) + 1), "version": 1, "document": document, "links": {}, "archived_at": null,
        "created_at": format!("2026-11-25T09:{:02}:{:02}Z", n / 60 % 60, n % 60), "updated_at": "2026-11-25T09:00:00Z"})
}

/// An archive of some lists, in their order.
fn written(lists: &[(&str, Value)]) -> String {
    let lists: Vec<String> = lists.iter().map(|(name, rows)| format!(",\"{name}\":{rows}")).collect();
    format!("{{\"format\":\"rumek.archive/1\"{}}}", lists.concat())
}

/// More than any page and any batch holds: it comes out and goes in in pieces.
#[tokio::test]
async fn a_large_workshop_comes_back() {
    let run = json!({"format": "rumek.run/1", "name": "A charge", "started_at": "2026-11-25T09:00:00Z", "ended_at": "2026-11-25T10:00:00Z",
        "plan": {"format": "rumek.plan/1", "pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4}}, "result": {"curve": "1.25 ".repeat(12_000)}});
    let pack = json!({"chemistry": "lipo", "series": 6, "capacity_ah": 4});
    let reading = |n: u32| {
        json!({"run_id": Uuid::from_u128(u128::from(n) + 1), "n": 1, "client_id": null, "taken_at": "2026-11-25T09:10:00Z",
            "received_at": "2026-11-25T09:10:00Z", "clock_offset_ms": 0, "reading": {"terminal_v": 22.9}})
    };
    let text = written(&[
        ("packs", (0..600).map(|n| archived(n, &pack)).collect()),
        ("runs", (0..300).map(|n| archived(n, &run)).collect()),
        ("readings", (0..300).map(reading).collect()),
    ]);
    assert!(text.len() > 16 << 20, "{}", text.len());
    let api = Api::start().await;
    let put_in = api.send("POST", "/api/archive", &[], text.into_bytes()).await;
    assert_eq!(put_in.status, 201, "{put_in:?}");
    assert_eq!((&put_in.json()["rows"], &put_in.json()["readings"]), (&json!(900), &json!(300)));
    let out = archive(&api).await;
    let content = content(&out);
    assert_eq!((content["packs"].as_array().unwrap().len(), content["runs"].as_array().unwrap().len()), (600, 300));
    assert_eq!(content["runs"][299]["document"], run);
    let into = Api::start().await;
    assert_eq!(into.send("POST", "/api/archive", &[], out.bytes.clone()).await.status, 201);
    assert!(self::content(&archive(&into).await) == content);
}

/// What the door of single readings refuses, the archive's refuses too; where it is asked to, the rest goes in.
#[tokio::test]
async fn a_bad_row_is_named_and_passed_over_where_that_is_wished() {
    let pack = json!({"chemistry": "lipo", "series": 6, "capacity_ah": 4});
    let deep = (0..70).fold(json!(1), |inner, _| json!([inner]));
    let run = json!({"format": "rumek.run/1", "started_at": "2026-11-25T09:00:00Z", "result": deep});
    let sound = json!({"format": "rumek.run/1", "started_at": "2026-11-25T09:00:00Z"});
    let reading = |run: u32, n: u32, taken_at: &str, offset_ms: i64, volts: f64| {
        json!({"run_id": Uuid::from_u128(u128::from(run) + 1), "n": n, "client_id": null, "taken_at": taken_at, "received_at": "2026-11-25T09:10:00Z",
            "clock_offset_ms": offset_ms, "reading": {"terminal_v": volts}})
    };
    let mut linked = archived(1, &sound);
    linked["links"] = json!({"pack": {"id": Uuid::from_u128(2), "version": 1}});
    let unread = json!({"series": "six"});
    let all = written(&[
        ("packs", json!([archived(0, &pack), archived(1, &unread)])),
        ("runs", json!([archived(0, &run), linked])),
        (
            "readings",
            json!([
                reading(0, 1, "2026-11-25T09:10:00Z", 0, 22.9),
                reading(1, 1, "2026-11-25T09:10:00Z", 0, 22.9),
                reading(1, 2, "0001-01-01T00:00:00Z", 0, 22.9),
                reading(1, 3, "2026-11-25T09:11:00Z", 1_000_000_000_000_000, 22.9),
                reading(1, 4, "2026-11-25T09:12:00Z", 0, 1e308),
                reading(1, 5, "2026-11-25T09:13:00Z", 0, 23.0)
            ]),
        ),
    ]);
    let api = Api::start().await;
    let refused = api.send("POST", "/api/archive", &[], all.clone().into_bytes()).await;
    assert_eq!(refused.status, 422, "{refused:?}");
    assert!(
        refused.problem()["problems"][0]["pointer"].as_str().unwrap().starts_with("/packs/1/document"),
        "{refused:?}"
    );
    assert_eq!(api.get("/api/packs").await.json().as_array().unwrap().len(), 0, "nothing of it is kept");
    let skipped = api.send("POST", "/api/archive?malformed=skip", &[], all.clone().into_bytes()).await;
    assert_eq!(skipped.status, 201, "{skipped:?}");
    let told = skipped.json();
    assert_eq!((&told["rows"], &told["readings"], &told["left_out"]), (&json!(2), &json!(2), &json!(6)), "{told}");
    let pointers: Vec<&str> =
        told["problems"].as_array().unwrap().iter().map(|one| one["pointer"].as_str().unwrap()).collect();
    assert!(
        pointers.contains(&"/readings/2/taken_at") && pointers.contains(&"/readings/4/reading/terminal_v"),
        "{pointers:?}"
    );
    let out = content(&archive(&api).await);
    assert_eq!(
        out["readings"].as_array().unwrap().iter().map(|one| one["n"].clone()).collect::<Vec<_>>(),
        [json!(1), json!(2)]
    );
    assert_eq!(out["runs"][0]["links"]["pack"], Value::Null, "a pack that was passed over is linked to no more");
}
