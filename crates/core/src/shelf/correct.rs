//! A capacity brought to 25 °C and the reference rate, so that tests made in other seasons and at other currents can
//! be compared.
//!
//! `corrected = measured ÷ (share given at that temperature · share given at that rate − what both leave in together)`; the
//! shares stand with the chemistry ([`crate::physics::cell`]).

use crate::physics::cell::Profile;

/// Colder and hotter than this a correction is shown, not believed, °C.
const BELIEVED_C: (f64, f64) = (0.0, 45.0);
/// What a careful test itself is off by, as a share.
const TEST_SD: f64 = 0.006;
/// Of a correction so much is uncertain.
const REACH_SD: f64 = 0.15;
/// Where nobody read the temperature, it is taken to be this and may be off by so much, °C.
const UNREAD_C: (f64, f64) = (20.0, 6.0);

/// A capacity at 25 °C and the reference rate.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Corrected {
    pub(crate) ah: f64,
    /// Its standard deviation, Ah.
    pub(crate) sd_ah: f64,
    /// Whether it may go into a trend.
    pub(crate) trusted: bool,
}

/// Corrects a capacity measured at a temperature and a rate, C of the label.
pub(crate) fn corrected(profile: &Profile, measured_ah: f64, temperature_c: Option<f64>, c_rate: f64) -> Corrected {
    let keeping = &profile.keeping;
    let (at_c, unread_c) = temperature_c.map_or(UNREAD_C, |c| (c, 0.0));
    let by_warmth = keeping.gives_at(at_c);
    let by_rate = keeping.gives_at_rate(c_rate);
    let unread = 0.5 * (keeping.gives_at(at_c + unread_c) - keeping.gives_at(at_c - unread_c)).abs() / by_warmth;
    // A large current in the cold drops to the cut-off earlier than either alone.
    let left = |c_rate: f64, at_c: f64| left_in(profile, c_rate, at_c);
    let reference_c = keeping.reference_c;
    let together = left(c_rate, at_c) - left(c_rate, 25.0) - left(reference_c, at_c) + left(reference_c, 25.0);
    let share_given = (by_warmth * by_rate - together).max(0.1);
    let ah = measured_ah / share_given;
    let share =
        [TEST_SD, REACH_SD * (1.0 - by_warmth).abs(), REACH_SD * (1.0 - by_rate).abs(), 0.3 * together.abs(), unread];
    let sd = share.iter().map(|part| part * part).sum::<f64>().sqrt();
    Corrected { ah, sd_ah: ah * sd, trusted: (BELIEVED_C.0..=BELIEVED_C.1).contains(&at_c) }
}

/// What is left in a cell of its kind when its volts have fallen to the usual cut-off, as a share: where its open volts
/// less what the rate, C, drops in it are that.
fn left_in(profile: &Profile, c_rate: f64, temperature_c: f64) -> f64 {
    let warm = (profile.temperature_slope * (25.0 - temperature_c)).clamp(-1.0, 2.5).exp();
    let drop_v = c_rate * profile.resistance_ohm_ah * warm;
    let slow: f64 = profile.rc.iter().map(|pair| pair.ratio).sum::<f64>() * profile.discharge.slow;
    let stands = |soc: f64| {
        profile.ocv.at(soc).0 - profile.hysteresis_v - drop_v * (profile.resistance_by_soc.at(soc) + slow)
            > profile.proof.to_v
    };
    let (mut low, mut high) = (0.0, 0.6);
    if stands(low) || !stands(high) {
        return if stands(low) { 0.0 } else { high };
    }
    for _ in 0..20 {
        let middle = 0.5 * (low + high);
        if stands(middle) { high = middle } else { low = middle }
    }
    high
}
