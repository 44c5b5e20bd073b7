//! A log's lines made ready to be parted: one clock, amps where they can be had, what counts as no current.

use crate::formats::RunReadingDoc;
use crate::formats::moment::falls;

/// One line of a log.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Sample {
    /// Since the log began, s; never less than the one before.
    pub(super) t_s: f64,
    pub(super) volts: Option<f64>,
    pub(super) amps: f64,
    /// The logger's own counter, Ah.
    pub(super) count_ah: Option<f64>,
    pub(super) temperature_c: Option<f64>,
    pub(super) lowest_cell_v: Option<f64>,
}

/// A line as it was read.
#[derive(Clone, Copy, Debug)]
pub(super) struct Line {
    unix_s: f64,
    volts: Option<f64>,
    amps: Option<f64>,
    count_ah: Option<f64>,
    temperature_c: Option<f64>,
    lowest_cell_v: Option<f64>,
}

impl Line {
    pub(super) fn of(unix_s: f64, reading: &RunReadingDoc) -> Self {
        let (volts, amps) = reading.at_pack();
        let finite = |value: Option<f64>| value.filter(|v| v.is_finite());
        let lowest = reading.cell_voltages_v.as_ref().filter(|cells| !cells.is_empty());
        Self {
            unix_s,
            volts: finite(volts),
            amps: finite(amps),
            count_ah: finite(reading.charger_ah),
            temperature_c: finite(reading.temperature_c),
            lowest_cell_v: lowest.map(|cells| cells.iter().copied().fold(f64::INFINITY, f64::min)),
        }
    }
}

/// Whether the newest line stands first.
pub(super) fn newest_first(lines: &[Line]) -> bool {
    falls(lines.iter().map(|line| line.unix_s))
}

/// The lines of a log on one clock.
///
/// A clock that jumps back was set anew: the log goes on a usual interval later. Where no amps are read they
/// follow from the counter; where neither is, there is no history: `None`.
pub(super) fn samples(lines: &[Line]) -> Option<Vec<Sample>> {
    let with_amps = lines.iter().filter(|line| line.amps.is_some()).count();
    let with_count = lines.iter().filter(|line| line.count_ah.is_some()).count();
    let by_amps = 2 * with_amps >= lines.len() && with_amps > 1;
    if !by_amps && with_count < 2 {
        return None;
    }
    let usual_s = usual_interval_s(lines);
    let mut found: Vec<Sample> = Vec::with_capacity(lines.len());
    let mut shift_s = -lines.first()?.unix_s;
    let mut counted: Option<(f64, f64)> = None;
    for (k, line) in lines.iter().enumerate() {
        let mut t_s = line.unix_s + shift_s;
        if let Some(before) = found.last()
            && t_s < before.t_s
        {
            // Where the next goes on as before, only this one slipped.
            if lines.get(k + 1).is_some_and(|next| next.unix_s + shift_s >= before.t_s) {
                continue;
            }
            shift_s += before.t_s + usual_s - t_s;
            t_s = before.t_s + usual_s;
        }
        let amps = if by_amps {
            line.amps
        } else {
            let counted_a = counted.zip(line.count_ah).and_then(|((at_s, ah), now_ah)| {
                let rose_ah = if now_ah.abs() < 0.5 * ah.abs() { now_ah } else { now_ah - ah };
                (t_s > at_s).then(|| rose_ah * 3600.0 / (t_s - at_s))
            });
            counted = line.count_ah.map(|ah| (t_s, ah)).or(counted);
            counted_a.or(line.count_ah.filter(|_| found.is_empty()).map(|_| 0.0))
        };
        // A line without amps between lines with them says nothing of the current.
        let Some(amps) = amps else { continue };
        found.push(Sample {
            t_s,
            volts: line.volts,
            amps,
            count_ah: line.count_ah,
            temperature_c: line.temperature_c,
            lowest_cell_v: line.lowest_cell_v,
        });
    }
    (found.len() > 1).then_some(found)
}

fn usual_interval_s(lines: &[Line]) -> f64 {
    let mut steps: Vec<f64> = lines.windows(2).map(|w| w[1].unix_s - w[0].unix_s).filter(|s| *s > 0.0).collect();
    middle(&mut steps).unwrap_or(1.0)
}

/// The median; `None` of nothing.
pub(super) fn middle(values: &mut [f64]) -> Option<f64> {
    let half = values.len().checked_sub(1)? / 2;
    let (_, value, _) = values.select_nth_unstable_by(half, f64::total_cmp);
    Some(*value)
}

/// The value that this share of the others stay below.
pub(super) fn quantile(values: &mut [f64], share: f64) -> Option<f64> {
    let last = values.len().checked_sub(1)?;
    let (_, value, _) = values.select_nth_unstable_by((share * last as f64).round() as usize, f64::total_cmp);
    Some(*value)
}

/// Amps with the noise of single lines and pulses of some seconds taken out: the median of half a minute, and of how
/// many lines it is.
pub(super) fn steadied(samples: &[Sample]) -> Vec<(f64, usize)> {
    const HALF_WINDOW_S: f64 = 15.0;
    const HALF_LINES: usize = 15;
    let mut window = Vec::with_capacity(2 * HALF_LINES + 1);
    let near = |k: usize, n: usize| (samples[n].t_s - samples[k].t_s).abs() <= HALF_WINDOW_S;
    (0..samples.len())
        .map(|k| {
            window.clear();
            let from = (k.saturating_sub(HALF_LINES)..k).find(|n| near(k, *n)).unwrap_or(k);
            let to = (k + 1..samples.len().min(k + 1 + HALF_LINES)).take_while(|n| near(k, *n)).last().unwrap_or(k);
            // As many on either side, else the median of an edge lies on its wrong side.
            let half = (k - from).min(to - k);
            window.extend(samples[k - half..=k + half].iter().map(|sample| sample.amps));
            (middle(&mut window).unwrap_or(samples[k].amps), 2 * half + 1)
        })
        .collect()
}

/// What counts as no current.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Zero {
    /// What the logger shows where none flows, A.
    pub(super) at_a: f64,
    /// How far a single line scatters, A.
    scatter_a: f64,
    /// Nearly the largest current of the log, A.
    pub(super) large_a: f64,
}

/// Currents below this share of the largest may be none.
const SMALL: f64 = 0.05;

impl Zero {
    /// Further from its zero than this a current flows, A, told by the median of so many lines.
    pub(super) fn within_a(&self, lines: usize) -> f64 {
        /// No less than this share of the largest is told from none, however quiet the logger is.
        const FINEST: f64 = 0.002;
        const DEVIATIONS: f64 = 4.0;
        // A median scatters a quarter more than a mean does.
        let scatter_a = 1.25 * self.scatter_a / (lines as f64).sqrt();
        (DEVIATIONS * scatter_a).clamp(FINEST * self.large_a, SMALL * self.large_a)
    }
}

/// Finds it: among the small currents the place where most of them lie; the scatter from line to line.
pub(super) fn zero(samples: &[Sample], steady: &[(f64, usize)]) -> Zero {
    const LARGE: f64 = 0.98;
    /// The logger's zero is off by no more than this share of the largest.
    const OFF: f64 = 0.01;
    let mut sizes: Vec<f64> = steady.iter().map(|(a, _)| a.abs()).collect();
    let large_a = quantile(&mut sizes, LARGE).unwrap_or(0.0);
    let mut small: Vec<f64> = steady.iter().map(|(a, _)| *a).filter(|a| a.abs() < SMALL * large_a).collect();
    small.sort_by(f64::total_cmp);
    let mut at_a = 0.0;
    // A rest is where many stand close together; a taper only passes through.
    if small.len() >= 10 && small.len() * 200 >= steady.len() {
        let half = small.len() / 2;
        let narrowest = (0..small.len() - half)
            .min_by(|a, b| (small[a + half] - small[*a]).total_cmp(&(small[b + half] - small[*b])));
        let from = narrowest.unwrap_or(0);
        at_a = 0.5 * (small[from] + small[from + half]);
        if at_a.abs() > OFF * large_a {
            at_a = 0.0;
        }
    }
    let mut moves: Vec<f64> = samples.windows(2).map(|w| (w[1].amps - w[0].amps).abs()).collect();
    // Half of the differences of two normal numbers lie within 0.954 deviations.
    let scatter_a = middle(&mut moves).unwrap_or(0.0) / 0.954;
    Zero { at_a, scatter_a, large_a }
}
