//! `rumek.log-mapping/1`: how a logger's file is read; and what a look at such a file shows.

use crate::codes::{LogColumn, LogDecimal, LogDelimiter, LogTime, LogUnit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::read::document;
use super::run::RunReadingDoc;

/// The name of the mapping format, with its version.
pub const LOG_MAPPING_FORMAT: &str = "rumek.log-mapping/1";

document! {
    /// How a logger's file is read; kept, and found again by its header.
    pub struct LogMappingDoc {
        /// Always `rumek.log-mapping/1`.
        pub format: String,
        /// What the person calls this kind of file.
        pub name: String,
        /// The names of the columns, as the file has them.
        pub header: Vec<String>,
        /// Lines before the names of the columns.
        pub skip_lines: u32,
        /// Lines of names: 1, or 2 where units stand in a line of their own, or 0.
        pub header_lines: u32,
        /// What parts the fields.
        pub delimiter: LogDelimiter,
        /// What stands before the fraction.
        pub decimal: LogDecimal,
        /// How the time is written.
        pub time: LogTime,
        /// The clock of a date without a zone is ahead of UTC by so much, min.
        pub utc_offset_min: f64,
        /// What each column holds, in order.
        pub columns: Vec<LogColumnDoc>,
    }

    /// One column.
    pub struct LogColumnDoc {
        /// What it holds.
        pub is: LogColumn,
        /// What it counts in.
        pub unit: LogUnit,
        /// Which cell, from 1 at the negative end.
        pub cell: u32,
        /// The file has charging negative.
        pub negative: bool,
    }

    /// Asks what the beginning of a file holds.
    pub struct LogLookAskDoc {
        /// The beginning of the file, whole lines.
        pub text: String,
        /// Its first bytes as Base64 instead, for a page that does not know how it is written.
        pub base64: String,
        /// Whether those are all of it.
        pub whole: bool,
        /// How it is read; found out where absent, and what it lacks where it has no columns or no time.
        pub mapping: LogMappingDoc,
        /// When it began, RFC 3339, where the file does not say.
        pub began_at: String,
        /// The person's clock is ahead of UTC by so much, min.
        pub utc_offset_min: f64,
    }
}

/// What the beginning of a file shows.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogLookDoc {
    /// How it is read.
    pub mapping: LogMappingDoc,
    /// The first lines as they are written, field by field.
    pub lines: Vec<Vec<String>>,
    /// The same lines as readings; null where one cannot be read.
    pub readings: Vec<Option<LogReadingDoc>>,
    /// Lines that cannot be read.
    pub bad: Vec<BadLineDoc>,
    /// Lines looked at.
    pub looked_at: u32,
    /// Whether the file itself says when it began.
    pub dated: bool,
    /// What still keeps it from being read; empty where nothing does.
    pub missing: Vec<String>,
    /// The lowest and the highest voltage seen, V.
    pub volts: Option<[f64; 2]>,
}

/// A line as a reading.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LogReadingDoc {
    /// Since 1970, s.
    pub unix_s: f64,
    /// What was read.
    pub reading: RunReadingDoc,
}

/// A line that cannot be read.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct BadLineDoc {
    /// Which, from 1, as an editor counts.
    pub line: u64,
    /// What is wrong with it.
    pub message: String,
}
