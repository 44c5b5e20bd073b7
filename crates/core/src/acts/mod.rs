//! Whatever somebody is told to do with amps or volts, and the one judge of it.
//!
//! A room makes an [`Act`] and gives it to [`judge`], which asks every rule of [`rules::EVERY_ACT`]; the room's own
//! rules may be stricter and take none away. What an act is broken off by stands in [`BreakOff`]: told and judged by
//! the same rows.

mod acceptance;
mod act;
mod break_off;
mod end;
mod finding;
mod judge;
mod lifts;
pub(crate) mod rules;

pub(crate) use act::{Act, ActKind};
pub(crate) use break_off::{Break, BreakOff, Warmest};
pub(crate) use end::End;
pub(crate) use finding::Finding;
pub(crate) use judge::{Refused, found_of, judge, told};
pub(crate) use rules::a_thousandfold;
