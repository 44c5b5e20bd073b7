//! Numbers for trials: they look random and are the same every time.

/// SplitMix64.
pub(crate) struct Chance(pub(crate) u64);

impl Chance {
    /// From 0 to 1.
    pub(crate) fn next(&mut self) -> f64 {
        self.0 = self.0.wrapping_add(0x9E37_79B9_7F4A_7C15);
        let mut z = self.0;
        z = (z ^ (z >> 30)).wrapping_mul(0xBF58_476D_1CE4_E5B9);
        z = (z ^ (z >> 27)).wrapping_mul(0x94D0_49BB_1331_11EB);
        ((z ^ (z >> 31)) >> 11) as f64 / (1u64 << 53) as f64
    }

    pub(crate) fn within(&mut self, low: f64, high: f64) -> f64 {
        low + (high - low) * self.next()
    }

    pub(crate) fn one_of<T: Copy>(&mut self, of: &[T]) -> T {
        of[(self.next() * of.len() as f64) as usize]
    }
}
