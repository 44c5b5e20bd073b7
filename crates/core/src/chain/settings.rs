//! What to dial: the charge voltage, the current and its cause, and where to stop.

use crate::chain::feed::{self, Built, Control, InputLimit};
use crate::chain::may::{HeldBy, Subject, deep, may};
use crate::codes::LimitCode;
use crate::formats::{ChargerKind, MeterAt, MeterQuantity, Place, Practice};
use crate::lines::{cells, ends};
use crate::parts::identify::{Identified, bounds};
use crate::parts::meter::Correction;
use crate::parts::pack::{Goal, Pack};
use crate::parts::plan::Plan;
use crate::parts::source::Source;
use crate::physics::cell::Profile;
use crate::physics::charge::{Coarse, Model, NudgeRule, Scale, Stops};
use crate::physics::operating::{Path, Places, Thevenin, operating_point};
use crate::units::{CRate, floor_to, in_amp_hours, in_amps, in_celsius, in_volts};

/// The settings of a charge and how they came about.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Chosen {
    /// The charge voltage wanted, V.
    pub(crate) charge_v: f64,
    /// What the regulating stage is set to, or reaches where nothing can be set, V.
    pub(crate) dial_v: f64,
    /// What the practice and the goal ask for, V.
    pub(crate) goal_v: f64,
    /// What it would have been without cells out of step, V.
    pub(crate) levelled_v: f64,
    /// Above this Rumek refuses, V.
    pub(crate) ceiling_v: f64,
    /// Current limits, A in total, the least first.
    pub(crate) currents: Vec<(LimitCode, f64)>,
    /// What the chain before the pack does, and how it is regulated.
    pub(crate) built: Built,
    pub(crate) nudge: Option<NudgeRule>,
    pub(crate) stops: Stops,
    /// The stop current as it is set, A: of a charger that ends by itself its own output, else the pack's.
    pub(crate) stop_a: Option<f64>,
    /// Ends by counted charge: this much, Ah.
    pub(crate) stop_charge_ah: Option<f64>,
    pub(crate) float_v: Option<f64>,
    /// What would flow at once if nothing limited it, A; the test of a supply without a limit.
    pub(crate) inrush_a: f64,
    /// A foldback supply that starts folded back.
    pub(crate) folded: bool,
    /// How far the display of what sets the voltage is off, where that is known.
    volts_off: Option<Correction>,
    /// What the display shows at `dial_v`, V.
    pub(crate) shown_v: f64,
    /// What the display shows at the set current, A.
    pub(crate) shown_a: f64,
    /// What the charger's own input limit is set to, and what for.
    pub(crate) input_limit: Option<InputLimit>,
}

impl Chosen {
    /// Which stages the limits belong to.
    pub(crate) fn places(&self) -> Places {
        self.built.places
    }

    /// What the display shows while these volts stand at the terminals, down to what can be dialled.
    pub(crate) fn shown_volts(&self, true_v: f64) -> f64 {
        self.volts_off.map_or(true_v, |c| floor_to(c.shown(true_v), self.built.step_v))
    }

    /// The current that is set, or that holds, A in total.
    pub(crate) fn current_a(&self) -> f64 {
        self.built.feed.current_a
    }

    /// What is set with nothing connected, V: turned up by hand it begins where the pack rests.
    pub(crate) fn no_load_v(&self, rest_v: f64) -> f64 {
        match self.nudge {
            Some(rule) if rule.top_duty.is_none() => rest_v.clamp(rule.least_v, rule.top_v.max(rule.least_v)),
            _ => self.dial_v,
        }
    }
}

/// Works out the settings of a plan with a source.
pub(crate) fn choose(plan: &Plan, source: &Source, found: &Identified) -> Chosen {
    choose_less(plan, source, found, 0.0)
}

/// The same with a charge voltage lower by so much, V, where it is Rumek's to choose and cells are out of step.
pub(crate) fn choose_less(plan: &Plan, source: &Source, found: &Identified, less_v: f64) -> Chosen {
    let pack = &plan.pack;
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    let temperature_c = in_celsius(pack.temperature);
    let model = Model::new(pack.body(), &found.offsets, true, Scale::NOMINAL);

    let given = may(&Subject { pack, found, practice: plan.practice });
    let (recommended_a, by_temperature) = (given.amps, given.held == HeldBy::Warmth);
    let stop_a = plan.settings.stop_current_a.or_else(|| own_end(plan)).or_else(|| taper_current(pack, recommended_a));
    // The guard of a nickel charge goes by the current that flows.
    let flows_a = plan.settings.current_a.unwrap_or(recommended_a).min(gives_a(plan, source));
    let goal_v = goal_voltage(plan, &model, stop_a.unwrap_or(0.0), flows_a);
    let levelled_v = plan.settings.voltage_v.unwrap_or(goal_v);
    let lowered = (plan.settings.voltage_v.is_none() && !pack.balanced && !profile.traits.timed)
        .then(|| highest_cell_full(pack, found, &model, levelled_v, stop_a.unwrap_or(0.0)))
        .flatten();
    let charge_v = lowered.map_or(levelled_v, |(v, _)| (v - less_v).min(levelled_v));

    let now = model.now(&crate::physics::charge::State::rested(found.soc));
    let gently = given.held != HeldBy::Practice;
    let asked = feed::Asked { charge_v, recommended_a, by_temperature, gently, load_v: found.rest_v, now };
    let (built, mut currents, folded) = feed::build(plan, source, &asked);
    currents.sort_by(|a, b| a.1.total_cmp(&b.1));
    let dial_v = built.dial_v;
    let stop_a =
        if plan.settings.stop_current_a.is_some() { stop_a } else { reachable_stop(plan, &built, now, stop_a) };
    // Where nothing holds the current, what flows at first stands for it.
    let current_a = if built.feed.current_a.is_finite() { built.feed.current_a } else { built.inrush_a.max(1e-3) };

    let mut goal_soc = match (pack.goal, lowered) {
        (Goal::Full, Some((v, mean_soc))) if v < levelled_v => mean_soc,
        _ => goal_soc(plan, goal_v / series - profile.compensation_v(temperature_c)),
    };
    // A voltage that somebody sets below full is a wish, and ends by its taper.
    let wished = plan.settings.voltage_v.is_some_and(|v| dial_v >= v - 0.005 * series);
    if matches!(pack.goal, Goal::Full | Goal::Float) && (wished || dial_v >= goal_v - 0.005 * series) {
        // At the right voltage, full is what the stop current leaves: a tired pack is no stall. One
        // so tired that hardly anything is left is.
        let warmth_v = profile.compensation_v(temperature_c) * series;
        let held = model.soc_held(dial_v - warmth_v, stop_a.unwrap_or(0.0));
        if held > 0.5 || wished {
            goal_soc = goal_soc.min(held);
        }
    }
    let fast_timed = profile.traits.timed && current_a >= 0.3 * in_amp_hours(pack.nameplate);
    let ends_at_goal = matches!(pack.goal, Goal::Soc(_)) || counted(plan) || fast_timed;
    let usable_ah = in_amp_hours(pack.capacity);
    let limit_h = plan.settings.time_limit_h.or_else(|| {
        let hours = |factor: f64| factor * (goal_soc - found.soc).max(0.02) * usable_ah / current_a;
        let gives = if fast_timed { ends::FAST_TIMED_GIVES.at } else { ends::TIMED_GIVES.at };
        profile.traits.timed.then(|| hours(gives))
    });
    // Lead that was left too low gets an hour, which tells whether one of its cells is dead.
    let first_hour = (profile.traits.in_blocks && deep(pack, found)).then_some(ends::FIRST_HOUR_H.at);
    let limit_h = [limit_h, first_hour].into_iter().flatten().reduce(f64::min);
    let volts_off = correction(plan, built.voltage_at, MeterQuantity::Voltage);
    let amps_off = correction(plan, built.current_at, MeterQuantity::Current);
    // A duty sets no voltage: what is watched for is the pack's.
    let switched = plan.charger.as_ref().is_some_and(|c| c.kind == ChargerKind::Pwm);
    let watched_v = plan.settings.stop_voltage_v.map_or(charge_v, |v| v.min(charge_v));
    let shown_v = if switched { watched_v } else { dial_v };
    let shown_v = volts_off.filter(|_| !switched).map_or(shown_v, |c| floor_to(c.shown(dial_v), built.step_v));
    let shown_a = amps_off.map_or(built.feed.current_a, |c| floor_to(c.shown(built.feed.current_a), 0.01));
    let lower_by_v = model.open_circuit_v(found.soc) - model.open_circuit_v(found.low.min(found.soc));
    let nudge = nudge_rule(plan, &built, (goal_soc - found.soc).max(0.0) * usable_ah, lower_by_v);
    Chosen {
        charge_v,
        dial_v,
        goal_v,
        levelled_v,
        ceiling_v: ceiling(pack) * series,
        currents,
        stops: Stops {
            goal_soc,
            ends_at_goal,
            taper_a: stop_a.map(|a| taper_at_pack(plan, a, dial_v)),
            give_up_a: stop_a.map_or(usable_ah / 100.0, |a| a.min(usable_ah / 100.0)),
            // What gasses can be given for ever and holds no more: nobody goes on beyond what fills it by far.
            most_as: if profile.traits.gasses {
                profile.most_given * (goal_soc - found.soc).max(0.02) * usable_ah * 3600.0
            } else {
                f64::INFINITY
            },
            roughly: 1.0,
            stop_v: plan.settings.stop_voltage_v,
            cut_off_v: plan.cut_off.map(|relay| relay.opens_v()),
            limit_s: limit_h.map(|h| h * 3600.0),
            absorption_s: absorption_h(pack, dial_v)
                .filter(|_| built.holds_voltage && !built.limits)
                .map(|h| h * 3600.0),
            empty_v: empty_volts(pack),
        },
        stop_a,
        stop_charge_ah: ends_at_goal.then(|| (goal_soc - found.soc).max(0.0) * usable_ah),
        float_v: (profile.traits.absorbs && built.voltage_at.is_some())
            .then(|| float_voltage(pack).min(built.window_v.1))
            .filter(|v| *v >= built.window_v.0),
        inrush_a: built.inrush_a,
        folded,
        volts_off,
        shown_v,
        shown_a,
        input_limit: feed::input_limit(plan, source),
        nudge,
        built,
    }
}

/// What comes out of the chain at the most, A: a small supply makes no fast charge.
fn gives_a(plan: &Plan, source: &Source) -> f64 {
    match &plan.charger {
        Some(charger) => charger.output_max_a.unwrap_or(f64::INFINITY),
        None => source.current_at(source.max).map_or(f64::INFINITY, in_amps),
    }
}

/// Where a charger ends the charge by its own output current, that of the load counts too.
fn taper_at_pack(plan: &Plan, stop_a: f64, dial_v: f64) -> f64 {
    let own = plan.charger.as_ref().is_some_and(crate::parts::charger::Charger::terminates);
    let load_a = plan.load.current_a(dial_v);
    if own && load_a < 0.9 * stop_a { stop_a - load_a } else { stop_a }
}

/// How far the display of what is set at a place is off; the plan's own comparison before the device's.
fn correction(plan: &Plan, place: Option<Place>, quantity: MeterQuantity) -> Option<Correction> {
    let at = if place? == Place::Charger { MeterAt::Charger } else { MeterAt::Source };
    plan.corrections.iter().find(|c| c.at == at && c.quantity == quantity).copied()
}

/// Of a duty's coarse steps one takes what comes near: so much more may flow than is wanted.
const COARSE: f64 = 1.03;

/// How a stage without current control is turned up by hand.
fn nudge_rule(plan: &Plan, built: &Built, wanted_ah: f64, lower_by_v: f64) -> Option<NudgeRule> {
    if built.control != Control::Hand {
        return None;
    }
    // Only with something that ends the charge may the person be away.
    let guarded = plan.pack.bms_max.is_some() || plan.cut_off.is_some() || plan.pack.balanced;
    let duty = match built.feed.path {
        Path::Duty(duty) => Some(duty),
        _ => None,
    };
    Some(NudgeRule {
        interval_s: plan.visit_every_s.filter(|_| guarded),
        attended_s: plan.attended_first_s,
        coarse: if plan.pack.profile.traits.absorbs { Coarse::LEAD } else { Coarse::USUAL },
        least_charge_s: wanted_ah / built.feed.current_a.max(1e-6) * 3600.0,
        target_a: match duty {
            // A battery gives more at first than it does after ten seconds.
            Some(_) if plan.source.as_ref().is_some_and(|source| source.battery.is_some()) => {
                built.feed.current_a / feed::AT_FIRST
            }
            Some(_) => built.feed.current_a / COARSE,
            None => built.feed.current_a,
        },
        top_v: built.feed.hold.volts + built.feed.diode_v,
        least_v: built.window_v.0,
        lower_by_v,
        step_v: built.step_v,
        top_duty: duty,
        balance: built.feed.balance,
    })
}

/// The voltage below which a pack counts as empty while it feeds a load, V.
pub(crate) fn empty_volts(pack: &Pack) -> f64 {
    pack.profile.precharge_below_v * f64::from(pack.series)
}

/// Whether the end is counted in Ah because the voltage does not tell it.
fn counted(plan: &Plan) -> bool {
    let profile = &plan.pack.profile;
    let gentle_top = plan.practice == Practice::Gentle && plan.pack.goal == Goal::Full;
    profile.flat() && (gentle_top || plan.pack.goal == Goal::Storage)
}

/// What a board that ends by itself ends at, A: a tenth of what it is built for, by the usual sheets of such chips.
fn own_end(plan: &Plan) -> Option<f64> {
    let board = plan.charger.as_ref().filter(|c| c.kind == ChargerKind::LinearModule)?;
    board.output_max_a.map(|a| 0.1 * a)
}

/// The current at which the charge is done, A; `None` where nothing tapers.
fn taper_current(pack: &Pack, recommended_a: f64) -> Option<f64> {
    if pack.profile.traits.timed {
        return None;
    }
    if pack.profile.traits.farads {
        let charge_a = if recommended_a.is_finite() { recommended_a } else { in_amp_hours(pack.nameplate) * 60.0 };
        return Some(pack.balance_current.map_or(0.02 * charge_a, in_amps));
    }
    Some(in_amps(CRate(pack.profile.rates.taper).current(pack.nameplate)))
}

/// The usual stop current as this chain can come to it: less where little flows from the first, and none where a
/// voltage that is watched for comes before it.
fn reachable_stop(plan: &Plan, built: &Built, now: Thevenin, stop_a: Option<f64>) -> Option<f64> {
    let stop_a = stop_a?;
    if plan.pack.balance_current.is_some() && plan.pack.profile.traits.farads {
        // Its balancers go on shunting for good: it is full once it stands at its volts.
        return Some(stop_a);
    }
    if ends_by_volts(plan).is_some() && plan.charger.as_ref().is_some_and(|c| c.kind == ChargerKind::Pwm) {
        // A duty is turned again whenever its current has sunk: its volts end it.
        return None;
    }
    let at = |pack: Thevenin| operating_point(pack, Some(&built.feed), plan.load, None).pack_a;
    if ends_by_volts(plan).is_some_and(|volts| at(Thevenin { e_v: volts, r_ohm: 1e-6 }) > stop_a) {
        return None;
    }
    // Behind a limiter the current sinks from the first ampere on; else it begins to where the voltage is reached.
    // What gasses takes a current for good.
    let limited = plan.charger.as_ref().is_some_and(|c| c.kind.passive());
    let share = if limited && !plan.pack.profile.traits.gasses { 0.2 } else { 0.5 };
    let first_a = if built.control == Control::Hand { built.feed.current_a } else { at(now) };
    Some(if first_a > 0.0 { stop_a.min(share * first_a) } else { stop_a })
}

/// The voltage that ends it, watched for by somebody or by a relay, V.
fn ends_by_volts(plan: &Plan) -> Option<f64> {
    let relay_v = plan.cut_off.map(|relay| relay.opens_v());
    [plan.settings.stop_voltage_v, relay_v].into_iter().flatten().reduce(f64::min)
}

/// The charge voltage of the goal, V.
fn goal_voltage(plan: &Plan, model: &Model<'_>, stop_a: f64, current_a: f64) -> f64 {
    let pack = &plan.pack;
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    if profile.traits.timed {
        let fast = current_a >= 0.3 * in_amp_hours(pack.nameplate);
        return if fast { 1.70 } else { 1.60 } * series;
    }
    match pack.goal {
        Goal::Float => float_voltage(pack),
        Goal::Storage if profile.storage_guard_v.is_some() => {
            profile.storage_guard_v.unwrap_or(profile.full_v) * series
        }
        Goal::Storage if !profile.flat() && profile.storage_v.is_some() => {
            // The voltage that rests at storage once the stop current is gone.
            let settled = model.settled(goal_soc(plan, profile.full_v));
            settled.e_v + settled.r_ohm * stop_a
        }
        _ => full_voltage(pack, plan.practice),
    }
}

/// The charge voltage that fills a pack by a practice, V.
pub(crate) fn full_voltage(pack: &Pack, practice: Practice) -> f64 {
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    let temperature_c = in_celsius(pack.temperature);
    let warmth_v = profile.compensation_v(temperature_c) * series;
    let full_v = match (pack.label_cycle, practice) {
        (Some([low, _]), Practice::Gentle) => in_volts(low),
        (Some([low, high]), _) => within_label(in_volts(low), in_volts(high), warmth_v, temperature_c) - warmth_v,
        (None, practice) => profile.practice_v(practice) * series,
    };
    // Without a balancer to shunt it, the smallest capacitor decides.
    let smallest = if pack.balance_current.is_some() { 1.0 } else { 1.0 - pack.smaller };
    // A dial is a little off: what is set at the ceiling itself would pass it. A label's own volts stand as printed.
    let room_v = if pack.label_cycle.is_some() { 0.0 } else { cells::OVER_FULL_V.at };
    (full_v * smallest + warmth_v).min((ceiling(pack) - room_v) * series)
}

/// How long a charge is held at most, h; at its float voltage a pack may be held for good.
fn absorption_h(pack: &Pack, held_v: f64) -> Option<f64> {
    /// Above its float voltage by more than this share it gasses.
    const ABOVE_FLOAT: f64 = 1.01;
    pack.profile.longest_absorption_h.filter(|_| held_v > float_voltage(pack) * ABOVE_FLOAT)
}

/// The charge voltage of a label's range, V: its middle at 25 °C, moved within the range by temperature,
/// and below it only where it is colder or warmer than the range is printed for; never above it.
fn within_label(low_v: f64, high_v: f64, warmth_v: f64, temperature_c: f64) -> f64 {
    /// Ranges are printed for rooms and sheds between these, °C.
    const PRINTED_FOR_C: std::ops::RangeInclusive<f64> = 5.0..=35.0;
    let moved_v = 0.5 * (low_v + high_v) + warmth_v;
    let least_v = if PRINTED_FOR_C.contains(&temperature_c) { low_v.min(high_v) } else { f64::NEG_INFINITY };
    moved_v.clamp(least_v, high_v)
}

/// Where a lead-acid pack is held, V.
fn float_voltage(pack: &Pack) -> f64 {
    let profile = &pack.profile;
    let series = f64::from(pack.series);
    let temperature_c = in_celsius(pack.temperature);
    let warmth_v = profile.compensation_v(temperature_c) * series;
    match pack.label_standby {
        Some([low, high]) => within_label(in_volts(low), in_volts(high), warmth_v, temperature_c),
        None => profile.float_v.unwrap_or(profile.full_v) * series + warmth_v,
    }
}

/// The state of charge the goal means, given the charge voltage of a cell at 25 °C.
fn goal_soc(plan: &Plan, cell_v: f64) -> f64 {
    let profile: &Profile = &plan.pack.profile;
    match plan.pack.goal {
        Goal::Soc(soc) => soc,
        Goal::Storage => profile.storage_v.map_or(1.0, |v| profile.ocv.soc_at(v)),
        Goal::Full if counted(plan) => 0.9,
        Goal::Full if profile.traits.volts_say_full => {
            // A voltage set lower than the practice's stays short of this, and is told so.
            profile.ocv.soc_at(cell_v)
        }
        Goal::Full | Goal::Float => 1.0,
    }
}

/// The highest charge voltage of a cell, V: the chemistry's ceiling, or a label's where lead,
/// capacitors and other cells are labelled higher.
fn ceiling(pack: &Pack) -> f64 {
    let profile: &Profile = &pack.profile;
    let temperature_c = in_celsius(pack.temperature);
    // Where nothing shunts it, the smallest of unlike capacitors comes to it first.
    let smallest = if profile.traits.farads && pack.balance_current.is_none() { 1.0 - pack.smaller } else { 1.0 };
    let own = profile.ceiling_at(temperature_c) * smallest;
    match pack.label_cycle {
        Some([_, high]) if profile.traits.label_says_ceiling => {
            own.max(in_volts(high) / f64::from(pack.series) + profile.compensation_v(temperature_c))
        }
        _ => own,
    }
}

/// Where nothing balances: the pack voltage at which the highest cell is just full at the stop
/// current, and the mean state of charge then. `None` where the readings do not differ.
fn highest_cell_full(
    pack: &Pack,
    found: &Identified,
    model: &Model<'_>,
    levelled_v: f64,
    stop_a: f64,
) -> Option<(f64, f64)> {
    if found.offsets.is_empty() {
        return None;
    }
    let series = f64::from(pack.series);
    let profile: &Profile = &pack.profile;
    let held = model.settled(model.soc_held(levelled_v, stop_a));
    let drop_v = held.r_ohm * stop_a / series + profile.hysteresis_v;
    let top_soc = profile.ocv.soc_at(levelled_v / series - drop_v);
    let (_, highest) = bounds(&found.offsets);
    let mean_soc = top_soc - highest;
    let cells = f64::from(found.cells_per_reading);
    let pack_v = found.offsets.iter().map(|offset| cells * (profile.ocv.at(mean_soc + offset).0 + drop_v)).sum();
    Some((pack_v, mean_soc))
}
