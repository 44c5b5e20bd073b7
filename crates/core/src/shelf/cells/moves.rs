//! From how the cells sit now to how they are to sit: the same packs with the fewest cells moved, and the swaps that
//! lead there.

use super::arrange::{Arrangement, Evenness, SAME, Scene, Spot, Swap};

/// A state on the way: which units were swapped up to it, and how even it is.
pub(super) struct Stage {
    pub(super) swaps: Vec<[usize; 2]>,
    pub(super) evenness: Evenness,
    pub(super) arrangement: Arrangement,
}

/// So many swaps one after the other are told.
const MOST_STAGES: usize = 60;

/// Names the groups of an arrangement anew so that most units stay where they sit.
pub(super) fn renamed(scene: &Scene<'_>, target: &Arrangement, now: &Arrangement) -> Arrangement {
    let stays = |to: &[usize], from: &[usize]| -> usize {
        to.iter().filter(|unit| from.contains(unit)).map(|unit| scene.size(*unit)).sum()
    };
    // First which pack becomes which, among packs that are alike, then group by group.
    let of_pack = |pack: usize, arrangement: &Arrangement| -> Vec<usize> {
        arrangement.0[scene.packs[pack].clone()].iter().flatten().copied().collect()
    };
    let alike = |a: usize, b: usize| {
        let (one, other) = (&scene.packs[a], &scene.packs[b]);
        one.len() == other.len() && scene.groups[one.start].holds == scene.groups[other.start].holds
    };
    let packs = scene.packs.len();
    let pack_of = paired(packs, |to, from| alike(to, from).then(|| stays(&of_pack(from, target), &of_pack(to, now))));
    let mut groups = vec![Vec::new(); scene.groups.len()];
    for (to, from) in pack_of.into_iter().enumerate() {
        let (to, from) = (&scene.packs[to], &scene.packs[from]);
        let group_of = paired(to.len(), |a, b| Some(stays(&target.0[from.start + b], &now.0[to.start + a])));
        for (a, b) in group_of.into_iter().enumerate() {
            groups[to.start + a].clone_from(&target.0[from.start + b]);
        }
    }
    Arrangement(groups)
}

/// Pairs each with another so that the sum of what they are worth is large: the best pairs first, then exchanged as
/// long as it helps.
fn paired(count: usize, worth: impl Fn(usize, usize) -> Option<usize>) -> Vec<usize> {
    let table: Vec<Vec<Option<usize>>> = (0..count).map(|a| (0..count).map(|b| worth(a, b)).collect()).collect();
    let mut pairs: Vec<(usize, usize, usize)> = (0..count)
        .flat_map(|a| {
            let row = &table[a];
            (0..count).filter_map(move |b| row[b].map(|worth| (worth, a, b)))
        })
        .collect();
    // Of equals each stays with itself.
    pairs.sort_by_key(|(worth, a, b)| (std::cmp::Reverse(*worth), a != b, *a, *b));
    let (mut of, mut taken) = (vec![None; count], vec![false; count]);
    for (_, a, b) in pairs {
        if of[a].is_none() && !taken[b] {
            of[a] = Some(b);
            taken[b] = true;
        }
    }
    let mut of: Vec<usize> = of.into_iter().enumerate().map(|(a, b)| b.unwrap_or(a)).collect();
    loop {
        let better = (0..count).flat_map(|a| (a + 1..count).map(move |b| (a, b))).find(|(a, b)| {
            let sum = |x: Option<usize>, y: Option<usize>| x.zip(y).map(|(x, y)| x + y);
            let now = sum(table[*a][of[*a]], table[*b][of[*b]]);
            let then = sum(table[*a][of[*b]], table[*b][of[*a]]);
            then.zip(now).is_some_and(|(then, now)| then > now)
        });
        match better {
            Some((a, b)) => of.swap(a, b),
            None => return of,
        }
    }
}

/// The swaps that help most, one after the other.
pub(super) fn one_by_one(scene: &Scene<'_>, now: &Arrangement) -> Vec<Stage> {
    let mut arrangement = now.clone();
    let mut left = scene.left_over(&arrangement);
    let mut swaps = Vec::new();
    let sums = scene.sums(&arrangement);
    let mut stages = vec![Stage {
        swaps: Vec::new(),
        evenness: scene.evenness(&arrangement, &sums, true),
        arrangement: arrangement.clone(),
    }];
    for _ in 0..MOST_STAGES {
        let sums = scene.sums(&arrangement);
        let Some((swap, _)) = scene.best_swap(&arrangement, &left, &sums) else { break };
        swaps.push([arrangement.at(&left, swap.from), arrangement.at(&left, swap.to)]);
        arrangement.swap(&mut left, swap);
        let sums = scene.sums(&arrangement);
        let evenness = scene.evenness(&arrangement, &sums, true);
        stages.push(Stage { swaps: swaps.clone(), evenness, arrangement: arrangement.clone() });
        if evenness.within <= SAME {
            break;
        }
    }
    // What only levels inside, without a smaller spread, is no reason to unsolder anything.
    let mut least = f64::INFINITY;
    stages.retain(|stage| {
        let better = stage.evenness.within < least - 1e-6;
        least = least.min(stage.evenness.within);
        better
    });
    stages
}

/// The swaps that make one arrangement of another whose places are as many: each brings one unit at least to its place.
pub(super) fn swaps_to(scene: &Scene<'_>, now: &Arrangement, target: &Arrangement) -> Option<Vec<[usize; 2]>> {
    let mut arrangement = now.clone();
    let mut left = scene.left_over(&arrangement);
    let mut swaps = Vec::new();
    for g in 0..arrangement.0.len() {
        while let Some(place) = arrangement.0[g].iter().position(|unit| !target.0[g].contains(unit)) {
            let unit = arrangement.0[g][place];
            let size = scene.size(unit);
            let wanted: Vec<usize> = target.0[g]
                .iter()
                .copied()
                .filter(|one| !arrangement.0[g].contains(one) && scene.size(*one) == size)
                .collect();
            let spot = |one: usize| {
                let sitting = arrangement.0.iter().enumerate().find_map(|(h, units)| {
                    units.iter().position(|other| *other == one).map(|place| Spot::In(h, place))
                });
                sitting.or_else(|| left.iter().position(|other| *other == one).map(Spot::Left))
            };
            // Best is one whose place is where this one belongs: both are home then.
            let at_home = |one: &usize| match spot(*one) {
                Some(Spot::In(h, _)) => target.0[h].contains(&unit),
                Some(Spot::Left(_)) => !target.0.iter().flatten().any(|other| *other == unit),
                None => false,
            };
            let other = wanted.iter().copied().find(at_home).or_else(|| wanted.first().copied())?;
            let to = spot(other)?;
            swaps.push([unit, other]);
            arrangement.swap(&mut left, Swap { from: Spot::In(g, place), to });
        }
    }
    Some(swaps)
}
