//! What went in or out over a stretch of a log: integrated, and by the logger's own counter.

use super::runs::Run;
use super::samples::{Sample, middle};
use crate::codes::SegmentKind;

/// What a stretch came to.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct Sums {
    /// In or out by its kind, Ah; signed for a rest.
    pub(super) charge_ah: f64,
    pub(super) energy_wh: Option<f64>,
    pub(super) counted_ah: Option<f64>,
    pub(super) max_a: f64,
    /// Silence within it, and what flowed in that is only bridged, s and Ah.
    pub(super) gaps_s: f64,
    pub(super) bridged_ah: f64,
    /// How far the integral may be off, Ah.
    pub(super) unsure_ah: f64,
    /// Whether a gap lies at its beginning or end, so that part of it was never seen.
    pub(super) cut_short: bool,
    /// When it began and ended, s.
    pub(super) from_s: f64,
    pub(super) to_s: f64,
}

/// What flowed in a silence before line `k`, A·s. A current that falls is taken to die away evenly; one that stood
/// before and falls after it to have stood until it had to fall as it does.
fn silent_as(samples: &[Sample], run: &Run, k: usize) -> f64 {
    /// So long either side tells how the current moves, s.
    const TELLS_S: f64 = 600.0;
    let (before, after) = (&samples[k - 1], &samples[k]);
    let (a, b, step_s) = (before.amps, after.amps, after.t_s - before.t_s);
    if a * b <= 0.0 || (a / b - 1.0).abs() < 1e-3 {
        return 0.5 * (a + b) * step_s;
    }
    let evenly_as = step_s * (a - b) / (a / b).ln();
    let later = samples[k..run.to].iter().take_while(|sample| sample.t_s - after.t_s <= TELLS_S).last();
    let earlier = samples[run.from..k].iter().rev().take_while(|sample| before.t_s - sample.t_s <= TELLS_S).last();
    let (Some(later), Some(earlier)) = (later, earlier) else { return evenly_as };
    let falls = |from: &Sample, to: &Sample| (from.amps / to.amps).ln() / (to.t_s - from.t_s).max(1.0);
    let (rate, stood) = (falls(after, later), falls(earlier, before).abs());
    if !rate.is_finite() || rate <= 0.0 || stood > 0.2 * rate {
        return evenly_as;
    }
    let falling_s = ((a / b).ln() / rate).clamp(0.0, step_s);
    a * (step_s - falling_s) + b * ((rate * falling_s).exp() - 1.0) / rate
}

/// Whether a run pauses now and then.
fn paused(kinds: &[SegmentKind], run: &Run) -> bool {
    run.active() && kinds.get(run.from + 1..run.to - 1).is_some_and(|within| within.contains(&SegmentKind::Rest))
}

/// What flows on average around a silence, pauses counted, A.
fn around_a(samples: &[Sample], run: &Run, k: usize) -> f64 {
    const AROUND_S: f64 = 900.0;
    let near = |sample: &&Sample, at_s: f64| (sample.t_s - at_s).abs() <= AROUND_S;
    let before = samples[run.from..k].iter().rev().take_while(|sample| near(sample, samples[k - 1].t_s));
    let after = samples[k..run.to].iter().take_while(|sample| near(sample, samples[k].t_s));
    let (sum, count) = before.chain(after).fold((0.0, 0.0), |(sum, n), sample| (sum + sample.amps, n + 1.0));
    sum / f64::max(count, 1.0)
}

/// Sums up a stretch with the two halves of an interval that lead in and out of it.
pub(super) fn sums(samples: &[Sample], run: &Run, kinds: &[SegmentKind], gaps: &[bool], next_apart: bool) -> Sums {
    let way = match run.kind {
        SegmentKind::Discharge => -1.0,
        SegmentKind::Charge | SegmentKind::Rest => 1.0,
    };
    let mut sums = Sums { from_s: samples[run.from].t_s, to_s: samples[run.to - 1].t_s, ..Sums::default() };
    let (mut charge_as, mut energy_j, mut with_volts_as) = (0.0, 0.0, 0.0);
    // Of an interval nobody knows when within it the current changed.
    let mut unsure_as2 = 0.0;
    let mut count = Counter { last_ah: samples[run.from].count_ah, ..Counter::default() };
    let volts = |k: usize| samples[k].volts;
    let paused = paused(kinds, run);
    let leads_in = run.from > 0 && !run.apart;
    let leads_out = run.to < samples.len() && !next_apart;
    let first = if leads_in { run.from } else { run.from + 1 };
    let last = if leads_out { run.to } else { run.to - 1 };
    if leads_in {
        count.last_ah = samples[run.from - 1].count_ah;
    }
    for k in first..=last {
        let (a, b) = (&samples[k - 1], &samples[k]);
        let step_s = b.t_s - a.t_s;
        let edge = k == run.from || k == run.to;
        if gaps[k] && edge {
            // Nobody knows when it began or ended; only the counter does.
            sums.cut_short |= run.active();
            count.take(b.count_ah, 0.0, true);
            continue;
        }
        // Of the interval at an edge one half belongs to each side: of a step a trapezoid gives just that.
        let flow_as = match (k == run.from, k == run.to) {
            (true, _) => 0.5 * b.amps * step_s,
            (_, true) => 0.5 * a.amps * step_s,
            _ if gaps[k] && paused => around_a(samples, run, k) * step_s,
            _ if gaps[k] => silent_as(samples, run, k),
            _ => 0.5 * (a.amps + b.amps) * step_s,
        };
        if edge {
            let half = 0.5 * step_s;
            if k == run.from { sums.from_s -= half } else { sums.to_s += half }
        }
        if gaps[k] {
            sums.gaps_s += step_s;
            sums.bridged_ah += flow_as.abs() / 3600.0;
            unsure_as2 += (0.1 * flow_as).powi(2);
        }
        unsure_as2 += (0.3 * step_s * (b.amps - a.amps)).powi(2);
        charge_as += flow_as;
        if let Some(v) = volts(k - 1).zip(volts(k)).map(|(a, b)| 0.5 * (a + b)).or(volts(k)).or(volts(k - 1)) {
            energy_j += v * flow_as;
            with_volts_as += flow_as;
        }
        count.take(b.count_ah, flow_as.abs() / 3600.0, k == run.from);
    }
    sums.charge_ah = way * charge_as / 3600.0;
    sums.unsure_ah = unsure_as2.sqrt() / 3600.0;
    sums.counted_ah = count.counted().filter(|_| run.active());
    if with_volts_as.abs() > 0.0 && with_volts_as.abs() >= 0.5 * charge_as.abs() {
        // What flowed where no volts were read is taken to have flowed at the mean of the others.
        sums.energy_wh = Some(way * energy_j / 3600.0 * charge_as / with_volts_as);
    }
    let sizes = samples[run.from..run.to].iter().map(|sample| sample.amps.abs());
    sums.max_a = sizes.fold(0.0, f64::max);
    sums
}

/// Takes the counter's word where it is finer than the lines: it counts within them, too. `finest_ah` is what its last
/// decimal stands for.
pub(super) fn counted(sums: &mut [Sums], finest_ah: f64) {
    /// A counter that agrees with the amps so well over the log counts the same.
    const SHARE: f64 = 0.03;
    /// Then it is believed of a single part so far.
    const FAR: f64 = 0.2;
    let ratios = |sums: &Sums| Some(sums.counted_ah? / sums.charge_ah).filter(|ratio| ratio.is_finite());
    let mut all: Vec<f64> = sums.iter().filter_map(ratios).collect();
    let agrees = middle(&mut all).is_some_and(|ratio| (ratio - 1.0).abs() <= SHARE);
    for one in sums {
        let Some(counted_ah) = one.counted_ah else { continue };
        let off_ah = counted_ah - one.charge_ah;
        let near = off_ah.abs() <= SHARE * one.charge_ah.abs() + 4.0 * one.unsure_ah;
        let unseen = one.cut_short && off_ah > 0.0 && counted_ah < 2.0 * one.charge_ah;
        let far = off_ah.abs() <= FAR * one.charge_ah.abs();
        if (near || (agrees && (far || unseen))) && finest_ah < one.unsure_ah {
            one.energy_wh = one.energy_wh.map(|wh| wh * counted_ah / one.charge_ah);
            one.charge_ah = counted_ah;
        }
    }
}

/// The logger's own counter over a stretch; it may start anew, and count down or without a sign.
#[derive(Clone, Copy, Debug, Default)]
struct Counter {
    last_ah: Option<f64>,
    rose_ah: f64,
    fell_ah: f64,
    moved: bool,
}

impl Counter {
    /// The next count, after a step in which about so much flowed; `leads_in` where the stretch begins within it.
    fn take(&mut self, count_ah: Option<f64>, flow_ah: f64, leads_in: bool) {
        let Some(now_ah) = count_ah else { return };
        let Some(last_ah) = self.last_ah.replace(now_ah) else { return };
        let mut step_ah = now_ah - last_ah;
        // It fell back towards nothing by more than can have flowed: it was started anew.
        let far = step_ah.abs() > 5.0 * flow_ah + 1e-4;
        if far && now_ah.abs() < 0.5 * last_ah.abs() && now_ah.abs() <= 5.0 * flow_ah + 1e-3 {
            // What was counted before it started anew is lost, but for a start with the stretch itself.
            let lost_ah = if leads_in { 0.0 } else { (flow_ah - now_ah.abs()).max(0.0) };
            step_ah = now_ah + lost_ah.copysign(if self.fell_ah > self.rose_ah { -1.0 } else { 1.0 });
        }
        self.moved |= step_ah.abs() > 1e-9;
        if step_ah > 0.0 { self.rose_ah += step_ah } else { self.fell_ah -= step_ah }
    }

    fn counted(&self) -> Option<f64> {
        self.moved.then(|| (self.rose_ah - self.fell_ah).abs())
    }
}

/// What the last decimal of a log's counter stands for, Ah.
pub(super) fn finest_ah(samples: &[Sample]) -> f64 {
    const MOST_DECIMALS: i32 = 7;
    let needed = |ah: f64| {
        let whole = |d: &i32| {
            let scaled = ah * 10_f64.powi(*d);
            (scaled - scaled.round()).abs() < 1e-6 * scaled.abs().max(1.0)
        };
        (0..MOST_DECIMALS).find(whole).unwrap_or(MOST_DECIMALS)
    };
    let decimals = samples.iter().filter_map(|sample| sample.count_ah).take(2000).map(needed).max();
    10_f64.powi(-decimals.unwrap_or(0))
}
