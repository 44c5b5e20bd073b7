//! Packs below empty: the charge model with its curve carried down to zero volts.
//!
//! Source: published recovery curves of over-discharged cells: the voltage climbs within the
//! first few per cent of charge, steeply up to about half the usual empty voltage, then bending
//! into the normal curve; the resistance there is some times that of an empty cell.

use std::borrow::Cow;

use crate::parts::pack::Pack;
use crate::physics::cell::{OcvCurve, Profile};
use crate::units::in_amp_hours;

/// Factor on the resistance of a cell at zero volts against one that is just empty: such curves begin with two
/// to four times the drop of an empty cell's.
const DEEP_RESISTANCE: f64 = 3.0;

/// How much charge lies below empty, as a share of the capacity: likely, least, most. By the same curves, which
/// cross half the usual empty voltage within 1 % to 5 % of the capacity; lead has least below its foot.
pub(crate) fn shares(profile: &Profile) -> [f64; 3] {
    profile.traits.below_empty
}

/// The pack with `share` of its capacity below empty.
pub(crate) fn deepened(pack: &Pack, share: f64) -> Pack {
    let mut deep = pack.clone();
    if share <= 0.0 {
        return deep;
    }
    let profile: &Profile = &pack.profile;
    let empty_v = profile.ocv.at(0.0).0;
    let line_v = profile.precharge_below_v.min(0.95 * empty_v);
    let at = |soc: f64| (share + soc) / (1.0 + share);
    let below = share / (1.0 + share);
    let mut anchors = vec![(0.0, 0.0), (0.25 * below, 0.55 * line_v), (0.6 * below, 0.9 * line_v)];
    anchors.extend((0..=50).map(|step| {
        let soc = f64::from(step) / 50.0;
        (at(soc), profile.ocv.at(soc).0)
    }));
    let mut resistance_by_soc = profile.resistance_by_soc;
    resistance_by_soc.0[0] *= DEEP_RESISTANCE;
    // So far down even nickel's voltage tells where it stands.
    let figures =
        Profile { ocv: OcvCurve::through(&anchors), resistance_by_soc, voltage_tells_soc: true, ..profile.clone() };
    deep.profile = Cow::Owned(figures);
    deep.capacity = crate::units::amp_hours(in_amp_hours(pack.capacity) * (1.0 + share));
    deep
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::physics::cell::{Chemistry, profile};

    #[test]
    #[allow(clippy::unwrap_used)]
    fn the_curve_reaches_down_to_zero_and_keeps_its_upper_part() {
        for &chemistry in Chemistry::ALL {
            let Some(figures) = profile(chemistry) else { continue };
            let doc = crate::formats::PackDoc {
                chemistry: Some(chemistry),
                series: Some(1),
                capacity_ah: (!figures.traits.farads).then_some(2.0),
                capacitance_f: figures.traits.farads.then_some(400.0),
                ..Default::default()
            };
            let mut problems = crate::formats::Problems::default();
            let pack = crate::parts::pack::read(&doc, "", &mut problems).unwrap();
            for share in shares(figures) {
                let deep = deepened(&pack, share);
                assert!(deep.profile.ocv.at(0.0).0.abs() < 1e-9, "{}", figures.name);
                for soc in [0.1, 0.5, 0.9, 1.0] {
                    let there = deep.profile.ocv.at((share + soc) / (1.0 + share)).0;
                    assert!((there - figures.ocv.at(soc).0).abs() < 0.02, "{} at {soc}", figures.name);
                }
            }
        }
    }
}
