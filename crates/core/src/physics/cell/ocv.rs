//! Open-circuit voltage over state of charge, as a uniform table.

/// Points of the uniform grid; one every half per cent.
const POINTS: usize = 201;

/// An open-circuit curve: strictly rising, from empty (SoC 0) to full (SoC 1), V a cell.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct OcvCurve {
    volts: Vec<f64>,
}

impl OcvCurve {
    /// Builds the table from `(soc, volts)` anchors that rise in both, by monotone cubic
    /// interpolation (Fritsch and Carlson), so that no anchor is overshot.
    pub(crate) fn through(anchors: &[(f64, f64)]) -> Self {
        let n = anchors.len();
        let secant: Vec<f64> = anchors.windows(2).map(|w| (w[1].1 - w[0].1) / (w[1].0 - w[0].0)).collect();
        let slope: Vec<f64> = (0..n)
            .map(|k| match k {
                0 => secant[0],
                k if k == n - 1 => secant[n - 2],
                k if secant[k - 1] * secant[k] <= 0.0 => 0.0,
                k => 2.0 / (1.0 / secant[k - 1] + 1.0 / secant[k]),
            })
            .collect();
        let mut span = 0;
        let volts = (0..POINTS)
            .map(|i| {
                let soc = i as f64 / (POINTS - 1) as f64;
                while span + 2 < n && anchors[span + 1].0 < soc {
                    span += 1;
                }
                let ((x0, y0), (x1, y1)) = (anchors[span], anchors[span + 1]);
                let width = x1 - x0;
                let u = ((soc - x0) / width).clamp(0.0, 1.0);
                let (u2, u3) = (u * u, u * u * u);
                (2.0 * u3 - 3.0 * u2 + 1.0) * y0
                    + (u3 - 2.0 * u2 + u) * width * slope[span]
                    + (-2.0 * u3 + 3.0 * u2) * y1
                    + (u3 - u2) * width * slope[span + 1]
            })
            .collect();
        Self { volts }
    }

    /// Volts and slope (V per unit SoC) at a state of charge; the end slopes carry on outside 0…1.
    #[inline]
    pub(crate) fn at(&self, soc: f64) -> (f64, f64) {
        let steps = (POINTS - 1) as f64;
        let x = soc * steps;
        let k = (x.max(0.0) as usize).min(POINTS - 2);
        let (low, high) = (self.volts[k], self.volts[k + 1]);
        let rise = high - low;
        (low + rise * (x - k as f64), rise * steps)
    }

    /// The state of charge at which the curve reads `volts`, within 0…1.
    pub(crate) fn soc_at(&self, volts: f64) -> f64 {
        let above = self.volts.partition_point(|v| *v < volts);
        if above == 0 {
            return 0.0;
        }
        if above == POINTS {
            return 1.0;
        }
        let (low, high) = (self.volts[above - 1], self.volts[above]);
        let within = if high > low { (volts - low) / (high - low) } else { 0.0 };
        ((above - 1) as f64 + within) / (POINTS - 1) as f64
    }

    /// The same shape stretched to other end voltages.
    pub(crate) fn stretched(&self, empty_v: f64, full_v: f64) -> Self {
        let (low, high) = (self.volts[0], self.volts[POINTS - 1]);
        Self { volts: self.volts.iter().map(|v| empty_v + (v - low) / (high - low) * (full_v - empty_v)).collect() }
    }
}

/// A factor over state of charge: eleven values, one every ten per cent, linear between.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct BySoc(pub(crate) [f64; 11]);

impl BySoc {
    /// One everywhere.
    pub(crate) const ONE: Self = Self([1.0; 11]);

    /// The factor at a state of charge.
    #[inline]
    pub(crate) fn at(&self, soc: f64) -> f64 {
        let x = soc.clamp(0.0, 1.0) * 10.0;
        let k = (x as usize).min(9);
        self.0[k] + (self.0[k + 1] - self.0[k]) * (x - k as f64)
    }
}
