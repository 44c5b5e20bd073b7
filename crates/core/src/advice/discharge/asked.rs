//! A discharge as it is asked for: by a plan whose goal lies below its start, by a test, by a run.

use super::computed::{Discharge, Wanted};
use crate::chain::reckoning::identified;
use crate::codes::DischargeBy;
use crate::formats::{Balancer, ChargerDoc, ChargerKind, DischargeAskDoc, LoadDoc, PlanDoc, Problems, StartDoc};
use crate::parts::identify::Identified;
use crate::parts::pack::{Goal, Pack};
use crate::parts::plan::Plan;
use crate::parts::problems::Checked;
use crate::parts::sink::{self, Around};
use crate::parts::source::Source;

/// The gear around a discharge.
#[derive(Clone, Copy)]
pub(crate) struct Gear<'a> {
    pub(crate) pack: &'a Pack,
    pub(crate) charger: Option<&'a ChargerDoc>,
    pub(crate) source: Option<&'a Source>,
    pub(crate) lead_ohm: f64,
}

impl<'a> Gear<'a> {
    fn of(document: &'a PlanDoc, plan: &'a Plan) -> Self {
        Self {
            pack: &plan.pack,
            charger: document.charger.as_ref(),
            source: plan.source.as_ref(),
            lead_ohm: plan.output.as_ref().map_or(0.0, |lead| lead.ohm),
        }
    }

    /// A discharge into what is described at `at`; `None` with its problems recorded.
    fn into(self, ask: &DischargeAskDoc, wanted: Wanted, start_soc: f64, check: &mut Checked<'_>) -> Option<Discharge> {
        let around = Around { pack: self.pack, charger: self.charger, source: self.source };
        let sink = sink::read(ask, &around, check)?;
        let own = matches!(sink.by, DischargeBy::Charger | DischargeBy::Source);
        let hobby = self.charger.and_then(|charger| charger.kind) == Some(ChargerKind::HobbyCharger);
        Some(Discharge {
            reads_cells: own && hobby && self.pack.balancer == Balancer::BalanceLead,
            pack: self.pack.clone(),
            sink,
            wanted,
            start_soc,
            lead_ohm: self.lead_ohm,
        })
    }

    /// All that a pack gives; everything wrong with what is to take it is recorded below `/discharge`.
    pub(crate) fn whole(self, ask: &DischargeAskDoc, start_soc: f64, problems: &mut Problems) -> Option<Discharge> {
        let mut check = Checked::new("/discharge", problems);
        let to_v = check.within("to_v_per_cell", ask.to_v_per_cell, 0.0, 5.0);
        let wanted = Wanted::Whole { to_v: to_v.unwrap_or(self.pack.profile.proof.to_v) };
        self.into(ask, wanted, start_soc, &mut check)
    }
}

/// The state of charge a plan wants to come down to, where its goal lies below its start.
fn goal_below(plan: &Plan, found: &Identified) -> Option<f64> {
    /// Nearer than this it is there.
    const THERE: f64 = 0.01;
    let goal = match plan.pack.goal {
        Goal::Soc(soc) => soc,
        Goal::Storage => plan.pack.profile.storage_v.map(|v| plan.pack.profile.ocv.soc_at(v))?,
        Goal::Full | Goal::Float => return None,
    };
    (goal < found.soc - THERE).then_some(goal)
}

/// The discharge of a plan whose goal lies below its start, where something in it takes the charge; else `None`.
///
/// # Errors
/// What is wrong with what is to take it.
pub(crate) fn of_plan(document: &PlanDoc, plan: &Plan, found: &Identified) -> Result<Option<Discharge>, Problems> {
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
    let mut check = Checked::new("/charger", &mut problems);
    let discharge = Gear::of(document, plan).into(&ask, Wanted::Soc(goal), found.soc, &mut check);
    problems.into_result(discharge)
}

/// A run's plan as it is resolved. What is to give all that it holds is full unless somebody says otherwise, and needs no
/// charger, nor what feeds it, but where it is given back into that; a log that was brought in knows its pack alone.
pub(crate) fn resolvable(given: &PlanDoc, ask: Option<&DischargeAskDoc>) -> PlanDoc {
    let mut document = given.clone();
    if let Some(ask) = ask {
        if ask.by != Some(DischargeBy::Source) {
            (document.source, document.charger) = (None, None);
        }
        if let Some(pack) = document.pack.as_mut().filter(|pack| pack.start.is_none()) {
            pack.start = Some(StartDoc { soc: Some(1.0), ..StartDoc::default() });
        }
    }
    if document.source.is_none() && document.load.is_none() {
        document.load = Some(LoadDoc { current_a: Some(0.0), ..LoadDoc::default() });
    }
    document
}

/// The discharge that a run carries out, by its plan and that resolved: all that its pack gives where it says into what,
/// else down to its plan's goal; `None` where it is no discharge.
///
/// # Errors
/// What is wrong with what is to take the charge.
pub(crate) fn of_run(
    given: &PlanDoc,
    plan: &Plan,
    ask: Option<&DischargeAskDoc>,
) -> Result<Option<Discharge>, Problems> {
    let found = identified(plan);
    let Some(ask) = ask else { return of_plan(given, plan, &found) };
    let mut problems = Problems::default();
    let discharge = Gear::of(given, plan).whole(ask, found.soc, &mut problems);
    problems.into_result(discharge)
}
