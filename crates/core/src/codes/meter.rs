//! Codes of meters.

codes! {
    /// Which device's display.
    pub enum MeterAt {
        /// The source's.
        Source = "source",
        /// The charger's or module's.
        Charger = "charger",
        /// One at the pack.
        Pack = "pack",
    }

    /// What the display shows.
    pub enum MeterQuantity {
        /// Volts.
        Voltage = "voltage",
        /// Amperes.
        Current = "current",
    }
}
