//! Documents in, problems out.

use insta::assert_json_snapshot;
use proptest::prelude::*;
use rumek_core::answer;
use rumek_core::formats::{PlanDoc, from_bytes};
use serde_json::json;

use crate::{ask, problems};

#[test]
fn every_problem_is_named_at_once_with_its_pointer() {
    let bytes = br#"{ "format": "rumek.plan/1", "pack": { "chemistry": "unobtainium", "serie": 6, "capacity_ah": "four" },
                      "source": { "kind": "bench_supply", "max_voltage_v": [30] }, "accept": ["pack.too_cold", "nonsense"] }"#;
    assert_json_snapshot!(from_bytes::<PlanDoc>(bytes).unwrap_err());
}

#[test]
fn values_out_of_range_or_out_of_place_are_named() {
    assert_json_snapshot!(problems(json!({
        "pack": { "series": 0, "health": 4, "rated_c_rate": 1, "rated_charge_a": 4, "capacitance_f": 10,
                  "start": { "soc": 0.2, "rest_voltage_v": 22 }, "goal": { "kind": "float" } },
        "source": { "voltage_v": 12, "foldback_current_a": 1 },
        "charger": { "kind": "hobby_charger", "duty": 0.5, "topology": "linear" },
        "leads": { "output": { "awg": 18, "area_mm2": 1, "fuse_v": 32 } },
        "cut_off": { "low_v": 14 },
        "meters": [ { "at": "source", "points": [ { "shown": 12, "true": 40 } ] } ],
        "other_packs": [ { "capacity_ah": 4 } ],
        "load": { "current_a": 1, "power_w": 2 },
        "accept": [ "pack.too_cold" ]
    })));
}

#[test]
fn a_whole_answer() {
    assert_json_snapshot!(ask(json!({
        "name": "Tow-plane on the bench supply",
        "pack": { "resistance_mohm": 40 },
        "source": { "max_power_w": 80 },
        "price_per_kwh": 0.3
    })), {
        ".curve" => insta::dynamic_redaction(|value, _| {
            insta::internals::Content::from(format!("{} points", value.as_slice().map_or(0, <[_]>::len)))
        }),
        ".**" => insta::rounded_redaction(3),
    });
}

#[test]
fn an_ambiguous_label_lists_its_candidates() {
    let wrong = problems(json!({ "pack": { "chemistry": "li_ion", "series": null, "label_v": 25.2 } }));
    assert_eq!(wrong.problems[0].pointer, "/pack/series");
    assert_eq!(wrong.problems[0].allowed, "6S, 7S");
}

proptest! {
    #[test]
    fn arbitrary_bytes_give_an_error_with_a_pointer(bytes in prop::collection::vec(any::<u8>(), 0..200)) {
        let wrong = from_bytes::<PlanDoc>(&bytes).and_then(|plan| answer(&plan)).unwrap_err();
        prop_assert!(!wrong.problems.is_empty());
        prop_assert!(wrong.problems.iter().all(|p| p.pointer.is_empty() || p.pointer.starts_with('/')));
    }
}

#[test]
fn quantities_read_and_show_as_the_shared_table_says() {
    let table = include_str!("../../../../docs/formats/quantities.csv");
    let mut rows = 0;
    for row in table.lines().skip(1) {
        let cells = split_csv(row);
        let [kind, text, value, shown] = cells.as_slice() else { panic!("four cells in {row}") };
        let kind = rumek_core::units::Kind::NAMES.iter().find(|(name, _)| name == kind).unwrap().1;
        let read = rumek_core::units::parse(kind, text);
        if value.is_empty() {
            assert!(read.is_err(), "{row}");
        } else {
            let expected: f64 = value.parse().unwrap();
            let read = read.unwrap();
            assert!((read - expected).abs() < 1e-9, "{row}: {read}");
            assert_eq!(&rumek_core::units::show(kind, read), shown, "{row}");
        }
        rows += 1;
    }
    assert!(rows > 20);
}

/// Cells of one CSV row; quotes may hold a comma.
fn split_csv(row: &str) -> Vec<String> {
    let mut cells = vec![String::new()];
    let mut quoted = false;
    for c in row.chars() {
        match c {
            '"' => quoted = !quoted,
            ',' if !quoted => cells.push(String::new()),
            other => cells.last_mut().unwrap().push(other),
        }
    }
    cells
}
