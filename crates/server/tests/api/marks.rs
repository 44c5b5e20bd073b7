//! What a pack is marked as on the shelf counts for every plan that names it, and a run is frozen here.

use serde_json::{Value, json};

use crate::{Api, plan};

/// A pack on the shelf as the plan has it, marked.
async fn marked(api: &Api, mark: Value) -> String {
    let mut pack = plan()["pack"].clone();
    pack.as_object_mut().unwrap().remove("start");
    pack["mark"] = mark;
    pack["rated_c_rate"] = json!(0.5);
    let kept = api.post("/api/packs", &json!({"document": pack})).await;
    assert_eq!(kept.status, 201, "{kept:?}");
    kept.json()["id"].as_str().unwrap().to_owned()
}

fn stops(result: &Value) -> Vec<String> {
    let checks = result["checks"].as_array().unwrap().iter();
    checks.filter(|c| c["severity"] == "stop").map(|c| c["code"].as_str().unwrap().to_owned()).collect()
}

#[tokio::test]
async fn a_mark_counts_whatever_the_plans_copy_says() {
    let api = Api::start().await;
    let (retired, recovered, whole) =
        (marked(&api, json!("retired")).await, marked(&api, json!("recovered")).await, marked(&api, Value::Null).await);
    let asked = async |id: &str| api.post(&format!("/api/plan?pack={id}"), &plan()).await.json();
    assert_eq!(stops(&asked(&retired).await), ["pack.retired"]);
    let gently = asked(&recovered).await;
    assert_eq!(gently["resolved"]["pack"]["mark"], "recovered");
    assert_eq!(gently["settings"]["current_limited_by"], "pack_rating");
    let (unmarked, plain) = (asked(&whole).await, api.post("/api/plan", &plan()).await.json());
    assert_eq!(unmarked["settings"], plain["settings"]);
    assert!(gently["settings"]["current_a"].as_f64() < plain["settings"]["current_a"].as_f64());
    // The list before a charge and the reverse questions know it as well.
    let list = api.post(&format!("/api/run/preflight?pack={retired}"), &json!({"plan": plan()})).await;
    assert_eq!(list.status, 422, "{list:?}");
    let unknown = api.post(&format!("/api/plan?pack={}", uuid::Uuid::now_v7()), &plan()).await;
    assert_eq!(unknown.json()["settings"], plain["settings"]);
}

#[tokio::test]
async fn a_run_is_frozen_with_its_own_answer_and_version() {
    let api = Api::start().await;
    let recovered = marked(&api, json!("recovered")).await;
    let document = json!({"format": "rumek.run/1", "plan": plan(), "result": {"made": "up"}, "core_version": "0"});
    let links = json!({"pack": {"id": recovered, "version": 1}});
    let run = api.post("/api/runs", &json!({"document": document, "links": links})).await.json();
    let kept = &run["document"];
    assert_eq!(kept["core_version"], env!("CARGO_PKG_VERSION"));
    assert_eq!(
        (&kept["plan"]["pack"]["mark"], &kept["result"]["format"]),
        (&json!("recovered"), &json!("rumek.result/1"))
    );
    let links = json!({"pack": {"id": marked(&api, json!("retired")).await, "version": 1}});
    let refused = api.post("/api/runs", &json!({"document": document, "links": links})).await;
    let problem = refused.problem();
    assert_eq!(refused.status, 422);
    assert_eq!(problem["problems"][0]["pointer"], "/document/plan");
    assert!(problem["problems"][0]["message"].as_str().unwrap().contains("retired"), "{problem}");
}
