//! What readings mean: each rule looks for one thing and is silent else. Whether current flows is said before all
//! finer things.

mod asked;
pub(super) mod cells;
mod flow;
mod knob;
mod recipe;
mod volts;
mod warmth;

use super::foreseen::Doubt;
use super::scene::{Drop, Scene, saying};
use crate::formats::{SayingCode, SayingDoc, Severity};
use crate::lines::wear;
use crate::units::{in_amp_hours, trimmed};
use cells::{cell_ahead, cell_behind};
use flow::{displays_differ, nothing_flows, over_current, running_down, supply_limited};
use knob::knob_elsewhere;
use volts::{lead_drop, over_voltage, voltage_missing, volts_unlikely};
use warmth::{full, warming};

/// All that the readings say, gravest first; on track where nothing else is said.
pub(crate) fn diagnose(scene: &Scene<'_>) -> Vec<SayingDoc> {
    let rules: [fn(&Scene<'_>) -> Option<SayingDoc>; 16] = [
        full,
        nothing_flows,
        running_down,
        over_current,
        over_voltage,
        voltage_missing,
        warming,
        cell_behind,
        over_capacity,
        volts_unlikely,
        cell_ahead,
        knob_elsewhere,
        supply_limited,
        displays_differ,
        lead_drop,
        high_resistance,
    ];
    let mut said: Vec<SayingDoc> = rules.iter().filter_map(|rule| rule(scene)).collect();
    // What explains the others is not told twice.
    let has = |said: &[SayingDoc], codes: &[SayingCode]| said.iter().any(|one| codes.contains(&one.code));
    use SayingCode::{
        CellBehind, HighResistance, KnobElsewhere, OverCurrent, OverVoltage, RunningDown, Stopped, SupplyLimited,
        VoltageMissing, VoltsUnlikely,
    };
    if has(&said, &[Stopped, RunningDown]) {
        said.retain(|one| !matches!(one.code, SupplyLimited | KnobElsewhere | VoltsUnlikely));
    }
    // One question at a time: what the knob stands at explains the amps.
    if let Some(n) = said.iter().position(|one| one.code == KnobElsewhere)
        && let Some(over) = said.iter().position(|one| one.code == OverCurrent)
    {
        let knob = said[n].ask.take();
        said[over].ask = said[over].ask.take().or(knob);
        said.remove(n);
    }
    if has(&said, &[CellBehind, VoltageMissing, OverVoltage]) {
        said.retain(|one| !matches!(one.code, HighResistance | VoltsUnlikely | RunningDown));
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

fn done(scene: &Scene<'_>) -> bool {
    let Some(look) = scene.last_look() else { return false };
    // Current that must still flow has not fallen to the stop: it has gone.
    if scene.doubt == Some(Doubt::Nothing) {
        return false;
    }
    let fallen = look.pack_a.is_some_and(|a| a <= 1.05 * scene.stop_a());
    fallen && scene.chosen.stops.taper_a.is_some() && look.pack_v.is_some_and(|v| scene.at_voltage(v))
}

fn over_capacity(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let look = scene.last_look()?;
    let full_ah = in_amp_hours(pack.capacity) * (1.0 - scene.found.low);
    let given = pack.profile.most_given;
    let flowing = look.pack_a.is_some_and(|a| a > 2.0 * scene.stop_a());
    (scene.charge_ah > given * full_ah && flowing).then(|| {
        let message = format!(
            "{} Ah have gone in, and current still flows. From where it began the pack holds {} Ah. The number of cells is wrong, or a cell is dying, or a load draws current beside it. Stop the charge.",
            trimmed(scene.charge_ah, 2),
            trimmed(full_ah, 2)
        );
        saying(SayingCode::OverCapacity, Severity::Stop, message, &[("charge_ah", scene.charge_ah), ("holds_ah", full_ah)])
    })
}

/// What the pack drops against what was believed of it, by the last look that has volts and amps.
fn high_resistance(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Drop { factor, deviation } = scene.drop?;
    // Volts that no resistance explains are asked about.
    if factor - 2.0 * deviation < wear::GROWN.at || scene.doubt.is_some() {
        return None;
    }
    let message = format!(
        "Its volts are as high as if its resistance were {} times what was believed. It has aged, or it is cold, or the meter shows too much. Compare the meter with another one. A pack with so much resistance fills slowly and gives less.",
        trimmed(factor, 1)
    );
    let values = [("factor", factor), ("deviation", deviation)];
    Some(saying(SayingCode::HighResistance, Severity::Caution, message, &values))
}
