//! Every line of judgement, once: numbers only, with unit, kind of source, the rooms that use it and why.
//!
//! What a room says past a line stands in that room; the figure stands here and nowhere else
//! (`scripts/lines.mjs`). [`told`] lists them for the guide.

pub(crate) mod cells;
pub(crate) mod deep;
pub(crate) mod ends;
pub(crate) mod flow;
pub(crate) mod gear;
pub(crate) mod leads;
pub(crate) mod leaks;
pub(crate) mod line;
mod list;
pub(crate) mod meters;
pub(crate) mod outward;
pub(crate) mod rates;
pub(crate) mod readings;
mod told;
pub(crate) mod volts;
pub(crate) mod warmth;
pub(crate) mod wear;

pub use told::told;
