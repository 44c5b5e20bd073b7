//! When a line was written, in the ways that loggers write it.

use time::{Date, Month};

use crate::formats::LogTime;

const DAY_S: f64 = 86_400.0;
/// A log that goes on for longer has a garbled clock, h.
const MOST_HOURS: f64 = 10_000.0;

/// Whether the file itself says on which day it was.
pub(super) fn is_dated(how: LogTime) -> bool {
    use LogTime as T;
    match how {
        T::UnixSeconds | T::UnixMilliseconds | T::YearFirst | T::DayFirst | T::MonthFirst => true,
        T::Seconds | T::Minutes | T::Hours | T::Milliseconds | T::Clock | T::ClockMinutes => false,
    }
}

/// Turns what the lines say into seconds since 1970, one line after the other.
#[derive(Clone, Debug)]
pub(super) struct Moments {
    how: LogTime,
    utc_offset_s: f64,
    began_unix_s: f64,
    /// The first and the latest clock without a date, s; a clock that falls has passed midnight.
    clock: Option<(f64, f64)>,
}

impl Moments {
    pub(super) fn new(how: LogTime, utc_offset_min: f64, began_unix_s: f64) -> Self {
        Self { how, utc_offset_s: 60.0 * utc_offset_min, began_unix_s, clock: None }
    }

    /// Seconds since 1970; `number` reads a plain number as the file writes it.
    pub(super) fn read(&mut self, text: &str, number: impl Fn(&str) -> Option<f64>) -> Option<f64> {
        use LogTime as T;
        let scaled = |by: f64| number(text).map(|n| n * by);
        match self.how {
            T::Seconds => scaled(1.0).map(|s| self.began_unix_s + s),
            T::Minutes => scaled(60.0).map(|s| self.began_unix_s + s),
            T::Hours => scaled(3600.0).map(|s| self.began_unix_s + s),
            T::Milliseconds => scaled(1e-3).map(|s| self.began_unix_s + s),
            T::UnixSeconds => scaled(1.0),
            T::UnixMilliseconds => scaled(1e-3),
            T::Clock => self.by_clock(time_of_day(text)?.0),
            T::ClockMinutes => self.by_clock(hours_and_minutes(text)?),
            T::YearFirst | T::DayFirst | T::MonthFirst => self.by_date(text),
        }
    }

    /// A log that begins near zero counts from its beginning, whatever its first line says; by
    /// a clock of the day its first line is its beginning.
    fn by_clock(&mut self, mut s: f64) -> Option<f64> {
        let (first_s, last_s) = self.clock.unwrap_or((s, s));
        if s < last_s - 0.5 * DAY_S {
            s += ((last_s - 0.5 * DAY_S - s) / DAY_S).ceil() * DAY_S;
        }
        self.clock = Some((first_s, s));
        Some(self.began_unix_s + s - if first_s < 3600.0 { 0.0 } else { first_s })
    }

    fn by_date(&self, text: &str) -> Option<f64> {
        let text = text.trim();
        let (date, clock) = text.split_once(['T', ' ']).or_else(|| text.split_once(','))?;
        let date = date_of(date, self.how)?;
        let (s, zone_s) = time_of_day(clock)?;
        let midnight = date.midnight().assume_utc().unix_timestamp() as f64;
        Some(midnight + s - zone_s.unwrap_or(self.utc_offset_s))
    }
}

/// A date whose parts stand in the given order.
fn date_of(text: &str, how: LogTime) -> Option<Date> {
    let parts: Vec<i32> = text.trim().split(['-', '/', '.']).map(|part| part.parse().ok()).collect::<Option<_>>()?;
    let [a, b, c] = parts.as_slice() else { return None };
    let (year, month, day) = match how {
        LogTime::DayFirst => (*c, *b, *a),
        LogTime::MonthFirst => (*c, *a, *b),
        _ => (*a, *b, *c),
    };
    let year = if (0..100).contains(&year) { year + 2000 } else { year };
    let month = Month::try_from(u8::try_from(month).ok()?).ok()?;
    Date::from_calendar_date(year, month, u8::try_from(day).ok()?).ok().filter(|_| (1970..2200).contains(&year))
}

/// `14:20:05.5`, `14:20`, `2:20:05 PM`, each with or without a zone: seconds, and the zone's, s.
/// Hours may exceed a day; where there are two parts they are hours and minutes only with a zone
/// or a half of the day, else minutes and seconds.
fn time_of_day(text: &str) -> Option<(f64, Option<f64>)> {
    if let Some(s) = duration(text) {
        return Some((s, None));
    }
    let (text, zone_s) = without_zone(text.trim());
    let upper = text.to_ascii_uppercase();
    let half = if upper.ends_with("AM") { Some(0.0) } else { upper.ends_with("PM").then_some(12.0) };
    let bare = if half.is_some() { text.get(..text.len() - 2)?.trim_end() } else { text };
    let parts: Vec<&str> = bare.split(':').collect();
    let whole = |text: &str| text.parse::<u32>().ok().map(f64::from);
    let (hours, minutes, seconds) = match parts.as_slice() {
        [h, m, s] => (whole(h)?, whole(m)?, s.replace(',', ".").parse::<f64>().ok()?),
        [h, m] if half.is_some() || zone_s.is_some() => (whole(h)?, whole(m)?, 0.0),
        [m, s] => (0.0, whole(m)?, s.replace(',', ".").parse::<f64>().ok()?),
        _ => return None,
    };
    let within = seconds.is_finite() && (0.0..61.0).contains(&seconds) && (minutes < 60.0 || parts.len() == 2);
    let hours = half.map_or(hours, |half| hours % 12.0 + half);
    (within && hours < MOST_HOURS).then_some((3600.0 * hours + 60.0 * minutes + seconds, zone_s))
}

/// `14:20` by a clock of the day, s.
fn hours_and_minutes(text: &str) -> Option<f64> {
    let (hours, minutes) = text.trim().split_once(':')?;
    let whole = |text: &str, below: u32| text.parse::<u32>().ok().filter(|n| *n < below).map(f64::from);
    Some(3600.0 * whole(hours, 24)? + 60.0 * whole(minutes, 60)?)
}

/// `1h 02m 03s`, `5 min 10 s`: how long it has been going on, s.
fn duration(text: &str) -> Option<f64> {
    let (mut total_s, mut digits, mut unit, mut parts) = (0.0, String::new(), String::new(), 0);
    let mut close = |digits: &mut String, unit: &mut String| -> Option<()> {
        let each_s = match unit.as_str() {
            "d" | "day" | "days" => DAY_S,
            "h" | "hr" | "hrs" | "hour" | "hours" => 3600.0,
            "m" | "min" | "mins" | "minute" | "minutes" => 60.0,
            "s" | "sec" | "secs" | "second" | "seconds" => 1.0,
            _ => return None,
        };
        total_s += each_s * digits.parse::<f64>().ok()?;
        parts += 1;
        digits.clear();
        unit.clear();
        Some(())
    };
    for c in text.trim().to_lowercase().chars().filter(|c| !c.is_whitespace()) {
        if c.is_ascii_digit() || c == '.' {
            if !unit.is_empty() {
                close(&mut digits, &mut unit)?;
            }
            digits.push(c);
        } else if c.is_alphabetic() {
            unit.push(c);
        } else {
            return None;
        }
    }
    close(&mut digits, &mut unit)?;
    // One figure with its unit is a number.
    (parts > 1 && total_s < 3600.0 * MOST_HOURS).then_some(total_s)
}

/// A trailing `Z` or `+02:00` taken off, with what it stands for, s.
fn without_zone(text: &str) -> (&str, Option<f64>) {
    if let Some(bare) = text.strip_suffix(['Z', 'z']) {
        return (bare, Some(0.0));
    }
    let Some(at) = text.rfind(['+', '-']).filter(|at| *at > 0) else { return (text, None) };
    let digits: String = text[at + 1..].chars().filter(char::is_ascii_digit).collect();
    let sign = if text[at..].starts_with('-') { -1.0 } else { 1.0 };
    let zone = match digits.len() {
        2 => digits.parse::<f64>().ok().map(|h| 3600.0 * h),
        4 => digits.parse::<f64>().ok().map(|hm| 3600.0 * (hm / 100.0).floor() + 60.0 * (hm % 100.0)),
        _ => None,
    };
    zone.map_or((text, None), |zone_s| (&text[..at], Some(sign * zone_s)))
}

/// Whether two parts are hours and minutes of the day: what counts from the beginning of a log begins near nothing,
/// or goes past 23 minutes.
fn is_clock_of_minutes(values: &[&str], header: &str) -> bool {
    let counts = ["elapsed", "duration", "mm:ss", "runtime"].iter().any(|word| header.contains(word));
    let pairs: Vec<(u32, u32)> = values
        .iter()
        .filter_map(|value| value.trim().split_once(':').and_then(|(a, b)| Some((a.parse().ok()?, b.parse().ok()?))))
        .collect();
    let of_a_day = pairs.iter().all(|(hours, minutes)| *hours < 24 && *minutes < 60);
    let later = pairs.first().is_some_and(|(hours, _)| *hours > 0) || header.contains("hh:mm");
    !counts && 2 * pairs.len() > values.len() && of_a_day && later
}

/// Whether a field is written as time that has gone by: `1h 02m 03s`.
pub(super) fn is_duration(text: &str) -> bool {
    duration(text).is_some()
}

/// Whether a field is written as a time of day, a date with one, or time that has gone by.
pub(super) fn is_moment(text: &str) -> bool {
    let clock = |text: &str| text.contains(':') && time_of_day(text).is_some();
    let dated = || text.trim().split_once(['T', ' ']).or_else(|| text.split_once(','));
    is_duration(text) || clock(text) || dated().is_some_and(|(date, time)| date.len() >= 6 && clock(time))
}

/// How a time is written, from some of its values; `header` may name a unit.
pub(super) fn found_out(values: &[&str], header: &str, number: impl Fn(&str) -> Option<f64>) -> LogTime {
    let numbers: Vec<f64> = values.iter().filter_map(|v| number(v)).collect();
    if numbers.len() * 2 > values.len() {
        let most = numbers.iter().copied().fold(0.0, f64::max);
        let unit = |names: &[&str]| header.split(|c: char| !c.is_alphanumeric()).any(|word| names.contains(&word));
        return match most {
            m if m > 1e11 => LogTime::UnixMilliseconds,
            m if m > 1e9 => LogTime::UnixSeconds,
            _ if unit(&["ms", "msec", "millis", "milliseconds", "millisecond"]) => LogTime::Milliseconds,
            _ if unit(&["min", "minutes", "minute"]) => LogTime::Minutes,
            _ if unit(&["h", "hours", "hour", "hrs"]) => LogTime::Hours,
            _ => LogTime::Seconds,
        };
    }
    let dates: Vec<&str> = values.iter().filter_map(|v| v.trim().split(['T', ' ', ',']).next()).collect();
    let parts: Vec<Vec<&str>> =
        dates.iter().map(|d| d.split(['-', '/', '.']).collect::<Vec<_>>()).filter(|p| p.len() == 3).collect();
    if parts.len() * 2 <= values.len() {
        return if is_clock_of_minutes(values, header) { LogTime::ClockMinutes } else { LogTime::Clock };
    }
    let over_twelve = |k: usize| parts.iter().any(|p| p[k].parse::<u32>().is_ok_and(|n| n > 12));
    if parts.iter().any(|p| p[0].len() == 4) {
        LogTime::YearFirst
    } else if over_twelve(1) || (!over_twelve(0) && dates.iter().any(|d| d.contains('/'))) {
        LogTime::MonthFirst
    } else {
        LogTime::DayFirst
    }
}
