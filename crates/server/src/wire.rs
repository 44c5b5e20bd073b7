//! What goes over the wire around a document, and how times are written there.

use rumek_store::{Links, Origin, Stored};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use time::format_description::well_known::Rfc3339;
use time::{OffsetDateTime, UtcOffset};
use uuid::Uuid;

/// A stored document with what the store knows of it.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[schemars(rename = "Stored{T}")]
pub(crate) struct StoredDoc<T> {
    /// UUIDv7.
    pub id: Uuid,
    /// Rises with every write; send it back with the next one.
    pub version: i32,
    /// RFC 3339, UTC.
    pub created_at: String,
    /// RFC 3339, UTC.
    pub updated_at: String,
    /// RFC 3339, UTC; null while in use.
    pub archived_at: Option<String>,
    /// Where a plan's values came from.
    pub links: LinksDoc,
    /// The document as given.
    pub document: T,
}

/// Where a plan's values came from; empty for packs and gear.
#[derive(Clone, Copy, Debug, Default, Serialize, Deserialize, JsonSchema)]
pub(crate) struct LinksDoc {
    /// The pack on the shelf.
    pub pack: Option<OriginDoc>,
    /// The supply in the gear.
    pub source: Option<OriginDoc>,
    /// The charger in the gear.
    pub charger: Option<OriginDoc>,
    /// The lead to the charger.
    pub input: Option<OriginDoc>,
    /// The lead to the pack.
    pub output: Option<OriginDoc>,
}

/// A row and the version that was copied.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, JsonSchema)]
pub(crate) struct OriginDoc {
    /// Which row.
    pub id: Uuid,
    /// Which version of it.
    pub version: i32,
}

/// What is sent to save something.
#[derive(Clone, Debug, Serialize, Deserialize, JsonSchema)]
#[schemars(rename = "Draft{T}")]
pub(crate) struct DraftDoc<T> {
    /// A UUIDv7 made by the client, for something new; made here where absent.
    pub id: Option<Uuid>,
    /// The version this is based on; absent for something new.
    pub version: Option<i32>,
    /// Where a plan's values came from.
    pub links: Option<LinksDoc>,
    /// The document.
    pub document: T,
}

/// What is sent to put something away or take it out again.
#[derive(Clone, Copy, Debug, Serialize, Deserialize, JsonSchema)]
pub(crate) struct VersionDoc {
    /// The version this is based on.
    pub version: i32,
}

/// A moment as every answer says it: RFC 3339, UTC.
pub(crate) fn shown(at: OffsetDateTime) -> String {
    at.to_offset(UtcOffset::UTC).format(&Rfc3339).unwrap_or_default()
}

/// What [`shown`] says, read again.
pub(crate) fn instant(text: &str) -> Option<OffsetDateTime> {
    OffsetDateTime::parse(text, &Rfc3339).ok()
}

/// The same; fails with the name of its field.
pub(crate) fn moment(text: &str, field: &'static str) -> Result<OffsetDateTime, &'static str> {
    instant(text).ok_or(field)
}

/// What an answer says, as it was stored; fails with the name of a time that cannot be read.
impl TryFrom<StoredDoc<Value>> for Stored {
    type Error = &'static str;

    fn try_from(doc: StoredDoc<Value>) -> Result<Self, &'static str> {
        Ok(Self {
            id: doc.id,
            version: doc.version,
            created_at: moment(&doc.created_at, "created_at")?,
            updated_at: moment(&doc.updated_at, "updated_at")?,
            archived_at: doc.archived_at.as_deref().map(|text| moment(text, "archived_at")).transpose()?,
            links: doc.links.into(),
            document: doc.document,
        })
    }
}

impl From<Stored> for StoredDoc<Value> {
    fn from(row: Stored) -> Self {
        let origin = |o: Origin| OriginDoc { id: o.id, version: o.version };
        Self {
            id: row.id,
            version: row.version,
            created_at: shown(row.created_at),
            updated_at: shown(row.updated_at),
            archived_at: row.archived_at.map(shown),
            links: LinksDoc {
                pack: row.links.pack.map(origin),
                source: row.links.source.map(origin),
                charger: row.links.charger.map(origin),
                input: row.links.input.map(origin),
                output: row.links.output.map(origin),
            },
            document: row.document,
        }
    }
}

impl From<LinksDoc> for Links {
    fn from(doc: LinksDoc) -> Self {
        let origin = |o: OriginDoc| Origin { id: o.id, version: o.version };
        Self {
            pack: doc.pack.map(origin),
            source: doc.source.map(origin),
            charger: doc.charger.map(origin),
            input: doc.input.map(origin),
            output: doc.output.map(origin),
        }
    }
}
