//! From what was found to a verdict, the next question, the stages; and what the gear makes of it.

use insta::assert_json_snapshot;
use proptest::prelude::*;
use rstest::rstest;
use rumek_core::formats::{
    JudgeAskDoc, JudgeState, PackMark, ReasonCode, RescueDoc, RescueResultDoc, RescueStageKind, Verdict, from_value,
};
use rumek_core::{judge, rescue};
use serde_json::{Value, json};

use crate::merge;

/// A 4S LiPo with a balance plug, found low today.
pub(super) fn rescue_value(patch: Value) -> Value {
    let mut value = json!({
        "format": "rumek.rescue/1",
        "practice": "cautious",
        "pack": { "chemistry": "lipo", "series": 4, "capacity_ah": 4 },
        "found": { "terminal_v": 10.8, "cell_voltages_v": [2.7, 2.72, 2.68, 2.7], "bms": "absent", "low_for": "hours",
                   "signs": ["none"], "temperature_c": 21 }
    });
    merge(&mut value, &patch);
    value
}

fn doc(patch: Value) -> RescueDoc {
    from_value(&rescue_value(patch)).expect("the rescue reads")
}

fn found(patch: Value) -> RescueResultDoc {
    rescue(&doc(json!({ "found": patch }))).expect("the rescue answers")
}

fn ask(patch: Value) -> RescueResultDoc {
    rescue(&doc(patch)).expect("the rescue answers")
}

fn reason(result: &RescueResultDoc) -> ReasonCode {
    result.reasons[0].code
}

const LEAD: &str = "lead_agm";

#[rstest]
#[case::low(json!({}), Verdict::Precharge, ReasonCode::BelowLine)]
#[case::swollen(json!({"signs": ["swollen"]}), Verdict::Retire, ReasonCode::Damaged)]
#[case::nobody_looked(json!({"signs": ["unknown"]}), Verdict::Inspect, ReasonCode::SignsUnknown)]
#[case::reversed(json!({"cell_voltages_v": [2.7, 2.7, -0.2, 2.7]}), Verdict::Retire, ReasonCode::Reversed)]
// As much the wrong way round as a sound pack has is a meter, or a plug, the wrong way round.
#[case::all_reversed(json!({"terminal_v": -12.6, "cell_voltages_v": null}), Verdict::Retire, ReasonCode::Reversed)]
#[case::leads_swapped(json!({"terminal_v": -13.4, "cell_voltages_v": null}), Verdict::Inspect, ReasonCode::Reversed)]
#[case::leads_swapped_full(json!({"terminal_v": -16.8, "cell_voltages_v": null}), Verdict::Inspect, ReasonCode::Reversed)]
#[case::beyond_full(json!({"terminal_v": -17.0, "cell_voltages_v": null}), Verdict::Retire, ReasonCode::Reversed)]
#[case::one_behind(json!({"cell_voltages_v": [2.9, 2.9, 1.1, 2.9]}), Verdict::Retire, ReasonCode::GroupBehind)]
#[case::under_the_floor_today(json!({"cell_voltages_v": [1.8, 1.9, 1.7, 1.8]}), Verdict::Precharge, ReasonCode::BelowFloor)]
#[case::under_the_floor_for_days(json!({"cell_voltages_v": [1.8, 1.9, 1.7, 1.8], "low_for": "days"}), Verdict::Retire, ReasonCode::BelowFloor)]
#[case::under_both_floors(json!({"cell_voltages_v": [0.3, 0.4, 0.3, 0.3]}), Verdict::Retire, ReasonCode::BelowBothFloors)]
#[case::cold(json!({"temperature_c": -4}), Verdict::Inspect, ReasonCode::TooCold)]
#[case::board_asleep(json!({"terminal_v": 0.1, "cell_voltages_v": null, "cells_reachable": false, "bms": "present"}), Verdict::Wake, ReasonCode::BmsAsleep)]
#[case::board_or_not(json!({"terminal_v": 0.1, "cell_voltages_v": null, "cells_reachable": false, "bms": "unknown"}), Verdict::Inspect, ReasonCode::BmsUnknown)]
#[case::dead_without_board(json!({"terminal_v": 0.1, "cell_voltages_v": null, "cells_reachable": false}), Verdict::Retire, ReasonCode::BelowBothFloors)]
#[case::woken_low(json!({"terminal_v": 10.4, "cell_voltages_v": null, "cells_reachable": false, "bms": "present", "woken": true}), Verdict::Precharge, ReasonCode::BelowLine)]
#[case::broken_link(json!({"terminal_v": 0.0, "cell_voltages_v": [3.7, 3.7, 3.7, 3.7]}), Verdict::Inspect, ReasonCode::OpenCircuit)]
#[case::sound(json!({"terminal_v": 14.8, "cell_voltages_v": [3.7, 3.7, 3.7, 3.7]}), Verdict::Charge, ReasonCode::HighEnough)]
fn what_is_found_decides(#[case] patch: Value, #[case] verdict: Verdict, #[case] code: ReasonCode) {
    let result = found(patch);
    assert_eq!((result.verdict, reason(&result)), (verdict, code), "{:?}", result.reasons);
    assert_eq!(result.verdict == Verdict::Retire, result.disposal.is_some());
    assert_eq!(result.verdict == Verdict::Retire, result.stages.is_empty());
}

#[rstest]
#[case::three_cells_unread(json!({"pack": {"series": 3}, "found": {"cell_voltages_v": null, "cells_reachable": false, "terminal_v": 8.1}}), Verdict::Inspect)]
#[case::experienced_for_days(json!({"practice": "experienced", "found": {"cell_voltages_v": [1.8, 1.9, 1.7, 1.8], "low_for": "days"}}), Verdict::Precharge)]
#[case::experienced_for_weeks(json!({"practice": "experienced", "found": {"cell_voltages_v": [1.8, 1.9, 1.7, 1.8], "low_for": "weeks"}}), Verdict::Retire)]
#[case::recovered_and_low_again(json!({"pack": {"mark": "recovered"}}), Verdict::Retire)]
#[case::retired(json!({"pack": {"mark": "retired"}, "found": {"cell_voltages_v": [3.7, 3.7, 3.7, 3.7], "terminal_v": 14.8}}), Verdict::Retire)]
#[case::flat_capacitor(json!({"pack": {"chemistry": "supercap", "capacity_ah": null, "capacitance_f": 350}, "found": {"terminal_v": 0, "cell_voltages_v": null}}), Verdict::Charge)]
#[case::low_lead(json!({"pack": {"chemistry": LEAD, "series": 6}, "found": {"terminal_v": 8.4, "cell_voltages_v": null}}), Verdict::Precharge)]
#[case::lead_its_charger_refuses(json!({"pack": {"chemistry": LEAD, "series": 6}, "found": {"terminal_v": 10.8, "cell_voltages_v": null}, "handover": {"kind": "smart_charger", "output_max_a": 4, "min_start_v": 11}}), Verdict::Precharge)]
#[case::dead_lead_cell(json!({"pack": {"chemistry": LEAD, "series": 6}, "found": {"terminal_v": 10.5, "cell_voltages_v": [2.1, 2.1, 0.1, 2.1, 2.1, 2.1]}}), Verdict::Retire)]
#[case::frozen_lead(json!({"pack": {"chemistry": LEAD, "series": 6}, "found": {"terminal_v": 10, "cell_voltages_v": null, "signs": ["frozen"]}}), Verdict::Inspect)]
#[case::low_nickel(json!({"pack": {"chemistry": "nimh", "series": 6}, "found": {"terminal_v": 4.8, "cell_voltages_v": null}}), Verdict::Precharge)]
#[case::reversed_nickel(json!({"pack": {"chemistry": "nimh", "series": 4}, "found": {"terminal_v": 3.3, "cell_voltages_v": [1.2, 1.2, 1.2, -0.3]}}), Verdict::Retire)]
fn chemistry_practice_and_charger_decide(#[case] patch: Value, #[case] verdict: Verdict) {
    let result = ask(patch);
    assert_eq!(result.verdict, verdict, "{:?}", result.reasons);
}

fn pointers(result: &RescueResultDoc) -> Vec<&str> {
    result.ask.iter().map(|question| question.pointer.as_str()).collect()
}

#[test]
fn one_thing_is_asked_after_the_other_and_only_what_still_matters() {
    let start = |patch: Value| {
        let mut value = json!({ "format": "rumek.rescue/1" });
        merge(&mut value, &patch);
        rescue(&from_value::<RescueDoc>(&value).unwrap()).unwrap()
    };
    assert_eq!(pointers(&start(json!({}))), ["/pack/chemistry", "/pack/series", "/pack/capacity_ah"]);
    let pack = json!({ "chemistry": "lipo", "series": 4, "capacity_ah": 4 });
    let first = start(json!({ "pack": pack }));
    assert_eq!(pointers(&first)[..4], ["/found/bms", "/found/signs", "/found/temperature_c", "/found/terminal_v"]);
    assert_eq!(first.verdict, Verdict::Inspect);
    // A swollen pack is asked nothing more.
    assert!(pointers(&start(json!({ "pack": pack, "found": { "signs": ["swollen"] } }))).is_empty());
    // A pack that stands high is not asked how long it was low, nor what there is to feed it.
    let high = start(
        json!({ "pack": pack, "found": { "bms": "absent", "signs": ["none"], "temperature_c": 20, "terminal_v": 15.2 } }),
    );
    assert!(pointers(&high).is_empty(), "{:?}", pointers(&high));
    // Low enough that hours and weeks make a difference: that is asked, once the cells are read.
    let low = json!({ "bms": "absent", "signs": ["none"], "temperature_c": 20, "terminal_v": 7.0, "cell_voltages_v": [1.7, 1.8, 1.7, 1.8] });
    assert_eq!(pointers(&start(json!({ "pack": pack, "found": low })))[0], "/found/low_for");
    // No board in lead; nothing of single cells that cannot be read.
    let lead = start(json!({ "pack": { "chemistry": "lead_gel", "series": 6, "capacity_ah": 7 } }));
    assert!(!pointers(&lead).contains(&"/found/bms"));
    let cannot = json!({ "bms": "absent", "signs": ["none"], "temperature_c": 20, "terminal_v": 10.4, "low_for": "hours", "cells_reachable": false });
    assert_eq!(pointers(&start(json!({ "pack": pack, "found": cannot }))), ["/source", "/handover"]);
    let refused = json!({ "cant_tell": ["/found/terminal_v", "/found/bms", "/found/signs", "/found/temperature_c", "/found/low_for"] });
    let unknown = start(json!({ "pack": pack, "found": refused }));
    assert_eq!(unknown.verdict, Verdict::Inspect);
    assert!(!pointers(&unknown).contains(&"/found/signs"));
}

#[test]
fn a_precharge_is_gentle_capped_and_marked() {
    let result = ask(json!({ "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 },
                             "found": { "cell_voltages_v": [1.8, 1.9, 1.7, 1.8], "terminal_v": 7.2 } }));
    let stage = &result.stages[0];
    assert_eq!(stage.kind, RescueStageKind::Precharge);
    assert!((stage.current_a.unwrap() - 0.2).abs() < 1e-9, "C/20 of 4 Ah");
    assert!(stage.voltage_v.unwrap() < 4.0 * 4.2 && stage.until.pack_v.unwrap() >= 12.0);
    assert!(stage.expected_s.unwrap() < stage.max_s.unwrap());
    assert!(stage.curve.iter().all(|p| p.low_v <= p.pack_v + 1e-9 && p.pack_v <= p.high_v + 1e-9));
    assert!(result.gear.unwrap().fits);
    assert_eq!(result.afterwards.mark, Some(PackMark::Recovered));
    assert_eq!(result.afterwards.rated_c_rate, Some(0.5));
    // Low since today and above the floor: no mark for life.
    assert_eq!(found(json!({})).afterwards.mark, None);
    // Without readings never above what the others would bear if one group were shorted.
    let unread = found(json!({ "cell_voltages_v": null, "cells_reachable": false }));
    assert!(unread.stages[0].voltage_v.unwrap() <= 3.0 * 4.2 + 1e-9);
}

#[test]
fn gear_that_is_too_rough_is_refused_and_the_gentlest_that_does_is_named() {
    let lead = json!({
        "pack": { "chemistry": "lead_agm", "series": 6, "capacity_ah": 7 },
        "found": { "terminal_v": 9.2, "cell_voltages_v": null },
        "source": { "name": "Hall charger's supply", "kind": "fixed_supply", "voltage_v": 13.8, "max_current_a": 10 },
        "handover": { "kind": "smart_charger", "output_max_a": 4, "min_start_v": 10.5 },
        "at_hand": {
            "sources": [ { "name": "Doorbell adapter", "kind": "wall_adapter", "voltage_v": 9, "max_current_a": 0.2 },
                         { "name": "Brick", "kind": "fixed_supply", "voltage_v": 19, "max_current_a": 4.7 } ],
            "chargers": [ { "name": "Festoon lamp", "kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 5 } ] }
    });
    let result = ask(lead);
    assert!(!result.gear.as_ref().unwrap().fits, "{:?}", result.gear);
    let names: Vec<&str> = result.alternatives.iter().map(|fit| fit.name.as_str()).collect();
    assert!(names.contains(&"Doorbell adapter"), "{names:?}");
    assert!(names.iter().any(|name| name.contains("lamp")), "{names:?}");
    assert!(result.alternatives.iter().all(|fit| fit.current_a.unwrap() <= 0.35 * 1.05));
    let until_v = result.stages[0].until.pack_v.unwrap();
    assert!(until_v > 10.5 * 1.01, "the charger's threshold and a margin: {until_v}");
}

#[test]
fn a_donor_is_shown_in_amps_and_accepted_only_to_wake_a_board() {
    let donor = |patch: Value| ask(patch).donor.unwrap();
    let battery = json!({ "kind": "battery", "chemistry": "lipo", "series": 4, "capacity_ah": 5, "soc": 0.6 });
    let jolt = donor(json!({ "donor": battery }));
    assert!(!jolt.accepted && jolt.inrush_a > 40.0 && jolt.message.contains("not recommended"), "{jolt:?}");
    let asleep = json!({ "terminal_v": 0, "cell_voltages_v": null, "cells_reachable": false, "bms": "present" });
    let small = json!({ "kind": "battery", "chemistry": "lipo", "series": 4, "capacity_ah": 5, "soc": 0.6, "resistance_mohm": 600 });
    let wakes = donor(
        json!({ "donor": small, "found": asleep, "leads": { "output": { "awg": 18, "length_m": 0.5, "fuse_a": 10, "fuse_at": "source" } } }),
    );
    assert!(wakes.accepted && wakes.window_v == Some([14.8, 16.8]), "{wakes:?}");
    let three = json!({ "kind": "battery", "chemistry": "lipo", "series": 3, "capacity_ah": 5, "soc": 0.6 });
    assert!(!donor(json!({ "donor": three, "found": asleep })).accepted);
    for told in [json!({ "donor": battery }), json!({ "donor": small, "found": asleep })] {
        let stops = donor(told).steps.iter().filter(|step| step.starts_with("Stop at once if")).count();
        assert_eq!(stops, 1, "a donor is broken off by the row that breaks off each stage");
    }
}

#[rstest]
#[case::alarm("precharge", json!([{"t_s": 60, "alarm": true}]), JudgeState::Abort)]
#[case::warming("precharge", json!([{"t_s": 60, "terminal_v": 11, "temperature_c": 33}]), JudgeState::Abort)]
#[case::too_much("precharge", json!([{"t_s": 60, "terminal_v": 11, "current_a": 1.2}]), JudgeState::Abort)]
#[case::nothing_read("precharge", json!([]), JudgeState::Waiting)]
#[case::on_track("precharge", json!([{"t_s": 60, "terminal_v": 11.2, "current_a": 0.2}]), JudgeState::OnTrack)]
#[case::there("precharge", json!([{"t_s": 900, "terminal_v": 12.6, "current_a": 0.2}]), JudgeState::Reached)]
#[case::no_life("precharge", json!([{"t_s": 3600, "terminal_v": 10.9, "current_a": 0.2}]), JudgeState::Abort)]
#[case::slower("precharge", json!([{"t_s": 2900, "terminal_v": 10.9, "current_a": 0.2}]), JudgeState::Slow)]
#[case::falling("precharge", json!([{"t_s": 300, "terminal_v": 11.6, "current_a": 0.2}, {"t_s": 900, "terminal_v": 10.9, "current_a": 0.2}]), JudgeState::Abort)]
#[case::cells_wanted("handover", json!([{"t_s": 60, "terminal_v": 12.3}]), JudgeState::Waiting)]
#[case::handed_over("handover", json!([{"t_s": 60, "terminal_v": 12.3, "cell_voltages_v": [3.08, 3.07, 3.07, 3.08]}]), JudgeState::Reached)]
#[case::not_yet("handover", json!([{"t_s": 60, "terminal_v": 11.2, "cell_voltages_v": [2.8, 2.8, 2.8, 2.8]}]), JudgeState::Slow)]
#[case::overfull("charge", json!([{"t_s": 60, "terminal_v": 16.9, "current_a": 2, "cell_voltages_v": [4.3, 4.2, 4.2, 4.2]}]), JudgeState::Abort)]
#[case::full("charge", json!([{"t_s": 60, "terminal_v": 14, "current_a": 2}, {"t_s": 7000, "terminal_v": 16.8, "current_a": 0.3}]), JudgeState::Reached)]
#[case::holds("rest", json!([{"t_s": 86400, "terminal_v": 16.7}, {"t_s": 259200, "terminal_v": 16.7}]), JudgeState::Reached)]
#[case::leaks("rest", json!([{"t_s": 86400, "terminal_v": 16.7}, {"t_s": 172800, "terminal_v": 16.4}]), JudgeState::Abort)]
#[case::proven("prove", json!([{"t_s": 1, "capacity_ah": 3.5}]), JudgeState::Reached)]
#[case::spent("prove", json!([{"t_s": 1, "capacity_ah": 1.9}]), JudgeState::Abort)]
fn readings_are_judged(#[case] stage: &str, #[case] readings: Value, #[case] state: JudgeState) {
    let now_s = readings.as_array().unwrap().last().map_or(json!(0), |r| r["t_s"].clone());
    let ask = json!({ "rescue": rescue_value(json!({})), "stage": stage, "now_s": now_s, "readings": readings });
    let said = judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap();
    assert_eq!(said.state, state, "{said:?}");
}

#[test]
fn a_board_wakes_or_it_does_not() {
    let asleep = rescue_value(
        json!({ "found": { "terminal_v": 0, "cell_voltages_v": null, "cells_reachable": false, "bms": "present" } }),
    );
    let said = |now_s: f64, readings: Value| {
        let ask = json!({ "rescue": asleep, "stage": "wake", "now_s": now_s, "readings": readings });
        judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap().state
    };
    assert_eq!(said(0.0, json!([])), JudgeState::Waiting);
    assert_eq!(said(30.0, json!([{ "t_s": 30, "current_a": 0.0, "terminal_v": 15.8 }])), JudgeState::Waiting);
    assert_eq!(said(30.0, json!([{ "t_s": 30, "current_a": 0.2, "terminal_v": 13.1 }])), JudgeState::Reached);
    assert_eq!(said(200.0, json!([{ "t_s": 180, "current_a": 0.0 }])), JudgeState::Abort);
}

#[test]
fn mistakes_are_named_where_they_are() {
    let wrong = rescue(&doc(json!({ "pack": { "series": 900 }, "found": { "terminal_v": 9000, "signs": ["none", "wet"], "cant_tell": ["/found/colour"] },
                                    "source": { "kind": "bench_supply" } })))
    .unwrap_err();
    let pointers: Vec<&str> = wrong.problems.iter().map(|problem| problem.pointer.as_str()).collect();
    assert!(pointers.contains(&"/pack/series") && pointers.contains(&"/source/max_voltage_v"), "{pointers:?}");
    let ask = json!({ "rescue": rescue_value(json!({})), "stage": "wake", "readings": [] });
    assert_eq!(judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap_err().problems[0].pointer, "/stage");
}

#[test]
fn a_whole_rescue() {
    assert_json_snapshot!(ask(json!({
        "found": { "cell_voltages_v": [1.8, 1.9, 1.7, 1.8], "terminal_v": 7.2 },
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 },
        "handover": { "kind": "hobby_charger", "output_max_a": 8, "output_max_w": 120, "min_start_v": 12 }
    })), { ".stages[].curve" => "[points]" });
}

proptest! {
    #![proptest_config(crate::kept(400, file!()))]

    #[test]
    fn every_finding_has_an_answer_that_never_feeds_what_it_refuses(
        chemistry in prop::sample::select(vec!["lipo", "lihv", "li_ion", "lfp", "lto", "sodium_ion", "nimh", "nicd", "lead_flooded", "lead_agm", "lead_gel"]),
        series in 1u32..14,
        ah in 0.2f64..100.0,
        each in -0.5f64..4.0,
        low in 0.0f64..1.5,
        bms in prop::sample::select(vec!["present", "absent", "unknown"]),
        low_for in prop::sample::select(vec!["hours", "days", "weeks", "unknown"]),
        sign in prop::sample::select(vec!["none", "none", "none", "unknown", "swollen", "wet"]),
        temperature in -20.0f64..60.0,
        read in any::<bool>(),
        amps in 0.05f64..6.0,
    ) {
        let mut cells = vec![each; series as usize];
        cells[0] -= low;
        // Nickel takes nothing reliably below a tenth of its capacity.
        let gentle_a = if chemistry.starts_with("ni") { ah / 10.0 } else { ah / 20.0 };
        let sum: f64 = cells.iter().sum();
        let result = ask(json!({
            "pack": { "chemistry": chemistry, "series": series, "capacity_ah": ah },
            "found": { "terminal_v": sum, "cell_voltages_v": if read { json!(cells) } else { Value::Null },
                       "cells_reachable": read, "bms": bms, "low_for": low_for, "signs": [sign], "temperature_c": temperature },
            "source": { "kind": "bench_supply", "max_voltage_v": 60, "max_current_a": amps }
        }));
        let feeding = result.stages.iter().filter(|s| matches!(s.kind, RescueStageKind::Wake | RescueStageKind::Precharge | RescueStageKind::Charge));
        prop_assert!(result.verdict < Verdict::Inspect || feeding.clone().count() == 0);
        for stage in feeding {
            prop_assert!(stage.voltage_v.unwrap() > 0.0 && !stage.abort_if.is_empty());
            if stage.kind != RescueStageKind::Charge {
                prop_assert!(stage.current_a.unwrap() <= gentle_a + 1e-9);
            }
        }
        for fit in result.gear.iter().filter(|fit| fit.fits) {
            prop_assert!(fit.current_a.unwrap() <= gentle_a * 1.06, "{fit:?}");
        }
        prop_assert!(!result.reasons.is_empty());
        prop_assert!(result.ask.iter().all(|question| !question.question.is_empty() && !question.why.is_empty()));
    }
}

#[rstest]
#[case::it_goes_on("precharge", json!([{"t_s": 60, "terminal_v": 11.2, "current_a": 0.2}]), json!([]))]
#[case::to_its_charger("precharge", json!([{"t_s": 900, "terminal_v": 12.6, "current_a": 0.2}]), json!(["handover"]))]
#[case::not_yet("handover", json!([{"t_s": 60, "terminal_v": 11.2, "cell_voltages_v": [2.8, 2.8, 2.8, 2.8]}]), json!(["precharge"]))]
#[case::broken_off("precharge", json!([{"t_s": 60, "alarm": true}]), json!([null]))]
#[case::proven("prove", json!([{"t_s": 1, "capacity_ah": 3.5}]), json!([null]))]
fn a_judgement_says_which_ways_lead_on(#[case] stage: &str, #[case] readings: Value, #[case] ways: Value) {
    let now_s = readings[0]["t_s"].clone();
    let ask = json!({ "rescue": rescue_value(json!({})), "stage": stage, "now_s": now_s, "readings": readings });
    let said = judge(&from_value::<JudgeAskDoc>(&ask).unwrap()).unwrap();
    assert_eq!(json!(said.ways.iter().map(|way| way.to).collect::<Vec<_>>()), ways);
}

#[rstest]
#[case("swollen", Verdict::Retire)]
#[case("leaking", Verdict::Retire)]
#[case("crushed", Verdict::Retire)]
#[case("dented", Verdict::Retire)]
#[case("smell", Verdict::Retire)]
// Warm or wet lead may dry and cool: what it is, is asked first.
#[case("hot", Verdict::Inspect)]
#[case("wet", Verdict::Inspect)]
#[case("none", Verdict::Inspect)]
fn looks_alone_give_up_a_pack_that_nobody_has_described(#[case] sign: &str, #[case] verdict: Verdict) {
    let described: RescueDoc =
        from_value(&json!({ "format": "rumek.rescue/1", "found": { "signs": [sign] } })).expect("it reads");
    let result = rescue(&described).expect("it answers");
    assert_eq!(result.verdict, verdict);
    assert_eq!(result.ask.is_empty(), verdict == Verdict::Retire);
    assert_eq!(result.disposal.is_some(), verdict == Verdict::Retire);
    let expected = if verdict == Verdict::Retire { ReasonCode::Damaged } else { ReasonCode::NotIdentified };
    assert_eq!(reason(&result), expected);
}

/// Unread, one cell may be dead: the others bear no more than full, and what stands there already is no more than that.
#[rstest]
#[case::three_full_cells(12.19, 12.6)]
#[case::a_little_above_what_stands_there(12.21, 12.61)]
fn an_unread_pack_is_precharged_to_what_its_others_bear_or_a_little_above_where_it_stands(
    #[case] terminal_v: f64,
    #[case] ceiling_v: f64,
) {
    let asked = json!({"format": "rumek.rescue/1", "practice": "cautious", "pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 4},
        "found": {"terminal_v": terminal_v, "cells_reachable": false, "bms": "present", "low_for": "hours", "signs": ["none"], "temperature_c": 21},
        "source": {"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5}});
    let result = rumek_core::rescue(&from_value(&asked).unwrap()).unwrap();
    let told_v = result.stages[0].voltage_v.unwrap();
    assert!((told_v - ceiling_v).abs() < 1e-6, "{told_v}");
}
