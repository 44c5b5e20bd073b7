//! The charge over time, from the first ampere to the chosen end.
//!
//! Adaptive steps: long while little changes, and cut back so that they land exactly on every
//! event (a change of limit, 80 %, the goal, the stop). An event is found by bisection on the
//! step length, down to ten milliseconds or, of a long one, to a second.

mod absorbing;
mod land;
mod model;
mod moment;
mod nudge;
mod run_down;
mod thin;
mod visits;

use absorbing::Absorbing;
pub(crate) use absorbing::STEADY_S;
pub(crate) use model::{Body, Model, Scale, Shunted, State};
pub(crate) use moment::Moment;
pub(crate) use nudge::{Coarse, Nudge, NudgeRule};
pub(crate) use run_down::{Draw, Low, RunDown, Until, drawn_a, run_down};
pub(crate) use thin::evenly;

use crate::codes::EndReason;
use crate::codes::LimitCode;
use crate::physics::battery::Battery;
use crate::physics::operating::{Feed, Flows, LoadDraw, OperatingPoint, Thevenin, operating_point};

/// A curve never has more points than this.
pub(crate) const MAX_POINTS: usize = 400;
/// An event is found to so many seconds …
const EVENT_S: f64 = 1e-2;
/// … or to this share of the step it lies in: a step changes the pack by a hundredth or two …
const EVENT_SHARE: f64 = 1e-3;
/// … but never worse than this, however long the step, s.
const EVENT_MOST_S: f64 = 1.0;
/// A charge that ends so far below its goal has stalled.
const SHORT: f64 = 0.05;
/// The longest a computation looks ahead when no other end comes: 20 days.
const HORIZON_S: f64 = 20.0 * 86_400.0;
const MAX_STEPS: usize = 4_000;
/// A current that moved by no more than this share of itself when it was last put in is put in no more; one that
/// moved by more than the next, once there was no time left, is not found.
const SETTLED: f64 = 1e-5;
const UNSETTLED: f64 = 1e-3;
/// So often it is put in at most.
const MOST_PUT_IN: usize = 6;
/// The state of charge whose time is told by itself.
const MARK_SOC: f64 = 0.8;
/// Between turns of a knob the current is a sawtooth: a step may change this share of it, …
const TOOTH: f64 = 0.4;
/// … this where its fall decides when the knob is turned again, …
const TOOTH_WATCHED: f64 = 0.3;
/// … and this at its tip, which moves no more of the capacity than that.
const TIP: f64 = 0.7;
const TIP_SOC: f64 = 1e-4;
/// A step may change any other current by this share.
const SMOOTH: f64 = 0.08;
/// The slow part of the pack's resistance may change by this share in a step, and by this one between turns.
const SLOWING: f64 = 0.04;
const SLOWING_TEETH: f64 = 0.08;
/// After a turn of a knob the fast part of the pack moves first: the next step is no longer than this, s.
const AFTER_TURN_S: f64 = 16.0;
/// A step this rough is taken again, at less than half its length.
const TOO_ROUGH: f64 = 2.5;
/// A current that until the horizon moves less of the capacity than this is none.
const STILL: f64 = 0.005;
/// … once it has been so for this long, s.
const STILL_S: f64 = 600.0;

/// When a charge is over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Stops {
    /// The state of charge wanted.
    pub(crate) goal_soc: f64,
    /// Whether reaching it ends the charge (else only the taper does).
    pub(crate) ends_at_goal: bool,
    /// Done when a falling current has come down to this, A.
    pub(crate) taper_a: Option<f64>,
    /// Of currents below this nothing is resolved any more, A.
    pub(crate) give_up_a: f64,
    /// More than this does not go in, A·s: what goes on after that is not kept.
    pub(crate) most_as: f64,
    pub(crate) stop_v: Option<f64>,
    /// A relay opens here, V.
    pub(crate) cut_off_v: Option<f64>,
    pub(crate) limit_s: Option<f64>,
    /// Held at the charge voltage it is over after this long at the latest, or once its current has not
    /// fallen for an hour; `None` where it is over by its current only.
    pub(crate) absorption_s: Option<f64>,
    /// By so much more than usual a step may change: 1 where it is drawn, more where only its end is asked for.
    pub(crate) roughly: f64,
    /// A run on the load ends below this, V.
    pub(crate) empty_v: f64,
}

/// A charge computed.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Charge {
    pub(crate) moments: Vec<Moment>,
    pub(crate) to_cv_s: Option<f64>,
    pub(crate) to_80_s: Option<f64>,
    /// When the goal, the taper or the chosen stop was reached.
    pub(crate) total_s: Option<f64>,
    /// When the current had fallen to the stop, short of the goal or not.
    pub(crate) tapered_s: Option<f64>,
    pub(crate) reason: EndReason,
    pub(crate) end: State,
    /// Into the pack, A·s and J; turned to heat in the pack, J.
    pub(crate) charge_as: f64,
    pub(crate) pack_j: f64,
    pub(crate) pack_heat_j: f64,
    /// What flowed where before the pack, J; out of the source, A·s.
    pub(crate) flowed: Flows,
    pub(crate) nudges: Vec<Nudge>,
}

impl Charge {
    /// The largest current at the pack's side, its load's share included, A.
    pub(crate) fn most_total_a(&self, load: LoadDraw) -> f64 {
        self.moments.iter().map(|m| m.current_a + load.current_a(m.pack_v)).fold(0.0, f64::max)
    }

    /// The charge at a time, between its moments on a straight line; after its end as at its end.
    pub(crate) fn at(&self, t_s: f64) -> Option<Moment> {
        let after = self.moments.partition_point(|m| m.t_s <= t_s);
        let a = self.moments.get(after.saturating_sub(1))?;
        let Some(b) = self.moments.get(after).filter(|b| b.t_s > a.t_s) else { return Some(*a) };
        let share = ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0);
        let mix = |from: f64, to: f64| from + share * (to - from);
        Some(Moment {
            t_s,
            pack_v: mix(a.pack_v, b.pack_v),
            current_a: mix(a.current_a, b.current_a),
            soc: mix(a.soc, b.soc),
            ..*a
        })
    }
}

/// What is before the pack.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Fed<'a> {
    pub(crate) feed: &'a Feed,
    /// A battery that runs down as it feeds.
    pub(crate) battery: Option<&'a Battery>,
    /// Turned by hand meanwhile.
    pub(crate) nudge: Option<&'a NudgeRule>,
    /// Its knob stands where `feed` has it; else it is turned first.
    pub(crate) stands: bool,
}

struct Attempt {
    state: State,
    point: OperatingPoint,
    pack_v: f64,
    /// The pack as it was put in last, and its own volts with nothing flowing.
    line: Thevenin,
    open_v: f64,
    /// How far its current still moved when it was last put in, A.
    unsettled_a: f64,
}

/// Computes a charge from a rested state.
pub(crate) fn simulate(
    model: &Model<'_>,
    start_soc: f64,
    fed: Option<Fed<'_>>,
    load: LoadDraw,
    stops: &Stops,
) -> Charge {
    simulate_from(model, State::rested(start_soc), fed, load, stops)
}

/// Computes the rest of a charge from a state in the midst of it; its times go on from there.
pub(crate) fn simulate_from(
    model: &Model<'_>,
    state: State,
    fed: Option<Fed<'_>>,
    load: LoadDraw,
    stops: &Stops,
) -> Charge {
    Run::new(model, state, fed, load, stops).finish()
}

struct Run<'a, 'm> {
    model: &'a Model<'m>,
    fed: Option<Fed<'a>>,
    /// As it is now: turned up by hand, its battery run down.
    feed: Option<Feed>,
    load: LoadDraw,
    stops: &'a Stops,
    start_soc: f64,
    state: State,
    point: OperatingPoint,
    pack_v: f64,
    /// The pack's own volts with nothing flowing.
    pack_open_v: f64,
    /// Held at the charge voltage.
    absorbing: Option<Absorbing>,
    /// Since when next to nothing has flowed, s.
    still_since_s: Option<f64>,
    /// When somebody last looked, s.
    looked_s: f64,
    /// How many looks in a row moved nothing.
    in_vain: u32,
    /// What flows at the present moment.
    flows: Flows,
    /// How fast the current has changed over the last step, A/s.
    slope_a_s: f64,
    charge: Charge,
}

impl<'a, 'm> Run<'a, 'm> {
    fn new(model: &'a Model<'m>, state: State, fed: Option<Fed<'a>>, load: LoadDraw, stops: &'a Stops) -> Self {
        let now = model.now(&state);
        let mut feed = fed.map(|fed| *fed.feed);
        let mut nudges = Vec::new();
        if let (Some(feed), Some(rule)) = (&mut feed, fed.filter(|fed| !fed.stands).and_then(|fed| fed.nudge)) {
            nudges.extend(rule.turn(feed, now, load, 0.0).map(|turn| Nudge { at_s: state.t_s, ..turn }));
        }
        let point = operating_point(now, feed.as_ref(), load, None);
        let mut run = Self {
            model,
            fed,
            feed,
            load,
            stops,
            start_soc: state.soc,
            state,
            point,
            pack_v: now.e_v + now.r_ohm * point.pack_a,
            pack_open_v: model.open_circuit_v(state.soc),
            absorbing: None,
            still_since_s: None,
            looked_s: state.t_s,
            in_vain: 0,
            flows: Flows::default(),
            slope_a_s: 0.0,
            charge: Charge {
                moments: Vec::with_capacity(MAX_POINTS),
                to_cv_s: None,
                to_80_s: (state.soc >= MARK_SOC).then_some(0.0),
                total_s: None,
                tapered_s: None,
                reason: EndReason::TimeLimit,
                end: state,
                charge_as: 0.0,
                pack_j: 0.0,
                pack_heat_j: 0.0,
                flowed: Flows::default(),
                nudges,
            },
        };
        run.flows = run.flowing();
        run.note_cv(state.t_s, point.pack_a);
        run.record();
        run
    }

    /// What flows at the present moment.
    fn flowing(&self) -> Flows {
        let total_a = (self.point.pack_a + self.load.current_a(self.pack_v)).max(0.0);
        self.feed.as_ref().map_or(Flows::default(), |feed| feed.flows(self.pack_v, total_a))
    }

    /// The step of no length.
    fn here(&self) -> Attempt {
        let line = self.model.now(&self.state);
        let open_v = self.pack_open_v;
        Attempt { state: self.state, point: self.point, pack_v: self.pack_v, line, open_v, unsettled_a: 0.0 }
    }

    /// A step of some length; `guess_a` is a current close to the one at its end.
    fn attempt(&self, h_s: f64, guess_a: f64) -> Attempt {
        let step = self.model.prepare(self.state, self.point.pack_a, self.ahead_a(0.5 * h_s), h_s);
        // A straight line by a straight line is exact at once, as far as the pack's own is straight.
        let straight = self.feed.as_ref().is_none_or(|feed| feed.is_straight(self.load));
        let mut guess_a = guess_a;
        let mut moved_a = f64::INFINITY;
        let mut put_in = 0;
        loop {
            let tangent = self.model.tangent(&step, guess_a);
            let line = tangent.line;
            let point = operating_point(line, self.feed.as_ref(), self.load, Some(guess_a));
            let moves_a = (point.pack_a - guess_a).abs();
            let within_a = SETTLED * point.pack_a.abs() + 1e-9;
            // The next move is to this one as this one is to the last, and so on.
            let shrinks = moves_a / moved_a;
            let mut unsettled_a =
                if put_in > 0 && shrinks < 0.5 { moves_a * shrinks / (1.0 - shrinks) } else { moves_a };
            let open_v = self.model.open_circuit_v(step.soc_at(point.pack_a));
            if straight {
                let bend_v = open_v - tangent.open_v(point.pack_a);
                unsettled_a = unsettled_a.min(bend_v.abs() / line.r_ohm.max(f64::MIN_POSITIVE));
            }
            (guess_a, moved_a, put_in) = (point.pack_a, moves_a, put_in + 1);
            if unsettled_a <= within_a || put_in == MOST_PUT_IN {
                let pack_v = line.e_v + line.r_ohm * guess_a;
                return Attempt { state: step.finish(guess_a), point, pack_v, line, open_v, unsettled_a };
            }
        }
    }

    /// The current so much later if it goes on as it went.
    fn ahead_a(&self, h_s: f64) -> f64 {
        let now_a = self.point.pack_a;
        now_a + (self.slope_a_s * h_s).clamp(-0.5 * now_a.abs(), 0.5 * now_a.abs())
    }

    /// Why the charge is over at the end of a step, if it is.
    fn ended(&self, next: &Attempt) -> Option<EndReason> {
        let stops = self.stops;
        if stops.ends_at_goal && next.state.soc >= stops.goal_soc {
            return Some(EndReason::Goal);
        }
        // What cuts it off does so however little flows.
        if stops.stop_v.is_some_and(|v| next.pack_v >= v) {
            return Some(EndReason::StopVoltage);
        }
        if stops.cut_off_v.is_some_and(|v| next.pack_v >= v) {
            return Some(EndReason::CutOff);
        }
        if self.empties_source(next) {
            return Some(EndReason::SourceEmpty);
        }
        if self.charge.charge_as >= stops.most_as {
            return Some(EndReason::EnoughCharge);
        }
        let spent_soc = || self.model.spent_soc(self.start_soc, -next.point.pack_a);
        if next.point.pack_a <= 0.0 && (next.pack_v <= stops.empty_v || next.state.soc <= spent_soc()) {
            return Some(EndReason::Discharging);
        }
        // Only a voltage makes a current taper; a supply too small to reach the stop does not.
        let tapering = next.point.limit.tapers();
        match stops.taper_a {
            Some(taper_a) if tapering && next.point.pack_a <= taper_a => Some(EndReason::Taper),
            _ => self.absorbed(next),
        }
    }

    /// Why a held charge is over though its current never came down to the stop.
    fn absorbed(&self, next: &Attempt) -> Option<EndReason> {
        let longest_s = self.stops.absorption_s?;
        let absorbing = self.absorbing.filter(|_| next.point.limit == LimitCode::SetVoltage)?;
        let now = (self.state.t_s, self.point.pack_a);
        absorbing.over_by(now, (next.state.t_s, next.point.pack_a), longest_s)
    }

    /// Follows the current of a held charge, from when it was so much before.
    fn note_absorbing(&mut self, before_s: f64, before_a: f64) {
        let now = (self.state.t_s, self.point.pack_a);
        if self.point.limit == LimitCode::SetVoltage {
            self.absorbing.get_or_insert(Absorbing::begun(now)).follow((before_s, before_a), now);
        } else {
            self.absorbing = None;
        }
    }

    fn finish(mut self) -> Charge {
        let first = self.here();
        if self.stops.goal_soc < self.state.soc && self.fed.is_some() {
            return self.close(EndReason::GoalBelowStart, None);
        }
        if let Some(reason) = self.ended(&first) {
            return self.over(reason);
        }
        let mut h_s: f64 = 2.0;
        let mut after_turn_s = AFTER_TURN_S * self.stops.roughly;
        let mut turned = false;
        for _ in 0..MAX_STEPS {
            let deadline_s = self.deadline_s();
            h_s = h_s.min(deadline_s - self.state.t_s).min(self.until_visit());
            if h_s <= EVENT_S {
                return self.timed_out();
            }
            let mut next = self.attempt(h_s, self.ahead_a(h_s));
            let change = self.roughness(&next);
            if change > 1.6 && h_s > 0.1 {
                h_s *= (1.0 / change).clamp(0.2, 0.7);
                continue;
            }
            let mut taken_s = h_s;
            let mut ended = self.ended(&next);
            if ended.is_some() || self.passes_mark(&next) {
                (taken_s, next) = self.land(h_s, next);
                ended = self.ended(&next);
            }
            if turned {
                // The tips of teeth are alike, and sharper towards full.
                after_turn_s = after_turn_s.min(taken_s / change.max(0.5));
            }
            let turns = self.charge.nudges.len();
            self.advance(taken_s, next, ended);
            turned = self.charge.nudges.len() > turns;
            if turned {
                h_s = after_turn_s;
            }
            if let Some(reason) = ended {
                return self.over(reason);
            }
            if !turned {
                if self.still() {
                    return self.close(EndReason::Stalled, None);
                }
                let nudged = self.fed.is_some_and(|fed| fed.nudge.is_some());
                let grows = if nudged { 5.0 } else { 2.0 };
                h_s *= (1.0 / change.max(0.05)).clamp(0.5, grows);
            }
        }
        self.close(EndReason::TimeLimit, None)
    }

    /// Whether the source and the load have come to a balance that leaves the pack nothing, nor takes
    /// from it: it would be followed to the horizon, and nothing would change. A battery that feeds runs
    /// down, and a knob is turned: neither stays as it is.
    fn still(&mut self) -> bool {
        let still_a = STILL * self.model.capacity_as / HORIZON_S;
        let stays = self.fed.is_some_and(|fed| fed.battery.is_none() && fed.nudge.is_none());
        let balanced = stays && !self.point.limit.tapers() && self.stops.limit_s.is_none();
        if !(balanced && self.point.pack_a.abs() <= still_a) {
            self.still_since_s = None;
            return false;
        }
        self.state.t_s - *self.still_since_s.get_or_insert(self.state.t_s) >= STILL_S
    }

    /// The same of a battery that feeds the chain, by its own charge.
    fn source_roughness(&self, next: &Attempt) -> f64 {
        let Some((feed, battery)) = self.feed.as_ref().zip(self.fed.and_then(|fed| fed.battery)) else {
            return 0.0;
        };
        let total_a = (next.point.pack_a + self.load.current_a(next.pack_v)).max(0.0);
        let source_a = feed.flows(next.pack_v, total_a).source_a;
        source_a * (next.state.t_s - self.state.t_s) / battery.capacity_as / 0.02
    }

    /// How rough a step is: 1 is as much as one step should change.
    fn roughness(&self, next: &Attempt) -> f64 {
        let soc = (next.state.soc - self.state.soc).abs() / 0.015;
        let soc = soc.max(self.source_roughness(next));
        let scale_a = self.point.pack_a.abs().max(self.stops.give_up_a).max(1e-6);
        let moves_a = (next.point.pack_a - self.point.pack_a).abs();
        let (current, slowing) = match self.fed.and_then(|fed| fed.nudge) {
            Some(rule) => {
                let moved_soc = moves_a * (next.state.t_s - self.state.t_s) / self.model.capacity_as;
                let tooth = if rule.comes_every_s(self.state.t_s).is_some() { TOOTH } else { TOOTH_WATCHED };
                let current = (moved_soc / TIP_SOC).clamp(moves_a / (TIP * scale_a), moves_a / (tooth * scale_a));
                (current, SLOWING_TEETH)
            }
            None => (moves_a / (SMOOTH * scale_a), SLOWING),
        };
        let slowing = self.model.slowing(self.state.soc, next.state.soc) / slowing;
        // A step whose current was not found is no step: a shorter one finds it.
        let lost = if next.unsettled_a > UNSETTLED * scale_a { TOO_ROUGH } else { 0.0 };
        (soc.max(current).max(slowing) / self.stops.roughly).max(lost)
    }

    /// Takes a step, with which the charge may end.
    fn advance(&mut self, h_s: f64, next: Attempt, ended: Option<EndReason>) {
        let (i0, i1) = (self.point.pack_a, next.point.pack_a);
        let (v0, v1) = (self.pack_v, next.pack_v);
        let soc0 = self.state.soc;
        // Simpson's rule for a product of two straight lines.
        let product = |a0: f64, a1: f64, b0: f64, b1: f64| (2.0 * a0 * b0 + a0 * b1 + a1 * b0 + 2.0 * a1 * b1) / 6.0;
        let pack_j = h_s * product(i0, i1, v0, v1);
        let stored_v = 0.5 * (self.pack_open_v + next.open_v);
        let stored_j = (next.state.soc - soc0) * self.model.capacity_as * stored_v;
        self.charge.charge_as += h_s * 0.5 * (i0 + i1);
        self.charge.pack_j += pack_j;
        self.charge.pack_heat_j += pack_j - stored_j;
        if let Some(feed) = &self.feed {
            let at = |i: f64, v: f64| feed.flows(v, (i + self.load.current_a(v)).max(0.0));
            // Simpson's rule again, its middle where the straight lines of volts and amps are.
            let middle = at(0.5 * (i0 + i1), 0.5 * (v0 + v1));
            let end = at(i1, v1);
            self.charge.flowed.add(h_s, self.flows, middle, end);
            self.flows = end;
        }
        self.slope_a_s = if next.point.limit == self.point.limit { (i1 - i0) / h_s } else { 0.0 };
        (self.state, self.point, self.pack_v) = (next.state, next.point, next.pack_v);
        self.pack_open_v = next.open_v;
        if self.charge.to_80_s.is_none() && self.state.soc >= MARK_SOC {
            self.charge.to_80_s = Some(self.state.t_s);
        }
        self.note_cv(self.state.t_s - h_s, i0);
        self.record();
        if ended.is_none() {
            self.follow_source();
            self.visit();
        }
    }

    /// Whether a battery that feeds the chain is down to its reserve at the end of a step.
    fn empties_source(&self, next: &Attempt) -> bool {
        let Some((feed, battery)) = self.feed.as_ref().zip(self.fed.and_then(|fed| fed.battery)) else {
            return false;
        };
        let total_a = (next.point.pack_a + self.load.current_a(next.pack_v)).max(0.0);
        let mean_a = 0.5 * (self.flows.source_a + feed.flows(next.pack_v, total_a).source_a);
        let taken_as = mean_a * (next.state.t_s - self.state.t_s);
        self.source_soc(battery) - taken_as / battery.capacity_as <= battery.reserve_soc
    }

    fn source_soc(&self, battery: &Battery) -> f64 {
        battery.soc - self.charge.flowed.source_a / battery.capacity_as
    }

    /// A battery's voltage sinks as it feeds; all that hangs on it follows.
    fn follow_source(&mut self) {
        let Some(battery) = self.fed.and_then(|fed| fed.battery) else {
            return;
        };
        let open_v = battery.open_v(self.source_soc(battery).max(0.0));
        if let Some(feed) = &mut self.feed {
            feed.follow(open_v);
        }
        self.flows = self.flowing();
    }

    fn note_cv(&mut self, before_s: f64, before_a: f64) {
        self.note_absorbing(before_s, before_a);
        if self.charge.to_cv_s.is_none() && self.point.limit.tapers() {
            self.charge.to_cv_s = Some(self.state.t_s);
        }
    }

    /// Closes at an end that was come to.
    fn over(mut self, reason: EndReason) -> Charge {
        let t_s = self.state.t_s;
        if reason == EndReason::Taper {
            self.charge.tapered_s = Some(t_s);
        }
        let short = reason == EndReason::Taper && self.stops.goal_soc - self.state.soc > SHORT;
        let reached = match reason {
            EndReason::Discharging => self.fed.is_none(),
            EndReason::SourceEmpty | EndReason::Stalled => false,
            _ => !short,
        };
        self.close(if short { EndReason::Stalled } else { reason }, reached.then_some(t_s))
    }

    fn deadline_s(&self) -> f64 {
        self.stops.limit_s.unwrap_or(HORIZON_S)
    }

    /// The deadline has come: a chosen time limit is an end; a charge that never ended by itself
    /// (a supply that only just carries the load) has stalled.
    fn timed_out(self) -> Charge {
        let chosen = self.stops.limit_s.is_some();
        let total_s = chosen.then_some(self.state.t_s);
        self.close(if chosen { EndReason::TimeLimit } else { EndReason::Stalled }, total_s)
    }

    fn close(mut self, reason: EndReason, total_s: Option<f64>) -> Charge {
        self.charge.reason = reason;
        self.charge.total_s = total_s;
        self.charge.end = self.state;
        self.charge
    }

    fn record(&mut self) {
        if self.charge.moments.len() == MAX_POINTS {
            thin::out(&mut self.charge.moments);
        }
        self.charge.moments.push(Moment {
            t_s: self.state.t_s,
            pack_v: self.pack_v,
            current_a: self.point.pack_a,
            soc: self.state.soc,
            limit: self.point.limit,
            open_v: self.feed.as_ref().map_or(0.0, |feed| feed.supply.open_v),
        });
    }
}
