//! What a pack is worth now: what it holds, how it fades, how full it is and the one thing it needs.

mod faults;
mod figures;
mod known;
mod level;
mod need;
mod read;
mod trend;

use crate::codes::{FigureFrom, LastUse, RecordKind};
use crate::formats::moment::{unix_s, written};
use crate::formats::{
    CapacityPointDoc, ChargeNowDoc, FigureDoc, PackDoc, Problems, ReachesDoc, ResistancePointDoc, SpanDoc,
    StandingAskDoc, StandingDoc, TrendDoc,
};
use crate::lines::wear;
use crate::parts::pack::Pack;
use crate::parts::plan::alone;
use crate::units::significant;
use figures::{Capacity, Now, Resistance, YEAR_S, by_cycles, capacities, cycles, label_ah, resistances};
use known::Known;
pub use known::check_record;
use need::State;
use trend::{Line, Point};

/// Two deviations, for 95 of 100.
const DEVIATIONS: f64 = 1.96;
/// Where nobody says how warm it is kept, °C.
const KEPT_AT_C: f64 = 20.0;
/// A pack fades by so much a year as is usual, where nobody measured it, as a share.
const FADES_A_YEAR: f64 = 0.03;
/// A standing is worked out anew after so long at the latest, s.
const HOLDS_S: f64 = 86_400.0;
/// Nothing is foretold for longer than this, years.
const FORESEEN_YEARS: f64 = 15.0;

/// Works out a pack's standing.
///
/// # Examples
/// ```
/// use rumek_core::formats::{StandingAskDoc, from_value};
/// use serde_json::json;
///
/// let ask: StandingAskDoc = from_value(&json!({
///     "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4 }, "now": "2026-11-25T12:00:00Z",
///     "records": [{ "format": "rumek.record/1", "kind": "rest", "at": "2026-11-18T12:00:00Z", "voltage_v": 24.9 }] }))?;
/// let standing = rumek_core::standing(&ask)?;
/// assert_eq!(standing.need.code.code(), "storage");
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the pack or a record, each problem with its JSON pointer.
pub fn standing(ask: &StandingAskDoc) -> Result<StandingDoc, Problems> {
    let mut problems = Problems::default();
    // What is known is of one pack, however many of it a plan joins.
    let one = ask.pack.clone().map(|pack| PackDoc { packs_in_parallel: Some(1), ..pack });
    let pack = one.as_ref().map(alone).transpose().map_err(|wrong| wrong.under("/pack"))?;
    let now_s = ask.now.as_deref().and_then(unix_s);
    if now_s.is_none() {
        problems.add("/now", "it is not said when now is", "RFC 3339, such as 2026-11-25T14:20:00Z");
    }
    let mut records: Vec<Known> = Vec::new();
    for (n, record) in ask.records.iter().flatten().enumerate() {
        records.extend(known::read(record, &format!("/records/{n}"), &mut problems));
    }
    let (Some(pack), Some(now_s)) = (pack, now_s) else {
        if ask.pack.is_none() {
            problems.add("/pack", "there is no pack", "a pack: chemistry, series and capacity_ah at least");
        }
        return Err(problems);
    };
    problems.into_result(())?;
    // What is dated ahead of now has not happened.
    records.retain(|known| known.at_s <= now_s + 300.0);
    records.sort_by(|a, b| a.at_s.total_cmp(&b.at_s));
    for n in 0..records.len() {
        if records[n].kind == RecordKind::Rest && records[n].last == LastUse::Unknown {
            records[n].last = level::last_use(&records, n);
        }
    }
    let next_use_s = ask.next_use.as_deref().and_then(unix_s);
    Ok(told(&pack, &records, now_s, ask.kept_at_c.unwrap_or(KEPT_AT_C), next_use_s))
}

fn told(pack: &Pack, records: &[Known], now_s: f64, kept_at_c: f64, next_use_s: Option<f64>) -> StandingDoc {
    let cycles = cycles(pack, records);
    let capacities = capacities(pack, records, &cycles);
    let resistances = resistances(pack, records, &cycles);
    let label_ah = label_ah(pack);
    let years = |at_s: f64| (at_s - now_s) / YEAR_S;
    let counted: Vec<&Capacity> = capacities.iter().filter(|one| one.counted).collect();
    let points: Vec<Point> = counted.iter().map(|one| Point { x: years(one.at_s), y: one.ah, sd: one.sd_ah }).collect();
    let capacity = figures::now(&points, FADES_A_YEAR);
    let tested: Vec<&&Capacity> = counted.iter().filter(|one| one.from == FigureFrom::Test).collect();
    let from = best_from(&counted);
    let hard: Vec<Point> =
        resistances.iter().map(|one| Point { x: years(one.at_s), y: one.mohm, sd: 0.05 * one.mohm }).collect();
    let resistance = figures::now(&hard, 0.0);
    let loses = level::loses(pack, kept_at_c);
    let was = level::level(pack, records, kept_at_c);
    let level = was.map(|level| level.later(now_s, loses));
    let health = capacity.map(|now| SpanDoc {
        value: significant(now.value / label_ah),
        low: significant((now.value - DEVIATIONS * now.sd) / label_ah),
        high: significant((now.value + DEVIATIONS * now.sd) / label_ah),
    });
    let last_of = |kinds: &[RecordKind]| records.iter().rev().find(|one| kinds.contains(&one.kind)).map(|one| one.at_s);
    let state = State {
        pack,
        now_s,
        level,
        was,
        loses,
        health_high: tested.last().map(|test| (test.ah + test.sd_ah) / label_ah),
        leak: faults::leak(pack, records, kept_at_c),
        drift: faults::drift(pack, records, kept_at_c),
        grown: grown(pack, &resistances),
        last_test_s: tested.last().map(|test| test.at_s),
        last_charge_s: last_of(&[RecordKind::Charge]),
        disagree: disagree(&counted),
        next_use_s,
        read: records.iter().rev().find(|one| one.kind == RecordKind::Rest),
    };
    let (need, upcoming) = state.needs();
    let of_cycles = |values: Vec<(f64, f64, f64)>| by_cycles(&values);
    let fading = capacity.and_then(|now| now.line).map(|line| {
        trend(&line, label_ah, of_cycles(counted.iter().map(|one| (one.cycles, one.ah, one.sd_ah)).collect()))
    });
    let base_mohm = resistances.first().map_or(1.0, |first| first.mohm);
    let hardening = resistance.and_then(|now| now.line).map(|line| {
        let values = resistances.iter().map(|one| (one.cycles, one.mohm, 0.05 * one.mohm)).collect();
        trend(&line, base_mohm, of_cycles(values))
    });
    let reaches = |share: f64| reaches(capacity, share * label_ah, now_s);
    StandingDoc {
        at: written(now_s),
        health,
        capacity_ah: capacity.zip(from).map(|(now, from)| figure(&now, from)),
        resistance_mohm: resistance.map(|now| figure(&now, FigureFrom::Test)),
        full_cycles: significant(cycles.last().copied().unwrap_or(0.0)),
        charge: level.zip(was).map(|(level, was)| {
            let horizon_s = now_s + 10.0 * YEAR_S;
            let empty = state.empty_s();
            ChargeNowDoc {
                soc: significant(level.soc),
                low: significant(level.low),
                high: significant(level.high),
                known_at: written(was.at_s),
                loses_a_month: loses.map(significant),
                low_from: empty.map(|(from_s, _)| from_s).filter(|s| *s < horizon_s).map(written),
                low_by: empty.and_then(|(_, by_s)| by_s).filter(|s| *s < horizon_s).map(written),
            }
        }),
        fading,
        hardening,
        to_80: reaches(wear::WORN.at),
        to_60: reaches(wear::RETIRE.at),
        holds_until: written(holds_until(now_s, upcoming.as_ref().and_then(|next| next.by.as_deref()))),
        need,
        upcoming,
        points: capacities.iter().map(point).collect(),
        resistances: resistances.iter().map(resistance_point).collect(),
        label_ah: significant(label_ah),
        notes: notes(records, &capacities),
    }
}

fn figure(now: &Now, from: FigureFrom) -> FigureDoc {
    FigureDoc {
        value: significant(now.value),
        low: significant((now.value - DEVIATIONS * now.sd).max(0.0)),
        high: significant(now.value + DEVIATIONS * now.sd),
        from,
    }
}

fn best_from(counted: &[&Capacity]) -> Option<FigureFrom> {
    [FigureFrom::Test, FigureFrom::Charge, FigureFrom::PartCharge]
        .into_iter()
        .find(|from| counted.iter().any(|one| one.from == *from))
}

fn trend(line: &Line, whole: f64, cycles: Option<Line>) -> TrendDoc {
    let span = |line: &Line| SpanDoc {
        value: significant(line.slope / whole),
        low: significant(line.slope_low / whole),
        high: significant(line.slope_high / whole),
    };
    TrendDoc { per_year: span(line), per_hundred_cycles: cycles.as_ref().map(span) }
}

/// When a capacity comes down to so many Ah.
fn reaches(capacity: Option<Now>, target_ah: f64, now_s: f64) -> ReachesDoc {
    /// Packs do not fade evenly: what is foretold may come by so much sooner or later.
    const SOONER: f64 = 0.65;
    const LATER: f64 = 1.7;
    let unsaid = |why: &str| ReachesDoc { from: None, to: None, why_not: Some(why.to_owned()) };
    let Some(now) = capacity else { return unsaid("Nobody has measured its capacity yet.") };
    let off = DEVIATIONS * now.sd;
    if now.value + off <= target_ah {
        return ReachesDoc { from: Some(written(now_s)), to: Some(written(now_s)), why_not: None };
    }
    let Some(line) = now.line else {
        return unsaid("It takes three measurements over three months at least to say.");
    };
    let years = |level: f64, slope: f64| (slope < 0.0).then(|| ((level - target_ah) / -slope).max(0.0));
    let Some(earliest) = years(now.value - off, line.slope_low) else {
        return unsaid("So far it does not fade.");
    };
    let earliest = SOONER * earliest;
    if earliest > FORESEEN_YEARS {
        return unsaid("Not within fifteen years, as far as can be seen.");
    }
    let latest = years(now.value + off, line.slope_high).map(|years| LATER * years + 0.1);
    let at = |years: f64| written(now_s + years * YEAR_S);
    ReachesDoc {
        from: Some(at(earliest)),
        to: latest.filter(|years| *years <= 3.0 * FORESEEN_YEARS).map(at),
        why_not: None,
    }
}

/// How many times its resistance has grown, where two measurements in a row say so.
fn grown(pack: &Pack, resistances: &[Resistance]) -> Option<f64> {
    let given = pack.resistance_given.then(|| crate::units::in_ohms(pack.resistance) * 1000.0);
    let (base, later) = match (given, resistances) {
        (Some(base), all) => (base, all),
        (None, [first, rest @ ..]) => (first.mohm, rest),
        (None, []) => return None,
    };
    let [.., a, b] = later else { return None };
    let least = a.mohm.min(b.mohm) / base;
    (least > wear::GROWN.at).then_some(least)
}

/// By how far what charges say since lies from the last test, Ah and as a share, where that is more than both deviations.
fn disagree(counted: &[&Capacity]) -> Option<(f64, f64)> {
    let test = counted.iter().rev().find(|one| one.from == FigureFrom::Test)?;
    let charge = counted.iter().rev().find(|one| one.from == FigureFrom::Charge && one.at_s > test.at_s)?;
    let off = charge.ah - test.ah;
    // Twice each: one charge in three lies further off than its own deviation.
    (off.abs() > 2.0 * (charge.sd_ah + test.sd_ah)).then(|| (off.abs(), off.abs() / test.ah))
}

fn holds_until(now_s: f64, next: Option<&str>) -> f64 {
    let latest = now_s + HOLDS_S;
    next.and_then(unix_s).filter(|s| *s > now_s).map_or(latest, |s| s.min(latest))
}

fn point(one: &Capacity) -> CapacityPointDoc {
    CapacityPointDoc {
        at: written(one.at_s),
        cycles: significant(one.cycles),
        ah: significant(one.ah),
        sd_ah: significant(one.sd_ah),
        raw_ah: significant(one.raw_ah),
        from: one.from,
        counted: one.counted,
    }
}

fn resistance_point(one: &Resistance) -> ResistancePointDoc {
    ResistancePointDoc {
        at: written(one.at_s),
        cycles: significant(one.cycles),
        mohm: significant(one.mohm),
        raw_mohm: significant(one.raw_mohm),
    }
}

fn notes(records: &[Known], capacities: &[Capacity]) -> Vec<String> {
    let mut notes = Vec::new();
    let unread = records.iter().filter(|known| known.kind == RecordKind::Test && known.temperature_c.is_none()).count();
    if unread > 0 {
        notes.push("Tests without a temperature are taken to be made at 14 to 26 °C: their bars are wider.".to_owned());
    }
    let shown = capacities.iter().filter(|one| !one.counted).count();
    if shown > 0 {
        notes.push(format!(
            "{shown} of its figures {} shown and not counted: made in frost or heat, or not whole.",
            if shown == 1 { "is" } else { "are" }
        ));
    }
    notes
}
