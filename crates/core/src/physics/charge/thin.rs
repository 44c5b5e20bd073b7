//! A curve that has too many points loses those it misses least.

use super::moment::Moment;

/// No more of a curve than so many points and its end, each as far from the next.
pub(crate) fn evenly<T>(points: &[T], most: usize) -> impl Iterator<Item = &T> {
    let every = points.len().div_ceil(most).max(1);
    let last = points.len().saturating_sub(1);
    points.iter().enumerate().filter(move |(n, _)| n % every == 0 || *n == last).map(|(_, point)| point)
}

/// Of every other moment the half whose loss moves the curve least goes: by the area between the
/// curve with and without it. Both ends, every change of limit and every turn of a knob stay.
pub(super) fn out(moments: &mut Vec<Moment>) {
    let most_a = moments.iter().map(|m| m.current_a.abs()).fold(1e-9, f64::max);
    let most_v = moments.iter().map(|m| m.pack_v.abs()).fold(1e-9, f64::max);
    let area = |n: usize| {
        let (a, b, c) = (&moments[n - 1], &moments[n], &moments[n + 1]);
        let of = |x: fn(&Moment) -> f64| ((c.t_s - a.t_s) * (x(b) - x(a)) - (b.t_s - a.t_s) * (x(c) - x(a))).abs();
        of(|m| m.current_a) / most_a + of(|m| m.pack_v) / most_v
    };
    let turned = |n: usize| moments[n + 1].t_s == moments[n].t_s || moments[n - 1].t_s == moments[n].t_s;
    let mut missed: Vec<(f64, usize)> = (1..moments.len().saturating_sub(1))
        .step_by(2)
        .filter(|n| !turned(*n) && moments[n - 1].limit == moments[*n].limit)
        .map(|n| (area(n), n))
        .collect();
    if missed.is_empty() {
        // Nothing but turns: the latest of them goes, the end stays.
        moments.remove(moments.len().saturating_sub(2));
        return;
    }
    let half = missed.len() / 2;
    missed.select_nth_unstable_by(half, |a, b| a.0.total_cmp(&b.0));
    let mut kept = vec![true; moments.len()];
    missed[..=half].iter().for_each(|(_, n)| kept[*n] = false);
    let mut kept = kept.into_iter();
    moments.retain(|_| kept.next().unwrap_or(true));
}
