//! What may be found: every check, `place.problem`, and whether it may be accepted.

use super::result::Place;

codes! {
    /// Every check, `place.problem`.
    pub enum CheckCode {
        /// A cell reads below zero.
        PackReversedCell = "pack.reversed_cell",
        /// Below the chemistry's precharge line.
        PackDeeplyDischarged = "pack.deeply_discharged",
        /// Marked as not to be charged again.
        PackRetired = "pack.retired",
        /// Faster than a recovered pack may be charged.
        PackRecoveredRate = "pack.recovered_rate",
        /// Colder than the chemistry may be charged.
        PackTooCold = "pack.too_cold",
        /// Hotter than the chemistry may be charged.
        PackTooHot = "pack.too_hot",
        /// Slower because it is cold, or faster than that allows.
        PackColdRate = "pack.cold_rate",
        /// So warm that it will not finish.
        PackHotStart = "pack.hot_start",
        /// It falls below its window in the air around it while it charges.
        PackCoolsDown = "pack.cools_down",
        /// A cell that stands above full already.
        PackCellOverfull = "pack.cell_overfull",
        /// Its acid may be frozen.
        PackFrozen = "pack.frozen",
        /// One of its cells may be dead.
        PackDeadCell = "pack.dead_cell",
        /// A nickel pack whose charge nobody knows, at a rate that needs to be ended.
        PackStartUnknown = "pack.start_unknown",
        /// More volts than unskilled hands may touch.
        PackLethalVoltage = "pack.lethal_voltage",
        /// Faster than the label or the chemistry allows.
        PackRateTooHigh = "pack.rate_too_high",
        /// A label's rate that says what the pack may give.
        PackLabelRateUnusual = "pack.label_rate_unusual",
        /// A capacity that such packs hardly have.
        PackCapacityUnusual = "pack.capacity_unusual",
        /// More than the protection board lets through.
        PackBmsOverloaded = "pack.bms_overloaded",
        /// Cells apart.
        PackCellSpread = "pack.cell_spread",
        /// Nothing levels the cells.
        PackNoBalancing = "pack.no_balancing",
        /// More in it than the goal asks for.
        PackAboveGoal = "pack.above_goal",
        /// The start is known only roughly.
        PackSocUncertain = "pack.soc_uncertain",
        /// Volts that can hurt.
        PackTouchVoltage = "pack.touch_voltage",
        /// Its makers charge such cells to different voltages, and the label's was not said.
        PackVoltageUnsaid = "pack.voltage_unsaid",
        /// The maker's sheet overrules.
        PackDataSheet = "pack.data_sheet",
        /// Warmth of a nickel pack ends its charge.
        PackEndByHand = "pack.end_by_hand",
        /// Much more goes in than it holds.
        PackOvercharged = "pack.overcharged",
        /// Unlike packs in parallel too far apart.
        PackParallelMismatch = "pack.parallel_mismatch",
        /// A supply without a current limit would be overrun.
        SourceNoCurrentLimit = "source.no_current_limit",
        /// Outputs joined in series that may not be isolated.
        SourceNotIsolated = "source.not_isolated",
        /// The supply cannot reach the voltage that fills the pack.
        SourceTooLowToFill = "source.too_low_to_fill",
        /// The supply works beyond its rating or folded back.
        SourceOverloaded = "source.overloaded",
        /// The pack feeds the supply when that is off.
        SourceBackFeed = "source.back_feed",
        /// One step of the voltage setting is coarse.
        SourceStepTooCoarse = "source.step_too_coarse",
        /// Mains voltage inside something opened or built.
        SourceMainsInside = "source.mains_inside",
        /// A transformer that gives, or may give, thousands of volts.
        SourceHighVoltageTransformer = "source.high_voltage_transformer",
        /// A second way back through an earth.
        SourceEarthLoop = "source.earth_loop",
        /// A vehicle's battery feeds it.
        SourceVehicle = "source.vehicle",
        /// A battery that feeds the chain ends first.
        SourceRunsDown = "source.runs_down",
        /// The source may stand above the charger's input window.
        ChargerInputTooHigh = "charger.input_too_high",
        /// The source stands below it.
        ChargerInputTooLow = "charger.input_too_low",
        /// The charger refuses so low a pack.
        ChargerWillNotStart = "charger.will_not_start",
        /// A low pack fools the automatic cell count.
        ChargerAutoVoltage = "charger.auto_voltage",
        /// The regulator cannot come down to the pack.
        ChargerCannotStepDown = "charger.cannot_step_down",
        /// The regulator cannot come up to the pack.
        ChargerCannotStepUp = "charger.cannot_step_up",
        /// More cells than it charges from this input.
        ChargerTooManyCells = "charger.too_many_cells",
        /// It turns itself down because it is hot.
        ChargerLinearHeat = "charger.linear_heat",
        /// A lamp or resistor beyond its rating.
        ChargerLimiterHeat = "charger.limiter_heat",
        /// Cold lamps take more for a moment.
        ChargerColdInrush = "charger.cold_inrush",
        /// The supply fails unless the charger's input is held down.
        ChargerInputLimit = "charger.input_limit",
        /// More through it than its rating.
        ChargerOverloaded = "charger.overloaded",
        /// The cut-off relay stays open.
        ChargerCutoffWillNotStart = "charger.cutoff_will_not_start",
        /// The cut-off relay opens early.
        ChargerCutoffUndercharges = "charger.cutoff_undercharges",
        /// More current than the wire should carry.
        LeadsUndersized = "leads.undersized",
        /// Plugs or clips that carry less, or want care.
        LeadsConnector = "leads.connector",
        /// Much voltage lost in the lead.
        LeadsDrop = "leads.drop",
        /// Nothing guards the lead.
        LeadsNoFuse = "leads.no_fuse",
        /// The battery's end is not guarded.
        LeadsNoFuseAtPack = "leads.no_fuse_at_pack",
        /// The wire burns before the fuse.
        LeadsFuseTooBig = "leads.fuse_too_big",
        /// The fuse blows in normal work.
        LeadsFuseTooSmall = "leads.fuse_too_small",
        /// The fuse cannot break the voltage.
        LeadsFuseVoltage = "leads.fuse_voltage",
        /// The fuse cannot break what the battery gives into a short.
        LeadsFuseBreaking = "leads.fuse_breaking",
        /// The load takes more than comes in.
        LoadExceedsCharge = "load.exceeds_charge",
        /// The load hides the falling current.
        LoadPreventsTermination = "load.prevents_termination",
        /// The load draws more than the pack should give.
        LoadRateTooHigh = "load.rate_too_high",
        /// Above the refusal ceiling.
        SettingsVoltageTooHigh = "settings.voltage_too_high",
        /// The measured voltage does not fit the cell count.
        SettingsWrongCellCount = "settings.wrong_cell_count",
        /// The measured voltage fits another cell count too.
        SettingsCellCountUnsure = "settings.cell_count_unsure",
        /// Nothing but the person ends this charge.
        SettingsNoTermination = "settings.no_termination",
        /// The person ends it at a voltage.
        SettingsStopByHand = "settings.stop_by_hand",
        /// A voltage is turned up by hand.
        SettingsTurnedByHand = "settings.turned_by_hand",
        /// Nothing guards the charge while nobody looks.
        SettingsStay = "settings.stay",
        /// The current that was set is held by nothing.
        SettingsCurrentNotHeld = "settings.current_not_held",
        /// The display is off; what to dial is corrected.
        SettingsDisplayOff = "settings.display_off",
        /// Nothing watches the temperature.
        SettingsNoTemperatureStop = "settings.no_temperature_stop",
        /// More than the outlet's circuit allows.
        MainsCircuit = "mains.circuit",
        /// It goes on for longer than a day.
        SettingsTakesDays = "settings.takes_days",
        /// Stay with lithium.
        LithiumAttend = "lithium.attend",
        /// What capacitors do to hands and tools.
        SupercapHandle = "supercap.handle",
        /// Lead-acid makes hydrogen.
        LeadAcidVentilate = "lead_acid.ventilate",
        /// The current does not come down to the stop.
        LeadAcidAbsorption = "lead_acid.absorption",
    }
}

impl CheckCode {
    /// The stage it concerns.
    #[must_use]
    pub const fn place(self) -> Place {
        match self {
            Self::SourceNoCurrentLimit
            | Self::SourceNotIsolated
            | Self::SourceTooLowToFill
            | Self::SourceOverloaded
            | Self::SourceBackFeed
            | Self::SourceStepTooCoarse
            | Self::SourceMainsInside
            | Self::SourceHighVoltageTransformer
            | Self::SourceEarthLoop
            | Self::SourceVehicle
            | Self::SourceRunsDown
            | Self::MainsCircuit => Place::Source,
            Self::ChargerInputTooHigh
            | Self::ChargerInputTooLow
            | Self::ChargerWillNotStart
            | Self::ChargerAutoVoltage
            | Self::ChargerCannotStepDown
            | Self::ChargerCannotStepUp
            | Self::ChargerTooManyCells
            | Self::ChargerLinearHeat
            | Self::ChargerLimiterHeat
            | Self::ChargerColdInrush
            | Self::ChargerInputLimit
            | Self::ChargerOverloaded
            | Self::ChargerCutoffWillNotStart
            | Self::ChargerCutoffUndercharges => Place::Charger,
            Self::LeadsUndersized
            | Self::LeadsConnector
            | Self::LeadsDrop
            | Self::LeadsNoFuse
            | Self::LeadsNoFuseAtPack
            | Self::LeadsFuseTooBig
            | Self::LeadsFuseTooSmall
            | Self::LeadsFuseVoltage
            | Self::LeadsFuseBreaking => Place::OutputLead,
            Self::LoadExceedsCharge | Self::LoadPreventsTermination | Self::LoadRateTooHigh => Place::Load,
            Self::SettingsVoltageTooHigh
            | Self::SettingsWrongCellCount
            | Self::SettingsCellCountUnsure
            | Self::SettingsNoTermination
            | Self::SettingsStopByHand
            | Self::SettingsTurnedByHand
            | Self::SettingsStay
            | Self::SettingsCurrentNotHeld
            | Self::SettingsDisplayOff
            | Self::SettingsNoTemperatureStop
            | Self::SettingsTakesDays => Place::Settings,
            Self::PackReversedCell
            | Self::PackDeeplyDischarged
            | Self::PackRetired
            | Self::PackRecoveredRate
            | Self::PackTooCold
            | Self::PackTooHot
            | Self::PackColdRate
            | Self::PackHotStart
            | Self::PackCoolsDown
            | Self::PackCellOverfull
            | Self::PackFrozen
            | Self::PackDeadCell
            | Self::PackStartUnknown
            | Self::PackLethalVoltage
            | Self::PackRateTooHigh
            | Self::PackLabelRateUnusual
            | Self::PackCapacityUnusual
            | Self::PackBmsOverloaded
            | Self::PackCellSpread
            | Self::PackNoBalancing
            | Self::PackAboveGoal
            | Self::PackSocUncertain
            | Self::PackTouchVoltage
            | Self::PackVoltageUnsaid
            | Self::PackDataSheet
            | Self::PackEndByHand
            | Self::PackOvercharged
            | Self::PackParallelMismatch
            | Self::LithiumAttend
            | Self::SupercapHandle
            | Self::LeadAcidVentilate
            | Self::LeadAcidAbsorption => Place::Pack,
        }
    }

    /// Whether a stop of this kind is settled by bringing the pack back, or giving it up.
    #[must_use]
    pub const fn leads_to_rescue(self) -> bool {
        matches!(
            self,
            Self::PackDeeplyDischarged
                | Self::PackReversedCell
                | Self::PackDeadCell
                | Self::PackCellOverfull
                | Self::ChargerWillNotStart
        )
    }

    /// Whether a stop of this kind may be accepted at all.
    #[must_use]
    pub const fn acceptable(self) -> bool {
        matches!(
            self,
            Self::PackRateTooHigh
                | Self::PackCapacityUnusual
                | Self::PackLethalVoltage
                | Self::SourceNotIsolated
                | Self::SettingsWrongCellCount
        )
    }
}
