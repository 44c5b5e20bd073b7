//! What people type.

use rstest::rstest;
use rumek_core::quick_line::read;
use serde_json::{Value, json};

#[rstest]
#[case("6S 4000 lipo, 30 V 5 A bench",
    json!({"pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4.0}, "source": {"kind": "bench_supply", "max_voltage_v": 30.0, "max_current_a": 5.0}}))]
#[case("6S 4000 lipo 30V 5A bench supply",
    json!({"pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4.0}, "source": {"kind": "bench_supply", "max_voltage_v": 30.0, "max_current_a": 5.0}}))]
#[case("12V 7Ah agm", json!({"pack": {"chemistry": "lead_agm", "series": 6, "label_v": 12.0, "capacity_ah": 7.0}}))]
#[case("18 V 74 Wh li-ion, 21 V 2 A supply",
    json!({"pack": {"chemistry": "li_ion", "series": 5, "label_v": 18.0, "energy_wh": 74.0}, "source": {"kind": "fixed_supply", "voltage_v": 21.0, "max_current_a": 2.0}}))]
#[case("4s2p LiFePO4 6,6Ah 40% gentle, 20 V 10 A bench",
    json!({"practice": "gentle", "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 6.6, "start": {"soc": 0.4}}, "source": {"kind": "bench_supply", "max_voltage_v": 20.0, "max_current_a": 10.0}}))]
#[case("3S 2200mAh lipo at 11.4 V to 80 %, load 20 W",
    json!({"pack": {"chemistry": "lipo", "series": 3, "capacity_ah": 2.2, "start": {"rest_voltage_v": 11.4}, "goal": {"kind": "soc", "soc": 0.8}}, "load": {"power_w": 20.0}}))]
#[case("6S 4000 lipo, 19 V 90 W, 8 A charger",
    json!({"pack": {"chemistry": "lipo", "series": 6, "capacity_ah": 4.0}, "source": {"kind": "fixed_supply", "voltage_v": 19.0, "max_power_w": 90.0}, "charger": {"kind": "hobby_charger", "output_max_a": 8.0}}))]
#[case("12V 7Ah gel, 13.8 V 5 A supply, 24 V 21 W lamp, 16awg 1 m lead",
    json!({"pack": {"chemistry": "lead_gel", "series": 6, "label_v": 12.0, "capacity_ah": 7.0}, "source": {"kind": "fixed_supply", "voltage_v": 13.8, "max_current_a": 5.0}, "charger": {"kind": "lamp", "lamp_rated_v": 24.0, "lamp_rated_w": 21.0}, "leads": {"output": {"awg": 16.0, "length_m": 1.0}}}))]
#[case("3S 2200 lipo, 24 V 5 A supply, 5 A buck module cc",
    json!({"pack": {"chemistry": "lipo", "series": 3, "capacity_ah": 2.2}, "source": {"kind": "fixed_supply", "voltage_v": 24.0, "max_current_a": 5.0}, "charger": {"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 5.0}}))]
#[case("4S 5Ah lipo balanced, wall, 200 W charger",
    json!({"pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 5.0, "balancer": "balance_lead"}, "source": {"kind": "mains"}, "charger": {"kind": "hobby_charger", "output_max_w": 200.0}}))]
fn reads(#[case] line: &str, #[case] expected: Value) {
    let read = read(line);
    let mut plan = serde_json::to_value(&read.plan).unwrap();
    plan.as_object_mut().unwrap().remove("format");
    assert_eq!(plan, expected);
    assert_eq!(read.not_understood, []);
}

#[test]
fn says_what_it_did_not_understand_and_asks_what_is_missing() {
    let read = read("25.2 V 5 Ah li-ion, wobbly 19 V");
    assert_eq!(read.not_understood.iter().map(|l| l.text.as_str()).collect::<Vec<_>>(), ["wobbly"]);
    let series = read.questions.iter().find(|q| q.pointer == "/pack/series").unwrap();
    assert_eq!(series.options, ["6", "7"]);
    let empty = rumek_core::quick_line::read("");
    let asked: Vec<&str> = empty.questions.iter().map(|q| q.pointer.as_str()).collect();
    assert_eq!(asked, ["/pack/chemistry", "/pack/capacity_ah", "/source"]);
}

proptest::proptest! {
    #[test]
    fn never_panics(line in ".{0,120}") {
        let read = read(&line);
        let _ = rumek_core::answer(&read.plan);
    }
}
