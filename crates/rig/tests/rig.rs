//! The rig by itself: it accounts for what flows, its steps are short enough, and it shares nothing with the core
//! but documents and the cells' figures.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use std::path::{Path, PathBuf};

use rumek_core::codes::Place;
use rumek_core::formats::{PlanDoc, from_value};
use rumek_rig::{Bench, Rating, Truth};
use serde_json::{Value, json};

fn sources(folder: &Path) -> Vec<PathBuf> {
    std::fs::read_dir(folder)
        .unwrap()
        .flat_map(|entry| {
            let path = entry.unwrap().path();
            if path.is_dir() { sources(&path) } else { vec![path] }
        })
        .collect()
}

#[test]
fn it_shares_with_the_core_only_documents_codes_and_the_figures_of_cells() {
    let mut asked = 0;
    for path in sources(&Path::new(env!("CARGO_MANIFEST_DIR")).join("src")) {
        let text = std::fs::read_to_string(&path).unwrap();
        for (_, rest) in text.match_indices("rumek_core::").map(|(at, found)| (at, &text[at + found.len()..])) {
            asked += 1;
            let allowed = ["codes::", "formats::", "CellFigures"].iter().any(|door| rest.starts_with(door));
            assert!(allowed, "{}: rumek_core::{}", path.display(), rest.lines().next().unwrap_or_default());
        }
    }
    assert!(asked > 5);
}

/// A plan with every field that the rig reads; `patch` is laid over it.
fn plan(source: Value, charger: Value, load: Value) -> PlanDoc {
    from_value(&json!({
        "format": "rumek.plan/1",
        "pack": {"chemistry": "lipo", "series": 4, "capacity_ah": 5.0, "temperature_c": 22, "resistance_mohm": 30,
                 "packs_in_parallel": 1, "health": 1.0, "start": {"soc": 0.3}},
        "source": source, "charger": charger, "load": load,
        "leads": {"output": {"awg": 14, "length_m": 0.5}},
    }))
    .unwrap()
}

fn bench_supply() -> Value {
    json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 10, "overload": "constant_current"})
}

/// Charges for an hour, no step longer than so many seconds; how full it is then.
fn an_hour(bench: &mut Bench, most_s: f64) -> f64 {
    while bench.t_s() < 3600.0 {
        bench.step(most_s.min(3600.0 - bench.t_s()).max(0.02));
    }
    bench.soc()
}

fn charging(plan: &PlanDoc, volts: f64, amps: f64) -> Bench {
    let mut bench = Bench::of(plan, 0.3, &Truth::AS_TOLD).unwrap();
    let at = if plan.charger.is_some() { Place::Charger } else { Place::Source };
    bench.turn_volts(at, volts);
    bench.turn_amps(at, amps);
    bench.switch(true);
    bench
}

#[test]
fn halved_steps_come_to_the_same() {
    let plan = plan(bench_supply(), Value::Null, Value::Null);
    let mut ends = [f64::INFINITY, 5.0, 2.5].map(|most_s| {
        let mut bench = charging(&plan, 16.8, 4.0);
        (an_hour(&mut bench, most_s), bench.pack_a())
    });
    let exact = ends[2];
    for (soc, amps) in &mut ends {
        assert!(
            (*soc - exact.0).abs() < 2e-4 && (*amps - exact.1).abs() < 2e-3 * exact.1.max(0.05),
            "{soc} {amps} {exact:?}"
        );
    }
}

#[test]
fn what_flows_in_is_stored_given_on_or_turned_to_heat() {
    let module = json!({"kind": "dc_dc", "topology": "buck_boost", "has_cc": true, "has_cv": true, "efficiency": 0.9, "output_max_a": 8});
    let battery = json!({"kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 40, "soc": 0.9});
    for (source, charger, load) in [
        (bench_supply(), Value::Null, Value::Null),
        (bench_supply(), Value::Null, json!({"power_w": 12})),
        (bench_supply(), module.clone(), Value::Null),
        (battery, module, json!({"current_a": 0.7})),
    ] {
        let plan = plan(source, charger, load);
        let mut bench = charging(&plan, 16.8, 3.0);
        an_hour(&mut bench, f64::INFINITY);
        assert!(bench.unaccounted() < 1e-3, "{} {plan:?}", bench.unaccounted());
    }
}

#[test]
fn a_current_is_what_ohms_law_says_of_the_sum_of_all_resistances() {
    let resistor = json!({"kind": "resistor", "resistance_ohm": 4.7, "rated_w": 50});
    let supply = json!({"kind": "fixed_supply", "voltage_v": 19.0, "max_current_a": 10, "overload": "hiccup"});
    let mut bench = Bench::of(&plan(supply, resistor, Value::Null), 0.3, &Truth::AS_TOLD).unwrap();
    bench.switch(true);
    let pack_v = bench.pack_v();
    // Copper of 14 AWG there and back over half a metre, and a supply of a milliohm.
    let ohm = 4.7 + 2.0 * 0.5 * 0.0178 / 2.08 + 1e-3;
    assert!((bench.pack_a() - (19.0 - pack_v) / ohm).abs() < 2e-3, "{} A at {pack_v} V", bench.pack_a());
}

#[test]
fn a_supply_that_trips_is_noticed_and_gives_nothing() {
    let supply = json!({"kind": "fixed_supply", "voltage_v": 19.0, "max_current_a": 3, "overload": "shutdown"});
    let mut bench = Bench::of(&plan(supply, Value::Null, Value::Null), 0.3, &Truth::AS_TOLD).unwrap();
    bench.switch(true);
    bench.step(1.0);
    assert!(bench.let_go() && bench.pack_a().abs() < 1e-3);
    assert!(bench.passings().lasting().any(|passing| passing.rating == Rating::LetGo));
}

#[test]
fn cells_go_on_above_full_and_that_is_noticed() {
    let mut bench = charging(&plan(bench_supply(), Value::Null, Value::Null), 17.6, 5.0);
    an_hour(&mut bench, f64::INFINITY);
    assert!(bench.pack().unwrap().highest_v() > 4.3);
    assert!(bench.passings().lasting().any(|passing| passing.rating == Rating::CellVolts));
}
