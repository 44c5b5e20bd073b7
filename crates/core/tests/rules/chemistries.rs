//! Every chemistry answers, and rest voltage tells what it can.

use rumek_core::chemistries;
use rumek_core::codes::Chemistry;
use serde_json::json;

use crate::ask;

#[test]
fn every_chemistry_answers_with_settings_and_an_end() {
    for doc in chemistries() {
        let code = doc.chemistry.code();
        let pack = match doc.chemistry {
            Chemistry::Supercap => {
                json!({"chemistry": code, "capacity_ah": null, "capacitance_f": 350})
            }
            Chemistry::Custom => {
                json!({"chemistry": code, "cell": {"empty_v": 2.0, "nominal_v": 2.6, "full_v": 3.0}})
            }
            _ => json!({"chemistry": code}),
        };
        let result = ask(json!({"pack": pack}));
        let total_s = result.time.total_s.unwrap_or_else(|| panic!("{code} ends: {:?}", result.checks));
        assert!(result.settings.is_some() && total_s > 60.0, "{code} {total_s}");
        let (low, high) = (result.time.total_low_s.unwrap(), result.time.total_high_s.unwrap());
        assert!(low <= total_s && total_s <= high, "{code}");
        // Sodium-ion without a label ends where the lowest of its makers do.
        assert!(result.end.soc > 0.85, "{code} ends at {}", result.end.soc);
    }
}

#[test]
fn a_flat_curve_says_a_range_and_a_longer_rest_narrows_it() {
    let width = |start: serde_json::Value| {
        let result = ask(json!({"pack": {"chemistry": "lfp", "series": 4, "start": start}}));
        result.start.soc_high - result.start.soc_low
    };
    let unknown = width(json!({"soc": null, "rest_voltage_v": 13.2}));
    let rested = width(json!({"soc": null, "rest_voltage_v": 13.2, "rested_min": 600, "last": "discharged"}));
    assert!(unknown > 0.25, "{unknown}");
    assert!(rested < unknown, "{rested} {unknown}");
}

#[test]
fn a_nickel_rest_voltage_tells_nothing() {
    let result = ask(json!({"pack": {"chemistry": "nimh", "start": {"soc": null, "rest_voltage_v": 7.7}}}));
    assert_eq!((result.start.soc_low, result.start.soc_high), (0.0, 1.0));
}

#[test]
fn cold_packs_take_longer() {
    let total = |c: f64| ask(json!({"pack": {"temperature_c": c}})).time.total_s.unwrap();
    assert!(total(2.0) > total(22.0));
}
