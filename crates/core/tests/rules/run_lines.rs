//! The lines that Run judges by, each with a case on which it lies.

use rumek_core::formats::{PlanDoc, PreflightAskDoc, RunAskDoc, RunStateDoc, from_value};
use rumek_core::{preflight, refit_of, understand};
use serde_json::{Value, json};

use crate::line_walk::{Row, Said, row, words};
use crate::{ask, merge, plan_value};

fn state(asked: &Value) -> RunStateDoc {
    understand(&from_value::<RunAskDoc>(asked).unwrap()).unwrap()
}

fn said(asked: Value) -> Vec<String> {
    state(&asked)
        .said
        .iter()
        .map(|said| format!("{:?} {} {}", said.severity, said.code.code(), words(&said.message)))
        .collect()
}

/// The list before a start: each item with whether it is in order and what it says.
fn listed(asked: Value) -> Vec<String> {
    let list = preflight(&from_value::<PreflightAskDoc>(&asked).unwrap()).unwrap();
    list.items.iter().map(|item| format!("{} {:?} {}", item.code.code(), item.ok, words(&item.message))).collect()
}

/// Whether six readings, as planned, of a charge with so many amps teach something that is worth keeping: `{ amps }`.
fn taught(asked: Value) -> Vec<String> {
    let known = json!({ "pack": { "chemistry": "lfp", "resistance_mohm": 40, "start": { "soc": 0.5 } }, "settings": { "current_a": asked["amps"] } });
    let curve = ask(known.clone()).curve;
    let readings = (1..=6).map(|n| {
        let t_s = 100.0 * f64::from(n);
        let at = curve.iter().min_by(|a, b| (a.t_s - t_s).abs().total_cmp(&(b.t_s - t_s).abs())).unwrap();
        json!({ "t_s": t_s, "terminal_v": at.pack_v, "terminal_a": at.current_a })
    });
    let run = json!({ "plan": plan_value(known), "readings": readings.collect::<Vec<_>>() });
    vec![format!("{}", state(&run).keep.health.is_some())]
}

/// Whether a charge counts as a whole one that began and stands at these states of charge: `{ run, begun, soc }`.
fn whole(asked: Value) -> Vec<String> {
    let mut state = serde_json::to_value(state(&asked["run"])).unwrap();
    state["fit"]["start_soc"] = asked["begun"].clone();
    state["soc"] = asked["soc"].clone();
    state["keep"]["health"] = json!(1.0);
    let plan: PlanDoc = from_value(&asked["run"]["plan"]).unwrap();
    let refit = refit_of(&plan, &serde_json::from_value(state).unwrap());
    vec![format!("{:?}", refit.unwrap().whole)]
}

/// A log without a source whose volts fall at once by `fell_v`, and rise before and after.
fn fell(asked: Value) -> Vec<String> {
    let fell_v = asked["fell_v"].as_f64().unwrap();
    let volts = |n: u32| 14.4 + 0.1 * f64::from(n) - if n > 3 { fell_v + 0.1 } else { 0.0 };
    let readings: Vec<Value> =
        (0..8).map(|n| json!({ "t_s": 400 * n, "terminal_v": volts(n), "terminal_a": 1.0 })).collect();
    let pack = json!({ "chemistry": "li_ion", "series": 4, "capacity_ah": 2, "start": { "soc": 0.2 } });
    said(json!({ "plan": { "format": "rumek.plan/1", "pack": pack }, "readings": readings }))
}

/// A charge with 4 A, looked at twice.
fn charging(plan: Value, last: Value) -> Value {
    let mut run = json!({ "plan": plan_value(json!({ "pack": { "temperature_c": 21 } })),
        "readings": [{ "t_s": 300, "terminal_v": 22.9, "source_a": 4.0, "temperature_c": 21 },
                     { "t_s": 1500, "terminal_v": 23.6, "source_a": 4.0, "temperature_c": 22 }] });
    merge(&mut run["plan"], &plan);
    merge(&mut run["readings"][1], &last);
    run
}

/// A full pack that is run down with 2 A, looked at twice.
fn running_down(asks: Value, last: Value) -> Value {
    let mut run = json!({ "plan": { "format": "rumek.plan/1",
            "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "temperature_c": 21, "discharge_c_rate": 5, "start": { "soc": 1.0 } } },
        "discharge": { "by": "electronic_load", "current_a": 2, "to_v_per_cell": 3.2 },
        "readings": [{ "t_s": 0, "terminal_v": 25.0, "terminal_a": 2.0, "temperature_c": 21 },
                     { "t_s": 6000, "terminal_v": 20.8, "terminal_a": 2.0, "temperature_c": 23 }] });
    merge(&mut run, &asks);
    merge(&mut run["readings"][1], &last);
    run
}

fn nickel(last: Value) -> Value {
    let plan = json!({ "pack": { "chemistry": "nimh", "capacity_ah": 2, "balancer": "none", "start": { "soc": 0.5 } }, "settings": { "current_a": 1.4 } });
    let mut run = charging(plan, json!({ "source_a": 1.4, "t_s": 540, "temperature_c": 24.2 }));
    run["readings"][0]["source_a"] = json!(0.9);
    run["readings"][0]["terminal_v"] = json!(8.4);
    run["readings"][1]["terminal_v"] = json!(8.5);
    merge(&mut run["readings"][1], &last);
    run
}

const AMPS: &str = "/readings/1/source_a";
const OUT_A: &str = "/readings/1/terminal_a";
const VOLTS: &str = "/readings/1/terminal_v";
const TIME: &str = "/readings/1/t_s";
const WARMTH: &str = "/readings/1/temperature_c";
const SIXTH: &str = "/readings/1/cell_voltages_v/5";
const ANSWER: &str = "/answers/0/value";

fn cells(five: f64, sixth: f64) -> Value {
    json!([five, five, five, five, five, sixth])
}

fn answer(code: &str) -> Value {
    json!({ "plan": plan_value(json!({})), "answers": [{ "code": code, "value": 1 }] })
}

pub(super) fn rows() -> Vec<Row> {
    let run =
        |line: &'static str, said: Said, document: Value, field: &'static str| row(line, "run", said, document, field);
    let mut rows = amps_and_displays();
    rows.extend(volts_and_cells());
    rows.extend(running_down_rows());
    rows.extend([
        run("warmth.warming_k_min", said, charging(json!({}), json!({ "t_s": 540 })), WARMTH).at(4.0, 21.0),
        run("warmth.warms_slower_c", said, nickel(json!({})), AMPS).at(2.0, 0.0),
        run("ends.falls_from_c", said, nickel(json!({ "terminal_v": 8.3 })), AMPS).at(2.0, -0.085),
        run("readings.teaches", taught, json!({ "amps": 3 }), "/amps").at(0.0, 2.9).near(0.05),
        run(
            "warmth.charge_max_c",
            said,
            charging(json!({ "ambient_c": 40, "pack": { "temperature_c": 38 } }), json!({})),
            WARMTH,
        ),
        run(
            "wear.whole_from",
            whole,
            json!({ "run": charging(json!({}), json!({})), "begun": 0.2, "soc": 0.95 }),
            "/begun",
        )
        .near(0.001),
        run(
            "wear.whole_to",
            whole,
            json!({ "run": charging(json!({}), json!({})), "begun": 0.2, "soc": 0.95 }),
            "/soc",
        )
        .near(0.001),
        run("meters.set_v", listed, answer("no_load_voltage"), ANSWER).at(6.0, 25.2),
        run("meters.set_a", listed, answer("current_limit"), ANSWER).at(1.0, 4.2).near(0.003),
        run("meters.set_least", listed, answer("current_limit"), ANSWER).at(4.0, -0.02).near(0.003),
        run("meters.set_most", listed, answer("current_limit"), ANSWER).at(4.0, 0.02).near(0.003),
    ]);
    rows
}

fn amps_and_displays() -> Vec<Row> {
    let run =
        |line: &'static str, said: Said, document: Value, field: &'static str| row(line, "run", said, document, field);
    let knob = json!({ "source": { "kind": "adjustable_supply", "min_voltage_v": 10, "max_voltage_v": 30 } });
    vec![
        run("flow.more", said, charging(json!({ "pack": { "rated_c_rate": 3 } }), json!({})), AMPS)
            .at(4.0, 0.0)
            .near(0.02),
        run("flow.far_over_label", said, charging(json!({ "pack": { "rated_c_rate": 1.02 } }), json!({})), AMPS)
            .at(4.08, 0.0)
            .near(0.02),
        run("flow.displays_apart", said, charging(json!({}), json!({ "bms_a": 3.7 })), "/readings/1/bms_a")
            .at(-4.0, 4.0)
            .near(0.005),
        run(
            "flow.displays_apart_a",
            said,
            charging(json!({}), json!({ "source_a": 0.5, "bms_a": 0.4 })),
            "/readings/1/bms_a",
        )
        .at(-1.0, 0.5)
        .near(0.005),
        run("flow.left_alone", said, charging(knob, json!({})), AMPS).near(0.02),
        run("meters.amps", said, charging(json!({}), json!({})), AMPS).at(-6.0, 4.0 - 0.045).near(0.005),
        run("meters.amps_a", said, charging(json!({}), json!({})), AMPS).at(-1.5, 4.0 - 0.36).near(0.005),
        run("leads.stray_ohm", said, charging(json!({}), json!({ "source_v": 24.0 })), "/readings/1/source_v")
            .at(4.0 / 0.99, 23.7 / 0.99)
            .near(0.005),
        run("leads.stray_v", said, charging(json!({}), json!({ "source_v": 24.0 })), "/readings/1/source_v")
            .at(1.0 / 0.99, 23.68 / 0.99)
            .near(0.005),
    ]
}

fn volts_and_cells() -> Vec<Row> {
    let run =
        |line: &'static str, said: Said, document: Value, field: &'static str| row(line, "run", said, document, field);
    let with_cells = |five: f64, sixth: f64| charging(json!({}), json!({ "cell_voltages_v": cells(five, sixth) }));
    vec![
        run("cells.behind_v", said, with_cells(3.93, 3.9), SIXTH).at(-1.2, 3.93).near(0.003),
        run("cells.ahead_v", said, with_cells(4.17, 4.17), SIXTH).at(1.2, 4.17).near(0.003),
        run("meters.cell_v", said, with_cells(4.0, 4.1), SIXTH).at(1.0, 4.22).near(0.003),
        run("cells.missing", said, charging(json!({}), json!({})), VOLTS).at(-3.678, 23.861).near(0.02),
        run("cells.lost_least", fell, json!({ "fell_v": 3.7 }), "/fell_v").at(3.6, 0.0).near(0.02),
        run("cells.lost_most", fell, json!({ "fell_v": 3.7 }), "/fell_v").at(3.6, 0.0).near(0.02),
        run("meters.terminals", said, charging(json!({}), json!({ "terminal_v": 25.0 })), VOLTS)
            .at(25.32, 25.34)
            .near(0.005),
        run("meters.terminals_v", said, charging(json!({}), json!({ "terminal_v": 25.0 })), VOLTS)
            .at(1.0, 25.32 * 1.006)
            .near(0.005),
    ]
}

fn running_down_rows() -> Vec<Row> {
    let run =
        |line: &'static str, said: Said, document: Value, field: &'static str| row(line, "run", said, document, field);
    let with_cells = |five: f64, sixth: f64| running_down(json!({}), json!({ "cell_voltages_v": cells(five, sixth) }));
    let charger = json!({ "plan": { "source": { "kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 80, "soc": 0.8 },
        "charger": { "kind": "hobby_charger", "input_min_v": 10, "input_max_v": 18, "output_max_a": 10, "output_max_w": 200, "discharge_max_a": 2, "discharge_max_w": 60 } },
        "discharge": { "by": "charger", "current_a": 2 } });
    let lead = json!({ "plan": { "pack": { "chemistry": "lead_agm", "capacity_ah": 20 } }, "discharge": { "to_v_per_cell": 1.8 } });
    vec![
        run("warmth.out_warmer_k", said, running_down(json!({}), json!({})), WARMTH).at(1.0, 21.0),
        run("cells.first_v", said, with_cells(3.45, 3.4), SIXTH).at(-1.2, 3.45).near(0.003),
        run("cells.near_end_v", said, with_cells(3.5, 3.4), SIXTH).at(1.0, 3.2).near(0.003),
        run("deep.under_load", said, with_cells(3.0, 2.9), SIXTH).at(-3.7, 3.0).near(0.003),
        run("meters.again_cell_v", said, with_cells(3.25, 3.22), SIXTH).at(1.0, 3.2).near(0.002),
        run("readings.unread", said, running_down(json!({}), json!({ "terminal_v": 22.8 })), TIME).at(7200.0, 0.0).near(10.0),
        run("ends.steep", said, running_down(json!({}), json!({ "terminal_v": 15.0 })), TIME).at(-7200.0, 6719.0).near(10.0),
        run("ends.run_down", said, running_down(charger, json!({ "terminal_a": 0.0 })), VOLTS).at(0.0, 22.566).near(0.02),
        run("wear.from_full", listed, json!({ "plan": running_down(json!({}), json!({}))["plan"], "discharge": running_down(json!({}), json!({}))["discharge"], "answers": [{ "code": "rest_voltage", "value": 23.0 }] }), "/plan/pack/start/soc").near(0.002),
        run("outward.lead_under_load", said, running_down(lead, json!({ "terminal_v": 11.0 })), VOLTS).at(10.5, -0.36),
        run("meters.amps", said, running_down(json!({}), json!({ "terminal_v": 22.8, "t_s": 1800 })), OUT_A).at(-3.0, 2.0 - 0.045).near(0.005),
    ]
}
