//! How cells are brought to one level before they are joined: an act like any other, judged by the one judge.

use super::stock::Stock;
use crate::acts::{Act, ActKind, judge};
use crate::chain::may::{Subject, may};
use crate::codes::{LastUse, Practice};
use crate::formats::{LevelDoc, PackDoc, StartDoc};
use crate::parts::identify::identify;
use crate::parts::plan::{ROOM_C, alone};
use crate::physics::cell::Profile;
use crate::units::trimmed;

/// Cells within this of one another are level, V.
const LEVEL_V: f64 = 0.01;
/// What settles slowly beyond the resistance makes it take so many times as long.
const SLOWER: f64 = 3.0;
/// Nobody counts on less, h.
const LEAST_H: f64 = 1.0;

/// How the low ones are brought up.
pub(super) enum Level {
    /// Charged alone to a voltage, with no more than so many amps.
    Charge { to_v: f64, amps: f64 },
    /// What the cells are was not said.
    Unknown,
    /// The judge refuses it, and says why.
    Refused(String),
}

impl Level {
    /// Of some cells in parallel that stand at one voltage, and are to stand at another.
    pub(super) fn of(stock: &Stock, cells: &[usize], low_v: f64, high_v: f64) -> Self {
        let Some(profile) = stock.profile else { return Self::Unknown };
        // Nothing is charged above full, however high its neighbours stand.
        let to_v = high_v.min(profile.full_v);
        let ah: f64 = cells.iter().map(|cell| stock.cells[*cell].ah).sum();
        let document = PackDoc {
            chemistry: Some(profile.chemistry),
            series: Some(1),
            capacity_ah: (!profile.traits.farads).then_some(ah),
            start: Some(StartDoc { rest_voltage_v: Some(low_v), last: Some(LastUse::Unknown), ..StartDoc::default() }),
            temperature_c: Some(ROOM_C),
            ..PackDoc::default()
        };
        let Ok(pack) = alone(&document) else { return Self::Unknown };
        let found = identify(&pack, false);
        let subject = Subject { pack: &pack, found: &found, practice: Practice::Standard };
        let amps = may(&subject).amps;
        let act = Act {
            kind: ActKind::Charge,
            subject,
            around_c: ROOM_C,
            dials: true,
            asked_a: amps,
            most_a: amps,
            likely_a: amps,
            unloaded_a: None,
            highest_v: to_v,
            lasts_s: 0.0,
        };
        match judge(act, Vec::new()) {
            Ok(cleared) => Self::Charge { to_v, amps: cleared.act().asked_a },
            Err(refused) => {
                Self::Refused(refused.findings.first().map_or_else(String::new, |first| first.message.clone()))
            }
        }
    }

    /// The charge, where there is one.
    pub(super) fn document(&self) -> Option<LevelDoc> {
        match self {
            Self::Charge { to_v, amps } => Some(LevelDoc { to_v: *to_v, current_a: *amps }),
            Self::Unknown | Self::Refused(_) => None,
        }
    }

    /// What to do with those that stand low.
    pub(super) fn sentence(&self, which: &str) -> String {
        match self {
            Self::Charge { to_v, amps } => format!(
                "Charge {which} alone to {} V first, with {} A at most, the lowest first. Measure again after an hour.",
                trimmed(*to_v, 2),
                trimmed(*amps, 2)
            ),
            Self::Unknown => "Say what kind of cells they are: that decides how far they may be charged.".to_owned(),
            Self::Refused(why) => why.clone(),
        }
    }
}

/// How long two cells that were joined take to come level, h: their capacities at the slope where they stand, through
/// their resistances. `None` where neither is known.
pub(super) fn settles_h(stock: &Stock, cells: &[usize; 2], low_v: f64, high_v: f64) -> Option<f64> {
    let profile: &Profile = stock.profile?;
    let ohm: f64 = cells.iter().filter_map(|cell| stock.ohm(*cell)).sum();
    let soc = |v: f64| profile.ocv.soc_at(v);
    let slope = ((high_v - low_v) / (soc(high_v) - soc(low_v)).max(1e-3)).max(1e-3);
    let farads: Vec<f64> = cells.iter().map(|cell| stock.cells[*cell].ah * 3600.0 / slope).collect();
    let both = farads[0] * farads[1] / (farads[0] + farads[1]);
    let seconds = SLOWER * ohm * both * ((high_v - low_v) / LEVEL_V).max(1.0).ln();
    Some((seconds / 3600.0).max(LEAST_H).ceil())
}
