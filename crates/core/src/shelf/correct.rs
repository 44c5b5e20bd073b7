//! A capacity brought to 25 °C and the reference rate, so that tests made in other seasons and at other currents can
//! be compared.
//!
//! Whatever foretells a whole discharge is turned round: the pack is sought of which just as much would have been
//! foretold at that temperature and rate.

use crate::advice::discharge::{foretold_ah, gives_of};
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

/// More of its label than this no pack holds: what would have to be corrected further says nothing.
const MOST: f64 = 1.2;
/// The pack is found once it gives what was measured, as a share.
const NEAR: f64 = 1e-4;
const ROUNDS: usize = 24;

/// What the label says at 25 °C and the reference rate, as a share of it.
pub(crate) fn label_share(profile: &Profile) -> f64 {
    gives_of(profile, profile.keeping.reference_c, 25.0) * profile.proof.gives
}

/// Corrects a capacity measured at a temperature and a rate, C of the label, of a pack whose label says so many Ah.
pub(crate) fn corrected(
    profile: &Profile,
    label_ah: f64,
    measured_ah: f64,
    temperature_c: Option<f64>,
    c_rate: f64,
) -> Corrected {
    let (at_c, unread_c) = temperature_c.map_or(UNREAD_C, |c| (c, 0.0));
    let keeping = &profile.keeping;
    let measured = measured_ah / label_ah;
    let holds = holds(profile, measured, at_c, c_rate);
    let ah = holds * label_share(profile) * label_ah;
    let (by_warmth, given) = (keeping.gives_at(at_c), gives_of(profile, c_rate, 25.0));
    let unread = 0.5 * (keeping.gives_at(at_c + unread_c) - keeping.gives_at(at_c - unread_c)).abs() / by_warmth;
    let together = (by_warmth * given - measured / (holds * profile.proof.gives).max(1e-9)).abs();
    let share = [
        TEST_SD,
        REACH_SD * (1.0 - by_warmth).abs(),
        REACH_SD * (1.0 - given / label_share(profile) * profile.proof.gives).abs(),
        0.3 * together,
        unread,
    ];
    let sd = share.iter().map(|part| part * part).sum::<f64>().sqrt();
    let trusted = (BELIEVED_C.0..=BELIEVED_C.1).contains(&at_c) && holds <= MOST;
    Corrected { ah: ah.min(MOST * label_share(profile) * label_ah), sd_ah: ah * sd, trusted }
}

/// What a pack holds of its label that gives so much of it at a rate and a temperature: between nothing and a little
/// more than any pack holds.
fn holds(profile: &Profile, measured: f64, temperature_c: f64, c_rate: f64) -> f64 {
    let gives = |share: f64| foretold_ah(profile, share, c_rate, temperature_c);
    let (mut low, mut high) = (0.0, 1.5 * MOST);
    let mut share = (measured / gives(1.0).max(1e-6)).clamp(0.05, high);
    for _ in 0..ROUNDS {
        let given = gives(share);
        if (given - measured).abs() <= NEAR * measured {
            break;
        }
        if given > measured {
            high = share
        } else {
            low = share
        }
        // What it gives is nearly in proportion to what it holds.
        let next = share * measured / given.max(1e-6);
        share = if next > low && next < high { next } else { 0.5 * (low + high) };
        if high - low <= NEAR * high {
            break;
        }
    }
    share
}
