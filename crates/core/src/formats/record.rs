//! `rumek.record/1`: one thing known of a pack: a capacity test, a rest reading, what a charge came to.

use super::read::document;
use crate::codes::{LastUse, RecordKind};

/// The name of the format, with its version.
pub const RECORD_FORMAT: &str = "rumek.record/1";

document! {
    /// One thing known of a pack.
    pub struct RecordDoc {
        /// Always `rumek.record/1`.
        pub format: String,
        /// What it is.
        pub kind: RecordKind,
        /// When, RFC 3339; of a test, a charge or a discharge when it ended.
        pub at: String,
        /// The pack's own temperature, °C.
        #[schemars(range(min = -60.0, max = 100.0))]
        pub temperature_c: f64,
        /// Of a test or a refitted charge: what the pack gave or holds, Ah.
        #[schemars(range(min = 0.001, max = 100_000.0))]
        pub capacity_ah: f64,
        /// … its standard deviation, Ah.
        #[schemars(range(min = 0.0, max = 100_000.0))]
        pub capacity_sd_ah: f64,
        /// Of a test: what it gave, Wh.
        #[schemars(range(min = 0.0, max = 1e7))]
        pub energy_wh: f64,
        /// Of a test: at which current, A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub current_a: f64,
        /// Of a test: down to which volts a cell.
        #[schemars(range(min = 0.0, max = 5.0))]
        pub to_v_per_cell: f64,
        /// Of a test or a charge: whether it was whole. A test that was not is kept and not counted.
        pub whole: bool,
        /// DC resistance after 10 s, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// … its standard deviation, mΩ.
        #[schemars(range(min = 0.0, max = 1e6))]
        pub resistance_sd_mohm: f64,
        /// Of a charge or a discharge: what went in, or out, Ah.
        #[schemars(range(min = 0.0, max = 100_000.0))]
        pub charge_ah: f64,
        /// Where that left it, 0 to 1, where that is known.
        #[schemars(range(min = 0.0, max = 1.0))]
        pub end_soc: f64,
        /// At rest, the whole pack, V.
        #[schemars(range(min = 0.0, max = 2000.0))]
        pub voltage_v: f64,
        /// At rest, each cell, V.
        pub cell_voltages_v: Vec<f64>,
        /// Rested before it was read, min.
        #[schemars(range(min = 0.0, max = 1e7))]
        pub rested_min: f64,
        /// What it did before that rest.
        pub last: LastUse,
        /// How it looked: a picture as JPEG, in Base64.
        pub photo_jpeg: String,
        /// The file it was read out of.
        pub log_name: String,
        /// Anything worth remembering.
        pub note: String,
    }
}
