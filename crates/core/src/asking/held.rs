//! Whether settings may stand while something is open.

use serde_json::json;

use super::set::{Setting, with};
use crate::advice::answer;
use crate::codes::CheckCode;
use crate::formats::{CheckDoc, PlanDoc, ResultDoc, Severity};

/// What a plan comes to.
pub(crate) enum Judgement {
    /// Something is missing, or cannot be.
    Unfinished,
    /// A check stops it.
    Stopped(Box<ResultDoc>),
    /// It has settings, or needs none.
    Given(Box<ResultDoc>),
}

/// The plan's own answer.
pub(crate) fn judge(plan: &PlanDoc) -> Judgement {
    match answer(plan) {
        Err(_) => Judgement::Unfinished,
        Ok(result) if stops(&result).next().is_some() => Judgement::Stopped(Box::new(result)),
        Ok(result) => Judgement::Given(Box::new(result)),
    }
}

/// The stops of an answer.
pub(crate) fn stops(result: &ResultDoc) -> impl Iterator<Item = &CheckDoc> {
    result.checks.iter().filter(|check| check.severity == Severity::Stop && !check.accepted)
}

/// The checks for which a pack is charged in another way, or looked at first.
fn grave(result: &ResultDoc) -> impl Iterator<Item = CheckCode> {
    const GRAVE: &[CheckCode] =
        &[CheckCode::PackDeeplyDischarged, CheckCode::PackDeadCell, CheckCode::PackCellSpread, CheckCode::PackTooCold];
    let cautions = result.checks.iter().filter(|check| check.severity == Severity::Caution).map(|check| check.code);
    cautions.filter(|code| GRAVE.contains(code))
}

/// What comes of setting one plan's volts and amps where another one is true; `None` where they cannot be set.
pub(crate) fn forced(base: &ResultDoc, other: &PlanDoc) -> Option<Judgement> {
    let settings: Vec<Setting> = base.settings.as_ref().map_or_else(Vec::new, |set| {
        let of = |field: &str, figure: f64| (format!("/settings/{field}"), json!(figure));
        vec![of("voltage_v", set.voltage_v), of("current_a", set.current_a)]
    });
    with(other, &settings).map(|plan| judge(&plan))
}

/// Whether what is set by one plan harms nothing if another one is true.
pub(crate) fn harmless(base: &ResultDoc, other: &PlanDoc) -> bool {
    let Judgement::Given(own) = judge(other) else { return false };
    // What begins gently, or is looked at first, is not given what another would be.
    if grave(&own).any(|code| grave(base).all(|one| one != code)) {
        return false;
    }
    // A voltage that the true chain cannot be set to is judged by what that chain would do.
    forced(base, other).is_some_and(|judgement| !matches!(judgement, Judgement::Stopped(_)))
}
