//! A run as it begins: its plan, its answer and the version that gave it, frozen.

use crate::advice::answer::{answer, answer_whole};
use crate::advice::checks::standing;
use crate::formats::{PackDoc, PlanDoc, Problems, ResultDoc, RunDoc, Severity};
use crate::parts::as_marked;

/// The problem of a plan that is refused.
pub(super) fn refused(why: &str) -> Problems {
    let mut problems = Problems::default();
    problems.add("/plan", format!("it is refused: {why}"), "a plan that gives settings");
    problems
}

/// The plan as it was resolved, but what nobody knows of the pack left open: taken for measured it would be
/// believed more than it should.
fn guesses_open(result: &ResultDoc) -> PlanDoc {
    let mut plan = result.resolved.clone();
    let assumed = |pointer: &str| result.assumed.iter().any(|one| one == pointer);
    if let Some(pack) = &mut plan.pack {
        if assumed("/pack/resistance_mohm") {
            pack.resistance_mohm = None;
        }
        if assumed("/pack/start") {
            pack.start = None;
        }
    }
    plan
}

/// The run with its plan as it is carried out, the answer to that and the core's version. What the pack is marked
/// as on the shelf counts. A log that was brought in knows nothing that fed it, and is kept as it is.
///
/// # Errors
/// What is wrong with the plan, below `/plan`; a plan that is refused.
pub fn begin(run: &RunDoc, shelf: Option<&PackDoc>) -> Result<RunDoc, Problems> {
    let ask = run.discharge.as_ref();
    let begins = |plan: &&PlanDoc| plan.source.is_some() || plan.charger.is_some() || ask.is_some();
    let Some(plan) = run.plan.as_ref().filter(begins) else {
        return Ok(run.clone());
    };
    let plan = shelf.map_or_else(|| plan.clone(), |pack| as_marked(plan, pack));
    let result = match ask {
        Some(ask) => answer_whole(&plan, ask),
        None => answer(&plan),
    };
    let result = result.map_err(|wrong| wrong.under("/plan"))?;
    let told_off = result.discharge.iter().flat_map(|told| &told.checks);
    let told_off = told_off.filter(|check| check.severity == Severity::Stop).map(|check| &check.message);
    if let Some(why) = standing(&result.checks).map(|stop| &stop.message).or(told_off.into_iter().next()) {
        return Err(refused(why));
    }
    let mut problems = Problems::default();
    let mut begun = run.clone();
    begun.core_version = Some(env!("CARGO_PKG_VERSION").to_owned());
    let opened = guesses_open(&result);
    begun.plan = Some(if ask.is_some() { PlanDoc { pack: opened.pack, ..plan } } else { opened });
    match serde_json::to_value(&result) {
        Ok(document) => begun.result = Some(document),
        Err(error) => {
            problems.add("/plan", format!("its answer cannot be kept: {error}"), "a plan that gives settings")
        }
    }
    problems.into_result(begun)
}
