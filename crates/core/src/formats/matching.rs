//! `rumek.match/1` and `rumek.match-result/1`: cells put together into packs.

use crate::codes::{Chemistry, Severity, UnfitCode};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::read::document;

/// The name of the question, with its version.
pub const MATCH_FORMAT: &str = "rumek.match/1";
/// The name of the answer, with its version.
pub const MATCH_RESULT_FORMAT: &str = "rumek.match-result/1";

document! {
    /// Cells, and the packs to build of them.
    pub struct MatchDoc {
        /// Always `rumek.match/1`.
        pub format: String,
        /// What the person calls it.
        pub name: String,
        /// The chemistry of all of them.
        pub chemistry: Chemistry,
        /// The cells.
        pub cells: Vec<MatchCellDoc>,
        /// The packs to build.
        pub packs: Vec<MatchPackDoc>,
    }

    /// A cell.
    pub struct MatchCellDoc {
        /// What it is called; each once.
        pub id: String,
        /// What it holds, Ah.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub capacity_ah: f64,
        /// Its resistance, mΩ.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_mohm: f64,
        /// What it stands at now, V.
        #[schemars(range(min = 0.0, max = 10.0))]
        pub voltage_v: f64,
        /// What it loses by itself, mV a day.
        #[schemars(range(min = 0.0, max = 5000.0))]
        pub self_discharge_mv_per_day: f64,
        /// Where it sits now; nowhere where absent.
        pub sits: MatchPlaceDoc,
        /// The cells it is welded to.
        pub welded_with: Vec<String>,
    }

    /// A place in a pack.
    pub struct MatchPlaceDoc {
        /// The pack's name.
        pub pack: String,
        /// Which series position, from 1 at the negative end.
        #[schemars(range(min = 1, max = 200))]
        pub group: u32,
    }

    /// A pack to build.
    pub struct MatchPackDoc {
        /// What it is called; each once.
        pub name: String,
        /// Groups in series.
        #[schemars(range(min = 1, max = 200))]
        pub series: u32,
        /// Cells in parallel in each group.
        #[schemars(range(min = 1, max = 100))]
        pub parallel: u32,
    }
}

/// Which cell goes where.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MatchResultDoc {
    /// Always `rumek.match-result/1`.
    pub format: String,
    /// From nothing moved on: each with all that is swapped up to it.
    pub steps: Vec<MatchStepDoc>,
    /// The packs after the last step.
    pub packs: Vec<MatchedPackDoc>,
    /// Fit cells that are not needed, the best first.
    pub left_over: Vec<String>,
    /// Cells that are not to be used.
    pub unfit: Vec<UnfitDoc>,
    /// No arrangement has a smaller spread than this; the spread of the last step where that is proven the least.
    pub bound: f64,
    /// Whether the last step is proven the least spread.
    pub proven: bool,
    /// What to do before cells are joined in parallel, group by group where it matters.
    pub joins: Vec<JoinDoc>,
    /// What else is worth knowing, a sentence each.
    pub notes: Vec<String>,
}

/// So many swaps, and what they bring.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MatchStepDoc {
    /// How many swaps, or cells put in where none sat.
    pub moves: u32,
    /// Which cell with which, in order; the second of a pair may come from those that are left over.
    pub swaps: Vec<[String; 2]>,
    /// The largest spread of group capacity in any pack: (largest − smallest) ÷ mean; null while a place is empty.
    pub spread: Option<f64>,
    /// Likewise between the packs' capacities.
    pub pack_spread: Option<f64>,
    /// The largest spread of resistance in any group; null where it was not measured.
    pub resistance_spread: Option<f64>,
}

/// A pack put together.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct MatchedPackDoc {
    /// Its name.
    pub name: String,
    /// The cells of each group, from the negative end.
    pub groups: Vec<Vec<String>>,
    /// What each group holds, Ah.
    pub group_ah: Vec<f64>,
    /// What it holds: its smallest group, Ah; null where cells are missing.
    pub capacity_ah: Option<f64>,
    /// (largest − smallest) ÷ mean of its groups.
    pub spread: Option<f64>,
    /// So many fit cells are missing.
    pub missing: u32,
}

/// A cell that is not to be used.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct UnfitDoc {
    /// Which.
    pub id: String,
    /// Why.
    pub code: UnfitCode,
    /// In a sentence.
    pub message: String,
}

/// A group whose cells differ in voltage before they are joined.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct JoinDoc {
    /// The pack's name.
    pub pack: String,
    /// Which group, from 1.
    pub group: u32,
    /// Caution or stop.
    pub severity: Severity,
    /// Highest minus lowest, V.
    pub spread_v: f64,
    /// What flows between the two at the moment of joining, A; null where a resistance is not known.
    pub inrush_a: Option<f64>,
    /// In which order to level and join them: the highest last.
    pub order: Vec<String>,
    /// What to do.
    pub message: String,
    /// How each low one is charged alone before that; null where they may be joined as they are, or nobody may.
    #[serde(default)]
    pub level: Option<LevelDoc>,
    /// How long they take to come level once they are joined, s; null where that is not known, or not to be done.
    #[serde(default)]
    pub settles_s: Option<f64>,
    /// Whether it is groups that are put in series; `group` is then the lowest of them.
    #[serde(default)]
    pub in_series: bool,
}

/// A charge of one cell, or of one group, to the level of the others.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LevelDoc {
    /// V a cell.
    pub to_v: f64,
    /// No more than this, A.
    pub current_a: f64,
}
