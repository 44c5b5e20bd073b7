//! The curve of a charge: what flows at each moment, and what each stage could deliver then.

use crate::chain::feed::Control;
use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::formats::{CurvePoint, Place};
use crate::physics::charge::{Charge, Moment};
use crate::physics::operating::{Feed, Line, Places, amps_into};
use crate::units::significant;

/// What flows past a limit by less is a matter of rounding.
const OVER: f64 = 0.995;

/// The charge's moments as points, each with what every stage of `chain` could deliver.
pub(crate) fn curve(reckoning: &Reckoning<'_>, charge: &Charge, chain: &[Place]) -> Vec<CurvePoint> {
    let mut standing: Option<Standing<'_>> = None;
    let point = |m: &Moment| {
        let load_a = reckoning.plan.load.current_a(m.pack_v);
        let total_a = m.current_a + load_a;
        // A battery that feeds the chain sinks as it goes; what does not sink is looked at once.
        if standing.as_ref().is_none_or(|standing| standing.feed.supply.open_v != m.open_v) {
            standing = reckoning.chosen.map(|chosen| Standing::new(chosen, chain, m.open_v));
        }
        let (stage_a, source) = match &standing {
            Some(standing) => (standing.amps(m, total_a, load_a), Some(standing.source(m, total_a))),
            None => (chain.iter().map(|at| if *at == Place::Load { load_a } else { -m.current_a }).collect(), None),
        };
        CurvePoint {
            source_v: source.map(|(v, _)| significant(v)),
            source_a: source.map(|(_, a)| significant(a)),
            t_s: significant(m.t_s),
            pack_v: significant(m.pack_v),
            current_a: significant(m.current_a),
            power_w: significant(m.pack_v * m.current_a),
            soc: significant(m.soc),
            limit: m.limit,
            overloaded: standing.as_ref().map_or(Vec::new(), |standing| standing.overloaded(m, total_a, &stage_a)),
            stage_a: stage_a.into_iter().map(significant).collect(),
        }
    };
    charge.moments.iter().map(point).collect()
}

/// The chain while its source stands at some volts.
struct Standing<'a> {
    chosen: &'a Chosen,
    places: Places,
    feed: Feed,
    stages: Vec<Stage>,
}

/// What a stage could deliver whatever the pack stands at.
struct Stage {
    at: Place,
    /// The least of its limits in amps, and in watts.
    current_a: f64,
    power_w: f64,
    drive: Option<Line>,
}

impl<'a> Standing<'a> {
    fn new(chosen: &'a Chosen, chain: &[Place], open_v: f64) -> Self {
        let mut feed = chosen.built.feed;
        feed.follow(open_v);
        let places = chosen.places();
        let each = feed.inputs.map(|inputs| inputs.each(feed.supply));
        let watts = each.as_ref().map_or(&chosen.built.powers[..], |each| &each[..]);
        let least = |limits: &[(LimitCode, f64)], at: Place| {
            let of_stage = limits.iter().filter(|(code, _)| places.of(*code) == at);
            of_stage.map(|(_, limit)| *limit).fold(f64::INFINITY, f64::min)
        };
        let drive = feed.drive.filter(|drive| drive.ohm > 0.0 && feed.lamps.is_none());
        let stage = |at: &Place| Stage {
            at: *at,
            current_a: least(&chosen.currents, *at),
            power_w: least(watts, *at),
            drive: drive.filter(|drive| places.of(drive.code) == *at),
        };
        Self { chosen, places, feed, stages: chain.iter().map(stage).collect() }
    }

    /// What each stage could deliver at the pack at a moment, A; of a load, what it draws.
    fn amps(&self, moment: &Moment, total_a: f64, load_a: f64) -> Vec<f64> {
        let mut widths: Vec<f64> = self.stages.iter().map(|stage| self.width(stage, moment, total_a, load_a)).collect();
        // What nothing limits is as wide as the widest that something does.
        let widest = widths.iter().copied().filter(|a| a.is_finite()).fold(total_a, f64::max);
        for (a, stage) in widths.iter_mut().zip(&self.stages) {
            if !a.is_finite() {
                *a = widest;
            }
            if stage.at == Place::Load {
                *a = load_a;
            }
        }
        widths
    }

    /// What one of them could deliver, A.
    fn width(&self, stage: &Stage, moment: &Moment, total_a: f64, load_a: f64) -> f64 {
        if self.places.of(moment.limit) == stage.at && narrows(moment.limit) {
            return total_a;
        }
        let watts = stage.power_w;
        let by_power =
            if watts.is_finite() { amps_into(watts, moment.pack_v, self.feed.power_ohm) } else { f64::INFINITY };
        let by_line = stage.drive.map_or(f64::INFINITY, |drive| (drive.volts - moment.pack_v) / drive.ohm);
        let a = stage.current_a.min(by_power).min(by_line);
        let dialled = matches!(self.chosen.built.control, Control::Dial | Control::Hand);
        // Where nothing is dialled for the pack its rating stands beside what the load takes.
        if stage.at == Place::Pack && !dialled { a + load_a.max(total_a) } else { a }
    }

    /// The stages that carry more than they may at a moment; the one that holds the current is none of them.
    fn overloaded(&self, moment: &Moment, total_a: f64, amps: &[f64]) -> Vec<Place> {
        let holds = self.places.of(moment.limit);
        let carries = self.stages.iter().zip(amps).filter(|(stage, _)| ![Place::Load, holds].contains(&stage.at));
        carries.filter(|(_, may_a)| **may_a < OVER * total_a).map(|(stage, _)| stage.at).collect()
    }

    /// What stands at the source's terminals and what it gives at a moment, V and A.
    fn source(&self, moment: &Moment, total_a: f64) -> (f64, f64) {
        let flows = self.feed.flows(moment.pack_v, total_a.max(0.0));
        let volts = if flows.source_a > 1e-9 { flows.source_w / flows.source_a } else { moment.open_v };
        (volts, flows.source_a)
    }
}

/// Whether a limit is no current of its own, but narrows its stage to what flows while it binds.
fn narrows(limit: LimitCode) -> bool {
    limit.tapers() || matches!(limit, LimitCode::Nudge | LimitCode::Thermal | LimitCode::Balance)
}
