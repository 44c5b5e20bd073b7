//! Rumek's rules and computation: from what is on the label to what to set, how long it takes
//! and whether it is safe.
//!
//! No I/O, no clock, no randomness: everything that varies is an argument. Doors lead in for each kind of
//! document: [`answer`] for a plan, [`size`], [`rescue`] and [`judge`], [`preflight`] and [`understand`] for a
//! run, [`look_at_log`] for a logger's file, [`quick_line::read`] for a line of text.
//!
//! The rooms stand on floors, and none asks one above it:
//!
//! | floor | rooms | what they hold |
//! |---|---|---|
//! | 0 | [`units`], [`codes`] | quantities; closed sets |
//! | 1 | [`formats`], `physics` | documents as on disk; cells and the operating point, in numbers |
//! | 2 | `lines` | every line of judgement, once |
//! | 3 | `parts` | a document read into a checked thing |
//! | 4 | `chain` | the parts joined, and what is dialled |
//! | 5 | `acts` | whatever somebody is told to do with amps or volts, and the one judge of it |
//! | 6 | `advice` | everything with words: the answer, checks, steps, what would help |
//! | 7 | `asking` | questions over a plan: whether its settings may stand, what each answer leads to |
//! | 8 | `rescue`, `logbook`, `shelf`, [`quick_line`] | jobs of their own, which do not know each other |

mod acts;
mod advice;
mod asking;
mod chain;
pub mod codes;
pub mod formats;
mod lines;
mod logbook;
mod parts;
mod physics;
pub mod quick_line;
mod rescue;
mod shelf;
#[cfg(test)]
mod testing;
pub mod units;

pub use advice::{Prepared, answer, prepared, size};
pub use lines::told as lines;
pub use logbook::{
    Extremes, LogDecoded, LogError, LogReader, LogRow, LogSums, LogTotals, NEWEST_FIRST, begin as begin_run,
    decoded_log, log_cells_fit, log_csv, log_fits, log_head_text, look_at_log, preflight, refit_of, thinned_to,
    understand, understand_sums,
};
pub use parts::{as_marked, check_charger, check_lead, check_pack, check_source, chemistries, kinds};
pub use physics::cell::CellFigures;
pub use rescue::{close as close_rescue, judge, rescue};
pub use shelf::{LogHistory, check_record, gauge, match_cells, plan_test, standing};
