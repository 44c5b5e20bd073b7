//! The readings of a run, ready to be understood.

use super::course::{Drive, Look, Mean};
use super::frozen::Frozen;
use super::tops::Tops;
use super::way::Leg;
use crate::formats::RunReadingDoc;

/// What the readings of a run come to, ready to be understood.
pub(super) struct Material {
    /// Corrected, by their times; of a long log the last of each stretch.
    pub(super) readings: Vec<RunReadingDoc>,
    pub(super) looks: Vec<Look>,
    /// The same with the current that flowed on average up to each.
    pub(super) flowed: Vec<Look>,
    /// Of a long log: what flowed between the looks, and into the pack in all, Ah and Wh.
    pub(super) means: Vec<Mean>,
    pub(super) put_in: Option<(f64, f64)>,
    pub(super) tops: Tops,
    pub(super) legs: Vec<Leg>,
    pub(super) count: usize,
}

impl Material {
    /// Of readings that each stand by themselves.
    pub(super) fn each(frozen: &Frozen, readings: Vec<RunReadingDoc>) -> Self {
        let looks: Vec<Look> = readings.iter().filter_map(|reading| frozen.look(reading)).collect();
        let mut tops = Tops::default();
        for reading in &readings {
            tops.take(reading.t_s.unwrap_or(0.0), reading, frozen.look(reading), &frozen.plan.pack.profile);
        }
        let with_amps: Vec<(f64, Option<f64>, f64)> =
            looks.iter().filter_map(|look| Some((look.t_s, look.pack_v, look.pack_a?))).collect();
        let leg = |pair: &[(f64, Option<f64>, f64)]| {
            let ((t0, _, a0), (t1, volts, a1)) = (pair[0], pair[1]);
            Leg { volts, amps: a1, charge_as: 0.5 * (a0 + a1) * (t1 - t0) }
        };
        let legs = with_amps.windows(2).map(leg).collect();
        let count = readings.len();
        Self { flowed: looks.clone(), readings, looks, means: Vec::new(), put_in: None, tops, legs, count }
    }

    pub(super) fn drive(&self, predicted: impl Fn(f64) -> f64) -> Drive {
        Drive::new(&self.looks, predicted).with(self.means.clone())
    }

    /// Charge and energy into the pack until the last reading, Ah and Wh.
    pub(super) fn put_in(&self, drive: &Drive) -> (f64, f64) {
        self.put_in.unwrap_or_else(|| put_in(&self.looks, drive))
    }
}

/// Charge and energy into the pack until the last reading, Ah and Wh.
pub(super) fn put_in(looks: &[Look], drive: &Drive) -> (f64, f64) {
    let last_s = looks.last().map_or(0.0, |look| look.t_s);
    let volts: Vec<(f64, f64)> = looks.iter().filter_map(|look| Some((look.t_s, look.pack_v?))).collect();
    let volts_at = |t_s: f64| {
        let after = volts.partition_point(|(t, _)| *t < t_s);
        match (after.checked_sub(1).and_then(|n| volts.get(n)), volts.get(after)) {
            (Some((t0, v0)), Some((t1, v1))) if t1 > t0 => v0 + (t_s - t0) / (t1 - t0) * (v1 - v0),
            (_, Some((_, v))) | (Some((_, v)), None) => *v,
            (None, None) => 0.0,
        }
    };
    let (charge_as, energy_j) = drive.brought(last_s, volts_at);
    (charge_as / 3600.0, energy_j / 3600.0)
}
