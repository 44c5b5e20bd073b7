//! Where a pack stands: its state of charge from what was measured, and how sure that is.

use crate::formats::LastUse;
use crate::parts::pack::{Pack, Rest, Start};
use crate::physics::cell::Profile;
use crate::units::in_volts;

/// A pack's state before the charge.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Identified {
    pub(crate) soc: f64,
    pub(crate) low: f64,
    pub(crate) high: f64,
    /// Rest voltage of the whole pack, V.
    pub(crate) rest_v: f64,
    /// Whether that voltage was measured.
    pub(crate) measured: bool,
    /// Volts a cell at each reading; empty without readings.
    pub(crate) positions_v: Vec<f64>,
    /// SoC at each reading minus the mean.
    pub(crate) offsets: Vec<f64>,
    /// Cells each reading spans.
    pub(crate) cells_per_reading: u32,
}

impl Identified {
    /// Highest minus lowest reading, V a cell; 0 without readings.
    pub(crate) fn spread_v(&self) -> f64 {
        let (low, high) = bounds(&self.positions_v);
        if self.positions_v.is_empty() { 0.0 } else { high - low }
    }

    /// Highest minus lowest state of charge of the readings.
    pub(crate) fn spread_soc(&self) -> f64 {
        let (low, high) = bounds(&self.offsets);
        if self.offsets.is_empty() { 0.0 } else { high - low }
    }

    /// Which reading lies furthest behind the others, from 1, and by how much, V; `None` without readings.
    pub(crate) fn furthest_behind(&self) -> Option<(usize, f64)> {
        behind(&self.positions_v, f64::from(self.cells_per_reading))
    }

    /// The lowest known cell voltage: a reading's, else the pack's mean where measured.
    pub(crate) fn lowest_cell_v(&self, series: u32) -> Option<f64> {
        if self.positions_v.is_empty() {
            self.measured.then(|| self.rest_v / f64::from(series))
        } else {
            Some(bounds(&self.positions_v).0)
        }
    }
}

/// Which of some readings, V a cell of so many cells each, lies furthest below the middle one of the others, from 1,
/// and by how much, V: of a block only one cell may be the cause, and bears the whole difference.
pub(crate) fn behind(each_v: &[f64], per_reading: f64) -> Option<(usize, f64)> {
    let lowest = (0..each_v.len()).min_by(|a, b| each_v[*a].total_cmp(&each_v[*b]))?;
    let mut others: Vec<f64> = each_v.iter().enumerate().filter(|(n, _)| *n != lowest).map(|(_, v)| *v).collect();
    others.sort_by(f64::total_cmp);
    // Of an even number the lower middle: the doubt goes to the reading that is behind.
    let middle = others.get(others.len().checked_sub(1)? / 2)?;
    Some((lowest + 1, (middle - each_v[lowest]) * per_reading))
}

/// Least and greatest of some numbers.
pub(crate) fn bounds(values: &[f64]) -> (f64, f64) {
    values.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(*v), high.max(*v)))
}

/// Finds where a pack stands.
pub(crate) fn identify(pack: &Pack, start_assumed: bool) -> Identified {
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    match &pack.start {
        Start::Soc(soc) => {
            let margin = if start_assumed && !profile.traits.farads { 0.1 } else { 0.02 };
            Identified {
                soc: *soc,
                low: (soc - margin).max(0.0),
                high: (soc + margin).min(1.0),
                rest_v: profile.ocv.at(*soc).0 * series,
                measured: false,
                positions_v: Vec::new(),
                offsets: Vec::new(),
                cells_per_reading: 1,
            }
        }
        Start::Rest { volts, rest } => {
            let rest_v = in_volts(*volts);
            let (soc, low, high) = from_cell_volts(profile, rest_v / series, *rest);
            Identified {
                soc,
                low,
                high,
                rest_v,
                measured: true,
                positions_v: Vec::new(),
                offsets: Vec::new(),
                cells_per_reading: 1,
            }
        }
        Start::Positions { volts, cells, rest } => {
            let positions_v: Vec<f64> = volts.iter().map(|v| in_volts(*v) / f64::from(*cells)).collect();
            let rest_v = positions_v.iter().sum::<f64>() * f64::from(*cells);
            let estimates: Vec<(f64, f64, f64)> =
                positions_v.iter().map(|v| from_cell_volts(profile, *v, *rest)).collect();
            let n = estimates.len() as f64;
            let mean = |pick: fn(&(f64, f64, f64)) -> f64| estimates.iter().map(pick).sum::<f64>() / n;
            let soc = mean(|e| e.0);
            let offsets: Vec<f64> = estimates.iter().map(|e| e.0 - soc).collect();
            let (least, greatest) = bounds(&offsets);
            Identified {
                soc,
                low: mean(|e| e.1),
                high: mean(|e| e.2),
                rest_v,
                measured: true,
                positions_v,
                offsets: if greatest - least > 1e-4 { offsets } else { Vec::new() },
                cells_per_reading: *cells,
            }
        }
    }
}

/// SoC, its lowest and its highest, from one cell's rest voltage.
fn from_cell_volts(profile: &Profile, cell_v: f64, rest: Rest) -> (f64, f64, f64) {
    if !profile.voltage_tells_soc {
        return (0.2, 0.0, 1.0);
    }
    // After a charge a cell rests on the upper branch, after a discharge on the lower one.
    let (shift_v, branch_v) = match rest.last {
        LastUse::Charged => (profile.hysteresis_v, 0.0),
        LastUse::Discharged => (-profile.hysteresis_v, 0.0),
        LastUse::Unknown => (0.0, profile.hysteresis_v),
    };
    let margin_v = METER_V + profile.curve_spread_v + branch_v + settling_v(profile, rest);
    /// From here down, and wholly from there, the kinds under one name differ more.
    const NEARLY_EMPTY: (f64, f64) = (0.35, 0.15);
    let at = |v: f64| profile.ocv.soc_at(v - shift_v);
    let soc = at(cell_v);
    let emptied = ((NEARLY_EMPTY.0 - soc) / (NEARLY_EMPTY.0 - NEARLY_EMPTY.1)).clamp(0.0, 1.0);
    (soc, at(cell_v - margin_v - emptied * profile.empty_spread_v), at(cell_v + margin_v))
}

/// A hand-held meter's error shared out to one cell, V.
const METER_V: f64 = 0.004;

/// What a short rest leaves unsettled, V a cell: diffusion in lithium, surface charge on lead.
fn settling_v(profile: &Profile, rest: Rest) -> f64 {
    let [charged, discharged] = profile.traits.settles;
    let settles = if rest.last == LastUse::Discharged { discharged } else { charged };
    // Where nobody said how long it rested, half an hour is assumed.
    let rested = rest.minutes.unwrap_or(30.0);
    settles.by_v * (1.0 - rested / settles.within_min).max(0.0)
}
