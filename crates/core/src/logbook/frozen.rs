//! A run as it was frozen: its plan, and what it runs down where it is a discharge.

use super::course::{self, Look, corrected};
use crate::advice::discharge::{Discharge, of_run, resolvable};
use crate::formats::{DischargeAskDoc, PlanDoc, Problems, RunReadingDoc};
use crate::parts::plan::{Plan, resolve};

/// A run ready to be followed.
#[derive(Clone, Debug)]
pub(super) struct Frozen {
    pub(super) plan: Plan,
    pub(super) discharge: Option<Discharge>,
}

impl Frozen {
    /// A run's plan, and all that its pack is to give where it says into what. A log that was brought in knows its pack
    /// only: nothing that is known of draws from it.
    ///
    /// # Errors
    /// What is wrong with the plan.
    pub(super) fn of(given: &PlanDoc, ask: Option<&DischargeAskDoc>) -> Result<Self, Problems> {
        let plan = resolve(&resolvable(given, ask))?.plan;
        let discharge = of_run(given, &plan, ask)?;
        Ok(Self { plan, discharge })
    }

    /// A reading with its displays made true and its signs told.
    pub(super) fn corrected(&self, reading: &RunReadingDoc) -> RunReadingDoc {
        self.signed(corrected(&self.plan, reading))
    }

    /// A reading with its signs told: whatever sign a display shows, what is run down gives; and what feeds its charger
    /// tells nothing of it.
    pub(super) fn signed(&self, reading: RunReadingDoc) -> RunReadingDoc {
        if self.discharge.is_none() {
            return reading;
        }
        let out = |a: Option<f64>| a.map(|a| -a.abs());
        RunReadingDoc {
            source_v: None,
            source_a: None,
            charger_a: out(reading.charger_a),
            terminal_a: out(reading.terminal_a),
            bms_a: out(reading.bms_a),
            ..reading
        }
    }

    /// A corrected reading brought to the pack.
    pub(super) fn look(&self, reading: &RunReadingDoc) -> Option<Look> {
        course::look(&self.plan, reading)
    }
}
