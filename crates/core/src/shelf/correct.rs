//! A capacity brought to 25 °C and the reference rate, so that tests made in other seasons and at other currents can
//! be compared.
//!
//! `corrected = measured ÷ share given at that temperature ÷ share given at that rate`; the shares stand with the
//! chemistry ([`crate::physics::cell`]).

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
    let share = [TEST_SD, REACH_SD * (1.0 - by_warmth).abs(), REACH_SD * (1.0 - by_rate).abs(), unread];
    let ah = measured_ah / (by_warmth * by_rate);
    let sd = share.iter().map(|part| part * part).sum::<f64>().sqrt();
    Corrected { ah, sd_ah: ah * sd, trusted: (BELIEVED_C.0..=BELIEVED_C.1).contains(&at_c) }
}
