//! How long a charge takes at the least and at the most, and where it may end.

use crate::chain::reckoning::Reckoning;
use crate::formats::{EndReason, TimeDoc};
use crate::parts::source::{MAINS_HIGH, MAINS_LOW, Source};
use crate::physics::charge::{Charge, Fed, Model, STEADY_S, Scale, Stops};

/// One corner of what may be.
struct Corner {
    soc: f64,
    resistance: f64,
    capacity: f64,
    /// Whether everything else helps too.
    early: bool,
}

/// Where it may end, where a few millivolts of what feeds it or of its curve move that by a twentieth.
pub(super) fn end_soc(reckoning: &Reckoning<'_>, charge: &Charge) -> Option<(f64, f64)> {
    /// As good as a port or a display is, V, and no cell's curve is known better than this.
    const PORT_V: f64 = 0.01;
    const CELL_V: f64 = 0.01;
    const WIDE: f64 = 0.05;
    let chosen = reckoning.chosen?;
    let last = charge.moments.last().filter(|m| m.limit.tapers())?;
    let pack = &reckoning.plan.pack;
    let model = Model::new(pack.body(), &reckoning.found.offsets, true, Scale::NOMINAL);
    let spread_v = PORT_V + pack.profile.curve_spread_v.max(CELL_V) * f64::from(pack.series);
    let held = |by_v: f64| model.soc_held(last.pack_v + by_v, last.current_a.max(0.0));
    if charge.reason == EndReason::Goal || chosen.stops.goal_soc < reckoning.found.soc {
        return None;
    }
    let low = held(-spread_v).min(charge.end.soc).max(reckoning.found.soc.min(charge.end.soc));
    let high = held(spread_v).max(charge.end.soc);
    (high - low > WIDE).then_some((low, high))
}

/// The likeliest time with the shortest and longest it may be: from the highest and lowest start, a pack better
/// and worse than thought, the mains high and low, a relay that opens early and late.
pub(super) fn times(reckoning: &Reckoning<'_>, charge: &Charge) -> TimeDoc {
    /// Of its nameplate a sound pack holds so much at the least and at the most.
    const LESS: f64 = 0.94;
    const MORE: f64 = 1.04;
    let (better, worse) = reckoning.plan.pack.resistance_spread();
    // Run down by a load the worse pack is done first.
    let run_down = reckoning.chosen.is_none();
    let (high, low) = (reckoning.found.high, reckoning.found.low);
    let early = |soc: f64, resistance: f64, capacity: f64| Corner { soc, resistance, capacity, early: true };
    let late = |soc: f64, resistance: f64, capacity: f64| Corner { soc, resistance, capacity, early: false };
    // A better pack is usually done sooner, but its taper may also last longer: both count.
    let corners: [Corner; 4] = if run_down {
        [early(low, worse, 0.92), late(high, better, 1.03), early(low, 1.0, 0.92), late(high, 1.0, 1.03)]
    } else {
        [early(high, better, LESS), late(low, worse, MORE), early(high, worse, LESS), late(low, better, MORE)]
    };
    // Whoever turns a knob evens out the rest: two corners do, of charges that cost most.
    let by_hand = reckoning.chosen.is_some_and(|chosen| chosen.nudge.is_some());
    let corners = corners.into_iter().take(if by_hand { 2 } else { 4 });
    let bounds: Vec<Over> = corners.filter_map(|corner| at_corner(reckoning, charge, &corner)).collect();
    // Whoever turns a knob comes a little before or well after the table; a hundredth of a duty is coarse.
    let (sooner, later) = match reckoning.chosen.and_then(|chosen| chosen.nudge) {
        Some(rule) if rule.top_duty.is_some() => (0.85, 1.5),
        Some(_) => (0.92, 1.2),
        // No taper of lead is known better than that.
        None if reckoning.plan.pack.profile.traits.absorbs => (0.94, 1.0),
        None => (1.0, 1.0),
    };
    // What a switch does is no held voltage.
    let held = reckoning.chosen.filter(|chosen| chosen.nudge.is_none_or(|rule| rule.top_duty.is_none()));
    let longest_s = held.and_then(|chosen| chosen.stops.absorption_s);
    let span = charge.total_s.map(|total_s| {
        let likely = Over::of(reckoning, charge, total_s);
        let all = || bounds.iter().copied().chain([likely]);
        let low_s = all().map(|over| sooner * over.total_s).fold(f64::INFINITY, f64::min);
        (low_s, all().map(|over| over.later(later, longest_s)).fold(total_s, f64::max))
    });
    TimeDoc {
        to_cv_s: charge.to_cv_s,
        to_80_s: charge.to_80_s,
        total_s: charge.total_s,
        total_low_s: span.map(|(low_s, _)| low_s),
        total_high_s: span.map(|(_, high_s)| high_s),
    }
}

/// When a charge is over, and when it came to its voltage, s.
#[derive(Clone, Copy)]
struct Over {
    total_s: f64,
    to_cv_s: Option<f64>,
    /// It was over because its current no longer fell.
    steady: bool,
}

impl Over {
    fn of(reckoning: &Reckoning<'_>, charge: &Charge, total_s: f64) -> Self {
        let stops = reckoning.chosen.map(|chosen| chosen.stops).filter(|stops| stops.absorption_s.is_some());
        let above =
            |stop_a: f64| charge.moments.last().is_some_and(|m| m.limit.tapers() && m.current_a > 1.001 * stop_a);
        let steady = stops.is_some_and(|stops| stops.taper_a.is_none_or(above));
        Self { total_s, to_cv_s: charge.to_cv_s, steady }
    }

    /// The same by somebody later than the table, s: at its voltage it is held no longer than the card says all the same.
    /// An hour in which nothing falls begins whenever one looked last.
    fn later(self, times: f64, longest_s: Option<f64>) -> f64 {
        let Some((to_cv_s, longest_s)) = self.to_cv_s.zip(longest_s) else { return times * self.total_s };
        let held_s = self.total_s - to_cv_s;
        let looked_s = if self.steady { STEADY_S } else { 0.0 };
        times * to_cv_s + (times * held_s + looked_s).min(longest_s.max(held_s))
    }
}

/// How long it takes at one corner of what may be.
fn at_corner(reckoning: &Reckoning<'_>, charge: &Charge, corner: &Corner) -> Option<Over> {
    /// Capacitors may differ a little more than they are told to.
    const UNLIKE_AT_MOST: f64 = 1.2;
    let scale = Scale {
        resistance: corner.resistance,
        capacity: corner.capacity,
        unlike: if corner.early { 0.0 } else { UNLIKE_AT_MOST },
    };
    let other = match reckoning.chosen {
        Some(chosen) => {
            let mut feed = chosen.built.feed;
            if reckoning.plan.source.as_ref().is_some_and(Source::hangs_on_mains) {
                feed.follow(feed.supply.open_v * if corner.early { MAINS_HIGH } else { MAINS_LOW });
            }
            if let (Some(folds), true) = (feed.folds, corner.early) {
                // It gives its rating, not the share one plans with.
                let headroom = reckoning.plan.source.as_ref().map_or(1.0, Source::headroom);
                feed.folds = Some(folds.at_rating(headroom));
                feed.current_a /= headroom;
            }
            let error_v = reckoning.plan.cut_off.map_or(0.0, |relay| relay.error_v);
            let cut_off_v = chosen.stops.cut_off_v.map(|v| if corner.early { v - error_v } else { v + error_v });
            let stops = Stops { cut_off_v, roughly: reckoning.roughly(), ..chosen.stops };
            reckoning.run_with(corner.soc, scale, Some(Fed { feed: &feed, ..reckoning.fed(chosen) }), &stops)
        }
        None => reckoning.run(corner.soc, scale),
    };
    // A worse pack that ends short of the goal is done when its current has fallen, too.
    let total_s = charge.total_s.and(other.total_s.or(other.tapered_s))?;
    Some(Over::of(reckoning, &other, total_s))
}
