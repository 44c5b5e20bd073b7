//! A plan answered: the one way through the core.

use crate::chain::{Feed, LimitCode, LoadDraw};
use crate::charge::{Charge, Model, Moment, Scale, Stops, simulate};
use crate::checks::{self, Situation};
use crate::chemistry::Family;
use crate::document::{
    CellDoc, CurvePoint, DeliveredDoc, EndDoc, EndReason, LimitDoc, PinchDoc, Place, PlanDoc, Problems, RESULT_FORMAT,
    ResultDoc, ResultSettingsDoc, StageDoc, StartResultDoc, TimeDoc,
};
use crate::identify::{Identified, identify};
use crate::pack::Pack;
use crate::plan::{Plan, Resolved, resolve};
use crate::settings::{Chosen, choose, empty_volts};
use crate::source::Source;
use crate::units::{Time, amps, seconds, trimmed};
use crate::{steps, what_if};

/// Answers a plan.
///
/// # Errors
/// Everything wrong with the document, each problem with its JSON pointer.
pub fn answer(document: &PlanDoc) -> Result<ResultDoc, Problems> {
    let Resolved { plan, document: resolved, assumed } = resolve(document)?;
    let found = identify(&plan.pack, plan.start_assumed);
    let chosen = plan.source.as_ref().map(|source| choose(&plan, source, &found));
    let case = Case { plan: &plan, found: &found, chosen: chosen.as_ref() };
    let charge = case.run(found.soc, Scale::NOMINAL);
    let situation = Situation { plan: &plan, found: &found, chosen: chosen.as_ref(), charge: &charge };
    let checks = checks::run(&situation);
    let refused = checks::refuses(&checks);
    let start = case.start(&charge);
    let limits = case.limits(&charge);
    let mut result = ResultDoc {
        format: RESULT_FORMAT.to_owned(),
        resolved,
        assumed,
        settings: None,
        start,
        time: TimeDoc::default(),
        delivered: DeliveredDoc::default(),
        end: EndDoc { soc: found.soc, after_s: 0.0, reason: EndReason::Refused, fill_voltage_v: None },
        stages: case.stages(&charge, refused),
        limits,
        pinch: Vec::new(),
        what_if: Vec::new(),
        nudges: Vec::new(),
        checks,
        steps: Vec::new(),
        cells: Vec::new(),
        curve: Vec::new(),
    };
    if refused {
        return Ok(result);
    }
    if let (Some(source), Some(chosen)) = (&plan.source, &chosen) {
        result.settings = Some(case.settings(chosen, &charge));
        result.steps = steps::steps(&plan, source, &found, chosen, &charge, &result.checks);
        result.what_if = what_if::what_if(&case, chosen, &charge);
    }
    result.time = case.times(&charge);
    result.delivered = case.delivered(&charge);
    result.end = EndDoc {
        soc: charge.end.soc,
        after_s: charge.end.t_s,
        reason: charge.reason,
        fill_voltage_v: (charge.reason == EndReason::Stalled).then(|| case.fill_voltage()).flatten(),
    };
    result.pinch = pinch(&charge);
    result.cells = case.cells(&charge);
    result.curve = case.curve(&charge);
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
    let found = identify(&plan.pack, plan.start_assumed);
    let chosen = plan.source.as_ref().map(|source| choose(&plan, source, &found));
    Ok(Prepared { plan, found, chosen })
}

impl Prepared {
    /// Computes the charge once; returns when it ended.
    #[must_use]
    pub fn simulate(&self) -> Time {
        let case = Case { plan: &self.plan, found: &self.found, chosen: self.chosen.as_ref() };
        seconds(case.run(self.found.soc, Scale::NOMINAL).end.t_s)
    }
}

/// A plan with what was found and chosen.
pub(crate) struct Case<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    pub(crate) chosen: Option<&'a Chosen>,
}

impl Case<'_> {
    /// Computes the charge from a state of charge.
    pub(crate) fn run(&self, soc: f64, scale: Scale) -> Charge {
        match self.chosen {
            Some(chosen) => self.run_with(soc, scale, Some(&chosen.feed), &chosen.stops),
            None => {
                let stops = Stops {
                    goal_soc: 0.0,
                    ends_at_goal: false,
                    taper_a: None,
                    give_up_a: 1e-6,
                    stop_v: None,
                    limit_s: self.plan.settings.time_limit_h.map(|h| h * 3600.0),
                    empty_v: empty_volts(&self.plan.pack),
                };
                self.run_with(soc, scale, None, &stops)
            }
        }
    }

    pub(crate) fn run_with(&self, soc: f64, scale: Scale, feed: Option<&Feed>, stops: &Stops) -> Charge {
        let model = Model::new(&self.plan.pack, &self.found.offsets, feed.is_some(), scale);
        simulate(&model, soc, feed, self.plan.load, stops)
    }

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
        ResultSettingsDoc {
            voltage_v: significant(chosen.wanted_v),
            dial_voltage_v: significant(chosen.dial_v),
            current_a: significant(chosen.feed.current_a),
            expect_a: significant(expect_a),
            stop_current_a: chosen.stops.taper_a.filter(|_| !chosen.stops.ends_at_goal).map(significant),
            time_limit_h: chosen.stops.limit_s.map(|s| significant(s / 3600.0)),
            stop_voltage_v: chosen.stops.stop_v,
            stop_charge_ah: chosen.stop_charge_ah.map(significant),
            float_voltage_v: chosen.float_v.map(significant),
            current_limited_by: chosen.feed.current_code,
        }
    }

    /// The likeliest time with the shortest and longest it may be: from the highest and lowest
    /// start, a pack better and worse than thought.
    fn times(&self, charge: &Charge) -> TimeDoc {
        let (better, worse) = if self.plan.pack.resistance_given { (0.85, 1.2) } else { (0.6, 1.6) };
        let bound = |soc: f64, resistance: f64, capacity: f64| {
            // A worse pack that ends short of the goal is done when its current has fallen, too.
            let other = self.run(soc, Scale { resistance, capacity });
            charge.total_s.and(other.total_s.or(other.tapered_s))
        };
        // A better pack is usually done sooner, but its taper may also last longer: both count. Of
        // lead a worse pack's current dies away early, and the one in the middle lasts longest.
        let (early, late) = if self.plan.pack.profile.family == Family::Lead {
            ([worse, 1.0], [1.0, worse])
        } else {
            ([better, worse], [better, worse])
        };
        let corners = [
            bound(self.found.high, early[0], 0.95),
            bound(self.found.high, early[1], 0.95),
            bound(self.found.low, late[0], 1.02),
            bound(self.found.low, late[1], 1.02),
        ];
        let corner =
            |pick: fn(f64, f64) -> f64| charge.total_s.map(|t| corners.iter().flatten().copied().fold(t, pick));
        TimeDoc {
            to_cv_s: charge.to_cv_s,
            to_80_s: charge.to_80_s,
            total_s: charge.total_s,
            total_low_s: corner(f64::min),
            total_high_s: corner(f64::max),
        }
    }

    fn efficiency(&self) -> f64 {
        self.plan.source.as_ref().map_or(1.0, |source| source.efficiency)
    }

    fn delivered(&self, charge: &Charge) -> DeliveredDoc {
        let wh = |joules: f64| joules / 3600.0;
        let mains_wh = if self.plan.source.is_some() { wh(charge.source_j) / self.efficiency() } else { 0.0 };
        let pack_heat_wh = wh(charge.pack_heat_j);
        DeliveredDoc {
            charge_ah: charge.charge_as / 3600.0,
            energy_wh: wh(charge.pack_j),
            source_wh: wh(charge.source_j),
            mains_wh,
            heat_wh: pack_heat_wh + mains_wh - wh(charge.source_j),
            pack_heat_wh,
            cost: self.plan.price_per_kwh.map(|price| price * mains_wh / 1000.0),
        }
    }

    /// The chain, source first; nothing heats while the settings are withheld.
    fn stages(&self, charge: &Charge, refused: bool) -> Vec<StageDoc> {
        let pack = &self.plan.pack;
        let heat_wh = |joules: f64| if refused { 0.0 } else { joules / 3600.0 };
        let pack_stage = StageDoc {
            at: Place::Pack,
            label: pack.name.clone().unwrap_or_else(|| format!("{} pack", pack.profile.name)),
            rating: pack.rating(),
            heat_wh: heat_wh(charge.pack_heat_j),
        };
        let source_stage = self.plan.source.as_ref().map(|source| StageDoc {
            at: Place::Source,
            label: source.name.clone().unwrap_or_else(|| source.kind_name().to_owned()),
            rating: source.describe(),
            heat_wh: heat_wh(charge.source_j * (1.0 / source.efficiency - 1.0)),
        });
        source_stage.into_iter().chain([pack_stage]).chain(self.load_stage()).collect()
    }

    fn load_stage(&self) -> Option<StageDoc> {
        let rating = match self.plan.load {
            LoadDraw::None => return None,
            LoadDraw::CurrentA(a) => format!("{} A", trimmed(a, 2)),
            LoadDraw::PowerW { watts, .. } => format!("{} W", trimmed(watts, 1)),
        };
        Some(StageDoc { at: Place::Load, label: "Load".to_owned(), rating, heat_wh: 0.0 })
    }

    /// Every finite limit at the first moment as amps at the pack's terminals, the least first.
    fn limits(&self, charge: &Charge) -> Vec<LimitDoc> {
        let Some(chosen) = self.chosen else {
            return Vec::new();
        };
        let doc = |(limit, current_a): (LimitCode, f64)| LimitDoc { limit, at: limit.place(), current_a };
        let mut limits: Vec<LimitDoc> = chosen.currents.iter().copied().map(doc).collect();
        let first_v = charge.moments.first().map_or(self.found.rest_v, |m| m.pack_v);
        if chosen.feed.power_w.is_finite() {
            limits.push(doc((LimitCode::SourcePower, chosen.feed.power_w / first_v.max(0.1))));
        }
        limits.push(doc((chosen.feed.voltage_code, chosen.inrush_a.max(0.0))));
        limits.sort_by(|a, b| a.current_a.total_cmp(&b.current_a));
        limits
    }

    /// What each stage could deliver at the pack at a moment, A; of a load, what it draws.
    fn stage_amps(&self, moment: &Moment) -> Vec<f64> {
        let load_a = self.plan.load.current_a(moment.pack_v);
        let Some(chosen) = self.chosen else {
            return vec![-moment.current_a, load_a];
        };
        let total_a = moment.current_a + load_a;
        let least = |place: Place| {
            chosen
                .currents
                .iter()
                .filter(|(code, _)| code.place() == place)
                .map(|(_, a)| *a)
                .fold(f64::INFINITY, f64::min)
        };
        let mut source_a = least(Place::Source).min(chosen.feed.power_w / moment.pack_v.max(0.1));
        let mut pack_a = least(Place::Pack);
        if !self.plan.source.as_ref().is_some_and(Source::dials_current) {
            // Nothing is dialled for the pack: its rating stands beside what the load takes.
            pack_a += load_a.max(total_a);
        }
        match moment.limit {
            LimitCode::SetVoltage => pack_a = total_a,
            LimitCode::SourceVoltage => source_a = total_a,
            _ => {}
        }
        if !pack_a.is_finite() {
            pack_a = source_a.max(total_a);
        }
        if !source_a.is_finite() {
            source_a = pack_a.max(total_a);
        }
        let teed = (self.plan.load != LoadDraw::None).then_some(load_a);
        [source_a, pack_a].into_iter().chain(teed).collect()
    }

    fn curve(&self, charge: &Charge) -> Vec<CurvePoint> {
        charge
            .moments
            .iter()
            .map(|m| CurvePoint {
                t_s: significant(m.t_s),
                pack_v: significant(m.pack_v),
                current_a: significant(m.current_a),
                power_w: significant(m.pack_v * m.current_a),
                soc: significant(m.soc),
                limit: m.limit,
                stage_a: self.stage_amps(m).into_iter().map(significant).collect(),
            })
            .collect()
    }

    /// The voltage at which the goal would be reached as the current falls to the stop, V.
    fn fill_voltage(&self) -> Option<f64> {
        let chosen = self.chosen?;
        let model = Model::new(&self.plan.pack, &self.found.offsets, true, Scale::NOMINAL);
        let settled = model.settled(chosen.stops.goal_soc);
        let fill_v = settled.e_v + settled.r_ohm * chosen.stops.taper_a.unwrap_or(0.0);
        Some(fill_v.min(chosen.recommended_v)).filter(|v| *v > chosen.dial_v)
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

/// Volts a cell of each position at the end of the charge, current still flowing.
pub(crate) fn end_voltages(pack: &Pack, found: &Identified, charge: &Charge) -> Vec<f64> {
    let Some(last) = charge.moments.last() else {
        return Vec::new();
    };
    let profile = &pack.profile;
    let level: Vec<f64> = (0..found.positions_v.len())
        .map(|n| profile.ocv.at(charge.end.soc + found.offsets.get(n).copied().unwrap_or(0.0)).0)
        .collect();
    let mean = level.iter().sum::<f64>() / level.len().max(1) as f64;
    level.into_iter().map(|v| last.pack_v / f64::from(pack.series) + v - mean).collect()
}

/// Which limit binds when.
fn pinch(charge: &Charge) -> Vec<PinchDoc> {
    let mut spans: Vec<PinchDoc> = Vec::new();
    for pair in charge.moments.windows(2) {
        let (from, to) = (&pair[0], &pair[1]);
        match spans.last_mut() {
            Some(span) if span.limit == from.limit => span.to_s = to.t_s,
            _ => spans.push(PinchDoc { from_s: from.t_s, to_s: to.t_s, limit: from.limit, at: from.limit.place() }),
        }
    }
    spans
}

/// A number to six significant digits.
fn significant(value: f64) -> f64 {
    if value == 0.0 || !value.is_finite() {
        return value;
    }
    let factor = 10f64.powi(5 - value.abs().log10().floor() as i32);
    (value * factor).round() / factor
}
