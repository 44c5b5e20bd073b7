//! How much current.

use super::line::{OfFamily, lines};

lines! { "rates" {
    /// The most a deep-discharged pack is fed with.
    GENTLE_C "gentle_c": OfFamily = |p| Some(p.traits.gentle_c), CRate, Above, Practice, [Plan, Rescue];
    /// A label is passed by no more than this, and only once somebody has accepted it.
    OVER_LABEL "over_label": f64 = 1.5, Share, Above, Choice, [Plan];
    /// More than a usual rate by this much is a caution where no label says more.
    OVER_USUAL "over_usual": f64 = 1.05, Share, Above, Choice, [Plan];
    /// More than the most that was told by this is no error of a meter but another current.
    OVER_TOLD "over_told": f64 = 1.3, Share, Above, Meters, [Rescue];
    /// So much more than what is gentle a dial and a meter may be off.
    DIAL_OVER "dial_over": f64 = 1.05, Share, Above, Meters, [Rescue];
    /// A small adapter may be asked for so many times its label for the time a rescue takes.
    ADAPTER_OVER "adapter_over": f64 = 1.5, Share, Above, Practice, [Rescue];
    /// Taken out at this rate hardly any pack warms.
    OUT_C "out_c": f64 = 0.2, CRate, Above, Practice, [Plan];
    /// A current counts as held up to this share of what was asked for.
    HELD "held": f64 = 1.02, Share, Above, Meters, [Plan];
}}
