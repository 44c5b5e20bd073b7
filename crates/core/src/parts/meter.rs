//! Displays against a reference meter: what to dial, and what a reading means.

use crate::formats::{MeterAt, MeterDoc, MeterQuantity, Problems};
use crate::parts::problems::Checked;

/// A display's error: `true = gain · shown + offset`.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Correction {
    pub(crate) at: MeterAt,
    pub(crate) quantity: MeterQuantity,
    gain: f64,
    offset: f64,
}

impl Correction {
    /// What is true while the display shows this.
    pub(crate) fn true_of(self, shown: f64) -> f64 {
        self.gain * shown + self.offset
    }

    /// What the display shows while the true value is this.
    pub(crate) fn shown(self, true_value: f64) -> f64 {
        (true_value - self.offset) / self.gain
    }
}

/// Finds gain and offset: one point gives a gain, more a straight line through all of them.
fn fit(points: &[(f64, f64)]) -> (f64, f64) {
    let n = points.len() as f64;
    let mean = |pick: fn(&(f64, f64)) -> f64| points.iter().map(pick).sum::<f64>() / n;
    let (shown, true_value) = (mean(|p| p.0), mean(|p| p.1));
    let spread: f64 = points.iter().map(|p| (p.0 - shown).powi(2)).sum();
    if spread < 1e-9 * shown * shown {
        return (true_value / shown, 0.0);
    }
    let gain = points.iter().map(|p| (p.0 - shown) * (p.1 - true_value)).sum::<f64>() / spread;
    (gain, true_value - gain * shown)
}

/// Reads the comparisons below one pointer; `of` is the device they stand with, if any.
pub(crate) fn read(docs: &[MeterDoc], at: &str, of: Option<MeterAt>, problems: &mut Problems) -> Vec<Correction> {
    let mut check = Checked::new(at, problems);
    docs.iter()
        .enumerate()
        .filter_map(|(n, doc)| {
            let place = match of {
                Some(of) if doc.at.is_none_or(|said| said == of) => Some(of),
                Some(_) => {
                    check.add(&format!("{n}/at"), "this display stands with another device", "no at");
                    None
                }
                None => check.required(&format!("{n}/at"), doc.at, "source, charger or pack"),
            };
            let quantity = check.required(&format!("{n}/quantity"), doc.quantity, "voltage or current");
            let mut points = Vec::new();
            for (k, point) in doc.points.iter().flatten().enumerate() {
                let field = |name: &str| format!("{n}/points/{k}/{name}");
                let shown = check.within(&field("shown"), point.shown, 0.001, 10_000.0);
                let shown = check.required(&field("shown"), shown, "what the display shows, above 0");
                let true_value = check.within(&field("true"), point.r#true, 0.001, 10_000.0);
                let true_value = check.required(&field("true"), true_value, "what the meter reads, above 0");
                points.extend(shown.zip(true_value));
            }
            if points.is_empty() {
                check.add(&format!("{n}/points"), "there is nothing to compare", "at least one point: shown and true");
                return None;
            }
            let (gain, offset) = fit(&points);
            if !(0.5..=2.0).contains(&gain) {
                check.add(
                    &format!("{n}/points"),
                    "display and meter are too far apart for one device",
                    "points whose readings agree within a factor of 2",
                );
                return None;
            }
            Some(Correction { at: place?, quantity: quantity?, gain, offset })
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;

    proptest! {
        #[test]
        fn correcting_and_inverting_gives_back_the_reading(gain in 0.8..1.2f64, offset in -0.3..0.3f64, a in 1.0..20.0f64, b in 21.0..40.0f64, v in 1.0..60.0f64) {
            let (fitted, off) = fit(&[(a, gain * a + offset), (b, gain * b + offset)]);
            let c = Correction { at: MeterAt::Source, quantity: MeterQuantity::Voltage, gain: fitted, offset: off };
            prop_assert!((c.shown(fitted * v + off) - v).abs() < 1e-9 && (c.true_of(c.shown(v)) - v).abs() < 1e-9);
            prop_assert!((fitted - gain).abs() < 1e-6 && (off - offset).abs() < 1e-5);
            let (one, none) = fit(&[(a, gain * a)]);
            prop_assert!((one - gain).abs() < 1e-12 && none == 0.0);
        }
    }
}
