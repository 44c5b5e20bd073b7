//! The parts joined into a chain, and what is dialled on it.

pub(crate) mod case;
pub(crate) mod feed;
pub(crate) mod settings;
