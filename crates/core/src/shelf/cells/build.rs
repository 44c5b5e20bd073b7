//! The most even arrangement that can be found: by windows of the sorted cells where nothing stands in parallel, else
//! by filling evenly and swapping; for few cells proven by trying what could be better.

use super::arrange::{Arrangement, Evenness, SAME, Scene};

/// So many units are tried through.
const TRIED: usize = 20;
/// … in so many steps at most; what is not done by then is not proven.
const MOST_NODES: u64 = 40_000_000;
/// So many swaps at most better a first filling.
const MOST_SWAPS: usize = 3000;

/// An arrangement with what is known of the least spread.
pub(super) struct Built {
    pub(super) arrangement: Arrangement,
    pub(super) evenness: Evenness,
    /// No arrangement has a smaller spread within packs.
    pub(super) bound: f64,
    pub(super) proven: bool,
}

/// Builds the most even packs that can be found.
pub(super) fn build(scene: &Scene<'_>) -> Built {
    let single = scene.groups.iter().all(|group| group.holds == 1);
    if single && let Some(windows) = windows(scene) {
        let evenness = scene.evenness(&windows, &scene.sums(&windows), true);
        return Built { arrangement: windows, evenness, bound: evenness.within, proven: true };
    }
    let filled = filled(scene);
    let arrangement = swapped(scene, filled);
    let evenness = scene.evenness(&arrangement, &scene.sums(&arrangement), true);
    let mut built = Built { arrangement, evenness, bound: 0.0, proven: evenness.within <= SAME };
    if scene.units.len() <= TRIED && !built.proven {
        let mut search = Search::new(scene, &built);
        search.group(0);
        let done = search.nodes < MOST_NODES;
        if let Some(better) = search.found {
            built.evenness = scene.evenness(&better, &scene.sums(&better), true);
            built.arrangement = better;
        }
        built.proven = done;
        built.bound = if done { built.evenness.within } else { 0.0 };
    }
    built
}

/// Cells one by one: sorted, each pack takes neighbours. `None` for packs too many to try in every order.
fn windows(scene: &Scene<'_>) -> Option<Arrangement> {
    const MOST_PACKS: usize = 10;
    let packs = scene.packs.len();
    if packs > MOST_PACKS {
        return None;
    }
    let mut order: Vec<usize> = (0..scene.units.len()).collect();
    order.sort_by(|a, b| scene.units[*b].ah.total_cmp(&scene.units[*a].ah));
    let length: Vec<usize> = scene.packs.iter().map(std::ops::Range::len).collect();
    let spread_at = |from: usize, pack: usize| {
        let window = &order[from..from + length[pack]];
        super::arrange::spread(window.iter().map(|unit| scene.units[*unit].ah))
    };
    // The least largest spread of the packs in `mask`, placed among the first `n` cells, and the pack that ends there.
    let states = 1usize << packs;
    let cells = order.len();
    let mut least = vec![f64::INFINITY; (cells + 1) * states];
    let mut last: Vec<Option<usize>> = vec![None; (cells + 1) * states];
    let at = |n: usize, mask: usize| n * states + mask;
    least[at(0, 0)] = 0.0;
    for n in 0..=cells {
        for mask in 0..states {
            let here = least[at(n, mask)];
            if !here.is_finite() {
                continue;
            }
            if n < cells && here < least[at(n + 1, mask)] {
                least[at(n + 1, mask)] = here;
                last[at(n + 1, mask)] = None;
            }
            for pack in (0..packs).filter(|pack| mask & (1 << pack) == 0 && n + length[*pack] <= cells) {
                let (then, with) = (n + length[pack], mask | (1 << pack));
                let worst = here.max(spread_at(n, pack));
                if worst < least[at(then, with)] {
                    least[at(then, with)] = worst;
                    last[at(then, with)] = Some(pack);
                }
            }
        }
    }
    let (mut n, mut mask) = (cells, states - 1);
    if !least[at(n, mask)].is_finite() {
        return None;
    }
    let mut groups = vec![Vec::new(); scene.groups.len()];
    while mask != 0 {
        match last[at(n, mask)] {
            Some(pack) => {
                n -= length[pack];
                mask &= !(1 << pack);
                for (place, group) in scene.packs[pack].clone().enumerate() {
                    groups[group].push(order[n + place]);
                }
            }
            None => n -= 1,
        }
    }
    Some(Arrangement(groups))
}

/// Fills every group: what is largest first, into the emptiest place that has room for it.
pub(super) fn filled(scene: &Scene<'_>) -> Arrangement {
    let mut order: Vec<usize> = (0..scene.units.len()).collect();
    // Welded ones first: they find room in few places.
    order.sort_by(|a, b| {
        let by_size = scene.size(*b).cmp(&scene.size(*a));
        by_size.then(scene.units[*b].ah.total_cmp(&scene.units[*a].ah))
    });
    let mut groups = vec![Vec::new(); scene.groups.len()];
    let mut room: Vec<usize> = scene.groups.iter().map(|group| group.holds).collect();
    let mut sums: Vec<f64> = vec![0.0; groups.len()];
    for unit in order {
        let size = scene.size(unit);
        // The share that is still to come tells which is emptiest, whatever they hold.
        let missing = |g: usize| -(room[g] as f64) / scene.groups[g].holds as f64;
        let open = (0..groups.len()).filter(|g| room[*g] >= size);
        let place = open.min_by(|a, b| missing(*a).total_cmp(&missing(*b)).then(sums[*a].total_cmp(&sums[*b])));
        let Some(g) = place else { continue };
        room[g] -= size;
        sums[g] += scene.units[unit].ah;
        groups[g].push(unit);
    }
    Arrangement(groups)
}

/// Swaps as long as it helps.
pub(super) fn swapped(scene: &Scene<'_>, mut arrangement: Arrangement) -> Arrangement {
    let mut left = scene.left_over(&arrangement);
    for _ in 0..MOST_SWAPS {
        let sums = scene.sums(&arrangement);
        if scene.evenness(&arrangement, &sums, false).within <= SAME {
            break;
        }
        let Some((swap, _)) = scene.best_swap(&arrangement, &left, &sums) else { break };
        arrangement.swap(&mut left, swap);
    }
    arrangement
}

/// Tries everything that could be better, group by group, the largest units first.
struct Search<'a, 's> {
    scene: &'a Scene<'s>,
    /// Units, the largest first.
    order: Vec<usize>,
    used: Vec<bool>,
    groups: Vec<Vec<usize>>,
    sums: Vec<f64>,
    /// Where every unit is used and one pack is built, its mean is known.
    mean: Option<f64>,
    best: Evenness,
    found: Option<Arrangement>,
    nodes: u64,
}

impl<'a, 's> Search<'a, 's> {
    fn new(scene: &'a Scene<'s>, built: &Built) -> Self {
        let mut order: Vec<usize> = (0..scene.units.len()).collect();
        order.sort_by(|a, b| scene.units[*b].ah.total_cmp(&scene.units[*a].ah));
        let places: usize = scene.groups.iter().map(|group| group.holds).sum();
        let cells: usize = (0..scene.units.len()).map(|unit| scene.size(unit)).sum();
        let all: f64 = scene.units.iter().map(|unit| unit.ah).sum();
        Self {
            scene,
            used: vec![false; order.len()],
            order,
            groups: vec![Vec::new(); scene.groups.len()],
            sums: vec![0.0; scene.groups.len()],
            mean: (scene.packs.len() == 1 && places == cells).then(|| all / scene.groups.len() as f64),
            best: built.evenness,
            found: None,
            nodes: 0,
        }
    }

    /// The sums a group may have so that its pack can still be better than the best.
    fn window(&self, g: usize) -> (f64, f64) {
        let pack = &self.scene.packs[self.scene.groups[g].pack];
        let done = &self.sums[pack.start..g];
        let most = self.best.within + SAME;
        let (mut low, mut high) = (0.0_f64, f64::INFINITY);
        if let Some(mean) = self.mean {
            (low, high) = (mean * (1.0 - most), mean * (1.0 + most));
        }
        for sum in done {
            // The mean lies below the largest: spread ≥ (largest − smallest) ÷ largest.
            low = low.max(sum * (1.0 - most));
            high = high.min(sum / (1.0 - most).max(1e-9));
        }
        (low - 1e-9, high + 1e-9)
    }

    fn group(&mut self, g: usize) {
        if self.nodes >= MOST_NODES {
            return;
        }
        if g == self.groups.len() {
            let arrangement = Arrangement(self.groups.clone());
            let evenness = self.scene.evenness(&arrangement, &self.sums, true);
            if evenness.better_than(&self.best) {
                self.best = evenness;
                self.found = Some(arrangement);
            }
            return;
        }
        // Groups of a pack stand in any order, and so do packs that are alike: each set once.
        let pack = &self.scene.packs[self.scene.groups[g].pack];
        let alike = |a: usize| {
            let (one, other) = (&self.scene.packs[a], pack);
            one.len() == other.len() && self.scene.groups[one.start].holds == self.scene.groups[g].holds
        };
        let before = if g > pack.start {
            Some(g - 1)
        } else {
            self.scene.groups[g].pack.checked_sub(1).filter(|a| alike(*a)).map(|a| self.scene.packs[a].start)
        };
        let from = before.and_then(|h| self.groups[h].first().copied()).map_or(0, |unit| self.place(unit) + 1);
        let holds = self.scene.groups[g].holds;
        self.fill(g, from, holds);
    }

    fn place(&self, unit: usize) -> usize {
        self.order.iter().position(|one| *one == unit).unwrap_or(0)
    }

    /// Puts units from a place on into a group that has room for so many cells more.
    fn fill(&mut self, g: usize, from: usize, room: usize) {
        self.nodes += 1;
        if self.nodes >= MOST_NODES {
            return;
        }
        let (low, high) = self.window(g);
        let sum = self.sums[g];
        if room == 0 {
            if (low..=high).contains(&sum) {
                self.group(g + 1);
            }
            return;
        }
        for at in from..self.order.len() {
            let unit = self.order[at];
            let size = self.scene.size(unit);
            if self.used[at] || size > room {
                continue;
            }
            let ah = self.scene.units[unit].ah;
            // The rest of the room cannot hold more than as many of this one or, of welded ones, of larger ones.
            let per_cell = ah / size as f64;
            if size == 1
                && self.scene.units.iter().all(|unit| unit.cells.len() == 1)
                && sum + per_cell * (room as f64) < low
            {
                break;
            }
            if sum + ah > high {
                continue;
            }
            self.used[at] = true;
            self.groups[g].push(unit);
            self.sums[g] = sum + ah;
            self.fill(g, at + 1, room - size);
            self.groups[g].pop();
            self.used[at] = false;
            self.sums[g] = sum;
        }
    }
}
