//! How a file is read, from its beginning.

use super::column::{meaning, once_each};
use super::moment::{found_out, is_duration, is_moment};
use super::read::{ENOUGH, moments, number, split};
use crate::formats::moment::falls;
use crate::formats::{
    LOG_MAPPING_FORMAT, LogColumn, LogColumnDoc, LogDecimal, LogDelimiter, LogMappingDoc, LogTime, LogUnit,
};

/// A room in degrees Fahrenheit.
const WARM_F: f64 = 55.0;
const HOT_F: f64 = 115.0;

/// Whether a field is what a line of numbers holds: a number, a time, or nothing.
fn is_figure(field: &str) -> bool {
    let field = field.trim();
    let plain = number(field, LogDecimal::Point).or_else(|| number(field, LogDecimal::Comma)).is_some();
    let timely = field.contains([':', '-', '/', '.'])
        && field.starts_with(|c: char| c.is_ascii_digit())
        && field.chars().all(|c| c.is_ascii_digit() || " TZ:-/.+,AMPamp".contains(c));
    field.is_empty() || plain || timely || is_duration(field)
}

/// The most usual number of fields in the later lines, and what share of the fields in lines with
/// so many are figures.
fn fit(lines: &[Vec<String>]) -> (usize, f64) {
    let later = &lines[lines.len() / 3..];
    let mut counts: Vec<usize> = later.iter().map(Vec::len).filter(|n| *n > 1).collect();
    counts.sort_unstable();
    let longest = counts.chunk_by(|a, b| a == b).max_by_key(|run| run.len());
    let Some((width, often)) = longest.and_then(|run| Some((*run.first()?, run.len()))) else { return (0, 0.0) };
    let fields: Vec<&String> = later.iter().filter(|line| line.len() == width).flatten().collect();
    let figures = fields.iter().filter(|field| is_figure(field)).count() as f64;
    (width, figures / fields.len().max(1) as f64 * often as f64 / later.len() as f64)
}

/// Finds out how a file is read, as far as `given` does not say.
pub(super) fn mapping_of(text: &str, given: &LogMappingDoc) -> LogMappingDoc {
    let passed = given.skip_lines.unwrap_or(0) as usize;
    let head: String = text.lines().skip(passed).take(ENOUGH).flat_map(|line| [line, "\n"]).collect();
    let delimiter = given.delimiter.unwrap_or_else(|| delimiter_of(&head));
    let lines = split(&head, delimiter);
    let names = names_of(&lines, given);
    let decimal = given.decimal.unwrap_or_else(|| decimal_of(&names.data, delimiter));
    let mut columns = given.columns.clone().unwrap_or_else(|| columns_of(&names, decimal));
    let date = date_of(&mut columns, given.columns.is_some());
    let told = time_of(&columns, &names, date, decimal);
    let mut mapping = LogMappingDoc {
        format: Some(LOG_MAPPING_FORMAT.to_owned()),
        skip_lines: Some(passed as u32 + line_of(&head, delimiter, names.at)),
        header_lines: Some(names.lines),
        header: Some(names.header),
        delimiter: Some(delimiter),
        decimal: Some(decimal),
        time: given.time.or(told),
        columns: Some(columns),
        ..LogMappingDoc::default()
    };
    if given.columns.is_none() {
        let newest_first = falls(moments(text, &mapping));
        turn_signs(mapping.columns.as_deref_mut().unwrap_or_default(), &names.data, decimal, newest_first);
    }
    mapping
}

fn delimiter_of(head: &str) -> LogDelimiter {
    LogDelimiter::ALL
        .iter()
        .map(|delimiter| (*delimiter, fit(&split(head, *delimiter))))
        .filter(|(_, (width, _))| *width > 1)
        // Of equals the one listed first; blanks part dates from times, so they come last.
        .fold(None, |best: Option<(LogDelimiter, f64)>, (delimiter, (_, share))| match best {
            Some((_, most)) if most + 0.02 >= share => best,
            _ => Some((delimiter, share)),
        })
        .map_or(LogDelimiter::Comma, |(delimiter, _)| delimiter)
}

/// The names of the columns, where they stand, and what stands below them.
struct Names<'a> {
    /// Of the lines that are not blank.
    at: usize,
    /// None, one, or two where units stand in a line of their own.
    lines: u32,
    header: Vec<String>,
    units: Vec<String>,
    data: Vec<&'a Vec<String>>,
    width: usize,
}

impl Names<'_> {
    fn name(&self, k: usize) -> &str {
        self.header.get(k).map_or("", String::as_str)
    }

    fn unit(&self, k: usize) -> &str {
        self.units.get(k).map_or("", String::as_str)
    }

    /// What stands in a column, where something does.
    fn values(&self, k: usize) -> Vec<&str> {
        self.data.iter().filter_map(|line| line.get(k).map(String::as_str)).filter(|v| !v.is_empty()).collect()
    }
}

fn names_of<'a>(lines: &'a [Vec<String>], given: &LogMappingDoc) -> Names<'a> {
    let (width, _) = fit(lines);
    // A line of numbers may hold words too, such as the state of the charger; not more of them.
    let is_data = |line: &Vec<String>| {
        let filled = || line.iter().filter(|field| !field.is_empty());
        let figures = filled().filter(|field| is_figure(field)).count();
        (width..=width + 2).contains(&(line.len() + 1)) && figures >= 2.min(width) && 2 * figures >= filled().count()
    };
    // Where it is said where the names stand, they stand there, even if they look like figures.
    let named_first = given.skip_lines.is_some() && given.header_lines != Some(0);
    let from = usize::from(named_first);
    let first = lines.iter().skip(from).position(is_data).map_or(0, |k| k + from);
    let named = |k: usize| lines.get(k).filter(|line| line.len() + 1 >= width && line.len() <= width + 1);
    let units = |line: &Vec<String>| line.iter().filter(|field| is_unit(field)).count() * 2 > line.len();
    let (at, header_lines) = match first.checked_sub(1).and_then(|k| Some((k, named(k)?))) {
        _ if given.header_lines == Some(0) => (None, 0),
        Some((k, line)) if k > 0 && units(line) && named(k - 1).is_some() => (Some(k - 1), 2),
        Some((k, _)) => (Some(k), 1),
        None => (None, 0),
    };
    Names {
        at: at.unwrap_or(first),
        lines: header_lines,
        header: at.and_then(|k| lines.get(k)).cloned().unwrap_or_default(),
        units: at.filter(|_| header_lines == 2).and_then(|k| lines.get(k + 1)).cloned().unwrap_or_default(),
        data: lines.iter().skip(first).filter(|line| is_data(line)).collect(),
        width,
    }
}

/// What each column is, by its name, its unit and what stands in it.
fn columns_of(names: &Names<'_>, decimal: LogDecimal) -> Vec<LogColumnDoc> {
    let (header, data) = (&names.header, &names.data);
    let most = data.first().map_or(names.width, |line| line.len()).max(header.len());
    let mut columns: Vec<_> = (0..most).map(|k| meaning(names.name(k), names.unit(k))).collect();
    if header.is_empty()
        && let Some(first) = columns.first_mut()
    {
        first.is = Some(LogColumn::Time);
    }
    // A last column without a name and without values is a delimiter at the end of each line.
    if columns.len() > header.len().max(1) && data.iter().all(|line| line.get(most - 1).is_none_or(String::is_empty)) {
        columns.pop();
    }
    numbered_cells(&mut columns, header);
    once_each(&mut columns, header);
    time_by_content(&mut columns, names, decimal);
    for (k, column) in columns.iter_mut().enumerate() {
        let figures: Vec<f64> = names.values(k).iter().filter_map(|v| number(v, decimal)).collect();
        let mean = figures.iter().sum::<f64>() / figures.len().max(1) as f64;
        let unsaid = !names.name(k).contains('V') && !names.unit(k).contains('V');
        if column.unit == Some(LogUnit::V) && mean > 1000.0 && unsaid {
            column.unit = Some(LogUnit::Mv);
        }
        // No pack begins at 72 °C: where no unit is said, that is 22 °C in the other one.
        let degrees_unsaid = !format!("{} {}", names.name(k), names.unit(k)).contains(['C', '°', '℃']);
        let begins = figures.first().copied().unwrap_or(0.0);
        if column.unit == Some(LogUnit::C) && degrees_unsaid && (WARM_F..=HOT_F).contains(&begins) {
            column.unit = Some(LogUnit::F);
        }
    }
    columns
}

/// `V1`, `V2`, `V3` … are the cells, where there are at least two of them and they are numbered from one.
fn numbered_cells(columns: &mut [LogColumnDoc], header: &[String]) {
    if columns.iter().any(|column| column.is == Some(LogColumn::CellV)) {
        return;
    }
    let number_of = |name: &str| -> Option<u32> {
        let bare: String =
            name.trim().to_lowercase().split(['(', '[', '/']).next().unwrap_or_default().trim().to_owned();
        let digits = bare
            .strip_prefix("cellvoltage")
            .or_else(|| bare.strip_prefix("volt"))
            .or_else(|| bare.strip_prefix(['v', 'u', 'b']))?;
        digits.trim_matches([' ', '_', '-']).parse().ok().filter(|n| (1..=100).contains(n))
    };
    let numbered: Vec<(usize, u32)> =
        header.iter().enumerate().filter_map(|(k, name)| Some((k, number_of(name)?))).collect();
    if numbered.len() < 2 || !numbered.iter().map(|(_, n)| *n).eq((1..).take(numbered.len())) {
        return;
    }
    for (k, n) in numbered {
        if let Some(column) = columns.get_mut(k) {
            let unit = column.unit.filter(|unit| matches!(unit, LogUnit::V | LogUnit::Mv)).or(Some(LogUnit::V));
            *column = LogColumnDoc { is: Some(LogColumn::CellV), cell: Some(n), unit, ..LogColumnDoc::default() };
        }
    }
}

/// Where no name says which column is the time, the first is that holds moments, or counts seconds since 1970.
fn time_by_content(columns: &mut [LogColumnDoc], names: &Names<'_>, decimal: LogDecimal) {
    /// Since 2001; no reading is so large.
    const UNIX_S: f64 = 1e9;
    if columns.iter().any(|column| matches!(column.is, Some(LogColumn::Time | LogColumn::Date))) {
        return;
    }
    let holds = |k: usize| {
        let values = names.values(k);
        let moments = values
            .iter()
            .filter(|value| is_moment(value) || number(value, decimal).is_some_and(|n| n > UNIX_S))
            .count();
        !values.is_empty() && 10 * moments >= 9 * values.len()
    };
    let free = |column: &LogColumnDoc| column.is == Some(LogColumn::Ignored);
    if let Some(k) = (0..columns.len()).find(|k| free(&columns[*k]) && holds(*k)) {
        columns[k].is = Some(LogColumn::Time);
    }
}

/// Where the dates stand beside a time; a column of dates with the time of day in it is the time, unless somebody
/// has said what each column is.
fn date_of(columns: &mut [LogColumnDoc], said: bool) -> Option<usize> {
    let position = |columns: &[LogColumnDoc], is: LogColumn| columns.iter().position(|column| column.is == Some(is));
    let date = position(columns, LogColumn::Date)?;
    if said || position(columns, LogColumn::Time).is_some() {
        return Some(date);
    }
    columns[date].is = Some(LogColumn::Time);
    None
}

/// How the times are written.
fn time_of(columns: &[LogColumnDoc], names: &Names<'_>, date: Option<usize>, decimal: LogDecimal) -> Option<LogTime> {
    let k = columns.iter().position(|column| column.is == Some(LogColumn::Time))?;
    let header = format!("{} {}", names.name(k), names.unit(k)).to_lowercase();
    Some(match date {
        Some(date) => found_out(&names.values(date), "", |_| None),
        None => found_out(&names.values(k), &header, |text| number(text, decimal)),
    })
}

/// Turns the sign of a current that is written the other way: negative where charge goes in, positive where
/// the volts fall because it comes out, read from the oldest line on. Where the volts tell nothing yet, mostly
/// negative is taken for in.
fn turn_signs(columns: &mut [LogColumnDoc], data: &[&Vec<String>], decimal: LogDecimal, newest_first: bool) {
    let is_volts = |column: &LogColumnDoc| {
        matches!(column.is, Some(LogColumn::TerminalV | LogColumn::BmsV | LogColumn::ChargerV | LogColumn::SourceV))
    };
    let volts_at = columns.iter().position(is_volts);
    let value = |line: &Vec<String>, k: usize| line.get(k).and_then(|text| number(text, decimal));
    for (k, column) in columns.iter_mut().enumerate() {
        if !matches!(column.unit, Some(LogUnit::A | LogUnit::Ma | LogUnit::W)) {
            continue;
        }
        let comes_out = column.is == Some(LogColumn::DischargeA);
        let amps: Vec<f64> = data.iter().filter_map(|line| value(line, k)).collect();
        let mean = amps.iter().sum::<f64>() / amps.len().max(1) as f64;
        let most = amps.iter().map(|a| a.abs()).fold(0.0, f64::max);
        let flowing = data.iter().filter(|line| value(line, k).is_some_and(|a| a.abs() > 0.5 * most && most > 0.0));
        let volts: Vec<f64> = flowing.filter_map(|line| value(line, volts_at?)).collect();
        column.negative = match trend(&volts) {
            Some(rises) => ((mean < 0.0) == (rises != (newest_first != comes_out))).then_some(true),
            None => (mean < 0.0).then_some(true),
        };
    }
}

/// Whether some values rise, or fall, beyond their scatter; none where they do neither.
fn trend(values: &[f64]) -> Option<bool> {
    /// A slope of so many of its deviations is one.
    const SURE: f64 = 6.0;
    let n = values.len() as f64;
    if values.len() < 8 {
        return None;
    }
    let (mean_x, mean_y) = (0.5 * (n - 1.0), values.iter().sum::<f64>() / n);
    let offs = || values.iter().enumerate().map(|(k, v)| (k as f64 - mean_x, v - mean_y));
    let (sxx, sxy): (f64, f64) = offs().fold((0.0, 0.0), |(xx, xy), (x, y)| (xx + x * x, xy + x * y));
    let slope = sxy / sxx;
    let left: f64 = offs().map(|(x, y)| (y - slope * x).powi(2)).sum();
    let deviation = (left / (n - 2.0) / sxx).sqrt();
    (slope.abs() > SURE * deviation && slope != 0.0).then_some(slope > 0.0)
}

/// Which line of the text the k-th record that is not blank stands in, from 0.
fn line_of(head: &str, delimiter: LogDelimiter, k: usize) -> u32 {
    // Banners hold no quoted line breaks, so that records and lines that are not blank go together.
    let filled = head.lines().enumerate().filter(|(_, line)| !split(line, delimiter).is_empty());
    filled.map(|(n, _)| n as u32).nth(k).unwrap_or(0)
}

fn is_unit(field: &str) -> bool {
    let bare = field.trim().trim_matches(['[', ']', '(', ')']);
    bare.is_empty()
        || matches!(
            bare,
            "V" | "mV"
                | "A"
                | "mA"
                | "Ah"
                | "mAh"
                | "W"
                | "Wh"
                | "s"
                | "ms"
                | "min"
                | "h"
                | "°C"
                | "C"
                | "degC"
                | "°F"
                | "F"
                | "%"
                | "hh:mm:ss"
                | "Ohm"
                | "mOhm"
                | "-"
        )
}

fn decimal_of(data: &[&Vec<String>], delimiter: LogDelimiter) -> LogDecimal {
    let fields = || data.iter().flat_map(|line| line.iter()).filter(|field| !field.contains(':'));
    let with = |mark: char| {
        fields()
            .filter(|field| {
                field.matches(mark).count() == 1 && field.chars().all(|c| c.is_ascii_digit() || c == mark || c == '-')
            })
            .count()
    };
    if with(',') > with('.') && (delimiter != LogDelimiter::Comma || with(',') > 0) {
        LogDecimal::Comma
    } else {
        LogDecimal::Point
    }
}

/// The first lines after the names of the columns, field by field.
pub(super) fn data_lines(text: &str, mapping: &LogMappingDoc, most: usize) -> Vec<Vec<String>> {
    let skip = mapping.skip_lines.unwrap_or(0) as usize;
    let after: String = text.lines().skip(skip).take(most + 8).flat_map(|line| [line, "\n"]).collect();
    let lines = split(&after, mapping.delimiter.unwrap_or(LogDelimiter::Comma));
    lines.into_iter().skip(mapping.header_lines.unwrap_or(1) as usize).take(most).collect()
}
