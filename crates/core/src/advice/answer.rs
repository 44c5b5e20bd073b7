//! A plan answered: the one way through the core.

use super::{chain_stages, curve, dial, discharge, span, steps, what_if};
use crate::advice::checks::{self, Situation, charges_nothing, nothing_flows, passes_full_by};
use crate::chain::reckoning::{Reckoning, end_voltages, identified};
use crate::chain::settings::{Chosen, choose, choose_less};
use crate::codes::LimitCode;
use crate::formats::{
    CellDoc, CheckDoc, DeliveredDoc, DischargeAskDoc, DischargeDoc, EndDoc, EndReason, LimitDoc, NudgeDoc, PinchDoc,
    Place, PlanDoc, Problems, RESULT_FORMAT, ResultDoc, StartResultDoc, TimeDoc,
};
use crate::parts::identify::Identified;
use crate::parts::plan::{Plan, Resolved, resolve};
use crate::physics::charge::{Charge, Model, Nudge, Scale, State};
use crate::physics::operating::{Places, Terminals, Thevenin, each_limit};
use crate::units::{Time, amps, seconds, significant};

/// A plan with its charge computed and checked.
pub(crate) struct Judged {
    pub(crate) plan: Plan,
    resolved: PlanDoc,
    assumed: Vec<String>,
    pub(crate) found: Identified,
    pub(crate) chosen: Option<Chosen>,
    charge: Charge,
    checks: Vec<CheckDoc>,
}

/// A charge voltage is lowered so many times at most.
const LOWERED_TIMES: usize = 6;

/// Judges a plan, and works out nothing else of it.
///
/// # Errors
/// As [`answer`].
pub(crate) fn judged(document: &PlanDoc) -> Result<Judged, Problems> {
    let Resolved { plan, document: resolved, assumed } = resolve(document)?;
    let found = identified(&plan);
    Ok(judge(plan, resolved, assumed, found))
}

fn judge(plan: Plan, resolved: PlanDoc, assumed: Vec<String>, found: Identified) -> Judged {
    let mut chosen = plan.source.as_ref().map(|source| choose(&plan, source, &found));
    let follow =
        |chosen: Option<&Chosen>| Reckoning { plan: &plan, found: &found, chosen }.run(found.soc, Scale::NOMINAL);
    let mut charge = follow(chosen.as_ref());
    // Where cells out of step are charged to a voltage of Rumek's own, it is lowered until the highest ends at full.
    let mut less_v = 0.0;
    for _ in 0..LOWERED_TIMES {
        let Some((source, before)) = plan.source.as_ref().zip(chosen.as_ref()) else { break };
        let Some(over_v) = passes_full_by(&plan, &found, before, &charge) else { break };
        less_v += 2.0 * over_v;
        chosen = Some(choose_less(&plan, source, &found, less_v));
        charge = follow(chosen.as_ref());
    }
    let checks = checks::run(&Situation::new(&plan, &found, chosen.as_ref(), &charge));
    Judged { plan, resolved, assumed, found, chosen, charge, checks }
}

impl Judged {
    /// Why nothing is to be set, in the words of the first stop that stands; `None` where something is.
    pub(crate) fn refusal(&self) -> Option<&str> {
        checks::standing(&self.checks).map(|check| check.message.as_str())
    }
}

/// Answers a plan.
///
/// # Examples
/// ```
/// use rumek_core::formats::{PlanDoc, from_value};
/// use serde_json::json;
///
/// let plan: PlanDoc = from_value(&json!({
///     "format": "rumek.plan/1",
///     "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "built_in" },
///     "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }
/// }))?;
/// let settings = rumek_core::answer(&plan)?.settings.expect("nothing stops it");
/// assert!((settings.dial_voltage_v - 25.2).abs() < 0.01 && (settings.dial_current_a - 4.0).abs() < 0.01);
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the document, each problem with its JSON pointer.
pub fn answer(document: &PlanDoc) -> Result<ResultDoc, Problems> {
    let Resolved { plan, document: resolved, assumed } = resolve(document)?;
    let found = identified(&plan);
    if let Some(asked) = discharge::of_plan(document, &plan, &found)? {
        return Ok(run_down(&plan, resolved, assumed, &found, asked.told()));
    }
    let Judged { plan, resolved, assumed, found, chosen, charge, checks } = judge(plan, resolved, assumed, found);
    let reckoning = Reckoning { plan: &plan, found: &found, chosen: chosen.as_ref() };
    let refused = checks::refuses(&checks);
    let start = start(&plan, &found, charge.moments.first().map_or(0.0, |m| m.current_a));
    let limits = reckoning.limits();
    let stages = chain_stages::stages(&reckoning, &charge, refused);
    let mut result = blank(&plan, &found, resolved, assumed, start);
    (result.stages, result.limits, result.checks) = (stages, limits, checks);
    if plan.source.is_none() && plan.charger.is_some() && document.load.is_none() {
        let mut problems = Problems::default();
        problems.add("/source", "nothing feeds the charger, and the pack is at its goal already", "a source");
        return Err(problems);
    }
    if refused {
        return Ok(result);
    }
    result.time = span::times(&reckoning, &charge);
    let idle = charges_nothing(&plan, &charge) || nothing_flows(&plan, &charge);
    if let (Some(source), Some(chosen)) = (&plan.source, &chosen) {
        let latest_s = result.time.total_high_s.filter(|_| dial::may_not_end(&plan, chosen, &charge));
        // Nothing is set, and nothing connected, where nothing would flow.
        result.settings = (!idle).then(|| dial::settings(&reckoning, chosen, &charge, latest_s));
        result.steps = {
            let task = steps::Task { plan: &plan, source, found: &found, chosen, charge: &charge, latest_s };
            steps::steps(&task, &result.checks)
        };
        result.what_if = what_if::what_if(&reckoning, source, chosen, &charge);
        result.verdict = what_if::verdict(&reckoning, chosen, &charge, &result.what_if);
        result.nudges = charge.nudges.iter().map(|turn| nudge(turn, chosen)).collect();
    }
    result.delivered = reckoning.delivered(&charge, result.stages.iter().map(|stage| stage.heat_wh).sum());
    let end_span = span::end_soc(&reckoning, &charge);
    result.end = EndDoc {
        soc: charge.end.soc,
        soc_low: end_span.map(|(low, _)| significant(low)),
        soc_high: end_span.map(|(_, high)| significant(high)),
        after_s: charge.end.t_s,
        reason: charge.reason,
        fill_voltage_v: (charge.reason == EndReason::Stalled).then(|| reckoning.fill_voltage()).flatten(),
    };
    result.pinch = pinch(&charge, reckoning.places());
    result.cells = reckoning.cells(&charge);
    let chain: Vec<Place> = result.stages.iter().map(|stage| stage.at).collect();
    result.curve = curve::curve(&reckoning, &charge, &chain);
    Ok(result)
}

/// Answers a plan that is carried out as a discharge: all that its pack gives, into what is asked for.
///
/// # Errors
/// As [`answer`], and what is wrong with what is to take the charge.
pub(crate) fn answer_whole(document: &PlanDoc, ask: &DischargeAskDoc) -> Result<ResultDoc, Problems> {
    let Resolved { plan, document: resolved, assumed } = resolve(&discharge::resolvable(document, Some(ask)))?;
    match discharge::of_run(document, &plan, Some(ask))? {
        Some(asked) => Ok(run_down(&plan, resolved, assumed, &identified(&plan), asked.told())),
        None => answer(document),
    }
}

/// An answer in which nothing is told yet.
fn blank(plan: &Plan, found: &Identified, resolved: PlanDoc, assumed: Vec<String>, start: StartResultDoc) -> ResultDoc {
    ResultDoc {
        format: RESULT_FORMAT.to_owned(),
        resolved,
        assumed,
        settings: None,
        start,
        time: TimeDoc::default(),
        delivered: DeliveredDoc::default(),
        end: EndDoc {
            soc: found.soc,
            soc_low: None,
            soc_high: None,
            after_s: 0.0,
            reason: EndReason::Refused,
            fill_voltage_v: None,
        },
        stages: Vec::new(),
        limits: Vec::new(),
        pinch: Vec::new(),
        what_if: Vec::new(),
        verdict: None,
        nudges: Vec::new(),
        checks: Vec::new(),
        steps: Vec::new(),
        emergency: steps::emergency(&plan.pack),
        cells: Vec::new(),
        curve: Vec::new(),
        discharge: None,
    }
}

/// The answer to a plan that runs its pack down: nothing is charged, and nothing of a charge is told.
fn run_down(plan: &Plan, resolved: PlanDoc, assumed: Vec<String>, found: &Identified, told: DischargeDoc) -> ResultDoc {
    let current_a = told.phase.as_ref().and_then(|phase| phase.curve.first()).map_or(0.0, |point| point.current_a);
    let mut result = blank(plan, found, resolved, assumed, start(plan, found, current_a));
    if let Some(phase) = &told.phase {
        result.time.total_s = Some(phase.to_s);
        result.time.total_low_s = Some(phase.takes_low_s);
        result.time.total_high_s = Some(phase.takes_high_s);
        result.end.soc = phase.end_soc;
        result.end.after_s = phase.to_s;
        result.end.reason = EndReason::Goal;
    }
    result.discharge = Some(told);
    result
}

fn start(plan: &Plan, found: &Identified, current_a: f64) -> StartResultDoc {
    StartResultDoc {
        soc: found.soc,
        soc_low: found.low,
        soc_high: found.high,
        pack_voltage_v: found.rest_v,
        current_a,
        c_rate: plan.pack.rate(amps(current_a)).0,
    }
}

/// A plan resolved and ready, so that a benchmark can time the charge alone.
pub struct Prepared {
    plan: Plan,
    found: Identified,
    chosen: Option<Chosen>,
}

/// Resolves a plan without computing its charge.
///
/// # Errors
/// As [`answer`].
pub fn prepared(document: &PlanDoc) -> Result<Prepared, Problems> {
    let plan = resolve(document)?.plan;
    let found = identified(&plan);
    let chosen = plan.source.as_ref().map(|source| choose(&plan, source, &found));
    Ok(Prepared { plan, found, chosen })
}

impl Prepared {
    /// Computes the charge once; returns when it ended.
    #[must_use]
    pub fn simulate(&self) -> Time {
        let reckoning = Reckoning { plan: &self.plan, found: &self.found, chosen: self.chosen.as_ref() };
        seconds(reckoning.run(self.found.soc, Scale::NOMINAL).end.t_s)
    }
}

impl Reckoning<'_> {
    pub(crate) fn delivered(&self, charge: &Charge, heat_wh: f64) -> DeliveredDoc {
        let wh = |joules: f64| joules / 3600.0;
        let walled = self.plan.source.as_ref().filter(|source| source.battery.is_none());
        let mains_wh = walled.map_or(0.0, |source| wh(charge.flowed.source_w) / source.efficiency);
        DeliveredDoc {
            charge_ah: charge.charge_as / 3600.0,
            energy_wh: wh(charge.pack_j),
            source_wh: wh(charge.flowed.source_w),
            mains_wh,
            heat_wh,
            pack_heat_wh: wh(charge.pack_heat_j),
            cost: self.plan.price_per_kwh.map(|price| price * mains_wh / 1000.0),
        }
    }

    fn places(&self) -> Places {
        let nowhere = Places { dial: Place::Source, lead: Place::OutputLead };
        self.chosen.map_or(nowhere, Chosen::places)
    }

    /// The pack before anything flows.
    fn now(&self) -> Thevenin {
        Model::new(self.plan.pack.body(), &self.found.offsets, self.chosen.is_some(), Scale::NOMINAL)
            .now(&State::rested(self.found.soc))
    }

    /// Every finite limit at the first moment as amps at the pack's terminals, each alone, the least first.
    fn limits(&self) -> Vec<LimitDoc> {
        let Some(chosen) = self.chosen else {
            return Vec::new();
        };
        let terminals = Terminals::new(self.now(), self.plan.load);
        let mut limits: Vec<(LimitCode, f64)> = chosen.currents.clone();
        let mut each = |code: LimitCode, a: f64| {
            if a.is_finite() && !limits.iter().any(|(known, _)| *known == code) {
                limits.push((code, a.max(0.0)));
            }
        };
        for (code, watts) in &chosen.built.powers {
            each(*code, terminals.at_power(*watts, chosen.built.feed.power_ohm, None));
        }
        each_limit(&terminals, &chosen.built.feed, None, &mut each);
        limits.sort_by(|a, b| a.1.total_cmp(&b.1));
        let places = chosen.places();
        limits.into_iter().map(|(limit, current_a)| LimitDoc { limit, at: places.of(limit), current_a }).collect()
    }

    /// The voltage at which the goal would be reached as the current falls to the stop, V.
    fn fill_voltage(&self) -> Option<f64> {
        let chosen = self.chosen?;
        let model = Model::new(self.plan.pack.body(), &self.found.offsets, true, Scale::NOMINAL);
        let settled = model.settled(chosen.stops.goal_soc);
        let fill_v = settled.e_v + settled.r_ohm * chosen.stops.taper_a.unwrap_or(0.0);
        Some(fill_v.min(chosen.goal_v)).filter(|v| *v > chosen.dial_v)
    }

    fn cells(&self, charge: &Charge) -> Vec<CellDoc> {
        if self.found.positions_v.is_empty() {
            return Vec::new();
        }
        let gained = charge.end.soc - self.found.soc;
        let end_v = end_voltages(&self.plan.pack, self.found, charge);
        self.found
            .positions_v
            .iter()
            .zip(end_v)
            .enumerate()
            .map(|(n, (start_v, end_v))| {
                let offset = self.found.offsets.get(n).copied().unwrap_or(0.0);
                let start_soc = (self.found.soc + offset).clamp(0.0, 1.0);
                CellDoc {
                    position: n as u32 + 1,
                    start_v: *start_v,
                    start_soc,
                    end_v,
                    end_soc: (start_soc + gained).min(1.0),
                }
            })
            .collect()
    }
}

/// Which limit binds when.
fn pinch(charge: &Charge, places: Places) -> Vec<PinchDoc> {
    let mut spans: Vec<PinchDoc> = Vec::new();
    for pair in charge.moments.windows(2) {
        let (from, to) = (&pair[0], &pair[1]);
        match spans.last_mut() {
            Some(span) if span.limit == from.limit => span.to_s = to.t_s,
            _ => spans.push(PinchDoc { from_s: from.t_s, to_s: to.t_s, limit: from.limit, at: places.of(from.limit) }),
        }
    }
    spans
}

pub(crate) fn nudge(nudge: &Nudge, chosen: &Chosen) -> NudgeDoc {
    NudgeDoc {
        at_s: significant(nudge.at_s),
        set_voltage_v: nudge.duty.is_none().then(|| significant(chosen.shown_volts(nudge.set_v))),
        duty: nudge.duty.map(significant),
        current_a: significant(nudge.current_a),
    }
}
