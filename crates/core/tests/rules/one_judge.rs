//! The same pack in the same state gets the same answer in every room: no room tells more than a plan would set.

use proptest::prelude::*;
use rumek_core::codes::{Chemistry, RescueStageKind, Verdict};
use rumek_core::formats::{
    MatchDoc, PlanDoc, RescueDoc, RescueResultDoc, ResultDoc, Severity, SizingAskDoc, StandingAskDoc, from_value,
};
use rumek_core::{CellFigures, answer, match_cells, rescue, size, standing};
use serde_json::{Value, json};

use crate::merge;

const KINDS: &[&str] =
    &["lipo", "lihv", "li_ion", "lfp", "lto", "sodium_ion", "nimh", "nicd", "lead_flooded", "lead_agm", "lead_gel"];

fn figures(chemistry: &str) -> CellFigures {
    CellFigures::of(Chemistry::from_code(chemistry).unwrap()).unwrap()
}

/// A pack as somebody finds it: what it is, how its cells stand, how warm it and its room are.
#[derive(Clone, Debug)]
struct Pack {
    chemistry: &'static str,
    series: u32,
    ah: f64,
    cells: Vec<f64>,
    read: bool,
    temperature_c: f64,
    ambient_c: f64,
    label_c: Option<f64>,
    mark: Option<&'static str>,
}

impl Pack {
    fn sum_v(&self) -> f64 {
        (self.cells.iter().sum::<f64>() * 100.0).round() / 100.0
    }

    fn document(&self) -> Value {
        let mut pack = json!({"chemistry": self.chemistry, "series": self.series, "capacity_ah": self.ah});
        if let Some(label_c) = self.label_c {
            pack["rated_c_rate"] = json!(label_c);
        }
        if let Some(mark) = self.mark {
            pack["mark"] = json!(mark);
        }
        pack
    }

    /// A plan of it on a bench supply that could give anything.
    fn plan_value(&self) -> Value {
        let mut pack = self.document();
        pack["temperature_c"] = json!(self.temperature_c);
        pack["start"] = if self.read && self.series > 1 {
            json!({"cell_voltages_v": self.cells})
        } else {
            json!({"rest_voltage_v": self.sum_v().max(0.0)})
        };
        json!({"format": "rumek.plan/1", "pack": pack, "ambient_c": self.ambient_c,
            "source": {"kind": "bench_supply", "max_voltage_v": 1000, "max_current_a": 10_000}})
    }

    fn plan(&self) -> ResultDoc {
        answer(&from_value::<PlanDoc>(&self.plan_value()).unwrap()).unwrap()
    }

    fn rescue(&self, patch: Value) -> RescueResultDoc {
        let mut asked = json!({"format": "rumek.rescue/1", "practice": "cautious", "pack": self.document(), "ambient_c": self.ambient_c,
            "found": {"terminal_v": self.sum_v(), "cell_voltages_v": if self.read { json!(self.cells) } else { Value::Null },
                      "cells_reachable": self.read, "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": self.temperature_c}});
        merge(&mut asked, &patch);
        rescue(&from_value::<RescueDoc>(&asked).unwrap()).unwrap()
    }
}

prop_compose! {
    fn packs()(
        chemistry in prop::sample::select(KINDS),
        series in prop::sample::select(vec![1u32, 2, 3, 4, 6, 8, 12, 16, 18, 24, 30, 48, 96]),
        ah in prop::sample::select(vec![0.5, 1.3, 2.2, 5.0, 7.0, 35.0, 100.0, 280.0]),
        (level, apart) in (0.0f64..1.1, prop::option::weighted(0.3, -0.3f64..0.3)),
        (read, at_window) in (any::<bool>(), any::<bool>()),
        temperature_c in -25.0f64..58.0,
        ambient_c in -15.0f64..35.0,
        label_c in prop::option::weighted(0.3, 0.1f64..4.0),
        mark in prop::option::weighted(0.1, prop::sample::select(vec!["recovered", "retired"])),
    ) -> Pack {
        let cell = figures(chemistry);
        let volts = ((level * (cell.ceiling_v(25.0) + 0.1)) * 1000.0).round() / 1000.0;
        let mut cells = vec![volts; series as usize];
        if let Some(apart) = apart {
            cells[0] = ((volts + apart).max(0.0) * 1000.0).round() / 1000.0;
        }
        let (low_c, high_c) = cell.window_c();
        let temperature_c = if at_window { (low_c + (temperature_c + 25.0) / 83.0 * (high_c - low_c)).round() } else { temperature_c.round() };
        Pack { chemistry, series, ah, cells, read: read && series > 1, temperature_c, ambient_c, label_c, mark }
    }
}

/// What a plan sets, or would set but for the stops that Rescue is there for.
fn allowed_a(pack: &Pack, plan: &ResultDoc) -> f64 {
    plan.settings.as_ref().map_or(0.0, |settings| settings.current_a).max(
        if plan.checks.iter().all(|check| {
            check.severity != Severity::Stop || check.rescue || check.code.code() == "settings.wrong_cell_count"
        }) {
            let gentle = if pack.chemistry.starts_with("ni") { 0.1 } else { 0.05 };
            gentle * pack.ah
        } else {
            0.0
        },
    )
}

proptest! {
    #![proptest_config(crate::kept(10_000, file!()))]

    #[test]
    fn rescue_tells_no_more_amps_and_no_more_volts_than_a_plan(pack in packs()) {
        let plan = pack.plan();
        let result = pack.rescue(json!({}));
        let most_a = allowed_a(&pack, &plan);
        let first = result.stages.iter().find(|stage| stage.current_a.is_some() && stage.kind != RescueStageKind::Prove);
        // Of a pack that is full already a plan sets nothing, and Rescue's charge ends at once.
        let full = plan.settings.is_none() && plan.checks.iter().all(|check| check.severity != Severity::Stop);
        if let Some(stage) = first.filter(|_| !full) {
            prop_assert!(stage.current_a.unwrap() <= most_a * 1.001 + 0.02, "{:?}: {} A told, {most_a} A by its plan: {:?}",
                stage.kind, stage.current_a.unwrap(), plan.checks.iter().map(|check| (check.severity, check.code)).collect::<Vec<_>>());
        }
        // Nothing is told to be fed that a plan stops for what is no depth.
        let fed = result.stages.iter().any(|stage| matches!(stage.kind, RescueStageKind::Charge | RescueStageKind::Precharge));
        if fed && let Some(stop) = plan.checks.iter().find(|check| check.severity == Severity::Stop && !check.rescue) {
            prop_assert!(stop.code.code() == "settings.wrong_cell_count", "{:?} {}", result.verdict, stop.message);
        }
        // A charge in Rescue is the charge of a plan.
        if result.verdict == Verdict::Charge {
            let settings = plan.settings.as_ref();
            let stage = result.stages.iter().find(|stage| stage.kind == RescueStageKind::Charge).unwrap();
            prop_assert!(settings.is_some() || plan.checks.iter().all(|check| check.severity != Severity::Stop || check.code.code() == "pack.start_unknown"),
                "{:?}", plan.checks.iter().filter(|check| check.severity == Severity::Stop).collect::<Vec<_>>());
            if let Some(settings) = settings {
                prop_assert!(stage.voltage_v.unwrap() <= settings.voltage_v.max(figures(pack.chemistry).ceiling_v(pack.temperature_c) * f64::from(pack.series)) + 1e-6);
            }
        }
    }

    #[test]
    fn a_rescue_that_hands_over_is_not_sent_back_by_the_plan(pack in packs()) {
        // What Rescue calls high enough a plan does not call too deep, and the other way round.
        let plan = pack.plan();
        let result = pack.rescue(json!({}));
        let deep = plan.checks.iter().any(|check| check.code.code() == "pack.deeply_discharged");
        if result.verdict == Verdict::Charge {
            prop_assert!(!deep, "{:?}", plan.checks);
        }
        if result.verdict == Verdict::Precharge {
            prop_assert!(deep, "{:?}", result.reasons);
        }
    }
}

prop_compose! {
    fn tables()(
        chemistry in prop::sample::select(vec!["lipo", "li_ion", "lfp", "lto", "sodium_ion", "lihv"]),
        (series, parallel) in (1u32..5, 1u32..4),
        seed in prop::collection::vec((0.0f64..1.08, 0.9f64..1.1, prop::option::weighted(0.3, 0.0f64..12.0)), 16),
        near in any::<bool>(),
    ) -> Value {
        let cell = figures(chemistry);
        let (low_v, high_v) = (cell.deep_below_v(), cell.ceiling_v(25.0));
        let count = (series * parallel) as usize;
        let cells: Vec<Value> = seed.iter().take(count + 2).enumerate().map(|(n, (level, ah, leaks))| {
            let share = if near { 0.7 + 0.08 * level } else { *level };
            let mut cell = json!({"id": format!("c{n}"), "capacity_ah": 3.0 * ah, "resistance_mohm": 30.0, "voltage_v": ((low_v + share * (high_v - low_v)) * 1000.0).round() / 1000.0});
            if let Some(leaks) = leaks {
                cell["self_discharge_mv_per_day"] = json!(leaks);
            }
            cell
        }).collect();
        json!({"format": "rumek.match/1", "chemistry": chemistry, "cells": cells, "packs": [{"name": "p", "series": series, "parallel": parallel}]})
    }
}

/// Every number before “ V” in a sentence.
fn volts_in(sentence: &str) -> Vec<f64> {
    let words: Vec<&str> = sentence.split_whitespace().collect();
    words
        .windows(2)
        .filter(|pair| pair[1].trim_end_matches([',', '.', ':', ';']) == "V")
        .filter_map(|pair| pair[0].parse().ok())
        .collect()
}

proptest! {
    #![proptest_config(crate::kept(10_000, file!()))]

    #[test]
    fn cells_are_levelled_no_higher_than_full_and_joined_only_level(table in tables()) {
        let ask: MatchDoc = from_value(&table).unwrap();
        let result = match_cells(&ask).unwrap();
        let cell = figures(table["chemistry"].as_str().unwrap());
        let of = |id: &str, field: &str| table["cells"].as_array().unwrap().iter().find(|cell| cell["id"] == id).unwrap()[field].as_f64().unwrap();
        let volts_of = |id: &str| of(id, "voltage_v");
        for join in &result.joins {
            prop_assert!(volts_in(&join.message).iter().all(|v| *v <= cell.full_v() + 1e-9), "{}", join.message);
        }
        for pack in &result.packs {
            let mut means = Vec::new();
            for (n, group) in pack.groups.iter().enumerate().filter(|(_, group)| !group.is_empty()) {
                let each: Vec<f64> = group.iter().map(|id| volts_of(id)).collect();
                prop_assert!(each.iter().all(|v| *v <= cell.ceiling_v(25.0) + 0.021), "above full and used: {each:?}");
                let apart = each.iter().copied().fold(0.0, f64::max) - each.iter().copied().fold(9.0, f64::min);
                let said = result.joins.iter().find(|join| !join.in_series && join.group as usize == n + 1);
                let grave = said.map(|join| join.severity);
                if apart > 0.1001 { prop_assert_eq!(grave, Some(Severity::Stop)); }
                if apart > 0.0501 && apart < 0.0999 { prop_assert_eq!(grave, Some(Severity::Caution)); }
                let ah: Vec<f64> = group.iter().map(|id| of(id, "capacity_ah")).collect();
                means.push(each.iter().zip(&ah).map(|(v, ah)| v * ah).sum::<f64>() / ah.iter().sum::<f64>());
            }
            let apart = means.iter().copied().fold(0.0, f64::max) - means.iter().copied().fold(9.0, f64::min);
            let said = result.joins.iter().find(|join| join.in_series).map(|join| join.severity);
            if means.len() > 1 && apart > 0.1001 { prop_assert_eq!(said, Some(Severity::Stop), "{}", apart); }
        }
    }

    #[test]
    fn what_would_help_offers_no_more_than_the_pack_may_be_given(
        pack in packs(),
        amps in 0.1f64..20.0,
        charger in prop::sample::select(vec!["none", "hobby", "smart"]),
        board in prop::option::weighted(0.3, 0.5f64..20.0),
    ) {
        let mut document = pack.document();
        document["temperature_c"] = json!(pack.temperature_c);
        document["start"] = json!({"soc": 0.3});
        if let Some(board) = board {
            document["bms"] = json!({"max_charge_a": board});
        }
        let mut plan = json!({"format": "rumek.plan/1", "pack": document, "ambient_c": pack.ambient_c,
            "source": {"kind": "bench_supply", "max_voltage_v": 500, "max_current_a": amps}});
        match charger {
            "hobby" => plan["charger"] = json!({"kind": "hobby_charger", "output_max_a": amps, "output_max_w": 30.0 * amps}),
            "smart" => {
                plan["source"] = json!({"kind": "mains"});
                plan["charger"] = json!({"kind": "smart_charger", "output_max_a": amps});
            }
            _ => {}
        }
        let result = answer(&from_value::<PlanDoc>(&plan).unwrap()).unwrap();
        // What a supply that gives anything would be set to.
        let mut free = plan.clone();
        free["source"] = json!({"kind": "bench_supply", "max_voltage_v": 1000, "max_current_a": 10_000});
        free["charger"] = Value::Null;
        free.as_object_mut().unwrap().remove("charger");
        let most = answer(&from_value::<PlanDoc>(&free).unwrap()).unwrap();
        let most_a = most.settings.as_ref().map_or(0.0, |settings| settings.current_a);
        let full_v = figures(pack.chemistry).ceiling_v(pack.temperature_c) * f64::from(pack.series);
        for offer in result.what_if.iter().filter(|offer| offer.advised && offer.message.starts_with("A charger of")) {
            // Two digits, rounded up: a size that can be bought.
            let told_a: f64 = offer.message.split_whitespace().nth(3).unwrap().parse().unwrap();
            let has_a = result.settings.as_ref().map_or(0.0, |settings| settings.current_a);
            prop_assert!(told_a <= (1.12 * most_a.max(has_a)).max(0.02) || offer.size.is_some(), "{} where {most_a} A may", offer.message);
        }
        let ask = json!({"plan": plan, "done_in_min": 30});
        let sized = size(&from_value::<SizingAskDoc>(&ask).unwrap()).unwrap();
        if let Some(done) = sized.done_in.filter(|done| done.possible) {
            prop_assert!(done.charger_a.unwrap() <= most_a * 1.01 + 0.02, "{} where {most_a} A may", done.message);
            prop_assert!(done.charger_w.unwrap() <= most_a * full_v * 1.2 + 1.0, "{}", done.message);
        }
    }

    #[test]
    fn the_shelf_tops_up_nothing_that_a_plan_refuses(pack in packs()) {
        let mut record = json!({"format": "rumek.record/1", "kind": "rest", "at": "2026-11-18T12:00:00Z"});
        if pack.read {
            record["cell_voltages_v"] = json!(pack.cells.iter().map(|v| v.clamp(0.0, 5.0)).collect::<Vec<_>>());
        } else {
            record["voltage_v"] = json!(pack.sum_v());
        }
        let ask = json!({"pack": pack.document(), "now": "2026-11-25T12:00:00Z", "records": [record]});
        let told = standing(&from_value::<StandingAskDoc>(&ask).unwrap()).unwrap();
        let plan = Pack { temperature_c: 22.0, ambient_c: 20.0, ..pack.clone() }.plan();
        let stop = plan.checks.iter().find(|check| {
            check.severity == Severity::Stop && !matches!(check.code.code(), "pack.lethal_voltage" | "pack.start_unknown")
        });
        let kindly = matches!(told.need.code.code(), "nothing" | "storage" | "top_up" | "test");
        if let Some(stop) = stop {
            prop_assert!(!kindly, "{:?} where a plan says {}", told.need, stop.message);
        }
    }
}

proptest! {
    #![proptest_config(crate::kept(10_000, file!()))]

    #[test]
    fn every_stop_says_what_lifts_it_and_is_lifted_by_it(pack in packs(), amps in prop::option::weighted(0.4, 0.1f64..40.0)) {
        let mut plan = pack.plan_value();
        if let Some(amps) = amps {
            plan["settings"] = json!({"current_a": amps});
        }
        let asked = |plan: &Value| answer(&from_value::<PlanDoc>(plan).unwrap()).unwrap();
        let result = asked(&plan);
        for stop in result.checks.iter().filter(|check| check.severity == Severity::Stop) {
            prop_assert!(!stop.lifts.is_empty(), "{}: {}", stop.code.code(), stop.message);
            for lift in &stop.lifts {
                let (Some(pointer), Some(value)) = (&lift.pointer, lift.value) else { continue };
                let mut done = plan.clone();
                let (holder, field) = pointer.rsplit_once('/').unwrap();
                let holder = if holder.is_empty() { &mut done } else { done.pointer_mut(holder).unwrap() };
                holder[field] = if field == "series" { json!(value as u32) } else { json!(value) };
                // Cells that were read one by one are as many as there are.
                if pointer == "/pack/series" {
                    done["pack"]["start"] = json!({"rest_voltage_v": pack.sum_v()});
                }
                let after = asked(&done);
                let still = after.checks.iter().find(|check| check.severity == Severity::Stop && check.code == stop.code);
                prop_assert!(still.is_none(), "{}: {} does not lift {}, then {}", stop.code.code(), lift.does, stop.message, still.unwrap().message);
            }
        }
    }

    #[test]
    fn each_charge_has_exactly_one_end_and_one_break_off(pack in packs()) {
        let result = pack.plan();
        if result.settings.is_some() {
            let count = |code: &str| result.steps.iter().filter(|step| step.code == code).count();
            prop_assert_eq!((count("end"), count("abort")), (1, 1), "{:?}", result.steps);
            // Nothing is broken off at a warmth it begins with.
            let abort = result.steps.iter().find(|step| step.code == "abort").unwrap();
            prop_assert!(abort.values["temperature_c"] > pack.temperature_c, "{}", abort.message);
        }
    }
}

/// The pack that every room is asked about: large, deep, its cells read.
#[test]
fn a_large_deep_pack_gets_the_same_answer_in_every_room() {
    let pack = Pack {
        chemistry: "lfp",
        series: 16,
        ah: 280.0,
        cells: vec![2.2; 16],
        read: true,
        temperature_c: 20.0,
        ambient_c: 20.0,
        label_c: None,
        mark: None,
    };
    let plan = pack.plan();
    assert!(plan.settings.is_none());
    let stops =
        |code: &str| plan.checks.iter().any(|check| check.code.code() == code && check.severity == Severity::Stop);
    assert!(stops("pack.deeply_discharged"), "{:?}", plan.checks);

    let preflight = rumek_core::preflight(&from_value(&json!({ "plan": pack.plan_value() })).unwrap());
    assert!(preflight.unwrap_err().to_string().contains("2.2 V"), "Run begins nothing that a plan stops");

    let test = json!({ "format": "rumek.test/1", "pack": pack.plan_value()["pack"], "after": "none",
        "discharge": { "by": "electronic_load", "current_a": 56 } });
    let test = rumek_core::plan_test(&from_value(&test).unwrap());
    let stopped = test.map_or(true, |test| test.checks.iter().any(|check| check.severity == Severity::Stop));
    assert!(stopped, "no test runs a deep pack down further");

    let record = json!({ "format": "rumek.record/1", "kind": "rest", "at": "2026-06-09T12:00:00Z",
        "voltage_v": pack.sum_v(), "cell_voltages_v": pack.cells });
    let asked = json!({ "pack": pack.document(), "now": "2026-06-10T12:00:00Z", "records": [record] });
    let need = standing(&from_value::<StandingAskDoc>(&asked).unwrap()).unwrap().need;
    assert!(matches!(need.code.code(), "rescue" | "look_at"), "{need:?}");

    let cell = |n: usize| json!({ "id": format!("c{n}"), "capacity_ah": 280.0, "voltage_v": 2.2 });
    let asked = json!({ "format": "rumek.match/1", "chemistry": "lfp", "cells": [cell(0), cell(1)],
        "packs": [{ "name": "p", "series": 1, "parallel": 2 }] });
    let matched = match_cells(&from_value::<MatchDoc>(&asked).unwrap()).unwrap();
    assert_eq!(matched.unfit.len(), 2, "{matched:?}");

    let rescued =
        pack.rescue(json!({ "source": { "kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 100 } }));
    assert_eq!(rescued.verdict, Verdict::Precharge, "{:?}", rescued.reasons);
    let gentle_a =
        rescued.stages.iter().find(|stage| stage.kind == RescueStageKind::Precharge).unwrap().current_a.unwrap();
    assert!(gentle_a <= 0.05 * 280.0 + 1e-9, "{gentle_a} A");
}
