//! `rumek.log-result/1`: a logger's file read as a history of charges, rests and discharges.

use crate::codes::{MissingCode, SegmentEnd, SegmentKind, SignFound};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::log::{BadLineDoc, LogMappingDoc};

/// The name of the format, with its version.
pub const LOG_RESULT_FORMAT: &str = "rumek.log-result/1";

/// A log read as a history.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogResultDoc {
    /// Always `rumek.log-result/1`.
    pub format: String,
    /// How the file was read.
    pub mapping: LogMappingDoc,
    /// Lines that were readings.
    pub readings: u64,
    /// Lines that cannot be read; the first hundred of them.
    pub bad: Vec<BadLineDoc>,
    /// When its first reading was taken, RFC 3339 UTC; null where the file does not say.
    pub began_at: Option<String>,
    /// How it tells which way its current flows.
    pub sign: SignFound,
    /// Its parts, in the order of time; together they are the whole log.
    pub segments: Vec<SegmentDoc>,
    /// Its discharges as capacity tests, whole ones and others.
    pub tests: Vec<LogTestDoc>,
    /// Each charge with the discharge that followed.
    pub cycles: Vec<LogCycleDoc>,
    /// What its dips and pulses tell of the resistance.
    pub resistance: Vec<LogResistanceDoc>,
    /// What else is worth knowing before it is believed, a sentence each.
    pub notes: Vec<String>,
}

/// A part of a log.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SegmentDoc {
    /// What it is.
    pub kind: SegmentKind,
    /// Since the log began, s.
    pub from_s: f64,
    /// Since the log began, s.
    pub to_s: f64,
    /// In or out by its kind, Ah; of a rest what flowed in, negative where more flowed out.
    pub charge_ah: f64,
    /// The same in energy, Wh; null without volts.
    pub energy_wh: Option<f64>,
    /// By the logger's own counter, Ah; null without one.
    pub counted_ah: Option<f64>,
    /// At its first reading, V.
    pub start_v: Option<f64>,
    /// At its last, V.
    pub end_v: Option<f64>,
    /// On average, A, always positive.
    pub mean_a: f64,
    /// At the most, A, always positive.
    pub max_a: f64,
    /// On average, °C; null where it was not read.
    pub temperature_c: Option<f64>,
    /// How it ended; null for a rest.
    pub ended_by: Option<SegmentEnd>,
    /// Silence of the logger within it, s.
    pub gaps_s: f64,
}

/// A discharge as a capacity test.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogTestDoc {
    /// Which segment, from 0.
    pub segment: u32,
    /// What it gave, Ah.
    pub capacity_ah: f64,
    /// What it gave, Wh.
    pub energy_wh: Option<f64>,
    /// At which rate, C of the label; of what it gave where there is no label.
    pub c_rate: f64,
    /// At which temperature, °C; null where it was not read.
    pub temperature_c: Option<f64>,
    /// At 25 °C and the reference rate it would have given, Ah; null where that cannot be said.
    pub corrected_ah: Option<f64>,
    /// … its standard deviation.
    pub corrected_sd_ah: Option<f64>,
    /// Whether the correction reaches no further than is believed: else it is shown and not used for a trend.
    pub trusted: bool,
    /// Whether it was a whole discharge from full to the cut-off.
    pub complete: bool,
    /// What keeps it from that.
    pub missing: Vec<MissingDoc>,
}

/// What keeps a discharge from being a whole test.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct MissingDoc {
    /// Which.
    pub code: MissingCode,
    /// In a sentence.
    pub message: String,
}

/// A charge and the discharge after it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogCycleDoc {
    /// The charge's segment, from 0.
    pub charge: u32,
    /// The discharge's.
    pub discharge: u32,
    /// Ah out over Ah in; null where the charge did not begin where the discharge ended.
    pub charge_efficiency: Option<f64>,
    /// Wh out over Wh in, likewise.
    pub energy_efficiency: Option<f64>,
}

/// The resistance a step of the current shows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogResistanceDoc {
    /// When, since the log began, s.
    pub at_s: f64,
    /// A second after the step, mΩ; null where the logger looks less often.
    pub mohm_1s: Option<f64>,
    /// Ten seconds after it, mΩ; null likewise, or where the current did not stand so long.
    pub mohm_10s: Option<f64>,
    /// By how much the current changed, A.
    pub step_a: f64,
}
