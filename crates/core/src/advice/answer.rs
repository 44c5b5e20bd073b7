//! A plan answered: the one way through the core.

use super::{chain_stages, discharge, steps, what_if};
use crate::advice::checks::{self, Situation};
use crate::chain::reckoning::{ROUGHLY, Reckoning, end_voltages, identified};
use crate::chain::settings::{Chosen, choose};
use crate::codes::LimitCode;
use crate::formats::{
    CellDoc, CheckDoc, CurvePoint, DeliveredDoc, EndDoc, EndReason, LimitDoc, NudgeDoc, PinchDoc, Place, PlanDoc,
    Problems, RESULT_FORMAT, ResultDoc, ResultSettingsDoc, StartResultDoc, TimeDoc,
};
use crate::parts::identify::Identified;
use crate::parts::plan::{Plan, Resolved, resolve};
use crate::parts::source::{MAINS_HIGH, MAINS_LOW, Source};
use crate::physics::charge::{Charge, Fed, Model, Moment, Nudge, Scale, State, Stops};
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

/// Judges a plan, and works out nothing else of it.
///
/// # Errors
/// As [`answer`].
pub(crate) fn judged(document: &PlanDoc) -> Result<Judged, Problems> {
    let Resolved { plan, document: resolved, assumed } = resolve(document)?;
    let found = identified(&plan);
    let chosen = plan.source.as_ref().map(|source| choose(&plan, source, &found));
    let charge = Reckoning { plan: &plan, found: &found, chosen: chosen.as_ref() }.run(found.soc, Scale::NOMINAL);
    let checks = checks::run(&Situation::new(&plan, &found, chosen.as_ref(), &charge));
    Ok(Judged { plan, resolved, assumed, found, chosen, charge, checks })
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
    let Judged { plan, resolved, assumed, found, chosen, charge, checks } = judged(document)?;
    let reckoning = Reckoning { plan: &plan, found: &found, chosen: chosen.as_ref() };
    let refused = checks::refuses(&checks);
    let start = reckoning.start(&charge);
    let limits = reckoning.limits();
    let stages = chain_stages::stages(&reckoning, &charge, refused);
    let mut result = ResultDoc {
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
        stages,
        limits,
        pinch: Vec::new(),
        what_if: Vec::new(),
        verdict: None,
        nudges: Vec::new(),
        checks,
        steps: Vec::new(),
        emergency: steps::emergency(&plan.pack),
        cells: Vec::new(),
        curve: Vec::new(),
        discharge: discharge::of_plan(document, &plan, &found)?,
    };
    if let Some(told) = &result.discharge {
        // Nothing is charged: what a charge would be warned of is no matter.
        result.checks.clear();
        result.stages.clear();
        result.limits.clear();
        if let Some(phase) = &told.phase {
            result.time.total_s = Some(phase.to_s);
            result.time.total_low_s = Some(phase.takes_low_s);
            result.time.total_high_s = Some(phase.takes_high_s);
            result.end.soc = phase.end_soc;
            result.end.after_s = phase.to_s;
            result.end.reason = EndReason::Goal;
        }
        return Ok(result);
    }
    if plan.source.is_none() && plan.charger.is_some() && document.load.is_none() {
        let mut problems = Problems::default();
        problems.add("/source", "nothing feeds the charger, and the pack is at its goal already", "a source");
        return Err(problems);
    }
    if refused {
        return Ok(result);
    }
    if let (Some(source), Some(chosen)) = (&plan.source, &chosen) {
        result.settings = Some(reckoning.settings(chosen, &charge));
        result.steps = {
            let task = steps::Task { plan: &plan, source, found: &found, chosen, charge: &charge };
            steps::steps(&task, &result.checks)
        };
        result.what_if = what_if::what_if(&reckoning, source, chosen, &charge);
        result.verdict = what_if::verdict(&reckoning, chosen, &charge, &result.what_if);
        result.nudges = charge.nudges.iter().map(|turn| nudge(turn, chosen)).collect();
    }
    result.time = reckoning.times(&charge);
    result.delivered = reckoning.delivered(&charge, result.stages.iter().map(|stage| stage.heat_wh).sum());
    let end_span = reckoning.end_span(&charge);
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
    result.curve = reckoning.curve(&charge, &chain);
    Ok(result)
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
    fn start(&self, charge: &Charge) -> StartResultDoc {
        let current_a = charge.moments.first().map_or(0.0, |m| m.current_a);
        StartResultDoc {
            soc: self.found.soc,
            soc_low: self.found.low,
            soc_high: self.found.high,
            pack_voltage_v: self.found.rest_v,
            current_a,
            c_rate: self.plan.pack.rate(amps(current_a)).0,
        }
    }

    fn settings(&self, chosen: &Chosen, charge: &Charge) -> ResultSettingsDoc {
        let expect_a = charge.moments.first().map_or(0.0, |m| m.current_a + self.plan.load.current_a(m.pack_v));
        let most_a = charge.most_total_a(self.plan.load);
        let current_a = chosen.current_a();
        let nothing_holds = !current_a.is_finite();
        ResultSettingsDoc {
            voltage_v: significant(chosen.charge_v),
            dial_voltage_v: significant(chosen.shown_v),
            true_voltage_v: significant(chosen.dial_v),
            voltage_at: chosen.built.voltage_at,
            current_a: significant(if nothing_holds { most_a } else { current_a }),
            dial_current_a: significant(if nothing_holds { most_a } else { chosen.shown_a }),
            current_at: chosen.built.current_at,
            expect_a: significant(expect_a),
            stop_current_a: chosen.stop_a.filter(|_| !chosen.stops.ends_at_goal).map(significant),
            // What never comes to its stop current is ended by the clock.
            time_limit_h: chosen
                .stops
                .limit_s
                .or(Some(charge.end.t_s).filter(|_| charge.charge_as >= chosen.stops.most_as))
                .map(|s| significant(s / 3600.0)),
            absorption_limit_h: chosen.stops.absorption_s.map(|s| significant(s / 3600.0)),
            stop_voltage_v: chosen.stops.stop_v,
            // Of nickel more goes in than it keeps: what goes in is what is counted.
            stop_charge_ah: chosen
                .stop_charge_ah
                .map(|ah| if self.plan.pack.profile.traits.timed { charge.charge_as / 3600.0 } else { ah })
                .map(significant),
            float_voltage_v: chosen.float_v.map(significant),
            input_limit_a: chosen.input_limit.map(|limit| limit.current_a),
            input_limited_by: chosen.input_limit.map(|limit| limit.code),
            source_voltage_v: self
                .plan
                .charger
                .as_ref()
                .and(self.plan.source.as_ref())
                .and_then(|source| source.dials_voltage().then(|| significant(chosen.built.feed.supply.open_v))),
            unit_voltage_v: self.unit(chosen, chosen.built.voltage_at).map(|(v, _)| significant(v)),
            unit_current_a: self.unit(chosen, chosen.built.current_at).map(|(_, a)| significant(a)),
            current_limited_by: chosen.built.feed.current_code,
        }
    }

    /// What each of several units of a supply is set to, where it is set there, V and A.
    fn unit(&self, chosen: &Chosen, at: Option<Place>) -> Option<(f64, f64)> {
        let source = self.plan.source.as_ref().filter(|_| at == Some(Place::Source))?;
        source.each_of(chosen.dial_v, chosen.current_a())
    }

    /// Where it may end, where a few millivolts of what feeds it or of its curve move that by a twentieth.
    fn end_span(&self, charge: &Charge) -> Option<(f64, f64)> {
        /// As good as a port or a display is, V, and no cell's curve is known better than this.
        const PORT_V: f64 = 0.01;
        const CELL_V: f64 = 0.01;
        const WIDE: f64 = 0.05;
        let chosen = self.chosen?;
        let last = charge.moments.last().filter(|m| m.limit.tapers())?;
        let pack = &self.plan.pack;
        let model = Model::new(pack.body(), &self.found.offsets, true, Scale::NOMINAL);
        let spread_v = PORT_V + pack.profile.curve_spread_v.max(CELL_V) * f64::from(pack.series);
        let held = |by_v: f64| model.soc_held(last.pack_v + by_v, last.current_a.max(0.0));
        if charge.reason == EndReason::Goal || chosen.stops.goal_soc < self.found.soc {
            return None;
        }
        let low = held(-spread_v).min(charge.end.soc).max(self.found.soc.min(charge.end.soc));
        let high = held(spread_v).max(charge.end.soc);
        (high - low > WIDE).then_some((low, high))
    }

    /// The likeliest time with the shortest and longest it may be: from the highest and lowest start, a pack better
    /// and worse than thought, the mains high and low, a relay that opens early and late.
    fn times(&self, charge: &Charge) -> TimeDoc {
        /// Of its nameplate a sound pack holds so much at the least and at the most.
        const LESS: f64 = 0.94;
        const MORE: f64 = 1.04;
        let (better, worse) = self.plan.pack.resistance_spread();
        // Run down by a load the worse pack is done first.
        let run_down = self.chosen.is_none();
        let (high, low) = (self.found.high, self.found.low);
        let early = |soc: f64, resistance: f64, capacity: f64| Corner { soc, resistance, capacity, early: true };
        let late = |soc: f64, resistance: f64, capacity: f64| Corner { soc, resistance, capacity, early: false };
        // A better pack is usually done sooner, but its taper may also last longer: both count.
        let corners: [Corner; 4] = if run_down {
            [early(low, worse, 0.92), late(high, better, 1.03), early(low, 1.0, 0.92), late(high, 1.0, 1.03)]
        } else {
            [early(high, better, LESS), late(low, worse, MORE), early(high, worse, LESS), late(low, better, MORE)]
        };
        // Whoever turns a knob evens out the rest: two corners do, of charges that cost most.
        let by_hand = self.chosen.is_some_and(|chosen| chosen.nudge.is_some());
        let corners = corners.into_iter().take(if by_hand { 2 } else { 4 });
        let bounds: Vec<f64> = corners.filter_map(|corner| self.at_corner(charge, &corner)).collect();
        // Whoever turns a knob comes a little before or well after the table; a hundredth of a duty is coarse.
        let (sooner, later) = match self.chosen.and_then(|chosen| chosen.nudge) {
            Some(rule) if rule.top_duty.is_some() => (0.85, 1.5),
            Some(_) => (0.92, 1.2),
            // No taper of lead is known better than that.
            None if self.plan.pack.profile.traits.absorbs => (0.94, 1.0),
            None => (1.0, 1.0),
        };
        let total = |pick: fn(f64, f64) -> f64| charge.total_s.map(|t| bounds.iter().copied().fold(t, pick));
        TimeDoc {
            to_cv_s: charge.to_cv_s,
            to_80_s: charge.to_80_s,
            total_s: charge.total_s,
            total_low_s: total(f64::min).map(|t| sooner * t),
            total_high_s: total(f64::max).map(|t| later * t),
        }
    }

    /// How long it takes at one corner of what may be, s.
    fn at_corner(&self, charge: &Charge, corner: &Corner) -> Option<f64> {
        /// Capacitors may differ a little more than they are told to.
        const UNLIKE_AT_MOST: f64 = 1.2;
        let scale = Scale {
            resistance: corner.resistance,
            capacity: corner.capacity,
            unlike: if corner.early { 0.0 } else { UNLIKE_AT_MOST },
        };
        let other = match self.chosen {
            Some(chosen) => {
                let mut feed = chosen.built.feed;
                if self.plan.source.as_ref().is_some_and(Source::hangs_on_mains) {
                    feed.follow(feed.supply.open_v * if corner.early { MAINS_HIGH } else { MAINS_LOW });
                }
                if let (Some(folds), true) = (feed.folds, corner.early) {
                    // It gives its rating, not the share one plans with.
                    let headroom = self.plan.source.as_ref().map_or(1.0, Source::headroom);
                    feed.folds = Some(folds.at_rating(headroom));
                    feed.current_a /= headroom;
                }
                let error_v = self.plan.cut_off.map_or(0.0, |relay| relay.error_v);
                let cut_off_v = chosen.stops.cut_off_v.map(|v| if corner.early { v - error_v } else { v + error_v });
                let stops = Stops { cut_off_v, roughly: ROUGHLY, ..chosen.stops };
                self.run_with(corner.soc, scale, Some(Fed { feed: &feed, ..self.fed(chosen) }), &stops)
            }
            None => self.run(corner.soc, scale),
        };
        // A worse pack that ends short of the goal is done when its current has fallen, too.
        charge.total_s.and(other.total_s.or(other.tapered_s))
    }

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

    pub(crate) fn curve(&self, charge: &Charge, chain: &[Place]) -> Vec<CurvePoint> {
        charge
            .moments
            .iter()
            .map(|m| {
                let stage_a = chain_stages::amps(self, chain, m);
                let source = self.source_at(m);
                CurvePoint {
                    source_v: source.map(|(v, _)| significant(v)),
                    source_a: source.map(|(_, a)| significant(a)),
                    t_s: significant(m.t_s),
                    pack_v: significant(m.pack_v),
                    current_a: significant(m.current_a),
                    power_w: significant(m.pack_v * m.current_a),
                    soc: significant(m.soc),
                    limit: m.limit,
                    overloaded: chain_stages::overloaded(self, chain, m, &stage_a),
                    stage_a: stage_a.into_iter().map(significant).collect(),
                }
            })
            .collect()
    }

    /// What stands at the source's terminals and what it gives at a moment, V and A.
    fn source_at(&self, moment: &Moment) -> Option<(f64, f64)> {
        let mut feed = self.chosen?.built.feed;
        feed.follow(moment.open_v);
        let flows = feed.flows(moment.pack_v, (moment.current_a + self.plan.load.current_a(moment.pack_v)).max(0.0));
        let volts = if flows.source_a > 1e-9 { flows.source_w / flows.source_a } else { moment.open_v };
        Some((volts, flows.source_a))
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

/// One corner of what may be.
struct Corner {
    soc: f64,
    resistance: f64,
    capacity: f64,
    /// Whether everything else helps too.
    early: bool,
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
