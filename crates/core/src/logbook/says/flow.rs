//! Rules about amps: none where some must flow, backwards, too much, too little, and displays that contradict each
//! other.

use super::super::foreseen::{Doubt, flows_not};
use super::super::scene::{Scene, saying};
use super::super::slack::slack_a;
use super::asked::{asked, sure_of};
use super::recipe::recipe;
use crate::formats::{RunReadingDoc, SayingCode, SayingDoc, Severity};
use crate::lines::{flow, meters};
use crate::physics::operating::LoadDraw;
use crate::units::{CRate, in_amps, trimmed};

/// Next to nothing flows where current must flow.
pub(crate) fn nothing_flows(scene: &Scene<'_>) -> Option<SayingDoc> {
    let a = scene.last_look()?.pack_a?;
    let due = scene.due.amps;
    (flows_not(a, &due) && a >= -slack_a(0.0)).then(|| {
        let flows =
            if a.abs() < 0.005 { "No current flows".to_owned() } else { format!("Only {} A flow", trimmed(a, 2)) };
        let message = format!("{flows} where about {} A should. {}", trimmed(due.at, 2), recipe(scene));
        let values = [("current_a", a), ("expected_a", due.at)];
        saying(SayingCode::Stopped, Severity::Caution, message, &values)
    })
}

/// It gives while it should take: by its amps, or, where none were read, by its volts.
pub(crate) fn running_down(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let due = scene.due.amps;
    let Some(a) = look.pack_a else { return falling(scene) };
    if !(flows_not(a, &due) && a < -slack_a(0.0)) {
        return None;
    }
    let values = [("current_a", a), ("expected_a", due.at)];
    let read =
        format!("{} A flow out of the pack where about {} A should flow in.", trimmed(-a, 2), trimmed(due.at, 2));
    if scene.plan.load != LoadDraw::None {
        let message = format!("{read} It is running down: its load is fed by the pack alone. {}", recipe(scene));
        return Some(saying(SayingCode::RunningDown, Severity::Caution, message, &values));
    }
    let turned = (due.low..=due.high).contains(&-a) && !look.sure;
    if !turned {
        let message =
            format!("{read} Take one clip off the pack now. Something draws from it, or plus and minus are swapped.");
        return Some(saying(SayingCode::RunningDown, Severity::Stop, message, &values));
    }
    let message = format!("{read} If that is true, take one clip off the pack now.");
    let ask = asked(
        scene.amps_field(),
        "Which way does the meter count?".to_owned(),
        [(format!("{} A, into the pack", trimmed(-a, 2)), -a, "the meter is in the other way round".to_owned())],
        sure_of(format!("{} A, out of the pack", trimmed(-a, 2)), "stop: take one clip off"),
    );
    Some(SayingDoc { ask: Some(ask), ..saying(SayingCode::RunningDown, Severity::Stop, message, &values) })
}

/// Volts that fall from look to look, and no amps were read.
fn falling(scene: &Scene<'_>) -> Option<SayingDoc> {
    let volts: Vec<f64> = scene.looks.iter().filter_map(|look| look.pack_v).collect();
    let [.., before, now] = volts.as_slice() else { return None };
    let due = scene.due.volts;
    // What is full falls as well.
    let falls = *now < due.low && now < before && scene.due.amps.low > 0.0 && !scene.plan.pack.profile.traits.timed;
    (falls && scene.other_scale(*now).is_none()).then(|| {
        let message = format!(
            "Its volts have fallen from {} to {} V where {} V was expected. Read its amps: it may be running down. {}",
            trimmed(*before, 2),
            trimmed(*now, 2),
            trimmed(due.at, 2),
            recipe(scene)
        );
        saying(SayingCode::RunningDown, Severity::Caution, message, &[("voltage_v", *now), ("expected_v", due.at)])
    })
}

/// More flows than was expected and than the plan allows: another setting, another pack, a short, or a slip of the
/// pen, which is asked.
pub(crate) fn over_current(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let a = look.pack_a?;
    let pack = &scene.plan.pack;
    let due = scene.due.amps;
    let load_a = scene.plan.load.current_a(scene.due.volts.at);
    let allowed_a = scene.chosen.current_a() - load_a;
    let over =
        allowed_a.is_finite() && a > flow::MORE.at * due.at && a > meters::SET_MOST.at * allowed_a + slack_a(allowed_a);
    let doubted = scene.doubt == Some(Doubt::TooMuch);
    if !over && !doubted {
        return None;
    }
    // Without a label the family's own line says what harms.
    let bears_a = pack.rated.unwrap_or_else(|| CRate(pack.profile.rates.refuse_above).current(pack.nameplate));
    let bears_a = in_amps(bears_a);
    let far = a > flow::FAR_OVER_LABEL.at * bears_a;
    let severity = if far { Severity::Stop } else { Severity::Caution };
    let values = [("current_a", a), ("expected_a", due.at), ("allowed_a", allowed_a)];
    let read = format!("{} A flow into the pack where {} A was expected.", trimmed(a, 2), trimmed(due.at, 2));
    let does = match (far, pack.rated) {
        (true, Some(_)) => {
            format!("That is far more than the {} A the label allows: stop the charge now.", trimmed(bears_a, 2))
        }
        (true, None) => {
            format!("That is far more than the {} A such a pack bears: stop the charge now.", trimmed(bears_a, 2))
        }
        (false, _) => {
            format!("Turn it down to {} A at most, and look why.", trimmed(allowed_a.min(due.high).max(0.0), 2))
        }
    };
    if !doubted {
        return Some(saying(SayingCode::OverCurrent, severity, format!("{read} {does}"), &values));
    }
    let tenth = a / 10.0;
    let fits = Some(tenth).filter(|tenth| (0.5 * due.low..=1.2 * due.high).contains(tenth));
    let leads = if far {
        "stop the charge now".to_owned()
    } else {
        format!("turn it down to {} A", trimmed(due.high.min(allowed_a).max(0.0), 2))
    };
    let question = match fits {
        Some(tenth) => format!("{} A, or {} A?", trimmed(a, 2), trimmed(tenth, 2)),
        None => format!("Do {} A flow?", trimmed(a, 2)),
    };
    let ask = asked(
        scene.amps_field(),
        question,
        fits.map(|tenth| (format!("{} A", trimmed(tenth, 2)), tenth, "it goes as planned".to_owned())),
        sure_of(format!("{} A, read twice", trimmed(a, 2)), &leads),
    );
    let message = format!("{read} If that is true: {} It is not counted until that is cleared up.", lower(&does));
    Some(SayingDoc { ask: Some(ask), ..saying(SayingCode::OverCurrent, severity, message, &values) })
}

fn lower(sentence: &str) -> String {
    let mut letters = sentence.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().chain(letters).collect())
}

/// Less flows than the chain gives at these volts.
pub(crate) fn supply_limited(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let (a, v) = (look.pack_a?, look.pack_v?);
    let due = scene.due.amps;
    // At the charge voltage the pack decides; turned by hand the knob does.
    if scene.at_voltage(v) || scene.chosen.nudge.is_some() || a >= due.low - 1.5 * slack_a(due.low) {
        return None;
    }
    let message = format!(
        "{} A flow where {} A was expected. The supply or the charger gives less than it should. The charge takes longer.",
        trimmed(a, 2),
        trimmed(due.at, 2)
    );
    let values = [("current_a", a), ("expected_a", due.at)];
    Some(saying(SayingCode::SupplyLimited, Severity::Caution, message, &values))
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
pub(crate) fn displays_differ(scene: &Scene<'_>) -> Option<SayingDoc> {
    let last = scene.readings.last()?;
    let (before_a, at_a, before, at) = both(scene, last)?;
    let volts = last.terminal_v.or(last.source_v).unwrap_or(scene.due.volts.at);
    let apart_a = (before_a - scene.plan.load.current_a(volts) - at_a).abs();
    if apart_a <= flow::DISPLAYS_APART_A.at || apart_a <= flow::DISPLAYS_APART.at * before_a.max(at_a) {
        return None;
    }
    let message = format!(
        "The {before} shows {} A, and the {at} shows {} A. {} A are missing, or one of the two is off. Look for a load that nobody counted. Feel for a warm plug or wire. Then compare both with a meter.",
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
