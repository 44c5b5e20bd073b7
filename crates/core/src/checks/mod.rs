//! What to mind: one file of checks a place, one enum that owns code, place and acceptability.

mod charger;
mod leads;
mod load;
mod mains;
mod most;
mod pack;
mod settings;
mod source;

pub(crate) use leads::{ORDINARY_FUSE_BREAKS_A, ORDINARY_FUSE_V};

use std::collections::BTreeMap;

use crate::charge::Charge;
use crate::document::read::codes;
use crate::document::{AcceptedDoc, CheckDoc, Place, Severity};
use crate::identify::Identified;
use crate::plan::Plan;
use crate::settings::Chosen;
use most::{Most, most};

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
    pub fn place(self) -> Place {
        match self.code().split('.').next() {
            Some("source" | "mains") => Place::Source,
            Some("charger") => Place::Charger,
            Some("leads") => Place::OutputLead,
            Some("load") => Place::Load,
            Some("settings") => Place::Settings,
            _ => Place::Pack,
        }
    }

    /// Whether a stop of this kind may be accepted at all.
    #[must_use]
    pub const fn acceptable(self) -> bool {
        matches!(
            self,
            Self::PackRateTooHigh | Self::PackLethalVoltage | Self::SourceNotIsolated | Self::SettingsWrongCellCount
        )
    }

    /// Whether values now are no worse than those a stop was accepted at.
    fn covers(self, accepted: &AcceptedDoc, now: &BTreeMap<String, f64>) -> bool {
        if accepted.code != Some(self) {
            return false;
        }
        let Some(then) = &accepted.values else {
            return true;
        };
        let value = |values: &BTreeMap<String, f64>, name: &str| values.get(name).copied();
        match self {
            Self::PackRateTooHigh => {
                value(now, "current_a")
                    .zip(value(then, "current_a"))
                    .is_some_and(|(now_a, then_a)| now_a <= then_a * 1.0001)
                    && value(now, "rated_a") >= value(then, "rated_a").map(|a| a * 0.9999)
            }
            // Another reading or another cell count is another question.
            Self::SettingsWrongCellCount => {
                ["voltage_v", "series"].iter().all(|name| value(now, name) == value(then, name))
            }
            Self::PackLethalVoltage => value(now, "voltage_v") <= value(then, "voltage_v").map(|v| v * 1.0001),
            _ => value(now, "units") <= value(then, "units"),
        }
    }
}

/// Numbers by name, to a millionth.
pub(crate) fn named(values: &[(&str, f64)]) -> BTreeMap<String, f64> {
    values.iter().map(|(name, v)| ((*name).to_owned(), (*v * 1e6).round() / 1e6)).collect()
}

/// What a check found, before acceptance.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Finding {
    pub(crate) code: CheckCode,
    pub(crate) severity: Severity,
    pub(crate) message: String,
    pub(crate) values: BTreeMap<String, f64>,
    /// Where, if not where the code usually is.
    pub(crate) at: Option<Place>,
    /// False where these numbers are past even what acceptance allows.
    pub(crate) within_acceptance: bool,
}

impl Finding {
    pub(crate) fn new(code: CheckCode, severity: Severity, message: String, values: &[(&str, f64)]) -> Self {
        Self { code, severity, message, values: named(values), at: None, within_acceptance: true }
    }

    fn at(mut self, place: Place) -> Self {
        self.at = Some(place);
        self
    }

    fn stop(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Stop, message, values)
    }

    fn caution(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Caution, message, values)
    }

    fn note(code: CheckCode, message: String, values: &[(&str, f64)]) -> Self {
        Self::new(code, Severity::Note, message, values)
    }
}

/// All that a check may look at.
pub(crate) struct Situation<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    /// Absent without a source.
    pub(crate) chosen: Option<&'a Chosen>,
    pub(crate) charge: &'a Charge,
    /// The most that flows at any voltage; nothing without a source.
    pub(crate) most: Most,
}

impl<'a> Situation<'a> {
    pub(crate) fn new(plan: &'a Plan, found: &'a Identified, chosen: Option<&'a Chosen>, charge: &'a Charge) -> Self {
        let most = chosen.map(|chosen| most(plan, found, chosen, charge)).unwrap_or_default();
        Self { plan, found, chosen, charge, most }
    }
}

impl Situation<'_> {
    /// Current into the pack at first, A.
    pub(crate) fn first_a(&self) -> f64 {
        self.charge.moments.first().map_or(0.0, |m| m.current_a)
    }

    /// The pack's resistance at the first moment, Ω.
    pub(crate) fn pack_ohm(&self) -> f64 {
        crate::units::in_ohms(self.plan.pack.resistance)
    }

    /// The highest voltage the pack's terminals may come to, V.
    pub(crate) fn ends_by(&self) -> Option<f64> {
        let chosen = self.chosen?;
        let relay = self.plan.cut_off.map(|relay| relay.high_v + relay.error_v);
        [relay, chosen.stops.stop_v].into_iter().flatten().min_by(f64::total_cmp)
    }

    /// The largest current into the pack, A.
    pub(crate) fn most_a(&self) -> f64 {
        self.charge.moments.iter().map(|m| m.current_a).fold(0.0, f64::max)
    }
}

/// Runs every check that applies, gravest first, and marks what was accepted.
pub(crate) fn run(situation: &Situation<'_>) -> Vec<CheckDoc> {
    let mut findings = Vec::new();
    pack::check(situation, &mut findings);
    source::check(situation, &mut findings);
    charger::check(situation, &mut findings);
    leads::check(situation, &mut findings);
    mains::check(situation, &mut findings);
    settings::check(situation, &mut findings);
    load::check(situation, &mut findings);
    findings.sort_by_key(|finding| (finding.severity, finding.code));
    let checks = findings
        .into_iter()
        .map(|finding| {
            let acceptable =
                finding.severity == Severity::Stop && finding.code.acceptable() && finding.within_acceptance;
            let accepted = acceptable
                && situation.plan.acceptances.iter().any(|given| finding.code.covers(given, &finding.values));
            CheckDoc {
                code: finding.code,
                severity: finding.severity,
                at: finding.at.unwrap_or_else(|| finding.code.place()),
                message: finding.message,
                values: finding.values,
                acceptable,
                accepted,
            }
        })
        .collect();
    without_promises(checks)
}

/// A charge that is refused has no end to be told of.
fn without_promises(mut checks: Vec<CheckDoc>) -> Vec<CheckDoc> {
    if refuses(&checks) {
        checks.retain(|check| check.code != CheckCode::SettingsNoTermination);
    }
    checks
}

/// Whether any stop stands.
pub(crate) fn refuses(checks: &[CheckDoc]) -> bool {
    checks.iter().any(|check| check.severity == Severity::Stop && !check.accepted)
}
