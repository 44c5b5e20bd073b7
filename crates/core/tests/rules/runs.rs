//! The list before a charge, and what readings mean.

use rstest::rstest;
use rumek_core::codes::LogColumns;
use rumek_core::formats::{
    PreflightAskDoc, PreflightDoc, RunAskDoc, RunReadingDoc, RunStateDoc, SayingCode, Severity, from_value,
};
use rumek_core::{LogRow, log_csv, preflight, understand};
use serde_json::{Value, json};

use crate::plan_value;

fn list(patch: Value, answers: Value) -> PreflightDoc {
    let ask = json!({ "plan": plan_value(patch), "answers": answers });
    preflight(&from_value::<PreflightAskDoc>(&ask).unwrap()).unwrap()
}

fn state(patch: Value, now_s: f64, readings: Value) -> RunStateDoc {
    let ask = json!({ "plan": plan_value(patch), "now_s": now_s, "readings": readings });
    understand(&from_value::<RunAskDoc>(&ask).unwrap()).unwrap()
}

/// What nobody measured is not taken for measured once a run is frozen.
#[test]
fn a_run_is_frozen_with_its_guesses_left_open_and_a_refused_one_is_not_begun() {
    let begin = |patch: Value| {
        let run = json!({ "format": "rumek.run/1", "plan": plan_value(patch) });
        rumek_core::begin_run(&from_value(&run).unwrap(), None)
    };
    let begun = begin(json!({})).unwrap();
    let pack = begun.plan.unwrap().pack.unwrap();
    assert_eq!((pack.resistance_mohm, pack.health), (None, Some(1.0)));
    assert!(begun.core_version.is_some() && begun.result.unwrap()["settings"].is_object());
    let refused = begin(json!({ "pack": { "mark": "retired" } })).unwrap_err();
    assert_eq!(refused.problems[0].pointer, "/plan");
    // A log of a pack alone knows nothing that fed it.
    assert!(begin(json!({ "source": null, "load": { "current_a": 1 } })).unwrap().result.is_none());
}

#[test]
fn a_charge_under_way_says_what_to_do_when_it_burns() {
    let said = state(json!({}), 300.0, json!([{ "t_s": 300, "terminal_v": 22.9, "source_a": 4.0 }])).emergency;
    assert!(said.join(" ").contains("smoke is poisonous"), "{said:?}");
}

#[test]
fn a_list_is_made_for_its_chain_and_is_clear_once_all_is_in_order() {
    let codes =
        |patch: Value| list(patch, json!([])).items.into_iter().map(|item| item.code.code()).collect::<Vec<_>>();
    assert_eq!(
        codes(json!({})),
        ["surface", "current_limit", "no_load_voltage", "polarity", "rest_voltage", "cells", "temperature"]
    );
    let lead = json!({ "pack": { "chemistry": "lead_agm", "capacity_ah": 20 }, "source": { "kind": "fixed_supply", "voltage_v": 13.8, "max_voltage_v": null, "overload": "constant_current" },
                       "leads": { "output": { "awg": 14, "length_m": 1, "fuse_a": 10 } } });
    assert_eq!(codes(lead), ["air", "supply_voltage", "polarity", "fuse", "rest_voltage", "temperature"]);
    let charger = json!({ "source": { "kind": "mains", "max_voltage_v": null, "max_current_a": null }, "charger": { "kind": "hobby_charger", "output_max_a": 8 } });
    assert!(!codes(charger).contains(&"no_load_voltage"));
    let answers = json!([ { "code": "surface", "seen": true }, { "code": "current_limit", "value": 4.0 }, { "code": "no_load_voltage", "value": 25.19 }, { "code": "polarity", "seen": true },
        { "code": "rest_voltage", "value": 22.7 }, { "code": "cells", "cells_v": [3.78, 3.78, 3.79, 3.78, 3.78, 3.78] }, { "code": "temperature", "value": 21 } ]);
    assert!(list(json!({}), answers).clear);
}

#[rstest]
#[case::ten_times_the_amps(json!({"code": "current_limit", "value": 40}), "takes at once what is set")]
#[case::a_little_more_amps(json!({"code": "current_limit", "value": 4.23}), "Set it again")]
#[case::set_too_high(json!({"code": "no_load_voltage", "value": 26.4}), "Set it again")]
#[case::other_cell_count(json!({"code": "rest_voltage", "value": 14.8}), "count the cells")]
#[case::a_low_cell(json!({"code": "cells", "cells_v": [3.78, 2.4, 3.79, 3.78, 3.78, 3.78]}), "Rescue")]
#[case::cells_apart(json!({"code": "cells", "cells_v": [3.78, 3.6, 3.79, 3.78, 3.78, 3.78]}), "apart")]
#[case::one_cell_missed(json!({"code": "cells", "cells_v": [3.78, 3.79]}), "2 readings for 6 cells")]
#[case::too_cold(json!({"code": "temperature", "value": -3}), "waits")]
#[case::too_hot(json!({"code": "temperature", "value": 50}), "cools")]
fn what_is_off_stops_the_list_and_says_what_to_do(#[case] answer: Value, #[case] words: &str) {
    let list = list(json!({}), json!([answer]));
    let off: Vec<_> = list.items.iter().filter(|item| item.ok == Some(false)).collect();
    assert_eq!(off.len(), 1, "{:?}", list.items);
    assert!(off[0].problem.as_ref().unwrap().contains(words), "{:?}", off[0].problem);
    assert!(!list.clear);
}

#[test]
fn without_a_reading_it_goes_as_planned_and_with_one_it_goes_on_from_there() {
    let planned = rumek_core::answer(&crate::plan(json!({}))).unwrap();
    let untouched = state(json!({}), 0.0, json!([]));
    assert!((untouched.end_s.unwrap() / planned.time.total_s.unwrap() - 1.0).abs() < 1e-3);
    assert!(untouched.said.is_empty() && untouched.fit.learned == 0.0);
    let half = state(json!({}), 1200.0, json!([{ "t_s": 1200, "terminal_v": 23.9, "source_a": 2.0 }]));
    assert_eq!(half.said[0].code, SayingCode::SupplyLimited);
    assert!(half.end_s.unwrap() > 1.3 * planned.time.total_s.unwrap());
    assert!(half.end_low_s.unwrap() <= half.end_s.unwrap() && half.end_s.unwrap() <= half.end_high_s.unwrap());
    assert!((half.course[0].t_s - 1200.0).abs() < 1e-6);
    let overslept = state(json!({}), 3000.0, json!([{ "t_s": 1200, "terminal_v": 23.9, "source_a": 2.0 }]));
    assert_eq!((half.next_look_s, overslept.next_look_s), (Some(1500.0), Some(1500.0)), "a look that is due stays due");
}

#[rstest]
// 4 A are set: a fifth more is 4.8 A.
#[case::a_little_more(4.75, json!({"rated_c_rate": 3}), None)]
#[case::a_fifth_more(4.85, json!({"rated_c_rate": 3}), Some(Severity::Caution))]
#[case::a_fifth_above_the_label(4.9, json!({"rated_c_rate": 1}), Some(Severity::Stop))]
#[case::less_above_the_label(4.85, json!({"rated_c_rate": 1.02}), Some(Severity::Caution))]
fn more_than_may_flow_is_told(#[case] amps: f64, #[case] pack: Value, #[case] expected: Option<Severity>) {
    let plan = json!({"pack": pack, "settings": {"current_a": 4}, "source": {"max_current_a": 10}});
    let said = state(plan, 600.0, json!([{"t_s": 600, "terminal_v": 23.3, "source_a": amps}])).said;
    let found = said.iter().find(|one| one.code == SayingCode::OverCurrent);
    assert_eq!(found.map(|one| one.severity), expected, "{said:?}");
}

#[rstest]
#[case::as_displays_are(json!({"source_a": 4.0, "bms_a": 3.7}), json!({}), false)]
#[case::a_tenth_apart(json!({"source_a": 4.0, "bms_a": 3.65}), json!({}), true)]
#[case::a_known_load_between(json!({"source_a": 4.0, "bms_a": 3.0}), json!({"load": {"current_a": 1}}), false)]
#[case::by_meter_at_the_pack(json!({"source_a": 4.0, "terminal_a": 3.6}), json!({}), true)]
#[case::tenths_of_a_small_current(json!({"source_a": 0.5, "bms_a": 0.36}), json!({}), false)]
#[case::little_more_of_it(json!({"source_a": 0.5, "bms_a": 0.34}), json!({}), true)]
fn displays_that_contradict_each_other_are_told(#[case] reading: Value, #[case] plan: Value, #[case] told: bool) {
    let mut reading = reading;
    reading["t_s"] = json!(600);
    reading["terminal_v"] = json!(23.3);
    let said = state(plan, 600.0, json!([reading])).said;
    assert_eq!(said.iter().any(|one| one.code == SayingCode::DisplaysDiffer), told, "{said:?}");
}

#[test]
fn who_comes_by_the_clock_is_told_to_come_as_planned() {
    let plan = json!({
        "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 100, "balancer": "built_in", "bms": {"max_charge_a": 100, "balances": true}},
        "source": {"kind": "adjustable_supply", "min_voltage_v": 8, "max_voltage_v": 16, "max_current_a": 30},
        "visit_every_min": 360, "attended_first_min": 60,
    });
    let reading = |t_s: f64| json!([{"t_s": t_s, "terminal_v": 13.3, "source_a": 20.0}]);
    let look = |t_s: f64| state(plan.clone(), t_s, reading(t_s)).next_look_s.unwrap() - t_s;
    assert!(look(600.0) <= 1800.0, "{}", look(600.0));
    assert!(look(7200.0) > 1800.0, "{}", look(7200.0));
}

#[test]
fn the_falling_current_ends_it_and_a_load_is_taken_off() {
    let tapered = json!([{ "t_s": 60, "terminal_v": 23.4, "source_a": 4.0 }, { "t_s": 4200, "terminal_v": 25.2, "source_a": 0.38 }]);
    let done = state(json!({}), 4200.0, tapered);
    assert!(done.said.iter().any(|said| said.code == SayingCode::Done), "{:?}", done.said);
    assert_eq!((done.next_look_s, done.end_s), (None, Some(4200.0)));
    let loaded = state(
        json!({ "load": { "current_a": 1.0 } }),
        600.0,
        json!([{ "t_s": 600, "terminal_v": 23.6, "source_a": 5.0 }]),
    );
    assert!((loaded.account.charge_ah - 4.0 * 600.0 / 3600.0).abs() < 0.1, "{}", loaded.account.charge_ah);
}

#[test]
fn turns_by_hand_are_computed_anew_from_the_readings() {
    let by_hand = json!({ "source": { "kind": "adjustable_supply", "min_voltage_v": 10, "max_voltage_v": 30, "voltage_step_v": 0.1 }, "visit_every_min": 20 });
    let planned = rumek_core::answer(&crate::plan(by_hand.clone())).unwrap();
    let now_s = planned.nudges[2].at_s - 100.0;
    let later = state(by_hand, now_s, json!([{ "t_s": now_s, "terminal_v": 24.0, "source_a": 2.0 }]));
    assert!(!later.nudges.is_empty() && later.nudges[0].at_s >= now_s, "{:?}", later.nudges);
}

#[test]
fn a_log_goes_out_with_every_place_or_as_one_voltage_and_current() {
    let plan = crate::plan(json!({}));
    let row = |t_s: f64, reading: Value| {
        let mut reading: RunReadingDoc = from_value(&reading).unwrap();
        reading.t_s = Some(t_s);
        LogRow { unix_s: 1_764_000_000.0 + t_s, reading }
    };
    let rows = [
        row(3660.0, json!({ "terminal_v": 24.0, "source_a": 2.0, "note": "hums, a little" })),
        row(
            60.0,
            json!({ "terminal_v": 23.0, "source_a": 4.0, "cell_voltages_v": [3.83, 3.84, 3.83, 3.83, 3.84, 3.83] }),
        ),
        row(1860.0, json!({ "source_v": 23.6 })),
    ];
    let own = log_csv(&plan, None, rows.to_vec(), LogColumns::Rumek).unwrap();
    let lines: Vec<&str> = own.lines().collect();
    assert!(lines[0].starts_with("time_s,unix_s,source_v,source_a") && lines[0].ends_with("cell_6_v,note"), "{own}");
    assert!(lines[1].starts_with("60,1764000060,,4,") && lines[3].ends_with("\"hums, a little\""), "{own}");
    let bdf = log_csv(&plan, None, rows.to_vec(), LogColumns::Bdf).unwrap();
    let lines: Vec<&str> = bdf.lines().collect();
    assert_eq!(
        lines[0],
        "Test Time / s,Voltage / V,Current / A,Unix Time / s,Charging Capacity / Ah,Power / W,Surface Temperature T1 / degC"
    );
    assert!(lines[1].starts_with("0,23,4,") && lines[3].starts_with("3600,24,2,"), "{bdf}");
    assert!(lines.iter().all(|line| line.matches(',').count() == 6), "{bdf}");
    let amps: f64 = lines[2].split(',').nth(2).unwrap().parse().unwrap();
    assert!((2.0..4.0).contains(&amps), "{bdf}");
}

#[test]
fn a_display_that_was_compared_is_read_as_what_is_true() {
    let off =
        json!({ "source": { "meters": [ { "quantity": "current", "points": [ { "shown": 5.0, "true": 4.0 } ] } ] } });
    let readings = json!([{ "t_s": 900, "terminal_v": 23.6, "source_a": 5.0 }]);
    let corrected = state(off, 900.0, readings.clone());
    assert!((corrected.account.charge_ah - 1.0).abs() < 0.05, "{}", corrected.account.charge_ah);
    assert!(state(json!({}), 900.0, readings).account.charge_ah > 1.2);
}

/// Readings as the plan has them, every tenth point of its curve.
fn as_planned(patch: Value) -> (rumek_core::formats::ResultDoc, Value) {
    let result = rumek_core::answer(&crate::plan(patch)).unwrap();
    let some = result.curve.iter().step_by(10);
    let readings = some.map(|p| json!({ "t_s": p.t_s, "terminal_v": p.pack_v, "terminal_a": p.current_a })).collect();
    (result, readings)
}

#[test]
fn a_charge_that_went_as_planned_comes_to_what_was_planned() {
    let priced = json!({ "price_per_kwh": 0.30 });
    let (planned, readings) = as_planned(priced.clone());
    let account = state(priced, planned.time.total_s.unwrap(), readings).account;
    let close = |is: f64, planned: Option<f64>, off: f64| (is / planned.unwrap() - 1.0).abs() < off;
    assert!(close(account.total_s, account.total_predicted_s, 0.01), "{account:?}");
    assert!(close(account.to_cv_s.unwrap(), account.to_cv_predicted_s, 0.08), "{account:?}");
    assert!(close(account.charge_ah, account.charge_predicted_ah, 0.03), "{account:?}");
    assert!(close(account.energy_wh, account.energy_predicted_wh, 0.03), "{account:?}");
    assert!(close(account.mains_wh.unwrap(), Some(planned.delivered.mains_wh), 0.03), "{account:?}");
    assert!(close(account.cost.unwrap(), planned.delivered.cost, 0.03), "{account:?}");
}

#[test]
fn a_log_without_what_fed_it_still_tells_of_the_pack() {
    let weak = json!({ "pack": { "resistance_mohm": 60 } });
    let (planned, readings) = as_planned(weak);
    let alone = json!({ "source": null, "pack": { "resistance_mohm": 30, "start": { "soc": 0.2 } } });
    let state = state(alone, 0.0, readings);
    assert!((45.0..75.0).contains(&state.fit.resistance_mohm), "{:?}", state.fit);
    assert!((state.account.charge_ah / planned.delivered.charge_ah - 1.0).abs() < 0.05, "{:?}", state.account);
    assert!(state.predicted.is_none() && state.account.total_predicted_s.is_none());
    assert_eq!(state.said.iter().map(|s| s.code).collect::<Vec<_>>(), [SayingCode::HighResistance]);
}

#[test]
fn a_supply_that_sags_has_not_brought_the_pack_to_its_voltage() {
    let looks = [(600, 22.8, 2.6), (1800, 23.3, 2.6), (3000, 23.8, 1.9)];
    let read: Vec<Value> =
        looks.iter().map(|(t_s, v, a)| json!({"t_s": t_s, "terminal_v": v, "source_a": a})).collect();
    assert_eq!(state(json!({}), 3000.0, json!(read)).account.to_cv_s, None);
}

#[test]
fn a_log_s_rise_ends_where_the_current_falls_for_good() {
    let alone = || json!({ "source": null, "pack": { "start": { "soc": 0.2 } } });
    let (planned, readings) = as_planned(json!({}));
    let rise_s = state(alone(), 0.0, readings.clone()).account.to_cv_s.unwrap();
    assert!((rise_s / planned.time.to_cv_s.unwrap() - 1.0).abs() < 0.1, "{rise_s} {:?}", planned.time);
    let mut broken = readings.as_array().unwrap().clone();
    let middle = broken.len() / 3;
    broken[middle]["terminal_a"] = json!(0.0);
    assert_eq!(state(alone(), 0.0, json!(broken)).account.to_cv_s, Some(rise_s), "an interruption");
    broken.truncate(middle + 1);
    broken[middle]["terminal_v"] = json!(21.0);
    assert_eq!(state(alone(), 0.0, json!(broken)).account.to_cv_s, None, "unplugged");
}

#[rstest]
#[case::above_what_the_cells_bear(json!({"terminal_v": 26.0}), "stop", "26 V")]
#[case::one_cell_above(json!({"terminal_v": 24.9, "cell_voltages_v": [4.1, 4.1, 4.1, 4.1, 4.1, 4.4]}), "stop", "A cell reads 4.4 V")]
#[case::above_what_is_set(json!({"terminal_v": 25.1}), "caution", "that is to be set")]
fn more_volts_than_there_may_be_are_told(#[case] read: Value, #[case] severity: &str, #[case] words: &str) {
    let mut reading = json!({ "t_s": 1200, "source_a": 2.0 });
    reading.as_object_mut().unwrap().extend(read.as_object().unwrap().clone());
    let set = json!({ "settings": { "voltage_v": 24.6 } });
    let said = state(set, 1200.0, json!([reading])).said;
    let over = said.iter().find(|s| s.code == SayingCode::OverVoltage).unwrap_or_else(|| panic!("{said:?}"));
    assert_eq!(serde_json::to_value(over.severity).unwrap(), severity);
    assert!(over.message.contains(words), "{}", over.message);
}

/// What a charge's readings make of its pack, as it is kept when the charge has ended.
#[test]
fn a_whole_charge_leaves_a_refit_and_one_of_few_readings_none() {
    let refit = |patch: Value, times: &[f64]| {
        let planned = rumek_core::answer(&crate::plan(patch.clone())).unwrap();
        let at = |share: f64| &planned.curve[((planned.curve.len() - 1) as f64 * share) as usize];
        let reading = |share: &f64| json!({ "t_s": at(*share).t_s, "terminal_v": at(*share).pack_v, "terminal_a": at(*share).current_a });
        let readings = Value::Array(times.iter().map(reading).collect());
        rumek_core::refit_of(&crate::plan(patch.clone()), &state(patch, at(*times.last().unwrap()).t_s, readings))
    };
    let whole = [0.02, 0.15, 0.3, 0.5, 0.7, 0.85, 1.0];
    let kept = refit(json!({ "pack": { "start": { "soc": 0.29 } } }), &whole).unwrap();
    assert!((kept.capacity_ah.unwrap() - 4.0).abs() < 0.12 && kept.whole == Some(true), "{kept:?}");
    assert!(kept.resistance_sd_mohm.unwrap() > 0.0);
    let two = refit(json!({ "pack": { "packs_in_parallel": 2 }, "source": { "max_current_a": 10 } }), &whole).unwrap();
    assert!((two.capacity_ah.unwrap() - 4.0).abs() < 0.12, "of one pack: {two:?}");
    assert_eq!(refit(json!({ "pack": { "start": { "soc": 0.31 } } }), &whole).unwrap().whole, Some(false));
    assert_eq!(refit(json!({}), &whole[..4]), None);
}

/// What is asked of the last reading: its answers by field and value.
fn answers(state: &RunStateDoc) -> Vec<(String, Value)> {
    let asked = state.said.iter().find_map(|said| said.ask.as_ref());
    asked
        .map(|ask| ask.choices.iter().map(|one| (one.pointer.clone(), one.value.clone())).collect())
        .unwrap_or_default()
}

#[rstest]
#[case::a_point_in_the_amps(json!({"terminal_v": 23.3, "source_a": 40}), SayingCode::OverCurrent, "/reading/source_a", json!(4.0))]
#[case::a_point_in_the_volts(json!({"terminal_v": 233, "source_a": 4}), SayingCode::OverVoltage, "/reading/terminal_v", json!(23.3))]
#[case::one_cell_for_the_pack(json!({"terminal_v": 3.885, "source_a": 4}), SayingCode::VoltageMissing, "/reading/terminal_v", json!(23.31))]
#[case::a_meter_the_other_way_round(json!({"terminal_v": 23.3, "terminal_a": -4}), SayingCode::RunningDown, "/reading/terminal_a", json!(4.0))]
#[case::nothing_that_fits(json!({"terminal_v": 25.25, "source_a": 4}), SayingCode::VoltsUnlikely, "/reading", Value::Null)]
fn a_reading_that_does_not_fit_is_asked_about_and_teaches_nothing(
    #[case] reading: Value,
    #[case] code: SayingCode,
    #[case] pointer: &str,
    #[case] value: Value,
) {
    let mut reading = reading;
    reading["t_s"] = json!(600);
    let asked = state(json!({}), 600.0, json!([reading]));
    assert_eq!(asked.said[0].code, code, "{:?}", asked.said);
    assert_eq!(answers(&asked)[0], (pointer.to_owned(), value), "{:?}", asked.said);
    assert_eq!((asked.fit.readings, asked.fit.learned), (0, 0.0));
    // Read twice it is true: it is not asked again.
    assert_eq!(answers(&asked)[1], ("/reading/sure".to_owned(), json!(true)));
    reading["sure"] = json!(true);
    let sure = state(json!({}), 600.0, json!([reading]));
    assert!(answers(&sure).is_empty(), "{:?}", sure.said);
    assert!(sure.said[0].severity != Severity::Note, "{:?}", sure.said);
}

#[rstest]
#[case::bench(json!({}), "tripped stays off")]
#[case::relay(json!({"cut_off": {"low_v": 22, "high_v": 25.2}}), "both sides of the relay")]
#[case::knob(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 10, "max_voltage_v": 30}}), "begin low")]
#[case::menu(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "hobby_charger", "output_max_a": 4}}), "what the charger shows")]
#[case::board(json!({"pack": {"bms": {"max_charge_a": 20}}}), "board may have switched")]
#[case::fuse(json!({"leads": {"output": {"awg": 14, "length_m": 1, "fuse_a": 10}}}), "sides of the fuse")]
fn where_nothing_flows_it_is_said_first_with_what_to_look_at(#[case] patch: Value, #[case] words: &str) {
    let state = state(patch, 900.0, json!([{"t_s": 900, "terminal_v": 22.6, "terminal_a": 0.0}]));
    assert_eq!(state.said[0].code, SayingCode::Stopped, "{:?}", state.said);
    assert!(state.said[0].message.contains(words), "{:?}", state.said);
    assert_eq!(state.next_look_s, Some(900.0), "at once");
    assert_eq!(state.fit.learned, 0.0);
}

#[test]
fn a_load_whose_charger_has_died_runs_the_pack_down() {
    let loaded = json!({"load": {"current_a": 1.5}});
    let said = state(loaded, 900.0, json!([{"t_s": 900, "terminal_v": 22.3, "terminal_a": -1.5}])).said;
    assert_eq!(said[0].code, SayingCode::RunningDown, "{said:?}");
    assert!(said[0].message.contains("its load is fed by the pack alone"), "{said:?}");
    let fell = json!([{"t_s": 600, "terminal_v": 22.9}, {"t_s": 1200, "terminal_v": 22.6}]);
    assert_eq!(state(json!({}), 1200.0, fell).said[0].code, SayingCode::RunningDown, "by its volts alone");
}

#[test]
fn a_knob_goes_on_from_where_it_stands() {
    let by_hand = json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 10, "max_voltage_v": 30, "voltage_step_v": 0.1}, "settings": {"current_a": 2}, "leads": {"output": {"area_mm2": 1.5, "length_m": 4}}});
    let read = |more: Value| {
        let mut reading = json!({"t_s": 600, "terminal_v": 22.9, "source_a": 3.5});
        crate::merge(&mut reading, &more);
        state(by_hand.clone(), 600.0, json!([reading]))
    };
    let above = read(json!({}));
    let asked = above.said.iter().find(|said| said.ask.is_some()).unwrap();
    assert!(asked.ask.as_ref().unwrap().question.contains("knob"), "{:?}", above.said);
    let stands = read(json!({"set_v": 23.2, "source_a": 1.5}));
    assert!(answers(&stands).is_empty(), "{:?}", stands.said);
    assert!(stands.nudges.first().is_none_or(|turn| turn.at_s > 600.0), "it stands: {:?}", stands.nudges);
    let past = read(json!({"set_v": 27.0, "source_a": 1.5}));
    let stop = past.said.iter().find(|said| said.code == SayingCode::KnobElsewhere).unwrap();
    assert!(stop.severity == Severity::Stop && stop.message.contains("Turn it down"), "{:?}", past.said);
}

#[test]
fn the_first_look_comes_after_a_minute_or_two_and_the_next_after_ten() {
    assert_eq!(state(json!({}), 0.0, json!([])).next_look_s, Some(90.0));
    let first = state(json!({}), 90.0, json!([{"t_s": 90, "terminal_v": 22.6, "source_a": 4.0}]));
    assert_eq!(first.next_look_s, Some(690.0), "{:?}", first.said);
}
