//! The chain as stages: what each is called, what it heats, what it could deliver at a moment.

use crate::chain::feed::Control;
use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::formats::{Place, StageDoc};
use crate::physics::charge::{Charge, Moment};
use crate::physics::operating::{Feed, LoadDraw, Places, amps_into};
use crate::units::trimmed;

/// The chain, source first; a load across the pack comes last. Nothing heats while the settings
/// are withheld.
pub(crate) fn stages(reckoning: &Reckoning<'_>, charge: &Charge, refused: bool) -> Vec<StageDoc> {
    let plan = reckoning.plan;
    let pack = &plan.pack;
    let flowed = charge.flowed;
    let stage = |at: Place, label: Option<&String>, kind: &str, rating: String, joules: f64| StageDoc {
        at,
        label: label.cloned().unwrap_or_else(|| kind.to_owned()),
        rating,
        heat_wh: if refused { 0.0 } else { joules / 3600.0 },
    };
    let mut stages = Vec::with_capacity(7);
    if let Some(source) = &plan.source {
        let inside =
            if source.battery.is_some() { flowed.inside_w } else { flowed.source_w * (1.0 / source.efficiency - 1.0) };
        stages.push(stage(Place::Source, source.name.as_ref(), source.kind_name(), source.describe(), inside));
    }
    if let Some(lead) = &plan.input {
        let heat = flowed.source_w - flowed.input_w;
        stages.push(stage(Place::InputLead, lead.name.as_ref(), "Input lead", lead.describe(), heat));
    }
    if let Some(charger) = &plan.charger {
        let heat = flowed.input_w - flowed.output_w;
        stages.push(stage(Place::Charger, charger.name.as_ref(), charger.kind_name(), charger.describe(), heat));
    }
    if let Some(relay) = &plan.cut_off {
        let rating = format!("{}–{} V", trimmed(relay.low_v, 2), trimmed(relay.high_v, 2));
        stages.push(stage(Place::CutOff, None, "Cut-off relay", rating, 0.0));
    }
    if let Some(lead) = &plan.output {
        let heat = flowed.output_w - flowed.pack_w;
        stages.push(stage(Place::OutputLead, lead.name.as_ref(), "Pack lead", lead.describe(), heat));
    }
    let kind = format!("{} pack", pack.profile.name);
    stages.push(stage(Place::Pack, pack.name.as_ref(), &kind, pack.rating(), charge.pack_heat_j));
    let draws = match plan.load {
        LoadDraw::None => return stages,
        LoadDraw::CurrentA(a) => format!("{} A", trimmed(a, 2)),
        LoadDraw::PowerW { watts, .. } => format!("{} W", trimmed(watts, 1)),
    };
    stages.push(stage(Place::Load, None, "Load", draws, 0.0));
    stages
}

/// What each stage of `chain` could deliver at the pack at a moment, A; of a load, what it draws.
pub(crate) fn amps(reckoning: &Reckoning<'_>, chain: &[Place], moment: &Moment) -> Vec<f64> {
    let load_a = reckoning.plan.load.current_a(moment.pack_v);
    let Some(chosen) = reckoning.chosen else {
        return chain.iter().map(|at| if *at == Place::Load { load_a } else { -moment.current_a }).collect();
    };
    let total_a = moment.current_a + load_a;
    // A battery that feeds the chain has sunk since the start.
    let mut feed = chosen.built.feed;
    feed.follow(moment.open_v);
    let each = feed.inputs.map(|inputs| inputs.each(feed.supply));
    let watts = each.as_ref().map_or(&chosen.built.powers[..], |each| &each[..]);
    let mut widths: Vec<f64> =
        chain.iter().map(|at| width(chosen, &feed, watts, *at, moment, (total_a, load_a))).collect();
    // What nothing limits is as wide as the widest that something does.
    let widest = widths.iter().copied().filter(|a| a.is_finite()).fold(total_a, f64::max);
    for (a, at) in widths.iter_mut().zip(chain) {
        if !a.is_finite() {
            *a = widest;
        }
        if *at == Place::Load {
            *a = load_a;
        }
    }
    widths
}

/// What flows past a limit by less is a matter of rounding.
const OVER: f64 = 0.995;

/// The stages that carry more than they may at a moment, where something charges; the one that holds the
/// current is none of them.
pub(crate) fn overloaded(reckoning: &Reckoning<'_>, chain: &[Place], moment: &Moment, amps: &[f64]) -> Vec<Place> {
    let Some(chosen) = reckoning.chosen else {
        return Vec::new();
    };
    let total_a = moment.current_a + reckoning.plan.load.current_a(moment.pack_v);
    let holds = chosen.places().of(moment.limit);
    let carries = chain.iter().zip(amps).filter(|(at, _)| ![Place::Load, holds].contains(at));
    carries.filter(|(_, may_a)| **may_a < OVER * total_a).map(|(at, _)| *at).collect()
}

/// What a stage could deliver, A, given the limits in watts; `flowing`: the total and the load's share of it, A.
fn width(
    chosen: &Chosen,
    feed: &Feed,
    watts: &[(LimitCode, f64)],
    at: Place,
    moment: &Moment,
    flowing: (f64, f64),
) -> f64 {
    let (total_a, load_a) = flowing;
    let places = chosen.places();
    let by_current = chosen
        .currents
        .iter()
        .filter(|(code, _)| places.of(*code) == at)
        .map(|(_, a)| *a)
        .fold(f64::INFINITY, f64::min);
    let by_power = least_watts(places, at, watts);
    let by_power = if by_power.is_finite() { amps_into(by_power, moment.pack_v, feed.power_ohm) } else { by_power };
    let by_line = feed
        .drive
        .filter(|drive| places.of(drive.code) == at && drive.ohm > 0.0 && feed.lamps.is_none())
        .map_or(f64::INFINITY, |drive| (drive.volts - moment.pack_v) / drive.ohm);
    let mut a = by_current.min(by_power).min(by_line);
    if at == Place::Pack && !matches!(chosen.built.control, Control::Dial | Control::Hand) {
        // Nothing is dialled for the pack: its rating stands beside what the load takes.
        a += load_a.max(total_a);
    }
    if places.of(moment.limit) == at && narrows(moment.limit) { total_a } else { a }
}

/// The least of some limits in watts that belong to a stage.
fn least_watts(places: Places, at: Place, limits: &[(LimitCode, f64)]) -> f64 {
    limits.iter().filter(|(code, _)| places.of(*code) == at).map(|(_, w)| *w).fold(f64::INFINITY, f64::min)
}

/// Whether a limit is no current of its own, but narrows its stage to what flows while it binds.
fn narrows(limit: LimitCode) -> bool {
    limit.tapers() || matches!(limit, LimitCode::Nudge | LimitCode::Thermal | LimitCode::Balance)
}
