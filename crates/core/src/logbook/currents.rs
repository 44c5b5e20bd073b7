//! Rules about amps: more than is to flow, and displays that contradict each other.

use super::scene::{Scene, saying};
use crate::formats::{RunReadingDoc, SayingCode, SayingDoc, Severity};
use crate::units::{in_amps, trimmed};

/// More than this many times what was expected is told, where it is above what the plan allows as well.
pub(super) const MORE: f64 = 1.2;
/// More than this many times what the label allows is a stop.
pub(super) const FAR_MORE: f64 = 1.2;
/// Two displays of one current differ by more than this share of the larger …
pub(super) const APART: f64 = 0.08;
/// … and by more than this, A: a small display shows tenths.
pub(super) const APART_A: f64 = 0.15;

/// More flows than was expected and than the plan allows: another setting, another pack, a short.
pub(super) fn over_current(scene: &Scene<'_>) -> Option<SayingDoc> {
    let a = scene.last_look()?.pack_a?;
    let pack = &scene.plan.pack;
    let load_a = scene.plan.load.current_a(scene.believed_v);
    let allowed_a = scene.chosen.current_a() - load_a;
    if !(allowed_a.is_finite() && a > MORE * scene.expected_a && a > 1.05 * allowed_a + Scene::slack_a(allowed_a)) {
        return None;
    }
    let label_a = pack.rated.map(in_amps);
    let severity =
        if label_a.is_some_and(|label_a| a > FAR_MORE * label_a) { Severity::Stop } else { Severity::Caution };
    let does = if severity == Severity::Stop {
        format!(
            "That is far more than the {} A the label allows: stop the charge now.",
            trimmed(label_a.unwrap_or(allowed_a), 2)
        )
    } else {
        format!("Turn it down to {} A at most, and look why.", trimmed(allowed_a, 2))
    };
    let message =
        format!("{} A flow into the pack where {} A was expected. {does}", trimmed(a, 2), trimmed(scene.expected_a, 2));
    Some(saying(
        SayingCode::OverCurrent,
        severity,
        message,
        &[("current_a", a), ("expected_a", scene.expected_a), ("allowed_a", allowed_a)],
    ))
}

/// What is shown before the pack and what is shown at it, where both were read at one look, A.
fn both(scene: &Scene<'_>, reading: &RunReadingDoc) -> Option<(f64, f64, &'static str, &'static str)> {
    let (before_a, before) =
        if scene.plan.charger.is_none() { (reading.source_a?, "supply") } else { (reading.charger_a?, "charger") };
    let (at_a, at) = match (reading.bms_a, reading.terminal_a) {
        (Some(a), _) => (a, "BMS"),
        (None, Some(a)) => (a, "meter at the pack"),
        (None, None) => return None,
    };
    Some((before_a, at_a, before, at))
}

/// Two displays of the same current that say different things: a load or a leak between them, or one is off.
pub(super) fn displays_differ(scene: &Scene<'_>) -> Option<SayingDoc> {
    let last = scene.readings.last()?;
    let (before_a, at_a, before, at) = both(scene, last)?;
    let volts = last.terminal_v.or(last.source_v).unwrap_or(scene.believed_v);
    let apart_a = (before_a - scene.plan.load.current_a(volts) - at_a).abs();
    if apart_a <= APART_A || apart_a <= APART * before_a.max(at_a) {
        return None;
    }
    let message = format!(
        "The {before} shows {} A, the {at} {} A: {} A are missing or one of them is off. Look for a load that nobody counted, a warm plug or wire; then compare both with a meter.",
        trimmed(before_a, 2),
        trimmed(at_a, 2),
        trimmed(apart_a, 2)
    );
    Some(saying(
        SayingCode::DisplaysDiffer,
        Severity::Caution,
        message,
        &[("before_a", before_a), ("at_a", at_a), ("apart_a", apart_a)],
    ))
}
