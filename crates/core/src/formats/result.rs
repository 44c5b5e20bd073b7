//! `rumek.result/1`: what the core answers.

use crate::codes::{EndReason, LimitCode, Place, StepWhen};
use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::card::{CheckDoc, ResultSettingsDoc};
use super::plan::PlanDoc;
use super::test::DischargeDoc;

/// The name of the result format, with its version.
pub const RESULT_FORMAT: &str = "rumek.result/1";

/// The answer to a plan.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ResultDoc {
    /// Always `rumek.result/1`.
    pub format: String,
    /// The plan with every default filled in.
    pub resolved: PlanDoc,
    /// JSON pointers of what was not said.
    pub assumed: Vec<String>,
    /// What to dial; null while a stop stands.
    pub settings: Option<ResultSettingsDoc>,
    /// The first moment.
    pub start: StartResultDoc,
    /// How long it takes.
    pub time: TimeDoc,
    /// What goes in and what is lost.
    pub delivered: DeliveredDoc,
    /// How it ends.
    pub end: EndDoc,
    /// The chain, source first; a load across the pack comes last.
    pub stages: Vec<StageDoc>,
    /// Every finite limit at the first moment, binding first.
    pub limits: Vec<LimitDoc>,
    /// Which limit binds when.
    pub pinch: Vec<PinchDoc>,
    /// What a bigger stage would gain.
    pub what_if: Vec<WhatIfDoc>,
    /// What limits the charge and whether buying anything would help, in one sentence.
    pub verdict: Option<String>,
    /// Planned turns of a knob.
    pub nudges: Vec<NudgeDoc>,
    /// What to mind, gravest first.
    pub checks: Vec<CheckDoc>,
    /// What to do, in order.
    pub steps: Vec<StepDoc>,
    /// What to do when it smokes, hisses or burns, in order.
    pub emergency: Vec<String>,
    /// Every series position, where readings differ.
    pub cells: Vec<CellDoc>,
    /// The charge over time, at most 400 points.
    pub curve: Vec<CurvePoint>,
    /// The discharge it is, where the goal lies below the start and something takes it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub discharge: Option<DischargeDoc>,
}

/// The first moment.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StartResultDoc {
    /// State of charge, the likeliest.
    pub soc: f64,
    /// … the lowest it may be.
    pub soc_low: f64,
    /// … the highest it may be.
    pub soc_high: f64,
    /// Pack voltage at rest, V.
    pub pack_voltage_v: f64,
    /// Current into the pack at first, A.
    pub current_a: f64,
    /// The same as a C-rate.
    pub c_rate: f64,
}

/// How long it takes; zero where already past, null where never.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TimeDoc {
    /// To the charge voltage, s.
    pub to_cv_s: Option<f64>,
    /// To 80 %, s.
    pub to_80_s: Option<f64>,
    /// To the end, s.
    pub total_s: Option<f64>,
    /// The shortest the total may be, s.
    pub total_low_s: Option<f64>,
    /// The longest the total may be, s.
    pub total_high_s: Option<f64>,
}

/// What goes in and what is lost.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DeliveredDoc {
    /// Into the pack, Ah.
    pub charge_ah: f64,
    /// Into the pack, Wh.
    pub energy_wh: f64,
    /// Out of the source, Wh.
    pub source_wh: f64,
    /// From the wall, Wh.
    pub mains_wh: f64,
    /// Heat in every stage together, the supply's own loss included, Wh.
    pub heat_wh: f64,
    /// Heat in the pack, Wh.
    pub pack_heat_wh: f64,
    /// Of the energy from the wall, in the person's currency.
    pub cost: Option<f64>,
}

/// How it ends.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct EndDoc {
    /// State of charge at the end.
    pub soc: f64,
    /// … the lowest and the highest it may be, where a few millivolts of port or cell move it; null where it is sure.
    pub soc_low: Option<f64>,
    /// See `soc_low`.
    pub soc_high: Option<f64>,
    /// When the computation ended, s.
    pub after_s: f64,
    /// Why.
    pub reason: EndReason,
    /// The charge voltage that would reach the goal, V, where it stalled.
    pub fill_voltage_v: Option<f64>,
}

/// A stage of the chain.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StageDoc {
    /// Which stage.
    pub at: Place,
    /// What the person calls it.
    pub label: String,
    /// Its one rating that matters.
    pub rating: String,
    /// What it heats, Wh.
    pub heat_wh: f64,
}

/// A limit at the first moment.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LimitDoc {
    /// Which limit.
    pub limit: LimitCode,
    /// The stage it belongs to.
    pub at: Place,
    /// The current it allows, A at the pack.
    pub current_a: f64,
}

/// A span in which one limit binds.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PinchDoc {
    /// From, s.
    pub from_s: f64,
    /// To, s.
    pub to_s: f64,
    /// Which limit.
    pub limit: LimitCode,
    /// The stage it belongs to.
    pub at: Place,
}

/// What one limit costs.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct WhatIfDoc {
    /// The limit taken away.
    pub without: LimitCode,
    /// The stage it belongs to.
    pub at: Place,
    /// Time to the same end then, s; null where the charge as it is stalls.
    pub total_s: Option<f64>,
    /// What that saves, s; 0 where the charge as it is stalls.
    pub saves_s: f64,
    /// State of charge gained, where the charge as it is stalls.
    pub gains_soc: Option<f64>,
    /// The next size that can be bought, where that is what was tried instead of taking the limit away.
    pub size: Option<NextSizeDoc>,
    /// What would do it, in one line.
    pub message: String,
    /// Whether it is a thing to buy rather than a limit to keep.
    pub advised: bool,
}

/// A size that can be bought.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct NextSizeDoc {
    /// A, where that is what grows.
    pub current_a: Option<f64>,
    /// W, where that is what grows.
    pub power_w: Option<f64>,
}

/// One planned turn of a knob.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct NudgeDoc {
    /// When, s.
    pub at_s: f64,
    /// What to dial, V.
    pub set_voltage_v: Option<f64>,
    /// What to set, 0…1.
    pub duty: Option<f64>,
    /// The current right after, A.
    pub current_a: f64,
}

/// Something to do.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StepDoc {
    /// When.
    pub when: StepWhen,
    /// Which step.
    pub code: String,
    /// What to do, in one line.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// Where.
    pub at: Place,
}

/// One series position.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CellDoc {
    /// From 1, at the negative end.
    pub position: u32,
    /// At rest now, V.
    pub start_v: f64,
    /// State of charge now.
    pub start_soc: f64,
    /// At the end, charging, V.
    pub end_v: f64,
    /// State of charge at the end.
    pub end_soc: f64,
}

/// A moment of the charge.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct CurvePoint {
    /// From the start, s.
    pub t_s: f64,
    /// At the pack's terminals, V.
    pub pack_v: f64,
    /// Into the pack, A.
    pub current_a: f64,
    /// Into the pack, W.
    pub power_w: f64,
    /// State of charge.
    pub soc: f64,
    /// What binds.
    pub limit: LimitCode,
    /// At the source's terminals, V; null without one.
    pub source_v: Option<f64>,
    /// Out of the source, A; null without one.
    pub source_a: Option<f64>,
    /// What each stage could deliver at the pack then, A, in the order of `stages`; of a load, what it draws.
    pub stage_a: Vec<f64>,
    /// The stages that carry more than they may then.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub overloaded: Vec<Place>,
}
