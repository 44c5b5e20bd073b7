//! Before anything is connected: wiring, voltages, currents.

use super::task::{Steps, Task, ends_itself};
use crate::codes::LimitCode;
use crate::formats::{ChargerKind, Place, SourceKind, StepWhen::Before, Wiring};
use crate::lines::leads;
use crate::parts::charger::{Charger, Works};
use crate::parts::source::Source;
use crate::units::{in_volts, show_hours, trimmed};

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
        Wiring::LeaderFollower => format!(
            "{} units: the leader is set, the others follow it by their own wire; outputs on one bus, plus taken from one end of the row and minus from the other. Try it at a tenth of the current: each shows the same amps.",
            source.units
        ),
        Wiring::Parallel => format!(
            "{} units in parallel: each to the same voltage within 0.02 V, plus taken from one end of the row and minus from the other, jumpers for a whole unit's current.",
            source.units
        ),
    };
    let code = match source.wiring {
        Wiring::Series => "wire_series",
        Wiring::Parallel => "wire_parallel",
        Wiring::LeaderFollower => "wire_leader",
    };
    steps.add(Before, code, Place::Source, message, &values);
}

/// How near the voltage is to be set: to a few millivolts a cell, as near as two digits show.
fn tolerance_v(task: &Task<'_>) -> f64 {
    (0.005 * f64::from(task.plan.pack.series)).max(0.01)
}

/// What a simple hand meter, good to half a per cent, is to show at most.
fn by_simple_meter(volts: f64) -> String {
    const HAND: f64 = 0.005;
    format!("Simple meter: {} V", trimmed(volts - (HAND * volts).max(0.01), 2))
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
    // The clips are joined for it: the charge voltage is set afterwards, and stays.
    if source.dials_current() {
        set_current(steps, task, Place::Source);
    }
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
                "Nothing connected: turn it down to {} V, the pack's own voltage as the meter reads it. Mark where {set} V is: never past it.",
                trimmed(start_v, 2)
            ),
            &[("voltage_v", start_v), ("top_v", chosen.dial_v)],
        );
    } else {
        steps.add(
            Before,
            "set_voltage",
            Place::Source,
            match source.each_of(chosen.dial_v, chosen.current_a()) {
                Some((unit_v, _)) if unit_v < chosen.dial_v - 0.005 => format!(
                    "Set each unit to {} V: together {set} V, measured at the clips. {}.",
                    trimmed(unit_v, 2),
                    by_simple_meter(chosen.dial_v)
                ),
                _ => format!("Set {set} V, measured at the clips. {}.{}", by_simple_meter(chosen.dial_v), shows(task)),
            },
            &[("voltage_v", chosen.dial_v), ("tolerance_v", tolerance_v(task))],
        );
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

fn set_current(steps: &mut Steps, task: &Task<'_>, at: Place) {
    let chosen = task.chosen;
    // What each unit of several is set to.
    let (each, share) = match task.source.each_of(chosen.dial_v, chosen.current_a()) {
        Some((_, unit_a)) if at == Place::Source && unit_a < chosen.current_a() => {
            let whose = if task.source.wiring == Wiring::LeaderFollower { "of the leader " } else { "of each unit " };
            (whose, unit_a)
        }
        _ => ("", chosen.current_a()),
    };
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
            "Set the current limit {each}to {} A. No menu? Turn to 3 V, {}, turn the current up to {} A, switch the output off.{shown}",
            trimmed(share, 2),
            if chosen.current_a() > leads::CLIPS_A.at { "bolt the cables together" } else { "touch the clips together" },
            trimmed(share, 2)
        ),
        &[("current_a", chosen.current_a())],
    );
}

/// What holds the current stands behind it: the supply's own limit is out of the way.
fn full_current(source: &Source) -> &'static str {
    if source.dials_current() { ", its current limit at its highest" } else { "" }
}

/// What feeds a charger or module.
fn feeding_supply(steps: &mut Steps, task: &Task<'_>) {
    let (source, chosen) = (task.source, task.chosen);
    let set_v = chosen.built.feed.supply.open_v;
    let limiter = task.plan.charger.as_ref().is_some_and(|charger| charger.kind.passive());
    // Before a lamp or a resistor the supply is set once, with what it is set to.
    if source.kind == SourceKind::Mains || (limiter && source.dials_voltage()) {
        return;
    }
    let message = if source.dials_voltage() {
        format!("Supply to {} V by meter{}; then off again.", trimmed(set_v, 2), full_current(source))
    } else {
        let most_v = task.plan.charger.as_ref().and_then(|c| c.input_max_v);
        let most = most_v.map_or(String::new(), |v| format!(", never above {} V", trimmed(v, 1)));
        format!("Read the source by meter, nothing connected: about {} V{most}.", trimmed(in_volts(source.max), 1))
    };
    steps.add(Before, "feeding_voltage", Place::Source, message, &[("voltage_v", set_v)]);
}

fn charger(steps: &mut Steps, task: &Task<'_>) {
    let Some(charger) = &task.plan.charger else { return };
    match charger.works {
        Works::Lamp(_) | Works::Resistor { .. } => limiter(steps, task, charger),
        Works::Pwm { duty, .. } => pwm(steps, task, duty),
        Works::Linear { .. } => linear_module(steps, task),
        Works::Switching { .. } => match charger.kind {
            ChargerKind::HobbyCharger => by_menu(steps, task),
            ChargerKind::SmartCharger => by_itself(steps, task, charger),
            _ => converter(steps, task, charger),
        },
    }
    input_limit(steps, task);
    let plan = task.plan;
    if !ends_itself(plan) && plan.settings.stop_voltage_v.is_some() && !task.chosen.built.holds_voltage {
        let message = "A meter on the pack's terminals that you can see all the time.".to_owned();
        steps.add(Before, "meter_on_pack", Place::Charger, message, &[]);
    }
}

fn by_menu(steps: &mut Steps, task: &Task<'_>) {
    let (pack, chosen) = (&task.plan.pack, task.chosen);
    let profile = &pack.profile;
    let amps = trimmed(chosen.shown_a, 2);
    // Nickel ends by falling volts or by the clock, never at a voltage.
    let message = if profile.traits.timed {
        let limit = chosen.stops.limit_s.map_or(String::new(), |s| format!(", at most {}", show_hours(s / 3600.0)));
        format!(
            "Charger: {}, {} cells, {amps} A, −ΔV {} mV a cell{limit} or {} Ah.",
            profile.name,
            pack.series,
            trimmed(1e3 * profile.falls_by_v, 0),
            trimmed(task.charge.charge_as / 3600.0, 2)
        )
    } else {
        format!(
            "Charger: {}, {} cells, {amps} A, ends at {} V ({} V a cell).",
            profile.name,
            pack.series,
            trimmed(chosen.dial_v, 2),
            trimmed(chosen.dial_v / f64::from(pack.series), 3)
        )
    };
    let values = [("current_a", chosen.current_a()), ("voltage_v", chosen.dial_v)];
    steps.add(Before, "set_charger", Place::Charger, message, &values);
}

fn by_itself(steps: &mut Steps, task: &Task<'_>, charger: &Charger) {
    let mode = if charger.auto_voltage { "; see that it finds the right voltage" } else { "" };
    let message = format!("Charger set for {}{mode}.", task.plan.pack.profile.name);
    steps.add(Before, "set_charger", Place::Charger, message, &[]);
}

fn converter(steps: &mut Steps, task: &Task<'_>, charger: &Charger) {
    let chosen = task.chosen;
    let volts = chosen.no_load_v(task.found.rest_v);
    let (then, shown) = match chosen.nudge {
        Some(_) => (format!(", and later never past {} V", trimmed(chosen.dial_v, 2)), String::new()),
        None => (String::new(), shows(task)),
    };
    let message = format!(
        "Supply on, nothing on the module's output: set {} V at its terminals{then}. {}.{shown}",
        trimmed(volts, 2),
        by_simple_meter(volts)
    );
    let values = [("voltage_v", volts), ("tolerance_v", tolerance_v(task))];
    steps.add(Before, "set_voltage", Place::Charger, message, &values);
    if charger.has_cc {
        let message = format!(
            "Its current turned to the lowest; after connecting up to {} A, by a meter in the lead.",
            trimmed(chosen.current_a(), 2)
        );
        steps.add(Before, "set_current", Place::Charger, message, &[("current_a", chosen.current_a())]);
    }
}

fn linear_module(steps: &mut Steps, task: &Task<'_>) {
    let dial_v = task.chosen.dial_v;
    let message = format!("Supply on, nothing on its output: {} V by meter.", trimmed(dial_v, 2));
    steps.add(Before, "check_voltage", Place::Charger, message, &[("voltage_v", dial_v)]);
}

fn pwm(steps: &mut Steps, task: &Task<'_>, set: f64) {
    let duty = task.charge.nudges.first().and_then(|n| n.duty).unwrap_or(set);
    let path_ohm = task.chosen.built.feed.drive.map_or(0.0, |drive| drive.ohm);
    let heat_w = task.most_a().powi(2) * path_ohm;
    let heat = if heat_w >= 1.0 {
        format!(" Its switch and path turn up to {} W to heat: let them shed it.", trimmed(heat_w, 0))
    } else {
        String::new()
    };
    let message = format!("Duty {} %, before anything is connected.{heat}", trimmed(duty * 100.0, 0));
    steps.add(Before, "set_duty", Place::Charger, message, &[("duty", duty)]);
}

fn limiter(steps: &mut Steps, task: &Task<'_>, charger: &Charger) {
    let chosen = task.chosen;
    let open_v = chosen.built.feed.supply.open_v;
    let (what, bears_a_short, as_ever) = match charger.works {
        Works::Lamp(lamps) => ("Lamp", open_v <= 1.1 * lamps.rated_v, "about as bright and hot"),
        Works::Resistor { ohm, rated_w } => {
            ("Resistor", rated_w.is_some_and(|w| open_v * open_v / ohm <= w), "about as hot")
        }
        _ => return,
    };
    let tried = if bears_a_short {
        format!("try it into a short first: {as_ever} as it ever gets.")
    } else {
        "not tried into a short: it is not rated for that.".to_owned()
    };
    // A filament at a tenth of its power glows no more.
    const DARK: f64 = 0.4;
    let dark = match charger.works {
        Works::Lamp(lamps) => format!(" It is dark below about {} A.", trimmed(DARK * lamps.rated_a, 2)),
        _ => String::new(),
    };
    let message = format!("{what} in the plus line, where its heat harms nothing; {tried}{dark}");
    steps.add(Before, "limiter", Place::Charger, message, &[]);
    if task.source.dials_voltage() {
        let message = format!(
            "Nothing connected: supply to {} V by meter{}; then off again.",
            trimmed(chosen.dial_v, 2),
            full_current(task.source)
        );
        steps.add(Before, "set_voltage", Place::Charger, message, &[("voltage_v", chosen.dial_v)]);
    }
}

/// A charger that can limit its input is told to, where the source would fail or a lead would warm.
fn input_limit(steps: &mut Steps, task: &Task<'_>) {
    let fails = !task.source.limits_current() || task.source.battery.is_some();
    let Some(limit) = task.chosen.input_limit.filter(|limit| fails || limit.code == LimitCode::Lead) else { return };
    let for_what =
        if limit.code == LimitCode::Lead { "the input lead and its fuse stay cool" } else { "the source holds" };
    let message = format!("Its input limit {} A, so that {for_what}.", trimmed(limit.current_a, 1));
    steps.add(Before, "input_limit", Place::Charger, message, &[("input_limit_a", limit.current_a)]);
}
