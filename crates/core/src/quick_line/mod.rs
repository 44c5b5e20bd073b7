//! One line of text → a draft plan, what was understood of it and what was not.
//!
//! `6S 4000 lipo, 30 V 5 A bench` · `12V 7Ah agm` · `6S 4000 lipo, 19 V 90 W, 8 A charger, 16awg 1 m`.
//! Commas part the pack from what feeds it, what regulates and what draws from it; within a part
//! the order is free.

mod about;
mod cells;
mod damage;
mod draft;
mod elsewhere;
mod figures;
mod gear;
mod gear_phrases;
mod harm;
mod joints;
mod label;
mod odd_cell;
mod part;
mod phrases;
mod read;
mod refused;
mod said;
mod say;
mod scope;
mod settle;
mod spoken;
mod tokens;
mod twice;
mod unfinished;
mod usual;
mod vocabulary;
mod wishes;
mod write;

pub use read::read;
pub use said::{Choice, Heard, Question};
pub use say::say;
pub use unfinished::unfinished;
pub use write::line_of;
