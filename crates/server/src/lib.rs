//! Rumek's server: it carries questions to the core and to the store, and answers back. It
//! translates, it never decides.

pub mod api;
pub mod app;
pub mod cli;
pub mod demo;
mod history;
mod http;
mod openapi;
mod print;
mod problem;
mod routes;
pub mod serve;
mod wire;

pub use api::document as openapi;
pub use routes::formats::schemas;
