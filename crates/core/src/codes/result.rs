//! Codes of results.

codes! {
    /// How grave a check is.
    pub enum Severity {
        /// No settings until it is resolved or, where allowed, accepted.
        Stop = "stop",
        /// Something to act on.
        Caution = "caution",
        /// Something to know.
        Note = "note",
    }

    /// A place in the chain.
    pub enum Place {
        /// What makes the power.
        Source = "source",
        /// The lead from source to charger.
        InputLead = "input_lead",
        /// What regulates.
        Charger = "charger",
        /// A voltage cut-off relay.
        CutOff = "cut_off",
        /// The lead to the pack.
        OutputLead = "output_lead",
        /// The battery.
        Pack = "pack",
        /// What draws from the pack.
        Load = "load",
        /// What is dialled.
        Settings = "settings",
    }

    /// What the volts on a card are to whoever stands there.
    pub enum VoltsMeaning {
        /// They are dialled.
        Dialled = "dialled",
        /// A knob is turned up towards them by hand, and never past them.
        NeverPast = "never_past",
        /// Nothing sets them: they are looked for, and end the charge.
        WatchedFor = "watched_for",
        /// The chain comes to them by itself.
        Reached = "reached",
    }

    /// What the amps on a card are to whoever stands there.
    pub enum AmpsMeaning {
        /// They are dialled.
        Dialled = "dialled",
        /// A knob is turned up by hand until they flow.
        TurnedUpTo = "turned_up_to",
        /// No more than these flow by themselves.
        AtMost = "at_most",
    }

    /// When a step is due.
    pub enum StepWhen {
        /// Before the charge.
        Before = "before",
        /// While it charges.
        During = "during",
        /// When it is over.
        After = "after",
    }

    /// Why the computation ended.
    pub enum EndReason {
        /// The current fell to the stop current.
        Taper = "taper",
        /// The goal was reached.
        Goal = "goal",
        /// The person's stop voltage was reached.
        StopVoltage = "stop_voltage",
        /// The relay opened.
        CutOff = "cut_off",
        /// The battery that feeds the chain is down to its reserve.
        SourceEmpty = "source_empty",
        /// As much had gone in as fills it, and more only turns to gas and heat.
        EnoughCharge = "enough_charge",
        /// The time was up.
        TimeLimit = "time_limit",
        /// The current died away short of the goal.
        Stalled = "stalled",
        /// The pack ran down: the load took more than came in, or nothing came in.
        Discharging = "discharging",
        /// The pack already holds more than the goal.
        GoalBelowStart = "goal_below_start",
        /// A stop withholds the settings.
        Refused = "refused",
    }
}
