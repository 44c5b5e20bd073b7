//! Before anything is connected: wiring, voltages, currents.

use super::task::{Steps, Task, ends_itself};
use crate::codes::LimitCode;
use crate::formats::{ChargerKind, Place, SourceKind, StepWhen::Before, Wiring};
use crate::parts::charger::Works;
use crate::units::{in_volts, trimmed};

pub(super) fn prepare(steps: &mut Steps, task: &Task<'_>) {
    units(steps, task);
    match &task.plan.charger {
        None => bare(steps, task),
        Some(_) => {
            feeding_supply(steps, task);
            charger(steps, task);
        }
    }
    if let Some(relay) = task.plan.cut_off {
        steps.add(
            Before,
            "set_relay",
            Place::CutOff,
            format!(
                "Relay: opens at {} V, closes below {} V; read by meter, not by its display.",
                trimmed(relay.high_v, 2),
                trimmed(relay.low_v, 2)
            ),
            &[("high_v", relay.high_v), ("low_v", relay.low_v)],
        );
    }
}

/// Several units of a supply.
fn units(steps: &mut Steps, task: &Task<'_>) {
    let source = task.source;
    if source.units < 2 {
        return;
    }
    let n = f64::from(source.units);
    let values = [("units", n)];
    let message = match source.wiring {
        Wiring::Series => format!(
            "{} units in series: plus of one to minus of the next, cases apart, the same current limit on each, and a diode backwards across each output (band to plus) for when one gives out before the others. Volts add, amps do not.",
            source.units
        ),
        Wiring::Parallel => format!(
            "{} units in parallel: each to the same voltage within 0.02 V, plus taken from one end of the row and minus from the other, jumpers for a whole unit's current.",
            source.units
        ),
    };
    let code = if source.wiring == Wiring::Series { "wire_series" } else { "wire_parallel" };
    steps.add(Before, code, Place::Source, message, &values);
}

/// How near the voltage is to be set: to a few millivolts a cell, as near as two digits show.
fn tolerance_v(task: &Task<'_>) -> f64 {
    (0.005 * f64::from(task.plan.pack.series)).max(0.01)
}

/// How near it is set, and with what: a hand meter is good to half a per cent, which is more.
fn by_meter(task: &Task<'_>, volts: f64) -> String {
    const GOOD: f64 = 0.001;
    const HAND: f64 = 0.005;
    format!(
        "by a meter good to {} % (± {} V); by a hand meter {} V less",
        trimmed(GOOD * 100.0, 1),
        trimmed(tolerance_v(task), 2),
        trimmed((HAND * volts).max(0.01), 2)
    )
}

/// What the display shows, where it is known to be off.
fn shows(task: &Task<'_>) -> String {
    let chosen = task.chosen;
    if (chosen.shown_v - chosen.dial_v).abs() < 0.005 {
        return String::new();
    }
    format!(" Its display then shows {} V.", trimmed(chosen.shown_v, 2))
}

/// A supply straight on the pack.
fn bare(steps: &mut Steps, task: &Task<'_>) {
    let (source, chosen) = (task.source, task.chosen);
    let set = trimmed(chosen.dial_v, 2);
    if !source.dials_voltage() {
        steps.add(
            Before,
            "check_voltage",
            Place::Source,
            format!(
                "Nothing connected: read the supply by meter. {set} V, and never above {} V.",
                trimmed(chosen.ceiling_v, 2)
            ),
            &[("voltage_v", chosen.dial_v), ("ceiling_v", chosen.ceiling_v)],
        );
    } else if chosen.nudge.is_some() {
        let start_v = chosen.no_load_v(task.found.rest_v);
        steps.add(
            Before,
            "set_start",
            Place::Source,
            format!(
                "Nothing connected: turn it down to {} V, the pack's own voltage, by meter. Mark where {set} V is: never past it.",
                trimmed(start_v, 2)
            ),
            &[("voltage_v", start_v), ("top_v", chosen.dial_v)],
        );
    } else {
        steps.add(
            Before,
            "set_voltage",
            Place::Source,
            format!("Nothing connected: set {set} V at the clips, {}.{}", by_meter(task, chosen.dial_v), shows(task)),
            &[("voltage_v", chosen.dial_v), ("tolerance_v", tolerance_v(task))],
        );
    }
    if source.dials_current() {
        set_current(steps, task, Place::Source);
    }
    if source.remote_sense {
        steps.add(
            Before,
            "sense",
            Place::Source,
            "Sense wires on the pack's own terminals, checked with the output off: an open or swapped one drives the output up.".to_owned(),
            &[],
        );
    }
}

/// Clips carry no more than this, A.
const CLIPS_A: f64 = 10.0;

fn set_current(steps: &mut Steps, task: &Task<'_>, at: Place) {
    let chosen = task.chosen;
    let shown = if (chosen.shown_a - chosen.current_a()).abs() < 0.015 {
        String::new()
    } else {
        format!(" Its display then shows {} A.", trimmed(chosen.shown_a, 2))
    };
    steps.add(
        Before,
        "set_current",
        at,
        format!(
            "Current limit {} A: by its menu; or at 3 V or less, {}, current up from zero, output off, and only then the charge voltage.{shown}",
            trimmed(chosen.current_a(), 2),
            if chosen.current_a() > CLIPS_A { "leads bolted together" } else { "clips joined" }
        ),
        &[("current_a", chosen.current_a())],
    );
}

/// What feeds a charger or module.
fn feeding_supply(steps: &mut Steps, task: &Task<'_>) {
    let (source, chosen) = (task.source, task.chosen);
    let set_v = chosen.built.feed.supply.open_v;
    if source.kind == SourceKind::Mains {
        return;
    }
    let message = if source.dials_voltage() {
        let current = if source.dials_current() { ", its current limit at its highest" } else { "" };
        format!("Supply to {} V by meter{current}; then off again.", trimmed(set_v, 2))
    } else {
        let most_v = task.plan.charger.as_ref().and_then(|c| c.input_max_v);
        let most = most_v.map_or(String::new(), |v| format!(", never above {} V", trimmed(v, 1)));
        format!("Read the source by meter, nothing connected: about {} V{most}.", trimmed(in_volts(source.max), 1))
    };
    steps.add(Before, "feeding_voltage", Place::Source, message, &[("voltage_v", set_v)]);
}

fn charger(steps: &mut Steps, task: &Task<'_>) {
    let (plan, chosen) = (task.plan, task.chosen);
    let Some(charger) = &plan.charger else { return };
    let set = trimmed(chosen.dial_v, 2);
    let add = |steps: &mut Steps, code: &str, message: String, values: &[(&str, f64)]| {
        steps.add(Before, code, Place::Charger, message, values);
    };
    match charger.kind {
        ChargerKind::HobbyCharger => {
            add(
                steps,
                "set_charger",
                format!(
                    "Charger: {}, {} cells, {} A, ends at {set} V ({} V a cell).",
                    plan.pack.profile.name,
                    plan.pack.series,
                    trimmed(chosen.shown_a, 2),
                    trimmed(chosen.dial_v / f64::from(plan.pack.series), 3)
                ),
                &[("current_a", chosen.current_a()), ("voltage_v", chosen.dial_v)],
            );
        }
        ChargerKind::SmartCharger => {
            let mode = if charger.auto_voltage { "; see that it finds the right voltage" } else { "" };
            add(steps, "set_charger", format!("Charger set for {}{mode}.", plan.pack.profile.name), &[]);
        }
        ChargerKind::DcDc => {
            let volts = chosen.no_load_v(task.found.rest_v);
            let then = if chosen.nudge.is_some() { format!(", and later never past {set} V") } else { String::new() };
            add(
                steps,
                "set_voltage",
                format!(
                    "Supply on, nothing on the module's output: set {} V at its terminals{then}, {}.{}",
                    trimmed(volts, 2),
                    by_meter(task, volts),
                    if chosen.nudge.is_some() { String::new() } else { shows(task) }
                ),
                &[("voltage_v", volts), ("tolerance_v", tolerance_v(task))],
            );
            if charger.has_cc {
                add(
                    steps,
                    "set_current",
                    format!(
                        "Its current turned to the lowest; after connecting up to {} A, by a meter in the lead.",
                        trimmed(chosen.current_a(), 2)
                    ),
                    &[("current_a", chosen.current_a())],
                );
            }
        }
        ChargerKind::LinearModule => {
            add(
                steps,
                "check_voltage",
                format!("Supply on, nothing on its output: {set} V by meter."),
                &[("voltage_v", chosen.dial_v)],
            );
        }
        ChargerKind::Pwm => {
            if let Works::Pwm { duty, .. } = charger.works {
                let duty = task.charge.nudges.first().and_then(|n| n.duty).unwrap_or(duty);
                add(
                    steps,
                    "set_duty",
                    format!("Duty {} %, before anything is connected.", trimmed(duty * 100.0, 0)),
                    &[("duty", duty)],
                );
            }
        }
        ChargerKind::Lamp | ChargerKind::Resistor => {
            let what = if charger.kind == ChargerKind::Lamp { "Lamp" } else { "Resistor" };
            let open_v = task.chosen.built.feed.supply.open_v;
            let bears_a_short = match charger.works {
                Works::Lamp(lamps) => open_v <= 1.1 * lamps.rated_v,
                Works::Resistor { ohm, rated_w } => rated_w.is_some_and(|w| open_v * open_v / ohm <= w),
                _ => false,
            };
            let tried = match (charger.kind, bears_a_short) {
                (_, false) => "not tried into a short: it is not rated for that.",
                (ChargerKind::Lamp, true) => "try it into a short first: about as bright and hot as it ever gets.",
                (_, true) => "try it into a short first: about as hot as it ever gets.",
            };
            add(steps, "limiter", format!("{what} in the plus line, where its heat harms nothing; {tried}"), &[]);
            if task.source.dials_voltage() {
                add(
                    steps,
                    "set_voltage",
                    format!("Nothing connected: supply to {set} V by meter."),
                    &[("voltage_v", chosen.dial_v)],
                );
            }
        }
    }
    let fails = !task.source.limits_current() || task.source.battery.is_some();
    if let Some(limit) = chosen.input_limit.filter(|limit| fails || limit.code == LimitCode::Lead) {
        let for_what =
            if limit.code == LimitCode::Lead { "the input lead and its fuse stay cool" } else { "the source holds" };
        add(
            steps,
            "input_limit",
            format!("Its input limit {} A, so that {for_what}.", trimmed(limit.current_a, 1)),
            &[("input_limit_a", limit.current_a)],
        );
    }
    if !ends_itself(plan) && plan.settings.stop_voltage_v.is_some() && !chosen.built.holds_voltage {
        add(steps, "meter_on_pack", "A meter on the pack's terminals that you can see all the time.".to_owned(), &[]);
    }
}
