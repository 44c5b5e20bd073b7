//! Rumek's rules and computation: from what is on the label to what to set, how long it takes
//! and whether it is safe.
//!
//! No I/O, no clock, no randomness: everything that varies is an argument. Two doors lead in:
//! [`answer`](answer::answer) for a plan document and [`quick_line::read`] for a line of text.

pub mod answer;
pub mod chain;
mod charge;
mod charger;
pub mod checks;
pub mod chemistry;
pub mod document;
mod feed;
mod identify;
mod lead;
mod logbook;
mod meter;
pub mod pack;
mod parallel;
mod plan;
mod plug;
mod problems;
pub mod quick_line;
mod rescue;
mod settings;
mod sizing;
mod source;
mod stages;
mod steps;
#[cfg(test)]
mod testing;
pub mod units;
mod what_if;
mod wire;

pub use answer::answer;
pub use logbook::{
    Extremes, LogColumns, LogError, LogReader, LogRow, LogSums, LogTotals, at_pack, log_csv, log_fits, look_at_log,
    preflight, thinned_to, understand, understand_sums,
};
pub use plan::{check_charger, check_lead, check_pack, check_source};
pub use rescue::{close as close_rescue, judge, rescue};
pub use sizing::size;
