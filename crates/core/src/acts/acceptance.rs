//! Whether an accepted stop still stands for what is found now.

use std::collections::BTreeMap;

use crate::codes::CheckCode;
use crate::formats::AcceptedDoc;

/// Whether values now are no worse than those a stop was accepted at.
pub(super) fn covers(code: CheckCode, accepted: &AcceptedDoc, now: &BTreeMap<String, f64>) -> bool {
    if accepted.code != Some(code) {
        return false;
    }
    let Some(then) = &accepted.values else {
        return true;
    };
    let value = |values: &BTreeMap<String, f64>, name: &str| values.get(name).copied();
    match code {
        CheckCode::PackRateTooHigh => {
            value(now, "current_a")
                .zip(value(then, "current_a"))
                .is_some_and(|(now_a, then_a)| now_a <= then_a * 1.0001)
                && value(now, "rated_a") >= value(then, "rated_a").map(|a| a * 0.9999)
        }
        // Another reading or another cell count is another question.
        CheckCode::SettingsWrongCellCount => {
            ["voltage_v", "series"].iter().all(|name| value(now, name) == value(then, name))
        }
        CheckCode::PackCapacityUnusual => value(now, "capacity_ah") <= value(then, "capacity_ah").map(|ah| ah * 1.0001),
        CheckCode::PackLethalVoltage => value(now, "voltage_v") <= value(then, "voltage_v").map(|v| v * 1.0001),
        _ => value(now, "units") <= value(then, "units"),
    }
}
