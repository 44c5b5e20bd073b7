//! A discharge as it happens: the list before it, what its readings mean, when it is done, what is kept of it.

use rstest::rstest;
use rumek_core::codes::{LogColumns, RunWay, SayingCode, Severity};
use rumek_core::formats::{PreflightAskDoc, RunAskDoc, RunDoc, RunStateDoc, from_value};
use rumek_core::{LogRow, LogSums, begin_run, log_csv, preflight, understand, understand_sums};
use serde_json::{Value, json};

use crate::merge;

/// A 6S pack of 4 Ah, full, that gives all it holds into a load at 2 A, down to 3.2 V a cell.
fn run(patch: Value) -> Value {
    let mut whole = json!({
        "plan": { "format": "rumek.plan/1", "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4,
            "discharge_c_rate": 5, "start": { "soc": 1.0 } } },
        "discharge": { "by": "electronic_load", "current_a": 2, "to_v_per_cell": 3.2 },
    });
    merge(&mut whole, &patch);
    whole
}

fn state(patch: Value, readings: Value) -> RunStateDoc {
    let mut ask = run(patch);
    ask["readings"] = readings;
    understand(&from_value::<RunAskDoc>(&ask).unwrap()).unwrap()
}

fn said(patch: Value, readings: Value, code: SayingCode) -> Option<(Severity, String)> {
    let said = state(patch, readings).said;
    said.iter().find(|one| one.code == code).map(|one| (one.severity, one.message.clone()))
}

/// The volts the core itself predicts at a time into it.
fn volts_at(patch: Value, t_s: f64) -> f64 {
    let mut ask = run(patch);
    ask["now_s"] = json!(t_s);
    understand(&from_value::<RunAskDoc>(&ask).unwrap()).unwrap().predicted.unwrap().pack_v
}

#[test]
fn the_list_is_made_for_what_takes_it_and_a_pack_that_is_not_full_stops_it() {
    let list = |patch: Value, answers: Value| {
        let mut ask = run(patch);
        ask["answers"] = answers;
        preflight(&from_value::<PreflightAskDoc>(&ask).unwrap()).unwrap()
    };
    let codes =
        |patch: Value| list(patch, json!([])).items.iter().map(|item| item.code.code()).collect::<Vec<_>>().join(" ");
    assert_eq!(codes(json!({})), "surface cut_off polarity rest_voltage cells temperature");
    let resistor =
        json!({ "discharge": { "by": "resistor", "resistance_ohm": 12, "rated_w": 100, "current_a": null } });
    assert_eq!(codes(resistor.clone()), "surface sink clock polarity rest_voltage cells temperature");
    let clock = list(resistor, json!([])).items[2].message.clone();
    assert!(clock.contains("nothing ends it but you, at 19.2 V"), "{clock}");
    let rest = |v: f64| list(json!({}), json!([{ "code": "rest_voltage", "value": v }])).items[3].ok;
    assert_eq!((rest(25.1), rest(23.0), rest(25.4)), (Some(true), Some(false), Some(false)));
    let warm = |c: f64| list(json!({}), json!([{ "code": "temperature", "value": c }])).items[5].ok;
    assert_eq!((warm(44.0), warm(46.0)), (Some(true), Some(false)));
}

#[test]
fn a_run_down_begins_frozen_with_its_answer_and_not_where_a_stop_stands() {
    let begin = |patch: Value| {
        let mut document = run(patch);
        document["format"] = json!("rumek.run/1");
        begin_run(&from_value::<RunDoc>(&document).unwrap(), None)
    };
    let begun = begin(json!({})).unwrap();
    let result = begun.result.unwrap();
    assert!(
        result["discharge"]["phase"]["charge_ah"].as_f64().unwrap() > 3.7,
        "{}",
        result["discharge"]["phase"]["charge_ah"]
    );
    assert!(begun.plan.unwrap().load.is_none() && begun.core_version.is_some());
    let too_hot = json!({ "discharge": { "by": "resistor", "resistance_ohm": 12, "rated_w": 20, "current_a": null } });
    assert!(begin(too_hot).unwrap_err().problems[0].message.contains("burns out"));
    // The everyday discharge to storage is its plan's.
    let storage = json!({ "discharge": null, "plan": { "pack": { "goal": { "kind": "storage" } },
        "charger": { "kind": "resistor", "resistance_ohm": 20, "rated_w": 100 } } });
    let result = begin(storage).unwrap().result.unwrap();
    assert_eq!(result["discharge"]["by"], "resistor");
}

#[test]
fn without_a_reading_it_goes_as_computed_and_with_one_it_goes_on_from_there() {
    let untouched = state(json!({}), json!([]));
    let end_s = untouched.end_s.unwrap();
    assert!((end_s / 3600.0 - 1.95).abs() < 0.1, "{end_s}");
    assert!(untouched.way == RunWay::Discharge && untouched.said.is_empty());
    let half = state(json!({}), json!([{ "t_s": 1800, "terminal_v": volts_at(json!({}), 1800.0), "terminal_a": 1.0 }]));
    assert!((half.end_s.unwrap() - 1800.0) / (end_s - 1800.0) > 1.7, "{:?}", half.end_s);
    assert_eq!(half.said[0].code, SayingCode::SupplyLimited);
    assert!(half.end_low_s.unwrap() < half.end_s.unwrap() && half.end_s.unwrap() < half.end_high_s.unwrap());
}

#[rstest]
#[case::as_the_load_shows_it(2.0)]
#[case::as_a_meter_counts_it(-2.0)]
fn whatever_sign_a_display_shows_what_is_run_down_gives(#[case] amps: f64) {
    let readings = json!([{ "t_s": 0, "terminal_v": 24.6, "terminal_a": amps }, { "t_s": 1800, "terminal_v": volts_at(json!({}), 1800.0), "terminal_a": amps }]);
    let state = state(json!({}), readings.clone());
    assert!((state.account.charge_ah + 1.0).abs() < 0.01, "{:?}", state.account);
    assert_eq!(state.said[0].code, SayingCode::OnTrack, "{:?}", state.said);
    // Summed as they come it is the same.
    let ask = run(json!({}));
    let mut sums =
        LogSums::new(&from_value(&ask["plan"]).unwrap(), Some(&from_value(&ask["discharge"]).unwrap())).unwrap();
    for reading in readings.as_array().unwrap() {
        sums.push(&LogRow { unix_s: 1e9 + reading["t_s"].as_f64().unwrap(), reading: from_value(reading).unwrap() });
    }
    assert!((understand_sums(&sums, 1e9, None).account.charge_ah + 1.0).abs() < 0.01);
}

#[rstest]
// 5C of 4 Ah are 20 A, and 1.23 A more is what a display may be off by there.
#[case::more_than_computed(json!({"terminal_a": 2.46}), SayingCode::OverCurrent, Some(Severity::Caution))]
#[case::hardly_more(json!({"terminal_a": 2.41}), SayingCode::OverCurrent, None)]
#[case::more_than_its_label(json!({"terminal_a": 21.3}), SayingCode::OverCurrent, Some(Severity::Stop))]
#[case::within_its_label(json!({"terminal_a": 21.1}), SayingCode::OverCurrent, Some(Severity::Caution))]
#[case::less(json!({"terminal_a": 1.77}), SayingCode::SupplyLimited, Some(Severity::Note))]
#[case::hardly_less(json!({"terminal_a": 1.79}), SayingCode::SupplyLimited, None)]
#[case::next_to_nothing(json!({"terminal_a": 0.099}), SayingCode::Stopped, Some(Severity::Caution))]
#[case::something(json!({"terminal_a": 0.101}), SayingCode::Stopped, None)]
#[case::warm(json!({"temperature_c": 40.1}), SayingCode::Warming, Some(Severity::Caution))]
#[case::hand_warm(json!({"temperature_c": 39.9}), SayingCode::Warming, None)]
#[case::hot(json!({"temperature_c": 60.0}), SayingCode::Warming, Some(Severity::Stop))]
#[case::nearly_hot(json!({"temperature_c": 59.9}), SayingCode::Warming, Some(Severity::Caution))]
#[case::a_cell_has_failed(json!({"cell_voltages_v": [3.9, 3.9, 3.9, 3.9, 3.9, 3.53]}), SayingCode::CellBehind, Some(Severity::Stop))]
#[case::a_cell_is_low(json!({"cell_voltages_v": [3.9, 3.9, 3.9, 3.9, 3.9, 3.55]}), SayingCode::CellBehind, None)]
fn half_an_hour_in(#[case] reading: Value, #[case] code: SayingCode, #[case] expected: Option<Severity>) {
    let mut one = json!({ "t_s": 1800, "terminal_v": volts_at(json!({}), 1800.0), "terminal_a": 2.0 });
    for (field, value) in reading.as_object().unwrap() {
        one[field] = value.clone();
    }
    let begun = json!({ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0 });
    let told = said(json!({}), json!([begun, one]), code);
    assert_eq!(told.as_ref().map(|one| one.0), expected, "{told:?}");
}

#[rstest]
#[case::a_volt_missing(-2.05, true)]
#[case::less_than_half_a_cell(-1.9, false)]
fn a_missing_cell_is_told(#[case] by_v: f64, #[case] told: bool) {
    // Half a cell is 1.85 V, and 0.15 V is what a meter may be off by.
    let readings = json!([{ "t_s": 1800, "terminal_v": volts_at(json!({}), 1800.0) + by_v, "terminal_a": 2.0 }]);
    assert_eq!(said(json!({}), readings, SayingCode::VoltageMissing).is_some(), told);
}

#[rstest]
#[case::they_rise(23.45, true)]
#[case::the_meter_is_off(23.1, false)]
fn volts_that_rise_are_told(#[case] then_v: f64, #[case] told: bool) {
    let readings = json!([{ "t_s": 600, "terminal_v": 23.0, "terminal_a": 2.0 }, { "t_s": 1800, "terminal_v": then_v, "terminal_a": 2.0 }]);
    assert_eq!(said(json!({}), readings, SayingCode::WrongWay).is_some(), told);
}

#[rstest]
#[case::first_at_its_end(json!([3.42, 3.42, 3.42, 3.42, 3.42, 3.3]), SayingCode::CellFirst, true)]
#[case::all_alike(json!([3.36, 3.36, 3.36, 3.36, 3.36, 3.28]), SayingCode::CellFirst, false)]
#[case::far_from_it(json!([3.6, 3.6, 3.6, 3.6, 3.6, 3.36]), SayingCode::CellFirst, false)]
#[case::at_the_cut_off(json!([3.4, 3.4, 3.4, 3.4, 3.4, 3.204]), SayingCode::Done, true)]
#[case::just_above(json!([3.4, 3.4, 3.4, 3.4, 3.4, 3.21]), SayingCode::Done, false)]
// The line is 3.0 V, and a minute too late takes a cell 0.11 V further.
#[case::too_low(json!([3.2, 3.2, 3.2, 3.2, 3.2, 2.88]), SayingCode::OverDischarged, true)]
#[case::late(json!([3.2, 3.2, 3.2, 3.2, 3.2, 2.9]), SayingCode::OverDischarged, false)]
fn towards_the_end_the_lowest_cell_decides(#[case] cells: Value, #[case] code: SayingCode, #[case] told: bool) {
    let sum: f64 = cells.as_array().unwrap().iter().filter_map(Value::as_f64).sum();
    let readings = json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0 }, { "t_s": 6600, "terminal_v": sum, "terminal_a": 2.0, "cell_voltages_v": cells }]);
    let found = said(json!({}), readings, code);
    assert_eq!(found.is_some(), told, "{found:?}");
}

#[test]
fn what_ends_by_nobody_must_be_ended_and_what_it_gave_is_told() {
    let at_end = |a: f64| json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": a }, { "t_s": 7000, "terminal_v": 19.2, "terminal_a": a }]);
    let (severity, message) = said(json!({}), at_end(2.0), SayingCode::Done).unwrap();
    assert!(severity == Severity::Note && message.contains("ends by itself") && message.contains("100 %"), "{message}");
    let resistor =
        json!({ "discharge": { "by": "resistor", "resistance_ohm": 11, "rated_w": 100, "current_a": null } });
    let (severity, message) = said(resistor, at_end(2.0), SayingCode::Done).unwrap();
    assert!(severity == Severity::Stop && message.contains("Take it off at the pack now"), "{message}");
    let share = |a: f64| said(json!({"discharge": {"current_a": a}}), at_end(a), SayingCode::Done).unwrap().1;
    // At such currents its label gives 3.9 Ah at 20 °C: 80 % are 1.605 A for so long, 60 % are 1.2 A.
    assert!(share(1.63).contains("at this current.") && !share(1.63).contains("worn"), "{}", share(1.63));
    assert!(share(1.58).contains("it is worn"), "{}", share(1.58));
    assert!(share(1.23).contains("it is worn") && share(1.18).contains("Retire it"), "{}", share(1.18));
}

#[test]
fn a_whole_discharge_from_full_is_kept_as_a_test_and_another_is_not() {
    let cells = json!([3.25, 3.25, 3.25, 3.25, 3.25, 3.2]);
    let readings =
        |last: Value| json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0, "temperature_c": 20 }, last]);
    let ended = readings(
        json!({ "t_s": 7000, "terminal_v": 19.5, "terminal_a": 2.0, "cell_voltages_v": cells, "temperature_c": 26 }),
    );
    let kept = state(json!({}), ended.clone()).keep.record.unwrap();
    assert!((kept.capacity_ah.unwrap() - 3.889).abs() < 0.01 && kept.whole == Some(true), "{kept:?}");
    assert!((kept.current_a.unwrap() - 2.0).abs() < 0.01 && kept.temperature_c == Some(23.0));
    assert_eq!((kept.to_v_per_cell, kept.at), (Some(3.2), None));
    let of_two = state(json!({ "plan": { "pack": { "packs_in_parallel": 2 } } }), ended.clone()).keep.record.unwrap();
    assert!((of_two.capacity_ah.unwrap() - 1.944).abs() < 0.01);
    let why = |patch: Value, readings: Value| state(patch, readings).keep.why_not.unwrap();
    assert!(why(json!({ "plan": { "pack": { "start": { "soc": 0.94 } } } }), ended).contains("did not begin full"));
    let halfway = readings(json!({ "t_s": 3000, "terminal_v": 22.5, "terminal_a": 2.0 }));
    assert!(why(json!({}), halfway).contains("not come to its cut-off"));
}

#[test]
fn down_to_storage_it_is_done_where_it_was_to_come_to() {
    let storage = |goal: f64| {
        json!({ "discharge": null, "plan": { "pack": { "goal": { "kind": "soc", "soc": goal } },
        "charger": { "kind": "resistor", "resistance_ohm": 12, "rated_w": 100 } } })
    };
    let untouched = state(storage(0.5), json!([]));
    let end_s = untouched.end_s.unwrap();
    let at = |t_s: f64| json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.05 }, { "t_s": t_s, "terminal_v": volts_at(storage(0.5), t_s.min(end_s - 1.0)), "terminal_a": 1.9 }]);
    assert!(said(storage(0.5), at(0.9 * end_s), SayingCode::Done).is_none());
    let (severity, message) = said(storage(0.5), at(1.06 * end_s), SayingCode::Done).unwrap();
    assert!(severity == Severity::Stop && message.contains("Ah came out"), "{message}");
    assert_eq!(state(storage(0.5), at(0.9 * end_s)).keep.record, None);
}

#[test]
fn somebody_is_sent_there_before_its_end() {
    let resistor =
        json!({ "discharge": { "by": "resistor", "resistance_ohm": 12, "rated_w": 100, "current_a": null } });
    let late = |t_s: f64| {
        let volts = volts_at(resistor.clone(), t_s);
        let cells = vec![volts / 6.0; 6];
        let readings =
            json!([{ "t_s": t_s, "terminal_v": volts, "terminal_a": volts / 12.0, "cell_voltages_v": cells }]);
        state(resistor.clone(), readings)
    };
    let early = late(600.0);
    assert_eq!(early.next_look_s, Some(2400.0));
    let near = late(4500.0);
    assert!(near.next_look_why.contains("nothing ends it but you"), "{}", near.next_look_why);
    assert!(near.next_look_s.unwrap() < 4500.0 + 0.41 * (near.end_low_s.unwrap() - 4500.0), "{:?}", near.next_look_s);
}

#[test]
fn its_log_has_what_came_out_as_that() {
    let ask = run(json!({}));
    let (plan, discharge) = (from_value(&ask["plan"]).unwrap(), from_value(&ask["discharge"]).unwrap());
    let row = |t_s: f64| LogRow {
        unix_s: 1e9 + t_s,
        reading: from_value(&json!({ "t_s": t_s, "terminal_v": 23.0, "terminal_a": 2.0 })).unwrap(),
    };
    let rows = vec![row(0.0), row(1800.0)];
    let own = log_csv(&plan, Some(&discharge), rows.clone(), LogColumns::Rumek).unwrap();
    assert!(own.lines().nth(1).unwrap().contains(",23,-2,"), "{own}");
    let bdf = log_csv(&plan, Some(&discharge), rows, LogColumns::Bdf).unwrap();
    assert!(bdf.contains("Discharging Capacity / Ah") && bdf.lines().nth(2).unwrap().contains(",1,-46,"), "{bdf}");
}

#[rstest]
// 30 % of 4 Ah are 1.2 Ah: 2160 s at 2 A.
#[case::a_third_out(2170.0, json!({}), true)]
#[case::not_yet(2150.0, json!({}), false)]
#[case::the_charger_reads_them(2170.0, json!({"plan": {"charger": {"kind": "hobby_charger", "discharge_max_a": 5}, "pack": {"balancer": "balance_lead"}}, "discharge": {"by": "charger"}}), false)]
#[case::one_cell(2170.0, json!({"plan": {"pack": {"series": 1}}}), false)]
fn cells_that_nobody_reads_are_told(#[case] t_s: f64, #[case] patch: Value, #[case] told: bool) {
    let readings = json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0 }, { "t_s": t_s, "terminal_v": 22.9, "terminal_a": 2.0 }]);
    assert_eq!(said(patch, readings, SayingCode::CellsUnread).is_some(), told);
}

#[test]
fn the_lowest_cell_says_when_to_look() {
    let look = |lowest: f64| {
        let mean = volts_at(json!({}), 1800.0) / 6.0;
        let cells = json!([mean, mean, mean, mean, mean, mean - lowest]);
        let readings = json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0 }, { "t_s": 1800, "terminal_v": 6.0 * mean, "terminal_a": 2.0, "cell_voltages_v": cells }]);
        state(json!({}), readings).next_look_s.unwrap() - 1800.0
    };
    assert_eq!(look(0.0), 1800.0, "all alike it is a usual look");
    assert!(look(0.1) < 1500.0, "{}", look(0.1));
    assert!(look(0.2) < look(0.1), "{} {}", look(0.2), look(0.1));
}

/// Most look in only once it is over.
#[test]
fn what_was_found_ended_by_itself_is_done_and_its_count_is_the_test() {
    let readings = |rest_v: f64, count: Option<f64>| {
        json!([{ "t_s": 0, "terminal_v": 24.8, "terminal_a": 2.0, "cell_voltages_v": [4.13, 4.13, 4.13, 4.13, 4.13, 4.13] },
            { "t_s": 9000, "terminal_v": rest_v, "terminal_a": 0, "charger_ah": count }])
    };
    let uncounted = state(json!({}), readings(21.0, None));
    assert!(uncounted.said[0].message.contains("Enter what it counted"), "{:?}", uncounted.said);
    assert!(uncounted.keep.record.is_none() && uncounted.keep.why_not.unwrap().contains("counted"));
    let counted = state(json!({}), readings(21.0, Some(3.7)));
    assert!(counted.said[0].message.contains("3.7 Ah came out by its count. That is 9"), "{:?}", counted.said);
    let kept = counted.keep.record.unwrap();
    assert_eq!((kept.capacity_ah, kept.current_a), (Some(3.7), Some(2.0)));
    // A pack that rests at half its charge was parted, or its board let go.
    let tripped = state(json!({}), readings(23.0, Some(1.9)));
    assert!(tripped.said.iter().any(|one| one.code == SayingCode::Stopped), "{:?}", tripped.said);
    assert!(tripped.keep.record.is_none());
    // A resistor ends nothing by itself.
    let resistor =
        json!({ "discharge": { "by": "resistor", "resistance_ohm": 12, "rated_w": 100, "current_a": null } });
    assert!(state(resistor, readings(21.0, Some(3.7))).said.iter().all(|one| one.code != SayingCode::Done));
}

#[rstest]
// Six cells of 0.02 Ω·Ah at 4 Ah are 30 mΩ: 8 A less give back 0.38 V, and 0.16 V is what a meter may be off by.
#[case::turned_down(23.5, false)]
#[case::charged(23.6, true)]
fn volts_that_recover_as_the_current_falls_are_no_charge(#[case] then_v: f64, #[case] told: bool) {
    let fast = json!({ "discharge": { "current_a": 10 }, "plan": { "pack": { "resistance_mohm": 30 } } });
    let readings = json!([{ "t_s": 60, "terminal_v": 23.0, "terminal_a": 10.0 }, { "t_s": 61, "terminal_v": then_v, "terminal_a": 2.0 }]);
    assert_eq!(said(fast, readings, SayingCode::WrongWay).is_some(), told);
}
