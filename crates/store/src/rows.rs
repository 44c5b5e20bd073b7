//! Rows as they are handed over: what stands, what is to be saved, where it came from.

use sea_orm::prelude::Uuid;
use serde_json::Value;
use time::OffsetDateTime;

/// A row as it stands.
#[derive(Clone, Debug, PartialEq)]
pub struct Stored {
    /// UUIDv7.
    pub id: Uuid,
    /// Rises with every write.
    pub version: i32,
    /// When it was first saved.
    pub created_at: OffsetDateTime,
    /// When it was last saved.
    pub updated_at: OffsetDateTime,
    /// When it was put away.
    pub archived_at: Option<OffsetDateTime>,
    /// Where a plan's values came from; empty for packs and gear.
    pub links: Links,
    /// The document as given.
    pub document: Value,
}

/// Where a plan's values came from.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Links {
    /// The pack on the shelf.
    pub pack: Option<Origin>,
    /// The supply in the gear.
    pub source: Option<Origin>,
    /// The charger in the gear.
    pub charger: Option<Origin>,
    /// The lead to the charger.
    pub input: Option<Origin>,
    /// The lead to the pack.
    pub output: Option<Origin>,
}

impl Links {
    /// Each of them.
    pub fn each(&mut self) -> [&mut Option<Origin>; 5] {
        [&mut self.pack, &mut self.source, &mut self.charger, &mut self.input, &mut self.output]
    }
}

/// A row and the version that was copied.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Origin {
    /// Which row.
    pub id: Uuid,
    /// Which version of it.
    pub version: i32,
}

impl Origin {
    pub(crate) fn from_columns(id: Option<Uuid>, version: Option<i32>) -> Option<Self> {
        Some(Self { id: id?, version: version.unwrap_or(1) })
    }
}

/// What is to be saved.
#[derive(Clone, Debug, PartialEq)]
pub struct Draft {
    /// The document as given.
    pub document: Value,
    /// Where a plan's values came from.
    pub links: Links,
}

/// A row to be saved over the version it was based on.
#[derive(Clone, Debug, PartialEq)]
pub struct Change {
    /// Which row.
    pub id: Uuid,
    /// The version it is based on.
    pub version: i32,
    /// What it becomes.
    pub draft: Draft,
}

/// Whether a list shows what is in use or what was put away.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Listing {
    /// In use.
    Active,
    /// Archived.
    Archived,
}
