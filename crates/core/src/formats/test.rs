//! `rumek.test/1` and `rumek.test-result/1`: a capacity test or a discharge planned.

use std::collections::BTreeMap;

use crate::codes::{AfterTest, DischargeBy, SegmentKind, Severity, StepWhen, TestCheckCode, TestPlace};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::card::{CheckDoc, LiftDoc, ResultSettingsDoc};
use super::charger::ChargerDoc;
use super::lead::LeadsDoc;
use super::pack::PackDoc;
use super::read::document;
use super::source::SourceDoc;

/// The name of the question, with its version.
pub const TEST_FORMAT: &str = "rumek.test/1";
/// The name of the answer, with its version.
pub const TEST_RESULT_FORMAT: &str = "rumek.test-result/1";

document! {
    /// A capacity test to be planned: full, a rest, down to the cut-off, and what comes after.
    pub struct TestDoc {
        /// Always `rumek.test/1`.
        pub format: String,
        /// What the person calls it.
        pub name: String,
        /// Air temperature, °C.
        #[schemars(range(min = -60.0, max = 80.0))]
        pub ambient_c: f64,
        /// The pack; where it starts tells whether it is charged first.
        pub pack: PackDoc,
        /// What feeds the charger; needed unless the pack is full and stays as the test leaves it.
        pub source: SourceDoc,
        /// What charges it, and may discharge it.
        pub charger: ChargerDoc,
        /// The leads; absent: too good to matter.
        pub leads: LeadsDoc,
        /// What takes it down, and how far.
        pub discharge: DischargeAskDoc,
        /// Between charge and discharge, min; an hour where absent.
        #[schemars(range(min = 0.0, max = 10_080.0))]
        pub rest_min: f64,
        /// What comes after.
        pub after: AfterTest,
        /// How many times over.
        #[schemars(range(min = 1, max = 100))]
        pub cycles: u32,
    }

    /// What takes a pack down.
    pub struct DischargeAskDoc {
        /// By what.
        pub by: DischargeBy,
        /// Wanted, A; where absent the rate its chemistry is compared at, as far as everything takes it.
        #[schemars(range(min = 0.001, max = 10_000.0))]
        pub current_a: f64,
        /// Ended at this under current, V a cell; where absent the usual cut-off.
        #[schemars(range(min = 0.0, max = 5.0))]
        pub to_v_per_cell: f64,
        /// The most it takes, W; the charger's where absent.
        #[schemars(range(min = 0.1, max = 1e6))]
        pub max_w: f64,
        /// A resistor's resistance, Ω.
        #[schemars(range(min = 0.001, max = 1e6))]
        pub resistance_ohm: f64,
        /// What the resistor may turn to heat, W.
        #[schemars(range(min = 0.05, max = 1e6))]
        pub rated_w: f64,
        /// One lamp's rated voltage, V.
        #[schemars(range(min = 1.0, max = 400.0))]
        pub lamp_rated_v: f64,
        /// One lamp's rated power, W.
        #[schemars(range(min = 0.5, max = 5000.0))]
        pub lamp_rated_w: f64,
        /// How many lamps side by side.
        #[schemars(range(min = 1, max = 50))]
        pub lamps_in_parallel: u32,
    }
}

/// A capacity test planned.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TestResultDoc {
    /// Always `rumek.test-result/1`.
    pub format: String,
    /// The question with its defaults filled in.
    pub resolved: TestDoc,
    /// JSON pointers of what was not said.
    pub assumed: Vec<String>,
    /// Its phases in order, of one cycle; empty while a stop stands.
    pub phases: Vec<TestPhaseDoc>,
    /// Where the energy of one cycle went; each row adds up.
    pub ledger: Vec<LedgerRowDoc>,
    /// All cycles together, s; null while a stop stands.
    pub total_s: Option<f64>,
    /// At the least, s.
    pub total_low_s: Option<f64>,
    /// At the most, s.
    pub total_high_s: Option<f64>,
    /// How many cycles the battery that feeds it pays; null where nothing runs out.
    pub cycles_possible: Option<u32>,
    /// What one cycle costs that battery, Wh; negative where it gains.
    pub cycle_costs_wh: Option<f64>,
    /// What so much sun or another charger, on average, would hold it up, W.
    pub held_up_by_w: Option<f64>,
    /// What the test should give, Ah: of a pack as good as its label, at this rate and temperature.
    pub expected_ah: Option<f64>,
    /// Below this share of that it is worn: 80 % of the label, Ah.
    pub worn_below_ah: Option<f64>,
    /// Below this it is to be retired: 60 % of the label, Ah.
    pub retire_below_ah: Option<f64>,
    /// What to mind, gravest first.
    pub checks: Vec<TestCheckDoc>,
    /// What to do, in order.
    pub steps: Vec<TestStepDoc>,
    /// What to do when it smokes, hisses or burns, in order.
    pub emergency: Vec<String>,
}

/// A charge, rest or discharge of it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TestPhaseDoc {
    /// Which.
    pub kind: SegmentKind,
    /// Since the test began, s.
    pub from_s: f64,
    /// Since the test began, s.
    pub to_s: f64,
    /// At the earliest and at the latest it takes, s.
    pub takes_low_s: f64,
    /// See `takes_low_s`.
    pub takes_high_s: f64,
    /// In or out at the pack by its kind, Ah.
    pub charge_ah: f64,
    /// In or out at the pack by its kind, Wh.
    pub energy_wh: f64,
    /// Out of what feeds the charger, Wh; negative where it is given back.
    pub source_wh: f64,
    /// Turned to heat outside of the pack, Wh.
    pub heat_wh: f64,
    /// Turned to heat at the most, W: in the resistor, the lamps, the load or the charger.
    pub heat_w: f64,
    /// Turned to heat in the pack, Wh.
    pub pack_heat_wh: f64,
    /// State of charge before.
    pub start_soc: f64,
    /// … and after.
    pub end_soc: f64,
    /// At the terminals at first, V.
    pub start_v: f64,
    /// … and at last.
    pub end_v: f64,
    /// The most that flows, A.
    pub current_a: f64,
    /// What limits the current when, in order.
    pub pinch: Vec<TestPinchDoc>,
    /// What to dial for a charge; null for the others.
    pub settings: Option<ResultSettingsDoc>,
    /// What the charge's own plan says to mind.
    pub checks: Vec<CheckDoc>,
    /// Over time from the phase's start, at most 200 points.
    pub curve: Vec<TestPoint>,
}

/// A span in which one limit sets the current.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct TestPinchDoc {
    /// Its code, of a charge's or a discharge's limits.
    pub limit: String,
    /// From, s since the phase began.
    pub from_s: u64,
    /// To, s since the phase began.
    pub to_s: u64,
}

/// A moment of a phase.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TestPoint {
    /// Since the phase began, s.
    pub t_s: f64,
    /// V.
    pub pack_v: f64,
    /// Into the pack, A: negative while it is discharged.
    pub current_a: f64,
    /// State of charge.
    pub soc: f64,
}

/// Where energy went: in = out + heat + stored.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LedgerRowDoc {
    /// Where.
    pub at: TestPlace,
    /// Into it, Wh.
    pub in_wh: f64,
    /// Out of it, Wh.
    pub out_wh: f64,
    /// Turned to heat in it, Wh.
    pub heat_wh: f64,
    /// Kept in it, Wh; negative where it was run down.
    pub stored_wh: f64,
}

/// One thing to mind.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct TestCheckDoc {
    /// Which.
    pub code: TestCheckCode,
    /// How grave; a stop withholds the plan.
    pub severity: Severity,
    /// What and why, with its number.
    pub message: String,
    /// The numbers.
    pub values: BTreeMap<String, f64>,
    /// What lifts it, the nearest first.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub lifts: Vec<LiftDoc>,
}

/// One thing to do.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct TestStepDoc {
    /// Of which phase, from 0.
    pub phase: u32,
    /// When within it.
    pub when: StepWhen,
    /// What to do.
    pub message: String,
}

/// A plan whose goal lies below its start, answered as a discharge.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct DischargeDoc {
    /// Into what.
    pub by: DischargeBy,
    /// It; null while a stop stands.
    pub phase: Option<TestPhaseDoc>,
    /// What to mind, gravest first.
    pub checks: Vec<TestCheckDoc>,
    /// What to do, in order.
    pub steps: Vec<TestStepDoc>,
}
