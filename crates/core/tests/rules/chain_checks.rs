//! Each check of source, charger, leads and outlet fires when it must and stays silent when it must not.

use crate::lifting::assert_lifted;
use rstest::rstest;
use rumek_core::codes::CheckCode::{self, *};
use rumek_core::codes::LimitCode;
use rumek_core::formats::Severity::{self, Caution, Note, Stop};
use serde_json::{Value, json};

use crate::{ask, found, severity};

/// What most cases lay over the sound plan: a 12 V AGM battery at half charge.
fn lead_acid(rest: Value) -> Value {
    let mut patch = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 10, "temperature_c": 25, "balancer": "none", "start": {"soc": 0.5}}});
    crate::merge(&mut patch, &rest);
    if patch["pack"]["start"].get("soc").is_none() {
        patch["pack"]["start"]["soc"] = Value::Null;
    }
    patch
}

fn fixed(volts: f64, overload: &str) -> Value {
    json!({"kind": "fixed_supply", "voltage_v": volts, "max_voltage_v": null, "max_current_a": 5, "overload": overload})
}

fn buck(patch: Value) -> Value {
    let mut module = json!({"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 5, "input_min_v": 6, "input_max_v": 40});
    crate::merge(&mut module, &patch);
    module
}

fn hobby(patch: Value) -> Value {
    let mut charger =
        json!({"kind": "hobby_charger", "output_max_a": 8, "output_max_w": 120, "input_min_v": 11, "input_max_v": 26});
    crate::merge(&mut charger, &patch);
    charger
}

#[rstest]
// Sources.
#[case::hiccup_into_flat(lead_acid(json!({"source": fixed(14.4, "hiccup"), "pack": {"start": {"soc": 0.02}}})), SourceNoCurrentLimit, Some(Stop))]
#[case::foldback_starts(lead_acid(json!({"source": fixed(14.4, "foldback"), "pack": {"start": {"soc": 0.02}}})), SourceNoCurrentLimit, None)]
#[case::foldback_said(lead_acid(json!({"source": fixed(14.4, "foldback"), "pack": {"start": {"soc": 0.02}}})), SourceOverloaded, Some(Caution))]
#[case::behind_a_charger(json!({"source": fixed(19.0, "hiccup"), "charger": hobby(json!({}))}), SourceNoCurrentLimit, None)]
#[case::lowest_too_high(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 14, "max_voltage_v": 16}})), SourceNoCurrentLimit, Some(Stop))]
#[case::turned_up(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16}})), SourceNoCurrentLimit, None)]
#[case::rated_in_watts_alone(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 14.4, "max_voltage_v": null, "max_current_a": null, "max_power_w": 30, "overload": "shutdown"}, "pack": {"start": {"soc": 0.1}}})), SourceNoCurrentLimit, Some(Stop))]
#[case::cell_board_on_a_weak_port(json!({"pack": {"series": 1, "capacity_ah": 3}, "source": {"kind": "fixed_supply", "voltage_v": 5, "max_voltage_v": null, "max_current_a": 0.5}, "charger": {"kind": "linear_module", "output_max_a": 1, "rated_w": 5}}), SourceNoCurrentLimit, Some(Stop))]
#[case::cell_board_on_a_port_that_holds(json!({"pack": {"series": 1, "capacity_ah": 3}, "source": {"kind": "regulated_port", "voltage_v": 5, "max_voltage_v": null, "max_current_a": 0.5}, "charger": {"kind": "linear_module", "output_max_a": 1, "rated_w": 5}}), SourceNoCurrentLimit, None)]
#[case::smart_charger_on_a_weak_brick(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null, "max_current_a": 1}, "charger": {"kind": "smart_charger", "output_max_a": 4}, "pack": {"rated_charge_a": 5}})), SourceNoCurrentLimit, Some(Stop))]
#[case::smart_charger_on_enough(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null, "max_current_a": 5}, "charger": {"kind": "smart_charger", "output_max_a": 4}, "pack": {"rated_charge_a": 5}})), SourceNoCurrentLimit, None)]
#[case::adapter_rises_when_the_pack_is_full(lead_acid(json!({"source": {"kind": "wall_adapter", "voltage_v": 12, "max_voltage_v": null, "max_current_a": 1}})), SettingsVoltageTooHigh, Some(Stop))]
#[case::limited_by_a_lamp(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 21}})), SourceNoCurrentLimit, None)]
#[case::oven(lead_acid(json!({"source": {"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 12, "rated_va": 60, "type": "oven"}})), SourceHighVoltageTransformer, Some(Stop))]
#[case::unknown_transformer(lead_acid(json!({"source": {"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 12, "rated_va": 60}})), SourceHighVoltageTransformer, Some(Stop))]
#[case::safety_transformer(lead_acid(json!({"source": {"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 12, "rated_va": 60, "type": "low_voltage"}})), SourceHighVoltageTransformer, None)]
#[case::mains_inside(lead_acid(json!({"source": {"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 12, "rated_va": 60, "type": "low_voltage"}})), SourceMainsInside, Some(Caution))]
#[case::nothing_inside(json!({}), SourceMainsInside, None)]
#[case::battery_runs_down(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 4}, "charger": hobby(json!({}))}), SourceRunsDown, Some(Caution))]
#[case::battery_lasts(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 60}, "charger": hobby(json!({}))}), SourceRunsDown, None)]
#[case::port_too_low(json!({"pack": {"series": 4}, "source": {"kind": "regulated_port", "voltage_v": 12, "max_voltage_v": null}}), SourceTooLowToFill, Some(Caution))]
#[case::charger_too_low(json!({"charger": hobby(json!({"output_max_v": 24}))}), SourceTooLowToFill, Some(Caution))]
#[case::high_enough(json!({"charger": hobby(json!({"output_max_v": 26}))}), SourceTooLowToFill, None)]
#[case::back_feed(json!({}), SourceBackFeed, Some(Note))]
#[case::no_back_feed(json!({"charger": hobby(json!({}))}), SourceBackFeed, None)]
#[case::a_diode_blocks(json!({"charger": buck(json!({"diode_drop_v": 0.4}))}), SourceBackFeed, None)]
#[case::coarse_knob(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "voltage_step_v": 0.03}})), SourceStepTooCoarse, Some(Caution))]
#[case::far_too_coarse_knob(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "voltage_step_v": 0.5}})), SourceStepTooCoarse, Some(Stop))]
#[case::fine_knob(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "voltage_step_v": 0.01}})), SourceStepTooCoarse, None)]
// Chargers.
#[case::adapter_stands_high(lead_acid(json!({"source": {"kind": "wall_adapter", "voltage_v": 20, "max_voltage_v": null, "max_current_a": 3}, "charger": hobby(json!({}))})), ChargerInputTooHigh, Some(Stop))]
#[case::adapter_fits(lead_acid(json!({"source": {"kind": "wall_adapter", "voltage_v": 12, "max_voltage_v": null, "max_current_a": 3}, "charger": hobby(json!({}))})), ChargerInputTooHigh, None)]
#[case::bench_is_set_lower(json!({"charger": hobby(json!({}))}), ChargerInputTooHigh, None)]
#[case::input_too_low(json!({"source": fixed(9.0, "hiccup"), "charger": hobby(json!({}))}), ChargerInputTooLow, Some(Stop))]
#[case::input_enough(json!({"source": fixed(12.0, "hiccup"), "charger": hobby(json!({}))}), ChargerInputTooLow, None)]
#[case::too_flat_to_start(lead_acid(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 3, "min_start_v": 8}, "pack": {"start": {"soc": null, "rest_voltage_v": 6.2}}})), ChargerWillNotStart, Some(Stop))]
#[case::starts(lead_acid(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 3, "min_start_v": 8}})), ChargerWillNotStart, None)]
#[case::fooled(lead_acid(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 3}, "pack": {"start": {"soc": null, "rest_voltage_v": 7.1}}})), ChargerAutoVoltage, Some(Caution))]
#[case::plainly_twelve(lead_acid(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 3}, "pack": {"start": {"soc": null, "rest_voltage_v": 11.6}}})), ChargerAutoVoltage, None)]
#[case::told_the_cells(json!({"charger": hobby(json!({})), "pack": {"start": {"soc": 0.05}}}), ChargerAutoVoltage, None)]
#[case::boost_over_a_low_pack(json!({"source": fixed(24.0, "constant_current"), "charger": buck(json!({"topology": "boost"}))}), ChargerCannotStepDown, Some(Stop))]
#[case::boost_under_the_pack(json!({"source": fixed(12.0, "constant_current"), "charger": buck(json!({"topology": "boost"}))}), ChargerCannotStepDown, None)]
#[case::least_output_too_high(json!({"pack": {"series": 2}, "charger": buck(json!({"output_min_v": 9}))}), ChargerCannotStepDown, Some(Stop))]
#[case::buck_from_too_little(json!({"source": fixed(22.0, "constant_current"), "charger": buck(json!({}))}), ChargerCannotStepUp, Some(Stop))]
#[case::buck_short_of_full(json!({"source": fixed(26.0, "constant_current"), "charger": buck(json!({}))}), ChargerCannotStepUp, Some(Caution))]
#[case::buck_has_room(json!({"source": fixed(30.0, "constant_current"), "charger": buck(json!({}))}), ChargerCannotStepUp, None)]
#[case::too_many_cells(json!({"source": fixed(12.0, "hiccup"), "charger": hobby(json!({"max_series": [{"input_from_v": 11, "max_series": 4}, {"input_from_v": 18, "max_series": 6}]}))}), ChargerTooManyCells, Some(Stop))]
#[case::enough_cells(json!({"source": fixed(19.0, "hiccup"), "charger": hobby(json!({"max_series": [{"input_from_v": 11, "max_series": 4}, {"input_from_v": 18, "max_series": 6}]}))}), ChargerTooManyCells, None)]
#[case::hot_chip(json!({"pack": {"series": 1, "capacity_ah": 2}, "source": fixed(6.0, "hiccup"), "charger": {"kind": "linear_module", "output_max_a": 1}}), ChargerLinearHeat, Some(Caution))]
#[case::cool_chip(json!({"pack": {"series": 1, "capacity_ah": 2}, "source": fixed(5.0, "hiccup"), "charger": {"kind": "linear_module", "output_max_a": 0.5}}), ChargerLinearHeat, None)]
#[case::burning_resistor(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "resistor", "resistance_ohm": 1, "rated_w": 2}})), ChargerLimiterHeat, Some(Stop))]
#[case::resistor_of_unknown_rating(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "resistor", "resistance_ohm": 1}})), ChargerLimiterHeat, Some(Caution))]
#[case::warm_resistor(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "resistor", "resistance_ohm": 1, "rated_w": 20}})), ChargerLimiterHeat, Some(Caution))]
#[case::resistor_burnt_by_a_short(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "resistor", "resistance_ohm": 1, "rated_w": 205}})), ChargerLimiterHeat, Some(Caution))]
#[case::resistor_that_bears_a_short(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "resistor", "resistance_ohm": 1, "rated_w": 209}})), ChargerLimiterHeat, None)]
#[case::small_lamp(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 6, "lamp_rated_w": 10}})), ChargerLimiterHeat, Some(Caution))]
#[case::right_lamp(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}})), ChargerLimiterHeat, None)]
#[case::cold_lamp(lead_acid(json!({"source": fixed(14.4, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}})), ChargerColdInrush, Some(Note))]
#[case::no_lamp(json!({}), ChargerColdInrush, None)]
#[case::limit_its_input(json!({"source": fixed(19.0, "hiccup"), "charger": hobby(json!({}))}), ChargerInputLimit, Some(Note))]
#[case::source_holds(json!({"charger": hobby(json!({}))}), ChargerInputLimit, None)]
#[case::relay_stays_open(lead_acid(json!({"cut_off": {"low_v": 11.8, "high_v": 14.4, "starts": "below_low"}})), ChargerCutoffWillNotStart, Some(Stop))]
#[case::relay_that_nobody_knows(lead_acid(json!({"cut_off": {"low_v": 11.8, "high_v": 14.4}})), ChargerCutoffWillNotStart, Some(Caution))]
#[case::relay_that_closes_at_once(lead_acid(json!({"cut_off": {"low_v": 11.8, "high_v": 14.4, "starts": "at_once"}})), ChargerCutoffWillNotStart, None)]
#[case::relay_that_reads_low(lead_acid(json!({"cut_off": {"low_v": 12.0, "high_v": 14.4, "starts": "below_low", "offset_v": -0.5}})), ChargerCutoffWillNotStart, None)]
#[case::relay_may_stay_open(lead_acid(json!({"cut_off": {"low_v": 12.35, "high_v": 14.4, "error_v": 0.1}})), ChargerCutoffWillNotStart, Some(Caution))]
#[case::relay_closes(lead_acid(json!({"cut_off": {"low_v": 13, "high_v": 14.4}})), ChargerCutoffWillNotStart, None)]
#[case::relay_opens_early(lead_acid(json!({"cut_off": {"low_v": 13, "high_v": 13.8}})), ChargerCutoffUndercharges, Some(Caution))]
#[case::relay_never_opens(lead_acid(json!({"cut_off": {"low_v": 13, "high_v": 15}})), ChargerCutoffUndercharges, Some(Note))]
#[case::no_relay(json!({}), ChargerCutoffUndercharges, None)]
// Leads.
#[case::thin(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "constant_current"}, "leads": {"output": {"awg": 26, "length_m": 0.3}}}), LeadsUndersized, Some(Stop))]
#[case::thin_holds_it_down(json!({"leads": {"output": {"awg": 26, "length_m": 0.3}}}), LeadsUndersized, Some(Caution))]
#[case::thick(json!({"leads": {"output": {"awg": 16, "length_m": 0.3}}}), LeadsUndersized, None)]
#[case::long(json!({"leads": {"output": {"awg": 18, "length_m": 6}}}), LeadsDrop, Some(Caution))]
#[case::short(json!({"leads": {"output": {"awg": 14, "length_m": 0.5}}}), LeadsDrop, None)]
#[case::no_fuse(json!({"leads": {"output": {"awg": 16, "length_m": 0.3}}}), LeadsNoFuse, Some(Caution))]
#[case::feeding_battery_unfused(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 60}, "charger": hobby(json!({}))}), LeadsNoFuse, Some(Caution))]
#[case::feeding_battery_fused(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 60}, "charger": hobby(json!({})), "leads": {"input": {"awg": 10, "length_m": 0.3, "fuse_a": 20}}}), LeadsNoFuse, None)]
#[case::supercap_said(json!({"pack": {"chemistry": "supercap", "capacity_ah": null, "capacitance_f": 350, "start": {"soc": 0}}}), SupercapHandle, Some(Note))]
#[case::no_supercap(json!({}), SupercapHandle, None)]
#[case::fused(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 7.5}}}), LeadsNoFuse, None)]
#[case::fused_at_the_supply(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 7.5, "fuse_at": "source"}}}), LeadsNoFuseAtPack, Some(Caution))]
#[case::fused_at_both(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 7.5, "fuse_at": "both"}}}), LeadsNoFuseAtPack, None)]
#[case::big_fuse(json!({"leads": {"output": {"awg": 20, "length_m": 0.3, "fuse_a": 30}}}), LeadsFuseTooBig, Some(Caution))]
#[case::right_fuse(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 10}}}), LeadsFuseTooBig, None)]
#[case::tired_fuse(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "constant_current"}, "leads": {"output": {"awg": 14, "length_m": 0.3, "fuse_a": 5}}}), LeadsFuseTooSmall, Some(Caution))]
#[case::fuse_respected(json!({"leads": {"output": {"awg": 14, "length_m": 0.3, "fuse_a": 5}}}), LeadsFuseTooSmall, None)]
#[case::car_fuse(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 10, "fuse_v": 12}}}), LeadsFuseVoltage, Some(Caution))]
#[case::dc_fuse(json!({"leads": {"output": {"awg": 16, "length_m": 0.3, "fuse_a": 10, "fuse_v": 58}}}), LeadsFuseVoltage, None)]
// The outlet.
#[case::too_much_for_the_outlet(json!({"source": {"max_current_a": 60, "units": 3, "wiring": "parallel"}, "mains": {"voltage_v": 230, "circuit_a": 10}}), MainsCircuit, Some(Caution))]
#[case::outlet_carries_it(json!({"mains": {"voltage_v": 230, "circuit_a": 10}}), MainsCircuit, None)]
#[case::battery_needs_no_outlet(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 60}, "charger": hobby(json!({})), "mains": {"voltage_v": 110, "circuit_a": 1}}), MainsCircuit, None)]
// Load, settings, packs.
#[case::charger_never_ends(json!({"charger": hobby(json!({})), "load": {"current_a": 0.6}}), LoadPreventsTermination, Some(Caution))]
#[case::charger_ends(json!({"charger": hobby(json!({})), "load": {"current_a": 0.1}}), LoadPreventsTermination, None)]
#[case::lamp_goes_on_and_on(lead_acid(json!({"source": fixed(24.0, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}})), SettingsVoltageTooHigh, Some(Stop))]
#[case::lamp_with_a_relay(lead_acid(json!({"source": fixed(24.0, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}, "cut_off": {"low_v": 13, "high_v": 14.4}})), SettingsVoltageTooHigh, None)]
#[case::relay_set_too_high(lead_acid(json!({"source": fixed(24.0, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}, "cut_off": {"low_v": 13, "high_v": 15.5}})), SettingsVoltageTooHigh, Some(Stop))]
#[case::lamp_ended_by_hand(lead_acid(json!({"source": fixed(24.0, "hiccup"), "charger": {"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 21}, "settings": {"stop_voltage_v": 14.4}})), SettingsStopByHand, Some(Caution))]
#[case::a_stop_saves_no_bare_brick(lead_acid(json!({"source": fixed(19.0, "constant_current"), "settings": {"stop_voltage_v": 14.4}})), SettingsVoltageTooHigh, Some(Stop))]
#[case::pwm_needs_a_stop(lead_acid(json!({"source": fixed(19.0, "constant_current"), "charger": {"kind": "pwm", "duty": 0.75, "path_resistance_mohm": 600}})), SettingsVoltageTooHigh, Some(Stop))]
#[case::nobody_stops_by_hand(json!({"settings": {"stop_voltage_v": 24}}), SettingsStopByHand, None)]
#[case::by_hand(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16}})), SettingsTurnedByHand, Some(Caution))]
#[case::not_by_hand(json!({}), SettingsTurnedByHand, None)]
#[case::must_stay(lead_acid(json!({"visit_every_min": 30, "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16}})), SettingsStay, Some(Caution))]
#[case::may_leave(lead_acid(json!({"visit_every_min": 30, "cut_off": {"low_v": 13, "high_v": 14.6}, "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16}})), SettingsStay, None)]
#[case::display_off(json!({"meters": [{"at": "source", "quantity": "voltage", "points": [{"shown": 25.3, "true": 25.2}]}]}), SettingsDisplayOff, Some(Note))]
#[case::display_right(json!({"meters": [{"at": "source", "quantity": "voltage", "points": [{"shown": 25.2, "true": 25.2}]}]}), SettingsDisplayOff, None)]
#[case::packs_apart(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 22.8}}, "other_packs": [{"capacity_ah": 4, "rest_voltage_v": 24.0}]}), PackParallelMismatch, Some(Stop))]
#[case::packs_nearly_level(json!({"pack": {"rated_c_rate": 5, "start": {"soc": null, "rest_voltage_v": 22.8}}, "other_packs": [{"capacity_ah": 4, "rest_voltage_v": 23.2}]}), PackParallelMismatch, Some(Caution))]
#[case::packs_level(json!({"pack": {"start": {"soc": null, "rest_voltage_v": 22.8}}, "other_packs": [{"capacity_ah": 4, "rest_voltage_v": 22.85}]}), PackParallelMismatch, None)]
#[case::levelled_by_the_charger(json!({"pack": {"balancer": "balance_lead"}, "charger": hobby(json!({}))}), PackNoBalancing, None)]
#[case::balance_lead_to_nothing(json!({"pack": {"balancer": "balance_lead"}, "charger": buck(json!({}))}), PackNoBalancing, Some(Caution))]
#[case::charger_ends_it(json!({"charger": hobby(json!({}))}), SettingsNoTermination, None)]
#[case::module_does_not(json!({"charger": buck(json!({}))}), SettingsNoTermination, Some(Caution))]
fn fires_and_stays_silent(#[case] patch: Value, #[case] code: CheckCode, #[case] expected: Option<Severity>) {
    let result = ask(patch.clone());
    let plan = crate::plan_value(patch);
    result.checks.iter().filter(|check| check.severity == Stop).for_each(|stop| assert_lifted(&plan, stop));
    assert_eq!(
        severity(&result, code),
        expected,
        "{:#?}",
        found(&result, code).map_or_else(|| format!("{:?}", result.checks), |c| format!("{c:?}"))
    );
    let stopped = result.checks.iter().any(|c| c.severity == Stop);
    // Where nothing would flow nothing is set either.
    let idle = result.delivered.charge_ah <= 0.0 && result.resolved.load.is_none();
    assert_eq!(result.settings.is_none(), stopped || idle);
}

#[rstest]
#[case::just_below(13.02, false)]
#[case::just_above(13.06, true)]
// Charging, its cells stand some 10 mV higher than at rest.
fn where_nothing_would_flow_nothing_is_connected(#[case] supply_v: f64, #[case] flows: bool) {
    let lfp =
        json!({"chemistry": "lfp", "series": 4, "capacity_ah": 50, "start": {"rest_voltage_v": 12.98, "soc": null}});
    let lamp = json!({"kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 55});
    let result = ask(json!({
        "pack": lfp, "charger": lamp,
        "source": {"kind": "fixed_supply", "voltage_v": supply_v, "max_current_a": 20, "max_voltage_v": null}
    }));
    let codes: Vec<&str> = result.steps.iter().map(|step| step.code.as_str()).collect();
    if flows {
        assert!(codes.contains(&"polarity") && codes.contains(&"expect"), "{codes:?}");
        assert!(severity(&result, ChargerColdInrush).is_some());
    } else {
        assert_eq!(codes, ["measure_pack", "nothing_flows"]);
        assert_eq!(severity(&result, ChargerColdInrush), None);
        assert_eq!(result.settings.and_then(|settings| settings.stop_current_a), None);
        assert!(result.verdict.is_some_and(|verdict| verdict.starts_with("Nothing flows")));
    }
}

fn loaded(load_a: f64, amps: f64) -> rumek_core::formats::ResultDoc {
    ask(json!({
        "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 50, "start": {"soc": 0.5}},
        "source": {"kind": "regulated_port", "voltage_v": 13.8, "max_current_a": amps, "max_voltage_v": null},
        "load": {"current_a": load_a}
    }))
}

#[test]
fn with_a_load_the_end_is_told_by_what_the_display_shows() {
    let result = loaded(4.6, 5.0);
    let said = |code: &str| result.steps.iter().find(|step| step.code == code).unwrap().message.clone();
    assert!(said("end").starts_with("End it at 0.2 A into the pack, 4.8 A with its load, "), "{}", said("end"));
    assert!(said("look").contains("0.4 A into the pack"), "{}", said("look"));
    assert!(result.verdict.unwrap().starts_with("The load off would take "));
}

#[test]
fn what_costs_nothing_is_said_first_where_it_saves_six_tenths_of_the_best() {
    let mut seen = [false; 2];
    for load_a in (1..40).map(|tenths| 0.1 * f64::from(tenths)) {
        let result = loaded(load_a, 5.0);
        let best_s = result.what_if.iter().filter(|w| w.advised).map(|w| w.saves_s).fold(0.0, f64::max);
        let Some(off) = result.what_if.iter().find(|w| w.without == LimitCode::Load && w.advised) else { continue };
        let free = off.saves_s >= 0.6 * best_s;
        assert_eq!(result.verdict.unwrap().starts_with("The load off"), free, "{load_a} A");
        seen[usize::from(free)] |= (0.55..0.65).contains(&(off.saves_s / best_s));
    }
    assert_eq!(seen, [true, true], "both sides of the line are tried");
}
