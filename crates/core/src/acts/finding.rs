//! What a rule found, before acceptance, and what lifts it.

use std::collections::BTreeMap;

use crate::codes::{CheckCode, Place, Severity};
use crate::formats::{LiftDoc, named};

/// What a rule found, before acceptance.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Finding {
    pub(crate) code: CheckCode,
    pub(crate) severity: Severity,
    pub(crate) message: String,
    pub(crate) values: BTreeMap<String, f64>,
    /// Where, if not where the code usually is.
    pub(crate) at: Option<Place>,
    /// False where these numbers are past even what acceptance allows.
    pub(crate) within_acceptance: bool,
    /// What lifts it, the nearest first.
    pub(crate) lifts: Vec<LiftDoc>,
}

impl Finding {
    pub(crate) fn new(code: CheckCode, severity: Severity, message: String, values: &[(&str, f64)]) -> Self {
        Self { code, severity, message, values: named(values), at: None, within_acceptance: true, lifts: Vec::new() }
    }

    pub(crate) fn at(mut self, place: Place) -> Self {
        self.at = Some(place);
        self
    }

    pub(crate) fn stop(code: CheckCode, message: impl Into<String>, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Stop, message.into(), values)
    }

    pub(crate) fn caution(code: CheckCode, message: impl Into<String>, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Caution, message.into(), values)
    }

    pub(crate) fn note(code: CheckCode, message: impl Into<String>, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Note, message.into(), values)
    }

    /// Lifted by something that is done to the pack or the gear, and then told anew.
    pub(crate) fn lifted(mut self, does: impl Into<String>) -> Self {
        self.lifts.push(LiftDoc { does: does.into(), pointer: None, value: None });
        self
    }

    /// Lifted by telling something that nobody has told yet.
    pub(crate) fn lifted_at(mut self, does: impl Into<String>, pointer: &str) -> Self {
        self.lifts.push(LiftDoc { does: does.into(), pointer: Some(pointer.to_owned()), value: None });
        self
    }

    /// Lifted by putting a value in a field.
    pub(crate) fn lifted_by(mut self, does: impl Into<String>, pointer: &str, value: f64) -> Self {
        self.lifts.push(LiftDoc { does: does.into(), pointer: Some(pointer.to_owned()), value: Some(value) });
        self
    }
}
