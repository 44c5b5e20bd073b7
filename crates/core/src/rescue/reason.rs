//! One reason of Rescue, and the verdict it asks for.

use crate::codes::{ReasonCode, Severity, Verdict};
use crate::formats::{ReasonDoc, named};

/// One reason and the verdict it asks for.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Reason {
    pub(crate) verdict: Verdict,
    pub(super) code: ReasonCode,
    message: String,
    values: Vec<(&'static str, f64)>,
    would_change: Option<String>,
    /// How grave, if not as grave as its verdict.
    severity: Option<Severity>,
}

impl Reason {
    pub(super) fn new(verdict: Verdict, code: ReasonCode, message: impl Into<String>) -> Self {
        Self { verdict, code, message: message.into(), values: Vec::new(), would_change: None, severity: None }
    }

    /// Told as grave as this.
    pub(super) fn told_as(mut self, severity: Severity) -> Self {
        self.severity = Some(severity);
        self
    }

    pub(super) fn with(mut self, values: &[(&'static str, f64)]) -> Self {
        self.values.extend_from_slice(values);
        self
    }

    pub(super) fn unless(mut self, change: impl Into<String>) -> Self {
        self.would_change = Some(change.into());
        self
    }

    /// As the result shows it.
    pub(crate) fn document(&self) -> ReasonDoc {
        ReasonDoc {
            code: self.code,
            severity: self.severity.unwrap_or(match self.verdict {
                Verdict::Retire | Verdict::Inspect => Severity::Stop,
                Verdict::Wake | Verdict::Precharge => Severity::Caution,
                Verdict::Charge => Severity::Note,
            }),
            message: self.message.clone(),
            values: named(&self.values),
            would_change: self.would_change.clone(),
        }
    }
}
