//! The shelf by itself: a pack's standing, five hundred cells put together, a log of a week read as a history.

#![allow(clippy::unwrap_used, missing_docs)]

use criterion::{Criterion, criterion_group, criterion_main};
use rumek_core::formats::{LogMappingDoc, MatchDoc, RunReadingDoc, StandingAskDoc, from_value};
use rumek_core::{LogHistory, match_cells, standing};
use serde_json::{Value, json};
use std::hint::black_box;

fn ask() -> StandingAskDoc {
    let records: Vec<Value> = (0..60)
        .map(|n| {
            let at = format!("20{}-{:02}-15T10:00:00Z", 22 + n / 12, 1 + n % 12);
            if n % 5 == 0 {
                json!({ "format": "rumek.record/1", "kind": "test", "at": at, "capacity_ah": 4.0 - 0.01 * f64::from(n),
                    "current_a": 2.0, "temperature_c": 18, "resistance_mohm": 20.0 + 0.2 * f64::from(n) })
            } else {
                json!({ "format": "rumek.record/1", "kind": "charge", "at": at, "charge_ah": 3.0, "end_soc": 1.0 })
            }
        })
        .collect();
    let pack = json!({ "chemistry": "lipo", "series": 6, "capacity_ah": 4 });
    from_value(&json!({ "pack": pack, "records": records, "now": "2026-12-20T10:00:00Z" })).unwrap()
}

fn cells() -> MatchDoc {
    let cells: Vec<Value> = (0..500)
        .map(|n: u32| json!({ "id": format!("c{n}"), "capacity_ah": 2.4 + f64::from(n * 7919 % 800) / 1000.0 }))
        .collect();
    let packs: Vec<Value> = (0..5).map(|n| json!({ "name": format!("p{n}"), "series": 10, "parallel": 10 })).collect();
    from_value(&json!({ "format": "rumek.match/1", "cells": cells, "packs": packs })).unwrap()
}

fn shelf(c: &mut Criterion) {
    let asked = ask();
    c.bench_function("standing of sixty records", |b| b.iter(|| standing(black_box(&asked)).unwrap()));
    let put = cells();
    let mut slow = c.benchmark_group("slow");
    slow.sample_size(10);
    slow.bench_function("five hundred cells put together", |b| b.iter(|| match_cells(black_box(&put)).unwrap()));
    let lines: Vec<RunReadingDoc> = (0..600_000)
        .map(|n| {
            let hour = n / 3600 % 6;
            let amps = [0.0, 2.0, 2.0, 0.0, -2.0, -2.0][hour];
            let volts = 22.0
                + if amps > 0.0 {
                    f64::from(n as u32 % 7200) / 3600.0
                } else {
                    2.0 - f64::from(n as u32 % 7200) / 3600.0
                };
            RunReadingDoc { terminal_v: Some(volts), terminal_a: Some(amps), ..RunReadingDoc::default() }
        })
        .collect();
    slow.bench_function("a week of seconds read as a history", |b| {
        b.iter(|| {
            let mut history = LogHistory::new(None).unwrap();
            lines.iter().enumerate().for_each(|(n, line)| history.push(n as f64, line));
            history.finish(LogMappingDoc::default(), None)
        });
    });
    slow.finish();
}

criterion_group!(benches, shelf);
criterion_main!(benches);
