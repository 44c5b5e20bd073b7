//! When somebody comes to turn a knob, and what they do to the charge.

use super::nudge::MOST_TURNS;
use super::{Attempt, EVENT_S, Run};
use crate::codes::LimitCode;
use crate::physics::operating::operating_point;

impl Run<'_, '_> {
    /// How long until somebody who comes by the clock comes, s; they are met by the length of the step.
    pub(super) fn until_visit(&self) -> f64 {
        let rule = self.fed.and_then(|fed| fed.nudge).zip(self.feed.as_ref()).filter(|(rule, feed)| !rule.done(feed));
        if let Some((rule, _)) = rule
            && self.state.t_s < rule.attended_s
            && rule.interval_s.is_some()
        {
            // They go once the time is up that they were to stay.
            return (rule.attended_s - self.state.t_s).max(2.0 * EVENT_S);
        }
        match rule.and_then(|(rule, _)| rule.comes_every_s(self.state.t_s)) {
            Some(interval_s) if self.charge.nudges.len() < MOST_TURNS => {
                (interval_s - (self.state.t_s - self.looked_s)).max(2.0 * EVENT_S)
            }
            _ => f64::INFINITY,
        }
    }

    /// How far the current has yet to fall, A, and how long nobody turns the knob yet, s, at a step's end: below
    /// nothing where both are past. `None` where no current calls for a turn.
    pub(super) fn until_due(&self, next: &Attempt) -> Option<(f64, f64)> {
        let (rule, feed) = self.fed.and_then(|fed| fed.nudge).zip(self.feed.as_ref())?;
        if rule.comes_every_s(self.state.t_s).is_some() || self.charge.nudges.len() >= MOST_TURNS {
            return None;
        }
        let load_a = self.load.current_a(next.pack_v);
        let (fallen_a, after_s) = rule.due_at(feed, (next.pack_v, load_a), self.in_vain)?;
        Some((next.point.pack_a + load_a - fallen_a, after_s - (next.state.t_s - self.looked_s)))
    }

    /// Whether the knob is to be turned within a step.
    pub(super) fn visit_due(&self, next: &Attempt) -> bool {
        self.until_due(next).is_some_and(|(falls_a, waits_s)| falls_a <= 0.0 && waits_s <= 0.0)
    }

    /// Turns the knob when it is time to look.
    pub(super) fn visit(&mut self) {
        let Some(rule) = self.fed.and_then(|fed| fed.nudge) else {
            return;
        };
        let t_s = self.state.t_s;
        let due = match rule.comes_every_s(t_s) {
            Some(interval_s) => {
                self.feed.as_ref().is_some_and(|feed| !rule.done(feed)) && t_s - self.looked_s + 0.1 >= interval_s
            }
            None => self.visit_due(&self.here()),
        };
        let Some(feed) = &mut self.feed else {
            return;
        };
        if self.charge.nudges.len() >= MOST_TURNS {
            // Nobody turns it any further: it tapers where it stands.
            feed.hold.code = LimitCode::SetVoltage;
            return;
        }
        if !due {
            return;
        }
        self.looked_s = t_s;
        self.in_vain += 1;
        let now = self.model.now(&self.state);
        if let Some(nudge) = rule.turn(feed, now, self.load, t_s) {
            self.in_vain = 0;
            self.charge.nudges.push(nudge);
            self.point = operating_point(now, self.feed.as_ref(), self.load, None);
            self.slope_a_s = 0.0;
            self.pack_v = now.e_v + now.r_ohm * self.point.pack_a;
            self.flows = self.flowing();
            self.record();
        }
    }
}
