//! How a charge or a discharge of a log ended.

use super::runs::Run;
use super::samples::{Sample, middle, quantile};
use crate::codes::{SegmentEnd, SegmentKind};
use crate::parts::pack::Pack;

/// A current fallen to this share of what flowed before is a taper.
const TAPERED: f64 = 0.6;
/// Nearer than this share, a voltage was reached.
const AT_VOLTAGE: f64 = 0.006;
/// A voltage that moves so many times as fast as in the middle of it has come to its steep end.
const STEEP: f64 = 3.0;

/// The last and the highest, or lowest, volts of a stretch.
#[derive(Clone, Copy, Debug)]
pub(super) struct Reached {
    /// At the end, the current still flowing, V.
    pub(super) end_v: f64,
    /// The furthest it went, V.
    pub(super) most_v: f64,
}

/// Where the volts of a run went; `None` without volts.
pub(super) fn reached(samples: &[Sample], run: &Run) -> Option<Reached> {
    let lines = &samples[run.from..run.to];
    let mut volts: Vec<f64> = lines.iter().filter_map(|sample| sample.volts).collect();
    let end_v = *volts.last()?;
    // One line may be a slip.
    let most_v = quantile(&mut volts, if run.kind == SegmentKind::Discharge { 0.002 } else { 0.998 })?;
    Some(Reached { end_v, most_v })
}

/// How one run ended, by where its volts went; `others` are where those of its kind ended.
pub(super) fn ended(
    samples: &[Sample],
    run: &Run,
    reached: Option<Reached>,
    others: &[f64],
    pack: Option<&Pack>,
) -> Option<SegmentEnd> {
    if !run.active() {
        return None;
    }
    let Some(reached) = reached else { return Some(SegmentEnd::Stopped) };
    let lines = &samples[run.from..run.to];
    let mut sizes: Vec<f64> = lines.iter().map(|sample| sample.amps.abs()).collect();
    let large_a = quantile(&mut sizes, 0.9).unwrap_or(0.0);
    let charge = run.kind == SegmentKind::Charge;
    let stands = reached.end_v >= reached.most_v * (1.0 - 2.0 * AT_VOLTAGE);
    if charge && stands && last_a(lines) < TAPERED * large_a {
        return Some(SegmentEnd::Taper);
    }
    let series = pack.map(|pack| f64::from(pack.series));
    let by_label = pack.zip(series).map(|(pack, series)| {
        let cell_v = reached.end_v / series;
        if charge {
            // Some are ended by a voltage a little below full, or by its fall.
            reached.most_v / series >= 0.985 * pack.profile.full_v
        } else {
            cell_v <= lowest_usual_v(pack)
        }
    });
    let agree = others.iter().filter(|v| (*v / reached.end_v - 1.0).abs() <= AT_VOLTAGE).count();
    let cut = by_label.unwrap_or(false) || agree > 1 || steep(lines);
    Some(if cut { SegmentEnd::CutOff } else { SegmentEnd::Stopped })
}

/// A discharge that ended at or below this has reached a usual cut-off, V a cell.
pub(super) fn lowest_usual_v(pack: &Pack) -> f64 {
    1.08 * pack.profile.proof.to_v
}

/// The current at the end, A.
fn last_a(lines: &[Sample]) -> f64 {
    const LAST_S: f64 = 60.0;
    let end_s = lines[lines.len() - 1].t_s;
    let near = lines.iter().rev().take(200).take_while(|sample| end_s - sample.t_s <= LAST_S);
    let mut sizes: Vec<f64> = near.map(|sample| sample.amps.abs()).collect();
    middle(&mut sizes).unwrap_or(0.0)
}

/// Whether the volts had come to a steep end, by how they moved in the middle.
fn steep(lines: &[Sample]) -> bool {
    let (Some(first), Some(last)) = (lines.first(), lines.last()) else { return false };
    let whole_s = last.t_s - first.t_s;
    let slope = |from: f64, to: f64| {
        let at = |share: f64| {
            let from_s = first.t_s + share * whole_s;
            let width_s = 0.01 * whole_s;
            let near = |sample: &&Sample| (sample.t_s - from_s).abs() <= width_s;
            let lo = lines.partition_point(|sample| sample.t_s < from_s - width_s);
            let mut volts: Vec<f64> = lines[lo..].iter().take_while(near).filter_map(|sample| sample.volts).collect();
            middle(&mut volts)
        };
        at(to).zip(at(from)).map(|(b, a)| (b - a) / (to - from))
    };
    let (end, middle) = (slope(0.96, 0.99), slope(0.35, 0.7));
    end.zip(middle).is_some_and(|(end, middle)| end * middle >= 0.0 && end.abs() > STEEP * middle.abs())
}
