//! The stages of a rescue: how far, how hard, how long, and when to break off.

use super::allowed::Fed;
use super::found::{Cells, Picture};
use super::gear::{Gear, Target, Trial, attempt, ideal};
use super::triage::Decision;
use crate::acts::{Break, BreakOff};
use crate::chain::may::recovered_v;
use crate::chain::settings::full_voltage;
use crate::formats::named;
use crate::formats::{
    AbortCode, AbortDoc, CorridorPoint, Practice, Problems, ReasonCode, RescueDoc, RescueStageDoc, RescueStageKind,
    UntilDoc, Verdict,
};
use crate::lines::{deep, ends, leaks, rates, wear};
use crate::physics::cell::{Gently, Resting};
use crate::physics::charge::Charge;
use crate::units::{in_amp_hours, in_ohms, show_hours, significant, trimmed};

/// A board is tried for this long at a time, s.
const WAKE_TRY_S: f64 = ends::WAKE_TRY_H.at * 3600.0;
/// A living lithium cell shows within this at a twentieth of its capacity, s.
const LIFE_S: f64 = ends::LIFE_H.at * 3600.0;
/// A charge takes no longer than so many times its Ah by its amps, and its last part another two hours.
const TAKES: f64 = 1.6;
const LAST_S: f64 = 7200.0;
/// So many times its expected time a stage has at least.
const OVER_EXPECTED: f64 = 1.5;
/// Points of a predicted stage.
const POINTS: usize = 60;

/// The stages of a verdict, with what the named gear makes of the one that feeds.
pub(crate) struct Staged {
    pub(crate) stages: Vec<RescueStageDoc>,
    pub(crate) trial: Option<Trial>,
    pub(crate) target: Option<Target>,
}

/// Works out the stages.
///
/// # Errors
/// What is wrong with the gear's documents.
pub(crate) fn stages(doc: &RescueDoc, picture: &Picture, decision: &Decision) -> Result<Staged, Problems> {
    let asked = || Staged { stages: vec![inspect(decision)], trial: None, target: None };
    if decision.verdict == Verdict::Retire {
        return Ok(Staged { stages: Vec::new(), trial: None, target: None });
    }
    // Nothing is fed that the one judge has not cleared.
    let Some(fed) = picture.fed().filter(|_| decision.verdict != Verdict::Inspect) else {
        return Ok(asked());
    };
    match decision.verdict {
        Verdict::Retire | Verdict::Inspect => Ok(asked()),
        Verdict::Charge => {
            let stages = vec![handover(picture, None), charge(picture, decision, fed), rest(picture), prove(picture)];
            Ok(Staged { stages, trial: None, target: None })
        }
        Verdict::Wake => {
            let target = wake_target(picture, fed);
            let trial = tried(doc, picture, &target, false)?;
            Ok(Staged { stages: vec![wake(picture, &target)], trial: Some(trial), target: Some(target) })
        }
        Verdict::Precharge => {
            let target = precharge_target(picture, fed);
            let trial = tried(doc, picture, &target, true)?;
            let stages = vec![
                precharge(picture, &target, &trial),
                handover(picture, Some(&target)),
                charge(picture, decision, fed),
                rest(picture),
                prove(picture),
            ];
            Ok(Staged { stages, trial: Some(trial), target: Some(target) })
        }
    }
}

/// Tries the gear that was named, else a supply that does just what is asked.
fn tried(doc: &RescueDoc, picture: &Picture, target: &Target, all: bool) -> Result<Trial, Problems> {
    let pack = doc.pack.clone().unwrap_or_default();
    let own = ideal(target);
    let gear = match &doc.source {
        Some(source) => Gear { source, charger: doc.charger.as_ref(), leads: doc.leads.as_ref() },
        None => Gear { source: &own, charger: None, leads: None },
    };
    let mut trial = attempt(picture, &pack, gear, target, all)?;
    if all && !trial.fit.fits && doc.source.is_some() {
        // What does not do shows no course to follow: that of something that does is shown.
        let ideal = attempt(picture, &pack, Gear { source: &own, charger: None, leads: None }, target, all)?;
        trial.charges = ideal.charges;
    }
    Ok(trial)
}

/// Where its charge ends, as a plan of it says.
fn full_v(picture: &Picture) -> f64 {
    full_voltage(&picture.pack, Practice::Standard)
}

/// Where the first charge after a rescue ends: where nothing levels cells whose curve turns up at the top, the gentle end
/// keeps one that is a little ahead from passing full.
fn first_full_v(picture: &Picture) -> f64 {
    let ahead = picture.pack.profile.falls_at_its_top() && picture.pack.series > 1 && !picture.pack.balanced;
    full_voltage(&picture.pack, if ahead { Practice::Gentle } else { Practice::Standard })
}

/// Whether each cell was read.
fn measured(picture: &Picture) -> bool {
    picture.cells.known().is_some() || picture.pack.series == 1
}

/// The terminals of a pack whose board is to be woken: between nominal and full.
fn wake_target(picture: &Picture, fed: Fed) -> Target {
    let profile = &picture.pack.profile;
    let series = picture.series();
    let ceiling_v = fed.volts(0.5 * (profile.nominal_v + profile.full_v) * series);
    let from_v = picture.cells.known().map_or(profile.precharge_below_v, Cells::lowest_v);
    // Whatever gets it a little above where it stands has woken it.
    let until_v = picture.cells.known().map_or(from_v * series, Cells::sum_v) * 1.001;
    Target { ceiling_v, limit_a: fed.amps(picture.gentle_a()), until_v: until_v.min(0.98 * ceiling_v), from_v }
}

fn precharge_target(picture: &Picture, fed: Fed) -> Target {
    let profile = &picture.pack.profile;
    let series = picture.series();
    let limit_a = fed.amps(picture.gentle_a());
    let inside_v = picture.inside_v().unwrap_or(0.0);
    let from_v = inside_v / series;
    // Read while the current flows: what it adds across the resistance is gone once it is parted.
    let settled: f64 = profile.rc.iter().map(|rc| rc.ratio).sum::<f64>() + 1.0;
    let sag_v = limit_a * in_ohms(picture.pack.resistance) * settled;
    let wanted_v = handed_over_v(picture, deep::START_OVER.at) + sag_v;
    // Cells out of step: the lowest must have come over the line too.
    let spread_v = picture.cells.known().map_or(0.0, |cells| (cells.sum_v() / series - cells.lowest_v()).max(0.0));
    let wanted_v = wanted_v + 0.5 * spread_v * series;
    let full_v = full_v(picture);
    let ceiling_v = match profile.traits.gently {
        Gently::ItsLine => {
            // Unread, one of them may be dead; what it stands at already is no more than the others bear.
            let one_dead_v = (profile.full_v * (series - 1.0)).max(inside_v + deep::PRECHARGE_OVER_V.at * series);
            let most = if measured(picture) { full_v } else { one_dead_v.min(full_v) };
            ((profile.precharge_below_v + 0.3) * series).max(wanted_v + 0.05 * series).min(most)
        }
        Gently::Volts { cell_v, .. } => cell_v * series,
        Gently::Full { .. } => full_v,
    };
    let ceiling_v = fed.volts(ceiling_v);
    Target { ceiling_v, limit_a, until_v: wanted_v.min(ceiling_v - 0.01 * series), from_v }
}

/// What it has to rise past, V: the mean of cells that were not read is no cell, and lead shows then that none is dead.
fn line_v(picture: &Picture) -> f64 {
    let profile = &picture.pack.profile;
    let mean_v = deep::MEAN_V.of(profile).filter(|_| !measured(picture)).unwrap_or(profile.precharge_below_v);
    recovered_v(&picture.pack).unwrap_or(mean_v * picture.series())
}

/// Where its charger takes over, V: of what burns not below its line; of the rest where that charger begins, which
/// goes its own course from there.
fn handed_over_v(picture: &Picture, margin: f64) -> f64 {
    let line_v = line_v(picture);
    match picture.start_v {
        Some(start_v) if picture.pack.profile.traits.burns => (margin * start_v).max(line_v),
        Some(start_v) if recovered_v(&picture.pack).is_some() => (margin * start_v).max(line_v),
        Some(start_v) => margin * start_v,
        None => line_v,
    }
}

fn abort(code: AbortCode, message: impl Into<String>, values: &[(&str, f64)]) -> AbortDoc {
    AbortDoc { code, message: message.into(), values: named(values) }
}

/// What breaks off every stage that feeds.
pub(super) fn break_off(picture: &Picture) -> BreakOff {
    BreakOff::of(&picture.pack, picture.around_c)
}

fn always(picture: &Picture) -> Vec<AbortDoc> {
    break_off(picture).rows(picture.pack.series > 1).iter().map(Break::document).collect()
}

fn inspect(decision: &Decision) -> RescueStageDoc {
    let todo = decision.reasons.iter().filter(|reason| reason.verdict == Verdict::Inspect);
    RescueStageDoc {
        kind: RescueStageKind::Inspect,
        message: "Nothing is connected until this is known or put right.".to_owned(),
        voltage_v: None,
        current_a: None,
        until: UntilDoc::default(),
        expected_s: None,
        max_s: None,
        take_out_to_v: None,
        steps: todo.filter_map(|reason| reason.document().would_change).collect(),
        abort_if: Vec::new(),
        curve: Vec::new(),
    }
}

fn wake(picture: &Picture, target: &Target) -> RescueStageDoc {
    RescueStageDoc {
        kind: RescueStageKind::Wake,
        message: format!(
            "Offer the board {} V at no more than {} A, a minute at a time: its terminals jump within seconds.",
            trimmed(target.ceiling_v, 1),
            trimmed(target.limit_a, 3)
        ),
        voltage_v: Some(target.ceiling_v),
        current_a: Some(target.limit_a),
        until: UntilDoc { pack_v: None, minutes: Some(WAKE_TRY_S / 60.0), current_a: None },
        expected_s: Some(10.0),
        max_s: Some(3.0 * WAKE_TRY_S),
        take_out_to_v: None,
        steps: vec![
            "All loads off. Try its switch, its button, its charge port; a board that sleeps often wakes by these alone.".to_owned(),
            "On a surface that does not burn, outdoors or by an open door, nothing above it.".to_owned(),
            "Output off: set voltage and current, by meter. Plus to plus. Output on.".to_owned(),
            "Current that flows and stays means it has woken. None after a minute: off, wait a minute, at most three tries.".to_owned(),
            "Part it and read the terminals again: that is what the cells really hold.".to_owned(),
        ],
        abort_if: {
            let mut conditions = always(picture);
            conditions.push(abort(
                AbortCode::NoLife,
                "three tries of a minute and no current has flowed: look for a blown fuse or a board that has failed",
                &[("max_s", 3.0 * WAKE_TRY_S)],
            ));
            conditions
        },
        curve: Vec::new(),
    }
}

/// How long a stage may take, s: the time a living pack takes at most, but at least an hour's worth
/// of the gentle current.
fn longest_s(picture: &Picture, target: &Target, current_a: f64, slow_s: f64) -> f64 {
    match picture.pack.profile.traits.gently {
        Gently::ItsLine => {
            // With less than the gentle current the same charge takes longer.
            LIFE_S * (target.limit_a / current_a.max(1e-3)).clamp(1.0, 4.0)
        }
        Gently::Volts { times, between_h, .. } | Gently::Full { times, between_h } => {
            (times * slow_s).clamp(between_h.0 * 3600.0, between_h.1 * 3600.0)
        }
    }
}

fn precharge(picture: &Picture, target: &Target, trial: &Trial) -> RescueStageDoc {
    let profile = &picture.pack.profile;
    let times: Vec<f64> = trial.charges.iter().map(|charge| charge.end.t_s).collect();
    let slow_s = times.iter().copied().fold(0.0, f64::max);
    let current_a = trial
        .charges
        .first()
        .map_or(target.limit_a, |charge| charge.moments.iter().map(|m| m.current_a).fold(0.0, f64::max));
    let expected_s = times.first().copied().unwrap_or(0.0);
    // Nobody gives up before what is expected has had its time.
    let max_s = longest_s(picture, target, current_a, slow_s).max(OVER_EXPECTED * expected_s);
    let burns = profile.rescue_floors_v.is_some();
    let mut steps = vec![
        if burns {
            "On a surface that does not burn, outdoors or by an open door, nothing above it; you stay.".to_owned()
        } else {
            "Ventilated, no flame, no spark; you stay.".to_owned()
        },
        trial.fit.message.clone(),
        "Plus to plus, by meter. Read volts, amps and warmth after 1, 5 and 15 min, then every 15.".to_owned(),
        format!("At {} V, current flowing, part it and go on at once.", trimmed(target.until_v, 2)),
    ];
    if !trial.fit.fits {
        steps[1] = "With gear that does: see what else there is.".to_owned();
    }
    let mut abort_if = always(picture);
    abort_if.push(abort(
        AbortCode::OverVoltage,
        format!("the terminals pass {} V", trimmed(target.ceiling_v, 2)),
        &[("voltage_v", target.ceiling_v)],
    ));
    abort_if.push(abort(
        AbortCode::OverCurrent,
        format!("more than {} A flows", trimmed(rates::OVER_TOLD.at * target.limit_a, 3)),
        &[("current_a", rates::OVER_TOLD.at * target.limit_a)],
    ));
    if picture.pack.series > 1 {
        abort_if.push(abort(
            AbortCode::CellBehind,
            "one cell stays far below the others while they rise, or reads below zero",
            &[],
        ));
    }
    if profile.traits.in_blocks {
        let line_v = line_v(picture);
        let hundredth_a = in_amp_hours(picture.pack.nameplate) / 100.0;
        abort_if.push(abort(
            AbortCode::DeadCell,
            format!(
                "after an hour of {} A or more it still reads under {} V: a cell is dead",
                trimmed(hundredth_a, 2),
                trimmed(line_v, 1)
            ),
            &[("current_a", hundredth_a), ("voltage_v", line_v)],
        ));
        abort_if.push(abort(
            AbortCode::Sulphated,
            "the voltage jumps up at once and next to no current flows for a day: it is sulphated",
            &[],
        ));
    } else {
        abort_if.push(abort(AbortCode::Falling, "its voltage falls while current flows: a short inside", &[]));
    }
    abort_if.push(abort(
        AbortCode::NoLife,
        format!("it is not at {} V after {}", trimmed(target.until_v, 2), show_hours(max_s / 3600.0)),
        &[("voltage_v", target.until_v), ("max_s", max_s)],
    ));
    RescueStageDoc {
        kind: RescueStageKind::Precharge,
        message: format!(
            "Never above {} V, never more than {} A, until the terminals read {} V.",
            trimmed(target.ceiling_v, 2),
            trimmed(target.limit_a, 3),
            trimmed(target.until_v, 2)
        ),
        voltage_v: Some(target.ceiling_v),
        current_a: Some(target.limit_a),
        until: UntilDoc { pack_v: Some(target.until_v), minutes: None, current_a: None },
        expected_s: times.first().copied().map(significant),
        max_s: Some(max_s),
        take_out_to_v: None,
        steps,
        abort_if,
        curve: corridor(&trial.charges),
    }
}

/// The likely course and the bounds of what a living pack may show.
fn corridor(charges: &[Charge]) -> Vec<CorridorPoint> {
    let end_s = charges.iter().map(|charge| charge.end.t_s).fold(0.0, f64::max);
    let Some(likely) = charges.first().filter(|_| end_s > 0.0) else {
        return Vec::new();
    };
    (0..=POINTS)
        .filter_map(|n| {
            // More points early, where the voltage climbs.
            let t_s = end_s * (n as f64 / POINTS as f64).powf(1.5);
            let volts = charges.iter().filter_map(|charge| charge.at(t_s)).map(|m| m.pack_v);
            let (low_v, high_v) =
                volts.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
            let m = likely.at(t_s)?;
            Some(CorridorPoint { t_s, pack_v: m.pack_v, low_v, high_v, current_a: m.current_a })
        })
        .collect()
}

fn handover(picture: &Picture, target: Option<&Target>) -> RescueStageDoc {
    let start_v = handed_over_v(picture, 1.0);
    let reads_cells = picture.pack.profile.rescue_floors_v.is_some();
    let mut steps = Vec::new();
    if picture.pack.series > 1 && reads_cells {
        steps.push(if measured(picture) {
            "Read each cell once more: none far below the others.".to_owned()
        } else {
            "Read each group now, at the balance plug or through its board: a shorted one would overcharge the others."
                .to_owned()
        });
    }
    if target.is_some() {
        steps.push("Part the supply, wait a minute, read the terminals.".to_owned());
    }
    steps.push(match picture.start_v {
        Some(v) => {
            format!("Above {} V: to its charger, which starts by itself. Below: back for a while.", trimmed(v, 2))
        }
        None => "To its normal charger. If that refuses it, look up the voltage it starts at.".to_owned(),
    });
    RescueStageDoc {
        kind: RescueStageKind::Handover,
        message: format!("Its charger takes over from {} V at rest.", trimmed(start_v, 2)),
        voltage_v: None,
        current_a: None,
        until: UntilDoc { pack_v: Some(start_v), ..UntilDoc::default() },
        expected_s: None,
        max_s: None,
        take_out_to_v: None,
        steps,
        abort_if: if picture.pack.series > 1 && reads_cells {
            vec![abort(AbortCode::CellBehind, "one cell far below its neighbours, or below zero", &[])]
        } else {
            Vec::new()
        },
        curve: Vec::new(),
    }
}

/// The rate of the first charge after a rescue, and of every later one of a recovered pack, C.
pub(crate) fn derated(picture: &Picture) -> f64 {
    let pack = &picture.pack;
    let standard = 0.5 * pack.profile.rates.standard;
    pack.rated.map_or(standard, |a| standard.min(0.5 * pack.rate(a).0))
}

fn charge(picture: &Picture, decision: &Decision, fed: Fed) -> RescueStageDoc {
    let pack = &picture.pack;
    let profile = &pack.profile;
    let full_v = fed.volts(first_full_v(picture));
    let ah = in_amp_hours(pack.nameplate);
    let derated_a = if decision.verdict == Verdict::Charge { f64::INFINITY } else { derated(picture) * ah };
    // No faster than a plan of it would, and its charger may give less.
    let may_a = if decision.verdict == Verdict::Charge { picture.may().amps } else { picture.may_once_up() };
    let current_a = Some(may_a.min(derated_a)).filter(|a| a.is_finite());
    let flows_a = current_a.map(|a| picture.charger_a.map_or(a, |charger_a| a.min(charger_a)));
    // What is ended by a clock stops well before as much is in as breaks it off.
    let gives = if profile.traits.timed { ends::TIMED_GIVES.at } else { profile.most_given.max(1.1) };
    let takes_s = flows_a.map(|a| gives * ah / a * 3600.0);
    let max_s = flows_a.map(|a| TAKES.max(profile.most_given) * ah / a * 3600.0 + LAST_S);
    let mut abort_if = always(picture);
    abort_if.push(abort(
        AbortCode::TooMuchCharge,
        format!("{} Ah have gone in: more than it can hold", trimmed(profile.most_given * ah, 2)),
        &[("charge_ah", profile.most_given * ah)],
    ));
    if pack.series > 1 && profile.rescue_floors_v.is_some() {
        abort_if.push(abort(AbortCode::CellBehind, "a cell falls far behind the others", &[]));
    }
    RescueStageDoc {
        kind: RescueStageKind::Charge,
        message: match current_a {
            Some(a) => format!("A whole charge at {} A or less, watched to the end.", trimmed(a, 2)),
            None => "A whole charge, watched to the end.".to_owned(),
        },
        voltage_v: Some(full_v),
        current_a,
        until: UntilDoc {
            pack_v: None,
            minutes: None,
            current_a: (profile.rates.taper > 0.0).then_some(profile.rates.taper * ah),
        },
        expected_s: takes_s,
        max_s,
        take_out_to_v: None,
        steps: vec![
            if decision.verdict == Verdict::Charge {
                "Plan it like any other; balance it if anything can."
            } else {
                "Plan it with this reduced rate; balance it if anything can."
            }
            .to_owned(),
        ],
        abort_if,
        curve: Vec::new(),
    }
}

/// A lead battery that rests so low after a charge has a dead cell.
fn dead_at_rest(picture: &Picture) -> Option<AbortDoc> {
    picture.pack.profile.rests_above(picture.series()).map(|(dead_v, _)| {
        let message = format!("it rests under {} V: a cell is dead", trimmed(dead_v, 1));
        abort(AbortCode::DeadCell, message, &[("voltage_v", dead_v)])
    })
}

/// What a cell that is shorted inside loses at least in some hours, V; `None` where nobody knows.
pub(super) fn leaks_by_v(picture: &Picture, hours: f64) -> Option<f64> {
    leaks::SHORTED_A_DAY_V.of(&picture.pack.profile).map(|a_day_v| a_day_v * hours / 24.0)
}

/// What it may lose at its terminals in some hours, V: one cell as much as one that is not yet shorted, the others what
/// sound ones usually lose.
pub(super) fn may_lose_v(picture: &Picture, hours: f64) -> f64 {
    let others = leaks::OTHERS.at * (picture.series() - 1.0) * hours / 24.0;
    let others_v = leaks::SOUND_A_DAY_V.of(&picture.pack.profile).map(|v| v * others);
    leaks_by_v(picture, hours).zip(others_v).map_or(f64::INFINITY, |(one_v, others_v)| one_v + others_v)
}

fn rest(picture: &Picture) -> RescueStageDoc {
    let profile = &picture.pack.profile;
    let Resting { settled_h, in_h, .. } = profile.resting;
    let loss_v = may_lose_v(picture, in_h);
    let (from, span) = (format!("{} h", trimmed(settled_h, 0)), format!("{} h", trimmed(in_h, 0)));
    let mut steps = vec![format!(
        "Read the terminals{} {from} later, and again {span} after that. What it loses before the first reading says nothing: it settles.",
        if picture.pack.series > 1 { ", and each cell," } else { "" }
    )];
    let take_out_to_v = leaks::LOOKED_FOR_AT.of(profile).map(|soc| profile.ocv.at(soc).0 * picture.series());
    if let Some(to_v) = take_out_to_v {
        steps.insert(
            0,
            format!(
                "Run it down with {} A to {} V first. Fuller than that, its voltage hides a leak.",
                trimmed(picture.gentle_a(), 2),
                trimmed(to_v, 2)
            ),
        );
    }
    if let Some((_, full_v)) = profile.rests_above(picture.series()) {
        steps.push(format!(
            "Under {} V it is not full, or sulphated: charge on with {} A. If it rests no higher then, a cell is dead.",
            trimmed(full_v, 1),
            trimmed(picture.gentle_a(), 2)
        ));
    }
    RescueStageDoc {
        kind: RescueStageKind::Rest,
        message: "Alone, where it can do no harm: a cell that has been damaged inside loses voltage.".to_owned(),
        voltage_v: None,
        current_a: None,
        until: UntilDoc { pack_v: None, minutes: Some((settled_h + in_h) * 60.0), current_a: None },
        expected_s: Some((settled_h + in_h) * 3600.0),
        max_s: None,
        take_out_to_v,
        steps,
        abort_if: dead_at_rest(picture)
            .into_iter()
            .chain([abort(
                AbortCode::LosesVoltage,
                format!("from {from} on it loses more than {} V in {span}", trimmed(loss_v, 3)),
                &[("loss_v", loss_v)],
            )])
            .collect(),
        curve: Vec::new(),
    }
}

fn prove(picture: &Picture) -> RescueStageDoc {
    let profile = &picture.pack.profile;
    let ah = in_amp_hours(picture.pack.nameplate) / f64::from(picture.pack.parallel);
    let proof = profile.proof;
    let (current_a, to_v) = (proof.c_rate * ah, proof.to_v * picture.series());
    let hours = proof.gives / proof.c_rate;
    let least_ah = wear::RETIRE.at * proof.gives * ah;
    let mut steps = Vec::new();
    if profile.traits.farads {
        let from_v = full_v(picture);
        steps.push(format!(
            "From {} V, into a steady {} A: time the fall to {} V. Farads are amps × seconds ÷ volts fallen: {} F as new.",
            trimmed(from_v, 2),
            trimmed(current_a, 2),
            trimmed(to_v, 2),
            trimmed(proof.gives * ah * 3600.0 / (from_v - to_v).max(1e-3), 0)
        ));
    } else {
        let again = if profile.falls_at_its_top() { "Charge it full again, as before. Then" } else { "From full," };
        steps.push(format!(
            "{again} discharge it with {} A down to {} V, and count the Ah.",
            trimmed(current_a, 2),
            trimmed(to_v, 2)
        ));
    }
    if profile.discharge.hangs_on_rate() {
        const SOONER_C: f64 = 0.2;
        steps.push(format!(
            "In a hurry with {} A: so fast it gives about {} % of its label; note the amps with the Ah.",
            trimmed(SOONER_C * ah, 2),
            trimmed(100.0 * profile.discharge.share_at(SOONER_C), 0)
        ));
    }
    RescueStageDoc {
        kind: RescueStageKind::Prove,
        message: "A capacity test says what it is still worth.".to_owned(),
        voltage_v: None,
        current_a: Some(current_a),
        until: UntilDoc { pack_v: Some(to_v), ..UntilDoc::default() },
        expected_s: Some(hours * 3600.0),
        max_s: None,
        take_out_to_v: None,
        steps,
        abort_if: vec![abort(
            AbortCode::LowCapacity,
            format!(
                "it gives less than {} Ah, {} % of what it should",
                trimmed(least_ah, 2),
                trimmed(wear::RETIRE.at * 100.0, 0)
            ),
            &[("capacity_ah", least_ah)],
        )],
        curve: Vec::new(),
    }
}

/// Whether a lithium pack was low enough, or long enough, to be marked for good.
pub(crate) fn marked(picture: &Picture, decision: &Decision) -> bool {
    let low = [ReasonCode::BelowFloor, ReasonCode::LowAgain].into_iter().any(|code| decision.has(code));
    let long = !matches!(picture.low_for.known(), Some(crate::formats::LowFor::Hours | crate::formats::LowFor::Days));
    picture.pack.profile.rescue_floors_v.is_some()
        && decision.verdict == Verdict::Precharge
        && (low || (long && decision.has(ReasonCode::BelowLine)))
}
