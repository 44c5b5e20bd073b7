//! Checks of the pack.

use super::finding::Finding;
use super::situation::Situation;
use crate::chain::feed::Control;
use crate::chain::settings::{Chosen, practice_current};
use crate::codes::CheckCode;
use crate::formats::{EndReason, PackMark, Practice};
use crate::parts::charger::Charger;
use crate::parts::lead::SLACK;
use crate::parts::pack::{Goal, Pack};
use crate::parts::parallel::joining;
use crate::physics::operating::LoadDraw;
use crate::units::{in_amp_hours, in_amps, in_celsius, show_hours, trimmed};

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    state(s, findings);
    if s.chosen.is_some() {
        dead_cell(s, findings);
        unknown_start(s, findings);
        temperature(s, findings);
        rate(s, findings);
        label(s, findings);
        parallel(s, findings);
        level(s, findings);
        above_goal(s, findings);
        ending(s, findings);
        overcharged(s, findings);
        data_sheet(s, findings);
    }
    always(s, findings);
}

/// What stands above Rumek's figures.
fn data_sheet(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    /// A battery of so much is hardly one that is carried, Wh.
    const BANK_WH: f64 = 1000.0;
    let pack = &s.plan.pack;
    let wh = in_amp_hours(pack.nameplate) * pack.profile.nominal_v * f64::from(pack.series);
    let wired = if wh >= BANK_WH {
        format!(
            " Where so large a battery ({} kWh) belongs to a house, a boat or a vehicle, local electrical code and licensed practice come first.",
            trimmed(wh / 1e3, 1)
        )
    } else {
        String::new()
    };
    findings.push(Finding::note(
        CheckCode::PackDataSheet,
        format!("Figures not on your label are typical for the chemistry; the pack maker's data sheet overrules them.{wired}"),
        &[],
    ));
}

/// Deep discharge, reversal, retirement.
fn state(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    if pack.mark == Some(PackMark::Retired) {
        findings.push(Finding::stop(
            CheckCode::PackRetired,
            "This pack is marked as retired: do not charge it. Its terminals taped, in sand or on stone outdoors; tell the collection point that it is damaged.".to_owned(),
            &[],
        ));
    }
    let Some(lowest_v) = s.found.lowest_cell_v(pack.series) else {
        return;
    };
    if lowest_v < 0.0 {
        findings.push(Finding::stop(
            CheckCode::PackReversedCell,
            format!(
                "A cell reads {} V: reversed, or the meter's leads are. A reversed cell can short inside when charged.",
                trimmed(lowest_v, 3)
            ),
            &[("cell_v", lowest_v)],
        ));
    }
    let line_v = pack.profile.precharge_below_v;
    if s.chosen.is_none() || lowest_v >= line_v {
        return;
    }
    let values = [("cell_v", lowest_v), ("precharge_below_v", line_v)];
    // A board that has opened shows next to nothing at the terminals, and nothing of the cells.
    const ASLEEP_V: f64 = 0.3;
    let asleep = pack.bms_max.is_some() && s.found.positions_v.is_empty() && lowest_v < ASLEEP_V;
    if asleep && pack.profile.traits.burns {
        findings.push(Finding::stop(
            CheckCode::PackDeeplyDischarged,
            format!(
                "{} V behind a protection board: it has parted the cells from the terminals, and what they hold is not seen. It has to be woken and the cells judged first.",
                trimmed(s.found.rest_v, 2)
            ),
            &values,
        ));
    } else if pack.profile.traits.burns {
        findings.push(Finding::stop(
            CheckCode::PackDeeplyDischarged,
            format!(
                "{} V a cell is under {} V: too low for a normal charge. {}; it must be judged and precharged first, or retired.",
                trimmed(lowest_v, 3),
                trimmed(line_v, 2),
                pack.profile.words.low.may
            ),
            &values,
        ));
    } else if !pack.profile.traits.farads {
        findings.push(Finding::caution(
            CheckCode::PackDeeplyDischarged,
            format!(
                "{} V a cell is under {} V: deeply discharged. Begin with {} A, a tenth; up to {} A once it stands above {} V. Where it does not climb within the hour, a cell is dead.",
                trimmed(lowest_v, 3),
                trimmed(line_v, 2),
                trimmed(s.chosen.map_or(0.0, Chosen::current_a), 2),
                trimmed(practice_current(s.plan), 2),
                trimmed(recovered_v(pack), 1)
            ),
            &values,
        ));
    }
}

/// Unlike packs at the moment they are joined.
fn parallel(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let lead_ohm = s.plan.output.as_ref().map_or(0.0, |lead| lead.ohm);
    let Some(worst) = joining(&s.plan.members, s.found.rest_v, pack.series, lead_ohm) else {
        return;
    };
    let values = [("apart_v", worst.apart_v), ("inrush_a", worst.inrush_a), ("rated_a", worst.rated_a)];
    let figures = format!(
        "The packs are {} V a cell apart: about {} A flow between them as they are joined",
        trimmed(worst.apart_v, 3),
        trimmed(worst.inrush_a, 1)
    );
    if worst.apart_v > 0.10 || worst.over > 1.0 {
        findings.push(Finding::stop(
            CheckCode::PackParallelMismatch,
            format!(
                "{figures}; the lower one may be charged with {} A. Bring them level first, or charge one by one.",
                trimmed(worst.rated_a, 1)
            ),
            &values,
        ));
    } else if worst.apart_v > 0.05 {
        findings.push(Finding::caution(
            CheckCode::PackParallelMismatch,
            format!("{figures}. Main leads first, wait until they have levelled, then the balance leads."),
            &values,
        ));
    }
}

fn temperature(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let profile = &pack.profile;
    let t = in_celsius(pack.temperature);
    let window = profile.window;
    let name = profile.name;
    let lithium = profile.traits.burns;
    if t < window.min_c {
        let reason = profile.words.too_cold;
        let finding = if lithium { Finding::stop } else { Finding::caution };
        findings.push(finding(
            CheckCode::PackTooCold,
            format!(
                "{} °C is below {} °C for charging {name}: {reason}. Warm it first.",
                trimmed(t, 1),
                trimmed(window.min_c, 0)
            ),
            &[("temperature_c", t), ("min_c", window.min_c)],
        ));
    } else if t > window.max_c {
        let finding = if profile.warmth.hot_stops { Finding::stop } else { Finding::caution };
        let why = profile.traits.too_hot;
        findings.push(finding(
            CheckCode::PackTooHot,
            format!(
                "{} °C is above {} °C for charging {name}: {why}. Take it off any charger, let it cool, and find out what warmed it.",
                trimmed(t, 1),
                trimmed(window.max_c, 0)
            ),
            &[("temperature_c", t), ("max_c", window.max_c)],
        ));
    } else {
        cold(s, t, findings);
        hot(s, t, findings);
    }
    frozen(s, t, findings);
}

/// What usual sheets allow in the cold may be doubled before plating is certain.
const COLD_SLACK: f64 = 2.0;

/// A rate that its cold allows, or does not.
fn cold(s: &Situation<'_>, t: f64, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let Some(cold_a) = pack.cold_limit().map(in_amps) else { return };
    let asked_a = s.plan.settings.current_a.map_or(s.most.pack_a, |set_a| set_a.max(s.most.pack_a));
    let full_c = pack.profile.warmth.full_from_c();
    let values = [("temperature_c", t), ("current_a", asked_a), ("cold_a", cold_a), ("full_from_c", full_c)];
    let why = pack.profile.words.cold_rate;
    let (at, may, asked) = (trimmed(t, 1), trimmed(cold_a, 2), trimmed(asked_a, 2));
    let most = if pack.sheet.is_some() { 1.0 } else { COLD_SLACK };
    if asked_a > most * cold_a * SLACK {
        findings.push(Finding::stop(
            CheckCode::PackColdRate,
            format!("{asked} A at {at} °C, where {may} A are usual: {why}. Warm it to {} °C, or charge it with {may} A; its data sheet may allow more.", trimmed(full_c, 0)),
            &values,
        ));
    } else if asked_a > cold_a * SLACK {
        findings.push(Finding::caution(
            CheckCode::PackColdRate,
            format!(
                "{asked} A at {at} °C, where {may} A are usual: {why}. Warm it to {} °C first.",
                trimmed(full_c, 0)
            ),
            &values,
        ));
    } else if practice_current(s.plan) > cold_a * SLACK {
        findings.push(Finding::note(
            CheckCode::PackColdRate,
            format!(
                "At {at} °C it is charged with no more than {may} A: {why}. From {} °C on it takes its full rate.",
                trimmed(full_c, 0)
            ),
            &values,
        ));
    }
}

/// So little under the edge it is told to cool, K.
const NEARLY_HOT_K: f64 = 5.0;

/// A pack that reaches its stop before it is full.
fn hot(s: &Situation<'_>, t: f64, findings: &mut Vec<Finding>) {
    let profile = &s.plan.pack.profile;
    if t < profile.warmth.hot_from_c {
        let near_c = profile.warmth.hot_from_c - NEARLY_HOT_K;
        if t > near_c {
            findings.push(Finding::note(
                CheckCode::PackHotStart,
                format!(
                    "At {} °C it is warm from use or from the sun, and charging adds some degrees: let it cool to 30 °C first, in the shade.",
                    trimmed(t, 1)
                ),
                &[("temperature_c", t), ("max_c", profile.window.max_c)],
            ));
        }
        return;
    }
    findings.push(Finding::caution(
        CheckCode::PackHotStart,
        format!(
            "It starts at {} °C and has to stop at {} °C; charging warms it by some degrees, so it will hardly finish. Let it cool to 30 °C: packs warm from use are the usual case.",
            trimmed(t, 1),
            trimmed(profile.window.max_c, 0)
        ),
        &[("temperature_c", t), ("max_c", profile.window.max_c)],
    ));
}

/// Acid that may be ice.
fn frozen(s: &Situation<'_>, t: f64, findings: &mut Vec<Finding>) {
    let Some(freezes_c) = s.plan.pack.profile.freezes_c.map(|by_soc| by_soc.at(s.found.low)) else { return };
    if t >= freezes_c {
        return;
    }
    findings.push(Finding::stop(
        CheckCode::PackFrozen,
        format!(
            "At {} °C the acid of a battery that may hold only {} % is ice (it freezes at {} °C): charged, it bursts. Thaw it for a day in a warm place first, and look for a split case.",
            trimmed(t, 1),
            trimmed(s.found.low * 100.0, 0),
            trimmed(freezes_c, 0)
        ),
        &[("temperature_c", t), ("freezes_c", freezes_c), ("soc_low", s.found.low)],
    ));
}

/// From where a lead battery that was left low is taken for one that can be charged, V: 11.5 V of six cells.
fn recovered_v(pack: &Pack) -> f64 {
    11.5 / 6.0 * f64::from(pack.series)
}

/// Rest volts of a lead battery that five good cells and a dead one have as well.
fn dead_cell(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    if !pack.profile.traits.in_blocks || !s.found.measured || pack.series < 3 {
        return;
    }
    let rest_v = s.found.rest_v;
    let others = f64::from(pack.series - 1);
    // Charged cells rest at 2.06 V to 2.18 V.
    if !(2.06 * others..=2.18 * others).contains(&rest_v) {
        return;
    }
    let rises_v = recovered_v(pack);
    let gentle_a = 0.05 * in_amp_hours(pack.nameplate);
    findings.push(Finding::stop(
        CheckCode::PackDeadCell,
        format!(
            "{} V at rest is what {} good cells and a dead one have, as likely as an evenly flat battery: at full voltage the good ones would boil. Give it {} A for an hour, with somebody beside it; if it does not rise past {} V a cell is dead. Then put in what it reads.",
            trimmed(rest_v, 2),
            pack.series - 1,
            trimmed(gentle_a, 2),
            trimmed(rises_v, 1)
        ),
        &[("voltage_v", rest_v), ("gentle_a", gentle_a), ("rises_v", rises_v)],
    ));
}

fn rate(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let Some(chosen) = s.chosen else { return };
    let pack = &s.plan.pack;
    // A set current is judged as set: what a supply can give today it may not be tomorrow.
    let asked_a = match s.plan.settings.current_a {
        Some(set_a) if matches!(chosen.built.control, Control::Dial | Control::Hand) => set_a,
        _ => s.most.pack_a,
    };
    if let Some(bms) = pack.bms_max.map(in_amps)
        && s.most.pack_a > bms * SLACK
    {
        findings.push(Finding::stop(
            CheckCode::PackBmsOverloaded,
            format!(
                "{} A would flow where the BMS allows {} A, and nothing here turns the current down. A charger of at most that, or a BMS for more, would do.",
                trimmed(s.most.pack_a, 2),
                trimmed(bms, 2)
            ),
            &[("current_a", s.most.pack_a), ("bms_a", bms)],
        ));
    }
    let Some(hard_a) = pack.hard_limit().map(in_amps) else {
        return;
    };
    let c = asked_a / in_amp_hours(pack.nameplate);
    if asked_a > hard_a * SLACK {
        let (code, whose) = match (pack.mark, pack.rated) {
            (Some(PackMark::Recovered), _) => (CheckCode::PackRecoveredRate, "this recovered pack may take"),
            (_, Some(_)) => (CheckCode::PackRateTooHigh, "the label allows"),
            (_, None) => (CheckCode::PackRateTooHigh, "the chemistry is ever charged with, and no label says more"),
        };
        let mut finding = Finding::stop(
            code,
            format!(
                "{}{} A ({}C) is more than the {} A {whose}: {}.",
                // What the load leaves may do; without it the pack gets all.
                if s.most_a() <= hard_a && s.plan.load != LoadDraw::None { "Once the load is off, " } else { "" },
                trimmed(asked_a, 2),
                trimmed(c, 2),
                trimmed(hard_a, 2),
                pack.profile.words.too_fast
            ),
            &[("current_a", asked_a), ("rated_a", hard_a), ("c_rate", c)],
        );
        finding.within_acceptance = asked_a <= acceptable_current(s, hard_a) * 1.0001;
        findings.push(finding);
    } else if pack.rated.is_none() {
        let usual_a = in_amps(pack.usual_limit());
        let usual = usual_a / in_amp_hours(pack.nameplate);
        // Once a load goes off the pack gets what is dialled for both.
        let dialled = matches!(chosen.built.control, Control::Dial | Control::Hand) && s.plan.load != LoadDraw::None;
        let asked_a = if dialled { asked_a.max(chosen.current_a()) } else { asked_a };
        let c = asked_a / in_amp_hours(pack.nameplate);
        if asked_a > usual_a * 1.05 {
            findings.push(Finding::caution(
                CheckCode::PackRateTooHigh,
                format!("{}C is faster than {} is usually charged without a label that says so ({}C): watch its warmth, or set {} A.", trimmed(c, 2), pack.profile.name, trimmed(usual, 1), trimmed(usual_a, 2)),
                &[("current_a", asked_a), ("rated_a", hard_a), ("c_rate", c)],
            ));
        }
    }
}

/// A label whose figures are hardly what they are taken for.
fn label(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let ah = in_amp_hours(pack.nameplate);
    if let (Some(rated), Some(believed)) = (pack.rated.map(in_amps), pack.rated_believed().map(in_amps))
        && rated > believed * SLACK
    {
        findings.push(Finding::caution(
            CheckCode::PackLabelRateUnusual,
            format!(
                "{}C is hardly what this pack is charged with: so large a number on a label says what it may give. No more than {} A is charged by it; look for “charge rate” on the label.",
                trimmed(rated / ah, 1),
                trimmed(believed, 2)
            ),
            &[("rated_a", rated), ("believed_a", believed)],
        ));
    }
    let each_ah = ah / f64::from(pack.parallel);
    if let Some(meant_ah) = pack.contradicted.map(in_amp_hours) {
        let volts = pack.profile.nominal_v * f64::from(pack.series);
        findings.push(Finding::caution(
            CheckCode::PackCapacityUnusual,
            format!(
                "{} Ah at {} V are {} Wh, and its label says {} Wh: was {} Ah meant, or another count of cells?",
                trimmed(each_ah, 3),
                trimmed(volts, 1),
                trimmed(each_ah * volts, 0),
                trimmed(meant_ah * volts, 0),
                trimmed(meant_ah, 2)
            ),
            &[("capacity_ah", each_ah), ("other_ah", meant_ah)],
        ));
    }
    let (least_ah, most_ah) = pack.profile.usual_ah;
    if !(least_ah..=most_ah).contains(&each_ah) {
        // A point that was left out makes it ten times as much.
        let tenfold = (most_ah..=10.0 * most_ah).contains(&each_ah);
        let other_ah = match each_ah {
            _ if tenfold => each_ah / 10.0,
            ah if ah > most_ah => ah / 1e3,
            ah => ah * 1e3,
        };
        let why = if tenfold { "Look for the point on its label." } else { "On a label mAh are a thousandth of Ah." };
        findings.push(Finding::caution(
            CheckCode::PackCapacityUnusual,
            format!(
                "{} Ah is unusual for {}: was {} Ah meant? {why}",
                trimmed(each_ah, 3),
                pack.profile.name,
                trimmed(other_ah, 3)
            ),
            &[("capacity_ah", each_ah), ("other_ah", other_ah)],
        ));
    }
}

/// The most that may be accepted: half again the label, never past the chemistry's last word.
fn acceptable_current(s: &Situation<'_>, hard_a: f64) -> f64 {
    let pack = &s.plan.pack;
    if pack.rated.is_none() {
        return 0.0;
    }
    (1.5 * hard_a).min(pack.profile.rates.last_word * in_amp_hours(pack.nameplate))
}

/// Sound cells of one pack do not stand so far apart at rest, V.
const ILL_V: f64 = 0.10;

/// Cells apart, and who levels them.
fn level(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let lithium = pack.profile.traits.burns;
    let spread_v = s.found.spread_v();
    let (Some(chosen), true) = (s.chosen, pack.series > 1) else {
        return;
    };
    if spread_v > 0.010 {
        let spread_ah = s.found.spread_soc() * in_amp_hours(pack.capacity);
        let mut message =
            format!("Cells are {} mV apart, about {} Ah.", trimmed(spread_v * 1e3, 0), trimmed(spread_ah, 2));
        let mut values = vec![("spread_v", spread_v), ("spread_ah", spread_ah)];
        if let Some(balance_a) = pack.balance_current.map(in_amps).filter(|_| pack.balanced) {
            let hours = spread_ah / balance_a;
            message += &format!(" Levelling them takes about {} at {} A.", show_hours(hours), trimmed(balance_a, 2));
            values.push(("balance_h", hours));
        } else if lithium && spread_v > ILL_V {
            message += &format!(
                " So far apart at rest one of them is ill or has been drained: level them first, the low ones charged alone with {} A, and see in some days whether they fall back.",
                trimmed(0.1 * in_amp_hours(pack.nameplate), 2)
            );
        }
        if !pack.balanced && chosen.charge_v < chosen.levelled_v - 0.001 {
            message += &format!(
                " The charge voltage is lowered from {} to {} V so that the highest ends at full.",
                trimmed(chosen.levelled_v, 2),
                trimmed(chosen.charge_v, 2)
            );
        }
        findings.push(if spread_v > 0.05 {
            Finding::caution(CheckCode::PackCellSpread, message, &values)
        } else {
            Finding::note(CheckCode::PackCellSpread, message, &values)
        });
    }
    if lithium && !pack.balanced && s.charge.reason != EndReason::GoalBelowStart {
        let known = !s.found.positions_v.is_empty();
        let full_v = chosen.dial_v / f64::from(pack.series);
        findings.push(Finding::caution(
            CheckCode::PackNoBalancing,
            if known {
                "Nothing levels the cells in this charge. Read them again near the end and stop if one passes full.".to_owned()
            } else {
                if pack.goal == Goal::Storage {
                    "Nothing levels the cells, and they were not read: read each before.".to_owned()
                } else {
                    format!("Nothing levels the cells, and they were not read: one cell may pass {} V unseen. Read each cell before, and again near the end.", trimmed(full_v, 2))
                }
            },
            &[("series", f64::from(pack.series))],
        ));
    }
}

/// A pack that holds more than is wanted: what to take out, and how long that takes.
fn above_goal(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    /// Taken out at so much, C, hardly warms any pack.
    const OUT_C: f64 = 0.2;
    if s.charge.reason != EndReason::GoalBelowStart {
        return;
    }
    let Some(chosen) = s.chosen else { return };
    let pack = &s.plan.pack;
    let out_ah = (s.found.soc - chosen.stops.goal_soc).max(0.0) * in_amp_hours(pack.capacity);
    let out_a = OUT_C * in_amp_hours(pack.nameplate);
    let goal = if pack.goal == Goal::Storage { "its storage charge" } else { "what is wanted" };
    findings.push(Finding::note(
        CheckCode::PackAboveGoal,
        format!(
            "It holds more than {goal}, {} % instead of {} %: nothing is charged. Take {} Ah out, with {} A in {}.",
            trimmed(s.found.soc * 100.0, 0),
            trimmed(chosen.stops.goal_soc * 100.0, 0),
            trimmed(out_ah, 2),
            trimmed(out_a, 2),
            show_hours(out_ah / out_a)
        ),
        &[("out_ah", out_ah), ("out_a", out_a), ("goal_soc", chosen.stops.goal_soc)],
    ));
}

/// Much more goes in than it holds: what it does not keep is gas and heat.
fn overcharged(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let (given_ah, holds_ah) = (s.charge.charge_as / 3600.0, in_amp_hours(pack.capacity));
    if given_ah <= pack.profile.most_given * holds_ah * SLACK {
        return;
    }
    findings.push(Finding::caution(
        CheckCode::PackOvercharged,
        format!(
            "By this reckoning {} Ah go into a pack that holds {} Ah: the rest turns to gas and heat. End it by hand after {} Ah.",
            trimmed(given_ah, 1),
            trimmed(holds_ah, 1),
            trimmed(pack.profile.most_given * holds_ah * (1.0 - s.found.soc), 1)
        ),
        &[("charge_ah", given_ah), ("holds_ah", holds_ah)],
    ));
}

/// At more than this, C, a nickel charge has to be ended.
const FORGIVING_C: f64 = 0.12;

/// A nickel pack whose charge nobody knows, at a rate at which somebody has to know.
fn unknown_start(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let ends_itself = s.plan.charger.as_ref().is_some_and(Charger::terminates);
    // Its rest volts say nothing of it.
    let unknown = s.found.measured || s.plan.start_assumed;
    let c = s.most.pack_a / in_amp_hours(pack.nameplate);
    // From half its capacity on it ends by falling volts, which need no clock.
    if !pack.profile.traits.timed || ends_itself || !unknown || !(FORGIVING_C..0.5 - 1e-9).contains(&c) {
        return;
    }
    findings.push(Finding::stop(
        CheckCode::PackStartUnknown,
        format!(
            "Nobody knows how full it is, and at {}C only a clock would end it: a full pack would turn all of it to heat. Empty it to 1.0 V a cell first and put 0 % as its start, or charge it with {} A.",
            trimmed(c, 2),
            trimmed(0.1 * in_amp_hours(pack.nameplate), 2)
        ),
        &[("c_rate", c), ("gentle_a", 0.1 * in_amp_hours(pack.nameplate))],
    ));
}

/// Who ends a nickel charge.
fn ending(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let ends_itself = s.plan.charger.as_ref().is_some_and(Charger::terminates);
    if s.chosen.is_none() || !s.plan.pack.profile.traits.timed || ends_itself {
        return;
    }
    let pack = &s.plan.pack;
    let c = s.most_a() / in_amp_hours(pack.nameplate);
    if c >= 0.5 - 1e-9 {
        let drop_mv = 1e3 * pack.profile.falls_by_v;
        let pack_mv = drop_mv * f64::from(pack.series);
        findings.push(Finding::caution(
            CheckCode::PackEndByHand,
            format!("No bench supply sees the end of a fast {} charge. Stay: stop when the voltage has dropped {} mV from its peak ({} mV a cell), or when it warms {} °C a minute.", pack.profile.name, trimmed(pack_mv, 0), trimmed(drop_mv, 0), trimmed(c.clamp(0.5, 1.0), 1)),
            &[("drop_mv", pack_mv), ("c_rate", c)],
        ));
    } else if c > 0.12 {
        findings.push(Finding::caution(
            CheckCode::PackEndByHand,
            format!("At {}C there is no voltage drop to stop on and too much current to forget: end it by the clock, and feel its warmth.", trimmed(c, 2)),
            &[("c_rate", c)],
        ));
    }
}

/// Hydrogen from an ampere-hour of gassing current in one cell, L (Faraday's law at room temperature).
const HYDROGEN_L: f64 = 0.45;
/// Above so many volts DC nobody works unskilled (extra-low voltage ends there).
const LETHAL_V: f64 = 120.0;

/// Cautions that always apply.
fn always(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let uncertain = s.found.high - s.found.low;
    if uncertain > 0.15 && !pack.profile.traits.farads {
        let how = if !pack.profile.voltage_tells_soc {
            "its rest voltage does not tell"
        } else if s.found.measured {
            "the curve is flat there, or the rest short or unknown"
        } else {
            "it was not measured"
        };
        findings.push(Finding::note(
            CheckCode::PackSocUncertain,
            format!(
                "It starts somewhere between {} and {} %: {how}. The time is that uncertain too.",
                trimmed(s.found.low * 100.0, 0),
                trimmed(s.found.high * 100.0, 0)
            ),
            &[("soc_low", s.found.low), ("soc_high", s.found.high)],
        ));
    }
    let highest_v = s.charge.moments.iter().map(|m| m.pack_v).fold(s.found.rest_v, f64::max);
    let highest_v = s.chosen.map_or(highest_v, |chosen| highest_v.max(chosen.dial_v));
    let highest_v = s.plan.source.as_ref().map_or(highest_v, |source| source.may_stand_at(highest_v));
    if highest_v > LETHAL_V {
        findings.push(Finding::stop(
            CheckCode::PackLethalVoltage,
            format!(
                "{} V DC kills at a touch and its arc does not go out by itself: for electrically skilled persons only, by the local code, with insulated tools, a DC switch, a meter and leads rated for it, and a second person there.",
                trimmed(highest_v, 0)
            ),
            &[("voltage_v", highest_v)],
        ));
    } else if highest_v > 60.0 {
        findings.push(Finding::caution(
            CheckCode::PackTouchVoltage,
            format!(
                "{} V DC can kill: cover every contact, connect with one hand, and nothing on the wrists. Where it belongs to a building, local electrical code and licensed practice come first.",
                trimmed(highest_v, 0)
            ),
            &[("voltage_v", highest_v)],
        ));
    }
    if s.chosen.is_none() {
        return;
    }
    if pack.profile.traits.burns {
        let cell = pack.profile.name;
        let extra =
            if s.plan.practice == Practice::Hurry { " Fast charging warms it: feel it at half time." } else { "" };
        findings.push(Finding::note(
            CheckCode::LithiumAttend,
            format!("{cell}: stay with it, on a surface that does not burn, away from what does, a smoke alarm above; not in the way out, a bedroom, a car, a boat or a tent.{extra}"),
            &[],
        ));
    }
    if pack.profile.traits.farads {
        findings.push(Finding::note(
            CheckCode::SupercapHandle,
            "Capacitors give thousands of amps into a short, for weeks after a charge: rings off, tools insulated, plus and minus by meter. Let down they come back by themselves: a resistor stays across them while they are stored. Empty they look like a short to a supply.".to_owned(),
            &[],
        ));
    }
    if pack.profile.traits.gasses && !s.nothing_flows() {
        let most_a = s.fed_a(s.most_a());
        findings.push(Finding::note(
            CheckCode::LeadAcidVentilate,
            format!(
                "Lead-acid gives off hydrogen near full: {} A into it are up to {} L an hour, and 4 % in air explode. Fresh air, never in a closed box, car or cabin; no sparks, clamps on and off with the supply off, face away, glasses and water for acid at hand.",
                trimmed(most_a, 1),
                trimmed(HYDROGEN_L * most_a * f64::from(pack.series), 1)
            ),
            &[],
        ));
    }
}
