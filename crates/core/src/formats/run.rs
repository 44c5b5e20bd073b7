//! `rumek.run/1`: a charge as it happens, its readings, and what they mean.

use crate::codes::{PreflightCode, PreflightKind, RunEnd, RunWay, SayingCode, Severity};
use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::ask::AskDoc;
use super::plan::PlanDoc;
use super::read::Problems;
use super::read::document;
use super::record::RecordDoc;
use super::result::{CurvePoint, NudgeDoc};
use super::test::DischargeAskDoc;

/// The name of the run format, with its version.
pub const RUN_FORMAT: &str = "rumek.run/1";

document! {
    /// A run: a plan carried out.
    pub struct RunDoc {
        /// Always `rumek.run/1`.
        pub format: String,
        /// What the person calls it.
        pub name: String,
        /// The plan as it was when the run began.
        pub plan: PlanDoc,
        /// Of a whole discharge what takes all that the plan's pack gives; absent where the plan itself says what is done.
        pub discharge: DischargeAskDoc,
        /// Its result then.
        pub result: Value,
        /// Which core computed it.
        pub core_version: String,
        /// The list gone through before.
        pub preflight: Vec<PreflightAnswerDoc>,
        /// When current began to flow, RFC 3339 UTC.
        pub started_at: String,
        /// When it ended, RFC 3339 UTC; absent while it goes on.
        pub ended_at: String,
        /// How it ended.
        pub end: RunEnd,
        /// Put in, as the charger or the person counted, Ah.
        pub charge_ah: f64,
        /// At rest afterwards, V.
        pub rest_voltage_v: f64,
        /// Anything worth remembering.
        pub note: String,
        /// The file it was brought in from; absent where it was followed here.
        pub log_name: String,
        /// What its readings had made of its pack when it ended; absent where they told too little.
        pub fitted: RefitDoc,
    }

    /// One pack as a charge's readings made it out to be.
    pub struct RefitDoc {
        /// What it holds, Ah.
        #[schemars(range(min = 0.001, max = 100_000.0))]
        pub capacity_ah: f64,
        /// … its standard deviation, Ah.
        #[schemars(range(min = 0.0, max = 100_000.0))]
        pub capacity_sd_ah: f64,
        /// 10 s resistance, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// … its standard deviation, mΩ.
        #[schemars(range(min = 0.0, max = 1e6))]
        pub resistance_sd_mohm: f64,
        /// Whether it was a whole charge, from low to full.
        pub whole: bool,
    }

    /// An item of the list, answered.
    pub struct PreflightAnswerDoc {
        /// Which.
        pub code: PreflightCode,
        /// That it was seen to.
        pub seen: bool,
        /// What was measured: V or °C.
        pub value: f64,
        /// What each cell reads, V.
        pub cells_v: Vec<f64>,
    }

    /// Asks for the list of a plan, with what was answered so far.
    pub struct PreflightAskDoc {
        /// The plan.
        pub plan: PlanDoc,
        /// Of a whole discharge what takes the charge.
        pub discharge: DischargeAskDoc,
        /// What was answered.
        pub answers: Vec<PreflightAnswerDoc>,
    }

    /// One look at a run. Each field says where it was read.
    pub struct RunReadingDoc {
        /// Since the run began, s.
        pub t_s: f64,
        /// On the source's display, V.
        pub source_v: f64,
        /// On the source's display, A.
        pub source_a: f64,
        /// On the charger, V.
        pub charger_v: f64,
        /// On the charger, A.
        pub charger_a: f64,
        /// Counted by the charger, Ah.
        pub charger_ah: f64,
        /// By meter at the pack's terminals, V.
        pub terminal_v: f64,
        /// By meter into the pack, A.
        pub terminal_a: f64,
        /// On the BMS, V.
        pub bms_v: f64,
        /// On the BMS, A.
        pub bms_a: f64,
        /// Each cell, V.
        pub cell_voltages_v: Vec<f64>,
        /// The pack's own temperature, °C.
        pub temperature_c: f64,
        /// Where a knob stands, or what a dial is set to, V.
        #[schemars(range(min = 0.0, max = 1000.0))]
        pub set_v: f64,
        /// Whether the person read it twice: what does not fit is then true.
        pub sure: bool,
        /// Anything seen.
        pub note: String,
    }

    /// Readings of a run, to be understood.
    pub struct RunAskDoc {
        /// The plan as it was when the run began.
        pub plan: PlanDoc,
        /// Of a whole discharge what takes the charge.
        pub discharge: DischargeAskDoc,
        /// Since it began, s.
        pub now_s: f64,
        /// What was read.
        pub readings: Vec<RunReadingDoc>,
    }
}

/// What instruments on a bench read, at the least and at the most.
const READ_V: (f64, f64) = (-1000.0, 1000.0);
const READ_CELL_V: (f64, f64) = (-20.0, 20.0);
const READ_A: (f64, f64) = (-10_000.0, 10_000.0);
const READ_AH: (f64, f64) = (-1e6, 1e6);
const READ_C: (f64, f64) = (-100.0, 1000.0);

impl RunReadingDoc {
    /// Names what no instrument on a bench reads.
    pub fn bounds(&self, at: &str, problems: &mut Problems) {
        let volts = [
            ("source_v", self.source_v),
            ("charger_v", self.charger_v),
            ("terminal_v", self.terminal_v),
            ("bms_v", self.bms_v),
            ("set_v", self.set_v),
        ];
        let amps = [
            ("source_a", self.source_a),
            ("charger_a", self.charger_a),
            ("terminal_a", self.terminal_a),
            ("bms_a", self.bms_a),
        ];
        let mut within = |name: &str, value: Option<f64>, (low, high): (f64, f64), unit: &str| {
            if value.is_some_and(|value| !(low..=high).contains(&value)) {
                problems.add(
                    format!("{at}/{name}"),
                    "no instrument on a bench reads that",
                    format!("{low} to {high} {unit}"),
                );
            }
        };
        volts.iter().for_each(|(name, value)| within(name, *value, READ_V, "V"));
        amps.iter().for_each(|(name, value)| within(name, *value, READ_A, "A"));
        within("charger_ah", self.charger_ah, READ_AH, "Ah");
        within("temperature_c", self.temperature_c, READ_C, "°C");
        for cell_v in self.cell_voltages_v.iter().flatten() {
            within("cell_voltages_v", Some(*cell_v), READ_CELL_V, "V");
        }
    }

    /// Volts and amps as far as it has them, of the place nearest to the pack.
    #[must_use]
    pub fn at_pack(&self) -> (Option<f64>, Option<f64>) {
        let sum = self.cell_voltages_v.as_ref().map(|cells| cells.iter().sum());
        let volts = self.terminal_v.or(sum).or(self.bms_v).or(self.charger_v).or(self.source_v);
        let amps = self.terminal_a.or(self.bms_a).or(self.charger_a).or(self.source_a);
        (volts, amps)
    }
}

/// The list to go through before a charge.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PreflightDoc {
    /// Its items, in order.
    pub items: Vec<PreflightItemDoc>,
    /// Whether the charge may begin: every item answered, none of them off.
    pub clear: bool,
}

/// One item of the list.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PreflightItemDoc {
    /// Which.
    pub code: PreflightCode,
    /// What is entered.
    pub kind: PreflightKind,
    /// What to do.
    pub message: String,
    /// Expected, V or °C.
    pub expected: Option<f64>,
    /// Not below, V or °C.
    pub low: Option<f64>,
    /// Not above, V or °C.
    pub high: Option<f64>,
    /// Whether the answer is in order; null without one.
    pub ok: Option<bool>,
    /// What is off, and what to do about it.
    pub problem: Option<String>,
}

/// What a run's readings mean.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RunStateDoc {
    /// What the plan predicted for this moment; null after its end.
    pub predicted: Option<CurvePoint>,
    /// What the readings say, gravest first.
    pub said: Vec<SayingDoc>,
    /// The pack as the readings make it out to be.
    pub fit: FittedDoc,
    /// Which way its current went.
    pub way: RunWay,
    /// What of it may be kept with the pack.
    pub keep: KeepDoc,
    /// How many readings it was made out from.
    pub readings: usize,
    /// What it came to so far, beside what was planned.
    pub account: AccountDoc,
    /// State of charge now.
    pub soc: f64,
    /// When it is done, since it began, s; null where it never is.
    pub end_s: Option<f64>,
    /// At the earliest, s.
    pub end_low_s: Option<f64>,
    /// At the latest, s.
    pub end_high_s: Option<f64>,
    /// How it goes on from here.
    pub course: Vec<CurvePoint>,
    /// Turns still to be made by hand.
    pub nudges: Vec<NudgeDoc>,
    /// When to look next, since it began, s.
    pub next_look_s: Option<f64>,
    /// Why then.
    pub next_look_why: String,
    /// What to do when it smokes, hisses or burns, in order.
    pub emergency: Vec<String>,
}

/// What of a run may be kept with its pack; nothing where all of it is null.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct KeepDoc {
    /// Resistance of one pack, mΩ.
    pub resistance_mohm: Option<f64>,
    /// What one pack holds of its label, 0.05 to 1.2.
    pub health: Option<f64>,
    /// Of a whole discharge what one pack gave, as a record of it; when is the run's to say.
    pub record: Option<RecordDoc>,
    /// Why nothing may be kept, where that is worth saying.
    pub why_not: Option<String>,
}

/// What a charge came to, beside what was planned; without a plan nothing was. What came out is negative.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AccountDoc {
    /// From its start to now, or to its end, s.
    pub total_s: f64,
    /// … as planned, s.
    pub total_predicted_s: Option<f64>,
    /// Until its charge voltage was reached, s; null where it was not.
    pub to_cv_s: Option<f64>,
    /// … as planned, s.
    pub to_cv_predicted_s: Option<f64>,
    /// Into the pack, Ah.
    pub charge_ah: f64,
    /// … as planned, Ah.
    pub charge_predicted_ah: Option<f64>,
    /// Into the pack, Wh.
    pub energy_wh: f64,
    /// … as planned, Wh.
    pub energy_predicted_wh: Option<f64>,
    /// From the wall, Wh: the planned losses on what went in; null behind a battery.
    pub mains_wh: Option<f64>,
    /// … as planned, Wh.
    pub mains_predicted_wh: Option<f64>,
    /// Of it, in the person's currency; null without a price.
    pub cost: Option<f64>,
    /// … as planned.
    pub cost_predicted: Option<f64>,
}

/// One thing the readings say.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SayingDoc {
    /// Which.
    pub code: SayingCode,
    /// How grave.
    pub severity: Severity,
    /// What it means and what to do.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// What is asked of the last reading where it does not fit: an answer fills a field of `/reading`, the last one.
    pub ask: Option<AskDoc>,
}

/// The pack as the readings make it out to be, each with its standard deviation.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FittedDoc {
    /// State of charge at the start.
    pub start_soc: f64,
    /// … its standard deviation.
    pub start_soc_sd: f64,
    /// 10 s resistance, mΩ.
    pub resistance_mohm: f64,
    /// … its standard deviation.
    pub resistance_sd_mohm: f64,
    /// Usable capacity, Ah.
    pub capacity_ah: f64,
    /// … its standard deviation.
    pub capacity_sd_ah: f64,
    /// How much of what was uncertain about the three the readings have settled, 0…1.
    pub learned: f64,
    /// How many readings went in.
    pub readings: u32,
}
