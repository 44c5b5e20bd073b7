//! Volts that hurt whoever touches them.

use crate::acts::act::Act;
use crate::acts::finding::Finding;
use crate::codes::CheckCode;
use crate::lines::volts;
use crate::units::trimmed;

pub(super) fn lethal(act: &Act<'_>) -> Option<Finding> {
    let highest_v = act.highest_v;
    (highest_v > volts::LETHAL_V.at).then(|| {
        Finding::stop(
            CheckCode::PackLethalVoltage,
            format!(
                "{} V DC kills at a touch, and its arc does not go out by itself. Only electrically skilled persons work on it, by the local code: insulated tools, a DC switch, a meter and cables rated for it, a second person there.",
                trimmed(highest_v, 0)
            ),
            &[("voltage_v", highest_v)],
        )
        .lifted(format!("Take it apart into packs of less than {} V and treat each alone.", trimmed(volts::TOUCH_V.at, 0)))
    })
}

pub(super) fn touch(act: &Act<'_>) -> Option<Finding> {
    let highest_v = act.highest_v;
    (highest_v > volts::TOUCH_V.at && highest_v <= volts::LETHAL_V.at).then(|| {
        Finding::caution(
            CheckCode::PackTouchVoltage,
            format!(
                "{} V DC can kill: cover every contact, connect with one hand, and wear nothing on the wrists. Where it belongs to a building, local electrical code and licensed practice come first.",
                trimmed(highest_v, 0)
            ),
            &[("voltage_v", highest_v)],
        )
    })
}
