//! Checks of what stands between source and pack.

use super::situation::Situation;
use crate::acts::Finding;
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::codes::{CheckCode, CutOffStarts};
use crate::formats::{EndReason, Overload, SourceKind, Topology};
use crate::lines::gear;
use crate::parts::charger::{Charger, Works};
use crate::parts::lead::SLACK;
use crate::parts::source::Source;
use crate::units::{in_amps, trimmed, volts};

/// What the diode of a boost that does not switch still drops, V.
const BOOST_DIODE_V: f64 = 0.3;

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(source), Some(chosen)) = (&s.plan.source, s.chosen) else {
        return;
    };
    relay(s, chosen, findings);
    let Some(charger) = &s.plan.charger else {
        return;
    };
    if source.kind != SourceKind::Mains {
        input(source, charger, chosen, findings);
        steps_down_and_up(s, charger, chosen, findings);
        input_limit(source, chosen, findings);
    }
    starts(s, source, charger, chosen, findings);
    overloaded(s, charger, findings);
    heat(s, charger, chosen, findings);
}

/// The input window, judged with nothing connected.
fn input(source: &Source, charger: &Charger, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let set_v = chosen.built.feed.supply.open_v;
    let stands_v = source.may_stand_at(set_v);
    if let Some(most_v) = charger.input_max_v.filter(|v| stands_v > *v + 1e-6) {
        let droops = !source.regulated() && source.battery.is_none();
        let why = if droops { " with nothing drawn and the mains high" } else { "" };
        findings.push(Finding::stop(
            CheckCode::ChargerInputTooHigh,
            format!(
                "The source stands at {} V{why}; the charger's input takes {} V at most. It would be destroyed, maybe with the pack on it.",
                trimmed(stands_v, 1),
                trimmed(most_v, 1)
            ),
            &[("voltage_v", stands_v), ("input_max_v", most_v)],
        ));
    }
    if let Some(least_v) = charger.input_min_v.filter(|v| set_v < *v - 1e-6) {
        findings.push(Finding::stop(
            CheckCode::ChargerInputTooLow,
            format!("The source gives {} V, the charger starts at {} V.", trimmed(set_v, 1), trimmed(least_v, 1)),
            &[("voltage_v", set_v), ("input_min_v", least_v)],
        ));
    }
}

/// Whether the stage can come down, and up, to the pack.
fn steps_down_and_up(s: &Situation<'_>, charger: &Charger, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let open_v = chosen.built.feed.supply.open_v;
    let rest_v = s.found.rest_v;
    if let Works::Switching { topology: Topology::Boost, .. } = charger.works
        && open_v - BOOST_DIODE_V > rest_v
    {
        let ohm = chosen.built.feed.supply.ohm + chosen.built.feed.supply.lead_ohm + chosen.built.feed.out_ohm;
        let through_a = (open_v - BOOST_DIODE_V - rest_v) / (ohm + s.pack_ohm());
        findings.push(Finding::stop(
            CheckCode::ChargerCannotStepDown,
            format!(
                "A boost cannot go below its input: {} V in, the pack at {} V. Its diode would let about {} A through, and nothing controls it.",
                trimmed(open_v, 1),
                trimmed(rest_v, 1),
                trimmed(through_a, 0)
            ),
            &[("input_v", open_v), ("pack_v", rest_v), ("through_a", through_a)],
        ));
    }
    let first_v = s.charge.moments.first().map_or(rest_v, |m| m.pack_v);
    if let Some(least_v) =
        charger.output_min_v.filter(|v| *v > first_v + chosen.current_a().min(1e3) * chosen.built.feed.out_ohm)
    {
        findings.push(Finding::stop(
            CheckCode::ChargerCannotStepDown,
            format!(
                "Its output goes down to {} V, the pack stands at {} V: the least it can give is more than the pack should get.",
                trimmed(least_v, 2),
                trimmed(first_v, 2)
            ),
            &[("output_min_v", least_v), ("pack_v", first_v)],
        ));
    }
    let Some(drive) = chosen.built.feed.drive.filter(|d| d.code == LimitCode::ChargerInputVoltage) else {
        return;
    };
    if drive.volts <= rest_v {
        findings.push(Finding::stop(
            CheckCode::ChargerCannotStepUp,
            format!(
                "From {} V it comes to no more than {} V, the pack rests at {} V: nothing would flow.",
                trimmed(open_v, 1),
                trimmed(drive.volts, 1),
                trimmed(rest_v, 1)
            ),
            &[("input_v", open_v), ("reach_v", drive.volts), ("pack_v", rest_v)],
        ));
    } else if chosen.charge_v - drive.volts > 0.002 * chosen.charge_v {
        let finding = if chosen.stops.goal_soc - s.charge.end.soc > 0.03 { Finding::caution } else { Finding::note };
        findings.push(finding(
            CheckCode::ChargerCannotStepUp,
            format!(
                "From {} V it comes to no more than {} V, this charge wants {} V: the pack ends at about {} %.",
                trimmed(open_v, 1),
                trimmed(drive.volts, 2),
                trimmed(chosen.charge_v, 2),
                trimmed(s.charge.end.soc * 100.0, 0)
            ),
            &[("input_v", open_v), ("reach_v", drive.volts), ("wanted_v", chosen.charge_v)],
        ));
    }
}

/// What has to be set so that the source does not trip.
fn input_limit(source: &Source, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let fails = !source.limits_current() || source.battery.is_some();
    let Some(limit) = chosen.input_limit.filter(|limit| fails || limit.code == LimitCode::Lead) else {
        return;
    };
    let limit_a = limit.current_a;
    let why = match source.overload {
        _ if limit.code == LimitCode::Lead => "the input lead and its fuse carry no more for hours",
        Overload::Hiccup => "asked for more, this source gives nothing and tries again",
        Overload::Shutdown => "asked for more, this source shuts down until it is switched off and on",
        _ => "asked for more, this source has nothing that protects it",
    };
    findings.push(Finding::note(
        CheckCode::ChargerInputLimit,
        format!("Set the charger's input limit to {} A, or its current lower: {why}.", trimmed(limit_a, 1)),
        &[("input_limit_a", limit_a)],
    ));
}

/// Whether it starts, and with the right number of cells.
fn starts(s: &Situation<'_>, source: &Source, charger: &Charger, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let rest_v = s.found.rest_v;
    if let Some(least_v) = charger.min_start_v.filter(|v| rest_v < *v) {
        findings.push(Finding::stop(
            CheckCode::ChargerWillNotStart,
            format!(
                "This charger starts from {} V; the pack rests at {} V. It has to be judged and brought up to there first.",
                trimmed(least_v, 1),
                trimmed(rest_v, 1)
            ),
            &[("min_start_v", least_v), ("pack_v", rest_v)],
        ));
    }
    let set_v = if source.kind == SourceKind::Mains { f64::INFINITY } else { chosen.built.feed.supply.open_v };
    if let Some(most) = charger.most_cells(set_v).filter(|most| pack.series > *most) {
        let from = if set_v.is_finite() { format!(" from {} V", trimmed(set_v, 1)) } else { String::new() };
        findings.push(Finding::stop(
            CheckCode::ChargerTooManyCells,
            format!("It charges up to {most} cells{from}, this pack has {}.", pack.series),
            &[("series", f64::from(pack.series)), ("max_series", f64::from(most))],
        ));
    }
    // Chargers for lead tell 6 V from 12 V from 24 V, others count single cells.
    let in_blocks = pack.profile.traits.in_blocks;
    let fewer = if in_blocks { pack.series / 2 } else { pack.series.saturating_sub(1) };
    let full_v = pack.profile.full_v;
    if charger.auto_voltage && fewer > 0 && rest_v < f64::from(fewer) * full_v {
        let fits = if in_blocks { f64::from(fewer) } else { (rest_v / full_v).ceil().max(1.0) };
        findings.push(Finding::caution(
            CheckCode::ChargerAutoVoltage,
            format!(
                "It counts the cells by voltage: {} V may also be {}S. See that it shows {}S ({} V) before you let it run.",
                trimmed(rest_v, 1),
                trimmed(fits, 0),
                pack.series,
                trimmed(f64::from(pack.series) * pack.profile.nominal_v, 1)
            ),
            &[("pack_v", rest_v), ("series", f64::from(pack.series)), ("fits_series", fits)],
        ));
    }
}

/// What has no current limit of its own, and is asked for more than its box says.
fn overloaded(s: &Situation<'_>, charger: &Charger, findings: &mut Vec<Finding>) {
    // What keeps to its ratings by itself never passes them.
    if charger.terminates() {
        return;
    }
    let most = s.most;
    let switching = matches!(charger.works, Works::Switching { .. });
    let passed = [
        ("puts out", "A", most.total_a, charger.output_max_a),
        ("puts out", "W", most.output_w, charger.output_max_w.filter(|_| switching)),
        ("takes", "A", most.source_a, charger.input_max_a),
        ("takes", "W", most.source_w, charger.input_max_w.filter(|_| switching)),
    ];
    for (does, unit, value, rated) in passed {
        let Some(rated) = rated.filter(|rated| value > rated * SLACK) else { continue };
        findings.push(Finding::stop(
            CheckCode::ChargerOverloaded,
            format!(
                "It {does} up to {} {unit} here and is rated for {} {unit}, with nothing to hold it: it overheats or fails. Use one that limits its current, or put a lamp or a resistor between.",
                trimmed(value, 1),
                trimmed(rated, 1)
            ),
            &[("value", value), ("rated", rated)],
        ));
        return;
    }
}

/// Heat in a linear module, a lamp, a resistor.
fn heat(s: &Situation<'_>, charger: &Charger, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let most_a = s.most.total_a;
    match charger.works {
        Works::Linear { heat_w, .. } => {
            if s.charge.moments.iter().any(|m| m.limit == LimitCode::Thermal) {
                let open_v = chosen.built.feed.supply.open_v;
                findings.push(Finding::caution(
                    CheckCode::ChargerLinearHeat,
                    format!(
                        "It burns the difference between {} V and the pack: at {} W it turns itself down to {} A. Less input voltage would charge faster.",
                        trimmed(open_v, 1),
                        trimmed(heat_w, 1),
                        trimmed(s.first_a(), 2)
                    ),
                    &[("heat_w", heat_w), ("input_v", open_v), ("current_a", s.first_a())],
                ));
            }
        }
        Works::Resistor { ohm, rated_w } => resistor(s, (ohm, rated_w), chosen, findings),
        Works::Lamp(lamps) => {
            let stands_v = chosen.built.feed.supply.open_v;
            let across_v = lamps.drop_v(most_a);
            if across_v > lamps.rated_v * gear::LAMP_OVER.at {
                findings.push(Finding::stop(
                    CheckCode::ChargerLimiterHeat,
                    format!(
                        "{} V would stand across a lamp for {} V: it burns out, and then nothing flows. Two in series, or one for the source's volts, would do.",
                        trimmed(across_v, 1),
                        trimmed(lamps.rated_v, 0)
                    ),
                    &[("lamp_v", lamps.rated_v), ("across_v", across_v)],
                ));
            } else if stands_v > lamps.rated_v * gear::LAMP_OVER.at {
                findings.push(Finding::caution(
                    CheckCode::ChargerLimiterHeat,
                    format!(
                        "A {} V lamp before {} V: into a short it gets all of it and burns out. Take one rated for the source.",
                        trimmed(lamps.rated_v, 0),
                        trimmed(stands_v, 1)
                    ),
                    &[("lamp_v", lamps.rated_v), ("source_v", stands_v)],
                ));
            }
            let ohm = chosen.built.feed.supply.ohm + chosen.built.feed.out_ohm + s.pack_ohm();
            let cold_a = (stands_v - s.found.rest_v).max(0.0) / (lamps.cold_ohm() + ohm);
            let cold_a = cold_a.max(lamps.current_a((stands_v - s.found.rest_v).max(0.0)));
            if !s.nothing_flows() {
                cold_lamp(s, cold_a, stands_v, findings);
            }
        }
        Works::Switching { .. } | Works::Pwm { .. } => {}
    }
}

/// What cold lamps take for a moment, and whether the supply bears it.
fn cold_lamp(s: &Situation<'_>, cold_a: f64, stands_v: f64, findings: &mut Vec<Finding>) {
    let glows = format!(
        "Cold, the lamp takes about {} A for a moment, {} A once it glows.",
        trimmed(cold_a, 1),
        trimmed(s.first_a(), 2)
    );
    let source = s.plan.source.as_ref().filter(|source| source.trips());
    let rated_a = source.and_then(|source| source.current_at(volts(stands_v))).map_or(f64::INFINITY, in_amps);
    findings.push(if cold_a > rated_a * SLACK {
        Finding::caution(
            CheckCode::ChargerColdInrush,
            format!(
                "{glows} This supply gives {} A with headroom and cuts out above its rating: it may never start. A smaller lamp, or a supply that holds its current, would do.",
                trimmed(rated_a, 1)
            ),
            &[("cold_a", cold_a), ("current_a", s.first_a()), ("rated_a", rated_a)],
        )
    } else {
        Finding::note(
            CheckCode::ChargerColdInrush,
            format!("{glows} A dark lamp means a full pack, a bright one a flat pack or a short."),
            &[("cold_a", cold_a), ("current_a", s.first_a())],
        )
    });
}

/// A resistor in this charge, and into a short.
fn resistor(s: &Situation<'_>, (ohm, rated_w): (f64, Option<f64>), chosen: &Chosen, findings: &mut Vec<Finding>) {
    let watts = s.most.total_a.powi(2) * ohm;
    let open_v = chosen.built.feed.supply.open_v;
    if let Some(rated) = rated_w.filter(|rated| watts <= rated * SLACK) {
        let short_w = open_v.powi(2) / ohm;
        if short_w > rated * SLACK {
            let reversed_w = (open_v + s.found.rest_v).powi(2) / ohm;
            findings.push(Finding::caution(
                CheckCode::ChargerLimiterHeat,
                format!(
                    "In this charge it takes {} W; into a short {} W, with the pack reversed {} W, and it is rated for {} W: it burns before anybody sees it. A fuse that blows first, or one of that rating.",
                    trimmed(watts, 1),
                    trimmed(short_w, 0),
                    trimmed(reversed_w, 0),
                    trimmed(rated, 1)
                ),
                &[("heat_w", watts), ("short_w", short_w), ("reversed_w", reversed_w)],
            ));
        }
        return;
    }
    let finding = if rated_w.is_some() { Finding::stop } else { Finding::caution };
    let rated = rated_w.map_or("not known".to_owned(), |w| format!("{} W", trimmed(w, 1)));
    findings.push(finding(
        CheckCode::ChargerLimiterHeat,
        format!(
            "The resistor turns {} W to heat; its rating is {rated}. Take one of twice that, on something that does not burn.",
            trimmed(watts, 1)
        ),
        &[("heat_w", watts)],
    ));
}

/// The voltage cut-off relay: whether it closes, and how early it opens.
fn relay(s: &Situation<'_>, chosen: &Chosen, findings: &mut Vec<Finding>) {
    let Some(relay) = s.plan.cut_off else { return };
    let rest_v = s.found.rest_v;
    // What it reads of the pack at rest.
    let reads_v = rest_v + relay.offset_v;
    let values = [("pack_v", rest_v), ("low_v", relay.low_v), ("error_v", relay.error_v)];
    let (low, rests) = (trimmed(relay.low_v, 2), trimmed(rest_v, 2));
    let finding = match relay.starts {
        Some(CutOffStarts::AtOnce) => None,
        Some(CutOffStarts::BelowLow) if reads_v > relay.low_v + relay.error_v => Some(Finding::stop(
            CheckCode::ChargerCutoffWillNotStart,
            format!(
                "The relay closes below {low} V; the pack rests at {rests} V. Nothing would flow until its low threshold is raised."
            ),
            &values,
        )),
        None if reads_v > relay.low_v + relay.error_v => Some(Finding::caution(
            CheckCode::ChargerCutoffWillNotStart,
            format!(
                "Some of these relays close as soon as they are fed, others only below their low threshold, here {low} V. The pack rests at {rests} V: if yours is of the second kind nothing flows until that is raised above it. Say which it is."
            ),
            &values,
        )),
        _ if reads_v > relay.low_v - relay.error_v => Some(Finding::caution(
            CheckCode::ChargerCutoffWillNotStart,
            format!("The pack rests at {rests} V, within the relay's error of {low} V: it may not close."),
            &values,
        )),
        _ => None,
    };
    findings.extend(finding);
    let short = chosen.stops.goal_soc - s.charge.end.soc;
    if s.charge.reason == EndReason::CutOff && short > 0.02 {
        findings.push(Finding::caution(
            CheckCode::ChargerCutoffUndercharges,
            format!(
                "The relay sees {} V while current still flows and opens at about {} %, {} % short of full. It may read {} V wrong either way.",
                trimmed(relay.high_v, 2),
                trimmed(s.charge.end.soc * 100.0, 0),
                trimmed(short * 100.0, 0),
                trimmed(relay.error_v, 2)
            ),
            &[("high_v", relay.high_v), ("end_soc", s.charge.end.soc), ("short_soc", short)],
        ));
    } else if s.charge.reason != EndReason::CutOff && chosen.dial_v <= relay.opens_v() {
        findings.push(Finding::note(
            CheckCode::ChargerCutoffUndercharges,
            format!(
                "The relay would open at {} V, the charge goes to {} V: it ends nothing here.",
                trimmed(relay.high_v, 2),
                trimmed(chosen.dial_v, 2)
            ),
            &[("high_v", relay.high_v), ("dial_v", chosen.dial_v)],
        ));
    }
}
