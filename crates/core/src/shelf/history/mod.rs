//! A log read as a history: parted into charges, rests and discharges, each with what it came to; its discharges as
//! capacity tests, its cycles' efficiencies, and the resistance its steps show.

mod ends;
mod proofs;
mod runs;
mod samples;
mod sign;
mod steps;
mod sums;

use crate::codes::{SegmentKind, SignFound};
use crate::formats::{
    BadLineDoc, LOG_RESULT_FORMAT, LogMappingDoc, LogResultDoc, PackDoc, Problems, RunReadingDoc, SegmentDoc,
};
use crate::parts::pack::Pack;
use crate::parts::plan::alone;
use crate::units::{significant, trimmed};
use proofs::Judged;
use runs::Run;
use samples::{Line, Sample, middle, newest_first, samples, steadied, zero};

/// So many lines that cannot be read are told.
const BAD_LINES: usize = 100;

/// Gathers the lines of a log, then reads its history.
#[derive(Clone, Debug, Default)]
pub struct LogHistory {
    lines: Vec<Line>,
    bad: Vec<BadLineDoc>,
    more_bad: usize,
    pack: Option<Pack>,
}

impl LogHistory {
    /// An empty one; with a pack its label tells what is full and empty, and capacities are corrected.
    ///
    /// # Errors
    /// What is wrong with the pack.
    pub fn new(pack: Option<&PackDoc>) -> Result<Self, Problems> {
        Ok(Self { pack: pack.map(alone).transpose()?, ..Self::default() })
    }

    /// The next line, and when it was taken, seconds since 1970 or since the log began.
    pub fn push(&mut self, unix_s: f64, reading: &RunReadingDoc) {
        self.lines.push(Line::of(unix_s, reading));
    }

    /// Whether the newest line stands first: they are turned round.
    #[must_use]
    pub fn newest_first(&self) -> bool {
        newest_first(&self.lines)
    }

    /// The next line, which cannot be read.
    pub fn push_bad(&mut self, line: BadLineDoc) {
        if self.bad.len() < BAD_LINES {
            self.bad.push(line);
        } else {
            self.more_bad += 1;
        }
    }

    /// What they come to; `began_at` is when the earliest was taken, where the file says.
    #[must_use]
    pub fn finish(mut self, mapping: LogMappingDoc, began_at: Option<String>) -> LogResultDoc {
        let mut result = LogResultDoc {
            format: LOG_RESULT_FORMAT.to_owned(),
            mapping,
            readings: self.lines.len() as u64,
            bad: std::mem::take(&mut self.bad),
            began_at,
            sign: SignFound::AsWritten,
            segments: Vec::new(),
            tests: Vec::new(),
            cycles: Vec::new(),
            resistance: Vec::new(),
            notes: Vec::new(),
        };
        if self.newest_first() {
            self.lines.reverse();
            result.notes.push("Its newest line stands first: it is read from its end.".to_owned());
        }
        if self.more_bad > 0 {
            result.notes.push(format!("{} more lines cannot be read.", self.more_bad));
        }
        let Some(mut samples) = samples(&self.lines) else {
            result
                .notes
                .push("No column holds amps, nor a counter of Ah: without them no history can be told.".to_owned());
            return result;
        };
        told(&mut result, &mut samples, self.pack.as_ref());
        result
    }
}

fn told(result: &mut LogResultDoc, samples: &mut [Sample], pack: Option<&Pack>) {
    let steady = steadied(samples);
    let zero = zero(samples, &steady);
    let gaps = runs::gaps(samples);
    let kinds = runs::kinds(&steady, zero);
    let (sign, found) = sign::orient(samples, runs::runs(samples, &kinds, &gaps), &kinds, &gaps);
    let found = runs::parted_by_silence(samples, found, &kinds, &gaps);
    result.sign = sign;
    let finest_ah = sums::finest_ah(samples);
    let apart = |n: usize| found.get(n + 1).is_some_and(|next| next.apart);
    let mut sums: Vec<_> =
        found.iter().enumerate().map(|(n, run)| sums::sums(samples, run, &kinds, &gaps, apart(n))).collect();
    sums::counted(&mut sums, finest_ah);
    let reached: Vec<_> = found.iter().map(|run| ends::reached(samples, run)).collect();
    let ends_of = |kind: SegmentKind| -> Vec<f64> {
        let of_kind = found.iter().zip(&reached).filter(|(run, _)| run.kind == kind);
        of_kind.filter_map(|(_, reached)| reached.map(|reached| reached.end_v)).collect()
    };
    let (charges, discharges) = (ends_of(SegmentKind::Charge), ends_of(SegmentKind::Discharge));
    let segment = |((run, reached), sums): ((&Run, &Option<ends::Reached>), &sums::Sums)| {
        let others = if run.kind == SegmentKind::Charge { &charges } else { &discharges };
        let lasts_s = (sums.to_s - sums.from_s).max(1e-9);
        SegmentDoc {
            kind: run.kind,
            from_s: sums.from_s,
            to_s: sums.to_s,
            charge_ah: significant(sums.charge_ah),
            energy_wh: sums.energy_wh.map(significant),
            counted_ah: sums.counted_ah.map(significant),
            start_v: samples[run.from..run.to].iter().find_map(|sample| sample.volts),
            end_v: samples[run.from..run.to].iter().rev().find_map(|sample| sample.volts),
            mean_a: significant(sums.charge_ah.abs() * 3600.0 / lasts_s),
            max_a: significant(sums.max_a),
            temperature_c: warmth(&samples[run.from..run.to]),
            ended_by: ends::ended(samples, run, *reached, others, pack),
            gaps_s: sums.gaps_s,
        }
    };
    result.segments = found.iter().zip(&reached).zip(&sums).map(segment).collect();
    let highest_v = runs::range(samples).1;
    let judged = Judged { segments: &result.segments, sums: &sums, highest_v, pack };
    result.tests = judged.tests();
    result.cycles = judged.cycles();
    result.resistance = steps::steps(samples, zero);
    notes(result, &sums, zero, samples, pack);
}

/// The mean temperature of some lines, °C.
fn warmth(lines: &[Sample]) -> Option<f64> {
    let mut read: Vec<f64> = lines.iter().filter_map(|sample| sample.temperature_c).collect();
    if read.is_empty() {
        return None;
    }
    // A sensor that fell off for a moment must not count.
    let usual = middle(&mut read)?;
    let near: Vec<f64> = read.into_iter().filter(|c| (c - usual).abs() < 40.0).collect();
    Some(significant(near.iter().sum::<f64>() / near.len() as f64))
}

fn notes(result: &mut LogResultDoc, sums: &[sums::Sums], zero: samples::Zero, samples: &[Sample], pack: Option<&Pack>) {
    /// A counter this far from the integral is told, as a share.
    const FAR: f64 = 0.03;
    let notes = &mut result.notes;
    match result.sign {
        SignFound::AsWritten => {}
        SignFound::Reversed => {
            notes.push("It writes discharging as positive: its volts say so, and it is read so.".to_owned())
        }
        SignFound::Unsigned => {
            notes.push("It writes no sign: which way the current went is told by the volts.".to_owned())
        }
    }
    if zero.at_a.abs() > 1e-3 * zero.large_a {
        let shown = trimmed(zero.at_a, 3);
        notes.push(format!("Where no current flows it shows {shown} A: every Ah is off by that much an hour."));
    }
    let off = result.segments.iter().zip(sums).find_map(|(segment, sums)| {
        let counted = sums.counted_ah.filter(|_| segment.charge_ah > 0.0)?;
        let share = counted / segment.charge_ah - 1.0;
        (share.abs() > FAR && !sums.cut_short).then_some((counted, segment.charge_ah))
    });
    if let Some((counted, found)) = off {
        let (counted, found) = (trimmed(counted, 3), trimmed(found, 3));
        notes.push(format!(
            "Its counter says {counted} Ah where its amps come to {found} Ah: the amps are believed; compare it with a meter."
        ));
    }
    if let Some(pack) = pack {
        let line_v = pack.profile.precharge_below_v;
        let lowest = samples.iter().filter_map(|sample| sample.lowest_cell_v).fold(f64::INFINITY, f64::min);
        if line_v > 0.0 && lowest < line_v {
            let (lowest, line) = (trimmed(lowest, 2), trimmed(line_v, 2));
            notes.push(format!(
                "A cell was at {lowest} V, below {line} V: it was over-discharged. Look at it before the next charge."
            ));
        }
    }
}
