//! Cells put together into packs whose groups hold the same: which cell goes where, with the fewest moves, swap by swap.

mod arrange;
mod build;
mod join;
mod level;
mod moves;
mod stock;

use crate::formats::{MATCH_RESULT_FORMAT, MatchDoc, MatchResultDoc, MatchStepDoc, MatchedPackDoc, Problems};
use crate::units::significant;
use arrange::{Arrangement, Evenness, Scene};
use build::{build, swapped};
use moves::{Stage, one_by_one, renamed, swaps_to};
use stock::{Group, Stock, Unit, stock};

/// A spread smaller by no more than this is not worth another soldering iron's heat: it is told all the same.
const WORTH: f64 = 1e-4;

/// Puts cells together.
///
/// # Examples
/// ```
/// use rumek_core::formats::{MatchDoc, from_value};
/// use serde_json::json;
///
/// let ask: MatchDoc = from_value(&json!({ "format": "rumek.match/1",
///     "cells": [{ "id": "a", "capacity_ah": 3.0 }, { "id": "b", "capacity_ah": 2.8 },
///               { "id": "c", "capacity_ah": 2.9 }, { "id": "d", "capacity_ah": 2.9 }],
///     "packs": [{ "name": "lamp", "series": 2, "parallel": 2 }] }))?;
/// let answer = rumek_core::match_cells(&ask)?;
/// assert!(answer.proven && answer.bound < 1e-6, "3.0 with 2.8, 2.9 with 2.9");
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the question, each problem with its JSON pointer.
pub fn match_cells(ask: &MatchDoc) -> Result<MatchResultDoc, Problems> {
    let stock = stock(ask)?;
    let (unfit, units) = stock.sorted_out();
    let fit: usize = units.iter().map(|unit| unit.cells.len()).sum();
    let kept = kept_packs(&stock, fit);
    let mut notes = Vec::new();
    if kept.len() < stock.names.len() {
        let places: usize = stock.groups.iter().map(|group| group.holds).sum();
        let missing = places - fit.min(places);
        let cells = if missing == 1 { "cell is" } else { "cells are" };
        notes.push(format!("{missing} fit {cells} missing for all packs: those that can be filled are built."));
    }
    // The groups of the packs that are built, and where they stand in the question.
    let (mut groups, mut packs, mut places, mut number_of) = (Vec::new(), Vec::new(), Vec::new(), Vec::new());
    for (n, pack) in kept.iter().enumerate() {
        let start = groups.len();
        for (g, group) in stock.groups.iter().enumerate().filter(|(_, group)| group.pack == *pack) {
            places.push((stock.names[*pack].clone(), (groups.len() - start + 1) as u32));
            groups.push(Group { pack: n, ..*group });
            number_of.push(g);
        }
        packs.push(start..groups.len());
    }
    let scene = Scene { stock: &stock, units: &units, groups: &groups, packs: &packs };
    if packs.is_empty() {
        return Ok(nothing_built(&stock, &scene, unfit, notes));
    }
    notes.extend(stock.notes(&kept));
    let best = build(&scene);
    let (first, put_in) = sitting(&scene, &number_of, &best.arrangement);
    let full = |arrangement: &Arrangement| {
        let holds = |(group, units): (&Group, &Vec<usize>)| {
            units.iter().map(|unit| scene.size(*unit)).sum::<usize>() == group.holds
        };
        groups.iter().zip(&arrangement.0).all(holds)
    };
    if !full(&best.arrangement) || !full(&first) {
        notes.push(
            "Cells that are welded together leave places that none of the others fits: look at the groups.".to_owned(),
        );
    }
    let mut stages = one_by_one(&scene, &first);
    let last = stages.last().map_or(f64::INFINITY, |stage| stage.evenness.within);
    let target = renamed(&scene, &best.arrangement, &first);
    if best.evenness.within < last - WORTH.min(0.1 * last)
        && let Some(swaps) = swaps_to(&scene, &first, &target)
    {
        stages.retain(|stage| stage.swaps.len() < swaps.len());
        stages.push(Stage { swaps, evenness: best.evenness, arrangement: target });
    }
    let steps = stages.iter().map(|stage| step(&scene, stage, put_in)).collect();
    let last = stages.last().map_or(&first, |stage| &stage.arrangement);
    let reached = stages.last().map_or(best.evenness, |stage| stage.evenness);
    let left = scene.left_over(last);
    Ok(MatchResultDoc {
        format: MATCH_RESULT_FORMAT.to_owned(),
        steps,
        packs: told(&stock, &scene, last, &kept),
        left_over: left.iter().flat_map(|unit| ids(&stock, &units[*unit])).collect(),
        unfit,
        bound: significant(best.bound.min(reached.within)),
        proven: best.proven && reached.within <= best.evenness.within + WORTH,
        joins: join::joins(&stock, &units, last, &places),
        notes,
    })
}

fn ids<'a>(stock: &'a Stock, unit: &'a Unit) -> impl Iterator<Item = String> + 'a {
    unit.cells.iter().map(|cell| stock.cells[*cell].id.clone())
}

/// The packs that so many cells fill, in the order they were named.
fn kept_packs(stock: &Stock, fit: usize) -> Vec<usize> {
    let mut left = fit;
    let needs = |pack: usize| stock.groups.iter().filter(|group| group.pack == pack).map(|group| group.holds).sum();
    (0..stock.names.len())
        .filter(|pack| {
            let needs: usize = needs(*pack);
            let some = needs <= left;
            left -= if some { needs } else { 0 };
            some
        })
        .collect()
}

/// How the cells sit now; what is missing is put in as evenly as can be, how many cells that are.
fn sitting(scene: &Scene<'_>, number_of: &[usize], best: &Arrangement) -> (Arrangement, u32) {
    let mut groups = vec![Vec::new(); scene.groups.len()];
    for (unit, one) in scene.units.iter().enumerate() {
        if let Some(g) = one.sits.and_then(|sits| number_of.iter().position(|number| *number == sits)) {
            groups[g].push(unit);
        }
    }
    let used = |groups: &[Vec<usize>], g: usize| groups[g].iter().map(|unit| scene.size(*unit)).sum::<usize>();
    if groups.iter().all(Vec::is_empty) {
        let cells: usize = best.0.iter().flatten().map(|unit| scene.size(*unit)).sum();
        return (best.clone(), cells as u32);
    }
    let mut put_in = 0;
    let mut left = scene.left_over(&Arrangement(groups.clone()));
    left.sort_by_key(|unit| std::cmp::Reverse(scene.size(*unit)));
    for unit in left {
        let size = scene.size(unit);
        let open = (0..groups.len()).filter(|g| used(&groups, *g) + size <= scene.groups[*g].holds);
        if let Some(g) = open.min_by(|a, b| scene.sum(&groups[*a]).total_cmp(&scene.sum(&groups[*b]))) {
            groups[g].push(unit);
            put_in += size as u32;
        }
    }
    let arrangement = Arrangement(groups);
    // Loose cells are put where they do most good; nobody has soldered them yet.
    if put_in > 0 { (settle_loose(scene, arrangement, number_of), put_in) } else { (arrangement, put_in) }
}

/// Swaps only cells that do not sit anywhere.
fn settle_loose(scene: &Scene<'_>, arrangement: Arrangement, number_of: &[usize]) -> Arrangement {
    let sits = |unit: usize| scene.units[unit].sits.is_some_and(|g| number_of.contains(&g));
    let loose: Vec<usize> = arrangement.0.iter().flatten().copied().filter(|unit| !sits(*unit)).collect();
    let everywhere = swapped(scene, arrangement.clone());
    // Where the swaps that help touched only loose ones, that is the arrangement.
    let moved = |unit: &usize| {
        let at = |arrangement: &Arrangement| arrangement.0.iter().position(|group| group.contains(unit));
        at(&arrangement) != at(&everywhere)
    };
    let fixed = arrangement.0.iter().flatten().filter(|unit| !loose.contains(unit)).any(moved);
    if fixed { arrangement } else { everywhere }
}

fn step(scene: &Scene<'_>, stage: &Stage, put_in: u32) -> MatchStepDoc {
    // What is welded together swaps cell by cell with as many.
    let pairs = |[a, b]: &[usize; 2]| -> Vec<[String; 2]> {
        let (a, b) = (ids(scene.stock, &scene.units[*a]), ids(scene.stock, &scene.units[*b]));
        a.zip(b).map(|(a, b)| [a, b]).collect()
    };
    let Evenness { within, between, .. } = stage.evenness;
    MatchStepDoc {
        moves: put_in + stage.swaps.len() as u32,
        swaps: stage.swaps.iter().flat_map(pairs).collect(),
        spread: Some(significant(within)),
        pack_spread: Some(significant(between)),
        resistance_spread: scene.resistance(&stage.arrangement).map(significant),
    }
}

/// Every pack that was asked for; those that cannot be filled are empty.
fn told(stock: &Stock, scene: &Scene<'_>, arrangement: &Arrangement, kept: &[usize]) -> Vec<MatchedPackDoc> {
    let pack = |(pack, name): (usize, &String)| {
        let places: usize = stock.groups.iter().filter(|group| group.pack == pack).map(|group| group.holds).sum();
        let Some(n) = kept.iter().position(|one| *one == pack) else {
            let missing = places as u32;
            return MatchedPackDoc {
                name: name.clone(),
                missing,
                groups: Vec::new(),
                group_ah: Vec::new(),
                capacity_ah: None,
                spread: None,
            };
        };
        let groups = &arrangement.0[scene.packs[n].clone()];
        let group_ah: Vec<f64> = groups.iter().map(|group| scene.sum(group)).collect();
        let cells: usize = groups.iter().flatten().map(|unit| scene.size(*unit)).sum();
        let whole = cells == places;
        MatchedPackDoc {
            name: name.clone(),
            groups: groups
                .iter()
                .map(|group| group.iter().flat_map(|unit| ids(stock, &scene.units[*unit])).collect())
                .collect(),
            capacity_ah: whole.then(|| group_ah.iter().copied().fold(f64::INFINITY, f64::min)).map(significant),
            spread: whole.then(|| significant(arrange::spread(group_ah.iter().copied()))),
            group_ah: group_ah.into_iter().map(significant).collect(),
            missing: (places - cells) as u32,
        }
    };
    stock.names.iter().enumerate().map(pack).collect()
}

fn nothing_built(
    stock: &Stock,
    scene: &Scene<'_>,
    unfit: Vec<crate::formats::UnfitDoc>,
    notes: Vec<String>,
) -> MatchResultDoc {
    let empty = Arrangement(Vec::new());
    MatchResultDoc {
        format: MATCH_RESULT_FORMAT.to_owned(),
        steps: Vec::new(),
        packs: told(stock, scene, &empty, &[]),
        left_over: scene.left_over(&empty).iter().flat_map(|unit| ids(stock, &scene.units[*unit])).collect(),
        unfit,
        bound: 0.0,
        proven: false,
        joins: Vec::new(),
        notes,
    }
}
