//! Runs over HTTP: the list before, readings kept once, and what they mean.

use serde_json::{Value, json};
use uuid::Uuid;

use crate::{Answer, Api, plan};

async fn run(api: &Api) -> String {
    let document =
        json!({"format": "rumek.run/1", "name": "Tow-plane", "plan": plan(), "started_at": "2026-11-25T09:00:00Z"});
    let kept = api.post("/api/runs", &json!({"document": document})).await;
    assert_eq!(kept.status, 201, "{kept:?}");
    kept.json()["id"].as_str().unwrap().to_owned()
}

fn sent(minute: u32, volts: f64) -> Value {
    let taken_at = format!("2026-11-25T09:{minute:02}:00Z");
    json!({"taken_at": taken_at, "clock_offset_ms": 0, "reading": {"terminal_v": volts, "source_a": 4.0}})
}

async fn put(api: &Api, run: &str, id: Uuid, body: &Value) -> Answer {
    api.put(&format!("/api/runs/{run}/readings/{id}"), body).await
}

#[tokio::test]
async fn a_reading_is_kept_once_however_often_it_is_sent() {
    let api = Api::start().await;
    let run = run(&api).await;
    let id = Uuid::now_v7();
    let first = put(&api, &run, id, &sent(5, 22.9)).await;
    assert_eq!((first.status.as_u16(), &first.json()["n"]), (201, &json!(1)));
    assert_eq!(put(&api, &run, id, &sent(5, 22.9)).await.status, 200);
    for other in [sent(5, 23.9), sent(6, 22.9)] {
        assert_eq!(put(&api, &run, id, &other).await.status, 409, "{other}");
    }
    let list = api.get(&format!("/api/runs/{run}/readings")).await.json();
    assert_eq!(list.as_array().unwrap().len(), 1);
    assert_eq!(list[0]["reading"], json!({"terminal_v": 22.9, "source_a": 4.0}));
    // Under another run the same id is another reading.
    let other = self::run(&api).await;
    assert_eq!(put(&api, &other, id, &sent(5, 22.9)).await.status, 409);
}

#[tokio::test]
async fn readings_sent_at_once_are_all_kept_and_listed_by_when_they_were_taken() {
    let api = Api::start().await;
    let run = run(&api).await;
    let bodies: Vec<Value> = (0..12).map(|k| sent((k * 7) % 12, 22.0 + f64::from(k) / 10.0)).collect();
    let answers = futures::future::join_all(bodies.iter().map(|body| put(&api, &run, Uuid::now_v7(), body))).await;
    assert!(answers.iter().all(|answer| answer.status == 201), "{answers:?}");
    let list = api.get(&format!("/api/runs/{run}/readings")).await.json();
    let list = list.as_array().unwrap();
    let mut numbers: Vec<i64> = list.iter().map(|row| row["n"].as_i64().unwrap()).collect();
    numbers.sort_unstable();
    assert_eq!(numbers, Vec::from_iter(1..=12));
    let times: Vec<&str> = list.iter().map(|row| row["taken_at"].as_str().unwrap()).collect();
    assert!(times.is_sorted(), "{times:?}");
}

#[tokio::test]
async fn a_sender_whose_clock_is_off_is_put_right() {
    let api = Api::start().await;
    let run = run(&api).await;
    let ahead =
        json!({"taken_at": "2026-11-25T11:04:00Z", "clock_offset_ms": 7_200_000, "reading": {"terminal_v": 22.7}});
    put(&api, &run, Uuid::now_v7(), &sent(5, 22.9)).await;
    put(&api, &run, Uuid::now_v7(), &ahead).await;
    let list = api.get(&format!("/api/runs/{run}/readings")).await.json();
    assert_eq!(
        (&list[0]["at"], &list[0]["taken_at"]),
        (&json!("2026-11-25T09:04:00Z"), &json!("2026-11-25T11:04:00Z"))
    );
    assert_eq!(list[1]["at"], "2026-11-25T09:05:00Z");
}

#[tokio::test]
async fn a_wrong_reading_is_named_and_a_run_that_is_not_there_is_said_so() {
    let api = Api::start().await;
    let run = run(&api).await;
    let wrong = json!({"taken_at": "yesterday", "reading": {"terminal_v": 22}});
    assert_eq!(put(&api, &run, Uuid::now_v7(), &wrong).await.problem()["problems"][0]["pointer"], "/taken_at");
    let wrong = json!({"taken_at": "2026-11-25T09:05:00Z", "reading": {"volts": 22}});
    assert_eq!(put(&api, &run, Uuid::now_v7(), &wrong).await.problem()["problems"][0]["pointer"], "/reading/volts");
    let nowhere = Uuid::now_v7().to_string();
    assert_eq!(put(&api, &nowhere, Uuid::now_v7(), &sent(1, 22.0)).await.status, 404);
    assert_eq!(api.get(&format!("/api/runs/{nowhere}/readings")).await.status, 404);
}

#[tokio::test]
async fn the_list_before_and_the_readings_are_judged() {
    let api = Api::start().await;
    let answers = json!([{"code": "no_load_voltage", "value": 26.4}]);
    let list = api.post("/api/run/preflight", &json!({"plan": plan(), "answers": answers})).await.json();
    assert_eq!(list["clear"], false);
    let readings = json!([{"t_s": 600, "terminal_v": 22.9, "source_a": 1.5}]);
    let state =
        api.post("/api/run/understand", &json!({"plan": plan(), "now_s": 600, "readings": readings})).await.json();
    assert_eq!(state["said"][0]["code"], "supply_limited");
    let problem =
        api.post("/api/run/understand", &json!({"plan": plan(), "readings": [{"terminal_v": 22}]})).await.problem();
    assert_eq!(problem["problems"][0]["pointer"], "/readings/0/t_s");
}

#[tokio::test]
async fn a_log_goes_out_as_csv() {
    let api = Api::start().await;
    let run = run(&api).await;
    put(&api, &run, Uuid::now_v7(), &sent(5, 22.9)).await;
    let own = api.get(&format!("/api/runs/{run}/log")).await;
    assert_eq!(own.headers["content-type"], "text/csv; charset=utf-8");
    assert!(String::from_utf8_lossy(&own.bytes).contains("\n300,"), "{own:?}");
    let bdf = api.get(&format!("/api/runs/{run}/log?columns=bdf")).await;
    assert!(String::from_utf8_lossy(&bdf.bytes).starts_with("Test Time / s,Voltage / V"), "{bdf:?}");
    assert!(bdf.headers["content-disposition"].to_str().unwrap().ends_with(".bdf.csv\""));
    assert_eq!(api.get(&format!("/api/runs/{run}/log?columns=xls")).await.status, 400);
}

#[tokio::test]
async fn a_clock_that_is_absurd_is_named_and_one_that_was_kept_spoils_no_other_reading() {
    let api = Api::start().await;
    let run = run(&api).await;
    let with = |taken_at: &str, offset: i64| json!({"taken_at": taken_at, "clock_offset_ms": offset, "reading": {"terminal_v": 22.0}});
    for (body, pointer) in [
        (with("2026-11-25T09:05:00Z", 1_000_000_000_000_000), "/clock_offset_ms"),
        (with("2026-11-25T09:05:00Z", i64::MIN), "/clock_offset_ms"),
        (with("9999-12-31T23:59:59Z", 0), "/taken_at"),
        (with("1969-12-31T23:59:59Z", 0), "/taken_at"),
    ] {
        let problem = put(&api, &run, Uuid::now_v7(), &body).await.problem();
        assert_eq!(
            (&problem["status"], &problem["problems"][0]["pointer"]),
            (&json!(422), &json!(pointer)),
            "{problem}"
        );
    }
    put(&api, &run, Uuid::now_v7(), &sent(5, 22.9)).await;
    put(&api, &run, Uuid::now_v7(), &sent(15, 23.1)).await;
    // Kept before such clocks were named.
    for (n, taken_at, offset) in
        [(3, "2026-11-25T09:07:00Z", 1_000_000_000_000_000_i64), (4, "9999-12-31T23:00:00Z", i64::MIN)]
    {
        let reading = json!({"terminal_v": 1.0}).to_string();
        api.database.sql(&format!("INSERT INTO run_readings (run_id, n, client_id, taken_at, clock_offset_ms, document) VALUES ('{run}', {n}, '{}', '{taken_at}', {offset}, '{reading}')", Uuid::now_v7())).await.unwrap();
    }
    let list = api.get(&format!("/api/runs/{run}/readings")).await.json();
    let placed: Vec<bool> = list.as_array().unwrap().iter().map(|one| one["at"].is_string()).collect();
    assert_eq!(placed, [true, true, false, false], "{list}");
    let state = api.get(&format!("/api/runs/{run}/state?now_s=900")).await.json();
    assert_eq!(state["readings"], 2, "{state}");
    assert_eq!(api.get(&format!("/api/runs/{run}/log")).await.status, 200);
    let near = format!("/api/runs/{run}/readings?from=2026-11-25T09:00:00Z&until=2026-11-25T09:10:00Z&at_most=20");
    assert_eq!(api.get(&near).await.json().as_array().unwrap().len(), 2);
}

#[tokio::test]
async fn a_run_is_understood_by_every_reading_in_whatever_order_they_arrive() {
    let api = Api::start().await;
    let run = run(&api).await;
    let mut readings = Vec::new();
    for minute in [20, 5, 15, 10] {
        let volts = 22.6 + f64::from(minute) / 50.0;
        put(&api, &run, Uuid::now_v7(), &sent(minute, volts)).await;
        readings.push(json!({"t_s": 60 * minute, "terminal_v": volts, "source_a": 4.0}));
        let state = api.get(&format!("/api/runs/{run}/state?now_s=1500")).await.json();
        let asked = json!({"plan": plan(), "now_s": 1500, "readings": readings});
        assert_eq!(state, api.post("/api/run/understand", &asked).await.json());
    }
    assert_eq!(api.get(&format!("/api/runs/{}/state", Uuid::now_v7())).await.status, 404);
    let document = json!({"format": "rumek.run/1", "name": "Nothing known", "started_at": "2026-11-25T09:00:00Z"});
    let bare = api.post("/api/runs", &json!({"document": document})).await.json()["id"].as_str().unwrap().to_owned();
    assert_eq!(api.get(&format!("/api/runs/{bare}/state")).await.status, 422);
}

#[tokio::test]
async fn a_reading_that_was_taken_back_is_kept_and_counts_no_more() {
    let api = Api::start().await;
    let run = run(&api).await;
    let (right, wrong) = (Uuid::now_v7(), Uuid::now_v7());
    put(&api, &run, right, &sent(5, 22.9)).await;
    let state = format!("/api/runs/{run}/state?now_s=900");
    let before = api.get(&state).await.json();
    put(&api, &run, wrong, &sent(10, 2.29)).await;
    assert_ne!(api.get(&state).await.json(), before);

    let path = format!("/api/runs/{run}/readings/{wrong}/struck");
    let struck = api.put(&path, &json!({"struck": true})).await;
    assert_eq!(struck.status, 200, "{struck:?}");
    let at = struck.json()["struck_at"].clone();
    assert!(at.is_string());
    assert_eq!(api.get(&state).await.json(), before, "it is understood as if it had not been");
    assert_eq!(api.put(&path, &json!({"struck": true})).await.json()["struck_at"], at, "once is enough");
    let list = api.get(&format!("/api/runs/{run}/readings")).await.json();
    assert_eq!(list[1]["reading"]["terminal_v"], json!(2.29), "it stays to be seen");
    let log = String::from_utf8(api.get(&format!("/api/runs/{run}/log")).await.bytes).unwrap();
    assert!(log.contains("22.9") && !log.contains("2.29,"), "{log}");
    // An archive carries it as it stands.
    let archive = api.get("/api/archive").await.json();
    assert_eq!(archive["readings"][1]["struck_at"], at);

    assert_eq!(api.put(&path, &json!({"struck": false})).await.json()["struck_at"], json!(null));
    assert_ne!(api.get(&state).await.json(), before);
    assert_eq!(api.put(&path, &json!({})).await.status, 422);
    let none = format!("/api/runs/{run}/readings/{}/struck", Uuid::now_v7());
    assert_eq!(api.put(&none, &json!({"struck": true})).await.status, 404);
}

/// A run with readings of ten minutes, ended after them.
async fn ended(api: &Api, charge_ah: Option<f64>) -> String {
    let id = run(api).await;
    for minute in 0..=10 {
        put(api, &id, Uuid::now_v7(), &sent(minute, 22.5 + f64::from(minute) / 50.0)).await;
    }
    let state = api.get(&format!("/api/runs/{id}/state")).await.json();
    let counted = (state["account"]["charge_ah"].as_f64().unwrap() * 1000.0).round() / 1000.0;
    let mut row = api.get(&format!("/api/runs/{id}")).await.json();
    row["document"]["ended_at"] = json!("2026-11-25T09:10:00Z");
    row["document"]["end"] = json!("by_hand");
    row["document"]["charge_ah"] = json!(charge_ah.unwrap_or(counted));
    let kept = api.put(&format!("/api/runs/{id}"), &row).await;
    assert_eq!(kept.status, 200, "{kept:?}");
    id
}

async fn charge_of(api: &Api, run: &str) -> f64 {
    api.get(&format!("/api/runs/{run}")).await.json()["document"]["charge_ah"].as_f64().unwrap()
}

#[tokio::test]
async fn what_an_ended_run_came_to_follows_its_readings_and_not_what_somebody_typed() {
    let api = Api::start().await;
    for (typed, follows) in [(None, true), (Some(0.9), false)] {
        let run = ended(&api, typed).await;
        let before = charge_of(&api, &run).await;
        let last =
            api.get(&format!("/api/runs/{run}/readings")).await.json().as_array().unwrap().last().unwrap().clone();
        let back = format!("/api/runs/{run}/readings/{}/struck", last["client_id"].as_str().unwrap());
        assert_eq!(api.put(&back, &json!({"struck": true})).await.status, 200);
        let after = charge_of(&api, &run).await;
        // A minute of 4 A less.
        let expected = if follows { before - 4.0 / 60.0 } else { before };
        assert!((after - expected).abs() < 0.002, "{typed:?}: {before} Ah, then {after}");
        assert_eq!(api.put(&back, &json!({"struck": false})).await.status, 200);
        assert!((charge_of(&api, &run).await - before).abs() < 0.002);
    }
}

#[tokio::test]
async fn a_reading_that_comes_after_the_end_is_asked_about() {
    let api = Api::start().await;
    let run = ended(&api, None).await;
    let before = charge_of(&api, &run).await;
    // One that waited in a browser while the run was ended elsewhere was taken in time.
    assert_eq!(put(&api, &run, Uuid::now_v7(), &sent(9, 22.7)).await.status, 201);
    let id = Uuid::now_v7();
    let asked = put(&api, &run, id, &sent(16, 22.9)).await;
    assert_eq!((asked.status.as_u16(), &asked.problem()["type"]), (409, &json!("urn:rumek:ended")));
    let kept = api.put(&format!("/api/runs/{run}/readings/{id}?late=true"), &sent(16, 22.9)).await;
    assert_eq!(kept.status, 201, "{kept:?}");
    assert!(charge_of(&api, &run).await > before + 0.3, "six more minutes of 4 A");
    let row = api.get(&format!("/api/runs/{run}")).await.json();
    let away = api.post(&format!("/api/runs/{run}/archive"), &json!({"version": row["version"]})).await;
    assert_eq!(away.status, 200);
    let asked = put(&api, &run, Uuid::now_v7(), &sent(8, 22.6)).await;
    assert_eq!(asked.problem()["type"], "urn:rumek:ended", "a run that is put away takes none unasked");
}
