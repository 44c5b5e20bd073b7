//! A resistor in place of somebody who turns a voltage up: what it must be, and what the charge comes to.

use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::physics::charge::{Charge, Fed, Scale, Stops};
use crate::units::trimmed;

/// So many turns are nobody's evening.
const MANY_TURNS: usize = 12;

/// A resistor between what is turned up by hand and the pack.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Resistor {
    /// So large that at the volts that are never passed no more flows at first than may, rounded up to two digits, Ω.
    pub(crate) ohm: f64,
    /// Twice what it takes at first, W.
    pub(crate) watts: f64,
}

impl Resistor {
    pub(crate) fn words(self) -> String {
        format!("A resistor of {} Ω and {} W between", trimmed(self.ohm, 4), trimmed(self.watts, 0))
    }
}

/// The resistor that spares most turns of a charge; `None` where nobody turns a voltage up often.
pub(crate) fn sparing_turns(chosen: &Chosen, rest_v: f64, turns: usize) -> Option<Resistor> {
    let rule = chosen.nudge.filter(|rule| turns > MANY_TURNS && rule.top_duty.is_none())?;
    let over_v = chosen.dial_v - rest_v;
    let least_ohm = over_v / rule.target_a;
    let step_ohm = 10f64.powf(least_ohm.log10().floor() - 1.0);
    (over_v > 0.0).then(|| Resistor {
        // Rounded down, more would flow than may.
        ohm: (least_ohm / step_ohm).ceil() * step_ohm,
        watts: (2.0 * over_v * rule.target_a).ceil(),
    })
}

/// The charge through it, set once to the volts that are never passed.
pub(crate) fn through(reckoning: &Reckoning<'_>, chosen: &Chosen, resistor: Resistor, stops: &Stops) -> Charge {
    let mut feed = chosen.built.feed;
    feed.hold.volts = chosen.dial_v;
    feed.hold.ohm += resistor.ohm;
    let fed = Fed { feed: &feed, nudge: None, ..reckoning.fed(chosen) };
    reckoning.run_with(reckoning.found.soc, Scale::NOMINAL, Some(fed), stops)
}
