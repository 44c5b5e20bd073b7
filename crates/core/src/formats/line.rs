//! A line of judgement as the guide shows it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One figure that Rumek judges by.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct JudgementLineDoc {
    /// Its subject and name, such as `volts.lethal_v`.
    pub name: String,
    /// One figure for all cells, or one for each kind.
    pub figures: Vec<LineFigureDoc>,
    /// In what it is measured.
    pub unit: String,
    /// `above` or `below`: on which side something is said.
    pub past: String,
    /// What kind of source it has.
    pub basis: String,
    /// The rooms that use it.
    pub rooms: Vec<String>,
    /// Why it stands where it does, in one sentence.
    pub why: String,
}

/// Every line of judgement.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LinesDoc {
    /// Subject by subject.
    pub lines: Vec<JudgementLineDoc>,
}

/// A figure with the kinds of cell it holds for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LineFigureDoc {
    /// The kinds of cell; empty where it is the same for all.
    pub of: Vec<String>,
    /// The figure.
    pub value: f64,
}
