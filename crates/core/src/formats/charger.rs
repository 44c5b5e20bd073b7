//! What regulates the current between source and pack, as its box describes it.

use super::meter::MeterDoc;
use super::read::document;
use crate::codes::{ChargerKind, Topology};

document! {
    /// A charger, module or limiter.
    pub struct ChargerDoc {
        /// What the person calls it.
        pub name: String,
        /// Anything worth remembering about it.
        pub notes: String,
        /// What it is.
        pub kind: ChargerKind,
        /// Which way it can move the voltage.
        pub topology: Topology,
        /// Lowest input voltage, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub input_min_v: f64,
        /// Highest input voltage, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub input_max_v: f64,
        /// Highest input current, A.
        #[schemars(range(min = 0.01, max = 10_000.0))]
        pub input_max_a: f64,
        /// Highest input power, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub input_max_w: f64,
        /// Lowest output voltage, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub output_min_v: f64,
        /// Highest output voltage, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub output_max_v: f64,
        /// Highest output current of the channel in use, A.
        #[schemars(range(min = 0.005, max = 10_000.0))]
        pub output_max_a: f64,
        /// Highest output power of the channel in use, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub output_max_w: f64,
        /// The same where it is fed from the wall and that differs, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub mains_output_max_w: f64,
        /// How many of its channels run at once.
        #[schemars(range(min = 1, max = 16))]
        pub channels_in_use: u32,
        /// Output power all its channels share, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub shared_max_w: f64,
        /// The most cells it charges, by its input voltage.
        pub max_series: Vec<MaxSeriesDoc>,
        /// Output over input power, 0…1.
        #[schemars(range(min = 0.3, max = 1.0))]
        pub efficiency: f64,
        /// What a buck or linear stage must have above its output, V.
        #[schemars(range(min = 0.0, max = 50.0))]
        pub dropout_v: f64,
        /// A pack below this is not charged, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub min_start_v: f64,
        /// Whether it finds the cell count by the pack's voltage.
        pub auto_voltage: bool,
        /// Whether it holds a current.
        pub has_cc: bool,
        /// Whether it holds a voltage.
        pub has_cv: bool,
        /// A series diode's drop, V.
        #[schemars(range(min = 0.0, max = 5.0))]
        pub diode_drop_v: f64,
        /// One lamp's rated voltage, V.
        #[schemars(range(min = 1.0, max = 400.0))]
        pub lamp_rated_v: f64,
        /// One lamp's rated power, W.
        #[schemars(range(min = 0.5, max = 5000.0))]
        pub lamp_rated_w: f64,
        /// How many lamps side by side.
        #[schemars(range(min = 1, max = 50))]
        pub lamps_in_parallel: u32,
        /// A resistor's resistance, Ω.
        #[schemars(range(min = 0.01, max = 1e6))]
        pub resistance_ohm: f64,
        /// What a resistor, or a linear module's chip, may turn to heat, W.
        #[schemars(range(min = 0.05, max = 10_000.0))]
        pub rated_w: f64,
        /// Share of the time a PWM stage is on, 0…1.
        #[schemars(range(min = 0.01, max = 1.0))]
        pub duty: f64,
        /// Resistance of a PWM stage's whole path, mΩ.
        #[schemars(range(min = 1.0, max = 1e6))]
        pub path_resistance_mohm: f64,
        /// The most its own discharger takes out of a pack, A.
        #[schemars(range(min = 0.005, max = 10_000.0))]
        pub discharge_max_a: f64,
        /// … and turns to heat, or gives back, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub discharge_max_w: f64,
        /// Whether it can give a discharge back into the battery that feeds it.
        pub regenerates: bool,
        /// What its display reads against a meter.
        pub meters: Vec<MeterDoc>,
    }

    /// The most cells by input voltage.
    pub struct MaxSeriesDoc {
        /// From this input voltage, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub input_from_v: f64,
        /// Cells in series at most.
        #[schemars(range(min = 1, max = 200))]
        pub max_series: u32,
    }
}
