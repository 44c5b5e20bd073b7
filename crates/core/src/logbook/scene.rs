//! What the rules of a run look at.

use super::course::Look;
use super::foreseen::{Doubt, Foreseen};
use super::slack::slack_v;
use crate::chain::settings::Chosen;
use crate::formats::{RunReadingDoc, SayingCode, SayingDoc, Severity, named};
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::units::in_amp_hours;

/// How often somebody looks at a run that goes as it should, s.
pub(super) const USUAL_LOOK_S: f64 = 1800.0;
/// The first look, once current flows, s: whether it flows, and how much.
pub(super) const FIRST_LOOK_S: f64 = 90.0;
/// Until then whatever goes wrong at once has shown, s: the next look.
pub(super) const BEGUN_S: f64 = 600.0;
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
    /// What the last look was to show by what was known before it.
    pub(crate) due: Foreseen,
    /// Why the last look may not teach, where it may not.
    pub(crate) doubt: Option<Doubt>,
    /// What a knob was to be turned to by then, V; `None` where none is turned.
    pub(crate) turned_v: Option<f64>,
    /// Into the pack so far, Ah.
    pub(crate) charge_ah: f64,
}

pub(super) fn saying(code: SayingCode, severity: Severity, message: String, values: &[(&str, f64)]) -> SayingDoc {
    SayingDoc { code, severity, message, values: named(values), ask: None }
}

impl Scene<'_> {
    pub(super) fn last_look(&self) -> Option<&Look> {
        self.looks.iter().rev().find(|look| look.pack_v.is_some() || look.pack_a.is_some())
    }

    /// The field of the last reading that its volts at the pack come from.
    pub(super) fn volts_field(&self) -> &'static str {
        let last = self.readings.last();
        match last {
            Some(r) if r.terminal_v.is_some() => "/reading/terminal_v",
            Some(r) if r.bms_v.is_some() => "/reading/bms_v",
            Some(r) if r.charger_v.is_some() => "/reading/charger_v",
            _ => "/reading/source_v",
        }
    }

    /// The field of the last reading that its amps come from.
    pub(super) fn amps_field(&self) -> &'static str {
        let last = self.readings.last();
        match last {
            Some(r) if r.terminal_a.is_some() => "/reading/terminal_a",
            Some(r) if r.bms_a.is_some() => "/reading/bms_a",
            Some(r) if r.charger_a.is_some() => "/reading/charger_a",
            _ => "/reading/source_a",
        }
    }

    /// Some volts with the point elsewhere, or of the pack instead of one cell, where those fit.
    pub(super) fn other_scale(&self, volts: f64) -> Option<f64> {
        let series = f64::from(self.plan.pack.series);
        let due = self.due.volts;
        let others = [volts / 10.0, volts * 10.0, volts * series, volts / series];
        others.into_iter().find(|other| (due.low..=due.high).contains(other))
    }

    pub(super) fn stop_a(&self) -> f64 {
        self.chosen.stops.taper_a.unwrap_or(0.02 * in_amp_hours(self.plan.pack.nameplate))
    }

    /// Whether the terminals have come up to the charge voltage.
    pub(super) fn at_voltage(&self, volts: f64) -> bool {
        volts >= self.chosen.dial_v - slack_v(self.chosen.dial_v)
    }
}
