//! How a step is cut back so that it ends on the event that it passes.

use super::{Attempt, EVENT_MOST_S, EVENT_S, EVENT_SHARE, MARK_SOC, Run};
use crate::codes::LimitCode;
use crate::physics::operating::{Near, Terminals, each_limit};

/// So many steps are tried where the event should be; after that each halves what is left.
const AIMED: usize = 6;
/// One is tried so far beside where the event should be, as a share of what it is to be found to: on the side
/// that was not come to from there.
const BESIDE: f64 = 0.4;

impl Run<'_, '_> {
    /// Whether a step passes something it must land on that does not end the charge.
    pub(super) fn passes_mark(&self, next: &Attempt) -> bool {
        next.point.limit != self.point.limit
            || (self.charge.to_80_s.is_none() && next.state.soc >= MARK_SOC)
            || self.visit_due(next)
    }

    /// The shortest step that still passes the event.
    ///
    /// Between a step that is short of it and one that passes it, most of what is watched for lies nearly on a
    /// straight line: the next is tried where that crosses, a little past it and then a little short of it, which
    /// leaves no more between them than is asked for. What lies on none is found by halving.
    pub(super) fn land(&self, h_s: f64, next: Attempt) -> (f64, Attempt) {
        let (mut short_s, mut past_s, mut past) = (0.0, h_s, next);
        let mut short = self.here();
        let found_s = EVENT_S.max(self.stops.roughly * (EVENT_SHARE * h_s).min(EVENT_MOST_S));
        let mut beside_s = BESIDE * found_s;
        for tried in 0.. {
            let between_s = past_s - short_s;
            if between_s <= found_s {
                break;
            }
            // What nobody can tell, where a load pulls an empty pack to nothing, is found by halving.
            let share = if tried < AIMED { self.crossing(&short, &past) } else { None };
            let share = share.filter(|share| share.is_finite());
            let aimed_s = share.map_or(0.5 * between_s, |share| share * between_s + beside_s);
            let try_s = short_s + aimed_s.clamp(0.2 * found_s, between_s - 0.2 * found_s);
            let share = (try_s - short_s) / between_s;
            let guess_a = short.point.pack_a + share * (past.point.pack_a - short.point.pack_a);
            let middle = self.attempt(try_s, guess_a);
            if self.passes_mark(&middle) || self.ended(&middle).is_some() {
                (past_s, past, beside_s) = (try_s, middle, -BESIDE * found_s);
            } else {
                (short_s, short, beside_s) = (try_s, middle, BESIDE * found_s);
            }
        }
        (past_s, past)
    }

    /// At which share of the way from a step short of the event to one past it the first of those is come to that
    /// lie on a straight line; `None` where none of them does.
    fn crossing(&self, short: &Attempt, past: &Attempt) -> Option<f64> {
        let stops = self.stops;
        // What is watched for, and where it is come to: it rises from below nothing to above it.
        let above = |pick: fn(&Attempt) -> f64, at: f64| Some((pick(short) - at, pick(past) - at));
        let soc = |at: f64| above(|a| a.state.soc, at);
        let volts = |at: f64| above(|a| a.pack_v, at);
        let changed = (past.point.limit != self.point.limit).then(|| self.gap(short, past)).flatten();
        let tapered = stops.taper_a.filter(|_| past.point.limit.tapers());
        [
            soc(MARK_SOC).filter(|_| self.charge.to_80_s.is_none()),
            soc(stops.goal_soc).filter(|_| stops.ends_at_goal),
            stops.stop_v.and_then(volts),
            stops.cut_off_v.and_then(volts),
            tapered.and_then(|at| above(|a| -a.point.pack_a, -at)),
            changed,
        ]
        .into_iter()
        .flatten()
        .filter_map(share)
        .chain(self.due(short, past))
        .reduce(f64::min)
    }

    /// The same of a knob that is to be turned: once the current has fallen and somebody looks again.
    fn due(&self, short: &Attempt, past: &Attempt) -> Option<f64> {
        let (before, after) = (self.until_due(short)?, self.until_due(past)?);
        let passed =
            |(before, after): (f64, f64)| if before <= 0.0 { 0.0 } else { share((-before, -after)).unwrap_or(1.0) };
        (after.0 <= 0.0 && after.1 <= 0.0).then(|| passed((before.0, after.0)).max(passed((before.1, after.1))))
    }

    /// How much more the limit that holds first lets through than the one that holds then, A, at either step.
    fn gap(&self, short: &Attempt, past: &Attempt) -> Option<(f64, f64)> {
        let (first, then) = (short.point.limit, past.point.limit);
        let at = |step: &Attempt| Some(self.alone_a(first, step)? - self.alone_a(then, step)?);
        at(short).zip(at(past))
    }

    /// What one limit by itself lets through at a step's end, A at the terminals.
    fn alone_a(&self, code: LimitCode, step: &Attempt) -> Option<f64> {
        let near = Near { total_a: step.point.pack_a + self.load.current_a(step.pack_v), pack_v: step.pack_v };
        let mut least_a: Option<f64> = None;
        each_limit(&Terminals::new(step.line, self.load), self.feed.as_ref()?, Some(near), |offered, a| {
            if offered == code {
                least_a = Some(least_a.map_or(a, |least_a| least_a.min(a)));
            }
        });
        least_a
    }
}

/// Where on the way from below nothing to above it a straight line crosses it.
fn share((before, after): (f64, f64)) -> Option<f64> {
    (before < 0.0 && after >= 0.0).then(|| before / (before - after))
}
