//! Lead-acid: how an absorption ends, and what a load gets out of a battery.

use rstest::rstest;
use rumek_core::codes::CheckCode::*;
use rumek_core::formats::EndReason;
use rumek_core::formats::Severity::{Caution, Note};
use serde_json::{Value, json};

use crate::{ask, severity};

fn lead(patch: Value) -> Value {
    let mut plan = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 18, "temperature_c": 25, "balancer": "none", "start": {"soc": 0.4}}});
    crate::merge(&mut plan, &patch);
    plan
}

#[rstest]
#[case::label_as_printed(json!({"pack": {"label_voltage_v": {"cycle": [14.4, 15.0]}}}))]
#[case::upper_end_set(json!({"pack": {"label_voltage_v": {"cycle": [14.4, 15.0]}}, "settings": {"voltage_v": 15.0}}))]
#[case::flooded(json!({"pack": {"chemistry": "lead_flooded"}}))]
#[case::gel_cold(json!({"pack": {"chemistry": "lead_gel", "temperature_c": 5}}))]
#[case::small_stop_current(json!({"settings": {"stop_current_a": 0.01}}))]
#[case::slow_supply(json!({"source": {"max_current_a": 0.5}}))]
fn no_absorption_goes_on_for_days(#[case] patch: Value) {
    let result = ask(lead(patch));
    let charged_s = result.time.to_cv_s.unwrap();
    assert!(result.end.after_s - charged_s <= 14.01 * 3600.0, "{:?}", result.end);
    assert!(result.delivered.charge_ah < 1.5 * 18.0, "{:?}", result.delivered);
    assert!(result.steps.iter().any(|s| s.code == "absorb"));
}

#[test]
fn an_absorption_ends_by_current_by_steadiness_or_by_time_and_says_which() {
    let by_current = ask(lead(json!({})));
    assert_eq!((by_current.end.reason, severity(&by_current, LeadAcidAbsorption)), (EndReason::Taper, None));
    // At 15 V the last current stays above C/50.
    let steady = ask(lead(
        json!({"settings": {"voltage_v": 15.0, "stop_current_a": 0.05}, "pack": {"label_voltage_v": {"cycle": [14.4, 15.0]}}}),
    ));
    assert_eq!(
        (steady.end.reason, severity(&steady, LeadAcidAbsorption)),
        (EndReason::Taper, Some(Note)),
        "{:?}",
        steady.end
    );
    let last = steady.curve.last().unwrap();
    let hour_before = steady.curve.iter().rev().find(|p| p.t_s <= last.t_s - 3600.0).unwrap();
    assert!(last.current_a >= 0.94 * hour_before.current_a, "{last:?} {hour_before:?}");
    // Its current still falls when the time is up.
    let timed =
        ask(lead(json!({"pack": {"capacity_ah": 18, "resistance_mohm": 120}, "settings": {"stop_current_a": 0.05}})));
    assert_eq!(
        (timed.end.reason, severity(&timed, LeadAcidAbsorption)),
        (EndReason::TimeLimit, Some(Caution)),
        "{:?}",
        timed.end
    );
    let held_h = (timed.end.after_s - timed.time.to_cv_s.unwrap()) / 3600.0;
    assert!((held_h - 12.0).abs() < 0.01 && timed.time.total_s.is_some(), "{held_h}");
}

#[rstest]
#[case::above_float(13.79, true)]
#[case::at_float(13.74, false)]
fn held_no_higher_than_float_it_may_stay_for_good(#[case] voltage_v: f64, #[case] limited: bool) {
    // 6 × 2.27 V = 13.62 V, and one part in a hundred more.
    let result = ask(lead(json!({"settings": {"voltage_v": voltage_v}})));
    assert_eq!(result.settings.unwrap().absorption_limit_h, limited.then_some(12.0));
}

#[rstest]
#[case::room(25.0, 14.7)]
#[case::cool(20.0, 14.8)]
#[case::cold_shed(6.0, 15.0)]
#[case::warm(34.0, 14.51)]
#[case::below_what_the_range_is_printed_for_and_never_above_it(4.0, 15.0)]
#[case::above_it(36.0, 14.46)]
fn a_labels_range_is_met_in_its_middle_and_moved_by_temperature_within(#[case] temperature_c: f64, #[case] volts: f64) {
    let result =
        ask(lead(json!({"pack": {"temperature_c": temperature_c, "label_voltage_v": {"cycle": [14.4, 15.0]}}})));
    let set_v = result.settings.unwrap().voltage_v;
    assert!((set_v - volts).abs() < 0.012, "{set_v}");
}

#[rstest]
#[case::longer_than_a_day_and_a_half(0.46, Some(Caution))]
#[case::shorter(0.60, None)]
fn a_charge_for_days_is_said_to_be_one(#[case] amps: f64, #[case] expected: Option<rumek_core::formats::Severity>) {
    let patch = json!({"pack": {"chemistry": "lipo", "series": 3, "capacity_ah": 20, "balancer": "built_in", "start": {"soc": 0.1}}, "source": {"max_current_a": amps}});
    let result = ask(patch);
    assert_eq!(severity(&result, SettingsTakesDays), expected, "{:?}", result.time);
}

fn runs_h(patch: Value) -> (f64, f64, f64) {
    let mut plan = json!({"source": null});
    crate::merge(&mut plan, &lead(patch));
    let result = ask(plan);
    let t = &result.time;
    (t.total_s.unwrap() / 3600.0, t.total_low_s.unwrap() / 3600.0, t.total_high_s.unwrap() / 3600.0)
}

#[rstest]
// Typical tables of a 100 Ah AGM battery: 5 A for 20 h, 17 A for 5 h, 40 A for 1.7 h, 60 A for 1 h.
#[case(5.0, 20.0)]
#[case(17.0, 5.0)]
#[case(40.0, 1.7)]
#[case(60.0, 1.05)]
fn a_lead_battery_gives_what_it_has_at_that_rate(#[case] amps: f64, #[case] hours: f64) {
    let (runs, low, high) =
        runs_h(json!({"pack": {"capacity_ah": 100, "start": {"soc": 1.0}}, "load": {"current_a": amps}}));
    assert!((runs / hours - 1.0).abs() < 0.08, "{runs} of {hours}");
    assert!(low < runs && runs < high, "{low} {runs} {high}");
}

#[test]
fn who_asks_how_long_a_pack_runs_asks_it_of_a_full_one() {
    let asked = ask(json!({"source": null, "pack": {"start": null}, "load": {"current_a": 2}}));
    assert!(asked.assumed.contains(&"/pack/start".to_owned()) && asked.start.soc == 1.0);
    let said = ask(json!({"source": null, "pack": {"start": {"soc": 0.5}}, "load": {"current_a": 2}}));
    assert!((said.start.soc - 0.5).abs() < 1e-9);
}

#[test]
fn a_capacitor_gives_its_energy() {
    let result = ask(json!({"source": null, "load": {"power_w": 10},
        "pack": {"chemistry": "supercap", "series": 2, "capacity_ah": null, "capacitance_f": 3000, "label_v": 5, "balancer": "none", "start": {"soc": 1}}}));
    // 1500 F from 5 V: 18,750 J.
    assert!((result.time.total_s.unwrap() / 1875.0 - 1.0).abs() < 0.005, "{:?}", result.time);
}

#[test]
fn a_charge_that_may_never_come_to_its_stop_is_ended_by_the_clock() {
    // The more the load takes, the later it comes to its voltage: the line lies at nine tenths of the whole time.
    let (mut in_time, mut late) = (0, 0);
    for tenths in 0..24 {
        let result = ask(json!({
            "pack": {"chemistry": "lead_gel", "series": 12, "capacity_ah": 35, "start": {"soc": 0.6}, "balancer": "none"},
            "source": {"kind": "bench_supply", "max_current_a": 2.8, "max_voltage_v": 34},
            "load": {"current_a": 0.05 + 0.1 * f64::from(tenths)}, "practice": "gentle",
        }));
        let (Some(settings), Some(total_s)) = (&result.settings, result.time.total_s) else { continue };
        let barely = result.time.to_cv_s.is_none_or(|to_cv_s| to_cv_s > 0.9 * total_s);
        assert_eq!(settings.time_limit_h.is_some(), barely, "{:?} {settings:?}", result.time);
        let end = result.steps.iter().find(|step| step.code == "end").unwrap();
        assert_eq!(end.message.contains("end it all the same"), barely, "{end:?}");
        *(if barely { &mut late } else { &mut in_time }) += 1;
    }
    assert!(in_time > 2 && late > 2, "{in_time} {late}");
    // Nothing holds the voltage behind a lamp: its span's end is the last of it.
    let lamp = ask(json!({
        "pack": {"chemistry": "lead_gel", "series": 12, "capacity_ah": 64, "start": {"soc": 0.37}, "balancer": "none"},
        "source": {"kind": "fixed_supply", "voltage_v": 48.1, "max_voltage_v": null, "max_current_a": 3, "overload": "hiccup"},
        "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 5, "lamps_in_parallel": 2},
        "settings": {"stop_voltage_v": 27.3},
    }));
    let limit_h = lamp.settings.unwrap().time_limit_h.unwrap();
    assert!((3600.0 * limit_h / lamp.time.total_high_s.unwrap() - 1.0).abs() < 1e-4, "{limit_h} {:?}", lamp.time);
}
