//! Each check fires when it must and stays silent when it must not.

use crate::lifting::assert_lifted;
use rstest::rstest;
use rumek_core::codes::CheckCode::{self, *};
use rumek_core::formats::Severity::{self, Caution, Note, Stop};
use serde_json::{Value, json};

use crate::{ask, found, severity};

#[rstest]
#[case::retired(json!({"pack": {"mark": "retired"}}), PackRetired, Some(Stop))]
#[case::not_retired(json!({}), PackRetired, None)]
#[case::reversed(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.7, -0.2]}}}), PackReversedCell, Some(Stop))]
#[case::low_cell(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.7, 2.9]}}}), PackDeeplyDischarged, Some(Stop))]
#[case::low_lead(json!({"pack": {"chemistry": "lead_agm", "start": {"soc": null, "rest_voltage_v": 10.2}}}), PackDeeplyDischarged, Some(Caution))]
#[case::sound_cells(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.7, 3.71]}}}), PackDeeplyDischarged, None)]
#[case::empty_capacitor(json!({"pack": {"chemistry": "supercap", "capacity_ah": null, "capacitance_f": 350, "start": {"soc": null, "rest_voltage_v": 0}}}), PackDeeplyDischarged, None)]
#[case::frost(json!({"pack": {"temperature_c": -1}}), PackTooCold, Some(Stop))]
#[case::frosty_titanate(json!({"pack": {"chemistry": "lto", "temperature_c": -10}}), PackTooCold, None)]
#[case::frosty_lead(json!({"pack": {"chemistry": "lead_gel", "temperature_c": -20}}), PackTooCold, Some(Caution))]
#[case::hot(json!({"pack": {"temperature_c": 46}}), PackTooHot, Some(Stop))]
#[case::warm(json!({"pack": {"temperature_c": 44}}), PackTooHot, None)]
#[case::over_label(json!({"pack": {"rated_c_rate": 1}, "settings": {"current_a": 4.5}}), PackRateTooHigh, Some(Stop))]
#[case::at_label(json!({"pack": {"rated_c_rate": 1}, "settings": {"current_a": 4}}), PackRateTooHigh, None)]
#[case::over_refusal(json!({"source": {"max_current_a": 30}, "settings": {"current_a": 21}}), PackRateTooHigh, Some(Stop))]
#[case::over_hurry(json!({"source": {"max_current_a": 30}, "settings": {"current_a": 9}}), PackRateTooHigh, Some(Caution))]
#[case::label_of_what_it_gives(json!({"pack": {"rated_c_rate": 5.05}}), PackLabelRateUnusual, Some(Caution))]
#[case::label_of_a_charge_rate(json!({"pack": {"rated_c_rate": 4.95}}), PackLabelRateUnusual, None)]
#[case::titanate_label(json!({"pack": {"chemistry": "lto", "rated_c_rate": 9.9}}), PackLabelRateUnusual, None)]
#[case::set_past_what_anybody_charges_with(json!({"pack": {"rated_c_rate": 50}, "source": {"max_current_a": 60}, "settings": {"current_a": 20.2}}), PackRateTooHigh, Some(Stop))]
#[case::set_up_to_it(json!({"pack": {"rated_c_rate": 50}, "source": {"max_current_a": 60}, "settings": {"current_a": 19.8}}), PackRateTooHigh, None)]
#[case::thousand_times_too_large(json!({"pack": {"capacity_ah": 400}}), PackCapacityUnusual, Some(Stop))]
#[case::just_a_thousandfold(json!({"pack": {"capacity_ah": 100}}), PackCapacityUnusual, Some(Stop))]
#[case::just_no_thousandfold(json!({"pack": {"capacity_ah": 99.9}}), PackCapacityUnusual, Some(Caution))]
#[case::ten_times_too_large(json!({"pack": {"capacity_ah": 35.4}}), PackCapacityUnusual, Some(Caution))]
#[case::contradicted(json!({"pack": {"capacity_ah": 4, "energy_wh": 100}}), PackCapacityUnusual, Some(Caution))]
#[case::hardly_contradicted(json!({"pack": {"capacity_ah": 4, "energy_wh": 97}}), PackCapacityUnusual, None)]
#[case::large(json!({"pack": {"capacity_ah": 34.6}}), PackCapacityUnusual, None)]
#[case::thousand_times_too_small(json!({"pack": {"chemistry": "lead_agm", "capacity_ah": 0.79}}), PackCapacityUnusual, Some(Caution))]
#[case::small(json!({"pack": {"chemistry": "lead_agm", "capacity_ah": 0.81}}), PackCapacityUnusual, None)]
#[case::load_past_its_label(json!({"source": null, "pack": {"discharge_c_rate": 10}, "load": {"current_a": 40.4}}), LoadRateTooHigh, Some(Caution))]
#[case::load_within_its_label(json!({"source": null, "pack": {"discharge_c_rate": 10}, "load": {"current_a": 39.6}}), LoadRateTooHigh, None)]
#[case::recovered(json!({"pack": {"mark": "recovered"}, "settings": {"current_a": 3}}), PackRecoveredRate, Some(Stop))]
#[case::recovered_slow(json!({"pack": {"mark": "recovered"}, "settings": {"current_a": 2}}), PackRecoveredRate, None)]
#[case::spread(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.80, 3.87]}}}), PackCellSpread, Some(Caution))]
#[case::small_spread(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.80, 3.82]}}}), PackCellSpread, Some(Note))]
#[case::level(json!({"pack": {"series": 2, "start": {"soc": null, "cell_voltages_v": [3.80, 3.805]}}}), PackCellSpread, None)]
#[case::unbalanced(json!({"pack": {"balancer": "none"}}), PackNoBalancing, Some(Caution))]
#[case::balanced(json!({}), PackNoBalancing, None)]
#[case::single_cell(json!({"pack": {"balancer": "none", "series": 1}}), PackNoBalancing, None)]
#[case::flat_curve(json!({"pack": {"chemistry": "lfp", "start": {"soc": null, "rest_voltage_v": 19.75}}}), PackSocUncertain, Some(Note))]
#[case::known_start(json!({}), PackSocUncertain, None)]
#[case::high_volts(json!({"pack": {"series": 16}, "source": {"max_voltage_v": 80}}), PackTouchVoltage, Some(Caution))]
#[case::low_volts(json!({}), PackTouchVoltage, None)]
#[case::fast_nickel(json!({"practice": "hurry", "pack": {"chemistry": "nimh"}}), PackEndByHand, Some(Caution))]
#[case::slow_nickel(json!({"pack": {"chemistry": "nimh"}}), PackEndByHand, None)]
#[case::fixed_without_limit(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null}}), SourceNoCurrentLimit, Some(Stop))]
#[case::fixed_with_limit(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "constant_current"}}), SourceNoCurrentLimit, None)]
#[case::series_unknown(json!({"source": {"units": 2, "wiring": "series"}}), SourceNotIsolated, Some(Stop))]
#[case::series_isolated(json!({"source": {"units": 2, "wiring": "series", "isolated_outputs": true}}), SourceNotIsolated, None)]
#[case::parallel_unknown(json!({"source": {"units": 2, "wiring": "parallel"}}), SourceNotIsolated, None)]
#[case::too_low(json!({"source": {"max_voltage_v": 24}}), SourceTooLowToFill, Some(Caution))]
#[case::high_enough(json!({}), SourceTooLowToFill, None)]
#[case::folding(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "foldback"}}), SourceOverloaded, Some(Caution))]
#[case::coarse(json!({"pack": {"series": 2}, "source": {"voltage_step_v": 0.1}}), SourceStepTooCoarse, Some(Caution))]
#[case::fine(json!({}), SourceStepTooCoarse, None)]
#[case::heavy_load(json!({"load": {"current_a": 9}}), LoadExceedsCharge, Some(Caution))]
#[case::light_load(json!({"load": {"current_a": 0.5}}), LoadExceedsCharge, None)]
#[case::load_hides_taper(json!({"load": {"current_a": 0.5}}), LoadPreventsTermination, Some(Caution))]
#[case::no_load(json!({}), LoadPreventsTermination, None)]
#[case::high_rate_run(json!({"source": null, "load": {"current_a": 40}}), LoadRateTooHigh, Some(Caution))]
#[case::low_rate_run(json!({"source": null, "load": {"current_a": 4}}), LoadRateTooHigh, None)]
#[case::over_ceiling(json!({"settings": {"voltage_v": 25.4}}), SettingsVoltageTooHigh, Some(Stop))]
#[case::above_full(json!({"settings": {"voltage_v": 25.3}}), SettingsVoltageTooHigh, Some(Caution))]
#[case::hardly_above_full(json!({"settings": {"voltage_v": 25.23}}), SettingsVoltageTooHigh, None)]
#[case::fixed_too_high(json!({"source": {"kind": "fixed_supply", "voltage_v": 27, "max_voltage_v": null, "overload": "constant_current"}}), SettingsVoltageTooHigh, Some(Stop))]
#[case::titanate_custom(json!({"pack": {"chemistry": "lto"}, "settings": {"voltage_v": 17}}), SettingsVoltageTooHigh, Some(Stop))]
#[case::too_many_volts(json!({"pack": {"series": 3, "start": {"soc": null, "rest_voltage_v": 15.6}}}), SettingsWrongCellCount, Some(Stop))]
#[case::too_few_volts(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 16.2}}}), SettingsWrongCellCount, Some(Stop))]
#[case::fitting_volts(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 22.8}}}), SettingsWrongCellCount, None)]
#[case::fits_two_counts(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 20.9}}}), SettingsCellCountUnsure, Some(Caution))]
#[case::nobody_ends_it(json!({}), SettingsNoTermination, Some(Caution))]
#[case::the_clock_ends_it(json!({"pack": {"chemistry": "nimh"}}), SettingsNoTermination, None)]
#[case::attend(json!({}), LithiumAttend, Some(Note))]
#[case::no_lithium(json!({"pack": {"chemistry": "nimh"}}), LithiumAttend, None)]
#[case::hydrogen(json!({"pack": {"chemistry": "lead_flooded"}}), LeadAcidVentilate, Some(Note))]
#[case::no_hydrogen(json!({}), LeadAcidVentilate, None)]
#[case::bms_in_the_way(json!({"pack": {"bms": {"max_charge_a": 2}}, "source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "constant_current"}}), PackBmsOverloaded, Some(Stop))]
#[case::bms_respected(json!({"pack": {"bms": {"max_charge_a": 2}}}), PackBmsOverloaded, None)]
fn fires_and_stays_silent(#[case] patch: Value, #[case] code: CheckCode, #[case] expected: Option<Severity>) {
    let result = ask(patch.clone());
    let plan = crate::plan_value(patch);
    result.checks.iter().filter(|check| check.severity == Stop).for_each(|stop| assert_lifted(&plan, stop));
    assert_eq!(severity(&result, code), expected, "{:?}", found(&result, code));
    let stopped = result.checks.iter().any(|c| c.severity == Stop);
    assert_eq!(result.settings.is_none(), stopped || result.stages[0].at.code() == "pack");
    if stopped {
        assert!(result.curve.is_empty() && result.steps.is_empty() && result.time.total_s.is_none());
        assert!(!result.limits.is_empty());
    }
}

#[test]
fn an_accepted_stop_stays_listed_and_gives_settings() {
    let over = json!({"pack": {"rated_c_rate": 1}, "settings": {"current_a": 5}, "accept": ["pack.rate_too_high"]});
    let result = ask(over);
    let check = found(&result, PackRateTooHigh).unwrap();
    assert!(check.accepted && check.severity == Stop);
    assert_eq!(result.settings.unwrap().current_a, 5.0);
    assert!(result.steps.iter().any(|step| step.code == "accepted"));
}

#[rstest]
#[case::same_values(5.0, 4.0, true)]
#[case::now_worse(5.4, 4.0, false)]
#[case::label_lowered(5.0, 4.5, false)]
fn a_kept_acceptance_holds_only_while_things_are_no_worse(
    #[case] now_a: f64,
    #[case] rated_then_a: f64,
    #[case] holds: bool,
) {
    let result = ask(json!({
        "pack": {"rated_c_rate": 1}, "source": {"max_current_a": 10}, "settings": {"current_a": now_a},
        "accepted": [{"code": "pack.rate_too_high", "values": {"current_a": 5.0, "rated_a": rated_then_a}, "at": "2026-05-01T10:00:00Z"}]
    }));
    assert_eq!(found(&result, PackRateTooHigh).unwrap().accepted, holds);
}

#[test]
fn no_acceptance_goes_past_half_again_the_label() {
    let result = ask(json!({
        "pack": {"rated_c_rate": 1}, "source": {"max_current_a": 10}, "settings": {"current_a": 6.1}, "accept": ["pack.rate_too_high"]
    }));
    let check = found(&result, PackRateTooHigh).unwrap();
    assert!(!check.accepted && !check.acceptable && result.settings.is_none());
}

#[test]
fn checks_come_gravest_first() {
    let result = ask(json!({"pack": {"balancer": "none"}, "settings": {"voltage_v": 26}}));
    assert!(result.checks.is_sorted_by_key(|check| check.severity));
}

#[test]
fn a_hurry_is_charged_by_no_number_that_says_what_a_pack_may_give() {
    let read = rumek_core::quick_line::read("6S 5000mAh 22.2V 50C lipo, 30V 60A bench");
    let mut plan = read.plan;
    plan.practice = Some(rumek_core::formats::Practice::Hurry);
    let settings = rumek_core::answer(&plan).unwrap().settings.unwrap();
    assert!((settings.current_a - 10.0).abs() < 1e-9, "{settings:?}");
    // Written into the wrong field it is not believed either.
    let told = ask(json!({"practice": "hurry", "pack": {"rated_c_rate": 50}, "source": {"max_current_a": 60}}));
    assert!((told.settings.unwrap().current_a - 20.0).abs() < 1e-9);
}

#[rstest]
#[case::low(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 17}}}), PackDeeplyDischarged, true)]
#[case::cold(json!({"pack": {"temperature_c": -5}}), PackTooCold, false)]
fn a_check_says_whether_rescue_settles_it(#[case] patch: Value, #[case] code: CheckCode, #[case] rescue: bool) {
    let result = ask(patch);
    assert_eq!(found(&result, code).unwrap().rescue, rescue);
}
