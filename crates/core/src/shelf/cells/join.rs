//! Before cells are joined, side by side or in series: how far they stand apart, what would flow, and how to level them.

use super::arrange::Arrangement;
use super::level::{Level, settles_h};
use super::stock::{Stock, Unit};
use crate::codes::Severity;
use crate::formats::JoinDoc;
use crate::lines::cells;
use crate::units::{show_hours, trimmed};

/// How far some cells, or groups, stand apart.
struct Apart {
    /// Each with its volts, the lowest first.
    by_volts: Vec<(usize, f64)>,
}

impl Apart {
    fn of(volts: impl Iterator<Item = (usize, f64)>) -> Option<Self> {
        let mut by_volts: Vec<(usize, f64)> = volts.collect();
        by_volts.sort_by(|a, b| a.1.total_cmp(&b.1));
        (by_volts.len() > 1).then_some(Self { by_volts })
    }

    fn ends(&self) -> ((usize, f64), (usize, f64)) {
        (self.by_volts[0], self.by_volts[self.by_volts.len() - 1])
    }

    /// How grave that is; `None` where it may be joined as it is.
    fn severity(&self) -> Option<Severity> {
        let ((_, low_v), (_, high_v)) = self.ends();
        match high_v - low_v {
            v if v > cells::JOIN_STOP_V.at => Some(Severity::Stop),
            v if v > cells::JOIN_V.at => Some(Severity::Caution),
            _ => None,
        }
    }
}

/// What to do before cells are joined, pack by pack where they stand apart.
pub(super) fn joins(
    stock: &Stock,
    units: &[Unit],
    arrangement: &Arrangement,
    places: &[(String, u32)],
) -> Vec<JoinDoc> {
    let group_cells: Vec<Vec<usize>> = arrangement
        .0
        .iter()
        .map(|group| group.iter().flat_map(|unit| units[*unit].cells.iter().copied()).collect())
        .collect();
    let side_by_side =
        arrangement.0.iter().zip(&group_cells).zip(places).filter_map(|((group, cells), place)| {
            if group.len() < 2 { None } else { in_parallel(stock, cells, place) }
        });
    let mut found: Vec<JoinDoc> = side_by_side.collect();
    let mut names: Vec<&str> = places.iter().map(|(name, _)| name.as_str()).collect();
    names.dedup();
    for name in names {
        let of_pack = || places.iter().zip(&group_cells).filter(|((pack, _), _)| pack == name);
        let groups: Vec<(u32, &Vec<usize>)> = of_pack().map(|((_, number), cells)| (*number, cells)).collect();
        found.extend(in_series(stock, name, &groups));
    }
    found
}

/// What breaks off a joining that levels by itself.
const PART: &str = "Part them at once if one gets warm.";

fn in_parallel(stock: &Stock, cells: &[usize], (pack, number): &(String, u32)) -> Option<JoinDoc> {
    let apart = Apart::of(cells.iter().filter_map(|cell| Some((*cell, stock.cells[*cell].volts?))))?;
    let severity = apart.severity()?;
    let ((lowest, low_v), (highest, high_v)) = apart.ends();
    let spread_v = high_v - low_v;
    let inrush_a = stock.ohm(lowest).zip(stock.ohm(highest)).map(|(a, b)| spread_v / (a + b));
    let smaller_ah = stock.cells[lowest].ah.min(stock.cells[highest].ah);
    let told = inrush_a.map_or(String::new(), |a| format!(" About {} A would flow at the first touch.", amps(a)));
    let (apart_v, level) = (trimmed(spread_v, 3), Level::of(stock, &[lowest], low_v, high_v));
    let harmless = inrush_a.filter(|a| *a <= cells::TOUCH_C.at * smaller_ah && severity == Severity::Caution);
    let settles_h = harmless.and_then(|_| settles_h(stock, &[lowest, highest], low_v, high_v));
    let message = match (harmless, settles_h) {
        (Some(a), Some(hours)) => format!(
            "They stand {apart_v} V apart. Join them: {} A at first is harmless. {PART} Leave them for {} before you use the pack.",
            amps(a),
            show_hours(hours)
        ),
        (Some(a), None) => format!(
            "They stand {apart_v} V apart. Join them: {} A at first is harmless. {PART} Leave them overnight before you use the pack.",
            amps(a)
        ),
        _ => format!("They stand {apart_v} V apart: do not join them yet.{told} {}", level.sentence("each")),
    };
    let order = apart.by_volts.iter().map(|(cell, _)| stock.cells[*cell].id.clone()).collect();
    Some(JoinDoc {
        pack: pack.clone(),
        group: *number,
        severity,
        spread_v,
        inrush_a,
        order,
        message,
        level: level.document().filter(|_| harmless.is_none()),
        settles_s: settles_h.map(|hours| hours * 3600.0),
        in_series: false,
    })
}

/// Groups that are put in series: nothing levels them in use, and the highest is full first.
fn in_series(stock: &Stock, pack: &str, groups: &[(u32, &Vec<usize>)]) -> Option<JoinDoc> {
    let volts = |cells: &[usize]| {
        let read: Vec<(f64, f64)> =
            cells.iter().filter_map(|cell| Some((stock.cells[*cell].volts?, stock.cells[*cell].ah))).collect();
        let ah: f64 = read.iter().map(|(_, ah)| ah).sum();
        (ah > 0.0).then(|| read.iter().map(|(v, ah)| v * ah).sum::<f64>() / ah)
    };
    let apart = Apart::of(groups.iter().enumerate().filter_map(|(n, (_, cells))| Some((n, volts(cells)?))))?;
    let severity = apart.severity()?;
    let ((lowest, low_v), (highest, high_v)) = apart.ends();
    let level = Level::of(stock, groups[lowest].1, low_v, high_v);
    let (low, high, apart_v) = (groups[lowest].0, groups[highest].0, trimmed(high_v - low_v, 3));
    let message = format!(
        "Group {low} stands {apart_v} V below group {high}. In series that stays so, and group {high} is overcharged first. {}",
        level.sentence("each low group")
    );
    let order = apart.by_volts.iter().flat_map(|(n, _)| groups[*n].1.iter().map(|cell| stock.cells[*cell].id.clone()));
    Some(JoinDoc {
        pack: pack.to_owned(),
        group: low,
        severity,
        spread_v: high_v - low_v,
        inrush_a: None,
        order: order.collect(),
        message,
        level: level.document(),
        settles_s: None,
        in_series: true,
    })
}

fn amps(a: f64) -> String {
    trimmed(a, if a < 10.0 { 1 } else { 0 })
}
