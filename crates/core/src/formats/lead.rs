//! What carries the current, and what guards it.

use super::read::document;
use crate::codes::{Connector, CutOffStarts, FuseAt, Insulation, Laid, Wires};

document! {
    /// A lead: two wires, their plugs and their fuse.
    pub struct LeadDoc {
        /// What the person calls it.
        pub name: String,
        /// Anything worth remembering about it.
        pub notes: String,
        /// Wire gauge; 1/0, 2/0 … are 0, −1 ….
        #[schemars(range(min = -3.0, max = 36.0))]
        pub awg: f64,
        /// Copper cross-section, mm².
        #[schemars(range(min = 0.01, max = 300.0))]
        pub area_mm2: f64,
        /// One way, m.
        #[schemars(range(min = 0.01, max = 200.0))]
        pub length_m: f64,
        /// All plugs and switches in it together, mΩ.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub connector_mohm: f64,
        /// Which plugs or clips it ends in.
        pub connector: Connector,
        /// How its two wires lie to each other.
        pub wires: Wires,
        /// What they are covered with.
        pub insulation: Insulation,
        /// Where it lies.
        pub laid: Laid,
        /// How warm it is where it lies, °C; the plan's surroundings where absent.
        #[schemars(range(min = -60.0, max = 120.0))]
        pub ambient_c: f64,
        /// The fuse's rating, A.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub fuse_a: f64,
        /// The DC voltage the fuse can break, V.
        #[schemars(range(min = 1.0, max = 1500.0))]
        pub fuse_v: f64,
        /// Where the fuse sits.
        pub fuse_at: FuseAt,
    }

    /// The leads on both sides of a charger.
    pub struct LeadsDoc {
        /// Source to charger.
        pub input: LeadDoc,
        /// Charger to pack; without a charger, source to pack.
        pub output: LeadDoc,
    }

    /// A voltage cut-off relay before the pack.
    pub struct CutOffDoc {
        /// Closes below this, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub low_v: f64,
        /// Opens above this, V.
        #[schemars(range(min = 0.1, max = 1000.0))]
        pub high_v: f64,
        /// How far its own reading may be off, V.
        #[schemars(range(min = 0.0, max = 20.0))]
        pub error_v: f64,
        /// What its reading shows more than there is, where that is known, V; the error is what stays unknown.
        #[schemars(range(min = -20.0, max = 20.0))]
        pub offset_v: f64,
        /// When it first closes; absent: nobody knows.
        pub starts: CutOffStarts,
    }
}
