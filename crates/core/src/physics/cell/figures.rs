//! The figures of one cell, to be read by who reckons with cells in a way of their own.

use super::list::profile;
use super::profile::Profile;
use crate::codes::Chemistry;

/// What a kind of cell is like: volts a cell, at 25 °C where nothing else is said.
#[derive(Clone, Copy, Debug)]
pub struct CellFigures(&'static Profile);

impl CellFigures {
    /// The figures of a chemistry; `None` for `custom`, whose figures come with the pack.
    #[must_use]
    pub fn of(chemistry: Chemistry) -> Option<Self> {
        profile(chemistry).map(Self)
    }

    /// The usual charge voltage, V.
    #[must_use]
    pub fn full_v(&self) -> f64 {
        self.0.full_v
    }

    /// The highest charge voltage at a temperature (°C), V.
    #[must_use]
    pub fn ceiling_v(&self, temperature_c: f64) -> f64 {
        self.0.ceiling_at(temperature_c)
    }

    /// What a temperature (°C) adds to its charge voltages, V.
    #[must_use]
    pub fn compensation_v(&self, temperature_c: f64) -> f64 {
        self.0.compensation_v(temperature_c)
    }

    /// Whether a label may name a higher charge voltage than is usual for it.
    #[must_use]
    pub fn label_says_ceiling(&self) -> bool {
        self.0.traits.label_says_ceiling
    }

    /// Deeply discharged below this, V; 0 where empty is normal.
    #[must_use]
    pub fn deep_below_v(&self) -> f64 {
        self.0.precharge_below_v
    }

    /// The coldest and the hottest it may be charged, °C.
    #[must_use]
    pub fn window_c(&self) -> (f64, f64) {
        (self.0.window.min_c, self.0.window.max_c)
    }

    /// Nobody charges it faster than this where its label says nothing, C.
    #[must_use]
    pub fn refused_above_c_rate(&self) -> f64 {
        self.0.rates.refuse_above
    }

    /// … and whatever its label says, C.
    #[must_use]
    pub fn most_c_rate(&self) -> f64 {
        if self.0.traits.label_boasts { self.0.rates.last_word } else { f64::INFINITY }
    }

    /// What it is usually charged with, C.
    #[must_use]
    pub fn usual_c_rate(&self) -> f64 {
        self.0.rates.standard
    }

    /// Whether its charge is its voltage, counted in farads.
    #[must_use]
    pub fn counts_farads(&self) -> bool {
        self.0.traits.farads
    }

    /// Whether it is ended by time or by a sign of its own, not by a falling current.
    #[must_use]
    pub fn timed(&self) -> bool {
        self.0.traits.timed
    }

    /// Rest voltage midway between the branch after a charge and the one after a discharge, V, and its slope,
    /// V per unit of charge; beyond empty and full as the curve leaves there.
    #[must_use]
    pub fn rest_v(&self, soc: f64) -> (f64, f64) {
        self.0.ocv.at(soc)
    }

    /// Half the distance between those branches, V.
    #[must_use]
    pub fn hysteresis_v(&self) -> f64 {
        self.0.hysteresis_v
    }

    /// By so much a kind of cell sold under its name differs from its curve, V.
    #[must_use]
    pub fn curve_spread_v(&self) -> f64 {
        self.0.curve_spread_v
    }

    /// Its 10 s DC resistance times its capacity, Ω·Ah, at mid charge.
    #[must_use]
    pub fn ohm_ah(&self) -> f64 {
        self.0.resistance_ohm_ah
    }

    /// Factor on its resistance at a temperature, °C.
    #[must_use]
    pub fn ohm_by_temperature(&self, temperature_c: f64) -> f64 {
        self.0.warmed(25.0, temperature_c)
    }

    /// Factor on what answers at once, by state of charge.
    #[must_use]
    pub fn ohm_by_soc(&self, soc: f64) -> f64 {
        self.0.resistance_by_soc.at(soc)
    }

    /// Its three slow pairs: resistance as a multiple of the 10 s one, time constant in s.
    #[must_use]
    pub fn pairs(&self) -> [(f64, f64); 3] {
        self.0.rc.map(|pair| (pair.ratio, pair.tau_s))
    }

    /// Factor on the slow pairs at a state of charge, while current flows in or out.
    #[must_use]
    pub fn slow_by_soc(&self, soc: f64, charging: bool) -> f64 {
        if charging { self.0.slow_by_soc.at(soc) } else { self.0.discharge.slow }
    }

    /// The share of a charge current that is kept, at a rate (C) and a temperature (°C).
    #[must_use]
    pub fn keeps(&self, soc: f64, c_rate: f64, temperature_c: f64) -> f64 {
        self.0.kept(soc, c_rate) * self.0.keeps_at(temperature_c)
    }
}
