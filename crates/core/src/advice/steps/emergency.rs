//! What to do when a pack smokes, hisses or burns, by its family and size.
//!
//! Source: the usual advice of fire services and handbooks for each kind of battery: people first, nothing
//! hot is carried, much water cools a small lithium pack, sparks are kept from a gassing lead battery.

use crate::parts::pack::Pack;
use crate::units::{in_amp_hours, trimmed};

/// From so much on nobody puts a lithium pack out by hand, Wh.
const LARGE_WH: f64 = 100.0;

/// In the order to be done.
pub(crate) fn emergency(pack: &Pack) -> Vec<String> {
    let wh = in_amp_hours(pack.nameplate) * pack.profile.nominal_v * f64::from(pack.series);
    let told = pack.profile.traits.emergency;
    if told.is_empty() { lithium(wh) } else { told.iter().copied().map(str::to_owned).collect() }
}

/// … of a pack that nobody has identified: as the worst of them.
pub(crate) fn emergency_of_any() -> Vec<String> {
    lithium(LARGE_WH)
}

fn lithium(wh: f64) -> Vec<String> {
    let mut said = vec![
        "Mains off at the switch, if that can be reached without passing the pack. Do not touch or carry it."
            .to_owned(),
        "Everybody out, door shut, call the fire service: the smoke is poisonous.".to_owned(),
    ];
    said.push(if wh < LARGE_WH {
        "Smoking only, and you are not in the smoke: water in quantity, from a distance, cools so small a pack."
            .to_owned()
    } else {
        format!(
            "Say that it is a lithium battery of {} Wh or so: nobody puts so large a one out by hand.",
            trimmed(wh, 0)
        )
    });
    said.push("It can flare up again for hours, also when it looks dead: nobody goes near it.".to_owned());
    said
}
