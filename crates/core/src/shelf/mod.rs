//! The shelf: what each pack is worth now, and whole histories read from logs.

mod cells;
mod correct;
mod gauge;
mod history;
mod proving;
mod standing;

pub use cells::match_cells;
pub use gauge::gauge;
pub use history::LogHistory;
pub use proving::plan_test;
pub use standing::{check_record, standing};
