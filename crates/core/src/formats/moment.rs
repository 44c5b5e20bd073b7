//! Times as documents write them.

use time::OffsetDateTime;
use time::format_description::well_known::Rfc3339;

/// Seconds since 1970 of an RFC 3339 time.
pub(crate) fn unix_s(text: &str) -> Option<f64> {
    OffsetDateTime::parse(text, &Rfc3339).ok().map(|t| t.unix_timestamp_nanos() as f64 / 1e9)
}

/// An RFC 3339 time in UTC, to the second; of times beyond its calendar the first or the last.
pub(crate) fn written(unix_s: f64) -> String {
    const CALENDAR_S: (f64, f64) = (-62_135_596_800.0, 253_402_300_799.0);
    let seconds = unix_s.clamp(CALENDAR_S.0, CALENDAR_S.1).round() as i64;
    let at = OffsetDateTime::from_unix_timestamp(seconds).ok();
    at.and_then(|at| at.format(&Rfc3339).ok()).unwrap_or_default()
}

/// Whether nearly every moment is before the one above it, s; a clock set anew now and then falls, too.
pub(crate) fn falls(moments_s: impl IntoIterator<Item = f64>) -> bool {
    const NEARLY_ALL: f64 = 0.9;
    const FEWEST: usize = 8;
    let (mut before, mut steps, mut falling) = (None, 0_usize, 0_usize);
    for s in moments_s {
        if let Some(before) = before.filter(|before| *before != s) {
            steps += 1;
            falling += usize::from(s < before);
        }
        before = Some(s);
    }
    steps >= FEWEST && falling as f64 > NEARLY_ALL * steps as f64
}
