//! Documents read into checked things: a pack, a supply, a charger, a lead, a whole plan.

pub(crate) mod charger;
pub(crate) mod chemistries;
pub(crate) mod identify;
pub(crate) mod lead;
pub(crate) mod marks;
pub(crate) mod meter;
pub(crate) mod pack;
pub(crate) mod parallel;
pub(crate) mod plan;
pub(crate) mod plug;
pub(crate) mod problems;
pub(crate) mod sink;
pub(crate) mod source;

pub use chemistries::{chemistries, kinds};
pub use marks::as_marked;
pub use plan::{check_charger, check_lead, check_pack, check_source};
