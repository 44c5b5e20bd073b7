//! What is asked over HTTP, a file a subject.

pub(crate) mod changes;
pub(crate) mod clock;
pub(crate) mod compute;
pub(crate) mod drawn;
mod ended;
pub(crate) mod formats;
pub(crate) mod logbook;
pub(crate) mod logs;
pub(crate) mod marks;
pub(crate) mod photos;
pub(crate) mod rescues;
pub(crate) mod resources;
pub(crate) mod runs;
pub(crate) mod shelf;
pub(crate) mod state;
mod summed;
pub(crate) mod workshop;
