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

codes! {
    /// How its two wires lie to each other.
    pub enum Wires {
        /// There and back side by side.
        Pair = "pair",
        /// Each by itself, with air around it.
        Single = "single",
    }
}

codes! {
    /// What its wires are covered with.
    pub enum Insulation {
        /// PVC, for 70 °C.
        Pvc = "pvc",
        /// Silicone, for 180 °C.
        Silicone = "silicone",
    }
}

codes! {
    /// Where it lies.
    pub enum Laid {
        /// In the open.
        Open = "open",
        /// Among others, or in a sleeve.
        Bundled = "bundled",
        /// Rolled up.
        Coiled = "coiled",
    }
}

codes! {
    /// The plugs or clips at its ends; of different ones the weaker.
    pub enum Connector {
        /// Small crocodile clips.
        ClipsSmall = "clips_small",
        /// Large crocodile clips.
        ClipsLarge = "clips_large",
        /// 4 mm laboratory plugs with a spring.
        Banana = "banana",
        /// Round gold contacts of 3.5 mm.
        Bullet3Mm = "bullet_3_5mm",
        /// Round gold contacts of 4 mm.
        Bullet4Mm = "bullet_4mm",
        /// A moulded plug of two pins for 15 A.
        TwoPin15 = "two_pin_15a",
        /// … for 30 A.
        TwoPin30 = "two_pin_30a",
        /// … for 60 A.
        TwoPin60 = "two_pin_60a",
        /// The small contacts of a balance lead.
        BalancePlug = "balance_plug",
        /// USB-C, a cable for 3 A.
        UsbC3 = "usb_c_3a",
        /// USB-C, a cable for 5 A.
        UsbC5 = "usb_c_5a",
        /// The round socket in a vehicle.
        CarSocket = "car_socket",
        /// Wires under screws.
        Screw = "screw",
        /// Lugs under bolts.
        Bolted = "bolted",
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
        /// Which plugs or clips it ends in.
        pub connector: Connector,
        /// How its two wires lie to each other.
        pub wires: Wires,
        /// What they are covered with.
        pub insulation: Insulation,
        /// Where it lies.
        pub laid: Laid,
        /// How warm it is where it lies, °C; the plan's surroundings where absent.
        pub ambient_c: f64,
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
