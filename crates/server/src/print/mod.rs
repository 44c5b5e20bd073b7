//! What the command line prints for people.

pub(crate) mod table;
