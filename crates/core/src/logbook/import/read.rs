//! A logger's file, line by line, as a mapping says.

use std::io::{BufRead, BufReader, Read};

use csv::{ByteRecord, ReaderBuilder};

use super::super::formula::as_written;
use super::super::row::LogRow;
use super::decode::text_of;
use super::moment::Moments;
use crate::formats::{
    BadLineDoc, LogColumn, LogDecimal, LogDelimiter, LogMappingDoc, LogTime, LogUnit, Problems, RunReadingDoc,
};
use crate::units::show_hours;

/// A clock that goes on by more than this at once, and by more than it usually does, is held against the next line, s.
const LEAP_S: f64 = 5.0;
const HOUR_S: f64 = 3600.0;
const DAY_S: f64 = 86_400.0;
/// A longer line is a quote that was opened and never closed, bytes.
const LONGEST: usize = 65_536;

/// Why a file cannot be read on.
#[derive(Debug, thiserror::Error)]
pub enum LogError {
    /// It stopped coming.
    #[error("the file cannot be read: {0}")]
    Io(#[from] std::io::Error),
    /// The mapping is another file's.
    #[error("the columns are named differently than when this was set: {0}")]
    OtherHeader(String),
    /// Everything after it would be one line.
    #[error("line {0}: a quote is opened here and never closed")]
    OpenQuote(u64),
}

/// One column that is used.
#[derive(Clone, Copy, Debug)]
struct Column {
    is: LogColumn,
    cell: usize,
    scale: f64,
    /// Fahrenheit counts from another zero.
    offset: f64,
}

/// A mapping without contradictions.
#[derive(Clone, Debug)]
struct Mapping {
    header: Vec<String>,
    skip_lines: u32,
    header_lines: u32,
    delimiter: LogDelimiter,
    decimal: LogDecimal,
    time: LogTime,
    utc_offset_min: f64,
    time_at: usize,
    date_at: Option<usize>,
    columns: Vec<(usize, Column)>,
    width: usize,
}

impl Mapping {
    fn of(doc: &LogMappingDoc) -> Result<Self, Problems> {
        let mut problems = Problems::default();
        let columns = doc.columns.clone().unwrap_or_default();
        let is = |k: usize| columns.get(k).and_then(|column| column.is).unwrap_or(LogColumn::Ignored);
        let positions = |what: LogColumn| (0..columns.len()).filter(move |k| is(*k) == what);
        let only = |what: LogColumn, problems: &mut Problems| {
            let mut all = positions(what);
            let first = all.next();
            if let Some(again) = all.next() {
                let message = format!("Two columns are both “{}”.", what.code());
                problems.add(format!("/columns/{again}/is"), message, "each quantity once");
            }
            first
        };
        let singles = LogColumn::ALL.iter().filter(|what| !matches!(what, LogColumn::Ignored | LogColumn::CellV));
        let singles: Vec<(LogColumn, Option<usize>)> =
            singles.map(|what| (*what, only(*what, &mut problems))).collect();
        let at = |what: LogColumn| singles.iter().find(|(one, _)| *one == what).and_then(|(_, at)| *at);
        let mut cells: Vec<u32> = positions(LogColumn::CellV).map(|k| columns[k].cell.unwrap_or(0)).collect();
        cells.sort_unstable();
        if !cells.iter().copied().eq((1..).take(cells.len())) || cells.len() > 100 {
            problems.add("/columns", "The cells are not numbered 1, 2, 3 … once each.", "cells from 1, at most 100");
        }
        if doc.time.is_none() || at(LogColumn::Time).is_none() {
            problems.add("/columns", "No column says when a line was written.", "one column that is the time");
        }
        use LogColumn as C;
        let said = [
            C::SourceV,
            C::SourceA,
            C::ChargerV,
            C::ChargerA,
            C::TerminalV,
            C::TerminalA,
            C::DischargeA,
            C::BmsV,
            C::BmsA,
        ];
        if cells.is_empty() && said.iter().all(|what| at(*what).is_none()) {
            problems.add("/columns", "No column holds volts or amps.", "at least one of them");
        }
        let utc_offset_min = doc.utc_offset_min.unwrap_or(0.0);
        if !(-840.0..=840.0).contains(&utc_offset_min) {
            problems.add("/utc_offset_min", "The clock is further from UTC than any on earth.", "-840 to 840 min");
        }
        let header_lines = doc.header_lines.unwrap_or(1);
        if header_lines > 2 || doc.skip_lines.is_some_and(|n| n > 10_000) {
            problems.add(
                "/header_lines",
                "So many lines of names are not known.",
                "0 to 2, after at most 10000 others",
            );
        }
        let used = |k: &usize| !matches!(is(*k), C::Ignored | C::Time | C::Date);
        let column = |k: usize| Column {
            is: is(k),
            cell: columns[k].cell.unwrap_or(1).max(1) as usize - 1,
            scale: scale_of(columns[k].unit) * if columns[k].negative == Some(true) { -1.0 } else { 1.0 },
            offset: if columns[k].unit == Some(LogUnit::F) { -32.0 } else { 0.0 },
        };
        let mapping = Self {
            header: doc.header.clone().unwrap_or_default(),
            skip_lines: doc.skip_lines.unwrap_or(0),
            header_lines,
            delimiter: doc.delimiter.unwrap_or(LogDelimiter::Comma),
            decimal: doc.decimal.unwrap_or(LogDecimal::Point),
            time: doc.time.unwrap_or(LogTime::Seconds),
            utc_offset_min,
            time_at: at(C::Time).unwrap_or(0),
            date_at: at(C::Date),
            columns: (0..columns.len()).filter(used).map(|k| (k, column(k))).collect(),
            width: columns.len(),
        };
        problems.into_result(mapping)
    }
}

fn scale_of(unit: Option<LogUnit>) -> f64 {
    match unit {
        Some(LogUnit::Mv | LogUnit::Ma | LogUnit::Mah) => 1e-3,
        Some(LogUnit::F) => 5.0 / 9.0,
        Some(LogUnit::V | LogUnit::A | LogUnit::Ah | LogUnit::W | LogUnit::C) | None => 1.0,
    }
}

/// A number as the file writes it, with or without its unit behind it.
pub(super) fn number(text: &str, decimal: LogDecimal) -> Option<f64> {
    let bare = text.trim().trim_end_matches(|c: char| c.is_alphabetic() || matches!(c, '°' | '%' | ' ' | '℃'));
    let value = match decimal {
        LogDecimal::Point => bare.parse::<f64>().ok(),
        LogDecimal::Comma if bare.contains('.') => None,
        LogDecimal::Comma => bare.replace(',', ".").parse::<f64>().ok(),
    };
    value.filter(|n| n.is_finite())
}

/// What loggers write where nothing was measured.
fn is_blank(text: &str) -> bool {
    matches!(
        text.trim().to_ascii_lowercase().as_str(),
        "" | "-" | "--" | "---" | "n/a" | "na" | "nan" | "null" | "none"
    )
}

/// What no meter on a bench shows.
fn is_absurd(is: LogColumn, value: f64) -> bool {
    use LogColumn as C;
    match is {
        C::SourceV | C::ChargerV | C::TerminalV | C::BmsV => !(-5.0..=1000.0).contains(&value),
        C::CellV => !(-5.0..=20.0).contains(&value),
        C::SourceA | C::ChargerA | C::TerminalA | C::DischargeA | C::BmsA => value.abs() > 2000.0,
        C::PowerW => value.abs() > 2e6,
        C::ChargerAh => value.abs() > 100_000.0,
        C::Temperature => !(-80.0..=300.0).contains(&value),
        C::Ignored | C::Time | C::Date | C::Note => false,
    }
}

/// Reads a file's lines as readings, with when each was taken.
#[derive(Debug)]
pub struct LogReader<R> {
    /// Taken when the first line is asked for.
    source: Option<BufReader<R>>,
    csv: Option<csv::Reader<BufReader<R>>>,
    mapping: Mapping,
    moments: Moments,
    record: ByteRecord,
    /// When the last line that was handed on was written; `None` before there is one.
    last_unix_s: Option<f64>,
    /// How much later that was than the line before it, s.
    step_s: f64,
    /// The record is a line that was read beyond one whose clock leaps: where it stands.
    ahead: Option<u64>,
    /// A clock that jumps back was set anew, and is no mistake.
    any_clock: bool,
}

impl<R: Read> LogReader<R> {
    /// `began_unix_s`: when the log began, seconds since 1970, for a file that does not say.
    ///
    /// # Errors
    /// What is contradictory in the mapping.
    pub fn new(mapping: &LogMappingDoc, began_unix_s: f64, source: R) -> Result<Self, Problems> {
        let mapping = Mapping::of(mapping)?;
        Ok(Self {
            source: Some(BufReader::with_capacity(1 << 16, source)),
            csv: None,
            moments: Moments::new(mapping.time, mapping.utc_offset_min, began_unix_s),
            mapping,
            record: ByteRecord::new(),
            last_unix_s: None,
            step_s: 0.0,
            ahead: None,
            any_clock: false,
        })
    }

    /// Lines whose clock jumps back are handed on as they are, for whoever puts them on one clock.
    #[must_use]
    pub fn with_any_clock(self) -> Self {
        Self { any_clock: true, ..self }
    }

    /// The next line, as a reading or as what is wrong with it; none at the end.
    ///
    /// # Errors
    /// [`LogError`]: the rest cannot be read.
    pub fn next_row(&mut self) -> Result<Option<Result<LogRow, BadLineDoc>>, LogError> {
        self.begin()?;
        let Some(line) = self.next_record()? else { return Ok(None) };
        let (row, moments) = match self.mapping.row(&self.record, &self.moments, self.earliest()) {
            Ok(read) => read,
            Err(message) => return Ok(Some(Err(BadLineDoc { line, message }))),
        };
        let leap_s = self.last_unix_s.map_or(0.0, |before_s| row.unix_s - before_s);
        if leap_s > LEAP_S.max(3.0 * self.step_s) && !self.goes_on_from(&row, &moments, leap_s)? {
            let after = show_hours(leap_s / 3600.0);
            let message = format!(
                "its time is {after} after that of the line above, and the next line does not go on from there"
            );
            return Ok(Some(Err(BadLineDoc { line, message })));
        }
        self.moments = moments;
        // One pause does not make a log slow.
        let (step_s, usual_s) = (leap_s.max(0.0), self.step_s);
        self.step_s = if usual_s > 0.0 { step_s.clamp(0.5 * usual_s, 2.0 * usual_s) } else { step_s };
        self.last_unix_s = Some(row.unix_s);
        Ok(Some(Ok(row)))
    }

    /// Whether a clock that leaps is true: the line after it goes on from there rather than from the line before.
    fn goes_on_from(&mut self, row: &LogRow, moments: &Moments, leap_s: f64) -> Result<bool, LogError> {
        let Some(line) = self.next_record()? else { return Ok(leap_s <= DAY_S) };
        self.ahead = Some(line);
        let then = self.mapping.row(&self.record, moments, row.unix_s).map(|(then, _)| then.unix_s - row.unix_s);
        let instead = self.mapping.row(&self.record, &self.moments, self.earliest());
        let instead = instead.map(|(instead, _)| instead.unix_s - row.unix_s + leap_s);
        Ok(match (then, instead) {
            (Ok(then_s), Ok(instead_s)) => instead_s < 0.0 || then_s <= instead_s,
            (Ok(_), Err(_)) => true,
            (Err(_), Ok(_)) => false,
            (Err(_), Err(_)) => leap_s <= HOUR_S,
        })
    }

    /// Nothing before this may follow.
    fn earliest(&self) -> f64 {
        self.last_unix_s.filter(|_| !self.any_clock).unwrap_or(f64::NEG_INFINITY)
    }

    /// Reads the next line that is not blank, and where it stands.
    fn next_record(&mut self) -> Result<Option<u64>, LogError> {
        if let Some(ahead) = self.ahead.take() {
            return Ok(Some(ahead));
        }
        let Some(csv) = self.csv.as_mut() else { return Ok(None) };
        loop {
            if !csv.read_byte_record(&mut self.record).map_err(std::io::Error::from)? {
                return Ok(None);
            }
            let before = self.record.position().map_or(0, csv::Position::line);
            let line = before + u64::from(self.mapping.skip_lines);
            if self.record.as_slice().len() > LONGEST {
                return Err(LogError::OpenQuote(line));
            }
            if !self.record.iter().all(<[u8]>::is_empty) {
                return Ok(Some(line));
            }
        }
    }

    /// Passes over what stands before the lines and compares the names of the columns.
    fn begin(&mut self) -> Result<(), LogError> {
        let Some(mut source) = self.source.take() else { return Ok(()) };
        let mut passed = Vec::new();
        for _ in 0..self.mapping.skip_lines {
            passed.clear();
            source.read_until(b'\n', &mut passed)?;
        }
        let mut csv = records(source, self.mapping.delimiter);
        for k in 0..self.mapping.header_lines {
            let some = csv.read_byte_record(&mut self.record).map_err(std::io::Error::from)?;
            let found = names(&self.record, self.mapping.delimiter);
            if some && k == 0 && !self.mapping.header.is_empty() && found != self.mapping.header {
                return Err(LogError::OtherHeader(found.join(", ")));
            }
        }
        self.csv = Some(csv);
        Ok(())
    }
}

/// So many lines are enough to see how the others are written.
pub(super) const ENOUGH: usize = 200;

/// When the first lines of a file were written, s, in whatever order they stand.
pub(super) fn moments(text: &str, mapping: &LogMappingDoc) -> Vec<f64> {
    let Ok(reader) = LogReader::new(mapping, 0.0, text.as_bytes()) else { return Vec::new() };
    let mut reader = reader.with_any_clock();
    std::iter::from_fn(|| reader.next_row().ok().flatten()).flatten().map(|row| row.unix_s).take(ENOUGH).collect()
}

/// Lines as records of however many fields, names among them.
fn records<R: Read>(source: R, delimiter: LogDelimiter) -> csv::Reader<R> {
    ReaderBuilder::new().delimiter(delimiter_of(delimiter)).has_headers(false).flexible(true).from_reader(source)
}

fn delimiter_of(delimiter: LogDelimiter) -> u8 {
    match delimiter {
        LogDelimiter::Comma => b',',
        LogDelimiter::Semicolon => b';',
        LogDelimiter::Tab => b'\t',
        LogDelimiter::Bar => b'|',
        LogDelimiter::Blanks => b' ',
    }
}

/// The fields of a record as text; several blanks part no more than one does.
pub(super) fn names(record: &ByteRecord, delimiter: LogDelimiter) -> Vec<String> {
    let fields = record.iter().filter(|field| delimiter != LogDelimiter::Blanks || !field.is_empty());
    fields.map(|field| text_of(field).trim().to_owned()).collect()
}

/// Lines of a text, each as its fields.
pub(super) fn split(text: &str, delimiter: LogDelimiter) -> Vec<Vec<String>> {
    let mut csv = records(text.as_bytes(), delimiter);
    csv.byte_records().filter_map(Result::ok).map(|record| names(&record, delimiter)).collect()
}

impl Mapping {
    /// A line as a reading, with the clock as it goes on from there; a line that is refused changes nothing for those
    /// after it.
    fn row(&self, record: &ByteRecord, moments: &Moments, earliest_s: f64) -> Result<(LogRow, Moments), String> {
        let mut moments = moments.clone();
        let blanks = self.delimiter == LogDelimiter::Blanks;
        let fields: Vec<&[u8]> = record.iter().filter(|field| !blanks || !field.is_empty()).collect();
        let width = self.width;
        let extra = fields.get(width..).unwrap_or_default();
        let last = self.columns.iter().map(|(at, _)| *at).chain([self.time_at]).max().unwrap_or(0);
        if fields.len() <= last || extra.iter().any(|field| !field.is_empty()) {
            return Err(format!("it has {} fields where {width} are named", fields.len()));
        }
        let field = |at: usize| fields.get(at).map_or("".into(), |bytes| text_of(bytes));
        let written = match self.date_at {
            Some(at) => format!("{} {}", field(at).trim(), field(self.time_at).trim()).into(),
            None => field(self.time_at),
        };
        let unix_s = moments
            .read(&written, |text| number(text, self.decimal))
            .filter(|t| (0.0..7.3e9).contains(t))
            .ok_or_else(|| format!("“{}” is no time as it is set", shortened(&written)))?;
        if unix_s < earliest_s {
            return Err(format!("its time, “{}”, is before that of the line above", shortened(&written)));
        }
        let mut reading = RunReadingDoc::default();
        let mut cells: Vec<Option<f64>> = Vec::new();
        let (mut out_a, mut power_w) = (None, None);
        for (at, column) in &self.columns {
            let text = field(*at);
            if column.is == LogColumn::Note {
                // Whatever a person wrote is what they meant, “na” as well.
                reading.note = Some(as_written(text.trim())).filter(|note| !note.is_empty()).map(str::to_owned);
                continue;
            }
            if is_blank(&text) {
                continue;
            }
            let value = number(&text, self.decimal).map(|n| (n + column.offset) * column.scale);
            let Some(value) = value.filter(|value| !is_absurd(column.is, *value)) else {
                let name = self.header.get(*at).map_or_else(|| format!("field {}", at + 1), |name| format!("“{name}”"));
                return Err(format!("“{}” is no reading for {name}", shortened(&text)));
            };
            // A scale leaves binary dust behind.
            let value = (value * 1e9).round() / 1e9;
            match (slot(&mut reading, column.is), column.is) {
                (Some(slot), _) => *slot = Some(value),
                (None, LogColumn::DischargeA) => out_a = Some(value),
                (None, LogColumn::PowerW) => power_w = Some(value),
                (None, _) => {
                    cells.resize(cells.len().max(column.cell + 1), None);
                    cells[column.cell] = Some(value);
                }
            }
        }
        if let Some(out_a) = out_a {
            reading.terminal_a = Some(reading.terminal_a.unwrap_or(0.0) - out_a);
        }
        let amps = [reading.terminal_a, reading.bms_a, reading.charger_a];
        let volts = reading.terminal_v.or(reading.bms_v).or(reading.charger_v).filter(|v| *v > 0.1);
        if let (Some(power_w), Some(volts), true) = (power_w, volts, amps.iter().all(Option::is_none)) {
            reading.terminal_a = Some((power_w / volts * 1e6).round() / 1e6);
        }
        // Channels that nothing is plugged into show nothing, or exactly zero.
        while cells.last().is_some_and(|cell| cell.is_none_or(|v| v == 0.0)) {
            cells.pop();
        }
        reading.cell_voltages_v = cells.into_iter().collect::<Option<Vec<f64>>>().filter(|cells| !cells.is_empty());
        if reading == RunReadingDoc::default() {
            return Err("nothing was read in it".to_owned());
        }
        Ok((LogRow { unix_s, reading }, moments))
    }
}

/// Where a quantity stands in a reading; none for a cell.
fn slot(reading: &mut RunReadingDoc, is: LogColumn) -> Option<&mut Option<f64>> {
    Some(match is {
        LogColumn::SourceV => &mut reading.source_v,
        LogColumn::SourceA => &mut reading.source_a,
        LogColumn::ChargerV => &mut reading.charger_v,
        LogColumn::ChargerA => &mut reading.charger_a,
        LogColumn::ChargerAh => &mut reading.charger_ah,
        LogColumn::TerminalV => &mut reading.terminal_v,
        LogColumn::TerminalA => &mut reading.terminal_a,
        LogColumn::BmsV => &mut reading.bms_v,
        LogColumn::BmsA => &mut reading.bms_a,
        LogColumn::Temperature => &mut reading.temperature_c,
        LogColumn::CellV
        | LogColumn::DischargeA
        | LogColumn::PowerW
        | LogColumn::Ignored
        | LogColumn::Time
        | LogColumn::Date
        | LogColumn::Note => return None,
    })
}

fn shortened(text: &str) -> String {
    let text = text.trim();
    if text.chars().count() <= 40 { text.to_owned() } else { text.chars().take(39).chain(['…']).collect() }
}
