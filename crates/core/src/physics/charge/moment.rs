//! One moment of a charge.

use crate::codes::LimitCode;

/// One moment.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Moment {
    pub(crate) t_s: f64,
    pub(crate) pack_v: f64,
    pub(crate) current_a: f64,
    pub(crate) soc: f64,
    pub(crate) limit: LimitCode,
    /// The source with nothing drawn, V; 0 without one.
    pub(crate) open_v: f64,
}
