//! What a cheap gauge of blocks or percent by volts means for a pack.

use super::pack::PackDoc;
use super::read::document;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::standing::SpanDoc;

document! {
    /// Asks what a gauge means.
    pub struct GaugeAskDoc {
        /// The pack it hangs on.
        pub pack: PackDoc,
        /// The volts from which each of its blocks is lit, the whole pack's; 3 to 5 are usual.
        pub thresholds_v: Vec<f64>,
        /// Drawn meanwhile, C; a fifth where absent.
        #[schemars(range(min = 0.0, max = 50.0))]
        pub load_c_rate: f64,
        /// Charged meanwhile, C; the chemistry's usual rate where absent.
        #[schemars(range(min = 0.0, max = 50.0))]
        pub charge_c_rate: f64,
    }
}

/// What a gauge means.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GaugeDoc {
    /// Each threshold, the lowest first.
    pub marks: Vec<GaugeMarkDoc>,
    /// How far it lies, in sentences.
    pub says: Vec<String>,
}

/// One threshold: the state of charge at which the pack stands at it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct GaugeMarkDoc {
    /// V.
    pub voltage_v: f64,
    /// What such a gauge takes it for: blocks alike.
    pub takes_it_for: f64,
    /// At rest.
    pub at_rest: SpanDoc,
    /// Under the load.
    pub under_load: SpanDoc,
    /// While it is charged.
    pub charging: SpanDoc,
}
