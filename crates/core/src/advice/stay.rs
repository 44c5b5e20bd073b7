//! What it saves to stay with a charge that is turned up by hand and only looked at now and then.

use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::formats::WhatIfDoc;
use crate::physics::charge::{Charge, Fed, NudgeRule, Scale, Stops};
use crate::units::{show_hours, trimmed};

/// So many hours somebody may stay: a morning, an evening, a day.
const HOURS: [f64; 4] = [1.0, 2.0, 4.0, 8.0];
/// Whoever stays that long wants the charge to take no more than this share of its time.
const TAKES: f64 = 0.6;

/// The shortest stay at first that shortens the charge by much: then its current falls most, and every turn counts.
pub(super) fn by_staying(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge) -> Option<WhatIfDoc> {
    let rule = chosen.nudge.as_ref().filter(|rule| rule.interval_s.is_some())?;
    let total_s = base.total_s?;
    let stops = Stops { roughly: reckoning.roughly(), ..chosen.stops };
    let longer = |stay_s: &f64| *stay_s > rule.attended_s && *stay_s < TAKES * total_s;
    HOURS.into_iter().map(|hours| hours * 3600.0).filter(longer).find_map(|stay_s| {
        let staying = NudgeRule { attended_s: stay_s, ..*rule };
        let fed = Fed { nudge: Some(&staying), ..reckoning.fed(chosen) };
        let faster = reckoning.run_with(reckoning.found.soc, Scale::NOMINAL, Some(fed), &stops);
        let takes_s = faster.total_s.filter(|takes_s| *takes_s < TAKES * total_s)?;
        let stay = if takes_s <= stay_s {
            "Stay with it".to_owned()
        } else {
            format!("Stay for the first {}", show_hours(stay_s / 3600.0))
        };
        let message = format!(
            "{stay}, and turn it up whenever the current has fallen: {} in all instead of {}, {} % of the time",
            show_hours(takes_s / 3600.0),
            show_hours(total_s / 3600.0),
            trimmed(100.0 * takes_s / total_s, 0)
        );
        Some(WhatIfDoc {
            without: LimitCode::Nudge,
            at: chosen.places().of(LimitCode::Nudge),
            total_s: Some(takes_s),
            saves_s: total_s - takes_s,
            gains_soc: None,
            advised: true,
            size: None,
            message,
        })
    })
}
