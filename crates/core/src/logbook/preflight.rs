//! The list before a charge or a discharge, made for this chain: what is measured has its bounds, and what lies
//! outside stops the list.

use super::begin::refused;
use super::falling;
use super::frozen::Frozen;
use super::items::{MOVED_V, between, item};
use crate::advice::answer::{Judged, judged};
use crate::chain::reckoning::identified;
use crate::chain::settings::Chosen;
use crate::formats::{
    PlanDoc, PreflightAnswerDoc, PreflightAskDoc, PreflightCode, PreflightDoc, PreflightItemDoc, PreflightKind,
    Problems, Severity,
};
use crate::lines::meters;
use crate::parts::charger::Charger;
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::parts::source::Source;
use crate::units::{in_celsius, trimmed};

/// Makes the list, and judges what was answered.
///
/// # Examples
/// ```
/// use rumek_core::formats::{PreflightAskDoc, from_value};
/// use serde_json::json;
///
/// let ask: PreflightAskDoc = from_value(&json!({ "plan": json!({
///     "format": "rumek.plan/1",
///     "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "built_in" },
///     "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }
/// }) }))?;
/// assert!(!rumek_core::preflight(&ask)?.clear, "nothing is ticked yet");
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// What is wrong with the plan, or why it is refused, below `/plan`.
pub fn preflight(ask: &PreflightAskDoc) -> Result<PreflightDoc, Problems> {
    let document = ask.plan.clone().unwrap_or_default();
    if let Some(run_down) = before_discharge(&document, ask)? {
        return Ok(run_down);
    }
    let judged = judged(&document).map_err(|wrong| wrong.under("/plan"))?;
    if let Some(why) = judged.refusal().filter(|_| judged.plan.source.is_some()) {
        return Err(refused(why));
    }
    let Judged { plan, found, chosen, .. } = judged;
    Ok(answered_list(&plan, list(&plan, &found, chosen.as_ref()), ask))
}

/// The list before a discharge; `None` of a charge.
fn before_discharge(document: &PlanDoc, ask: &PreflightAskDoc) -> Result<Option<PreflightDoc>, Problems> {
    let Frozen { plan, discharge } =
        Frozen::of(document, ask.discharge.as_ref()).map_err(|wrong| wrong.under("/plan"))?;
    let Some(discharge) = discharge else { return Ok(None) };
    let told = discharge.told();
    if let Some(stop) = told.checks.iter().find(|check| check.severity == Severity::Stop) {
        return Err(refused(&stop.message));
    }
    let Ok(draw) = discharge.sink.draw else { return Ok(None) };
    let items = falling::list(&discharge, &discharge.run(draw), &identified(&plan));
    Ok(Some(answered_list(&plan, items, ask)))
}

/// A list with what was answered of it judged.
fn answered_list(plan: &Plan, items: Vec<PreflightItemDoc>, ask: &PreflightAskDoc) -> PreflightDoc {
    let answers = ask.answers.as_deref().unwrap_or_default();
    let items: Vec<PreflightItemDoc> = items
        .into_iter()
        .map(|mut item| {
            if let Some(answer) = answers.iter().find(|answer| answer.code == Some(item.code)) {
                item.problem = problem(plan, &item, answer);
                item.ok = answered(&item, answer).then_some(item.problem.is_none());
            }
            item
        })
        .collect();
    let clear = items.iter().all(|item| item.ok == Some(true));
    PreflightDoc { items, clear }
}

fn list(plan: &Plan, found: &Identified, chosen: Option<&Chosen>) -> Vec<PreflightItemDoc> {
    use PreflightCode::{Air, Cells, Fuse, Polarity, RestVoltage, Surface, Temperature};
    use PreflightKind::{Temperature as Degrees, Tick, Voltage};
    let pack = &plan.pack;
    let profile = &pack.profile;
    let series = f64::from(pack.series);
    let mut items = Vec::new();
    if profile.traits.burns {
        items.push(item(Surface, Tick, "It lies on a surface that does not burn, nothing above it."));
    }
    if profile.traits.gasses {
        items.push(item(Air, Tick, "Fresh air, no flame, no spark."));
    }
    if let (Some(chosen), Some(source)) = (chosen, &plan.source) {
        items.extend(current_limit(plan, source, chosen));
        items.extend(set_voltage(plan, source.dials_voltage(), chosen, found.rest_v));
        items.push(item(Polarity, Tick, "Plus and minus read by meter on both sides, before they meet."));
        if [&plan.input, &plan.output].into_iter().flatten().any(|lead| lead.fuse.is_some()) {
            items.push(item(Fuse, Tick, "The fuses are in, at the ends where the plan has them."));
        }
    }
    let margin_v = MOVED_V * series;
    let rest =
        item(RestVoltage, Voltage, format!("The pack’s terminals at rest; {} V is noted.", trimmed(found.rest_v, 2)));
    items.push(if found.measured && profile.voltage_tells_soc {
        between(rest, found.rest_v, found.rest_v - margin_v, found.rest_v + margin_v)
    } else {
        // What was never measured is only held against the cell count.
        let (low_v, high_v) = (profile.precharge_below_v * series, profile.ceiling_at(25.0) * series);
        between(item(RestVoltage, Voltage, "The pack’s terminals at rest."), found.rest_v, low_v, high_v)
    });
    if pack.series > 1 && profile.traits.balance_lead {
        let bounds = item(Cells, PreflightKind::Cells, "Each cell at rest, at the balance plug.");
        items.push(between(bounds, found.rest_v / series, profile.precharge_below_v, profile.ceiling_v));
    }
    let window = profile.window;
    let feels = item(Temperature, Degrees, "How warm the pack is itself.");
    items.push(between(feels, in_celsius(pack.temperature), window.min_c, window.max_c));
    items
}

/// The current limit where one is set: the pack meets it at once.
fn current_limit(plan: &Plan, source: &Source, chosen: &Chosen) -> Option<PreflightItemDoc> {
    use PreflightCode::CurrentLimit;
    let amps = chosen.current_a();
    if let Some(charger) = plan.charger.as_ref().filter(|charger| charger.terminates()) {
        let cells = plan.pack.series;
        let menu =
            format!("The charger’s menu shows the right kind of pack, {cells} cells and {} A.", trimmed(amps, 2));
        return charger.dials_current().then(|| item(CurrentLimit, PreflightKind::Tick, menu));
    }
    let dials = plan.charger.as_ref().map_or_else(|| source.dials_current(), Charger::dials_current);
    if !dials || !amps.is_finite() {
        return None;
    }
    let share_a = source.each_of(chosen.dial_v, amps).map_or(amps, |(_, unit_a)| unit_a);
    let set_a = if plan.charger.is_none() && share_a < amps { share_a } else { chosen.shown_a };
    let set = item(
        CurrentLimit,
        PreflightKind::Current,
        format!("The current limit, as its menu shows it or with the clips joined: {} A.", trimmed(set_a, 2)),
    );
    Some(between(
        set,
        set_a,
        meters::SET_LEAST.at * set_a - meters::SET_A.at,
        meters::SET_MOST.at * set_a + meters::SET_A.at,
    ))
}

/// The voltage where it is set, or where it cannot be.
fn set_voltage(plan: &Plan, dials: bool, chosen: &Chosen, rest_v: f64) -> Option<PreflightItemDoc> {
    use PreflightCode::{NoLoadVoltage, SupplyVoltage};
    let charger = plan.charger.as_ref();
    let own = charger.is_some_and(Charger::terminates);
    let module_sets = charger.is_some_and(|charger| charger.dials_voltage() && !own);
    if module_sets || (charger.is_none() && dials) {
        let set_v = chosen.no_load_v(rest_v);
        // Turned up by hand it begins where the pack rests: at the charge voltage nothing would hold the current.
        let as_pack = if chosen.nudge.is_some() { ", as the pack rests, not the charge voltage" } else { "" };
        let set = item(
            NoLoadVoltage,
            PreflightKind::Voltage,
            format!("Nothing connected, by meter: set {} V{as_pack}.", trimmed(set_v, 2)),
        );
        let slack_v = (meters::SET_V.at * f64::from(plan.pack.series)).max(2.0 * chosen.built.step_v);
        return Some(between(set, set_v, set_v - 5.0 * slack_v, (set_v + slack_v).min(chosen.ceiling_v.max(set_v))));
    }
    if own || plan.source.as_ref().is_some_and(|source| source.kind == crate::formats::SourceKind::Mains) {
        return None;
    }
    let stands_v = chosen.built.feed.supply.open_v;
    let reads = item(
        SupplyVoltage,
        PreflightKind::Voltage,
        format!("The supply, nothing connected, by meter: about {} V.", trimmed(stands_v, 1)),
    );
    Some(between(reads, stands_v, 0.9 * stands_v, 1.1 * stands_v))
}

/// Whether something was entered.
fn answered(item: &PreflightItemDoc, answer: &PreflightAnswerDoc) -> bool {
    match item.kind {
        PreflightKind::Tick => answer.seen == Some(true),
        PreflightKind::Voltage | PreflightKind::Current | PreflightKind::Temperature => answer.value.is_some(),
        PreflightKind::Cells => answer.cells_v.as_ref().is_some_and(|cells| !cells.is_empty()),
    }
}

/// What is off with an answer, and what to do about it.
fn problem(plan: &Plan, item: &PreflightItemDoc, answer: &PreflightAnswerDoc) -> Option<String> {
    let (low, high) = (item.low.unwrap_or(f64::NEG_INFINITY), item.high.unwrap_or(f64::INFINITY));
    if item.kind == PreflightKind::Cells {
        let cells = answer.cells_v.as_ref().filter(|cells| !cells.is_empty())?;
        if cells.len() != plan.pack.series as usize {
            return Some(format!("{} readings for {} cells: read each one.", cells.len(), plan.pack.series));
        }
        let bounds = cells.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), v| (l.min(*v), h.max(*v)));
        return if bounds.0 < low {
            Some(format!(
                "A cell reads {} V, under {} V: to Rescue, not to the charge.",
                trimmed(bounds.0, 3),
                trimmed(low, 2)
            ))
        } else if bounds.1 > high {
            Some(format!("A cell reads {} V, above full: it is not to be charged.", trimmed(bounds.1, 3)))
        } else if bounds.1 - bounds.0 > 0.1 {
            Some(format!(
                "The cells lie {} V apart: put their readings into the plan and let it compute anew.",
                trimmed(bounds.1 - bounds.0, 3)
            ))
        } else {
            None
        };
    }
    let value = answer.value.filter(|value| !(low..=high).contains(value))?;
    let shown = trimmed(value, 2);
    Some(match item.code {
        PreflightCode::NoLoadVoltage => format!(
            "{shown} V, and {} V is wanted. Set it again, by the meter and not by its display; leave the pack off until it holds.",
            trimmed(item.expected.unwrap_or(0.0), 2)
        ),
        PreflightCode::CurrentLimit => format!(
            "{shown} A, and {} A is wanted. Set it again before the pack is connected: it takes at once what is set.",
            trimmed(item.expected.unwrap_or(0.0), 2)
        ),
        PreflightCode::SupplyVoltage => format!(
            "{shown} V where about {} V is expected: another supply, or a fault in it. Put what it is into the plan.",
            trimmed(item.expected.unwrap_or(0.0), 1)
        ),
        PreflightCode::Temperature if value < low => {
            format!("{shown} °C: it waits until it has {} °C.", trimmed(low, 0))
        }
        PreflightCode::Temperature => format!("{shown} °C: it cools first, to {} °C at most.", trimmed(high, 0)),
        _ => format!(
            "{shown} V, outside {} to {} V: count the cells, read again, and put what it reads into the plan.",
            trimmed(low, 2),
            trimmed(high, 2)
        ),
    })
}
