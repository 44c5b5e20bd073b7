//! A run is understood from all of its readings, however many, and told as what it is.

use proptest::prelude::*;
use rumek_core::formats::{PlanDoc, ResultDoc, RunReadingDoc, RunStateDoc, RunWay, SayingCode, from_value};
use rumek_core::{LogRow, LogSums, understand, understand_sums};
use serde_json::{Value, json};

use crate::{ask, plan};

const BEGAN: f64 = 1_790_000_000.0;

/// A plan with its pack alone, as a log that was brought in has it.
fn alone(pack: Value) -> PlanDoc {
    from_value(&json!({"format": "rumek.plan/1", "pack": pack})).unwrap()
}

fn lipo() -> Value {
    json!({"chemistry": "lipo", "series": 3, "capacity_ah": 3.4, "resistance_mohm": 75, "temperature_c": 25, "start": {"soc": 0.2}})
}

/// The charge of a plan as a logger sees it, every `step_s`, with the current stopped for `pause_s` each minute.
fn logged(result: &ResultDoc, step_s: f64, pause_s: f64, ohm: f64) -> Vec<LogRow> {
    let end_s = result.curve.last().unwrap().t_s;
    let mut rows = Vec::new();
    let mut t_s = 0.0;
    while t_s <= end_s {
        let after = result.curve.partition_point(|p| p.t_s <= t_s).clamp(1, result.curve.len() - 1);
        let (a, b) = (&result.curve[after - 1], &result.curve[after]);
        let share = ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0);
        let amps = a.current_a + share * (b.current_a - a.current_a);
        let volts = a.pack_v + share * (b.pack_v - a.pack_v);
        let paused = t_s % 60.0 < pause_s && t_s >= 60.0;
        let (amps, volts) = if paused { (0.0, volts - amps * ohm) } else { (amps, volts) };
        rows.push(row(t_s, volts, amps));
        t_s += step_s;
    }
    rows
}

fn row(t_s: f64, volts: f64, amps: f64) -> LogRow {
    LogRow {
        unix_s: BEGAN + t_s,
        reading: RunReadingDoc { terminal_v: Some(volts), terminal_a: Some(amps), ..RunReadingDoc::default() },
    }
}

fn summed(plan: &PlanDoc, rows: &[LogRow]) -> LogSums {
    let mut sums = LogSums::new(plan, None).unwrap();
    rows.iter().for_each(|row| sums.push(row));
    sums
}

fn understood(plan: &PlanDoc, rows: &[LogRow]) -> RunStateDoc {
    understand_sums(&summed(plan, rows), BEGAN, None)
}

/// By the trapezoid over every reading, Ah.
fn counted_ah(rows: &[LogRow]) -> f64 {
    let amps = |row: &LogRow| row.reading.terminal_a.unwrap();
    rows.windows(2).map(|w| 0.5 * (amps(&w[0]) + amps(&w[1])) * (w[1].unix_s - w[0].unix_s) / 3600.0).sum()
}

#[test]
fn a_pause_each_minute_changes_neither_its_charge_nor_its_resistance() {
    let result = ask(json!({"pack": lipo(), "source": {"max_current_a": 1.7}}));
    let rows = logged(&result, 1.0, 1.0, 0.06);
    assert!(rows.len() > 5000);
    let state = understood(&alone(lipo()), &rows);
    assert_eq!((state.way, state.readings), (RunWay::Charge, rows.len()));
    let counted = counted_ah(&rows);
    assert!((state.account.charge_ah / counted - 1.0).abs() < 1e-6, "{} of {counted}", state.account.charge_ah);
    assert!((state.fit.resistance_mohm / 75.0 - 1.0).abs() < 0.2, "{:?}", state.fit);
    assert!(!state.said.iter().any(|s| s.code == SayingCode::HighResistance), "{:?}", state.said);
    let kept = state.keep;
    assert!(kept.why_not.is_none() && (kept.health.unwrap() - 1.0).abs() < 0.12, "{kept:?}");
}

#[test]
fn few_readings_are_understood_alike_by_either_door() {
    let result = ask(json!({"pack": lipo(), "source": {"max_current_a": 1.7}}));
    let rows = logged(&result, 300.0, 0.0, 0.0);
    for plan in [alone(lipo()), plan(json!({"pack": lipo(), "source": {"max_current_a": 1.7}}))] {
        let readings: Vec<Value> = rows
            .iter()
            .map(|row| json!({"t_s": row.unix_s - BEGAN, "terminal_v": row.reading.terminal_v, "terminal_a": row.reading.terminal_a}))
            .collect();
        let ask = json!({"plan": serde_json::to_value(&plan).unwrap(), "readings": readings});
        assert_eq!(understand(&from_value(&ask).unwrap()).unwrap(), understood(&plan, &rows));
    }
}

#[test]
fn sums_that_were_kept_are_gone_on_with() {
    let result = ask(json!({"pack": lipo(), "source": {"max_current_a": 1.7}}));
    let rows = logged(&result, 2.0, 1.0, 0.06);
    let plan = alone(lipo());
    let (before, after) = rows.split_at(rows.len() / 3);
    let kept = summed(&plan, before).to_json().unwrap();
    let mut resumed = LogSums::resume(&plan, None, &kept).unwrap().unwrap();
    assert_eq!((resumed.count(), resumed.last_unix_s()), (before.len(), before.last().map(|row| row.unix_s)));
    after.iter().for_each(|row| resumed.push(row));
    let (one, other) = (understand_sums(&resumed, BEGAN, None), understood(&plan, &rows));
    assert!((one.account.charge_ah - other.account.charge_ah).abs() < 1e-9 && one.fit.readings == other.fit.readings);
    assert!(LogSums::resume(&plan, None, &json!({"stretches": 3})).unwrap().is_none());
}

/// `hours` at a current from one voltage a cell to another, a reading every `step_s`.
fn part(from_s: f64, hours: f64, amps: f64, volts: [f64; 2], step_s: f64) -> Vec<LogRow> {
    let n = (hours * 3600.0 / step_s) as usize;
    let at = |k: usize| volts[0] + (volts[1] - volts[0]) * k as f64 / n as f64;
    (0..=n).map(|k| row(from_s + k as f64 * step_s, 3.0 * at(k), amps)).collect()
}

#[test]
fn a_log_whose_volts_fall_while_current_flows_is_a_discharge_whatever_its_sign() {
    for (sign, step_s) in [(1.0, 2.0), (-1.0, 2.0), (1.0, 60.0), (-1.0, 60.0)] {
        let rows = part(0.0, 1.5, sign * 2.0, [4.1, 3.3], step_s);
        let state = understood(&alone(lipo()), &rows);
        assert_eq!(state.way, RunWay::Discharge);
        assert!((state.account.charge_ah + 3.0).abs() < 0.01, "{}", state.account.charge_ah);
        assert!(state.said.iter().any(|s| s.code == SayingCode::Discharge), "{:?}", state.said);
        assert!(state.keep.health.is_none() && state.keep.why_not.is_some() && state.fit.readings == 0);
    }
}

#[test]
fn a_log_of_several_cycles_offers_nothing() {
    for sign in [-1.0, 1.0] {
        let mut rows = part(0.0, 1.5, 2.0, [3.4, 4.2], 5.0);
        rows.extend(part(6000.0, 1.4, sign * 2.0, [4.15, 3.2], 5.0));
        rows.extend(part(12_000.0, 1.5, 2.0, [3.3, 4.2], 5.0));
        let state = understood(&alone(lipo()), &rows);
        assert_eq!(state.way, RunWay::Several);
        assert!(state.keep.health.is_none() && state.said.iter().any(|s| s.code == SayingCode::SeveralCycles));
    }
}

#[test]
fn a_charge_whose_current_is_counted_as_coming_out_is_not_guessed_at() {
    let state = understood(&alone(lipo()), &part(0.0, 1.5, -2.0, [3.4, 4.2], 30.0));
    assert_eq!(state.way, RunWay::Unclear);
    assert!(state.keep.health.is_none() && state.said.iter().any(|s| s.code == SayingCode::SignUnclear));
}

#[test]
fn nothing_is_offered_from_a_fit_at_its_bounds() {
    // Three times what it is said to hold goes in between these volts.
    let rows = part(0.0, 4.5, 2.0, [3.6, 4.19], 60.0);
    let state = understood(&alone(lipo()), &rows);
    assert_eq!(state.way, RunWay::Charge);
    assert!(
        state.keep.health.is_none() && state.keep.why_not.as_deref().is_some_and(|why| why.contains("another pack")),
        "{:?} {:?}",
        state.keep,
        state.fit
    );
}

proptest! {
    #![proptest_config(crate::kept(200, file!()))]

    #[test]
    fn what_flowed_is_counted_from_every_reading(amps in prop::collection::vec(0.0..3.0f64, 2..4000), step_s in 0.5..8.0f64) {
        let rows: Vec<LogRow> = amps.iter().enumerate().map(|(k, a)| row(k as f64 * step_s, 11.0 + 1.5 * k as f64 / amps.len() as f64, *a)).collect();
        let plan = alone(json!({"chemistry": "lipo", "series": 3, "capacity_ah": 50, "start": {"soc": 0.2}}));
        let state = understood(&plan, &rows);
        prop_assert!((state.account.charge_ah - counted_ah(&rows)).abs() <= 2e-3 * counted_ah(&rows).max(1e-6), "{} {}", state.account.charge_ah, counted_ah(&rows));
        prop_assert_eq!(state.readings, rows.len());
    }
}

#[test]
fn a_reading_typed_between_others_of_a_long_log_is_looked_at_and_changes_no_sum() {
    let result = ask(json!({"pack": lipo(), "source": {"max_voltage_v": 30, "max_current_a": 2}}));
    let rows = logged(&result, 1.0, 0.0, 0.075);
    let plan = alone(lipo());
    let mut sums = summed(&plan, &rows);
    let before = understand_sums(&sums, BEGAN, None);
    let hot = RunReadingDoc { temperature_c: Some(51.0), ..row(1500.4, 11.9, 2.0).reading };
    assert!(sums.put_between(&LogRow { unix_s: BEGAN + 1500.4, reading: hot }));
    let after = understand_sums(&sums, BEGAN, None);
    assert_eq!((after.account.charge_ah, after.readings), (before.account.charge_ah, before.readings + 1));
    assert!(after.said.iter().any(|said| said.code == SayingCode::Warming), "{:?}", after.said);
    assert!(!sums.put_between(rows.last().unwrap()), "what comes last goes on from there");
    let few = summed(&plan, &rows[..100]);
    assert!(!few.clone().put_between(&rows[50]), "few readings each count by themselves");
}
