//! What Rumek knows of each chemistry: plain data, one file a family.
//!
//! Every figure is a default that a label, a measurement or the person overrides. They are
//! typical values of published discharge and charge curves, textbook cell chemistry and common
//! handbook practice, not any maker's sheet; the maker's data sheet overrules them.

mod capacitor;
mod custom;
mod figures;
mod keeping;
mod lead;
mod list;
mod lithium;
mod nickel;
mod ocv;
mod profile;
mod sodium;
mod traits;

pub(crate) use crate::codes::Chemistry;
pub(crate) use custom::{CustomCell, custom_profile};
pub use figures::CellFigures;
pub(crate) use list::{named, profile};
pub(crate) use ocv::OcvCurve;
pub(crate) use profile::{Floors, Leaks, Profile, Resting};
pub(crate) use traits::{Gently, Traits};
