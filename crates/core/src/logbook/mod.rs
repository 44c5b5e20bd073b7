//! A charge as it happens: the list before it, its readings against the prediction, what they
//! mean, the pack refitted to them, and when it will be done.

mod account;
mod begin;
mod course;
mod export;
mod extremes;
mod falling;
mod foreseen;
mod formula;
mod frozen;
mod import;
mod items;
mod judged;
mod keep;
mod material;
mod preflight;
mod refit;
mod row;
mod says;
mod scene;
mod seen;
mod slack;
mod sums;
mod tops;
#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod trials;
mod way;

pub use begin::begin;
pub use export::log_csv;
pub use extremes::{Extremes, thinned_to};
pub use import::{
    LogDecoded, LogError, LogReader, LogTotals, NEWEST_FIRST, decoded_log, log_cells_fit, log_fits, log_head_text,
    look_at_log,
};
pub use keep::refit_of;
pub use preflight::preflight;
pub use row::LogRow;
pub use sums::LogSums;

use crate::advice::answer::nudge;
use crate::advice::curve::curve;
use crate::advice::steps::emergency;
use crate::chain::reckoning::{Reckoning, identified};
use crate::chain::settings::{Chosen, choose};
use crate::formats::{
    CurvePoint, NudgeDoc, Problems, RunAskDoc, RunReadingDoc, RunStateDoc, RunWay, SayingCode, SayingDoc, Severity,
};
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::physics::charge::{Charge, Model, Moment, Scale, State, evenly, simulate_from};
use crate::physics::operating::LoadDraw;
use account::Sofar;
use course::{COURSE_POINTS, Drive, Look, Mean, follow};
use foreseen::Foresight;
use frozen::Frozen;
use judged::Judged;
use material::Material;
use refit::{Fitted, refit};
use says::diagnose;
use scene::{BEGUN_S, Drop, FIRST_LOOK_S, SOON_S, Scene, USUAL_LOOK_S};
use seen::{Log, seen};
use tops::Tops;
use way::{cell_lost, way};

/// A run goes on for no longer than this, s.
const LONGEST_S: f64 = 2e6;

/// Understands a run's readings: what they mean, the pack they show, and how it goes on.
///
/// # Examples
/// ```
/// use rumek_core::formats::{RunAskDoc, from_value};
/// use serde_json::json;
///
/// let readings = json!([{ "t_s": 0, "terminal_v": 22.4, "terminal_a": 4.0 }, { "t_s": 600, "terminal_v": 23.0, "terminal_a": 4.0 }]);
/// let ask: RunAskDoc = from_value(&json!({ "plan": json!({
///     "format": "rumek.plan/1",
///     "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "built_in" },
///     "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }
/// }), "readings": readings }))?;
/// let state = rumek_core::understand(&ask)?;
/// assert!((state.account.charge_ah - 0.667).abs() < 0.01);
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// What is wrong with the plan, below `/plan`; readings without a time.
pub fn understand(ask: &RunAskDoc) -> Result<RunStateDoc, Problems> {
    let plan = ask.plan.clone().unwrap_or_default();
    let frozen = Frozen::of(&plan, ask.discharge.as_ref()).map_err(|wrong| wrong.under("/plan"))?;
    let mut problems = Problems::default();
    let given = ask.readings.as_deref().unwrap_or_default();
    let mut readings: Vec<RunReadingDoc> = given.iter().map(|reading| frozen.corrected(reading)).collect();
    for (n, reading) in readings.iter().enumerate() {
        if !reading.t_s.is_some_and(|t| t.is_finite() && (0.0..=LONGEST_S).contains(&t)) {
            problems.add(
                format!("/readings/{n}/t_s"),
                "when it was read is not said",
                "seconds since the run began, 0 to 2000000",
            );
        }
    }
    problems.into_result(())?;
    readings.sort_by(|a, b| a.t_s.unwrap_or(0.0).total_cmp(&b.t_s.unwrap_or(0.0)));
    Ok(told(&frozen, &Material::each(&frozen, readings), ask.now_s))
}

/// Understands a run from the sums of all of its readings, which began at a moment, s since 1970.
#[must_use]
pub fn understand_sums(sums: &LogSums, began_unix_s: f64, now_s: Option<f64>) -> RunStateDoc {
    let frozen = sums.frozen();
    let stretches = sums.stretches();
    let since = |unix_s: f64| (unix_s - began_unix_s).clamp(0.0, LONGEST_S);
    let readings: Vec<RunReadingDoc> =
        stretches.iter().map(|one| RunReadingDoc { t_s: Some(since(one.to_s)), ..one.last.clone() }).collect();
    let mut material = Material::each(frozen, readings);
    if !sums.whole() {
        material.looks = sums::ends(stretches, began_unix_s, |one| one.amps);
        material.flowed = sums::ends(stretches, began_unix_s, sums::Stretch::mean_a);
        material.means = stretches
            .iter()
            .filter_map(|one| {
                let current_a = one.mean_a()?;
                Some(Mean { from_s: since(one.from_s), to_s: since(one.to_s), current_a })
            })
            .collect();
        let total = |pick: fn(&sums::Stretch) -> f64| stretches.iter().map(pick).sum::<f64>() / 3600.0;
        material.put_in = Some((total(|one| one.charge_as), total(|one| one.energy_j)));
        material.tops = Tops::default();
        stretches.iter().for_each(|one| material.tops.join(&one.tops.since(began_unix_s)));
        material.legs = sums::legs(stretches);
        material.count = sums.count();
    }
    told(frozen, &material, now_s)
}

/// What is told of a run.
fn told(frozen: &Frozen, material: &Material, now_s: Option<f64>) -> RunStateDoc {
    let plan = &frozen.plan;
    if let Some((discharge, draw)) = frozen.discharge.as_ref().and_then(|one| Some((one, one.sink.draw.ok()?))) {
        return falling::understand(frozen, discharge, draw, material, now_s);
    }
    let found = identified(plan);
    let (way, reversed) = way(plan, &material.legs);
    let Some(source) = plan.source.clone().filter(|_| way != RunWay::Discharge) else {
        return unfed(plan, &found, material, way, reversed, now_s);
    };
    let chosen = choose(plan, &source, &found);
    let run = Run { plan, found: &found, chosen: &chosen };
    run.understand(material, way, now_s)
}

/// A log brought in without what fed it, or no charge: the pack is refitted where it is one, what stands
/// out is told, nothing is predicted.
fn unfed(
    plan: &Plan,
    found: &Identified,
    material: &Material,
    way: RunWay,
    reversed: bool,
    now_s: Option<f64>,
) -> RunStateDoc {
    let looks = &material.looks;
    let drive = material.drive(|_| 0.0);
    let last_s = looks.last().map_or(0.0, |look| look.t_s);
    let lost = cell_lost(plan, &material.legs).map(|lost| (lost.fell_v, leg_s(looks, lost.leg)));
    let driven = looks.iter().any(|look| look.pack_a.is_some());
    // A pack that lost a cell on the way is no pack to be learned from.
    let charged = driven && lost.is_none() && way == RunWay::Charge;
    let fitted = if charged { refit(plan, found, looks, &drive, true) } else { Fitted::believed(plan, found) };
    let model = Model::new(plan.pack.body(), &found.offsets, true, fitted.scale());
    let (charge_ah, energy_wh) = material.put_in(&drive);
    // What came out is told as that, whatever sign the logger writes.
    let sign = if reversed && way == RunWay::Discharge { -1.0 } else { 1.0 };
    let (charge_ah, energy_wh) = (sign * charge_ah, sign * energy_wh);
    let now_s = now_s.unwrap_or(last_s).max(last_s);
    let soc = if charged { follow(&model, fitted.values[0], &drive, &[last_s]).1.soc } else { found.soc };
    RunStateDoc {
        emergency: emergency(&plan.pack),
        predicted: None,
        said: seen(&Log { plan, tops: &material.tops, looks, lost, fitted: &fitted, charge_ah, way }),
        fit: fitted.told(plan),
        way,
        keep: keep::keep(plan, &fitted, way),
        readings: material.count,
        account: Sofar { looks: &material.flowed, now_s, charge_ah, energy_wh }.alone(),
        soc,
        end_s: None,
        end_low_s: None,
        end_high_s: None,
        course: Vec::new(),
        nudges: Vec::new(),
        next_look_s: None,
        next_look_why: String::new(),
    }
}

/// When a leg of a log ends, s: with the look after its first one that has amps.
fn leg_s(looks: &[Look], leg: usize) -> f64 {
    let mut with_amps = looks.iter().filter(|look| look.pack_a.is_some());
    with_amps.nth(leg + 1).or(looks.last()).map_or(0.0, |look| look.t_s)
}

struct Run<'a> {
    plan: &'a Plan,
    found: &'a Identified,
    chosen: &'a Chosen,
}

impl Run<'_> {
    fn understand(&self, material: &Material, way: RunWay, now_s: Option<f64>) -> RunStateDoc {
        let case = Reckoning { plan: self.plan, found: self.found, chosen: Some(self.chosen) };
        let base = case.run(self.found.soc, Scale::NOMINAL);
        let readings = &material.readings;
        let judged =
            Foresight { plan: self.plan, found: self.found, chosen: self.chosen, planned: &base }.judge(material);
        let Judged { fitted, drive, looks, .. } = &judged;
        let last_s = looks.last().map_or(0.0, |look| look.t_s);
        let now_s = now_s.unwrap_or(last_s).max(last_s);
        let state = self.state_at(fitted, drive, last_s);
        let (charge_ah, energy_wh) = judged.put_in(material);
        let believed = Fitted::believed(self.plan, self.found);
        let scene = Scene {
            plan: self.plan,
            found: self.found,
            chosen: self.chosen,
            readings,
            looks: &material.looks,
            drop: self.drop(&believed, looks, drive),
            due: judged.due,
            doubt: judged.doubt,
            turned_v: base.nudges.iter().rfind(|turn| turn.at_s <= last_s).map(|turn| turn.set_v),
            charge_ah,
        };
        let said = diagnose(&scene);
        let over = said.iter().any(|s| s.code == SayingCode::Done);
        // While nothing flows nobody knows when it is done.
        let charges = charges(&said);
        // From the last reading on it goes as the model has it, at what the supply really gives.
        let limited = said.iter().find(|s| s.code == SayingCode::SupplyLimited).and_then(|s| s.values.get("current_a"));
        let rest = self.rest(fitted, drive, last_s, limited.copied());
        let (end_low_s, end_high_s) = self.bounds(fitted, drive, last_s, limited.copied(), rest.total_s);
        // Whoever comes by the clock, because something guards the charge meanwhile, comes as planned.
        let planned_s = self.chosen.nudge.and_then(|rule| rule.comes_every_s(last_s));
        let usual_s = planned_s.unwrap_or(match last_s {
            _ if material.looks.is_empty() => FIRST_LOOK_S,
            s if s < BEGUN_S => BEGUN_S,
            _ => USUAL_LOOK_S,
        });
        let (next_look_s, next_look_why) =
            if over { (None, "It is done.".to_owned()) } else { next_look(&said, &rest, last_s, usual_s) };
        let account = Sofar { looks: &material.flowed, now_s, charge_ah, energy_wh };
        let account = account.beside(&case, self.chosen, &base, &case.run(fitted.values[0], fitted.scale()));
        RunStateDoc {
            emergency: emergency(&self.plan.pack),
            predicted: base.at(now_s).filter(|_| now_s <= base.end.t_s).map(point),
            said,
            fit: fitted.told(self.plan),
            way,
            keep: keep::keep(self.plan, fitted, way),
            readings: material.count,
            account,
            soc: rest.at(now_s).filter(|_| charges).map_or(state.soc, |m| m.soc),
            end_s: if over { Some(last_s) } else { rest.total_s.filter(|_| charges) },
            end_low_s: if over { Some(last_s) } else { end_low_s.filter(|_| charges) },
            end_high_s: if over { Some(last_s) } else { end_high_s.filter(|_| charges) },
            course: if charges {
                evenly(&curve(&case, &rest, &[]), COURSE_POINTS).cloned().collect()
            } else {
                Vec::new()
            },
            nudges: if over { Vec::new() } else { self.turns(&rest) },
            next_look_s,
            next_look_why,
        }
    }

    fn model(&self, fitted: &Fitted) -> Model<'_> {
        Model::new(self.plan.pack.body(), &self.found.offsets, true, fitted.scale())
    }

    /// Where the readings have brought the pack.
    fn state_at(&self, fitted: &Fitted, drive: &Drive, t_s: f64) -> State {
        follow(&self.model(fitted), fitted.values[0], drive, &[t_s]).1
    }

    /// What the pack drops while it takes most, against what was believed of it: charge counted
    /// from the start, the voltage it would rest at, and the resistance that hours of current meet.
    fn drop(&self, believed: &Fitted, looks: &[Look], drive: &Drive) -> Option<Drop> {
        let whole = || looks.iter().rev().filter_map(|look| Some((look.t_s, look.pack_v?, look.pack_a?)));
        let most_a = whole().map(|(_, _, a)| a).fold(0.0, f64::max);
        // The drop shows best while much flows; the later, the more of it has settled.
        let (t_s, volts, amps) = whole().find(|(_, _, a)| *a >= 0.9 * most_a)?;
        // Seen in the taper only, what went in before is a guess.
        if most_a < 0.5 * self.chosen.current_a() {
            return None;
        }
        let model = self.model(believed);
        let state = self.state_at(believed, drive, t_s);
        let settled = model.settled(state.soc);
        let expected_v = settled.r_ohm * amps;
        let series = f64::from(self.plan.pack.series);
        let profile = &self.plan.pack.profile;
        if expected_v <= 0.0 || state.soc >= 0.98 || !profile.voltage_tells_soc {
            return None;
        }
        let counted = (state.soc - believed.values[0]) * believed.deviations[2];
        let soc_sd = believed.deviations[0].hypot(counted);
        let slope_v = profile.ocv.at(state.soc).1 * series;
        let off_v = [slope_v * soc_sd, profile.curve_spread_v * series, 0.003 * volts];
        let deviation_v = off_v.iter().map(|v| v * v).sum::<f64>().sqrt();
        Some(Drop { factor: (volts - settled.e_v) / expected_v, deviation: deviation_v / expected_v })
    }

    /// The rest of the charge from the last reading on.
    fn rest(&self, fitted: &Fitted, drive: &Drive, last_s: f64, limited_a: Option<f64>) -> Charge {
        let case = Reckoning { plan: self.plan, found: self.found, chosen: Some(self.chosen) };
        let mut fed = case.fed(self.chosen);
        let mut feed = *fed.feed;
        if let Some(a) = limited_a {
            let load_a = match self.plan.load {
                LoadDraw::None => 0.0,
                load => load.current_a(self.chosen.dial_v),
            };
            feed.current_a = feed.current_a.min((a + load_a).max(0.01));
        }
        if let Some(set_v) = drive.set_v().filter(|_| self.chosen.nudge.is_some_and(|rule| rule.top_duty.is_none())) {
            feed.hold.volts = set_v - feed.diode_v;
            fed.stands = true;
        }
        fed.feed = &feed;
        let state = self.state_at(fitted, drive, last_s);
        simulate_from(&self.model(fitted), state, Some(fed), self.plan.load, &self.chosen.stops)
    }

    /// Two deviations either way of everything fitted, together.
    fn bounds(
        &self,
        fitted: &Fitted,
        drive: &Drive,
        last_s: f64,
        limited_a: Option<f64>,
        end_s: Option<f64>,
    ) -> (Option<f64>, Option<f64>) {
        let Some(end_s) = end_s else { return (None, None) };
        let mut spread = 0.0;
        for which in 0..3 {
            let at = |deviations: f64| {
                let other = fitted.moved(which, deviations);
                self.rest(&other, drive, last_s, limited_a).total_s.unwrap_or(end_s)
            };
            let off = (at(1.0) - end_s).abs().max((at(-1.0) - end_s).abs());
            spread += off * off;
        }
        let off_s = 2.0 * spread.sqrt() + 0.01 * (end_s - last_s);
        (Some((end_s - off_s).max(last_s)), Some(end_s + off_s))
    }

    fn turns(&self, rest: &Charge) -> Vec<NudgeDoc> {
        rest.nudges.iter().map(|turn| nudge(turn, self.chosen)).collect()
    }
}

fn point(m: Moment) -> CurvePoint {
    CurvePoint {
        source_v: None,
        source_a: None,
        t_s: m.t_s,
        pack_v: m.pack_v,
        current_a: m.current_a,
        power_w: m.pack_v * m.current_a,
        soc: m.soc,
        limit: m.limit,
        stage_a: Vec::new(),
        overloaded: Vec::new(),
    }
}

/// Whether current flows into it, as far as anything is said of that.
fn charges(said: &[SayingDoc]) -> bool {
    !said.iter().any(|one| matches!(one.code, SayingCode::Stopped | SayingCode::RunningDown))
}

/// When to look next, and why: counted from the last look, so that one that is due stays due.
fn next_look(said: &[SayingDoc], rest: &Charge, last_s: f64, usual_s: f64) -> (Option<f64>, String) {
    let charges = charges(said);
    if said.iter().any(|s| s.severity == Severity::Stop) {
        return (Some(last_s), "Something is wrong.".to_owned());
    }
    if !charges {
        return (Some(last_s), "It does not charge.".to_owned());
    }
    let after = |t: Option<f64>| t.filter(|t| *t > last_s + 60.0);
    let turn = rest.nudges.iter().map(|turn| turn.at_s).find(|t| *t > last_s + 30.0);
    let mut looks = vec![(last_s + usual_s, "A usual look: volts, amps, warmth.")];
    if said.iter().any(|s| s.severity == Severity::Caution) {
        looks.push((last_s + SOON_S, "Soon: to see whether it stays so."));
    }
    looks.extend(turn.map(|t| (t, "The knob is to be turned.")));
    looks.extend(after(rest.to_cv_s).map(|t| (t, "It reaches its charge voltage: read each cell.")));
    looks.extend(after(rest.total_s).map(|t| (t, "It should be done.")));
    let next = looks.into_iter().min_by(|a, b| a.0.total_cmp(&b.0));
    next.map_or((None, String::new()), |(t, why)| (Some(t), why.to_owned()))
}
