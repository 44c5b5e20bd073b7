//! How much a pack may be given as it stands: what settings are made from, and what every act is held against.

use crate::codes::{PackMark, Practice};
use crate::lines::{deep, rates};
use crate::parts::identify::Identified;
use crate::parts::pack::Pack;
use crate::units::{CRate, in_amps, in_celsius};

/// A pack as it stands, and how hard somebody wants to charge it.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Subject<'a> {
    pub(crate) pack: &'a Pack,
    pub(crate) found: &'a Identified,
    pub(crate) practice: Practice,
}

/// What made it less than the practice would.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum HeldBy {
    /// Nothing: it is the practice's own rate.
    Practice,
    /// It was left too low.
    Depth,
    /// It is too cold or too warm for more.
    Warmth,
}

/// How much it may be given.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct May {
    /// A; infinite where the chemistry is charged by amps and no label speaks.
    pub(crate) amps: f64,
    pub(crate) held: HeldBy,
}

/// What a pack may be given.
pub(crate) fn may(subject: &Subject<'_>) -> May {
    let Subject { pack, found, practice } = *subject;
    let usual_a = usual(pack, practice);
    let gentle_a = if deep(pack, found) { gentle(pack) } else { f64::INFINITY };
    let cold_a = pack.cold_limit().map_or(f64::INFINITY, in_amps);
    let hot_a = if pack.hot() { 0.5 * usual_a } else { f64::INFINITY };
    let warmth_a = cold_a.min(hot_a);
    let least_a = usual_a.min(gentle_a).min(warmth_a);
    let held = match least_a {
        a if a >= usual_a => HeldBy::Practice,
        a if a >= gentle_a => HeldBy::Depth,
        _ => HeldBy::Warmth,
    };
    May { amps: least_a, held }
}

/// The most a deep-discharged pack is fed with, A; infinite where such a pack is not known.
pub(crate) fn gentle(pack: &Pack) -> f64 {
    rates::GENTLE_C.of(&pack.profile).map_or(f64::INFINITY, |rate| in_amps(CRate(rate).current(pack.nameplate)))
}

/// Whether a pack was left so low that it begins with little current. A mean is not a cell: where the cells of what
/// burns were not read, one of them counts as lower.
pub(crate) fn deep(pack: &Pack, found: &Identified) -> bool {
    let profile = &pack.profile;
    let Some(lowest_v) = found.lowest_cell_v(pack.series) else { return false };
    let under = |line: Option<f64>| line.is_some_and(|v| lowest_v < v);
    under(deep::LINE_V.of(profile))
        || under(deep::SOFT_V.of(profile))
        || unread(pack, found) && under(deep::MEAN_V.of(profile))
}

/// Whether no single cell of several was read.
pub(crate) fn unread(pack: &Pack, found: &Identified) -> bool {
    pack.series > 1 && (found.positions_v.is_empty() || found.cells_per_reading > 1)
}

/// The rate of a practice as a current, A.
pub(crate) fn usual(pack: &Pack, practice: Practice) -> f64 {
    let rates = pack.profile.rates;
    let label_a = pack.rated_believed().map_or(f64::INFINITY, in_amps);
    let standard_a = in_amps(CRate(rates.standard).current(pack.nameplate)) * pack.uneven;
    if pack.mark == Some(PackMark::Recovered) {
        return label_a.min(0.5 * standard_a);
    }
    let cold = in_celsius(pack.temperature) < pack.profile.warmth.full_from_c();
    match practice {
        Practice::Gentle => pack.profile.gentle_share() * standard_a.min(label_a),
        Practice::Hurry if !cold => match pack.rated_believed() {
            Some(rated) => in_amps(rated),
            None => in_amps(CRate(rates.hurry).current(pack.nameplate)) * pack.uneven,
        },
        // In the cold there is no hurry.
        Practice::Standard | Practice::Hurry => standard_a.min(label_a),
    }
}

/// Of lead that begins with little current the voltage that says it is no dead cell, V; `None` of other packs.
pub(crate) fn recovered_v(pack: &Pack) -> Option<f64> {
    pack.profile.traits.in_blocks.then(|| deep::RECOVERED_V.at * f64::from(pack.series))
}

/// Whether the sum of a reading over so many lead cells is what all but one of them have when they are charged, while
/// an even battery of that sum would be flat: the terminals cannot tell the two apart.
pub(crate) fn one_may_be_dead(pack: &Pack, cells: f64, sum_v: f64) -> bool {
    let others = cells - 1.0;
    let flat = deep::SOFT_V.of(&pack.profile).is_some_and(|soft_v| sum_v < soft_v * cells);
    flat && hides_a_dead_one(pack, cells, sum_v) && others >= 2.0
}

/// Whether so many lead cells, one of them dead and the others charged, may have that sum.
pub(crate) fn hides_a_dead_one(pack: &Pack, cells: f64, sum_v: f64) -> bool {
    let others = cells - 1.0;
    pack.profile.traits.in_blocks
        && cells >= 3.0
        && (deep::CHARGED_LOW_V.at * others..=deep::CHARGED_HIGH_V.at * others).contains(&sum_v)
}
