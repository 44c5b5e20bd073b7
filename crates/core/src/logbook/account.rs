//! What a charge came to, beside what was planned: time in each phase, energy, cost.

use super::course::Look;
use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::formats::AccountDoc;
use crate::physics::charge::Charge;

/// Nearer than this share of the charge voltage, it is reached.
const AT_VOLTAGE: f64 = 0.004;
/// Nearer than this share, a taper may begin: meter and leads are off by no more.
const NEAR_VOLTAGE: f64 = 0.02;
/// A current fallen to this share of the most, with the voltage not falling, is a taper.
const TAPERED: f64 = 0.85;
/// The current that this share of the looks stay below counts as the most.
const MOST_SHARE: f64 = 0.98;

/// What is known of a charge so far.
pub(crate) struct Sofar<'a> {
    pub(crate) looks: &'a [Look],
    pub(crate) now_s: f64,
    pub(crate) charge_ah: f64,
    pub(crate) energy_wh: f64,
}

/// The time its charge voltage was reached, between the look before and the look that showed it.
fn reached(looks: &[Look], volts: Option<f64>) -> Option<(f64, f64)> {
    let stood =
        volts.and_then(|set| looks.iter().position(|l| l.pack_v.is_some_and(|v| v >= set * (1.0 - AT_VOLTAGE))));
    // Far from what is set, a falling current is the supply's doing.
    let near = |k: &usize| volts.zip(looks[*k].pack_v).is_none_or(|(set, v)| v >= set * (1.0 - NEAR_VOLTAGE));
    let first = match (stood, tapered(looks).filter(near)) {
        (Some(a), Some(b)) => a.min(b),
        (a, b) => a.or(b)?,
    };
    let before_s = first.checked_sub(1).map_or(0.0, |before| looks[before].t_s);
    Some((before_s, looks[first].t_s))
}

/// The look at which the current had begun to fall for good while the volts stood: one that comes back
/// was an interruption, one that falls with the volts was the end.
fn tapered(looks: &[Look]) -> Option<usize> {
    let mut amps: Vec<f64> = looks.iter().filter_map(|look| look.pack_a).collect();
    amps.sort_by(f64::total_cmp);
    // Among many, the highest of all may be a slip.
    let most_a = amps.get((MOST_SHARE * amps.len().saturating_sub(1) as f64).round() as usize).copied()?;
    let full = looks.iter().rposition(|look| look.pack_a.is_some_and(|a| a >= TAPERED * most_a))?;
    let fallen = full + 1 + looks[full + 1..].iter().position(|look| look.pack_a.is_some())?;
    let standing = |v: f64| looks[full].pack_v.is_none_or(|before_v| v >= before_v * (1.0 - AT_VOLTAGE));
    (most_a > 0.0 && looks[fallen].pack_v.is_none_or(standing)).then_some(fallen)
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
    pub(crate) fn beside(
        &self,
        case: &Reckoning<'_>,
        chosen: &Chosen,
        planned: &Charge,
        fitted: &Charge,
    ) -> AccountDoc {
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
