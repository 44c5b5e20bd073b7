//! What can hold the current down.

codes! {
    /// What can hold the current down.
    pub enum LimitCode {
        /// The pack's recommended or rated current.
        PackRating = "pack_rating",
        /// What the pack may be charged with at its temperature.
        Temperature = "temperature",
        /// The pack's protection board.
        Bms = "bms",
        /// What a capacitor's balancer can shunt, once the smallest is full.
        Balance = "balance",
        /// The current the person set.
        SetCurrent = "set_current",
        /// The charge voltage: the pack has come up to it.
        SetVoltage = "set_voltage",
        /// The voltage as it was last turned, until it is turned again.
        Nudge = "nudge",
        /// What the wire, or its fuse, may carry; something is set lower for it, it holds nothing itself.
        Lead = "lead",
        /// The charger's rated output current.
        ChargerOutputCurrent = "charger_output_current",
        /// The charger's rated output power.
        ChargerOutputPower = "charger_output_power",
        /// The highest voltage the charger puts out.
        ChargerOutputVoltage = "charger_output_voltage",
        /// The charger's rated input current.
        ChargerInputCurrent = "charger_input_current",
        /// The charger's rated input power.
        ChargerInputPower = "charger_input_power",
        /// The charger's input has too little voltage.
        ChargerInputVoltage = "charger_input_voltage",
        /// A lamp, a resistor or a fixed duty.
        Limiter = "limiter",
        /// A linear module turns itself down because it is hot.
        Thermal = "thermal",
        /// The supply's rated current.
        SourceCurrent = "source_current",
        /// The supply's rated power.
        SourcePower = "source_power",
        /// The supply cannot reach the wanted charge voltage.
        SourceVoltage = "source_voltage",
        /// Nothing feeds the pack; its load draws what it draws.
        Load = "load",
    }
}

impl LimitCode {
    /// Whether a bigger thing could be bought against it.
    pub(crate) const fn purchasable(self) -> bool {
        !matches!(
            self,
            Self::PackRating
                | Self::Temperature
                | Self::Bms
                | Self::Balance
                | Self::SetCurrent
                | Self::SetVoltage
                | Self::Nudge
                | Self::Load
        )
    }

    /// Whether it is a voltage against which a current tapers away.
    pub(crate) const fn tapers(self) -> bool {
        matches!(
            self,
            Self::SetVoltage
                | Self::SourceVoltage
                | Self::ChargerOutputVoltage
                | Self::ChargerInputVoltage
                | Self::Limiter
        )
    }
}
