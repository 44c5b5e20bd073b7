//! Leads: resistance, what the wire carries, what guards it.

use crate::document::{FuseAt, LeadDoc, Problems};
use crate::problems::Checked;
use crate::units::trimmed;

/// Copper at 25 °C, stranded, Ω·mm²/m.
const RESISTIVITY: f64 = 0.0178;
/// A fuse is chosen at least this many times the current it is to carry.
pub(crate) const FUSE_MARGIN: f64 = 1.25;
/// Sums are not exact: a rating counts as passed above this share of it.
pub(crate) const SLACK: f64 = 1.001;
/// Fuses one can buy, A.
const FUSES_A: &[f64] = &[
    1.0, 2.0, 3.0, 4.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 50.0, 60.0, 70.0, 80.0, 100.0, 125.0,
    150.0, 200.0, 250.0,
];
/// Wires one can buy, mm².
const AREAS_MM2: &[f64] = &[0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0, 70.0, 95.0];

/// A lead ready to be computed with.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Lead {
    pub(crate) name: Option<String>,
    pub(crate) area_mm2: f64,
    pub(crate) length_m: f64,
    /// There and back, plugs included, Ω.
    pub(crate) ohm: f64,
    pub(crate) fuse: Option<Fuse>,
    /// As the person wrote it.
    gauge: String,
}

/// A lead's fuse.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Fuse {
    pub(crate) rated_a: f64,
    pub(crate) rated_v: Option<f64>,
    pub(crate) at: FuseAt,
}

impl Lead {
    /// What the wire carries for hours, A.
    pub(crate) fn ampacity_a(&self) -> f64 {
        ampacity_a(self.area_mm2)
    }

    /// The most to plan for: what the wire carries, and what its fuse carries with its margin, A.
    pub(crate) fn most_a(&self) -> f64 {
        self.fuse.map_or(self.ampacity_a(), |fuse| self.ampacity_a().min(fuse.rated_a / FUSE_MARGIN))
    }

    /// The smallest fuse one can buy for a current that this wire bears, A; `None` where its wire is too thin.
    pub(crate) fn fuse_for(&self, current_a: f64) -> Option<f64> {
        fuse_for(current_a).filter(|fuse_a| *fuse_a <= self.ampacity_a() * SLACK)
    }

    /// The largest fuse one can buy that this wire bears, A; `None` where it bears none.
    pub(crate) fn largest_fuse(&self) -> Option<f64> {
        FUSES_A.iter().copied().rfind(|fuse_a| *fuse_a <= self.ampacity_a() * SLACK)
    }

    /// Its rating in short, such as `18 AWG · 1.5 m · 10 A fuse`.
    pub(crate) fn describe(&self) -> String {
        let fuse = self.fuse.map_or(String::new(), |fuse| format!(" · {} A fuse", trimmed(fuse.rated_a, 1)));
        format!("{} · {} m{fuse}", self.gauge, trimmed(self.length_m, 2))
    }
}

/// Cross-section of a gauge, mm²: each three steps halve it, by the definition of the gauge.
pub(crate) fn area_of_awg(awg: f64) -> f64 {
    0.012_668 * 92f64.powf((36.0 - awg) / 19.5)
}

/// What a copper wire of this cross-section carries for hours in still air, warming by about 35 K, A.
///
/// From the balance of `i²·ρ/A` and about 10 W/(m²·K) from the insulated surface, whose diameter
/// grows slower than the copper's; well under the figures that handbooks give for single wires in
/// equipment.
pub(crate) fn ampacity_a(area_mm2: f64) -> f64 {
    12.0 * area_mm2.powf(0.7)
}

/// There and back, Ω.
pub(crate) fn wire_ohm(area_mm2: f64, length_m: f64) -> f64 {
    2.0 * length_m * RESISTIVITY / area_mm2
}

/// The smallest fuse one can buy for a current, A.
pub(crate) fn fuse_for(current_a: f64) -> Option<f64> {
    FUSES_A.iter().copied().find(|rated_a| *rated_a >= FUSE_MARGIN * current_a - 1e-9)
}

/// The smallest wire that carries its fuse and drops no more than `drop_v`, mm², with that fuse, A.
pub(crate) fn wire_for(current_a: f64, length_m: f64, drop_v: f64) -> Option<(f64, f64)> {
    let fuse_a = fuse_for(current_a)?;
    AREAS_MM2
        .iter()
        .copied()
        .find(|area| ampacity_a(*area) >= fuse_a && wire_ohm(*area, length_m) * current_a <= drop_v)
        .map(|area| (area, fuse_a))
}

/// Reads a lead out of its (resolved) document.
pub(crate) fn read(doc: &LeadDoc, at: &str, problems: &mut Problems) -> Option<Lead> {
    let mut check = Checked::new(at, problems);
    let awg = check.within("awg", doc.awg, -3.0, 36.0);
    let area = check.within("area_mm2", doc.area_mm2, 0.01, 300.0);
    if doc.awg.is_some() && doc.area_mm2.is_some() {
        check.add("area_mm2", "the wire is given twice", "awg or area_mm2, not both");
    }
    if doc.awg.is_none() && doc.area_mm2.is_none() {
        check.add("awg", "how thick the wire is, is not said", "awg −3 (4/0) to 36, or area_mm2");
    }
    let length = check.within("length_m", doc.length_m, 0.01, 200.0);
    let length = check.required("length_m", length, "0.01 to 200 m, one way");
    let connector_mohm = check.within("connector_mohm", doc.connector_mohm, 0.0, 1000.0).unwrap_or(0.0);
    let fuse_a = check.within("fuse_a", doc.fuse_a, 0.1, 1000.0);
    let fuse_v = check.within("fuse_v", doc.fuse_v, 1.0, 1500.0);
    if doc.fuse_at == Some(FuseAt::None) && doc.fuse_a.is_some() {
        check.add("fuse_a", "a fuse is rated but there is none", "no fuse_a, or fuse_at source, pack or both");
    }
    if doc.fuse_a.is_none() && (doc.fuse_v.is_some() || doc.fuse_at.is_some_and(|at| at != FuseAt::None)) {
        check.add("fuse_a", "the fuse's rating is not said", "0.1 to 1000 A, or fuse_at none");
    }
    let area_mm2 = area.or(awg.map(area_of_awg))?;
    let length_m = length?;
    let gauge = match (doc.awg, doc.area_mm2) {
        (Some(awg), _) if awg < 0.5 => format!("{}/0 AWG", trimmed(1.0 - awg, 0)),
        (Some(awg), _) => format!("{} AWG", trimmed(awg, 0)),
        _ => format!("{} mm²", trimmed(area_mm2, 2)),
    };
    Some(Lead {
        name: doc.name.clone(),
        area_mm2,
        length_m,
        ohm: wire_ohm(area_mm2, length_m) + connector_mohm / 1e3,
        fuse: fuse_a.map(|rated_a| Fuse { rated_a, rated_v: fuse_v, at: doc.fuse_at.unwrap_or(FuseAt::Pack) }),
        gauge,
    })
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
        for current_a in [0.5, 3.0, 9.0, 20.0, 60.0] {
            let (area, fuse_a) = wire_for(current_a, 1.0, 0.5).unwrap_or_default();
            assert!(fuse_a >= 1.25 * current_a && ampacity_a(area) >= fuse_a && wire_ohm(area, 1.0) * current_a <= 0.5);
        }
        assert_eq!(wire_for(500.0, 1.0, 0.5), None);
    }
}
