//! What readings mean: each rule looks for one thing and is silent else.

use super::course::Look;
use super::currents::{displays_differ, over_current};
use super::scene::{Drop, Scene, saying, slack_v};
use crate::formats::{MeterAt, SayingCode, SayingDoc, Severity};
use crate::lines::{warmth, wear};
use crate::units::{in_amp_hours, in_amps, in_celsius, trimmed};

/// A lead takes this much more than its copper explains before it is told, Ω: ten good plugs have as much.
const STRAY_OHM: f64 = 0.02;
/// … and at least this much, V.
const STRAY_V: f64 = 0.1;
/// A cell this far above the mean, near full, is ahead, V.
pub(super) const AHEAD_V: f64 = 0.03;
/// A cell this far below the mean is behind, V.
pub(super) const BEHIND_V: f64 = 0.3;
/// Faster than this as well, K/min; nickel charged at half its capacity is full at half of it.
const WARMING_K_MIN: f64 = 1.0;
/// From this rate on, C, nickel tells its end by falling volts.
const TELLS_C: f64 = 0.45;
/// Between these two rates, C, its warmth rises half as fast at the end.
const FULL_WARMTH_C: f64 = 0.75;

/// What a hand meter leaves open at one cell, V: the card's stop is this one's.
const CELL_SLACK_V: f64 = 0.015;

/// How far some cells stand apart, V.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Cells {
    pub(super) lowest_v: f64,
    pub(super) mean_v: f64,
    pub(super) highest_v: f64,
}

impl Cells {
    /// None of no cells.
    pub(super) fn of(cells: &[f64]) -> Option<Self> {
        let lowest_v = cells.iter().copied().reduce(f64::min)?;
        let highest_v = cells.iter().copied().reduce(f64::max)?;
        Some(Self { lowest_v, mean_v: cells.iter().sum::<f64>() / cells.len() as f64, highest_v })
    }
}

/// All that the readings say, gravest first; on track where nothing else is said.
pub(crate) fn diagnose(scene: &Scene<'_>) -> Vec<SayingDoc> {
    let rules: [fn(&Scene<'_>) -> Option<SayingDoc>; 13] = [
        full,
        warming,
        over_voltage,
        over_current,
        cell_behind,
        voltage_missing,
        over_capacity,
        stopped,
        cell_ahead,
        supply_limited,
        displays_differ,
        lead_drop,
        high_resistance,
    ];
    let mut said: Vec<SayingDoc> = rules.iter().filter_map(|rule| rule(scene)).collect();
    // What explains the others is not told twice.
    if said.iter().any(|s| s.code == SayingCode::Stopped) {
        said.retain(|s| s.code != SayingCode::SupplyLimited);
    }
    if said.iter().any(|s| matches!(s.code, SayingCode::CellBehind | SayingCode::VoltageMissing)) {
        said.retain(|s| s.code != SayingCode::HighResistance);
    }
    if done(scene) {
        let order = if scene.plan.pack.profile.traits.gasses {
            "Supply off at its switch first, then the clamps, minus first."
        } else {
            "Current to zero or output off, then unplug the pack."
        };
        let message = format!("The current has fallen to the stop: it is done. {order}");
        said.push(saying(SayingCode::Done, Severity::Note, message, &[]));
    }
    if said.is_empty() && !scene.looks.is_empty() {
        said.push(saying(SayingCode::OnTrack, Severity::Note, "As predicted.".to_owned(), &[]));
    }
    said.sort_by_key(|s| s.severity);
    said
}

/// More volts than are set: something regulates wrongly, or the set voltage is another's. A cell above
/// what its chemistry bears is grave whatever was set.
fn over_voltage(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let series = f64::from(pack.series);
    let last = scene.readings.last()?;
    let highest = last.cell_voltages_v.as_deref().and_then(Cells::of).map(|cells| cells.highest_v);
    let ceiling_v = pack.profile.ceiling_at(in_celsius(pack.temperature));
    let volts = scene.last_look().and_then(|look| look.pack_v);
    if let Some(cell) = highest.filter(|v| *v > ceiling_v + CELL_SLACK_V) {
        let message = format!(
            "A cell reads {} V; {} V is the most this chemistry bears. Stop the charge now, watch the pack from a distance, and find out why before it is charged again.",
            trimmed(cell, 2),
            trimmed(ceiling_v, 2)
        );
        return Some(saying(
            SayingCode::OverVoltage,
            Severity::Stop,
            message,
            &[("cell_v", cell), ("most_v", ceiling_v)],
        ));
    }
    let (v, most_v) = (volts?, ceiling_v * series);
    if v > most_v + slack_v(most_v) {
        let message = format!(
            "The pack reads {} V; {} V is the most {} cells in series bear. Stop the charge now, and check the voltage that is set and the cell count.",
            trimmed(v, 2),
            trimmed(most_v, 2),
            pack.series
        );
        return Some(saying(SayingCode::OverVoltage, Severity::Stop, message, &[("pack_v", v), ("most_v", most_v)]));
    }
    let set_v = scene.chosen.dial_v;
    // What is charged by current and time holds no voltage.
    let above = !pack.profile.traits.timed && v > set_v + 2.0 * slack_v(set_v);
    above.then(|| {
        let message = format!(
            "The pack reads {} V, above the {} V that is to be set. Check what the supply is set to, and the meter.",
            trimmed(v, 2),
            trimmed(set_v, 2)
        );
        saying(SayingCode::OverVoltage, Severity::Caution, message, &[("pack_v", v), ("set_v", set_v)])
    })
}

fn done(scene: &Scene<'_>) -> bool {
    let Some(look) = scene.last_look() else { return false };
    let fallen = look.pack_a.is_some_and(|a| a <= 1.05 * scene.stop_a());
    fallen && scene.chosen.stops.taper_a.is_some() && look.pack_v.is_some_and(|v| scene.at_voltage(v))
}

/// Nickel whose volts have passed their peak at a steady current: it is full.
fn full(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let last = scene.last_look()?;
    let (v, a) = (last.pack_v?, last.pack_a?);
    if !pack.profile.traits.timed || a < TELLS_C * in_amp_hours(pack.nameplate) {
        return None;
    }
    // What fell with the current says nothing.
    let steady = |look: &&Look| look.pack_a.is_some_and(|then_a| then_a <= 1.05 * a);
    let peak_v = scene.looks.iter().filter(steady).filter_map(|look| look.pack_v).fold(0.0, f64::max);
    let fallen_v = peak_v - v;
    let told_v = pack.profile.falls_by_v * f64::from(pack.series);
    (fallen_v >= told_v).then(|| {
        let message = format!(
            "It is full: its volts have fallen by {} mV from their peak, and {} mV are its end. End the charge now; more only heats it.",
            trimmed(fallen_v * 1e3, 0),
            trimmed(told_v * 1e3, 0)
        );
        saying(SayingCode::Full, Severity::Stop, message, &[("fallen_v", fallen_v), ("told_v", told_v)])
    })
}

fn warming(scene: &Scene<'_>) -> Option<SayingDoc> {
    let read: Vec<(f64, f64)> =
        scene.readings.iter().filter_map(|r| Some((r.t_s.unwrap_or(0.0), r.temperature_c?))).collect();
    let (last_s, last_c) = *read.last()?;
    let begun_c = in_celsius(scene.plan.pack.temperature);
    let window = scene.plan.pack.profile.window;
    let before = read.iter().rev().find(|(t, _)| last_s - t >= 60.0);
    let rate = before.map_or(0.0, |(t, c)| (last_c - c) / ((last_s - t) / 60.0));
    let values = [("temperature_c", last_c), ("begun_c", begun_c), ("rate_k_min", rate)];
    // Nickel warms as it fills: that is its end, told by its rate.
    let nickel = scene.plan.pack.profile.traits.timed;
    if last_c >= window.max_c {
        let message = format!(
            "{} °C: stop, and let it cool outside. {} °C is the most.",
            trimmed(last_c, 0),
            trimmed(window.max_c, 0)
        );
        return Some(saying(SayingCode::Warming, Severity::Stop, message, &values));
    }
    let c_rate = scene.last_look().and_then(|look| look.pack_a).unwrap_or(scene.expected_a)
        / in_amp_hours(scene.plan.pack.nameplate);
    let least = if nickel && c_rate < FULL_WARMTH_C { 0.5 * WARMING_K_MIN } else { WARMING_K_MIN };
    let fast = rate >= least && last_c - begun_c >= 3.0;
    if fast || (!nickel && last_c - begun_c >= warmth::WARMER_K.at) {
        let message = if nickel {
            format!("It warms by {} °C a minute: nickel that does so is full. End the charge now.", trimmed(rate, 1))
        } else {
            format!(
                "{} °C, from {} °C: halve the current and look again in five minutes; warmer still, stop.",
                trimmed(last_c, 0),
                trimmed(begun_c, 0)
            )
        };
        let severity = if nickel { Severity::Stop } else { Severity::Caution };
        return Some(saying(SayingCode::Warming, severity, message, &values));
    }
    None
}

/// The cells as they were last read, where there are several.
fn cells(scene: &Scene<'_>) -> Option<Cells> {
    let last = scene.readings.iter().rev().find_map(|r| r.cell_voltages_v.as_deref());
    last.filter(|cells| cells.len() > 1).and_then(Cells::of)
}

fn cell_behind(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Cells { lowest_v, mean_v, .. } = cells(scene)?;
    let known = scene.found.spread_v();
    (mean_v - lowest_v > BEHIND_V + known && !scene.plan.pack.profile.traits.farads).then(|| {
        let message = format!(
            "A cell reads {} V, the others {} V: it has failed. Stop, and do not leave it on the table.",
            trimmed(lowest_v, 2),
            trimmed(mean_v, 2)
        );
        saying(SayingCode::CellBehind, Severity::Stop, message, &[("cell_v", lowest_v), ("mean_v", mean_v)])
    })
}

fn cell_ahead(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Cells { mean_v, highest_v, .. } = cells(scene)?;
    let profile = &scene.plan.pack.profile;
    let near = highest_v >= profile.least_full_v() - 0.02;
    if !(profile.traits.balance_lead && near && highest_v - mean_v >= AHEAD_V) {
        return None;
    }
    let values = [("cell_v", highest_v), ("mean_v", mean_v)];
    // Past what a hand meter leaves open its own rule stops it. Up to there a balancer brings the cell back.
    let (severity, does) = match scene.plan.pack.balance_current.map(in_amps) {
        Some(a) => {
            let does = format!("Turn the current down to {} A, what the balancer can shunt.", trimmed(a, 2));
            (Severity::Caution, does)
        }
        None if highest_v > profile.ceiling_v => (Severity::Stop, "Stop the charge now.".to_owned()),
        None => (Severity::Caution, "Lower the voltage until it holds, or stop.".to_owned()),
    };
    let message =
        format!("A cell is at {} V while the others stand at {} V. {does}", trimmed(highest_v, 3), trimmed(mean_v, 3));
    Some(saying(SayingCode::CellAhead, severity, message, &values))
}

fn supply_limited(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let (a, v) = (look.pack_a?, look.pack_v?);
    // At the charge voltage the pack decides; turned by hand the knob does.
    if scene.at_voltage(v)
        || scene.chosen.nudge.is_some()
        || a >= scene.expected_a - 1.5 * Scene::slack_a(scene.expected_a)
    {
        return None;
    }
    let message = format!(
        "{} A flows where {} A was expected: the supply or charger limits, or has turned itself down. It takes that much longer.",
        trimmed(a, 2),
        trimmed(scene.expected_a, 2)
    );
    Some(saying(
        SayingCode::SupplyLimited,
        Severity::Caution,
        message,
        &[("current_a", a), ("expected_a", scene.expected_a)],
    ))
}

fn stopped(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let a = look.pack_a?;
    let none = a <= 0.05 * scene.expected_a && scene.expected_a > 2.0 * scene.stop_a();
    let full = look.pack_v.is_some_and(|v| scene.at_voltage(v));
    (none && !full).then(|| {
        let message = "Next to nothing flows though it should: tripped, unplugged or a blown fuse. A lit display may only be fed by the pack.".to_owned();
        saying(SayingCode::Stopped, Severity::Caution, message, &[("current_a", a), ("expected_a", scene.expected_a)])
    })
}

fn over_capacity(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let look = scene.last_look()?;
    let full_ah = in_amp_hours(pack.capacity) * (1.0 - scene.found.low);
    let given = pack.profile.most_given;
    let flowing = look.pack_a.is_some_and(|a| a > 2.0 * scene.stop_a());
    (scene.charge_ah > given * full_ah && flowing).then(|| {
        let message = format!(
            "{} Ah have gone in and it still takes current; it holds {} Ah from where it began. A wrong cell count, a dying cell, or a load across it: stop.",
            trimmed(scene.charge_ah, 2),
            trimmed(full_ah, 2)
        );
        saying(SayingCode::OverCapacity, Severity::Stop, message, &[("charge_ah", scene.charge_ah), ("holds_ah", full_ah)])
    })
}

fn voltage_missing(scene: &Scene<'_>) -> Option<SayingDoc> {
    let v = scene.last_look()?.pack_v?;
    let profile = &scene.plan.pack.profile;
    let missing_v = scene.believed_v - v;
    // Past full the model's voltage means nothing.
    let known = scene.charge_ah < in_amp_hours(scene.plan.pack.capacity) * (1.0 - scene.found.low);
    let some = known && !profile.traits.timed && !profile.traits.farads && scene.plan.pack.series > 1;
    (some && missing_v > 0.5 * profile.nominal_v + slack_v(v)).then(|| {
        let message = format!(
            "{} V where {} V was expected: about {} cells’ worth of voltage is missing. A shorted cell or a wrong cell count: stop and read each.",
            trimmed(v, 2),
            trimmed(scene.believed_v, 2),
            trimmed(missing_v / profile.nominal_v, 1)
        );
        saying(SayingCode::VoltageMissing, Severity::Stop, message, &[("voltage_v", v), ("expected_v", scene.believed_v)])
    })
}

/// What the lead takes, from the last reading that has both its ends.
fn lead_drop(scene: &Scene<'_>) -> Option<SayingDoc> {
    let plan = scene.plan;
    let direct = plan.charger.is_none();
    if direct && plan.source.as_ref().is_some_and(|source| source.remote_sense) {
        return None;
    }
    let at = if direct { MeterAt::Source } else { MeterAt::Charger };
    let (display_v, terminal_v, a) = scene.readings.iter().rev().find_map(|r| {
        let display_v = if direct { r.source_v } else { r.charger_v };
        let a = if direct { r.source_a.or(r.terminal_a) } else { r.charger_a.or(r.terminal_a) };
        Some((display_v?, r.terminal_v?, a?))
    })?;
    if a < 0.1 {
        return None;
    }
    let wires = [plan.output.as_ref(), plan.input.as_ref().filter(|_| direct)];
    let known_ohm: f64 = wires.into_iter().flatten().map(|lead| lead.ohm).sum();
    let drop_v = display_v - terminal_v;
    let stray_v = drop_v - a * (1.5 * known_ohm + STRAY_OHM);
    // A display that was compared is trusted further than one that was not.
    let compared = plan.corrections.iter().any(|c| c.at == at);
    let display_slack_v = if compared { 0.003 } else { 0.01 } * display_v;
    (stray_v > STRAY_V + display_slack_v).then(|| {
        let mohm = drop_v / a * 1e3;
        let message = format!(
            "{} V between display and terminals at {} A: {} mΩ, where the leads have {}. Look for a poor contact, feel for a warm one; while much current flows the pack sees less than the display: add nothing to the voltage.",
            trimmed(drop_v, 2),
            trimmed(a, 2),
            trimmed(mohm, 0),
            trimmed(known_ohm * 1e3, 0)
        );
        saying(SayingCode::LeadDrop, Severity::Caution, message, &[("drop_v", drop_v), ("lead_mohm", mohm), ("known_mohm", known_ohm * 1e3)])
    })
}

/// What the pack drops against what was believed of it, by the last look that has volts and amps.
fn high_resistance(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Drop { factor, deviation } = scene.drop?;
    if factor - 2.0 * deviation < wear::GROWN.at {
        return None;
    }
    let message = format!(
        "It comes to its voltage early: its resistance is about {} times what was believed. An aged or cold pack; it fills, but slowly, and gives less.",
        trimmed(factor, 1)
    );
    Some(saying(SayingCode::HighResistance, Severity::Note, message, &[("factor", factor), ("deviation", deviation)]))
}
