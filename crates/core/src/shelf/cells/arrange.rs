//! An arrangement of units in groups, and how even it is.

use super::stock::{Group, Stock, Unit};

/// Nothing is told apart by less than this, as a share.
pub(super) const SAME: f64 = 1e-9;

/// Which unit is in which group; a place in the list is a group.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Arrangement(pub(super) Vec<Vec<usize>>);

/// How even an arrangement is: the smaller, the better, the first first.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Evenness {
    /// The largest spread of group capacity within a pack.
    pub(super) within: f64,
    /// The spread between the packs' group means.
    pub(super) between: f64,
    /// The largest spread of resistance within a group.
    pub(super) resistance: f64,
    /// Squares of how far the groups lie from their pack's mean; it tells on where the largest cannot be bettered at once.
    pub(super) squares: f64,
}

impl Evenness {
    /// Whether it is better than another.
    pub(super) fn better_than(&self, other: &Self) -> bool {
        let pairs = [(self.within, other.within), (self.between, other.between), (self.resistance, other.resistance)];
        first_less(&pairs)
    }

    /// Whether it is a step towards something better than another.
    fn leads_on_from(&self, other: &Self) -> bool {
        first_less(&[(self.within, other.within), (self.squares, other.squares), (self.between, other.between)])
    }
}

/// Whether in the first pair that differs the first is less.
fn first_less(pairs: &[(f64, f64)]) -> bool {
    pairs.iter().find(|(a, b)| (a - b).abs() > SAME).is_some_and(|(a, b)| a < b)
}

/// What arrangements are judged by.
pub(super) struct Scene<'a> {
    pub(super) stock: &'a Stock,
    pub(super) units: &'a [Unit],
    /// The groups that are filled.
    pub(super) groups: &'a [Group],
    /// The groups of each pack.
    pub(super) packs: &'a [std::ops::Range<usize>],
}

/// How even one pack is.
#[derive(Clone, Copy, Debug)]
struct Figures {
    within: f64,
    squares: f64,
    /// Its mean group per cell in parallel, Ah.
    mean: f64,
}

/// (largest − smallest) ÷ mean; 0 of nothing.
pub(super) fn spread(values: impl Iterator<Item = f64> + Clone) -> f64 {
    let (low, high) =
        values.clone().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), v| (low.min(v), high.max(v)));
    let (sum, count) = values.fold((0.0, 0.0), |(sum, n), v| (sum + v, n + 1.0));
    if sum > 0.0 { (high - low) * count / sum } else { 0.0 }
}

impl Scene<'_> {
    pub(super) fn size(&self, unit: usize) -> usize {
        self.units[unit].cells.len()
    }

    pub(super) fn sum(&self, group: &[usize]) -> f64 {
        group.iter().map(|unit| self.units[*unit].ah).sum()
    }

    pub(super) fn sums(&self, arrangement: &Arrangement) -> Vec<f64> {
        arrangement.0.iter().map(|group| self.sum(group)).collect()
    }

    /// How even it is by the groups' sums; the resistances are looked at where `with_resistance`.
    pub(super) fn evenness(&self, arrangement: &Arrangement, sums: &[f64], with_resistance: bool) -> Evenness {
        let resistance = if with_resistance { self.resistance(arrangement).unwrap_or(0.0) } else { 0.0 };
        Evenness { resistance, ..together(self.packs.iter().map(|pack| self.figures(pack, sums))) }
    }

    fn figures(&self, pack: &std::ops::Range<usize>, sums: &[f64]) -> Figures {
        let of_pack = &sums[pack.clone()];
        let mean = of_pack.iter().sum::<f64>() / of_pack.len() as f64;
        Figures {
            within: spread(of_pack.iter().copied()),
            squares: of_pack.iter().map(|sum| (sum / mean - 1.0).powi(2)).sum(),
            mean: mean / self.groups[pack.start].holds as f64,
        }
    }

    /// The largest spread of resistance within a group; `None` where a group holds one, or nobody measured them.
    pub(super) fn resistance(&self, arrangement: &Arrangement) -> Option<f64> {
        let of_group = |group: &Vec<usize>| {
            let cells = group.iter().flat_map(|unit| &self.units[*unit].cells);
            let mohm: Option<Vec<f64>> = cells.map(|cell| self.stock.cells[*cell].mohm).collect();
            mohm.filter(|mohm| mohm.len() > 1).map(|mohm| spread(mohm.iter().copied()))
        };
        arrangement.0.iter().filter_map(of_group).reduce(f64::max)
    }

    /// The units that are in no group, the largest first.
    pub(super) fn left_over(&self, arrangement: &Arrangement) -> Vec<usize> {
        let mut used = vec![false; self.units.len()];
        arrangement.0.iter().flatten().for_each(|unit| used[*unit] = true);
        let mut left: Vec<usize> = (0..self.units.len()).filter(|unit| !used[*unit]).collect();
        left.sort_by(|a, b| self.units[*b].ah.total_cmp(&self.units[*a].ah));
        left
    }
}

/// All packs taken together.
fn together(packs: impl Iterator<Item = Figures>) -> Evenness {
    let (mut within, mut squares) = (0.0_f64, 0.0);
    let (mut low, mut high, mut sum, mut count) = (f64::INFINITY, 0.0_f64, 0.0, 0.0);
    for one in packs {
        within = within.max(one.within);
        squares += one.squares;
        (low, high, sum, count) = (low.min(one.mean), high.max(one.mean), sum + one.mean, count + 1.0);
    }
    let between = if sum > 0.0 { (high - low) * count / sum } else { 0.0 };
    Evenness { within, between, resistance: 0.0, squares }
}

/// Where a unit is: in a group at a place, or left over.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Spot {
    In(usize, usize),
    Left(usize),
}

/// A swap of two units.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Swap {
    pub(super) from: Spot,
    pub(super) to: Spot,
}

impl Arrangement {
    pub(super) fn at(&self, left: &[usize], spot: Spot) -> usize {
        match spot {
            Spot::In(group, place) => self.0[group][place],
            Spot::Left(place) => left[place],
        }
    }

    pub(super) fn swap(&mut self, left: &mut [usize], swap: Swap) {
        let (a, b) = (self.at(left, swap.from), self.at(left, swap.to));
        let mut put = |spot: Spot, unit: usize| match spot {
            Spot::In(group, place) => self.0[group][place] = unit,
            Spot::Left(place) => left[place] = unit,
        };
        put(swap.from, b);
        put(swap.to, a);
    }
}

impl Scene<'_> {
    /// The swap that helps most, and how even it leaves the packs; `None` where none helps. Only swaps that touch the
    /// fullest or the emptiest group of a pack can.
    pub(super) fn best_swap(
        &self,
        arrangement: &Arrangement,
        left: &[usize],
        sums: &[f64],
    ) -> Option<(Swap, Evenness)> {
        let now = self.evenness(arrangement, sums, false);
        let mut trial = sums.to_vec();
        let known: Vec<Figures> = self.packs.iter().map(|pack| self.figures(pack, sums)).collect();
        let mut best: Option<(Swap, Evenness)> = None;
        for from_group in self.outermost(sums) {
            for (place, unit) in arrangement.0[from_group].iter().enumerate() {
                let from = Spot::In(from_group, place);
                let others = arrangement.0.iter().enumerate().filter(|(group, _)| *group != from_group);
                let others = others.flat_map(|(group, units)| {
                    units.iter().enumerate().map(move |(place, unit)| (Spot::In(group, place), *unit))
                });
                let loose = left.iter().enumerate().map(|(place, unit)| (Spot::Left(place), *unit));
                for (to, other) in others.chain(loose) {
                    if self.size(other) != self.size(*unit) {
                        continue;
                    }
                    let gain = self.units[other].ah - self.units[*unit].ah;
                    if gain.abs() < 1e-12 {
                        continue;
                    }
                    trial[from_group] += gain;
                    if let Spot::In(group, _) = to {
                        trial[group] -= gain;
                    }
                    let touched = |pack: usize| {
                        let other = match to {
                            Spot::In(group, _) => Some(self.groups[group].pack),
                            Spot::Left(_) => None,
                        };
                        pack == self.groups[from_group].pack || Some(pack) == other
                    };
                    let figures = (0..self.packs.len())
                        .map(|pack| if touched(pack) { self.figures(&self.packs[pack], &trial) } else { known[pack] });
                    let then = together(figures);
                    if then.leads_on_from(&best.as_ref().map_or(now, |(_, so_far)| *so_far)) {
                        best = Some((Swap { from, to }, then));
                    }
                    trial[from_group] = sums[from_group];
                    if let Spot::In(group, _) = to {
                        trial[group] = sums[group];
                    }
                }
            }
        }
        best
    }

    /// The fullest and the emptiest group of each pack.
    fn outermost(&self, sums: &[f64]) -> Vec<usize> {
        let mut found: Vec<usize> = self
            .packs
            .iter()
            .flat_map(|pack| {
                let fullest = pack.clone().max_by(|a, b| sums[*a].total_cmp(&sums[*b]));
                let emptiest = pack.clone().min_by(|a, b| sums[*a].total_cmp(&sums[*b]));
                fullest.into_iter().chain(emptiest)
            })
            .collect();
        found.sort_unstable();
        found.dedup();
        found
    }
}
