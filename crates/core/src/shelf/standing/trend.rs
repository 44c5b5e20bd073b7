//! A robust line through scattered points: Theil and Sen's, the median of the slopes of all pairs.
//!
//! Source: Sen 1968, the interval of the median slope from the scatter of Kendall's sum.

/// A point of a trend.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Point {
    pub(crate) x: f64,
    pub(crate) y: f64,
    /// Standard deviation of `y`.
    pub(crate) sd: f64,
}

/// A line with the span its slope may lie in.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Line {
    pub(crate) slope: f64,
    pub(crate) slope_low: f64,
    pub(crate) slope_high: f64,
    /// `y` at `x = 0`.
    pub(crate) level: f64,
    pub(crate) level_sd: f64,
}

/// The likeliest of weighted values, a half of the weight on either side.
pub(crate) fn weighted_median(mut values: Vec<(f64, f64)>) -> Option<f64> {
    values.sort_by(|a, b| a.0.total_cmp(&b.0));
    let all: f64 = values.iter().map(|(_, weight)| weight).sum();
    let mut sum = 0.0;
    for (n, (value, weight)) in values.iter().enumerate() {
        sum += weight;
        if (sum - 0.5 * all).abs() < 1e-12 * all {
            return Some(values.get(n + 1).map_or(*value, |(next, _)| 0.5 * (value + next)));
        }
        if sum > 0.5 * all {
            return Some(*value);
        }
    }
    None
}

/// The line through points; `None` of fewer than three, or of points too close together in `x`.
pub(crate) fn line(points: &[Point], least_reach: f64) -> Option<Line> {
    /// Two deviations, for 95 of 100.
    const DEVIATIONS: f64 = 1.96;
    if points.len() < 3 {
        return None;
    }
    let (low, high) =
        points.iter().fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), p| (low.min(p.x), high.max(p.x)));
    if high - low < least_reach {
        return None;
    }
    // What lies further apart tells more, what was measured badly less.
    let mut slopes: Vec<(f64, f64)> = Vec::new();
    for (n, a) in points.iter().enumerate() {
        for b in &points[n + 1..] {
            let dx = b.x - a.x;
            if dx.abs() > 1e-9 {
                let sd2 = (a.sd * a.sd + b.sd * b.sd).max(1e-12);
                slopes.push(((b.y - a.y) / dx, dx.abs() / sd2.sqrt()));
            }
        }
    }
    let slope = weighted_median(slopes)?;
    let weight = |p: &Point| 1.0 / (p.sd * p.sd).max(1e-12);
    let all: f64 = points.iter().map(weight).sum();
    let middle = points.iter().map(|p| weight(p) * p.x).sum::<f64>() / all;
    let level_at_middle = weighted_median(points.iter().map(|p| (p.y - slope * (p.x - middle), weight(p))).collect())?;
    // How far the points scatter about it, by the median of what is left, and by what they say of themselves.
    let mut left: Vec<f64> =
        points.iter().map(|p| ((p.y - level_at_middle - slope * (p.x - middle)) / p.sd.max(1e-9)).abs()).collect();
    left.sort_by(f64::total_cmp);
    let scatter = (1.48 * left[left.len() / 2]).max(0.7);
    let spread: f64 = points.iter().map(|p| weight(p) * (p.x - middle).powi(2)).sum();
    // A median is a quarter less sure than a mean; of few points their own scatter is not known well.
    let few = 1.0 + 2.0 / points.len() as f64;
    let slope_sd = 1.25 * few * scatter / spread.max(1e-12).sqrt();
    let level_sd = (1.25 * few * scatter / all.sqrt()).hypot(slope_sd * middle);
    Some(Line {
        slope,
        slope_low: slope - DEVIATIONS * slope_sd,
        slope_high: slope + DEVIATIONS * slope_sd,
        level: level_at_middle - slope * middle,
        level_sd,
    })
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    fn points(ys: &[f64]) -> Vec<Point> {
        ys.iter().enumerate().map(|(n, y)| Point { x: n as f64, y: *y, sd: 0.1 }).collect()
    }

    #[test]
    fn a_slip_does_not_turn_the_line() {
        let found = line(&points(&[10.0, 9.5, 9.0, 3.0, 8.0, 7.5, 7.0]), 1.0).unwrap();
        assert!((found.slope + 0.5).abs() < 0.02, "{}", found.slope);
        assert!((found.level - 10.0).abs() < 0.1, "{}", found.level);
        assert!(found.slope_low < -0.5 && found.slope_high > -0.5);
    }

    #[test]
    fn two_points_or_points_at_once_are_no_line() {
        assert!(line(&points(&[10.0, 9.0]), 0.5).is_none());
        let close: Vec<Point> = (0..5).map(|n| Point { x: 0.01 * f64::from(n), y: 9.0, sd: 0.1 }).collect();
        assert!(line(&close, 0.25).is_none());
    }

    #[test]
    fn a_median_of_an_even_count_lies_between() {
        assert_eq!(weighted_median(vec![(1.0, 1.0), (3.0, 1.0)]), Some(2.0));
        assert_eq!(weighted_median(vec![(1.0, 1.0), (3.0, 2.0)]), Some(3.0));
    }
}
