//! What the last rest reading says of a pack that must not simply be charged: read wrongly, too full, too deep, or with
//! a cell apart. The lines are those of a plan and of Rescue.

use super::known::Known;
use crate::chain::may::deep;
use crate::codes::{NeedCode, NeedWhy};
use crate::formats::NeedDoc;
use crate::formats::moment::written;
use crate::lines::{cells, deep as lines, meters};
use crate::parts::identify::{bounds, identify};
use crate::parts::pack::{Pack, Rest, Start};
use crate::units::{trimmed, volts};

/// One need in words.
pub(super) fn need(code: NeedCode, why: NeedWhy, by_s: Option<f64>, message: String) -> NeedDoc {
    NeedDoc { code, why, by: by_s.map(written), message }
}

/// Why it is not to be charged as usual, gravest first; `None` where it may be.
pub(super) fn unsound(pack: &Pack, read: &Known) -> Option<NeedDoc> {
    does_not_fit(pack, read).or_else(|| above_full(pack, read)).or_else(|| too_deep(pack, read))
}

fn does_not_fit(pack: &Pack, read: &Known) -> Option<NeedDoc> {
    let given = read.cells_v.len();
    let message = format!(
        "{given} readings do not fit {} cells in series: read each cell, and check how many there are.",
        pack.series
    );
    (given > 0 && given != pack.series as usize).then(|| need(NeedCode::LookAt, NeedWhy::DoesNotFit, None, message))
}

/// The lowest and the highest cell, V: as read, else the mean.
fn ends(pack: &Pack, read: &Known) -> Option<(f64, f64)> {
    match read.cells(pack) {
        Some(each_v) => Some(bounds(each_v)),
        None => read.volts.map(|v| (v / f64::from(pack.series), v / f64::from(pack.series))),
    }
}

fn above_full(pack: &Pack, read: &Known) -> Option<NeedDoc> {
    let profile = &pack.profile;
    let (_, high_v) = ends(pack, read)?;
    let most_v = profile.traits.rests_below_v.unwrap_or(profile.ceiling_v);
    let mean_v = read.volts.map_or(high_v, |v| v / f64::from(pack.series));
    (mean_v > most_v || high_v > most_v + meters::CELL_V.at).then(|| {
        let message = format!(
            "It reads {} V a cell, and {} V is the most {} may stand at. Measure again, and count its cells. If that is right, do not charge it.",
            trimmed(high_v, 2),
            trimmed(most_v, 2),
            profile.name
        );
        need(NeedCode::LookAt, NeedWhy::AboveFull, None, message)
    })
}

fn too_deep(pack: &Pack, read: &Known) -> Option<NeedDoc> {
    let rest = Rest { minutes: read.rested_min, last: read.last };
    let start = match read.cells(pack) {
        Some(each_v) => Start::Positions { volts: each_v.iter().map(|v| volts(*v)).collect(), cells: 1, rest },
        None => Start::Rest { volts: volts(read.volts?), rest },
    };
    let found = identify(&Pack { start, ..pack.clone() }, false);
    let low_v = found.lowest_cell_v(pack.series)?;
    let profile = &pack.profile;
    deep(pack, &found).then(|| {
        let line_v = lines::LINE_V.of(profile).unwrap_or_default();
        let cell = trimmed(low_v, 2);
        let message = if profile.traits.in_blocks {
            format!("It reads {cell} V a cell: flat for long, or with a dead cell. Let Rescue judge it before you charge it.")
        } else if low_v >= line_v {
            format!("{cell} V a cell is only the mean, and one of them may be too low. Read each cell before you charge it.")
        } else {
            format!("It reads {cell} V a cell, under {} V. Do not charge it as usual: let Rescue judge it.", trimmed(line_v, 2))
        };
        need(NeedCode::Rescue, NeedWhy::TooDeep, None, message)
    })
}

/// Why it is not to be charged before its cells are level, by one reading of them.
pub(super) fn cell_apart(pack: &Pack, read: &Known) -> Option<NeedDoc> {
    let each_v = read.cells(pack)?;
    let (low_v, high_v) = bounds(each_v);
    // A cell of lead that stands apart is so low that its depth is told already.
    (pack.profile.traits.burns && high_v - low_v > cells::ILL_V.at).then(|| {
        let message = format!(
            "Its cells read {} to {} V: one of them is ill or was drained. Read them again, and level them before you charge the pack.",
            trimmed(low_v, 2),
            trimmed(high_v, 2)
        );
        need(NeedCode::LookAt, NeedWhy::CellApart, None, message)
    })
}
