//! The parts joined into a chain, and what is dialled on it.

pub(crate) mod feed;
pub(crate) mod may;
pub(crate) mod reckoning;
pub(crate) mod settings;
