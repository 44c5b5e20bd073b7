//! What a card says to set, and one thing to mind: parts of more than one answer.

use std::collections::BTreeMap;

use crate::codes::{AmpsMeaning, CheckCode, LimitCode, Place, Severity, VoltsMeaning};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What to dial.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ResultSettingsDoc {
    /// Charge voltage at the terminals, V.
    pub voltage_v: f64,
    /// What to dial for it: what the display of the regulating stage is to show, V.
    pub dial_voltage_v: f64,
    /// What then stands at its terminals, V; what the chain reaches where nothing can be set.
    pub true_voltage_v: f64,
    /// Where it is set; null where it cannot be.
    pub voltage_at: Option<Place>,
    /// What the volts are to whoever stands there; null in what was kept before this was said.
    #[serde(default)]
    pub voltage_means: Option<VoltsMeaning>,
    /// Current limit to set, true amps; what holds it where nothing can be set.
    pub current_a: f64,
    /// What to dial for it: what the display is to show, A.
    pub dial_current_a: f64,
    /// Where it is set; null where it cannot be.
    pub current_at: Option<Place>,
    /// What the amps are to whoever stands there; null in what was kept before this was said.
    #[serde(default)]
    pub current_means: Option<AmpsMeaning>,
    /// What will flow at first, A.
    pub expect_a: f64,
    /// Stop when the current has fallen to this, A; null where nothing tapers.
    pub stop_current_a: Option<f64>,
    /// Stop after this long, h.
    pub time_limit_h: Option<f64>,
    /// Held at the charge voltage no longer than this, h; null where only the current ends it.
    pub absorption_limit_h: Option<f64>,
    /// Stop when the terminals reach this, V.
    pub stop_voltage_v: Option<f64>,
    /// Stop when this much has gone in, Ah.
    pub stop_charge_ah: Option<f64>,
    /// Where to hold it afterwards, V.
    pub float_voltage_v: Option<f64>,
    /// What the charger's own input limit is set to, A.
    pub input_limit_a: Option<f64>,
    /// What the input limit is set for.
    pub input_limited_by: Option<LimitCode>,
    /// What the supply in front of a charger is set to, V.
    pub source_voltage_v: Option<f64>,
    /// What each of several units of a supply is set to, V; null of one, or where nothing is set on it.
    pub unit_voltage_v: Option<f64>,
    /// The same of its current limit, A.
    pub unit_current_a: Option<f64>,
    /// Which limit set the current.
    pub current_limited_by: LimitCode,
}

/// Something to mind.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CheckDoc {
    /// Which check.
    pub code: CheckCode,
    /// How grave.
    pub severity: Severity,
    /// Where.
    pub at: Place,
    /// The hazard, the number and the reason, in one line.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// Whether this stop may be accepted at all.
    pub acceptable: bool,
    /// Whether it was.
    pub accepted: bool,
    /// Whether bringing the pack back, or giving it up, settles it.
    #[serde(default)]
    pub rescue: bool,
    /// What lifts it, the nearest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lifts: Vec<LiftDoc>,
}

/// What lifts a stop.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LiftDoc {
    /// What to do, in one sentence.
    pub does: String,
    /// Where what is found then is put in; null where another thing has to be done.
    pub pointer: Option<String>,
    /// What to put there; null where it is read or chosen.
    pub value: Option<f64>,
}
