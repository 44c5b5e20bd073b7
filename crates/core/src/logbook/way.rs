//! Which way the current of a log went: a charge, a discharge, or several of them.
//!
//! Loggers write the current of a discharge with either sign, or with none. What tells it apart is the
//! pack itself: its volts rise while charge goes in and fall while it comes out.

use crate::formats::RunWay;
use crate::lines::cells;
use crate::parts::plan::Plan;
use crate::units::{in_amp_hours, in_ohms};

/// A part of a log that moves less than this of what a pack holds is none.
const PART: f64 = 0.05;
/// A swing of the volts smaller than this share of nominal is none.
const SWING: f64 = 0.03;
/// Below this share of the most, no current counts.
const FLOWING: f64 = 0.05;

/// Before and after a cell is lost the pack falls by no more than this share of its nominal volts.
const HOLDS: f64 = 0.05;

/// Between two looks: the volts at its end and what flowed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Leg {
    pub(crate) volts: Option<f64>,
    /// On average, A.
    pub(crate) amps: f64,
    pub(crate) charge_as: f64,
}

/// Which way the current of a log went, and whether its sign says the opposite.
pub(crate) fn way(plan: &Plan, legs: &[Leg]) -> (RunWay, bool) {
    let pack = &plan.pack;
    let part_as = PART * in_amp_hours(pack.capacity) * 3600.0;
    let moved_as: f64 = legs.iter().map(|leg| leg.charge_as.abs()).sum();
    if moved_as < part_as {
        return (RunWay::Charge, false);
    }
    // What a known supply feeds is a charge: amps that flow backwards and volts that fall are its faults.
    if plan.source.is_some() {
        return (RunWay::Charge, false);
    }
    let turns = turns(legs, part_as);
    if turns.len() > 1 {
        return (RunWay::Several, false);
    }
    let signed_out = turns.first().is_some_and(|in_as| *in_as < 0.0);
    let swing_v = SWING * pack.profile.nominal_v * f64::from(pack.series);
    let lost = cell_lost(plan, legs);
    let swings =
        swings(&lost.map_or_else(|| legs.to_vec(), |lost| without(legs, lost)), in_ohms(pack.resistance), swing_v);
    match (swings.as_slice(), signed_out) {
        ([], false) | ([true], false) => (RunWay::Charge, false),
        ([], true) | ([false], true) => (RunWay::Discharge, false),
        ([false], false) => (RunWay::Discharge, true),
        ([true], true) => (RunWay::Unclear, true),
        _ => (RunWay::Several, false),
    }
}

/// A cell that was lost within a log: before which leg its volts fell, and by how much, V.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Lost {
    pub(crate) leg: usize,
    pub(crate) fell_v: f64,
}

/// A cell lost at one moment, while current flowed on: about its volts fall at once, and neither before nor after does
/// the pack run down.
pub(crate) fn cell_lost(plan: &Plan, legs: &[Leg]) -> Option<Lost> {
    let pack = &plan.pack;
    if pack.series < 2 {
        return None;
    }
    let (nominal_v, ohm) = (pack.profile.nominal_v, in_ohms(pack.resistance));
    let most_a = legs.iter().map(|leg| leg.amps.abs()).fold(0.0, f64::max);
    let flowing: Vec<(usize, f64)> = legs
        .iter()
        .enumerate()
        .filter(|(_, leg)| leg.amps.abs() >= FLOWING * most_a)
        .filter_map(|(n, leg)| Some((n, leg.volts? - ohm * leg.amps)))
        .collect();
    let (n, fell_v) =
        flowing.windows(2).map(|pair| (pair[1].0, pair[0].1 - pair[1].1)).max_by(|a, b| a.1.total_cmp(&b.1))?;
    let about_one = (cells::LOST_LEAST.at * nominal_v..=cells::LOST_MOST.at * nominal_v).contains(&fell_v);
    let part = |keep: &dyn Fn(usize) -> bool| -> Vec<f64> {
        flowing.iter().filter(|(at, _)| keep(*at)).map(|(_, v)| *v).collect()
    };
    let holds =
        |volts: &[f64]| volts.first().zip(volts.last()).is_none_or(|(first, last)| *last >= first - HOLDS * nominal_v);
    let (before, after) = (part(&|at| at < n), part(&|at| at >= n));
    (about_one && before.len() > 1 && holds(&before) && holds(&after)).then_some(Lost { leg: n, fell_v })
}

/// The legs of a log as if its cell had not been lost.
fn without(legs: &[Leg], lost: Lost) -> Vec<Leg> {
    let raised = |(n, leg): (usize, &Leg)| Leg {
        volts: leg.volts.map(|v| if n >= lost.leg { v + lost.fell_v } else { v }),
        ..*leg
    };
    legs.iter().enumerate().map(raised).collect()
}

/// The charge of each part that goes one way, A·s, as the sign of the current has it.
fn turns(legs: &[Leg], part_as: f64) -> Vec<f64> {
    let mut turns: Vec<f64> = Vec::new();
    let mut other_as = 0.0;
    for leg in legs {
        match turns.last_mut() {
            Some(turn) if *turn * leg.charge_as >= 0.0 => {
                *turn += other_as + leg.charge_as;
                other_as = 0.0;
            }
            _ => {
                other_as += leg.charge_as;
                if other_as.abs() >= part_as {
                    turns.push(std::mem::take(&mut other_as));
                }
            }
        }
    }
    turns
}

/// Each swing of the volts while current flows, true for up; what the resistance adds is taken off.
fn swings(legs: &[Leg], ohm: f64, least_v: f64) -> Vec<bool> {
    let most_a = legs.iter().map(|leg| leg.amps.abs()).fold(0.0, f64::max);
    let flowing = legs.iter().filter(|leg| leg.amps.abs() >= FLOWING * most_a);
    let volts: Vec<f64> = flowing.filter_map(|leg| Some(leg.volts? - ohm * leg.amps)).collect();
    let Some(first) = volts.first().copied() else { return Vec::new() };
    let (mut low, mut high) = (first, first);
    let mut swings: Vec<bool> = Vec::new();
    for v in volts {
        low = low.min(v);
        high = high.max(v);
        match swings.last() {
            Some(true) if v > high - least_v => low = v,
            Some(false) if v < low + least_v => high = v,
            _ if v >= low + least_v => {
                swings.push(true);
                (low, high) = (v, v);
            }
            _ if v <= high - least_v => {
                swings.push(false);
                (low, high) = (v, v);
            }
            _ => {}
        }
    }
    swings
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    fn ups(volts: &[f64]) -> Vec<bool> {
        let legs: Vec<Leg> = volts.iter().map(|v| Leg { volts: Some(*v), amps: 1.0, charge_as: 60.0 }).collect();
        swings(&legs, 0.0, 1.0)
    }

    #[test]
    fn swings_are_counted_once_each() {
        assert_eq!(ups(&[10.0, 10.4, 10.9, 11.2, 12.6]), [true]);
        assert_eq!(ups(&[12.6, 12.0, 11.4, 10.0]), [false]);
        assert_eq!(ups(&[10.0, 12.0, 11.2, 12.4]), [true]);
        assert_eq!(ups(&[10.0, 12.0, 10.5, 12.4, 10.1]), [true, false, true, false]);
        assert_eq!(ups(&[10.0, 10.5, 10.2, 10.9]), Vec::<bool>::new());
    }

    #[test]
    fn a_part_that_moves_little_is_no_turn() {
        let leg = |charge_as: f64| Leg { volts: None, amps: charge_as / 60.0, charge_as };
        assert_eq!(turns(&[leg(100.0), leg(-9.0), leg(100.0)], 10.0).len(), 1);
        assert_eq!(turns(&[leg(100.0), leg(-11.0), leg(100.0)], 10.0).len(), 3);
        assert_eq!(turns(&[leg(-6.0), leg(-6.0)], 10.0), [-12.0]);
    }

    /// A log of a pack of four lithium cells, 2 Ah, one leg a minute.
    fn log(volts: &[f64]) -> (RunWay, Option<Lost>) {
        let plan = serde_json::json!({ "format": "rumek.plan/1", "pack": { "chemistry": "li_ion", "series": 4, "capacity_ah": 2, "start": { "soc": 0.2 } } });
        let plan = super::super::frozen::Frozen::of(&crate::formats::from_value(&plan).unwrap(), None).unwrap().plan;
        let legs: Vec<Leg> = volts.iter().map(|v| Leg { volts: Some(*v), amps: 1.0, charge_as: 400.0 }).collect();
        (way(&plan, &legs).0, cell_lost(&plan, &legs))
    }

    #[test]
    fn a_cell_that_is_lost_while_current_flows_makes_no_discharge() {
        let (way, lost) = log(&[14.4, 14.5, 14.6, 14.7, 11.1, 11.2, 11.3, 11.4]);
        assert_eq!(way, RunWay::Charge);
        assert!(lost.is_some_and(|lost| lost.leg == 4 && (lost.fell_v - 3.6).abs() < 0.1), "{lost:?}");
        let (way, lost) = log(&[16.4, 16.0, 15.6, 15.0, 14.4, 13.8, 13.0, 11.5]);
        assert_eq!((way, lost), (RunWay::Discharge, None));
    }
}
