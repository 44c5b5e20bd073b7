//! All that a check may look at.

use super::most::{Most, most};
use crate::chain::settings::Chosen;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::physics::charge::{Charge, Model, Scale, State};

/// All that a check may look at.
pub(crate) struct Situation<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    /// Absent without a source.
    pub(crate) chosen: Option<&'a Chosen>,
    pub(crate) charge: &'a Charge,
    /// The most that flows at any voltage; nothing without a source.
    pub(crate) most: Most,
}

impl<'a> Situation<'a> {
    pub(crate) fn new(plan: &'a Plan, found: &'a Identified, chosen: Option<&'a Chosen>, charge: &'a Charge) -> Self {
        let most = chosen.map(|chosen| most(plan, found, chosen, charge)).unwrap_or_default();
        Self { plan, found, chosen, charge, most }
    }
}

impl Situation<'_> {
    /// Current into the pack at first, A.
    pub(crate) fn first_a(&self) -> f64 {
        self.charge.moments.first().map_or(0.0, |m| m.current_a)
    }

    /// The pack's resistance at the first moment, Ω.
    pub(crate) fn pack_ohm(&self) -> f64 {
        crate::units::in_ohms(self.plan.pack.resistance)
    }

    /// What of that answers at once, Ω.
    pub(crate) fn at_once_ohm(&self) -> f64 {
        let model = Model::new(self.plan.pack.body(), &self.found.offsets, true, Scale::NOMINAL);
        model.now(&State::rested(self.found.soc)).r_ohm
    }

    /// The highest voltage the pack's terminals may come to, V.
    pub(crate) fn ends_by(&self) -> Option<f64> {
        let chosen = self.chosen?;
        let relay = self.plan.cut_off.map(|relay| relay.opens_v() + relay.error_v);
        [relay, chosen.stops.stop_v].into_iter().flatten().min_by(f64::total_cmp)
    }

    /// The largest current into the pack, A.
    pub(crate) fn most_a(&self) -> f64 {
        self.charge.moments.iter().map(|m| m.current_a).fold(0.0, f64::max)
    }
}
