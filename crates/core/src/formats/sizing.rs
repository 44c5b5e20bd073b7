//! The reverse questions of a plan, and what the core answers.

use crate::codes::{LimitCode, Place};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::plan::PlanDoc;
use super::read::document;

document! {
    /// Reverse questions about a plan.
    pub struct SizingAskDoc {
        /// The plan they are about.
        pub plan: PlanDoc,
        /// How big must things be to be done in this time, min; not asked where absent.
        pub done_in_min: f64,
        /// How long the leads are, one way, m; as in the plan, else 1 m.
        pub length_m: f64,
    }
}

/// What the core answers.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SizingDoc {
    /// How big supply and charger must be; null where it was not asked or the plan gives no settings.
    pub done_in: Option<DoneInDoc>,
    /// So many packs at once.
    pub packs: Vec<PacksDoc>,
    /// How many that is worth, in one sentence.
    pub packs_message: Option<String>,
    /// Which wire and fuse, towards the source first.
    pub wires: Vec<WireDoc>,
    /// How many charges the battery that feeds the chain holds.
    pub field_battery: Option<FieldBatteryDoc>,
}

/// How big supply and charger must be to be done in time.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DoneInDoc {
    /// Asked for, s.
    pub wanted_s: f64,
    /// The shortest the pack allows at this practice, s; null where it never ends.
    pub best_s: Option<f64>,
    /// Whether the wanted time can be reached.
    pub possible: bool,
    /// At the pack, load included, A.
    pub charger_a: Option<f64>,
    /// Out of the charger at most, W.
    pub charger_w: Option<f64>,
    /// Out of the supply as its label must say, W.
    pub supply_w: Option<f64>,
    /// The answer in one sentence.
    pub message: String,
}

/// So many identical packs in parallel on this chain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PacksDoc {
    /// How many.
    pub packs: u32,
    /// Until all are full, s; null where they never are.
    pub total_s: Option<f64>,
    /// Into each at first, A.
    pub each_a: f64,
    /// What binds at first.
    pub limit: LimitCode,
    /// Whether a stop withholds the settings then.
    pub refused: bool,
}

/// One lead's wire and fuse.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WireDoc {
    /// Which lead.
    pub at: Place,
    /// What it carries, A.
    pub current_a: f64,
    /// One way, m.
    pub length_m: f64,
    /// The smallest wire that does, mm²; null where none one can buy does.
    pub area_mm2: Option<f64>,
    /// The same as the next thicker gauge.
    pub awg: Option<f64>,
    /// Its fuse, A.
    pub fuse_a: Option<f64>,
    /// What it loses, V.
    pub drop_v: Option<f64>,
    /// The answer in one sentence.
    pub message: String,
}

/// What a field battery holds.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FieldBatteryDoc {
    /// Down to its reserve, Wh.
    pub usable_wh: f64,
    /// What one charge takes from it, Wh.
    pub per_charge_wh: f64,
    /// How many charges that is.
    pub charges: f64,
    /// The answer in one sentence.
    pub message: String,
}
