//! Checks of the pack.

use super::situation::Situation;
use crate::acts::{Finding, a_thousandfold};
use crate::chain::may::{deep, gentle, recovered_v, usual};
use crate::codes::CheckCode;
use crate::formats::{EndReason, Practice};
use crate::lines::{cells, deep, ends, rates};
use crate::parts::charger::Charger;
use crate::parts::lead::SLACK;
use crate::parts::pack::Goal;
use crate::parts::parallel::joining;
use crate::units::{in_amp_hours, in_amps, show_hours, trimmed};

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    if s.chosen.is_some() {
        deeply(s, findings);
        unknown_start(s, findings);
        label(s, findings);
        parallel(s, findings);
        level(s, findings);
        above_goal(s, findings);
        ending(s, findings);
        overcharged(s, findings);
        data_sheet(s, findings);
        voltage_unsaid(s, findings);
    }
    always(s, findings);
}

/// Makers of such cells charge them to different voltages, and nobody said which this label names.
fn voltage_unsaid(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (pack, Some(chosen)) = (&s.plan.pack, s.chosen) else { return };
    let Some((least_v, most_v)) = pack.profile.makers_v.filter(|_| pack.label_cycle.is_none()) else { return };
    let cell_v = chosen.dial_v / f64::from(pack.series);
    let name = pack.profile.name;
    let (least, most) = (trimmed(least_v, 1), trimmed(most_v, 1));
    let message = if cell_v > least_v + 0.005 {
        format!(
            "Some {name} cells bear {least} V, others {most} V. Read the charge voltage on the label before you set {} V a cell.",
            trimmed(cell_v, 2)
        )
    } else {
        format!(
            "Some {name} cells end at {least} V, others at {most} V. {least} V harms neither. Enter the charge voltage of the label to fill the pack."
        )
    };
    findings.push(
        Finding::caution(
            CheckCode::PackVoltageUnsaid,
            message,
            &[("least_v", least_v), ("most_v", most_v), ("cell_v", cell_v)],
        )
        .lifted_at("Enter the charge voltage of the label.", "/pack/label_voltage_v/cycle"),
    );
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

/// Left too low for a normal charge.
fn deeply(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let profile = &pack.profile;
    let (Some(lowest_v), Some(chosen)) = (s.found.lowest_cell_v(pack.series), s.chosen) else { return };
    if !deep(pack, s.found) {
        return;
    }
    let line_v = deep::LINE_V.of(profile).unwrap_or_default();
    let values = [("cell_v", lowest_v), ("precharge_below_v", line_v)];
    let code = CheckCode::PackDeeplyDischarged;
    // A board that has opened shows next to nothing at the terminals, and nothing of the cells.
    let asleep = pack.bms_max.is_some() && s.found.positions_v.is_empty() && lowest_v < deep::ASLEEP_V.at;
    let cell = trimmed(lowest_v, 3);
    findings.push(if profile.traits.burns && asleep {
        let message = format!(
            "{} V behind a protection board: the board has disconnected the cells, and nobody sees what they hold. Wake the board first, then read the cells.",
            trimmed(s.found.rest_v, 2)
        );
        Finding::stop(code, message, &values).lifted_at(WAKE, RESTS)
    } else if profile.traits.burns && lowest_v >= line_v {
        let message = format!(
            "{cell} V a cell is only the mean of {}: one of them may be under {} V. {}.",
            pack.series,
            trimmed(line_v, 2),
            profile.words.low.may
        );
        Finding::stop(code, message, &values).lifted_at("Read each cell, at the balance plug or at the joints.", CELLS)
    } else if profile.traits.burns {
        let message = format!(
            "{cell} V a cell is under {} V: too low for a normal charge. {}. Judge it and precharge it first, or retire it.",
            trimmed(line_v, 2),
            profile.words.low.may
        );
        Finding::stop(code, message, &values).lifted_at("Let Rescue judge it, and precharge it if it may be.", RESTS)
    } else if let Some(rises_v) = recovered_v(pack) {
        let message = format!(
            "{} V at rest: flat for long. Give it {} A for an hour. It has to stand above {} V then; measure it after that and plan again, with up to {} A.",
            trimmed(s.found.rest_v, 2),
            trimmed(gentle(pack), 2),
            trimmed(rises_v, 1),
            trimmed(usual(pack, s.plan.practice), 2)
        );
        Finding::caution(code, message, &values)
    } else {
        let message = format!(
            "{cell} V a cell is under {} V: deeply discharged. Charge it with no more than {} A until it stands above that.",
            trimmed(line_v, 2),
            trimmed(chosen.current_a(), 2)
        );
        Finding::caution(code, message, &values)
    });
}

const CELLS: &str = "/pack/start/cell_voltages_v";
const RESTS: &str = "/pack/start/rest_voltage_v";
const WAKE: &str = "Wake the board with Rescue, then read its terminals again.";

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
    if worst.apart_v > cells::JOIN_STOP_V.at || worst.over > 1.0 {
        findings.push(Finding::stop(
            CheckCode::PackParallelMismatch,
            format!(
                "{figures}; the lower one may be charged with {} A. Bring them level first, or charge one by one.",
                trimmed(worst.rated_a, 1)
            ),
            &values,
        ));
    } else if worst.apart_v > cells::JOIN_V.at {
        findings.push(Finding::caution(
            CheckCode::PackParallelMismatch,
            format!("{figures}. Main leads first, wait until they have levelled, then the balance leads."),
            &values,
        ));
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
    // A thousandfold is no plan's caution: every room stops at it.
    let other = match each_ah {
        ah if ah > most_ah && !a_thousandfold(pack) => Some((ah / 10.0, "Look for the point on its label.")),
        ah if ah < least_ah => Some((ah * 1e3, "On a label mAh are a thousandth of Ah.")),
        _ => None,
    };
    if let Some((other_ah, why)) = other {
        let (told, other) = (trimmed(each_ah, 3), trimmed(other_ah, 3));
        findings.push(Finding::caution(
            CheckCode::PackCapacityUnusual,
            format!("{told} Ah is unusual for {}. Was {other} Ah meant? {why}", pack.profile.name),
            &[("capacity_ah", each_ah), ("other_ah", other_ah)],
        ));
    }
}

/// Cells apart, and who levels them.
fn level(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let lithium = pack.profile.traits.burns;
    let spread_v = s.found.spread_v();
    let (Some(chosen), true) = (s.chosen, pack.series > 1) else {
        return;
    };
    if spread_v > cells::APART_V.at {
        let spread_ah = s.found.spread_soc() * in_amp_hours(pack.capacity);
        let mut message =
            format!("Cells are {} mV apart, about {} Ah.", trimmed(spread_v * 1e3, 0), trimmed(spread_ah, 2));
        let mut values = vec![("spread_v", spread_v), ("spread_ah", spread_ah)];
        if let Some(balance_a) = pack.balance_current.map(in_amps).filter(|_| pack.balanced) {
            let hours = spread_ah / balance_a;
            message += &format!(" Levelling them takes about {} at {} A.", show_hours(hours), trimmed(balance_a, 2));
            values.push(("balance_h", hours));
        } else if lithium && spread_v > cells::ILL_V.at {
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
        findings.push(if spread_v > cells::JOIN_V.at {
            Finding::caution(CheckCode::PackCellSpread, message, &values)
        } else {
            Finding::note(CheckCode::PackCellSpread, message, &values)
        });
    }
    if lithium && !pack.balanced && s.charge.reason != EndReason::GoalBelowStart {
        let known = !s.found.positions_v.is_empty();
        // A mean of less than full lets one of them stand at the family's own limit all the same.
        let full_v = pack.profile.full_v;
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
    if s.charge.reason != EndReason::GoalBelowStart {
        return;
    }
    let Some(chosen) = s.chosen else { return };
    let pack = &s.plan.pack;
    let out_ah = (s.found.soc - chosen.stops.goal_soc).max(0.0) * in_amp_hours(pack.capacity);
    let out_a = rates::OUT_C.at * in_amp_hours(pack.nameplate);
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

/// A nickel pack whose charge nobody knows, at a rate at which somebody has to know.
fn unknown_start(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let pack = &s.plan.pack;
    let ends_itself = s.plan.charger.as_ref().is_some_and(Charger::terminates);
    // Its rest volts say nothing of it.
    let unknown = s.found.measured || s.plan.start_assumed;
    let c = s.most.pack_a / in_amp_hours(pack.nameplate);
    // From half its capacity on it ends by falling volts, which need no clock.
    if !pack.profile.traits.timed
        || ends_itself
        || !unknown
        || !(ends::FORGIVING_C.at..ends::FALLS_FROM_C.at - 1e-9).contains(&c)
    {
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
    if c >= ends::FALLS_FROM_C.at - 1e-9 {
        let drop_mv = 1e3 * pack.profile.falls_by_v;
        let pack_mv = drop_mv * f64::from(pack.series);
        findings.push(Finding::caution(
            CheckCode::PackEndByHand,
            format!("No bench supply sees the end of a fast {} charge. Stay: stop when the voltage has dropped {} mV from its peak ({} mV a cell), or when it warms {} °C a minute.", pack.profile.name, trimmed(pack_mv, 0), trimmed(drop_mv, 0), trimmed(c.clamp(0.5, 1.0), 1)),
            &[("drop_mv", pack_mv), ("c_rate", c)],
        ));
    } else if c > ends::FORGIVING_C.at {
        findings.push(Finding::caution(
            CheckCode::PackEndByHand,
            format!("At {}C there is no voltage drop to stop on and too much current to forget: end it by the clock, and feel its warmth.", trimmed(c, 2)),
            &[("c_rate", c)],
        ));
    }
}

/// Hydrogen from an ampere-hour of gassing current in one cell, L (Faraday's law at room temperature).
const HYDROGEN_L: f64 = 0.45;
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
