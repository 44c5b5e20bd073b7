//! Cells put together: proven for few, near the best for many, with the fewest moves.

use proptest::prelude::*;
use rumek_core::formats::{MatchDoc, MatchResultDoc, Problems, UnfitCode, from_value};
use rumek_core::match_cells;
use serde_json::{Value, json};

fn ask(cells: &[Value], packs: &Value) -> Result<MatchResultDoc, Problems> {
    let doc: MatchDoc = from_value(&json!({
        "format": "rumek.match/1", "chemistry": "li_ion", "cells": cells, "packs": packs
    }))?;
    match_cells(&doc)
}

fn cell(n: usize, ah: f64) -> Value {
    json!({ "id": format!("c{n}"), "capacity_ah": ah })
}

/// The least largest spread within a pack of `series` groups of `parallel`, by trying every arrangement.
fn tried(ah: &[f64], series: usize, parallel: usize) -> f64 {
    fn place(ah: &[f64], at: usize, groups: &mut Vec<(f64, usize)>, parallel: usize, loose: usize, least: &mut f64) {
        if at == ah.len() {
            if groups.iter().all(|(_, n)| *n == parallel) {
                let sums = || groups.iter().map(|(sum, _)| *sum);
                let mean = sums().sum::<f64>() / groups.len() as f64;
                let spread = (sums().fold(0.0, f64::max) - sums().fold(f64::INFINITY, f64::min)) / mean;
                *least = least.min(spread);
            }
            return;
        }
        for g in 0..groups.len() {
            // Empty groups are alike.
            if groups[g].1 < parallel && (groups[g].1 > 0 || groups[..g].iter().all(|(_, n)| *n > 0)) {
                groups[g].0 += ah[at];
                groups[g].1 += 1;
                place(ah, at + 1, groups, parallel, loose, least);
                groups[g].0 -= ah[at];
                groups[g].1 -= 1;
            }
        }
        if loose > 0 {
            place(ah, at + 1, groups, parallel, loose - 1, least);
        }
    }
    let mut least = f64::INFINITY;
    place(ah, 0, &mut vec![(0.0, 0); series], parallel, ah.len() - series * parallel, &mut least);
    least
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]

    #[test]
    fn few_cells_are_put_together_as_evenly_as_can_be(
        ah in proptest::collection::vec(2.4f64..3.2, 9),
        (series, parallel) in prop_oneof![Just((3, 3)), Just((4, 2)), Just((2, 4)), Just((2, 3)), Just((5, 1)), Just((9, 1))],
    ) {
        let cells: Vec<Value> = ah.iter().enumerate().map(|(n, ah)| cell(n, *ah)).collect();
        let found = ask(&cells, &json!([{ "name": "p", "series": series, "parallel": parallel }])).unwrap();
        let least = tried(&ah, series, parallel);
        prop_assert!(found.proven);
        prop_assert!((found.bound - least).abs() < 1e-5, "{} against {least}", found.bound);
        prop_assert!((found.packs[0].spread.unwrap() - least).abs() < 1e-5);
    }

    #[test]
    fn swaps_carried_out_lead_to_the_packs_that_are_told(
        ah in proptest::collection::vec(2.0f64..3.0, 14),
        order in Just((0..12).collect::<Vec<usize>>()).prop_shuffle(),
    ) {
        let cells: Vec<Value> = ah.iter().enumerate().map(|(n, ah)| {
            let mut cell = cell(n, *ah);
            if let Some(at) = order.iter().position(|one| *one == n) {
                cell["sits"] = json!({ "pack": if at < 6 { "a" } else { "b" }, "group": at % 6 / 2 + 1 });
            }
            cell
        }).collect();
        let packs = json!([{ "name": "a", "series": 3, "parallel": 2 }, { "name": "b", "series": 3, "parallel": 2 }]);
        let found = ask(&cells, &packs).unwrap();
        let mut sits: Vec<Option<usize>> = (0..14).map(|n| order.iter().position(|one| *one == n).map(|at| at / 2)).collect();
        let number = |id: &String| id[1..].parse::<usize>().unwrap();
        prop_assert_eq!(found.steps[0].moves, 0);
        for [a, b] in &found.steps.last().unwrap().swaps {
            sits.swap(number(a), number(b));
        }
        for (p, pack) in found.packs.iter().enumerate() {
            for (g, group) in pack.groups.iter().enumerate() {
                for id in group {
                    prop_assert_eq!(sits[number(id)], Some(3 * p + g), "{}", id);
                }
            }
        }
        let spreads: Vec<f64> = found.steps.iter().map(|step| step.spread.unwrap()).collect();
        prop_assert!(spreads.windows(2).all(|w| w[1] < w[0]), "{spreads:?}");
        prop_assert!(found.steps.iter().all(|step| step.moves as usize == step.swaps.len()));
    }
}

#[test]
fn twenty_cells_are_proven() {
    let ah = [
        2.91, 2.84, 2.77, 2.95, 2.66, 2.89, 2.81, 2.73, 2.92, 2.69, 2.86, 2.78, 2.97, 2.71, 2.83, 2.9, 2.75, 2.68,
        2.94, 2.8,
    ];
    let cells: Vec<Value> = ah.iter().enumerate().map(|(n, ah)| cell(n, *ah)).collect();
    let found = ask(&cells, &json!([{ "name": "p", "series": 5, "parallel": 4 }])).unwrap();
    assert!(found.proven, "{}", found.bound);
    assert!(found.bound <= 0.001, "{}", found.bound);
}

#[test]
fn five_hundred_cells_come_within_a_hundredth() {
    let mut seed = 7u64;
    let mut next = || {
        seed = seed.wrapping_mul(6_364_136_223_846_793_005).wrapping_add(1_442_695_040_888_963_407);
        (seed >> 11) as f64 / (1u64 << 53) as f64
    };
    let cells: Vec<Value> = (0..500).map(|n| cell(n, 2.4 + 0.8 * next())).collect();
    let packs: Vec<Value> = (0..5).map(|n| json!({ "name": format!("p{n}"), "series": 10, "parallel": 10 })).collect();
    let found = ask(&cells, &json!(packs)).unwrap();
    let last = found.steps.last().unwrap();
    assert!(last.spread.unwrap() - found.bound <= 0.01, "{last:?}");
    assert!(last.pack_spread.unwrap() <= 0.01, "{last:?}");
}

#[test]
fn welded_cells_stay_together_and_unfit_ones_out() {
    let mut cells: Vec<Value> = (0..9).map(|n| cell(n, 2.5 + 0.05 * n as f64)).collect();
    cells[0]["welded_with"] = json!(["c1"]);
    cells[8]["self_discharge_mv_per_day"] = json!(5.1);
    cells[7]["self_discharge_mv_per_day"] = json!(4.9);
    let found = ask(&cells, &json!([{ "name": "p", "series": 2, "parallel": 4 }])).unwrap();
    let group = found.packs[0].groups.iter().find(|group| group.contains(&"c0".to_owned())).unwrap();
    assert!(group.contains(&"c1".to_owned()));
    let unfit: Vec<(&str, UnfitCode)> = found.unfit.iter().map(|unfit| (unfit.id.as_str(), unfit.code)).collect();
    assert_eq!(unfit, [("c8", UnfitCode::SelfDischarge)]);
}

#[test]
fn a_cell_is_unfit_from_the_threshold_on_and_not_before() {
    let with = |field: &str, value: f64| {
        let mut cells: Vec<Value> = (0..5)
            .map(|n| json!({ "id": format!("c{n}"), "capacity_ah": 3.0, "resistance_mohm": 30.0, "voltage_v": 3.7 }))
            .collect();
        cells[4][field] = json!(value);
        ask(&cells, &json!([{ "name": "p", "series": 4, "parallel": 1 }])).unwrap().unfit.len()
    };
    assert_eq!([with("resistance_mohm", 60.0), with("resistance_mohm", 60.1)], [0, 1]);
    assert_eq!([with("capacity_ah", 2.11), with("capacity_ah", 2.09)], [0, 1]);
    assert_eq!([with("voltage_v", 3.01), with("voltage_v", 2.99)], [0, 1]);
}

#[test]
fn cells_that_stand_apart_are_levelled_before_they_are_joined() {
    let joins = |apart: f64| {
        let cells = [
            json!({ "id": "low", "capacity_ah": 3.0, "resistance_mohm": 20.0, "voltage_v": 3.7 }),
            json!({ "id": "high", "capacity_ah": 3.0, "resistance_mohm": 20.0, "voltage_v": 3.7 + apart }),
        ];
        let found = ask(&cells, &json!([{ "name": "p", "series": 1, "parallel": 2 }])).unwrap();
        found.joins.first().map(|join| (join.severity.code().to_owned(), join.inrush_a.unwrap(), join.order.clone()))
    };
    assert_eq!(joins(0.049), None);
    assert_eq!(joins(0.09).unwrap().0, "caution");
    let (severity, inrush_a, order) = joins(0.2).unwrap();
    assert_eq!(severity, "stop");
    assert!((inrush_a - 5.0).abs() < 1e-6);
    assert_eq!(order, ["low", "high"]);
}

#[test]
fn too_few_cells_build_what_they_can() {
    let cells: Vec<Value> = (0..7).map(|n| cell(n, 3.0)).collect();
    let packs = json!([{ "name": "a", "series": 3, "parallel": 2 }, { "name": "b", "series": 3, "parallel": 2 }]);
    let found = ask(&cells, &packs).unwrap();
    assert_eq!((found.packs[0].missing, found.packs[1].missing), (0, 6));
    assert_eq!(found.left_over.len(), 1);
    assert!(found.notes[0].contains("5 fit cells"), "{:?}", found.notes);
}

#[test]
fn what_is_wrong_with_the_question_is_named() {
    let pointers = |cells: &[Value], packs: &Value| -> Vec<String> {
        ask(cells, packs).unwrap_err().problems.into_iter().map(|problem| problem.pointer).collect()
    };
    let pack = json!([{ "name": "a", "series": 1, "parallel": 1 }]);
    assert_eq!(pointers(&[], &pack), ["/cells"]);
    assert_eq!(pointers(&[cell(1, 3.0), cell(1, 3.0)], &pack), ["/cells/0/id"]);
    assert_eq!(pointers(&[json!({ "id": "x" })], &pack), ["/cells/0/capacity_ah"]);
    let sits = |group: u32| json!({ "id": "x", "capacity_ah": 3.0, "sits": { "pack": "a", "group": group } });
    assert_eq!(pointers(&[sits(2)], &pack), ["/cells/0/sits/group"]);
    let welded = json!({ "id": "x", "capacity_ah": 3.0, "welded_with": ["y"] });
    assert_eq!(pointers(&[welded], &pack), ["/cells/0/welded_with"]);
}
