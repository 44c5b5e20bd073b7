//! The rules that hold for every act, one row each.

mod count;
mod rate;
mod state;
mod volts;
mod warmth;

use super::act::Act;
use super::finding::Finding;
use crate::codes::{CheckCode, Place};

/// One rule: what it finds, where in the chain, and how.
pub(crate) struct Rule {
    pub(crate) code: CheckCode,
    pub(crate) place: Place,
    pub(crate) run: fn(&Act<'_>) -> Option<Finding>,
}

const fn of_pack(code: CheckCode, run: fn(&Act<'_>) -> Option<Finding>) -> Rule {
    Rule { code, place: Place::Pack, run }
}

const fn of_settings(code: CheckCode, run: fn(&Act<'_>) -> Option<Finding>) -> Rule {
    Rule { code, place: Place::Settings, run }
}

/// What every act passes, whatever room it comes from.
pub(crate) const EVERY_ACT: &[Rule] = &[
    of_pack(CheckCode::PackRetired, state::retired),
    of_pack(CheckCode::PackReversedCell, state::reversed),
    of_pack(CheckCode::PackDeadCell, state::failed),
    of_pack(CheckCode::PackDeadCell, state::one_dead),
    of_pack(CheckCode::PackCellOverfull, state::overfull),
    of_pack(CheckCode::PackTooCold, warmth::too_cold),
    of_pack(CheckCode::PackTooHot, warmth::too_hot),
    of_pack(CheckCode::PackFrozen, warmth::frozen),
    of_pack(CheckCode::PackColdRate, warmth::cold_rate),
    of_pack(CheckCode::PackHotStart, warmth::hot_start),
    of_pack(CheckCode::PackCoolsDown, warmth::cools_down),
    of_pack(CheckCode::PackBmsOverloaded, rate::board),
    of_pack(CheckCode::PackRateTooHigh, rate::too_fast),
    of_settings(CheckCode::SettingsWrongCellCount, count::cell_count),
    of_settings(CheckCode::SettingsCellCountUnsure, count::count_unsure),
    of_pack(CheckCode::PackLethalVoltage, volts::lethal),
    of_pack(CheckCode::PackTouchVoltage, volts::touch),
];

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_rule_stands_where_its_code_is_shown() {
        for rule in EVERY_ACT {
            assert_eq!(rule.place, rule.code.place(), "{}", rule.code.code());
        }
    }
}
