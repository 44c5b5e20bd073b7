//! `rumek.rescue/1`: a pack in trouble as it was found, and what to do with it.

use crate::codes::{
    AbortCode, BmsFound, JudgeState, LowFor, PackMark, ReasonCode, RescueOutcome, RescuePractice, RescueStageKind,
    Severity, Sign, Verdict,
};
use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::charger::ChargerDoc;
use super::lead::LeadsDoc;
use super::pack::PackDoc;
use super::read::document;
use super::source::SourceDoc;

/// The name of the rescue format, with its version.
pub const RESCUE_FORMAT: &str = "rumek.rescue/1";
/// The name of the format of a rescue being carried out, with its version.
pub const RESCUE_CASE_FORMAT: &str = "rumek.rescue-case/1";
/// The name of the rescue's result format, with its version.
pub const RESCUE_RESULT_FORMAT: &str = "rumek.rescue-result/1";

document! {
    /// A pack in trouble: as it was found, and what there is to help it.
    pub struct RescueDoc {
        /// Always `rumek.rescue/1`.
        pub format: String,
        /// What the person calls this rescue.
        pub name: String,
        /// How much is dared; cautious where absent.
        pub practice: RescuePractice,
        /// Air temperature, °C.
        pub ambient_c: f64,
        /// The pack; its start is not needed.
        pub pack: PackDoc,
        /// As it was found.
        pub found: FoundDoc,
        /// What is at hand to feed it.
        pub source: SourceDoc,
        /// … and what regulates or limits between them.
        pub charger: ChargerDoc,
        /// The leads on both sides.
        pub leads: LeadsDoc,
        /// What normally charges it.
        pub handover: ChargerDoc,
        /// A battery somebody thinks of connecting to it.
        pub donor: SourceDoc,
        /// What else there is, to look for something gentler.
        pub at_hand: AtHandDoc,
    }

    /// Other gear at hand.
    pub struct AtHandDoc {
        /// Supplies.
        pub sources: Vec<SourceDoc>,
        /// Modules and limiters.
        pub chargers: Vec<ChargerDoc>,
    }

    /// A pack as it was found.
    pub struct FoundDoc {
        /// At the terminals, nothing connected, V.
        pub terminal_v: f64,
        /// Each series position, V.
        pub cell_voltages_v: Vec<f64>,
        /// Blocks of cells, V.
        pub block_voltages_v: Vec<f64>,
        /// Cells in each block.
        pub cells_per_block: u32,
        /// Whether the cells can be read at all.
        pub cells_reachable: bool,
        /// Whether it has a protection board.
        pub bms: BmsFound,
        /// Whether the terminals have jumped: the board conducts again.
        pub woken: bool,
        /// How long it has been low.
        pub low_for: LowFor,
        /// What is seen, felt and smelled.
        pub signs: Vec<Sign>,
        /// The pack's own temperature, °C.
        pub temperature_c: f64,
        /// JSON pointers of questions answered with "I can't tell".
        pub cant_tell: Vec<String>,
    }

    /// Readings of one stage, to be judged.
    pub struct JudgeAskDoc {
        /// The rescue they belong to.
        pub rescue: RescueDoc,
        /// Its stage.
        pub stage: RescueStageKind,
        /// Since the stage began, s.
        pub now_s: f64,
        /// What was read, oldest first.
        pub readings: Vec<RescueReadingDoc>,
        /// How often this stage has been gone through before.
        pub rounds: u32,
    }

    /// One look at a pack.
    pub struct RescueReadingDoc {
        /// Since the stage began, s.
        pub t_s: f64,
        /// At the terminals, V.
        pub terminal_v: f64,
        /// Into the pack, A.
        pub current_a: f64,
        /// The pack's own temperature, °C.
        pub temperature_c: f64,
        /// Each series position, V.
        pub cell_voltages_v: Vec<f64>,
        /// Taken out in a capacity test, Ah.
        pub capacity_ah: f64,
        /// Swelling, smell, hiss or smoke seen.
        pub alarm: bool,
    }
}

document! {
    /// A rescue being carried out, as it is kept.
    pub struct RescueCaseDoc {
        /// Always `rumek.rescue-case/1`.
        pub format: String,
        /// What the person calls it.
        pub name: String,
        /// What was found, and what there is.
        pub rescue: RescueDoc,
        /// The stage under way.
        pub stage: RescueStageKind,
        /// When it began, RFC 3339 UTC.
        pub stage_started_at: String,
        /// Readings of every stage so far, oldest first.
        pub readings: Vec<CaseReadingDoc>,
        /// Stages that are over, oldest first.
        pub history: Vec<CaseEventDoc>,
        /// How it ended; absent while it goes on.
        pub outcome: RescueOutcome,
        /// When it ended, RFC 3339 UTC.
        pub ended_at: String,
    }

    /// A reading as it is kept.
    pub struct CaseReadingDoc {
        /// Which stage it belongs to.
        pub stage: RescueStageKind,
        /// When, RFC 3339 UTC.
        pub at: String,
        /// What was read.
        pub reading: RescueReadingDoc,
    }

    /// A stage that is over.
    pub struct CaseEventDoc {
        /// Which.
        pub stage: RescueStageKind,
        /// When it ended, RFC 3339 UTC.
        pub at: String,
        /// How.
        pub state: JudgeState,
        /// In one sentence.
        pub message: String,
    }
}

/// What is to be done with a pack in trouble.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RescueResultDoc {
    /// Always `rumek.rescue-result/1`.
    pub format: String,
    /// What still matters, in the order to ask it.
    pub ask: Vec<QuestionDoc>,
    /// What to do, taking everything not known as the dangerous case.
    pub verdict: Verdict,
    /// The verdict in one sentence.
    pub message: String,
    /// What the other practice says.
    pub other_practice: Verdict,
    /// Why it differs; null where both agree.
    pub other_practice_message: Option<String>,
    /// Why, gravest first.
    pub reasons: Vec<ReasonDoc>,
    /// What to do, in order; empty where nothing is to be fed and nothing found out.
    pub stages: Vec<RescueStageDoc>,
    /// How the gear that was named would do; null where none was, or none is needed.
    pub gear: Option<FitDoc>,
    /// What else at hand would do, the gentlest first.
    pub alternatives: Vec<FitDoc>,
    /// What connecting a donor battery would do.
    pub donor: Option<DonorDoc>,
    /// What stays with the pack.
    pub afterwards: AfterwardsDoc,
    /// Where a pack to be retired goes.
    pub disposal: Option<String>,
    /// What to do when it smokes, hisses or burns, in order.
    pub emergency: Vec<String>,
}

/// A question.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct QuestionDoc {
    /// The field it fills.
    pub pointer: String,
    /// The question.
    pub question: String,
    /// Why it matters.
    pub why: String,
    /// How to find out.
    pub how: String,
}

/// One reason for the verdict.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ReasonDoc {
    /// Which.
    pub code: ReasonCode,
    /// How grave.
    pub severity: Severity,
    /// The hazard, the number and the reason.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// What would change it.
    pub would_change: Option<String>,
}

/// One stage of a rescue.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RescueStageDoc {
    /// Which.
    pub kind: RescueStageKind,
    /// What it is for, in one sentence.
    pub message: String,
    /// Never above this at the terminals, V.
    pub voltage_v: Option<f64>,
    /// Never more than this into the pack, A.
    pub current_a: Option<f64>,
    /// When it is done.
    pub until: UntilDoc,
    /// How long a living pack takes, s.
    pub expected_s: Option<f64>,
    /// When to give up, s.
    pub max_s: Option<f64>,
    /// It is run down to this first, gently, V at the terminals.
    pub take_out_to_v: Option<f64>,
    /// How to go about it.
    pub steps: Vec<String>,
    /// When to break off.
    pub abort_if: Vec<AbortDoc>,
    /// How the terminals rise, and between which bounds a living pack stays.
    pub curve: Vec<CorridorPoint>,
}

/// When a stage is done: whichever of these is given.
#[derive(Clone, Copy, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct UntilDoc {
    /// The terminals read this, V.
    pub pack_v: Option<f64>,
    /// So many minutes have passed.
    pub minutes: Option<f64>,
    /// The current has fallen to this, A.
    pub current_a: Option<f64>,
}

/// A condition to break off at.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AbortDoc {
    /// Which.
    pub code: AbortCode,
    /// The condition in words.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
}

/// A moment of a predicted stage.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CorridorPoint {
    /// Since the stage began, s.
    pub t_s: f64,
    /// Likeliest at the terminals, V.
    pub pack_v: f64,
    /// A living pack is not below this, V.
    pub low_v: f64,
    /// … nor above this, V.
    pub high_v: f64,
    /// Into the pack, A.
    pub current_a: f64,
}

/// How some gear would do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FitDoc {
    /// What it is.
    pub name: String,
    /// Position in `at_hand/sources`; null for the gear named in the rescue itself.
    pub source: Option<u32>,
    /// Position in `at_hand/chargers`.
    pub charger: Option<u32>,
    /// Whether it does.
    pub fits: bool,
    /// Whether its voltage and current are set.
    pub controlled: bool,
    /// Set to, or reaches with nothing drawn, V.
    pub voltage_v: Option<f64>,
    /// The most it drives into this pack, A.
    pub current_a: Option<f64>,
    /// Until the charger can take over, s.
    pub expected_s: Option<f64>,
    /// How to set it, or why it does not do.
    pub message: String,
}

/// What connecting a donor battery would do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DonorDoc {
    /// Between the two, V.
    pub apart_v: f64,
    /// What flows at once, A.
    pub inrush_a: f64,
    /// Against the pack's rating, A.
    pub rated_a: Option<f64>,
    /// Against what the wire carries, A.
    pub wire_a: Option<f64>,
    /// Against the fuse, A.
    pub fuse_a: Option<f64>,
    /// What a donor that wakes a board must lie between, V; null where that is no way.
    pub window_v: Option<[f64; 2]>,
    /// Whether it is an accepted way here.
    pub accepted: bool,
    /// The answer in words.
    pub message: String,
    /// How to go about it, or how to get there without it.
    pub steps: Vec<String>,
}

/// What stays with the pack.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AfterwardsDoc {
    /// The rate it may be charged with from then on, C.
    pub rated_c_rate: Option<f64>,
    /// The mark it carries.
    pub mark: Option<PackMark>,
    /// What proves it.
    pub prove: Vec<String>,
    /// How it ends once that is proven.
    pub outcome: Option<RescueOutcome>,
    /// What stays with the pack then, in one sentence.
    pub message: String,
}

/// What readings say.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct JudgementDoc {
    /// In short.
    pub state: JudgeState,
    /// Why to break off.
    pub code: Option<AbortCode>,
    /// In one sentence.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// Give it until then, since the stage began, s.
    pub until_s: Option<f64>,
    /// Look again then, since the stage began, s.
    pub next_look_s: Option<f64>,
    /// The ways that lead on from here; none while the stage goes on.
    pub ways: Vec<WayDoc>,
}

/// A way that leads on from a stage.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct WayDoc {
    /// The stage that begins then; null where nothing does.
    pub to: Option<RescueStageKind>,
}
