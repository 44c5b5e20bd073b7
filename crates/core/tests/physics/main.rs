//! The charge model held against an independent physics reference.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

mod single_particle;

use rumek_core::formats::from_value;
use rumek_core::{answer, formats::PlanDoc};
use serde_json::json;
use single_particle::{Bench, Cell, cells};

/// What the cell holds between empty and full, by a charge slow enough to have no overpotential.
fn capacity_ah(cell: Cell) -> f64 {
    let mut bench = Bench::rested(cell, 0.0);
    bench.charge(0.05, None, cell.full_v, 0.01);
    bench.ah
}

struct Case {
    label: String,
    physics_s: f64,
    model_s: f64,
    /// To the charge voltage, s, by both.
    to_cv_s: (f64, f64),
}

impl Case {
    fn miss(&self) -> f64 {
        (self.model_s / self.physics_s - 1.0).abs()
    }
}

fn case(cell: Cell, rate: f64, from: f64, power: Option<f64>, resistance: bool) -> Case {
    let ah = capacity_ah(cell);
    let mut bench = Bench::rested(cell, from * ah);
    let physics_s = bench.charge(rate, power, cell.full_v, 0.1);
    let mut plan = json!({
        "format": "rumek.plan/1",
        "pack": { "chemistry": cell.chemistry, "series": 1, "capacity_ah": ah, "rated_c_rate": 10,
                  "temperature_c": 25, "start": { "soc": from } },
        "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 50 },
        "settings": { "voltage_v": cell.full_v, "current_a": rate, "stop_current_a": 0.1 }
    });
    if resistance {
        plan["pack"]["resistance_mohm"] = json!(cell.ten_second_ohm() * 1e3);
    }
    if let Some(w) = power {
        plan["source"]["max_power_w"] = json!(w);
    }
    let plan: PlanDoc = from_value(&plan).unwrap();
    let result = answer(&plan).unwrap();
    let model_s = result.time.total_s.unwrap_or(result.end.after_s);
    Case {
        label: format!("{} {rate}C from {from} {power:?} R {:.0}", cell.name, cell.ten_second_ohm() * 1e3),
        physics_s,
        model_s,
        to_cv_s: (bench.cv_s.unwrap_or(physics_s), result.time.to_cv_s.unwrap_or(model_s)),
    }
}

/// Median and worst miss of a set, printed case by case.
fn judge(title: &str, cases: &[Case]) -> (f64, f64) {
    let mut misses: Vec<f64> = cases.iter().map(Case::miss).collect();
    misses.sort_by(f64::total_cmp);
    let (median, worst) = (misses[misses.len() / 2], misses[misses.len() - 1]);
    println!("{title}: median {:.1} %, worst {:.1} %", median * 100.0, worst * 100.0);
    for c in cases {
        println!("  {:+6.1} %  {:6.0} s  {}", (c.model_s / c.physics_s - 1.0) * 100.0, c.physics_s, c.label);
    }
    (median, worst)
}

/// The same of the time to the charge voltage.
fn judge_to_cv(title: &str, cases: &[Case]) -> (f64, f64) {
    let mut misses: Vec<f64> = cases.iter().map(|c| (c.to_cv_s.1 / c.to_cv_s.0 - 1.0).abs()).collect();
    misses.sort_by(f64::total_cmp);
    let (median, worst) = (misses[misses.len() / 2], misses[misses.len() - 1]);
    println!("{title}: median {:.1} %, worst {:.1} %", median * 100.0, worst * 100.0);
    for c in cases {
        println!("  {:+6.1} %  {:6.0} s  {}", (c.to_cv_s.1 / c.to_cv_s.0 - 1.0) * 100.0, c.to_cv_s.0, c.label);
    }
    (median, worst)
}

#[test]
fn the_charge_voltage_is_reached_when_it_is_said() {
    let (median, worst) = judge_to_cv("to CV, 0.3C to 1C", &grid(&[0.3, 0.5, 1.0], &[0.1, 0.3, 0.5], true));
    let (fast_median, fast_worst) = judge_to_cv("to CV, 2C", &grid(&[2.0], &[0.1, 0.3, 0.5], true));
    assert!(median <= 0.015 && worst <= 0.12, "{median} {worst}");
    assert!(fast_median <= 0.06 && fast_worst <= 0.28, "{fast_median} {fast_worst}");
}

fn grid(rates: &[f64], starts: &[f64], resistance: bool) -> Vec<Case> {
    let mut out = Vec::new();
    for cell in cells() {
        for &rate in rates {
            for &from in starts {
                out.push(case(cell, rate, from, None, resistance));
            }
        }
    }
    out
}

#[test]
fn moderate_rates_agree_within_three_per_cent() {
    let (median, worst) = judge("0.3C to 1C", &grid(&[0.3, 0.5, 1.0], &[0.1, 0.3, 0.5], true));
    assert!(median <= 0.007 && worst <= 0.08);
}

#[test]
fn two_c_agrees_within_eight_per_cent() {
    let (median, worst) = judge("2C", &grid(&[2.0], &[0.1, 0.3, 0.5], true));
    assert!(median <= 0.03 && worst <= 0.12);
}

#[test]
fn a_power_limit_agrees_too() {
    let cases: Vec<Case> = cells()
        .into_iter()
        .flat_map(|cell| [0.4, 0.8].map(|c| case(cell, 2.0, 0.2, Some(c * cell.full_v * 0.9), true)))
        .collect();
    let (median, worst) = judge("constant power", &cases);
    assert!(median <= 0.02 && worst <= 0.05);
}

/// A thick pouch cell is none that a pack for flight is made of: its resistance has to be said.
#[test]
fn default_resistance_stays_within_ten_per_cent() {
    let mut cases = grid(&[0.3, 0.5, 1.0], &[0.1, 0.3], false);
    cases.retain(|case| !case.label.starts_with("cobalt thick pouch"));
    let (_, worst) = judge("default resistance", &cases);
    assert!(worst <= 0.10);
}
