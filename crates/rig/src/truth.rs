//! What is so, where a plan only says or guesses.

/// How things are where nobody said, or where what was said is a span.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Truth {
    /// The cells' resistance as a share of what is said or usual.
    pub resistance: f64,
    /// Their capacity as a share of what is said.
    pub capacity: f64,
    /// Where the pack starts; `None`: where the card thinks.
    pub soc: Option<f64>,
    /// The mains as a share of what they should be.
    pub mains: f64,
    /// A converter's efficiency less what is said or usual.
    pub efficiency: f64,
    /// What a cut-off relay reads more than there is, as a share of the error it is told to have.
    pub relay: f64,
    /// When a load is switched off, s.
    pub load_until_s: f64,
    /// By so much whoever turns a knob comes late, s.
    pub late_s: f64,
    /// What the first cell holds, as a share of the others.
    pub weak_cell: f64,
}

impl Truth {
    /// As the card thinks.
    pub const AS_TOLD: Self = Self {
        resistance: 1.0,
        capacity: 1.0,
        soc: None,
        mains: 1.0,
        efficiency: 0.0,
        relay: 0.0,
        load_until_s: f64::INFINITY,
        late_s: 0.0,
        weak_cell: 1.0,
    };
}
