//! When the amps of a charge do not fit what its chain gives.

use super::line::lines;

lines! { "flow" {
    /// So little of what should flow is next to nothing: what a display shows of no current at all.
    NOTHING "nothing_flows": f64 = 0.05, Share, Below, Meters, [Run];
    /// More than so many times the most that the chain gives is a slip of the pen, or a fault: it is asked.
    TWICE "twice_the_amps": f64 = 2.0, Share, Above, Practice, [Run];
}}
