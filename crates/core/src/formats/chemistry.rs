//! What the interface is told of a chemistry.

use crate::codes::Chemistry;

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
}
