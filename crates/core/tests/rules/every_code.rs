//! No code stands in a document's schema that nothing ever says, and no field that nobody reads or sees.

use std::collections::BTreeSet;
use std::fs;
use std::path::{Path, PathBuf};

use rstest::rstest;
use rumek_core::codes::{AbortCode, CheckCode, LimitCode};
use rumek_core::formats::{JudgeAskDoc, from_value};
use rumek_core::judge;
use serde_json::{Value, json};

use crate::rescues::rescue_value;
use crate::{ask, found};

/// Rust and TypeScript below a folder of the repository, but for generated files and, where asked, tests.
fn sources(folder: &str, skip: &[&str]) -> String {
    fn below(folder: &Path, files: &mut Vec<PathBuf>) {
        for entry in fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() { below(&path, files) } else { files.push(path) }
        }
    }
    let mut files = Vec::new();
    below(&Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").join(folder), &mut files);
    let kept = files.into_iter().filter(|file| {
        let name = file.to_string_lossy().into_owned();
        [".rs", ".ts", ".tsx"].iter().any(|end| name.ends_with(end)) && !skip.iter().any(|part| name.contains(part))
    });
    kept.map(|file| fs::read_to_string(file).unwrap()).collect()
}

fn words(text: &str) -> BTreeSet<&str> {
    text.split(|c: char| !c.is_alphanumeric() && c != '_').collect()
}

#[test]
fn every_check_and_limit_has_a_test_that_names_it() {
    let tests = sources("crates/core/tests/rules", &[]);
    let known = words(&tests);
    let missing: Vec<String> = CheckCode::ALL
        .iter()
        .map(|code| format!("{code:?}"))
        .chain(LimitCode::ALL.iter().map(|code| format!("{code:?}")))
        .filter(|name| !known.contains(name.as_str()))
        .collect();
    assert!(missing.is_empty(), "{missing:?}");
}

#[rstest]
#[case::unlabelled_sodium(CheckCode::PackVoltageUnsaid, json!({"pack": {"chemistry": "sodium_ion"}}))]
#[case::figures_of_the_kind(CheckCode::PackDataSheet, json!({}))]
#[case::days_of_trickle(CheckCode::PackOvercharged, json!({"pack": {"chemistry": "nimh", "series": 6, "start": {"soc": 0.5}}, "settings": {"current_a": 0.4, "time_limit_h": 30}}))]
#[case::nothing_feels_the_pack(CheckCode::SettingsNoTemperatureStop, json!({}))]
fn a_check_is_raised(#[case] code: CheckCode, #[case] patch: Value) {
    let result = ask(patch);
    assert!(found(&result, code).is_some(), "{:?}", result.checks.iter().map(|check| check.code).collect::<Vec<_>>());
}

#[rstest]
#[case::module_too_low(LimitCode::ChargerOutputVoltage, json!({"charger": {"kind": "hobby_charger", "output_max_a": 5, "output_max_w": 200, "output_max_v": 24.5}}))]
#[case::supply_too_low(LimitCode::SourceVoltage, json!({"source": {"max_voltage_v": 24.5}}))]
fn a_limit_binds(#[case] limit: LimitCode, #[case] patch: Value) {
    let result = ask(patch);
    assert!(result.curve.iter().any(|point| point.limit == limit), "{:?}", result.pinch);
}

/// Four cells of 4 Ah, lipo unless `pack` says otherwise; the readings that end a stage.
#[rstest]
#[case(AbortCode::Signs, "precharge", json!({}), json!([{"t_s": 60, "alarm": true}]))]
#[case(AbortCode::Warming, "precharge", json!({}), json!([{"t_s": 60, "temperature_c": 40}]))]
#[case(AbortCode::OverVoltage, "precharge", json!({}), json!([{"t_s": 60, "terminal_v": 16.0, "current_a": 0.2}]))]
#[case(AbortCode::OverCurrent, "precharge", json!({}), json!([{"t_s": 60, "terminal_v": 11.2, "current_a": 1.0}]))]
#[case(AbortCode::CellReversed, "precharge", json!({}), json!([{"t_s": 60, "cell_voltages_v": [2.8, 2.8, -0.3, 2.8]}]))]
#[case(AbortCode::CellOver, "charge", json!({}), json!([{"t_s": 60, "cell_voltages_v": [4.3, 4.1, 4.1, 4.1]}]))]
#[case(AbortCode::CellBehind, "precharge", json!({}), json!([{"t_s": 900, "cell_voltages_v": [2.9, 2.9, 2.9, 2.1]}]))]
#[case(AbortCode::Falling, "precharge", json!({}), json!([{"t_s": 300, "terminal_v": 11.6, "current_a": 0.2}, {"t_s": 900, "terminal_v": 10.9, "current_a": 0.2}]))]
#[case(AbortCode::NoLife, "precharge", json!({}), json!([{"t_s": 3600, "terminal_v": 10.9, "current_a": 0.2}]))]
#[case(AbortCode::Sulphated, "precharge", LEAD(), json!([{"t_s": 60, "terminal_v": 14.0, "current_a": 0.001}, {"t_s": 87000, "terminal_v": 14.0, "current_a": 0.001}]))]
#[case(AbortCode::DeadCell, "precharge", LEAD(), json!([{"t_s": 60, "terminal_v": 9.0, "current_a": 1.0}, {"t_s": 7200, "terminal_v": 9.2, "current_a": 1.0}]))]
#[case(AbortCode::TooMuchCharge, "charge", json!({}), json!([{"t_s": 0, "terminal_v": 14, "current_a": 2}, {"t_s": 9000, "terminal_v": 15, "current_a": 2}]))]
#[case(AbortCode::LosesVoltage, "rest", json!({}), json!([{"t_s": 86400, "terminal_v": 16.7}, {"t_s": 172800, "terminal_v": 16.4}]))]
#[case(AbortCode::LowCapacity, "prove", json!({}), json!([{"t_s": 1, "capacity_ah": 1.9}]))]
fn a_rescue_is_broken_off(#[case] code: AbortCode, #[case] stage: &str, #[case] patch: Value, #[case] readings: Value) {
    let now_s = readings.as_array().unwrap().last().map_or(json!(0), |r| r["t_s"].clone());
    let ask = json!({ "rescue": rescue_value(patch), "stage": stage, "now_s": now_s, "readings": readings });
    let said = judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap();
    assert_eq!(said.code, Some(code), "{said:?}");
}

#[allow(non_snake_case, reason = "it stands for a constant")]
fn LEAD() -> Value {
    json!({ "pack": { "chemistry": "lead_agm", "series": 6, "capacity_ah": 40 },
            "found": { "terminal_v": 8.4, "cell_voltages_v": null, "cells_reachable": false, "low_for": "weeks" } })
}

/// Figures of an answer that no screen draws, because a sentence beside them says them or nobody asks.
const SAID: &[&str] = &[
    // What was taken for granted says so in its reason.
    "harmless",
    // A donor's sentence and steps.
    "apart_v",
    "inrush_a",
    "window_v",
    // What would be needed, each with its sentence.
    "wanted_s",
    "best_s",
    "possible",
    "charger_w",
    "supply_w",
    "drop_v",
    "usable_wh",
    "per_charge_wh",
    // How a piece of gear does in a rescue.
    "controlled",
    // Of cells their volts are drawn.
    "end_soc",
    // The label's own rate is what is charged with.
    "standard_c_rate",
    // For whoever asks later what reckoned a run.
    "core_version",
    // How far a figure of cells put together may still be bettered: said in words.
    "bound",
    "proven",
    // Each group's Ah are summed where they are drawn; how far cells stand apart is in its sentence.
    "group_ah",
    "spread_v",
    // Usual ones are taken where nobody says.
    "load_c_rate",
    "charge_c_rate",
    "rest_min",
    // A standing's own clock, and a step of the current whose resistance is told.
    "holds_until",
    "step_a",
    // What a correction reaches too far for is not counted, and said.
    "trusted",
    // A picture is shown by its own address.
    "photo_jpeg",
    // Where it is run down to before a rest, and how long cells take to settle: each in its sentence.
    "take_out_to_v",
    "settles_s",
    // Tells 400 from 422.
    "unreadable",
];

#[test]
fn every_field_of_a_document_is_read_and_shown() {
    let formats = sources("crates/core/src/formats", &[]);
    let rules = sources("crates/core/src", &["/formats/"]) + &sources("crates/server/src", &[]);
    let seen = sources("web/src", &["schema.d.ts", ".test."]) + &sources("crates/server/src/print", &[]);
    let (read, seen) = (words(&rules), words(&seen));
    let fields: BTreeSet<&str> = formats
        .lines()
        .filter_map(|line| line.trim().strip_prefix("pub "))
        .filter_map(|line| line.split_once(": "))
        .map(|(name, _)| name.trim_start_matches("r#"))
        .filter(|name| name.chars().all(|c| c.is_ascii_lowercase() || c == '_' || c.is_ascii_digit()))
        .collect();
    assert!(fields.len() > 200, "{}", fields.len());
    let unread: Vec<_> = fields.iter().filter(|name| !read.contains(*name) && !seen.contains(*name)).collect();
    assert!(unread.is_empty(), "never read: {unread:?}");
    let unseen: Vec<_> =
        fields.iter().filter(|name| !seen.contains(*name)).filter(|name| !SAID.contains(*name)).collect();
    assert!(unseen.is_empty(), "never shown: {unseen:?}");
}
