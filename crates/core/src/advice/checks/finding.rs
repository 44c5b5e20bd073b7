//! What a check found, before acceptance.

use std::collections::BTreeMap;

use crate::codes::{CheckCode, Place, Severity};
use crate::formats::named;

/// What a check found, before acceptance.
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
}

impl Finding {
    pub(crate) fn new(code: CheckCode, severity: Severity, message: String, values: &[(&str, f64)]) -> Self {
        Self { code, severity, message, values: named(values), at: None, within_acceptance: true }
    }

    pub(super) fn at(mut self, place: Place) -> Self {
        self.at = Some(place);
        self
    }

    pub(super) fn stop(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Stop, message, values)
    }

    pub(super) fn caution(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Caution, message, values)
    }

    pub(super) fn note(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Note, message, values)
    }
}
