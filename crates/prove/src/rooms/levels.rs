//! Cells brought to one level before they are joined, as they are told to be.

use fastrand::Rng;
use rumek_core::codes::Place;
use rumek_core::formats::{JoinDoc, LevelDoc, MatchDoc, PlanDoc, from_value};
use rumek_core::{CellFigures, match_cells};
use rumek_rig::circuit::Circuit;
use rumek_rig::parts::{Cell, Cells, Kind as Part};
use rumek_rig::{Bench, Truth};
use serde_json::{Value, json};

use super::found::{figures, shown};
use super::told::Told;

/// The kind of case.
pub(super) const LEVEL: &str = "cells brought level";
/// Level within this after an hour's rest, a cell may be joined to the others, V.
const LEVELLED_V: f64 = 0.05;
/// Two that were joined are level within this, V.
const SETTLED_V: f64 = 0.015;
/// Somebody who levels a cell stops when so little flows, C.
const TAPERED_C: f64 = 0.02;

const KINDS: [(&str, (f64, f64)); 5] = [
    ("lipo", (0.5, 6.0)),
    ("li_ion", (1.5, 5.0)),
    ("lfp", (1.5, 100.0)),
    ("lto", (2.0, 30.0)),
    ("sodium_ion", (1.5, 50.0)),
];

/// A table of cells, each of them standing somewhere.
pub(super) fn levelled(rng: &mut Rng) -> Option<Told> {
    let (chemistry, (least_ah, most_ah)) = KINDS[rng.usize(..KINDS.len())];
    let figures = figures(&json!(chemistry))?;
    let ah = shown(least_ah * (most_ah / least_ah).powf(rng.f64()));
    let (series, parallel) = ([1, 2, 3, 4][rng.usize(..4)], [1, 2, 3][rng.usize(..3)]);
    let spread = 0.03 + 0.7 * rng.f64().powi(2);
    let middle = 0.25 + 0.6 * rng.f64();
    let cells: Vec<(f64, f64, f64)> = (0..series * parallel)
        .map(|_| {
            let own_ah = ah * (0.95 + 0.1 * rng.f64());
            let soc = (middle + spread * (rng.f64() - 0.5)).clamp(0.02, 1.0);
            (own_ah, figures.ohm_ah() / own_ah * (0.9 + 0.3 * rng.f64()), soc)
        })
        .collect();
    let table: Vec<Value> = cells
        .iter()
        .enumerate()
        .map(|(n, (ah, ohm, soc))| {
            let volts = (figures.rest_v(*soc).0 * 1000.0).round() / 1000.0;
            json!({ "id": format!("c{n}"), "capacity_ah": shown(*ah), "resistance_mohm": (1e5 * ohm).round() / 100.0, "voltage_v": volts })
        })
        .collect();
    let asked = json!({ "format": "rumek.match/1", "chemistry": chemistry, "cells": table,
        "packs": [{ "name": "p", "series": series, "parallel": parallel }] });
    let matched = match_cells(&from_value::<MatchDoc>(&asked).ok()?).ok()?;
    let mut out = Told { kind: LEVEL, asked: asked.to_string(), ..Told::default() };
    for join in &matched.joins {
        let number = |id: &String| id.strip_prefix('c').and_then(|n| n.parse::<usize>().ok());
        let order: Vec<(f64, f64, f64)> =
            join.order.iter().filter_map(number).filter_map(|n| cells.get(n).copied()).collect();
        match (join.level, join.settles_s) {
            (Some(level), _) => charge_the_low_ones(figures, chemistry, &order, level, &mut out),
            (None, Some(settles_s)) => join_them(figures, &order, join, settles_s, &mut out),
            (None, None) => Some(()),
        };
    }
    Some(out)
}

/// Each low one alone on a bench supply, to the volts told; then it rests an hour.
fn charge_the_low_ones(
    figures: CellFigures,
    chemistry: &str,
    order: &[(f64, f64, f64)],
    level: LevelDoc,
    out: &mut Told,
) -> Option<()> {
    let (ah, ohm, soc) = *order.first()?;
    if figures.rest_v(soc).0 >= level.to_v {
        return None;
    }
    out.told = true;
    // Groups that are put in series are charged as they are: cells side by side.
    let plan: PlanDoc = from_value(&json!({ "format": "rumek.plan/1",
        "pack": { "chemistry": chemistry, "series": 1, "capacity_ah": ah, "resistance_mohm": 1e3 * ohm, "temperature_c": 20 },
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 100, "overload": "constant_current" } }))
    .ok()?;
    let mut bench = Bench::of(&plan, soc, &Truth::AS_TOLD)?;
    bench.turn_volts(Place::Source, level.to_v);
    bench.turn_amps(Place::Source, level.current_a.min(ah * figures.refused_above_c_rate()));
    bench.switch(true);
    bench.step(1.0);
    while bench.pack_a() > TAPERED_C * ah && bench.t_s() < 5.0 * 86_400.0 {
        bench.step(30.0);
    }
    bench.switch(false);
    let rested_s = bench.t_s() + 3600.0;
    while bench.t_s() < rested_s - 0.01 {
        bench.step(rested_s - bench.t_s());
    }
    let apart_v = level.to_v - bench.pack_v();
    out.timed += 1;
    if apart_v.abs() <= LEVELLED_V {
        out.inside += 1;
    } else {
        out.outside.push(format!("an hour later it stands {apart_v:.3} V below {:.3} V", level.to_v));
    }
    out.passed.extend(bench.passings().lasting().filter(|one| one.at == Place::Pack).map(crate::proof::told));
    if level.to_v > figures.full_v() + 1e-9 {
        out.passed.push(format!("told to {:.3} V, above full", level.to_v));
    }
    Some(())
}

/// The lowest and the highest side by side.
fn join_them(
    figures: CellFigures,
    order: &[(f64, f64, f64)],
    join: &JoinDoc,
    settles_s: f64,
    out: &mut Told,
) -> Option<()> {
    let (low, high) = (order.first()?, order.last()?);
    out.told = true;
    let mut circuit = Circuit::default();
    let plus = circuit.node(figures.rest_v(high.2).0);
    let parts = [low, high].map(|(ah, ohm, soc)| {
        let cells = Cells::rested(figures, vec![Cell::rested(ah * 3600.0, *ohm, *soc, 0.0)], 20.0);
        circuit.add(Place::Pack, Part::Cells(Box::new(cells)), plus, 0)
    });
    circuit.start();
    circuit.settle();
    let first_a = circuit.parts()[parts[0]].current_a;
    if join.inrush_a.is_some_and(|told_a| first_a > 1.5 * told_a) || first_a > low.0.min(high.0) * 1.5 {
        out.passed.push(format!("{first_a:.2} A flowed at the first touch, told {:?}", join.inrush_a));
    }
    while circuit.t_s() < settles_s - 0.01 {
        circuit.step(settles_s - circuit.t_s());
    }
    let rests = parts.map(|number| match &circuit.parts()[number].kind {
        Part::Cells(cells) => cells.rest_v(),
        _ => 0.0,
    });
    let apart_v = (rests[0] - rests[1]).abs();
    out.timed += 1;
    if apart_v <= SETTLED_V {
        out.inside += 1;
    } else {
        out.outside.push(format!("{apart_v:.3} V apart after {:.1} h", settles_s / 3600.0));
    }
    Some(())
}
