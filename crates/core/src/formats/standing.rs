//! What a pack is worth now.

use crate::codes::{FigureFrom, NeedCode, NeedWhy};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::pack::PackDoc;
use super::read::document;
use super::record::RecordDoc;

document! {
    /// Asks for a pack's standing.
    pub struct StandingAskDoc {
        /// The pack.
        pub pack: PackDoc,
        /// What is known of it.
        pub records: Vec<RecordDoc>,
        /// Now, RFC 3339.
        pub now: String,
        /// How warm it is where the pack is kept, °C.
        #[schemars(range(min = -40.0, max = 60.0))]
        pub kept_at_c: f64,
        /// When it will next be used, RFC 3339.
        pub next_use: String,
    }
}

/// A pack's standing.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StandingDoc {
    /// When this was worked out, RFC 3339 UTC.
    pub at: String,
    /// What it holds of its label, at the reference rate and 25 °C, as a share; null where nobody knows.
    pub health: Option<SpanDoc>,
    /// The same in Ah.
    pub capacity_ah: Option<FigureDoc>,
    /// Resistance after 10 s at 25 °C and half charge, mΩ.
    pub resistance_mohm: Option<FigureDoc>,
    /// Ah through it ÷ twice its capacity.
    pub full_cycles: f64,
    /// How full it is now; null where nobody knows.
    pub charge: Option<ChargeNowDoc>,
    /// How its capacity changes.
    pub fading: Option<TrendDoc>,
    /// How its resistance changes.
    pub hardening: Option<TrendDoc>,
    /// When it comes down to 80 % of its label.
    pub to_80: ReachesDoc,
    /// … and to 60 %.
    pub to_60: ReachesDoc,
    /// The one thing it needs.
    pub need: NeedDoc,
    /// What it will need next where it needs nothing now.
    pub upcoming: Option<NeedDoc>,
    /// When this is to be worked out anew at the latest, RFC 3339 UTC.
    pub holds_until: String,
    /// What its capacity is known from, in the order of time.
    pub points: Vec<CapacityPointDoc>,
    /// What its resistance is known from.
    pub resistances: Vec<ResistancePointDoc>,
    /// What its label says at the reference rate, Ah.
    pub label_ah: f64,
    /// What else is worth knowing, a sentence each.
    pub notes: Vec<String>,
}

/// A value with its bounds.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SpanDoc {
    /// The likeliest.
    pub value: f64,
    /// At the least.
    pub low: f64,
    /// At the most.
    pub high: f64,
}

/// A figure with its bounds and where it comes from.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FigureDoc {
    /// The likeliest.
    pub value: f64,
    /// At the least.
    pub low: f64,
    /// At the most.
    pub high: f64,
    /// What it is known from best.
    pub from: FigureFrom,
}

/// How full a pack is now.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ChargeNowDoc {
    /// The likeliest state of charge.
    pub soc: f64,
    /// At the least.
    pub low: f64,
    /// At the most.
    pub high: f64,
    /// When it was last known, RFC 3339 UTC.
    pub known_at: String,
    /// What it loses in 30 days where it is kept, as shares: likely, at the least, at the most.
    pub loses_a_month: [f64; 3],
    /// It will have come down to its precharge line at the earliest, RFC 3339 UTC; null within ten years.
    pub low_from: Option<String>,
    /// … and at the latest.
    pub low_by: Option<String>,
}

/// How a figure changes.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TrendDoc {
    /// In a year, as a share of the label's.
    pub per_year: SpanDoc,
    /// In a hundred equivalent full cycles, likewise; null where they tell nothing apart.
    pub per_hundred_cycles: Option<SpanDoc>,
}

/// When a share is reached.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct ReachesDoc {
    /// At the earliest, RFC 3339 UTC; null where that cannot be said.
    pub from: Option<String>,
    /// At the latest; null where it may be never.
    pub to: Option<String>,
    /// Why it cannot be said; null where it can.
    pub why_not: Option<String>,
}

/// What a pack needs.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct NeedDoc {
    /// What.
    pub code: NeedCode,
    /// Why.
    pub why: NeedWhy,
    /// By when, RFC 3339 UTC; null where that is now or never.
    pub by: Option<String>,
    /// In a sentence.
    pub message: String,
}

/// A measured capacity.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CapacityPointDoc {
    /// When, RFC 3339 UTC.
    pub at: String,
    /// Equivalent full cycles by then.
    pub cycles: f64,
    /// At 25 °C and the reference rate, Ah.
    pub ah: f64,
    /// … its standard deviation, Ah.
    pub sd_ah: f64,
    /// As it was measured, Ah.
    pub raw_ah: f64,
    /// Where it comes from.
    pub from: FigureFrom,
    /// Whether it goes into the trend.
    pub counted: bool,
}

/// A measured resistance.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ResistancePointDoc {
    /// When, RFC 3339 UTC.
    pub at: String,
    /// Equivalent full cycles by then.
    pub cycles: f64,
    /// At 25 °C, mΩ.
    pub mohm: f64,
    /// As it was measured, mΩ.
    pub raw_mohm: f64,
}
