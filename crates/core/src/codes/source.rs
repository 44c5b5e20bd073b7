//! Codes of supplies.

codes! {
    /// What makes the power.
    pub enum SourceKind {
        /// Voltage and current both adjustable.
        BenchSupply = "bench_supply",
        /// Voltage adjustable; its current is not.
        AdjustableSupply = "adjustable_supply",
        /// One voltage, whatever its label says of current.
        FixedSupply = "fixed_supply",
        /// An unregulated wall adapter: its voltage droops with the current.
        WallAdapter = "wall_adapter",
        /// Transformer, bridge and capacitor.
        TransformerRectifier = "transformer_rectifier",
        /// A battery.
        Battery = "battery",
        /// A power station's port: one regulated voltage, limited current.
        RegulatedPort = "regulated_port",
        /// The wall, for a charger with its own supply.
        Mains = "mains",
    }

    /// Which transformer it is.
    pub enum TransformerType {
        /// A low-voltage safety transformer.
        LowVoltage = "low_voltage",
        /// Out of an oven: thousands of volts, deadly.
        Oven = "oven",
        /// Nobody knows; treated as deadly.
        Unknown = "unknown",
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
        /// Amps add: one unit is set and the others follow it.
        LeaderFollower = "leader_follower",
    }
}

impl Overload {
    /// Whether it goes on giving some current by itself instead of failing.
    #[must_use]
    pub const fn limits_current(self) -> bool {
        matches!(self, Self::ConstantCurrent | Self::Foldback)
    }

    /// Whether it gives nothing, or next to nothing, once it is overloaded.
    #[must_use]
    pub const fn trips(self) -> bool {
        matches!(self, Self::Foldback | Self::Hiccup | Self::Shutdown)
    }
}
