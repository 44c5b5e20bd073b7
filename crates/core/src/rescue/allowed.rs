//! What the one judge says of feeding a pack: its rules come before Rescue's own.

use super::found::Picture;
use super::reason::Reason;
use crate::acts::{Act, ActKind, Finding, judge};
use crate::chain::may::{HeldBy, May, Subject, deep, gentle, may};
use crate::chain::settings::full_voltage;
use crate::codes::{CheckCode, Practice, ReasonCode, Severity, Verdict};
use crate::parts::identify::{Identified, identify};
use crate::parts::pack::{Pack, Rest, Start};
use crate::units::{celsius, in_amps, volts};

impl Picture {
    /// The pack as warm as it was found.
    fn as_warm(&self) -> Pack {
        let temperature = self.temperature_c.known().map_or(self.pack.temperature, |c| celsius(*c));
        Pack { temperature, ..self.pack.clone() }
    }

    /// What was read of it, as a plan reads it.
    pub(super) fn identified(&self) -> Identified {
        let rest = Rest { minutes: None, last: crate::codes::LastUse::Unknown };
        let start = match (self.cells.known(), self.terminal_v.known()) {
            (Some(cells), _) => Start::Positions {
                volts: cells.each_v.iter().map(|v| volts(v * cells.per_reading)).collect(),
                cells: cells.per_reading as u32,
                rest,
            },
            (None, Some(terminal_v)) => Start::Rest { volts: volts(*terminal_v), rest },
            (None, None) => Start::Soc(0.0),
        };
        identify(&Pack { start, ..self.pack.clone() }, false)
    }

    /// What it may be given as it stands.
    pub(super) fn may(&self) -> May {
        let found = self.identified();
        may(&Subject { pack: &self.as_warm(), found: &found, practice: Practice::Standard })
    }

    /// What it may be given once it is no longer low: what its warmth, its label and its mark leave, A.
    pub(super) fn may_once_up(&self) -> f64 {
        let pack = Pack { start: Start::Soc(0.5), ..self.as_warm() };
        let found = identify(&pack, false);
        may(&Subject { pack: &pack, found: &found, practice: Practice::Standard }).amps
    }

    /// Whether it was left too low for a normal charge.
    pub(super) fn deep(&self) -> bool {
        deep(&self.pack, &self.identified())
    }

    /// The most it is fed with while it is low, A: never more than a plan would tell.
    pub(super) fn gentle_a(&self) -> f64 {
        let given = self.may();
        let warmth_a = if given.held == HeldBy::Warmth { given.amps } else { f64::INFINITY };
        let label_a = self.pack.rated.map_or(f64::INFINITY, in_amps);
        let board_a = self.pack.bms_max.map_or(f64::INFINITY, in_amps);
        gentle(&self.pack).min(self.may_once_up()).min(warmth_a).min(label_a).min(board_a)
    }

    /// The act of feeding it gently, as the judge sees it.
    fn act<'a>(&self, pack: &'a Pack, found: &'a Identified) -> Act<'a> {
        /// A supply may stand by this much above what it is set to.
        const STANDS_OVER: f64 = 1.001;
        let gentle_a = self.gentle_a();
        let full_v = full_voltage(pack, Practice::Standard).max(self.pack.profile.full_v * self.series());
        Act {
            kind: ActKind::Precharge,
            subject: Subject { pack, found, practice: Practice::Standard },
            around_c: self.around_c,
            dials: true,
            asked_a: gentle_a,
            most_a: gentle_a,
            likely_a: gentle_a,
            unloaded_a: None,
            highest_v: STANDS_OVER * full_v.max(found.rest_v),
            lasts_s: f64::INFINITY,
        }
    }
}

/// What the one judge has cleared to be done with a low pack: no stage has volts or amps without it.
#[derive(Clone, Copy, Debug)]
pub(super) struct Fed {
    most_a: f64,
    highest_v: f64,
}

impl Fed {
    /// No more than was cleared, A.
    pub(super) fn amps(self, wanted_a: f64) -> f64 {
        wanted_a.min(self.most_a)
    }

    /// No more than was cleared, V.
    pub(super) fn volts(self, wanted_v: f64) -> f64 {
        wanted_v.min(self.highest_v)
    }
}

impl Picture {
    /// Has the judge look at feeding it gently; `None` where a stop stands against that.
    pub(super) fn fed(&self) -> Option<Fed> {
        let (found, pack) = (self.identified(), self.as_warm());
        let cleared = judge(self.act(&pack, &found), Vec::new()).ok()?;
        Some(Fed { most_a: cleared.act().most_a, highest_v: cleared.act().highest_v })
    }
}

/// Why feeding it is refused or minded, whatever Rescue itself finds.
pub(super) fn reasons(picture: &Picture) -> Vec<Reason> {
    let found = picture.identified();
    let pack = picture.as_warm();
    let findings = match judge(picture.act(&pack, &found), Vec::new()) {
        Ok(cleared) => cleared.findings().to_vec(),
        Err(refused) => refused.findings,
    };
    findings.iter().filter_map(|finding| reason(picture, finding)).collect()
}

/// A finding as a reason of Rescue; `None` where Rescue looks closer at it itself.
fn reason(picture: &Picture, finding: &Finding) -> Option<Reason> {
    let stops = finding.severity == Severity::Stop;
    let unknown_warmth = picture.temperature_c.known().is_none();
    let inspect = if stops { Verdict::Inspect } else { Verdict::Charge };
    let (verdict, code) = match finding.code {
        CheckCode::PackRetired | CheckCode::PackReversedCell | CheckCode::PackColdRate => return None,
        CheckCode::PackDeadCell if stops => return None,
        CheckCode::PackDeadCell if picture.deep() => (Verdict::Precharge, ReasonCode::MayBeDead),
        CheckCode::PackDeadCell => (Verdict::Charge, ReasonCode::MayBeDead),
        CheckCode::PackFrozen => (Verdict::Inspect, ReasonCode::Frozen),
        CheckCode::PackTooCold | CheckCode::PackTooHot | CheckCode::PackHotStart | CheckCode::PackCoolsDown
            if unknown_warmth =>
        {
            return None;
        }
        // Stricter than a plan, which only cautions of lead in the cold: nobody knows this pack.
        CheckCode::PackTooCold => (Verdict::Inspect, ReasonCode::TooCold),
        CheckCode::PackTooHot => (Verdict::Inspect, ReasonCode::TooHot),
        CheckCode::PackHotStart => (inspect, ReasonCode::TooHot),
        CheckCode::PackCoolsDown => (inspect, ReasonCode::TooCold),
        CheckCode::PackLethalVoltage => (Verdict::Inspect, ReasonCode::LethalVoltage),
        CheckCode::PackTouchVoltage => (Verdict::Charge, ReasonCode::TouchVoltage),
        CheckCode::PackCellOverfull => (Verdict::Inspect, ReasonCode::CellOverfull),
        CheckCode::SettingsWrongCellCount => (inspect, ReasonCode::WrongCellCount),
        _ if stops => (Verdict::Inspect, ReasonCode::Refused),
        _ => return None,
    };
    if finding.severity == Severity::Note {
        return None;
    }
    let values: Vec<(&'static str, f64)> =
        VALUES.iter().filter_map(|name| Some((*name, *finding.values.get(*name)?))).collect();
    let mut reason = Reason::new(verdict, code, finding.message.clone()).with(&values).told_as(finding.severity);
    if let Some(lift) = finding.lifts.first() {
        reason = reason.unless(lift.does.clone());
    }
    Some(reason)
}

/// The figures of findings that a reason carries on.
const VALUES: [&str; 12] = [
    "voltage_v",
    "cell_v",
    "temperature_c",
    "min_c",
    "max_c",
    "freezes_c",
    "ambient_c",
    "gentle_a",
    "rises_v",
    "ceiling_v",
    "current_a",
    "series",
];
