//! Acts of the other rooms, carried out: what is told to be done is done on the rig, and one looks what came of it.

mod donors;
mod downs;
mod found;
mod levels;
mod offers;
mod rescues;
mod tally;
mod told;

pub use tally::RoomTally;
pub use told::{ROOMS, Told, carried};
