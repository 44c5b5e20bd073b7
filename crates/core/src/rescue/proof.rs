//! What a capacity test proves.

use super::found::Picture;
use crate::units::in_amp_hours;

/// The share of what one pack should give that it gave, at the current it gave it at; at the label's own
/// where nobody says. Lead gives less the faster it is asked.
pub(super) fn share(picture: &Picture, gave_ah: f64, amps: Option<f64>) -> f64 {
    let pack = &picture.pack;
    let nameplate_ah = in_amp_hours(pack.nameplate) / f64::from(pack.parallel);
    let c_rate = amps.map_or(pack.profile.proof.c_rate, |a| a.abs() / nameplate_ah);
    gave_ah / (nameplate_ah * pack.profile.proof.gives * pack.profile.discharge.share_at(c_rate))
}
