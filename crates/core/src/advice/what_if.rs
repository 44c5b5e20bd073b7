//! What a limit costs: the charge again without it, and whether buying bigger is worth it.

use crate::advice::checks::nothing_flows;
use crate::advice::resistor::{sparing_turns, through};
use crate::advice::stay::by_staying;
use crate::chain::feed::Control;
use crate::chain::may::{HeldBy, Subject, may, usual};
use crate::chain::reckoning::{ROUGHLY, Reckoning};
use crate::chain::settings::Chosen;
use crate::codes::LimitCode;
use crate::formats::{EndReason, NextSizeDoc, Place, WhatIfDoc};
use crate::lines::leads;
use crate::parts::source::Source;
use crate::physics::charge::{Charge, Fed, Model, Scale, Stops, simulate};
use crate::physics::operating::{Feed, Inputs, LoadDraw, Places};
use crate::units::{in_amps, show_hours, trimmed};

/// A saving below this share of the time is not worth buying for.
const WORTH: f64 = 0.05;

/// The time to the same end with each stage that binds as big as can be, and without each of the
/// pack's own limits, the greatest saving first; of a charge that stalls, the state of charge gained.
///
/// The charge voltage is not among them: it is what the pack is filled to, not what holds it up.
pub(crate) fn what_if(reckoning: &Reckoning<'_>, source: &Source, chosen: &Chosen, base: &Charge) -> Vec<WhatIfDoc> {
    let stalled = base.reason == EndReason::Stalled;
    if base.total_s.is_none() && !stalled {
        return Vec::new();
    }
    let goal_soc = if stalled { chosen.stops.goal_soc } else { base.end.soc };
    let stops = Stops {
        goal_soc,
        ends_at_goal: true,
        taper_a: None,
        stop_v: None,
        cut_off_v: None,
        roughly: reckoning.roughly(),
        ..chosen.stops
    };
    let places = chosen.places();
    // Charges that are turned by hand cost most to follow: what binds longest is enough.
    let most = if chosen.nudge.is_some() { 2 } else { usize::MAX };
    let mut answers: Vec<WhatIfDoc> = to_lift(base, places)
        .into_iter()
        .take(most)
        .filter_map(|without| {
            let feed = bounded(reckoning, chosen, without, relaxed(chosen, without)?)?;
            let nudge = chosen.nudge.as_ref().filter(|_| without != LimitCode::Nudge);
            let fed = Fed { feed: &feed, nudge, ..reckoning.fed(chosen) };
            let faster = reckoning.run_with(reckoning.found.soc, Scale::NOMINAL, Some(fed), &stops);
            let saves_s = base.total_s.zip(faster.total_s).map_or(0.0, |(slow, fast)| (slow - fast).max(0.0));
            let gains_soc = stalled.then(|| (faster.end.soc - base.end.soc).max(0.0));
            if base.total_s.is_some() && faster.total_s.is_none() {
                return None;
            }
            let worth = saves_s > WORTH * base.total_s.unwrap_or(f64::INFINITY) || gains_soc.is_some_and(|g| g > 0.02);
            let advised = (without.purchasable() || without == LimitCode::Nudge) && worth;
            let thing = needed(reckoning, source, chosen, without, &feed, &faster);
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
                size: None,
                message: format!("{thing} {gain}"),
            })
        })
        .collect();
    answers.extend(by_resistor(reckoning, chosen, base));
    answers.extend(by_staying(reckoning, chosen, base));
    answers.extend(by_thicker_cable(reckoning, chosen, base, &stops));
    answers.extend(load_off(reckoning, chosen, base, &stops));
    answers.extend(next_size(reckoning, chosen, base, &stops));
    answers.sort_by(|a, b| {
        let gain = |w: &WhatIfDoc| (w.gains_soc.unwrap_or(0.0), w.saves_s);
        gain(b).partial_cmp(&gain(a)).unwrap_or(std::cmp::Ordering::Equal)
    });
    answers
}

/// The same charge through a resistor, set once, where a voltage is turned up often.
fn by_resistor(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge) -> Option<WhatIfDoc> {
    /// Turned so often, nobody sees it through.
    const TOO_MANY: usize = 40;
    let turns = base.nudges.len();
    let resistor = sparing_turns(chosen, reckoning.found.rest_v, turns)?;
    let set_once = through(reckoning, chosen, resistor, &Stops { roughly: ROUGHLY, ..chosen.stops });
    let takes_s = set_once.total_s?;
    let saves_s = base.total_s.map_or(0.0, |total_s| (total_s - takes_s).max(0.0));
    let gains_soc = base.total_s.is_none().then(|| (set_once.end.soc - base.end.soc).max(0.0));
    let thing = format!("{}, set once to {} V", resistor.words(), trimmed(chosen.dial_v, 2));
    let comes = format!("{} in all, to {} %", show_hours(takes_s / 3600.0), trimmed(set_once.end.soc * 100.0, 0));
    Some(WhatIfDoc {
        without: LimitCode::Nudge,
        at: chosen.places().of(LimitCode::Nudge),
        total_s: Some(takes_s),
        saves_s,
        gains_soc,
        advised: saves_s > WORTH * base.total_s.unwrap_or(f64::INFINITY) || turns > TOO_MANY,
        size: None,
        message: format!("{thing}, would spare the turning: {comes}"),
    })
}

/// The same charge through a cable of a quarter of the resistance, where the one there loses a telling share.
fn by_thicker_cable(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge, stops: &Stops) -> Option<WhatIfDoc> {
    /// Of twice the diameter a wire has a quarter of the resistance.
    const THICKER: f64 = 0.25;
    let out_ohm = chosen.built.feed.out_ohm;
    let most_a = base.moments.iter().map(|m| m.current_a).fold(0.0, f64::max);
    if out_ohm * most_a <= leads::DROP.at * chosen.dial_v {
        return None;
    }
    let saved_ohm = (1.0 - THICKER) * out_ohm;
    let mut feed = chosen.built.feed;
    feed.out_ohm -= saved_ohm;
    feed.power_ohm = (feed.power_ohm - saved_ohm).max(0.0);
    feed.hold.ohm = (feed.hold.ohm - saved_ohm).max(0.0);
    if let Some(drive) = &mut feed.drive {
        drive.ohm = (drive.ohm - saved_ohm).max(0.0);
    }
    let fed = Fed { feed: &feed, ..reckoning.fed(chosen) };
    let faster = reckoning.run_with(reckoning.found.soc, Scale::NOMINAL, Some(fed), stops);
    let saves_s = base.total_s.zip(faster.total_s).map_or(0.0, |(slow, fast)| (slow - fast).max(0.0));
    let gains_soc = base.total_s.is_none().then(|| (faster.end.soc - base.end.soc).max(0.0));
    let worth = saves_s > WORTH * base.total_s.unwrap_or(f64::INFINITY) || gains_soc.is_some_and(|gain| gain > 0.02);
    worth.then(|| WhatIfDoc {
        without: LimitCode::Lead,
        at: Place::OutputLead,
        total_s: faster.total_s,
        saves_s,
        gains_soc,
        advised: true,
        size: None,
        message: match gains_soc {
            Some(soc) => {
                format!("A cable to the pack of twice the diameter would bring {} % more in", trimmed(soc * 100.0, 0))
            }
            None => {
                format!("A cable to the pack of twice the diameter would take {} off", show_hours(saves_s / 3600.0))
            }
        },
    })
}

/// The same charge with its load switched off.
fn load_off(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge, stops: &Stops) -> Option<WhatIfDoc> {
    if reckoning.plan.load == LoadDraw::None {
        return None;
    }
    let model = Model::new(reckoning.plan.pack.body(), &reckoning.found.offsets, true, Scale::NOMINAL);
    let alone = simulate(&model, reckoning.found.soc, Some(reckoning.fed(chosen)), LoadDraw::None, stops);
    let total_s = alone.total_s?;
    let saves_s = (base.total_s.unwrap_or(base.end.t_s) - total_s).max(0.0);
    let gains_soc = base.total_s.is_none().then(|| (alone.end.soc - base.end.soc).max(0.0));
    let worth = saves_s > WORTH * base.end.t_s || gains_soc.is_some_and(|gain| gain > 0.02);
    worth.then(|| WhatIfDoc {
        without: LimitCode::Load,
        at: Place::Load,
        total_s: Some(total_s),
        saves_s: if base.total_s.is_some() { saves_s } else { 0.0 },
        gains_soc,
        advised: true,
        size: None,
        message: match gains_soc {
            Some(soc) => format!("The load off would bring {} % more in", trimmed(soc * 100.0, 0)),
            None => format!("The load off would take {} off", show_hours(saves_s / 3600.0)),
        },
    })
}

/// Amps and watts that supplies and chargers are sold with.
const SIZES: [f64; 25] = [
    0.5, 1.0, 2.0, 3.0, 5.0, 8.0, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 120.0, 150.0, 200.0,
    250.0, 300.0, 400.0, 600.0, 800.0, 1000.0,
];

/// The same charge with the next size of what binds longest, where that is a rating of a box.
fn next_size(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge, stops: &Stops) -> Option<WhatIfDoc> {
    let total_s = base.total_s.filter(|_| chosen.nudge.is_none())?;
    let without = spans(base).into_iter().map(|(code, _)| code).find(|code| code.purchasable())?;
    let (by_amps, what) = match without {
        LimitCode::SourceCurrent => (true, "supply"),
        LimitCode::ChargerOutputCurrent => (true, "charger"),
        LimitCode::SourcePower => (false, "supply"),
        LimitCode::ChargerOutputPower => (false, "charger"),
        _ => return None,
    };
    let headroom = if what == "supply" { reckoning.plan.source.as_ref()?.headroom() } else { 1.0 };
    let mut feed = bounded(reckoning, chosen, without, relaxed(chosen, without)?)?;
    // What nobody turns down gives all of its size, and the pack has to bear that.
    let bears_a = if chosen.built.control == Control::Dial { f64::INFINITY } else { feed.current_a };
    let next_above = |rated: f64| {
        SIZES
            .into_iter()
            .find(|size| rated.is_finite() && *size > 1.05 * rated)
            .filter(|size| !by_amps || *size * headroom <= bears_a)
    };
    // Of the whole stage the size of what binds grows; what else it is rated for is taken to come with it.
    let next = match (&mut feed.inputs, chosen.built.feed.inputs, without) {
        (
            Some(inputs),
            Some(own),
            LimitCode::SourceCurrent | LimitCode::SourcePower | LimitCode::ChargerOutputPower,
        ) => {
            let (size, field) = match without {
                LimitCode::SourceCurrent => (next_above(own.source_a / headroom)?, &mut inputs.source_a),
                LimitCode::SourcePower => (
                    next_above(own.source_w.min(own.source_w_as_a * feed.supply.open_v) / headroom)?,
                    &mut inputs.source_w,
                ),
                _ => (next_above(own.output_w)?, &mut inputs.output_w),
            };
            *field = size * headroom;
            (feed.power_code, feed.power_w) = inputs.least(feed.supply);
            size
        }
        (_, _, LimitCode::SourcePower) => {
            let size = next_above(chosen.built.feed.power_w / headroom)?;
            if size * headroom < feed.power_w {
                (feed.power_code, feed.power_w) = (without, size * headroom);
            }
            size
        }
        _ => {
            let size = next_above(chosen.built.feed.current_a / headroom)?;
            if size * headroom < feed.current_a {
                (feed.current_code, feed.current_a) = (without, size * headroom);
            }
            size
        }
    };
    let fed = Fed { feed: &feed, ..reckoning.fed(chosen) };
    let faster = reckoning.run_with(reckoning.found.soc, Scale::NOMINAL, Some(fed), stops);
    let saves_s = (total_s - faster.total_s?).max(0.0);
    let unit = if by_amps { "A" } else { "W" };
    (saves_s > WORTH * total_s).then(|| WhatIfDoc {
        without,
        at: chosen.places().of(without),
        total_s: faster.total_s,
        saves_s,
        gains_soc: None,
        advised: true,
        size: Some(NextSizeDoc { current_a: by_amps.then_some(next), power_w: (!by_amps).then_some(next) }),
        message: format!("A {what} of {} {unit} would take {} off", trimmed(next, 1), show_hours(saves_s / 3600.0)),
    })
}

/// How long each limit binds, s.
fn spans(base: &Charge) -> Vec<(LimitCode, f64)> {
    let mut spans: Vec<(LimitCode, f64)> = Vec::new();
    for pair in base.moments.windows(2) {
        let (limit, h_s) = (pair[0].limit, pair[1].t_s - pair[0].t_s);
        match spans.iter_mut().find(|(code, _)| *code == limit) {
            Some((_, s)) => *s += h_s,
            None => spans.push((limit, h_s)),
        }
    }
    spans.sort_by(|a, b| b.1.total_cmp(&a.1));
    spans
}

/// What is tried: of a stage that could be bigger the limit that binds longest, which stands for all
/// of that stage; every other limit by itself.
fn to_lift(base: &Charge, places: Places) -> Vec<LimitCode> {
    let mut tried: Vec<LimitCode> = Vec::new();
    let mut spans = spans(base);
    if base.reason == EndReason::Stalled {
        // What never reaches the voltage is helped by volts, not by amps.
        spans.sort_by_key(|(code, _)| !matches!(code, LimitCode::SourceVoltage | LimitCode::ChargerOutputVoltage));
    }
    for (code, _) in spans {
        let same = |other: &LimitCode| other.purchasable() && places.of(*other) == places.of(code);
        if !code.purchasable() || !tried.iter().any(same) {
            tried.push(code);
        }
    }
    tried
}

/// The feed without a limit, or, where that is a stage's rating, without any of that stage's; `None`
/// where it is not the feed's to lift.
fn relaxed(chosen: &Chosen, without: LimitCode) -> Option<Feed> {
    if matches!(without, LimitCode::SetVoltage | LimitCode::Load | LimitCode::Balance) {
        return None;
    }
    let places = chosen.places();
    let lifted = |code: LimitCode| {
        code == without || (without.purchasable() && code.purchasable() && places.of(code) == places.of(without))
    };
    let built = &chosen.built;
    let mut feed = built.feed;
    if matches!(feed.hold.code, LimitCode::SourceVoltage | LimitCode::ChargerOutputVoltage) && lifted(feed.hold.code) {
        feed.hold.volts = chosen.charge_v;
    }
    // The input's volts are the supply's to raise, the limiter is a stage to take away.
    if feed.drive.is_some_and(|drive| drive.code == without || (drive.code == LimitCode::Limiter && lifted(drive.code)))
    {
        (feed.drive, feed.lamps) = (None, None);
        if !built.holds_voltage {
            feed.hold.volts = chosen.charge_v;
            feed.hold.code = LimitCode::SetVoltage;
        }
    }
    if lifted(LimitCode::Thermal) {
        feed.heat_w = None;
    }
    if let Some(inputs) = &mut feed.inputs {
        lift(inputs, lifted);
        (feed.power_code, feed.power_w) = inputs.least(feed.supply);
    } else if lifted(feed.power_code) {
        let next = built.powers.iter().filter(|(code, _)| !lifted(*code)).min_by(|a, b| a.1.total_cmp(&b.1));
        (feed.power_code, feed.power_w) = next.copied().unwrap_or((without, f64::INFINITY));
    }
    if lifted(feed.current_code) {
        let physical = |code: LimitCode| match built.control {
            Control::Dial | Control::Hand => true,
            Control::Held | Control::Free => !matches!(code, LimitCode::SetCurrent | LimitCode::Lead),
        };
        let next = chosen.currents.iter().find(|(code, _)| !lifted(*code) && physical(*code));
        (feed.current_code, feed.current_a) = next.copied().unwrap_or((without, f64::INFINITY));
    }
    Some(feed)
}

/// No stage is offered so big that the pack gets more than a plan of it would set: its label, its board, its warmth and
/// the practice bound an offer as they bound a setting. `None` where nothing says how much that is, and any size would do.
fn bounded(reckoning: &Reckoning<'_>, chosen: &Chosen, without: LimitCode, mut feed: Feed) -> Option<Feed> {
    let Reckoning { plan, found, .. } = *reckoning;
    let given = may(&Subject { pack: &plan.pack, found, practice: plan.practice });
    let board_a = plan.pack.bms_max.map_or(f64::INFINITY, in_amps);
    // A pack at room temperature takes what the practice asks for.
    let given_a = if without == LimitCode::Temperature { usual(&plan.pack, plan.practice) } else { given.amps };
    let load_a = plan.load.current_a(chosen.dial_v);
    // What flows already is judged by the checks, and is not lowered here.
    let most_a = (given_a.min(board_a) + load_a).max(chosen.built.feed.current_a.min(chosen.built.inrush_a));
    if !given_a.min(board_a).is_finite() {
        return None;
    }
    if feed.current_a > most_a {
        let code = if given.held == HeldBy::Warmth { LimitCode::Temperature } else { LimitCode::PackRating };
        (feed.current_code, feed.current_a) = (code, most_a);
    }
    Some(feed)
}

fn lift(inputs: &mut Inputs, lifted: impl Fn(LimitCode) -> bool) {
    for (code, field) in [
        (LimitCode::ChargerOutputPower, &mut inputs.output_w),
        (LimitCode::ChargerInputPower, &mut inputs.input_w),
        (LimitCode::ChargerInputCurrent, &mut inputs.input_a),
        (LimitCode::SourceCurrent, &mut inputs.source_a),
        (LimitCode::SourcePower, &mut inputs.source_w),
        (LimitCode::SourcePower, &mut inputs.source_w_as_a),
        (LimitCode::Lead, &mut inputs.lead_a),
    ] {
        if lifted(code) {
            *field = f64::INFINITY;
        }
    }
    if lifted(LimitCode::ChargerInputVoltage) {
        inputs.input_min_v = 0.0;
    }
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
    reckoning: &Reckoning<'_>,
    source: &Source,
    chosen: &Chosen,
    without: LimitCode,
    feed: &Feed,
    faster: &Charge,
) -> String {
    let most = |pick: &dyn Fn(f64, f64) -> f64| {
        let total =
            |m: &crate::physics::charge::Moment| (m.current_a + reckoning.plan.load.current_a(m.pack_v)).max(0.0);
        buyable(faster.moments.iter().map(|m| pick(m.pack_v, total(m))).fold(0.0, f64::max))
    };
    let headroom = source.headroom();
    let amps = |a: f64| format!("{} A", trimmed(a, 2));
    let watts = |w: f64| format!("{} W", trimmed(w, 1));
    match without {
        LimitCode::SourceCurrent | LimitCode::SourcePower => {
            let a = most(&|v, i| feed.flows(v, i).source_a / headroom);
            let w = most(&|v, i| feed.flows(v, i).source_w / headroom);
            format!("A supply of {} ({} at {} V)", watts(w), amps(a), trimmed(feed.supply.open_v, 1))
        }
        LimitCode::SourceVoltage if chosen.built.feed.hold.code == without => {
            format!("A supply that reaches {} V", trimmed(chosen.charge_v, 2))
        }
        LimitCode::SourceVoltage => "A source that sags less".to_owned(),
        LimitCode::ChargerOutputCurrent | LimitCode::ChargerOutputPower => {
            let w = most(&|v, i| feed.flows(v, i).output_w);
            format!("A charger of {} and {}", amps(most(&|_, i| i)), watts(w))
        }
        LimitCode::ChargerOutputVoltage => format!("A charger that reaches {} V", trimmed(chosen.charge_v, 2)),
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
        // Where the practice and not the label binds, no other pack is needed.
        LimitCode::PackRating
            if reckoning.plan.pack.hard_limit().is_some_and(|a| in_amps(a) > 1.02 * feed_a(chosen)) =>
        {
            "Charged as fast as it may be, it".to_owned()
        }
        LimitCode::PackRating => "A pack of a higher rating".to_owned(),
        LimitCode::Temperature => "A pack at room temperature".to_owned(),
        LimitCode::Bms => "A BMS that lets more through".to_owned(),
        LimitCode::SetCurrent => "Without the current you set, it".to_owned(),
        LimitCode::Balance | LimitCode::SetVoltage | LimitCode::Load => String::new(),
    }
}

fn feed_a(chosen: &Chosen) -> f64 {
    chosen.built.feed.current_a
}

/// The source's voltage from which a buck or linear stage has enough above the pack all along.
fn source_volts_needed(chosen: &Chosen, faster: &Charge) -> f64 {
    let feed = &chosen.built.feed;
    let Some(drive) = feed.drive else {
        return feed.supply.open_v;
    };
    let dropped_v = feed.supply.open_v - drive.volts;
    let most_v = faster.moments.iter().map(|m| m.pack_v + m.current_a * drive.ohm).fold(0.0, f64::max);
    most_v.max(chosen.charge_v) + dropped_v
}

/// Of what is advised that which costs nothing, or the next size, where it saves most of what the best of them saves.
fn cheapest(what_ifs: &[WhatIfDoc]) -> Option<&WhatIfDoc> {
    const MOST: f64 = 0.6;
    let advised = || what_ifs.iter().filter(|w| w.advised);
    let gain = |w: &WhatIfDoc| w.gains_soc.unwrap_or(w.saves_s);
    let best = advised().map(gain).fold(0.0, f64::max);
    let enough = |w: &&WhatIfDoc| gain(w) >= MOST * best;
    let free = advised().find(|w| w.without == LimitCode::Load);
    free.filter(enough).or_else(|| advised().filter(|w| w.size.is_some()).find(enough))
}

/// The plain sentence: what limits the charge, and whether anything bigger would help.
pub(crate) fn verdict(
    reckoning: &Reckoning<'_>,
    chosen: &Chosen,
    base: &Charge,
    what_ifs: &[WhatIfDoc],
) -> Option<String> {
    if let Some(said) = nothing_comes(reckoning, chosen, base) {
        return Some(said);
    }
    let mut advised = what_ifs.iter().filter(|w| w.advised);
    if let Some(best) = cheapest(what_ifs) {
        return Some(format!("{}.", best.message));
    }
    if let Some(best) = advised.next() {
        // What holds the current and what spares the turning are bought in different shops.
        let other = advised.find(|w| best.without == LimitCode::Nudge && w.without == LimitCode::Nudge);
        let more = other.map_or(String::new(), |w| format!(" {}.", w.message));
        return Some(format!("{}.{more}", best.message));
    }
    base.total_s?;
    let slowest = longest(base)?;
    let place = chosen.places().of(slowest);
    let feeder = if reckoning.plan.charger.is_some() {
        "Neither supply nor charger limits"
    } else {
        "The supply does not limit"
    };
    Some(match slowest {
        LimitCode::PackRating => {
            format!("{feeder} this charge: the pack's own safe rate does. Nothing bigger would help.")
        }
        LimitCode::Temperature => {
            format!("{feeder} this charge: the pack's temperature does. Bring it to room temperature first.")
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

/// Where nothing comes in: why, and what would do.
fn nothing_comes(reckoning: &Reckoning<'_>, chosen: &Chosen, base: &Charge) -> Option<String> {
    let first = base.moments.first()?;
    let load_a = reckoning.plan.load.current_a(first.pack_v);
    let reaches_v = chosen.built.feed.hold.volts;
    if nothing_flows(reckoning.plan, base) {
        return Some(format!(
            "Nothing flows: {} V stand before a pack of {} V. A boost between that reaches {} V, or a supply that does, would charge it.",
            trimmed(reaches_v, 2),
            trimmed(reckoning.found.rest_v, 2),
            trimmed(chosen.charge_v, 2)
        ));
    }
    (base.reason == EndReason::Discharging || first.current_a < 0.0).then(|| {
        format!(
            "The load takes {} A more than comes in: the pack runs down while it is on charge. Load off, or a charger for {} A and more.",
            trimmed(-first.current_a, 2),
            trimmed(buyable(load_a), 1)
        )
    })
}

/// The limit that binds longest, the charge voltage's own taper aside; that where nothing else binds.
fn longest(base: &Charge) -> Option<LimitCode> {
    let spans = spans(base);
    let other = spans.iter().find(|(code, _)| *code != LimitCode::SetVoltage);
    other.or(spans.first()).map(|(code, _)| *code)
}
