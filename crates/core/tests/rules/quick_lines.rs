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

#[rstest]
// What it may give is never what it is charged with.
#[case("6S 5000mAh 22.2V 50C lipo", None, Some(50.0))]
#[case("6S 5000mAh 50C lipo, 30V 60A bench", None, Some(50.0))]
#[case("6S 5000 lipo 5.1C", None, Some(5.1))]
#[case("6S 5000 lipo 35-70C", None, Some(35.0))]
#[case("6S 5000 lipo 35C/70C", None, Some(35.0))]
#[case("6S 5000 lipo 4C discharge", None, Some(4.0))]
#[case("6S 5000 lipo discharge 4C", None, Some(4.0))]
#[case("6S 5000 lipo continuous 20C burst 40C", None, Some(20.0))]
// What says so is.
#[case("6S 5000 lipo charge 5C", Some(5.0), None)]
#[case("6S 5000 lipo 5C charge", Some(5.0), None)]
#[case("6S 5000 lipo max charge rate 2C", Some(2.0), None)]
#[case("6S 5000 lipo 1C-5C", Some(5.0), None)]
#[case("6S 5000 lipo 1-3C", Some(3.0), None)]
#[case("6S 5000 lipo 50C charge 5C", Some(5.0), Some(50.0))]
#[case("6S 5000 lipo charge 5C discharge 60C", Some(5.0), Some(60.0))]
#[case("6S 5000 lipo 60C discharge 5C charge", Some(5.0), Some(60.0))]
// A lone one that may be either is asked.
#[case("6S 5000 lipo 5C", None, None)]
#[case("6S 5000 lipo 2C", None, None)]
fn a_rate_is_charged_by_only_where_the_line_says_so(
    #[case] line: &str,
    #[case] charge: Option<f64>,
    #[case] gives: Option<f64>,
) {
    let read = read(line);
    let pack = read.plan.pack.unwrap();
    assert_eq!((pack.rated_c_rate, pack.discharge_c_rate), (charge, gives), "{:?}", read.understood);
    let asked = read.questions.iter().find(|q| q.pointer == "/pack/rated_c_rate");
    assert_eq!(asked.is_some(), charge.is_none() && gives.is_none(), "{:?}", read.questions);
    if let Some(asked) = asked {
        let offered: Vec<&str> = asked.choices.iter().map(|c| c.pointer.as_str()).collect();
        assert_eq!(offered, ["/pack/rated_c_rate", "/pack/discharge_c_rate", "/pack/temperature_c"]);
    }
}

#[rstest]
#[case("4S 100Ah lfp 100A", None, true)]
#[case("4S 100Ah lfp charge 50A", Some(50.0), false)]
#[case("12V 7Ah agm initial current 2.1A", Some(2.1), false)]
#[case("4S 100Ah lfp 100A discharge", None, false)]
fn amps_on_a_pack_are_charged_with_only_where_the_line_says_so(
    #[case] line: &str,
    #[case] rated: Option<f64>,
    #[case] asked: bool,
) {
    let read = read(line);
    assert_eq!(read.plan.pack.unwrap().rated_charge_a, rated);
    assert_eq!(read.questions.iter().any(|q| q.pointer == "/pack/rated_charge_a"), asked, "{:?}", read.questions);
}

#[rstest]
#[case("12V 120 agm", Some(120.0))]
#[case("12V 7 agm", Some(7.0))]
#[case("6S 4000 lipo", Some(4.0))]
#[case("1S 450 lipo", Some(0.45))]
#[case("4S 280 lfp", Some(280.0))]
#[case("5S 5 li-ion", Some(5.0))]
#[case("2500 nimh 8S", Some(2.5))]
#[case("3S 3400 li-ion", Some(3.4))]
// Both are sold.
#[case("6S 60 lipo", None)]
#[case("3S 500 li-ion", None)]
#[case("4S 1500 lfp", None)]
#[case("12V 600 agm", None)]
#[case("8S 50 nimh", None)]
#[case("5S 2000", None)]
// Thousands.
#[case("6S 5,000mAh lipo", Some(5.0))]
#[case("6S 5'000 mAh lipo", Some(5.0))]
#[case("6S 5 000 mAh lipo", Some(5.0))]
#[case("6S 5.000mAh lipo", Some(5.0))]
#[case("4S 6,6Ah lfp", Some(6.6))]
#[case("4S 1,250Ah lfp", None)]
fn a_capacity_is_never_read_a_thousand_times_wrong_without_a_question(#[case] line: &str, #[case] ah: Option<f64>) {
    let read = read(line);
    assert_eq!(read.plan.pack.as_ref().unwrap().capacity_ah, ah, "{:?}", read.understood);
    let asked = read.questions.iter().find(|q| q.pointer == "/pack/capacity_ah");
    assert_eq!(asked.map_or(0, |q| q.choices.len()), if ah.is_none() { 2 } else { 0 }, "{:?}", read.questions);
    assert!(read.not_understood.is_empty(), "{:?}", read.not_understood);
    assert!(read.understood.iter().all(|u| !u.meaning.is_empty()));
}

/// Six cells of lead: they stand for good up to 2.33 V each and are charged with 2.37 V and more; between, it is asked.
#[rstest]
#[case("12V 18Ah agm 13.5-13.98V", "/pack/label_voltage_v/standby")]
#[case("12V 18Ah agm 13.5-14.00V", "/pack/label_voltage_v")]
#[case("12V 18Ah agm 14.20-15.0V", "/pack/label_voltage_v")]
#[case("12V 18Ah agm 14.22-15.0V", "/pack/label_voltage_v/cycle")]
fn a_label_range_says_by_its_volts_what_it_is_for(#[case] line: &str, #[case] pointer: &str) {
    let read = read(line);
    let asked = read.questions.iter().any(|question| question.pointer == pointer);
    let said = read.understood.iter().any(|piece| piece.pointer == pointer);
    assert!(if pointer == "/pack/label_voltage_v" { asked } else { said && !asked }, "{read:?}");
}

/// A second voltage of a pack is what it stands at when full from 1.05 to 1.3 times the first; else it is asked.
#[rstest]
#[case("10Ah li-ion 36V 37.7V", "36 V, 37.7 V asked below")]
#[case("10Ah li-ion 36V 37.9V", "37.9 V when full")]
#[case("10Ah li-ion 36V 46.7V", "46.7 V when full")]
#[case("10Ah li-ion 36V 46.9V", "36 V, 46.9 V asked below")]
fn a_second_voltage_is_the_full_one_within_what_cells_rise(#[case] line: &str, #[case] meaning: &str) {
    let read = read(line);
    assert!(read.understood.iter().any(|piece| piece.meaning == meaning), "{:?}", read.understood);
}

/// Whether a line leaves a field open.
fn asks(line: &str, pointer: &str) -> bool {
    read(line).questions.iter().any(|question| question.pointer == pointer)
}

#[rstest]
// A label's volts are rounded to a tenth; whole ones are near what its cells have.
#[case::rounded("6S 5Ah lipo 22.25V", "6S 5Ah lipo 22.26V", "/pack/label_v")]
#[case::whole_and_high("6S 5Ah lipo 23V", "6S 5Ah lipo 24V", "/pack/label_v")]
#[case::whole_and_low("6S 5Ah lipo 21V", "6S 5Ah lipo 20V", "/pack/label_v")]
// Below 0.96 of full nobody charges to it.
#[case::nearly_full("6S 5Ah lipo 4.03V per cell", "6S 5Ah lipo 4.04V per cell", "/pack/start/rest_voltage_v")]
#[case::said_to_be_read("6S 5Ah lipo at 4.1V per cell", "6S 5Ah lipo 4.1V per cell", "/pack/start/rest_voltage_v")]
// No cell stands above 4.5 V.
#[case::a_cell("4S 5Ah lipo at 4.51V", "4S 5Ah lipo at 4.5V", "/pack/start/rest_voltage_v")]
#[case::one_cell("1S 5Ah lipo at 3.7V", "2S 5Ah lipo at 3.7V", "/pack/start/rest_voltage_v")]
// Twice the same is said once.
#[case::twice("6S 5Ah lipo, 30V 5A bench 5A", "6S 5Ah lipo, 30V 5A bench 6A", "/source/max_current_a")]
#[case::named("6S 5Ah lipo, 30V 5A bench", "6S 5Ah lipo, 30V 5A", "/source/kind")]
#[case::joined("2x 12V 7Ah agm in parallel", "2x 12V 7Ah agm", "/pack/packs_in_parallel")]
#[case::packs("2x 3S 5Ah lipo in parallel", "2x 3S 5Ah lipo", "/pack/packs_in_parallel")]
#[case::cells("6x 500F 2.7V supercap in series", "6x 500F 2.7V supercap", "/pack/series")]
fn what_may_be_two_things_is_asked_from_there_on(#[case] said: &str, #[case] open: &str, #[case] pointer: &str) {
    assert!(!asks(said, pointer), "{said}: {:?}", read(said).questions);
    assert!(asks(open, pointer), "{open}: {:?}", read(open).questions);
}

#[rstest]
#[case("6S 5Ah lipo, 10A charger, 89V", "fixed_supply")]
#[case("6S 5Ah lipo, 10A charger, 90V", "mains")]
#[case("6S 5Ah lipo, 10A charger, wall 89V 2A", "fixed_supply")]
#[case("6S 5Ah lipo, 10A charger, wall 90V", "mains")]
fn from_ninety_volts_on_it_is_the_wall(#[case] line: &str, #[case] kind: &str) {
    assert_eq!(read(line).plan.source.and_then(|source| source.kind).map(|kind| kind.code()), Some(kind), "{line}");
}

#[rstest]
#[case("4S 5Ah lipo 3.70V 3.71V", None)]
#[case("3S 5Ah lipo 3.70V 3.71V 3.72V", Some(vec![3.70, 3.71, 3.72]))]
fn three_volts_in_a_row_are_readings_of_cells(#[case] line: &str, #[case] cells: Option<Vec<f64>>) {
    assert_eq!(read(line).plan.pack.unwrap().start.and_then(|start| start.cell_voltages_v), cells);
}

#[rstest]
// Of a hundred and more of anything nobody speaks: `1500 x 6` are 1500 mAh, six times.
#[case::a_count("lipo 4S 5Ah 100 x 2 parallel", None)]
#[case::no_count("lipo 4S 101 x 2 parallel", Some(2))]
fn what_is_too_many_is_no_count(#[case] line: &str, #[case] packs: Option<u32>) {
    assert_eq!(read(line).plan.pack.unwrap().packs_in_parallel, packs);
}

#[rstest]
#[case::a_cell_may_stand_there("3x 18650 in series 3.5Ah 12.7V", true)]
#[case::none_does("3x 18650 in series 3.5Ah 12.8V", false)]
fn volts_of_several_in_series_are_asked_where_they_may_be_all_of_them(#[case] line: &str, #[case] asked: bool) {
    assert_eq!(asks(line, "/pack/series"), asked);
}

#[rstest]
#[case::less_than_the_pack_has("4S 4Ah lipo, charger 14.7V 5A", true)]
#[case::as_much("4S 4Ah lipo, charger 14.9V 5A", false)]
fn a_charger_that_reaches_less_than_the_pack_has_is_asked(#[case] line: &str, #[case] asked: bool) {
    assert_eq!(asks(line, "/charger/output_max_v"), asked);
}

#[rstest]
#[case::a_wall("4S 4Ah lipo, charger 240V 50W", Some("mains"))]
#[case::no_wall("4S 4Ah lipo, charger 200V 50W", None)]
fn the_volts_of_a_wall_beside_a_charger_feed_it(#[case] line: &str, #[case] kind: Option<&str>) {
    assert_eq!(read(line).plan.source.and_then(|source| source.kind).map(|kind| kind.code()), kind);
}

#[rstest]
#[case::a_pack_may_stand_there("6S 4000 lipo, 26.4V", "/pack/start/rest_voltage_v")]
#[case::none_does("6S 4000 lipo, 26.5V", "/source/kind")]
fn volts_that_stand_alone_above_any_pack_are_the_supply_s(#[case] line: &str, #[case] pointer: &str) {
    assert!(asks(line, pointer), "{:?}", read(line).questions);
}

#[test]
fn a_cell_that_the_pack_has_not_is_left_over_whole() {
    let left = |line: &str| read(line).not_understood.into_iter().map(|left| left.text).collect::<Vec<_>>();
    assert!(left("4S lipo 5000, cell 4 at 2.9, others 3.6").is_empty());
    assert_eq!(left("4S lipo 5000, cell 5 at 2.9, others 3.6"), ["cell 5 at 2.9 others 3.6"]);
    // How many there are may stand after it.
    assert!(left("lipo, cell 3 at 2.9, others 3.6, 4S 5000").is_empty());
    assert_eq!(left("lipo 5000, one cell at 2.9, others 3.6").len(), 1);
}

#[test]
fn which_cell_was_not_said_is_told() {
    let meaning = |line: &str| {
        let pieces = read(line).understood;
        pieces.into_iter().find(|piece| piece.pointer.ends_with("cell_voltages_v")).map(|piece| piece.meaning)
    };
    assert_eq!(
        meaning("4S lipo 5000, one cell at 2.9, others 3.6").as_deref(),
        Some("4 cells read: 2.9 V, the others 3.6 V; which one was not said, so it stands first")
    );
    assert_eq!(
        meaning("4S lipo 5000, cell 2 at 2.9, others 3.6").as_deref(),
        Some("4 cells read: 2.9 V, the others 3.6 V")
    );
}

#[rstest]
#[case::below_where_a_charge_may_begin("4S lipo 5000, lowest cell 2.9, bench 30V 5A", true)]
#[case::just_there("4S lipo 5000, lowest cell 3.0, bench 30V 5A", false)]
#[case::above_full("4S lipo 5000, highest cell 4.3, bench 30V 5A", true)]
fn one_cell_alone_is_enough_to_withhold_settings(#[case] line: &str, #[case] withheld: bool) {
    let result = rumek_core::answer(&read(line).plan).unwrap();
    assert_eq!(result.settings.is_none(), withheld, "{:?}", result.checks);
}

#[rstest]
#[case::swollen("4S lipo 5000 puffed, bench 30V 5A", true)]
#[case::a_part_of_its_own("4S lipo 5000, leaking, bench 30V 5A", true)]
#[case::denied("4S lipo 5000 not puffed, bench 30V 5A", false)]
#[case::nothing_said("4S lipo 5000, bench 30V 5A", false)]
fn a_pack_whose_looks_give_it_up_gets_no_settings(#[case] line: &str, #[case] withheld: bool) {
    let result = rumek_core::answer(&read(line).plan).unwrap();
    assert_eq!(result.settings.is_none(), withheld, "{:?}", result.checks);
}

#[rstest]
#[case::crashed("4S lipo 5000 crashed, bench 30V 5A", true)]
#[case::soaked("4S lipo 5000, soaked, bench 30V 5A", true)]
#[case::denied("4S lipo 5000 never crashed, bench 30V 5A", false)]
fn what_happened_to_a_pack_is_asked_after(#[case] line: &str, #[case] asked: bool) {
    assert_eq!(asks(line, "/pack/mark"), asked);
}
