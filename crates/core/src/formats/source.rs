//! What feeds the chain, as its box describes it.

use super::meter::MeterDoc;
use super::read::document;
use crate::codes::{Chemistry, Overload, SourceKind, TransformerType, Wiring};

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
        #[schemars(range(min = 0.5, max = 1000.0))]
        pub voltage_v: f64,
        /// Lowest it can be set to, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub min_voltage_v: f64,
        /// Highest it can be set to, V.
        #[schemars(range(min = 0.5, max = 1000.0))]
        pub max_voltage_v: f64,
        /// The step of its voltage setting, V.
        #[schemars(range(min = 0.0001, max = 10.0))]
        pub voltage_step_v: f64,
        /// Rated current, A.
        #[schemars(range(min = 0.01, max = 10_000.0))]
        pub max_current_a: f64,
        /// Rated power, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub max_power_w: f64,
        /// Ratings that change with the set voltage.
        pub ranges: Vec<RangeDoc>,
        /// What it does when overloaded.
        pub overload: Overload,
        /// What a foldback supply still gives, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub foldback_current_a: f64,
        /// Share of amps and watts to use, 0…1.
        #[schemars(range(min = 0.05, max = 1.0))]
        pub headroom: f64,
        /// Mains to output, 0…1; for Wh and cost only.
        #[schemars(range(min = 0.1, max = 1.0))]
        pub efficiency: f64,
        /// Its power factor at the mains, 0…1; 0.95 above 75 W and 0.65 below where absent.
        #[schemars(range(min = 0.3, max = 1.0))]
        pub power_factor: f64,
        /// Whether it has been opened or rebuilt, as a computer's supply for the bench.
        pub modified: bool,
        /// Whether its output can be switched off while it stays set.
        pub output_switch: bool,
        /// Whether it senses the voltage at the pack.
        pub remote_sense: bool,
        /// How many identical units.
        #[schemars(range(min = 1, max = 20))]
        pub units: u32,
        /// How they are joined.
        pub wiring: Wiring,
        /// Whether their outputs are isolated from each other and from earth.
        pub isolated_outputs: bool,
        /// Share of the summed amps that parallel units reach, 0…1.
        #[schemars(range(min = 0.3, max = 1.0))]
        pub sharing: f64,
        /// A wall adapter's voltage with nothing connected, V.
        #[schemars(range(min = 0.5, max = 1000.0))]
        pub open_circuit_v: f64,
        /// A transformer's secondary at its rated load, V rms.
        #[schemars(range(min = 1.0, max = 500.0))]
        pub secondary_vac: f64,
        /// … with nothing connected, V rms.
        #[schemars(range(min = 1.0, max = 800.0))]
        pub open_vac: f64,
        /// (open − loaded) ÷ loaded, where `open_vac` is not known.
        #[schemars(range(min = 0.0, max = 1.0))]
        pub regulation: f64,
        /// Its rating, VA.
        #[schemars(range(min = 0.5, max = 10_000.0))]
        pub rated_va: f64,
        /// The capacitor after the bridge, µF.
        #[schemars(range(min = 10.0, max = 1e6))]
        pub smoothing_uf: f64,
        /// The mains' frequency, Hz.
        #[schemars(range(min = 10.0, max = 1000.0))]
        pub mains_hz: f64,
        /// Which transformer it is.
        pub r#type: TransformerType,
        /// A battery's chemistry.
        pub chemistry: Chemistry,
        /// … cells in series.
        #[schemars(range(min = 1, max = 200))]
        pub series: u32,
        /// … capacity, Ah.
        #[schemars(range(min = 0.005, max = 10_000.0))]
        pub capacity_ah: f64,
        /// … DC resistance, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// … state of charge now, 0…1.
        #[schemars(range(min = 0.0, max = 1.0))]
        pub soc: f64,
        /// … state of charge it is not taken below, 0…1.
        #[schemars(range(min = 0.0, max = 1.0))]
        pub reserve_soc: f64,
        /// What its display reads against a meter.
        pub meters: Vec<MeterDoc>,
    }

    /// A range of a supply.
    pub struct RangeDoc {
        /// From this set voltage, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub from_v: f64,
        /// To this set voltage, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub to_v: f64,
        /// Rated current there, A.
        #[schemars(range(min = 0.01, max = 10_000.0))]
        pub max_current_a: f64,
        /// Rated power there, W.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub max_power_w: f64,
    }
}
