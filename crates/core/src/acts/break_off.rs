//! What breaks an act off: told and judged by the same rows.

use crate::codes::AbortCode;
use crate::formats::{AbortDoc, named};
use crate::lines::{outward, warmth};
use crate::parts::pack::Pack;
use crate::units::{in_celsius, trimmed};

/// One condition: by which quantity, past which figure, as it is told.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Break {
    pub(crate) code: AbortCode,
    /// As a clause behind “if”.
    pub(crate) told: String,
    pub(crate) values: Vec<(&'static str, f64)>,
}

impl Break {
    pub(crate) fn document(&self) -> AbortDoc {
        AbortDoc { code: self.code, message: self.told.clone(), values: named(&self.values) }
    }
}

/// How warm a pack may become before it is broken off.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Warmest {
    /// °C.
    pub(crate) at_c: f64,
    /// Whether the room decides and not the kind of cell.
    pub(crate) by_room: bool,
    /// The warmer of the room and the pack as it begins, °C.
    from_c: f64,
}

/// What breaks an act off.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct BreakOff {
    pub(crate) warmest: Warmest,
    /// A cell above this is overcharged, V; `None` where its cells cannot be read, or bear more.
    pub(crate) cell_over_v: Option<f64>,
    room_c: f64,
    signs: &'static str,
}

/// What breaks a discharge off.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Discharged {
    at_c: f64,
    cell_v: f64,
    signs: &'static str,
}

impl Discharged {
    /// In one sentence.
    pub(crate) fn sentence(&self, cells_read: bool) -> String {
        let cell = if cells_read {
            format!(", or if a cell falls under {} V", trimmed(self.cell_v, 2))
        } else {
            String::new()
        };
        format!("Stop at once if it {}, if it reaches {} °C{cell}.", self.signs, trimmed(self.at_c, 0))
    }
}

/// How warm a pack may become: by its kind, and of lithium by its room as well, which a cold pack comes to by itself.
pub(crate) fn warmest(pack: &Pack, begins_c: f64, around_c: f64) -> Warmest {
    let kind_c = warmth::CHARGE_MAX_C.of(&pack.profile).unwrap_or(f64::INFINITY);
    let from_c = begins_c.max(around_c);
    let room_c = if pack.profile.traits.burns { from_c + warmth::WARMER_K.at } else { f64::INFINITY };
    Warmest { at_c: kind_c.min(room_c), by_room: room_c < kind_c, from_c }
}

impl BreakOff {
    /// Of a pack that is charged, from its own warmth.
    pub(crate) fn of(pack: &Pack, around_c: f64) -> Self {
        let profile = &pack.profile;
        let cell_over_v = (profile.traits.burns).then(|| profile.ceiling_at(in_celsius(pack.temperature)));
        Self {
            warmest: warmest(pack, in_celsius(pack.temperature), around_c),
            cell_over_v,
            room_c: around_c,
            signs: profile.traits.danger_signs,
        }
    }

    /// Of a pack that is run down to so many volts a cell.
    pub(crate) fn out_of(pack: &Pack, cell_v: f64) -> Discharged {
        Discharged { at_c: outward::OUT_MAX_C.at, cell_v, signs: pack.profile.traits.danger_signs }
    }

    /// Each condition, the one that shows first first.
    pub(crate) fn rows(&self, several: bool) -> Vec<Break> {
        let Warmest { at_c, by_room, from_c } = self.warmest;
        let why = if by_room {
            let than = if from_c > self.room_c { "than at first" } else { "than the room" };
            format!("it reaches {} °C, {} °C warmer {than}", trimmed(at_c, 0), trimmed(at_c - from_c, 0))
        } else {
            format!("it reaches {} °C", trimmed(at_c, 0))
        };
        let mut rows = vec![
            Break { code: AbortCode::Signs, told: format!("it {}", self.signs), values: Vec::new() },
            Break { code: AbortCode::Warming, told: why, values: vec![("temperature_c", at_c)] },
        ];
        if let Some(cell_v) = self.cell_over_v.filter(|_| several) {
            let told = format!("a cell passes {} V", trimmed(cell_v, 2));
            rows.push(Break { code: AbortCode::CellOver, told, values: vec![("cell_v", cell_v)] });
        }
        rows
    }

    /// In one sentence.
    pub(crate) fn sentence(&self, several: bool) -> String {
        let rows = self.rows(several);
        let clauses: Vec<&str> = rows.iter().map(|row| row.told.as_str()).collect();
        match clauses.split_last() {
            Some((last, [])) => format!("Stop at once if {last}."),
            Some((last, first)) => format!("Stop at once if {}, or if {last}.", first.join(", if ")),
            None => String::new(),
        }
    }

    /// The values of every condition.
    pub(crate) fn values(&self, several: bool) -> Vec<(&'static str, f64)> {
        self.rows(several).into_iter().flat_map(|row| row.values).collect()
    }

    /// Whether a warmth, °C, has reached it.
    pub(crate) fn too_warm(&self, temperature_c: f64) -> bool {
        temperature_c >= self.warmest.at_c
    }
}
