//! What holds a voltage up to a current, as three straight lines.
//!
//! Newton's turns pass from one line to the next and never over one, so that they do not swing between the
//! first and the last.

/// Which line it stands on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(crate) enum Segment {
    /// What it feeds stands higher: it gives nothing.
    Blocks,
    /// It holds its volts.
    Holds,
    /// It gives all it may.
    Limits,
}

impl Segment {
    /// One line towards the one that some volts ask for.
    pub(crate) fn towards(self, free_a: f64, most_a: f64) -> Self {
        let wanted = if free_a <= 0.0 {
            Self::Blocks
        } else if free_a > most_a {
            Self::Limits
        } else {
            Self::Holds
        };
        match (self, wanted) {
            (Self::Blocks, Self::Limits) | (Self::Limits, Self::Blocks) => Self::Holds,
            (_, wanted) => wanted,
        }
    }
}
