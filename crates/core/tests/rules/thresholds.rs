//! Every line that something is decided by, with a case just below it and one just above: what is said changes.
//!
//! `(what, its document, the field, just below, just above)`; what is not said here stands in the tests of its subject.

use rstest::rstest;
use rumek_core::codes::CheckCode;
use rumek_core::formats::{JudgeAskDoc, RescueDoc, RunAskDoc, from_value};
use serde_json::{Value, json};

use crate::{ask, found, merge, plan_value};

/// A document with a number put at a JSON pointer.
pub(super) fn with(mut document: Value, field: &str, value: f64) -> Value {
    let (at, name) = field.rsplit_once('/').unwrap();
    let holder = at.split('/').skip(1).fold(&mut document, |holder, part| match part.parse::<usize>() {
        Ok(n) if holder.is_array() => &mut holder[n],
        _ => &mut holder[part],
    });
    match holder {
        Value::Array(items) => items[name.parse::<usize>().unwrap()] = json!(value),
        other if matches!(name, "series" | "rounds") => other[name] = json!(value.round() as u32),
        other => other[name] = json!(value),
    }
    document
}

/// What is said of a plan: every check with its severity.
fn of_plan(patch: Value) -> Vec<String> {
    let result = ask(patch);
    result.checks.iter().map(|check| format!("{:?} {}", check.severity, check.code.code())).collect()
}

/// What is said of a rescue: its verdict and its reasons.
fn of_rescue(patch: Value) -> Vec<String> {
    let mut rescue = json!({"format": "rumek.rescue/1", "practice": "cautious", "pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 4},
        "found": {"terminal_v": 10.8, "cell_voltages_v": [2.7, 2.7, 2.7, 2.7], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 21}});
    merge(&mut rescue, &patch);
    let result = rumek_core::rescue(&from_value::<RescueDoc>(&rescue).unwrap()).unwrap();
    let reasons = result.reasons.iter().map(|reason| reason.code.code().to_owned());
    std::iter::once(format!("{:?}", result.verdict)).chain(reasons).collect()
}

/// What is said of one reading of the precharge of that rescue, ten minutes in.
fn of_reading(reading: Value) -> Vec<String> {
    let rescue = json!({"format": "rumek.rescue/1", "pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 4},
        "found": {"terminal_v": 10.8, "cell_voltages_v": [2.7, 2.7, 2.7, 2.7], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 21}});
    let mut given = json!({"t_s": 600, "terminal_v": 11.8, "current_a": 0.2});
    merge(&mut given, &reading["reading"]);
    let asked = json!({"rescue": rescue, "stage": "precharge", "now_s": 600, "readings": [given]});
    let said = rumek_core::judge(&from_value::<JudgeAskDoc>(&asked).unwrap()).unwrap();
    vec![format!("{:?} {:?}", said.state, said.code)]
}

/// What is said of a run with two readings, the last one changed.
pub(super) fn of_run(patch: Value) -> Vec<String> {
    let mut run = json!({"plan": plan_value(json!({"pack": {"temperature_c": 21}})),
        "readings": [{"t_s": 300, "terminal_v": 22.9, "terminal_a": 4.0, "temperature_c": 21},
                     {"t_s": 1500, "terminal_v": 23.6, "terminal_a": 4.0, "temperature_c": 23}]});
    if let Some(last) = patch.get("last") {
        merge(&mut run["readings"][1], last);
    }
    let state = rumek_core::understand(&from_value::<RunAskDoc>(&run).unwrap()).unwrap();
    state.said.iter().map(|said| format!("{:?} {}", said.severity, said.code.code())).collect()
}

type Said = fn(Value) -> Vec<String>;

fn lead(rest: Value) -> Value {
    let mut plan = json!({"pack": {"chemistry": "lead_agm", "capacity_ah": 50, "balancer": "none"}, "source": {"max_current_a": 40}});
    merge(&mut plan, &rest);
    plan
}

/// Four cells of 4S 5 Ah with readings, one of them to be moved.
fn cells(rest: Value) -> Value {
    let mut plan = json!({"pack": {"series": 4, "start": {"soc": null, "cell_voltages_v": [3.8, 3.8, 3.8, 3.8]}}});
    merge(&mut plan, &rest);
    plan
}

fn joined(chemistry: &str, own_v: f64) -> Value {
    json!({"pack": {"chemistry": chemistry, "series": 4, "capacity_ah": 5, "resistance_mohm": 400, "start": {"soc": null, "rest_voltage_v": own_v}},
        "other_packs": [{"capacity_ah": 5, "rest_voltage_v": own_v, "resistance_mohm": 400}]})
}

#[rstest]
// Plan: the pack.
#[case::retired_ceiling(of_plan, json!({"settings": {"voltage_v": 25.0}}), "/settings/voltage_v", 25.32, 25.33)]
#[case::label(of_plan, json!({"pack": {"rated_c_rate": 1.5}, "settings": {"current_a": 1}, "source": {"max_current_a": 20}}), "/settings/current_a", 6.0, 6.07)]
#[case::refused_without_a_label(of_plan, json!({"settings": {"current_a": 1}, "source": {"max_current_a": 30}}), "/settings/current_a", 20.0, 20.2)]
#[case::usual_without_a_label(of_plan, json!({"settings": {"current_a": 1}, "source": {"max_current_a": 30}}), "/settings/current_a", 4.19, 4.21)]
#[case::lead_refused(of_plan, lead(json!({"settings": {"current_a": 1}})), "/settings/current_a", 25.0, 25.3)]
#[case::recovered(of_plan, json!({"pack": {"mark": "recovered"}, "settings": {"current_a": 1}}), "/settings/current_a", 2.0, 2.03)]
#[case::deep(of_plan, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 18}}}), "/pack/start/rest_voltage_v", 18.0, 17.98)]
#[case::cells_apart(of_plan, cells(json!({})), "/pack/start/cell_voltages_v/0", 3.75, 3.745)]
#[case::cells_hardly_apart(of_plan, cells(json!({})), "/pack/start/cell_voltages_v/0", 3.79, 3.789)]
#[case::joined_caution(of_plan, joined("lipo", 15.2), "/other_packs/0/rest_voltage_v", 15.398, 15.404)]
#[case::joined_stop(of_plan, joined("lipo", 15.2), "/other_packs/0/rest_voltage_v", 15.598, 15.604)]
#[case::touch(of_plan, json!({"pack": {"series": 15}, "source": {"max_voltage_v": 80}, "settings": {"voltage_v": 59}}), "/settings/voltage_v", 59.9, 60.1)]
#[case::bms(of_plan, json!({"pack": {"capacity_ah": 20, "bms": {"max_charge_a": 6}}, "source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 5}}), "/charger/output_max_a", 6.0, 6.05)]
#[case::capacity_unusual(of_plan, json!({"pack": {"capacity_ah": 5}, "source": {"max_current_a": 60}}), "/pack/capacity_ah", 35.0, 35.3)]
#[case::high_load(of_plan, json!({"source": null, "load": {"current_a": 1}}), "/load/current_a", 7.95, 8.05)]
// What a pack bears as it stands: Plan and Rescue judge by the same lines.
#[case::soft(of_plan, lead(json!({"pack": {"series": 6, "start": {"soc": null, "rest_voltage_v": 12}}})), "/pack/start/rest_voltage_v", 11.61, 11.59)]
#[case::soft_in_rescue(of_rescue, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 12.0, "cell_voltages_v": null}}), "/found/terminal_v", 11.61, 11.59)]
#[case::one_may_be_dead_from(of_plan, lead(json!({"pack": {"series": 6, "start": {"soc": null, "rest_voltage_v": 12}}})), "/pack/start/rest_voltage_v", 10.29, 10.31)]
#[case::one_may_be_dead_to(of_plan, lead(json!({"pack": {"series": 6, "start": {"soc": null, "rest_voltage_v": 12}}})), "/pack/start/rest_voltage_v", 10.89, 10.91)]
#[case::one_may_be_dead_in_rescue(of_rescue, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 12.0, "cell_voltages_v": null}}), "/found/terminal_v", 10.89, 10.91)]
#[case::a_mean_is_no_cell(of_plan, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 20}}}), "/pack/start/rest_voltage_v", 19.81, 19.79)]
#[case::a_mean_is_no_cell_in_rescue(of_rescue, json!({"found": {"terminal_v": 13.4, "cell_voltages_v": null, "cells_reachable": false}}), "/found/terminal_v", 13.21, 13.19)]
#[case::lethal_in_rescue(of_rescue, json!({"pack": {"series": 28}, "found": {"terminal_v": 100, "cell_voltages_v": null, "cells_reachable": false}}), "/pack/series", 28.0, 29.0)]
#[case::touch_in_rescue(of_rescue, json!({"pack": {"series": 14}, "found": {"terminal_v": 50, "cell_voltages_v": null, "cells_reachable": false}}), "/pack/series", 14.0, 15.0)]
#[case::nearly_hot(of_plan, json!({}), "/pack/temperature_c", 35.0, 35.1)]
#[case::hot_start(of_plan, json!({}), "/pack/temperature_c", 39.9, 40.0)]
#[case::too_warm_to_begin(of_plan, json!({}), "/pack/temperature_c", 42.9, 43.0)]
#[case::above_full(of_plan, json!({"settings": {"voltage_v": 25.0}}), "/settings/voltage_v", 25.23, 25.24)]
// Plan: leads, limiters, the rest of the chain.
#[case::drop(of_plan, json!({"leads": {"output": {"area_mm2": 2.5, "length_m": 1, "fuse_a": 10, "fuse_v": 60, "connector_mohm": 100}}, "settings": {"current_a": 4}}), "/leads/output/connector_mohm", 172.0, 178.0)]
#[case::lamp_over(of_plan, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 40}, "source": {"kind": "fixed_supply", "voltage_v": 14, "max_voltage_v": null, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "lamp", "lamp_rated_v": 14, "lamp_rated_w": 21}}), "/charger/lamp_rated_v", 12.8, 12.6)]
#[case::circuit(of_plan, json!({"source": {"max_current_a": 20, "max_power_w": 400}, "mains": {"voltage_v": 120, "circuit_a": 5}}), "/mains/circuit_a", 5.06, 5.02)]
#[case::days(of_plan, lead(json!({"settings": {"current_a": 1}, "pack": {"start": {"soc": 0.1}}})), "/settings/current_a", 1.40, 1.35)]
// Rescue: what is found.
#[case::runaway(of_rescue, json!({}), "/found/temperature_c", 59.9, 60.1)]
#[case::too_warm(of_rescue, json!({}), "/found/temperature_c", 42.9, 43.0)]
#[case::too_cold(of_rescue, json!({}), "/found/temperature_c", 0.0, -0.1)]
#[case::group_behind(of_rescue, json!({"found": {"cell_voltages_v": [2.9, 2.9, 2.9, 2.9], "terminal_v": 11.2}}), "/found/cell_voltages_v/0", 2.35, 2.34)]
#[case::lead_cell_behind(of_rescue, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 11.0, "cell_voltages_v": [2.0, 2.0, 2.0, 2.0, 2.0, 2.0]}}), "/found/cell_voltages_v/0", 0.81, 0.79)]
#[case::cautious_floor(of_rescue, json!({"found": {"low_for": "days", "cell_voltages_v": [2.1, 2.1, 2.1, 2.1], "terminal_v": 8.4}}), "/found/cell_voltages_v/0", 2.0, 1.99)]
#[case::both_floors(of_rescue, json!({"found": {"cell_voltages_v": [0.6, 0.6, 0.6, 0.6], "terminal_v": 2.4}}), "/found/cell_voltages_v/0", 0.5, 0.495)]
#[case::line(of_rescue, json!({"found": {"cell_voltages_v": [3.1, 3.1, 3.1, 3.1], "terminal_v": 12.4}}), "/found/cell_voltages_v/0", 3.0, 2.99)]
#[case::joined_to_its_cells(of_rescue, json!({"found": {"cell_voltages_v": [3.7, 3.7, 3.7, 3.7], "bms": "present"}}), "/found/terminal_v", 11.86, 11.82)]
#[case::reversed(of_rescue, json!({"found": {"cell_voltages_v": [2.7, 2.7, 2.7, 2.7]}}), "/found/cell_voltages_v/0", 0.001, -0.001)]
// Rescue: readings.
#[case::stage_current(of_reading, json!({"reading": {}}), "/reading/current_a", 0.269, 0.271)]
#[case::stage_warming(of_reading, json!({"reading": {}}), "/reading/temperature_c", 30.9, 31.0)]
#[case::stage_cell_behind(of_reading, json!({"reading": {"cell_voltages_v": [3.0, 3.0, 3.0, 3.0]}}), "/reading/cell_voltages_v/0", 2.45, 2.44)]
#[case::stage_cell_over(of_reading, json!({"reading": {"cell_voltages_v": [4.0, 4.0, 4.0, 4.0]}}), "/reading/cell_voltages_v/0", 4.239, 4.241)]
#[case::stage_reversed(of_reading, json!({"reading": {"cell_voltages_v": [0.1, 0.2, 0.2, 0.2], "t_s": 60}}), "/reading/cell_voltages_v/0", -0.019, -0.021)]
// Run: readings.
#[case::warming(of_run, json!({"last": {"temperature_c": 23}}), "/last/temperature_c", 30.9, 31.1)]
#[case::cell_over(of_run, json!({"last": {"cell_voltages_v": [4.0, 3.93, 3.93, 3.93, 3.93, 3.93]}}), "/last/cell_voltages_v/0", 4.239, 4.241)]
#[case::cell_behind(of_run, json!({"last": {"cell_voltages_v": [3.9, 3.93, 3.93, 3.93, 3.93, 3.93]}}), "/last/cell_voltages_v/0", 3.575, 3.565)]
#[case::over_voltage(of_run, json!({"last": {"terminal_v": 25}}), "/last/terminal_v", 25.48, 25.50)]
fn what_is_said_changes_here_and_not_before(
    #[case] said: Said,
    #[case] document: Value,
    #[case] field: &str,
    #[case] just_below: f64,
    #[case] just_above: f64,
) {
    let (below, above) = (said(with(document.clone(), field, just_below)), said(with(document, field, just_above)));
    assert_ne!(below, above, "{field}: {just_below} and {just_above} are told alike");
}

/// A 4S phosphate pack whose supply is turned up by hand, its current left to the supply's rating.
fn by_hand(amps: f64, goal: f64) -> Value {
    json!({"pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 200, "bms": {"max_charge_a": 100}, "start": {"soc": null, "rest_voltage_v": 12.8},
            "goal": {"kind": "soc", "soc": goal}},
        "source": {"kind": "adjustable_supply", "min_voltage_v": 8.5, "max_voltage_v": 15.5, "max_current_a": amps}})
}

#[test]
fn a_resistor_is_offered_above_twelve_turns_and_lets_no_more_flow_than_may() {
    let mut seen = [false; 2];
    for (amps, percent) in [12.0, 14.0, 20.0, 32.0].into_iter().flat_map(|amps| (10..95).map(move |goal| (amps, goal)))
    {
        let result = ask(by_hand(amps, f64::from(percent) / 100.0));
        let Some(check) = found(&result, CheckCode::SettingsTurnedByHand) else { continue };
        let turns = result.nudges.len();
        let said = check.message.split("A resistor of ").nth(1).map(|rest| rest.split(' ').next().unwrap());
        assert_eq!(said.is_some(), turns > 12, "{amps} A to {percent} %: {turns} turns, {}", check.message);
        seen[usize::from(turns > 12)] = true;
        let Some(ohm) = said else { continue };
        let ohm: f64 = ohm.parse().unwrap();
        let settings = result.settings.as_ref().unwrap();
        let over_v = settings.true_voltage_v - 12.8;
        assert!(
            over_v / ohm <= settings.current_a * 1.001,
            "{over_v} V over {ohm} Ω, {} A may flow",
            settings.current_a
        );
    }
    assert_eq!(seen, [true, true], "both sides of the line are tried");
}

#[test]
fn above_forty_turns_the_resistor_is_advised_though_it_saves_no_time() {
    let mut seen = [false; 2];
    let turned = |amps: f64, goal: f64| {
        json!({"pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 5, "start": {"soc": null, "rest_voltage_v": 21.6},
                "goal": {"kind": "soc", "soc": goal}},
            "source": {"kind": "adjustable_supply", "min_voltage_v": 8.5, "max_voltage_v": 30, "max_current_a": amps}})
    };
    for (amps, percent) in [2.5, 3.5, 5.0].into_iter().flat_map(|amps| (30..85).map(move |goal| (amps, goal))) {
        let result = ask(turned(amps, f64::from(percent) / 100.0));
        let Some(set_once) = result.what_if.iter().find(|w| w.message.starts_with("A resistor of ")) else { continue };
        let turns = result.nudges.len();
        assert_eq!(set_once.advised, turns > 40, "{amps} A to {percent} %: {turns} turns, {}", set_once.message);
        seen[usize::from(set_once.advised)] |= (39..=42).contains(&turns);
    }
    assert_eq!(seen, [true, true], "both sides of the line are tried");
}

/// What is foretold of the resistor is what its own plan says.
#[test]
fn the_charge_through_the_resistor_is_that_of_its_plan() {
    for (chemistry, series, ah, soc) in [("lead_agm", 6, 7.0, 0.2), ("lead_gel", 3, 4.5, 0.4), ("lipo", 3, 2.2, 0.3)] {
        let pack = json!({"chemistry": chemistry, "series": series, "capacity_ah": ah, "start": {"soc": soc}});
        let source = json!({"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": 30, "max_current_a": 3});
        let turned = ask(json!({"pack": pack, "source": source}));
        let set_once = turned.what_if.iter().find(|w| w.message.starts_with("A resistor of ")).unwrap();
        let ohm: f64 = set_once.message.split(' ').nth(3).unwrap().parse().unwrap();
        let set_v = turned.settings.unwrap().true_voltage_v;
        let own = ask(json!({
            "pack": pack, "source": source, "settings": {"voltage_v": set_v},
            "charger": {"kind": "resistor", "resistance_ohm": ohm, "rated_w": 60}
        }));
        let (told_s, own_s) = (set_once.total_s.unwrap(), own.time.total_s.unwrap());
        assert!((told_s / own_s - 1.0).abs() < 0.05, "{chemistry}: {told_s} s told, {own_s} s by its plan");
    }
}

#[rstest]
#[case::its_board_has_opened(1.18, true)]
#[case::its_cells_are_seen(1.22, false)]
fn a_board_is_asleep_below_three_tenths_of_a_volt_a_cell(#[case] rest_v: f64, #[case] asleep: bool) {
    let result = ask(
        json!({"pack": {"series": 4, "bms": {"max_charge_a": 10}, "start": {"soc": null, "rest_voltage_v": rest_v}}}),
    );
    let message = &found(&result, CheckCode::PackDeeplyDischarged).unwrap().message;
    assert_eq!(message.contains("Wake the board first"), asleep, "{message}");
}

#[test]
fn cells_run_faster_than_twice_their_capacity_are_taken_for_power_cells() {
    let heat_a_wh = |amps: f64| {
        let run = ask(
            json!({"source": null, "settings": null, "pack": {"chemistry": "li_ion", "capacity_ah": 4}, "load": {"current_a": amps}}),
        );
        run.delivered.pack_heat_wh / run.delivered.energy_wh.abs()
    };
    let (below, above) = (heat_a_wh(7.9), heat_a_wh(8.1));
    assert!((0.3..0.5).contains(&(above / below)), "{below} {above}");
}
