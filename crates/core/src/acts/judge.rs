//! The one judge: every act passes it, and a document with volts or amps is made from what it has cleared.

use super::acceptance;
use super::act::Act;
use super::finding::Finding;
use super::lifts::usual;
use super::rules::EVERY_ACT;
use crate::codes::Severity;
use crate::formats::{AcceptedDoc, CheckDoc};

/// An act that no stop stands against.
#[derive(Clone, Debug)]
pub(crate) struct Cleared<'a> {
    act: Act<'a>,
    findings: Vec<Finding>,
}

/// Why an act is not done.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Refused {
    /// Everything that was found, gravest first.
    pub(crate) findings: Vec<Finding>,
}

impl<'a> Cleared<'a> {
    pub(crate) fn act(&self) -> &Act<'a> {
        &self.act
    }

    /// What is to be minded, gravest first.
    pub(crate) fn findings(&self) -> &[Finding] {
        &self.findings
    }
}

/// What the rules of every act say of one.
pub(crate) fn found_of(act: &Act<'_>) -> Vec<Finding> {
    EVERY_ACT.iter().filter_map(|rule| Some((rule.run)(act)?.at(rule.place))).collect()
}

/// Judges an act, with what a room has found beside.
///
/// # Errors
/// Every finding, where a stop is among them.
pub(crate) fn judge<'a>(act: Act<'a>, stricter: Vec<Finding>) -> Result<Cleared<'a>, Refused> {
    let mut findings = found_of(&act);
    findings.extend(stricter);
    findings.sort_by_key(|finding| (finding.severity, finding.code));
    if findings.iter().any(|finding| finding.severity == Severity::Stop) {
        return Err(Refused { findings });
    }
    Ok(Cleared { act, findings })
}

/// Findings as they are told, gravest first, those that somebody has accepted marked.
pub(crate) fn told(mut findings: Vec<Finding>, acceptances: &[AcceptedDoc]) -> Vec<CheckDoc> {
    findings.sort_by_key(|finding| (finding.severity, finding.code));
    let told = |finding: Finding| {
        let acceptable = finding.severity == Severity::Stop && finding.code.acceptable() && finding.within_acceptance;
        let accepted =
            acceptable && acceptances.iter().any(|given| acceptance::covers(finding.code, given, &finding.values));
        CheckDoc {
            rescue: finding.code.leads_to_rescue(),
            code: finding.code,
            severity: finding.severity,
            at: finding.at.unwrap_or_else(|| finding.code.place()),
            message: finding.message,
            values: finding.values,
            acceptable,
            accepted,
            lifts: match finding.severity {
                Severity::Stop if finding.lifts.is_empty() => usual(finding.code),
                _ => finding.lifts,
            },
        }
    };
    findings.into_iter().map(told).collect()
}
