//! The records of a pack read: each checked, in the order of time.

use crate::codes::{LastUse, RecordKind};
use crate::formats::moment::unix_s;
use crate::formats::{Problems, RECORD_FORMAT, RecordDoc};
use crate::parts::pack::Pack;
use crate::parts::problems::Checked;

/// A record with its numbers in range.
#[derive(Clone, Debug)]
pub(crate) struct Known {
    pub(crate) kind: RecordKind,
    /// Since 1970, s.
    pub(crate) at_s: f64,
    pub(crate) temperature_c: Option<f64>,
    pub(crate) capacity_ah: Option<f64>,
    pub(crate) capacity_sd_ah: Option<f64>,
    pub(crate) current_a: Option<f64>,
    pub(crate) to_v: Option<f64>,
    pub(crate) whole: bool,
    pub(crate) mohm: Option<f64>,
    pub(crate) charge_ah: Option<f64>,
    pub(crate) end_soc: Option<f64>,
    /// The whole pack at rest, V.
    pub(crate) volts: Option<f64>,
    pub(crate) cells_v: Vec<f64>,
    pub(crate) rested_min: Option<f64>,
    pub(crate) last: LastUse,
}

/// Checks a record by itself.
///
/// # Errors
/// Every field that is missing or out of range.
pub fn check_record(given: &RecordDoc) -> Result<(), Problems> {
    let mut problems = Problems::default();
    read(given, "", &mut problems);
    // A list of records goes without their pictures; one that is to be kept has it.
    if given.kind == Some(RecordKind::Photo) && given.photo_jpeg.is_none() {
        problems.add("/photo_jpeg", "there is no picture", "a picture, as JPEG in Base64");
    }
    problems.into_result(())
}

/// No picture is kept in more letters of Base64: one of 1,280 points a side comes to half of it.
const PHOTO_MOST: usize = 500_000;

/// Reads one; `None` where something in it is wrong, which is recorded.
pub(crate) fn read(given: &RecordDoc, at: &str, problems: &mut Problems) -> Option<Known> {
    let before = problems.problems.len();
    if given.format.as_deref() != Some(RECORD_FORMAT) {
        problems.add(format!("{at}/format"), "the format is not said", RECORD_FORMAT);
    }
    let mut check = Checked::new(at, problems);
    let kinds = RecordKind::ALL.iter().map(|kind| kind.code()).collect::<Vec<_>>().join(", ");
    let kind = check.required("kind", given.kind, &kinds);
    let at_s = check.required("at", given.at.as_deref(), "when it was, RFC 3339").map(unix_s);
    if at_s == Some(None) {
        check.add("at", "this is no time", "RFC 3339, such as 2026-11-25T14:20:00Z");
    }
    let temperature_c = check.within("temperature_c", given.temperature_c, -60.0, 100.0);
    let capacity_ah = check.within("capacity_ah", given.capacity_ah, 0.001, 100_000.0);
    let capacity_sd_ah = check.within("capacity_sd_ah", given.capacity_sd_ah, 0.0, 100_000.0);
    check.within("energy_wh", given.energy_wh, 0.0, 1e7);
    let current_a = check.within("current_a", given.current_a, 0.001, 10_000.0);
    let to_v = check.within("to_v_per_cell", given.to_v_per_cell, 0.0, 5.0);
    let mohm = check.within("resistance_mohm", given.resistance_mohm, 0.001, 1e6);
    check.within("resistance_sd_mohm", given.resistance_sd_mohm, 0.0, 1e6);
    let charge_ah = check.within("charge_ah", given.charge_ah, 0.0, 100_000.0);
    let end_soc = check.within("end_soc", given.end_soc, 0.0, 1.0);
    let volts = check.within("voltage_v", given.voltage_v, 0.0, 2000.0);
    let rested_min = check.within("rested_min", given.rested_min, 0.0, 1e7);
    let cells_v = given.cell_voltages_v.clone().unwrap_or_default();
    if cells_v.iter().any(|v| !(0.0..=5.0).contains(v)) {
        check.add("cell_voltages_v", "one of them is out of range", "0 to 5 V each");
    }
    match kind {
        Some(RecordKind::Test) if given.capacity_ah.is_none() => {
            check.add("capacity_ah", "what it gave is not said", "Ah");
        }
        Some(RecordKind::Rest) if volts.is_none() && cells_v.is_empty() => {
            check.add("voltage_v", "what it stood at is not said", "the volts of the pack, or of each cell");
        }
        Some(kind) if kind != RecordKind::Photo && given.photo_jpeg.is_some() => {
            check.add("photo_jpeg", "a picture stands where none belongs", "a record of kind photo");
        }
        _ => {}
    }
    if given.photo_jpeg.as_ref().is_some_and(|text| text.len() > PHOTO_MOST) {
        check.add("photo_jpeg", "the picture is too large", "at most 500,000 letters of Base64");
    }
    if problems.problems.len() > before {
        return None;
    }
    let volts = volts.or((!cells_v.is_empty()).then(|| cells_v.iter().sum()));
    Some(Known {
        kind: kind?,
        at_s: at_s.flatten()?,
        temperature_c,
        capacity_ah,
        capacity_sd_ah,
        current_a,
        to_v,
        whole: given.whole.unwrap_or(true),
        mohm,
        charge_ah,
        end_soc,
        volts,
        cells_v,
        rested_min,
        last: given.last.unwrap_or(LastUse::Unknown),
    })
}

impl Known {
    /// Volts of each position, where as many were read as the pack has.
    pub(crate) fn cells(&self, pack: &Pack) -> Option<&[f64]> {
        (self.cells_v.len() == pack.series as usize && pack.series > 1).then_some(&self.cells_v)
    }
}
