//! What rest readings give away: a pack that loses charge by itself, a cell that drifts from its neighbours.

use super::known::Known;
use super::level::{MONTH_S, loses};
use crate::codes::RecordKind;
use crate::lines::{leaks, meters};
use crate::parts::pack::Pack;

/// A loss faster than its kind's.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Leak {
    /// In 30 days at the least, as a share.
    pub(super) a_month: f64,
    /// What is usual, likewise.
    pub(super) usual: f64,
}

/// A cell that drifts.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Drift {
    /// Which, from 1.
    pub(super) cell: usize,
    /// By so much in so many days, V.
    pub(super) by_v: f64,
    pub(super) days: f64,
    /// Whether that is as much as only a cell loses that is shorted inside.
    pub(super) shorted: bool,
}

/// The rest readings since the pack was last used, those after it had settled.
fn quiet<'a>(pack: &Pack, records: &'a [Known]) -> Vec<&'a Known> {
    let used = records
        .iter()
        .rposition(|known| !matches!(known.kind, RecordKind::Rest | RecordKind::Note | RecordKind::Photo));
    let settled_s =
        used.map_or(f64::NEG_INFINITY, |n| records[n].at_s + 3600.0 * pack.profile.resting.settled_h.max(12.0));
    let since = &records[used.map_or(0, |n| n + 1)..];
    since.iter().filter(|known| known.kind == RecordKind::Rest && known.at_s >= settled_s).collect()
}

/// Whether the pack loses charge by itself.
pub(super) fn leak(pack: &Pack, records: &[Known], kept_at_c: f64) -> Option<Leak> {
    let profile = &pack.profile;
    if !profile.voltage_tells_soc || profile.traits.farads {
        return None;
    }
    let quiet = quiet(pack, records);
    let (first, last) = (quiet.first()?, quiet.last()?);
    let months = (last.at_s - first.at_s) / MONTH_S;
    let series = f64::from(pack.series);
    let (from_v, to_v) = (first.volts? / series, last.volts? / series);
    // The most favourable to the pack: it began a little lower and ended a little higher than was read.
    let lost = profile.ocv.soc_at(from_v - meters::SHELF_V.at) - profile.ocv.soc_at(to_v + meters::SHELF_V.at);
    let usual = loses(pack, kept_at_c)[0];
    let a_month = lost / months.max(1e-9);
    (months > 0.01 && lost > 0.0 && a_month > leaks::TIMES_USUAL.at * usual).then_some(Leak { a_month, usual })
}

/// Whether a cell falls behind its neighbours while nothing is done with the pack, or from use to use.
pub(super) fn drift(pack: &Pack, records: &[Known], kept_at_c: f64) -> Option<Drift> {
    let profile = &pack.profile;
    if !profile.voltage_tells_soc || profile.traits.farads || pack.series < 2 {
        return None;
    }
    let read: Vec<&Known> = quiet(pack, records).into_iter().filter(|known| known.cells(pack).is_some()).collect();
    let (first, last) = (read.first()?, read.last()?);
    let (a, b) = (first.cells(pack)?, last.cells(pack)?);
    let days = (last.at_s - first.at_s) / 86_400.0;
    if days < 0.25 {
        return None;
    }
    let fell: Vec<f64> = a.iter().zip(b).map(|(a, b)| a - b).collect();
    let mut sorted = fell.clone();
    sorted.sort_by(f64::total_cmp);
    // Against the middle of its neighbours: of two cells against the other.
    let middle = if sorted.len() == 2 { sorted[0] } else { sorted[sorted.len() / 2] };
    let usual = loses(pack, kept_at_c)[0] * days / 30.0;
    let worst = (0..fell.len()).max_by(|a, b| fell[*a].total_cmp(&fell[*b]))?;
    let by_v = fell[worst] - middle;
    // What a sound cell may lose more than its neighbours, by the slope where it stands.
    let soc = profile.ocv.soc_at(b[worst]);
    let allowed_v = profile.ocv.at((soc + leaks::TIMES_USUAL.at * usual).min(1.0)).0 - profile.ocv.at(soc).0;
    (by_v > meters::SHELF_CELL_V.at + allowed_v).then_some(Drift {
        cell: worst + 1,
        by_v,
        days,
        shorted: leaks::SHORTED_A_DAY_V.of(profile).is_some_and(|a_day_v| by_v > a_day_v * days),
    })
}
