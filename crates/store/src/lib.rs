//! Rumek's store: packs, gear (supplies, chargers, leads), plans, rescues and runs with
//! their readings, in PostgreSQL.
//!
//! The only crate that knows SQL. Documents are kept and returned as given; a version guards
//! every write.

mod changes;
mod copy;
mod database;
mod entity;
mod error;
mod log;
mod look_up;
mod migration;
mod readings;
mod repository;
mod rows;
mod standings;
mod workshop;

pub use changes::Hint;
pub use database::Database;
pub use error::StoreError;
pub use log::{LogEnd, LoggedReading, Logs};
pub use look_up::{Entry, Search};
pub use readings::{Kept, NewReading, Readings, StoredReading};
pub use repository::Repository;
pub use rows::{Change, Draft, Links, Listing, Origin, Stored};
pub use standings::{KnownOf, ShelfPage, Shelved, SortBy, Standings, Unknown, Worth};
pub use workshop::{Part, Table, WorkshopReading};

/// The packs.
pub type Packs = entity::pack::Entity;
/// The supplies.
pub type Supplies = entity::supply::Entity;
/// The chargers.
pub type Chargers = entity::charger::Entity;
/// The leads.
pub type Leads = entity::lead::Entity;
/// Charges as they happened.
pub type Runs = entity::run::Entity;
/// What is known of packs.
pub type Records = entity::record::Entity;
/// Packs in trouble.
pub type Rescues = entity::rescue::Entity;
/// How other instruments' logs are read.
pub type LogMappings = entity::log_mapping::Entity;
/// The saved plans.
pub type Plans = entity::plan::Entity;
pub use entity::Shelf;
