//! What the interface is told of chemistries and of kinds of gear, so that its forms know no rule.

use crate::codes::{ChargerKind, Chemistry, Practice, SourceKind};

/// A chemistry as the interface shows it.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
pub struct ChemistryDoc {
    /// Its code.
    pub chemistry: Chemistry,
    /// Its name.
    pub name: String,
    /// Nominal volts a cell; null for `custom`.
    pub nominal_v: Option<f64>,
    /// Full volts a cell; null for `custom`.
    pub full_v: Option<f64>,
    /// Standard charge rate, C; null where charged by amps.
    pub standard_c_rate: Option<f64>,
    /// What each practice charges it with where no label speaks; empty where it is charged by amps.
    pub practices: Vec<PracticeDoc>,
    /// Its single cells can be read, one by one.
    pub cells_read: bool,
    /// Its label gives voltages for cyclic and standby use.
    pub label_says_volts: bool,
    /// It holds acid that freezes and may fall below its plates.
    pub holds_acid: bool,
    /// The fields of a pack that only such a chemistry has.
    pub own_fields: Vec<String>,
}

/// A practice in figures, of one chemistry at room temperature.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
pub struct PracticeDoc {
    /// Which.
    pub practice: Practice,
    /// The rate it charges with, C.
    pub c_rate: f64,
    /// What it charges to, V a cell.
    pub full_v: f64,
}

/// A field that only some kinds have, with those kinds.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
pub struct OwnFieldDoc<K> {
    /// Its name.
    pub field: String,
    /// The kinds that have it.
    pub kinds: Vec<K>,
}

/// What forms are built by.
#[derive(Clone, Debug, PartialEq, serde::Serialize, serde::Deserialize, schemars::JsonSchema)]
pub struct KindsDoc {
    /// Every chemistry, in the order of the format.
    pub chemistries: Vec<ChemistryDoc>,
    /// Fields that only some kinds of source have.
    pub source_fields: Vec<OwnFieldDoc<SourceKind>>,
    /// Fields that only some kinds of charger have.
    pub charger_fields: Vec<OwnFieldDoc<ChargerKind>>,
}
