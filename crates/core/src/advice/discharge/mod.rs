//! A discharge computed: down to a cut-off for a test, down to storage for a pack that will not be used.

mod checks;
mod computed;
mod steps;

use crate::codes::{DischargeBy, Severity, TestCheckCode};
use crate::formats::{Balancer, ChargerKind, DischargeDoc, PlanDoc, Problems, TestCheckDoc, named};
use crate::parts::identify::Identified;
use crate::parts::pack::Goal;
use crate::parts::plan::Plan;
use crate::parts::problems::Checked;
use crate::parts::sink::{self, Around};

pub(crate) use checks::{graver_first, refuses};
pub(crate) use computed::{Discharge, Done, Wanted, gives, lead_heat_wh, rest_energy_wh};

impl Discharge<'_> {
    /// What to mind.
    pub(crate) fn checks(&self, done: &Done) -> Vec<TestCheckDoc> {
        checks::checks(self, done)
    }

    /// What to do, of the phase with that number.
    pub(crate) fn steps(&self, done: &Done, phase: u32) -> Vec<crate::formats::TestStepDoc> {
        steps::steps(self, done, phase)
    }
}

/// The state of charge a plan wants to come down to, where its goal lies below its start.
pub(crate) fn goal_below(plan: &Plan, found: &Identified) -> Option<f64> {
    /// Nearer than this it is there.
    const THERE: f64 = 0.01;
    let goal = match plan.pack.goal {
        Goal::Soc(soc) => soc,
        Goal::Storage => plan.pack.profile.storage_v.map(|v| plan.pack.profile.ocv.soc_at(v))?,
        Goal::Full | Goal::Float => return None,
    };
    (goal < found.soc - THERE).then_some(goal)
}

/// Answers a plan whose goal lies below its start as a discharge, where something in it takes the charge; else `None`.
///
/// # Errors
/// What is wrong with what is to take it.
pub(crate) fn of_plan(document: &PlanDoc, plan: &Plan, found: &Identified) -> Result<Option<DischargeDoc>, Problems> {
    let Some(charger) = &document.charger else { return Ok(None) };
    let Some(mut ask) = sink::of_charger(charger) else { return Ok(None) };
    // Behind a supply a resistor or a lamp limits a charge; it takes nothing out of the pack.
    let passive = charger.kind.is_some_and(ChargerKind::passive);
    if passive && plan.source.is_some() {
        return Ok(None);
    }
    let Some(goal) = goal_below(plan, found) else { return Ok(None) };
    ask.current_a = ask.current_a.or(plan.settings.current_a);
    let mut problems = Problems::default();
    let around = Around { pack: &plan.pack, charger: Some(charger), source: plan.source.as_ref() };
    let sink = sink::read(&ask, &around, &mut Checked::new("/charger", &mut problems));
    let sink = match sink {
        Some(sink) if problems.problems.is_empty() => sink,
        _ => return Err(problems),
    };
    let balances = plan.pack.balancer == Balancer::BalanceLead;
    let discharge = Discharge {
        pack: &plan.pack,
        sink: &sink,
        wanted: Wanted::Soc(goal),
        start_soc: found.soc,
        lead_ohm: plan.output.as_ref().map_or(0.0, |lead| lead.ohm),
        reads_cells: balances && charger.kind == Some(ChargerKind::HobbyCharger),
    };
    Ok(Some(match discharge.run() {
        Ok(done) => {
            let checks = graver_first(discharge.checks(&done));
            let refused = refuses(&checks);
            DischargeDoc {
                by: sink.by,
                phase: (!refused).then(|| discharge.phase(&done, 0.0, None)),
                steps: if refused { Vec::new() } else { discharge.steps(&done, 0) },
                checks,
            }
        }
        Err(code) => DischargeDoc {
            by: sink.by,
            phase: None,
            checks: vec![stop(code, checks::cannot(code, sink.by), &[])],
            steps: Vec::new(),
        },
    }))
}

/// A stop of a discharge.
pub(crate) fn stop(code: TestCheckCode, message: String, values: &[(&str, f64)]) -> TestCheckDoc {
    TestCheckDoc { code, severity: Severity::Stop, message, values: named(values) }
}

/// Why what was chosen cannot take it, in words.
pub(crate) fn cannot(code: TestCheckCode, by: DischargeBy) -> String {
    checks::cannot(code, by)
}
