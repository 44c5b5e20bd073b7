//! All that a check may look at.

use super::most::{Most, most};
use crate::acts::{Act, ActKind};
use crate::chain::feed::Control;
use crate::chain::may::Subject;
use crate::chain::settings::Chosen;
use crate::codes::EndReason;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::physics::charge::{Charge, Model, Scale, State};
use crate::physics::operating::LoadDraw;
use crate::units::{in_amps, volts};

/// Whether nothing comes into the pack at any moment, and nothing draws from it.
pub(crate) fn nothing_flows(plan: &Plan, charge: &Charge) -> bool {
    let first_a = charge.moments.first().map_or(0.0, |m| m.current_a);
    plan.load == LoadDraw::None && charge.reason == EndReason::Stalled && charge.charge_as <= 0.0 && first_a <= 1e-6
}

/// Whether the pack holds as much as is wanted already, and nothing draws from it.
pub(crate) fn charges_nothing(plan: &Plan, charge: &Charge) -> bool {
    plan.load == LoadDraw::None && charge.reason == EndReason::GoalBelowStart
}

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
    /// The charge as the act that somebody is told to do; without a source a pack only gives.
    pub(crate) fn act(&self) -> Act<'_> {
        let Self { plan, found, chosen, charge, most } = self;
        let dialled = chosen.filter(|chosen| matches!(chosen.built.control, Control::Dial | Control::Hand));
        // A set current is judged as set: what a supply can give today it may not be tomorrow.
        let set_a = plan.settings.current_a.filter(|_| dialled.is_some());
        let unloaded_a = dialled.filter(|_| plan.load != LoadDraw::None).map(|chosen| chosen.current_a());
        let highest_v = charge.moments.iter().map(|m| m.pack_v).fold(found.rest_v, f64::max);
        let highest_v = chosen.map_or(highest_v, |chosen| highest_v.max(chosen.dial_v));
        Act {
            kind: if chosen.is_some() { ActKind::Charge } else { ActKind::Discharge },
            subject: Subject { pack: &plan.pack, found, practice: plan.practice },
            around_c: plan.around_c,
            dials: dialled.is_some(),
            asked_a: set_a.unwrap_or(most.pack_a),
            most_a: most.pack_a,
            likely_a: self.most_a(),
            unloaded_a,
            highest_v: plan.source.as_ref().map_or(highest_v, |source| source.may_stand_at(highest_v)),
            lasts_s: charge.total_s.unwrap_or(charge.end.t_s),
        }
    }

    /// Current into the pack at first, A.
    pub(crate) fn first_a(&self) -> f64 {
        self.charge.moments.first().map_or(0.0, |m| m.current_a)
    }

    /// Whether nothing comes in at any moment, and nothing draws from the pack.
    pub(crate) fn nothing_flows(&self) -> bool {
        nothing_flows(self.plan, self.charge)
    }

    /// Of a current what its supply is made for, where nothing stands between, A.
    pub(crate) fn fed_a(&self, current_a: f64) -> f64 {
        let source = self.plan.source.as_ref().filter(|_| self.plan.charger.is_none());
        let rated = self.chosen.zip(source).and_then(|(chosen, source)| source.current_at(volts(chosen.dial_v)));
        rated.map_or(current_a, |rated| current_a.min(in_amps(rated)))
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
