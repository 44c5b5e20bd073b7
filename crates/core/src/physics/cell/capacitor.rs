//! Double-layer capacitors: charge is proportional to voltage, from zero.
//!
//! Sources: the definition of capacitance; the product of series resistance and capacitance of
//! published cells, around half a second; the slow redistribution of charge into the pores,
//! seen as a few per cent of voltage over minutes.

use super::keeping::Keeping;
use super::ocv::{BySoc, OcvCurve};
use super::profile::{ChargeWindow, Discharge, Leaks, Low, Profile, Proof, Rates, RcPair, Resting, Warmth, Words};
use super::traits::Traits;
use crate::codes::Chemistry;

pub(super) fn profiles() -> Vec<Profile> {
    vec![Profile {
        chemistry: Chemistry::Supercap,
        name: "Supercapacitor",
        traits: Traits::CAPACITOR,
        nominal_v: 2.50,
        full_v: 2.50,
        ceiling_v: 2.50,
        gentle_v: None,
        makers_v: None,
        storage_v: None,
        storage_guard_v: None,
        float_v: None,
        precharge_below_v: 0.0,
        rescue_floors_v: None,
        label_readings_v: &[2.50, 2.70],
        rates: Rates {
            standard: f64::INFINITY,
            hurry: f64::INFINITY,
            refuse_above: f64::INFINITY,
            last_word: f64::INFINITY,
            taper: 0.0,
        },
        window: ChargeWindow { min_c: -40.0, max_c: 65.0, compensation_v: 0.0 },
        ocv: OcvCurve::through(&[(0.0, 0.0), (0.5, 1.25), (1.0, 2.50)]),
        hysteresis_v: 0.0,
        curve_spread_v: 0.0,
        empty_spread_v: 0.0,
        // Charge spreads into the pores for hours: a tenth of the voltage in the first day is usual.
        resting: Resting { settled_h: 1.0, in_h: 24.0, dead_lacks_v: None },
        leaks: Some(Leaks { sound_v: 0.1, shorted_v: 0.3 }),
        // Its capacitance shows in the fall from full to half, within some ten minutes.
        proof: Proof { c_rate: 3.0, to_v: 1.25, gives: 0.5 },
        // They lose a few per cent in a day, some tenths in a month; neither full nor flat harms them for that long.
        keeping: Keeping {
            reference_c: 3.0,
            gives_by_c: &[(-40.0, 0.95), (25.0, 1.0), (65.0, 1.0)],
            gives_less: 0.0,
            loses: [0.25, 0.05, 0.6],
            doubles_k: 10.0,
            too_full: None,
            too_low_soc: 0.0,
            stands_days: None,
        },
        voltage_tells_soc: true,
        // 0.6 s of R·C: Ω·Ah a cell at 2.5 V is 0.6 s × 2.5 V ÷ 3600.
        resistance_ohm_ah: 0.6 * 2.5 / 3600.0,
        rc: [
            RcPair { ratio: 0.3, tau_s: 15.0 },
            RcPair { ratio: 0.3, tau_s: 60.0 },
            RcPair { ratio: 0.2, tau_s: 300.0 },
        ],
        resistance_by_soc: BySoc::ONE,
        slow_by_soc: BySoc::ONE,
        discharge: Discharge::WHOLE,
        longest_absorption_h: None,
        temperature_slope: 0.005,
        warmth: Warmth::EVEN,
        words: Words {
            too_cold: "its resistance is high and it takes little",
            cold_rate: "cold, it takes little",
            too_fast: "it warms more than its seals bear",
            overcharged: "It vents, and its life halves with each 0.1 V.",
            low: Low::ELECTRODES,
        },
        named: &[
            "supercap",
            "supercaps",
            "supercapacitor",
            "supercapacitors",
            "ultracap",
            "ultracaps",
            "edlc",
            "capacitor",
            "capacitors",
            "cap",
            "caps",
        ],
        sold: None,
        freezes_c: None,
        coulombic: BySoc([0.995; 11]),
        coulombic_fast: BySoc([0.995; 11]),
        keeps_none_over: 0.0,
        keeps_by_c: &[],
        usual_ah: (0.0, f64::INFINITY),
        falls_by_v: 0.0,
        most_given: 1.5,
    }]
}
