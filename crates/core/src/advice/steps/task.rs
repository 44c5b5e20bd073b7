//! What the steps are written for, and the list they are written on.

use std::collections::BTreeMap;

use crate::chain::settings::Chosen;
use crate::codes::{Place, StepWhen};
use crate::formats::StepDoc;
use crate::parts::charger::Charger;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::parts::source::Source;
use crate::physics::charge::Charge;

/// The list.
pub(crate) struct Steps(pub(super) Vec<StepDoc>);

impl Steps {
    pub(super) fn add(&mut self, when: StepWhen, code: &str, at: Place, message: String, values: &[(&str, f64)]) {
        self.0.push(StepDoc {
            when,
            code: code.to_owned(),
            message,
            values: values.iter().map(|(name, v)| ((*name).to_owned(), *v)).collect::<BTreeMap<_, _>>(),
            at,
        });
    }
}

/// All that a step may look at.
pub(crate) struct Task<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) source: &'a Source,
    pub(crate) found: &'a Identified,
    pub(crate) chosen: &'a Chosen,
    pub(crate) charge: &'a Charge,
    /// When it is ended whatever is read by then, s.
    pub(crate) latest_s: Option<f64>,
}

impl Task<'_> {
    /// The largest current at the pack's side, load included, A.
    pub(super) fn most_a(&self) -> f64 {
        self.charge.most_total_a(self.plan.load)
    }
}

/// Whether a charger that ends by itself stands before the pack.
pub(super) fn ends_itself(plan: &Plan) -> bool {
    plan.charger.as_ref().is_some_and(Charger::terminates)
}
