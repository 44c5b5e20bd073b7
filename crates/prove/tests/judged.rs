//! The judge of a run, told what the rig's displays show: silent where all is well, and speaking of each fault
//! within its time.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use fastrand::Rng;
use rumek_core::codes::{Place, SayingCode, Severity};
use rumek_core::formats::{PlanDoc, ResultDoc, RunAskDoc, RunReadingDoc, RunStateDoc, from_value};
use rumek_core::{answer, understand};
use rumek_rig::{Bench, Truth};
use serde_json::{Value, json};

fn plan(chemistry: &str, series: u32, capacity_ah: f64, load: Value) -> PlanDoc {
    from_value(&json!({
        "format": "rumek.plan/1",
        "pack": {"chemistry": chemistry, "series": series, "capacity_ah": capacity_ah, "temperature_c": 20, "start": {"soc": 0.25}},
        "source": {"kind": "bench_supply", "max_voltage_v": 60, "max_current_a": 0.8 * capacity_ah},
        "load": load,
    }))
    .unwrap()
}

/// Somebody at the bench: what each display and a meter at the pack show.
fn seen(bench: &Bench, with_cells: bool) -> RunReadingDoc {
    let read = |value: f64| (value * 100.0).round() / 100.0;
    let cells = bench.pack().unwrap().cells.iter().map(|cell| (cell.volts * 1000.0).round() / 1000.0);
    RunReadingDoc {
        t_s: Some(bench.t_s()),
        terminal_v: Some(read(bench.pack_v())),
        source_v: Some(read(bench.pack_v())),
        source_a: Some(read(bench.total_a())),
        temperature_c: Some(20.0),
        cell_voltages_v: with_cells.then(|| cells.collect()),
        ..RunReadingDoc::default()
    }
}

/// Charges up to a share of the time told, looked at ten times; what the judge says then.
fn judged(
    asked: &PlanDoc,
    card: &ResultDoc,
    bench: &mut Bench,
    until: f64,
    mut act: impl FnMut(&mut Bench),
) -> RunStateDoc {
    let end_s = until * card.time.total_s.unwrap();
    let mut readings = Vec::new();
    for k in 1..=10 {
        let look_s = end_s * f64::from(k) / 10.0;
        while bench.t_s() < look_s - 0.02 {
            bench.step(look_s - bench.t_s());
        }
        act(bench);
        readings.push(seen(bench, k >= 9));
    }
    understand(&RunAskDoc { plan: Some(asked.clone()), now_s: None, readings: Some(readings), ..RunAskDoc::default() })
        .unwrap()
}

fn switched_on(card: &ResultDoc, truth: &Truth, volts: f64, amps: f64) -> Bench {
    let mut bench = Bench::of(&card.resolved, card.start.soc, truth).unwrap();
    bench.turn_volts(Place::Source, volts);
    bench.turn_amps(Place::Source, amps);
    bench.switch(true);
    bench
}

const PACKS: [(&str, u32, f64); 5] =
    [("lipo", 4, 2.2), ("lipo", 6, 5.0), ("li_ion", 10, 10.0), ("lfp", 4, 50.0), ("lihv", 3, 1.3)];

#[test]
fn a_sound_charge_is_followed_in_silence() {
    let mut rng = Rng::with_seed(5);
    for n in 0..60 {
        let (chemistry, series, ah) = PACKS[n % PACKS.len()];
        let asked = plan(chemistry, series, ah, Value::Null);
        let card = answer(&asked).unwrap();
        let settings = card.settings.clone().unwrap();
        let truth = Truth {
            resistance: 0.8 + 0.5 * rng.f64(),
            capacity: 0.96 + 0.06 * rng.f64(),
            soc: Some(0.24 + 0.02 * rng.f64()),
            ..Truth::AS_TOLD
        };
        let mut bench = switched_on(&card, &truth, settings.true_voltage_v, settings.current_a);
        let until = 0.1 + 0.85 * rng.f64();
        let state = judged(&asked, &card, &mut bench, until, |_| {});
        assert!(
            state.said.iter().all(|said| said.severity == Severity::Note),
            "{chemistry} at {until}: {:?}",
            state.said
        );
    }
}

#[test]
fn each_fault_is_spoken_of() {
    for (chemistry, series, ah) in PACKS {
        let asked = plan(chemistry, series, ah, Value::Null);
        let card = answer(&asked).unwrap();
        let settings = card.settings.clone().unwrap();
        let (volts, amps) = (settings.true_voltage_v, settings.current_a);
        let says = |what: &str, wanted: SayingCode, state: &RunStateDoc| {
            assert!(state.said.iter().any(|said| said.code == wanted), "{chemistry} {what}: {:?}", state.said);
        };
        let mut slow = switched_on(&card, &Truth::AS_TOLD, volts, 0.6 * amps);
        says("gives too little", SayingCode::SupplyLimited, &judged(&asked, &card, &mut slow, 0.4, |_| {}));
        let mut high = switched_on(&card, &Truth::AS_TOLD, 1.06 * volts, amps);
        says("set too high", SayingCode::OverVoltage, &judged(&asked, &card, &mut high, 1.0, |_| {}));
        let mut trips = switched_on(&card, &Truth::AS_TOLD, volts, amps);
        let state = judged(&asked, &card, &mut trips, 0.6, |bench| {
            if bench.t_s() > 0.2 * card.time.total_s.unwrap() {
                bench.switch(false);
            }
        });
        says("lets go", SayingCode::Stopped, &state);
        // A cell that holds less comes to its voltage before the others.
        let weak = Truth { weak_cell: 0.75, ..Truth::AS_TOLD };
        let mut weak = switched_on(&card, &weak, volts, amps);
        says("a weak cell", SayingCode::CellAhead, &judged(&asked, &card, &mut weak, 1.0, |_| {}));
    }
}

#[test]
fn a_load_that_nobody_spoke_of_is_found_out() {
    let asked = plan("lipo", 6, 5.0, Value::Null);
    let told = answer(&asked).unwrap();
    // The bench has one all the same.
    let loaded = answer(&plan("lipo", 6, 5.0, json!({"current_a": 2.0}))).unwrap();
    let settings = told.settings.clone().unwrap();
    let mut bench = switched_on(&loaded, &Truth::AS_TOLD, settings.true_voltage_v, settings.current_a);
    let state = judged(&asked, &told, &mut bench, 2.2, |_| {});
    assert!(state.said.iter().any(|said| said.code == SayingCode::OverCapacity), "{:?}", state.said);
}
