//! Before cells are joined in parallel: how far they stand apart, what would flow, and in which order to level them.

use super::arrange::Arrangement;
use super::stock::{Stock, Unit};
use crate::codes::Severity;
use crate::formats::JoinDoc;
use crate::units::trimmed;

/// Further apart than this is a caution, V a cell; the rule for joining packs in parallel.
const CAUTION_V: f64 = 0.05;
/// Further than this nothing is joined.
const STOP_V: f64 = 0.10;

/// What to do, group by group where the cells stand apart.
pub(super) fn joins(
    stock: &Stock,
    units: &[Unit],
    arrangement: &Arrangement,
    places: &[(String, u32)],
) -> Vec<JoinDoc> {
    let of_group = |(group, (pack, number)): (&Vec<usize>, &(String, u32))| {
        let cells: Vec<usize> = group.iter().flat_map(|unit| units[*unit].cells.iter().copied()).collect();
        if group.len() < 2 {
            return None;
        }
        let mut by_volts: Vec<(usize, f64)> =
            cells.iter().filter_map(|cell| stock.cells[*cell].volts.map(|v| (*cell, v))).collect();
        by_volts.sort_by(|a, b| a.1.total_cmp(&b.1));
        let ((lowest, low_v), (highest, high_v)) = (*by_volts.first()?, *by_volts.last()?);
        let spread_v = high_v - low_v;
        if spread_v <= CAUTION_V {
            return None;
        }
        let ohm = |cell: usize| stock.cells[cell].mohm.map(|mohm| mohm / 1000.0);
        let inrush_a = ohm(lowest).zip(ohm(highest)).map(|(a, b)| spread_v / (a + b));
        let severity = if spread_v > STOP_V { Severity::Stop } else { Severity::Caution };
        let flows = inrush_a.map_or(String::new(), |a| format!(", about {} A flow at the first touch", trimmed(a, 0)));
        let (apart, high) = (trimmed(spread_v, 3), trimmed(high_v, 2));
        let order: Vec<String> = by_volts.iter().map(|(cell, _)| stock.cells[*cell].id.clone()).collect();
        let message = match severity {
            Severity::Stop => format!(
                "They stand {apart} V apart{flows}: do not join them. Charge each alone to {high} V first, the lowest first, then measure again."
            ),
            _ => format!(
                "They stand {apart} V apart{flows}. Join them through a resistor of some ohms for an hour, or charge the lowest to {high} V first."
            ),
        };
        Some(JoinDoc { pack: pack.clone(), group: *number, severity, spread_v, inrush_a, order, message })
    };
    arrangement.0.iter().zip(places).filter_map(of_group).collect()
}
