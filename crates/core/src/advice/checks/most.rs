//! The most that flows where, at any voltage the pack may come to while the settings are obeyed.
//!
//! The computed charge shows the likeliest course only. Nothing may pass a rating at any other either, so
//! the chain is asked at every voltage between the pack's start and the charge voltage.

use crate::chain::feed::Control;
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::parts::source::{MAINS_HIGH, Source};
use crate::physics::charge::{Charge, Model, Scale, State};
use crate::physics::operating::{Feed, LoadDraw, Thevenin, operating_point};

/// Voltages that are asked between the start and the charge voltage.
const ASKED: u32 = 12;
/// Of terminals that stand at a voltage whatever flows, Ω.
const STIFF_OHM: f64 = 1e-9;
/// A charge voltage that is never reached, V.
const NOWHERE_V: f64 = 1e6;

/// The greatest of each, from the first moment to the last.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(crate) struct Most {
    /// Through the lead to the pack, the load's share included, A.
    pub(crate) total_a: f64,
    /// Into the pack, A.
    pub(crate) pack_a: f64,
    /// Out of the source, A and W.
    pub(crate) source_a: f64,
    pub(crate) source_w: f64,
    /// Out of what stands before the pack, W.
    pub(crate) output_w: f64,
}

impl Most {
    fn take(&mut self, feed: &Feed, pack_v: f64, pack_a: f64, load_a: f64) {
        let total_a = (pack_a + load_a).max(0.0);
        let flows = feed.flows(pack_v, total_a);
        self.total_a = self.total_a.max(total_a);
        self.pack_a = self.pack_a.max(pack_a);
        self.source_a = self.source_a.max(flows.source_a);
        self.source_w = self.source_w.max(flows.source_w);
        self.output_w = self.output_w.max(flows.output_w);
    }
}

/// Over the computed charge and over every voltage from the start to the charge voltage.
pub(crate) fn most(plan: &Plan, found: &Identified, chosen: &Chosen, charge: &Charge) -> Most {
    let mut most = Most::default();
    let mut feed = chosen.built.feed;
    for m in &charge.moments {
        feed.follow(m.open_v);
        most.take(&feed, m.pack_v, m.current_a, plan.load.current_a(m.pack_v));
    }
    // What nothing holds follows from the pack's resistance, which may be less, and its charge, which may be lower.
    let loose = plan.charger.is_none() && matches!(chosen.built.control, Control::Free | Control::Held);
    let (soc, scale) = if loose {
        (found.low, Scale { resistance: plan.pack.resistance_spread().0, ..Scale::NOMINAL })
    } else {
        (found.soc, Scale::NOMINAL)
    };
    let start = Model::new(plan.pack.body(), &found.offsets, true, scale).now(&State::rested(soc));
    let top_v = chosen.built.feed.hold.volts.max(start.e_v);
    // A charger gives what it is set to, or rated for, until its own voltage stops it: where the pack's
    // resistance would stop it sooner is not known well enough to build on.
    let holds = plan.charger.is_some() && matches!(chosen.built.control, Control::Dial | Control::Held);
    let r_ohm = if holds { STIFF_OHM } else { start.r_ohm };
    // At the first moment it still stands where it rests, a little below where a charge takes it.
    let from_v = if holds { start.e_v.min(found.rest_v) } else { start.e_v };
    let open_v = chosen.built.feed.supply.open_v;
    let source = plan.source.as_ref();
    // What sinks gives the most amps for the same watts then; what rises with the mains gives more of itself.
    let low_v = source.map(|source| source.lowest_v(open_v)).filter(|v| *v < open_v);
    let high_v = source.filter(|source| source.hangs_on_mains()).map(|_| MAINS_HIGH * open_v);
    // What a supply holds back by itself is its rating, not the share of it that one plans with.
    let own = |code: LimitCode| loose && code == LimitCode::SourceCurrent;
    let headroom = source.map_or(1.0, Source::headroom);
    let held = chosen.built.control == Control::Held;
    let loads = [Some(plan.load), Some(LoadDraw::None).filter(|_| held && plan.load != LoadDraw::None)];
    let ways = [Some(open_v), low_v, high_v].into_iter().flatten();
    for (open_v, load) in ways.flat_map(|v| loads.into_iter().flatten().map(move |load| (v, load))) {
        let mut feed = chosen.built.feed;
        feed.follow(open_v);
        if own(feed.current_code) {
            feed.current_a /= headroom;
        }
        feed.folds = feed.folds.map(|folds| folds.at_rating(headroom));
        let hold_code = feed.hold.code;
        if holds {
            feed.hold.volts = NOWHERE_V;
        }
        let mut take = |e_v: f64| {
            let point = operating_point(Thevenin { e_v, r_ohm }, Some(&feed), load, None);
            let pack_v = e_v + r_ohm * point.pack_a;
            most.take(&feed, pack_v, point.pack_a, load.current_a(pack_v));
            point.limit == hold_code
        };
        for n in 0..=ASKED {
            take(from_v + (top_v - from_v) * f64::from(n) / f64::from(ASKED));
        }
        // Most watts flow where the charge voltage is just reached.
        let (mut low_v, mut high_v) = (start.e_v, top_v);
        for _ in 0..if holds { 0 } else { 16 } {
            let middle_v = 0.5 * (low_v + high_v);
            if take(middle_v) { high_v = middle_v } else { low_v = middle_v }
        }
    }
    most
}
