//! Where a knob stands, by what the readings say of it.

use super::super::scene::{Scene, saying};
use super::super::slack::slack_a;
use crate::formats::{AskChoiceDoc, AskDoc, SayingCode, SayingDoc, Severity};
use crate::units::trimmed;
use serde_json::json;

/// A knob that stands so high that more flows than may, or that is turned past its end.
pub(super) fn knob_elsewhere(scene: &Scene<'_>) -> Option<SayingDoc> {
    let rule = scene.chosen.nudge.filter(|rule| rule.top_duty.is_none())?;
    let look = scene.last_look()?;
    let told_v = scene.turned_v?;
    if let Some(set_v) = look.set_v {
        let past = set_v > rule.top_v + 0.5 * rule.step_v;
        return past.then(|| {
            let message = format!(
                "The knob stands at {} V; {} V is its end. Turn it down to {} V now.",
                trimmed(set_v, 2),
                trimmed(rule.top_v, 2),
                trimmed(told_v, 2)
            );
            saying(SayingCode::KnobElsewhere, Severity::Stop, message, &[("set_v", set_v), ("told_v", told_v)])
        });
    }
    let (v, a) = (look.pack_v?, look.pack_a?);
    let feed = &scene.chosen.built.feed;
    let stands_v = v + a * feed.hold.ohm + feed.diode_v;
    // It is turned until so much flows: as long as no more does, it may stand where it likes.
    let target_a = rule.target_a - scene.plan.load.current_a(v);
    if a <= 1.05 * target_a + slack_a(target_a) || stands_v <= told_v + rule.step_v {
        return None;
    }
    let message = format!(
        "{} A flow, and {} A is the most. By these readings the knob stands at about {} V, and {} V was to be set. Turn it down until no more than that flows.",
        trimmed(a, 2),
        trimmed(target_a, 2),
        trimmed(stands_v, 1),
        trimmed(told_v, 2)
    );
    let choice = |label: String, value: f64, leads_to: &str| AskChoiceDoc {
        label,
        pointer: "/reading/set_v".to_owned(),
        value: json!((value * 100.0).round() / 100.0),
        leads_to: leads_to.to_owned(),
        line: String::new(),
    };
    let ask = AskDoc {
        pointer: "/reading/set_v".to_owned(),
        question: "What does the knob stand at?".to_owned(),
        why: "The turns to come are computed from there.".to_owned(),
        how: "Read it with the pack off, or where the supply shows what is set.".to_owned(),
        holds: false,
        choices: vec![
            choice(format!("About {} V", trimmed(stands_v, 1)), stands_v, "it goes on from there"),
            choice(format!("{} V", trimmed(told_v, 2)), told_v, "as it was to be turned"),
        ],
    };
    let values = [("stands_v", stands_v), ("told_v", told_v)];
    Some(SayingDoc { ask: Some(ask), ..saying(SayingCode::KnobElsewhere, Severity::Caution, message, &values) })
}
