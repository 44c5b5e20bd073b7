//! The shelf: what each pack is worth now, and whole histories read from logs.

mod cells;
mod correct;
mod history;
mod proving;

pub use cells::match_cells;
pub use history::LogHistory;
pub use proving::plan_test;
