//! What to do in which order, for chains of every kind.

use rstest::rstest;
use rumek_core::formats::{ResultDoc, StepWhen};
use serde_json::{Value, json};

use crate::ask;

fn codes(result: &ResultDoc, when: StepWhen) -> Vec<&str> {
    result.steps.iter().filter(|s| s.when == when).map(|s| s.code.as_str()).collect()
}

#[rstest]
#[case::bare(json!({}), &["set_current", "set_voltage", "measure_pack", "polarity", "connect"])]
#[case::sensing(json!({"source": {"remote_sense": true}}),
    &["set_current", "set_voltage", "sense", "measure_pack", "polarity", "connect"])]
#[case::fixed(json!({"source": {"kind": "fixed_supply", "voltage_v": 25.2, "max_voltage_v": null, "overload": "constant_current"}}),
    &["check_voltage", "measure_pack", "polarity", "connect"])]
#[case::charger(json!({"charger": {"kind": "hobby_charger", "output_max_a": 5}}),
    &["feeding_voltage", "set_charger", "measure_pack", "polarity", "connect"])]
#[case::charger_on_a_brick(json!({"source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null}, "charger": {"kind": "hobby_charger", "output_max_a": 5}}),
    &["feeding_voltage", "set_charger", "input_limit", "measure_pack", "polarity", "connect"])]
#[case::wall(json!({"source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null}, "charger": {"kind": "smart_charger", "output_max_a": 3}}),
    &["set_charger", "measure_pack", "polarity", "connect"])]
#[case::module(json!({"charger": {"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 5}}),
    &["feeding_voltage", "set_voltage", "set_current", "measure_pack", "polarity", "connect"])]
#[case::module_by_hand(json!({"charger": {"kind": "dc_dc", "topology": "buck", "output_max_a": 5}}),
    &["feeding_voltage", "set_voltage", "measure_pack", "polarity", "connect"])]
#[case::two_in_series(json!({"source": {"units": 2, "wiring": "series", "isolated_outputs": true, "max_voltage_v": 15}}),
    &["wire_series", "set_current", "set_voltage", "measure_pack", "polarity", "connect"])]
#[case::two_in_parallel(json!({"source": {"units": 2, "wiring": "parallel"}, "pack": {"packs_in_parallel": 2}}),
    &["wire_parallel", "set_current", "set_voltage", "measure_pack", "polarity", "join_packs", "connect"])]
#[case::relay(json!({"cut_off": {"low_v": 24, "high_v": 25}}),
    &["set_current", "set_voltage", "set_relay", "measure_pack", "polarity", "connect"])]
fn before(#[case] patch: Value, #[case] expected: &[&str]) {
    let result = ask(patch);
    assert_eq!(codes(&result, StepWhen::Before), expected, "{:?}", result.checks);
}

fn says(result: &ResultDoc, code: &str) -> String {
    result.steps.iter().find(|s| s.code == code).map(|s| s.message.clone()).unwrap_or_default()
}

#[test]
fn main_lead_before_balance_lead_and_off_in_reverse() {
    let result =
        ask(json!({"pack": {"balancer": "balance_lead"}, "charger": {"kind": "hobby_charger", "output_max_a": 5}}));
    let (on, off) = (says(&result, "connect"), says(&result, "disconnect"));
    assert!(on.find("connect the pack") < on.find("balance lead") && on.starts_with("Supply off"), "{on}");
    assert!(
        off.find("Balance lead off") < off.find("main lead") && off.contains("only then switch the supply off"),
        "{off}"
    );
}

#[test]
fn a_module_is_set_with_nothing_on_it_and_joined_without_a_spark() {
    let result = ask(json!({"charger": {"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 5}}));
    assert!(says(&result, "set_voltage").contains("nothing on the module's output"));
    assert!(says(&result, "set_current").contains("turned to the lowest"));
    assert!(says(&result, "connect").contains("spark"));
    let by_hand = ask(json!({"charger": {"kind": "dc_dc", "topology": "buck", "output_max_a": 5}}));
    assert!(says(&by_hand, "set_voltage").contains("never past 25.2 V"));
    assert!(says(&by_hand, "turn").contains("turns in all"));
}

#[test]
fn capacitors_of_a_transformer_are_let_down_and_supercaps_handed_to_their_balancers() {
    let transformer = json!({"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 15, "rated_va": 120, "type": "low_voltage"});
    let result = ask(json!({"source": transformer, "charger": {"kind": "hobby_charger", "output_max_a": 5}}));
    assert!(codes(&result, StepWhen::After).contains(&"discharge"));
    let caps = json!({"chemistry": "supercap", "capacity_ah": null, "capacitance_f": 350, "label_v": 15, "balancer": "built_in", "balance_current_a": 0.3, "start": {"soc": 0}});
    let result = ask(json!({"pack": caps}));
    assert!(says(&result, "balance").contains("0.3 A"), "{:?}", result.steps);
}

#[test]
fn wire_and_fuse_are_named_where_no_lead_is_described() {
    let result = ask(json!({}));
    let said = says(&result, "polarity");
    assert!(said.contains("5 A fuse") && said.contains("mm²"), "{said}");
    let described = ask(json!({"leads": {"output": {"awg": 16, "length_m": 0.5, "fuse_a": 7.5}}}));
    assert!(!says(&described, "polarity").contains("mm²"));
}

/// A phosphate house bank on a supply whose voltage is turned by a knob, or on a module without a current knob.
fn by_hand(module: bool) -> serde_json::Value {
    let pack = json!({"chemistry": "lfp", "series": 4, "capacity_ah": 200, "balancer": "none", "bms": {"max_charge_a": 100},
        "start": {"soc": null, "rest_voltage_v": 12.9}});
    let knob = json!({"kind": "adjustable_supply", "min_voltage_v": 8.5, "max_voltage_v": 15.5, "max_current_a": 32});
    if module {
        let charger = json!({"kind": "dc_dc", "topology": "buck", "has_cc": false, "output_max_a": 20});
        return json!({"pack": pack, "source": {"max_current_a": 30}, "charger": charger});
    }
    json!({"pack": pack, "source": knob})
}

#[rstest::rstest]
#[case::knob(false)]
#[case::module(true)]
fn what_is_set_with_nothing_connected_is_the_same_on_the_card_and_on_the_list(#[case] module: bool) {
    let plan = crate::plan_value(by_hand(module));
    let result = ask(by_hand(module));
    let step = result
        .steps
        .iter()
        .find(|s| matches!(s.code.as_str(), "set_start" | "set_voltage") && s.values.contains_key("voltage_v"))
        .unwrap();
    let on_card = step.values["voltage_v"];
    assert!((on_card - 12.9).abs() < 1e-9, "{step:?}");
    let list = |value: f64| {
        let asked = json!({"plan": plan, "answers": [{"code": "no_load_voltage", "value": value}]});
        let list = rumek_core::preflight(&rumek_core::formats::from_value(&asked).unwrap()).unwrap();
        list.items.into_iter().find(|item| item.expected.is_some()).unwrap()
    };
    assert_eq!((list(on_card).expected, list(on_card).ok), (Some(on_card), Some(true)));
    // The charge voltage with nothing connected would drive hundreds of amps as they are joined.
    assert_eq!(list(14.6).ok, Some(false));
    let first = &result.nudges[0];
    assert!(
        first.set_voltage_v.unwrap() >= on_card
            && first.current_a <= result.settings.as_ref().unwrap().current_a * 1.001
    );
}

#[test]
fn no_turn_drives_more_through_a_capacitor_bank_than_its_balancers_shunt() {
    for visits in [None, Some(10)] {
        let result = ask(json!({
            "visit_every_min": visits,
            "pack": {"chemistry": "supercap", "series": 6, "capacity_ah": null, "capacitance_f": 400, "label_v": 16, "balancer": "built_in",
                     "balance_current_a": 0.5, "start": {"soc": null, "rest_voltage_v": 9}},
            "source": {"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": 16, "max_current_a": 5, "voltage_step_v": 0.01},
            "settings": {"current_a": 4}, "leads": {"output": {"awg": 14, "length_m": 1}},
        }));
        assert!(result.settings.is_some() && result.nudges.len() > 3, "{:?}", result.checks);
        // 2.50 V a position is the label's third of 16 V; the smallest is a tenth smaller.
        let from_v = 16.0 * 0.9;
        let most_before =
            result.curve.iter().filter(|p| p.pack_v < from_v - 0.5).map(|p| p.current_a).fold(0.0, f64::max);
        assert!(most_before > 2.0, "{most_before}");
        for p in result.curve.iter().filter(|p| p.pack_v >= from_v) {
            assert!(p.current_a <= 0.5 + 1e-3, "{p:?}");
        }
        // Nor would what the knob stands at, at the moment the balancers begin.
        let lead_ohm = 2.0 * 0.0178 / 2.08;
        for turn in &result.nudges {
            let began = result.curve.iter().any(|p| p.t_s <= turn.at_s && p.pack_v >= from_v - 0.011);
            assert!(began || (turn.set_voltage_v.unwrap() - from_v) / lead_ohm <= 0.5 + 0.02, "{turn:?}");
        }
    }
}

#[rstest]
// Of little current a twentieth, of more half the last digit that a display shows.
#[case::a_twentieth(0.05, 0.0475)]
#[case::half_a_digit(0.2, 0.195)]
fn a_knob_is_turned_to_what_its_display_can_be_trusted_for(#[case] limit_a: f64, #[case] most_a: f64) {
    let result = ask(json!({
        "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 2, "start": {"soc": 0.3}, "balancer": "none"},
        "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "max_current_a": 3, "voltage_step_v": 0.001},
        "leads": {"output": {"awg": 24, "length_m": 3, "connector_mohm": 500}}, "settings": {"current_a": limit_a},
    }));
    let highest_a = result.curve.iter().map(|p| p.current_a).fold(0.0, f64::max);
    assert!((0.99 * most_a..=1.0005 * most_a).contains(&highest_a), "{highest_a} of {most_a}: {:?}", result.nudges);
}

#[test]
fn a_duty_is_turned_to_a_little_less_than_may_flow() {
    let result = ask(json!({
        "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 4, "start": {"soc": 0.3}, "balancer": "none"},
        "visit_every_min": 20, "cut_off": {"low_v": 13, "high_v": 14.6},
        "source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null, "max_current_a": 10},
        "charger": {"kind": "pwm", "duty": 0.7, "path_resistance_mohm": 400},
    }));
    let may_a = result.settings.as_ref().unwrap().current_a;
    let highest_a = result.curve.iter().map(|p| p.current_a).fold(0.0, f64::max);
    assert!((0.9 * may_a / 1.03..=may_a / 1.03).contains(&highest_a), "{highest_a} of {may_a}");
}

/// A knob that is looked at every eight hours: the first hours count most.
#[rstest]
#[case::every_eight_hours(480, true)]
#[case::every_four_minutes(4, false)]
fn to_stay_at_first_is_offered_where_it_saves_much_and_saves_what_it_says(
    #[case] every_min: u32,
    #[case] offered: bool,
) {
    let plan = |stays: Value| {
        let mut plan = json!({
            "pack": { "chemistry": "lfp", "series": 4, "capacity_ah": 50, "bms": { "max_charge_a": 50 }, "start": { "soc": 0.3 } },
            "source": { "kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "max_current_a": 10 },
            "visit_every_min": every_min });
        crate::merge(&mut plan, &stays);
        ask(plan)
    };
    let by_clock = plan(json!({}));
    let stay = by_clock.what_if.iter().find(|w| w.message.starts_with("Stay "));
    assert_eq!(stay.is_some(), offered, "{:#?}", by_clock.what_if);
    let Some(stay) = stay else { return };
    let first = stay.message.split("first ").nth(1).and_then(|rest| rest.split(' ').next());
    let hours: f64 = first.map_or(8.0, |hours| hours.parse().unwrap());
    let stayed = plan(json!({ "attended_first_min": hours * 60.0 }));
    let (told_s, took_s) = (stay.total_s.unwrap(), stayed.time.total_s.unwrap());
    assert!((told_s / took_s - 1.0).abs() < 0.05, "{told_s} s told, {took_s} s by its plan: {}", stay.message);
    assert!(took_s < 0.6 * by_clock.time.total_s.unwrap());
}
