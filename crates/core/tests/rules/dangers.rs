//! What can hurt somebody or set a pack alight, generated: each of these has to be refused, or told before
//! anything flows, wherever in its range it lies.

use proptest::prelude::*;
use proptest::strategy::Union;
use rstest::rstest;
use rumek_core::codes::CheckCode::{self, *};
use rumek_core::formats::SayingCode;
use rumek_core::formats::Severity::{self, Caution, Stop};
use serde_json::{Value, json};

use crate::merge;
use crate::properties::ask;

/// A plan with a danger in it, and what has to be said of it.
type Danger = (Value, CheckCode, Severity);

fn bench(pack: Value, rest: Value) -> Value {
    let mut plan = json!({"format": "rumek.plan/1", "pack": {"series": 4, "capacity_ah": 10, "start": {"soc": 0.5}},
        "source": {"kind": "bench_supply", "max_voltage_v": 80, "max_current_a": 60}});
    merge(&mut plan["pack"], &pack);
    if pack["start"].get("rest_voltage_v").is_some() {
        plan["pack"]["start"]["soc"] = Value::Null;
    }
    merge(&mut plan, &rest);
    plan
}

fn lithium() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec!["lipo", "lihv", "li_ion", "lfp"])
}

fn lead() -> impl Strategy<Value = &'static str> {
    prop::sample::select(vec!["lead_flooded", "lead_agm", "lead_gel"])
}

/// Lithium too fast for its cold: more than twice what is usual there.
fn cold_rate() -> impl Strategy<Value = Danger> {
    (lithium(), 0.0..4.9f64, 2.05..20.0f64).prop_map(|(chemistry, c, factor)| {
        let plan = bench(
            json!({"chemistry": chemistry, "temperature_c": c, "rated_c_rate": 3}),
            json!({"settings": {"current_a": factor}}),
        );
        (plan, PackColdRate, Stop)
    })
}

fn out_of_its_window() -> impl Strategy<Value = Danger> {
    (lithium(), prop_oneof![-30.0..-0.1f64, 45.1..70.0f64]).prop_map(|(chemistry, c)| {
        let code = if c < 0.0 { PackTooCold } else { PackTooHot };
        (bench(json!({"chemistry": chemistry, "temperature_c": c}), json!({})), code, Stop)
    })
}

fn faster_than_its_label() -> impl Strategy<Value = Danger> {
    (lithium(), 0.5..4.0f64, 1.01..4.0f64).prop_map(|(chemistry, label, over)| {
        let set_a = (label * over * 10.0).min(59.0);
        let plan =
            bench(json!({"chemistry": chemistry, "rated_c_rate": label}), json!({"settings": {"current_a": set_a}}));
        (plan, PackRateTooHigh, Stop)
    })
}

/// A number on a label that says what a pack may give.
fn a_label_of_what_it_gives() -> impl Strategy<Value = Danger> {
    (lithium(), 5.1..120.0f64, 5.1..6.0f64).prop_map(|(chemistry, label, c)| {
        let plan = bench(
            json!({"chemistry": chemistry, "rated_c_rate": label}),
            json!({"practice": "hurry", "settings": {"current_a": c * 10.0},
                "accept": ["pack.rate_too_high"]}),
        );
        (plan, PackRateTooHigh, Stop)
    })
}

fn recovered() -> impl Strategy<Value = Danger> {
    (lithium(), 1.0..5.0f64, 5.1..40.0f64).prop_map(|(chemistry, label, set_a)| {
        let plan = bench(
            json!({"chemistry": chemistry, "rated_c_rate": label, "mark": "recovered"}),
            json!({"settings": {"current_a": set_a}}),
        );
        (plan, PackRecoveredRate, Stop)
    })
}

fn deeply_discharged() -> impl Strategy<Value = Danger> {
    (0.3..2.4f64, 2u32..14).prop_map(|(cell_v, series)| {
        let cells: Vec<f64> = (0..series).map(|n| cell_v + 0.01 * f64::from(n % 3)).collect();
        let pack = json!({"chemistry": "lipo", "series": series, "start": {"soc": null, "cell_voltages_v": cells}});
        (bench(pack, json!({})), PackDeeplyDischarged, Stop)
    })
}

/// Nickel that may be full, at a rate at which only a clock would end it.
fn nickel_unknown() -> impl Strategy<Value = Danger> {
    (prop::sample::select(vec!["nimh", "nicd"]), 1.25..4.9f64, 1.2..1.35f64).prop_map(|(chemistry, set_a, cell_v)| {
        let plan = bench(
            json!({"chemistry": chemistry, "series": 6, "start": {"rest_voltage_v": 6.0 * cell_v}}),
            json!({"settings": {"current_a": set_a}}),
        );
        (plan, PackStartUnknown, Stop)
    })
}

fn frozen() -> impl Strategy<Value = Danger> {
    (lead(), -14.5..-10.5f64, 0.0..0.1f64).prop_map(|(chemistry, c, soc)| {
        (
            bench(json!({"chemistry": chemistry, "series": 6, "temperature_c": c, "start": {"soc": soc}}), json!({})),
            PackFrozen,
            Stop,
        )
    })
}

fn dead_cell() -> impl Strategy<Value = Danger> {
    (lead(), 10.31..10.89f64, 1u32..3).prop_map(|(chemistry, rest_v, blocks)| {
        // Who sets a usual current all the same is stopped; left open, it is a twentieth for an hour.
        let pack = json!({"chemistry": chemistry, "series": 6, "packs_in_parallel": blocks, "start": {"rest_voltage_v": rest_v}});
        (bench(pack, json!({"settings": {"current_a": 5}, "source": {"kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 30}})), PackDeadCell, Stop)
    })
}

fn hot_valve_regulated() -> impl Strategy<Value = Danger> {
    (prop::sample::select(vec!["lead_agm", "lead_gel"]), 50.1..70.0f64).prop_map(|(chemistry, c)| {
        (bench(json!({"chemistry": chemistry, "series": 6, "temperature_c": c}), json!({})), PackTooHot, Stop)
    })
}

/// Packs joined so far apart that the lower one is charged faster than it may be.
fn inrush() -> impl Strategy<Value = Danger> {
    (lithium(), 0.101..0.4f64, 1usize..5).prop_map(|(chemistry, apart_v, others)| {
        let rest_v = if chemistry == "lfp" { 13.0 } else { 15.0 };
        let higher: Vec<Value> =
            (0..others).map(|_| json!({"capacity_ah": 10, "rest_voltage_v": rest_v + 4.0 * apart_v})).collect();
        let plan =
            bench(json!({"chemistry": chemistry, "start": {"rest_voltage_v": rest_v}}), json!({"other_packs": higher}));
        (plan, PackParallelMismatch, Stop)
    })
}

/// Near each other by volts, but low in resistance behind a board that lets little through.
fn inrush_through_a_board() -> impl Strategy<Value = Danger> {
    (0.06..0.09f64, 10.0..60.0f64).prop_map(|(apart_v, bms_a)| {
        let plan = bench(
            json!({"chemistry": "lfp", "capacity_ah": 200, "bms": {"max_charge_a": bms_a}, "start": {"rest_voltage_v": 13.0}}),
            json!({"other_packs": [{"capacity_ah": 200, "rest_voltage_v": 13.0 + 4.0 * apart_v}]}),
        );
        (plan, PackParallelMismatch, Stop)
    })
}

fn a_fuse_that_arcs_on() -> impl Strategy<Value = Danger> {
    (10u32..24, 5.0..30.0f64).prop_map(|(series, fuse_a)| {
        let plan = bench(
            json!({"chemistry": "lfp", "series": series, "balancer": "built_in"}),
            json!({"source": {"max_voltage_v": 100}, "leads": {"output": {"area_mm2": 10, "length_m": 1, "fuse_a": fuse_a}}}),
        );
        (plan, LeadsFuseVoltage, Caution)
    })
}

fn lethal() -> impl Strategy<Value = Danger> {
    (prop::sample::select(vec![("lfp", 3.65), ("lipo", 4.2), ("li_ion", 4.2)]), 121.0..420.0f64).prop_map(
        |((chemistry, full_v), volts)| {
            let series = (volts / full_v).ceil() as u32;
            let plan = bench(
                json!({"chemistry": chemistry, "series": series, "balancer": "built_in"}),
                json!({"source": {"max_voltage_v": 450}}),
            );
            (plan, PackLethalVoltage, Stop)
        },
    )
}

/// A resistor that bears the charge, and burns into a short.
fn limiter_into_a_short() -> impl Strategy<Value = Danger> {
    (2.0..8.0f64, 1.3..8.0f64).prop_map(|(ohm, short)| {
        // It bears three times what the charge puts into it at most, and a part of what a short does.
        let bears_w = 15.0 * 15.0 / ohm / short;
        let plan = json!({"format": "rumek.plan/1", "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 40, "start": {"soc": 0.8}},
            "source": {"kind": "fixed_supply", "voltage_v": 15, "max_current_a": 20, "overload": "constant_current"},
            "charger": {"kind": "resistor", "resistance_ohm": ohm, "rated_w": bears_w}, "settings": {"stop_voltage_v": 14.4}});
        (plan, ChargerLimiterHeat, Caution)
    })
}

fn not_isolated() -> impl Strategy<Value = Danger> {
    (any::<bool>(), 2u32..4).prop_map(|(known, units)| {
        let mut rest = json!({"source": {"units": units, "wiring": "series", "max_voltage_v": 15}});
        if known {
            // Whoever accepts a short that is known gets it nevertheless refused.
            rest["source"]["isolated_outputs"] = json!(false);
            rest["accept"] = json!(["source.not_isolated"]);
        }
        (bench(json!({"chemistry": "lipo", "balancer": "built_in"}), rest), SourceNotIsolated, Stop)
    })
}

fn too_many_volts() -> impl Strategy<Value = Danger> {
    (
        prop::sample::select(vec![("lipo", 4.22), ("lihv", 4.37), ("lfp", 3.67), ("lto", 2.82), ("sodium_ion", 4.02)]),
        1.001..1.4f64,
    )
        .prop_map(|((chemistry, ceiling_v), over)| {
            let plan = bench(
                json!({"chemistry": chemistry}),
                json!({"settings": {"voltage_v": 4.0 * ceiling_v * over + 0.002}}),
            );
            (plan, SettingsVoltageTooHigh, Stop)
        })
}

fn wire_without_a_limit() -> impl Strategy<Value = Danger> {
    (18u32..26, 12.0..40.0f64).prop_map(|(awg, port_a)| {
        let plan = json!({"format": "rumek.plan/1", "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 100},
            "source": {"kind": "regulated_port", "voltage_v": 14.4, "max_current_a": port_a},
            "leads": {"output": {"awg": awg, "length_m": 0.3}}});
        (plan, LeadsUndersized, Stop)
    })
}

fn plug_without_a_limit() -> impl Strategy<Value = Danger> {
    (
        prop::sample::select(vec![
            ("clips_small", 5.0),
            ("clips_large", 10.0),
            ("banana", 15.0),
            ("two_pin_30a", 30.0),
        ]),
        1.3..3.0f64,
    )
        .prop_map(|((connector, carries_a), over)| {
            let plan = json!({"format": "rumek.plan/1", "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 200},
                "source": {"kind": "regulated_port", "voltage_v": 14.4, "max_current_a": carries_a * over},
                "leads": {"output": {"area_mm2": 50, "length_m": 0.3, "connector": connector}}});
            (plan, LeadsConnector, Stop)
        })
}

fn danger() -> impl Strategy<Value = Danger> {
    Union::new([
        cold_rate().boxed(),
        out_of_its_window().boxed(),
        faster_than_its_label().boxed(),
        a_label_of_what_it_gives().boxed(),
        recovered().boxed(),
        deeply_discharged().boxed(),
        nickel_unknown().boxed(),
        frozen().boxed(),
        dead_cell().boxed(),
        hot_valve_regulated().boxed(),
        inrush().boxed(),
        inrush_through_a_board().boxed(),
        a_fuse_that_arcs_on().boxed(),
        lethal().boxed(),
        limiter_into_a_short().boxed(),
        not_isolated().boxed(),
        too_many_volts().boxed(),
        wire_without_a_limit().boxed(),
        plug_without_a_limit().boxed(),
    ])
}

proptest! {
    #![proptest_config(crate::kept(4000, file!()))]

    #[test]
    fn every_danger_is_refused_or_told((plan, code, severity) in danger()) {
        let result = ask(&plan);
        let said = result.checks.iter().find(|check| check.code == code && check.severity == severity);
        prop_assert!(said.is_some_and(|check| !check.accepted), "{code:?}: {:?}", result.checks);
        prop_assert!(severity != Stop || (result.settings.is_none() && result.steps.is_empty()));
    }

    /// An hour of too much at 1C is 25 W of heat in six cells: a fast nickel charge has a clock behind it, and what
    /// goes in is near what was missing.
    #[test]
    fn a_fast_nickel_charge_is_over_in_time(nicd in any::<bool>(), rate in 0.5..1.9f64, soc in 0.0..0.6f64, c in 10.0..34.0f64) {
        let chemistry = if nicd { "nicd" } else { "nimh" };
        let result = ask(&bench(
            json!({"chemistry": chemistry, "series": 6, "start": {"soc": soc}, "temperature_c": c}),
            json!({"settings": {"current_a": 10.0 * rate}}),
        ));
        let missing_ah = 10.0 * (1.0 - soc);
        prop_assert!(result.delivered.charge_ah <= 1.26 * missing_ah, "{} of {missing_ah}", result.delivered.charge_ah);
        let limit_h = result.settings.unwrap().time_limit_h.unwrap();
        prop_assert!(limit_h <= 1.26 * missing_ah / (10.0 * rate), "{limit_h}");
    }

    /// Past its peak, or warming as only a full one does, it is told to be ended whatever the plan expected.
    #[test]
    fn a_full_nickel_pack_is_told(nicd in any::<bool>(), rate in 0.5..1.5f64, past in 1.1..6.0f64, k_min in 1.05..4.0f64, by_warmth in any::<bool>()) {
        let chemistry = if nicd { "nicd" } else { "nimh" };
        let plan = bench(
            json!({"chemistry": chemistry, "series": 6, "start": {"soc": 0.2}, "temperature_c": 21}),
            json!({"settings": {"current_a": 10.0 * rate}}),
        );
        let falls_v = 6.0 * if nicd { 0.015 } else { 0.005 };
        let (fallen_v, warmer_c) = if by_warmth { (0.0, 5.0 * k_min) } else { (past * falls_v, 0.0) };
        let reading = |t_s: f64, v: f64, c: f64| json!({"t_s": t_s, "terminal_v": v, "terminal_a": 10.0 * rate, "temperature_c": c});
        let readings = json!([reading(600.0, 8.9, 22.0), reading(2400.0, 9.30, 25.0), reading(2700.0, 9.30 - fallen_v, 25.0 + warmer_c)]);
        let asked = json!({"plan": plan, "readings": readings});
        let state = rumek_core::understand(&rumek_core::formats::from_value(&asked).unwrap()).unwrap();
        let told = state.said.iter().any(|said| {
            matches!(said.code, SayingCode::Full | SayingCode::Warming) && said.message.contains("End the charge now")
        });
        prop_assert!(told, "{:?}", state.said);
    }
}

/// A charger that cannot be set gives its watts at the volts at which the pack rests, a little below where a charge
/// takes it: 82.0 W there are just within what this lead pack is ever charged with, 82.1 W are not.
#[rstest]
#[case(82.0, false)]
#[case(82.1, true)]
fn a_charger_that_cannot_be_set_is_judged_from_where_the_pack_rests(#[case] watts: f64, #[case] refused: bool) {
    let result = ask(&json!({
        "format": "rumek.plan/1",
        "pack": { "chemistry": "lead_agm", "series": 6, "capacity_ah": 13.44, "start": { "soc": 0.368 }, "temperature_c": 22 },
        "charger": { "kind": "smart_charger", "output_max_a": 6.78, "output_max_w": watts },
        "source": { "kind": "fixed_supply", "voltage_v": 24, "max_current_a": 4.7 }
    }));
    let stop = result.checks.iter().find(|check| check.code == CheckCode::PackRateTooHigh && check.severity == Stop);
    assert_eq!(stop.is_some(), refused, "{:?}", result.checks);
    assert!(stop.is_none_or(|stop| !stop.message.contains("load")), "{stop:?}");
}
