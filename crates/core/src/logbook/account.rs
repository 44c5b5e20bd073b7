//! What a charge came to, beside what was planned: time in each phase, energy, cost.

use super::course::Look;
use crate::answer::Case;
use crate::charge::Charge;
use crate::document::AccountDoc;
use crate::settings::Chosen;

/// Nearer than this share of the charge voltage, it is reached.
const AT_VOLTAGE: f64 = 0.004;
/// A current fallen to this share of the most, with the voltage not falling, is a taper.
const TAPERED: f64 = 0.85;

/// What is known of a charge so far.
pub(crate) struct Sofar<'a> {
    pub(crate) looks: &'a [Look],
    pub(crate) now_s: f64,
    pub(crate) charge_ah: f64,
    pub(crate) energy_wh: f64,
}

/// The time its charge voltage was reached, between the look before and the look that showed it.
fn reached(looks: &[Look], volts: Option<f64>) -> Option<(f64, f64)> {
    let most_a = looks.iter().filter_map(|look| look.pack_a).fold(0.0, f64::max);
    let mut before = 0.0;
    let mut highest_a: f64 = 0.0;
    for look in looks {
        highest_a = highest_a.max(look.pack_a.unwrap_or(0.0));
        let stands = volts.zip(look.pack_v).is_some_and(|(set, v)| v >= set * (1.0 - AT_VOLTAGE));
        let tapers = highest_a > 0.99 * most_a && look.pack_a.is_some_and(|a| a < TAPERED * most_a);
        if stands || tapers {
            return Some((before, look.t_s));
        }
        before = look.t_s;
    }
    None
}

impl Sofar<'_> {
    /// Of a charge without a plan: what its readings alone tell.
    pub(crate) fn alone(&self) -> AccountDoc {
        AccountDoc {
            total_s: self.now_s,
            to_cv_s: reached(self.looks, None).map(|(_, at_s)| at_s),
            charge_ah: self.charge_ah,
            energy_wh: self.energy_wh,
            ..AccountDoc::default()
        }
    }

    /// Beside what was planned; `fitted` is the charge of the pack as its readings make it out to be.
    pub(crate) fn beside(&self, case: &Case<'_>, chosen: &Chosen, planned: &Charge, fitted: &Charge) -> AccountDoc {
        // Where no charge voltage is held, as behind a lamp, none is reached.
        let between = planned.to_cv_s.and_then(|_| reached(self.looks, Some(chosen.dial_v)));
        // Looks are far apart: within them the model says when.
        let to_cv_s = between.map(|(from_s, to_s)| fitted.to_cv_s.unwrap_or(to_s).clamp(from_s, to_s));
        let predicted = case.delivered(planned, 0.0);
        let share = if predicted.energy_wh > 0.0 { self.energy_wh / predicted.energy_wh } else { 0.0 };
        let walled = predicted.mains_wh > 0.0;
        AccountDoc {
            total_s: self.now_s,
            total_predicted_s: planned.total_s,
            to_cv_s,
            to_cv_predicted_s: planned.to_cv_s,
            charge_ah: self.charge_ah,
            charge_predicted_ah: Some(predicted.charge_ah),
            energy_wh: self.energy_wh,
            energy_predicted_wh: Some(predicted.energy_wh),
            mains_wh: walled.then_some(predicted.mains_wh * share),
            mains_predicted_wh: walled.then_some(predicted.mains_wh),
            cost: predicted.cost.map(|cost| cost * share),
            cost_predicted: predicted.cost,
        }
    }
}
