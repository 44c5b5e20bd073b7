//! Everything that has words: a plan answered, checked, told step by step, and what would help.

pub(crate) mod answer;
mod chain_stages;
pub(crate) mod checks;
pub(crate) mod curve;
mod dial;
pub(crate) mod discharge;
mod resistor;
mod sizing;
mod span;
mod stay;
pub(crate) mod steps;
pub(crate) mod what_if;

pub use answer::{Prepared, answer, prepared};
pub use sizing::size;
