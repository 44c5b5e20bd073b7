//! Codes of rescues.

codes! {
    /// How much is dared where practitioners differ.
    pub enum RescuePractice {
        /// Retires lithium under its floor unless it has been low for hours only.
        Cautious = "cautious",
        /// A supervised precharge further down, measured per cell, low for days at most.
        Experienced = "experienced",
    }

    /// Whether the pack has a protection board.
    pub enum BmsFound {
        /// It has one.
        Present = "present",
        /// It has none.
        Absent = "absent",
        /// Nobody can tell.
        Unknown = "unknown",
    }

    /// How long it has been low.
    pub enum LowFor {
        /// Since today.
        Hours = "hours",
        /// A few days.
        Days = "days",
        /// Weeks or longer.
        Weeks = "weeks",
        /// Nobody can tell; taken as weeks.
        Unknown = "unknown",
    }

    /// What is seen, felt and smelled.
    pub enum Sign {
        /// Nothing out of the ordinary.
        None = "none",
        /// Nobody can tell.
        Unknown = "unknown",
        /// Puffed, bulging.
        Swollen = "swollen",
        /// Wet with electrolyte, crusted.
        Leaking = "leaking",
        /// Warm to the hand though nothing is connected.
        Hot = "hot",
        /// Dented case or cells.
        Dented = "dented",
        /// Crushed or pierced.
        Crushed = "crushed",
        /// A sweet, solvent or rotten smell.
        Smell = "smell",
        /// Has been in water.
        Wet = "wet",
        /// Frozen through.
        Frozen = "frozen",
        /// Plates stand out of the acid.
        LowElectrolyte = "low_electrolyte",
    }

    /// What is to be done with the pack, gravest last.
    pub enum Verdict {
        /// Charge it as usual.
        Charge = "charge",
        /// Bring it up gently first.
        Precharge = "precharge",
        /// Wake its protection board first.
        Wake = "wake",
        /// Do not feed it: something must be found out or put right first.
        Inspect = "inspect",
        /// Do not charge it again.
        Retire = "retire",
    }

    /// Why a verdict is what it is.
    pub enum ReasonCode {
        /// The pack is not described yet.
        NotIdentified = "not_identified",
        /// Marked as retired.
        Retired = "retired",
        /// Brought back once already.
        LowAgain = "low_again",
        /// Damage or warmth that no practice overrides.
        Damaged = "damaged",
        /// Looks and smell are not known.
        SignsUnknown = "signs_unknown",
        /// It has been in water.
        Wet = "wet",
        /// It is frozen.
        Frozen = "frozen",
        /// Its acid must be topped up first.
        LowElectrolyte = "low_electrolyte",
        /// Colder than it may be charged.
        TooCold = "too_cold",
        /// Hotter than it may be charged.
        TooHot = "too_hot",
        /// Its temperature is not known.
        TemperatureUnknown = "temperature_unknown",
        /// Nothing was read at the terminals.
        TerminalsUnknown = "terminals_unknown",
        /// A cell, or the terminals, read below zero.
        Reversed = "reversed",
        /// One group far below its neighbours.
        GroupBehind = "group_behind",
        /// The terminals read far less than the cells, and no board explains it.
        OpenCircuit = "open_circuit",
        /// The protection board has disconnected the cells.
        BmsAsleep = "bms_asleep",
        /// Whether it has a board decides, and is not known.
        BmsUnknown = "bms_unknown",
        /// Below the precharge line.
        BelowLine = "below_line",
        /// Below the cautious floor.
        BelowFloor = "below_floor",
        /// Below the floor of both practices.
        BelowBothFloors = "below_both_floors",
        /// Each cell must be read first.
        CellsNeeded = "cells_needed",
        /// Cells that could not be read.
        CellsUnread = "cells_unread",
        /// Below what its charger starts at.
        BelowStart = "below_start",
        /// Long below the line: lead sulphate has hardened.
        Sulphated = "sulphated",
        /// More volts than unskilled hands may touch.
        LethalVoltage = "lethal_voltage",
        /// Volts that can hurt.
        TouchVoltage = "touch_voltage",
        /// A cell stands above full already.
        CellOverfull = "cell_overfull",
        /// What it reads does not fit so many cells.
        WrongCellCount = "wrong_cell_count",
        /// Flat, or with a dead cell: the terminals do not tell.
        MayBeDead = "may_be_dead",
        /// A plan of it would be refused.
        Refused = "refused",
        /// High enough for a normal charge.
        HighEnough = "high_enough",
    }

    /// A step of a rescue.
    pub enum RescueStageKind {
        /// Find out or put right, nothing connected.
        Inspect = "inspect",
        /// Wake the protection board.
        Wake = "wake",
        /// Bring it up to where its charger takes over.
        Precharge = "precharge",
        /// Change over to the normal charger.
        Handover = "handover",
        /// The first full charge, at a reduced rate.
        Charge = "charge",
        /// Let it stand and watch what it loses.
        Rest = "rest",
        /// Measure what it still holds.
        Prove = "prove",
    }

    /// Why a stage is broken off.
    pub enum AbortCode {
        /// Warmer than it began by too much.
        Warming = "warming",
        /// Past the stage's voltage.
        OverVoltage = "over_voltage",
        /// Past the stage's current.
        OverCurrent = "over_current",
        /// A cell reads below zero.
        CellReversed = "cell_reversed",
        /// A cell above full.
        CellOver = "cell_over",
        /// A cell stays behind its neighbours.
        CellBehind = "cell_behind",
        /// The voltage falls while current flows.
        Falling = "falling",
        /// Not where it should be in the longest time allowed.
        NoLife = "no_life",
        /// High voltage at once and hardly any current.
        Sulphated = "sulphated",
        /// Current for an hour and still under the line.
        DeadCell = "dead_cell",
        /// More charge than it can hold.
        TooMuchCharge = "too_much_charge",
        /// It loses voltage at rest.
        LosesVoltage = "loses_voltage",
        /// It holds too little.
        LowCapacity = "low_capacity",
        /// Swelling, smell, hiss or smoke.
        Signs = "signs",
    }

    /// What readings say of a stage.
    pub enum JudgeState {
        /// Nothing to judge by yet.
        Waiting = "waiting",
        /// As a living pack would.
        OnTrack = "on_track",
        /// Slower than a living pack.
        Slow = "slow",
        /// The stage has done its work.
        Reached = "reached",
        /// Stop.
        Abort = "abort",
    }
}

codes! {
    /// How a rescue ended.
    pub enum RescueOutcome {
        /// Brought back; from then on it carries its mark.
        Recovered = "recovered",
        /// Nothing was wrong with its cells.
        Sound = "sound",
        /// Given up.
        Retired = "retired",
    }
}
