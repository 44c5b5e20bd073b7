//! Codes of runs.

codes! {
    /// What is measured, or seen to, before a charge begins.
    pub enum PreflightCode {
        /// A surface that does not burn, nothing above it.
        Surface = "surface",
        /// Fresh air.
        Air = "air",
        /// The voltage that is set, nothing connected, by meter.
        NoLoadVoltage = "no_load_voltage",
        /// The current limit that is set, clips joined or by a menu.
        CurrentLimit = "current_limit",
        /// What the supply stands at, nothing connected, by meter.
        SupplyVoltage = "supply_voltage",
        /// Plus and minus of both sides, by meter.
        Polarity = "polarity",
        /// The pack's terminals at rest.
        RestVoltage = "rest_voltage",
        /// Each cell at rest.
        Cells = "cells",
        /// The pack's own temperature.
        Temperature = "temperature",
        /// The fuses are in.
        Fuse = "fuse",
        /// What takes a discharge lies where it may get hot.
        Sink = "sink",
        /// What takes it is set, and where it ends.
        CutOff = "cut_off",
        /// A clock is set where nothing ends it.
        Clock = "clock",
    }

    /// What is entered for an item.
    pub enum PreflightKind {
        /// That it was seen to.
        Tick = "tick",
        /// Volts.
        Voltage = "voltage",
        /// Amps.
        Current = "current",
        /// Volts of each cell.
        Cells = "cells",
        /// Degrees.
        Temperature = "temperature",
    }

    /// Which way the current of a run went.
    pub enum RunWay {
        /// Into the pack.
        Charge = "charge",
        /// Out of it.
        Discharge = "discharge",
        /// Both, or several times.
        Several = "several",
        /// Its sign and its volts contradict each other.
        Unclear = "unclear",
    }

    /// How a run ended.
    pub enum RunEnd {
        /// As planned.
        Done = "done",
        /// The person ended it.
        ByHand = "by_hand",
        /// Something was wrong.
        Fault = "fault",
    }

    /// What readings mean.
    pub enum SayingCode {
        /// It is a discharge.
        Discharge = "discharge",
        /// It holds several charges or discharges.
        SeveralCycles = "several_cycles",
        /// The sign of its current and its volts contradict each other.
        SignUnclear = "sign_unclear",
        /// As predicted.
        OnTrack = "on_track",
        /// Less current than the chain should give.
        SupplyLimited = "supply_limited",
        /// More voltage lost between display and terminals than the leads explain.
        LeadDrop = "lead_drop",
        /// More volts than are set, or than the cells bear.
        OverVoltage = "over_voltage",
        /// More current than was expected and than the plan allows.
        OverCurrent = "over_current",
        /// Two displays of one current contradict each other.
        DisplaysDiffer = "displays_differ",
        /// More charge than it can hold.
        OverCapacity = "over_capacity",
        /// A cell is nearly full before the others.
        CellAhead = "cell_ahead",
        /// A cell far below the others.
        CellBehind = "cell_behind",
        /// Nickel past the peak of its volts.
        Full = "full",
        /// Warming too fast.
        Warming = "warming",
        /// Nothing flows though the display is lit.
        Stopped = "stopped",
        /// It gives while it should take.
        RunningDown = "running_down",
        /// Volts that no such pack can have.
        VoltsUnlikely = "volts_unlikely",
        /// A knob stands elsewhere than it was to be turned to.
        KnobElsewhere = "knob_elsewhere",
        /// The charge voltage was reached early: high resistance.
        HighResistance = "high_resistance",
        /// About a cell's worth of voltage is missing.
        VoltageMissing = "voltage_missing",
        /// A cell was run down too far.
        OverDischarged = "over_discharged",
        /// A cell comes to its end before the others.
        CellFirst = "cell_first",
        /// Of a discharge only the whole pack's volts were read.
        CellsUnread = "cells_unread",
        /// Its volts rise while it should be run down.
        WrongWay = "wrong_way",
        /// The current has fallen to the stop; a discharge has come to its end.
        Done = "done",
    }
}
