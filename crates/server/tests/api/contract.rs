//! What is written down of the service is what it does.

use std::collections::BTreeSet;

use axum::body::Body;
use serde_json::{Value, json};

use crate::{Answer, Api, plan};

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

/// Every request with a valid document, each way held against what is written down of it.
struct Contract {
    api: Api,
    document: Value,
    seen: BTreeSet<(String, String)>,
}

impl Contract {
    async fn start() -> Self {
        Self { api: Api::start().await, document: rumek_server::openapi(), seen: BTreeSet::new() }
    }

    /// What breaks a schema, if anything does.
    fn broken(&self, schema: &Value, instance: &Value) -> Vec<String> {
        let mut root = schema.clone();
        root["components"] = self.document["components"].clone();
        let validator = jsonschema::draft202012::new(&root).unwrap();
        validator.iter_errors(instance).map(|error| format!("{}: {error}", error.instance_path())).collect()
    }

    /// Sends a request of `template`, whose `{…}` are filled in turn; gives its answer, a success.
    async fn ask(&mut self, method: &str, template: &str, fill: &[&str], query: &str, body: Option<&Value>) -> Answer {
        let mut path = template.to_owned();
        for value in fill {
            let (from, to) = (path.find('{').unwrap(), path.find('}').unwrap());
            path.replace_range(from..=to, value);
        }
        let operation = self.document["paths"][template][method.to_lowercase()].clone();
        assert!(operation.is_object(), "{method} {template} is not written down");
        self.seen.insert((method.to_owned(), template.to_owned()));
        if let Some(body) = body {
            let taken = operation["requestBody"]["content"].as_object().unwrap();
            let (media, content) = taken.iter().next().unwrap();
            let wrong = if media == "application/json" { self.broken(&content["schema"], body) } else { Vec::new() };
            assert!(wrong.is_empty(), "{method} {template} is sent {body}: {wrong:?}");
        }
        let text = body.map_or(String::new(), |body| body.as_str().map_or_else(|| body.to_string(), str::to_owned));
        let media = if body.is_some_and(Value::is_string) { "text/csv" } else { "application/json" };
        let answer = self.api.send(method, &format!("{path}{query}"), &[("content-type", media)], text).await;
        let given = &operation["responses"][answer.status.as_str()];
        assert!(answer.status.is_success() && given.is_object(), "{method} {path}: {answer:?}");
        let (media, content) = given["content"].as_object().unwrap().iter().next().unwrap();
        assert!(answer.headers["content-type"].to_str().unwrap().starts_with(media), "{answer:?}");
        if media == "application/json" {
            let wrong = self.broken(&content["schema"], &answer.json());
            assert!(wrong.is_empty(), "{method} {template} gives {:?}: {wrong:?}", answer.json());
        }
        answer
    }

    /// Keeps a picture of a pack, and asks for it again.
    async fn picture(&mut self, pack: &str) {
        let mut png = std::io::Cursor::new(Vec::new());
        image::RgbImage::new(8, 6).write_to(&mut png, image::ImageFormat::Png).unwrap();
        let template = "/api/packs/{id}/photo";
        let path = template.replace("{id}", pack);
        let kept = self.api.send("POST", &path, &[("content-type", "image/png")], png.into_inner()).await;
        let given = &self.document["paths"][template]["post"]["responses"][kept.status.as_str()];
        let wrong = self.broken(&given["content"]["application/json"]["schema"], &kept.json());
        assert!(wrong.is_empty(), "{kept:?}: {wrong:?}");
        self.seen.insert(("POST".to_owned(), template.to_owned()));
        self.ask("GET", "/api/records/{id}/photo", &[kept.json()["id"].as_str().unwrap()], "", None).await;
    }

    /// The six requests of a shelf; gives the id of what is kept there at last.
    async fn shelf(&mut self, path: &str, document: &Value) -> String {
        self.shelf_of(path, document, &json!({})).await
    }

    /// The same of what is about something else.
    async fn shelf_of(&mut self, path: &str, document: &Value, links: &Value) -> String {
        let one = format!("{path}/{{id}}");
        let kept = self.ask("POST", path, &[], "", Some(&json!({"document": document, "links": links}))).await.json();
        let id = kept["id"].as_str().unwrap().to_owned();
        self.ask("GET", path, &[], "?archived=false", None).await;
        let read = self.ask("GET", &one, &[&id], "", None).await.json();
        let draft = json!({"version": read["version"], "document": read["document"], "links": links});
        let mut version = self.ask("PUT", &one, &[&id], "", Some(&draft)).await.json()["version"].clone();
        for verb in ["archive", "restore"] {
            let path = format!("{one}/{verb}");
            version =
                self.ask("POST", &path, &[&id], "", Some(&json!({"version": version}))).await.json()["version"].clone();
        }
        id
    }
}

const LOG: &str = "Time;Voltage (V);Current (A)\n00:00:00;22,50;2,60\n00:10:00;23,10;2,60\n00:20:00;23,60;2,58\n";

#[tokio::test]
async fn what_is_sent_and_given_is_as_it_is_written_down() {
    let mut c = Contract::start().await;
    let rescue = json!({
        "format": "rumek.rescue/1", "pack": {"chemistry": "lipo", "series": 2, "capacity_ah": 1},
        "found": {"terminal_v": 3.5, "cell_voltages_v": [1.7, 1.8], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 20}
    });
    let reading = json!({"t_s": 60, "terminal_v": 22.6, "terminal_a": 4.0});
    c.ask("POST", "/api/plan", &[], "", Some(&plan())).await;
    let sizes = json!({"plan": plan(), "done_in_min": 60, "length_m": 0.6});
    c.ask("POST", "/api/sizing", &[], "", Some(&sizes)).await;
    c.ask("POST", "/api/rescue", &[], "", Some(&rescue)).await;
    let asked =
        json!({"rescue": rescue, "stage": "precharge", "now_s": 60, "readings": [{"t_s": 60, "terminal_v": 4.4}]});
    c.ask("POST", "/api/rescue/judge", &[], "", Some(&asked)).await;
    c.ask("POST", "/api/run/preflight", &[], "", Some(&json!({"plan": plan(), "answers": []}))).await;
    c.ask("POST", "/api/run/understand", &[], "", Some(&json!({"plan": plan(), "now_s": 90, "readings": [reading]})))
        .await;
    c.ask("POST", "/api/quick-line", &[], "", Some(&json!({"text": "6S 4000 LiPo, 25 W"}))).await;
    c.ask("POST", "/api/quick-line/of", &[], "", Some(&plan())).await;
    c.ask("GET", "/api/kinds", &[], "", None).await;
    c.ask("GET", "/api/lines", &[], "", None).await;
    c.ask("GET", "/api/version", &[], "", None).await;

    let pack = c
        .shelf("/api/packs", &json!({"name": "Tow-plane", "chemistry": "lipo", "series": 6, "capacity_ah": 4.0}))
        .await;
    c.shelf("/api/supplies", &json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5})).await;
    c.shelf("/api/chargers", &json!({"kind": "hobby_charger", "output_max_a": 8, "output_max_w": 120})).await;
    c.shelf("/api/leads", &json!({"awg": 12, "length_m": 0.5, "fuse_a": 15})).await;
    c.shelf("/api/plans", &plan()).await;
    let run = c
        .shelf("/api/runs", &json!({"format": "rumek.run/1", "plan": plan(), "started_at": "2026-11-25T09:00:00Z"}))
        .await;
    let case = c.shelf("/api/rescues", &json!({"format": "rumek.rescue-case/1", "rescue": rescue})).await;
    let case = c.ask("GET", "/api/rescues/{id}", &[&case], "", None).await.json();
    let close = json!({"version": case["version"], "outcome": "retired"});
    c.ask("POST", "/api/rescues/{id}/close", &[case["id"].as_str().unwrap()], "", Some(&close)).await;

    let sent = json!({"taken_at": "2026-11-25T09:01:00Z", "clock_offset_ms": 0, "reading": {"terminal_v": 22.6, "terminal_a": 4.0}});
    let id = "01960000-0000-7000-8000-00000000cccc";
    c.ask("PUT", "/api/runs/{id}/readings/{client_id}", &[&run, id], "", Some(&sent)).await;
    let struck = Some(json!({"struck": true}));
    c.ask("PUT", "/api/runs/{id}/readings/{client_id}/struck", &[&run, id], "", struck.as_ref()).await;
    c.ask("GET", "/api/runs/{id}/readings", &[&run], "?at_most=50", None).await;
    c.ask("GET", "/api/runs/{id}/state", &[&run], "?now_s=120", None).await;
    c.ask("GET", "/api/runs/{id}/log", &[&run], "?columns=bdf", None).await;
    c.ask("GET", "/api/logbook", &[], "?text=tow", None).await;

    let look =
        c.ask("POST", "/api/logs/look", &[], "", Some(&json!({"text": LOG, "began_at": "2026-11-25T09:00:00Z"}))).await;
    let mapping = c.shelf("/api/log-mappings", &look.json()["look"]["mapping"]).await;
    let query = format!("?mapping={mapping}&malformed=refuse&pack={pack}&began_at=2026-11-25T09:00:00Z");
    c.ask("POST", "/api/logs", &[], &query, Some(&json!(LOG))).await;

    let record = json!({"format": "rumek.record/1", "kind": "test", "at": "2026-11-25T09:00:00Z", "capacity_ah": 3.9});
    c.shelf_of("/api/records", &record, &json!({"pack": {"id": pack, "version": 1}})).await;
    c.ask("GET", "/api/shelf", &[], "?sort=health&limit=5", None).await;
    c.ask("GET", "/api/packs/{id}/page", &[&pack], "", None).await;
    c.ask("POST", "/api/logs/history", &[], &format!("?mapping={mapping}&pack={pack}"), Some(&json!(LOG))).await;
    let full = json!({"chemistry": "lipo", "series": 6, "capacity_ah": 4, "start": {"soc": 1.0}});
    let test = json!({"format": "rumek.test/1", "pack": full, "after": "none", "discharge": {"by": "electronic_load"}});
    c.ask("POST", "/api/test", &[], "", Some(&test)).await;
    let cells = json!([{"id": "a", "capacity_ah": 3.0}, {"id": "b", "capacity_ah": 2.9}]);
    let cells =
        json!({"format": "rumek.match/1", "cells": cells, "packs": [{"name": "p", "series": 2, "parallel": 1}]});
    c.ask("POST", "/api/match", &[], "", Some(&cells)).await;
    c.ask("POST", "/api/gauge", &[], "", Some(&json!({"pack": full, "thresholds_v": [21.0, 22.5, 24.0]}))).await;

    c.picture(&pack).await;
    // As it is, byte by byte: its lists stand in an order that matters.
    let archive = c.ask("GET", "/api/archive", &[], "", None).await;
    c.api = Api::start().await;
    let put_in = c.api.send("POST", "/api/archive", &[], archive.bytes).await;
    assert_eq!(put_in.status, 201, "{put_in:?}");
    let gives =
        c.document["paths"]["/api/archive"]["post"]["responses"]["201"]["content"]["application/json"]["schema"]
            .clone();
    assert!(c.broken(&gives, &put_in.json()).is_empty(), "{put_in:?}");
    c.seen.insert(("POST".to_owned(), "/api/archive".to_owned()));

    let paths = c.document["paths"].as_object().unwrap();
    let written = paths.iter().flat_map(|(path, methods)| {
        methods.as_object().unwrap().keys().map(move |method| (method.to_uppercase(), path.clone()))
    });
    // Hints never end; changes.rs reads them.
    let unasked: Vec<_> = written.filter(|one| !c.seen.contains(one) && one.1 != "/api/changes").collect();
    assert!(unasked.is_empty(), "{unasked:?}");
}

/// Every path of a `.route("…")` in the server's sources, under where its file is nested.
fn routed() -> BTreeSet<String> {
    let folder = format!("{}/src/routes", env!("CARGO_MANIFEST_DIR"));
    let mut paths = BTreeSet::new();
    for entry in std::fs::read_dir(folder).unwrap() {
        let text = std::fs::read_to_string(entry.unwrap().path()).unwrap();
        let quoted = |mark: &str| -> Vec<String> {
            let after = text.split(mark).skip(1);
            after.map(|rest| rest.split('"').next().unwrap().to_owned()).collect()
        };
        let shelves = quoted(".nest(\"");
        for path in quoted(".route(\"") {
            if shelves.is_empty() {
                paths.insert(format!("/api{path}"));
            }
            paths.extend(shelves.iter().map(|shelf| format!("/api{shelf}{}", path.trim_end_matches('/'))));
        }
    }
    paths
}

#[test]
fn every_route_is_written_down_and_nothing_else_is() {
    let document = rumek_server::openapi();
    let written: BTreeSet<String> = document["paths"].as_object().unwrap().keys().cloned().collect();
    // The formats' schemas describe themselves.
    let mut routed = routed();
    assert!(routed.remove("/api/schema/{name}"), "{routed:?}");
    assert_eq!(written, routed);
}
