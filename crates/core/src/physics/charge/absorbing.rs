//! A charge held at its voltage: how its current falls, and when that is the end of it.

use crate::codes::EndReason;

/// A current that stays above this share of itself has not fallen: less cannot be read off a display …
const STEADY: f64 = 0.95;
/// … for this long, s.
pub(crate) const STEADY_S: f64 = 3600.0;

/// A charge held at its voltage. Moments are pairs of s and A.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Absorbing {
    since_s: f64,
    /// When the current had last fallen by what can be read, and to what, A.
    fallen_s: f64,
    fallen_a: f64,
}

impl Absorbing {
    /// The voltage is reached.
    pub(super) fn begun((t_s, a): (f64, f64)) -> Self {
        Self { since_s: t_s, fallen_s: t_s, fallen_a: a }
    }

    /// Why it is over by the second of two moments though its current never came down to the stop: it no longer
    /// falls, or it was held as long as its kind ever is, s.
    pub(super) fn over_by(&self, now: (f64, f64), then: (f64, f64), longest_s: f64) -> Option<EndReason> {
        if then.0 - self.since_s >= longest_s {
            return Some(EndReason::TimeLimit);
        }
        let falls_to_a = STEADY * self.fallen_a;
        let steady_until_s = if then.1 >= falls_to_a { then.0 } else { falls_at_s(now, then, falls_to_a) };
        (steady_until_s - self.fallen_s >= STEADY_S).then_some(EndReason::Taper)
    }

    /// Follows its current from one moment to the next.
    pub(super) fn follow(&mut self, before: (f64, f64), now: (f64, f64)) {
        let a = now.1;
        if a >= STEADY * self.fallen_a {
            return;
        }
        // Each rung of a ladder is one fall that can be read, and the last was passed within the step: so it does
        // not matter where steps end.
        let rungs = if a > 0.0 { (a / self.fallen_a).log(STEADY).floor() } else { 1.0 };
        let fallen_a = self.fallen_a * STEADY.powf(rungs);
        (self.fallen_s, self.fallen_a) = (falls_at_s(before, now, fallen_a), fallen_a);
    }
}

/// When a current that falls on a straight line between two moments comes to some amps, s.
fn falls_at_s((from_s, from_a): (f64, f64), (to_s, to_a): (f64, f64), at_a: f64) -> f64 {
    let share = if from_a > to_a { (from_a - at_a) / (from_a - to_a) } else { 1.0 };
    from_s + share.clamp(0.0, 1.0) * (to_s - from_s)
}

#[cfg(test)]
mod tests {
    use super::*;

    const LONG_S: f64 = 1e9;

    #[test]
    fn an_hour_in_which_nothing_falls_ends_it_wherever_steps_end() {
        let held = Absorbing::begun((0.0, 1.0));
        assert_eq!(held.over_by((0.0, 1.0), (3599.0, 0.96), LONG_S), None);
        assert_eq!(held.over_by((0.0, 1.0), (3600.0, 0.95), LONG_S), Some(EndReason::Taper));
        // It fell by the end of the step, but only after the hour: 1 − 0.06 · 3600/7200 = 0.97.
        assert_eq!(held.over_by((0.0, 1.0), (7200.0, 0.94), LONG_S), Some(EndReason::Taper));
        assert_eq!(held.over_by((0.0, 1.0), (3600.0, 0.94), LONG_S), None);
    }

    #[test]
    fn one_step_of_many_rungs_is_as_many_steps() {
        let (mut at_once, mut bit_by_bit) = (Absorbing::begun((0.0, 1.0)), Absorbing::begun((0.0, 1.0)));
        at_once.follow((0.0, 1.0), (1000.0, 0.5));
        for n in 0..100 {
            let at = |n: i32| (10.0 * f64::from(n), 1.0 - 0.005 * f64::from(n));
            bit_by_bit.follow(at(n), at(n + 1));
        }
        assert!((at_once.fallen_a - bit_by_bit.fallen_a).abs() < 1e-9, "{at_once:?} {bit_by_bit:?}");
        assert!((at_once.fallen_s - bit_by_bit.fallen_s).abs() < 1e-6, "{at_once:?} {bit_by_bit:?}");
    }

    #[test]
    fn held_as_long_as_its_kind_ever_is_it_is_over() {
        let held = Absorbing::begun((100.0, 1.0));
        assert_eq!(held.over_by((100.0, 1.0), (1099.0, 0.5), 1000.0), None);
        assert_eq!(held.over_by((100.0, 1.0), (1100.0, 0.5), 1000.0), Some(EndReason::TimeLimit));
    }
}
