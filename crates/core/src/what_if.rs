//! What one limit costs: the charge again without it, and whether buying bigger is worth it.

use crate::answer::Case;
use crate::chain::{Feed, Inputs, LimitCode};
use crate::charge::{Charge, Fed, Scale, Stops};
use crate::document::{EndReason, Place, WhatIfDoc};
use crate::feed::Control;
use crate::settings::Chosen;
use crate::source::Source;
use crate::units::{show_hours, trimmed};

/// A saving below this share of the time is not worth buying for.
const WORTH: f64 = 0.05;

/// The time to the same end without each limit that binds, the greatest saving first; of a charge
/// that stalls, the state of charge gained.
///
/// The charge voltage is not among them: it is what the pack is filled to, not what holds it up.
pub(crate) fn what_if(case: &Case<'_>, source: &Source, chosen: &Chosen, base: &Charge) -> Vec<WhatIfDoc> {
    let stalled = base.reason == EndReason::Stalled;
    if base.total_s.is_none() && !stalled {
        return Vec::new();
    }
    let mut binding: Vec<LimitCode> = base.moments.iter().map(|m| m.limit).collect();
    binding.sort();
    binding.dedup();
    let goal_soc = if stalled { chosen.stops.goal_soc } else { base.end.soc };
    let stops = Stops { goal_soc, ends_at_goal: true, taper_a: None, stop_v: None, cut_off_v: None, ..chosen.stops };
    let places = chosen.places();
    let mut answers: Vec<WhatIfDoc> = binding
        .into_iter()
        .filter_map(|without| {
            let feed = relaxed(chosen, without)?;
            let nudge = chosen.nudge.as_ref().filter(|_| without != LimitCode::Nudge);
            let fed = Fed { feed: &feed, nudge, ..case.fed(chosen) };
            let faster = case.run_with(case.found.soc, Scale::NOMINAL, Some(fed), &stops);
            let saves_s = base.total_s.zip(faster.total_s).map_or(0.0, |(slow, fast)| (slow - fast).max(0.0));
            let gains_soc = stalled.then(|| (faster.end.soc - base.end.soc).max(0.0));
            if base.total_s.is_some() && faster.total_s.is_none() {
                return None;
            }
            let worth = saves_s > WORTH * base.total_s.unwrap_or(f64::INFINITY) || gains_soc.is_some_and(|g| g > 0.02);
            let advised = (without.purchasable() || without == LimitCode::Nudge) && worth;
            let thing = needed(case, source, chosen, without, &feed, &faster);
            let gain = match gains_soc {
                Some(soc) => format!("would bring {} % more in", trimmed(soc * 100.0, 0)),
                None => format!("would take {} off", show_hours(saves_s / 3600.0)),
            };
            Some(WhatIfDoc {
                without,
                at: places.of(without),
                total_s: faster.total_s,
                saves_s,
                gains_soc,
                advised,
                message: format!("{thing} {gain}"),
            })
        })
        .collect();
    answers.sort_by(|a, b| {
        let gain = |w: &WhatIfDoc| (w.gains_soc.unwrap_or(0.0), w.saves_s);
        gain(b).partial_cmp(&gain(a)).unwrap_or(std::cmp::Ordering::Equal)
    });
    answers
}

/// The feed without one limit; `None` where that limit is not the feed's to lift.
fn relaxed(chosen: &Chosen, without: LimitCode) -> Option<Feed> {
    let built = &chosen.built;
    let mut feed = built.feed;
    match without {
        LimitCode::SetVoltage | LimitCode::Load | LimitCode::Balance => return None,
        LimitCode::SourceVoltage | LimitCode::ChargerOutputVoltage if feed.hold.code == without => {
            feed.hold.volts = chosen.wanted_v;
        }
        LimitCode::ChargerInputVoltage | LimitCode::Limiter
            if feed.drive.is_some_and(|drive| drive.code == without) =>
        {
            (feed.drive, feed.lamps) = (None, None);
            if !built.holds_voltage {
                feed.hold.volts = chosen.wanted_v;
                feed.hold.code = LimitCode::SetVoltage;
            }
        }
        LimitCode::Thermal => feed.heat_w = None,
        _ => {}
    }
    if let Some(inputs) = &mut feed.inputs {
        lift(inputs, without);
        (feed.power_code, feed.power_w) = inputs.least(feed.supply);
    } else if feed.power_code == without {
        let next = built.powers.iter().filter(|(code, _)| *code != without).min_by(|a, b| a.1.total_cmp(&b.1));
        (feed.power_code, feed.power_w) = next.copied().unwrap_or((without, f64::INFINITY));
    }
    if feed.current_code == without {
        let physical = |code: LimitCode| match built.control {
            Control::Dial | Control::Hand => true,
            Control::Held | Control::Free => !matches!(code, LimitCode::SetCurrent | LimitCode::Lead),
        };
        let next = chosen.currents.iter().find(|(code, _)| *code != without && physical(*code));
        (feed.current_code, feed.current_a) = next.copied().unwrap_or((without, f64::INFINITY));
    }
    Some(feed)
}

fn lift(inputs: &mut Inputs, without: LimitCode) {
    let field = match without {
        LimitCode::ChargerOutputPower => &mut inputs.output_w,
        LimitCode::ChargerInputPower => &mut inputs.input_w,
        LimitCode::ChargerInputCurrent => &mut inputs.input_a,
        LimitCode::SourceCurrent => &mut inputs.source_a,
        LimitCode::SourcePower => &mut inputs.source_w,
        LimitCode::Lead => &mut inputs.lead_a,
        LimitCode::ChargerInputVoltage => {
            inputs.input_min_v = 0.0;
            return;
        }
        _ => return,
    };
    *field = f64::INFINITY;
}

/// Up to two digits, so that what is named can be bought.
fn buyable(value: f64) -> f64 {
    if value <= 0.0 || !value.is_finite() {
        return 0.0;
    }
    let unit = 10f64.powf(value.log10().floor() - 1.0);
    ((value / unit) - 1e-6).ceil() * unit
}

/// What would have to be there for the limit not to bind, in words.
fn needed(
    case: &Case<'_>,
    source: &Source,
    chosen: &Chosen,
    without: LimitCode,
    feed: &Feed,
    faster: &Charge,
) -> String {
    let most = |pick: &dyn Fn(f64, f64) -> f64| {
        let total = |m: &crate::charge::Moment| (m.current_a + case.plan.load.current_a(m.pack_v)).max(0.0);
        buyable(faster.moments.iter().map(|m| pick(m.pack_v, total(m))).fold(0.0, f64::max))
    };
    let headroom = source.headroom();
    let amps = |a: f64| format!("{} A", trimmed(a, 2));
    let watts = |w: f64| format!("{} W", trimmed(w, 1));
    match without {
        LimitCode::SourceCurrent => {
            let a = most(&|v, i| feed.flows(v, i).source_a / headroom);
            format!("A supply of {} at {} V", amps(a), trimmed(feed.supply.open_v, 1))
        }
        LimitCode::SourcePower => format!("A supply of {}", watts(most(&|v, i| feed.flows(v, i).source_w / headroom))),
        LimitCode::SourceVoltage if chosen.built.feed.hold.code == without => {
            format!("A supply that reaches {} V", trimmed(chosen.wanted_v, 2))
        }
        LimitCode::SourceVoltage => "A source that sags less".to_owned(),
        LimitCode::ChargerOutputCurrent => format!("A charger of {}", amps(most(&|_, i| i))),
        LimitCode::ChargerOutputPower => {
            format!("A charger of {}", watts(most(&|v, i| feed.flows(v, i).output_w)))
        }
        LimitCode::ChargerOutputVoltage => format!("A charger that reaches {} V", trimmed(chosen.wanted_v, 2)),
        LimitCode::ChargerInputCurrent => {
            format!("A charger that takes {} in", amps(most(&|v, i| feed.flows(v, i).source_a)))
        }
        LimitCode::ChargerInputPower => {
            format!("A charger that takes {} in", watts(most(&|v, i| feed.flows(v, i).input_w)))
        }
        LimitCode::ChargerInputVoltage => {
            format!("A supply of {} V", trimmed(buyable(source_volts_needed(chosen, faster)), 1))
        }
        LimitCode::Limiter => "A charger that holds current and voltage instead of the limiter".to_owned(),
        LimitCode::Thermal => "A module that does not get hot".to_owned(),
        LimitCode::Lead => {
            let place = chosen.places().lead;
            let a = if place == Place::InputLead { most(&|v, i| feed.flows(v, i).source_a) } else { most(&|_, i| i) };
            format!("A lead and fuse for {}", amps(a))
        }
        LimitCode::Nudge => "A supply or module that holds its current".to_owned(),
        LimitCode::PackRating => "A pack of a higher rating".to_owned(),
        LimitCode::Bms => "A BMS that lets more through".to_owned(),
        LimitCode::SetCurrent => "Without the current you set, it".to_owned(),
        LimitCode::Balance | LimitCode::SetVoltage | LimitCode::Load => String::new(),
    }
}

/// The source's voltage from which a buck or linear stage has enough above the pack all along.
fn source_volts_needed(chosen: &Chosen, faster: &Charge) -> f64 {
    let feed = &chosen.built.feed;
    let Some(drive) = feed.drive else {
        return feed.supply.open_v;
    };
    let dropped_v = feed.supply.open_v - drive.volts;
    let most_v = faster.moments.iter().map(|m| m.pack_v + m.current_a * drive.ohm).fold(0.0, f64::max);
    most_v.max(chosen.wanted_v) + dropped_v
}

/// The plain sentence: what limits the charge, and whether anything bigger would help.
pub(crate) fn verdict(case: &Case<'_>, chosen: &Chosen, base: &Charge, what_ifs: &[WhatIfDoc]) -> Option<String> {
    if let Some(best) = what_ifs.iter().find(|w| w.advised) {
        return Some(format!("{}.", best.message));
    }
    base.total_s?;
    let slowest = longest(base)?;
    let place = chosen.places().of(slowest);
    let feeder =
        if case.plan.charger.is_some() { "Neither supply nor charger limits" } else { "The supply does not limit" };
    Some(match slowest {
        LimitCode::PackRating => {
            format!("{feeder} this charge: the pack's own safe rate does. Nothing bigger would help.")
        }
        LimitCode::Bms => format!("{feeder} this charge: the pack's BMS does. Nothing bigger would help."),
        LimitCode::SetCurrent => format!("{feeder} this charge: the {} A you set do.", trimmed(chosen.current_a(), 2)),
        LimitCode::Balance => format!("{feeder} this charge: what the balancers can shunt does."),
        _ if place == Place::Pack => format!("{feeder} this charge: the pack is nearly at its voltage all along."),
        _ => {
            let saves_s = what_ifs.first().map_or(0.0, |w| w.saves_s);
            format!("Nothing bigger is worth buying: the most it could save is {}.", show_hours(saves_s / 3600.0))
        }
    })
}

/// The limit that binds longest, the charge voltage's own taper aside; that where nothing else binds.
fn longest(base: &Charge) -> Option<LimitCode> {
    let mut spans: Vec<(LimitCode, f64)> = Vec::new();
    for pair in base.moments.windows(2) {
        let (limit, h_s) = (pair[0].limit, pair[1].t_s - pair[0].t_s);
        match spans.iter_mut().find(|(code, _)| *code == limit) {
            Some((_, s)) => *s += h_s,
            None => spans.push((limit, h_s)),
        }
    }
    let at_voltage = |code: LimitCode| code == LimitCode::SetVoltage;
    spans
        .into_iter()
        .max_by(|a, b| {
            (!at_voltage(a.0), a.1).partial_cmp(&(!at_voltage(b.0), b.1)).unwrap_or(std::cmp::Ordering::Equal)
        })
        .map(|(code, _)| code)
}
