//! Which way the current of a log flows, told by its volts where the file does not say or says it wrongly.

use super::runs::{Run, range, settled};
use super::samples::{Sample, middle};
use crate::codes::{SegmentKind, SignFound};

/// Of the range of a log's volts: a turn that is smaller is noise or a plateau.
const TURN: f64 = 0.2;

/// Gives the runs their true kind; the samples get charging positive.
pub(super) fn orient(
    samples: &mut [Sample],
    runs: Vec<Run>,
    kinds: &[SegmentKind],
    gaps: &[bool],
) -> (SignFound, Vec<Run>) {
    let flows: Vec<bool> = kinds.iter().map(|kind| *kind != SegmentKind::Rest).collect();
    let both = |kind: SegmentKind| runs.iter().any(|run| run.kind == kind);
    if both(SegmentKind::Charge) && both(SegmentKind::Discharge) {
        let agrees: f64 =
            runs.iter().filter(|run| run.active()).map(|run| way(run.kind) * rise_v(samples, run, &flows)).sum();
        if agrees >= 0.0 {
            return (SignFound::AsWritten, runs);
        }
        samples.iter_mut().for_each(|sample| sample.amps = -sample.amps);
        let turned = runs.into_iter().map(|run| Run { kind: opposite(run.kind), ..run }).collect();
        return (SignFound::Reversed, turned);
    }
    let parts: Vec<Run> = runs.iter().flat_map(|run| parted(samples, run, &flows)).collect();
    let parts = settled(parts, samples, gaps);
    let rises = parts.iter().filter(|run| run.active()).map(|run| rise_v(samples, run, &flows));
    let (up, down) = rises.fold((0, 0), |(up, down), v| if v >= 0.0 { (up + 1, down) } else { (up, down + 1) });
    let written = runs.iter().find(|run| run.active()).map_or(SegmentKind::Charge, |run| run.kind);
    let found = match (up > 0, down > 0) {
        (true, true) => SignFound::Unsigned,
        (false, true) if written == SegmentKind::Charge => SignFound::Reversed,
        (true, false) if written == SegmentKind::Discharge => SignFound::Reversed,
        _ => SignFound::AsWritten,
    };
    let told: Vec<Run> = parts
        .into_iter()
        .map(|run| {
            let up = rise_v(samples, &run, &flows) >= 0.0;
            let kind = match (run.kind, up) {
                (SegmentKind::Rest, _) => SegmentKind::Rest,
                (_, true) => SegmentKind::Charge,
                (_, false) => SegmentKind::Discharge,
            };
            Run { kind, ..run }
        })
        .collect();
    for run in told.iter().filter(|run| run.active()) {
        let turned = match found {
            SignFound::AsWritten => 1.0,
            SignFound::Reversed => -1.0,
            SignFound::Unsigned => way(run.kind) * way(written),
        };
        samples[run.from..run.to].iter_mut().for_each(|sample| sample.amps *= turned);
    }
    (found, told)
}

fn way(kind: SegmentKind) -> f64 {
    match kind {
        SegmentKind::Charge => 1.0,
        SegmentKind::Discharge => -1.0,
        SegmentKind::Rest => 0.0,
    }
}

fn opposite(kind: SegmentKind) -> SegmentKind {
    match kind {
        SegmentKind::Charge => SegmentKind::Discharge,
        SegmentKind::Discharge => SegmentKind::Charge,
        SegmentKind::Rest => SegmentKind::Rest,
    }
}

/// By how much the volts rise over a run, V, with the jump that begins it and the fall that follows it: what a
/// charge does, and a discharge the other way round.
fn rise_v(samples: &[Sample], run: &Run, flows: &[bool]) -> f64 {
    let volts = |lines: &mut dyn Iterator<Item = usize>| {
        let mut found: Vec<f64> = lines.filter_map(|k| samples[k].volts).collect();
        middle(&mut found)
    };
    // In a pause of it the volts go back, and say nothing of where it goes. A jump shows in the nearest lines only.
    const NEAR: usize = 3;
    let some = ((run.to - run.from) / 10).clamp(1, 30);
    let flowing = || (run.from..run.to).filter(|k| flows[*k]);
    let (first, last) = (volts(&mut flowing().take(some)), volts(&mut flowing().rev().take(some)));
    let (onset, close) = (volts(&mut flowing().take(NEAR)), volts(&mut flowing().rev().take(NEAR)));
    let before = volts(&mut (run.from.saturating_sub(NEAR)..run.from));
    let after = volts(&mut (run.to..samples.len().min(run.to + NEAR)));
    let rise = |from: Option<f64>, to: Option<f64>| from.zip(to).map_or(0.0, |(a, b)| b - a);
    rise(before, onset) + rise(first, last) + rise(after, close)
}

/// Parts a run whose sign is not written where its volts turn.
fn parted(samples: &[Sample], run: &Run, flows: &[bool]) -> Vec<Run> {
    let (low_v, high_v) = range(samples);
    let turn_v = TURN * (high_v - low_v);
    let mut cuts = Vec::new();
    if run.active() && turn_v > 0.0 {
        // The furthest the volts went since they last turned, and which way they go.
        let mut top: Option<(usize, f64)> = None;
        let mut bottom: Option<(usize, f64)> = None;
        for k in run.from..run.to {
            let Some(v) = samples[k].volts.filter(|_| flows[k]) else { continue };
            if top.is_none_or(|(_, high)| v >= high - 0.02 * turn_v) {
                top = Some((k, top.map_or(v, |(_, high)| high.max(v))));
            }
            if bottom.is_none_or(|(_, low)| v < low) {
                bottom = Some((k, v));
            }
            let fell = top.filter(|(at, high)| high - v > turn_v && bottom.is_some_and(|(low_at, _)| low_at > *at));
            let rose = bottom.filter(|(at, low)| v - low > turn_v && top.is_some_and(|(top_at, _)| top_at > *at));
            if let Some((at, _)) = fell.or(rose) {
                // What leads in to the first turn is no turn itself.
                if cuts.last().map_or(at > run.from + 1, |cut| at > *cut) {
                    cuts.push(at + 1);
                }
                (top, bottom) = (Some((k, v)), Some((k, v)));
            }
        }
    }
    // A monotone run is found to move by a turn's worth as well: it is cut only where it changes its way.
    let mut bounds = vec![run.from];
    bounds.extend(cuts);
    bounds.push(run.to);
    bounds.dedup();
    let pieces = bounds.windows(2).filter(|w| w[0] < w[1]).map(|w| Run { from: w[0], to: w[1], ..*run });
    let mut found: Vec<Run> = Vec::new();
    for piece in pieces {
        let up = rise_v(samples, &piece, flows) >= 0.0;
        let kind = if up { SegmentKind::Charge } else { SegmentKind::Discharge };
        match found.last_mut() {
            Some(before) if before.kind == kind && run.active() => before.to = piece.to,
            _ => found.push(Run {
                kind: if run.active() { kind } else { run.kind },
                apart: run.apart && piece.from == run.from,
                ..piece
            }),
        }
    }
    found
}
