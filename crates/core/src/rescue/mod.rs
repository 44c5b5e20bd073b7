//! Bringing back a deep-discharged pack, or deciding not to.
//!
//! [`rescue`] goes from what was found to a verdict with its reasons, the questions still open and
//! the stages; [`judge`] says of readings whether a stage goes as a living pack would.

mod allowed;
mod close;
mod deep;
mod donor;
#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod every_case;
mod found;
mod gear;
mod judge;
mod picture;
mod pointers;
mod proof;
mod questions;
mod reason;
mod rescue_stages;
mod triage;
#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod trials;

use crate::advice::steps::{emergency, emergency_of_any};
use crate::formats::{
    AfterwardsDoc, ChargerDoc, ChargerKind, FitDoc, JudgeAskDoc, JudgeState, JudgementDoc, PackMark, Problems,
    RESCUE_RESULT_FORMAT, ReasonCode, ReasonDoc, RescueDoc, RescueOutcome, RescuePractice, RescueResultDoc,
    RescueStageDoc, RescueStageKind, Severity, Verdict, WayDoc,
};
use crate::lines::wear;
use crate::parts::{lead, plan, source};
use crate::physics::cell::{Traits, profile};
use crate::units::trimmed;
use found::Picture;
use gear::{Gear, Target};
use picture::picture;

pub use close::close;

/// How many of the gentler ways at hand are shown.
const ALTERNATIVES: usize = 4;

/// Answers a rescue.
///
/// # Examples
/// ```
/// use rumek_core::formats::{RescueDoc, Verdict, from_value};
/// use serde_json::json;
///
/// let found: RescueDoc = from_value(&json!({
///     "format": "rumek.rescue/1",
///     "pack": { "chemistry": "lipo", "series": 2, "capacity_ah": 1 },
///     "found": { "terminal_v": 5.4, "cell_voltages_v": [2.7, 2.7], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 20 }
/// }))?;
/// assert_eq!(rumek_core::rescue(&found)?.verdict, Verdict::Precharge);
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the document, each problem with its JSON pointer. What is merely not said
/// yet is no error: it is asked.
pub fn rescue(doc: &RescueDoc) -> Result<RescueResultDoc, Problems> {
    let Some(picture) = picture(doc)? else {
        return Ok(unidentified(doc));
    };
    let decision = triage::decide(&picture);
    let other = other_practice(&picture);
    let staged = rescue_stages::stages(doc, &picture, &decision)?;
    let gear = staged.trial.as_ref().filter(|_| doc.source.is_some()).map(|trial| trial.fit.clone());
    let alternatives = match staged.target {
        Some(target) if gear.as_ref().is_none_or(|fit| !fit.fits) => alternatives(doc, &picture, &target),
        _ => Vec::new(),
    };
    // Of a pack that is given up nothing else matters.
    let given_up = decision.verdict == Verdict::Retire;
    let telling = decision.reasons.iter().filter(|reason| !given_up || reason.verdict == Verdict::Retire);
    let reasons: Vec<ReasonDoc> = telling.map(reason::Reason::document).collect();
    Ok(RescueResultDoc {
        format: RESCUE_RESULT_FORMAT.to_owned(),
        ask: questions::about_found(doc, &picture, decision.verdict),
        verdict: decision.verdict,
        message: sentence(decision.verdict).to_owned(),
        other_practice: other.verdict,
        other_practice_message: (other.verdict != decision.verdict)
            .then(|| other.reasons.first().map(|reason| reason.document().message))
            .flatten(),
        reasons,
        gear,
        alternatives,
        donor: donor(doc, &picture, &decision)?,
        afterwards: afterwards(&picture, &decision),
        disposal: (decision.verdict == Verdict::Retire).then(|| disposal(&picture).to_owned()),
        stages: staged.stages,
        emergency: emergency(&picture.pack),
    })
}

/// Judges the readings of a stage.
///
/// # Examples
/// ```
/// use rumek_core::formats::{JudgeAskDoc, JudgeState, from_value};
/// use serde_json::json;
///
/// let rescue = json!({
///     "format": "rumek.rescue/1",
///     "pack": { "chemistry": "lipo", "series": 2, "capacity_ah": 1 },
///     "found": { "terminal_v": 5.4, "cell_voltages_v": [2.7, 2.7], "bms": "absent", "low_for": "hours", "signs": ["none"], "temperature_c": 20 }
/// });
/// let readings = json!([{ "t_s": 60, "terminal_v": 5.6, "temperature_c": 45 }]);
/// let ask: JudgeAskDoc = from_value(&json!({ "rescue": rescue, "stage": "precharge", "readings": readings }))?;
/// assert_eq!(rumek_core::judge(&ask)?.state, JudgeState::Abort);
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// As [`rescue`]; and a stage that this rescue does not have.
pub fn judge(ask: &JudgeAskDoc) -> Result<JudgementDoc, Problems> {
    let doc = ask.rescue.clone().unwrap_or_default();
    let result = rescue(&doc).map_err(|wrong| wrong.under("/rescue"))?;
    let mut problems = Problems::default();
    let stage = ask.stage.and_then(|kind| result.stages.iter().find(|stage| stage.kind == kind));
    let (Some(stage), Some(picture)) = (stage, picture(&doc)?) else {
        let kinds: Vec<&str> = result.stages.iter().map(|stage| stage.kind.code()).collect();
        problems.add("/stage", "this rescue has no such stage now", kinds.join(", "));
        return Err(problems);
    };
    let mut readings = ask.readings.clone().unwrap_or_default();
    for (n, reading) in readings.iter().enumerate() {
        if !reading.t_s.is_some_and(f64::is_finite) {
            problems.add(format!("/readings/{n}/t_s"), "when it was read is not said", "seconds since the stage began");
        }
    }
    problems.into_result(())?;
    readings.sort_by(|a, b| a.t_s.unwrap_or(0.0).total_cmp(&b.t_s.unwrap_or(0.0)));
    let now_s = ask.now_s.unwrap_or_else(|| readings.last().and_then(|r| r.t_s).unwrap_or(0.0));
    let rounds = ask.rounds.unwrap_or(0);
    let precharges = precharges(&result.stages);
    let watch = judge::Watch { picture: &picture, stage, now_s, readings: &readings, rounds, precharges };
    let said = judge::judge(&watch);
    Ok(JudgementDoc { ways: ways(&result.stages, stage.kind, said.state), ..said })
}

fn precharges(stages: &[RescueStageDoc]) -> bool {
    stages.iter().any(|stage| stage.kind == RescueStageKind::Precharge)
}

/// The ways that lead on from a stage; a board that woke is read first, and that decides.
fn ways(stages: &[RescueStageDoc], kind: RescueStageKind, state: JudgeState) -> Vec<WayDoc> {
    let after = stages.iter().position(|stage| stage.kind == kind).and_then(|at| stages.get(at + 1));
    match (state, kind) {
        (JudgeState::Reached, RescueStageKind::Wake) => Vec::new(),
        (JudgeState::Reached, _) => vec![WayDoc { to: after.map(|stage| stage.kind) }],
        (JudgeState::Slow, RescueStageKind::Handover) => {
            let back = if precharges(stages) { RescueStageKind::Precharge } else { RescueStageKind::Inspect };
            vec![WayDoc { to: Some(back) }]
        }
        (JudgeState::Abort, _) => vec![WayDoc { to: None }],
        _ => Vec::new(),
    }
}

/// Of a pack nobody has described: what it is, is asked, unless its looks alone decide.
fn unidentified(doc: &RescueDoc) -> RescueResultDoc {
    let seen = doc.found.as_ref().and_then(|found| found.signs.as_deref()).unwrap_or_default();
    let beyond_help = triage::beyond_help(seen);
    let (verdict, ask, reasons) = if beyond_help.is_empty() {
        let unknown = ReasonDoc {
            code: ReasonCode::NotIdentified,
            severity: Severity::Stop,
            message: "What it is, how many cells it has and how much it holds decide everything else.".to_owned(),
            values: std::collections::BTreeMap::new(),
            would_change: None,
        };
        (Verdict::Inspect, questions::about_pack(doc), vec![unknown])
    } else {
        (Verdict::Retire, Vec::new(), beyond_help.iter().map(reason::Reason::document).collect())
    };
    let chemistry = doc.pack.as_ref().and_then(|pack| pack.chemistry).and_then(profile);
    RescueResultDoc {
        format: RESCUE_RESULT_FORMAT.to_owned(),
        ask,
        verdict,
        message: sentence(verdict).to_owned(),
        other_practice: verdict,
        other_practice_message: None,
        reasons,
        stages: Vec::new(),
        gear: None,
        alternatives: Vec::new(),
        donor: None,
        afterwards: AfterwardsDoc::default(),
        disposal: (verdict == Verdict::Retire)
            .then(|| chemistry.map_or(Traits::UNKNOWN, |known| known.traits).disposal.to_owned()),
        emergency: emergency_of_any(),
    }
}

fn sentence(verdict: Verdict) -> &'static str {
    match verdict {
        Verdict::Retire => "It is not to be charged again.",
        Verdict::Inspect => "Nothing is connected to it until that is known or put right.",
        Verdict::Wake => "A minute at a time; then read what the cells really hold.",
        Verdict::Precharge => "Little current, watched, until its charger can take over.",
        Verdict::Charge => "Nothing here asks for more than its normal charge.",
    }
}

fn other_practice(picture: &Picture) -> triage::Decision {
    let practice = match picture.practice {
        RescuePractice::Cautious => RescuePractice::Experienced,
        RescuePractice::Experienced => RescuePractice::Cautious,
    };
    triage::decide(&Picture { practice, ..picture.clone() })
}

/// What else at hand does, the gentlest first: fewer parts before more, what is
/// set to the gentle current before what merely gives little.
fn alternatives(doc: &RescueDoc, picture: &Picture, target: &Target) -> Vec<FitDoc> {
    let at_hand = doc.at_hand.clone().unwrap_or_default();
    let sources = at_hand.sources.unwrap_or_default();
    let chargers = at_hand.chargers.unwrap_or_default();
    let pack = doc.pack.clone().unwrap_or_default();
    let mut fits: Vec<FitDoc> = Vec::new();
    for (s, source) in sources.iter().enumerate() {
        // Chargers that choose for themselves refuse so low a pack.
        let limits = |charger: &&ChargerDoc| !charger.kind.is_some_and(ChargerKind::chooses);
        let with = chargers
            .iter()
            .enumerate()
            .filter(|(_, charger)| limits(charger))
            .map(|(c, charger)| (Some(c), Some(charger)));
        for (c, charger) in std::iter::once((None, None)).chain(with) {
            let gear = Gear { source, charger, leads: doc.leads.as_ref() };
            // What cannot be read, or cannot be joined at all, is no way.
            let Ok(trial) = gear::attempt(picture, &pack, gear, target, false) else { continue };
            if trial.fit.fits {
                fits.push(FitDoc { source: Some(s as u32), charger: c.map(|c| c as u32), ..trial.fit });
            }
        }
    }
    fits.sort_by(|a, b| {
        let least = |fit: &FitDoc| fit.current_a.unwrap_or(f64::INFINITY);
        (a.charger.is_some(), !a.controlled)
            .cmp(&(b.charger.is_some(), !b.controlled))
            .then(least(a).total_cmp(&least(b)))
    });
    fits.truncate(ALTERNATIVES);
    fits
}

fn donor(
    doc: &RescueDoc,
    picture: &Picture,
    decision: &triage::Decision,
) -> Result<Option<crate::formats::DonorDoc>, Problems> {
    let Some(donor) = &doc.donor else {
        return Ok(None);
    };
    let mut problems = Problems::default();
    let mut filled = donor.clone();
    plan::fill_source(&mut filled, &mut Vec::new());
    let source = source::read(&filled, "/donor", &mut problems);
    let lead = doc.leads.as_ref().and_then(|leads| leads.output.as_ref());
    let lead =
        lead.and_then(|lead| lead::read(lead, doc.ambient_c.unwrap_or(plan::ROOM_C), "/leads/output", &mut problems));
    problems.into_result(source.map(|source| donor::donor(picture, decision, &source, lead.as_ref())))
}

fn afterwards(picture: &Picture, decision: &triage::Decision) -> AfterwardsDoc {
    match decision.verdict {
        Verdict::Retire => AfterwardsDoc {
            mark: Some(PackMark::Retired),
            outcome: Some(RescueOutcome::Retired),
            message: "A retired pack stays listed, marked, and gives no settings any more.".to_owned(),
            ..AfterwardsDoc::default()
        },
        Verdict::Inspect | Verdict::Charge => AfterwardsDoc {
            outcome: Some(RescueOutcome::Sound),
            message: "Nothing stays but what it gave.".to_owned(),
            ..AfterwardsDoc::default()
        },
        Verdict::Wake | Verdict::Precharge => {
            let marked = rescue_stages::marked(picture, decision);
            let rate = rescue_stages::derated(picture);
            let rated_c_rate = (marked && rate.is_finite()).then_some(rate);
            let (outcome, message) = match rated_c_rate {
                Some(rate) => (
                    RescueOutcome::Recovered,
                    format!(
                        "From now on it is charged with {}C at most and carries the mark “recovered”.",
                        trimmed(rate, 2)
                    ),
                ),
                None if marked => (RescueOutcome::Recovered, "It carries the mark “recovered” from now on.".to_owned()),
                None => (RescueOutcome::Sound, "Nothing stays but what it gave.".to_owned()),
            };
            AfterwardsDoc {
                rated_c_rate,
                mark: marked.then_some(PackMark::Recovered),
                outcome: Some(outcome),
                message,
                prove: vec![
                    "From the second day at rest on it loses next to nothing.".to_owned(),
                    format!(
                        "A capacity test gives {} % of the label, or it is derated; under {} % it is retired.",
                        trimmed(100.0 * wear::WORN.at, 0),
                        trimmed(100.0 * wear::RETIRE.at, 0)
                    ),
                    "The cells stay together through the next three charges.".to_owned(),
                ],
            }
        }
    }
}

/// Where a pack to be retired goes.
fn disposal(picture: &Picture) -> &'static str {
    picture.pack.profile.traits.disposal
}
