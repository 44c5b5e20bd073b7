//! What carries the current, and what guards it.

use super::read::{codes, document};

codes! {
    /// Where a lead's fuse sits.
    pub enum FuseAt {
        /// At the end towards the source.
        Source = "source",
        /// At the end towards the pack.
        Pack = "pack",
        /// At both ends.
        Both = "both",
        /// There is none.
        None = "none",
    }
}

document! {
    /// A lead: two wires, their plugs and their fuse.
    pub struct LeadDoc {
        /// What the person calls it.
        pub name: String,
        /// Anything worth remembering about it.
        pub notes: String,
        /// Wire gauge; 1/0, 2/0 … are 0, −1 ….
        pub awg: f64,
        /// Copper cross-section, mm².
        pub area_mm2: f64,
        /// One way, m.
        pub length_m: f64,
        /// All plugs and switches in it together, mΩ.
        pub connector_mohm: f64,
        /// The fuse's rating, A.
        pub fuse_a: f64,
        /// The DC voltage the fuse can break, V.
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
        pub low_v: f64,
        /// Opens above this, V.
        pub high_v: f64,
        /// How far its own reading may be off, V.
        pub error_v: f64,
    }
}
