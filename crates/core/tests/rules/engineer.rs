//! What an engineer at the bench would sign: rates by temperature, lead and nickel, fuses, dangerous volts.

use std::fmt::Write;

use rstest::rstest;
use rumek_core::codes::CheckCode::{self, *};
use rumek_core::codes::LimitCode;
use rumek_core::formats::Severity::{self, Caution, Note, Stop};
use rumek_core::formats::{SayingCode, from_value};
use serde_json::{Value, json};

use crate::{ask, plan_value, severity};

fn pack(chemistry: &str, temperature_c: f64, rest: Value) -> Value {
    let mut patch = json!({"pack": {"chemistry": chemistry, "capacity_ah": 10, "temperature_c": temperature_c, "balancer": "built_in", "start": {"soc": 0.5}},
        "source": {"max_current_a": 60, "max_voltage_v": 40}});
    crate::merge(&mut patch, &rest);
    // What is said otherwise takes the sound plan's own word away.
    if patch["pack"]["start"].get("rest_voltage_v").is_some() {
        patch["pack"]["start"]["soc"] = Value::Null;
    }
    if patch["pack"].get("capacitance_f").is_some() {
        patch["pack"]["capacity_ah"] = Value::Null;
    }
    patch
}

/// What is dialled, what is checked and how it ends, by chemistry, temperature and practice: a data sheet.
#[test]
fn the_data_sheet() {
    let mut sheet = String::from("chemistry      °C  practice    C     V/cell  ends        stops ! and cautions ?\n");
    for chemistry in [
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
    ] {
        for temperature in [-20.0, -5.0, 2.0, 7.0, 12.0, 20.0, 42.0, 51.0] {
            for practice in ["standard", "hurry"] {
                let capacitor = chemistry == "supercap";
                let holds = if capacitor {
                    json!({"capacity_ah": null, "capacitance_f": 3000, "start": {"soc": 0}})
                } else {
                    json!({})
                };
                let result = ask(pack(chemistry, temperature, json!({"practice": practice, "pack": holds})));
                let of = |severity: Severity, mark: &str| -> String {
                    let some =
                        result.checks.iter().filter(|c| c.severity == severity && c.code != SettingsNoTermination);
                    some.map(|c| format!(" {mark}{}", c.code.code())).collect()
                };
                let dial = result.settings.as_ref().map_or("–      –".to_owned(), |s| {
                    let rate = if capacitor { "amps".to_owned() } else { format!("{:.2}", s.current_a / 10.0) };
                    format!("{rate:<5} {:.3}", s.true_voltage_v / 6.0)
                });
                let ends = serde_json::to_value(result.end.reason).unwrap();
                let checks = of(Stop, "!") + &of(Caution, "?");
                writeln!(
                    sheet,
                    "{chemistry:<12} {temperature:>4}  {practice:<9} {dial:<13} {:<12}{checks}",
                    ends.as_str().unwrap()
                )
                .unwrap();
            }
        }
    }
    insta::assert_snapshot!(sheet);
}

/// A port of so many amps on a flat bank, by a thick lead that ends in something.
fn port(amps: f64, connector: &str) -> Value {
    json!({"pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 200},
        "source": {"kind": "regulated_port", "voltage_v": 14.4, "max_voltage_v": null, "max_current_a": amps},
        "leads": {"output": {"area_mm2": 35, "length_m": 0.3, "connector": connector}}})
}

fn off_a_battery(chemistry: &str, series: u32) -> Value {
    json!({"source": {"kind": "battery", "chemistry": chemistry, "series": series, "capacity_ah": 60, "max_voltage_v": null, "max_current_a": null},
        "charger": {"kind": "hobby_charger", "output_max_a": 3, "output_max_w": 60, "input_min_v": 5, "input_max_v": 30}})
}

/// So many Ah of 6S LiPo behind a fuse.
fn fused(ah: f64) -> Value {
    json!({"pack": {"capacity_ah": ah, "temperature_c": 25, "start": {"soc": 0.2}}, "leads": {"output": {"awg": 12, "length_m": 0.5, "fuse_a": 20, "fuse_v": 60}}})
}

/// A small pack charged off so many Ah of AGM by a fused lead.
fn fused_battery(ah: f64) -> Value {
    let mut plan = off_a_battery("lead_agm", 6);
    let rest = json!({"pack": {"capacity_ah": 2}, "source": {"capacity_ah": ah}, "leads": {"input": {"awg": 12, "length_m": 0.5, "fuse_a": 20, "fuse_v": 32, "fuse_at": "source"}}});
    crate::merge(&mut plan, &rest);
    plan
}

/// Four cells of which one stands lower.
fn apart(volts: f64) -> Value {
    json!({"pack": {"series": 4, "start": {"soc": null, "cell_voltages_v": [3.8, 3.8, 3.8 - volts, 3.8]}}})
}

fn lamp(amps: f64, overload: &str) -> Value {
    json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 40},
        "source": {"kind": "fixed_supply", "voltage_v": 14.4, "max_voltage_v": null, "max_current_a": amps, "overload": overload},
        "charger": {"kind": "lamp", "lamp_rated_v": 14.4, "lamp_rated_w": 55}})
}

#[rstest]
#[case::apart(0.099, false)]
#[case::ill(0.102, true)]
fn cells_far_apart_are_levelled_first(#[case] volts: f64, #[case] first: bool) {
    let result = ask(apart(volts));
    let check = result.checks.iter().find(|c| c.code == PackCellSpread).unwrap();
    assert_eq!(check.message.contains("level them first, the low ones charged alone with 0.4 A"), first, "{check:?}");
}

#[test]
fn phosphate_that_is_counted_to_storage_is_guarded_below_full() {
    let stored =
        ask(pack("lfp", 20.0, json!({"pack": {"series": 4, "start": {"soc": 0.2}, "goal": {"kind": "storage"}}})));
    let settings = stored.settings.unwrap();
    assert!((settings.voltage_v - 13.4).abs() < 1e-9 && settings.stop_charge_ah.is_some(), "{settings:?}");
}

#[rstest]
// In parallel each gives 85 % of its watts: 76 W are 74.3 W at the mains, 78 W are 76.2 W; a circuit is judged by what all units draw.
#[case::small(json!({"max_power_w": 76}), 0.65)]
#[case::corrected(json!({"max_power_w": 78}), 0.95)]
#[case::said(json!({"max_power_w": 78, "power_factor": 0.6}), 0.6)]
fn a_circuit_is_loaded_by_its_power_factor(#[case] source: Value, #[case] factor: f64) {
    let mut patch = json!({"source": {"max_current_a": 20, "units": 4, "wiring": "parallel"}, "mains": {"voltage_v": 120, "circuit_a": 2}});
    crate::merge(&mut patch["source"], &source);
    let result = ask(patch);
    let check = result.checks.iter().find(|c| c.code == MainsCircuit).unwrap();
    let told = check.values["mains_w"] / check.values["mains_a"] / 120.0;
    assert!((told - factor).abs() < 1e-3, "{check:?}");
}

/// A load that goes off leaves the pack all that is dialled: nothing is added where cold makes it less.
#[test]
fn a_load_adds_nothing_to_a_cold_pack_and_is_told_of_else() {
    let dial = |c: f64| {
        ask(
            json!({"pack": {"capacity_ah": 5, "temperature_c": c}, "load": {"current_a": 0.5}, "source": {"max_current_a": 20}}),
        )
    };
    assert!((dial(8.0).settings.unwrap().dial_current_a - 1.5).abs() < 1e-9);
    let warm = dial(20.0);
    assert!((warm.settings.as_ref().unwrap().dial_current_a - 5.5).abs() < 1e-9);
    let said = warm.checks.iter().find(|c| c.code == LoadPreventsTermination).unwrap();
    assert!(said.message.contains("Turn the 5.5 A down to 5 A before the load goes off"), "{said:?}");
}

#[test]
fn a_refused_plan_promises_no_end() {
    let refused = ask(json!({"pack": {"temperature_c": -5}}));
    assert!(refused.settings.is_none());
    assert_eq!(severity(&refused, SettingsNoTermination), None);
}

#[rstest]
// A warm nickel cell keeps less of a charge.
#[case(34.0, 1.0)]
#[case(40.0, 0.92)]
#[case(42.5, 0.88)]
fn nickel_keeps_less_when_it_is_warm(#[case] temperature: f64, #[case] share: f64) {
    let at = |c: f64| {
        let rest = json!({"pack": {"start": {"soc": 0.1}}, "settings": {"current_a": 1, "time_limit_h": 5}});
        ask(pack("nimh", c, rest)).end.soc - 0.1
    };
    assert!((at(temperature) / at(20.0) - share).abs() < 0.02, "{}", at(temperature) / at(20.0));
}

#[rstest]
// Ah that go in against what was missing, 20 % to the end; and from 80 % on at 3 A.
#[case("lead_flooded", 1.08, 1.20)]
#[case("lead_agm", 1.04, 1.08)]
#[case("lead_gel", 1.02, 1.06)]
fn lead_takes_by_its_build(#[case] chemistry: &str, #[case] least: f64, #[case] most: f64) {
    let result = ask(pack(chemistry, 20.0, json!({"pack": {"capacity_ah": 100, "start": {"soc": 0.2}}})));
    let factor = result.delivered.charge_ah / (100.0 * (result.end.soc - 0.2));
    assert!((least..most).contains(&factor), "{factor}");
}

#[rstest]
// Each edge of the cold, just below and just above.
#[case("lipo", 4.9, 1.0)]
#[case("lipo", 5.0, 3.0)]
#[case("lipo", 9.9, 3.0)]
#[case("lipo", 10.0, 5.0)]
#[case("lipo", 14.9, 5.0)]
#[case("lipo", 15.0, 10.0)]
#[case("lfp", 4.9, 1.0)]
#[case("lfp", 5.1, 2.0)]
#[case("lfp", 10.1, 3.0)]
#[case("lfp", 15.1, 5.0)]
#[case("lto", -10.1, 5.0)]
#[case("lto", -9.9, 10.0)]
#[case("sodium_ion", -0.1, 2.0)]
#[case("sodium_ion", 0.1, 5.0)]
#[case("lipo", 39.9, 10.0)]
#[case("lipo", 40.0, 5.0)]
fn lithium_is_charged_as_its_temperature_allows(#[case] chemistry: &str, #[case] temperature: f64, #[case] amps: f64) {
    let result = ask(pack(chemistry, temperature, json!({})));
    let settings = result.settings.unwrap();
    assert!((settings.current_a - amps).abs() < 1e-9, "{settings:?}");
    let full = ask(pack(chemistry, 20.0, json!({}))).settings.unwrap().current_a;
    assert_eq!(settings.current_limited_by == LimitCode::Temperature, amps < full);
    assert_eq!(result.pinch[0].limit == LimitCode::Temperature, amps < full);
}

#[test]
fn there_is_no_hurry_in_the_cold_and_a_sheet_goes_before_what_is_usual() {
    let dial = |temperature: f64, rest: Value| ask(pack("lipo", temperature, rest)).settings.unwrap().current_a;
    let hurry = json!({"practice": "hurry", "pack": {"rated_c_rate": 4}});
    assert_eq!((dial(14.9, hurry.clone()), dial(15.0, hurry)), (5.0, 40.0));
    assert_eq!(dial(4.0, json!({"pack": {"sheet_charge_a": 8}})), 8.0);
}

#[rstest]
#[case::usual(1.0, Some(Note))]
#[case::above_what_is_usual(1.02, Some(Caution))]
#[case::twice_that(1.99, Some(Caution))]
#[case::more(2.02, Some(Stop))]
fn a_current_set_in_the_cold_is_judged(#[case] amps: f64, #[case] expected: Option<Severity>) {
    let result = ask(pack("lipo", 4.0, json!({"settings": {"current_a": amps}})));
    assert_eq!(severity(&result, PackColdRate), expected, "{:?}", result.checks);
}

#[rstest]
#[case::warm_flight_pack(pack("lipo", 40.0, json!({})), PackHotStart, Some(Caution))]
#[case::warm_from_use(pack("lipo", 39.6, json!({})), PackHotStart, Some(Note))]
#[case::still_warm(pack("lipo", 35.1, json!({})), PackHotStart, Some(Note))]
#[case::cooled(pack("lipo", 34.9, json!({})), PackHotStart, None)]
#[case::frosty_sodium(pack("sodium_ion", -9.9, json!({})), PackTooCold, None)]
#[case::frozen_sodium(pack("sodium_ion", -10.1, json!({})), PackTooCold, Some(Stop))]
#[case::fast_sodium(pack("sodium_ion", 20.0, json!({"settings": {"current_a": 30.2}})), PackRateTooHigh, Some(Stop))]
#[case::sodium_within(pack("sodium_ion", 20.0, json!({"settings": {"current_a": 29.8}})), PackRateTooHigh, Some(Caution))]
#[case::hot_agm(pack("lead_agm", 50.5, json!({})), PackTooHot, Some(Stop))]
#[case::warm_agm(pack("lead_agm", 49.5, json!({})), PackTooHot, None)]
#[case::hot_flooded(pack("lead_flooded", 50.5, json!({})), PackTooHot, Some(Stop))]
// At 18 % (20 less what is uncertain) acid freezes at −11.6 °C; at 48 % at −24 °C.
#[case::ice(pack("lead_flooded", -11.8, json!({"pack": {"start": {"soc": 0.2}}})), PackFrozen, Some(Stop))]
#[case::not_yet_ice(pack("lead_flooded", -11.4, json!({"pack": {"start": {"soc": 0.2}}})), PackFrozen, None)]
#[case::half_full(pack("lead_flooded", -14.0, json!({})), PackFrozen, None)]
#[case::flat_by_its_volts(pack("lead_agm", -8.2, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 11.3}}})), PackFrozen, Some(Stop))]
// Five good cells and a dead one rest at 10.30 V to 10.90 V.
#[case::evenly_flat(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.28}}})), PackDeadCell, None)]
#[case::dead_cell_low(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.32}}})), PackDeadCell, Some(Caution))]
#[case::dead_cell_high(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.88}}})), PackDeadCell, Some(Caution))]
#[case::nearly_empty(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.95}}})), PackDeadCell, None)]
#[case::commonest_flat_battery(pack("lead_flooded", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.0}}})), SettingsWrongCellCount, None)]
#[case::a_six_volt_battery(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 6.4}}})), SettingsWrongCellCount, Some(Stop))]
// A mark wins over a label.
#[case::recovered_with_a_label(pack("lipo", 20.0, json!({"pack": {"mark": "recovered", "rated_c_rate": 5}, "settings": {"current_a": 5.05}})), PackRecoveredRate, Some(Stop))]
#[case::recovered_slowly(pack("lipo", 20.0, json!({"pack": {"mark": "recovered", "rated_c_rate": 5}, "settings": {"current_a": 4.95}})), PackRecoveredRate, None)]
// Nickel that nobody knows.
#[case::nickel_unknown(pack("nimh", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 7.8}}, "settings": {"current_a": 1.3}})), PackStartUnknown, Some(Stop))]
#[case::nickel_unknown_gently(pack("nimh", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 7.8}}, "settings": {"current_a": 1.1}})), PackStartUnknown, None)]
#[case::nickel_emptied(pack("nimh", 20.0, json!({"pack": {"start": {"soc": 0}}, "settings": {"current_a": 3}})), PackStartUnknown, None)]
#[case::nickel_ends_itself(pack("nimh", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 7.8}}, "settings": {"current_a": 3}, "charger": {"kind": "hobby_charger", "output_max_a": 5}})), PackStartUnknown, None)]
#[case::nickel_fast_falls_by_itself(pack("nimh", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 7.8}}, "settings": {"current_a": 5.05}})), PackStartUnknown, None)]
// Volts.
#[case::touch(json!({"pack": {"series": 15}, "source": {"max_voltage_v": 80}}), PackTouchVoltage, Some(Caution))]
#[case::below_lethal(json!({"pack": {"series": 28}, "source": {"max_voltage_v": 150}}), PackLethalVoltage, None)]
#[case::lethal(json!({"pack": {"series": 29}, "source": {"max_voltage_v": 150}}), PackLethalVoltage, Some(Stop))]
#[case::ordinary_fuse(json!({"pack": {"series": 7}, "leads": {"output": {"awg": 14, "length_m": 0.5, "fuse_a": 10}}}), LeadsFuseVoltage, None)]
#[case::fuse_of_unknown_volts(json!({"pack": {"series": 8}, "source": {"max_voltage_v": 40}, "leads": {"output": {"awg": 14, "length_m": 0.5, "fuse_a": 10}}}), LeadsFuseVoltage, Some(Caution))]
// 4S of 100 Ah phosphate rests at 13.1 V and gives 5.4 kA; 6S LiPo rests at 22.4 V: 1 kA at 5.35 Ah, 2 kA at 10.7 Ah.
#[case::breaks_what_a_small_pack_gives(fused(5.2), LeadsFuseBreaking, None)]
#[case::hardly_breaks(fused(5.5), LeadsFuseBreaking, Some(Note))]
#[case::hardly_breaks_still(fused(10.4), LeadsFuseBreaking, Some(Note))]
#[case::arcs_on(fused(11.0), LeadsFuseBreaking, Some(Caution))]
// What feeds the chain, too: 60 Ah of AGM gives 1.8 kA, 40 Ah of it 1.2 kA into a short.
#[case::a_feeding_battery(fused_battery(60.0), LeadsFuseBreaking, Some(Note))]
#[case::a_large_feeding_battery(fused_battery(80.0), LeadsFuseBreaking, Some(Caution))]
#[case::a_small_feeding_battery(fused_battery(20.0), LeadsFuseBreaking, None)]
#[case::faster_than_usual(json!({"practice": "hurry", "source": {"max_current_a": 20}}), PackRateTooHigh, Some(Caution))]
// Packs that are joined: a BMS, and all that stand higher.
#[case::joined_past_a_bms(json!({"pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 100, "resistance_mohm": 3, "bms": {"max_charge_a": 50}, "start": {"soc": null, "rest_voltage_v": 13.0}}, "other_packs": [{"capacity_ah": 100, "rest_voltage_v": 13.36, "resistance_mohm": 3}]}), PackParallelMismatch, Some(Stop))]
#[case::joined_within_it(json!({"pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 100, "resistance_mohm": 3, "bms": {"max_charge_a": 100}, "start": {"soc": null, "rest_voltage_v": 13.0}}, "other_packs": [{"capacity_ah": 100, "rest_voltage_v": 13.28, "resistance_mohm": 3}]}), PackParallelMismatch, Some(Caution))]
// Plugs, earths, vehicles, what has been opened.
#[case::plug_carries(port(9.9, "clips_large"), LeadsConnector, None)]
#[case::plug_hot(port(10.2, "clips_large"), LeadsConnector, Some(Caution))]
#[case::plug_hot_still(port(12.4, "clips_large"), LeadsConnector, Some(Caution))]
#[case::plug_burns(port(12.7, "clips_large"), LeadsConnector, Some(Stop))]
#[case::screws(port(12.7, "screw"), LeadsConnector, Some(Note))]
#[case::bolts(port(30.0, "bolted"), LeadsConnector, None)]
#[case::earth_loop(json!({"settings": {"current_a": 3.05}}), SourceEarthLoop, Some(Note))]
#[case::earth_loop_of_little(json!({"settings": {"current_a": 2.95}}), SourceEarthLoop, None)]
#[case::isolated(json!({"settings": {"current_a": 3.05}, "source": {"isolated_outputs": true}}), SourceEarthLoop, None)]
#[case::of_a_vehicle(off_a_battery("lead_agm", 6), SourceVehicle, Some(Note))]
#[case::of_no_vehicle(off_a_battery("lead_agm", 3), SourceVehicle, None)]
#[case::of_lithium(off_a_battery("lfp", 4), SourceVehicle, None)]
#[case::opened(json!({"source": {"modified": true}}), SourceMainsInside, Some(Caution))]
#[case::closed(json!({}), SourceMainsInside, None)]
// Warm now, and in cold air: below zero long before it is full, or not.
#[case::cools_down(json!({"ambient_c": -15}), PackCoolsDown, Some(Stop))]
#[case::cools_down_too_late(json!({"ambient_c": -0.1}), PackCoolsDown, Some(Caution))]
#[case::air_is_warm_enough(json!({"ambient_c": 0}), PackCoolsDown, None)]
// A cell that stands above full already.
#[case::cell_overfull(json!({"pack": {"start": {"soc": null, "cell_voltages_v": [4.1, 4.1, 4.1, 4.1, 4.1, 4.241]}}}), PackCellOverfull, Some(Stop))]
#[case::cell_hardly_overfull(json!({"pack": {"start": {"soc": null, "cell_voltages_v": [4.1, 4.1, 4.1, 4.1, 4.1, 4.239]}}}), PackCellOverfull, None)]
// Lead: a block a whole cell behind, and banks whose sum hides a dead cell.
#[case::block_behind(bank(json!({"block_voltages_v": [12.6, 12.6, 11.39, 12.6], "cells_per_block": 6})), PackDeadCell, Some(Stop))]
#[case::block_hardly_behind(bank(json!({"block_voltages_v": [12.6, 12.6, 11.41, 12.6], "cells_per_block": 6})), PackDeadCell, None)]
#[case::bank_at_half(bank(json!({"rest_voltage_v": 49.0})), PackDeadCell, Some(Caution))]
#[case::bank_of_even_blocks(bank(json!({"block_voltages_v": [12.25, 12.25, 12.25, 12.25], "cells_per_block": 6})), PackDeadCell, None)]
#[case::bank_read_cell_by_cell(bank(json!({"cell_voltages_v": vec![2.04; 24]})), PackDeadCell, None)]
#[case::bank_above_what_hides_one(bank(json!({"rest_voltage_v": 50.2})), PackDeadCell, None)]
// Cells apart at rest.
#[case::apart(apart(0.099), PackCellSpread, Some(Caution))]
// What a pack that is above its goal should give.
#[case::above_storage(json!({"pack": {"start": {"soc": 0.8}, "goal": {"kind": "storage"}}}), PackAboveGoal, Some(Note))]
#[case::below_storage(json!({"pack": {"start": {"soc": 0.3}, "goal": {"kind": "storage"}}}), PackAboveGoal, None)]
// A lamp of 8.75 A hot takes far more cold.
#[case::cold_lamp_trips(lamp(4.0, "hiccup"), ChargerColdInrush, Some(Caution))]
#[case::cold_lamp_held(lamp(4.0, "constant_current"), ChargerColdInrush, Some(Note))]
#[case::cold_lamp_of_a_large_supply(lamp(60.0, "hiccup"), ChargerColdInrush, Some(Note))]
fn fires_and_stays_silent(#[case] patch: Value, #[case] code: CheckCode, #[case] expected: Option<Severity>) {
    let result = ask(patch);
    assert_eq!(severity(&result, code), expected, "{:?}", result.checks);
}

/// Four 12 V blocks of 100 Ah in series, as they were read.
fn bank(start: Value) -> Value {
    let mut plan = pack("lead_agm", 100.0, json!({"pack": {"series": 24}, "source": {"max_voltage_v": 80}}));
    plan["pack"]["start"] = start;
    plan["pack"]["start"]["soc"] = Value::Null;
    plan
}

#[test]
fn lethal_volts_are_lifted_by_an_acknowledgement_and_not_for_more() {
    let plan =
        |accepted: Value| json!({"pack": {"series": 29}, "source": {"max_voltage_v": 150}, "accepted": [accepted]});
    let accepted = |volts: f64| json!({"code": "pack.lethal_voltage", "values": {"voltage_v": volts}, "at": "2026-11-25T09:00:00Z"});
    assert!(ask(plan(accepted(121.8))).settings.is_some());
    assert!(ask(plan(accepted(120.5))).settings.is_none());
}

#[test]
fn deeply_discharged_lead_is_given_a_twentieth_for_an_hour() {
    let flat = ask(pack("lead_agm", 20.0, json!({"pack": {"start": {"soc": null, "rest_voltage_v": 10.2}}})));
    let settings = flat.settings.unwrap();
    assert!((settings.dial_current_a - 0.5).abs() < 1e-9 && settings.time_limit_h == Some(1.0), "{settings:?}");
    let check = flat.checks.iter().find(|c| c.code == PackDeeplyDischarged).unwrap();
    assert!(check.message.contains("Give it 0.5 A for an hour") && check.message.contains("above 11.5 V"), "{check:?}");
}

#[rstest]
// What goes in against what was missing, by rate.
#[case::slow(0.1, 1.3, 1.6)]
#[case::half(0.5, 1.03, 1.16)]
#[case::fast(1.0, 1.03, 1.16)]
fn nickel_takes_by_its_rate_and_its_card_has_one_figure(#[case] rate: f64, #[case] least: f64, #[case] most: f64) {
    let result =
        ask(pack("nimh", 20.0, json!({"pack": {"start": {"soc": 0}}, "settings": {"current_a": 10.0 * rate}})));
    let factor = result.delivered.charge_ah / 10.0;
    assert!((least..most).contains(&factor), "{factor}");
    let settings = result.settings.unwrap();
    if let Some(stop_ah) = settings.stop_charge_ah {
        assert!((stop_ah - result.delivered.charge_ah).abs() < 1e-3 * stop_ah, "{settings:?}");
    }
    let guard = if rate >= 0.3 { 1.70 } else { 1.60 };
    assert!((settings.voltage_v / 6.0 - guard).abs() < 1e-9, "{settings:?}");
}

fn said(readings: Value, chemistry: &str, amps: f64) -> Vec<SayingCode> {
    let plan = plan_value(
        json!({"pack": {"chemistry": chemistry, "capacity_ah": 2, "temperature_c": 21, "start": {"soc": 0.1}}, "settings": {"current_a": amps}}),
    );
    let ask = json!({"plan": plan, "readings": readings});
    rumek_core::understand(&from_value(&ask).unwrap()).unwrap().said.into_iter().map(|s| s.code).collect()
}

#[rstest]
// Six cells: 5 mV each is NiMH's end, 15 mV NiCd's.
#[case::nimh_before("nimh", 9.272, 1.0, false)]
#[case::nimh_past("nimh", 9.268, 1.0, true)]
#[case::nicd_before("nicd", 9.212, 1.0, false)]
#[case::nicd_past("nicd", 9.208, 1.0, true)]
#[case::too_slow_to_tell("nimh", 9.20, 0.8, false)]
fn a_run_knows_when_nickel_is_full(#[case] chemistry: &str, #[case] volts: f64, #[case] amps: f64, #[case] full: bool) {
    let readings = json!([
        {"t_s": 600, "terminal_v": 9.1, "terminal_a": amps}, {"t_s": 5400, "terminal_v": 9.30, "terminal_a": amps},
        {"t_s": 6000, "terminal_v": volts, "terminal_a": amps},
    ]);
    assert_eq!(said(readings, chemistry, amps).contains(&SayingCode::Full), full);
}

#[rstest]
#[case::half_rate_slowly(1.0, 0.48, false)]
#[case::half_rate(1.0, 0.52, true)]
#[case::full_rate_slowly(2.0, 0.96, false)]
#[case::full_rate(2.0, 1.04, true)]
fn a_run_ends_nickel_by_how_fast_it_warms(#[case] amps: f64, #[case] k_min: f64, #[case] ends: bool) {
    let readings = json!([
        {"t_s": 3000, "terminal_v": 9.1, "terminal_a": amps, "temperature_c": 30},
        {"t_s": 3600, "terminal_v": 9.2, "terminal_a": amps, "temperature_c": 30.0 + 10.0 * k_min},
    ]);
    assert_eq!(said(readings, "nimh", amps).contains(&SayingCode::Warming), ends);
}

#[rstest]
#[case::small_lithium("lipo", 4.4, "water in quantity")]
#[case::large_lithium("lipo", 4.6, "a lithium battery of 102 Wh")]
#[case::lead("lead_agm", 60.0, "never at the clamps")]
#[case::nickel("nimh", 2.0, "caustic")]
fn what_to_do_when_it_burns_is_told_by_family_and_size(#[case] chemistry: &str, #[case] ah: f64, #[case] says: &str) {
    let result = ask(json!({"pack": {"chemistry": chemistry, "capacity_ah": ah}}));
    let said = result.emergency.join(" ");
    assert!(said.contains(says) && !said.contains("carry it outside"), "{said}");
    // A plan that is refused has it as well.
    assert!(!ask(json!({"pack": {"mark": "retired"}})).emergency.is_empty());
}
