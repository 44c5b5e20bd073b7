//! The list of lines, walked: each line has, in each room that uses it, a case just below and just above it that is
//! told differently, here or in the test that is named here.

use rumek_core::formats::{JudgeAskDoc, MatchDoc, RescueDoc, RunAskDoc, StandingAskDoc, TestDoc, from_value};
use rumek_core::{judge, match_cells, plan_test, rescue, standing, understand};
use serde_json::{Value, json};

use crate::thresholds::{of_run, with};
use crate::{ask, merge};

pub(super) type Said = fn(Value) -> Vec<String>;

/// A line in a room: what is asked, which field is moved, and where the line lies on it: `scale × figure + off`. It is
/// told differently `eps` to either side.
pub(super) struct Row {
    line: &'static str,
    room: &'static str,
    said: Said,
    document: Value,
    field: &'static str,
    scale: f64,
    off: f64,
    eps: f64,
}

/// Words without their numbers.
pub(super) fn words(text: &str) -> String {
    let mut out = String::new();
    for c in text.chars() {
        let digit = c.is_ascii_digit() || (c == '.' && out.ends_with('#'));
        match (digit, out.ends_with('#')) {
            (true, true) => {}
            (true, false) => out.push('#'),
            (false, _) => out.push(c),
        }
    }
    out.replace("#. ", "# ")
}

/// What a plan says: its checks, and its steps without their numbers.
fn of_plan(patch: Value) -> Vec<String> {
    let result = ask(patch);
    let checks = result
        .checks
        .iter()
        .map(|check| format!("{:?} {} {}", check.severity, check.code.code(), words(&check.message)));
    checks.chain(result.steps.iter().map(|step| words(&step.message))).collect()
}

/// The same of the checks alone.
fn of_checks(patch: Value) -> Vec<String> {
    ask(patch).checks.iter().map(|check| format!("{:?} {}", check.severity, check.code.code())).collect()
}

/// Whether a figure that a plan tells lies above `x`: `{ plan, figure: [where], x }`.
fn told(asked: Value) -> Vec<String> {
    let result = serde_json::to_value(ask(asked["plan"].clone())).unwrap();
    let at = asked["figure"].as_str().unwrap();
    if let Some((code, name)) = at.strip_prefix("check/").and_then(|rest| rest.split_once('/')) {
        let checks = result["checks"].as_array().unwrap();
        let check = checks.iter().find(|check| check["code"] == code).unwrap_or_else(|| panic!("no {code}"));
        return vec![format!("{}", check["values"][name].as_f64().unwrap() > asked["x"].as_f64().unwrap())];
    }
    let figure = match at.strip_prefix("abort/") {
        Some(name) => result["steps"]
            .as_array()
            .unwrap()
            .iter()
            .find(|step| step["when"] == "abort" || step["code"] == "abort")
            .and_then(|step| step["values"][name].as_f64()),
        None => result.pointer(at).and_then(Value::as_f64),
    };
    vec![format!("{}", figure.unwrap_or_else(|| panic!("no {at} in {result}")) > asked["x"].as_f64().unwrap())]
}

fn rescue_value(patch: &Value) -> Value {
    let mut value = json!({"format": "rumek.rescue/1", "practice": "cautious", "pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 4},
        "found": {"terminal_v": 10.8, "cell_voltages_v": [2.7, 2.7, 2.7, 2.7], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 21}});
    merge(&mut value, patch);
    value
}

fn of_rescue(patch: Value) -> Vec<String> {
    let result = rescue(&from_value::<RescueDoc>(&rescue_value(&patch)).unwrap()).unwrap();
    let reasons = result.reasons.iter().map(|reason| format!("{} {}", reason.code.code(), words(&reason.message)));
    let gear = result.gear.iter().map(|gear| format!("{} {}", gear.fits, words(&gear.message)));
    std::iter::once(format!("{:?}", result.verdict)).chain(reasons).chain(gear).collect()
}

/// What is said of readings of a stage: `{ rescue, stage, readings, now_s, rounds }`.
fn of_readings(asked: Value) -> Vec<String> {
    let mut asked = asked;
    asked["rescue"] = rescue_value(&asked["rescue"]);
    if asked["now_s"].is_null() {
        asked["now_s"] = asked["readings"].as_array().unwrap().last().unwrap()["t_s"].clone();
    }
    let said = judge(&from_value::<JudgeAskDoc>(&asked).unwrap()).unwrap();
    vec![format!("{:?} {:?} {}", said.state, said.code, words(&said.message))]
}

/// Whether a figure of a rescue's stage lies above `x`: `{ rescue, stage, figure, x }`.
fn staged(asked: Value) -> Vec<String> {
    let result = rescue(&from_value::<RescueDoc>(&rescue_value(&asked["rescue"])).unwrap()).unwrap();
    let stages = serde_json::to_value(&result.stages).unwrap();
    let stage = stages.as_array().unwrap().iter().find(|stage| stage["kind"] == asked["stage"]).unwrap().clone();
    let at = asked["figure"].as_str().unwrap();
    let figure = stage.pointer(at).and_then(Value::as_f64).unwrap_or_else(|| panic!("no {at} in {stage}"));
    vec![format!("{}", figure > asked["x"].as_f64().unwrap())]
}

fn of_test(patch: Value) -> Vec<String> {
    let mut value = json!({ "format": "rumek.test/1",
        "pack": { "chemistry": "li_ion", "series": 4, "capacity_ah": 10, "start": { "soc": 1.0 } },
        "discharge": { "by": "electronic_load", "current_a": 5 }, "after": "none" });
    merge(&mut value, &patch);
    let result = plan_test(&from_value::<TestDoc>(&value).unwrap()).unwrap();
    result
        .checks
        .iter()
        .map(|check| format!("{:?} {} {}", check.severity, check.code.code(), words(&check.message)))
        .collect()
}

/// Whether a cycle by a charger of that efficiency costs less than by one of which nobody says it: `{ efficiency }`.
fn of_cycle(asked: Value) -> Vec<String> {
    let costs = |efficiency: &Value| {
        let mut value = json!({ "format": "rumek.test/1",
            "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "balance_lead", "start": { "soc": 0.4 } },
            "source": { "kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 80, "soc": 0.8 },
            "charger": { "kind": "hobby_charger", "input_min_v": 10, "input_max_v": 18, "input_max_a": 20, "output_max_a": 10,
                "output_max_w": 200, "discharge_max_a": 5, "discharge_max_w": 30, "regenerates": true },
            "discharge": { "by": "source" }, "after": "storage" });
        value["charger"]["efficiency"] = efficiency.clone();
        plan_test(&from_value::<TestDoc>(&value).unwrap()).unwrap().cycle_costs_wh.unwrap()
    };
    vec![format!("{}", costs(&asked["efficiency"]) < costs(&Value::Null))]
}

/// Whether a test's own figure lies above `x` times its label at that rate: `{ test, figure, x }`.
fn of_test_figure(asked: Value) -> Vec<String> {
    let value = json!({ "format": "rumek.test/1",
        "pack": { "chemistry": "li_ion", "series": 4, "capacity_ah": 10, "start": { "soc": 1.0 } },
        "discharge": { "by": "electronic_load", "current_a": 5 }, "after": "none" });
    let result = serde_json::to_value(plan_test(&from_value::<TestDoc>(&value).unwrap()).unwrap()).unwrap();
    let share = result[asked["figure"].as_str().unwrap()].as_f64().unwrap() / result["expected_ah"].as_f64().unwrap();
    vec![format!("{}", share > asked["x"].as_f64().unwrap())]
}

fn of_match(asked: Value) -> Vec<String> {
    let result = match_cells(&from_value::<MatchDoc>(&asked).unwrap()).unwrap();
    let joins = result.joins.iter().map(|join| format!("{:?} {}", join.severity, words(&join.message)));
    joins
        .chain(result.notes.iter().map(|note| words(note)))
        .chain(result.unfit.iter().map(|unfit| unfit.code.code().to_owned()))
        .collect()
}

/// Two cells side by side, the second of them to be moved.
fn two_cells(patch: Value) -> Value {
    let mut value = json!({"format": "rumek.match/1", "chemistry": "li_ion", "packs": [{"name": "p", "series": 1, "parallel": 2}],
        "cells": [{"id": "a", "capacity_ah": 3.0, "resistance_mohm": 20.0, "voltage_v": 3.7},
                  {"id": "b", "capacity_ah": 3.0, "resistance_mohm": 20.0, "voltage_v": 3.7}]});
    merge(&mut value, &patch);
    value
}

fn of_standing(asked: Value) -> Vec<String> {
    let said = standing(&from_value::<StandingAskDoc>(&asked).unwrap()).unwrap();
    vec![format!("{:?} {:?} {}", said.need.code, said.need.why, words(&said.need.message))]
}

/// A pack on the shelf with one reading of yesterday.
fn shelved(pack: Value, reading: Value) -> Value {
    let mut record = json!({"format": "rumek.record/1", "kind": "rest", "at": "2026-06-09T12:00:00Z"});
    merge(&mut record, &reading);
    json!({"pack": pack, "now": "2026-06-10T12:00:00Z", "records": [record]})
}

/// A 6S pack of 4 Ah that was full, read at its cut-off.
fn run_down() -> Value {
    json!({"plan": {"format": "rumek.plan/1", "pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4, "discharge_c_rate": 5, "start": {"soc": 1.0}}},
        "discharge": {"by": "electronic_load", "current_a": 2, "to_v_per_cell": 3.2},
        "readings": [{"t_s": 0, "terminal_v": 25.0, "terminal_a": 2.0}, {"t_s": 7000, "terminal_v": 19.2, "terminal_a": 2.0}]})
}

fn of_run_down(asked: Value) -> Vec<String> {
    let state = understand(&from_value::<RunAskDoc>(&asked).unwrap()).unwrap();
    state.said.iter().map(|said| format!("{:?} {} {}", said.severity, said.code.code(), words(&said.message))).collect()
}

/// A charge with 4 A, looked at twice.
fn charging() -> Value {
    json!({"plan": crate::plan_value(json!({"pack": {"temperature_c": 21}})),
        "readings": [{"t_s": 300, "terminal_v": 22.9, "terminal_a": 4.0}, {"t_s": 1500, "terminal_v": 23.6, "terminal_a": 4.0}]})
}

pub(super) fn row(line: &'static str, room: &'static str, said: Said, document: Value, field: &'static str) -> Row {
    Row { line, room, said, document, field, scale: 1.0, off: 0.0, eps: 0.01 }
}

impl Row {
    pub(super) fn at(mut self, scale: f64, off: f64) -> Self {
        (self.scale, self.off) = (scale, off);
        self
    }

    pub(super) fn near(mut self, eps: f64) -> Self {
        self.eps = eps;
        self
    }
}

fn lead(patch: Value) -> Value {
    let mut value = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 50, "balancer": "none"}, "source": {"max_current_a": 40}});
    merge(&mut value, &patch);
    value
}

fn lead_found(patch: Value) -> Value {
    let mut value = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 12.0, "cell_voltages_v": null}});
    merge(&mut value, &patch);
    value
}

fn readings(stage: &str, readings: Value) -> Value {
    json!({"rescue": {}, "stage": stage, "readings": readings})
}

fn output(lead: Value) -> Value {
    let mut value = json!({"area_mm2": 2.5, "length_m": 1, "fuse_a": 10, "fuse_v": 60, "fuse_at": "both"});
    merge(&mut value, &lead);
    json!({"leads": {"output": value}, "settings": {"current_a": 4}})
}

fn rows() -> Vec<Row> {
    let mut rows = volts_and_warmth();
    rows.extend(cells_and_deep());
    rows.extend(rates_and_ends());
    rows.extend(leads_and_gear());
    rows.extend(outward_and_wear());
    rows.extend(readings_and_meters());
    rows.extend(crate::run_lines::rows());
    rows
}

fn volts_and_warmth() -> Vec<Row> {
    let high = |series: u32| json!({"pack": {"series": series}, "source": {"max_voltage_v": 200}, "settings": {"voltage_v": 30}});
    let long_string = || {
        let cells: Vec<Value> = (0..40).map(|n| json!({"id": format!("c{n}"), "capacity_ah": 3.0})).collect();
        json!({"format": "rumek.match/1", "chemistry": "li_ion", "cells": cells, "packs": [{"name": "p", "series": 20, "parallel": 1}]})
    };
    vec![
        row("volts.lethal_v", "match", of_match, long_string(), "/packs/0/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("volts.touch_v", "match", of_match, long_string(), "/packs/0/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("volts.lethal_v", "plan", of_checks, high(30), "/settings/voltage_v"),
        row("volts.lethal_v", "rescue", of_rescue, json!({"pack": {"series": 28}, "found": {"terminal_v": 100, "cell_voltages_v": null, "cells_reachable": false}}), "/pack/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("volts.lethal_v", "test", of_test, json!({}), "/pack/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("volts.touch_v", "plan", of_checks, high(15), "/settings/voltage_v"),
        row("volts.touch_v", "rescue", of_rescue, json!({"pack": {"series": 14}, "found": {"terminal_v": 50, "cell_voltages_v": null, "cells_reachable": false}}), "/pack/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("volts.touch_v", "test", of_test, json!({}), "/pack/series").at(1.0 / 4.2, 0.0).near(0.5),
        row("warmth.charge_min_c", "plan", of_checks, json!({}), "/pack/temperature_c"),
        row("warmth.charge_min_c", "rescue", of_rescue, json!({}), "/found/temperature_c"),
        row("warmth.charge_max_c", "plan", of_checks, json!({}), "/pack/temperature_c"),
        row("warmth.charge_max_c", "rescue", of_rescue, json!({}), "/found/temperature_c"),
        row("warmth.hot_from_c", "plan", of_checks, json!({}), "/pack/temperature_c"),
        row("warmth.hot_from_c", "rescue", of_rescue, json!({}), "/found/temperature_c"),
        row("warmth.nearly_hot_k", "plan", of_checks, json!({}), "/pack/temperature_c").at(-1.0, 40.0),
        row("warmth.start_under_k", "plan", of_checks, json!({}), "/pack/temperature_c").at(-1.0, 45.0),
        row("warmth.start_under_k", "rescue", of_rescue, json!({}), "/found/temperature_c").at(-1.0, 45.0),
        row("warmth.warmer_k", "plan", told, json!({"plan": {"pack": {"temperature_c": 21}, "ambient_c": 21}, "figure": "abort/temperature_c", "x": 0}), "/x").at(1.0, 21.0),
        row("warmth.warmer_k", "rescue", of_readings, readings("precharge", json!([{"t_s": 600, "terminal_v": 11.8, "current_a": 0.2, "temperature_c": 21}])), "/readings/0/temperature_c").at(1.0, 21.0),
        row("warmth.warmer_k", "run", of_run, json!({"last": {"temperature_c": 23}}), "/last/temperature_c").at(1.0, 21.0),
        row("warmth.runaway_c", "rescue", of_rescue, json!({}), "/found/temperature_c"),
        row("warmth.cold_over", "plan", of_checks, json!({"pack": {"temperature_c": 2}, "settings": {"current_a": 1}}), "/settings/current_a").at(0.4, 0.0),
    ]
}

fn cells_and_deep() -> Vec<Row> {
    let four = |patch: Value| {
        let mut value = json!({"pack": {"series": 4, "start": {"soc": null, "cell_voltages_v": [3.8, 3.8, 3.8, 3.8]}}});
        merge(&mut value, &patch);
        value
    };
    let joined = json!({"pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 5, "resistance_mohm": 400, "start": {"soc": null, "rest_voltage_v": 15.2}},
        "other_packs": [{"capacity_ah": 5, "rest_voltage_v": 15.2, "resistance_mohm": 400}]});
    let shelf_lipo = || json!({"chemistry": "lipo", "series": 4, "capacity_ah": 4});
    vec![
        row("cells.join_v", "plan", of_checks, joined.clone(), "/other_packs/0/rest_voltage_v").at(4.0, 15.2).near(0.003),
        row("cells.join_v", "match", of_match, two_cells(json!({})), "/cells/1/voltage_v").at(1.0, 3.7).near(0.001),
        row("cells.join_stop_v", "plan", of_checks, joined, "/other_packs/0/rest_voltage_v").at(4.0, 15.2).near(0.003),
        row("cells.join_stop_v", "match", of_match, two_cells(json!({})), "/cells/1/voltage_v").at(1.0, 3.7).near(0.001),
        row("cells.apart_v", "plan", of_checks, four(json!({})), "/pack/start/cell_voltages_v/0").at(-1.0, 3.8).near(0.001),
        row("cells.ill_v", "plan", of_plan, four(json!({})), "/pack/start/cell_voltages_v/0").at(-1.0, 3.8).near(0.001),
        row("cells.ill_v", "shelf", of_standing, shelved(shelf_lipo(), json!({"voltage_v": 15.2, "cell_voltages_v": [3.8, 3.8, 3.8, 3.8]})), "/records/0/cell_voltages_v/0").at(-1.0, 3.8).near(0.002),
        row("cells.failed_v", "rescue", of_rescue, json!({"found": {"cell_voltages_v": [2.9, 2.9, 2.9, 2.9], "terminal_v": 11.2}}), "/found/cell_voltages_v/0").at(-1.0, 2.9).near(0.006),
        row("cells.over_full_v", "plan", of_checks, json!({"settings": {"voltage_v": 25.0}}), "/settings/voltage_v").at(6.0, 25.2).near(0.005),
        row("deep.line_v", "plan", of_checks, four(json!({"pack": {"start": {"cell_voltages_v": [3.02, 3.02, 3.02, 3.02]}}})), "/pack/start/cell_voltages_v/0").near(0.002),
        row("deep.line_v", "rescue", of_rescue, json!({"found": {"cell_voltages_v": [3.1, 3.1, 3.1, 3.1], "terminal_v": 12.4}}), "/found/cell_voltages_v/0"),
        row("deep.line_v", "match", of_match, two_cells(json!({"chemistry": "lipo", "cells": [{"id": "a", "capacity_ah": 3.0, "voltage_v": 3.0}, {"id": "b", "capacity_ah": 3.0, "voltage_v": 3.02}]})), "/cells/1/voltage_v").near(0.002),
        row("deep.line_v", "shelf", of_standing, shelved(shelf_lipo(), json!({"voltage_v": 12.1, "cell_voltages_v": [3.03, 3.03, 3.03, 3.03]})), "/records/0/cell_voltages_v/0").near(0.002),
        row("deep.mean_v", "plan", of_checks, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 20}}}), "/pack/start/rest_voltage_v").at(6.0, 0.0),
        row("deep.mean_v", "rescue", of_rescue, json!({"found": {"terminal_v": 13.4, "cell_voltages_v": null, "cells_reachable": false}}), "/found/terminal_v").at(4.0, 0.0),
        row("deep.soft_v", "plan", of_checks, lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 12}}})), "/pack/start/rest_voltage_v").at(6.0, 0.0),
        row("deep.soft_v", "rescue", of_rescue, lead_found(json!({})), "/found/terminal_v").at(6.0, 0.0),
        row("deep.soft_v", "shelf", of_standing, shelved(json!({"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}), json!({"voltage_v": 11.7})), "/records/0/voltage_v").at(6.0, 0.0),
        row("deep.recovered_v", "rescue", of_readings, json!({"rescue": {"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 9.0, "cell_voltages_v": null}}, "stage": "precharge", "readings": [{"t_s": 3601, "terminal_v": 11.4, "current_a": 0.9}]}), "/readings/0/terminal_v").at(6.0, 0.0),
        row("deep.charged_low_v", "plan", of_checks, lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10}}})), "/pack/start/rest_voltage_v").at(5.0, 0.0),
        row("deep.charged_low_v", "rescue", of_rescue, lead_found(json!({})), "/found/terminal_v").at(5.0, 0.0),
        row("deep.charged_high_v", "plan", of_checks, lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10}}})), "/pack/start/rest_voltage_v").at(5.0, 0.0),
        row("deep.charged_high_v", "rescue", of_rescue, lead_found(json!({})), "/found/terminal_v").at(5.0, 0.0),
        row("deep.asleep_v", "plan", of_plan, json!({"pack": {"series": 4, "bms": {"max_charge_a": 10}, "start": {"soc": null, "rest_voltage_v": 1.2}}}), "/pack/start/rest_voltage_v").at(4.0, 0.0),
        row("deep.joined", "rescue", of_rescue, json!({"found": {"cell_voltages_v": [3.7, 3.7, 3.7, 3.7], "bms": "present"}}), "/found/terminal_v").at(14.8, 0.0),
        row("deep.cautious_v", "rescue", of_rescue, json!({"found": {"low_for": "days", "cell_voltages_v": [2.1, 2.1, 2.1, 2.1], "terminal_v": 8.4}}), "/found/cell_voltages_v/0"),
        row("deep.experienced_v", "rescue", of_rescue, json!({"found": {"cell_voltages_v": [0.6, 0.6, 0.6, 0.6], "terminal_v": 2.4}}), "/found/cell_voltages_v/0").near(0.004),
    ]
}

fn rates_and_ends() -> Vec<Row> {
    let nickel = |amps: f64| json!({"pack": {"chemistry": "nimh", "series": 6, "capacity_ah": 2, "balancer": "none", "start": null}, "settings": {"current_a": amps}});
    vec![
        row("rates.gentle_c", "plan", told, json!({"plan": lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 11.0}}})), "figure": "/settings/current_a", "x": 0}), "/x").at(50.0, 0.0).near(0.06),
        row("rates.gentle_c", "rescue", staged, json!({"rescue": {}, "stage": "precharge", "figure": "/current_a", "x": 0}), "/x").at(4.0, 0.0).near(0.001),
        row("rates.over_usual", "plan", of_checks, json!({"settings": {"current_a": 1}, "source": {"max_current_a": 30}}), "/settings/current_a").at(4.0, 0.0),
        row("rates.over_told", "rescue", of_readings, readings("precharge", json!([{"t_s": 600, "terminal_v": 11.8, "current_a": 0.2}])), "/readings/0/current_a").at(0.2, 0.01).near(0.002),
        row("ends.forgiving_c", "plan", of_checks, nickel(0.2), "/settings/current_a").at(2.0, 0.0),
        row("ends.falls_from_c", "plan", of_checks, nickel(0.9), "/settings/current_a").at(2.0, 0.0),
        row("ends.first_hour_h", "plan", told, json!({"plan": lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 11.0}}})), "figure": "/settings/time_limit_h", "x": 0}), "/x"),
        row("ends.first_hour_h", "rescue", of_readings, json!({"rescue": {"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 9.0, "cell_voltages_v": null}}, "stage": "precharge", "readings": [{"t_s": 3600, "terminal_v": 11.0, "current_a": 0.9}]}), "/readings/0/t_s").at(3600.0, 0.0).near(5.0),
        row("ends.timed_gives", "plan", told, json!({"plan": {"pack": {"chemistry": "nimh", "series": 6, "capacity_ah": 2, "balancer": "none", "start": {"soc": 0.0}}, "settings": {"current_a": 0.2}}, "figure": "/settings/time_limit_h", "x": 0}), "/x").at(10.0, 0.0).near(0.2),
        row("ends.timed_gives", "rescue", staged, json!({"rescue": {"pack": {"chemistry": "nimh", "series": 4, "capacity_ah": 2, "rated_charge_a": 0.2}, "found": {"terminal_v": 5.0, "cell_voltages_v": null}}, "stage": "charge", "figure": "/expected_s", "x": 0}), "/x").at(36_000.0, 0.0).near(200.0),
        row("ends.fast_timed_gives", "plan", told, json!({"plan": {"pack": {"chemistry": "nimh", "series": 6, "capacity_ah": 2, "balancer": "none", "start": {"soc": 0.0}}, "settings": {"current_a": 2}}, "figure": "/settings/time_limit_h", "x": 0}), "/x").at(1.0, 0.0).near(0.02),
        row("ends.rounds", "rescue", of_readings, json!({"rescue": {}, "stage": "handover", "rounds": 1, "readings": [{"t_s": 60, "terminal_v": 11.2, "cell_voltages_v": [2.8, 2.8, 2.8, 2.8]}]}), "/rounds").at(1.0, -1.5).near(0.5),
        row("ends.life_h", "rescue", staged, json!({"rescue": {}, "stage": "precharge", "figure": "/max_s", "x": 0}), "/x").at(3600.0, 0.0).near(5.0),
        row("ends.wake_try_h", "rescue", staged, json!({"rescue": {"found": {"terminal_v": 0, "cell_voltages_v": null, "cells_reachable": false, "bms": "present"}}, "stage": "wake", "figure": "/until/minutes", "x": 0}), "/x").at(60.0, 0.0),
        row("ends.rest_days", "rescue", of_readings, readings("rest", json!([{"t_s": 86_400, "terminal_v": 16.6}, {"t_s": 259_200, "terminal_v": 16.552}])), "/readings/1/t_s").at(86_400.0, 86_400.0).near(60.0),
    ]
}

fn leads_and_gear() -> Vec<Row> {
    let lamp = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 40}, "source": {"kind": "fixed_supply", "voltage_v": 14, "max_voltage_v": null, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "lamp", "lamp_rated_v": 14, "lamp_rated_w": 21}});
    let field = json!({"pack": {"series": 3, "capacity_ah": 20, "rated_c_rate": 1}, "source": {"kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 80, "soc": 0.9, "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "hobby_charger", "input_min_v": 10, "input_max_v": 18, "input_max_a": 30, "output_max_a": 20, "output_max_w": 500, "efficiency": 0.9}, "settings": {"current_a": 8}});
    let short = json!({"source": {"kind": "battery", "chemistry": "lead_agm", "series": 12, "capacity_ah": 80, "soc": 0.9, "resistance_mohm": 20, "max_voltage_v": null, "max_current_a": null}, "leads": {"input": {"area_mm2": 6, "length_m": 1, "fuse_a": 20, "fuse_v": 60, "fuse_at": "source"}}, "charger": {"kind": "hobby_charger", "input_min_v": 10, "input_max_v": 30, "input_max_a": 30, "output_max_a": 20, "output_max_w": 500}});
    vec![
        // Copper of 2.5 mm², a metre there and back: 14 mΩ beside the plugs.
        row("leads.drop", "plan", of_checks, output(json!({"connector_mohm": 100})), "/leads/output/connector_mohm").at(25_200.0 / 4.0, -14.2).near(3.0),
        row("gear.efficiency", "plan", told, json!({"plan": {"source": {"kind": "fixed_supply", "voltage_v": 12, "max_voltage_v": null, "max_current_a": 20}, "charger": {"kind": "hobby_charger", "input_min_v": 10, "input_max_v": 18, "output_max_a": 10, "output_max_w": 200}}, "figure": "/resolved/charger/efficiency", "x": 0}), "/x"),
        row("gear.headroom", "plan", told, json!({"plan": {"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "max_current_a": 5, "overload": "hiccup"}}, "figure": "/resolved/source/headroom", "x": 0}), "/x"),
        row("leads.circuit", "plan", of_checks, json!({"source": {"max_current_a": 20, "max_power_w": 400}, "mains": {"voltage_v": 120, "circuit_a": 5}}), "/mains/circuit_a").at(0.0, 5.04).near(0.02),
        row("gear.lamp_over", "plan", of_checks, lamp, "/charger/lamp_rated_v").at(0.0, 14.0 / 1.1).near(0.1),
        row("leads.socket_a", "plan", of_plan, field, "/settings/current_a").at(0.8635, 0.0),
        row("leads.fuse_v", "plan", of_checks, json!({"leads": {"output": {"area_mm2": 2.5, "length_m": 1, "fuse_a": 10, "fuse_at": "both"}}}), "/source/max_voltage_v").near(0.2),
        row("leads.fuse_breaks_a", "plan", of_checks, short, "/source/resistance_mohm").at(0.0, 25.0).near(2.0),
        row("leads.clips_a", "plan", of_plan, json!({"pack": {"capacity_ah": 20}, "source": {"max_current_a": 20}, "settings": {"current_a": 9}}), "/settings/current_a"),
        row("leads.usb_a", "plan", of_checks, json!({"settings": {"current_a": 2}}), "/settings/current_a"),
        row("leads.burns", "plan", of_checks, output(json!({})), "/leads/output/fuse_a").at(15.21, 0.0).near(0.03),
        row(
            "leads.plug_over",
            "plan",
            of_checks,
            json!({"pack": {"capacity_ah": 40}, "source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null},
                "charger": {"kind": "smart_charger", "output_max_a": 18},
                "leads": {"output": {"area_mm2": 16, "length_m": 0.5, "fuse_a": 60, "fuse_v": 60, "fuse_at": "both", "connector": "two_pin_15a"}}}),
            "/charger/output_max_a",
        )
        .at(15.0, 0.0)
        .near(0.1),
        row("gear.step_v", "plan", of_checks, json!({"pack": {"series": 2}, "source": {"voltage_step_v": 0.05}}), "/source/voltage_step_v").at(2.0, 0.0).near(0.002),
        row("gear.least_set_a", "rescue", of_rescue, json!({"pack": {"capacity_ah": 1}, "source": {"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 1}}), "/pack/capacity_ah").at(20.0, 0.0),
        row("gear.offset", "rescue", of_rescue, json!({"pack": {"capacity_ah": 1}, "source": {"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 10}}), "/pack/capacity_ah").at(200.0, 0.0),
        row("rates.held", "plan", of_checks, json!({"pack": {"capacity_ah": 10}, "source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 5}, "settings": {"current_a": 4}}), "/settings/current_a").at(0.0, 5.0 / 1.02),
        row("rates.dial_over", "rescue", of_rescue, json!({"pack": {"capacity_ah": 4}, "source": {"kind": "fixed_supply", "voltage_v": 13.0, "max_current_a": 8, "overload": "constant_current"}, "charger": {"kind": "resistor", "resistance_ohm": 10, "rated_w": 25}}), "/charger/resistance_ohm").at(0.0, 10.258),
        row("rates.adapter_over", "rescue", of_rescue, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 9.0, "cell_voltages_v": null}, "source": {"kind": "wall_adapter", "voltage_v": 12, "open_circuit_v": 15, "max_current_a": 0.3}}), "/source/open_circuit_v").at(0.0, 17.775).near(0.02),
        row("volts.spark_a", "plan", of_plan, json!({"source": {"output_switch": false}, "pack": {"resistance_mohm": 50}}), "/pack/resistance_mohm").at(0.0, 22.653).near(0.02),
        row("warmth.may_take", "plan", of_checks, json!({"ambient_c": -1, "pack": {"temperature_c": 20}, "settings": {"current_a": 2}}), "/settings/current_a").at(0.0, 1.3898).near(0.003),
        row("volts.arc_v", "plan", of_plan, json!({"pack": {"chemistry": "lfp", "series": 9, "capacity_ah": 10, "start": {"soc": 0.2}}, "source": {"max_voltage_v": 60}, "settings": {"voltage_v": 31}}), "/settings/voltage_v").near(0.06),
        row("deep.recovered_v", "plan", of_plan, lead(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 11.55}}})), "/pack/start/rest_voltage_v").at(6.0, 0.0).near(0.03),
        row("cells.near_ceiling_v", "plan", of_checks, json!({"pack": {"series": 4, "balancer": "none", "start": {"soc": null, "cell_voltages_v": [4.0, 4.0, 4.0, 4.05]}}}), "/pack/start/cell_voltages_v/3").at(0.0, 4.05),
        row("cells.failed_v", "plan", of_plan, lead(json!({"pack": {"start": {"soc": null, "cell_voltages_v": [2.0, 2.0, 2.0, 2.0, 2.0, 2.0]}}})), "/pack/start/cell_voltages_v/0").at(-1.0, 2.0).near(0.006),
        row("cells.touch_c", "match", of_match, two_cells(json!({"cells": [{"id": "a", "capacity_ah": 3.0, "resistance_mohm": 10.0, "voltage_v": 3.7}, {"id": "b", "capacity_ah": 3.0, "resistance_mohm": 10.0, "voltage_v": 3.76}]})), "/cells/1/voltage_v").at(0.06, 3.7).near(0.001),
        row("deep.start_over", "rescue", staged, json!({"rescue": {"handover": {"kind": "smart_charger", "output_max_a": 4, "min_start_v": 13}}, "stage": "precharge", "figure": "/until/pack_v", "x": 0}), "/x").at(13.0, 0.02).near(0.03),
        row("readings.nearly_empty", "plan", of_checks, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 21}}}), "/pack/start/rest_voltage_v").at(0.0, 21.092).near(0.015),
    ]
}

fn outward_and_wear() -> Vec<Row> {
    let two_rests = |chemistry: &str, cells: Value, then: Value| {
        json!({"pack": {"chemistry": chemistry, "series": 4, "capacity_ah": 4}, "now": "2026-06-10T12:00:00Z",
        "records": [{"format": "rumek.record/1", "kind": "rest", "at": "2026-05-10T12:00:00Z", "voltage_v": 15.2, "cell_voltages_v": cells},
                    {"format": "rumek.record/1", "kind": "rest", "at": "2026-06-09T12:00:00Z", "voltage_v": 15.2, "cell_voltages_v": then}]})
    };
    let level = json!([3.8, 3.8, 3.8, 3.8]);
    vec![
        row("gear.efficiency", "test", of_cycle, json!({"efficiency": 0.5}), "/efficiency").near(0.002),
        row("outward.lead_under_load", "test", of_test, json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 50}, "discharge": {"to_v_per_cell": 1.7}}), "/discharge/to_v_per_cell").at(1.75, 0.0).near(0.003),
        row("outward.out_lamp_over", "test", of_test, json!({"discharge": {"by": "lamp", "current_a": null, "lamp_rated_v": 14, "lamp_rated_w": 21}}), "/discharge/lamp_rated_v").at(0.0, 13.95).near(0.1),
        row("leaks.times_usual", "shelf", of_standing, two_rests("lipo", Value::Null, Value::Null), "/records/1/voltage_v").at(0.0, 15.0975),
        row("meters.shelf_v", "shelf", of_standing, two_rests("lipo", Value::Null, Value::Null), "/records/1/voltage_v").at(0.0, 15.0975),
        row("meters.shelf_cell_v", "shelf", of_standing, two_rests("lipo", level.clone(), level.clone()), "/records/1/cell_voltages_v/0").at(0.0, 3.7856).near(0.003),
        row("leaks.shorted_a_day_v", "shelf", of_standing, two_rests("lipo", level.clone(), level), "/records/1/cell_voltages_v/0").at(-30.0, 3.8).near(0.003),
        row("leaks.sound_a_day_v", "match", of_match, two_cells(json!({})), "/cells/1/self_discharge_mv_per_day").at(1000.0, 0.0),
        row("meters.cell_v", "match", of_match, two_cells(json!({})), "/cells/1/voltage_v").at(1.0, 4.22).near(0.003),
        row("meters.cell_v", "shelf", of_standing, shelved(json!({"chemistry": "lipo", "series": 4, "capacity_ah": 4}), json!({"voltage_v": 16.4, "cell_voltages_v": [4.1, 4.1, 4.1, 4.1]})), "/records/0/cell_voltages_v/0").at(1.0, 4.22).near(0.003),
        row("meters.cell_v", "plan", of_checks, json!({"pack": {"series": 4, "start": {"soc": null, "cell_voltages_v": [4.1, 4.1, 4.1, 4.1]}}}), "/pack/start/cell_voltages_v/0").at(1.0, 4.22).near(0.003),
        row("rates.out_c", "plan", told, json!({"plan": {"pack": {"start": {"soc": 1.0}, "goal": {"kind": "storage"}}}, "figure": "check/pack.above_goal/out_a", "x": 0}), "/x").at(4.0, 0.0),
        row("wear.grown", "run", of_run, json!({"last": {"terminal_v": 23.6}}), "/last/terminal_v").at(0.0, 24.468).near(0.02),
        row("flow.nothing_flows", "run", of_run, json!({"last": {"terminal_a": 4}}), "/last/terminal_a").at(4.0, 0.0).near(0.02),
        row("flow.twice_the_amps", "run", of_run_down, charging(), "/readings/1/terminal_a").at(4.0, 0.27).near(0.02),
        row("wear.worn", "run", of_run_down, run_down(), "/readings/1/t_s").at(7024.0, 0.0).near(10.0),
        row("wear.retire", "run", of_run_down, run_down(), "/readings/1/t_s").at(7024.0, 0.0).near(10.0),
        row("outward.out_max_c", "test", of_test, json!({}), "/pack/temperature_c"),
        row("outward.compared_from_c", "test", of_test, json!({}), "/pack/temperature_c"),
        row("outward.compared_to_c", "test", of_test, json!({}), "/pack/temperature_c"),
        row("outward.over_gives", "test", of_test, json!({"pack": {"discharge_c_rate": 1}, "discharge": {"current_a": 10}}), "/discharge/current_a").at(10.0, 0.0),
        row("outward.unlabelled_c", "test", of_test, json!({}), "/discharge/current_a").at(10.0, 0.0),
        row("outward.unlabelled_c", "plan", of_checks, json!({"source": null, "load": {"current_a": 1}}), "/load/current_a").at(4.0, 0.0),
        row("outward.cut_off_high", "test", of_test, json!({}), "/discharge/to_v_per_cell").at(3.0, 0.0).near(0.005),
        row("wear.worn", "test", of_test_figure, json!({"figure": "worn_below_ah", "x": 0}), "/x").near(0.002),
        row("wear.retire", "test", of_test_figure, json!({"figure": "retire_below_ah", "x": 0}), "/x").near(0.002),
        row("wear.worn", "rescue", of_readings, readings("prove", json!([{"t_s": 1, "capacity_ah": 3.2, "current_a": 0.8}])), "/readings/0/capacity_ah").at(4.0, 0.0),
        row("wear.retire", "rescue", of_readings, readings("prove", json!([{"t_s": 1, "capacity_ah": 3.2, "current_a": 0.8}])), "/readings/0/capacity_ah").at(4.0, 0.0),
        row("leaks.shorted_a_day_v", "match", of_match, two_cells(json!({})), "/cells/1/self_discharge_mv_per_day").at(1000.0, 0.0),
    ]
}

fn readings_and_meters() -> Vec<Row> {
    let held =
        |first: f64, then: f64| json!([{"t_s": 86_400, "terminal_v": first}, {"t_s": 259_200, "terminal_v": then}]);
    let blocked = json!({"rescue": {"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 9.0, "cell_voltages_v": null}}, "stage": "precharge",
        "readings": [{"t_s": 3600, "terminal_v": 12.4, "current_a": 0.01}, {"t_s": 43_000, "terminal_v": 12.4, "current_a": 0.01}, {"t_s": 86_000, "terminal_v": 12.4, "current_a": 0.01}]});
    vec![
        row("ends.sulphated_h", "rescue", of_readings, blocked.clone(), "/readings/2/t_s").at(3600.0, 0.0).near(10.0),
        row("ends.loosens", "rescue", of_readings, {
            let mut later = blocked;
            later["readings"][2]["t_s"] = json!(90_000);
            later
        }, "/readings/2/current_a").at(0.01, 0.0).near(0.0005),
        row("leaks.shorted_a_day_v", "rescue", of_readings, readings("rest", json!([{"t_s": 86_400, "terminal_v": 16.6, "cell_voltages_v": [4.15, 4.15, 4.15, 4.15]}, {"t_s": 259_200, "terminal_v": 16.6, "cell_voltages_v": [4.15, 4.15, 4.15, 4.15]}])), "/readings/1/cell_voltages_v/0").at(-2.0, 4.15 - 0.005).near(0.0005),
        row("leaks.sound_a_day_v", "rescue", of_readings, readings("rest", held(16.6, 16.59)), "/readings/1/terminal_v").at(-2.0 * 1.5, 16.6 - 0.01 - 0.01).near(0.0005),
        row("leaks.others", "rescue", of_readings, readings("rest", held(16.6, 16.59)), "/readings/1/terminal_v").at(-2.0 * 3.0 * 0.001, 16.6 - 0.01 - 0.01).near(0.0005),
        row("leaks.looked_for_at", "rescue", staged, json!({"rescue": {"pack": {"chemistry": "lto", "series": 4, "capacity_ah": 4}, "found": {"terminal_v": 9.6, "cell_voltages_v": [2.4, 2.4, 2.4, 2.4]}}, "stage": "rest", "figure": "/take_out_to_v", "x": 0}), "/x").at(0.0, 4.0 * 2.525).near(0.01),
        row("meters.again_v", "rescue", of_readings, readings("rest", held(16.6, 16.59)), "/readings/1/terminal_v").at(-1.0, 16.6 - 0.013).near(0.0005),
        row("meters.again_cell_v", "rescue", of_readings, readings("rest", json!([{"t_s": 86_400, "terminal_v": 16.6, "cell_voltages_v": [4.15, 4.15, 4.15, 4.15]}, {"t_s": 259_200, "terminal_v": 16.6, "cell_voltages_v": [4.15, 4.15, 4.15, 4.15]}])), "/readings/1/cell_voltages_v/0").at(-1.0, 4.15 - 0.01).near(0.0005),
        row("meters.cell_v", "rescue", of_readings, readings("precharge", json!([{"t_s": 600, "terminal_v": 11.8, "current_a": 0.2, "cell_voltages_v": [4.0, 4.0, 4.0, 4.0]}])), "/readings/0/cell_voltages_v/0").at(1.0, 4.22).near(0.002),
        row("readings.settling_h", "rescue", of_readings, readings("precharge", json!([{"t_s": 500, "terminal_v": 11.8, "current_a": 0.2, "cell_voltages_v": [2.3, 3.1, 3.1, 3.1]}])), "/readings/0/t_s").at(3600.0, 0.0).near(1.0),
        row("readings.fresh_h", "rescue", of_readings, json!({"rescue": {}, "stage": "precharge", "now_s": 3700, "readings": [{"t_s": 3500, "terminal_v": 10.9, "current_a": 0.2}]}), "/readings/0/t_s").at(-3600.0, 3600.0).near(1.0),
        row("readings.early", "rescue", of_readings, readings("rest", held(16.6, 16.6)), "/readings/1/t_s").at(48.0 * 3600.0, 86_400.0).near(30.0),
        row("readings.none", "rescue", of_readings, readings("precharge", json!([{"t_s": 60, "terminal_v": 12.5, "current_a": 0.01}])), "/readings/0/current_a").at(0.2, 0.0).near(0.002),
        row("readings.flows", "rescue", of_readings, json!({"rescue": {"found": {"terminal_v": 0, "cell_voltages_v": null, "cells_reachable": false, "bms": "present"}}, "stage": "wake", "readings": [{"t_s": 60, "current_a": 0.05}]}), "/readings/0/current_a").at(0.2, 0.0).near(0.002),
        row("readings.taken", "rescue", of_readings, json!({"rescue": {"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18}, "found": {"terminal_v": 11.8, "cell_voltages_v": null}}, "stage": "charge",
            "readings": [{"t_s": 0, "terminal_v": 14.5, "current_a": 0.3}, {"t_s": 21_600, "terminal_v": 14.5, "current_a": 0.3}]}), "/readings/0/current_a").at(2.0 * 18.0 / 6.0, -0.3).near(0.01),
    ]
}

/// Lines that are tried where their subject is tested: the line, its room, the test or case.
const ELSEWHERE: &[(&str, &str, &str)] = &[
    (
        "deep.precharge_over_v",
        "rescue",
        "an_unread_pack_is_precharged_to_what_its_others_bear_or_a_little_above_where_it_stands",
    ),
    ("ends.days_h", "plan", "case::days"),
    ("rates.over_label", "plan", "no_acceptance_goes_past_half_again_the_label"),
    ("cells.resistance", "match", "a_cell_is_unfit_from_the_threshold_on_and_not_before"),
    ("cells.capacity", "match", "a_cell_is_unfit_from_the_threshold_on_and_not_before"),
    ("outward.hot_w", "test", "case::hardly_five"),
    ("outward.hot_share", "test", "case::far_from_it"),
    ("outward.long_h", "test", "case::long"),
    ("outward.out_max_c", "run", "case::nearly_hot"),
    ("readings.silence_h", "run", "a_silence_of_more_than_half_an_hour_is_not_bridged"),
    ("wear.test_days", "shelf", "case::tested_within_a_year"),
    ("wear.eve_days", "shelf", "case::long_before_it"),
    ("wear.retire", "shelf", "case::worn_out"),
    ("wear.worn", "shelf", "a_trend_and_its_forecast_hold_the_truth_in_nine_of_ten"),
    ("wear.grown", "shelf", "resistance_grown_by_half_is_looked_at_once_two_say_so"),
];

#[test]
fn each_line_is_tried_on_both_sides_in_each_room_that_uses_it() {
    let list = rumek_core::lines().lines;
    let rows = rows();
    let mut wrong = Vec::new();
    for row in &rows {
        let Some(line) = list.iter().find(|line| line.name == row.line) else {
            wrong.push(format!("{}: no such line", row.line));
            continue;
        };
        let chemistry = ["/pack/chemistry", "/plan/pack/chemistry", "/rescue/pack/chemistry", "/chemistry"]
            .iter()
            .find_map(|at| row.document.pointer(at).and_then(Value::as_str))
            .unwrap_or(if row.room == "test" || row.room == "match" { "li_ion" } else { "lipo" });
        let name =
            rumek_core::chemistries().iter().find(|one| one.chemistry.code() == chemistry).map(|one| one.name.clone());
        let figure = line
            .figures
            .iter()
            .find(|figure| figure.of.is_empty() || figure.of.iter().any(|of| Some(of) == name.as_ref()));
        let Some(figure) = figure.map(|figure| figure.value) else {
            wrong.push(format!("{} in {}: no figure of {chemistry}", row.line, row.room));
            continue;
        };
        let at = row.scale * figure + row.off;
        let said = |x: f64| {
            let asked = std::panic::AssertUnwindSafe(|| (row.said)(with(row.document.clone(), row.field, x)));
            std::panic::catch_unwind(asked).unwrap_or_else(|_| vec!["cannot be asked".to_owned()])
        };
        let (below, above) = (said(at - row.eps), said(at + row.eps));
        let asked = [&below, &above].iter().all(|said| said.as_slice() != ["cannot be asked"]);
        if below == above || !asked {
            let near: Vec<f64> = (1..800).map(|k| at * (0.6 + f64::from(k) / 1000.0)).collect();
            let change = near
                .windows(2)
                .filter(|w| said(w[0]) != said(w[1]))
                .map(|w| format!("{:.4}–{:.4}", w[0], w[1]))
                .collect::<Vec<_>>();
            wrong.push(format!(
                "{} in {}: told alike on both sides of {at} ({figure}); changes: {change:?}",
                row.line, row.room
            ));
        }
    }
    for line in &list {
        for room in &line.rooms {
            let here = rows.iter().any(|row| row.line == line.name && row.room == room);
            let there = ELSEWHERE.iter().any(|(name, of, _)| name == &line.name && of == room);
            if !here && !there {
                wrong.push(format!("{} in {room}: no case", line.name));
            }
        }
    }
    let tests: String = std::fs::read_dir(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/rules"))
        .unwrap()
        .filter_map(|file| std::fs::read_to_string(file.unwrap().path()).ok())
        .collect();
    for (line, room, named) in ELSEWHERE {
        let stands = tests.contains(&format!("fn {named}(")) || tests.contains(&format!("#[{named}("));
        let used = list.iter().any(|one| one.name == *line && one.rooms.iter().any(|of| of == room));
        if !stands || !used {
            wrong.push(format!("{line} in {room}: there is no test {named}, or no such use"));
        }
    }
    assert!(wrong.is_empty(), "{}\n{}", wrong.len(), wrong.join("\n"));
}
