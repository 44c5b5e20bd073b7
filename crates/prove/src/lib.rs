//! Chains by the thousand, answered by the core, carried out on the rig, and compared.
//!
//! [`chain`] makes a plan of a kind out of a seed; [`prove`] answers it and carries it out; [`Tally`] adds up by
//! kind of chain. [`carried`] does the same with what other rooms tell: rescues, wakings, donors, tests, discharges,
//! levelling, offers.

mod chains;
mod follow;
mod proof;
mod rooms;
mod tally;
mod truths;

pub use chains::{KINDS, chain};
pub use follow::follow;
pub use proof::{Outcome, Proof, prove};
pub use rooms::{ROOMS, RoomTally, Told, carried};
pub use tally::Tally;
