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

pub(crate) use settings::passes_full_by;
pub(crate) use situation::{Situation, charges_nothing, nothing_flows};

use crate::acts::{self, Finding};
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
    let findings = one_question(situation, findings);
    without_promises(acts::told(findings, &situation.plan.acceptances))
}

/// What a supply does when it is overloaded is asked once: whatever follows from nobody knowing it is not told beside.
fn one_question(s: &Situation<'_>, mut findings: Vec<Finding>) -> Vec<Finding> {
    let asked =
        |finding: &Finding| finding.code == CheckCode::SourceNoCurrentLimit && finding.severity == Severity::Stop;
    if !s.plan.overload_assumed || !findings.iter().any(asked) {
        return findings;
    }
    findings.retain(|finding| finding.severity != Severity::Stop || !FOLLOWS.contains(&finding.code));
    for finding in findings.iter_mut().filter(|finding| asked(finding)) {
        *finding = finding.clone().lifted_at(
            "Look up what this supply does when it is overloaded. If it holds its current, say so.",
            "/source/overload",
        );
    }
    findings
}

/// What more current than anything holds leads to.
const FOLLOWS: [CheckCode; 4] =
    [CheckCode::PackRateTooHigh, CheckCode::PackBmsOverloaded, CheckCode::PackColdRate, CheckCode::LeadsUndersized];

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
