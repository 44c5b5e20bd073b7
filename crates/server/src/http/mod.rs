//! What every request passes through, and the pages.

pub(crate) mod guard;
pub(crate) mod pages;
