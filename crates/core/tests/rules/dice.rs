//! A small generator of numbers for tests of many cases; the same seed gives the same ones.

/// It.
pub(crate) struct Dice(pub(crate) u64);

impl Dice {
    /// From 0 up to 1.
    pub(crate) fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9e37_79b9_7f4a_7c15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xbf58_476d_1ce4_e5b9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94d0_49bb_1331_11eb);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    pub(crate) fn within(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.next()
    }

    pub(crate) fn one_in(&mut self, n: u32) -> bool {
        self.next() * f64::from(n) < 1.0
    }

    /// Of a normal scatter.
    pub(crate) fn noise(&mut self, deviation: f64) -> f64 {
        let sum: f64 = (0..12).map(|_| self.next()).sum();
        deviation * (sum - 6.0)
    }
}
