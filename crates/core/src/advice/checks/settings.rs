//! Checks of what is dialled, and of who ends the charge.

use super::situation::Situation;
use crate::acts::{BreakOff, Finding};
use crate::advice::resistor::sparing_turns;
use crate::chain::feed::Control;
use crate::chain::reckoning::end_voltages;
use crate::chain::settings::{Chosen, full_voltage};
use crate::codes::CheckCode;
use crate::formats::{EndReason, Practice};
use crate::lines::{cells, ends, rates};
use crate::parts::charger::Charger;
use crate::parts::identify::Identified;
use crate::parts::lead::SLACK;
use crate::parts::plan::Plan;
use crate::parts::source::Source;
use crate::physics::charge::{Charge, Moment};
use crate::units::{show_hours, trimmed};

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let Some(chosen) = s.chosen else { return };
    let series = f64::from(s.plan.pack.series);
    let reach_v = s.plan.settings.voltage_v.map_or(chosen.dial_v, |set_v| set_v.max(chosen.dial_v));
    // A source that droops stands higher once the pack takes little, and with the mains high.
    let bare = s.plan.charger.as_ref().is_none_or(|c| c.kind.passive());
    let open_v = s.plan.source.as_ref().filter(|source| bare && !source.regulated()).map_or(0.0, |s| s.highest_v);
    let reach_v = reach_v.max(open_v);
    // A limiter, or anything else that holds no voltage, may stand before more than the pack may
    // have, if something ends the charge in time.
    let source_holds = s.plan.charger.is_none() && s.plan.source.as_ref().is_some_and(Source::regulated);
    let charger_holds = chosen.built.holds_voltage && s.plan.charger.as_ref().is_some_and(|c| !c.kind.passive());
    let asked_v = match s.ends_by() {
        Some(end_v) if !source_holds && !charger_holds => end_v.min(reach_v),
        _ => reach_v,
    };
    let level_problem = highest_cell_problem(s);
    if asked_v > chosen.ceiling_v + 1e-3 {
        findings.push(set_lower(s, chosen, Finding::stop(
            CheckCode::SettingsVoltageTooHigh,
            if chosen.ceiling_v < s.plan.pack.profile.full_v * series - 1e-3 && s.plan.pack.smaller > 0.0 {
                format!(
                    "At {} V the smallest of these capacitors, {} % below the others, would pass its {} V, because nothing shunts it: no more than {} V together. {}",
                    trimmed(asked_v, 2),
                    trimmed(s.plan.pack.smaller * 100.0, 0),
                    trimmed(s.plan.pack.profile.full_v, 2),
                    trimmed(chosen.ceiling_v, 2),
                    s.plan.pack.profile.words.overcharged
                )
            } else {
                format!(
                    "{} V is {} V a cell; {} is never charged above {} V. {}",
                    trimmed(asked_v, 2),
                    trimmed(asked_v / series, 3),
                    s.plan.pack.profile.name,
                    trimmed(chosen.ceiling_v / series, 3),
                    s.plan.pack.profile.words.overcharged
                )
            },
            &[("voltage_v", asked_v), ("ceiling_v", chosen.ceiling_v)],
        )));
    } else if let Some((cell_v, ceiling_v)) = level_problem {
        findings.push(set_lower(
            s,
            chosen,
            Finding::stop(
                CheckCode::SettingsVoltageTooHigh,
                format!(
                    "At {} V the highest cell would reach {} V, past its {} V, because nothing levels the cells. {}",
                    trimmed(chosen.dial_v, 2),
                    trimmed(cell_v, 3),
                    trimmed(ceiling_v, 3),
                    if chosen.built.voltage_at.is_some() {
                        "Leave the voltage open: Rumek lowers it."
                    } else {
                        "This supply cannot be set lower. Level the cells first, or use one that can."
                    }
                ),
                &[("voltage_v", chosen.dial_v), ("cell_v", cell_v), ("ceiling_v", ceiling_v)],
            ),
        ));
    }
    above_full(s, chosen, findings);
    unturned(s, chosen, findings);
    not_held(s, chosen, findings);
    by_hand(s, chosen, asked_v < reach_v, findings);
    absorption(s, chosen, findings);
    days(s, findings);
    display(chosen, findings);
    if s.plan.pack.profile.traits.timed || s.charge.reason == EndReason::GoalBelowStart {
        return;
    }
    let ends_itself = s.plan.charger.as_ref().is_some_and(Charger::terminates) || s.charge.reason == EndReason::CutOff;
    if let Some(total_s) = s.charge.total_s.filter(|_| !ends_itself) {
        findings.push(Finding::caution(
            CheckCode::SettingsNoTermination,
            format!(
                "Nothing here ends the charge: you do, about {} after the start. {} {} V.",
                show_hours(total_s / 3600.0),
                if chosen.built.holds_voltage && !chosen.built.limits {
                    "Until then it holds"
                } else {
                    "Left alone it goes on towards"
                },
                trimmed(chosen.dial_v, 2)
            ),
            &[("total_h", total_s / 3600.0)],
        ));
    }
    findings.push(Finding::note(
        CheckCode::SettingsNoTemperatureStop,
        format!(
            "Nothing here stops on heat: measure the pack, and stop at {} °C.",
            trimmed(BreakOff::of(&s.plan.pack, s.plan.around_c).warmest.at_c, 0)
        ),
        &[],
    ));
}

/// What lifts a voltage that is too high: the setting where it was somebody’s, else another supply.
fn set_lower(s: &Situation<'_>, chosen: &Chosen, finding: Finding) -> Finding {
    if s.plan.settings.voltage_v.is_some() && chosen.built.voltage_at.is_some() {
        return finding
            .lifted_at("Leave the voltage open: Rumek chooses one that this pack bears.", "/settings/voltage_v");
    }
    let by_charger = s.plan.charger.as_ref().is_some_and(|charger| !charger.kind.passive());
    let (what, pointer) = if by_charger { ("charger", "/charger") } else { ("supply", "/source") };
    finding.lifted_at(format!("Use a {what} that can be set so low."), pointer)
}

/// A voltage that somebody sets above full, and below what is refused.
fn above_full(s: &Situation<'_>, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let Some(set_v) = s.plan.settings.voltage_v.filter(|_| pack.profile.traits.burns) else { return };
    let series = f64::from(pack.series);
    let full_v = full_voltage(pack, Practice::Standard);
    let over_v = (set_v - full_v) / series;
    if over_v > cells::OVER_FULL_V.at && set_v <= chosen.ceiling_v + 1e-3 {
        findings.push(Finding::caution(
            CheckCode::SettingsVoltageTooHigh,
            format!(
                "Your setting is {} mV a cell above full, {} V: that ages the cells and gains next to nothing.",
                trimmed(1e3 * over_v, 0),
                trimmed(full_v, 2)
            ),
            &[("voltage_v", set_v), ("full_v", full_v)],
        ));
    }
}

/// A current was asked for, and more flows because nothing here is set to it.
fn not_held(s: &Situation<'_>, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let dialled = matches!(chosen.built.control, Control::Dial | Control::Hand);
    let Some(set_a) = s.plan.settings.current_a.filter(|a| !dialled && s.most.total_a > a * rates::HELD.at) else {
        return;
    };
    findings.push(Finding::stop(
        CheckCode::SettingsCurrentNotHeld,
        format!(
            "{} A are wanted, and nothing in this chain is set to a current: up to {} A would flow. Leave the current open to judge that, or use something that holds it.",
            trimmed(set_a, 2),
            trimmed(s.most.total_a, 2)
        ),
        &[("set_a", set_a), ("current_a", s.most.total_a)],
    ));
}

/// What the person has to do by hand, and how it fails.
fn by_hand(s: &Situation<'_>, chosen: &Chosen, ends_early: bool, findings: &mut Vec<Finding>) {
    if ends_early
        && s.plan.cut_off.is_none()
        && let Some(stop_v) = chosen.stops.stop_v
    {
        findings.push(Finding::caution(
            CheckCode::SettingsStopByHand,
            format!(
                "Only you end it at {} V; left alone it goes on to {} V. Stay, meter on the pack.",
                trimmed(stop_v, 2),
                trimmed(chosen.dial_v, 1)
            ),
            &[("stop_v", stop_v), ("reach_v", chosen.dial_v)],
        ));
    }
    let Some(rule) = chosen.nudge else { return };
    let turns = s.charge.nudges.len();
    findings.push(Finding::caution(
        CheckCode::SettingsTurnedByHand,
        format!(
            "Nothing holds the current: you turn the voltage up {turns} times. Turned too far it trips or burns. Once tripped its display stays lit, fed by the pack, while nothing charges: part them, switch it off and on, and begin low again.{}",
            steadier(s, chosen, turns)
        ),
        &[("turns", turns as f64), ("current_a", rule.target_a)],
    ));
    if s.plan.visit_every_s.is_some() && rule.interval_s.is_none() {
        findings.push(Finding::caution(
            CheckCode::SettingsStay,
            "Neither BMS nor cut-off guards this pack while you are away: stay with it. The turns are planned for somebody who does.".to_owned(),
            &[],
        ));
    }
}

/// What would spare most of the turns.
fn steadier(s: &Situation<'_>, chosen: &Chosen, turns: usize) -> String {
    sparing_turns(chosen, s.found.rest_v, turns).map_or(String::new(), |resistor| {
        format!(" {}, or lamps that give as much, spares most turns: one setting.", resistor.words())
    })
}

/// Lead whose current does not come down to the stop while it is held.
fn absorption(s: &Situation<'_>, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let Some(longest_h) = chosen.stops.absorption_s.map(|s| s / 3600.0) else { return };
    let Some((last, stop_a)) = s.charge.moments.last().zip(chosen.stops.taper_a) else { return };
    let short = last.current_a > stop_a * 1.01;
    let timed = s.charge.reason == EndReason::TimeLimit
        && chosen.stops.limit_s.is_none_or(|limit_s| s.charge.end.t_s < limit_s - 1.0);
    let values =
        [("current_a", last.current_a), ("stop_a", stop_a), ("longest_h", longest_h), ("voltage_v", chosen.dial_v)];
    let (held, still, stop) = (trimmed(chosen.dial_v, 2), trimmed(last.current_a, 2), trimmed(stop_a, 2));
    if timed {
        findings.push(Finding::caution(
            CheckCode::LeadAcidAbsorption,
            format!(
                "Held at {held} V it still takes {still} A after {} h, not {stop} A: that is the longest this kind is held there. End it then, or go down to its float voltage; held on, it gasses and dries out.",
                trimmed(longest_h, 0)
            ),
            &values,
        ));
    } else if s.charge.reason == EndReason::Taper && short {
        findings.push(Finding::note(
            CheckCode::LeadAcidAbsorption,
            format!(
                "Held at {held} V its current stays at {still} A and does not come down to {stop} A: once it has not fallen for an hour it is full. Held on, it gasses and dries out."
            ),
            &values,
        ));
    }
}

/// A charge that nobody stays with to its end.
fn days(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let hours = s.charge.total_s.unwrap_or(s.charge.end.t_s) / 3600.0;
    let refusable = matches!(s.charge.reason, EndReason::GoalBelowStart | EndReason::Discharging);
    if refusable || hours <= ends::DAYS_H.at {
        return;
    }
    let most_a = s.most_a();
    findings.push(Finding::caution(
        CheckCode::SettingsTakesDays,
        format!(
            "By this reckoning it goes on for {} days, at {} A and less: somebody has to look at it every few hours all that time. More current, or less load, would end it sooner.",
            trimmed(hours / 24.0, 1),
            trimmed(most_a, 2)
        ),
        &[("hours", hours), ("current_a", most_a)],
    ));
}

/// Capacitors whose balancers carry less than flows once the smallest is full, where nothing can be turned down.
fn unturned(s: &Situation<'_>, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let Some(balance) = chosen.built.unturned else { return };
    let past = |m: &&Moment| m.pack_v > balance.from_v && m.current_a > balance.current_a * SLACK;
    let Some(moment) = s.charge.moments.iter().find(past) else { return };
    findings.push(set_lower(s, chosen, Finding::stop(
        CheckCode::SettingsVoltageTooHigh,
        format!(
            "At {} V the smallest of these capacitors is full. Its balancer shunts {} A, {} A flow then, and nothing here turns that down: it would pass {} V. {} End it at {} V, or use a supply that limits current.",
            trimmed(balance.from_v, 2),
            trimmed(balance.current_a, 2),
            trimmed(moment.current_a, 2),
            trimmed(s.plan.pack.profile.full_v, 2),
            s.plan.pack.profile.words.overcharged,
            trimmed(balance.from_v, 2)
        ),
        &[("voltage_v", balance.from_v), ("current_a", moment.current_a), ("balance_a", balance.current_a)],
    )));
}

/// A display that is known to be off.
fn display(chosen: &Chosen, findings: &mut Vec<Finding>) {
    // Where no voltage is set what is shown is the pack's.
    let off_v = if chosen.built.voltage_at.is_some() { chosen.shown_v - chosen.dial_v } else { 0.0 };
    let off_a = chosen.shown_a - chosen.current_a();
    if off_v.abs() >= 0.005 {
        findings.push(Finding::note(
            CheckCode::SettingsDisplayOff,
            format!(
                "By your readings its display shows {} V when the terminals stand at {} V: dial that.",
                trimmed(chosen.shown_v, 2),
                trimmed(chosen.dial_v, 2)
            ),
            &[("shown_v", chosen.shown_v), ("voltage_v", chosen.dial_v)],
        ));
    }
    if off_a.is_finite() && off_a.abs() >= 0.015 {
        findings.push(Finding::note(
            CheckCode::SettingsDisplayOff,
            format!(
                "By your readings its display shows {} A when {} A flow: dial that.",
                trimmed(chosen.shown_a, 2),
                trimmed(chosen.current_a(), 2)
            ),
            &[("shown_a", chosen.shown_a), ("current_a", chosen.current_a())],
        ));
    }
}

/// The highest cell's voltage at the end and its ceiling, where it would pass it.
fn highest_cell_problem(s: &Situation<'_>) -> Option<(f64, f64)> {
    let ends_v = highest_cell_v(s.plan, s.found, s.charge)?;
    let ceiling_v = s.chosen?.ceiling_v / f64::from(s.plan.pack.series);
    let near_v = if s.plan.settings.voltage_v.is_some() { 1e-3 } else { cells::NEAR_CEILING_V.at };
    (ends_v > ceiling_v + near_v).then_some((ends_v, ceiling_v))
}

/// Where the highest of cells that nothing levels ends, V; `None` where they are level, or something levels them.
fn highest_cell_v(plan: &Plan, found: &Identified, charge: &Charge) -> Option<f64> {
    let level = plan.pack.balanced || found.offsets.is_empty();
    (!level).then(|| end_voltages(&plan.pack, found, charge).into_iter().fold(0.0, f64::max))
}

/// By how much the highest cell would pass its ceiling at a voltage that is Rumek's to choose, V; `None` where it
/// does not, or the voltage is somebody else's.
pub(crate) fn passes_full_by(plan: &Plan, found: &Identified, chosen: &Chosen, charge: &Charge) -> Option<f64> {
    if plan.settings.voltage_v.is_some() || chosen.built.voltage_at.is_none() {
        return None;
    }
    let over_v = highest_cell_v(plan, found, charge)? - chosen.ceiling_v / f64::from(plan.pack.series);
    (over_v > cells::NEAR_CEILING_V.at).then_some(over_v)
}
