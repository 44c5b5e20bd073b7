//! Questions that stand open over a plan: whether its settings may stand all the same, and what each answer leads to.
//!
//! A guess stands only where it is harmless when it is wrong: what is set by the likeliest reading is held against
//! every other one by the checks of [`answer`].

mod held;
mod leads_to;
mod set;
mod words;

pub(crate) use held::{Judgement, forced, harmless, judge, stops};
pub(crate) use leads_to::leads_to;
pub(crate) use set::{Setting, strong_source, with};
pub(crate) use words::{ask_doc, order, question};
