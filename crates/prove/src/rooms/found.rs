//! Packs that were left too low, as they really are inside: sound, tired, shorted, leaking, sulphated, asleep.

use fastrand::Rng;
use rumek_core::CellFigures;
use rumek_core::formats::{PackDoc, PlanDoc, from_value};
use rumek_rig::parts::{Below, Board, Cells, Crust};
use rumek_rig::{Bench, Truth};
use serde_json::{Value, json};

/// What is so inside.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Inside {
    /// Nothing is wrong with it.
    Sound,
    /// It holds less than it did, and is still of use.
    Tired,
    /// It holds too little to be of any use.
    Spent,
    /// A cell is bridged inside.
    Shorted,
    /// A cell loses more than any sound one does.
    Leaking,
    /// Lead whose sulphate gives way.
    Sulphated,
    /// Lead whose sulphate does not.
    Hardened,
    /// Its board sleeps.
    Asleep,
    /// Its board will never wake.
    DeadBoard,
}

impl Inside {
    pub(super) const ALL: [Self; 9] = [
        Self::Sound,
        Self::Tired,
        Self::Spent,
        Self::Shorted,
        Self::Leaking,
        Self::Sulphated,
        Self::Hardened,
        Self::Asleep,
        Self::DeadBoard,
    ];

    /// Whether it is to be given up.
    pub(super) fn faulty(self) -> bool {
        matches!(self, Self::Spent | Self::Shorted | Self::Leaking | Self::Hardened | Self::DeadBoard)
    }

    pub(super) const fn name(self) -> &'static str {
        match self {
            Self::Sound => "rescue: sound",
            Self::Tired => "rescue: tired",
            Self::Spent => "rescue: spent",
            Self::Shorted => "rescue: shorted",
            Self::Leaking => "rescue: leaking",
            Self::Sulphated => "rescue: sulphated, gives way",
            Self::Hardened => "rescue: sulphated, does not",
            Self::Asleep => "waking: board asleep",
            Self::DeadBoard => "waking: board dead",
        }
    }
}

/// A kind of pack: chemistry, cells in series, Ah from and to.
type Made = (&'static str, &'static [u32], (f64, f64));

const LITHIUM: &[Made] = &[
    ("lipo", &[1, 2, 3, 4, 6, 12], (0.5, 10.0)),
    ("lihv", &[1, 3, 4, 6], (0.5, 6.0)),
    ("li_ion", &[1, 2, 4, 7, 10, 13], (2.0, 30.0)),
    ("lfp", &[4, 8, 16], (5.0, 100.0)),
    ("lto", &[5, 6, 10], (5.0, 40.0)),
    ("sodium_ion", &[4, 8], (2.0, 50.0)),
];
const LEAD: &[Made] =
    &[("lead_agm", &[3, 6, 12], (1.2, 100.0)), ("lead_flooded", &[6], (20.0, 100.0)), ("lead_gel", &[6], (7.0, 60.0))];
const NICKEL: &[Made] = &[("nimh", &[2, 4, 6, 8, 10], (0.8, 5.0)), ("nicd", &[6, 8], (0.6, 2.5))];

/// A pack in trouble, as it really is and as it is told.
pub(super) struct Found {
    pub(super) inside: Inside,
    /// What is told of it: `rumek.rescue/1`.
    pub(super) told: Value,
    /// As it really is.
    pub(super) cells: Cells,
}

/// Volts and amps that a hand meter shows.
pub(super) fn shown(value: f64) -> f64 {
    (value * 100.0).round() / 100.0
}

/// Somewhere between the two.
pub(super) fn between(rng: &mut Rng, from: f64, to: f64) -> f64 {
    from + (to - from) * rng.f64()
}

/// What a kind of cell is like, by its code.
pub(super) fn figures(chemistry: &Value) -> Option<CellFigures> {
    CellFigures::of(from_value::<PackDoc>(&json!({ "chemistry": chemistry })).ok()?.chemistry?)
}

fn family(inside: Inside, rng: &mut Rng) -> &'static [Made] {
    match inside {
        Inside::Sulphated | Inside::Hardened => LEAD,
        Inside::Asleep | Inside::DeadBoard => &LITHIUM[..5],
        // What nickel loses by itself hides a leak.
        Inside::Leaking => [LITHIUM, LEAD][usize::from(rng.f64() < 0.3)],
        _ => match rng.u32(0..10) {
            0..6 => LITHIUM,
            6..9 => LEAD,
            _ => NICKEL,
        },
    }
}

/// A pack in trouble out of a seed. `None` where the rig has no figures of it.
pub(super) fn found(inside: Inside, rng: &mut Rng) -> Option<Found> {
    let made = family(inside, rng);
    let (chemistry, series, (least_ah, most_ah)) = made[rng.usize(..made.len())];
    let series = series[rng.usize(..series.len())];
    let ah = shown(least_ah * (most_ah / least_ah).powf(rng.f64())).max(0.1);
    let temperature_c = between(rng, 12.0, 28.0).round();
    let pack = json!({ "chemistry": chemistry, "series": series, "capacity_ah": ah });
    let cells = inside_of(inside, &pack, temperature_c, rng)?;
    let told = told(inside, pack, &cells, temperature_c, rng);
    Some(Found { inside, told, cells })
}

/// The cells as they are.
fn inside_of(inside: Inside, pack: &Value, temperature_c: f64, rng: &mut Rng) -> Option<Cells> {
    let figures = figures(&pack["chemistry"])?;
    let (ah, series) = (pack["capacity_ah"].as_f64()?, pack["series"].as_f64()?);
    let mut cells = bare(pack, figures, temperature_c)?;
    let worn = match inside {
        Inside::Tired => between(rng, 0.66, 0.85),
        Inside::Spent => between(rng, 0.2, 0.48),
        _ => between(rng, 0.94, 1.03),
    };
    let stiff = if worn < 0.9 { between(rng, 1.3, 2.5) } else { between(rng, 0.8, 1.4) };
    let below = Below { share: between(rng, 0.01, 0.05), bend: between(rng, 2.0, 5.0), ohm: between(rng, 2.0, 4.0) };
    let lead = chemistry_is_lead(pack);
    // Lead has most of its trouble above the foot of its curve, lithium below it.
    let depth = match inside {
        Inside::Asleep | Inside::DeadBoard => between(rng, -0.3, 1.5),
        _ if lead => between(rng, -0.9, 3.0),
        _ => between(rng, -0.9, 0.6),
    };
    let soc = depth * below.share;
    let odd = rng.usize(..series as usize);
    let yields_s = if inside == Inside::Hardened { f64::INFINITY } else { between(rng, 1.5, 5.0) * 3600.0 };
    let crust = Crust { times: between(rng, 1500.0, 6000.0), yields_s };
    for (k, cell) in cells.cells.iter_mut().enumerate() {
        cell.capacity_as *= worn * between(rng, 0.995, 1.005);
        cell.ohm *= stiff * between(rng, 0.97, 1.03);
        cell.below = Some(below);
        cell.soc = (soc + 0.03 * below.share * (rng.f64() - 0.5)).max(-0.97 * below.share);
        // A sound cell loses a few per cent a month.
        cell.leak_a = between(rng, 0.002, 0.02) * cell.capacity_as / (30.0 * 86_400.0);
        if k == odd && inside == Inside::Leaking {
            // Where it stands a day after its charge it loses one and a half to eight times what a shorted cell does.
            // … below the top where its curve turns up there, near empty where it is flat.
            let stands = match pack["chemistry"].as_str() {
                Some("lfp") => 0.13,
                Some("lto") => 0.88,
                _ => 0.97,
            };
            let a_day_v = between(rng, 1.5, 8.0) * shorted_a_day_v(pack);
            cell.leak_a = a_day_v / figures.rest_v(stands).1.max(0.05) * cell.capacity_as / 86_400.0;
            cell.soc = (cell.soc - 0.3 * below.share).max(-0.97 * below.share);
        }
        if k == odd && inside == Inside::Shorted {
            // It takes from a third to ten times what a gentle charge gives, and has run down through it.
            let gentle_a = 0.05 * ah;
            cell.short_ohm = figures.rest_v(0.5).0 / (gentle_a * 0.33 * 30f64.powf(rng.f64()));
            cell.soc = -0.97 * below.share;
        }
        if matches!(inside, Inside::Sulphated | Inside::Hardened) {
            cell.crust = Some(Crust { times: crust.times * between(rng, 0.98, 1.02), ..crust });
        }
    }
    if matches!(inside, Inside::Asleep | Inside::DeadBoard) {
        let wakes_v = if inside == Inside::Asleep {
            figures.rest_v(0.5).0 * series * between(rng, 0.8, 1.0)
        } else {
            f64::INFINITY
        };
        cells.board =
            Some(Board::asleep(ah * figures.usual_c_rate().min(1.0), figures.ceiling_v(25.0) + 0.08, wakes_v));
    }
    cells.rest();
    Some(cells)
}

/// What a cell that is shorted inside loses at least in a day at rest, V.
fn shorted_a_day_v(pack: &Value) -> f64 {
    match pack["chemistry"].as_str() {
        Some("lfp") => 0.002,
        Some("sodium_ion") => 0.01,
        Some(name) if name.starts_with("lead") => 0.01,
        _ => 0.005,
    }
}

fn chemistry_is_lead(pack: &Value) -> bool {
    pack["chemistry"].as_str().is_some_and(|name| name.starts_with("lead"))
}

/// A sound pack of a kind, alone.
fn bare(pack: &Value, figures: CellFigures, temperature_c: f64) -> Option<Cells> {
    let mut plan: PlanDoc = from_value(&json!({ "format": "rumek.plan/1", "pack": pack })).ok()?;
    let pack = plan.pack.as_mut()?;
    pack.temperature_c = Some(temperature_c);
    let per_cell_ohm = figures.ohm_ah() * figures.ohm_by_temperature(temperature_c) / pack.capacity_ah?;
    pack.resistance_mohm = Some(1e3 * per_cell_ohm * f64::from(pack.series?));
    Bench::of(&plan, 0.0, &Truth::AS_TOLD)?.pack().cloned()
}

/// What somebody says who finds it, with what there is to feed it.
fn told(inside: Inside, mut pack: Value, cells: &Cells, temperature_c: f64, rng: &mut Rng) -> Value {
    let asleep = matches!(inside, Inside::Asleep | Inside::DeadBoard);
    let lead = chemistry_is_lead(&pack);
    let several = cells.cells.len() > 1;
    let readable = several && !lead && !asleep && rng.f64() < 0.6;
    let each: Vec<f64> = cells.cells.iter().map(|cell| shown(cell.volts)).collect();
    let ah = pack["capacity_ah"].as_f64().unwrap_or(1.0);
    let mut found = json!({
        "terminal_v": if asleep { shown(0.15 * rng.f64()) } else { shown(cells.rest_v()) },
        "bms": if asleep { "present" } else { "absent" }, "low_for": if rng.bool() { "hours" } else { "days" },
        "signs": ["none"], "temperature_c": temperature_c, "cells_reachable": readable,
    });
    if readable {
        found["cell_voltages_v"] = json!(each);
    }
    if asleep {
        pack["bms"] = json!({ "max_charge_a": shown(cells.board.map_or(ah, |board| board.most_a)) });
    }
    let full_v: f64 = cells.figures().full_v() * cells.cells.len() as f64;
    let mut told = json!({
        "format": "rumek.rescue/1", "practice": if rng.bool() { "cautious" } else { "experienced" },
        "ambient_c": temperature_c, "pack": pack, "found": found,
        "source": { "kind": "bench_supply", "max_voltage_v": if full_v < 28.0 { 30 } else { 80 }, "max_current_a": if ah < 1.0 { 1 } else { 5 },
                    "output_switch": true },
    });
    // Some are fed by what the wall gives, held down by a lamp, a resistor or nothing at all.
    if !asleep && !matches!(inside, Inside::Sulphated | Inside::Hardened) && rng.f64() < 0.25 {
        let open_v = shown(full_v * (0.9 + 0.5 * rng.f64())).max(3.0);
        told["source"] =
            json!({ "kind": "fixed_supply", "voltage_v": open_v, "max_current_a": 8, "overload": "constant_current" });
        match rng.u32(0..3) {
            0 => {
                let watts = [5, 10, 21][rng.usize(..3)];
                told["charger"] = json!({ "kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": watts });
            }
            1 => {
                let ohm = (10f64 * 30f64.powf(rng.f64())).round();
                told["charger"] = json!({ "kind": "resistor", "resistance_ohm": ohm, "rated_w": 25 });
            }
            _ => {
                let amps = [0.2, 0.5, 1.0][rng.usize(..3)];
                told["source"] = json!({ "kind": "wall_adapter", "voltage_v": open_v, "open_circuit_v": shown(1.3 * open_v), "max_current_a": amps });
            }
        }
    }
    if rng.bool() {
        let begins_v = cells.figures().deep_below_v().max(1.0) * cells.cells.len() as f64 * (0.85 + 0.2 * rng.f64());
        told["handover"] = json!({ "kind": "smart_charger", "output_max_a": shown(ah * (0.1 + 0.4 * rng.f64())).max(0.1), "min_start_v": shown(begins_v) });
    }
    told
}
