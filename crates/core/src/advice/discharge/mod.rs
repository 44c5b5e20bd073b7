//! A discharge computed: down to a cut-off for a test, down to storage for a pack that will not be used.

mod asked;
mod checks;
mod computed;
mod gives;
mod steps;

use crate::codes::{Severity, TestCheckCode};
use crate::formats::{DischargeDoc, TestCheckDoc, TestStepDoc, named};

pub(crate) use asked::{Gear, of_plan, of_run, resolvable};
pub(crate) use checks::{cannot, graver_first, refuses};
pub(crate) use computed::{Discharge, Done, MOST_POINTS, Wanted, lead_heat_wh, rest_energy_wh};
pub(crate) use gives::{foretold_ah, gives, gives_of};

impl Discharge {
    /// What to mind.
    pub(crate) fn checks(&self, done: &Done) -> Vec<TestCheckDoc> {
        checks::checks(self, done)
    }

    /// What to do, of the phase with that number.
    pub(crate) fn steps(&self, done: &Done, phase: u32) -> Vec<TestStepDoc> {
        steps::steps(self, done, phase)
    }

    /// It as it is told; nothing but why while a stop stands.
    pub(crate) fn told(&self) -> DischargeDoc {
        let by = self.sink.by;
        let nothing = |checks: Vec<TestCheckDoc>| DischargeDoc { by, phase: None, checks, steps: Vec::new() };
        let draw = match self.sink.draw {
            Ok(draw) => draw,
            Err(code) => return nothing(vec![stop(code, cannot(code, by), &[])]),
        };
        let done = self.run(draw);
        let checks = graver_first(self.checks(&done));
        if refuses(&checks) {
            return nothing(checks);
        }
        DischargeDoc { by, phase: Some(self.phase(&done, 0.0, None)), steps: self.steps(&done, 0), checks }
    }
}

/// A stop of a discharge.
pub(crate) fn stop(code: TestCheckCode, message: String, values: &[(&str, f64)]) -> TestCheckDoc {
    TestCheckDoc { code, severity: Severity::Stop, message, values: named(values), lifts: Vec::new() }
}
