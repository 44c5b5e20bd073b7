//! What chemistries of one kind share: their hazards and habits, and what is said of those.
//!
//! Sources: common handbook practice for each kind of battery; for what to do when one smokes, the usual
//! advice of fire services.

/// How far a cell behind its neighbours tells that it has failed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum FailedBehind {
    /// By a share of its nominal voltage, while it is still deeply discharged.
    OfNominal(f64),
    /// By so many volts, however charged.
    Volts(f64),
    /// It is no sign: such cells are run down to nothing by habit, or lie apart by their size.
    Never,
}

/// How far and how long a deep-discharged pack is charged gently.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Gently {
    /// To its line and a little above; what shows no life within the usual time has none.
    ItsLine,
    /// To so many volts a cell at most; so many times as long as the gentle current takes, between hours.
    Volts { cell_v: f64, times: f64, between_h: (f64, f64) },
    /// To full; so many times as long as the gentle current takes, between hours.
    Full { times: f64, between_h: (f64, f64) },
}

/// What a short rest leaves unsettled, V a cell, and how long until nothing is, min.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Settles {
    pub(crate) by_v: f64,
    pub(crate) within_min: f64,
}

/// What chemistries of one kind share.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Traits {
    /// A cell in trouble burns by itself: never charged cold, deeply discharged or unattended.
    pub(crate) burns: bool,
    /// A protection board may stand between its terminals and its cells.
    pub(crate) board: bool,
    /// A high rate on its label says what it may give: 1C is usual, and nobody passes the last word.
    pub(crate) label_boasts: bool,
    /// Its cells are read and levelled at a balance plug.
    pub(crate) balance_lead: bool,
    /// How full it ends follows from the volts it is charged to.
    pub(crate) volts_say_full: bool,
    /// A label may ask for more volts than the kind usually takes.
    pub(crate) label_says_ceiling: bool,
    /// It gives off hydrogen near full: fresh air, no spark.
    pub(crate) gasses: bool,
    /// Left low it hardens: it may stand high and take nothing at first, or fall as that dissolves.
    pub(crate) sulphates: bool,
    /// The end of its charge is a long absorption whose current dies away, then a float.
    pub(crate) absorbs: bool,
    /// Sold as blocks of 6 V or 12 V, whose single cells nobody reaches.
    pub(crate) in_blocks: bool,
    /// A probe in each cell's acid reads it.
    pub(crate) caps: bool,
    /// Charged by current and time, never held at a voltage; warms as it fills.
    pub(crate) timed: bool,
    /// Where it feeds a charger this share of it is kept back.
    pub(crate) keeps_back: f64,
    /// Its charge is its voltage: counted in farads, empty at 0 V.
    pub(crate) farads: bool,
    /// The most a sound cell may stand at rest, V; its highest charge voltage where that says it.
    pub(crate) rests_below_v: Option<f64>,
    /// The share of its capacity that may lie below empty: usually, at least and at most.
    pub(crate) below_empty: [f64; 3],
    pub(crate) failed_behind: FailedBehind,
    pub(crate) gently: Gently,
    /// The most a deep-discharged one is fed with, C.
    pub(crate) gentle_c: f64,
    /// After a charge, and after a discharge.
    pub(crate) settles: [Settles; 2],
    /// What is seen or smelled of one that must be stopped at once, a clause.
    pub(crate) danger_signs: &'static str,
    /// Why it is not charged above its window.
    pub(crate) too_hot: &'static str,
    /// How it is given away.
    pub(crate) disposal: &'static str,
    /// What to do when it smokes, hisses or burns, in order; nothing where its size says more.
    pub(crate) emergency: &'static [&'static str],
}

const COLLECTED: &str = "Discharged, terminals taped or joined, to a battery collection point.";

impl Traits {
    /// Nothing out of the ordinary: each kind below says what it is.
    const PLAIN: Self = Self {
        burns: false,
        board: false,
        label_boasts: false,
        balance_lead: false,
        volts_say_full: false,
        label_says_ceiling: true,
        gasses: false,
        sulphates: false,
        absorbs: false,
        in_blocks: false,
        caps: false,
        timed: false,
        keeps_back: 0.1,
        farads: false,
        rests_below_v: None,
        below_empty: [0.0; 3],
        failed_behind: FailedBehind::Never,
        gently: Gently::ItsLine,
        gentle_c: 0.05,
        settles: [Settles { by_v: 0.02, within_min: 60.0 }; 2],
        danger_signs: "swells, smells, hisses or smokes",
        too_hot: "let it cool",
        disposal: COLLECTED,
        emergency: &[],
    };

    /// Lithium or sodium going to and fro between two electrodes.
    pub(crate) const ION: Self = Self {
        burns: true,
        board: true,
        label_boasts: true,
        balance_lead: true,
        volts_say_full: true,
        label_says_ceiling: false,
        below_empty: [0.025, 0.01, 0.05],
        // Half a volt: more than the whole steep foot of the curve spreads sound cells that were run down together.
        failed_behind: FailedBehind::OfNominal(0.15),
        disposal: "Outside, on stone or sand, away from the house; a bag sold for it slows a fire and does not hold it. Undamaged: discharge it slowly to zero with a lamp; damaged: not, and tell the collection point that it is. Terminals taped, in a metal box with sand, in the boot and not in the cabin; never into household waste or the post.",
        ..Self::PLAIN
    };

    /// A cell that only its owner knows: as dangerous as lithium, and nothing is taken for granted.
    pub(crate) const UNKNOWN: Self =
        Self { balance_lead: false, volts_say_full: false, label_says_ceiling: true, ..Self::ION };

    /// Lead plates in acid.
    pub(crate) const LEAD: Self = Self {
        gasses: true,
        sulphates: true,
        absorbs: true,
        keeps_back: 0.5,
        in_blocks: true,
        rests_below_v: Some(2.25),
        below_empty: [0.015, 0.004, 0.045],
        // A shorted cell lacks its 2 V, a flat one not half of that.
        failed_behind: FailedBehind::Volts(1.2),
        gently: Gently::Full { times: 2.0, between_h: (2.0, 12.0) },
        // Surface charge takes hours to go.
        settles: [Settles { by_v: 0.06, within_min: 480.0 }, Settles { by_v: 0.03, within_min: 240.0 }],
        danger_signs: "swells, smells of sulphur or boils hard",
        too_hot: "hot lead of this build runs away",
        disposal: "Upright, terminals taped, to a shop or yard that takes lead back. The acid burns: gloves and glasses.",
        emergency: &[
            "Supply off at its switch, never at the clamps: a spark sets off the gas.",
            "Doors and windows open from outside, no flame, no switch near it; keep your face away from it for an hour.",
            "Burning: everybody out, door shut, call the fire service.",
            "Acid on skin or in eyes: water for a quarter of an hour, eyes to a doctor; on the floor baking soda.",
        ],
        ..Self::PLAIN
    };

    /// Nickel in lye.
    pub(crate) const NICKEL: Self = Self {
        timed: true,
        below_empty: [0.02, 0.01, 0.04],
        // Below a tenth of its capacity nickel never fills reliably.
        gentle_c: 0.1,
        gently: Gently::Volts { cell_v: 1.6, times: 1.5, between_h: (1.0, 4.0) },
        danger_signs: "swells, hisses or smells",
        emergency: &[
            "Current off at the switch. Do not touch or carry it while it is hot; it vents caustic fluid.",
            "Let it lie, watched from a distance, until it can be held in the hand; then outdoors.",
            "Burning: everybody out, door shut, call the fire service.",
        ],
        ..Self::PLAIN
    };

    /// Charge on two surfaces.
    pub(crate) const CAPACITOR: Self = Self {
        keeps_back: 0.25,
        farads: true,
        danger_signs: "bulges or hisses",
        gently: Gently::Full { times: 3.0, between_h: (1.0 / 12.0, f64::INFINITY) },
        settles: [Settles { by_v: 0.01, within_min: 60.0 }; 2],
        emergency: &[
            "Supply off at its switch, and keep away: it still holds its charge, and a short takes thousands of amps.",
            "Bulging or hissing: it vents; out of the room until it is cold, then down through a resistor, not a wire.",
        ],
        ..Self::PLAIN
    };
}
