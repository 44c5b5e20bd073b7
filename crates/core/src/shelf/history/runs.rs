//! Stretches of a log in which the current goes one way.

use super::samples::{Sample, Zero, middle};
use crate::codes::SegmentKind;

/// What lasts less is a pulse, or a pause, of what goes on around it, s.
const PULSE_S: f64 = 120.0;
/// A pause lasts no more than so many times as long as what it parts.
const PAUSES: f64 = 10.0;
/// A rest shorter than this between a charge and a discharge is the moment of turning, s.
const TURNING_S: f64 = 20.0;
/// A silence is a gap from so long on, s …
const GAP_S: f64 = 120.0;
/// … and from so many usual intervals on.
const GAP_INTERVALS: f64 = 10.0;
/// So many intervals either side say what is usual.
const USUAL: usize = 12;

/// A stretch; the lines `from..to` of the log.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Run {
    pub(super) kind: SegmentKind,
    pub(super) from: usize,
    pub(super) to: usize,
    /// What came before is another, even of the same kind: something happened in the silence between.
    pub(super) apart: bool,
}

impl Run {
    pub(super) fn active(&self) -> bool {
        self.kind != SegmentKind::Rest
    }
}

/// Whether there is a gap before each line.
pub(super) fn gaps(samples: &[Sample]) -> Vec<bool> {
    let steps: Vec<f64> = samples.windows(2).map(|w| w[1].t_s - w[0].t_s).collect();
    let usual = |from: usize, to: usize| {
        let mut near: Vec<f64> = steps.get(from..to).unwrap_or_default().to_vec();
        middle(&mut near).unwrap_or(0.0)
    };
    let gap = |k: usize, step_s: f64| {
        step_s > GAP_S && {
            let before_s = usual(k.saturating_sub(USUAL), k);
            let after_s = usual(k + 1, steps.len().min(k + 1 + USUAL));
            step_s > GAP_INTERVALS * before_s.max(after_s)
        }
    };
    std::iter::once(false).chain(steps.iter().enumerate().map(|(k, step_s)| gap(k, *step_s))).collect()
}

/// What the current of each line says by itself; which way an unsigned one flows is not told yet.
pub(super) fn kinds(steady: &[(f64, usize)], zero: Zero) -> Vec<SegmentKind> {
    let kind = |&(a, lines): &(f64, usize)| {
        let within_a = zero.within_a(lines);
        if a - zero.at_a > within_a {
            SegmentKind::Charge
        } else if a - zero.at_a < -within_a {
            SegmentKind::Discharge
        } else {
            SegmentKind::Rest
        }
    };
    steady.iter().map(kind).collect()
}

/// Parts a log by the current alone.
pub(super) fn runs(samples: &[Sample], kinds: &[SegmentKind], gaps: &[bool]) -> Vec<Run> {
    let mut found: Vec<Run> = Vec::new();
    for (k, kind) in kinds.iter().enumerate() {
        match found.last_mut() {
            Some(run) if run.kind == *kind => run.to = k + 1,
            _ => found.push(Run { kind: *kind, from: k, to: k + 1, apart: false }),
        }
    }
    settled(found, samples, gaps)
}

/// Parts runs at the silences in which something else must have happened.
pub(super) fn parted_by_silence(samples: &[Sample], runs: Vec<Run>, kinds: &[SegmentKind], gaps: &[bool]) -> Vec<Run> {
    let contradiction = contradiction(samples, kinds);
    let parts = |run: Run| {
        let cuts = (run.from + 1..run.to).filter(|k| gaps[*k] && contradiction(*k, run.kind));
        let mut bounds: Vec<usize> = std::iter::once(run.from).chain(cuts).collect();
        bounds.push(run.to);
        let parts: Vec<Run> = bounds
            .windows(2)
            .enumerate()
            .map(|(n, w)| Run { from: w[0], to: w[1], apart: run.apart || n > 0, ..run })
            .collect();
        parts
    };
    runs.into_iter().flat_map(parts).collect()
}

/// Whether the volts on both sides of a silence contradict that the same went on within it.
fn contradiction(samples: &[Sample], kinds: &[SegmentKind]) -> impl Fn(usize, SegmentKind) -> bool {
    /// Of the range of the log's volts.
    const SHARE: f64 = 0.05;
    /// So many lines from a silence at most it is looked for one in which the current flows.
    const NEAR: usize = 100;
    let (low_v, high_v) = range(samples);
    let most_v = SHARE * (high_v - low_v);
    move |k, kind| {
        // In a pause the volts go back, and say nothing of where it goes.
        let volts =
            |n: &usize| samples[*n].volts.filter(|_| (kinds[*n] == SegmentKind::Rest) == (kind == SegmentKind::Rest));
        let before = (k.saturating_sub(NEAR)..k).rev().find_map(|n| volts(&n));
        let after = (k..samples.len().min(k + NEAR)).find_map(|n| volts(&n));
        let Some((before_v, after_v)) = before.zip(after) else { return false };
        match kind {
            SegmentKind::Charge => after_v < before_v - most_v,
            SegmentKind::Discharge => after_v > before_v + most_v,
            SegmentKind::Rest => (after_v - before_v).abs() > 4.0 * most_v,
        }
    }
}

/// The lowest and the highest volts of a log; 0 and 0 without any.
pub(super) fn range(samples: &[Sample]) -> (f64, f64) {
    let volts = samples.iter().filter_map(|sample| sample.volts);
    let (low, high) = volts.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
    if low <= high { (low, high) } else { (0.0, 0.0) }
}

/// When each line was written, s, with every silence left out: what was silent lasted nobody knows how long.
fn heard_s(samples: &[Sample], gaps: &[bool]) -> Vec<f64> {
    let mut silent_s = 0.0;
    samples
        .iter()
        .enumerate()
        .map(|(k, sample)| {
            if gaps[k] {
                silent_s += sample.t_s - samples[k - 1].t_s;
            }
            sample.t_s - silent_s
        })
        .collect()
}

/// How long a run lasts, until the next begins, s.
fn lasts_s(runs: &[Run], n: usize, heard_s: &[f64]) -> f64 {
    let run = &runs[n];
    let end = if runs.get(n + 1).is_some_and(|next| !next.apart) { run.to } else { run.to - 1 };
    heard_s[end.min(heard_s.len() - 1)] - heard_s[run.from]
}

/// Takes what lasts a moment into what goes on on both sides of it. A current near to none flickers thousands of times:
/// one pass after the other makes few of them.
fn unflickered(mut runs: Vec<Run>, heard_s: &[f64]) -> Vec<Run> {
    const MOMENT_S: f64 = 20.0;
    const PASSES: usize = 12;
    /// So few are looked at each by itself.
    const FEW: usize = 500;
    for _ in 0..PASSES {
        let before = runs.len();
        if before < FEW {
            break;
        }
        let mut found: Vec<Run> = Vec::with_capacity(before);
        for n in 0..before {
            let run = runs[n];
            let alike =
                runs.get(n + 1).is_some_and(|next| !next.apart && found.last().is_some_and(|a| a.kind == next.kind));
            let brief_s = lasts_s(&runs, n, heard_s);
            match found.last_mut() {
                Some(last) if !run.apart && last.kind == run.kind => last.to = run.to,
                // No longer than what it interrupts: else the other way round.
                Some(last)
                    if !run.apart
                        && alike
                        && brief_s < MOMENT_S
                        && brief_s <= heard_s[run.from] - heard_s[last.from] =>
                {
                    last.to = run.to;
                }
                _ => found.push(run),
            }
        }
        runs = found;
        if runs.len() == before {
            break;
        }
    }
    runs
}

/// Joins what belongs together: neighbours of one kind that nothing parts.
fn joined(runs: Vec<Run>) -> Vec<Run> {
    let mut found: Vec<Run> = Vec::with_capacity(runs.len());
    for run in runs {
        match found.last_mut() {
            Some(before) if before.kind == run.kind && !run.apart => before.to = run.to,
            _ => found.push(run),
        }
    }
    found
}

/// Takes pauses into what goes on around them, then pulses, then moments of turning.
pub(super) fn settled(runs: Vec<Run>, samples: &[Sample], gaps: &[bool]) -> Vec<Run> {
    let heard_s = heard_s(samples, gaps);
    let mut runs = unflickered(runs, &heard_s);
    type Rule = fn(&Run, Option<&Run>, Option<&Run>) -> Option<SegmentKind>;
    // A pause between two stretches of one kind belongs to them.
    let pause: Rule = |run, before, after| match (before, after) {
        (Some(a), Some(b)) if !run.active() && a.kind == b.kind => Some(a.kind),
        _ => None,
    };
    // A pulse belongs to what is around it; between unlike ones to the rest.
    let pulse: Rule = |run, before, after| match (before, after) {
        _ if !run.active() => None,
        (Some(a), Some(b)) if a.kind == b.kind => Some(a.kind),
        (Some(a), Some(b)) => Some(if a.active() { b.kind } else { a.kind }),
        (Some(a), None) => Some(a.kind),
        (None, Some(b)) => Some(b.kind),
        (None, None) => None,
    };
    let turning: Rule = |run, before, after| {
        let between = before.is_some_and(Run::active) && after.is_some_and(Run::active);
        before.filter(|_| !run.active() && between).map(|a| a.kind)
    };
    for (least_s, rule) in [(PULSE_S, pause), (PULSE_S, pulse), (TURNING_S, turning)] {
        // The shortest first, so that what is long enough draws in its neighbours one after the other.
        loop {
            let takes = (0..runs.len()).filter_map(|n| {
                let lasts_of = |n: usize| lasts_s(&runs, n, &heard_s);
                let lasts_s = lasts_of(n);
                let before = n.checked_sub(1).map(|k| &runs[k]).filter(|_| !runs[n].apart);
                let after = runs.get(n + 1).filter(|after| !after.apart);
                let kind = (lasts_s < least_s).then(|| rule(&runs[n], before, after)).flatten()?;
                // Long between two flickers it is a rest, no pause.
                let near_s = || lasts_of(n.saturating_sub(1)).min(lasts_of(n + 1));
                if !runs[n].active() && kind != SegmentKind::Rest && lasts_s > PAUSES * near_s() {
                    return None;
                }
                Some((n, lasts_s, kind))
            });
            let Some((n, _, kind)) = takes.min_by(|a, b| a.1.total_cmp(&b.1)) else { break };
            runs[n].kind = kind;
            runs = joined(runs);
        }
    }
    runs
}
