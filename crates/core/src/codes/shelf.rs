//! Codes of the shelf: what a log holds, what a pack needs, how it is discharged.

codes! {
    /// What a part of a log is.
    pub enum SegmentKind {
        /// Current into the pack.
        Charge = "charge",
        /// None.
        Rest = "rest",
        /// Current out of it.
        Discharge = "discharge",
    }

    /// How a charge or a discharge ended.
    pub enum SegmentEnd {
        /// Its current had fallen at a voltage that was held.
        Taper = "taper",
        /// A voltage ended it.
        CutOff = "cut_off",
        /// Somebody or something else ended it, or the log did.
        Stopped = "stopped",
    }

    /// How a log tells which way its current flows.
    pub enum SignFound {
        /// Charging is positive in it, or its mapping says otherwise and is right.
        AsWritten = "as_written",
        /// It writes discharging as positive.
        Reversed = "reversed",
        /// It writes no sign: the voltage tells.
        Unsigned = "unsigned",
    }

    /// What keeps a discharge from being a whole capacity test.
    pub enum MissingCode {
        /// It did not begin full, or nobody knows that it did.
        NotFull = "not_full",
        /// It was ended before the cut-off.
        StoppedEarly = "stopped_early",
        /// The log has a gap in it that its counter does not bridge.
        Gap = "gap",
        /// It began or ended within a gap of the log.
        Edge = "edge",
        /// Its current changed too much for one rate.
        Uneven = "uneven",
    }

    /// The one thing a pack needs.
    pub enum NeedCode {
        /// Nothing now.
        Nothing = "nothing",
        /// Down to storage.
        Storage = "storage",
        /// Up again before it is too low.
        TopUp = "top_up",
        /// A capacity test.
        Test = "test",
        /// To be looked at.
        LookAt = "look_at",
        /// To be judged by Rescue, and brought back or given up.
        Rescue = "rescue",
        /// To be retired.
        Retire = "retire",
    }

    /// Why a pack needs what it needs.
    pub enum NeedWhy {
        /// It stays too full.
        TooFull = "too_full",
        /// It is too low, or will be.
        TooLow = "too_low",
        /// It has stood for too long.
        StoodLong = "stood_long",
        /// Nobody knows what it holds.
        NeverTested = "never_tested",
        /// Its last test is long ago.
        TestOld = "test_old",
        /// What its charges say and what its last test said lie too far apart.
        Disagree = "disagree",
        /// It loses charge faster than its kind does.
        Leaks = "leaks",
        /// It reads lower than it may be charged from.
        TooDeep = "too_deep",
        /// It reads higher than it may stand.
        AboveFull = "above_full",
        /// One of its cells reads far from the others.
        CellApart = "cell_apart",
        /// What was read does not fit the cells it has.
        DoesNotFit = "does_not_fit",
        /// One of its cells drifts from the others.
        CellDrifts = "cell_drifts",
        /// Its resistance has grown by half.
        Resistance = "resistance",
        /// It holds too little of its label.
        Worn = "worn",
        /// It failed its proof, or was given up.
        Failed = "failed",
        /// All is well.
        Well = "well",
    }

    /// What is known of a pack at one moment.
    pub enum RecordKind {
        /// A capacity test.
        Test = "test",
        /// What it stood at after a rest.
        Rest = "rest",
        /// A charge.
        Charge = "charge",
        /// A discharge.
        Discharge = "discharge",
        /// Something worth remembering.
        Note = "note",
        /// How it looked.
        Photo = "photo",
    }

    /// Where a figure of a pack's capacity comes from.
    pub enum FigureFrom {
        /// A capacity test.
        Test = "test",
        /// A whole charge, refitted.
        Charge = "charge",
        /// A part of a charge, refitted.
        PartCharge = "part_charge",
    }

    /// Where a discharge goes.
    pub enum DischargeBy {
        /// The charger's own discharger, into heat.
        Charger = "charger",
        /// A resistor across the pack.
        Resistor = "resistor",
        /// Lamps across the pack.
        Lamp = "lamp",
        /// An electronic load.
        ElectronicLoad = "electronic_load",
        /// Back into the battery that feeds the charger.
        Source = "source",
    }

    /// What comes after a capacity test.
    pub enum AfterTest {
        /// Up to storage.
        Storage = "storage",
        /// Full again.
        Full = "full",
        /// Nothing: it is left as it is.
        None = "none",
    }

    /// What ends a discharge first, or slows it most.
    pub enum DischargeLimit {
        /// The current that was asked for.
        SetCurrent = "set_current",
        /// The watts the discharger turns to heat.
        MaxPower = "max_power",
        /// The amps the discharger takes.
        MaxCurrent = "max_current",
        /// What the pack may give.
        PackRate = "pack_rate",
        /// A resistance at the pack's volts.
        Resistance = "resistance",
        /// Lamps at the pack's volts.
        Lamps = "lamps",
        /// The charger's input, given back into.
        ChargerInput = "charger_input",
        /// What the battery that is given back into may take.
        SourceRate = "source_rate",
    }

    /// What a check of a discharge says.
    pub enum TestCheckCode {
        /// No lithium unattended; somewhere that does not burn.
        Attend = "attend",
        /// Nothing ends it by itself.
        NothingEnds = "nothing_ends",
        /// A cell may fall below the others.
        CellsUnread = "cells_unread",
        /// Too warm or too cold for a test that can be compared.
        Temperature = "temperature",
        /// The pack is to be left alone.
        Retired = "retired",
        /// One of its cells is reversed or has failed.
        CellFailed = "cell_failed",
        /// More than the pack may give.
        RateTooHigh = "rate_too_high",
        /// The cut-off lies below what the cells bear.
        CutOffTooLow = "cut_off_too_low",
        /// The cut-off lies so high that much stays in.
        CutOffHigh = "cut_off_high",
        /// More heat than it is rated for.
        TooHot = "too_hot",
        /// Lamps of too few volts.
        LampVoltage = "lamp_voltage",
        /// It takes more than a day.
        TooLong = "too_long",
        /// The charger has no discharger, or nobody said what it takes.
        NoDischarger = "no_discharger",
        /// The charger gives nothing back.
        NotRegenerative = "not_regenerative",
        /// The source is no battery that takes charge back.
        SourceTakesNothing = "source_takes_nothing",
        /// No room in the battery that is given back into.
        NoRoom = "no_room",
        /// Giving back would lift it above its own charge voltage.
        SourceVoltage = "source_voltage",
        /// Giving back would leave the charger's input window.
        InputWindow = "input_window",
        /// The battery that feeds it does not last for a cycle.
        SourceShort = "source_short",
        /// What would hold the battery up meanwhile.
        HeldUp = "held_up",
        /// The charge before or after is refused.
        ChargeRefused = "charge_refused",
        /// Touching both poles is dangerous.
        Shock = "shock",
        /// Hot surfaces.
        HotSurface = "hot_surface",
        /// The rate is not the one its label is given for.
        NotReferenceRate = "not_reference_rate",
    }

    /// A place in the energy ledger of a test.
    pub enum TestPlace {
        /// What feeds the charger.
        Source = "source",
        /// The charger, its own discharger with it.
        Charger = "charger",
        /// The leads.
        Leads = "leads",
        /// The pack.
        Pack = "pack",
        /// What the discharge goes into.
        Sink = "sink",
    }

    /// Why a cell is not put into a pack.
    pub enum UnfitCode {
        /// It loses charge by itself.
        SelfDischarge = "self_discharge",
        /// Its resistance is far above the others'.
        Resistance = "resistance",
        /// It holds far less than the others.
        Capacity = "capacity",
        /// It stands far too low.
        Voltage = "voltage",
        /// It is welded to one that is unfit.
        Welded = "welded",
        /// It is welded to more cells than a group holds.
        TooMany = "too_many",
    }
}
