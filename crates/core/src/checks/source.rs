//! Checks of what feeds the pack.

use super::{CheckCode, Finding, Situation};
use crate::chain::LimitCode;
use crate::document::{Severity, Wiring};
use crate::units::{in_amps, in_volts, trimmed, volts};

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(source), Some(chosen)) = (&s.plan.source, s.chosen) else {
        return;
    };
    let rated_a = source.current_at(volts(chosen.dial_v)).map_or(f64::INFINITY, in_amps);
    if !source.limits_current() && chosen.inrush_a > rated_a {
        findings.push(Finding::stop(
            CheckCode::SourceNoCurrentLimit,
            format!(
                "At {} V this pack would draw about {} A at once, the supply gives {} A with headroom and has no current limit: it trips, or burns. Use one that limits current.",
                trimmed(chosen.dial_v, 2), trimmed(chosen.inrush_a, 0), trimmed(rated_a, 1)
            ),
            &[("inrush_a", chosen.inrush_a), ("rated_a", rated_a)],
        ));
    }
    if source.units > 1 && source.wiring == Wiring::Series && source.isolated != Some(true) {
        let known =
            if source.isolated.is_none() { "It is not known whether the outputs are" } else { "The outputs are not" };
        findings.push(Finding::stop(
            CheckCode::SourceNotIsolated,
            format!("{known} isolated: in series one may short another through the mains earth. Check with a meter, supplies unplugged."),
            &[("units", f64::from(source.units))],
        ));
    }
    if chosen.feed.voltage_code == LimitCode::SourceVoltage {
        let end_soc = s.charge.end.soc;
        let severity = if chosen.stops.goal_soc - end_soc > 0.03 { Severity::Caution } else { Severity::Note };
        findings.push(Finding::new(
            CheckCode::SourceTooLowToFill,
            severity,
            format!(
                "The supply reaches {} V, this charge wants {} V: the pack ends at about {} %.",
                trimmed(chosen.dial_v, 2),
                trimmed(chosen.wanted_v, 2),
                trimmed(end_soc * 100.0, 0)
            ),
            &[("voltage_v", chosen.dial_v), ("wanted_v", chosen.wanted_v), ("end_soc", end_soc)],
        ));
    }
    if chosen.folded {
        findings.push(Finding::caution(
            CheckCode::SourceOverloaded,
            format!("The pack asks for more than the supply's rating: it folds back and gives about {} A until the pack has come up.", trimmed(chosen.feed.current_a, 2)),
            &[("current_a", chosen.feed.current_a)],
        ));
    }
    let step_v = in_volts(source.step);
    if source.dials_current() && step_v / f64::from(s.plan.pack.series) > 0.02 {
        findings.push(Finding::caution(
            CheckCode::SourceStepTooCoarse,
            format!(
                "One step of its voltage setting is {} V: set below the wanted voltage, never above.",
                trimmed(step_v, 2)
            ),
            &[("step_v", step_v)],
        ));
    }
    findings.push(Finding::note(
        CheckCode::SourceBackFeed,
        "A supply that is switched off, or trips, is fed backwards by the pack, its display lit while nothing charges: part them before the supply goes off.".to_owned(),
        &[],
    ));
}
