//! Every line, subject by subject.

use super::line::AnyLine;
use super::{cells, deep, ends, flow, gear, leads, leaks, meters, outward, rates, readings, volts, warmth, wear};

/// Every line, subject by subject.
pub(super) fn all() -> impl Iterator<Item = &'static dyn AnyLine> {
    [
        volts::ALL,
        warmth::ALL,
        cells::ALL,
        deep::ALL,
        rates::ALL,
        ends::ALL,
        flow::ALL,
        leaks::ALL,
        wear::ALL,
        outward::ALL,
        leads::ALL,
        gear::ALL,
        meters::ALL,
        readings::ALL,
    ]
    .into_iter()
    .flatten()
    .copied()
}
