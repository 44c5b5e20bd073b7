//! The pack as its readings make it out to be: start, resistance and capacity refitted by weighted
//! least squares around what was believed before, wrong readings losing their weight.
//!
//! Gauss–Newton on three bounded unknowns with a prior each; weights after Cauchy's distribution,
//! `1 / (1 + (r/2)²)`, so that a reading ten deviations off counts a few per cent; where most are far
//! off, `r` is counted in what is usual among them.

use super::course::{Drive, Look, follow};
use crate::formats::FittedDoc;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::physics::charge::{Model, Scale};
use crate::units::{in_amp_hours, in_ohms};

const ROUNDS: usize = 8;
/// Errors of curve and meter go along with each other: more readings than these tell no more.
const INDEPENDENT: f64 = 8.0;
const LOWEST: [f64; 3] = [0.0, -1.2, -0.9];
const HIGHEST: [f64; 3] = [1.0, 1.8, 0.25];
/// The deviation of what is spread evenly about nothing, over the median of its amounts.
const USUAL_OFF: f64 = 1.5;
/// So many readings speak for each other.
const MANY: usize = 5;
/// Steps for the slopes.
const STEPS: [f64; 3] = [1e-3, 1e-2, 1e-2];

/// Start of charge, and factors on resistance and capacity as logarithms, with their deviations.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Fitted {
    pub(crate) values: [f64; 3],
    pub(crate) deviations: [f64; 3],
    pub(crate) learned: f64,
    pub(crate) readings: usize,
}

impl Fitted {
    /// What was believed before any reading.
    pub(crate) fn believed(plan: &Plan, found: &Identified) -> Self {
        // A resistance that was measured once may be years old.
        let resistance = if plan.pack.resistance_given { 0.22 } else { 0.5 };
        let start = ((found.high - found.low) / 4.0).max(0.01);
        Self { values: [found.soc, 0.0, 0.0], deviations: [start, resistance, 0.06], learned: 0.0, readings: 0 }
    }

    pub(crate) fn scale(&self) -> Scale {
        Scale { resistance: self.values[1].exp(), capacity: self.values[2].exp(), ..Scale::NOMINAL }
    }

    /// Whether an unknown came out at a bound: the readings want more than any such pack gives.
    pub(crate) fn at_bounds(&self) -> bool {
        /// This near to a bound is at it.
        const NEAR: f64 = 1e-3;
        (1..3).any(|k| self.values[k] <= LOWEST[k] + NEAR || self.values[k] >= HIGHEST[k] - NEAR)
    }

    /// One unknown moved by some deviations, within its bounds.
    pub(crate) fn moved(&self, which: usize, deviations: f64) -> Self {
        let mut other = *self;
        let value = self.values[which] + deviations * self.deviations[which];
        other.values[which] = value.clamp(LOWEST[which], HIGHEST[which]);
        other
    }

    /// It as it is told.
    pub(crate) fn told(&self, plan: &Plan) -> FittedDoc {
        let (resistance_mohm, capacity_ah) = self.figures(plan);
        FittedDoc {
            start_soc: self.values[0],
            start_soc_sd: self.deviations[0],
            resistance_mohm,
            resistance_sd_mohm: resistance_mohm * self.deviations[1],
            capacity_ah,
            capacity_sd_ah: capacity_ah * self.deviations[2],
            learned: self.learned,
            readings: self.readings as u32,
        }
    }

    /// 10 s resistance, mΩ, and usable capacity, Ah.
    pub(crate) fn figures(&self, plan: &Plan) -> (f64, f64) {
        let scale = self.scale();
        (in_ohms(plan.pack.resistance) * 1e3 * scale.resistance, in_amp_hours(plan.pack.capacity) * scale.capacity)
    }
}

/// A symmetric 3 × 3 matrix inverted; `None` where it cannot be.
fn inverted(m: [[f64; 3]; 3]) -> Option<[[f64; 3]; 3]> {
    let minor = |r: usize, c: usize| {
        let (r1, r2) = ((r + 1) % 3, (r + 2) % 3);
        let (c1, c2) = ((c + 1) % 3, (c + 2) % 3);
        m[r1][c1] * m[r2][c2] - m[r1][c2] * m[r2][c1]
    };
    let determinant: f64 = (0..3).map(|c| m[0][c] * minor(0, c)).sum();
    if determinant.abs() < 1e-30 {
        return None;
    }
    let mut inverse = [[0.0; 3]; 3];
    for (r, row) in inverse.iter_mut().enumerate() {
        for (c, value) in row.iter_mut().enumerate() {
            *value = minor(c, r) / determinant;
        }
    }
    Some(inverse)
}

/// The middle one of some amounts, signs aside.
fn median(values: &[f64]) -> f64 {
    let mut amounts: Vec<f64> = values.iter().map(|value| value.abs()).collect();
    amounts.sort_by(f64::total_cmp);
    amounts.get(amounts.len() / 2).copied().unwrap_or(0.0)
}

/// How far off a reading of some volts usually is, of a pack whose curve is so uncertain, V.
pub(super) fn deviation_v(volts: f64, spread_v: f64) -> f64 {
    ((0.003 * volts).powi(2) + 0.005f64.powi(2) + spread_v.powi(2)).sqrt()
}

/// Refits the pack to its readings, of a charge or of a discharge.
pub(crate) fn refit(plan: &Plan, found: &Identified, looks: &[Look], drive: &Drive, charging: bool) -> Fitted {
    let believed = Fitted::believed(plan, found);
    let read: Vec<(f64, f64)> = looks.iter().filter_map(|look| Some((look.t_s, look.pack_v?))).collect();
    if read.is_empty() {
        return believed;
    }
    let times: Vec<f64> = read.iter().map(|(t, _)| *t).collect();
    let series = f64::from(plan.pack.series);
    let spread_v = plan.pack.profile.curve_spread_v * series;
    let predict = |values: &[f64; 3]| {
        let scale = Scale { resistance: values[1].exp(), capacity: values[2].exp(), ..Scale::NOMINAL };
        follow(&Model::new(plan.pack.body(), &found.offsets, charging, scale), values[0], drive, &times).0
    };
    let thin = (INDEPENDENT / read.len() as f64).min(1.0);
    let mut values = believed.values;
    let mut spread = [[0.0; 3]; 3];
    for _ in 0..ROUNDS {
        let here = predict(&values);
        let slopes: Vec<Vec<f64>> = (0..3)
            .map(|k| {
                let step = if values[k] + STEPS[k] > HIGHEST[k] { -STEPS[k] } else { STEPS[k] };
                let mut beside = values;
                beside[k] += step;
                predict(&beside).iter().zip(&here).map(|(moved, v)| (moved - v) / step).collect()
            })
            .collect();
        let mut normal = [[0.0; 3]; 3];
        let mut pull = [0.0; 3];
        for k in 0..3 {
            let weight = believed.deviations[k].powi(-2);
            normal[k][k] += weight;
            pull[k] += weight * (believed.values[k] - values[k]);
        }
        let off_v: Vec<f64> = read.iter().zip(&here).map(|((_, measured_v), v)| measured_v - v).collect();
        let offs: Vec<f64> = off_v.iter().zip(&here).map(|(off, v)| off / deviation_v(*v, spread_v)).collect();
        // While most of many are far off it is the pack that is not as believed, and none is wrong; a few
        // may owe it to one current that was not read.
        let usual = if read.len() >= MANY { (USUAL_OFF * median(&offs)).max(1.0) } else { 1.0 };
        for (n, predicted_v) in here.iter().enumerate() {
            let sd = deviation_v(*predicted_v, spread_v);
            let weight = thin / (1.0 + (0.5 * offs[n] / usual).powi(2)) / sd.powi(2);
            for k in 0..3 {
                pull[k] += weight * slopes[k][n] * off_v[n];
                for l in 0..3 {
                    normal[k][l] += weight * slopes[k][n] * slopes[l][n];
                }
            }
        }
        let Some(inverse) = inverted(normal) else { return believed };
        spread = inverse;
        let mut moved = 0.0f64;
        for k in 0..3 {
            let step: f64 = (0..3).map(|l| inverse[k][l] * pull[l]).sum();
            // No bolder than two of the deviations it began with at a time.
            let step = step.clamp(-2.0 * believed.deviations[k], 2.0 * believed.deviations[k]);
            let next = (values[k] + step).clamp(LOWEST[k], HIGHEST[k]);
            moved = moved.max((next - values[k]).abs() / believed.deviations[k]);
            values[k] = next;
        }
        if moved < 1e-3 {
            break;
        }
    }
    let mut deviations = believed.deviations;
    for (k, deviation) in deviations.iter_mut().enumerate() {
        *deviation = spread[k][k].max(0.0).sqrt().min(*deviation);
    }
    let left: f64 = (0..3).map(|k| deviations[k] / believed.deviations[k]).sum::<f64>() / 3.0;
    Fitted { values, deviations, learned: 1.0 - left, readings: read.len() }
}
