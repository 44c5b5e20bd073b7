//! A battery that feeds a chain: its voltage, and what it holds.

use super::cell::Profile;

/// A battery that feeds the chain.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Battery {
    pub(crate) profile: &'static Profile,
    pub(crate) series: f64,
    pub(crate) capacity_as: f64,
    /// Its 10 s resistance, Ω.
    pub(crate) ohm: f64,
    pub(crate) soc: f64,
    pub(crate) reserve_soc: f64,
}

impl Battery {
    /// Whether it may be one that a vehicle is started with: 12 V or 24 V of lead.
    pub(crate) fn starts_vehicles(&self) -> bool {
        self.profile.traits.in_blocks && [6.0, 12.0].iter().any(|n| (self.series - n).abs() < 0.5)
    }

    /// With nothing connected, V; on the branch of a battery that is being discharged.
    pub(crate) fn open_v(&self, soc: f64) -> f64 {
        (self.profile.ocv.at(soc).0 - self.profile.hysteresis_v) * self.series
    }

    /// The lowest it may stand at with nothing connected while it feeds: at its reserve, of a kind whose
    /// curve lies low, V.
    pub(crate) fn lowest_v(&self) -> f64 {
        self.open_v(self.reserve_soc.min(self.soc)) - self.profile.curve_spread_v * self.series
    }

    /// What it gives into a short, A: at first its slow part does not count.
    pub(crate) fn short_circuit_a(&self) -> f64 {
        self.open_v(self.soc) / self.ohm.max(1e-5)
    }

    /// What it holds down to its reserve, Wh at its open voltage.
    pub(crate) fn usable_wh(&self) -> f64 {
        let middle_v = self.open_v(0.5 * (self.soc + self.reserve_soc));
        (self.soc - self.reserve_soc).max(0.0) * self.capacity_as / 3600.0 * middle_v
    }
}
