//! The resistance that dips and pulses of a log show: ΔV ÷ ΔI a second and ten seconds after a step.

use super::samples::{Sample, Zero};
use crate::formats::LogResistanceDoc;
use crate::units::significant;

/// A step of the current is no smaller than this share of the largest current.
const STEP: f64 = 0.2;
/// After a step the current stands within this share of the step.
const STANDS: f64 = 0.1;
/// Before it, the current stood for so long, s.
const BEFORE_S: f64 = 5.0;
/// So many are told at most: the largest.
const MOST: usize = 400;

/// What every step of a log tells, in the order of time.
pub(super) fn steps(samples: &[Sample], zero: Zero) -> Vec<LogResistanceDoc> {
    let least_a = STEP * zero.large_a;
    let mut found = Vec::new();
    for k in 1..samples.len() {
        let (before, after) = (&samples[k - 1], &samples[k]);
        let (step_a, step_s) = (after.amps - before.amps, after.t_s - before.t_s);
        if step_a.abs() < least_a.max(1e-6) || step_s > 10.5 || step_s <= 0.0 || !stood(samples, k - 1, step_a) {
            continue;
        }
        let Some(from_v) = before.volts else { continue };
        let at = |wanted_s: f64, slack_s: f64| after_s(samples, k, step_a, wanted_s, slack_s, before.t_s);
        let mohm = |at: Option<(f64, f64)>| {
            at.map(|(v, a)| 1000.0 * (v - from_v) / (a - before.amps)).filter(|mohm| *mohm > 0.0).map(significant)
        };
        let (one, ten) = (mohm(at(1.0, 0.6)), mohm(at(10.0, 2.6)));
        if one.or(ten).is_some() {
            found.push(LogResistanceDoc { at_s: after.t_s, mohm_1s: one, mohm_10s: ten, step_a: significant(step_a) });
        }
    }
    if found.len() > MOST {
        found.sort_by(|a, b| b.step_a.abs().total_cmp(&a.step_a.abs()));
        found.truncate(MOST);
        found.sort_by(|a, b| a.at_s.total_cmp(&b.at_s));
    }
    found
}

/// Whether the current stood before a step.
fn stood(samples: &[Sample], last: usize, step_a: f64) -> bool {
    let end = &samples[last];
    let mut reached = false;
    for sample in samples[..last].iter().rev() {
        if (sample.amps - end.amps).abs() > STANDS * step_a.abs() {
            return false;
        }
        if end.t_s - sample.t_s >= BEFORE_S {
            reached = true;
            break;
        }
    }
    reached
}

/// Volts and amps so long after a step, the current having stood since.
fn after_s(
    samples: &[Sample],
    first: usize,
    step_a: f64,
    wanted_s: f64,
    slack_s: f64,
    began_s: f64,
) -> Option<(f64, f64)> {
    // The step happened somewhere between two lines: half of that interval counts.
    let began_s = 0.5 * (began_s + samples[first].t_s);
    let reached = samples[first].amps;
    let mut best: Option<(f64, f64, f64)> = None;
    for sample in &samples[first..] {
        let off_s = sample.t_s - began_s - wanted_s;
        if off_s > slack_s || (sample.amps - reached).abs() > STANDS * step_a.abs() {
            break;
        }
        if let Some(v) = sample.volts
            && best.is_none_or(|(off, ..)| off_s.abs() < off)
        {
            best = Some((off_s.abs(), v, sample.amps));
        }
    }
    best.filter(|(off_s, ..)| *off_s <= slack_s).map(|(_, v, a)| (v, a))
}
