//! A long log drawn from few of its readings: of each stretch the lowest and the highest volts and
//! amps, so that no peak is lost.

/// Readings a stretch at the finest level; each coarser one takes four times as many.
const FINEST: usize = 64;
const COARSER: usize = 4;
/// A stretch keeps so many readings at most.
const KEPT: usize = 4;

/// The lowest and the highest of one quantity, each with which reading it was.
#[derive(Clone, Copy, Debug, Default)]
struct Span {
    low: Option<(f64, usize)>,
    high: Option<(f64, usize)>,
}

impl Span {
    fn take(&mut self, one: Self) {
        self.low = self.low.into_iter().chain(one.low).reduce(|a, b| if b.0 < a.0 { b } else { a });
        self.high = self.high.into_iter().chain(one.high).reduce(|a, b| if b.0 > a.0 { b } else { a });
    }

    fn of(value: Option<f64>, n: usize) -> Self {
        let one = value.filter(|v| v.is_finite()).map(|v| (v, n));
        Self { low: one, high: one }
    }
}

/// A stretch of readings.
#[derive(Clone, Copy, Debug, Default)]
struct Stretch {
    volts: Span,
    amps: Span,
}

impl Stretch {
    fn of((volts, amps): (Option<f64>, Option<f64>), n: usize) -> Self {
        Self { volts: Span::of(volts, n), amps: Span::of(amps, n) }
    }

    fn take(&mut self, one: &Self) {
        self.volts.take(one.volts);
        self.amps.take(one.amps);
    }

    fn kept(&self) -> Vec<usize> {
        let all = [self.volts.low, self.volts.high, self.amps.low, self.amps.high];
        let mut kept: Vec<usize> = all.into_iter().flatten().map(|(_, n)| n).collect();
        kept.sort_unstable();
        kept.dedup();
        kept
    }
}

/// Collects, reading by reading, what each level of a long log keeps.
#[derive(Clone, Debug, Default)]
pub struct Extremes {
    open: Vec<Stretch>,
    kept: Vec<Vec<usize>>,
    count: usize,
}

impl Extremes {
    /// The next reading: its volts and amps, as far as it has them.
    pub fn push(&mut self, at_pack: (Option<f64>, Option<f64>)) {
        let one = Stretch::of(at_pack, self.count);
        self.count += 1;
        self.add(0, &one);
        let mut full = FINEST;
        for level in 0.. {
            if !self.count.is_multiple_of(full) {
                break;
            }
            self.close(level);
            full *= COARSER;
        }
    }

    fn add(&mut self, level: usize, one: &Stretch) {
        if self.open.len() <= level {
            self.open.resize(level + 1, Stretch::default());
            self.kept.resize(level + 1, Vec::new());
        }
        self.open[level].take(one);
    }

    fn close(&mut self, level: usize) {
        let full = std::mem::take(&mut self.open[level]);
        self.kept[level].extend(full.kept());
        self.add(level + 1, &full);
    }

    /// For each level, finest first, the readings it keeps, counted from 0; every level has the
    /// first and the last of all. A log no longer than one stretch has no levels.
    #[must_use]
    pub fn finish(mut self) -> Vec<Vec<usize>> {
        if self.count <= FINEST {
            return Vec::new();
        }
        let last = self.count - 1;
        let mut level = 0;
        let mut size = FINEST;
        while size < self.count {
            self.close(level);
            level += 1;
            size *= COARSER;
        }
        self.kept.truncate(level);
        for kept in &mut self.kept {
            kept.extend([0, last]);
            kept.sort_unstable();
            kept.dedup();
        }
        self.kept
    }

    /// The finest level of a log of so many readings that keeps no more than `at_most`; none where
    /// even the coarsest keeps more.
    #[must_use]
    pub fn level_for(count: usize, at_most: usize) -> Option<usize> {
        let mut size = FINEST;
        let mut level = 0;
        while size < count {
            if count.div_ceil(size) * KEPT + 2 <= at_most {
                return Some(level);
            }
            size *= COARSER;
            level += 1;
        }
        None
    }
}

/// Which of some readings, counted from 0, to draw so that there are no more than `at_most`.
#[must_use]
pub fn thinned_to(at_pack: &[(Option<f64>, Option<f64>)], at_most: usize) -> Vec<usize> {
    let count = at_pack.len();
    if count <= at_most {
        return (0..count).collect();
    }
    let stretches = (at_most.saturating_sub(2) / KEPT).max(1);
    let size = count.div_ceil(stretches);
    let mut kept: Vec<usize> = vec![0, count - 1];
    for (k, stretch) in at_pack.chunks(size).enumerate() {
        let mut all = Stretch::default();
        for (j, one) in stretch.iter().enumerate() {
            all.take(&Stretch::of(*one, k * size + j));
        }
        kept.extend(all.kept());
    }
    kept.sort_unstable();
    kept.dedup();
    kept
}
