//! The shelf over HTTP: standings that follow what is known, tests, cells, gauges and histories.

use axum::http::StatusCode;
use rumek_store::{Database, Draft, Links, Origin, Runs};
use serde_json::{Value, json};
use uuid::Uuid;

use crate::Api;

async fn pack(api: &Api, name: &str) -> Value {
    let document = json!({ "name": name, "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "tags": ["flying"] });
    api.post("/api/packs", &json!({ "document": document })).await.json()
}

async fn record(api: &Api, pack: &Value, document: Value) -> (StatusCode, Value) {
    let mut document = document;
    document["format"] = json!("rumek.record/1");
    let links = json!({ "pack": { "id": pack["id"], "version": 1 } });
    let answer = api.post("/api/records", &json!({ "document": document, "links": links })).await;
    (answer.status, answer.json())
}

#[tokio::test]
async fn a_standing_follows_what_is_known_and_is_kept_meanwhile() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let first = api.get("/api/shelf").await.json();
    assert_eq!(first["packs"][0]["standing"]["need"]["code"], "test");
    assert_eq!(first["packs"][0]["standing"]["health"], Value::Null);
    let test = json!({ "kind": "test", "at": "2026-05-01T10:00:00Z", "capacity_ah": 2.0, "current_a": 1.1, "temperature_c": 25 });
    let (status, kept) = record(&api, &one, test).await;
    assert_eq!(status, StatusCode::CREATED);
    let then = api.get("/api/shelf").await.json();
    let health = then["packs"][0]["standing"]["health"]["value"].as_f64().unwrap();
    assert!((0.85..1.0).contains(&health), "{health}");
    // Looked at again it is the same one, not worked out anew.
    let again = api.get("/api/shelf").await.json();
    assert_eq!(again["packs"][0]["standing"]["at"], then["packs"][0]["standing"]["at"]);
    let away = format!("/api/records/{}/archive", kept["id"].as_str().unwrap());
    api.post(&away, &json!({ "version": 1 })).await;
    assert_eq!(api.get("/api/shelf").await.json()["packs"][0]["standing"]["health"], Value::Null);
}

#[tokio::test]
async fn the_shelf_is_a_page_sorted_searched_and_grouped() {
    let api = Api::start().await;
    for name in ["Alder", "Birch", "Cedar", "Dogwood"] {
        pack(&api, name).await;
    }
    let names = |answer: Value| -> Vec<String> {
        let packs = answer["packs"].as_array().unwrap().iter();
        packs.map(|one| one["pack"]["document"]["name"].as_str().unwrap().to_owned()).collect()
    };
    assert_eq!(names(api.get("/api/shelf?sort=name&limit=2&offset=1").await.json()), ["Birch", "Cedar"]);
    let found = api.get("/api/shelf?search=wood%20lipo").await.json();
    assert_eq!((names(found.clone()), &found["total"]), (vec!["Dogwood".to_owned()], &json!(1)));
    assert_eq!(found["tags"], json!([["flying", 4]]));
    assert_eq!(api.get("/api/shelf?tag=floating").await.json()["total"], 0);
    assert_eq!(api.get("/api/shelf?sort=colour").await.status, StatusCode::BAD_REQUEST);
}

#[tokio::test]
async fn a_record_is_checked_and_belongs_to_a_pack() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let (status, problem) = record(&api, &one, json!({ "kind": "test", "at": "2026-05-01T10:00:00Z" })).await;
    assert_eq!(status, StatusCode::UNPROCESSABLE_ENTITY);
    assert_eq!(problem["problems"][0]["pointer"], "/document/capacity_ah");
    let loose = json!({ "document": { "format": "rumek.record/1", "kind": "note", "at": "2026-05-01T10:00:00Z", "note": "x" } });
    assert!(api.post("/api/records", &loose).await.status.is_client_error());
    let (_, kept) =
        record(&api, &one, json!({ "kind": "rest", "at": "2026-05-01T10:00:00Z", "voltage_v": 11.5 })).await;
    let page = api.get(&format!("/api/packs/{}/page", one["id"].as_str().unwrap())).await.json();
    assert_eq!(page["records"][0]["id"], kept["id"]);
    assert_eq!(page["pack"]["id"], one["id"]);
}

#[tokio::test]
async fn a_log_is_told_as_a_history_and_nothing_is_kept() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let mut csv = "Unix time (s),V,A\n".to_owned();
    let mut line =
        |n: usize, volts: f64, amps: f64| csv.push_str(&format!("{},{volts:.3},{amps}\n", 1_790_000_000 + 10 * n));
    (0..60).for_each(|n| line(n, 12.55, 0.0));
    (0..360).for_each(|n| line(60 + n, 12.4 - 0.009 * n as f64, -2.0));
    (0..60).for_each(|n| line(420 + n, 10.2, 0.0));
    let path = format!("/api/logs/history?pack={}", one["id"].as_str().unwrap());
    let told = api.post_csv(&path, csv).await.json();
    let kinds: Vec<&str> = told["segments"].as_array().unwrap().iter().map(|s| s["kind"].as_str().unwrap()).collect();
    assert_eq!(kinds, ["rest", "discharge", "rest"]);
    assert!((told["segments"][1]["charge_ah"].as_f64().unwrap() - 2.0).abs() < 0.01);
    assert_eq!(api.get("/api/runs").await.json(), json!([]));
    let wrong = api.post_csv("/api/logs/history", "nothing here".to_owned()).await;
    assert_eq!(wrong.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn tests_cells_and_gauges_are_computed_without_keeping() {
    let api = Api::start().await;
    let pack = json!({ "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "start": { "soc": 1.0 } });
    let test = json!({ "format": "rumek.test/1", "pack": pack, "after": "none", "discharge": { "by": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 10 } });
    let planned = api.post("/api/test", &test).await.json();
    assert_eq!(planned["phases"][1]["kind"], "discharge");
    let cells: Vec<Value> =
        (0..4).map(|n| json!({ "id": format!("c{n}"), "capacity_ah": 2.5 + 0.1 * f64::from(n) })).collect();
    let ask =
        json!({ "format": "rumek.match/1", "cells": cells, "packs": [{ "name": "p", "series": 2, "parallel": 2 }] });
    assert_eq!(api.post("/api/match", &ask).await.json()["proven"], true);
    let gauge = json!({ "pack": pack, "thresholds_v": [10.5, 11.1, 11.7] });
    assert_eq!(api.post("/api/gauge", &gauge).await.json()["marks"].as_array().unwrap().len(), 3);
    assert_eq!(api.post("/api/gauge", &json!({ "pack": pack })).await.status, StatusCode::UNPROCESSABLE_ENTITY);
}

#[tokio::test]
async fn what_came_out_of_a_pack_never_counts_as_a_charge_to_full() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let run = |charge_ah: f64| {
        json!({ "links": { "pack": { "id": one["id"], "version": 1 } }, "document": {
            "format": "rumek.run/1", "name": "A log", "plan": { "format": "rumek.plan/1" }, "result": { "end": { "soc": 1.0 } },
            "started_at": "2026-05-01T10:00:00Z", "ended_at": "2026-05-01T11:00:00Z", "end": "done", "charge_ah": charge_ah } })
    };
    assert_eq!(api.post("/api/runs", &run(-1.9)).await.status, StatusCode::CREATED);
    assert_eq!(api.get("/api/shelf").await.json()["packs"][0]["standing"]["charge"], Value::Null);
    assert_eq!(api.post("/api/runs", &run(1.9)).await.status, StatusCode::CREATED);
    let charge = &api.get("/api/shelf").await.json()["packs"][0]["standing"]["charge"];
    assert!(charge["high"].as_f64().unwrap() > 0.8, "{charge}");
}

/// A capacity test carried out: from the list to what it tells of the pack.
#[tokio::test]
async fn a_whole_discharge_is_a_run_whose_end_counts() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let links = json!({ "pack": { "id": one["id"], "version": 1 } });
    let plan = json!({ "format": "rumek.plan/1", "pack": { "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "start": { "soc": 1.0 } } });
    let discharge = json!({ "by": "electronic_load", "current_a": 1.1, "to_v_per_cell": 3.2 });
    let list = api.post("/api/run/preflight", &json!({ "plan": plan, "discharge": discharge })).await.json();
    assert!(list["items"].as_array().unwrap().iter().any(|item| item["code"] == "cut_off"), "{list}");
    let document = json!({ "format": "rumek.run/1", "name": "Its test", "plan": plan, "discharge": discharge, "started_at": "2026-11-20T10:00:00Z" });
    let run = api.post("/api/runs", &json!({ "document": document, "links": links })).await.json();
    assert!(run["document"]["result"]["discharge"]["phase"]["curve"].is_array());
    let id = run["id"].as_str().unwrap();
    for (n, (at, volts, cells)) in
        [("10:00:10", 12.4, json!([4.13, 4.13, 4.14])), ("11:50:00", 9.66, json!([3.22, 3.24, 3.2]))].iter().enumerate()
    {
        let reading = json!({ "taken_at": format!("2026-11-20T{at}Z"), "reading": { "terminal_v": volts, "terminal_a": 1.1, "cell_voltages_v": cells } });
        let client = format!("0196a000-0000-7000-8000-00000000000{n}");
        api.put(&format!("/api/runs/{id}/readings/{client}"), &reading).await;
    }
    let state = api.get(&format!("/api/runs/{id}/state")).await.json();
    assert_eq!(state["way"], "discharge");
    assert!((state["account"]["charge_ah"].as_f64().unwrap() + 2.02).abs() < 0.02, "{}", state["account"]);
    assert!(state["said"].as_array().unwrap().iter().any(|one| one["code"] == "done"), "{}", state["said"]);
    assert!((state["keep"]["record"]["capacity_ah"].as_f64().unwrap() - 2.02).abs() < 0.02, "{}", state["keep"]);
    let mut ended = run["document"].clone();
    (ended["ended_at"], ended["end"], ended["charge_ah"]) =
        (json!("2026-11-20T11:50:00Z"), json!("done"), json!(-2.02));
    let kept = api.put(&format!("/api/runs/{id}"), &json!({ "version": 1, "document": ended, "links": links })).await;
    assert_eq!(kept.json()["document"]["fitted"], Value::Null, "what comes out is a test, no refit");
    let page = api.get(&format!("/api/packs/{}/page", one["id"].as_str().unwrap())).await.json();
    assert!(page["standing"]["charge"]["soc"].as_f64().unwrap() < 0.1, "{}", page["standing"]["charge"]);
}

#[tokio::test]
async fn an_ended_charge_counts_with_what_its_readings_made_of_its_pack() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let links = json!({ "pack": { "id": one["id"], "version": 1 } });
    let plan = json!({ "format": "rumek.plan/1", "pack": { "chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "balancer": "built_in", "start": { "soc": 0.2 } },
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 } });
    let curve = api.post("/api/plan", &plan).await.json()["curve"].as_array().unwrap().clone();
    let began = 1_790_000_000.0;
    let stamp = |t_s: f64| time::OffsetDateTime::from_unix_timestamp((began + t_s) as i64).unwrap();
    let stamp = |t_s: f64| stamp(t_s).format(&time::format_description::well_known::Rfc3339).unwrap();
    let document = json!({ "format": "rumek.run/1", "name": "A charge", "plan": plan, "started_at": stamp(0.0) });
    let run = api.post("/api/runs", &json!({ "document": document, "links": links })).await.json();
    let id = run["id"].as_str().unwrap();
    for n in 0..8 {
        let point = &curve[n * (curve.len() - 1) / 7];
        let reading = json!({ "terminal_v": point["pack_v"], "source_a": point["current_a"] });
        let sent = json!({ "taken_at": stamp(point["t_s"].as_f64().unwrap()), "reading": reading });
        api.put(&format!("/api/runs/{id}/readings/0196a000-0000-7000-8000-00000000001{n}"), &sent).await;
    }
    let mut ended = run["document"].clone();
    let last_s = curve.last().unwrap()["t_s"].as_f64().unwrap();
    (ended["ended_at"], ended["end"], ended["charge_ah"]) = (json!(stamp(last_s)), json!("done"), json!(1.75));
    let kept =
        api.put(&format!("/api/runs/{id}"), &json!({ "version": 1, "document": ended, "links": links })).await.json();
    let fitted = &kept["document"]["fitted"];
    assert!((fitted["capacity_ah"].as_f64().unwrap() - 2.2).abs() < 0.1, "{fitted}");
    let page = api.get(&format!("/api/packs/{}/page", one["id"].as_str().unwrap())).await.json();
    assert!(page["standing"]["health"]["value"].as_f64().unwrap() > 0.9, "{}", page["standing"]["health"]);
    assert_eq!(page["standing"]["points"][0]["from"], "charge");
}

/// A picture is written anew, shown, taken back, and travels in the archive.
#[tokio::test]
async fn a_photo_is_kept_with_its_pack_and_travels_in_the_archive() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let mut png = std::io::Cursor::new(Vec::new());
    image::RgbImage::from_pixel(1600, 900, image::Rgb([120, 30, 60]))
        .write_to(&mut png, image::ImageFormat::Png)
        .unwrap();
    let address = format!("/api/packs/{}/photo", one["id"].as_str().unwrap());
    let kept = api.send("POST", &address, &[("content-type", "image/png")], png.into_inner()).await;
    assert_eq!(kept.status, StatusCode::CREATED);
    let id = kept.json()["id"].as_str().unwrap().to_owned();
    let page = api.get(&format!("/api/packs/{}/page", one["id"].as_str().unwrap())).await.json();
    assert_eq!(page["records"][0]["document"]["kind"], "photo");
    assert_eq!(page["records"][0]["document"]["photo_jpeg"], Value::Null, "a list carries no picture");
    let shown = api.get(&format!("/api/records/{id}/photo")).await;
    assert_eq!(shown.headers["content-type"], "image/jpeg");
    let read = image::load_from_memory(&shown.bytes).unwrap();
    assert_eq!((read.width(), read.height()), (1280, 720));
    let wrong = api.send("POST", &address, &[("content-type", "image/png")], b"no picture".to_vec()).await;
    assert_eq!(wrong.status, StatusCode::UNSUPPORTED_MEDIA_TYPE);
    assert!(wrong.json()["detail"].as_str().unwrap().contains("cannot be read"));
    assert_eq!(
        api.get(&format!("/api/records/{}/photo", one["id"].as_str().unwrap())).await.status,
        StatusCode::NOT_FOUND
    );
    let sent = async |bytes: usize| {
        let huge = api.send("POST", &address, &[("content-type", "image/png")], vec![0; bytes]).await;
        (huge.status, huge.json()["detail"].as_str().unwrap().to_owned())
    };
    assert_eq!(sent(20 << 20).await.0, StatusCode::UNSUPPORTED_MEDIA_TYPE, "no picture, but none too large");
    let too_large = (StatusCode::PAYLOAD_TOO_LARGE, "A picture may have at most 20 MB.".to_owned());
    assert_eq!(sent((20 << 20) + 1).await, too_large);
    let archive = api.get("/api/archive").await.json();
    assert!(archive["records"][0]["document"]["photo_jpeg"].as_str().unwrap().len() > 1000);
}

#[tokio::test]
async fn a_row_that_cannot_be_read_is_named_on_its_packs_page_and_tells_nothing() {
    let api = Api::start().await;
    let one = pack(&api, "Glider").await;
    let id: Uuid = one["id"].as_str().unwrap().parse().unwrap();
    record(&api, &one, json!({ "kind": "rest", "at": "2026-05-01T10:00:00Z", "voltage_v": 11.5 })).await;
    let page = format!("/api/packs/{id}/page");
    let before = api.get(&page).await.json();
    // As an earlier version took it: no door lets it in now.
    let run =
        json!({ "format": "rumek.run/1", "plan": {}, "started_at": "soon", "ended_at": "later", "charge_ah": 1.0 });
    let posted = json!({ "document": run, "links": { "pack": { "id": id, "version": 1 } } });
    assert_eq!(api.post("/api/runs", &posted).await.problem()["problems"][0]["pointer"], "/document/started_at");
    let links = Links { pack: Some(Origin { id, version: 1 }), ..Links::default() };
    let store = Database::connect(api.database.url()).await.unwrap();
    let row = store.shelf::<Runs>().create(Uuid::now_v7(), Draft { document: run, links }).await.unwrap();
    let after = api.get(&page).await.json();
    assert_eq!(after["unread"][0]["id"], row.id.to_string());
    assert_eq!(after["unread"][0]["kind"], "run");
    assert_eq!(after["standing"]["charge"]["known_at"], before["standing"]["charge"]["known_at"]);
    assert_eq!(api.get("/api/shelf").await.json()["packs"][0]["standing"]["need"], before["standing"]["need"]);
}
