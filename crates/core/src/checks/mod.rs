//! What to mind: one file of checks a place, one enum that owns code, place and acceptability.

mod load;
mod pack;
mod settings;
mod source;

use std::collections::BTreeMap;

use crate::charge::Charge;
use crate::document::read::codes;
use crate::document::{AcceptedDoc, CheckDoc, Place, Severity};
use crate::identify::Identified;
use crate::plan::Plan;
use crate::settings::Chosen;

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
        /// Faster than the label or the chemistry allows.
        PackRateTooHigh = "pack.rate_too_high",
        /// More than the protection board lets through.
        PackBmsOverloaded = "pack.bms_overloaded",
        /// Cells apart.
        PackCellSpread = "pack.cell_spread",
        /// Nothing levels the cells.
        PackNoBalancing = "pack.no_balancing",
        /// The start is known only roughly.
        PackSocUncertain = "pack.soc_uncertain",
        /// Volts that can hurt.
        PackTouchVoltage = "pack.touch_voltage",
        /// The maker's sheet overrules.
        PackDataSheet = "pack.data_sheet",
        /// Warmth of a nickel pack ends its charge.
        PackEndByHand = "pack.end_by_hand",
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
        /// Nothing watches the temperature.
        SettingsNoTemperatureStop = "settings.no_temperature_stop",
        /// Stay with lithium.
        LithiumAttend = "lithium.attend",
        /// Lead-acid makes hydrogen.
        LeadAcidVentilate = "lead_acid.ventilate",
    }
}

impl CheckCode {
    /// The stage it concerns.
    #[must_use]
    pub fn place(self) -> Place {
        match self.code().split('.').next() {
            Some("source") => Place::Source,
            Some("load") => Place::Load,
            Some("settings") => Place::Settings,
            _ => Place::Pack,
        }
    }

    /// Whether a stop of this kind may be accepted at all.
    #[must_use]
    pub const fn acceptable(self) -> bool {
        matches!(self, Self::PackRateTooHigh | Self::SourceNotIsolated | Self::SettingsWrongCellCount)
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
            _ => value(now, "units") <= value(then, "units"),
        }
    }
}

/// What a check found, before acceptance.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Finding {
    pub(crate) code: CheckCode,
    pub(crate) severity: Severity,
    pub(crate) message: String,
    pub(crate) values: BTreeMap<String, f64>,
    /// False where these numbers are past even what acceptance allows.
    pub(crate) within_acceptance: bool,
}

impl Finding {
    pub(crate) fn new(code: CheckCode, severity: Severity, message: String, values: &[(&str, f64)]) -> Self {
        Self {
            code,
            severity,
            message,
            values: values.iter().map(|(name, v)| ((*name).to_owned(), (*v * 1e6).round() / 1e6)).collect(),
            within_acceptance: true,
        }
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
}

impl Situation<'_> {
    /// Current into the pack at first, A.
    pub(crate) fn first_a(&self) -> f64 {
        self.charge.moments.first().map_or(0.0, |m| m.current_a)
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
    settings::check(situation, &mut findings);
    load::check(situation, &mut findings);
    findings.sort_by_key(|finding| (finding.severity, finding.code));
    findings
        .into_iter()
        .map(|finding| {
            let acceptable =
                finding.severity == Severity::Stop && finding.code.acceptable() && finding.within_acceptance;
            let accepted = acceptable
                && situation.plan.acceptances.iter().any(|given| finding.code.covers(given, &finding.values));
            CheckDoc {
                code: finding.code,
                severity: finding.severity,
                at: finding.code.place(),
                message: finding.message,
                values: finding.values,
                acceptable,
                accepted,
            }
        })
        .collect()
}

/// Whether any stop stands.
pub(crate) fn refuses(checks: &[CheckDoc]) -> bool {
    checks.iter().any(|check| check.severity == Severity::Stop && !check.accepted)
}
