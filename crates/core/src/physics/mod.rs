//! Cells and the operating point, in plain numbers: no format, no text, no gear.

pub(crate) mod battery;
pub(crate) mod cell;
pub(crate) mod charge;
pub(crate) mod operating;
pub(crate) mod wire;
