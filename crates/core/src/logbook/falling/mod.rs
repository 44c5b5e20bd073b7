//! A discharge as it happens: its readings against what was computed, what they mean, when it is done.

mod judge;
mod list;
mod next;

use super::account::Sofar;
use super::course::{COURSE_POINTS, Drive, follow};
use super::frozen::Frozen;
use super::material::Material;
use super::refit::{Fitted, refit};
use crate::advice::discharge::{Discharge, Done, Wanted};
use crate::advice::steps::emergency;
use crate::chain::reckoning::identified;
use crate::codes::{LimitCode, RunWay, SayingCode};
use crate::formats::{AccountDoc, CurvePoint, KeepDoc, RECORD_FORMAT, RecordDoc, RunStateDoc};
use crate::lines::wear;
use crate::parts::identify::Identified;
use crate::physics::charge::{Draw, Low, Model, RunDown, State, Until, evenly};
use crate::units::{in_celsius, significant};
use judge::{Falling, judged};
pub(super) use list::list;

/// So near to where it gives no more it may be past it, as a state of charge.
const PAST_SOC: f64 = 0.01;
/// Of all that flowed: no better than this is it known where the steep end of a kind of cell begins.
const STEEP_END: f64 = 0.012;

/// What the readings of a discharge mean.
pub(super) fn understand(
    frozen: &Frozen,
    discharge: &Discharge,
    draw: Draw,
    material: &Material,
    now_s: Option<f64>,
) -> RunStateDoc {
    let plan = &frozen.plan;
    let found = identified(plan);
    let done = discharge.run(draw);
    let looks = &material.looks;
    let drive = material.drive(|t_s| done.run.at(t_s).map_or(0.0, |low| -low.current_a));
    let fitted = refit(plan, &found, looks, &drive, false);
    let last_s = looks.last().map_or(0.0, |look| look.t_s);
    let now_s = now_s.unwrap_or(last_s).max(last_s);
    let course = Course { discharge, draw, found: &found, drive: &drive, last_s };
    let state = course.state(&fitted);
    let expected_a = discharge.expected_a(draw, fitted.scale(), &state);
    let (into_ah, into_wh) = material.put_in(&drive);
    let (charge_ah, energy_wh) = (-into_ah, -into_wh);
    let believed = Fitted::believed(plan, &found);
    let scene = Falling {
        plan,
        found: &found,
        discharge,
        readings: &material.readings,
        looks,
        fitted: &fitted,
        soc: state.soc,
        expected_a,
        believed_v: follow(&course.model(&believed), believed.values[0], &drive, &[last_s]).0[0],
        out_ah: charge_ah,
        counted_ah: material.readings.iter().rev().find_map(|reading| reading.charger_ah).map(f64::abs),
    };
    let said = judged(&scene);
    let over = said.iter().any(|one| one.code == SayingCode::Done);
    // What really flows goes on flowing.
    let flows_a = scene.flowing_a().filter(|a| *a > 0.2 * expected_a);
    let draw = flows_a.map_or(draw, |a| draw.scaled(a / expected_a.max(1e-9)));
    let course = Course { draw, ..course };
    let rest = course.rest(&fitted);
    let end_s = rest.ended.then(|| rest.total_s());
    let span = end_s.map(|end_s| course.bounds(&fitted, end_s));
    let (next_look_s, next_look_why) = if over {
        (None, "It is done.".to_owned())
    } else {
        let earliest_s = span.map(|(low_s, _)| low_s);
        let first_cell_s = next::first_cell_s(&scene, last_s);
        next::look(&scene, &said, earliest_s.into_iter().chain(first_cell_s).reduce(f64::min), last_s)
    };
    RunStateDoc {
        predicted: done.run.at(now_s).filter(|_| now_s <= done.run.total_s()).map(point),
        fit: fitted.told(plan),
        way: RunWay::Discharge,
        keep: keep(discharge, &found, &scene, energy_wh, over),
        said,
        readings: material.count,
        account: account(&Sofar { looks: &material.flowed, now_s, charge_ah: into_ah, energy_wh: into_wh }, &done),
        soc: rest.at(now_s).map_or(state.soc, |low| low.soc),
        end_s: if over { Some(last_s) } else { end_s },
        end_low_s: if over { Some(last_s) } else { span.map(|(low_s, _)| low_s) },
        end_high_s: if over { Some(last_s) } else { span.map(|(_, high_s)| high_s) },
        course: evenly(&rest.moments, COURSE_POINTS).map(|low| point(*low)).collect(),
        nudges: Vec::new(),
        next_look_s,
        next_look_why,
        emergency: emergency(&plan.pack),
    }
}

/// Where the readings have brought the pack, and how it goes on from there.
#[derive(Clone, Copy)]
struct Course<'a> {
    discharge: &'a Discharge,
    draw: Draw,
    found: &'a Identified,
    drive: &'a Drive,
    last_s: f64,
}

impl<'a> Course<'a> {
    fn model(&self, fitted: &Fitted) -> Model<'a> {
        Model::new(self.discharge.pack.body(), &self.found.offsets, false, fitted.scale())
    }

    fn state(&self, fitted: &Fitted) -> State {
        follow(&self.model(fitted), fitted.values[0], self.drive, &[self.last_s]).1
    }

    fn rest(&self, fitted: &Fitted) -> RunDown {
        let state = self.state(fitted);
        let until = self.discharge.until(self.draw, fitted.values[0]);
        // Where it was to have given all it gives and still stands, its volts alone tell its end.
        let whole = matches!(self.discharge.wanted, Wanted::Whole { .. });
        let past = whole && state.soc <= until.soc + PAST_SOC;
        let until = if past { Until { soc: 0.0, ..until } } else { until };
        self.discharge.go_on(self.draw, fitted.scale(), state, until)
    }

    /// The same where the pack gives all that is in it, whatever its rate and warmth.
    fn longest(&self, fitted: &Fitted) -> RunDown {
        let until = self.discharge.until(self.draw, fitted.values[0]);
        let whole = matches!(self.discharge.wanted, Wanted::Whole { .. });
        let until = if whole { Until { soc: 0.0, ..until } } else { until };
        self.discharge.go_on(self.draw, fitted.scale(), self.state(fitted), until)
    }

    /// Two deviations either way of everything fitted, together, and of where its steep end begins, s.
    fn bounds(&self, fitted: &Fitted, end_s: f64) -> (f64, f64) {
        let off = |which: usize| {
            let at = |deviations: f64| (self.rest(&fitted.moved(which, deviations)).total_s() - end_s).abs();
            at(1.0).max(at(-1.0))
        };
        let spread = (0..3).map(off).chain([STEEP_END * end_s]).map(|s| s * s).sum::<f64>();
        let off_s = 2.0 * spread.sqrt();
        ((end_s - off_s).max(self.last_s), (end_s + off_s).max(self.longest(fitted).total_s()))
    }
}

/// A moment of it as a run's curve has it: current into the pack, negative.
fn point(low: Low) -> CurvePoint {
    CurvePoint {
        t_s: low.t_s,
        pack_v: low.pack_v,
        current_a: -low.current_a,
        power_w: -low.pack_v * low.current_a,
        soc: low.soc,
        limit: LimitCode::Load,
        source_v: None,
        source_a: None,
        stage_a: Vec::new(),
        overloaded: Vec::new(),
    }
}

/// Beside what was computed; what comes out is negative, as everywhere in an account.
fn account(sofar: &Sofar<'_>, done: &Done) -> AccountDoc {
    AccountDoc {
        to_cv_s: None,
        total_predicted_s: Some(done.run.total_s()),
        charge_predicted_ah: Some(-done.run.charge_as / 3600.0),
        energy_predicted_wh: Some(-done.run.energy_j / 3600.0),
        ..sofar.alone()
    }
}

/// What it gave, to be kept with the pack: of a whole discharge a test, of another where it was left.
fn keep(discharge: &Discharge, found: &Identified, scene: &Falling<'_>, energy_wh: f64, over: bool) -> KeepDoc {
    let not = |why: &str| KeepDoc { why_not: Some(why.to_owned()), ..KeepDoc::default() };
    let share = f64::from(discharge.pack.parallel);
    let Wanted::Whole { to_v } = discharge.wanted else { return KeepDoc::default() };
    if found.soc < wear::FROM_FULL.at {
        return not("It did not begin full: what it gave is no capacity.");
    }
    if !over {
        return not("It has not come to its cut-off: what it gave so far is no capacity.");
    }
    let unread = scene.flowing_a().is_none() || scene.ended_itself();
    if scene.readings.len() < 2 || (unread && scene.counted_ah.is_none()) {
        return not("Its amps were not read to its end: enter what the charger or the load counted, Ah, as a reading.");
    }
    let given_ah = scene.given_ah();
    let energy_wh = energy_wh * given_ah / scene.out_ah.max(1e-9);
    let warm: Vec<f64> = scene.readings.iter().filter_map(|reading| reading.temperature_c).collect();
    let mean_c = warm.iter().sum::<f64>() / warm.len().max(1) as f64;
    let temperature_c = if warm.is_empty() { in_celsius(discharge.pack.temperature) } else { mean_c };
    let record = RecordDoc {
        format: Some(RECORD_FORMAT.to_owned()),
        kind: Some(crate::codes::RecordKind::Test),
        temperature_c: Some(significant(temperature_c)),
        capacity_ah: Some(significant(given_ah / share)),
        energy_wh: Some(significant(energy_wh / share)),
        current_a: Some(significant(mean_a(scene, given_ah) / share)),
        to_v_per_cell: Some(to_v),
        whole: Some(true),
        ..RecordDoc::default()
    };
    KeepDoc { record: Some(record), ..KeepDoc::default() }
}

/// At which current it gave what it gave, A: found ended by itself, by what was last read while it flowed.
fn mean_a(scene: &Falling<'_>, given_ah: f64) -> f64 {
    let last_s = scene.looks.last().map_or(0.0, |look| look.t_s);
    let over_time = given_ah * 3600.0 / last_s.max(1.0);
    let read = scene.looks.iter().filter_map(|look| look.pack_a).map(f64::abs).fold(0.0, f64::max);
    if scene.ended_itself() { read.max(over_time) } else { over_time }
}
