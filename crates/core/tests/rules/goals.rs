//! What is dialled, where it ends and why.

use rstest::rstest;
use rumek_core::codes::LimitCode;
use rumek_core::formats::EndReason::{self, *};
use serde_json::{Value, json};

use crate::ask;

#[rstest]
#[case::lipo(json!({}), 25.20, 4.0, Some(0.4))]
#[case::lipo_gentle(json!({"practice": "gentle"}), 24.60, 2.0, Some(0.4))]
#[case::lipo_hurry(json!({"practice": "hurry", "source": {"max_current_a": 20}}), 25.20, 8.0, Some(0.4))]
#[case::label_rate(json!({"practice": "hurry", "pack": {"rated_c_rate": 3}, "source": {"max_current_a": 20}}), 25.20, 12.0, Some(0.4))]
#[case::slow_label(json!({"pack": {"rated_charge_a": 1.5}}), 25.20, 1.5, Some(0.4))]
#[case::li_ion(json!({"pack": {"chemistry": "li_ion"}}), 25.20, 2.0, Some(0.2))]
#[case::lihv(json!({"pack": {"chemistry": "lihv"}}), 26.10, 4.0, Some(0.4))]
#[case::lfp(json!({"pack": {"chemistry": "lfp"}}), 21.90, 2.0, Some(0.2))]
#[case::lto(json!({"pack": {"chemistry": "lto"}}), 16.80, 4.0, Some(0.2))]
#[case::sodium(json!({"pack": {"chemistry": "sodium_ion"}}), 21.60, 2.0, Some(0.2))]
#[case::sodium_oxide(json!({"pack": {"chemistry": "sodium_ion", "label_voltage_v": {"cycle": [24.0, 24.0]}}}), 24.00, 2.0, Some(0.2))]
#[case::sodium_oxide_to_the_top(json!({"pack": {"chemistry": "sodium_ion", "label_voltage_v": {"cycle": [24.6, 24.6]}}}), 24.60, 2.0, Some(0.2))]
#[case::sodium_phosphate(json!({"pack": {"chemistry": "sodium_ion", "label_voltage_v": {"cycle": [21.6, 21.6]}}}), 21.60, 2.0, Some(0.2))]
#[case::agm_at_25(json!({"pack": {"chemistry": "lead_agm", "temperature_c": 25}}), 14.52, 0.6, Some(0.08))]
#[case::agm_at_5(json!({"pack": {"chemistry": "lead_agm", "temperature_c": 5}}), 14.94, 0.6, Some(0.08))]
#[case::agm_label(json!({"pack": {"chemistry": "lead_agm", "temperature_c": 25, "label_voltage_v": {"cycle": [14.4, 14.7]}, "rated_charge_a": 0.3}}), 14.55, 0.3, Some(0.08))]
#[case::gel_float(json!({"pack": {"chemistry": "lead_gel", "temperature_c": 25, "goal": {"kind": "float"}}}), 13.50, 0.4, Some(0.08))]
#[case::nimh_slow(json!({"pack": {"chemistry": "nimh"}}), 9.60, 0.4, None)]
#[case::nimh_fast(json!({"practice": "hurry", "pack": {"chemistry": "nimh"}}), 10.20, 2.0, None)]
#[case::parallel_packs(json!({"pack": {"packs_in_parallel": 2}, "source": {"max_current_a": 20}}), 25.20, 8.0, Some(0.8))]
#[case::small_supply(json!({"source": {"max_current_a": 2}}), 25.20, 2.0, Some(0.4))]
#[case::bms(json!({"pack": {"bms": {"max_charge_a": 1}}}), 25.20, 1.0, Some(0.4))]
fn dials(#[case] patch: Value, #[case] volts: f64, #[case] amps: f64, #[case] stop_a: Option<f64>) {
    let settings = ask(patch).settings.expect("nothing stops it");
    assert!((settings.dial_voltage_v - volts).abs() < 0.011, "{settings:?}");
    assert!((settings.current_a - amps).abs() < 1e-6, "{settings:?}");
    assert_eq!(settings.stop_current_a, stop_a);
}

#[rstest]
#[case::full(json!({}), Taper)]
#[case::by_soc(json!({"pack": {"goal": {"kind": "soc", "soc": 0.8}}}), Goal)]
#[case::storage(json!({"pack": {"goal": {"kind": "storage"}}}), Taper)]
#[case::already_there(json!({"pack": {"goal": {"kind": "storage"}, "start": {"soc": 0.7}}}), GoalBelowStart)]
#[case::by_clock(json!({"settings": {"time_limit_h": 0.25}}), TimeLimit)]
#[case::by_volts(json!({"settings": {"stop_voltage_v": 24}}), StopVoltage)]
#[case::nickel(json!({"pack": {"chemistry": "nimh"}}), TimeLimit)]
#[case::low_voltage_is_a_wish(json!({"settings": {"voltage_v": 24}}), Taper)]
#[case::low_supply(json!({"source": {"max_voltage_v": 24}}), Stalled)]
#[case::load_wins(json!({"load": {"current_a": 9}}), Discharging)]
#[case::run(json!({"source": null, "load": {"power_w": 40}}), Discharging)]
#[case::tired_gel(json!({"pack": {"chemistry": "lead_gel", "capacity_ah": 20, "resistance_mohm": 60, "start": {"soc": 0.1}}}), Taper)]
#[case::tired_lipo(json!({"pack": {"resistance_mohm": 400}}), Taper)]
#[case::float(json!({"pack": {"chemistry": "lead_gel", "capacity_ah": 20, "goal": {"kind": "float"}}}), Taper)]
#[case::refused(json!({"pack": {"mark": "retired"}}), Refused)]
fn ends(#[case] patch: Value, #[case] reason: EndReason) {
    assert_eq!(ask(patch).end.reason, reason);
}

#[test]
fn phosphate_before_too_low_a_supply_stalls_on_the_plateau_and_says_what_would_fill_it() {
    let result = ask(json!({"pack": {"chemistry": "lfp", "series": 4}, "source": {"max_voltage_v": 13.3}}));
    assert_eq!(result.end.reason, Stalled);
    assert!((0.4..0.8).contains(&result.end.soc), "{}", result.end.soc);
    assert!(result.time.total_s.is_none() && result.end.after_s > 0.0);
    assert!(result.end.fill_voltage_v.unwrap() > 13.8);
    // Ten millivolts of the port, or of the kind of cell, move that by far more than a twentieth.
    let (low, high) = (result.end.soc_low.unwrap(), result.end.soc_high.unwrap());
    assert!(low < result.end.soc && result.end.soc < high && high - low > 0.1, "{low} {high}");
    // What goes in stands for that stop, not for what a day more would bring.
    let last = result.curve.last().unwrap();
    assert!((last.current_a / result.settings.unwrap().stop_current_a.unwrap() - 1.0).abs() < 0.02, "{last:?}");
}

#[test]
fn a_voltage_set_below_full_is_a_wish_and_ends_by_its_taper() {
    let result = ask(json!({"pack": {"chemistry": "lfp", "series": 4}, "settings": {"voltage_v": 13.3}}));
    assert_eq!(result.end.reason, Taper);
    assert!(result.time.total_s.is_some() && (0.4..0.8).contains(&result.end.soc), "{:?}", result.end);
}

#[test]
fn lead_held_well_below_absorb_ends_where_its_rest_voltage_meets_it() {
    let result =
        ask(json!({"pack": {"chemistry": "lead_agm", "start": {"soc": 0.2}}, "settings": {"voltage_v": 12.6}}));
    assert_eq!(result.end.reason, Taper);
    assert!((0.4..0.85).contains(&result.end.soc), "{}", result.end.soc);
}

#[test]
fn a_pack_on_a_load_runs_as_long_as_its_charge_lasts() {
    let result = ask(json!({"source": null, "load": {"current_a": 2}, "pack": {"start": {"soc": 1.0}}}));
    let hours = result.time.total_s.unwrap() / 3600.0;
    assert!((1.9..=2.01).contains(&hours), "{hours}");
    assert!(result.delivered.charge_ah < 0.0);
}

#[test]
fn without_balancing_the_voltage_is_lowered_so_that_the_highest_cell_ends_at_full() {
    let cells = json!([3.80, 3.80, 3.80, 3.80, 3.80, 3.88]);
    let start = json!({"soc": null, "cell_voltages_v": cells});
    let result = ask(json!({"pack": {"balancer": "none", "start": start}}));
    let settings = result.settings.clone().unwrap();
    assert!(settings.dial_voltage_v < 25.15, "{settings:?}");
    let highest = result.cells.iter().map(|c| c.end_v).fold(0.0, f64::max);
    assert!((highest - 4.20).abs() < 0.01, "{highest}");
    let forced = ask(json!({"pack": {"balancer": "none", "start": start}, "settings": {"voltage_v": 25.2}}));
    assert!(forced.settings.is_none(), "the highest cell would pass its ceiling");
    let balanced = ask(json!({"pack": {"start": start}}));
    assert_eq!(balanced.settings.unwrap().dial_voltage_v, 25.2);
}

#[test]
fn power_binds_until_the_pack_is_up() {
    let result = ask(json!({"source": {"max_power_w": 60}}));
    let codes: Vec<LimitCode> = result.pinch.iter().map(|span| span.limit).collect();
    assert_eq!(codes, [LimitCode::SourcePower, LimitCode::SetVoltage]);
    let better = &result.what_if[0];
    assert!(better.without == LimitCode::SourcePower && better.advised && better.saves_s > 600.0);
}

#[test]
fn gentle_phosphate_is_ended_by_counted_charge() {
    let result = ask(json!({"practice": "gentle", "pack": {"chemistry": "lfp"}}));
    let settings = result.settings.unwrap();
    assert_eq!(result.end.reason, Goal);
    assert!((result.end.soc - 0.9).abs() < 1e-3);
    assert!((settings.stop_charge_ah.unwrap() - 0.6 * 4.0).abs() < 0.01);
}

#[test]
fn a_charge_that_ends_a_twentieth_short_has_stalled() {
    let ends = |highest_v: f64| {
        let end = ask(json!({
            "pack": {"chemistry": "li_ion", "series": 4, "capacity_ah": 10, "start": {"soc": 0.2}},
            "source": {"kind": "fixed_supply", "voltage_v": highest_v, "max_voltage_v": null, "max_current_a": 5, "overload": "constant_current"},
        }))
        .end;
        (end.reason, end.soc)
    };
    let (mut low_v, mut high_v) = (16.0, 16.8);
    for _ in 0..14 {
        let middle_v = f64::midpoint(low_v, high_v);
        if ends(middle_v).0 == EndReason::Stalled { low_v = middle_v } else { high_v = middle_v }
    }
    let ((below, below_soc), (above, above_soc)) = (ends(low_v), ends(high_v));
    assert_eq!((below, above), (EndReason::Stalled, EndReason::Taper));
    assert!((0.9490..0.9501).contains(&below_soc) && (0.9499..0.9510).contains(&above_soc), "{below_soc} {above_soc}");
}
