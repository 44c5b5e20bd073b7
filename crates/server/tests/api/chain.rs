//! Chargers, leads and the reverse questions over HTTP.

use rstest::rstest;
use serde_json::{Value, json};

use crate::{Api, plan};

#[rstest]
#[case::charger("/api/chargers", json!({"name": "Slope charger", "kind": "hobby_charger", "output_max_a": 8}), json!({"kind": "hobby_charger"}), "/document/output_max_a")]
#[case::lamp("/api/chargers", json!({"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}), json!({"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21, "duty": 0.5}), "/document/duty")]
#[case::lead("/api/leads", json!({"awg": 14, "length_m": 0.5}), json!({"awg": 14, "area_mm2": 2, "length_m": 0.5}), "/document/area_mm2")]
#[case::field_battery("/api/supplies", json!({"kind": "battery", "chemistry": "lfp", "series": 4, "capacity_ah": 50}), json!({"kind": "battery", "chemistry": "lfp", "series": 4}), "/document/capacity_ah")]
#[case::display("/api/supplies", json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5, "meters": [{"quantity": "voltage", "points": [{"shown": 12.0, "true": 11.9}]}]}),
    json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5, "meters": [{"quantity": "voltage", "points": []}]}), "/document/meters/0/points")]
#[tokio::test]
async fn gear_of_every_kind_is_kept_and_a_wrong_one_named_at_its_field(
    #[case] path: &str,
    #[case] right: Value,
    #[case] wrong: Value,
    #[case] pointer: &str,
) {
    let api = Api::start().await;
    let kept = api.post(path, &json!({"document": right})).await;
    assert_eq!(kept.status, 201, "{kept:?}");
    assert_eq!(api.get(path).await.json()[0]["document"], right);
    let problem = api.post(path, &json!({"document": wrong})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], pointer, "{problem}");
}

#[tokio::test]
async fn a_plan_remembers_its_charger_and_its_leads() {
    let api = Api::start().await;
    let charger = json!({"document": {"kind": "hobby_charger", "output_max_a": 8}});
    let charger = api.post("/api/chargers", &charger).await.json();
    let lead = api.post("/api/leads", &json!({"document": {"awg": 14, "length_m": 0.5}})).await.json();
    let origin = |row: &Value| json!({"id": row["id"], "version": row["version"]});
    let links = json!({"charger": origin(&charger), "output": origin(&lead)});
    let saved = api.post("/api/plans", &json!({"document": plan(), "links": links})).await.json();
    let again = api.get(&format!("/api/plans/{}", saved["id"].as_str().unwrap())).await.json();
    assert_eq!(again["links"]["charger"], links["charger"]);
    assert_eq!(again["links"]["output"], links["output"]);
    assert_eq!(again["links"]["input"], Value::Null);
}

#[tokio::test]
async fn reverse_questions_are_answered_and_their_problems_point_into_the_plan() {
    let api = Api::start().await;
    let answer = api.post("/api/sizing", &json!({"plan": plan(), "done_in_min": 90})).await;
    assert_eq!(answer.status, 200, "{answer:?}");
    let sizes = answer.json();
    assert_eq!(sizes["done_in"]["possible"], true);
    assert_eq!(sizes["packs"].as_array().unwrap().len(), 8);
    let mut wrong = plan();
    wrong["pack"]["series"] = json!(900);
    let problem = api.post("/api/sizing", &json!({"plan": wrong, "done_in_min": 90})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/plan/pack/series");
    let problem = api.post("/api/sizing", &json!({"plan": plan(), "done_in_min": 0.1})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/done_in_min");
}
