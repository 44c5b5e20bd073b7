//! When the amps of a charge do not fit what its chain gives.

use super::line::lines;

lines! { "flow" {
    /// So little of what should flow is next to nothing: what a display shows of no current at all.
    NOTHING "nothing_flows": f64 = 0.05, Share, Below, Meters, [Run];
    /// More than so many times the most that the chain gives is a slip of the pen, or a fault: it is asked.
    TWICE "twice_the_amps": f64 = 2.0, Share, Above, Practice, [Run];
    /// More than so many times what was expected is another current than the one that was planned.
    MORE "more": f64 = 1.2, Share, Above, Choice, [Run];
    /// More than so many times what the label allows stops the charge.
    FAR_OVER_LABEL "far_over_label": f64 = 1.2, Share, Above, Choice, [Run];
    /// Two displays of one current are no further apart than this share of it …
    DISPLAYS_APART "displays_apart": f64 = 0.08, Share, Above, Meters, [Run];
    /// … or than this: a small display shows tenths.
    DISPLAYS_APART_A "displays_apart_a": f64 = 0.15, Ampere, Above, Meters, [Run];
    /// A knob that was left alone still gives this share of what a turn would have given; less is no slow hand.
    LEFT_ALONE "left_alone": f64 = 0.2, Share, Below, Choice, [Run];
}}
