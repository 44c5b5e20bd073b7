//! Whether what a pack reads fits the cells it is said to have.

use crate::acts::act::{Act, ActKind};
use crate::acts::finding::Finding;
use crate::codes::CheckCode;
use crate::lines::{deep, readings};
use crate::physics::cell::Profile;
use crate::units::trimmed;

/// The cell counts that lead batteries are made with: of 6 V and of 12 V, one or several.
const LEAD_SERIES: &[u32] = &[3, 6, 12, 18, 24];
/// Where a plan says how many cells its pack has.
const SERIES: &str = "/pack/series";

/// The most a sound cell stands at rest, V.
fn most_at_rest_v(profile: &Profile) -> f64 {
    profile.traits.rests_below_v.unwrap_or(profile.ceiling_v)
}

/// Whether a sound pack of so many cells may read that at rest, and is made.
fn fits(profile: &Profile, cells: u32, rest_v: f64) -> bool {
    let made = !profile.traits.in_blocks || LEAD_SERIES.contains(&cells);
    made && (profile.ocv.at(0.02).0..=most_at_rest_v(profile)).contains(&(rest_v / f64::from(cells)))
}

/// Whether the measured voltage fits the cell count, or another one better.
pub(super) fn cell_count(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    let profile = &pack.profile;
    if !found.measured {
        return None;
    }
    let line_v = deep::LINE_V.of(profile)?;
    let series = f64::from(pack.series);
    let (rest_v, cell_v) = (found.rest_v, found.rest_v / series);
    let full_v = most_at_rest_v(profile);
    let others = (1..=pack.series * 2 + 1).filter(|n| *n != pack.series && fits(profile, *n, rest_v));
    let nearest = others.min_by_key(|n| n.abs_diff(pack.series));
    let values = [("voltage_v", rest_v), ("series", series), ("cell_v", cell_v)];
    let fits = nearest
        .map_or(String::new(), |n| format!(" It would fit {n}S at {} V a cell.", trimmed(rest_v / f64::from(n), 2)));
    let count = |finding: Finding| match nearest {
        Some(n) => finding.lifted_by(format!("Count the cells. If there are {n}, say so."), SERIES, f64::from(n)),
        None => finding.lifted_at("Count the cells, and measure once more.", SERIES),
    };
    if cell_v > full_v {
        return Some(count(Finding::stop(
            CheckCode::SettingsWrongCellCount,
            format!(
                "{} V at rest is {} V a cell: more than {}S {} can hold.{fits} Count the cells.",
                trimmed(rest_v, 2),
                trimmed(cell_v, 2),
                pack.series,
                profile.name
            ),
            &values,
        )));
    }
    // A deep pack always reads as one of fewer cells: Rescue asks what it is.
    // What is charged by the clock is not overcharged by its volts.
    let asked = act.kind == ActKind::Charge && !profile.traits.timed || profile.traits.in_blocks;
    if asked && cell_v < line_v && cell_v > 0.0 && nearest.is_some() {
        return Some(count(Finding::stop(
            CheckCode::SettingsWrongCellCount,
            format!(
                "{} V at rest is {} V a cell for {}S.{fits} Charged as {}S it would be overcharged: count the cells.",
                trimmed(rest_v, 2),
                trimmed(cell_v, 2),
                pack.series,
                pack.series
            ),
            &values,
        )));
    }
    None
}

/// A pack that is nearly empty, or a charged one of fewer cells.
pub(super) fn count_unsure(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    let profile = &pack.profile;
    let line_v = deep::LINE_V.of(profile)?;
    let series = f64::from(pack.series);
    let (rest_v, cell_v) = (found.rest_v, found.rest_v / series);
    let unread = act.kind == ActKind::Charge && found.measured && found.positions_v.is_empty();
    if !unread || found.soc >= readings::NEARLY_EMPTY.at || cell_v < line_v {
        return None;
    }
    let fewer = (1..pack.series).filter(|n| fits(profile, *n, rest_v)).max()?;
    Some(Finding::caution(
        CheckCode::SettingsCellCountUnsure,
        format!(
            "{} V is a nearly empty {}S, but also a charged {fewer}S at {} V a cell: count the cells at the balance lead.",
            trimmed(rest_v, 2),
            pack.series,
            trimmed(rest_v / f64::from(fewer), 2)
        ),
        &[("voltage_v", rest_v), ("series", series), ("fits_series", f64::from(fewer))],
    ))
}
