//! What a cell gives in cold and warmth and at other rates than it is rated for, and what it loses while it stands.

/// How a kind of cell keeps and gives what it holds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Keeping {
    /// The rate its capacities are compared at, C.
    pub(crate) reference_c: f64,
    /// The share it gives at a temperature, °C, of what it gives at 25 °C; straight between these.
    pub(crate) gives_by_c: &'static [(f64, f64)],
    /// Peukert's exponent less one: at `n` times the reference rate it gives `n^−this` of it.
    pub(crate) gives_less: f64,
    /// It loses so much in 30 days at 25 °C: usually, at least and at most of a sound one, as shares of its capacity.
    pub(crate) loses: [f64; 3],
    /// Each so many kelvin warmer it loses twice as much.
    pub(crate) doubles_k: f64,
    /// Standing above the first of these, a state of charge, ages it after so many days; `None` where it does not.
    pub(crate) too_full: Option<(f64, f64)>,
    /// Below this state of charge it is to be topped up.
    pub(crate) too_low_soc: f64,
    /// It is topped up after standing for so long however full it is, days; `None` where it need not be.
    pub(crate) stands_days: Option<f64>,
}

impl Keeping {
    /// The share it gives at a temperature, °C, of what it gives at 25 °C.
    pub(crate) fn gives_at(&self, temperature_c: f64) -> f64 {
        let table = self.gives_by_c;
        let after = table.partition_point(|(c, _)| *c <= temperature_c);
        match (after.checked_sub(1).and_then(|n| table.get(n)), table.get(after)) {
            (Some((from_c, from)), Some((to_c, to))) => from + (to - from) * (temperature_c - from_c) / (to_c - from_c),
            (Some((_, last)), None) => *last,
            (None, Some((_, first))) => *first,
            (None, None) => 1.0,
        }
    }

    /// The share it gives at a rate, C, of what it gives at the reference rate.
    pub(crate) fn gives_at_rate(&self, c_rate: f64) -> f64 {
        (c_rate / self.reference_c).max(1e-3).powf(-self.gives_less)
    }

    /// Factor on what it loses at a temperature, °C.
    pub(crate) fn loses_at(&self, temperature_c: f64) -> f64 {
        2_f64.powf((temperature_c - 25.0) / self.doubles_k)
    }
}
