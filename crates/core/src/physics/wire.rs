//! What copper carries for hours, by its cross-section, its insulation and where it lies; and the fuses and
//! wires one can buy.
//!
//! Sources: the balance of `i²·ρ/A` against 14 to 25 W/(m²·K) from the insulated surface of thin wires,
//! whose diameter grows slower than the copper's; handbook tables for single wires in equipment, for bundles
//! and for hot surroundings, which agree with it within a tenth.

use crate::codes::{Insulation, Laid, Wires};

/// Copper at 25 °C, stranded, Ω·mm²/m.
const RESISTIVITY: f64 = 0.0178;
/// Fuses one can buy, A.
const FUSES_A: &[f64] = &[
    1.0, 2.0, 3.0, 4.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 50.0, 60.0, 70.0, 80.0, 100.0, 125.0,
    150.0, 200.0, 250.0,
];
/// Wires one can buy, mm².
const AREAS_MM2: &[f64] = &[0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0];

/// How a wire is built and lies.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Lying {
    pub(crate) wires: Wires,
    pub(crate) insulation: Insulation,
    pub(crate) laid: Laid,
    pub(crate) ambient_c: f64,
}

impl Lying {
    /// There and back beside each other, PVC, in the open, in a room: what nobody has said otherwise of.
    pub(crate) const USUAL: Self =
        Self { wires: Wires::Pair, insulation: Insulation::Pvc, laid: Laid::Open, ambient_c: 20.0 };

    /// The same where it is so warm, °C.
    pub(crate) const fn usual(ambient_c: f64) -> Self {
        Self { ambient_c, ..Self::USUAL }
    }

    /// Factor on what a pair in still air carries at 35 K above a room.
    fn factor(self) -> f64 {
        /// By so much a pair in still air warms at the current of [`ampacity_a`], K.
        const RISE_K: f64 = 35.0;
        /// Current by rise: the surface gives off more than in proportion as it warms.
        const BY_RISE: f64 = 0.6;
        // By so much it may warm, K; and how hot the copper may be for good, °C, with some kelvins in hand.
        let (rise_k, most_c) = match self.insulation {
            Insulation::Pvc => (RISE_K, 65.0),
            Insulation::Silicone => (50.0, 110.0),
        };
        let rise_k = rise_k.min(most_c - self.ambient_c).max(0.0);
        let apart = match self.wires {
            Wires::Pair => 1.0,
            // Apart, each is cooled from all sides.
            Wires::Single => 1.18,
        };
        let laid = match self.laid {
            Laid::Open => 1.0,
            // Three to six pairs together: 0.7 to 0.57.
            Laid::Bundled => 0.6,
            Laid::Coiled => 0.5,
        };
        (rise_k / RISE_K).powf(BY_RISE) * apart * laid
    }

    /// What copper of a cross-section carries for hours, lying so, A.
    pub(crate) fn carries_a(self, area_mm2: f64) -> f64 {
        ampacity_a(area_mm2) * self.factor()
    }

    /// A fuse is chosen at least this many times the current it is to carry: in hot surroundings it tires sooner.
    pub(crate) fn fuse_margin(self) -> f64 {
        const HOT_C: f64 = 45.0;
        if self.ambient_c < HOT_C { 1.25 } else { 1.4 }
    }

    /// The smallest fuse one can buy for a current, A.
    pub(crate) fn fuse_for(self, current_a: f64) -> Option<f64> {
        FUSES_A.iter().copied().find(|rated_a| *rated_a >= self.fuse_margin() * current_a - 1e-9)
    }

    /// The smallest wire that carries its fuse and drops no more than `drop_v`, mm², with that fuse, A.
    pub(crate) fn wire_for(self, current_a: f64, length_m: f64, drop_v: f64) -> Option<(f64, f64)> {
        let fuse_a = self.fuse_for(current_a)?;
        AREAS_MM2
            .iter()
            .copied()
            .find(|area| self.carries_a(*area) >= fuse_a && wire_ohm(*area, length_m) * current_a <= drop_v)
            .map(|area| (area, fuse_a))
    }
}

/// The largest fuse one can buy up to a current, A.
pub(crate) fn largest_fuse(most_a: f64) -> Option<f64> {
    FUSES_A.iter().copied().rfind(|fuse_a| *fuse_a <= most_a)
}

/// Cross-section of a gauge, mm²: each three steps halve it, by the definition of the gauge.
pub(crate) fn area_of_awg(awg: f64) -> f64 {
    0.012_668 * 92f64.powf((36.0 - awg) / 19.5)
}

/// What a pair of this cross-section carries for hours in still air, warming by about 35 K, A.
fn ampacity_a(area_mm2: f64) -> f64 {
    12.0 * area_mm2.powf(0.7)
}

/// There and back, Ω.
pub(crate) fn wire_ohm(area_mm2: f64, length_m: f64) -> f64 {
    2.0 * length_m * RESISTIVITY / area_mm2
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn gauges_have_their_defined_areas() {
        for (awg, mm2) in [(10.0, 5.26), (18.0, 0.823), (24.0, 0.205), (0.0, 53.5), (-3.0, 107.2)] {
            assert!((area_of_awg(awg) / mm2 - 1.0).abs() < 5e-3, "{awg}: {}", area_of_awg(awg));
        }
    }

    #[test]
    fn a_chosen_wire_carries_its_fuse_and_its_current() {
        let usual = Lying::USUAL;
        for current_a in [0.5, 3.0, 9.0, 20.0, 60.0] {
            let (area, fuse_a) = usual.wire_for(current_a, 1.0, 0.5).unwrap_or_default();
            assert!(fuse_a >= 1.25 * current_a && usual.carries_a(area) >= fuse_a);
            assert!(wire_ohm(area, 1.0) * current_a <= 0.5);
        }
        assert_eq!(usual.wire_for(500.0, 1.0, 0.5), None);
    }

    /// 12 AWG, against tables: a pair 28 A at 25 °C, silicone in the open bears the usual 30 A fuse.
    #[test]
    fn what_a_wire_carries_hangs_on_how_it_lies() {
        let usual = Lying::USUAL;
        let carries = |lying: Lying| lying.carries_a(area_of_awg(12.0));
        let near = |lying: Lying, amps: f64| assert!((carries(lying) - amps).abs() < 0.4, "{}", carries(lying));
        near(usual, 27.8);
        near(Lying { ambient_c: 30.0, ..usual }, 27.8);
        near(Lying { ambient_c: 40.0, ..usual }, 22.7);
        near(Lying { ambient_c: 65.0, ..usual }, 0.0);
        near(Lying { insulation: Insulation::Silicone, ..usual }, 34.4);
        near(Lying { insulation: Insulation::Silicone, ambient_c: 40.0, ..usual }, 34.4);
        near(Lying { wires: Wires::Single, ..usual }, 32.8);
        near(Lying { laid: Laid::Bundled, ..usual }, 16.7);
        near(Lying { laid: Laid::Coiled, ..usual }, 13.9);
        let margin = |ambient_c| Lying { ambient_c, ..usual }.fuse_margin();
        assert_eq!((margin(44.9), margin(45.0)), (1.25, 1.4));
    }
}
