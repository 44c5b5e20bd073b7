//! The physics, over generated plans.

use proptest::prelude::*;
use rumek_core::answer;
use rumek_core::formats::{EndReason, PlanDoc, ResultDoc, from_value};
use serde_json::{Value, json};

pub(crate) fn pack() -> impl Strategy<Value = Value> {
    let chemistry = prop::sample::select(vec![
        "lipo",
        "lihv",
        "li_ion",
        "lfp",
        "lto",
        "sodium_ion",
        "nimh",
        "nicd",
        "lead_flooded",
        "lead_agm",
        "lead_gel",
        "supercap",
        "custom",
    ]);
    (chemistry, 1u32..20, 0.2..200.0f64, 0.0..1.0f64, prop::option::of(0.3..3.0f64), 6.0..44.0f64, 0usize..4).prop_map(
        |(chemistry, series, ah, soc, resistance, temperature, goal)| {
            let goal = [json!({"kind": "full"}), json!({"kind": "soc", "soc": 0.7}), json!({"kind": "storage"}), json!({"kind": "full"})][goal].clone();
            let mut pack = json!({"chemistry": chemistry, "series": series, "temperature_c": temperature, "start": {"soc": soc}, "goal": goal});
            if chemistry == "supercap" {
                pack["capacitance_f"] = json!(ah * 20.0);
            } else {
                pack["capacity_ah"] = json!(ah);
                if let Some(factor) = resistance {
                    pack["resistance_mohm"] = json!(50.0 / ah * f64::from(series) * factor);
                }
            }
            if chemistry == "custom" {
                pack["cell"] = json!({"empty_v": 2.0, "nominal_v": 2.7, "full_v": 3.4});
            }
            pack
        },
    )
}

fn source() -> impl Strategy<Value = Value> {
    let overload = prop::sample::select(vec!["constant_current", "foldback", "hiccup", "shutdown", "unprotected"]);
    (any::<bool>(), 3.0..80.0f64, 0.05..60.0f64, prop::option::of(5.0..900.0f64), overload, 1u32..3).prop_map(
        |(bench, v, a, w, overload, units)| {
            let mut source = json!({"max_current_a": a, "overload": overload, "units": units});
            source["kind"] = json!(if bench { "bench_supply" } else { "fixed_supply" });
            source[if bench { "max_voltage_v" } else { "voltage_v" }] = json!(v);
            if let Some(w) = w {
                source["max_power_w"] = json!(w);
            }
            if units > 1 {
                source["wiring"] = json!("parallel");
            }
            source
        },
    )
}

prop_compose! {
    fn plan()(pack in pack(), source in prop::option::weighted(0.9, source()), load in prop::option::weighted(0.3, (any::<bool>(), 0.01..8.0f64))) -> Value {
        let mut plan = json!({"format": "rumek.plan/1", "pack": pack});
        if let Some(source) = source {
            plan["source"] = source;
        }
        if plan.get("source").is_none() || load.is_some() {
            let (current, size) = load.unwrap_or((true, 1.0));
            plan["load"] = if current { json!({"current_a": size}) } else { json!({"power_w": size * 12.0}) };
        }
        plan
    }
}

/// Charge under the curve as it is drawn, Ah.
fn drawn_ah(result: &ResultDoc) -> f64 {
    result.curve.windows(2).map(|w| (w[1].t_s - w[0].t_s) * 0.5 * (w[0].current_a + w[1].current_a) / 3600.0).sum()
}

#[test]
fn a_load_of_constant_power_leaves_a_held_voltage_where_it_is_held() {
    let result = ask(&json!({
        "format": "rumek.plan/1", "load": {"power_w": 60.143}, "source": {"kind": "bench_supply", "max_voltage_v": 3.0, "max_current_a": 37.63},
        "pack": {"chemistry": "lead_flooded", "series": 1, "capacity_ah": 64.777, "resistance_mohm": 2.1008, "temperature_c": 6.0,
            "start": {"soc": 0.921}, "goal": {"kind": "storage"}},
    }));
    let held_v = result.settings.as_ref().unwrap().dial_voltage_v;
    assert!(result.curve.iter().all(|p| p.pack_v <= held_v * 1.0001 && p.current_a > 0.0), "{:?}", result.curve);
    assert!(result.end.after_s > 4_000.0, "{:?}", result.end);
}

#[test]
fn a_source_that_just_carries_the_load_stalls_and_its_first_second_is_drawn() {
    let result = ask(&json!({
        "format": "rumek.plan/1", "load": {"power_w": 55.98}, "source": {"kind": "bench_supply", "max_voltage_v": 27.43, "max_current_a": 35.84, "max_power_w": 5.0},
        "pack": {"chemistry": "supercap", "series": 5, "capacitance_f": 4.0, "temperature_c": 6.0, "start": {"soc": 0.0}, "goal": {"kind": "full"}},
    }));
    assert_eq!(result.end.reason, EndReason::Stalled);
    assert!(
        (drawn_ah(&result) / result.delivered.charge_ah - 1.0).abs() < 0.01,
        "{} {:?}",
        drawn_ah(&result),
        result.delivered
    );
}

pub(crate) fn ask(value: &Value) -> ResultDoc {
    let plan: PlanDoc = from_value(value).expect("a valid plan reads");
    answer(&plan).unwrap_or_else(|wrong| panic!("{wrong}\n{value}"))
}

/// Every number of a result, with its path.
pub(crate) fn numbers(value: &Value, path: &str, out: &mut Vec<(String, f64)>) {
    match value {
        Value::Number(n) => out.push((path.to_owned(), n.as_f64().unwrap())),
        Value::Array(items) => items.iter().enumerate().for_each(|(n, v)| numbers(v, &format!("{path}/{n}"), out)),
        Value::Object(map) => map.iter().for_each(|(k, v)| numbers(v, &format!("{path}/{k}"), out)),
        _ => {}
    }
}

/// Below half the nominal voltage a power load draws no more amps.
fn floor_v(value: &Value) -> f64 {
    let result = ask(value);
    let code = result.resolved.pack.as_ref().unwrap().chemistry.unwrap();
    let nominal = rumek_core::chemistries().iter().find(|c| c.chemistry == code).and_then(|c| c.nominal_v);
    let own = if code.code() == "custom" { 2.7 } else { 2.5 };
    0.5 * nominal.unwrap_or(own) * f64::from(result.resolved.pack.unwrap().series.unwrap())
}

/// The refusal ceiling of a cell, V, and the rate refused without a label, C: the table of the
/// chemistries, written down a second time.
fn last_word(chemistry: &str, temperature_c: f64) -> (f64, f64) {
    let warmth = |mv: f64| mv / 1e3 * (temperature_c - 25.0);
    match chemistry {
        "lipo" => (4.22, 5.0),
        "lihv" => (4.37, 5.0),
        "li_ion" => (4.22, 2.0),
        "lfp" => (3.67, 2.0),
        "lto" => (2.82, 10.0),
        "sodium_ion" => (4.02, 3.0),
        "nimh" | "nicd" => (1.75, 2.0),
        "lead_flooded" => (2.50 + warmth(-4.0), 0.5),
        "lead_agm" => (2.48 + warmth(-3.5), 0.5),
        "lead_gel" => (2.40 + warmth(-3.5), 0.5),
        "custom" => (3.4, 1.0),
        other => panic!("{other}"),
    }
}

pub(crate) fn seconds_to(result: &ResultDoc, soc: f64) -> Option<f64> {
    result.curve.windows(2).find(|w| w[0].soc <= soc && soc <= w[1].soc).map(|w| {
        let share = if w[1].soc > w[0].soc { (soc - w[0].soc) / (w[1].soc - w[0].soc) } else { 0.0 };
        w[0].t_s + share * (w[1].t_s - w[0].t_s)
    })
}

proptest! {
    #![proptest_config(crate::kept(800, file!()))]

    #[test]
    fn answers_are_finite_ordered_and_bounded(value in plan()) {
        let result = ask(&value);
        // JSON has no NaN: serde_json turns one into null, which no number field reads back as.
        let json = serde_json::to_value(&result).unwrap();
        let again: ResultDoc = serde_json::from_value(json.clone()).expect("every number survives JSON");
        prop_assert_eq!(again.curve.len(), result.curve.len());
        let mut all = Vec::new();
        numbers(&json, "", &mut all);
        prop_assert!(all.iter().all(|(_, n)| n.is_finite()));
        prop_assert!(result.curve.len() <= 400);
        prop_assert!(result.curve.is_sorted_by(|a, b| a.t_s <= b.t_s));
        prop_assert!(result.curve.iter().all(|p| (-0.01..1.05).contains(&p.soc)), "{:?}", result.curve.last());
    }

    #[test]
    fn current_stays_within_every_limit_and_the_pinch_is_the_least(value in plan()) {
        let result = ask(&value);
        prop_assume!(result.settings.is_some());
        let settings = result.settings.clone().unwrap();
        let load = value.get("load").cloned().unwrap_or(json!({}));
        let watts = value["source"].get("max_power_w").and_then(Value::as_f64);
        let units = value["source"]["units"].as_f64().unwrap();
        for p in &result.curve {
            let load_a = load["current_a"].as_f64().unwrap_or(0.0) + load["power_w"].as_f64().unwrap_or(0.0) / p.pack_v.max(floor_v(&value));
            let total_a = p.current_a + load_a;
            prop_assert!(total_a <= settings.current_a * 1.0001 + 1e-5 * (1.0 + load_a), "{p:?} {settings:?}");
            if let Some(watts) = watts {
                prop_assert!(total_a * p.pack_v <= watts * units * 1.001, "{p:?}");
            }
            if p.current_a > 0.0 {
                prop_assert!(p.pack_v <= settings.dial_voltage_v * 1.0001, "{p:?}");
            }
            prop_assert!(p.stage_a.iter().take(2).all(|a| *a >= total_a * 0.999 - 1e-4 * (1.0 + load_a)), "{p:?}");
        }
        prop_assert!(result.limits.is_sorted_by(|a, b| a.current_a <= b.current_a));
    }

    #[test]
    fn settings_never_exceed_what_pack_label_and_chemistry_allow(
        mut value in plan(),
        rated_c in prop::option::of(0.05..4.0f64),
        bms_a in prop::option::of(0.1..20.0f64),
        own_v in prop::option::of(0.6..1.3f64),
        own_c in prop::option::of(0.05..8.0f64),
        hurry in any::<bool>(),
    ) {
        prop_assume!(value.get("source").is_some() && value["pack"]["chemistry"] != "supercap");
        let series = value["pack"]["series"].as_f64().unwrap();
        let ah = value["pack"]["capacity_ah"].as_f64().unwrap();
        if let Some(c) = rated_c {
            value["pack"]["rated_c_rate"] = json!(c);
        }
        if let Some(a) = bms_a {
            value["pack"]["bms"] = json!({"max_charge_a": a});
        }
        if hurry {
            value["practice"] = json!("hurry");
        }
        if own_v.is_some() || own_c.is_some() {
            value["settings"] = json!({"voltage_v": own_v.map(|f| f * 3.6 * series), "current_a": own_c.map(|c| c * ah)});
        }
        let result = ask(&value);
        prop_assume!(result.settings.is_some());
        let (ceiling_v, refuse_c) = last_word(value["pack"]["chemistry"].as_str().unwrap(), value["pack"]["temperature_c"].as_f64().unwrap());
        let settings = result.settings.unwrap();
        prop_assert!(settings.dial_voltage_v <= ceiling_v * series + 1e-3, "{settings:?}");
        let most_a = rated_c.unwrap_or(refuse_c) * ah;
        for p in &result.curve {
            prop_assert!(p.current_a <= most_a * 1.002 + 1e-6, "{p:?} {most_a}");
            prop_assert!(bms_a.is_none_or(|a| p.current_a <= a * 1.002 + 1e-6), "{p:?}");
        }
    }

    #[test]
    fn the_likely_time_lies_within_its_own_range(value in plan()) {
        let time = ask(&value).time;
        if let Some(total_s) = time.total_s {
            prop_assert!(time.total_low_s.unwrap() <= total_s && total_s <= time.total_high_s.unwrap(), "{time:?}");
        }
    }

    #[test]
    fn charge_and_energy_are_conserved(value in plan()) {
        let result = ask(&value);
        prop_assume!(result.curve.len() > 2);
        let ah = drawn_ah(&result);
        let d = &result.delivered;
        let scale = ah.abs().max(d.charge_ah.abs()).max(1e-6);
        prop_assert!((ah - d.charge_ah).abs() <= 5e-3 * scale, "{ah} {}", d.charge_ah);
        prop_assert!(d.mains_wh + 1e-9 >= d.source_wh && d.source_wh + 1e-9 >= 0.0);
        if value.get("load").is_none() {
            prop_assert!((d.source_wh - d.energy_wh).abs() <= 1e-3 * d.source_wh.max(1e-6), "{d:?}");
            prop_assert!(d.pack_heat_wh >= -0.02 * d.energy_wh.abs() - 1e-6, "{d:?}");
        }
        let stage_heat: f64 = result.stages.iter().map(|s| s.heat_wh).sum();
        prop_assert!((stage_heat - d.heat_wh).abs() <= 1e-6 * d.heat_wh.abs().max(1.0));
    }

    #[test]
    fn relaxing_a_limit_never_takes_longer_to_any_charge(value in plan(), field in 0usize..2, factor in 1.0..3.0f64) {
        let field = ["max_current_a", "max_power_w"][field];
        let base = ask(&value);
        prop_assume!(base.settings.is_some() && value["source"].get(field).is_some() && value["source"]["overload"] == "constant_current");
        let mut relaxed = value.clone();
        relaxed["source"][field] = json!(value["source"][field].as_f64().unwrap() * factor);
        let relaxed = ask(&relaxed);
        prop_assume!(relaxed.settings.is_some() && base.end.reason != EndReason::Discharging);
        for soc in [0.2, 0.4, 0.6, 0.8, 0.9] {
            if let (Some(slow), Some(fast)) = (seconds_to(&base, soc), seconds_to(&relaxed, soc)) {
                prop_assert!(fast <= slow * 1.01 + 1.0, "{soc}: {fast} > {slow}");
            }
        }
    }

    #[test]
    fn more_cells_scale_the_voltages_and_nothing_else(mut value in plan()) {
        prop_assume!(value.get("source").is_some() && value.get("load").is_none());
        value["source"] = json!({"kind": "bench_supply", "max_voltage_v": 500, "max_current_a": 1000, "voltage_step_v": 0.0001});
        value["pack"].as_object_mut().unwrap().remove("resistance_mohm");
        let one = { value["pack"]["series"] = json!(5); ask(&value) };
        let two = { value["pack"]["series"] = json!(10); ask(&value) };
        prop_assert_eq!(one.settings.is_some(), two.settings.is_some());
        if let (Some(a), Some(b)) = (one.time.total_s, two.time.total_s) {
            // Lead's current comes down to its stop almost level: a hair of voltage is minutes there.
            let lead = value["pack"]["chemistry"].as_str().unwrap().starts_with("lead");
            let tolerance = if lead { 5e-2 } else { 1e-2 };
            let least_s = if lead { 300.0 } else { 1.0 };
            prop_assert!((a - b).abs() < (tolerance * a).max(least_s), "{a} {b}");
            prop_assert!((2.0 * one.settings.unwrap().voltage_v - two.settings.unwrap().voltage_v).abs() < 1e-3);
        }
    }

    #[test]
    fn a_document_reads_back_equal(value in plan()) {
        let plan: PlanDoc = from_value(&value).unwrap();
        let written = serde_json::to_value(&plan).unwrap();
        prop_assert_eq!(from_value::<PlanDoc>(&written).unwrap(), plan);
        prop_assert_eq!(written["pack"]["start"]["soc"].as_f64(), value["pack"]["start"]["soc"].as_f64());
    }
}
