//! A run's readings as a log that other tools read: Rumek's own columns, which say where each
//! quantity was read, or the Battery Data Format's, which has one voltage and one current.

use super::course::{Drive, Look};
use super::formula::guarded;
use super::frozen::Frozen;
use super::row::LogRow;
use crate::codes::LogColumns;
use crate::formats::{DischargeAskDoc, PlanDoc, Problems, RunReadingDoc};

/// One quantity of a reading.
type Pick = fn(&RunReadingDoc) -> Option<f64>;

/// What Rumek's own columns hold, in their order, before those of the cells.
const COLUMNS: [(&str, Pick); 10] = [
    ("source_v", |r| r.source_v),
    ("source_a", |r| r.source_a),
    ("charger_v", |r| r.charger_v),
    ("charger_a", |r| r.charger_a),
    ("charger_ah", |r| r.charger_ah),
    ("terminal_v", |r| r.terminal_v),
    ("terminal_a", |r| r.terminal_a),
    ("bms_v", |r| r.bms_v),
    ("bms_a", |r| r.bms_a),
    ("temperature_c", |r| r.temperature_c),
];

/// Writes readings as CSV, oldest first; charging current is positive in both.
///
/// # Errors
/// What is wrong with the plan: it says where the pack is, and with `discharge` whether it is run down.
pub fn log_csv(
    plan: &PlanDoc,
    discharge: Option<&DischargeAskDoc>,
    mut rows: Vec<LogRow>,
    columns: LogColumns,
) -> Result<String, Problems> {
    let frozen = Frozen::of(plan, discharge)?;
    rows.sort_by(|a, b| a.unix_s.total_cmp(&b.unix_s));
    Ok(match columns {
        LogColumns::Rumek => own(&frozen, &rows),
        LogColumns::Bdf => battery_data(&frozen, &rows),
    })
}

fn number(value: Option<f64>) -> String {
    value.map_or(String::new(), |value| value.to_string())
}

fn own(frozen: &Frozen, rows: &[LogRow]) -> String {
    let cells = rows.iter().filter_map(|row| row.reading.cell_voltages_v.as_ref().map(Vec::len)).max().unwrap_or(0);
    let mut header: Vec<String> = ["time_s", "unix_s"].map(str::to_owned).to_vec();
    header.extend(COLUMNS.iter().map(|(name, _)| (*name).to_owned()));
    header.extend((1..=cells).map(|n| format!("cell_{n}_v")));
    header.push("note".to_owned());
    let line = |row: &LogRow| {
        let reading = &frozen.signed(row.reading.clone());
        let mut line = vec![number(reading.t_s), number(Some(row.unix_s))];
        line.extend(COLUMNS.iter().map(|(_, pick)| number(pick(reading))));
        let each = reading.cell_voltages_v.as_deref().unwrap_or_default();
        line.extend((0..cells).map(|n| number(each.get(n).copied())));
        line.push(reading.note.as_deref().map(guarded).unwrap_or_default());
        line
    };
    written(std::iter::once(header).chain(rows.iter().map(line)))
}

/// Time from the first reading on; rows without a voltage are left out, and a current that was not
/// read is the one between its neighbours.
fn battery_data(frozen: &Frozen, rows: &[LogRow]) -> String {
    // Every row is a look, in the same order: those without a moment of their own begin at 0.
    let read: Vec<RunReadingDoc> = rows
        .iter()
        .map(|row| RunReadingDoc { t_s: Some(row.reading.t_s.unwrap_or(0.0).max(0.0)), ..row.reading.clone() })
        .collect();
    let read: Vec<RunReadingDoc> = read.iter().map(|reading| frozen.corrected(reading)).collect();
    let looks: Vec<Look> = read.iter().filter_map(|reading| frozen.look(reading)).collect();
    let measured = looks.iter().any(|look| look.pack_a.is_some());
    let drive = Drive::new(&looks, |_| 0.0);
    let header = [
        "Test Time / s",
        "Voltage / V",
        "Current / A",
        "Unix Time / s",
        if frozen.discharge.is_some() { "Discharging Capacity / Ah" } else { "Charging Capacity / Ah" },
        "Power / W",
        "Surface Temperature T1 / degC",
    ];
    let way = if frozen.discharge.is_some() { -1.0 } else { 1.0 };
    let (mut first_s, mut last, mut charge_ah) = (None, None, 0.0);
    let lines = rows.iter().zip(&looks).filter_map(|(row, look)| {
        let volts = look.pack_v.filter(|_| measured)?;
        let amps = look.pack_a.unwrap_or_else(|| drive.at(look.t_s));
        let began_s = *first_s.get_or_insert(look.t_s);
        if let Some((before_s, before_a)) = last {
            charge_ah += 0.5 * (amps + before_a) * (look.t_s - before_s) / 3600.0;
        }
        last = Some((look.t_s, amps));
        let figures = [look.t_s - began_s, volts, amps, row.unix_s, way * charge_ah, volts * amps];
        let mut line: Vec<String> = figures.map(|value| rounded(value).to_string()).to_vec();
        line.push(number(row.reading.temperature_c));
        Some(line)
    });
    written(std::iter::once(header.map(str::to_owned).to_vec()).chain(lines))
}

/// To a millionth, so that sums show no binary dust.
fn rounded(value: f64) -> f64 {
    (value * 1e6).round() / 1e6
}

/// Lines of fields as CSV (RFC 4180).
fn written(lines: impl Iterator<Item = Vec<String>>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    for line in lines {
        // Into memory, with as many fields in every line, nothing fails.
        if writer.write_record(&line).is_err() {
            return String::new();
        }
    }
    writer.into_inner().ok().and_then(|bytes| String::from_utf8(bytes).ok()).unwrap_or_default()
}
