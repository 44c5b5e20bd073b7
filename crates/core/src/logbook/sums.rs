//! A long log in short, for being understood: of each stretch what flowed through it, exactly, how it
//! stood at its end, and its worst.
//!
//! A log is drawn from its extremes; whoever counts charge from those counts what stands out, not what
//! flowed. While readings are few each is a stretch of its own; when there are too many, neighbours join,
//! two and two.

use serde::{Deserialize, Serialize};

use super::course::Look;
use super::frozen::Frozen;
use super::row::LogRow;
use super::tops::Tops;
use super::way::Leg;
use crate::formats::{DischargeAskDoc, PlanDoc, Problems, RunReadingDoc};
use crate::lines::readings;

/// Never more stretches than these.
const MOST: usize = 1024;
/// A longer silence between two readings is not bridged, s.
pub(super) const LONGEST_SILENCE_S: f64 = readings::SILENCE_H.at * 3600.0;

/// Readings next to each other.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub(crate) struct Stretch {
    /// From the reading before it, or its own first, to its last, s since 1970.
    pub(crate) from_s: f64,
    pub(crate) to_s: f64,
    /// Into the pack meanwhile, A·s and J.
    pub(crate) charge_as: f64,
    pub(crate) energy_j: f64,
    /// How long of it was bridged with a current, s.
    flowed_s: f64,
    /// As last read in it, V and A at the pack.
    pub(crate) volts: Option<f64>,
    pub(crate) amps: Option<f64>,
    /// Its last reading, displays corrected.
    pub(crate) last: RunReadingDoc,
    pub(crate) tops: Tops,
}

impl Stretch {
    /// The current over it, A; none where none was read.
    pub(crate) fn mean_a(&self) -> Option<f64> {
        if self.flowed_s > 0.0 { Some(self.charge_as / self.flowed_s) } else { self.amps }
    }

    fn join(&mut self, later: &Self) {
        self.to_s = later.to_s;
        self.charge_as += later.charge_as;
        self.energy_j += later.energy_j;
        self.flowed_s += later.flowed_s;
        self.volts = later.volts.or(self.volts);
        self.amps = later.amps.or(self.amps);
        self.last.clone_from(&later.last);
        self.tops.join(&later.tops);
    }
}

/// The sums of a log, as they are kept.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Kept {
    /// Readings a stretch.
    size: usize,
    /// Readings in the last stretch.
    open: usize,
    count: usize,
    /// When current was last read, s since 1970, with volts and amps then.
    flowing: Option<(f64, Option<f64>, f64)>,
    pub(crate) stretches: Vec<Stretch>,
}

/// The sums of a run's readings.
#[derive(Clone, Debug)]
pub struct LogSums {
    frozen: Frozen,
    kept: Kept,
}

impl LogSums {
    /// Sums of no readings yet, of a run with this plan; of a whole discharge with what takes the charge.
    ///
    /// # Errors
    /// What is wrong with the plan.
    pub fn new(plan: &PlanDoc, discharge: Option<&DischargeAskDoc>) -> Result<Self, Problems> {
        Ok(Self { frozen: Frozen::of(plan, discharge)?, kept: Kept { size: 1, ..Kept::default() } })
    }

    /// Sums that were kept, to be gone on with; none where they cannot be read.
    ///
    /// # Errors
    /// What is wrong with the plan.
    pub fn resume(
        plan: &PlanDoc,
        discharge: Option<&DischargeAskDoc>,
        kept: &serde_json::Value,
    ) -> Result<Option<Self>, Problems> {
        let frozen = Frozen::of(plan, discharge)?;
        Ok(Kept::deserialize(kept).ok().map(|kept| Self { frozen, kept }))
    }

    /// How many readings are in them.
    #[must_use]
    pub fn count(&self) -> usize {
        self.kept.count
    }

    /// When the last of them was taken, s since 1970.
    #[must_use]
    pub fn last_unix_s(&self) -> Option<f64> {
        self.kept.stretches.last().map(|stretch| stretch.to_s)
    }

    /// As they are to be kept.
    ///
    /// # Errors
    /// Never in practice: every number in them is finite.
    pub fn to_json(&self) -> Result<serde_json::Value, serde_json::Error> {
        serde_json::to_value(&self.kept)
    }

    /// A reading alone: what flowed up to it is not in it.
    fn alone(&self, row: &LogRow, from_s: f64) -> Stretch {
        let t_s = row.unix_s;
        let reading = self.frozen.corrected(&RunReadingDoc { t_s: Some(0.0), ..row.reading.clone() });
        let look = self.frozen.look(&reading);
        let mut tops = Tops::default();
        tops.take(t_s, &reading, look, &self.frozen.plan.pack.profile);
        Stretch {
            from_s,
            to_s: t_s,
            charge_as: 0.0,
            energy_j: 0.0,
            flowed_s: 0.0,
            volts: look.and_then(|look| look.pack_v),
            amps: look.and_then(|look| look.pack_a),
            last: reading,
            tops,
        }
    }

    /// A reading between others of a long log, such as one that somebody typed: it is looked at, and what the log has
    /// counted around it stands. `false` where each reading counts by itself, or this one comes after all others.
    pub fn put_between(&mut self, row: &LogRow) -> bool {
        if self.whole() || self.last_unix_s().is_none_or(|last_s| row.unix_s >= last_s) {
            return false;
        }
        let one = self.alone(row, row.unix_s);
        let at = self.kept.stretches.partition_point(|stretch| stretch.to_s <= row.unix_s);
        self.kept.stretches.insert(at, one);
        self.kept.count += 1;
        true
    }

    /// The next reading; they come in the order of their times.
    pub fn push(&mut self, row: &LogRow) {
        let t_s = row.unix_s;
        let mut one = self.alone(row, self.last_unix_s().unwrap_or(t_s));
        let (volts, amps) = (one.volts, one.amps);
        if let Some(a) = amps {
            if let Some((then_s, then_v, then_a)) =
                self.kept.flowing.filter(|(then_s, ..)| t_s - then_s <= LONGEST_SILENCE_S)
            {
                let h_s = t_s - then_s;
                one.charge_as = 0.5 * (a + then_a) * h_s;
                one.flowed_s = h_s;
                let (v0, v1) = (then_v.or(volts).unwrap_or(0.0), volts.or(then_v).unwrap_or(0.0));
                // Simpson's rule for a product of two straight lines.
                one.energy_j = h_s * (2.0 * a * v1 + 2.0 * then_a * v0 + a * v0 + then_a * v1) / 6.0;
            }
            self.kept.flowing = Some((t_s, volts, a));
        }
        self.kept.count += 1;
        match self.kept.stretches.last_mut().filter(|_| self.kept.open > 0 && self.kept.open < self.kept.size) {
            Some(open) => {
                open.join(&one);
                self.kept.open += 1;
            }
            None => {
                self.kept.stretches.push(one);
                self.kept.open = 1;
            }
        }
        if self.kept.stretches.len() > MOST && self.kept.open == self.kept.size {
            self.halve();
        }
    }

    fn halve(&mut self) {
        let before = std::mem::take(&mut self.kept.stretches);
        let odd = before.len() % 2 == 1;
        for stretch in before.chunks(2) {
            let mut joined = stretch[0].clone();
            if let Some(later) = stretch.get(1) {
                joined.join(later);
            }
            self.kept.stretches.push(joined);
        }
        // The last one stands alone and is half full.
        self.kept.open = if odd { self.kept.size } else { 2 * self.kept.size };
        self.kept.size *= 2;
    }

    pub(super) fn frozen(&self) -> &Frozen {
        &self.frozen
    }

    pub(super) fn stretches(&self) -> &[Stretch] {
        &self.kept.stretches
    }

    /// Whether each reading still stands by itself.
    pub(super) fn whole(&self) -> bool {
        self.kept.size == 1
    }
}

/// The looks at the ends of some stretches, times since `began_s`.
pub(super) fn ends(stretches: &[Stretch], began_s: f64, amps: impl Fn(&Stretch) -> Option<f64>) -> Vec<Look> {
    let look = |stretch: &Stretch| Look {
        t_s: (stretch.to_s - began_s).max(0.0),
        pack_v: stretch.volts,
        pack_a: amps(stretch),
        set_v: stretch.last.set_v,
        sure: stretch.last.sure == Some(true),
    };
    stretches.iter().map(look).collect()
}

/// What flowed between them.
pub(super) fn legs(stretches: &[Stretch]) -> Vec<Leg> {
    let leg = |stretch: &Stretch| Leg {
        volts: stretch.volts,
        amps: stretch.mean_a().unwrap_or(0.0),
        charge_as: stretch.charge_as,
    };
    stretches.iter().map(leg).collect()
}
