//! Checks of what feeds the pack.

use super::situation::Situation;
use crate::acts::Finding;
use crate::chain::feed::Control;
use crate::chain::settings::Chosen;
use crate::codes::CheckCode;
use crate::codes::LimitCode;
use crate::formats::{EndReason, Place, Severity, SourceKind, TransformerType, Wiring};
use crate::lines::{gear, leads};
use crate::parts::lead::SLACK;
use crate::parts::source::Source;
use crate::physics::charge::NudgeRule;
use crate::physics::operating::Path;
use crate::units::{in_amps, in_volts, in_watts, trimmed, volts};

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(source), Some(chosen)) = (&s.plan.source, s.chosen) else {
        return;
    };
    overrun(s, source, chosen, findings);
    mains_inside(source, findings);
    isolation(source, findings);
    earth_loop(s, source, findings);
    vehicle(s, source, findings);
    let short = matches!(chosen.built.feed.hold.code, LimitCode::SourceVoltage | LimitCode::ChargerOutputVoltage);
    if short && chosen.dial_v < chosen.charge_v {
        let end_soc = s.charge.end.soc;
        let severity = if chosen.stops.goal_soc - end_soc > 0.03 { Severity::Caution } else { Severity::Note };
        let (what, at) = if chosen.built.feed.hold.code == LimitCode::SourceVoltage {
            ("supply", Place::Source)
        } else {
            ("charger", Place::Charger)
        };
        let finding = Finding::new(
            CheckCode::SourceTooLowToFill,
            severity,
            if s.charge.charge_as <= 0.0 {
                format!(
                    "The {what} reaches {} V, the pack stands at {} V: nothing flows into it. It takes one that reaches {} V, or a boost between that does.",
                    trimmed(chosen.dial_v, 2),
                    trimmed(s.found.rest_v, 2),
                    trimmed(chosen.charge_v, 2)
                )
            } else {
                format!(
                    "The {what} reaches {} V, this charge wants {} V: the pack ends at about {} %.",
                    trimmed(chosen.dial_v, 2),
                    trimmed(chosen.charge_v, 2),
                    trimmed(end_soc * 100.0, 0)
                )
            },
            &[("voltage_v", chosen.dial_v), ("wanted_v", chosen.charge_v), ("end_soc", end_soc)],
        );
        findings.push(finding.at(at));
    }
    if s.charge.reason == EndReason::SourceEmpty {
        findings.push(Finding::caution(
            CheckCode::SourceRunsDown,
            format!(
                "The battery that feeds it comes down to its reserve first: the pack ends at about {} %.",
                trimmed(s.charge.end.soc * 100.0, 0)
            ),
            &[("end_soc", s.charge.end.soc)],
        ));
    }
    if chosen.folded {
        findings.push(Finding::caution(
            CheckCode::SourceOverloaded,
            format!("The pack asks for more than the supply's rating: it folds back and gives about {} A until the pack has come up.", trimmed(s.first_a(), 2)),
            &[("current_a", s.first_a())],
        ));
    }
    step(s, source, chosen, findings);
    let bare = s.plan.charger.as_ref().is_none_or(|c| !c.terminates() && c.diode_v <= 0.0);
    if bare && source.kind != SourceKind::Mains {
        findings.push(Finding::note(
            CheckCode::SourceBackFeed,
            "A supply that is switched off, or trips, is fed backwards by the pack, its display lit while nothing charges: part them before the supply goes off.".to_owned(),
            &[],
        ));
    }
}

/// Outputs in series that a mains earth may join.
fn isolation(source: &Source, findings: &mut Vec<Finding>) {
    if source.units < 2 || source.wiring != Wiring::Series || source.isolated == Some(true) {
        return;
    }
    let unknown = source.isolated.is_none();
    let message = if unknown {
        "It is not known whether the outputs are isolated: in series one may short another through the mains earth. With the supplies unplugged a meter reads no path from an isolated minus to the earth pin. Never lift a mains earth instead."
    } else {
        "An output that is joined to the mains earth, in series with another: the earth shorts one of them. Take supplies with isolated outputs; never lift a mains earth."
    };
    let mut finding =
        Finding::stop(CheckCode::SourceNotIsolated, message.to_owned(), &[("units", f64::from(source.units))]);
    // What is known to be joined is no risk that one can take, but a short.
    finding.within_acceptance = unknown;
    findings.push(finding);
}

/// A second way back for the current, through whatever else is earthed.
fn earth_loop(s: &Situation<'_>, source: &Source, findings: &mut Vec<Finding>) {
    let from_mains =
        matches!(source.kind, SourceKind::BenchSupply | SourceKind::AdjustableSupply | SourceKind::FixedSupply);
    let current_a = s.fed_a(s.most.total_a);
    if !from_mains || source.isolated == Some(true) || current_a <= leads::USB_A.at {
        return;
    }
    findings.push(Finding::note(
        CheckCode::SourceEarthLoop,
        format!(
            "If its minus is earthed, a computer, a scope or a second charger on the same pack is a second way back: {} A in a USB lead made for {} A. Measure with what runs on batteries, or isolated.",
            trimmed(current_a, 1),
            trimmed(leads::USB_A.at, 0)
        ),
        &[("current_a", current_a), ("carries_a", leads::USB_A.at)],
    ));
}

/// A vehicle's battery, and its socket, as a source.
fn vehicle(s: &Situation<'_>, source: &Source, findings: &mut Vec<Finding>) {
    let Some(battery) = source.battery.as_ref().filter(|battery| battery.starts_vehicles()) else {
        return;
    };
    let amps = s.most.source_a;
    let socket = if amps > leads::SOCKET_A.at {
        format!(
            "{} A are more than its socket's {} A: straight to the battery, with a fuse.",
            trimmed(amps, 1),
            trimmed(leads::SOCKET_A.at, 0)
        )
    } else {
        format!("its socket carries {} A, its fuse included.", trimmed(leads::SOCKET_A.at, 0))
    };
    findings.push(Finding::note(
        CheckCode::SourceVehicle,
        format!(
            "Where this battery is a vehicle's: {socket} Engine off and nothing started meanwhile, for that dips and spikes; it still has to start afterwards ({} % is kept here). Charge beside it, not in it.",
            trimmed(battery.reserve_soc * 100.0, 0)
        ),
        &[("current_a", amps), ("socket_a", leads::SOCKET_A.at), ("reserve_soc", battery.reserve_soc)],
    ));
}

/// A source without a current limit that the pack would overrun.
fn overrun(s: &Situation<'_>, source: &Source, chosen: &Chosen, findings: &mut Vec<Finding>) {
    if let Some(rule) = chosen.nudge {
        let stuck = s.charge.nudges.len() <= 1 && s.charge.reason == EndReason::Stalled && s.charge.to_cv_s.is_none();
        let never = s.charge.charge_as <= 0.0 || s.charge.nudges.is_empty() || stuck;
        // Once balancers work no more may flow than they shunt.
        let shunted_a = rule.balance.map_or(f64::INFINITY, |balance| balance.current_a);
        let least_a = if never { 0.5 * rule.target_a } else { shunted_a };
        if let Some(finding) = no_step_small_enough(s, chosen, &rule, least_a) {
            findings.push(finding);
            return;
        }
        // Turned up by hand, it starts as low as it can be turned.
        let now_a = s.charge.nudges.first().map_or(0.0, |nudge| nudge.current_a);
        if now_a > rule.target_a * 1.02 {
            findings.push(
                Finding::stop(
                    CheckCode::SourceNoCurrentLimit,
                    format!(
                        "Even turned down to {} V, {} A would flow where {} A may. Put a lamp or a resistor between, or use a supply that limits current.",
                        trimmed(rule.least_v, 2), trimmed(now_a, 1), trimmed(rule.target_a, 2)
                    ),
                    &[("inrush_a", now_a), ("rated_a", rule.target_a)],
                )
                .at(chosen.places().dial),
            );
        }
        return;
    }
    asked_for_too_much(s, source, chosen, findings);
    let passes = !matches!(chosen.built.feed.path, Path::Switching { .. });
    let held = source.limits_current() || chosen.built.control == Control::Held;
    let of_source = |code: LimitCode| matches!(code, LimitCode::SourceCurrent | LimitCode::SourcePower);
    let by_amps = chosen.currents.iter().filter(|(code, _)| of_source(*code)).map(|(_, a)| *a);
    let by_watts =
        chosen.built.powers.iter().filter(|(code, _)| of_source(*code)).map(|(_, w)| *w / chosen.dial_v.max(0.1));
    let rated_a = by_amps.chain(by_watts).fold(f64::INFINITY, f64::min);
    if passes && !held && chosen.inrush_a > rated_a {
        // As much as the pack's own rate is held against: anywhere in its span.
        let at_once_a = chosen.inrush_a.max(s.most.pack_a);
        findings.push(Finding::stop(
            CheckCode::SourceNoCurrentLimit,
            format!(
                "At {} V this pack would draw up to {} A at once, the supply gives {} A with headroom and has no current limit: it trips, or burns. Use one that limits current.",
                trimmed(chosen.built.feed.supply.open_v, 2), trimmed(at_once_a, 0), trimmed(rated_a, 1)
            ),
            &[("inrush_a", at_once_a), ("rated_a", rated_a)],
        ));
    }
}

/// One step of the knob, or of the duty, is more than may flow, and none below it lets anything flow.
fn no_step_small_enough(s: &Situation<'_>, chosen: &Chosen, rule: &NudgeRule, least_a: f64) -> Option<Finding> {
    let feed = &chosen.built.feed;
    let (_, step_v) = rule.scale(feed);
    let (what, ohm) = match feed.drive.filter(|_| rule.top_duty.is_some()) {
        Some(drive) => ("hundredth of its duty".to_owned(), drive.ohm),
        None => (format!("step of its voltage ({} V)", trimmed(step_v, 3)), feed.hold.ohm),
    };
    let step_a = step_v / (s.at_once_ohm() + ohm);
    // What may flow at the moment at which the least may.
    let may_a = rule.balance.map_or(rule.target_a, |balance| balance.current_a.min(rule.target_a));
    (step_a > least_a).then(|| {
        Finding::stop(
            CheckCode::SourceStepTooCoarse,
            format!(
                "One {what} moves the current by about {} A, and {} A may flow: it cannot be turned so finely. Put a lamp or a resistor between, or use a supply that limits current.",
                trimmed(step_a, 1), trimmed(may_a, 2)
            ),
            &[("step_v", step_v), ("step_a", step_a), ("rated_a", may_a)],
        )
        .at(chosen.places().dial)
    })
}

/// A converter that cannot be turned down, before a source that cannot hold back.
fn asked_for_too_much(s: &Situation<'_>, source: &Source, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let feed = &chosen.built.feed;
    let converts = matches!(feed.path, Path::Switching { .. }) || chosen.built.control == Control::Held;
    if !converts || source.limits_current() {
        return;
    }
    let set = volts(feed.supply.open_v);
    let (most_a, most_w) = (s.most.source_a, s.most.source_w);
    let rated_a = source.current_at(set).map_or(f64::INFINITY, in_amps);
    let rated_w = source.power_at(set).map_or(f64::INFINITY, in_watts);
    if most_a > rated_a * SLACK || most_w > rated_w * SLACK {
        let (asks, gives) = if most_a > rated_a * SLACK {
            (format!("{} A", trimmed(most_a, 2)), format!("{} A", trimmed(rated_a, 2)))
        } else {
            (format!("{} W", trimmed(most_w, 0)), format!("{} W", trimmed(rated_w, 0)))
        };
        findings.push(Finding::stop(
            CheckCode::SourceNoCurrentLimit,
            format!("The charger asks for {asks} and cannot be turned down; the supply gives {gives} with headroom and has no current limit: it trips, or burns."),
            &[("inrush_a", most_a), ("rated_a", rated_a.min(1e6))],
        ));
    }
}

/// The peak of 230 V mains, V.
const INPUT_CAPACITORS_V: f64 = 325.0;

/// Transformers, and what is opened to get at mains.
fn mains_inside(source: &Source, findings: &mut Vec<Finding>) {
    if source.modified && source.transformer.is_none() {
        findings.push(Finding::caution(
            CheckCode::SourceMainsInside,
            format!(
                "Opened or rebuilt, there is mains voltage within reach, and its input capacitors hold up to {} V for minutes after it is unplugged: closed, earthed and fused by somebody trained for it, by the local electrical code.",
                trimmed(INPUT_CAPACITORS_V, 0)
            ),
            &[("voltage_v", INPUT_CAPACITORS_V)],
        ));
    }
    let Some(transformer) = source.transformer else {
        return;
    };
    if transformer != TransformerType::LowVoltage {
        let what = if transformer == TransformerType::Oven {
            "An oven's transformer gives"
        } else {
            "An unknown transformer may give"
        };
        findings.push(Finding::stop(
            CheckCode::SourceHighVoltageTransformer,
            format!("{what} thousands of volts at hundreds of milliamps: touching it kills. Use a safety transformer whose label says its volts."),
            &[],
        ));
    }
    findings.push(Finding::caution(
        CheckCode::SourceMainsInside,
        format!(
            "Mains voltage inside: enclosed, earthed and fused by somebody trained for it, by the local electrical code. It ripples by {} V at its rating, and its capacitors stay charged after it is switched off.",
            trimmed(source.ripple_v, 1)
        ),
        &[("ripple_v", source.ripple_v)],
    ));
}

/// Whether one step of the knob is too much.
fn step(s: &Situation<'_>, source: &Source, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let step_v = in_volts(source.step);
    let series = f64::from(s.plan.pack.series);
    if s.plan.charger.is_some() || !source.dials_voltage() {
        return;
    }
    if let Some(rule) = chosen.nudge {
        let step_a = step_v / (s.pack_ohm() + chosen.built.feed.hold.ohm);
        if step_a > 0.4 * rule.target_a {
            findings.push(Finding::caution(
                CheckCode::SourceStepTooCoarse,
                format!(
                    "One step of its voltage setting ({} V) moves the current by about {} A, nearly as much as may flow ({} A): wait at each step, and turn back if it is too much.",
                    trimmed(step_v, 3), trimmed(step_a, 1), trimmed(rule.target_a, 2)
                ),
                &[("step_v", step_v), ("step_a", step_a)],
            ));
        }
    } else if step_v / series > gear::STEP_V.at {
        findings.push(Finding::caution(
            CheckCode::SourceStepTooCoarse,
            format!(
                "One step of its voltage setting is {} V: set below the wanted voltage, never above.",
                trimmed(step_v, 2)
            ),
            &[("step_v", step_v)],
        ));
    }
}
