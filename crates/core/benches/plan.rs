//! How long a charge and a whole plan take on one core.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic, missing_docs)]

use criterion::{Criterion, criterion_group, criterion_main};
use rumek_core::document::{PlanDoc, from_value};
use rumek_core::{answer, quick_line};
use serde_json::{Value, json};
use std::hint::black_box;

fn plan(pack: Value, source: Value) -> PlanDoc {
    let value = json!({ "format": "rumek.plan/1", "pack": pack, "source": source });
    from_value(&value).expect("the bench's own plan reads")
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
    for (name, plan) in plans() {
        group.bench_function(name, |b| b.iter(|| answer(black_box(&plan)).expect("it answers")));
    }
    group.finish();
}

fn one_charge(c: &mut Criterion) {
    let mut group = c.benchmark_group("charge");
    for (name, plan) in plans() {
        let charge = rumek_core::answer::prepared(&plan).expect("it resolves");
        group.bench_function(name, |b| b.iter(|| black_box(&charge).simulate()));
    }
    group.finish();
}

fn lines(c: &mut Criterion) {
    c.bench_function("quick line", |b| b.iter(|| quick_line::read(black_box("6S 4000 lipo, 30 V 5 A bench"))));
}

criterion_group!(benches, one_charge, whole_plans, lines);
criterion_main!(benches);
