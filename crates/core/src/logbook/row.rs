//! One reading with when it was taken.

use crate::formats::RunReadingDoc;

/// A reading to be written, with when it was taken.
#[derive(Clone, Debug, PartialEq)]
pub struct LogRow {
    /// Since 1970, s.
    pub unix_s: f64,
    /// The reading; its `t_s` counts from the start of the run.
    pub reading: RunReadingDoc,
}
