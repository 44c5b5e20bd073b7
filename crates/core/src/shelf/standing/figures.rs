//! What a pack holds and how it resists, from all that was measured of it.

use super::known::Known;
use super::trend::{Line, Point, line, weighted_median};
use crate::codes::{FigureFrom, RecordKind};
use crate::parts::pack::Pack;
use crate::shelf::correct::{corrected, label_share};
use crate::units::in_amp_hours;

pub(super) const YEAR_S: f64 = 365.25 * 86_400.0;

/// A capacity at 25 °C and the reference rate.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Capacity {
    pub(super) at_s: f64,
    pub(super) cycles: f64,
    pub(super) ah: f64,
    pub(super) sd_ah: f64,
    pub(super) raw_ah: f64,
    pub(super) from: FigureFrom,
    pub(super) counted: bool,
}

/// A resistance at 25 °C.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Resistance {
    pub(super) at_s: f64,
    pub(super) cycles: f64,
    pub(super) mohm: f64,
    pub(super) raw_mohm: f64,
}

/// What the label says at the reference rate, Ah of one pack.
pub(super) fn label_ah(pack: &Pack) -> f64 {
    in_amp_hours(pack.nameplate) * label_share(&pack.profile)
}

/// Equivalent full cycles up to and with each record.
pub(super) fn cycles(pack: &Pack, records: &[Known]) -> Vec<f64> {
    let ah = in_amp_hours(pack.nameplate).max(1e-6);
    let through = |known: &Known| match known.kind {
        RecordKind::Charge | RecordKind::Discharge => known.charge_ah.unwrap_or(0.0),
        RecordKind::Test => known.capacity_ah.unwrap_or(0.0),
        RecordKind::Rest | RecordKind::Note | RecordKind::Photo => 0.0,
    };
    records
        .iter()
        .scan(0.0, |sum, known| {
            *sum += through(known) / (2.0 * ah);
            Some(*sum)
        })
        .collect()
}

/// Every capacity that was measured.
pub(super) fn capacities(pack: &Pack, records: &[Known], cycles: &[f64]) -> Vec<Capacity> {
    /// A refit of a whole charge is no better than this, one of a part no better than that.
    const WHOLE_SD: f64 = 0.025;
    const PART_SD: f64 = 0.08;
    let profile = &pack.profile;
    let nameplate_ah = in_amp_hours(pack.nameplate);
    let read = |(known, cycles): (&Known, &f64)| {
        let raw_ah = known.capacity_ah?;
        let (at_s, cycles) = (known.at_s, *cycles);
        match known.kind {
            RecordKind::Test => {
                let amps = known.current_a;
                let c_rate = amps.map_or(profile.keeping.reference_c, |a| a / nameplate_ah);
                let found = corrected(profile, nameplate_ah, raw_ah, known.temperature_c, c_rate);
                // A test that ended above the usual cut-off left something in.
                let early = known.to_v.is_some_and(|v| v > 1.08 * profile.proof.to_v);
                let unknown_rate = if amps.is_none() { 0.02 * found.ah } else { 0.0 };
                let sd_ah = known.capacity_sd_ah.unwrap_or(0.0).max(found.sd_ah).hypot(unknown_rate);
                let counted = known.whole && !early && found.trusted;
                Some(Capacity { at_s, cycles, ah: found.ah, sd_ah, raw_ah, from: FigureFrom::Test, counted })
            }
            RecordKind::Charge => {
                let from = if known.whole { FigureFrom::Charge } else { FigureFrom::PartCharge };
                let ah = raw_ah * label_ah(pack) / nameplate_ah;
                let least = if known.whole { WHOLE_SD } else { PART_SD };
                let sd_ah = known.capacity_sd_ah.unwrap_or(0.0).max(least * ah);
                Some(Capacity { at_s, cycles, ah, sd_ah, raw_ah, from, counted: sd_ah < 0.2 * ah })
            }
            RecordKind::Rest | RecordKind::Discharge | RecordKind::Note | RecordKind::Photo => None,
        }
    };
    records.iter().zip(cycles).filter_map(read).collect()
}

/// Every resistance that was measured, brought to 25 °C.
pub(super) fn resistances(pack: &Pack, records: &[Known], cycles: &[f64]) -> Vec<Resistance> {
    let slope = pack.profile.temperature_slope;
    let read = |(known, cycles): (&Known, &f64)| {
        let raw_mohm = known.mohm?;
        let warm = (slope * (25.0 - known.temperature_c.unwrap_or(25.0))).exp();
        Some(Resistance { at_s: known.at_s, cycles: *cycles, mohm: raw_mohm / warm, raw_mohm })
    };
    records.iter().zip(cycles).filter_map(read).collect()
}

/// A figure now, with its line over the years where there is one.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Now {
    pub(super) value: f64,
    pub(super) sd: f64,
    /// `x` in years from now, `y` as the value.
    pub(super) line: Option<Line>,
}

/// A line needs measurements over so many years at least.
const REACH_YEARS: f64 = 0.25;

/// What it is now, from points in years before now.
pub(super) fn now(points: &[Point], fades_a_year: f64) -> Option<Now> {
    let found = line(points, REACH_YEARS);
    let last = points.iter().max_by(|a, b| a.x.total_cmp(&b.x))?;
    if let Some(line) = found {
        // The line is no better than what is known of such packs: they do not fade evenly.
        let bend = 0.35 * (line.slope * last.x).abs() + 0.004 * line.level.abs();
        return Some(Now { value: line.level, sd: line.level_sd.hypot(bend), line: Some(line) });
    }
    // Of a few the latest years count; since then it has faded by an unknown part of what is usual.
    let recent: Vec<&Point> = points.iter().filter(|p| last.x - p.x < 1.0).collect();
    let weight = |p: &Point| 1.0 / (p.sd * p.sd).max(1e-12);
    let value = weighted_median(recent.iter().map(|p| (p.y, weight(p))).collect())?;
    let best = recent.iter().map(|p| p.sd).fold(f64::INFINITY, f64::min);
    let since = 0.5 * fades_a_year * value * -last.x;
    Some(Now { value: value - since.max(0.0), sd: best.hypot(since).hypot(0.01 * value), line: None })
}

/// The line over hundreds of equivalent full cycles, where they were many enough.
pub(super) fn by_cycles(points: &[(f64, f64, f64)]) -> Option<Line> {
    /// Fewer cycles tell nothing apart from the years.
    const LEAST: f64 = 0.2;
    let points: Vec<Point> =
        points.iter().map(|(cycles, value, sd)| Point { x: cycles / 100.0, y: *value, sd: *sd }).collect();
    line(&points, LEAST)
}
