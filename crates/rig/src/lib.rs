//! A bench that is wired up and switched on: every cell, wire, fuse and supply by itself, solved as a circuit and
//! followed step by step from outside. It knows ratings only to say that they were passed, and no limits to obey.
//!
//! It shares with the core the documents and the cells' figures; a test reads its `use` lines. [`Bench`] is a plan
//! put together with a hidden [`Truth`]; [`carry_out`] does on it what a card says and nothing else.
//!
//! | module | what it holds |
//! |---|---|
//! | `matrix` | linear equations |
//! | [`circuit`] | nodes, parts, one solved moment, one step |
//! | `parts` | what can stand between nodes |
//! | [`bench`](mod@bench) | a plan wired up, its knobs and its displays |
//! | [`passing`] | ratings passed |
//! | [`robot`] | what a card says, done |

pub mod bench;
pub mod circuit;
mod matrix;
pub mod parts;
pub mod passing;
pub mod robot;
pub mod truth;

pub use bench::Bench;
pub use passing::{Passing, Rating};
pub use robot::{Carried, Ended, carry_out, carry_out_seen, switch_on};
pub use truth::Truth;
