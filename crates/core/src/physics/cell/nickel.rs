//! Nickel chemistries: charged by current and time, never held at a voltage.
//!
//! Sources: textbook nickel-electrode behaviour: a rest voltage that says little of the charge,
//! charge acceptance that falls over the last fifth while oxygen recombines to heat, and the
//! common 14 h charge at a tenth of the capacity that this loss leads to; charged at half of it or faster
//! oxygen comes later, and the end, by falling voltage, after 1.05 to 1.15 times what was missing. The
//! shares kept, tenth by tenth, are drawn so that their sums give these factors.

use super::keeping::Keeping;
use super::ocv::{BySoc, OcvCurve};
use super::profile::{
    ChargeWindow, Discharge, Leaks, Low, Profile, Proof, Rates, RcPair, Resting, Sold, Warmth, Words,
};
use super::traits::Traits;
use crate::codes::Chemistry;

/// Discharge tables by temperature at a fifth of the capacity, down to 1.0 V. A tenth is gone after a day, then about
/// a fifth in a month of ordinary cells; those made to keep lose a few per cent. Neither full nor flat harms them.
const KEEPS: Keeping = Keeping {
    reference_c: 0.2,
    gives_by_c: &[(-20.0, 0.60), (-10.0, 0.77), (0.0, 0.90), (10.0, 0.96), (25.0, 1.0), (45.0, 0.99)],
    gives_less: 0.03,
    loses: [0.20, 0.01, 0.35],
    doubles_k: 10.0,
    too_full: None,
    too_low_soc: 0.0,
    stands_days: None,
};

pub(super) fn profiles() -> Vec<Profile> {
    let nicd = Profile {
        chemistry: Chemistry::Nicd,
        name: "NiCd",
        named: &["nicd", "nicad"],
        falls_by_v: 0.015,
        resistance_ohm_ah: 0.016,
        rc: NICD_RC,
        ..nimh()
    };
    vec![nimh(), nicd]
}

/// The slow part of a charge lies in the nickel electrode, which both have: as much beside each one's
/// 10 s resistance. Published charges at C/10 rise by 60 mV to 80 mV a cell within the first hour.
const NIMH_RC: [RcPair; 3] =
    [RcPair { ratio: 0.8, tau_s: 45.0 }, RcPair { ratio: 1.0, tau_s: 400.0 }, RcPair { ratio: 1.0, tau_s: 1800.0 }];
const NICD_RC: [RcPair; 3] =
    [RcPair { ratio: 1.25, tau_s: 45.0 }, RcPair { ratio: 1.55, tau_s: 400.0 }, RcPair { ratio: 1.55, tau_s: 1800.0 }];
/// Warm, oxygen comes sooner: of a slow charge at 45 °C about five sixths of what is kept in a room, at
/// 60 °C hardly more than half.
const KEEPS_BY_C: &[(f64, f64)] = &[(35.0, 1.0), (45.0, 0.84), (60.0, 0.55)];

fn nimh() -> Profile {
    Profile {
        chemistry: Chemistry::Nimh,
        name: "NiMH",
        traits: Traits::NICKEL,
        nominal_v: 1.20,
        // The guard of a fast charge; settings lower it for a slow one. Nothing is held here.
        full_v: 1.70,
        ceiling_v: 1.75,
        gentle_v: None,
        makers_v: None,
        storage_v: None,
        storage_guard_v: None,
        float_v: None,
        precharge_below_v: 0.90,
        rescue_floors_v: None,
        label_readings_v: &[1.20],
        rates: Rates { standard: 0.1, hurry: 0.5, refuse_above: 2.0, last_word: 5.0, taper: 0.0 },
        window: ChargeWindow { min_c: 5.0, max_c: 45.0, compensation_v: 0.0 },
        ocv: OcvCurve::through(&[
            (0.0, 1.15),
            (0.05, 1.215),
            (0.10, 1.24),
            (0.20, 1.26),
            (0.40, 1.28),
            (0.60, 1.295),
            (0.80, 1.32),
            (0.90, 1.35),
            (1.0, 1.40),
        ]),
        hysteresis_v: 0.03,
        curve_spread_v: 0.03,
        empty_spread_v: 0.0,
        // Oxygen from the charge is taken up over a day, by 50 mV and more; then a tenth of it goes in weeks.
        resting: Resting { settled_h: 24.0, in_h: 24.0, dead_lacks_v: None },
        leaks: Some(Leaks { sound_v: 0.01, shorted_v: 0.03 }),
        // Its capacity is given at a fifth of it, down to 1.0 V.
        proof: Proof { c_rate: 0.2, to_v: 1.0, gives: 1.0 },
        keeping: KEEPS,
        voltage_tells_soc: false,
        // Of packs for power: 15 mΩ to 25 mΩ times Ah for NiMH, 12 to 20 for NiCd.
        resistance_ohm_ah: 0.025,
        rc: NIMH_RC,
        resistance_by_soc: BySoc([1.6, 1.2, 1.05, 1.0, 1.0, 1.0, 1.0, 1.0, 1.0, 1.1, 1.2]),
        slow_by_soc: BySoc::ONE,
        discharge: Discharge::WHOLE,
        longest_absorption_h: None,
        temperature_slope: 0.02,
        warmth: Warmth::EVEN,
        words: Words {
            too_cold: "gas builds up faster than the cells can take it back",
            cold_rate: "cold, it takes little",
            too_fast: "it heats, and vents before it is full",
            overcharged: "Overcharged it turns all of it to heat, and vents.",
            low: Low::ELECTRODES,
        },
        named: &["nimh", "nickelmetalhydride"],
        sold: Some(Sold { mah_from: 100.0, ah_below: 20.0 }),
        freezes_c: None,
        coulombic: BySoc([0.95, 0.97, 0.97, 0.96, 0.95, 0.93, 0.90, 0.85, 0.75, 0.55, 0.0]),
        coulombic_fast: BySoc([0.97, 0.98, 0.98, 0.98, 0.98, 0.97, 0.96, 0.95, 0.92, 0.85, 0.50]),
        keeps_none_over: 0.0,
        keeps_by_c: KEEPS_BY_C,
        usual_ah: (0.03, 60.0),
        falls_by_v: 0.005,
        most_given: 1.7,
    }
}
