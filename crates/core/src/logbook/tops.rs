//! The worst of each quantity over all readings of a log, however many.

use serde::{Deserialize, Serialize};

use super::course::Look;
use super::says::cells::Cells;
use crate::formats::RunReadingDoc;
use crate::physics::cell::Profile;

/// Among so many readings or more, one alone above all others is the logger's slip.
const MANY: u32 = 20;

/// The two highest values of one quantity, each with when it was read, s.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Top {
    count: u32,
    first: Option<(f64, f64)>,
    second: Option<(f64, f64)>,
}

impl Top {
    fn take(&mut self, t_s: f64, value: Option<f64>) {
        let Some(value) = value.filter(|value| value.is_finite()) else { return };
        self.count = self.count.saturating_add(1);
        self.offer((t_s, value));
    }

    fn offer(&mut self, one: (f64, f64)) {
        if self.first.is_none_or(|first| one.1 > first.1) {
            self.second = self.first.replace(one);
        } else if self.second.is_none_or(|second| one.1 > second.1) {
            self.second = Some(one);
        }
    }

    fn since(&self, began_s: f64) -> Self {
        let shift = |one: Option<(f64, f64)>| one.map(|(t_s, value)| ((t_s - began_s).max(0.0), value));
        Self { first: shift(self.first), second: shift(self.second), ..*self }
    }

    fn join(&mut self, other: Self) {
        self.count = self.count.saturating_add(other.count);
        [other.first, other.second].into_iter().flatten().for_each(|one| self.offer(one));
    }

    /// The highest, with when it was, s; of many the one after it.
    pub(crate) fn highest(&self) -> Option<(f64, f64)> {
        if self.count >= MANY { self.second } else { self.first }
    }
}

/// The worst of a log, times in the clock of its readings.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize)]
pub(crate) struct Tops {
    pub(crate) pack_v: Top,
    pub(crate) cell_v: Top,
    pub(crate) temperature_c: Top,
    /// A cell below the mean of all, V.
    pub(crate) behind_v: Top,
    /// A cell above the mean of all while it is nearly full, V.
    pub(crate) ahead_v: Top,
    /// The first temperature read, °C.
    pub(crate) first_c: Option<f64>,
}

impl Tops {
    /// One reading.
    pub(crate) fn take(&mut self, t_s: f64, reading: &RunReadingDoc, look: Option<Look>, profile: &Profile) {
        self.pack_v.take(t_s, look.and_then(|look| look.pack_v));
        self.temperature_c.take(t_s, reading.temperature_c);
        self.first_c = self.first_c.or(reading.temperature_c);
        let Some(cells) = reading.cell_voltages_v.as_deref().and_then(Cells::of) else { return };
        self.cell_v.take(t_s, Some(cells.highest_v));
        self.behind_v.take(t_s, Some(cells.mean_v - cells.lowest_v));
        let near = cells.highest_v >= profile.least_full_v() - 0.02;
        self.ahead_v.take(t_s, near.then_some(cells.highest_v - cells.mean_v));
    }

    /// The same with its times counted from a moment.
    pub(crate) fn since(&self, began_s: f64) -> Self {
        Self {
            pack_v: self.pack_v.since(began_s),
            cell_v: self.cell_v.since(began_s),
            temperature_c: self.temperature_c.since(began_s),
            behind_v: self.behind_v.since(began_s),
            ahead_v: self.ahead_v.since(began_s),
            ..*self
        }
    }

    /// Those of later readings as well.
    pub(crate) fn join(&mut self, later: &Self) {
        self.pack_v.join(later.pack_v);
        self.cell_v.join(later.cell_v);
        self.temperature_c.join(later.temperature_c);
        self.behind_v.join(later.behind_v);
        self.ahead_v.join(later.ahead_v);
        self.first_c = self.first_c.or(later.first_c);
    }
}
