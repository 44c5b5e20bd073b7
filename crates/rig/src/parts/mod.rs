//! What can stand between nodes.

mod cells;
mod regulator;
mod segment;
mod supply;
mod wire;

pub use cells::{Balancer, Below, Board, Cell, Cells, Crust};
pub use regulator::{Keeps, Regulator, Works};
pub use supply::Supply;
pub use wire::{Lamp, Wire};

pub(crate) use regulator::Flow;

/// A relay that opens above one voltage and closes below another, as its own reading has them.
#[derive(Clone, Copy, Debug)]
pub struct Relay {
    /// Closes below, V.
    pub low_v: f64,
    /// Opens above, V.
    pub high_v: f64,
    /// What it reads more than there is, V.
    pub reads_over_v: f64,
    /// Whether it conducts.
    pub closed: bool,
}

impl Relay {
    /// Lets it answer the volts before the pack; whether it switched.
    pub(crate) fn answer(&mut self, volts: f64) -> bool {
        let read_v = volts + self.reads_over_v;
        let closed = if self.closed { read_v <= self.high_v } else { read_v < self.low_v };
        std::mem::replace(&mut self.closed, closed) != closed
    }
}

/// What draws from the pack's terminals.
#[derive(Clone, Copy, Debug)]
pub enum Load {
    /// So many amps.
    Current(f64),
    /// So many watts, and below some volts no more amps than there.
    Power {
        /// W.
        watts: f64,
        /// V.
        floor_v: f64,
    },
}

impl Load {
    /// What it draws, A, and its slope, A/V.
    pub(crate) fn at(self, volts: f64) -> (f64, f64) {
        match self {
            Self::Current(a) => (a, 0.0),
            Self::Power { watts, floor_v } if volts > floor_v => (watts / volts, -watts / (volts * volts)),
            Self::Power { watts, floor_v } => (watts / floor_v, 0.0),
        }
    }
}

/// One of them.
#[derive(Clone, Debug)]
pub enum Kind {
    /// Copper and its fuse.
    Wire(Wire),
    /// Cells in series.
    Cells(Box<Cells>),
    /// What makes the power.
    Supply(Supply),
    /// What regulates it.
    Regulator(Regulator),
    /// Lamps.
    Lamp(Lamp),
    /// A resistor, Ω.
    Resistor(f64),
    /// A diode that lets current pass one way, with its drop, V.
    Diode(f64),
    /// A relay.
    Relay(Relay),
    /// A load, and whether it is switched on.
    Load(Load, bool),
}
