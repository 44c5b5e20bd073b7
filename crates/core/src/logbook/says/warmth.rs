//! Rules about warmth, and about nickel that is full.

use super::super::course::Look;
use super::super::scene::{Scene, saying};
use crate::formats::{SayingCode, SayingDoc, Severity};
use crate::lines::warmth;
use crate::units::{in_amp_hours, in_celsius, trimmed};

/// Faster than this as well, K/min; nickel charged at half its capacity is full at half of it.
const WARMING_K_MIN: f64 = 1.0;
/// From this rate on, C, nickel tells its end by falling volts.
const TELLS_C: f64 = 0.45;
/// Between these two rates, C, its warmth rises half as fast at the end.
const FULL_WARMTH_C: f64 = 0.75;

/// Nickel whose volts have passed their peak at a steady current: it is full.
pub(crate) fn full(scene: &Scene<'_>) -> Option<SayingDoc> {
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

/// A pack that warms too fast, or is too warm.
pub(crate) fn warming(scene: &Scene<'_>) -> Option<SayingDoc> {
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
    let c_rate = scene.last_look().and_then(|look| look.pack_a).unwrap_or(scene.due.amps.at)
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
