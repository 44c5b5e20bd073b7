//! Rules about warmth, and about nickel that is full.

use super::super::course::Look;
use super::super::scene::{Scene, saying};
use super::super::slack::slack_a;
use crate::acts::{BreakOff, Warmest};
use crate::formats::{SayingCode, SayingDoc, Severity};
use crate::lines::{ends, warmth};
use crate::units::{in_amp_hours, in_celsius, trimmed};

/// Nickel whose volts have passed their peak at a steady current: it is full.
pub(crate) fn full(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let last = scene.last_look()?;
    let (v, a) = (last.pack_v?, last.pack_a?);
    if !pack.profile.traits.timed || a + slack_a(a) < ends::FALLS_FROM_C.at * in_amp_hours(pack.nameplate) {
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

/// A pack that warms too fast, or is too warm.
pub(crate) fn warming(scene: &Scene<'_>) -> Option<SayingDoc> {
    let read: Vec<(f64, f64)> =
        scene.readings.iter().filter_map(|r| Some((r.t_s.unwrap_or(0.0), r.temperature_c?))).collect();
    let (last_s, last_c) = *read.last()?;
    let begun_c = in_celsius(scene.plan.pack.temperature);
    let before = read.iter().rev().find(|(t, _)| last_s - t >= 60.0);
    let rate = before.map_or(0.0, |(t, c)| (last_c - c) / ((last_s - t) / 60.0));
    let values = [("temperature_c", last_c), ("begun_c", begun_c), ("rate_k_min", rate)];
    // Nickel warms as it fills: that is its end, told by its rate.
    let nickel = scene.plan.pack.profile.traits.timed;
    let break_off = BreakOff::of(&scene.plan.pack, scene.plan.around_c);
    if break_off.too_warm(last_c) {
        let Warmest { at_c, by_room, .. } = break_off.warmest;
        let message = if by_room {
            format!(
                "{} °C: stop, and let it cool outside. A sound pack never warms by {} °C. Find out why before you charge it again.",
                trimmed(last_c, 0),
                trimmed(warmth::WARMER_K.at, 0)
            )
        } else {
            format!("{} °C: stop, and let it cool outside. {} °C is the most.", trimmed(last_c, 0), trimmed(at_c, 0))
        };
        return Some(saying(SayingCode::Warming, Severity::Stop, message, &values));
    }
    let c_rate = scene.last_look().and_then(|look| look.pack_a).unwrap_or(scene.due.amps.at)
        / in_amp_hours(scene.plan.pack.nameplate);
    let slower = if nickel && c_rate < warmth::WARMS_SLOWER_C.at { 0.5 } else { 1.0 };
    let fast = rate >= slower * warmth::WARMING_K_MIN.at && last_c - begun_c >= 3.0;
    if fast || (!nickel && last_c - begun_c >= warmth::WARMER_K.at) {
        let message = if nickel {
            format!("It warms by {} °C a minute: nickel that does so is full. End the charge now.", trimmed(rate, 1))
        } else {
            format!(
                "{} °C, from {} °C at first. Halve the current, and look again in five minutes. Stop if it is warmer then.",
                trimmed(last_c, 0),
                trimmed(begun_c, 0)
            )
        };
        let severity = if nickel { Severity::Stop } else { Severity::Caution };
        return Some(saying(SayingCode::Warming, severity, message, &values));
    }
    None
}
