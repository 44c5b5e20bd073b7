//! Checking the fields of a document on the way into the domain, each problem with its pointer.

use crate::formats::Problems;
use crate::units::trimmed;

/// Collects problems of the fields below one JSON pointer.
pub(crate) struct Checked<'a> {
    at: &'a str,
    problems: &'a mut Problems,
}

impl<'a> Checked<'a> {
    pub(crate) fn new(at: &'a str, problems: &'a mut Problems) -> Self {
        Self { at, problems }
    }

    /// Records a problem of a field.
    pub(crate) fn add(&mut self, field: &str, message: impl Into<String>, allowed: impl Into<String>) {
        self.problems.add(format!("{}/{field}", self.at), message, allowed);
    }

    /// Records that a field was not said yet.
    pub(crate) fn lacks(&mut self, field: &str, message: impl Into<String>, allowed: impl Into<String>) {
        self.problems.lacks(format!("{}/{field}", self.at), message, allowed);
    }

    /// The value, or a problem where it is missing.
    pub(crate) fn required<T>(&mut self, field: &str, value: Option<T>, allowed: &str) -> Option<T> {
        if value.is_none() {
            self.lacks(field, "this is needed and not said", allowed);
        }
        value
    }

    /// The number if it lies in the range; a problem where it is given and does not.
    pub(crate) fn within(&mut self, field: &str, value: Option<f64>, low: f64, high: f64) -> Option<f64> {
        let given = value?;
        if given.is_finite() && (low..=high).contains(&given) {
            return Some(given);
        }
        self.add(
            field,
            format!("{} is out of range", trimmed(given, 4)),
            format!("{} to {}", trimmed(low, 3), trimmed(high, 3)),
        );
        None
    }

    /// The whole number if it lies in the range; a problem where it is given and does not.
    pub(crate) fn whole(&mut self, field: &str, value: Option<u32>, low: u32, high: u32) -> Option<u32> {
        let given = value?;
        if (low..=high).contains(&given) {
            return Some(given);
        }
        self.add(field, format!("{given} is out of range"), format!("{low} to {high}"));
        None
    }
}
