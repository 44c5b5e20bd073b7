//! What feeds the chain, as its box describes it.

use super::read::{codes, document};

codes! {
    /// What makes the power.
    pub enum SourceKind {
        /// Voltage and current both adjustable.
        BenchSupply = "bench_supply",
        /// One voltage, whatever its label says of current.
        FixedSupply = "fixed_supply",
    }

    /// What a supply does when asked for more than its rating.
    pub enum Overload {
        /// Holds its current and lets the voltage fall.
        ConstantCurrent = "constant_current",
        /// Falls back to a smaller current.
        Foldback = "foldback",
        /// Gives nothing and tries again.
        Hiccup = "hiccup",
        /// Gives nothing until it is switched off and on.
        Shutdown = "shutdown",
        /// Nothing at all protects it.
        Unprotected = "unprotected",
    }

    /// How several units are joined.
    pub enum Wiring {
        /// Volts add.
        Series = "series",
        /// Amps add.
        Parallel = "parallel",
    }
}

impl Overload {
    /// Whether it goes on giving some current by itself instead of failing.
    #[must_use]
    pub const fn limits_current(self) -> bool {
        matches!(self, Self::ConstantCurrent | Self::Foldback)
    }
}

document! {
    /// A supply.
    pub struct SourceDoc {
        /// What the person calls it.
        pub name: String,
        /// Anything worth remembering about it.
        pub notes: String,
        /// What it is.
        pub kind: SourceKind,
        /// Its fixed voltage, V.
        pub voltage_v: f64,
        /// Lowest it can be set to, V.
        pub min_voltage_v: f64,
        /// Highest it can be set to, V.
        pub max_voltage_v: f64,
        /// The step of its voltage setting, V.
        pub voltage_step_v: f64,
        /// Rated current, A.
        pub max_current_a: f64,
        /// Rated power, W.
        pub max_power_w: f64,
        /// Ratings that change with the set voltage.
        pub ranges: Vec<RangeDoc>,
        /// What it does when overloaded.
        pub overload: Overload,
        /// What a foldback supply still gives, A.
        pub foldback_current_a: f64,
        /// Share of amps and watts to use, 0…1.
        pub headroom: f64,
        /// Mains to output, 0…1; for Wh and cost only.
        pub efficiency: f64,
        /// Whether it senses the voltage at the pack.
        pub remote_sense: bool,
        /// How many identical units.
        pub units: u32,
        /// How they are joined.
        pub wiring: Wiring,
        /// Whether their outputs are isolated from each other and from earth.
        pub isolated_outputs: bool,
        /// Share of the summed amps that parallel units reach, 0…1.
        pub sharing: f64,
    }

    /// A range of a supply.
    pub struct RangeDoc {
        /// From this set voltage, V.
        pub from_v: f64,
        /// To this set voltage, V.
        pub to_v: f64,
        /// Rated current there, A.
        pub max_current_a: f64,
        /// Rated power there, W.
        pub max_power_w: f64,
    }
}
