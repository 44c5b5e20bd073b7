//! What a display shows against what a reference meter reads.

use super::read::document;
use crate::codes::{MeterAt, MeterQuantity};

document! {
    /// One display, compared with a meter at one or more points.
    pub struct MeterDoc {
        /// Which device's display; left out where it stands with the device itself.
        pub at: MeterAt,
        /// What it shows.
        pub quantity: MeterQuantity,
        /// The comparison.
        pub points: Vec<MeterPointDoc>,
    }

    /// One reading of both.
    pub struct MeterPointDoc {
        /// What the display shows, V or A.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub shown: f64,
        /// What the reference meter reads, V or A.
        pub r#true: f64,
    }
}
