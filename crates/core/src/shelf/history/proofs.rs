//! The discharges of a log as capacity tests, and its charges and discharges as cycles.

use super::ends::lowest_usual_v;
use super::sums::Sums;
use crate::codes::{MissingCode, SegmentEnd, SegmentKind};
use crate::formats::{LogCycleDoc, LogTestDoc, MissingDoc, SegmentDoc};
use crate::parts::pack::Pack;
use crate::shelf::correct::corrected;
use crate::units::{in_amp_hours, in_ohms, significant, trimmed};

/// From so much of its charge on a pack counts as full at rest.
const FULL_SOC: f64 = 0.96;
/// A first voltage so near to the highest of the log was full.
const NEAR_HIGHEST: f64 = 0.015;
/// Bridged silence may hold no more than this share of a test.
const BRIDGED: f64 = 0.02;
/// A test's mean current lies no further below its highest than this share, unless something shapes it.
const EVEN: f64 = 0.4;

/// What a log's parts are judged by.
pub(super) struct Judged<'a> {
    pub(super) segments: &'a [SegmentDoc],
    pub(super) sums: &'a [Sums],
    pub(super) highest_v: f64,
    pub(super) pack: Option<&'a Pack>,
}

impl Judged<'_> {
    /// The part before it that is no rest, unless a silence parts them.
    fn before(&self, n: usize) -> Option<usize> {
        (0..n).rev().find(|k| self.segments[*k].kind != SegmentKind::Rest)
    }

    /// Whether the pack was full when a discharge began; `None` where nobody can know. Its volts decide where they tell:
    /// at rest, or under load with what the current takes of them put back; else a charge that came to the pack's top.
    fn full_at(&self, n: usize) -> Option<bool> {
        if let Some((cell_v, full_v)) = self.stood(n) {
            return Some(cell_v >= full_v);
        }
        let segment = &self.segments[n];
        if let Some(before) = self.before(n) {
            let charge = &self.segments[before];
            let whole = matches!(charge.ended_by, Some(SegmentEnd::Taper | SegmentEnd::CutOff));
            let to_its_top = charge.end_v.is_none_or(|v| match self.pack {
                Some(pack) => v / f64::from(pack.series) >= pack.profile.ocv.at(FULL_SOC).0,
                None => v >= (1.0 - NEAR_HIGHEST) * self.highest_v,
            });
            return Some(charge.kind == SegmentKind::Charge && whole && to_its_top);
        }
        let rest_v = n.checked_sub(1).and_then(|k| self.segments[k].end_v);
        let first_v = rest_v.or(segment.start_v).filter(|_| self.pack.is_none())?;
        (first_v >= (1.0 - NEAR_HIGHEST) * self.highest_v).then_some(true)
    }

    /// The volts a cell that a discharge began at, as at rest, and those of a full one; `None` where its volts do not
    /// tell, or none were read.
    fn stood(&self, n: usize) -> Option<(f64, f64)> {
        let pack = self.pack.filter(|pack| pack.profile.voltage_tells_soc)?;
        let series = f64::from(pack.series);
        let segment = &self.segments[n];
        let rest_v = n.checked_sub(1).filter(|k| self.segments[*k].kind == SegmentKind::Rest);
        let rest_v = rest_v.and_then(|k| self.segments[k].end_v);
        // A charge just before leaves its volts high: it counts by its own end.
        let loaded_v = || segment.start_v.map(|v| v + segment.mean_a * in_ohms(pack.resistance));
        let cell_v = match (rest_v, self.before(n)) {
            (Some(v), _) => v,
            (None, None) => loaded_v()?,
            (None, Some(_)) => return None,
        } / series;
        Some((cell_v, pack.profile.ocv.at(FULL_SOC).0 - pack.profile.hysteresis_v))
    }

    /// From where to where a discharge went that did not begin full.
    fn went(&self, n: usize) -> String {
        let segment = &self.segments[n];
        let gave = trimmed(segment.charge_ah, 2);
        match (self.stood(n), self.pack, segment.end_v) {
            (Some((cell_v, full_v)), Some(pack), Some(end_v)) => format!(
                "It did not begin full: it stood at {} V a cell, and {} V is full. It gave {gave} Ah from there down to {} V.",
                trimmed(cell_v, 2),
                trimmed(full_v, 2),
                trimmed(end_v / f64::from(pack.series), 2)
            ),
            _ => format!("It did not begin full: the charge before it was not whole. It gave {gave} Ah."),
        }
    }

    /// Every discharge as a test.
    pub(super) fn tests(&self) -> Vec<LogTestDoc> {
        let discharges = (0..self.segments.len()).filter(|n| self.segments[*n].kind == SegmentKind::Discharge);
        discharges.map(|n| self.test(n)).collect()
    }

    fn test(&self, n: usize) -> LogTestDoc {
        let (segment, sums) = (&self.segments[n], &self.sums[n]);
        let mut missing = Vec::new();
        let mut say = |code: MissingCode, message: String| missing.push(MissingDoc { code, message });
        match self.full_at(n) {
            Some(true) => {}
            Some(false) => say(MissingCode::NotFull, self.went(n)),
            None => {
                say(MissingCode::NotFull, "Nobody can tell whether it began full: no charge stands before it.".into())
            }
        }
        if segment.ended_by != Some(SegmentEnd::CutOff) {
            say(MissingCode::StoppedEarly, "It was ended before the pack was empty.".into());
        } else if let (Some(pack), Some(end_v)) = (self.pack, segment.end_v)
            && end_v / f64::from(pack.series) > 1.02 * lowest_usual_v(pack)
        {
            let cell_v = trimmed(end_v / f64::from(pack.series), 2);
            let to_v = trimmed(pack.profile.proof.to_v, 2);
            say(
                MissingCode::StoppedEarly,
                format!("It ended at {cell_v} V a cell; {to_v} V is empty: what lies between is missing."),
            );
        }
        if sums.bridged_ah > BRIDGED * segment.charge_ah {
            let minutes = trimmed(sums.gaps_s / 60.0, 0);
            say(MissingCode::Gap, format!("The log is silent for {minutes} min of it: what flowed then is guessed."));
        }
        if sums.cut_short {
            say(MissingCode::Edge, "It began or ended while the log was silent.".into());
        }
        let shaped = segment.mean_a < (1.0 - EVEN) * segment.max_a;
        let c_rate = self.c_rate(segment);
        if shaped && self.pack.is_none_or(|pack| pack.profile.keeping.gives_less > 0.05) {
            let (mean, most) = (trimmed(segment.mean_a, 2), trimmed(segment.max_a, 2));
            say(
                MissingCode::Uneven,
                format!("Its current moved between {mean} A on average and {most} A: no one rate."),
            );
        }
        let complete = missing.is_empty();
        let corrected = self.pack.filter(|_| complete).map(|pack| {
            corrected(&pack.profile, in_amp_hours(pack.nameplate), segment.charge_ah, segment.temperature_c, c_rate)
        });
        LogTestDoc {
            segment: n as u32,
            capacity_ah: segment.charge_ah,
            energy_wh: segment.energy_wh,
            c_rate: significant(c_rate),
            temperature_c: segment.temperature_c,
            corrected_ah: corrected.filter(|found| found.trusted).map(|found| significant(found.ah)),
            corrected_sd_ah: corrected.filter(|found| found.trusted).map(|found| significant(found.sd_ah)),
            trusted: complete && corrected.is_none_or(|found| found.trusted),
            complete,
            missing,
        }
    }

    fn c_rate(&self, segment: &SegmentDoc) -> f64 {
        let ah = self.pack.map_or(segment.charge_ah, |pack| in_amp_hours(pack.nameplate));
        segment.mean_a / ah.max(1e-9)
    }

    /// Every charge with the discharge after it; where one began where the other ended, its efficiencies.
    pub(super) fn cycles(&self) -> Vec<LogCycleDoc> {
        let active: Vec<usize> =
            (0..self.segments.len()).filter(|n| self.segments[*n].kind != SegmentKind::Rest).collect();
        let lowest_v = self
            .segments
            .iter()
            .filter(|segment| segment.kind == SegmentKind::Discharge && segment.ended_by == Some(SegmentEnd::CutOff))
            .filter_map(|segment| segment.end_v)
            .fold(f64::INFINITY, f64::min);
        let pairs = active.windows(2).enumerate().filter(|(_, w)| {
            self.segments[w[0]].kind == SegmentKind::Charge && self.segments[w[1]].kind == SegmentKind::Discharge
        });
        pairs
            .map(|(at, w)| {
                let (charge, discharge) = (&self.segments[w[0]], &self.segments[w[1]]);
                let emptied = match at.checked_sub(1).map(|k| &self.segments[active[k]]) {
                    Some(before) => {
                        before.kind == SegmentKind::Discharge && before.ended_by == Some(SegmentEnd::CutOff)
                    }
                    // Where the log begins with it, its first volts tell whether the pack was empty.
                    None => self.began_empty(w[0], lowest_v),
                };
                let whole = emptied
                    && matches!(charge.ended_by, Some(SegmentEnd::Taper | SegmentEnd::CutOff))
                    && discharge.ended_by == Some(SegmentEnd::CutOff)
                    && !self.sums[w[0]].cut_short
                    && !self.sums[w[1]].cut_short;
                let share = |out: f64, into: f64| (whole && into > 0.0).then(|| significant(out / into));
                LogCycleDoc {
                    charge: w[0] as u32,
                    discharge: w[1] as u32,
                    charge_efficiency: share(discharge.charge_ah, charge.charge_ah),
                    energy_efficiency: discharge
                        .energy_wh
                        .zip(charge.energy_wh)
                        .and_then(|(out, into)| share(out, into)),
                }
            })
            .collect()
    }

    /// Whether the pack was as empty before a first charge as a discharge leaves it.
    fn began_empty(&self, n: usize, lowest_v: f64) -> bool {
        const EMPTY_SOC: f64 = 0.03;
        let Some(first_v) = n.checked_sub(1).and_then(|k| self.segments[k].end_v).or(self.segments[n].start_v) else {
            return false;
        };
        match self.pack {
            Some(pack) => first_v / f64::from(pack.series) <= pack.profile.ocv.at(EMPTY_SOC).0,
            // A rested pack stands above what it was discharged to, under current.
            None => first_v <= lowest_v + 0.12 * (self.highest_v - lowest_v),
        }
    }
}
