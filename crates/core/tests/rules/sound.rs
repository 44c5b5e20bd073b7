//! Plans that a careful practitioner makes: none of them may be refused.

use std::cell::RefCell;
use std::collections::BTreeMap;

use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use rumek_core::formats::Severity::Stop;
use serde_json::{Value, json};

use crate::properties::ask;

/// What such packs are made of: chemistry, cells in series, Ah, volts of a full cell, and a rate that is usual, C.
type Made = (&'static str, &'static [u32], (f64, f64), f64, f64);

const MADE: &[Made] = &[
    ("lipo", &[1, 2, 3, 4, 6, 8, 12], (0.3, 22.0), 4.20, 1.0),
    ("lihv", &[1, 2, 3, 4, 6], (0.3, 10.0), 4.35, 1.0),
    ("li_ion", &[1, 2, 3, 4, 5, 7, 10, 13], (1.0, 40.0), 4.20, 0.5),
    ("lfp", &[1, 4, 8, 16], (5.0, 300.0), 3.65, 0.5),
    ("lto", &[5, 6, 10, 12], (5.0, 80.0), 2.80, 1.0),
    ("sodium_ion", &[1, 4, 8, 16], (1.0, 200.0), 4.00, 0.5),
    ("nimh", &[1, 4, 6, 7, 8, 10], (0.7, 6.0), 1.70, 0.1),
    ("nicd", &[6, 7, 8, 10], (0.7, 5.0), 1.70, 0.1),
    ("lead_flooded", &[3, 6, 12], (5.0, 230.0), 2.50, 0.1),
    ("lead_agm", &[3, 6, 12], (1.2, 230.0), 2.50, 0.15),
    ("lead_gel", &[6, 12], (7.0, 230.0), 2.42, 0.1),
];

/// The thinnest gauge of those one buys that carries a current with its fuse, and that fuse, A.
fn lead_for(amps: f64, length_m: f64) -> Value {
    let fuse_a = [3.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 125.0, 150.0, 200.0]
        .into_iter()
        .find(|fuse_a| *fuse_a >= 1.25 * amps)
        .unwrap_or(250.0);
    let carries = |awg: f64| 12.0 * (0.012_668 * 92f64.powf((36.0 - awg) / 19.5)).powf(0.7);
    let awg = (-3..=20).rev().find(|awg| carries(f64::from(*awg)) >= fuse_a).unwrap_or(-3);
    json!({"awg": awg, "length_m": length_m, "fuse_a": fuse_a, "fuse_v": 80})
}

/// What feeds a pack of so many volts, full, with so many amps; and what regulates it.
fn feed(kind: u8, full_v: f64, amps: f64, pack: &Value, spare: f64, lead: f64) -> Value {
    let watts = full_v * amps;
    let mut plan = match kind {
        // A bench supply that reaches the voltage.
        0 | 1 => {
            json!({"source": {"kind": "bench_supply", "max_voltage_v": (full_v * (1.05 + spare)).max(15.0), "max_current_a": 0.3 * amps + 3.0 * spare * amps + 0.2}})
        }
        // A charger for cells on a supply of 12 V to 24 V, with watts in hand.
        2 => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": if spare < 0.5 { 13.8 } else { 24.0 }, "max_current_a": 2.0 + 1.6 * watts / 13.8},
                    "charger": {"kind": "hobby_charger", "output_max_a": 1.0 + amps, "output_max_w": 20.0 + watts, "input_min_v": 10, "input_max_v": 30}})
        }
        // A charger for the wall, bought for the pack.
        3 => {
            json!({"source": {"kind": "mains"}, "charger": {"kind": "smart_charger", "output_max_a": amps * (0.3 + 0.6 * spare)}})
        }
        // A supply with a voltage knob only, turned up by somebody who stays.
        4 => {
            json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": full_v * 1.2, "max_current_a": 1.3 * amps + 0.5}})
        }
        // A board for one cell on a USB supply.
        5 if pack["series"] == 1 && (4.1..4.3).contains(&full_v) => {
            json!({"source": {"kind": "regulated_port", "voltage_v": 5.0, "max_current_a": 2.0},
                    "charger": {"kind": "linear_module", "output_max_a": (0.5 * amps).clamp(0.05, 1.0)}})
        }
        // A module with both knobs before a battery that can feed it.
        _ => json!({"source": {"kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 20.0 + watts},
                    "charger": {"kind": "dc_dc", "topology": "buck_boost", "has_cc": true, "output_max_a": 1.0 + 1.5 * amps, "output_max_w": 20.0 + 1.3 * watts, "input_min_v": 8, "input_max_v": 40}}),
    };
    plan["format"] = json!("rumek.plan/1");
    plan["pack"] = pack.clone();
    if lead < 0.6 {
        plan["leads"] = json!({"output": lead_for(1.2 * amps, 0.3 + lead)});
    }
    plan
}

prop_compose! {
    fn sound()(
        made in prop::sample::select(MADE),
        series in any::<prop::sample::Index>(),
        size in 0.0..1.0f64,
        (kind, spare, lead) in (0u8..7, 0.0..1.0f64, 0.0..1.0f64),
        (temperature_c, soc, labelled, practice) in (15.0..32.0f64, 0.1..0.85f64, any::<bool>(), 0usize..3),
        (read, load) in (any::<bool>(), prop::option::weighted(0.2, 0.02..0.3f64)),
    ) -> Value {
        let (chemistry, cells, (least_ah, most_ah), full_v, usual_c) = made;
        let series = cells[series.index(cells.len())];
        let ah = ((least_ah * (most_ah / least_ah).powf(size)) * 100.0).round() / 100.0;
        let lithium = full_v > 2.6;
        let mut pack = json!({"chemistry": chemistry, "series": series, "capacity_ah": ah, "temperature_c": temperature_c, "start": {"soc": soc}});
        if labelled {
            pack["rated_c_rate"] = json!(2.0 * usual_c);
        }
        if lithium && series > 1 {
            pack["balancer"] = json!(if kind == 2 { "balance_lead" } else { "built_in" });
            if chemistry == "lfp" {
                pack["bms"] = json!({"max_charge_a": ah, "balances": true});
            }
        }
        if read && lithium {
            // As a meter reads it after hours of rest: what the plan itself says of that state of charge.
            let mut asked = json!({"format": "rumek.plan/1", "pack": pack, "load": {"current_a": 0.001}});
            asked["pack"]["start"] = json!({"soc": soc});
            let volts = ask(&asked).start.pack_voltage_v;
            pack["start"] = json!({"rest_voltage_v": (volts * 100.0).round() / 100.0, "rested_min": 240});
        }
        let amps = usual_c * ah;
        let mut plan = feed(kind, full_v * f64::from(series), amps, &pack, spare, lead);
        if let Some(share) = load {
            plan["load"] = json!({"current_a": share * amps});
        }
        plan["practice"] = json!(["gentle", "standard", "hurry"][practice]);
        plan
    }
}

#[test]
fn no_sound_plan_is_refused() {
    let refused: RefCell<BTreeMap<String, u32>> = RefCell::default();
    let mut runner = TestRunner::new(crate::kept(10_000, file!()));
    let done = runner.run(&sound(), |value| {
        let result = ask(&value);
        for check in result.checks.iter().filter(|check| check.severity == Stop) {
            *refused.borrow_mut().entry(check.code.code().to_owned()).or_default() += 1;
            println!("{}: {}\n  {value}", check.code.code(), check.message);
        }
        Ok(())
    });
    done.unwrap_or_else(|wrong| panic!("{wrong}"));
    assert!(refused.borrow().is_empty(), "{:?}", refused.borrow());
}
