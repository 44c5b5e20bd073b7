//! What a card says, done as a person does it: set what is to be set where it is to be set, connect, turn at the
//! times told, look, and stop at the stop told. Nothing that is not on the card.

use rumek_core::codes::{ChargerKind, MeterQuantity, Place, SourceKind};
use rumek_core::formats::{NudgeDoc, PlanDoc, ResultDoc, ResultSettingsDoc};

use crate::bench::Bench;
use crate::passing::Rating;

/// Why it was over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord)]
pub enum Ended {
    /// The current had come down to the stop.
    Current,
    /// It had not fallen for an hour.
    Steady,
    /// The time told was up.
    Time,
    /// So much had gone in.
    Charge,
    /// The terminals stood at the stop.
    Volts,
    /// The relay opened.
    Relay,
    /// The battery that feeds it was down to its reserve.
    SourceEmpty,
    /// The pack ran down.
    Draining,
    /// Something let go, burned or parted.
    Failed,
    /// None of these came.
    Never,
}

/// A card carried out.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Carried {
    /// Why it was over.
    pub ended: Ended,
    /// When, s.
    pub after_s: f64,
    /// What went in, Ah.
    pub charge_ah: f64,
    /// How full the pack was then.
    pub soc: f64,
    /// What flowed into the pack at first, A.
    pub first_a: f64,
    /// What flowed into it last, A.
    pub last_a: f64,
    /// When the terminals first stood at the charge voltage, s.
    pub to_cv_s: Option<f64>,
}

/// Longer than this nobody waits, s.
const LONGEST_S: f64 = 25.0 * 86_400.0;
/// A hand turns a knob so finely, V, and in so many steps at most.
const HAND_V: f64 = 0.005;
const HAND_STEPS: f64 = 24.0;
/// From so much below it on a display stands at a voltage.
const AT_VOLTS: f64 = 0.003;

/// Carries out a card to its end.
#[must_use]
pub fn carry_out(card: &ResultDoc, bench: &mut Bench) -> Carried {
    carry_out_seen(card, bench, |_| {})
}

/// The same, with somebody who looks on after each step.
pub fn carry_out_seen(card: &ResultDoc, bench: &mut Bench, see: impl FnMut(&Bench)) -> Carried {
    if let Some(settings) = &card.settings {
        set(card, settings, bench);
    }
    bench.switch(true);
    follow(card, bench, see)
}

/// Switches on what a card refuses to give settings for, set as somebody would who goes by the label.
#[must_use]
pub fn switch_on(card: &ResultDoc, volts: f64, amps: f64, bench: &mut Bench) -> Carried {
    let plan = &card.resolved;
    let charger = plan.charger.as_ref().filter(|doc| doc.kind.is_some_and(|kind| !kind.passive()));
    let source = plan.source.as_ref().and_then(|doc| doc.kind);
    if let Some(doc) = charger {
        let kind = doc.kind;
        if kind.is_some_and(ChargerKind::may_switch) {
            bench.turn_volts(
                Place::Charger,
                if doc.has_cv == Some(false) { doc.output_max_v.unwrap_or(volts) } else { volts },
            );
        }
        if kind == Some(ChargerKind::HobbyCharger) || doc.has_cc == Some(true) {
            bench.turn_amps(Place::Charger, amps);
        }
        if sets_volts(plan) {
            let highest_v = doc.input_max_v.unwrap_or(f64::INFINITY);
            let most_v = plan.source.as_ref().and_then(|doc| doc.max_voltage_v).unwrap_or(highest_v);
            bench.turn_volts(Place::Source, most_v.min(highest_v));
        }
    } else if sets_volts(plan) {
        let limits = plan.source.as_ref().and_then(|doc| Some((doc.min_voltage_v?, doc.max_voltage_v?)));
        bench.turn_volts(Place::Source, limits.map_or(volts, |(low, high)| volts.clamp(low, high.max(low))));
        if source == Some(SourceKind::BenchSupply) {
            bench.turn_amps(Place::Source, amps);
        }
    }
    bench.switch(true);
    follow(card, bench, |_| {})
}

/// Whether somebody sets the volts of what feeds.
fn sets_volts(plan: &PlanDoc) -> bool {
    plan.source.as_ref().is_some_and(|doc| doc.max_voltage_v.is_some())
}

/// Before anything is connected.
fn set(card: &ResultDoc, settings: &ResultSettingsDoc, bench: &mut Bench) {
    let plan = &card.resolved;
    let charger = plan.charger.as_ref().and_then(|doc| doc.kind);
    let first = card.nudges.first();
    if let Some(volts) = settings.source_voltage_v {
        bench.turn_volts(Place::Source, volts);
    }
    if let Some(at) = settings.voltage_at {
        // A knob that is turned up by hand begins where the card says, by meter.
        let begins = card.steps.iter().find(|step| step.code == "set_start" || step.code == "set_voltage");
        let begins_v = begins.and_then(|step| step.values.get("voltage_v")).filter(|_| first.is_some());
        let dialled_v = bench.is_so(at, MeterQuantity::Voltage, settings.dial_voltage_v);
        // The pack's own voltage is what it reads, not what was thought of it.
        let own_v = bench.pack().map_or(f64::INFINITY, |cells| (cells.rest_v() * 100.0).floor() / 100.0);
        bench.turn_volts(at, begins_v.map_or(dialled_v, |v| v.min(own_v)));
    }
    if let Some(at) = settings.current_at {
        let units = plan.source.as_ref().and_then(|doc| doc.units).unwrap_or(1);
        let in_parallel =
            plan.source.as_ref().is_some_and(|doc| doc.wiring == Some(rumek_core::codes::Wiring::Parallel));
        let share = if at == Place::Source && in_parallel { f64::from(units) } else { 1.0 };
        bench.turn_amps(at, bench.is_so(at, MeterQuantity::Current, settings.dial_current_a) / share);
    }
    match charger {
        Some(ChargerKind::SmartCharger) => bench.turn_volts(Place::Charger, settings.true_voltage_v),
        Some(ChargerKind::Pwm) => {
            let duty = first.and_then(|turn| turn.duty).or(plan.charger.as_ref().and_then(|doc| doc.duty));
            bench.turn_duty(duty.unwrap_or(0.0));
        }
        _ => {}
    }
    if let Some(amps) = settings.input_limit_a {
        bench.limit_input(amps);
    }
}

/// Somebody at a display that shows two figures after the point.
fn read(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}

/// What is kept in mind while it charges.
struct Watch {
    turn: usize,
    /// When it was last turned, s, and whether that turn has to be made again.
    turned_s: f64,
    again: bool,
    /// How far apart the last two turns were, s: as often it is turned from there on.
    apart_s: f64,
    balanced: bool,
    at_volts_since_s: Option<f64>,
    fallen_a: f64,
    fallen_s: f64,
    highest_a: f64,
    unfed_since_s: Option<f64>,
}

/// While it charges.
fn follow(card: &ResultDoc, bench: &mut Bench, mut see: impl FnMut(&Bench)) -> Carried {
    let first_a = bench.pack_a();
    let mut watch = Watch {
        turn: 0,
        turned_s: 0.0,
        again: false,
        apart_s: 60.0,
        balanced: false,
        at_volts_since_s: None,
        fallen_a: f64::INFINITY,
        fallen_s: 0.0,
        highest_a: 0.0,
        unfed_since_s: None,
    };
    let mut to_cv_s = None;
    let held_v = card.settings.as_ref().map(|settings| settings.true_voltage_v);
    loop {
        let t_s = bench.t_s();
        act(card, bench, &mut watch);
        if let Some(ended) = over(card, bench, &mut watch) {
            return Carried {
                ended,
                after_s: t_s,
                charge_ah: bench.charge_as() / 3600.0,
                soc: bench.soc(),
                first_a,
                last_a: bench.pack_a(),
                to_cv_s,
            };
        }
        if to_cv_s.is_none() && held_v.is_some_and(|v| bench.pack_v() >= v * (1.0 - AT_VOLTS)) {
            to_cv_s = Some(t_s);
        }
        let until_turn_s = card.nudges.get(watch.turn).map_or(f64::INFINITY, |turn| due_s(turn, &watch, bench) - t_s);
        // A clock rings when it is time.
        let limit_h = card.settings.as_ref().and_then(|settings| settings.time_limit_h);
        let until_clock_s = limit_h.map_or(f64::INFINITY, |h| h * 3600.0 - t_s);
        // What is near its stop is looked at more often.
        let near_s = if near_its_end(card, bench) { f64::max(10.0, 1e-3 * t_s) } else { 120.0 };
        bench.step(until_turn_s.min(until_clock_s).max(0.02).min(near_s));
        see(bench);
    }
}

fn near_its_end(card: &ResultDoc, bench: &Bench) -> bool {
    let Some(settings) = &card.settings else { return false };
    let near = |value: f64, stop: Option<f64>, share: f64| stop.is_some_and(|stop| value >= stop * (1.0 - share));
    settings.stop_current_a.is_some_and(|stop_a| bench.pack_a() < 1.15 * stop_a)
        || near(bench.pack_v(), settings.stop_voltage_v, 0.01)
        || near(bench.charge_as() / 3600.0, settings.stop_charge_ah, 0.01)
        || near(bench.t_s() / 3600.0, settings.time_limit_h, 0.01)
}

/// When a turn is made, s: the first at once, the others by whoever may come late.
fn due_s(turn: &NudgeDoc, watch: &Watch, bench: &Bench) -> f64 {
    match turn.at_s {
        _ if watch.again => watch.turned_s + watch.apart_s,
        at_s if at_s > 0.0 => at_s + bench.late_s(),
        _ => 0.0,
    }
}

/// Slowly up until so many amps flow, never past so many volts or so much of the time, never down; whether it came
/// as far.
fn turn_up(card: &ResultDoc, turn: &NudgeDoc, bench: &mut Bench) -> bool {
    // Of a duty's coarse steps one takes what comes near.
    let near = if turn.duty.is_some() { 1.03 } else { 1.0 };
    let flows_enough = |tried: &mut Bench| {
        tried.settle();
        read(tried.total_a()) > read(near * turn.current_a) || tried.let_go()
    };
    let volts_at = card.settings.as_ref().and_then(|settings| settings.voltage_at);
    if let (Some(to_v), Some(at)) = (turn.set_voltage_v, volts_at) {
        let top_v = bench.is_so(at, MeterQuantity::Voltage, to_v);
        let reaches = |bench: &Bench, volts: f64| {
            let mut tried = bench.clone();
            tried.turn_volts(at, volts);
            flows_enough(&mut tried)
        };
        let begins_v = bench.set_volts(at).unwrap_or(top_v).min(top_v);
        // Past what the source holds it gives less again, so the way up is gone in small steps: the first that is
        // enough is where a hand stops.
        let steps = ((top_v - begins_v) / HAND_V).ceil().clamp(1.0, HAND_STEPS);
        let at_step = |step: f64| begins_v + (top_v - begins_v) * step / steps;
        let mut step = 1.0;
        while step <= steps && !reaches(bench, at_step(step)) {
            step += 1.0;
        }
        if step > steps {
            bench.turn_volts(at, top_v);
            bench.settle();
            return true;
        }
        let (mut low, mut high) = (at_step(step - 1.0), at_step(step));
        for _ in 0..8 {
            let middle = 0.5 * (low + high);
            if reaches(bench, middle) { high = middle } else { low = middle }
        }
        bench.turn_volts(at, low);
        bench.settle();
        return false;
    }
    let Some(duty) = turn.duty else { return true };
    // Before anything is connected it is set as told; from then on a hundredth at a time.
    let mut share = if turn.at_s > 0.0 { bench.duty().unwrap_or(duty) } else { duty };
    while share + 0.005 < duty {
        let mut tried = bench.clone();
        tried.turn_duty(share + 0.01);
        if flows_enough(&mut tried) {
            break;
        }
        share += 0.01;
    }
    bench.turn_duty(share);
    bench.settle();
    share + 0.005 >= duty
}

/// Turns what is to be turned now.
fn act(card: &ResultDoc, bench: &mut Bench, watch: &mut Watch) {
    let t_s = bench.t_s();
    while let Some(turn) = card.nudges.get(watch.turn).filter(|turn| due_s(turn, watch, bench) <= t_s + 0.01) {
        let reached = turn_up(card, turn, bench);
        watch.turned_s = t_s;
        watch.turn += 1;
        if !reached && watch.turn == card.nudges.len() && t_s > 0.0 {
            // It flows more than the table thought: the last turn is made again, as often as the table turned last,
            // until it stands as told.
            let before_s = card.nudges.iter().rev().nth(1).map_or(0.0, |turn| turn.at_s);
            watch.apart_s = (turn.at_s - before_s).max(60.0);
            watch.turn -= 1;
            watch.again = true;
            break;
        }
    }
    // Capacitors: less from where the smallest is full on.
    let balance = card.steps.iter().find(|step| step.code == "balance").filter(|_| !watch.balanced);
    if let Some((step, at)) = balance.zip(card.settings.as_ref().and_then(|settings| settings.current_at))
        && let (Some(volts), Some(amps)) = (step.values.get("voltage_v"), step.values.get("current_a"))
        && bench.pack_v() >= *volts - 0.005
    {
        watch.balanced = true;
        bench.turn_amps(at, *amps);
        bench.settle();
    }
}

/// Whether it is over.
fn over(card: &ResultDoc, bench: &Bench, watch: &mut Watch) -> Option<Ended> {
    let (t_s, pack_a) = (bench.t_s(), bench.pack_a());
    let failed = bench.burnt()
        || bench.circuit().swings()
        || bench.passings().lasting().any(|one| one.rating == Rating::LetGo && one.for_s > 30.0);
    if failed || bench.pack().is_some_and(|cells| cells.is_open()) {
        return Some(Ended::Failed);
    }
    if !bench.relay_closed() {
        return Some(Ended::Relay);
    }
    if t_s >= LONGEST_S {
        return Some(Ended::Never);
    }
    let reserve = card.resolved.source.as_ref().and_then(|doc| doc.reserve_soc).unwrap_or(0.0);
    if bench.source_soc().is_some_and(|soc| soc <= reserve) {
        return Some(Ended::SourceEmpty);
    }
    let empty = bench.pack().is_some_and(|cells| {
        let lowest_v = cells.cells.iter().map(|cell| cell.volts).fold(f64::INFINITY, f64::min);
        pack_a < 0.0 && (lowest_v < cells.figures().deep_below_v() || cells.soc() <= 0.0)
    });
    if empty {
        return Some(Ended::Draining);
    }
    let Some(settings) = &card.settings else {
        // Nobody told an end: it goes on until something is passed, or for good.
        const FOR_GOOD_S: f64 = 5.0 * 86_400.0;
        let passed = bench.passings().lasting().next().is_some();
        return (passed || t_s >= FOR_GOOD_S).then_some(Ended::Never);
    };
    if settings.stop_voltage_v.is_some_and(|stop_v| read(bench.pack_v()) >= stop_v) {
        return Some(Ended::Volts);
    }
    if settings.stop_charge_ah.is_some_and(|stop_ah| bench.charge_as() / 3600.0 >= stop_ah) {
        return Some(Ended::Charge);
    }
    if settings.time_limit_h.is_some_and(|h| t_s >= h * 3600.0) {
        return Some(Ended::Time);
    }
    // Nothing goes in and nothing comes out: somebody who looks in now and then gives up after a day.
    if pack_a.abs() < 1e-4 * watch.highest_a.max(1e-3) {
        let since_s = *watch.unfed_since_s.get_or_insert(t_s);
        if t_s - since_s > 86_400.0 {
            return Some(Ended::Never);
        }
    } else {
        watch.unfed_since_s = None;
    }
    // Turned up by hand it is over only once it has been turned as far as it goes, or once turning moves nothing
    // more: so little flows as ends it, past the time told.
    if watch.turn < card.nudges.len() {
        let little = settings.stop_current_a.is_some_and(|stop_a| pack_a <= stop_a);
        return (watch.again && little && t_s >= card.end.after_s).then_some(Ended::Current);
    }
    held(card, settings, bench, watch)
}

/// Whether a current that falls at a held voltage has come to its stop.
fn held(card: &ResultDoc, settings: &ResultSettingsDoc, bench: &Bench, watch: &mut Watch) -> Option<Ended> {
    /// Less cannot be read off a display.
    const READ: f64 = 0.95;
    let (t_s, pack_a) = (bench.t_s(), bench.pack_a());
    watch.highest_a = watch.highest_a.max(pack_a);
    let at_volts = bench.holds_volts() || bench.pack_v() >= settings.true_voltage_v * (1.0 - 2.0 * AT_VOLTS);
    if at_volts {
        watch.at_volts_since_s.get_or_insert(t_s);
    } else {
        watch.at_volts_since_s = None;
    }
    // A charger that ends by itself goes by what it puts out. What was turned down by hand has not fallen.
    let kind = card.resolved.charger.as_ref().and_then(|doc| doc.kind);
    // A load above its stop keeps it from ending: then somebody ends it by what the pack takes.
    let load_a = bench.total_a() - pack_a;
    let own = kind.is_some_and(|kind| kind.chooses() || kind == ChargerKind::LinearModule)
        && settings.stop_current_a.is_some_and(|stop_a| load_a < 0.9 * stop_a);
    let seen_a = if own { bench.total_a() } else { pack_a };
    if let Some(stop_a) = settings.stop_current_a
        && (at_volts || (watch.highest_a > stop_a && !watch.balanced))
        && (0.0..=stop_a).contains(&seen_a)
    {
        return Some(Ended::Current);
    }
    let longest_s = settings.absorption_limit_h? * 3600.0;
    let since_s = watch.at_volts_since_s?;
    if since_s >= t_s || pack_a < READ * watch.fallen_a {
        (watch.fallen_a, watch.fallen_s) = (pack_a, t_s);
    }
    if t_s - since_s >= longest_s {
        return Some(Ended::Time);
    }
    (t_s - watch.fallen_s >= 3600.0).then_some(Ended::Steady)
}
