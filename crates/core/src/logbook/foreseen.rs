//! What each look of a charge was to show before it taught anything, and which looks may teach.
//!
//! A pack that was believed is followed by the current that was read. Its start, its resistance, its capacity
//! and the charge between two looks are each moved as far as they may be off: what the terminals show in between
//! is explained. What should flow is told twice: by the pack, and by the chain at the volts that were read.

use super::course::{Drive, Lean, Look, states, terminals};
use super::refit::{Fitted, deviation_v};
use super::slack::{slack_a, slack_v};
use crate::chain::settings::Chosen;
use crate::lines::flow;
use crate::parts::charger::Charger;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::physics::charge::{Charge, Model, State};
use crate::physics::operating::{Feed, LoadDraw, Thevenin, operating_point};

/// A pack that has aged unseen has so many times the resistance, as a logarithm.
const AGED: f64 = 1.6;
/// … and holds so much less, as a logarithm.
const FADED: f64 = -0.5;
/// A pack that was read before may still have so much more resistance, as a logarithm.
const GROWS: f64 = 0.4;
/// Nearly no resistance, Ω: what a chain gives at volts that are read, whatever stands behind them.
const STIFF_OHM: f64 = 1e-6;

/// From the least to the most that can be explained, and what is likeliest.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Span {
    pub(crate) low: f64,
    pub(crate) at: f64,
    pub(crate) high: f64,
}

/// What one look was to show.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Foreseen {
    pub(crate) volts: Span,
    /// Into the pack, A.
    pub(crate) amps: Span,
}

/// Why a look may not teach.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Doubt {
    /// Its volts lie outside of what any such pack shows.
    Volts,
    /// Next to nothing flows, or it flows backwards.
    Nothing,
    /// Far more flows than the chain gives.
    TooMuch,
}

/// Whoever foresees: a plan with a chain, and how the knob was to be turned.
#[derive(Clone, Copy)]
pub(crate) struct Foresight<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) found: &'a Identified,
    pub(crate) chosen: &'a Chosen,
    pub(crate) planned: &'a Charge,
}

/// What may be off of a pack, one at a time: start of charge, resistance and capacity as logarithms.
struct Moves {
    start: (f64, f64),
    resistance: (f64, f64),
    capacity: (f64, f64),
}

impl Moves {
    /// Before any reading a pack may have aged since it was known; after some it is as they show.
    fn of(fitted: &Fitted) -> Self {
        let [start, resistance, capacity] = fitted.deviations.map(|sd| 2.0 * sd);
        let (aged, faded) = if fitted.readings == 0 { (AGED, FADED) } else { (GROWS, -0.5 * GROWS) };
        Self {
            start: (-start, start),
            resistance: (-resistance, resistance.max(aged)),
            capacity: ((-capacity).min(faded), capacity),
        }
    }
}

/// A pack with one of its unknowns moved.
fn moved(fitted: &Fitted, which: usize, by: f64) -> Fitted {
    let mut other = *fitted;
    other.values[which] += by;
    other.values[0] = other.values[0].clamp(0.0, 1.0);
    other
}

impl Foresight<'_> {
    fn model(&self, fitted: &Fitted) -> Model<'_> {
        Model::new(self.plan.pack.body(), &self.found.offsets, true, fitted.scale())
    }

    /// What each look was to show, of a pack as it is thought to be.
    pub(crate) fn of(&self, fitted: &Fitted, looks: &[Look], drive: &Drive) -> Vec<Foreseen> {
        let times: Vec<f64> = looks.iter().map(|look| look.t_s).collect();
        let course = |fitted: &Fitted, lean: Lean| {
            let model = self.model(fitted);
            let drive = drive.leaning(lean);
            let states = states(&model, fitted.values[0], &drive, &times);
            let volts = terminals(&model, &states, &drive, &times);
            (states, volts)
        };
        let moves = Moves::of(fitted);
        let (here, at_v) = course(fitted, Lean::Between);
        let resistive = (moved(fitted, 1, moves.resistance.0), moved(fitted, 1, moves.resistance.1));
        let other = |which: usize, by: f64| course(&moved(fitted, which, by), Lean::Between);
        let (early, late) = (other(0, moves.start.0), other(0, moves.start.1));
        let (easy, hard) = (other(1, moves.resistance.0), other(1, moves.resistance.1));
        let (large, small) = (other(2, moves.capacity.1), other(2, moves.capacity.0));
        let (least, most) = (course(fitted, Lean::Least), course(fitted, Lean::Most));
        let spread_v = self.plan.pack.profile.curve_spread_v * f64::from(self.plan.pack.series);
        (0..looks.len())
            .map(|n| {
                let meter_v = 3.0 * deviation_v(at_v[n], spread_v);
                let below = [&early.1, &easy.1, &large.1, &least.1].map(|one| (at_v[n] - one[n]).max(0.0));
                let above = [&late.1, &hard.1, &small.1, &most.1].map(|one| (one[n] - at_v[n]).max(0.0));
                let together = |parts: [f64; 4]| parts.iter().map(|v| v * v).sum::<f64>().sqrt();
                let volts = Span {
                    low: at_v[n] - together(below) - meter_v,
                    at: at_v[n],
                    high: at_v[n] + together(above) + meter_v,
                };
                let fullest = (&resistive.1, if late.0[n].soc > small.0[n].soc { &late.0[n] } else { &small.0[n] });
                let emptiest = (&resistive.0, if early.0[n].soc < large.0[n].soc { &early.0[n] } else { &large.0[n] });
                let credible = looks[n].pack_v.is_none_or(|v| (volts.low..=volts.high).contains(&v));
                let amps = self.amps(&self.knob_at(looks, n), credible, [(fitted, &here[n]), fullest, emptiest]);
                Foreseen { volts, amps }
            })
            .collect()
    }

    /// What should flow into the pack at a look, A: at least what its pack would take and what its chain would give into
    /// the volts that were read, whichever is more; at most what either would.
    fn amps(&self, look: &Look, credible: bool, packs: [(&Fitted, &State); 3]) -> Span {
        let [here, fullest, emptiest] = packs;
        let into = |(fitted, state): (&Fitted, &State), feed: &Feed| {
            operating_point(self.model(fitted).now(state), Some(feed), self.plan.load, None).pack_a
        };
        let feed = self.feed(look);
        let at = into(here, &feed);
        let read_v = look.pack_v.filter(|_| credible);
        if let Some(rule) = self.chosen.nudge.filter(|_| look.set_v.is_none()) {
            // It is turned until so much flows, at another moment than planned and to other volts.
            let load_a = self.plan.load.current_a(look.pack_v.unwrap_or(0.0));
            return Span { low: flow::LEFT_ALONE.at * at, at, high: at.max(rule.target_a - load_a) };
        }
        let (mut low, mut high) = (into(fullest, &feed), into(emptiest, &feed).max(at));
        if let Some(volts) = read_v {
            high = high.max(self.given_at(&feed, volts - slack_v(volts)));
            // A charger that ends by itself gives nothing once it has, whatever the terminals have fallen back to.
            if !self.ends_by_itself() {
                low = low.max(self.given_at(&feed, volts + slack_v(volts)));
            }
        }
        Span { low: low.min(high), at: at.clamp(low.min(high), high), high }
    }

    /// A look with where the knob stands: as it was read then, or before and not to be turned since.
    fn knob_at(&self, looks: &[Look], n: usize) -> Look {
        let look = looks[n];
        let read = looks[..=n].iter().rev().find_map(|look| look.set_v.map(|v| (look.t_s, v)));
        let turned_s = self.planned.nudges.iter().rfind(|turn| turn.at_s <= look.t_s).map_or(0.0, |turn| turn.at_s);
        Look { set_v: read.filter(|(t_s, _)| *t_s >= turned_s).map(|(_, v)| v), ..look }
    }

    /// Whether whatever gives may have ended by itself at any time.
    fn ends_by_itself(&self) -> bool {
        self.plan.charger.as_ref().is_some_and(Charger::terminates) || self.chosen.stops.cut_off_v.is_some()
    }

    /// What the chain gives into terminals that stand at some volts, less what its load takes, A.
    fn given_at(&self, feed: &Feed, volts: f64) -> f64 {
        let stiff = Thevenin { e_v: volts, r_ohm: STIFF_OHM };
        let total_a = operating_point(stiff, Some(feed), LoadDraw::None, None).pack_a;
        total_a.max(0.0) - self.plan.load.current_a(volts)
    }

    /// The chain as it stands at a look: its knob where it was read, else where it was to be turned to last.
    fn feed(&self, look: &Look) -> Feed {
        let mut feed = self.chosen.built.feed;
        if let Some(set_v) = look.set_v {
            feed.hold.volts = set_v - feed.diode_v;
        } else if let Some(turn) = self.planned.nudges.iter().rfind(|turn| turn.at_s <= look.t_s) {
            turn.set(&mut feed);
        }
        feed
    }

    /// What is wrong with a look, if anything is; a reading that somebody has made sure of is believed.
    pub(crate) fn doubt(&self, look: &Look, foreseen: &Foreseen) -> Option<Doubt> {
        let Foreseen { volts, amps } = foreseen;
        if let Some(a) = look.pack_a {
            if flows_not(a, amps) {
                return Some(Doubt::Nothing);
            }
            if !look.sure && a > flow::TWICE.at * amps.high + slack_a(amps.high) {
                return Some(Doubt::TooMuch);
            }
        }
        let outside = |v: f64| v < volts.low || v > volts.high;
        // What is charged by current and time tells too little by its volts.
        let told = !self.plan.pack.profile.traits.timed;
        (told && look.pack_v.is_some_and(outside)).then_some(Doubt::Volts)
    }
}

/// Whether next to nothing flows where something must, or it flows backwards.
pub(crate) fn flows_not(amps: f64, due: &Span) -> bool {
    let backwards = amps < -slack_a(0.0) && amps < due.low - slack_a(due.low);
    backwards || (due.low > 0.0 && amps <= flow::NOTHING.at * due.at && amps < 0.5 * due.low)
}
