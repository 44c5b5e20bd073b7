//! The hand-turned schedule: when to turn a voltage (or a duty) to what.

use crate::codes::LimitCode;
use crate::physics::operating::{Balance, Feed, LoadDraw, Path, Terminals, Thevenin};

/// A knob is turned again when the current has fallen to this share of what it is turned to.
const FALLEN_TO: f64 = 0.6;
/// Somebody who stays by it turns no more often than this, s.
const LEAST_S: f64 = 60.0;
/// More turns than these are never planned.
pub(crate) const MOST_TURNS: usize = 100;

/// Half the last digit of a display that shows hundredths, A: so much more may flow than is read.
const UNREAD_A: f64 = 0.005;
/// Of a small current no more than this share is given away to a display.
const UNREAD_SHARE: f64 = 0.05;
/// The step in which a duty is turned.
const DUTY_STEP: f64 = 0.01;

/// How coarsely a knob is turned.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Coarse {
    /// About so many turns over the whole charge.
    pub(crate) turns: f64,
    /// No longer apart than this, s.
    pub(crate) apart_s: f64,
}

impl Coarse {
    /// Lead rises by a sixth and takes long anyway: a few turns do.
    pub(crate) const LEAD: Self = Self { turns: 12.0, apart_s: 3600.0 };
    /// Every other pack is worth being looked after every few minutes.
    pub(crate) const USUAL: Self = Self { turns: 80.0, apart_s: 300.0 };
}

/// How a stage without current control is turned up by hand.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct NudgeRule {
    /// How often the person looks, s; `None`: they stay, and turn when the current has fallen.
    pub(crate) interval_s: Option<f64>,
    /// Until then they stay in any case, s.
    pub(crate) attended_s: f64,
    /// How long the charge would take with all that may flow, s.
    pub(crate) least_charge_s: f64,
    /// About so many turns are worth while for such a pack, and how long they are apart at most, s.
    pub(crate) coarse: Coarse,
    /// What it is turned to, A in total; never above any limit.
    pub(crate) target_a: f64,
    /// Never past this, V where it is set.
    pub(crate) top_v: f64,
    /// The lowest it can be turned to, V.
    pub(crate) least_v: f64,
    /// By so much lower the pack may stand than it is thought to, V.
    pub(crate) lower_by_v: f64,
    pub(crate) step_v: f64,
    /// Of a PWM stage, whose duty is turned instead: never past this.
    pub(crate) top_duty: Option<f64>,
    /// From where a capacitor pack's balancers must carry the current.
    pub(crate) balance: Option<Balance>,
}

/// One planned turn.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Nudge {
    pub(crate) at_s: f64,
    /// What it is set to, V.
    pub(crate) set_v: f64,
    /// The same as a share of the input voltage, where that is what is turned.
    pub(crate) duty: Option<f64>,
    /// What flows right after, A in total.
    pub(crate) current_a: f64,
}

impl Nudge {
    /// Puts a knob or a duty where this turn leaves it.
    pub(crate) fn set(&self, feed: &mut Feed) {
        match self.duty {
            Some(duty) => feed.turn_duty(duty),
            None => feed.hold.volts = self.set_v - feed.diode_v,
        }
    }
}

impl NudgeRule {
    /// Whether it is turned as far as it goes.
    pub(crate) fn done(&self, feed: &Feed) -> bool {
        let (top_v, step_v) = self.scale(feed);
        self.set_of(feed) >= top_v - 0.5 * step_v
    }

    /// As far as it goes and one step, V where it is set; a duty's as shares of what the source stands at.
    pub(crate) fn scale(&self, feed: &Feed) -> (f64, f64) {
        let open_v = feed.supply.open_v;
        self.top_duty.map_or((self.top_v, self.step_v), |duty| (duty * open_v, DUTY_STEP * open_v))
    }

    /// Between what is turned and the pack, Ω.
    fn ohm(&self, feed: &Feed) -> Option<f64> {
        if self.top_duty.is_some() { feed.drive.map(|drive| drive.ohm) } else { Some(feed.hold.ohm) }
    }

    /// What is set now, V.
    fn set_of(&self, feed: &Feed) -> f64 {
        match (self.top_duty, feed.path) {
            (Some(_), Path::Duty(duty)) => duty * feed.supply.open_v,
            _ => feed.hold.volts + feed.diode_v,
        }
    }

    /// At which total it is time to turn, A, and how long after the last look, s; `now`: the pack's volts and its
    /// load's amps. `None` once there is nothing left to turn.
    /// `in_vain`: how many looks in a row moved nothing; who finds that looks half as often.
    pub(crate) fn due_at(&self, feed: &Feed, now: (f64, f64), in_vain: u32) -> Option<(f64, f64)> {
        let after_s = self.least_s() * f64::from(1 << in_vain.min(12));
        let (pack_v, load_a) = now;
        (!self.done(feed)).then(|| (FALLEN_TO * self.target_at(feed, pack_v, load_a), after_s))
    }

    /// Somebody who stays turns no more often than this, s.
    fn least_s(&self) -> f64 {
        (self.least_charge_s / self.coarse.turns).clamp(LEAST_S, self.coarse.apart_s)
    }

    /// How often they come by the clock at some time of the charge, s; `None` while they stay.
    pub(crate) fn comes_every_s(&self, t_s: f64) -> Option<f64> {
        self.interval_s.filter(|_| t_s >= self.attended_s)
    }

    /// The balancers, if they have begun, or would within one more step of the knob, or before more than they
    /// carry could flow: waiting for the last of it takes long and spares nothing.
    fn balancing(&self, feed: &Feed, pack_v: f64) -> Option<Balance> {
        let ohm = self.ohm(feed).unwrap_or(0.0);
        self.balance
            .filter(|balance| pack_v >= balance.from_v - self.scale(feed).1.max(1e-3).max(balance.current_a * ohm))
    }

    /// What may be turned up to while the pack stands at some volts, A in total.
    fn target_at(&self, feed: &Feed, pack_v: f64, load_a: f64) -> f64 {
        self.balancing(feed, pack_v).map_or(self.target_a, |balance| self.target_a.min(balance.current_a + load_a))
    }

    /// Never past this, V before the diode: until the balancers work no higher than where their current is
    /// all that flows once they begin, whoever is there to see it.
    fn cap_v(&self, feed: &Feed, pack_v: f64, load_a: f64, ohm: f64) -> f64 {
        match self.balance {
            Some(balance) if self.balancing(feed, pack_v).is_none() => {
                balance.from_v + (balance.current_a + load_a).min(self.target_a) * ohm
            }
            _ => f64::INFINITY,
        }
    }

    /// Turns the knob so that the wanted current flows at this moment, a whole step below rather
    /// than above; `None` where it would not move.
    pub(crate) fn turn(&self, feed: &mut Feed, now: Thevenin, load: LoadDraw, at_s: f64) -> Option<Nudge> {
        let terminals = Terminals::new(now, load);
        let ohm = self.ohm(feed)?;
        let (top_v, step_v) = self.scale(feed);
        let before_v = if at_s > 0.0 { self.set_of(feed) } else { 0.0 };
        let flowing_a = terminals.at_line(before_v - feed.diode_v, ohm).max(0.0);
        let pack_v = if at_s > 0.0 { terminals.volts(flowing_a) } else { now.e_v };
        let load_a = load.current_a(pack_v);
        let target_a = self.target_at(feed, pack_v, load_a);
        let target_a = target_a - UNREAD_A.min(UNREAD_SHARE * target_a);
        // A duty is set before anything is connected: the pack may stand lower than thought.
        let lower_v = if self.top_duty.is_some() && at_s <= 0.0 { self.lower_by_v } else { 0.0 };
        let stepped_v = |ohm: f64| {
            let wanted_v =
                (terminals.volts(target_a) + target_a * ohm - lower_v).min(self.cap_v(feed, pack_v, load_a, ohm));
            let stepped_v = ((wanted_v + feed.diode_v) / step_v + 1e-6).floor() * step_v;
            stepped_v.min(top_v).max(self.least_v)
        };
        // Behind a switch the source's side counts with the square of the duty that is sought: come to it
        // from below, so that never more flows than is wanted.
        let set_v = match self.top_duty {
            Some(_) => (0..3).fold(0.0, |set_v, _| stepped_v(feed.ohm_at_duty(set_v / feed.supply.open_v))),
            None => stepped_v(ohm),
        };
        if set_v <= before_v + 1e-9 {
            return None;
        }
        let duty = self.top_duty.map(|_| set_v / feed.supply.open_v);
        let mut nudge = Nudge { at_s, set_v, duty, current_a: 0.0 };
        nudge.set(feed);
        nudge.current_a = terminals.at_line(set_v - feed.diode_v, self.ohm(feed)?).max(0.0);
        if duty.is_some() {
            let code = if self.done(feed) { LimitCode::Limiter } else { LimitCode::Nudge };
            if let Some(drive) = &mut feed.drive {
                drive.code = code;
            }
            return Some(nudge);
        }
        if !self.done(feed) {
            feed.hold.code = LimitCode::Nudge;
        } else if feed.hold.code == LimitCode::Nudge {
            feed.hold.code = LimitCode::SetVoltage;
        }
        Some(nudge)
    }
}
