//! After a rescue: when a resting pack is done with, and what a capacity test proves, each edge from both sides.

use rstest::rstest;
use rumek_core::formats::JudgeState::{self, Abort, OnTrack, Reached, Slow, Waiting};
use rumek_core::formats::{JudgeAskDoc, from_value};
use rumek_core::{judge, rescue};
use serde_json::{Value, json};

/// Packs that are whole when found: their nominal voltage, their size.
fn case_of(chemistry: &str) -> Value {
    let (series, volts, ah) = match chemistry {
        "lipo" => (4, 15.2, 4.0),
        "lfp" => (4, 13.1, 20.0),
        "lto" => (6, 14.0, 20.0),
        "nimh" => (6, 7.5, 3.0),
        "supercap" => (6, 12.0, 0.0),
        _ => (6, 12.3, 18.0),
    };
    let mut pack = json!({"chemistry": chemistry, "series": series, "capacity_ah": ah});
    if chemistry == "supercap" {
        pack = json!({"chemistry": chemistry, "series": series, "capacitance_f": 3000, "label_v": 16.2});
    }
    json!({"format": "rumek.rescue/1", "pack": pack,
        "found": {"terminal_v": volts, "bms": "absent", "signs": ["none"], "temperature_c": 20}})
}

fn state(chemistry: &str, stage: &str, readings: &Value) -> JudgeState {
    let now_s = readings.as_array().unwrap().last().unwrap()["t_s"].clone();
    let ask = json!({"rescue": case_of(chemistry), "stage": stage, "now_s": now_s, "readings": readings});
    judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap().state
}

#[rstest]
// From when on, V at the first reading, h later, V then.
#[case::oxide_settles("lipo", 1.0, 16.60, 18.0, 16.475, Waiting)]
// A 4S pack may lose 5 mV a day in one cell and half a millivolt in each of the others; a meter is 10 mV off.
#[case::oxide_loses_little("lipo", 24.0, 16.60, 48.0, 16.598, Reached)]
#[case::oxide_may_leak("lipo", 24.0, 16.60, 48.0, 16.596, OnTrack)]
#[case::oxide_may_still_leak("lipo", 24.0, 16.60, 48.0, 16.578, OnTrack)]
#[case::oxide_leaks("lipo", 24.0, 16.60, 48.0, 16.576, Abort)]
#[case::oxide_decided("lipo", 24.0, 16.60, 157.0, 16.558, Reached)]
#[case::oxide_decided_against("lipo", 24.0, 16.60, 157.0, 16.556, Abort)]
#[case::oxide_not_yet_decided("lipo", 24.0, 16.60, 155.0, 16.556, OnTrack)]
#[case::phosphate_settles("lfp", 1.0, 13.60, 23.0, 13.42, OnTrack)]
#[case::phosphate_holds_a_day("lfp", 24.0, 13.42, 24.0, 13.41, OnTrack)]
#[case::phosphate_holds_a_week("lfp", 24.0, 13.42, 168.0, 13.401, Reached)]
#[case::phosphate_leaks_within_a_week("lfp", 24.0, 13.42, 168.0, 13.400, Abort)]
#[case::phosphate_looked_at_late("lfp", 24.0, 13.42, 336.0, 13.382, Reached)]
#[case::phosphate_leaks_when_looked_at_late("lfp", 24.0, 13.42, 336.0, 13.380, Abort)]
#[case::titanate_settles("lto", 1.0, 16.2, 8.0, 15.6, Waiting)]
#[case::titanate_holds("lto", 24.0, 15.8, 48.0, 15.796, Reached)]
#[case::titanate_may_leak("lto", 24.0, 15.8, 48.0, 15.794, OnTrack)]
#[case::titanate_leaks("lto", 24.0, 15.8, 48.0, 15.774, Abort)]
#[case::agm_settles("lead_agm", 1.0, 13.3, 8.0, 12.9, Waiting)]
#[case::agm_holds("lead_agm", 24.0, 12.9, 24.0, 12.896, Reached)]
#[case::agm_may_leak("lead_agm", 24.0, 12.9, 24.0, 12.894, OnTrack)]
#[case::agm_leaks("lead_agm", 24.0, 12.9, 24.0, 12.874, Abort)]
#[case::nickel_settles("nimh", 1.0, 8.5, 18.0, 8.1, Waiting)]
#[case::nickel_holds("nimh", 24.0, 8.1, 24.0, 8.056, Reached)]
#[case::nickel_may_leak("nimh", 24.0, 8.1, 24.0, 8.054, OnTrack)]
#[case::nickel_leaks("nimh", 24.0, 8.1, 24.0, 8.034, Abort)]
// Six cells lack 1.6 V of 12.64 V, 11.04 V, where one is dead; half charged they rest at 12.34 V. The
// meter's slack is 0.12 V.
#[case::lead_dead_cell("lead_agm", 24.0, 10.93, 1.0, 10.92, Abort)]
#[case::lead_not_full("lead_agm", 24.0, 10.94, 1.0, 10.94, Slow)]
#[case::lead_still_not_full("lead_agm", 24.0, 12.20, 1.0, 12.19, Slow)]
#[case::lead_full_enough("lead_agm", 24.0, 12.23, 1.0, 12.22, OnTrack)]
fn a_resting_pack_is_judged_once_it_has_settled(
    #[case] chemistry: &str,
    #[case] from_h: f64,
    #[case] first_v: f64,
    #[case] later_h: f64,
    #[case] then_v: f64,
    #[case] expected: JudgeState,
) {
    // What is read before it has settled says nothing: two early readings leave a short wait.
    let readings = json!([{"t_s": from_h * 3600.0, "terminal_v": first_v}, {"t_s": (from_h + later_h) * 3600.0, "terminal_v": then_v}]);
    let said = state(chemistry, "rest", &readings);
    assert_eq!(said, expected, "{readings}");
}

#[test]
fn a_leaking_cell_shows_though_the_terminals_do_not() {
    let at =
        |h: f64, cell: f64| json!({"t_s": h * 3600.0, "terminal_v": 16.5, "cell_voltages_v": [4.13, 4.13, cell, 4.13]});
    // 10 mV in two days is the line, and a meter is 5 mV off at a cell.
    assert_eq!(state("lipo", "rest", &json!([at(24.0, 4.13), at(72.0, 4.1251)])), Reached);
    assert_eq!(state("lipo", "rest", &json!([at(24.0, 4.13), at(72.0, 4.1249)])), OnTrack);
    assert_eq!(state("lipo", "rest", &json!([at(24.0, 4.13), at(72.0, 4.1149)])), Abort);
}

#[rstest]
// Down to where, with how much, and for how long.
#[case::lipo("lipo", 12.0, 0.8, 5.0)]
#[case::phosphate("lfp", 10.0, 4.0, 5.0)]
#[case::lead("lead_agm", 10.5, 0.9, 20.0)]
#[case::nickel("nimh", 6.0, 0.6, 5.0)]
#[case::capacitor("supercap", 8.1, 1.35, 1.0 / 6.0)]
fn a_capacity_test_is_made_as_the_label_was(
    #[case] chemistry: &str,
    #[case] to_v: f64,
    #[case] amps: f64,
    #[case] hours: f64,
) {
    let result = rescue(&from_value(&case_of(chemistry)).unwrap()).unwrap();
    let prove = result.stages.last().unwrap();
    let near = |value: Option<f64>, wanted: f64| (value.unwrap() / wanted - 1.0).abs() < 0.02;
    assert!(near(prove.until.pack_v, to_v), "{prove:?}");
    assert!(chemistry == "supercap" || near(prove.current_a, amps), "{prove:?}");
    assert!(near(prove.expected_s, hours * 3600.0), "{prove:?}");
}

#[rstest]
// 18 Ah of AGM: 10.8 Ah are 60 % of it in twenty hours; at 3.6 A it gives 85 % of its label, of which 9.18 Ah are 60 %.
#[case::slowly_too_little("lead_agm", 10.7, Some(0.9), Abort)]
#[case::slowly_enough("lead_agm", 10.9, Some(0.9), Reached)]
#[case::fast_enough("lead_agm", 9.2, Some(3.6), Reached)]
#[case::fast_too_little("lead_agm", 9.1, Some(3.6), Abort)]
#[case::no_amps_said("lead_agm", 10.7, None, Abort)]
#[case::lipo_too_little("lipo", 2.39, Some(0.8), Abort)]
#[case::lipo_enough("lipo", 2.41, Some(4.0), Reached)]
fn a_capacity_is_held_against_what_it_gives_at_that_current(
    #[case] chemistry: &str,
    #[case] ah: f64,
    #[case] amps: Option<f64>,
    #[case] expected: JudgeState,
) {
    let readings = json!([{"t_s": 1000, "capacity_ah": ah, "current_a": amps}]);
    assert_eq!(state(chemistry, "prove", &readings), expected);
}

#[test]
fn a_rescue_says_what_to_do_when_it_burns_also_of_a_pack_that_nobody_knows() {
    let known = rescue(&from_value(&case_of("lead_agm")).unwrap()).unwrap();
    assert!(known.emergency.join(" ").contains("never at the clamps"));
    let nobody = rescue(&from_value(&json!({"format": "rumek.rescue/1"})).unwrap()).unwrap();
    assert!(nobody.emergency.join(" ").contains("smoke is poisonous"));
}
