//! What to mind: one file of checks a place.

mod charger;
mod leads;
mod load;
mod mains;
mod most;
mod pack;
mod settings;
mod situation;
mod source;

pub(crate) use leads::{ORDINARY_FUSE_BREAKS_A, ORDINARY_FUSE_V};
pub(crate) use situation::{Situation, charges_nothing, nothing_flows};

use crate::acts;
use crate::codes::{CheckCode, Severity};
use crate::formats::CheckDoc;

/// Runs every check that applies, gravest first, and marks what was accepted.
pub(crate) fn run(situation: &Situation<'_>) -> Vec<CheckDoc> {
    let mut findings = acts::found_of(&situation.act());
    pack::check(situation, &mut findings);
    source::check(situation, &mut findings);
    charger::check(situation, &mut findings);
    leads::check(situation, &mut findings);
    mains::check(situation, &mut findings);
    settings::check(situation, &mut findings);
    load::check(situation, &mut findings);
    without_promises(acts::told(findings, &situation.plan.acceptances))
}

/// A charge that is refused has no end to be told of.
fn without_promises(mut checks: Vec<CheckDoc>) -> Vec<CheckDoc> {
    if refuses(&checks) {
        checks.retain(|check| check.code != CheckCode::SettingsNoTermination);
    }
    checks
}

/// Whether any stop stands.
pub(crate) fn refuses(checks: &[CheckDoc]) -> bool {
    standing(checks).is_some()
}

/// The first stop that stands.
pub(crate) fn standing(checks: &[CheckDoc]) -> Option<&CheckDoc> {
    checks.iter().find(|check| check.severity == Severity::Stop && !check.accepted)
}
