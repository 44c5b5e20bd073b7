//! How full a pack is now: the last that is known of it, less what it lost since.

use super::known::Known;
use crate::codes::{LastUse, RecordKind};
use crate::parts::identify::identify;
use crate::parts::pack::{Pack, Rest, Start};
use crate::units::{in_amp_hours, volts};

/// Days of a month in which losses are told.
pub(super) const MONTH_S: f64 = 30.0 * 86_400.0;
/// Drawn by a protection board, A: usually, at the least, at the most. Small boards draw tens of microamps, those that
/// are looked at by radio some milliamps.
const BOARD_A: [f64; 3] = [0.0003, 0.000_02, 0.005];
/// A charge that ended as it should is known so well, as a share.
const END_SD: f64 = 0.03;

/// How full it is, as a span, and since when that is known.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(super) struct Level {
    pub(super) soc: f64,
    pub(super) low: f64,
    pub(super) high: f64,
    pub(super) at_s: f64,
}

/// What it loses in a month where it is kept: likely, at the least, at the most.
pub(super) fn loses(pack: &Pack, kept_at_c: f64) -> [f64; 3] {
    let keeping = &pack.profile.keeping;
    let warm = keeping.loses_at(kept_at_c);
    let ah = in_amp_hours(pack.capacity).max(1e-6);
    let board = if pack.bms_max.is_some() { BOARD_A } else { [0.0; 3] };
    let by_board = board.map(|a| a * MONTH_S / 3600.0 / ah);
    [0, 1, 2].map(|k| keeping.loses[k] * warm + by_board[k])
}

impl Level {
    /// So much later, with what it loses in a month.
    pub(super) fn later(self, to_s: f64, loses: [f64; 3]) -> Self {
        let months = ((to_s - self.at_s) / MONTH_S).max(0.0);
        Self {
            soc: (self.soc - loses[0] * months).max(0.0),
            low: (self.low - loses[2] * months).max(0.0),
            high: (self.high - loses[1] * months).max(0.0),
            at_s: self.at_s,
        }
    }

    /// After so much went in (or, negative, out), as shares of its capacity.
    fn moved(self, share: f64, at_s: f64) -> Self {
        const COUNT_SD: f64 = 0.03;
        let off = COUNT_SD * share.abs();
        Self {
            soc: (self.soc + share).clamp(0.0, 1.0),
            low: (self.low + share - off).clamp(0.0, 1.0),
            high: (self.high + share + off).clamp(0.0, 1.0),
            at_s,
        }
    }
}

/// What a record says of the level by itself.
fn told(pack: &Pack, known: &Known) -> Option<Level> {
    let at =
        |soc: f64, off: f64| Level { soc, low: (soc - off).max(0.0), high: (soc + off).min(1.0), at_s: known.at_s };
    match known.kind {
        RecordKind::Note | RecordKind::Photo => None,
        RecordKind::Rest => rested(pack, known),
        // Whatever it gave, it is empty then.
        RecordKind::Test => Some(at(known.end_soc.unwrap_or(if known.whole { 0.02 } else { return None }), END_SD)),
        RecordKind::Charge | RecordKind::Discharge => known.end_soc.map(|soc| at(soc, END_SD)),
    }
}

/// The level a rest reading tells.
pub(super) fn rested(pack: &Pack, known: &Known) -> Option<Level> {
    let pack_v = known.volts?;
    if !pack.profile.voltage_tells_soc {
        return None;
    }
    let rest = Rest { minutes: Some(known.rested_min.unwrap_or(USUAL_REST_MIN)), last: known.last };
    let read = Pack { start: Start::Rest { volts: volts(pack_v), rest }, ..pack.clone() };
    let found = identify(&read, false);
    Some(Level { soc: found.soc, low: found.low, high: found.high, at_s: known.at_s })
}

/// Who reads a pack on the shelf reads one that has rested for a day at least.
const USUAL_REST_MIN: f64 = 1440.0;

/// The level after the last record that tells one, and after what went in and out since.
pub(super) fn level(pack: &Pack, records: &[Known], kept_at_c: f64) -> Option<Level> {
    let loses = loses(pack, kept_at_c);
    let ah = in_amp_hours(pack.capacity).max(1e-6);
    records.iter().fold(None, |level: Option<Level>, known| {
        if known.kind == RecordKind::Rest
            && let (Some(read), Some(before)) = (rested(pack, known), level)
        {
            // Where a flat curve tells little, what was known before narrows it.
            let carried = before.later(known.at_s, loses);
            let (low, high) = (read.low.max(carried.low), read.high.min(carried.high));
            return Some(if low <= high {
                Level { soc: carried.soc.clamp(low, high), low, high, at_s: known.at_s }
            } else {
                read
            });
        }
        let counted = known.charge_ah.map(|ah_moved| match known.kind {
            RecordKind::Discharge => -ah_moved / ah,
            _ => ah_moved / ah,
        });
        told(pack, known).or_else(|| match (known.kind, level, counted) {
            (RecordKind::Charge | RecordKind::Discharge, Some(level), Some(share)) => {
                Some(level.later(known.at_s, loses).moved(share, known.at_s))
            }
            // What went in or out is not known: neither is the level.
            (RecordKind::Charge | RecordKind::Discharge, ..) => None,
            (RecordKind::Test, ..) => None,
            _ => level,
        })
    })
}

/// What a pack did before a record: charged or discharged last.
pub(super) fn last_use(records: &[Known], before: usize) -> LastUse {
    let active = records[..before].iter().rev().find_map(|known| match known.kind {
        RecordKind::Charge => Some(LastUse::Charged),
        RecordKind::Discharge | RecordKind::Test => Some(LastUse::Discharged),
        RecordKind::Rest | RecordKind::Note | RecordKind::Photo => None,
    });
    active.unwrap_or(LastUse::Unknown)
}
