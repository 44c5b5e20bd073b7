//! The rules that hold for every act, one row each.

mod count;
mod rate;
mod state;
mod volts;
mod warmth;

pub(crate) use state::a_thousandfold;

use crate::acts::act::Act;
use crate::acts::finding::Finding;
use crate::codes::Place;

/// One rule: where in the chain it is shown, and what it finds.
pub(crate) struct Rule {
    pub(crate) place: Place,
    pub(crate) run: fn(&Act<'_>) -> Option<Finding>,
}

const fn of_pack(run: fn(&Act<'_>) -> Option<Finding>) -> Rule {
    Rule { place: Place::Pack, run }
}

const fn of_settings(run: fn(&Act<'_>) -> Option<Finding>) -> Rule {
    Rule { place: Place::Settings, run }
}

/// What every act passes, whatever room it comes from.
pub(crate) const EVERY_ACT: &[Rule] = &[
    of_pack(state::retired),
    of_pack(state::told_in_the_wrong_unit),
    of_pack(state::reversed),
    of_pack(state::failed),
    of_pack(state::one_dead),
    of_pack(state::overfull),
    of_pack(warmth::too_cold),
    of_pack(warmth::too_hot),
    of_pack(warmth::frozen),
    of_pack(warmth::cold_rate),
    of_pack(warmth::hot_start),
    of_pack(warmth::cools_down),
    of_pack(rate::board),
    of_pack(rate::too_fast),
    of_settings(count::cell_count),
    of_settings(count::count_unsure),
    of_pack(volts::lethal),
    of_pack(volts::touch),
];
