//! Sodium between hard carbon and a layered oxide.
//!
//! Sources: voltages and temperatures as common to makers' published sheets of such cells; the open-circuit
//! curve a rounded average of published slow discharges, a slope from hard carbon's plateau to the oxide's end;
//! resistance and its pairs as of a lithium cell in a hard case, which is built alike. Both foils are aluminium:
//! nothing dissolves where it is run down, and it may be carried at zero volts by many sheets. Sheets of phosphate
//! cells end at 3.6 V, of layered oxides at 3.9 to 4.1 V: the curve is an oxide's.

use super::keeping::Keeping;
use super::lithium::{PLAIN_RC, li_ion, lipo};
use super::ocv::{BySoc, OcvCurve};
use super::profile::{ChargeWindow, Floors, Leaks, Low, Profile, Proof, Rates, Warmth, Words};
use super::traits::Traits;
use crate::codes::Chemistry;

pub(super) fn profiles() -> Vec<Profile> {
    vec![sodium_ion()]
}

fn sodium_ion() -> Profile {
    let hard_case = li_ion();
    Profile {
        chemistry: Chemistry::SodiumIon,
        name: "Sodium-ion",
        named: &["sodium", "sodiumion", "naion"],
        traits: Traits { label_says_ceiling: true, ..hard_case.traits },
        nominal_v: 3.10,
        full_v: 4.00,
        ceiling_v: 4.02,
        gentle_v: Some(3.90),
        makers_v: Some((3.60, 4.10)),
        storage_v: Some(3.10),
        precharge_below_v: 1.50,
        rescue_floors_v: Some(Floors { cautious_v: 1.0, experienced_v: 0.5 }),
        label_readings_v: &[3.10],
        rates: Rates { standard: 0.5, hurry: 1.0, refuse_above: 3.0, last_word: 5.0, taper: 0.05 },
        window: ChargeWindow { min_c: -10.0, max_c: 45.0, compensation_v: 0.0 },
        // Sheets allow a fifth of the capacity in frost and half of it up to 10 °C.
        warmth: Warmth { cold: &[(0.0, 0.2), (10.0, 0.5)], ..lipo().warmth },
        words: Words { low: Low::ELECTRODES, ..hard_case.words },
        ocv: OcvCurve::through(&[
            (0.0, 2.00),
            (0.03, 2.28),
            (0.10, 2.52),
            (0.20, 2.74),
            (0.30, 2.87),
            (0.40, 2.97),
            (0.50, 3.07),
            (0.60, 3.18),
            (0.70, 3.30),
            (0.80, 3.44),
            (0.90, 3.64),
            (1.0, 4.00),
        ]),
        curve_spread_v: 0.030,
        empty_spread_v: 0.10,
        rc: PLAIN_RC,
        slow_by_soc: BySoc::ONE,
        proof: Proof { to_v: 1.5, ..hard_case.proof },
        // Harmless when flat, good in the cold.
        keeping: Keeping {
            gives_by_c: &[(-20.0, 0.85), (0.0, 0.94), (25.0, 1.0), (45.0, 1.01)],
            too_low_soc: 0.1,
            ..hard_case.keeping
        },
        // Where the lowest of its makers end, its curve is somewhat steeper than an oxide's at its top.
        leaks: Some(Leaks { sound_v: 0.0015, shorted_v: 0.0075 }),
        usual_ah: (0.5, 400.0),
        ..hard_case
    }
}
