//! Rescues over HTTP: judged, kept, and ended together with their pack.

use rstest::rstest;
use serde_json::{Value, json};

use crate::Api;

fn rescue() -> Value {
    json!({
        "format": "rumek.rescue/1",
        "pack": {"name": "Night glider", "chemistry": "lipo", "series": 2, "capacity_ah": 1},
        "found": {"terminal_v": 3.5, "cell_voltages_v": [1.7, 1.8], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 20}
    })
}

fn case(patch: Value) -> Value {
    let mut case = json!({"format": "rumek.rescue-case/1", "name": "Night glider, left on", "rescue": rescue()});
    case.as_object_mut().unwrap().extend(patch.as_object().unwrap().clone());
    case
}

#[tokio::test]
async fn a_pack_in_trouble_is_judged_and_so_are_its_readings() {
    let api = Api::start().await;
    let answer = api.post("/api/rescue", &rescue()).await;
    assert_eq!(answer.status, 200, "{answer:?}");
    assert_eq!(answer.json()["verdict"], "precharge");
    let readings = json!([{"t_s": 60, "terminal_v": 4.4, "current_a": 0.05, "temperature_c": 33}]);
    let ask = json!({"rescue": rescue(), "stage": "precharge", "now_s": 60, "readings": readings});
    let said = api.post("/api/rescue/judge", &ask).await.json();
    assert_eq!((&said["state"], &said["code"]), (&json!("abort"), &json!("warming")));
    let problem =
        api.post("/api/rescue", &json!({"format": "rumek.rescue/1", "found": {"signs": ["glowing"]}})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/found/signs/0");
    let problem = api.post("/api/rescue/judge", &json!({"rescue": rescue(), "stage": "wake"})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/stage");
}

#[rstest]
#[case::recovered("recovered", json!({"mark": "recovered", "rated_c_rate": 0.5, "health": 0.9}))]
#[case::retired("retired", json!({"mark": "retired", "rated_c_rate": 2.0, "health": null}))]
#[tokio::test]
async fn the_outcome_is_kept_with_the_pack(#[case] outcome: &str, #[case] carried: Value) {
    let api = Api::start().await;
    let pack = json!({"document": {"name": "Night glider", "chemistry": "lipo", "series": 2, "capacity_ah": 1, "rated_c_rate": 2}});
    let pack = api.post("/api/packs", &pack).await.json();
    let links = json!({"pack": {"id": pack["id"], "version": pack["version"]}});
    let tested = json!([{"stage": "prove", "at": "2026-11-20T12:00:00Z", "reading": {"t_s": 9, "capacity_ah": 0.9}}]);
    let kept = api.post("/api/rescues", &json!({"document": case(json!({"readings": tested})), "links": links})).await;
    assert_eq!(kept.status, 201, "{kept:?}");
    let kept = kept.json();
    let close = format!("/api/rescues/{}/close", kept["id"].as_str().unwrap());
    let ended = api.post(&close, &json!({"version": 1, "outcome": outcome})).await;
    assert_eq!(ended.status, 200, "{ended:?}");
    assert_eq!(ended.json()["document"]["outcome"], outcome);
    assert_eq!(ended.json()["links"]["pack"]["version"], 2);
    let after = api.get(&format!("/api/packs/{}", pack["id"].as_str().unwrap())).await.json();
    for (field, value) in carried.as_object().unwrap() {
        assert_eq!(after["document"].get(field).unwrap_or(&Value::Null), value, "{field}: {after}");
    }
}

#[tokio::test]
async fn a_rescue_that_moved_on_is_not_ended_and_its_pack_stays_as_it_was() {
    let api = Api::start().await;
    let pack = json!({"document": {"chemistry": "lipo", "series": 2, "capacity_ah": 1}});
    let pack = api.post("/api/packs", &pack).await.json();
    let links = json!({"pack": {"id": pack["id"], "version": 1}});
    let kept = api.post("/api/rescues", &json!({"document": case(json!({})), "links": links})).await.json();
    let id = kept["id"].as_str().unwrap();
    let moved = json!({"version": 1, "document": case(json!({"stage": "precharge"})), "links": links});
    assert_eq!(api.put(&format!("/api/rescues/{id}"), &moved).await.status, 200);
    let close = format!("/api/rescues/{id}/close");
    let late = api.post(&close, &json!({"version": 1, "outcome": "retired"})).await;
    assert_eq!(late.status, 409, "{late:?}");
    let after = api.get(&format!("/api/packs/{}", pack["id"].as_str().unwrap())).await.json();
    assert_eq!((&after["version"], &after["document"]["mark"]), (&json!(1), &Value::Null));
    // So low that it carries a mark: it cannot be called sound.
    let sound = api.post(&close, &json!({"version": 2, "outcome": "sound"})).await;
    assert_eq!(sound.problem()["problems"][0]["pointer"], "/outcome");
    assert_eq!(api.post(&close, &json!({"version": 2, "outcome": "lost"})).await.status, 422);
    let nowhere = "/api/rescues/01960000-0000-7000-8000-0000000000ff/close";
    assert_eq!(api.post(nowhere, &json!({"version": 1, "outcome": "retired"})).await.status, 404);
}
