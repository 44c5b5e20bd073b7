//! Lead-acid chemistries.
//!
//! Sources: the Nernst voltage of the cell at usual acid densities (about 0.84 V plus the
//! density) for the open-circuit curve; the common absorb and float voltages of each build; the
//! textbook course of a charge: the bulk accepts well, acceptance falls from four fifths on as the
//! sulphate is used up, and the last part of the current goes into gas; and of a discharge: the acid in
//! the plates is used up before new acid comes after, so that a fast one gives less. Peukert's exponents
//! follow from typical tables of 12 V batteries: of what an AGM gives in 20 h it gives about 85 % in 5 h,
//! 60 % in 1 h; gel and flooded plates a little less. Absorption timers of common chargers end after 8 to
//! 14 h at the latest, by how slowly a build takes its last part. The shares kept, tenth by tenth, are drawn so
//! that their sums give the charge factors of handbooks.

use super::keeping::Keeping;
use super::ocv::{BySoc, OcvCurve};
use super::profile::{
    ChargeWindow, Discharge, Leaks, Low, Profile, Proof, Rates, RcPair, Resting, Sold, Warmth, Words,
};
use super::traits::Traits;
use crate::codes::Chemistry;

/// Freezing point of the acid, °C, every ten per cent of charge: by its density, from about 1.10 when flat
/// to 1.28 when full.
const FREEZES_C: BySoc = BySoc([-8.0, -10.0, -12.0, -16.0, -20.0, -25.0, -30.0, -38.0, -45.0, -52.0, -60.0]);
/// Of the slow voltage of a charge a discharge has about this share: it forms no gas.
const SLOW_OUT: f64 = 0.3;

/// Surface charge takes a day to go; a sound battery then loses some hundredths of a volt a week. Six
/// charged cells that rest under 11 V have a dead one among them; up to 12.3 V they are not full, or sulphated.
const RESTS: Resting = Resting { settled_h: 24.0, in_h: 24.0, dead_lacks_v: Some(1.6) };
/// Sheets of one kind differ by so much at the same rate.
const SHEETS_DIFFER: (f64, f64) = (0.08, 0.12);
const LEAKS: Leaks = Leaks { sound_v: 0.002, shorted_v: 0.01 };
/// Its label is a twenty-hour figure, down to 1.75 V a cell.
const PROOF: Proof = Proof { c_rate: 0.05, to_v: 1.75, gives: 1.0 };

/// Tables of capacity by temperature at a fifth of it: a little under one per cent a kelvin. Flooded plates with
/// antimony lose five per cent in a month and more, valve-regulated ones two or three; every ten kelvin twice as
/// much. Under three quarters the sulphate begins to harden; a quarter of a year is the usual interval.
const KEEPS: Keeping = Keeping {
    reference_c: 0.2,
    gives_by_c: &[(-20.0, 0.50), (-10.0, 0.64), (0.0, 0.79), (10.0, 0.89), (25.0, 1.0), (40.0, 1.06)],
    gives_less: 0.22,
    loses: [0.05, 0.02, 0.12],
    doubles_k: 10.0,
    too_full: None,
    too_low_soc: 0.75,
    stands_days: Some(91.0),
};

pub(super) fn profiles() -> Vec<Profile> {
    vec![flooded(), agm(), gel()]
}

fn flooded() -> Profile {
    Profile {
        chemistry: Chemistry::LeadFlooded,
        name: "Flooded lead-acid",
        traits: Traits { caps: true, ..Traits::LEAD },
        nominal_v: 2.00,
        full_v: 2.42,
        ceiling_v: 2.50,
        gentle_v: None,
        makers_v: None,
        storage_v: None,
        storage_guard_v: None,
        float_v: Some(2.25),
        precharge_below_v: 1.75,
        rescue_floors_v: None,
        label_readings_v: &[2.00],
        rates: Rates { standard: 0.1, hurry: 0.2, refuse_above: 0.5, last_word: 0.5, taper: 0.02 },
        window: ChargeWindow { min_c: -15.0, max_c: 50.0, compensation_v: -0.004 },
        ocv: OcvCurve::through(&[
            (0.0, 1.970),
            (0.10, 1.985),
            (0.20, 2.000),
            (0.30, 2.015),
            (0.40, 2.030),
            (0.50, 2.045),
            (0.60, 2.060),
            (0.70, 2.075),
            (0.80, 2.090),
            (0.90, 2.105),
            (1.0, 2.125),
        ]),
        hysteresis_v: 0.012,
        curve_spread_v: 0.010,
        empty_spread_v: 0.0,
        resting: RESTS,
        leaks: Some(LEAKS),
        proof: PROOF,
        keeping: KEEPS,
        voltage_tells_soc: true,
        resistance_ohm_ah: 0.10,
        // A charge's voltage settles within minutes in the double layer, within hours as the acid mixes: of the
        // rise of published charges at C/10 a tenth is there at once, the rest in an hour or more.
        rc: [
            RcPair { ratio: 0.8, tau_s: 60.0 },
            RcPair { ratio: 2.0, tau_s: 900.0 },
            RcPair { ratio: 5.0, tau_s: 3600.0 },
        ],
        resistance_by_soc: BySoc([1.6, 1.25, 1.1, 1.0, 1.0, 1.0, 1.0, 1.05, 1.1, 1.2, 1.4]),
        slow_by_soc: BySoc([1.0, 1.0, 1.0, 1.05, 1.1, 1.3, 1.6, 2.1, 2.6, 3.5, 30.0]),
        discharge: Discharge {
            slow: SLOW_OUT,
            gives: &[(0.05, 1.0), (0.1, 0.91), (0.2, 0.82), (0.33, 0.72), (1.0, 0.48), (2.0, 0.35)],
            spread: SHEETS_DIFFER,
        },
        longest_absorption_h: Some(10.0),
        temperature_slope: 0.015,
        warmth: Warmth::EVEN,
        words: Words {
            too_cold: "the pack takes little and a flat one may be frozen",
            cold_rate: "cold, it takes little",
            too_fast: "it warms and gasses instead of taking it",
            overcharged: "Overcharged it gasses, dries out and can run away.",
            low: Low::ELECTRODES,
        },
        named: &["flooded", "wet"],
        sold: Some(Sold { mah_from: f64::INFINITY, ah_below: 500.0 }),
        freezes_c: Some(FREEZES_C),
        // Charge factors of handbooks: flooded 1.10 to 1.20, for its gas stirs the acid.
        coulombic: BySoc([0.96, 0.96, 0.96, 0.96, 0.96, 0.95, 0.93, 0.91, 0.88, 0.81, 0.55]),
        coulombic_fast: BySoc([0.96, 0.96, 0.96, 0.96, 0.95, 0.94, 0.92, 0.88, 0.82, 0.72, 0.40]),
        keeps_none_over: 0.03,
        keeps_by_c: &[],
        usual_ah: (0.8, 3000.0),
        falls_by_v: 0.0,
        most_given: 1.3,
    }
}

fn agm() -> Profile {
    Profile {
        chemistry: Chemistry::LeadAgm,
        name: "AGM lead-acid",
        named: &["agm"],
        ceiling_v: 2.48,
        float_v: Some(2.27),
        rates: Rates { standard: 0.15, hurry: 0.3, refuse_above: 0.5, last_word: 0.5, taper: 0.02 },
        window: ChargeWindow { min_c: -15.0, max_c: 50.0, compensation_v: -0.0035 },
        ocv: OcvCurve::through(&[
            (0.0, 1.970),
            (0.10, 1.988),
            (0.20, 2.005),
            (0.30, 2.022),
            (0.40, 2.039),
            (0.50, 2.056),
            (0.60, 2.073),
            (0.70, 2.090),
            (0.80, 2.107),
            (0.90, 2.124),
            (1.0, 2.145),
        ]),
        resistance_ohm_ah: 0.07,
        discharge: Discharge {
            slow: SLOW_OUT,
            gives: &[(0.05, 1.0), (0.1, 0.93), (0.2, 0.85), (0.33, 0.76), (1.0, 0.55), (2.0, 0.42)],
            spread: SHEETS_DIFFER,
        },
        keeping: Keeping { gives_less: 0.18, loses: [0.025, 0.01, 0.05], ..KEEPS },
        longest_absorption_h: Some(12.0),
        // Its gas is taken up again: 1.05 to 1.08.
        coulombic: BySoc([0.98, 0.98, 0.98, 0.98, 0.98, 0.98, 0.975, 0.97, 0.95, 0.92, 0.75]),
        coulombic_fast: BySoc([0.98, 0.98, 0.98, 0.98, 0.98, 0.97, 0.96, 0.95, 0.91, 0.85, 0.60]),
        traits: Traits::LEAD,
        ..flooded()
    }
}

fn gel() -> Profile {
    Profile {
        chemistry: Chemistry::LeadGel,
        name: "Gel lead-acid",
        named: &["gel"],
        full_v: 2.36,
        ceiling_v: 2.40,
        float_v: Some(2.25),
        rates: Rates { standard: 0.1, hurry: 0.2, refuse_above: 0.5, last_word: 0.5, taper: 0.02 },
        resistance_ohm_ah: 0.09,
        discharge: Discharge {
            slow: SLOW_OUT,
            gives: &[(0.05, 1.0), (0.1, 0.92), (0.2, 0.84), (0.33, 0.74), (1.0, 0.52), (2.0, 0.38)],
            spread: SHEETS_DIFFER,
        },
        keeping: Keeping { gives_less: 0.20, loses: [0.02, 0.008, 0.045], ..KEEPS },
        longest_absorption_h: Some(14.0),
        // 1.03 to 1.06.
        coulombic: BySoc([0.985, 0.985, 0.985, 0.985, 0.985, 0.985, 0.98, 0.98, 0.97, 0.94, 0.80]),
        coulombic_fast: BySoc([0.985, 0.985, 0.985, 0.985, 0.98, 0.98, 0.97, 0.96, 0.93, 0.88, 0.65]),
        ..agm()
    }
}
