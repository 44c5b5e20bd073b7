//! Logs of other instruments become runs, all of them or nothing.

use axum::body::Body;
use futures::stream;
use serde_json::{Value, json};
use time::format_description::well_known::Rfc3339;
use time::{Duration, OffsetDateTime};
use uuid::Uuid;

use crate::{Answer, Api};

const LOG: &str =
    "Time;Voltage (V);Current (A)\n00:00:00;22,50;2,60\n00:10:00;23,10;2,60\n00:20:00;OVER;2,60\n00:30:00;23,60;2,58\n";

async fn pack(api: &Api, name: &str, series: u32) -> String {
    let document = json!({"name": name, "chemistry": "lipo", "series": series, "capacity_ah": 4.1});
    let row = api.post("/api/packs", &json!({"document": document})).await.json();
    row["id"].as_str().unwrap().to_owned()
}

async fn look(api: &Api, text: &str) -> Value {
    api.post("/api/logs/look", &json!({"text": text, "began_at": "2026-11-25T09:00:00Z"})).await.json()
}

/// Keeps the mapping that a look found.
async fn keep(api: &Api, look: &Value) -> String {
    let row = api.post("/api/log-mappings", &json!({"document": look["look"]["mapping"]})).await.json();
    row["id"].as_str().unwrap_or_else(|| panic!("{row}")).to_owned()
}

async fn bring_in(api: &Api, mapping: &str, more: &str, text: impl Into<Body>) -> Answer {
    api.post_csv(&format!("/api/logs?mapping={mapping}&began_at=2026-11-25T09:00:00Z&file=shed.csv{more}"), text).await
}

#[tokio::test]
async fn a_file_is_looked_at_remembered_and_becomes_a_run_of_its_pack() {
    let api = Api::start().await;
    let (other, tow) = (pack(&api, "Lamp trolley", 3).await, pack(&api, "Tow-plane", 6).await);
    let first = look(&api, LOG).await;
    assert_eq!((&first["remembered"], &first["packs"]), (&Value::Null, &json!([tow])), "{other} is too small: {first}");
    let mapping = keep(&api, &first).await;
    let again = look(&api, LOG).await;
    assert_eq!(again["remembered"], json!(mapping));
    let answer = bring_in(&api, &mapping, &format!("&malformed=skip&pack={tow}&name=Evening"), LOG).await;
    assert_eq!(answer.status, 201, "{answer:?}");
    let brought = answer.json();
    assert_eq!((&brought["lines"], &brought["skipped"], &brought["bad"][0]["line"]), (&json!(3), &json!(1), &json!(4)));
    let run = &brought["run"];
    assert_eq!(run["links"]["pack"]["id"], json!(tow));
    let document = &run["document"];
    assert_eq!((&document["name"], &document["log_name"]), (&json!("Evening"), &json!("shed.csv")));
    assert_eq!(document["started_at"], "2026-11-25T09:00:00Z");
    assert_eq!(document["ended_at"], "2026-11-25T09:30:00Z");
    assert!((document["charge_ah"].as_f64().unwrap() - 1.297).abs() < 0.01, "{document}");
    let readings = api.get(&format!("/api/runs/{}/readings", run["id"].as_str().unwrap())).await.json();
    assert_eq!(readings[1]["taken_at"], "2026-11-25T09:10:00Z");
    assert_eq!(readings[1]["reading"], json!({"terminal_v": 23.1, "terminal_a": 2.6}));
    let ask = json!({"plan": document["plan"], "readings": [{"t_s": 0, "terminal_v": 22.5, "terminal_a": 2.6}]});
    assert_eq!(api.post("/api/run/understand", &ask).await.status, 200, "its readings are understood");
    let out = api.get(&format!("/api/runs/{}/log?columns=bdf", run["id"].as_str().unwrap())).await;
    assert!(String::from_utf8_lossy(&out.bytes).contains("\n600,23.1,2.6,1795597800,"), "{out:?}");
}

#[tokio::test]
async fn what_cannot_be_read_whole_leaves_nothing_behind() {
    let api = Api::start().await;
    let mapping = keep(&api, &look(&api, LOG).await).await;
    let refused = bring_in(&api, &mapping, "&malformed=refuse", LOG).await.problem();
    assert_eq!((&refused["status"], &refused["problems"][0]["pointer"]), (&json!(422), &json!("/lines/4")));
    let other = bring_in(&api, &mapping, "&malformed=skip", "When,Volts\n0,12\n").await.problem();
    assert!(other["problems"][0]["message"].as_str().unwrap().contains("named differently"), "{other}");
    let cut: Vec<Result<&str, std::io::Error>> =
        vec![Ok("Time;Voltage (V);Current (A)\n00:00:00;22,50;2,60\n"), Err(std::io::Error::other("gone"))];
    let broken = bring_in(&api, &mapping, "&malformed=skip", Body::from_stream(stream::iter(cut))).await.problem();
    assert_eq!(broken["status"], 422, "{broken}");
    let empty = bring_in(&api, &mapping, "&malformed=skip", "Time;Voltage (V);Current (A)\n").await.problem();
    assert!(empty["problems"][0]["message"].as_str().unwrap().contains("no lines"), "{empty}");
    assert_eq!(api.get("/api/logbook").await.json(), json!([]));
    let nowhere = bring_in(&api, &Uuid::now_v7().to_string(), "&malformed=skip", LOG).await;
    assert_eq!(nowhere.status, 404);
}

#[tokio::test]
async fn a_log_in_another_encoding_is_read() {
    let api = Api::start().await;
    let text = "Time (s),Voltage (V),Temperature (°C)\n0,12.0,20\n60,12.1,21\n";
    let mapping = keep(&api, &look(&api, text).await).await;
    let western: Vec<u8> = text.chars().map(|c| c as u8).collect();
    let mut wide = vec![0xff, 0xfe];
    wide.extend(text.encode_utf16().flat_map(u16::to_le_bytes));
    for bytes in [western, wide] {
        let answer = bring_in(&api, &mapping, "&malformed=refuse", bytes).await;
        assert_eq!((answer.status.as_u16(), &answer.json()["lines"]), (201, &json!(2)), "{answer:?}");
    }
}

#[tokio::test]
async fn a_log_of_more_cells_than_its_pack_has_is_refused() {
    let api = Api::start().await;
    let (seven, eight) = (pack(&api, "Tow-plane", 7).await, pack(&api, "Lamp trolley", 8).await);
    let header: Vec<String> = (1..=8).map(|cell| format!("Cell {cell} (V)")).collect();
    let line = |t_s: u32| format!("{t_s}{}\n", ",3.80".repeat(8));
    let text = format!("Time (s),{}\n{}{}", header.join(","), line(0), line(60));
    let looked = look(&api, &text).await;
    assert!(!looked["packs"].as_array().unwrap().contains(&json!(seven)), "{looked}");
    let mapping = keep(&api, &looked).await;
    let refused = bring_in(&api, &mapping, &format!("&malformed=skip&pack={seven}"), text.clone()).await.problem();
    assert_eq!(refused["status"], 422, "{refused}");
    let said = refused["problems"][0]["message"].as_str().unwrap();
    assert_eq!(said, "the log holds volts of 8 cells, and the pack has 7 in series");
    assert_eq!(api.get("/api/logbook").await.json(), json!([]), "nothing is kept");
    let answer = bring_in(&api, &mapping, &format!("&malformed=skip&pack={eight}"), text).await;
    assert_eq!(answer.status, 201, "{answer:?}");
}

#[tokio::test]
async fn a_long_log_is_drawn_from_few_readings_that_keep_its_peaks() {
    let api = Api::start().await;
    let line = |k: u32| format!("{k},{}\n", if k == 31_337 { 17.5 } else { 12.0 + f64::from(k % 7) / 100.0 });
    let text = "Time (s),Voltage (V)\n".to_owned() + &(0..50_000).map(line).collect::<String>();
    let mapping = keep(&api, &look(&api, &text[..2000.min(text.len())]).await).await;
    let run = bring_in(&api, &mapping, "&malformed=refuse", text).await.json()["run"]["id"].clone();
    let run = run.as_str().unwrap();
    // One more, entered by hand, after the log.
    let sent = json!({"taken_at": "2026-11-26T09:00:00Z", "reading": {"terminal_v": 11.5}});
    assert_eq!(api.put(&format!("/api/runs/{run}/readings/{}?late=true", Uuid::now_v7()), &sent).await.status, 201);
    for most in [20, 300, 2000] {
        let drawn = api.get(&format!("/api/runs/{run}/readings?at_most={most}")).await.json();
        let volts: Vec<f64> =
            drawn.as_array().unwrap().iter().map(|row| row["reading"]["terminal_v"].as_f64().unwrap()).collect();
        assert!(volts.len() <= most && volts.len() * 8 > most.min(800), "{} of {most}", volts.len());
        assert!(volts.contains(&17.5) && volts.last() == Some(&11.5), "{most}");
    }
    assert_eq!(api.get(&format!("/api/runs/{run}/readings")).await.json().as_array().unwrap().len(), 50_001);
}

#[tokio::test]
async fn a_span_of_a_long_log_is_drawn_closer_with_its_peak_and_past_its_ends() {
    let api = Api::start().await;
    let line = |k: u32| format!("{k},{}\n", if k == 31_337 { 17.5 } else { 12.0 + f64::from(k % 7) / 100.0 });
    let text = "Time (s),Voltage (V)\n".to_owned() + &(0..50_000).map(line).collect::<String>();
    let mapping = keep(&api, &look(&api, &text[..2000]).await).await;
    let brought = bring_in(&api, &mapping, "&malformed=refuse", text).await.json();
    let run = brought["run"]["id"].as_str().unwrap();
    let began = OffsetDateTime::parse("2026-11-25T09:00:00Z", &Rfc3339).unwrap();
    for (from, until) in [(0, 50_000), (31_000, 45_000), (31_330, 31_345), (31_336, 31_336), (49_990, 60_000)] {
        let [a, b] = [from, until].map(|t| (began + Duration::seconds(t)).format(&Rfc3339).unwrap());
        let drawn = api.get(&format!("/api/runs/{run}/readings?at_most=400&from={a}&until={b}")).await.json();
        let drawn: Vec<(i64, f64)> = drawn
            .as_array()
            .unwrap()
            .iter()
            .map(|row| {
                let at = OffsetDateTime::parse(row["at"].as_str().unwrap(), &Rfc3339).unwrap();
                ((at - began).whole_seconds(), row["reading"]["terminal_v"].as_f64().unwrap())
            })
            .collect();
        let (first, last) = (drawn[0].0, drawn.last().unwrap().0);
        assert!(
            drawn.len() <= 400 && drawn.len() as i64 >= (until.min(49_999) - from + 1).min(50),
            "{from}: {drawn:?}"
        );
        assert!(first < from.max(1) && last > until.min(49_998), "{from} to {until} shows {first} to {last}");
        assert!(drawn.is_sorted_by(|a, b| a.0 < b.0));
        let holds_peak = (from..=until).contains(&31_337);
        assert_eq!(drawn.iter().any(|(t, _)| *t == 31_337), holds_peak || until == 31_336, "{from} to {until}");
    }
    let wrong = api.get(&format!("/api/runs/{run}/readings?from=noon")).await.problem();
    assert_eq!((&wrong["status"], &wrong["problems"][0]["pointer"]), (&json!(422), &json!("/from")));
}

#[tokio::test]
async fn runs_are_looked_up_by_words_pack_gear_date_and_outcome() {
    let api = Api::start().await;
    let tow = pack(&api, "Tow-plane", 6).await;
    let put = async |name: &str, day: u32, end: Option<&str>, note: &str, gear: &str, linked: bool| {
        let mut plan = crate::plan();
        (plan["source"]["name"], plan["pack"]["name"]) = (json!(gear), json!("6S"));
        let mut document = json!({"format": "rumek.run/1", "name": name, "note": note, "started_at": format!("2026-11-{day:02}T09:00:00Z"), "plan": plan});
        if let Some(end) = end {
            document["ended_at"] = json!(format!("2026-11-{day:02}T10:00:00Z"));
            document["end"] = json!(end);
        }
        let links = if linked { json!({"pack": {"id": tow, "version": 1}}) } else { json!({}) };
        assert_eq!(api.post("/api/runs", &json!({"document": document, "links": links})).await.status, 201);
    };
    put("Before the tow", 3, Some("done"), "windy", "Bench supply", true).await;
    put("Storage", 7, Some("fault"), "100 % odd_", "Laptop brick", false).await;
    put("Evening", 9, None, "", "Bench supply", true).await;
    let names = async |query: &str| {
        let list = api.get(&format!("/api/logbook?{query}")).await.json();
        list.as_array()
            .unwrap()
            .iter()
            .map(|e| e["run"]["document"]["name"].as_str().unwrap().to_owned())
            .collect::<Vec<_>>()
    };
    assert_eq!(names("").await, ["Evening", "Storage", "Before the tow"]);
    assert_eq!(names("text=WINDY%206s").await, ["Before the tow"]);
    assert_eq!(names("text=100%20%25").await, ["Storage"]);
    assert_eq!(names("text=d_").await, ["Storage"]);
    assert_eq!(names(&format!("pack={tow}&outcome=done")).await, ["Before the tow"]);
    assert_eq!(names("gear=Bench%20supply").await, ["Evening", "Before the tow"]);
    assert_eq!(names("outcome=going_on").await, ["Evening"]);
    assert_eq!(names("from=2026-11-05T00:00:00Z&until=2026-11-08T00:00:00Z").await, ["Storage"]);
    assert_eq!(api.get("/api/logbook?from=monday").await.problem()["problems"][0]["pointer"], "/from");
    assert!(api.get("/api/logbook").await.json()[0]["run"]["document"].get("result").is_none());
}

#[tokio::test]
async fn a_long_log_is_understood_from_its_sums_and_they_follow_its_plan() {
    let api = Api::start().await;
    let tow = pack(&api, "Tow-plane", 6).await;
    let mapping = keep(&api, &look(&api, LOG).await).await;
    // 4000 lines of 2.6 A a second apart, the current stopped for one second in each minute.
    let line = |t: usize| {
        let amps = if t.is_multiple_of(60) { "0,00" } else { "2,60" };
        format!("{:02}:{:02}:{:02};{:.3};{amps}\n", t / 3600, t / 60 % 60, t % 60, 22.5 + t as f64 / 2000.0)
            .replace('.', ",")
    };
    let text: String =
        std::iter::once("Time;Voltage (V);Current (A)\n".to_owned()).chain((0..4000).map(line)).collect();
    let brought = bring_in(&api, &mapping, &format!("&malformed=refuse&pack={tow}"), text).await.json();
    let run = brought["run"]["id"].as_str().unwrap().to_owned();
    let state = api.get(&format!("/api/runs/{run}/state")).await.json();
    let counted = 2.6 * 3999.0 / 3600.0 * 59.0 / 60.0;
    assert_eq!(state["readings"], 4000);
    assert!((state["account"]["charge_ah"].as_f64().unwrap() / counted - 1.0).abs() < 2e-3, "{}", state["account"]);
    assert_eq!(state["way"], "charge");
    let kept = async || api.database.number("SELECT count(*) FROM run_sums").await.unwrap();
    assert_eq!(kept().await, 1);
    // With another plan they are made anew.
    let mut row = api.get(&format!("/api/runs/{run}")).await.json();
    row["document"]["plan"]["pack"]["capacity_ah"] = json!(20);
    let body = json!({"version": row["version"], "document": row["document"], "links": row["links"]});
    assert_eq!(api.put(&format!("/api/runs/{run}"), &body).await.status, 200);
    assert_eq!(kept().await, 0);
    assert_eq!(api.get(&format!("/api/runs/{run}/state")).await.json()["readings"], 4000);
    assert_eq!(kept().await, 1);
}
