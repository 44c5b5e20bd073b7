//! What a stop says that lifts it is tried: the field that it names is filled with what somebody would put there, and
//! the stop is gone.

use rumek_core::answer;
use rumek_core::formats::{CheckDoc, PlanDoc, Severity, from_value};
use serde_json::{Value, json};

/// What somebody who does as told may put into a field; nothing where the field is cleared.
fn remedies(pointer: &str, plan: &Value) -> Vec<Value> {
    let fixed = |volts: f64, amps: f64| json!({ "kind": "fixed_supply", "voltage_v": volts, "max_current_a": amps, "overload": "constant_current" });
    let series = plan["pack"]["series"].as_u64().unwrap_or(6) as usize;
    let even = |volts: f64| json!(vec![volts; series]);
    match pointer {
        "/source" => vec![
            json!({ "kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 5 }),
            json!({ "kind": "mains" }),
            fixed(13.0, 30.0),
            fixed(24.0, 30.0),
            fixed(48.0, 30.0),
            fixed(6.0, 10.0),
        ],
        "/source/overload" => vec![json!("constant_current")],
        "/source/type" => vec![json!("low_voltage")],
        "/source/isolated_outputs" => vec![json!(true)],
        "/charger" => vec![
            Value::Null,
            json!({ "kind": "hobby_charger", "input_min_v": 9, "input_max_v": 60, "output_max_a": 30, "output_max_w": 1500 }),
            json!({ "kind": "resistor", "resistance_ohm": 1, "rated_w": 500 }),
            json!({ "kind": "lamp", "lamp_rated_v": 60, "lamp_rated_w": 100 }),
        ],
        "/cut_off/low_v" => vec![json!(13.9), json!(20.0), json!(25.0)],
        "/leads" => vec![
            json!({ "output": { "awg": 8, "length_m": 0.3 } }),
            json!({ "output": { "awg": 8, "length_m": 0.3, "fuse_a": 30, "fuse_v": 250, "fuse_breaks_a": 20_000, "fuse_at": "both" },
                    "input": { "awg": 6, "length_m": 0.3, "fuse_a": 40, "fuse_v": 250, "fuse_breaks_a": 20_000, "fuse_at": "both" } }),
        ],
        "/mains" => vec![json!({ "voltage_v": 230, "circuit_a": 16 })],
        "/load" | "/other_packs" | "/settings/voltage_v" | "/settings/current_a" => vec![Value::Null],
        "/pack/start/soc" => vec![json!(0.0), json!(0.5)],
        "/pack/temperature_c" => vec![json!(21.0)],
        "/pack/bms/max_charge_a" => vec![json!(100.0)],
        "/pack/capacity_ah" => vec![json!(5.0)],
        // Once Rescue has brought it back.
        "/pack/start/rest_voltage_v" => [2.05, 3.3, 3.8, 1.25, 2.3].map(|volts| json!(volts * series as f64)).to_vec(),
        "/pack/start/cell_voltages_v" => [2.06, 3.3, 3.8, 1.2, 2.3].map(even).to_vec(),
        "/pack/start/block_voltages_v" => vec![json!([12.4, 12.4, 12.4, 12.4])],
        _ => Vec::new(),
    }
}

fn put(plan: &Value, pointer: &str, value: Value) -> Value {
    let mut done = plan.clone();
    let mut here = &mut done;
    for name in pointer.split('/').skip(1) {
        if !here.is_object() {
            *here = json!({});
        }
        here = here.as_object_mut().unwrap().entry(name).or_insert(Value::Null);
    }
    *here = value;
    // What is read takes the place of what was said of the start before.
    if let Some(field) = pointer.strip_prefix("/pack/start/") {
        done["pack"]["start"].as_object_mut().unwrap().retain(|name, _| name == field);
    }
    // Cells that were read one by one are as many as there are.
    if pointer == "/pack/series" {
        let cells = plan["pack"]["start"]["cell_voltages_v"].as_array().into_iter().flatten();
        let sum_v: f64 = cells.filter_map(Value::as_f64).sum();
        if sum_v > 0.0 {
            done["pack"]["start"] = json!({ "rest_voltage_v": sum_v });
        }
    }
    done
}

/// Asserts that each field which a stop names for what lifts it does lift it. What has no field is done to the pack.
pub(crate) fn assert_lifted(plan: &Value, stop: &CheckDoc) {
    assert_eq!(stop.severity, Severity::Stop);
    assert!(!stop.lifts.is_empty(), "{}: {}", stop.code.code(), stop.message);
    for lift in &stop.lifts {
        let Some(pointer) = &lift.pointer else { continue };
        let whole = |value: f64| if pointer.ends_with("/series") { json!(value as u32) } else { json!(value) };
        let values = lift.value.map_or_else(|| remedies(pointer, plan), |value| vec![whole(value)]);
        let lifts = |value: &Value| {
            let done = put(plan, pointer, value.clone());
            let result = from_value::<PlanDoc>(&done).and_then(|plan| answer(&plan));
            result.is_ok_and(|result| {
                !result.checks.iter().any(|check| check.severity == Severity::Stop && check.code == stop.code)
            })
        };
        assert!(
            values.iter().any(lifts),
            "{}: “{}” at {pointer} lifts nothing ({} tried): {}",
            stop.code.code(),
            lift.does,
            values.len(),
            stop.message
        );
    }
}
