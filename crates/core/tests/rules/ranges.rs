//! The ranges in the schemas are those that documents are checked by.

use rumek_core::formats::{ChargerDoc, LeadDoc, PackDoc, PlanDoc, Problems, Read, SourceDoc, from_value};
use rumek_core::{answer, check_charger, check_lead, check_pack, check_source};
use serde_json::{Value, json};

use crate::merge;

/// Each number of a schema with its range: where it stands below the document, least and most.
fn ranges(schema: &Value, node: &Value, at: &str, found: &mut Vec<(String, f64, f64)>) {
    let node = match node["$ref"].as_str() {
        Some(name) => &schema["$defs"][name.rsplit('/').next().unwrap()],
        None => node,
    };
    for one in node["anyOf"].as_array().into_iter().flatten() {
        ranges(schema, one, at, found);
    }
    for (name, child) in node["properties"].as_object().into_iter().flatten() {
        ranges(schema, child, &format!("{at}/{name}"), found);
    }
    if let (Some(least), Some(most)) = (node["minimum"].as_f64(), node["maximum"].as_f64()) {
        found.push((at.to_owned(), least, most));
    }
}

fn with(base: &Value, pointer: &str, value: f64) -> Value {
    let leaf = if value.fract() == 0.0 && value >= 0.0 { json!(value as u64) } else { json!(value) };
    let patch = pointer.rsplit('/').filter(|name| !name.is_empty()).fold(leaf, |inner, name| json!({ name: inner }));
    let mut document = base.clone();
    merge(&mut document, &patch);
    document
}

/// Just outside its range a number is named, at both ends of it it is not.
fn held<T: Read + schemars::JsonSchema>(kinds: &[Value], check: impl Fn(&T) -> Result<(), Problems>) -> usize {
    let schema = schemars::schema_for!(T).to_value();
    let mut all = Vec::new();
    ranges(&schema, &schema, "", &mut all);
    let out_of_range = |document: &Value, pointer: &str| {
        let problems = from_value::<T>(document).and_then(|document| check(&document)).err().unwrap_or_default();
        problems.problems.iter().any(|problem| problem.pointer == pointer && problem.message.contains("out of range"))
    };
    for (pointer, least, most) in &all {
        let whole = |value: f64| {
            if pointer.ends_with("series")
                || ["packs_in_parallel", "units", "channels_in_use", "lamps_in_parallel", "cells_per_block"]
                    .iter()
                    .any(|name| pointer.ends_with(name))
            {
                value.round()
            } else {
                value
            }
        };
        let by = |value: f64| if whole(0.4) == 0.0 { 1.0 } else { 0.01 * f64::abs(value).max(0.01) };
        let says = |value: f64| kinds.iter().any(|kind| out_of_range(&with(kind, pointer, value), pointer));
        let never = |value: f64| kinds.iter().any(|kind| !out_of_range(&with(kind, pointer, value), pointer));
        let under = least - by(*least);
        assert!(whole(0.4) == 0.0 && under < 0.0 || says(under), "{pointer} is not refused below {least}");
        assert!(says(most + by(*most)), "{pointer} is not refused above {most}");
        assert!(never(*least) && never(*most), "{pointer} is refused at {least} or {most}");
    }
    all.len()
}

fn lipo() -> Value {
    json!({ "chemistry": "lipo", "series": 6, "capacity_ah": 4 })
}

#[test]
fn a_pack_says_its_ranges() {
    let custom = json!({ "chemistry": "custom", "series": 2, "capacity_ah": 4, "cell": { "nominal_v": 3.5, "full_v": 4.0, "empty_v": 3.0 } });
    let capacitor = json!({ "chemistry": "supercap", "series": 6, "capacitance_f": 350 });
    let mut part = lipo();
    merge(&mut part, &json!({ "goal": { "kind": "soc" } }));
    let mut rested = lipo();
    merge(&mut rested, &json!({ "start": { "block_voltages_v": [11.1, 11.1] } }));
    let mut read = lipo();
    merge(&mut read, &json!({ "start": { "rest_voltage_v": 22.2 } }));
    let kinds = [lipo(), custom, capacitor, part, rested, read];
    assert!(held::<PackDoc>(&kinds, check_pack) > 20);
}

#[test]
fn a_supply_says_its_ranges() {
    let kinds = [
        json!({ "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5, "units": 2, "wiring": "parallel" }),
        json!({ "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5, "overload": "foldback" }),
        json!({ "kind": "fixed_supply", "voltage_v": 12, "max_current_a": 5 }),
        json!({ "kind": "wall_adapter", "voltage_v": 12, "max_current_a": 5 }),
        json!({ "kind": "wall_adapter", "voltage_v": 0.5, "max_current_a": 5 }),
        json!({ "kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 40 }),
        json!({ "kind": "transformer_rectifier", "secondary_vac": 12, "rated_va": 60 }),
        json!({ "kind": "transformer_rectifier", "secondary_vac": 1, "rated_va": 60 }),
    ];
    assert!(held::<SourceDoc>(&kinds, check_source) > 20);
}

#[test]
fn a_charger_says_its_ranges() {
    let kinds = [
        json!({ "kind": "hobby_charger", "output_max_a": 8, "output_max_w": 120 }),
        json!({ "kind": "linear_module", "output_max_a": 1 }),
        json!({ "kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 21 }),
        json!({ "kind": "resistor", "resistance_ohm": 10 }),
        json!({ "kind": "pwm", "duty": 0.5, "path_resistance_mohm": 100 }),
    ];
    assert!(held::<ChargerDoc>(&kinds, check_charger) > 20);
}

#[test]
fn a_lead_says_its_ranges() {
    let kinds = [json!({ "awg": 12, "length_m": 0.5 }), json!({ "area_mm2": 2.5, "length_m": 0.5, "fuse_a": 10 })];
    assert!(held::<LeadDoc>(&kinds, check_lead) >= 7);
}

#[test]
fn a_plan_says_its_ranges() {
    let bare = json!({ "format": "rumek.plan/1", "pack": lipo(),
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 } });
    let mut relay = bare.clone();
    merge(
        &mut relay,
        &json!({ "cut_off": { "low_v": 24.0, "high_v": 25.2 }, "charger": { "kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 21 } }),
    );
    let mut lowest = bare.clone();
    merge(&mut lowest, &json!({ "cut_off": { "low_v": 0.1, "high_v": 25.2 } }));
    // The gear's own ranges are held above; here are the plan's.
    let own = |plan: &PlanDoc| answer(plan).map(|_| ());
    let schema = schemars::schema_for!(PlanDoc).to_value();
    assert!(schema["properties"]["ambient_c"]["minimum"].is_number());
    let mut found = Vec::new();
    ranges(&schema, &schema, "", &mut found);
    found.retain(|(at, ..)| {
        !["/pack", "/source", "/charger", "/leads", "/other_packs"].iter().any(|part| at.starts_with(part))
    });
    assert!(found.len() >= 10, "{found:?}");
    for (pointer, least, most) in found {
        let out = |value: f64| {
            [&bare, &relay, &lowest].iter().any(|kind| {
                let wrong = from_value::<PlanDoc>(&with(kind, &pointer, value))
                    .and_then(|plan| own(&plan))
                    .err()
                    .unwrap_or_default();
                wrong
                    .problems
                    .iter()
                    .any(|problem| problem.pointer == pointer && problem.message.contains("out of range"))
            })
        };
        assert!(out(least - 0.01 * least.abs().max(0.01)) && out(most * 1.01), "{pointer} {least} {most}");
    }
}
