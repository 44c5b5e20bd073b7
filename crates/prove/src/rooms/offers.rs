//! What is offered as a help: the plan with what was offered, answered and carried out.

use fastrand::Rng;
use rumek_core::codes::{LimitCode, Severity};
use rumek_core::formats::{NextSizeDoc, PlanDoc, ResultDoc, SizingAskDoc, from_value};
use rumek_core::{answer, size};
use rumek_rig::{Bench, Ended, Truth, carry_out};
use serde_json::{Value, json};

use super::told::Told;
use crate::chains::{KINDS, chain};
use crate::proof::told as passing_in_words;

/// The kinds of case.
pub(super) const HELP: &str = "offer: what would help";
pub(super) const BIG: &str = "offer: how big";
/// A told time is met within this share, and two minutes.
const MET: f64 = 0.15;

/// Of some chain each size that is offered is bought.
pub(super) fn helped(rng: &mut Rng) -> Option<Told> {
    let plan = some_chain(rng);
    let card = answer(&from_value::<PlanDoc>(&plan).ok()?).ok()?;
    let mut out = Told { kind: HELP, asked: plan.to_string(), ..Told::default() };
    card.settings.as_ref()?;
    for offer in &card.what_if {
        let Some(size) = &offer.size else { continue };
        let Some(bought) = with_size(&plan, offer.without, size) else { continue };
        carried(&bought, offer.total_s, &format!("{} {size:?}", offer.without.code()), &mut out);
    }
    Some(out)
}

/// Asked to be done in some time: a charger and a supply of the sizes told.
pub(super) fn big(rng: &mut Rng) -> Option<Told> {
    let plan = some_chain(rng);
    let doc = from_value::<PlanDoc>(&plan).ok()?;
    let total_s = answer(&doc).ok()?.time.total_s?;
    let wanted_s = total_s * (0.3 + 0.9 * rng.f64());
    let mut out = Told { kind: BIG, asked: plan.to_string(), ..Told::default() };
    let asked = SizingAskDoc { plan: Some(doc), done_in_min: Some(wanted_s / 60.0), ..SizingAskDoc::default() };
    let Some(done) = size(&asked).ok()?.done_in.filter(|done| done.possible) else { return Some(out) };
    let (amps, watts) = (done.charger_a?, done.charger_w?);
    // A supply that holds its current gives what was told, and the same pack is charged by it.
    let mut bought = plan.clone();
    let volts = 1.5 * watts / amps + 10.0;
    bought["source"] = json!({ "kind": "bench_supply", "max_voltage_v": volts.ceil(), "max_current_a": amps, "max_power_w": watts.max(done.supply_w.unwrap_or(watts)) });
    for other in ["charger", "leads", "cut_off", "mains", "meters"] {
        bought.as_object_mut()?.remove(other);
    }
    if let Some(settings) = bought["settings"].as_object_mut() {
        settings.remove("current_a");
        settings.remove("time_limit_h");
    }
    carried(&bought, Some(wanted_s), "how big", &mut out);
    Some(out)
}

fn some_chain(rng: &mut Rng) -> Value {
    chain(KINDS[rng.usize(..KINDS.len())], rng)
}

/// The plan with what was offered.
fn with_size(plan: &Value, without: LimitCode, size: &NextSizeDoc) -> Option<Value> {
    let field = match without {
        LimitCode::SourceCurrent => "/source/max_current_a",
        LimitCode::SourcePower => "/source/max_power_w",
        LimitCode::ChargerOutputCurrent => "/charger/output_max_a",
        LimitCode::ChargerOutputPower => "/charger/output_max_w",
        _ => return None,
    };
    let mut bought = plan.clone();
    let value = bought.pointer_mut(field)?;
    let before = value.as_f64()?;
    let after = size.current_a.or(size.power_w)?;
    *value = json!(after);
    // What else that box is rated for comes with it.
    for other in [
        "/source/max_current_a",
        "/source/max_power_w",
        "/charger/output_max_a",
        "/charger/output_max_w",
        "/charger/input_max_a",
        "/charger/input_max_w",
    ] {
        let same_box = other.split('/').nth(1) == field.split('/').nth(1);
        if other != field
            && same_box
            && let Some(rated) = bought.pointer_mut(other)
            && let Some(own) = rated.as_f64()
        {
            *rated = json!(own * after / before);
        }
    }
    Some(bought)
}

/// Answers what was bought and carries it out.
fn carried(plan: &Value, told_s: Option<f64>, what: &str, out: &mut Told) -> Option<()> {
    out.told = true;
    let card: ResultDoc = answer(&from_value::<PlanDoc>(plan).ok()?).ok()?;
    if card.settings.is_none() {
        let stops: Vec<&str> = card
            .checks
            .iter()
            .filter(|check| check.severity == Severity::Stop)
            .map(|check| check.code.code())
            .collect();
        out.passed.push(format!("{what}: what was offered is refused: {}", stops.join(", ")));
        return None;
    }
    let mut bench = Bench::of(&card.resolved, card.start.soc, &Truth::AS_TOLD)?;
    let done = carry_out(&card, &mut bench);
    if done.ended == Ended::Failed {
        out.passed.push(format!("{what}: something failed"));
    }
    out.passed.extend(bench.passings().lasting().map(|one| format!("{what}: {}", passing_in_words(one))));
    let told_s = told_s?;
    let slack_s = MET * told_s + 120.0;
    let low_s = if out.kind == BIG { 0.0 } else { told_s - slack_s };
    out.time(what, done.after_s, (low_s, told_s + slack_s));
    Some(())
}
