//! A plan with what was found and chosen, and the charge it leads to.

use super::settings::{Chosen, empty_volts};
use crate::parts::identify::{Identified, identify};
use crate::parts::pack::Pack;
use crate::parts::parallel;
use crate::parts::plan::Plan;
use crate::physics::charge::{Charge, Fed, Model, Scale, Stops, simulate};

/// Where only the end of a charge is asked for, its steps may be so many times as rough …
pub(crate) const ROUGHLY: f64 = 3.0;
/// … and these where somebody turns a knob, who is less exact than that.
const BY_HAND: f64 = 6.0;

/// Where the pack stands; of unlike packs in parallel, where they stand once they have levelled.
pub(crate) fn identified(plan: &Plan) -> Identified {
    let mut found = identify(&plan.pack, plan.start_assumed);
    if !plan.members.is_empty() {
        parallel::level(&plan.members, &plan.pack, &mut found);
    }
    found
}

/// A plan with what was found and chosen.
pub(crate) struct Reckoning<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    pub(crate) chosen: Option<&'a Chosen>,
}

impl Reckoning<'_> {
    /// Computes the charge from a state of charge.
    pub(crate) fn run(&self, soc: f64, scale: Scale) -> Charge {
        match self.chosen {
            Some(chosen) => self.run_with(soc, scale, Some(self.fed(chosen)), &chosen.stops),
            None => {
                let stops = Stops {
                    goal_soc: 0.0,
                    ends_at_goal: false,
                    taper_a: None,
                    give_up_a: 1e-6,
                    most_as: f64::INFINITY,
                    roughly: 1.0,
                    stop_v: None,
                    cut_off_v: None,
                    limit_s: self.plan.settings.time_limit_h.map(|h| h * 3600.0),
                    absorption_s: None,
                    empty_v: empty_volts(&self.plan.pack),
                };
                self.run_with(soc, scale, None, &stops)
            }
        }
    }

    /// How rough the steps of a charge may be of which only the end is asked for. Where somebody comes by the clock a turn
    /// that comes at one look or at the next decides about hours.
    pub(crate) fn roughly(&self) -> f64 {
        match self.chosen.and_then(|chosen| chosen.nudge.as_ref()) {
            Some(rule) if rule.interval_s.is_some() => 1.0,
            Some(_) => BY_HAND,
            None => ROUGHLY,
        }
    }

    /// What is before the pack, as it was chosen.
    pub(crate) fn fed<'b>(&'b self, chosen: &'b Chosen) -> Fed<'b> {
        Fed {
            feed: &chosen.built.feed,
            battery: self.plan.source.as_ref().and_then(|source| source.battery.as_ref()),
            nudge: chosen.nudge.as_ref(),
            stands: false,
        }
    }

    pub(crate) fn run_with(&self, soc: f64, scale: Scale, fed: Option<Fed<'_>>, stops: &Stops) -> Charge {
        let body = self.plan.pack.body();
        let model = Model::new(body, &self.found.offsets, fed.is_some(), scale);
        let model = model.levelling(body.shunted.filter(|_| fed.is_some()), soc, scale.unlike);
        simulate(&model, soc, fed, self.plan.load, stops)
    }
}

/// Volts a cell of each position at the end of the charge, current still flowing.
pub(crate) fn end_voltages(pack: &Pack, found: &Identified, charge: &Charge) -> Vec<f64> {
    let Some(last) = charge.moments.last() else {
        return Vec::new();
    };
    let profile = &pack.profile;
    if pack.balanced {
        // What levels them has done so by then.
        return vec![last.pack_v / f64::from(pack.series); found.positions_v.len()];
    }
    let level: Vec<f64> = (0..found.positions_v.len())
        .map(|n| profile.ocv.at(charge.end.soc + found.offsets.get(n).copied().unwrap_or(0.0)).0)
        .collect();
    let mean = level.iter().sum::<f64>() / level.len().max(1) as f64;
    level.into_iter().map(|v| last.pack_v / f64::from(pack.series) + v - mean).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::chain::settings::choose;
    use crate::formats::{PlanDoc, from_value};
    use crate::parts::plan::resolve;
    use serde_json::{Value, json};

    /// When a charge of some chain is over, s, its steps so many times as rough.
    fn over_s(chain: &Value, roughly: f64) -> Option<f64> {
        let mut chain = chain.clone();
        chain["format"] = json!("rumek.plan/1");
        let document: PlanDoc = from_value(&chain).ok()?;
        let plan = resolve(&document).ok()?.plan;
        let found = identified(&plan);
        let chosen = choose(&plan, plan.source.as_ref()?, &found);
        let reckoning = Reckoning { plan: &plan, found: &found, chosen: Some(&chosen) };
        let stops = Stops { roughly, ..chosen.stops };
        reckoning.run_with(found.soc, Scale::NOMINAL, Some(reckoning.fed(&chosen)), &stops).total_s
    }

    #[test]
    fn when_a_charge_is_over_hangs_little_on_its_steps() {
        let bench = json!({ "kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 10, "max_power_w": 80 });
        let wall = json!({ "kind": "fixed_supply", "voltage_v": 14.6, "max_current_a": 10 });
        let battery = json!({ "chemistry": "lead_agm", "series": 6, "capacity_ah": 33, "start": { "soc": 0.3 } });
        for (chain, fine, rough) in [
            (json!({ "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4 }, "source": bench }), 0.001, 0.01),
            (json!({ "pack": { "chemistry": "lfp", "series": 4, "capacity_ah": 20 }, "source": bench }), 0.001, 0.01),
            // Ended because it no longer falls, which a step must not decide.
            (
                json!({ "pack": { "chemistry": "lead_agm", "series": 6, "capacity_ah": 7 }, "source": bench }),
                0.003,
                0.03,
            ),
            (json!({ "pack": { "chemistry": "nimh", "series": 8, "capacity_ah": 2 }, "source": bench }), 0.001, 0.01),
            (
                json!({ "pack": battery, "charger": { "kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 50 }, "source": wall }),
                0.001,
                0.02,
            ),
            (
                json!({ "pack": battery, "source": { "kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 15, "max_current_a": 10 } }),
                0.03,
                0.05,
            ),
        ] {
            let usual_s = over_s(&chain, 1.0).unwrap_or(f64::NAN);
            for (roughly, within) in [(0.2, fine), (3.0, rough)] {
                let other_s = over_s(&chain, roughly).unwrap_or(f64::NAN);
                assert!((other_s / usual_s - 1.0).abs() < within, "{chain}: {usual_s} s, but {other_s} s {roughly}");
            }
        }
    }
}
