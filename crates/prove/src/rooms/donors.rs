//! A battery somebody holds to a pack whose board sleeps: where that is told to be a way, it is done.

use fastrand::Rng;
use rumek_core::codes::Place;
use rumek_core::formats::{PlanDoc, RescueDoc, from_value};
use rumek_core::rescue;
use rumek_rig::{Bench, Rating, Truth};
use serde_json::json;

use super::found::{Inside, between, found, shown};
use super::told::Told;
use crate::proof::told as passing_in_words;

/// The kind of case.
pub(super) const DONOR: &str = "waking: by a donor";
/// For so long it is held to it, s.
const TOUCH_S: f64 = 5.0;
/// A told inrush is met within this share: leads and cells are told to two digits.
const MET: f64 = 1.15;

/// Holds a donor to a sleeping pack; of several one that is told to be a way.
pub(super) fn touched(rng: &mut Rng) -> Option<Told> {
    const TRIES: usize = 60;
    (0..TRIES).filter_map(|_| touch(rng)).find(|out| out.told).or(Some(Told { kind: DONOR, ..Told::default() }))
}

fn touch(rng: &mut Rng) -> Option<Told> {
    let mut case = found(Inside::Asleep, rng)?;
    let (ah, series) = (case.told["pack"]["capacity_ah"].as_f64()?, case.told["pack"]["series"].as_u64()?);
    let figures = *case.cells.figures();
    let donor_ah = shown(ah * between(rng, 0.2, 1.5)).max(0.2);
    let ohm = figures.ohm_ah() / donor_ah * series as f64 * between(rng, 2.0, 40.0);
    case.told["donor"] = json!({ "kind": "battery", "chemistry": case.told["pack"]["chemistry"], "series": series,
        "capacity_ah": donor_ah, "soc": between(rng, 0.5, 1.0), "resistance_mohm": (1e3 * ohm).round().max(1.0) });
    let awg = [14, 16, 18, 20][rng.usize(..4)];
    let fuse_a = [10, 20, 30][rng.usize(..3)];
    case.told["leads"] = json!({ "output": { "awg": awg, "length_m": between(rng, 0.3, 1.5),
        "fuse_a": fuse_a, "fuse_at": "source" } });
    let doc: RescueDoc = from_value(&case.told).ok()?;
    let donor = rescue(&doc).ok()?.donor?;
    let mut out = Told { kind: DONOR, asked: case.told.to_string(), ..Told::default() };
    if !donor.accepted {
        return Some(out);
    }
    out.told = true;
    let mut plan: PlanDoc = from_value(&json!({ "format": "rumek.plan/1", "pack": case.told["pack"],
        "source": case.told["donor"], "leads": case.told["leads"] }))
    .ok()?;
    let pack = plan.pack.as_mut()?;
    pack.temperature_c = Some(case.cells.around_c);
    pack.resistance_mohm = Some(1e3 * case.cells.cells.iter().map(|cell| cell.ohm).sum::<f64>());
    let mut bench = Bench::of(&plan, 0.0, &Truth::AS_TOLD)?;
    bench.put(case.cells);
    bench.switch(true);
    let mut most_a = 0.0_f64;
    while bench.t_s() < TOUCH_S {
        bench.step(0.1);
        most_a = most_a.max(bench.pack_a());
    }
    // What is told at once is what flows with the cells as low as they may be.
    if most_a > MET * donor.inrush_a {
        out.passed.push(format!("{most_a:.2} A flowed, told {:.2} at once", donor.inrush_a));
    }
    let bears = |rating: Rating| !matches!(rating, Rating::DeepCellAmps | Rating::SourceAmps);
    let passed =
        bench.passings().lasting().filter(|one| matches!(one.at, Place::Pack | Place::OutputLead) && bears(one.rating));
    out.passed.extend(passed.map(passing_in_words));
    Some(out)
}
