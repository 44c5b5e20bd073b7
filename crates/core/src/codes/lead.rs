//! Codes of leads.

codes! {
    /// When a voltage cut-off relay first closes.
    pub enum CutOffStarts {
        /// Only once it reads less than its lower voltage.
        BelowLow = "below_low",
        /// As soon as it is fed, if it reads less than its upper voltage.
        AtOnce = "at_once",
    }

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
