//! Every line of judgement, once: numbers only, with unit, kind of source, the rooms that use it and why.
//!
//! What a room says past a line stands in that room; the figure stands here and nowhere else
//! (`scripts/lines.mjs`). [`told`] lists them for the guide.

pub(crate) mod cells;
pub(crate) mod deep;
pub(crate) mod ends;
pub(crate) mod gear;
pub(crate) mod leads;
pub(crate) mod leaks;
mod line;
pub(crate) mod meters;
pub(crate) mod outward;
pub(crate) mod rates;
pub(crate) mod readings;
mod told;
pub(crate) mod volts;
pub(crate) mod warmth;
pub(crate) mod wear;

pub(crate) use line::{AnyLine, Basis, Line, OfFamily, Past, Room, Unit, lines};
pub use told::told;

/// Every line, subject by subject.
pub(crate) fn all() -> impl Iterator<Item = &'static dyn AnyLine> {
    [
        volts::ALL,
        warmth::ALL,
        cells::ALL,
        deep::ALL,
        rates::ALL,
        ends::ALL,
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
