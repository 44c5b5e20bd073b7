//! The command line.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use std::io::Write;
use std::process::{Command, Output, Stdio};

use serde_json::{Value, json};

fn rumek(arguments: &[&str], input: &[u8]) -> Output {
    let mut child = Command::new(env!("CARGO_BIN_EXE_rumek"))
        .args(arguments)
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(input).unwrap();
    child.wait_with_output().unwrap()
}

fn plan(series: u32) -> Vec<u8> {
    let source = json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5});
    json!({"format": "rumek.plan/1", "pack": {"chemistry": "lipo", "series": series, "capacity_ah": 4}, "source": source})
        .to_string()
        .into_bytes()
}

#[test]
fn a_plan_answers_in_json_and_for_people() {
    let answer = rumek(&["plan", "-"], &plan(6));
    assert_eq!(answer.status.code(), Some(0));
    let result: Value = serde_json::from_slice(&answer.stdout).unwrap();
    assert_eq!((&result["format"], &result["settings"]["dial_voltage_v"]), (&json!("rumek.result/1"), &json!(25.2)));
    let table = String::from_utf8(rumek(&["plan", "--table", "-"], &plan(6)).stdout).unwrap();
    assert!(table.contains("25.2 V") && table.contains("caution"), "{table}");
}

#[test]
fn a_chain_is_told_stage_by_stage_with_its_turns() {
    let plan = json!({"format": "rumek.plan/1", "pack": {"chemistry": "lead_agm", "label_v": 12, "capacity_ah": 33, "start": {"soc": 0.4}},
        "visit_every_min": 60, "cut_off": {"low_v": 13, "high_v": 14.6}, "leads": {"output": {"awg": 14, "length_m": 1}},
        "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 15, "max_current_a": 10}});
    let table = String::from_utf8(rumek(&["plan", "--table", "-"], plan.to_string().as_bytes()).stdout).unwrap();
    for said in [
        "Adjustable supply (9–15 V · 10 A) → Cut-off relay",
        "Turn              at 1 h 00 to",
        "nudge",
        "What would help",
    ] {
        assert!(table.contains(said), "{said}: {table}");
    }
}

#[test]
fn a_stop_is_an_answer_and_bad_input_is_not() {
    let mut stopped: Value = serde_json::from_slice(&plan(6)).unwrap();
    stopped["pack"]["temperature_c"] = json!(-5);
    let answer = rumek(&["plan", "-"], stopped.to_string().as_bytes());
    assert_eq!(answer.status.code(), Some(0));
    assert!(serde_json::from_slice::<Value>(&answer.stdout).unwrap()["settings"].is_null());
    let wrong = rumek(&["plan", "-"], &plan(0));
    assert_eq!(wrong.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&wrong.stderr).contains("/pack/series"));
    assert_eq!(rumek(&["plan", "no-such-file.json"], b"").status.code(), Some(2));
}

#[test]
fn what_is_not_said_yet_is_asked_and_what_is_wrong_is_not() {
    let mut open: Value = serde_json::from_slice(&plan(6)).unwrap();
    open["pack"].as_object_mut().unwrap().remove("series");
    let answer = rumek(&["plan", "-"], open.to_string().as_bytes());
    assert_eq!(answer.status.code(), Some(3));
    let asked: Value = serde_json::from_slice(&answer.stdout).unwrap();
    assert_eq!(asked["ask"][0]["pointer"], "/pack/series");
    assert!(asked["ask"][0]["choices"].as_array().unwrap().len() <= 4);
    let table = String::from_utf8(rumek(&["plan", "--table", "-"], open.to_string().as_bytes()).stdout).unwrap();
    assert!(table.contains("How many cells are in series?") && table.contains("Answer 1"), "{table}");
    // Something that cannot be beside something that is missing is wrong.
    open["pack"]["temperature_c"] = json!(500);
    assert_eq!(rumek(&["plan", "-"], open.to_string().as_bytes()).status.code(), Some(2));
}

#[test]
fn a_line_is_read_without_a_browser() {
    let told = |arguments: &[&str], input: &[u8]| -> Value {
        let answer = rumek(arguments, input);
        assert_eq!(answer.status.code(), Some(0));
        serde_json::from_slice(&answer.stdout).unwrap()
    };
    let line = told(&["line", "36V e-bike battery 10Ah, its 42V 2A charger"], b"");
    assert_eq!((&line["plan"]["pack"]["series"], &line["held"]), (&json!(10), &json!(false)));
    assert_eq!(line["assumed"][0]["pointer"], "/pack/chemistry");
    let held = told(&["line", "-"], b"6S 3Ah li-ion 9.8 V, 30 V 5 A bench\n");
    assert_eq!(held["held"], true);
    assert_eq!(held["ask"][0]["choices"][0]["line"], "6S 3Ah li-ion reads 9.8 V, 30 V 5 A bench");
}

#[test]
fn a_reader_who_has_seen_enough_is_no_error() {
    let script = format!("{} plan --table - | head -n 1", env!("CARGO_BIN_EXE_rumek"));
    let mut child = Command::new("sh")
        .args(["-c", &script])
        .stdin(Stdio::piped())
        .stdout(Stdio::piped())
        .stderr(Stdio::piped())
        .spawn()
        .unwrap();
    child.stdin.take().unwrap().write_all(&plan(6)).unwrap();
    let output = child.wait_with_output().unwrap();
    assert_eq!(String::from_utf8_lossy(&output.stderr), "");
    assert!(String::from_utf8_lossy(&output.stdout).contains("25.2 V"));
}

#[test]
fn it_refuses_to_be_reached_from_other_machines() {
    let arguments = ["serve", "--address", "0.0.0.0", "--database-url", "postgres://nobody@127.0.0.1:1/none"];
    let answer = rumek(&arguments, b"");
    assert_ne!(answer.status.code(), Some(0));
    assert!(String::from_utf8_lossy(&answer.stderr).contains("not loopback"));
}

#[test]
fn a_rescue_answers_in_json_and_for_people_and_names_what_is_wrong() {
    let found = json!({"format": "rumek.rescue/1", "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 7},
        "found": {"terminal_v": 8.4, "signs": ["none"], "temperature_c": 18},
        "source": {"name": "Brick", "kind": "fixed_supply", "voltage_v": 19, "max_current_a": 4.7}});
    let answer = rumek(&["rescue", "-"], found.to_string().as_bytes());
    assert_eq!(answer.status.code(), Some(0));
    let result: Value = serde_json::from_slice(&answer.stdout).unwrap();
    assert_eq!((&result["format"], &result["verdict"]), (&json!("rumek.rescue-result/1"), &json!("precharge")));
    let table = String::from_utf8(rumek(&["rescue", "--table", "-"], found.to_string().as_bytes()).stdout).unwrap();
    assert!(table.contains("Brick does not do") && table.contains("stop if"), "{table}");
    let wrong = rumek(&["rescue", "-"], br#"{"format": "rumek.rescue/1", "found": {"smell": "sweet"}}"#);
    assert_eq!(wrong.status.code(), Some(2));
    assert!(String::from_utf8_lossy(&wrong.stderr).contains("/found/smell"));
}
