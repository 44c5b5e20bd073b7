//! What of a refit may be kept with the pack, and why not.

use super::refit::Fitted;
use crate::formats::{KeepDoc, PlanDoc, RefitDoc, RunStateDoc, RunWay};
use crate::lines::{readings, wear};
use crate::parts::plan::Plan;
use crate::units::significant;

/// Fewer readings may owe all they say to one of them.
const FEWEST: usize = 5;

/// What a charge's readings made of one pack of it, once it has ended; `None` where they told too little.
#[must_use]
pub fn refit_of(plan: &PlanDoc, state: &RunStateDoc) -> Option<RefitDoc> {
    state.keep.health?;
    let n = f64::from(plan.pack.as_ref().and_then(|pack| pack.packs_in_parallel).unwrap_or(1));
    let fit = &state.fit;
    Some(RefitDoc {
        capacity_ah: Some(significant(fit.capacity_ah / n)),
        capacity_sd_ah: Some(significant(fit.capacity_sd_ah / n)),
        resistance_mohm: Some(significant(fit.resistance_mohm * n)),
        resistance_sd_mohm: Some(significant(fit.resistance_sd_mohm * n)),
        whole: Some(fit.start_soc <= wear::WHOLE_FROM.at && state.soc >= wear::WHOLE_TO.at),
    })
}

/// What may be kept with one pack of the run.
pub(super) fn keep(plan: &Plan, fitted: &Fitted, way: RunWay) -> KeepDoc {
    let not = |why: &str| KeepDoc { why_not: Some(why.to_owned()), ..KeepDoc::default() };
    match way {
        RunWay::Charge => {}
        RunWay::Discharge => return not("It is a discharge: what it gave is no refit of a charge."),
        RunWay::Several => return not("It holds several charges or discharges: part it, and bring each in by itself."),
        RunWay::Unclear => {
            return not("Its current and its volts contradict each other: see which way its current counts.");
        }
    }
    if fitted.readings < FEWEST || fitted.learned < readings::TEACHES.at {
        return KeepDoc::default();
    }
    if fitted.at_bounds() {
        return not(
            "No pack like this one gives such readings: another pack's log, a wrong cell count or capacity, or a load beside it.",
        );
    }
    let (resistance_mohm, capacity_ah) = fitted.figures(plan);
    let n = f64::from(plan.pack.parallel);
    let label_ah = crate::units::in_amp_hours(plan.pack.nameplate);
    KeepDoc {
        resistance_mohm: Some((resistance_mohm * n * 10.0).round() / 10.0),
        health: Some(((capacity_ah / label_ah * 100.0).round() / 100.0).clamp(0.05, 1.2)),
        record: None,
        why_not: None,
    }
}
