//! Lithium chemistries.
//!
//! Sources: voltages are those common to cell makers' published sheets for each chemistry; the
//! open-circuit curves are rounded averages of published quasi-static curves (layered oxide,
//! phosphate and titanate cells against graphite, or titanate against layered oxide); the
//! resistance and its pairs are sized against single-particle simulations of such cells
//! (`tests/physics`), as multiples of the 10 s resistance.

use super::keeping::Keeping;
use super::ocv::{BySoc, OcvCurve};
use super::profile::{
    ChargeWindow, Discharge, Floors, Leaks, Low, Profile, Proof, Rates, RcPair, Resting, Sold, Warmth, Words,
};
use super::traits::Traits;
use crate::codes::Chemistry;

const WINDOW: ChargeWindow = ChargeWindow { min_c: 0.0, max_c: 45.0, compensation_v: 0.0 };

/// Resistance of a layered-oxide cell: higher near empty, where the oxide is nearly full of lithium.
const OXIDE_BY_SOC: BySoc = BySoc([2.2, 1.35, 1.1, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.05]);

/// Nearly all charge is kept: published cycling shows 99.9 %.
const KEPT: BySoc = BySoc([0.999; 11]);

/// Diffusion in the electrodes of a pouch cell: what two diffusing spheres of published cobalt and graphite
/// electrodes come to from 0.3C to 2C.
const POUCH_RC: [RcPair; 3] =
    [RcPair { ratio: 0.15, tau_s: 30.0 }, RcPair { ratio: 0.11, tau_s: 200.0 }, RcPair { ratio: 0.12, tau_s: 900.0 }];
/// … of electrodes without such stages, as their relaxation after a pulse shows it.
pub(super) const PLAIN_RC: [RcPair; 3] =
    [RcPair { ratio: 0.45, tau_s: 30.0 }, RcPair { ratio: 0.20, tau_s: 200.0 }, RcPair { ratio: 0.10, tau_s: 900.0 }];
/// … by how full it is: most where graphite goes from one stage to the next.
const POUCH_SLOW: BySoc = BySoc([1.0, 1.0, 1.0, 1.0, 1.15, 1.30, 1.40, 1.40, 1.27, 0.85, 0.72]);

/// Plating begins above freezing where the rate is high: usual sheets of oxide cells allow 0.1C to 0.2C near
/// 0 °C and the full rate from 15 °C on; and near the hot end they ask for half.
const OXIDE_WARMTH: Warmth = Warmth { cold: &[(5.0, 0.1), (10.0, 0.3), (15.0, 0.5)], hot_from_c: 40.0 };
/// Phosphate's graphite takes lithium no faster, and its charge ends nearer to plating.
const PHOSPHATE_WARMTH: Warmth = Warmth { cold: &[(5.0, 0.1), (10.0, 0.2), (15.0, 0.3)], hot_from_c: 40.0 };
/// Titanate plates nothing; cold, its voltage overshoots and it takes little.
const TITANATE_WARMTH: Warmth = Warmth { cold: &[(-10.0, 0.5), (0.0, 1.0)], hot_from_c: f64::INFINITY };

const WORDS: Words = Words {
    too_cold: "metal plates onto the anode and stays there",
    cold_rate: "faster, metal plates onto the anode, unseen, and can short it later",
    too_fast: "heat and plating age or ignite cells",
    overcharged: "Overcharged cells vent and burn.",
    low: Low::COPPER,
};

/// An oxide cell sinks by some millivolts on the first day after its charge; what it loses on the second is its own.
/// A meter that shows hundredths tells a sound cell from a leaking one after two days.
const OXIDE_RESTS: Resting = Resting { settled_h: 24.0, in_h: 48.0, dead_lacks_v: None };
/// Cell makers sort out cells that lose some millivolts a day at rest; sound ones lose some tenths.
const OXIDE_LEAKS: Leaks = Leaks { sound_v: 0.001, shorted_v: 0.005 };
/// The last of phosphate's charge relaxes for a day, by 50 mV and more; on its flat curve a leak shows in a week.
const PHOSPHATE_RESTS: Resting = Resting { settled_h: 24.0, in_h: 168.0, dead_lacks_v: None };
const PHOSPHATE_LEAKS: Leaks = Leaks { sound_v: 0.0005, shorted_v: 0.002 };

/// Sheets give an oxide cell's capacity at a fifth of it, down to about 3.0 V.
const OXIDE_PROOF: Proof = Proof { c_rate: 0.2, to_v: 3.0, gives: 1.0 };

/// Typical discharge tables of oxide cells by temperature at half the capacity, down to 3.0 V: in the cold the voltage
/// falls below the cut-off while charge is left. They lose two or three per cent in a month, most of it in the
/// first days, and twice as much ten kelvin warmer; full they age, flat they are damaged.
const OXIDE_KEEPS: Keeping = Keeping {
    reference_c: 0.5,
    gives_by_c: &[(-20.0, 0.62), (-10.0, 0.77), (0.0, 0.89), (10.0, 0.955), (25.0, 1.0), (45.0, 1.015)],
    gives_less: 0.01,
    loses: [0.02, 0.005, 0.05],
    doubles_k: 10.0,
    too_full: Some((0.8, 3.0)),
    too_low_soc: 0.2,
    stands_days: None,
};
/// Hard-cased cells have thicker electrodes: a little less at a high rate and in the cold.
const HARD_CASE_KEEPS: Keeping = Keeping {
    gives_by_c: &[(-20.0, 0.60), (-10.0, 0.75), (0.0, 0.875), (10.0, 0.95), (25.0, 1.0), (45.0, 1.015)],
    gives_less: 0.02,
    ..OXIDE_KEEPS
};
/// Phosphate suffers more from the cold and less from the rate.
const PHOSPHATE_KEEPS: Keeping = Keeping {
    gives_by_c: &[(-20.0, 0.55), (-10.0, 0.70), (0.0, 0.85), (10.0, 0.94), (25.0, 1.0), (45.0, 1.01)],
    gives_less: 0.015,
    ..OXIDE_KEEPS
};
/// Titanate hardly minds either.
const TITANATE_KEEPS: Keeping = Keeping {
    gives_by_c: &[(-30.0, 0.75), (-20.0, 0.82), (0.0, 0.93), (25.0, 1.0), (45.0, 1.01)],
    gives_less: 0.015,
    too_full: None,
    ..OXIDE_KEEPS
};

pub(super) fn profiles() -> Vec<Profile> {
    vec![lipo(), lihv(), li_ion(), lfp(), lto()]
}

pub(super) fn lipo() -> Profile {
    Profile {
        chemistry: Chemistry::Lipo,
        name: "LiPo",
        traits: Traits::ION,
        nominal_v: 3.70,
        full_v: 4.20,
        ceiling_v: 4.22,
        gentle_v: Some(4.10),
        makers_v: None,
        storage_v: Some(3.80),
        storage_guard_v: None,
        float_v: None,
        precharge_below_v: 3.00,
        rescue_floors_v: Some(Floors { cautious_v: 2.0, experienced_v: 0.5 }),
        label_readings_v: &[3.70, 4.20],
        rates: Rates { standard: 1.0, hurry: 2.0, refuse_above: 5.0, last_word: 5.0, taper: 0.1 },
        window: WINDOW,
        ocv: OcvCurve::through(&[
            (0.0, 3.30),
            (0.03, 3.52),
            (0.06, 3.62),
            (0.10, 3.68),
            (0.20, 3.74),
            (0.30, 3.775),
            (0.40, 3.80),
            (0.50, 3.84),
            (0.60, 3.89),
            (0.70, 3.955),
            (0.80, 4.037),
            (0.90, 4.10),
            (1.0, 4.195),
        ]),
        hysteresis_v: 0.005,
        curve_spread_v: 0.012,
        empty_spread_v: 0.03,
        resting: OXIDE_RESTS,
        leaks: Some(OXIDE_LEAKS),
        proof: OXIDE_PROOF,
        keeping: OXIDE_KEEPS,
        voltage_tells_soc: true,
        // Of packs for flight: 3 mΩ to 5 mΩ at 5 Ah after 10 s, as hobby meters show it.
        resistance_ohm_ah: 0.020,
        rc: POUCH_RC,
        resistance_by_soc: OXIDE_BY_SOC,
        slow_by_soc: POUCH_SLOW,
        discharge: Discharge::WHOLE,
        longest_absorption_h: None,
        temperature_slope: 0.030,
        warmth: OXIDE_WARMTH,
        words: WORDS,
        named: &["lipo", "lipoly", "lithiumpolymer"],
        // Flying packs: from the smallest of 100 mAh on; nobody makes one of 50 Ah.
        sold: Some(Sold { mah_from: 100.0, ah_below: 50.0 }),
        freezes_c: None,
        coulombic: KEPT,
        coulombic_fast: KEPT,
        keeps_none_over: 0.0,
        keeps_by_c: &[],
        // Packs for flight are made to about 30 Ah.
        usual_ah: (0.05, 35.0),
        falls_by_v: 0.0,
        most_given: 1.15,
    }
}

/// As [`lipo`], but charged 0.15 V further: the same oxide carried to a higher voltage.
fn lihv() -> Profile {
    Profile {
        chemistry: Chemistry::Lihv,
        name: "LiHV",
        named: &["lihv", "hv"],
        nominal_v: 3.80,
        full_v: 4.35,
        ceiling_v: 4.37,
        gentle_v: Some(4.20),
        storage_v: Some(3.85),
        label_readings_v: &[3.80, 3.85, 4.35],
        ocv: OcvCurve::through(&[
            (0.0, 3.30),
            (0.03, 3.52),
            (0.06, 3.63),
            (0.10, 3.69),
            (0.20, 3.755),
            (0.30, 3.80),
            (0.40, 3.835),
            (0.50, 3.885),
            (0.60, 3.955),
            (0.70, 4.04),
            (0.80, 4.135),
            (0.90, 4.235),
            (1.0, 4.35),
        ]),
        ..lipo()
    }
}

/// Hard-cased oxide cells: higher resistance for their capacity than a LiPo's thin electrodes.
pub(super) fn li_ion() -> Profile {
    Profile {
        chemistry: Chemistry::LiIon,
        name: "Li-ion",
        named: &["liion", "lion", "lithiumion", "18650", "21700", "nmc", "nca", "ncm"],
        // Cells in mAh, packs in Ah.
        sold: Some(Sold { mah_from: 1000.0, ah_below: 100.0 }),
        usual_ah: (0.05, 400.0),
        nominal_v: 3.60,
        storage_v: Some(3.70),
        label_readings_v: &[3.60, 3.70, 4.20],
        rates: Rates { standard: 0.5, hurry: 1.0, refuse_above: 2.0, last_word: 5.0, taper: 0.05 },
        ocv: OcvCurve::through(&[
            (0.0, 3.00),
            (0.03, 3.20),
            (0.06, 3.32),
            (0.10, 3.42),
            (0.20, 3.54),
            (0.30, 3.62),
            (0.40, 3.685),
            (0.50, 3.765),
            (0.60, 3.86),
            (0.70, 3.95),
            (0.80, 4.038),
            (0.90, 4.098),
            (1.0, 4.19),
        ]),
        curve_spread_v: 0.020,
        keeping: HARD_CASE_KEEPS,
        // Cells with silicon, with much nickel or without rest at 3.35 V to 3.55 V when a tenth is left.
        empty_spread_v: 0.20,
        resistance_ohm_ah: 0.12,
        // As above, of published nickel-rich oxide against graphite with silicon.
        rc: [
            RcPair { ratio: 0.26, tau_s: 30.0 },
            RcPair { ratio: 0.23, tau_s: 200.0 },
            RcPair { ratio: 0.10, tau_s: 900.0 },
        ],
        slow_by_soc: BySoc([1.0, 1.0, 1.0, 1.0, 0.95, 0.87, 1.05, 1.22, 1.13, 0.75, 1.40]),
        ..lipo()
    }
}

/// Phosphate: two flat steps of the graphite, then a steep end.
fn lfp() -> Profile {
    Profile {
        chemistry: Chemistry::Lfp,
        name: "LFP",
        named: &["lfp", "lifepo4", "lifepo", "life", "lithiumironphosphate", "ironphosphate"],
        sold: Some(Sold { mah_from: f64::INFINITY, ah_below: 500.0 }),
        warmth: PHOSPHATE_WARMTH,
        resting: PHOSPHATE_RESTS,
        leaks: Some(PHOSPHATE_LEAKS),
        proof: Proof { to_v: 2.5, ..OXIDE_PROOF },
        keeping: PHOSPHATE_KEEPS,
        usual_ah: (0.1, 2000.0),
        nominal_v: 3.20,
        full_v: 3.65,
        ceiling_v: 3.67,
        gentle_v: Some(3.45),
        storage_v: Some(3.30),
        // Held there, a forgotten hour does not fill it.
        storage_guard_v: Some(3.35),
        precharge_below_v: 2.50,
        rescue_floors_v: Some(Floors { cautious_v: 1.5, experienced_v: 0.5 }),
        label_readings_v: &[3.20, 3.00, 3.65],
        rates: Rates { standard: 0.5, hurry: 1.0, refuse_above: 2.0, last_word: 5.0, taper: 0.05 },
        ocv: OcvCurve::through(&[
            (0.0, 2.80),
            (0.02, 3.00),
            (0.05, 3.12),
            (0.10, 3.20),
            (0.15, 3.225),
            (0.20, 3.245),
            (0.30, 3.275),
            (0.40, 3.285),
            (0.50, 3.290),
            (0.60, 3.297),
            (0.70, 3.322),
            (0.80, 3.328),
            (0.90, 3.331),
            (0.96, 3.336),
            (0.985, 3.365),
            (1.0, 3.62),
        ]),
        hysteresis_v: 0.012,
        curve_spread_v: 0.006,
        resistance_ohm_ah: 0.06,
        rc: [
            RcPair { ratio: 0.70, tau_s: 30.0 },
            RcPair { ratio: 0.15, tau_s: 200.0 },
            RcPair { ratio: 0.08, tau_s: 1200.0 },
        ],
        resistance_by_soc: BySoc([2.0, 1.3, 1.1, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.05, 1.2]),
        slow_by_soc: BySoc([1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.3, 1.7]),
        temperature_slope: 0.035,
        empty_spread_v: 0.0,
        ..lipo()
    }
}

/// Titanate: nothing plates on it, so cold and fast charging are allowed.
fn lto() -> Profile {
    Profile {
        chemistry: Chemistry::Lto,
        name: "LTO",
        named: &["lto", "titanate"],
        sold: Some(Sold { mah_from: f64::INFINITY, ah_below: 500.0 }),
        words: Words {
            too_cold: "its voltage overshoots and it takes little",
            cold_rate: "cold, its voltage overshoots",
            too_fast: "heat ages its cells, and gas swells them",
            low: Low::ELECTRODES,
            ..WORDS
        },
        warmth: TITANATE_WARMTH,
        resting: OXIDE_RESTS,
        leaks: Some(OXIDE_LEAKS),
        proof: Proof { to_v: 1.7, ..OXIDE_PROOF },
        keeping: TITANATE_KEEPS,
        usual_ah: (0.1, 500.0),
        nominal_v: 2.40,
        full_v: 2.80,
        ceiling_v: 2.82,
        gentle_v: Some(2.60),
        storage_v: Some(2.35),
        precharge_below_v: 1.50,
        rescue_floors_v: Some(Floors { cautious_v: 1.0, experienced_v: 0.5 }),
        label_readings_v: &[2.40, 2.30, 2.80],
        rates: Rates { standard: 1.0, hurry: 5.0, refuse_above: 10.0, last_word: 10.0, taper: 0.05 },
        window: ChargeWindow { min_c: -20.0, max_c: 55.0, compensation_v: 0.0 },
        ocv: OcvCurve::through(&[
            (0.0, 1.80),
            (0.03, 2.02),
            (0.10, 2.14),
            (0.20, 2.19),
            (0.30, 2.225),
            (0.40, 2.255),
            (0.50, 2.29),
            (0.60, 2.335),
            (0.70, 2.39),
            (0.80, 2.455),
            (0.90, 2.525),
            (0.97, 2.60),
            (1.0, 2.78),
        ]),
        resistance_ohm_ah: 0.025,
        rc: PLAIN_RC,
        slow_by_soc: BySoc::ONE,
        empty_spread_v: 0.0,
        ..lipo()
    }
}
