//! Capacity tests and discharges to storage, run down on the rig as their phase says.

use fastrand::Rng;
use rumek_core::codes::{DischargeBy, SegmentKind};
use rumek_core::formats::{DischargeAskDoc, PlanDoc, TestDoc, TestPhaseDoc, from_value};
use rumek_core::{answer, plan_test};
use rumek_rig::parts::{Below, Cells, Kind as Part, Lamp, Load};
use rumek_rig::{Bench, Truth};
use serde_json::{Value, json};

use super::found::{between, figures, shown};
use super::told::Told;

/// What a pack that is tested still holds.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Holds {
    AllOfIt,
    Half,
}

/// A kind of pack: chemistry, cells in series, Ah from and to, C it is run down with at most, V a cell that hurt it.
type Made = (&'static str, &'static [u32], (f64, f64), f64, f64);

const PACKS: &[Made] = &[
    ("lipo", &[1, 2, 3, 4, 6, 12], (0.5, 22.0), 2.0, 2.75),
    ("lihv", &[1, 3, 4], (0.5, 6.0), 2.0, 2.75),
    ("li_ion", &[1, 3, 7, 10, 13], (2.0, 30.0), 1.0, 2.4),
    ("lfp", &[4, 8, 16], (5.0, 300.0), 0.5, 1.9),
    ("lto", &[5, 10], (5.0, 40.0), 1.0, 1.3),
    ("sodium_ion", &[4, 8], (2.0, 100.0), 0.5, 1.3),
    ("lead_agm", &[3, 6, 12], (1.2, 200.0), 0.2, 1.5),
    ("lead_flooded", &[6], (20.0, 200.0), 0.2, 1.5),
    ("lead_gel", &[6, 12], (7.0, 100.0), 0.2, 1.5),
    ("nimh", &[2, 4, 6, 8], (0.8, 5.0), 0.5, 0.4),
];

/// Those that are kept half full.
const LITHIUM: &[Made] = PACKS.split_at(6).0;

/// The kinds of case.
pub(super) const TEST: &str = "test of a capacity";
pub(super) const STORAGE: &str = "discharge to storage";

/// So near to the charge it is kept at a pack keeps well.
const NEAR_SOC: f64 = 0.07;

/// What lead gives of its label at so many times its capacity an hour, as data sheets of several kinds have it.
const LEAD_GIVES: [(f64, f64); 6] = [(0.05, 1.0), (0.1, 0.93), (0.2, 0.84), (0.33, 0.77), (1.0, 0.6), (2.0, 0.48)];

/// The share of its label that lead gives at a rate.
fn lead_gives(c_rate: f64) -> f64 {
    let after = LEAD_GIVES.partition_point(|(rate, _)| *rate < c_rate).clamp(1, LEAD_GIVES.len() - 1);
    let ((slow, slow_gives), (fast, fast_gives)) = (LEAD_GIVES[after - 1], LEAD_GIVES[after]);
    let share = ((c_rate / slow).ln() / (fast / slow).ln()).clamp(0.0, 1.0);
    slow_gives + share * (fast_gives - slow_gives)
}

/// What takes it down, as asked and as a part of the rig.
fn sink(pack: &Value, most_c: f64, full_v: f64, rng: &mut Rng) -> (Value, Option<Value>) {
    let ah = pack["capacity_ah"].as_f64().unwrap_or(1.0);
    let amps = ah * most_c * between(rng, 0.15, 1.0);
    match rng.u32(0..4) {
        0 => (
            json!({ "by": "electronic_load", "current_a": shown(amps).max(0.01), "max_w": (full_v * amps * between(rng, 0.6, 2.0)).ceil() }),
            None,
        ),
        1 => (
            json!({ "by": "resistor", "resistance_ohm": (full_v / amps * 100.0).round() / 100.0,
                      "rated_w": (full_v * amps * between(rng, 0.7, 3.0)).ceil() }),
            None,
        ),
        2 => {
            let rated_v = if full_v > 15.0 { 24.0 } else { 12.0 };
            (
                json!({ "by": "lamp", "lamp_rated_v": rated_v, "lamp_rated_w": lamp_w(rng), "lamps_in_parallel": rng.u32(1..4) }),
                None,
            )
        }
        _ => {
            let charger = json!({ "kind": "hobby_charger", "input_min_v": 10, "input_max_v": 30, "input_max_a": 30, "output_max_a": 20, "output_max_w": 500,
                "discharge_max_a": between(rng, 0.5, 5.0).ceil(), "discharge_max_w": between(rng, 5.0, 60.0).ceil() });
            (json!({ "by": "charger" }), Some(charger))
        }
    }
}

fn lamp_w(rng: &mut Rng) -> u32 {
    [5, 10, 21, 55][rng.usize(0..4)]
}

fn part(asked: &DischargeAskDoc, charger: Option<&Value>, phase: &TestPhaseDoc) -> Option<Part> {
    Some(match asked.by? {
        DischargeBy::Resistor => Part::Resistor(asked.resistance_ohm?),
        DischargeBy::Lamp => {
            let rated_v = asked.lamp_rated_v?;
            let rated_a = f64::from(asked.lamps_in_parallel.unwrap_or(1)) * asked.lamp_rated_w? / rated_v;
            Part::Lamp(Lamp { rated_v, rated_a })
        }
        DischargeBy::ElectronicLoad | DischargeBy::Charger | DischargeBy::Source => {
            let own = |name: &str| charger.and_then(|doc| doc[name].as_f64());
            let amps = asked.current_a.or(own("discharge_max_a")).unwrap_or(f64::INFINITY).min(phase.current_a);
            let watts = asked.max_w.or(own("discharge_max_w")).unwrap_or(f64::INFINITY);
            if watts.is_finite() {
                Part::Load(Load::Power { watts, floor_v: watts / amps }, true)
            } else {
                Part::Load(Load::Current(amps), true)
            }
        }
    })
}

/// A capacity test: of a pack as good as its label, or of one that holds half of it.
pub(super) fn tested(rng: &mut Rng) -> Option<Told> {
    let (made, pack) = made(PACKS, 1.0, rng);
    let full_v = full_v(&pack)?;
    let (discharge, charger) = sink(&pack, made.3, full_v, rng);
    let mut asked =
        json!({ "format": "rumek.test/1", "pack": pack, "discharge": discharge, "after": "none", "rest_min": 0 });
    if let Some(charger) = &charger {
        asked["charger"] = charger.clone();
        asked["source"] = json!({ "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 20 });
    }
    let planned = plan_test(&from_value::<TestDoc>(&asked).ok()?).ok()?;
    let mut out = Told { kind: TEST, asked: asked.to_string(), ..Told::default() };
    let Some(phase) = planned.phases.iter().find(|phase| phase.kind == SegmentKind::Discharge) else {
        return Some(out);
    };
    out.told = true;
    let holds = if rng.bool() { Holds::AllOfIt } else { Holds::Half };
    let capacity = if holds == Holds::Half { between(rng, 0.3, 0.52) } else { between(rng, 0.96, 1.03) };
    let resolved = planned.resolved.discharge.clone().unwrap_or_default();
    let gave_ah = run_down(&pack, made, &resolved, charger.as_ref(), phase, (1.0, capacity), &mut out, rng)?;
    let (worn_ah, retire_ah) = (planned.worn_below_ah?, planned.retire_below_ah?);
    let verdict = format!("gave {gave_ah:.3} Ah, worn below {worn_ah:.3}, retired below {retire_ah:.3}");
    if holds == Holds::AllOfIt && gave_ah < worn_ah {
        out.given_up = Some(verdict);
    } else if holds == Holds::Half && gave_ah >= retire_ah {
        out.missed = Some(verdict);
    }
    if holds == Holds::Half {
        // Its time is told of a pack as good as its label.
        (out.timed, out.inside) = (0, 0);
        out.outside.clear();
    }
    Some(out)
}

/// A pack that is nearly full, on its way down to storage.
pub(super) fn to_storage(rng: &mut Rng) -> Option<Told> {
    let soc = shown(between(rng, 0.75, 1.0));
    let (made, mut pack) = made(LITHIUM, soc, rng);
    pack["goal"] = json!({ "kind": "storage" });
    let full_v = full_v(&pack)?;
    let amps = pack["capacity_ah"].as_f64()? * made.3 * between(rng, 0.15, 1.0);
    let limiter = if rng.bool() {
        json!({ "kind": "resistor", "resistance_ohm": (full_v / amps * 100.0).round() / 100.0, "rated_w": (full_v * amps * between(rng, 0.7, 3.0)).ceil() })
    } else {
        json!({ "kind": "lamp", "lamp_rated_v": if full_v > 15.0 { 24 } else { 12 }, "lamp_rated_w": lamp_w(rng) })
    };
    let asked = json!({ "format": "rumek.plan/1", "pack": pack, "charger": limiter });
    let card = answer(&from_value::<PlanDoc>(&asked).ok()?).ok()?;
    let mut out = Told { kind: STORAGE, asked: asked.to_string(), ..Told::default() };
    let down = card.discharge.as_ref().and_then(|down| Some((down.by, down.phase.clone()?)));
    let Some((by, phase)) = down else { return Some(out) };
    out.told = true;
    let resolved = DischargeAskDoc {
        by: Some(by),
        resistance_ohm: limiter["resistance_ohm"].as_f64(),
        rated_w: limiter["rated_w"].as_f64(),
        lamp_rated_v: limiter["lamp_rated_v"].as_f64(),
        lamp_rated_w: limiter["lamp_rated_w"].as_f64(),
        ..DischargeAskDoc::default()
    };
    let capacity = between(rng, 0.96, 1.03);
    run_down(&pack, made, &resolved, None, &phase, (soc, capacity), &mut out, rng)?;
    Some(out)
}

fn made(of: &'static [Made], soc: f64, rng: &mut Rng) -> (&'static Made, Value) {
    let made = &of[rng.usize(..of.len())];
    let (chemistry, series, (least_ah, most_ah), ..) = *made;
    let ah = shown(least_ah * (most_ah / least_ah).powf(rng.f64()));
    let series = series[rng.usize(..series.len())];
    let ohm_ah = figures(&json!(chemistry)).map_or(0.02, |figures| figures.ohm_ah());
    let mut pack = json!({ "chemistry": chemistry, "series": series, "capacity_ah": ah, "temperature_c": between(rng, if chemistry.starts_with("lead") { 20.0 } else { 10.0 }, 32.0).round(),
        "resistance_mohm": 1e3 * ohm_ah / ah * f64::from(series), "start": { "soc": soc } });
    if rng.bool() {
        pack["discharge_c_rate"] = json!(between(rng, 1.0, 10.0).round());
    }
    (made, pack)
}

fn full_v(pack: &Value) -> Option<f64> {
    Some(figures(&pack["chemistry"])?.full_v() * pack["series"].as_f64()?)
}

/// Runs it down to where the phase ends; what it gave, Ah.
#[allow(clippy::too_many_arguments)]
fn run_down(
    pack: &Value,
    made: &Made,
    asked: &DischargeAskDoc,
    charger: Option<&Value>,
    phase: &TestPhaseDoc,
    (soc, capacity): (f64, f64),
    out: &mut Told,
    rng: &mut Rng,
) -> Option<f64> {
    let plan: PlanDoc = from_value(&json!({ "format": "rumek.plan/1", "pack": pack })).ok()?;
    let weak_cell = between(rng, 0.985, 1.0);
    let mean_c = phase.charge_ah / ((phase.to_s - phase.from_s) / 3600.0) / pack["capacity_ah"].as_f64()?;
    let lead = pack["chemistry"].as_str().is_some_and(|name| name.starts_with("lead"));
    // One kind differs from the next by some hundredths.
    let capacity = if lead { capacity * lead_gives(mean_c) * between(rng, 0.96, 1.04) } else { capacity };
    let truth = Truth { capacity, resistance: between(rng, 0.85, 1.2), weak_cell, soc: Some(soc), ..Truth::AS_TOLD };
    let mut bench = Bench::running_down(&plan, soc, &truth, part(asked, charger, phase)?)?;
    let holds_all = capacity > 0.9 || lead;
    let mut cells = bench.pack()?.clone();
    // Below empty there is next to nothing, whatever the last of its curve looks like.
    let below = Below { share: between(rng, 0.01, 0.05), bend: between(rng, 2.0, 5.0), ohm: between(rng, 2.0, 4.0) };
    cells.cells.iter_mut().for_each(|cell| cell.below = Some(below));
    bench.put(cells);
    bench.settle();
    let (ah, label_c) = (pack["capacity_ah"].as_f64()?, pack["discharge_c_rate"].as_f64());
    bench.step(0.02);
    let (mut lowest_v, most_v) = (f64::INFINITY, bench.pack_v());
    let (mut most_a, mut most_w) = (0.0_f64, 0.0_f64);
    // A test is ended by its volts, or by the first cell where cells can be read; storage by the clock.
    let stores = out.kind == STORAGE;
    let clock_s = if stores { phase.to_s - phase.from_s } else { 60.0 * 86_400.0 };
    let first_cell_v = phase.end_v / pack["series"].as_f64()?;
    let ended = |bench: &Bench| {
        let lowest_v = bench.pack().map_or(0.0, Cells::lowest_v);
        let empty = bench.pack_v() <= phase.end_v || (!lead && lowest_v <= first_cell_v);
        !stores && empty
    };
    while !ended(&bench) && bench.t_s() < clock_s - 0.01 {
        let look_s: f64 = if bench.soc() > 0.1 { 60.0 } else { 5.0 };
        bench.step(look_s.min(clock_s - bench.t_s()));
        let amps = -bench.pack_a();
        // The first breath of a cold lamp is nobody's rating.
        if bench.t_s() > 1.0 {
            (most_a, most_w) = (most_a.max(amps), most_w.max(amps * bench.pack_v()));
        }
        lowest_v = lowest_v.min(bench.pack().map_or(0.0, Cells::lowest_v));
    }
    let mut over = |what: &str, value: f64, rated: f64| {
        if value > 1.02 * rated {
            out.passed.push(format!("{what}: {value:.3} of {rated:.3}"));
        }
    };
    over("amps of the label", most_a, label_c.map_or(f64::INFINITY, |c| c * ah));
    over(
        "watts of the resistor",
        most_w,
        asked.rated_w.filter(|_| asked.by == Some(DischargeBy::Resistor)).unwrap_or(f64::INFINITY),
    );
    over("volts of the lamp", most_v, asked.lamp_rated_v.map_or(f64::INFINITY, |v| 1.2 * v));
    // Nobody reads the cells of lead: a block's mean is what it bears.
    let lowest_v = if lead { bench.pack_v() / pack["series"].as_f64()? } else { lowest_v };
    if holds_all && lowest_v < made.4 {
        out.passed.push(format!("a cell came down to {lowest_v:.3} V"));
    }
    if stores {
        out.share("down to", bench.soc(), (phase.end_soc - NEAR_SOC, phase.end_soc + NEAR_SOC));
    } else {
        out.time("down", bench.t_s(), (phase.takes_low_s, phase.takes_high_s));
    }
    Some(-bench.charge_as() / 3600.0)
}
