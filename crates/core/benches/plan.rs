//! How long a charge and a whole plan take on one core.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use criterion::{Criterion, criterion_group, criterion_main};
use rumek_core::formats::{PlanDoc, RescueDoc, RunAskDoc, RunReadingDoc, SizingAskDoc, from_value};
use rumek_core::{answer, quick_line, rescue, size, understand};
use serde_json::{Value, json};
use std::hint::black_box;

fn plan(pack: Value, source: Value) -> PlanDoc {
    chain(json!({ "pack": pack, "source": source }))
}

fn chain(mut value: Value) -> PlanDoc {
    value["format"] = json!("rumek.plan/1");
    from_value(&value).expect("the bench's own plan reads")
}

/// Whole chains, each with what costs most to compute.
fn chains() -> Vec<(&'static str, PlanDoc)> {
    let glider = json!({ "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "balance_lead" });
    let battery = json!({ "chemistry": "lead_agm", "series": 6, "capacity_ah": 33, "start": { "soc": 0.3 } });
    let lead = json!({ "awg": 14, "length_m": 1, "fuse_a": 15 });
    let charger = json!({ "kind": "hobby_charger", "output_max_a": 8, "output_max_w": 120, "input_max_a": 12, "input_min_v": 11 });
    vec![
        (
            "charger on a brick, leads, load",
            chain(json!({ "pack": glider, "practice": "hurry", "charger": charger, "load": { "power_w": 10 },
            "source": { "kind": "fixed_supply", "voltage_v": 19, "max_power_w": 90 }, "leads": { "input": lead, "output": lead } })),
        ),
        (
            "charger on a field battery",
            chain(json!({ "pack": glider, "charger": charger, "leads": { "input": lead },
            "source": { "kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 60 } })),
        ),
        (
            "lamp",
            chain(json!({ "pack": battery, "charger": { "kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 50 },
            "source": { "kind": "fixed_supply", "voltage_v": 14.6, "max_current_a": 10 } })),
        ),
        (
            "turned up by hand every half hour",
            chain(json!({ "pack": battery, "visit_every_min": 30, "cut_off": { "low_v": 13, "high_v": 14.6 },
            "source": { "kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 15, "max_current_a": 10 } })),
        ),
    ]
}

fn plans() -> Vec<(&'static str, PlanDoc)> {
    let bench = json!({ "kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 10, "max_power_w": 80 });
    vec![
        ("lipo", plan(json!({ "chemistry": "lipo", "series": 6, "capacity_ah": 4 }), bench.clone())),
        ("li_ion", plan(json!({ "chemistry": "li_ion", "series": 5, "capacity_ah": 4 }), bench.clone())),
        ("lfp", plan(json!({ "chemistry": "lfp", "series": 4, "capacity_ah": 20 }), bench.clone())),
        ("lead_agm", plan(json!({ "chemistry": "lead_agm", "series": 6, "capacity_ah": 7 }), bench.clone())),
        ("nimh", plan(json!({ "chemistry": "nimh", "series": 8, "capacity_ah": 2 }), bench.clone())),
        ("supercap", plan(json!({ "chemistry": "supercap", "series": 6, "capacitance_f": 350 }), bench)),
    ]
}

fn whole_plans(c: &mut Criterion) {
    let mut group = c.benchmark_group("plan (bounds, what-ifs, checks)");
    for (name, plan) in plans().into_iter().chain(chains()) {
        group.bench_function(name, |b| b.iter(|| answer(black_box(&plan)).expect("it answers")));
    }
    group.finish();
}

fn one_charge(c: &mut Criterion) {
    let mut group = c.benchmark_group("charge");
    for (name, plan) in plans().into_iter().chain(chains()) {
        let charge = rumek_core::prepared(&plan).expect("it resolves");
        group.bench_function(name, |b| b.iter(|| black_box(&charge).simulate()));
    }
    group.finish();
}

fn sizes(c: &mut Criterion) {
    let plan = chains().swap_remove(0).1;
    let ask = SizingAskDoc { plan: Some(plan), done_in_min: Some(45.0), length_m: None };
    c.bench_function("sizing", |b| b.iter(|| size(black_box(&ask)).expect("it answers")));
}

fn lines(c: &mut Criterion) {
    for (name, line) in [
        ("line with all said", "6S 4000 lipo, 30 V 5 A bench"),
        ("line with its kind left out", "36V e-bike battery 10Ah, its 42V 2A charger"),
        ("line that is asked", "12V 100Ah leisure battery, bench 15V 20A"),
        ("line with a reading open", "6S 3Ah li-ion 9.8 V, 30 V 5 A bench"),
    ] {
        c.bench_function(name, |b| b.iter(|| quick_line::say(black_box(line))));
    }
    c.bench_function("quick line", |b| b.iter(|| quick_line::read(black_box("6S 4000 lipo, 30 V 5 A bench"))));
}

/// A low pack with the gear there is, and with a shelf of others to choose from.
fn rescues(c: &mut Criterion) {
    let found = json!({ "terminal_v": 10.8, "cell_voltages_v": [2.7, 2.7, 2.7, 2.7], "bms": "absent", "low_for": "hours",
        "signs": ["none"], "temperature_c": 21 });
    let lipo = json!({ "format": "rumek.rescue/1", "pack": { "chemistry": "lipo", "series": 4, "capacity_ah": 4 },
        "found": found, "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 } });
    let lead = json!({ "format": "rumek.rescue/1", "pack": { "chemistry": "lead_agm", "series": 6, "capacity_ah": 7 },
        "found": { "terminal_v": 9.2, "bms": "absent", "low_for": "days", "signs": ["none"], "temperature_c": 20 },
        "source": { "kind": "fixed_supply", "voltage_v": 13.8, "max_current_a": 10 },
        "at_hand": {
            "sources": [{ "kind": "wall_adapter", "voltage_v": 9, "max_current_a": 0.2 },
                { "kind": "fixed_supply", "voltage_v": 19, "max_current_a": 4.7 },
                { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }],
            "chargers": [{ "kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 5 }] } });
    let mut group = c.benchmark_group("rescue");
    for (name, value) in [("lipo on a bench supply", lipo), ("lead and what is at hand", lead)] {
        let doc: RescueDoc = from_value(&value).expect("it reads");
        group.bench_function(name, |b| b.iter(|| rescue(black_box(&doc)).expect("it answers")));
    }
    group.finish();
}

fn understood(c: &mut Criterion) {
    let plan = plans().swap_remove(0).1;
    let total_s = answer(&plan).expect("it answers").time.total_s.unwrap_or(3600.0);
    let curve = answer(&plan).expect("it answers").curve;
    let at = |t_s: f64| curve.iter().find(|p| p.t_s >= t_s).map_or((0.0, 0.0), |p| (p.pack_v, p.current_a));
    let readings = (1..=200)
        .map(|n| {
            let t_s = 0.9 * total_s * f64::from(n) / 200.0;
            let (v, a) = at(t_s);
            RunReadingDoc { t_s: Some(t_s), terminal_v: Some(v * 1.002), source_a: Some(a), ..RunReadingDoc::default() }
        })
        .collect();
    let ask = RunAskDoc { plan: Some(plan), now_s: None, readings: Some(readings), ..RunAskDoc::default() };
    c.bench_function("200 readings understood, the pack refitted", |b| {
        b.iter(|| understand(black_box(&ask)).expect("it answers"));
    });
}

criterion_group!(benches, one_charge, whole_plans, sizes, lines, understood, rescues);
criterion_main!(benches);
