//! Rumek's server: it carries questions to the core and to the store, and answers back. It
//! translates, it never decides.

pub mod api;
mod archive;
mod changes;
pub mod cli;
mod clock;
mod compute;
pub mod demo;
mod drawn;
mod guard;
mod logbook;
mod logs;
mod openapi;
mod pages;
mod problem;
mod rescues;
mod resources;
mod runs;
pub mod serve;
mod state;
mod table;

pub use openapi::{document as openapi, schemas};
