//! Computing, keeping and losing.

use serde_json::json;

use crate::{Api, plan};

#[tokio::test]
async fn a_plan_is_computed_without_being_saved() {
    let api = Api::start().await;
    let answer = api.post("/api/plan", &plan()).await;
    assert_eq!(answer.status, 200);
    let result = answer.json();
    assert_eq!(result["settings"]["dial_voltage_v"], 25.2);
    assert_eq!(result["settings"]["current_a"], 4.0);
    assert_eq!(api.get("/api/plans").await.json(), json!([]));
}

#[tokio::test]
async fn bad_input_is_named_at_its_field() {
    let api = Api::start().await;
    let mut wrong = plan();
    wrong["pack"]["series"] = json!(900);
    wrong["pack"]["colour"] = json!("blue");
    let problem = api.post("/api/plan", &wrong).await.problem();
    assert_eq!(problem["status"], 422);
    assert_eq!(problem["problems"][0]["pointer"], "/pack/colour");
    wrong["pack"].as_object_mut().unwrap().remove("colour");
    let problem = api.post("/api/plan", &wrong).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/pack/series");
    assert_eq!(problem["problems"][0]["allowed"], "1 to 200");
    // What was only not said yet is a question, and no error.
    let mut open = plan();
    open["pack"].as_object_mut().unwrap().remove("series");
    let answer = api.post("/api/plan", &open).await;
    assert_eq!(
        (answer.status.as_u16(), &answer.json()["unfinished"]["ask"][0]["pointer"]),
        (200, &json!("/pack/series"))
    );
    let torn = api.send("POST", "/api/plan", &[], "{\"format\": ").await.problem();
    assert_eq!((torn["status"].as_u64(), torn["problems"][0]["pointer"].as_str()), (Some(400), Some("")));
    let pack = json!({"document": {"chemistry": "lipo", "series": 6}});
    let problem = api.post("/api/packs", &pack).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/document/capacity_ah");
}

#[tokio::test]
async fn a_plan_is_saved_reopened_changed_deleted_and_brought_back() {
    let api = Api::start().await;
    let id = "01960000-0000-7000-8000-00000000aaaa";
    let created = api.post("/api/plans", &json!({"id": id, "document": plan()})).await;
    assert_eq!(created.status, 201);
    // Sent again because its answer was lost, it is the same one.
    let again = api.post("/api/plans", &json!({"id": id, "document": plan()})).await;
    assert_eq!((again.status.as_u16(), again.json()), (200, created.json()));
    let path = format!("/api/plans/{id}");
    let mut row = api.get(&path).await.json();
    assert_eq!((row["version"].as_i64(), &row["document"]), (Some(1), &plan()));
    row["document"]["name"] = json!("Tow-plane, evening");
    let saved = api.put(&path, &json!({"version": 1, "document": row["document"]})).await;
    assert_eq!((saved.status.as_u16(), saved.json()["version"].as_i64()), (200, Some(2)));

    let late = api.put(&path, &json!({"version": 1, "document": plan()})).await.problem();
    assert_eq!((late["status"].as_u64(), late["current"]["version"].as_i64()), (Some(409), Some(2)));
    assert_eq!(late["current"]["document"]["name"], "Tow-plane, evening");
    let twice = api.post("/api/plans", &json!({"id": id, "document": plan()})).await.problem();
    assert_eq!(twice["status"], 409);
    let unsaid = api.put(&path, &json!({"document": plan()})).await.problem();
    assert_eq!(unsaid["problems"][0]["pointer"], "/version");

    assert_eq!(api.post(&format!("{path}/archive"), &json!({"version": 2})).await.status, 200);
    assert_eq!(api.get("/api/plans").await.json(), json!([]));
    assert_eq!(api.get("/api/plans?archived=true").await.json()[0]["id"], id);
    let restored = api.post(&format!("{path}/restore"), &json!({"version": 3})).await.json();
    assert_eq!((restored["archived_at"].is_null(), restored["version"].as_i64()), (true, Some(4)));
}

#[tokio::test]
async fn what_is_not_there_is_said_so() {
    let api = Api::start().await;
    for path in ["/api/packs/01960000-0000-7000-8000-00000000bbbb", "/api/packs/nonsense", "/api/nothing"] {
        assert_eq!(api.get(path).await.problem()["status"], 404, "{path}");
    }
    let dangling =
        json!({"document": plan(), "links": {"pack": {"id": "01960000-0000-7000-8000-00000000bbbb", "version": 1}}});
    assert_eq!(api.post("/api/plans", &dangling).await.problem()["status"], 422);
}

#[tokio::test]
async fn without_its_database_it_still_computes_and_recovers_by_itself() {
    let api = Api::start().await;
    assert_eq!(api.get("/readyz").await.status, 200);
    api.database.lose().await.unwrap();
    let problem = api.get("/api/packs").await.problem();
    assert_eq!((problem["status"].as_u64(), problem["type"].as_str()), (Some(503), Some("urn:rumek:unavailable")));
    assert_eq!(api.get("/readyz").await.problem()["status"], 503);
    assert_eq!(api.get("/healthz").await.status, 200);
    assert_eq!(api.post("/api/plan", &plan()).await.status, 200);
    api.database.bring_back().await.unwrap();
    assert_eq!(api.get("/api/packs").await.status, 200);
    assert_eq!(api.get("/readyz").await.status, 200);
}
