//! What the rules of a run look at.

use super::course::Look;
use crate::chain::settings::Chosen;
use crate::formats::{RunReadingDoc, SayingCode, SayingDoc, Severity, named};
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::units::in_amp_hours;

/// How often somebody looks at a run that goes as it should, s.
pub(super) const USUAL_LOOK_S: f64 = 1800.0;
/// After something was said, s.
pub(super) const SOON_S: f64 = 300.0;

/// How many times the believed resistance a pack shows, and how sure that is.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Drop {
    pub(crate) factor: f64,
    pub(crate) deviation: f64,
}

/// Everything the rules look at.
pub(crate) struct Scene<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    pub(crate) chosen: &'a Chosen,
    pub(crate) readings: &'a [RunReadingDoc],
    pub(crate) looks: &'a [Look],
    pub(crate) drop: Option<Drop>,
    /// Into the pack at the last look, as the pack stands then, A.
    pub(crate) expected_a: f64,
    /// At the terminals at the last look, as was believed before any reading, V.
    pub(crate) believed_v: f64,
    /// Into the pack so far, Ah.
    pub(crate) charge_ah: f64,
}

/// What meter and dial may be off at some volts.
pub(super) fn slack_v(volts: f64) -> f64 {
    0.006 * volts + 0.02
}

pub(super) fn saying(code: SayingCode, severity: Severity, message: String, values: &[(&str, f64)]) -> SayingDoc {
    SayingDoc { code, severity, message, values: named(values) }
}

impl Scene<'_> {
    pub(super) fn last_look(&self) -> Option<&Look> {
        self.looks.iter().rev().find(|look| look.pack_v.is_some() || look.pack_a.is_some())
    }

    pub(super) fn slack_a(amps: f64) -> f64 {
        0.06 * amps + 0.03
    }

    pub(super) fn stop_a(&self) -> f64 {
        self.chosen.stops.taper_a.unwrap_or(0.02 * in_amp_hours(self.plan.pack.nameplate))
    }

    /// Whether the terminals have come up to the charge voltage.
    pub(super) fn at_voltage(&self, volts: f64) -> bool {
        volts >= self.chosen.dial_v - slack_v(self.chosen.dial_v)
    }
}
