//! Logs of other instruments: what a file holds is found out, shown, corrected by the person and
//! read line by line.

mod column;
mod decode;
mod moment;
mod read;
mod sniff;

use super::extremes::Extremes;
use super::row::LogRow;
use super::sums::LONGEST_SILENCE_S;
use crate::formats::moment::{falls, unix_s};
use crate::formats::{LogLookAskDoc, LogLookDoc, LogMappingDoc, LogReadingDoc, PackDoc, Problems};
use crate::parts::plan::alone;
use crate::units::trimmed;
pub use decode::{LogDecoded, decoded_log, log_head_text};
use read::moments;
pub use read::{LogError, LogReader};

/// What is said of a file whose newest line stands first, where it is read line by line.
pub const NEWEST_FIRST: &str = "Its newest line stands first. Sort it by time, oldest first.";

/// A pack run down as far as it can be shows at least this share of its nominal volts, and never more than so many
/// times what it bears.
const LOWEST: f64 = 0.3;
const HIGHEST: f64 = 1.05;
/// A slip now and then is no other pack.
const MOST_OUTSIDE: f64 = 0.3;

/// So many lines are shown.
const SHOWN: usize = 8;

/// Looks at the beginning of a file: how it is read (found out, unless a mapping is given; of one
/// without columns or without a way to read the time, what it lacks is found out), what
/// its first lines say then, and what still keeps it from being read.
///
/// # Examples
/// ```
/// use rumek_core::formats::{LogLookAskDoc, from_value};
/// use serde_json::json;
///
/// let ask: LogLookAskDoc = from_value(&json!({ "text": "Time;Voltage (V);Current (A)\n0:00;22,5;4,0\n0:10;23,1;4,0\n" }))?;
/// let mapping = rumek_core::look_at_log(&ask)?.mapping;
/// assert_eq!(mapping.columns.map(|columns| columns.len()), Some(3));
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// A beginning without lines, or a time of its beginning that is none.
pub fn look_at_log(ask: &LogLookAskDoc) -> Result<LogLookDoc, Problems> {
    let mut problems = Problems::default();
    let text = ask.text.clone().unwrap_or_default();
    if text.trim().is_empty() {
        problems.add("/text", "the file is empty", "at least one line with numbers");
        return Err(problems);
    }
    let mapping = match &ask.mapping {
        Some(given) if given.columns.is_some() && given.time.is_some() => given.clone(),
        hints => {
            let found = sniff::mapping_of(&text, hints.as_ref().unwrap_or(&LogMappingDoc::default()));
            LogMappingDoc { utc_offset_min: ask.utc_offset_min.or(Some(0.0)), ..found }
        }
    };
    let began = ask.began_at.as_deref().map(unix_s);
    if began == Some(None) {
        problems.add("/began_at", "this is no time", "RFC 3339, such as 2026-11-25T14:20:00Z");
        return Err(problems);
    }
    let lines = sniff::data_lines(&text, &mapping, SHOWN);
    let mut answer = LogLookDoc {
        lines,
        readings: Vec::new(),
        bad: Vec::new(),
        looked_at: 0,
        dated: mapping.time.is_some_and(moment::is_dated),
        missing: Vec::new(),
        volts: None,
        mapping: mapping.clone(),
    };
    // A time within the log alone still shows what its lines say.
    let began_unix_s = began.flatten().unwrap_or(0.0);
    let mut reader = match LogReader::new(&mapping, began_unix_s, text.as_bytes()) {
        Ok(reader) => reader,
        Err(wrong) => {
            answer.missing = wrong.problems.into_iter().map(|problem| problem.message).collect();
            return Ok(answer);
        }
    };
    loop {
        match reader.next_row() {
            Ok(None) => break,
            Ok(Some(row)) => {
                answer.looked_at += 1;
                let row = match row {
                    Ok(row) => Some(row),
                    Err(bad) => {
                        answer.bad.push(bad);
                        None
                    }
                };
                if let Some(v) = row.as_ref().and_then(|row| row.reading.at_pack().0) {
                    let [low, high] = answer.volts.unwrap_or([v, v]);
                    answer.volts = Some([low.min(v), high.max(v)]);
                }
                if answer.readings.len() < SHOWN {
                    let shown = row.map(|row| LogReadingDoc { unix_s: row.unix_s, reading: row.reading });
                    answer.readings.push(shown);
                }
            }
            Err(error) => {
                answer.missing.push(error.to_string());
                break;
            }
        }
    }
    if falls(moments(&text, &mapping)) {
        answer.missing.push(NEWEST_FIRST.to_owned());
    }
    if answer.readings.iter().flatten().next().is_none() && answer.missing.is_empty() {
        answer.missing.push("No line of it can be read as it is set.".to_owned());
    }
    Ok(answer)
}

/// How well a pack goes with the lowest and the highest volts of a log: none where it cannot have
/// been this one, else the smaller the better.
///
/// # Errors
/// What is wrong with the pack.
pub fn log_fits(given: &PackDoc, [low_v, high_v]: [f64; 2]) -> Result<Option<f64>, Problems> {
    let pack = alone(given)?;
    let series = f64::from(pack.series);
    let profile = &pack.profile;
    let empty_v = 0.85 * profile.ocv.at(0.0).0 * series;
    let possible = low_v >= empty_v && high_v <= 1.02 * profile.ceiling_v * series;
    Ok(possible.then(|| (high_v / (profile.full_v * series) - 1.0).abs()))
}

/// Whether a pack can have been the one whose cells a log holds: it has at least so many in series, or does not say.
#[must_use]
pub fn log_cells_fit(given: &PackDoc, cells: usize) -> bool {
    given.series.is_none_or(|series| cells as f64 <= f64::from(series))
}

/// What a log comes to, line by line.
#[derive(Clone, Debug, Default)]
pub struct LogTotals {
    /// How many lines were readings.
    pub lines: usize,
    /// When the first and the last were taken, seconds since 1970.
    pub taken: Option<(f64, f64)>,
    /// The most cells a line held the volts of.
    pub cells: usize,
    integrated_ah: f64,
    counted: Option<(f64, f64)>,
    last_a: Option<(f64, f64)>,
    extremes: Extremes,
    /// What the terminals of its pack can show, V; `None` where no pack is known.
    possible_v: Option<[f64; 2]>,
    /// How many lines had volts, how many of them its pack cannot have, and the latest of those, V.
    volts: (usize, usize, f64),
}

impl LogTotals {
    /// Of a log of this pack, whose volts it must be able to have.
    ///
    /// # Errors
    /// What is wrong with the pack.
    pub fn of(given: &PackDoc) -> Result<Self, Problems> {
        let pack = alone(given)?;
        let series = f64::from(pack.series);
        let low_v = LOWEST * pack.profile.nominal_v * series;
        Ok(Self { possible_v: Some([low_v, HIGHEST * pack.profile.ceiling_v * series]), ..Self::default() })
    }

    /// The next line.
    pub fn push(&mut self, row: &LogRow) {
        let (volts, amps) = row.reading.at_pack();
        self.lines += 1;
        self.cells = self.cells.max(row.reading.cell_voltages_v.as_ref().map_or(0, Vec::len));
        let (first_s, _) = self.taken.unwrap_or((row.unix_s, row.unix_s));
        self.taken = Some((first_s, row.unix_s));
        if let Some(a) = amps {
            if let Some((t_s, before_a)) = self.last_a
                && row.unix_s - t_s <= LONGEST_SILENCE_S
            {
                self.integrated_ah += 0.5 * (a + before_a) * (row.unix_s - t_s) / 3600.0;
            }
            self.last_a = Some((row.unix_s, a));
        }
        if let Some(count) = row.reading.charger_ah {
            self.counted = Some((self.counted.map_or(count, |(first, _)| first), count));
        }
        if let (Some([low_v, high_v]), Some(v)) = (self.possible_v, volts) {
            self.volts.0 += 1;
            if !(low_v..=high_v).contains(&v) {
                self.volts.1 += 1;
                self.volts.2 = v;
            }
        }
        self.extremes.push((volts, amps));
    }

    /// Why it cannot be a log of its pack, where most of its volts are none of such a pack.
    #[must_use]
    pub fn another(&self) -> Option<String> {
        let ([low_v, high_v], (read, outside, v)) = (self.possible_v?, self.volts);
        (outside as f64 > MOST_OUTSIDE * read as f64).then(|| {
            format!(
                "its volts, such as {} V, cannot be those of this pack, which stands between {} and {} V",
                trimmed(v, 2),
                trimmed(low_v, 1),
                trimmed(high_v, 1)
            )
        })
    }

    /// Into the pack, Ah: the charger's own count where it has one, else the current over time; none where neither amps nor a count were read.
    #[must_use]
    pub fn charge_ah(&self) -> Option<f64> {
        let counted = self.counted.map(|(first, last)| last - first).filter(|ah| *ah > 0.0);
        counted.or_else(|| self.last_a.map(|_| self.integrated_ah))
    }

    /// For each level, finest first, which lines it keeps, counted from 0.
    #[must_use]
    pub fn overview(self) -> Vec<Vec<usize>> {
        self.extremes.finish()
    }
}
