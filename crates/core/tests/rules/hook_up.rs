//! What to do in which order, for chains of every kind.

use rstest::rstest;
use rumek_core::document::{ResultDoc, StepWhen};
use serde_json::{Value, json};

use crate::ask;

fn codes(result: &ResultDoc, when: StepWhen) -> Vec<&str> {
    result.steps.iter().filter(|s| s.when == when).map(|s| s.code.as_str()).collect()
}

#[rstest]
#[case::bare(json!({}), &["set_voltage", "set_current", "measure_pack", "polarity", "soft_connect"])]
#[case::sensing(json!({"source": {"remote_sense": true}}),
    &["set_voltage", "set_current", "sense", "measure_pack", "polarity", "soft_connect"])]
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
    &["wire_series", "set_voltage", "set_current", "measure_pack", "polarity", "soft_connect"])]
#[case::two_in_parallel(json!({"source": {"units": 2, "wiring": "parallel"}, "pack": {"packs_in_parallel": 2}}),
    &["wire_parallel", "set_voltage", "set_current", "measure_pack", "polarity", "join_packs", "soft_connect"])]
#[case::relay(json!({"cut_off": {"low_v": 24, "high_v": 25}}),
    &["set_voltage", "set_current", "set_relay", "measure_pack", "polarity", "soft_connect"])]
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
    assert!(on.find("main lead") < on.find("balance lead") && on.contains("dead supply"), "{on}");
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
