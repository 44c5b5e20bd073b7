//! A row of the demo data.

use serde::Deserialize;
use serde_json::Value;
use uuid::Uuid;

/// As it is written down.
#[derive(Debug, Deserialize)]
pub(super) struct Item {
    pub(super) id: Uuid,
    #[serde(default)]
    pub(super) pack: Option<Uuid>,
    #[serde(default)]
    pub(super) source: Option<Uuid>,
    #[serde(default)]
    pub(super) charger: Option<Uuid>,
    #[serde(default)]
    pub(super) input: Option<Uuid>,
    #[serde(default)]
    pub(super) output: Option<Uuid>,
    pub(super) document: Value,
}
