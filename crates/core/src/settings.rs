//! What to dial: the charge voltage, the current and its cause, and where to stop.

use crate::chain::{Feed, LimitCode, LoadDraw};
use crate::charge::{Model, Scale, Stops};
use crate::chemistry::{Family, Profile};
use crate::document::{PackMark, Practice};
use crate::identify::{Identified, bounds};
use crate::pack::{Goal, Pack};
use crate::plan::Plan;
use crate::source::Source;
use crate::units::{CRate, in_amp_hours, in_amps, in_celsius, in_volts, in_watts, volts};

/// The settings of a charge and how they came about.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Chosen {
    /// The charge voltage wanted, V.
    pub(crate) wanted_v: f64,
    /// What the supply is set to: the wanted voltage within its window and step, V.
    pub(crate) dial_v: f64,
    /// What the practice and the goal ask for, V.
    pub(crate) recommended_v: f64,
    /// What it would have been without cells out of step, V.
    pub(crate) level_v: f64,
    /// Above this Rumek refuses, V.
    pub(crate) ceiling_v: f64,
    /// Current limits, A in total, the least first.
    pub(crate) currents: Vec<(LimitCode, f64)>,
    pub(crate) feed: Feed,
    pub(crate) stops: Stops,
    /// Ends by counted charge: this much, Ah.
    pub(crate) stop_charge_ah: Option<f64>,
    pub(crate) float_v: Option<f64>,
    /// What would flow at once if nothing limited it, A; the test of a supply without a limit.
    pub(crate) inrush_a: f64,
    /// A foldback supply that starts folded back.
    pub(crate) folded: bool,
}

/// Works out the settings of a plan with a source.
pub(crate) fn choose(plan: &Plan, source: &Source, found: &Identified) -> Chosen {
    let pack = &plan.pack;
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    let temperature_c = in_celsius(pack.temperature);
    let model = Model::new(pack, &found.offsets, true, Scale::NOMINAL);

    let recommended_a = recommended_current(plan);
    let stop_a = plan.settings.stop_current_a.or_else(|| taper_current(pack, recommended_a));
    let recommended_v = goal_voltage(plan, &model, stop_a.unwrap_or(0.0), recommended_a);
    let level_v = plan.settings.voltage_v.unwrap_or(recommended_v);
    let lowered = (plan.settings.voltage_v.is_none() && !pack.balanced && !profile.timed())
        .then(|| highest_cell_full(pack, found, &model, level_v, stop_a.unwrap_or(0.0)))
        .flatten();
    let wanted_v = lowered.map_or(level_v, |(v, _)| v.min(level_v));
    let dial_v = dial_voltage(source, wanted_v);
    let short = dial_v < wanted_v - f64::max(2.0 * in_volts(source.step), 0.002 * wanted_v);
    let voltage_code = if short { LimitCode::SourceVoltage } else { LimitCode::SetVoltage };

    let now = model.now(&crate::charge::State::rested(found.soc));
    let inrush_a = (dial_v - now.e_v) / now.r_ohm + plan.load.current_a(found.rest_v);
    let mut currents = current_limits(plan, source, recommended_a, dial_v);
    let folded = source
        .folded_back()
        .is_some_and(|_| source.current_at(volts(dial_v)).is_some_and(|rated| inrush_a > in_amps(rated)));
    if folded && let Some(a) = source.folded_back() {
        currents.retain(|(code, _)| *code != LimitCode::SourceCurrent);
        currents.push((LimitCode::SourceCurrent, in_amps(a)));
    }
    currents.sort_by(|a, b| a.1.total_cmp(&b.1));
    let enforced = |code: LimitCode| source.dials_current() || code == LimitCode::SourceCurrent;
    let (current_code, current_a) =
        currents.iter().copied().find(|(code, _)| enforced(*code)).unwrap_or((LimitCode::SourceCurrent, f64::INFINITY));
    // A dial has two decimals; rounding up would pass a limit.
    let current_a = if source.dials_current() && current_a >= 0.02 { floor_to(current_a, 0.01) } else { current_a };
    let power_w = source.power_at(volts(dial_v)).map_or(f64::INFINITY, in_watts);

    let mut goal_soc = match (pack.goal, lowered) {
        (Goal::Full, Some((v, mean_soc))) if v < level_v => mean_soc,
        _ => goal_soc(plan, recommended_v / series - profile.compensation_v(temperature_c)),
    };
    if matches!(pack.goal, Goal::Full | Goal::Float) && dial_v >= recommended_v - 0.005 * series {
        // At the right voltage, full is what the stop current leaves: a tired pack is no stall. One
        // so tired that hardly anything is left is.
        let warmth_v = profile.compensation_v(temperature_c) * series;
        let held = model.soc_held(dial_v - warmth_v, stop_a.unwrap_or(0.0));
        if held > 0.5 {
            goal_soc = goal_soc.min(held);
        }
    }
    let fast_timed = profile.timed() && current_a >= 0.3 * in_amp_hours(pack.nameplate);
    let ends_at_goal = matches!(pack.goal, Goal::Soc(_)) || counted(plan) || fast_timed;
    let usable_ah = in_amp_hours(pack.capacity);
    let limit_h = plan.settings.time_limit_h.or_else(|| {
        let hours = |factor: f64| factor * (goal_soc - found.soc).max(0.02) * usable_ah / current_a;
        profile.timed().then(|| if fast_timed { hours(1.4) } else { hours(1.5) })
    });
    Chosen {
        wanted_v,
        dial_v,
        recommended_v,
        level_v,
        ceiling_v: ceiling(pack) * series,
        feed: Feed { current_a, current_code, power_w, voltage_v: dial_v, voltage_code },
        currents,
        stops: Stops {
            goal_soc,
            ends_at_goal,
            taper_a: stop_a,
            give_up_a: stop_a.map_or(usable_ah / 100.0, |a| a.min(usable_ah / 100.0)),
            stop_v: plan.settings.stop_voltage_v,
            limit_s: limit_h.map(|h| h * 3600.0),
            empty_v: empty_volts(pack),
        },
        stop_charge_ah: ends_at_goal.then(|| (goal_soc - found.soc).max(0.0) * usable_ah),
        float_v: (profile.family == Family::Lead)
            .then(|| float_voltage(pack).min(source_max(source)))
            .filter(|v| *v >= in_volts(source.min)),
        inrush_a,
        folded,
    }
}

fn source_max(source: &Source) -> f64 {
    in_volts(source.max)
}

/// The voltage below which a pack counts as empty while it feeds a load, V.
pub(crate) fn empty_volts(pack: &Pack) -> f64 {
    let cell_v = match pack.profile.family {
        Family::Capacitor => 0.0,
        _ => pack.profile.precharge_below_v,
    };
    cell_v * f64::from(pack.series)
}

/// Whether the end is counted in Ah because the voltage does not tell it.
fn counted(plan: &Plan) -> bool {
    let profile = &plan.pack.profile;
    let gentle_top = plan.practice == Practice::Gentle && plan.pack.goal == Goal::Full;
    profile.flat() && (gentle_top || plan.pack.goal == Goal::Storage)
}

/// The rate of the practice as a current, A; infinite where the chemistry is charged by amps and
/// no label speaks.
fn recommended_current(plan: &Plan) -> f64 {
    let pack = &plan.pack;
    let rates = pack.profile.rates;
    let label_a = pack.rated.map_or(f64::INFINITY, in_amps);
    let standard_a = in_amps(CRate(rates.standard).current(pack.nameplate));
    if pack.mark == Some(PackMark::Recovered) {
        return label_a.min(0.5 * standard_a);
    }
    match plan.practice {
        Practice::Gentle => 0.5 * standard_a.min(label_a),
        Practice::Standard => standard_a.min(label_a),
        Practice::Hurry => match pack.rated {
            Some(rated) => in_amps(rated),
            None => in_amps(CRate(rates.hurry).current(pack.nameplate)),
        },
    }
}

/// The current at which the charge is done, A; `None` where nothing tapers.
fn taper_current(pack: &Pack, recommended_a: f64) -> Option<f64> {
    match pack.profile.family {
        Family::Nickel => None,
        Family::Capacitor => {
            let charge_a = if recommended_a.is_finite() { recommended_a } else { in_amp_hours(pack.nameplate) * 60.0 };
            Some(pack.balance_current.map_or(0.02 * charge_a, in_amps))
        }
        _ => Some(in_amps(CRate(pack.profile.rates.taper).current(pack.nameplate))),
    }
}

/// The charge voltage of the goal, V.
fn goal_voltage(plan: &Plan, model: &Model<'_>, stop_a: f64, current_a: f64) -> f64 {
    let pack = &plan.pack;
    let profile: &Profile = &pack.profile;
    let series = f64::from(pack.series);
    let warmth_v = profile.compensation_v(in_celsius(pack.temperature)) * series;
    if profile.timed() {
        let fast = current_a >= 0.3 * in_amp_hours(pack.nameplate);
        return if fast { 1.70 } else { 1.60 } * series;
    }
    match pack.goal {
        Goal::Float => float_voltage(pack),
        Goal::Storage if !profile.flat() && profile.storage_v.is_some() => {
            // The voltage that rests at storage once the stop current is gone.
            let settled = model.settled(goal_soc(plan, profile.full_v));
            settled.e_v + settled.r_ohm * stop_a
        }
        _ => {
            let full_v = match (pack.label_cycle, plan.practice) {
                (Some([low, _]), Practice::Gentle) => in_volts(low),
                (Some([_, high]), _) => in_volts(high),
                (None, Practice::Gentle) => profile.gentle_v.unwrap_or(profile.full_v) * series,
                (None, _) => profile.full_v * series,
            };
            full_v + warmth_v
        }
    }
}

/// Where a lead-acid pack is held, V.
fn float_voltage(pack: &Pack) -> f64 {
    let profile = &pack.profile;
    let series = f64::from(pack.series);
    let base_v = match pack.label_standby {
        Some([low, high]) => 0.5 * (in_volts(low) + in_volts(high)),
        None => profile.float_v.unwrap_or(profile.full_v) * series,
    };
    base_v + profile.compensation_v(in_celsius(pack.temperature)) * series
}

/// The state of charge the goal means, given the charge voltage of a cell at 25 °C.
fn goal_soc(plan: &Plan, cell_v: f64) -> f64 {
    let profile: &Profile = &plan.pack.profile;
    match plan.pack.goal {
        Goal::Soc(soc) => soc,
        Goal::Storage => profile.storage_v.map_or(1.0, |v| profile.ocv.soc_at(v)),
        Goal::Full if counted(plan) => 0.9,
        Goal::Full if profile.family == Family::Lithium => {
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
    let own = profile.ceiling_at(temperature_c);
    match pack.label_cycle {
        Some([_, high]) if profile.family != Family::Lithium => {
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
    level_v: f64,
    stop_a: f64,
) -> Option<(f64, f64)> {
    if found.offsets.is_empty() {
        return None;
    }
    let series = f64::from(pack.series);
    let profile: &Profile = &pack.profile;
    let drop_v = model.settled(0.95).r_ohm * stop_a / series + profile.hysteresis_v;
    let top_soc = profile.ocv.soc_at(level_v / series - drop_v);
    let (_, highest) = bounds(&found.offsets);
    let mean_soc = top_soc - highest;
    let cells = f64::from(found.cells_per_reading);
    let pack_v = found.offsets.iter().map(|offset| cells * (profile.ocv.at(mean_soc + offset).0 + drop_v)).sum();
    Some((pack_v, mean_soc))
}

/// The wanted voltage within the supply's window, down to its step, V.
fn dial_voltage(source: &Source, wanted_v: f64) -> f64 {
    let (low, high) = (in_volts(source.min), in_volts(source.max));
    if low >= high {
        return high;
    }
    floor_to(wanted_v, in_volts(source.step)).clamp(low, high)
}

fn floor_to(value: f64, step: f64) -> f64 {
    let steps = (value / step + 1e-6).floor();
    // Through the decimal text, so that 25.2 does not show as 25.200000000000003.
    (steps * step * 1e6).round() / 1e6
}

/// Every limit on the current, A in total at the pack.
fn current_limits(plan: &Plan, source: &Source, recommended_a: f64, dial_v: f64) -> Vec<(LimitCode, f64)> {
    let pack = &plan.pack;
    let hard_a = pack.hard_limit().map_or(f64::INFINITY, in_amps);
    let chosen = plan.settings.current_a;
    let load_a = match plan.load {
        LoadDraw::None => 0.0,
        load => load.current_a(dial_v),
    };
    // What the load takes may be added, but if it is switched off the pack gets it all: never
    // beyond what the pack may take.
    let with_load = |a: f64| (a + load_a).min(hard_a.max(a));
    let accepted = plan.acceptances.iter().any(|a| a.code == Some(crate::checks::CheckCode::PackRateTooHigh));
    let rating_a = match chosen {
        Some(set_a) if accepted => hard_a.max(set_a),
        Some(_) => hard_a,
        None if source.dials_current() => with_load(recommended_a),
        None => hard_a,
    };
    [
        (LimitCode::PackRating, Some(rating_a)),
        (LimitCode::Bms, pack.bms_max.map(in_amps)),
        (LimitCode::SetCurrent, chosen.filter(|_| source.dials_current())),
        (LimitCode::SourceCurrent, source.current_at(volts(dial_v)).map(in_amps)),
    ]
    .into_iter()
    .filter_map(|(code, a)| a.filter(|a| a.is_finite()).map(|a| (code, a)))
    .collect()
}
