//! Codes of chargers and modules.

codes! {
    /// What stands between source and pack.
    pub enum ChargerKind {
        /// A charger set by menu: chemistry, cells, amps.
        HobbyCharger = "hobby_charger",
        /// A charger that runs its own stages; nothing to set.
        SmartCharger = "smart_charger",
        /// A converter module with knobs for volts and, maybe, amps.
        DcDc = "dc_dc",
        /// A small linear charging chip on a board.
        LinearModule = "linear_module",
        /// A switch with a fixed duty.
        Pwm = "pwm",
        /// Incandescent lamps as a limiter.
        Lamp = "lamp",
        /// A resistor as a limiter.
        Resistor = "resistor",
    }

    /// Which way a converter can move the voltage.
    pub enum Topology {
        /// Down only.
        Buck = "buck",
        /// Up only; below its input the pack is fed uncontrolled.
        Boost = "boost",
        /// Both.
        BuckBoost = "buck_boost",
        /// Down, burning the difference.
        Linear = "linear",
    }
}

impl ChargerKind {
    /// Whether it converts instead of passing its input current on.
    #[must_use]
    pub const fn may_switch(self) -> bool {
        matches!(self, Self::HobbyCharger | Self::SmartCharger | Self::DcDc)
    }

    /// Whether it is a finished charger, which judges the pack before it gives anything.
    #[must_use]
    pub const fn chooses(self) -> bool {
        matches!(self, Self::HobbyCharger | Self::SmartCharger)
    }

    /// Whether it is a passive limiter that controls nothing.
    #[must_use]
    pub const fn passive(self) -> bool {
        matches!(self, Self::Lamp | Self::Resistor)
    }

    /// Whether it holds a volt or an amp by itself: no passive limiter, and no duty that somebody turns.
    #[must_use]
    pub const fn regulates(self) -> bool {
        !self.passive() && !matches!(self, Self::Pwm)
    }
}
