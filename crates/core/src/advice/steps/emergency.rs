//! What to do when a pack smokes, hisses or burns, by its family and size.
//!
//! Source: the usual advice of fire services and handbooks for each kind of battery: people first, nothing
//! hot is carried, much water cools a small lithium pack, sparks are kept from a gassing lead battery.

use crate::parts::pack::Pack;
use crate::physics::cell::Family;
use crate::units::{in_amp_hours, trimmed};

/// From so much on nobody puts a lithium pack out by hand, Wh.
const LARGE_WH: f64 = 100.0;

/// In the order to be done.
pub(crate) fn emergency(pack: &Pack) -> Vec<String> {
    let wh = in_amp_hours(pack.nameplate) * pack.profile.nominal_v * f64::from(pack.series);
    match pack.profile.family {
        Family::Ion | Family::Other => lithium(wh),
        Family::Lead => vec![
            "Supply off at its switch, never at the clamps: a spark sets off the gas.".to_owned(),
            "Doors and windows open from outside, no flame, no switch near it; keep your face away from it for an hour.".to_owned(),
            "Burning: everybody out, door shut, call the fire service.".to_owned(),
            "Acid on skin or in eyes: water for a quarter of an hour, eyes to a doctor; on the floor baking soda.".to_owned(),
        ],
        Family::Nickel => vec![
            "Current off at the switch. Do not touch or carry it while it is hot; it vents caustic fluid.".to_owned(),
            "Let it lie, watched from a distance, until it can be held in the hand; then outdoors.".to_owned(),
            "Burning: everybody out, door shut, call the fire service.".to_owned(),
        ],
        Family::Capacitor => vec![
            "Supply off at its switch, and keep away: it still holds its charge, and a short takes thousands of amps.".to_owned(),
            "Bulging or hissing: it vents; out of the room until it is cold, then down through a resistor, not a wire.".to_owned(),
        ],
    }
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
