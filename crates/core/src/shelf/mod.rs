//! The shelf: what each pack is worth now, and whole histories read from logs.

mod cells;
mod correct;
mod history;

pub use cells::match_cells;
pub use history::LogHistory;
