//! A pack as it was found: what was said of it, what was not, what nobody can tell.

use std::collections::BTreeSet;

use crate::formats::{BmsFound, ChargerDoc, FoundDoc, LowFor, PackDoc, PackMark, Problems, RescuePractice, Sign};
use crate::parts::identify::behind;
use crate::parts::pack::Pack;
use crate::parts::problems::Checked;
use crate::physics::cell::profile;

/// An answer to one question.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Answer<T> {
    /// Not asked yet.
    Open,
    /// "I can't tell".
    Unknown,
    Known(T),
}

impl<T> Answer<T> {
    pub(crate) fn known(&self) -> Option<&T> {
        match self {
            Self::Known(value) => Some(value),
            Self::Open | Self::Unknown => None,
        }
    }

    pub(crate) fn is_open(&self) -> bool {
        matches!(self, Self::Open)
    }
}

/// Readings of the series positions, or of blocks of them.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Cells {
    /// V a cell at each reading.
    pub(crate) each_v: Vec<f64>,
    /// Cells each reading spans.
    pub(crate) per_reading: f64,
}

impl Cells {
    pub(crate) fn lowest_v(&self) -> f64 {
        self.each_v.iter().copied().fold(f64::INFINITY, f64::min)
    }

    /// By how much the lowest reading lies below the middle one of the others, V for one cell of it.
    pub(crate) fn behind_v(&self) -> f64 {
        behind(&self.each_v, self.per_reading).map_or(0.0, |(_, volts)| volts)
    }

    pub(crate) fn sum_v(&self) -> f64 {
        self.each_v.iter().sum::<f64>() * self.per_reading
    }
}

/// All that is known of a pack in trouble.
#[derive(Clone, Debug)]
pub(crate) struct Picture {
    pub(crate) pack: Pack,
    pub(crate) practice: RescuePractice,
    pub(crate) mark: Option<PackMark>,
    pub(crate) signs: Answer<BTreeSet<Sign>>,
    pub(crate) bms: Answer<bool>,
    pub(crate) temperature_c: Answer<f64>,
    pub(crate) terminal_v: Answer<f64>,
    /// Whether the cells can be read.
    pub(crate) reachable: Answer<bool>,
    pub(crate) cells: Answer<Cells>,
    pub(crate) low_for: Answer<LowFor>,
    pub(crate) woken: bool,
    /// Below this its normal charger does not start, V.
    pub(crate) start_v: Option<f64>,
    /// What its normal charger gives at most, A.
    pub(crate) charger_a: Option<f64>,
    /// How warm it is where it is fed, °C.
    pub(crate) around_c: f64,
}

impl Picture {
    pub(crate) fn series(&self) -> f64 {
        f64::from(self.pack.series)
    }

    /// The sum of the cells as far as it can be told: their readings, else the terminals'.
    pub(crate) fn inside_v(&self) -> Option<f64> {
        self.cells.known().map(Cells::sum_v).or(self.terminal_v.known().copied())
    }
}

/// Which of the three things that make a pack are not said yet.
pub(crate) fn unidentified(pack: &PackDoc) -> Vec<&'static str> {
    let farads = pack.chemistry.and_then(profile).is_some_and(|profile| profile.traits.farads);
    let size =
        if farads { pack.capacitance_f.is_some() } else { pack.capacity_ah.is_some() || pack.energy_wh.is_some() };
    [
        ("/pack/chemistry", pack.chemistry.is_some()),
        ("/pack/series", pack.series.is_some() || pack.label_v.is_some()),
        (if farads { "/pack/capacitance_f" } else { "/pack/capacity_ah" }, size),
    ]
    .into_iter()
    .filter_map(|(pointer, said)| (!said).then_some(pointer))
    .collect()
}

/// Reads what was found. The pack must have been read.
pub(crate) fn read(
    found: &FoundDoc,
    pack: Pack,
    practice: RescuePractice,
    around_c: f64,
    handover: Option<&ChargerDoc>,
    problems: &mut Problems,
) -> Option<Picture> {
    let mut check = Checked::new("/found", problems);
    let cant_tell = |field: &str| {
        let pointer = format!("/found/{field}");
        found.cant_tell.iter().flatten().any(|given| *given == pointer)
    };
    let number = |value: Option<f64>, field: &str| match value {
        Some(value) => Answer::Known(value),
        None if cant_tell(field) => Answer::Unknown,
        None => Answer::Open,
    };
    let series = pack.series;
    let most_v = 6.0 * f64::from(series);
    let terminal_v = number(check.within("terminal_v", found.terminal_v, -most_v, most_v), "terminal_v");
    let temperature_c = number(check.within("temperature_c", found.temperature_c, -60.0, 150.0), "temperature_c");
    let cells = cells(found, series, &mut check);
    let signs = match found.signs.as_deref() {
        Some([]) | None if cant_tell("signs") => Answer::Unknown,
        Some([]) | None => Answer::Open,
        Some(signs) if signs.contains(&Sign::Unknown) && signs.len() == 1 => Answer::Unknown,
        Some(signs) => {
            if signs.contains(&Sign::None) && signs.len() > 1 {
                check.add("signs", "nothing and something cannot both be seen", "none alone, or what is seen");
            }
            // Something seen and the rest unknown: what is not known stays the dangerous case.
            Answer::Known(signs.iter().copied().filter(|sign| *sign != Sign::None).collect())
        }
    };
    for (n, pointer) in found.cant_tell.iter().flatten().enumerate() {
        if !super::pointers::POINTERS.contains(&pointer.as_str()) {
            let allowed = super::pointers::POINTERS.join(", ");
            check.add(&format!("cant_tell/{n}"), format!("there is no question {pointer}"), allowed);
        }
    }
    let chosen = |known: Option<Answer<bool>>, field: &str| match known {
        Some(answer) => answer,
        None if cant_tell(field) => Answer::Unknown,
        None => Answer::Open,
    };
    let bms = chosen(
        found.bms.map(|bms| match bms {
            BmsFound::Present => Answer::Known(true),
            BmsFound::Absent => Answer::Known(false),
            BmsFound::Unknown => Answer::Unknown,
        }),
        "bms",
    );
    // A board described with the pack is there.
    let bms = if pack.bms_max.is_some() && bms.is_open() { Answer::Known(true) } else { bms };
    let low_for = match found.low_for {
        Some(LowFor::Unknown) => Answer::Unknown,
        Some(low_for) => Answer::Known(low_for),
        None if cant_tell("low_for") => Answer::Unknown,
        None => Answer::Open,
    };
    let reachable = chosen(found.cells_reachable.map(Answer::Known), "cells_reachable");
    let start_v = handover.and_then(|charger| check.within("min_start_v", charger.min_start_v, 0.1, 1000.0));
    Some(Picture {
        practice,
        mark: pack.mark,
        signs,
        bms,
        temperature_c,
        terminal_v,
        cells: match cells {
            Some(cells) => Answer::Known(cells?),
            None if cant_tell("cell_voltages_v") || matches!(reachable, Answer::Known(false) | Answer::Unknown) => {
                Answer::Unknown
            }
            None => Answer::Open,
        },
        reachable,
        low_for,
        woken: found.woken == Some(true),
        start_v,
        charger_a: handover.and_then(|charger| charger.output_max_a),
        around_c,
        pack,
    })
}

/// The readings, if any were given; the inner `None` where they are wrong.
fn cells(found: &FoundDoc, series: u32, check: &mut Checked<'_>) -> Option<Option<Cells>> {
    let (given, per_reading, name) = match (&found.cell_voltages_v, &found.block_voltages_v) {
        (None, None) => return None,
        (Some(_), Some(_)) => {
            check.add(
                "block_voltages_v",
                "the readings are given twice",
                "cell_voltages_v or block_voltages_v, not both",
            );
            return Some(None);
        }
        (Some(cells), None) => (cells, 1, "cell_voltages_v"),
        (None, Some(blocks)) => {
            let per_block = check.whole("cells_per_block", found.cells_per_block, 1, 100);
            match check.required("cells_per_block", per_block, "how many cells each reading spans") {
                Some(per_block) => (blocks, per_block, "block_voltages_v"),
                None => return Some(None),
            }
        }
    };
    if given.len() as u64 * u64::from(per_reading) != u64::from(series) {
        check.add(
            name,
            format!("{} readings of {per_reading} cells do not make {series}S", given.len()),
            format!("{} readings", series.div_ceil(per_reading)),
        );
        return Some(None);
    }
    let most_v = 6.0 * f64::from(per_reading);
    for (n, v) in given.iter().enumerate() {
        if check.within(&format!("{name}/{n}"), Some(*v), -most_v, most_v).is_none() {
            return Some(None);
        }
    }
    let per_reading = f64::from(per_reading);
    Some(Some(Cells { each_v: given.iter().map(|v| v / per_reading).collect(), per_reading }))
}
