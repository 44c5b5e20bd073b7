//! Which times a reading may have, and when in its run it was taken.

use rumek_core::formats::{Problems, RunDoc};
use rumek_store::{Stored, StoredReading};
use time::{Duration, OffsetDateTime};

use crate::wire::instant;

/// Clocks that are off are off by less than a century, ms.
const MOST_OFF_MS: i64 = 100 * 365 * 86_400_000;
/// The years readings are taken in.
const YEARS: std::ops::Range<i32> = 1970..2200;
/// A reading may have been taken so long before its run began, as clocks have it.
const BEFORE: Duration = Duration::days(1);
/// A run goes on for no longer than this.
const LONGEST: Duration = Duration::seconds(2_000_000);

/// Names what is no possible time of a reading.
pub(crate) fn check(problems: &mut Problems, taken_at: OffsetDateTime, clock_offset_ms: i64) {
    if !YEARS.contains(&taken_at.year()) {
        problems.add("/taken_at", "no reading was taken then", "a time from 1970 to 2199");
    }
    if !(-MOST_OFF_MS..=MOST_OFF_MS).contains(&clock_offset_ms) {
        problems.add("/clock_offset_ms", "no clock is that far off", "less than a hundred years either way, ms");
    }
}

/// Names what is no possible time of a document, by where it stands.
pub(crate) fn check_said<const N: usize>(said: [(&str, &Option<String>); N]) -> Result<(), Problems> {
    let mut problems = Problems::default();
    for (pointer, said) in said {
        let possible = |at: &String| instant(at).is_some_and(|at| YEARS.contains(&at.year()));
        if !said.as_ref().is_none_or(possible) {
            problems.add(pointer, "this is no time", "a time from 1970 to 2199, such as 2026-11-25T09:00:00Z");
        }
    }
    problems.into_result(())
}

/// When a run began.
pub(crate) fn began(row: &Stored, run: &RunDoc) -> OffsetDateTime {
    let said = run.started_at.as_deref().and_then(instant);
    said.unwrap_or(row.created_at)
}

/// When a reading was taken, by the server's clock, if that lies in a run that began at a moment; none of
/// one that cannot be placed in it.
pub(crate) fn placed(reading: &StoredReading, began: OffsetDateTime) -> Option<OffsetDateTime> {
    let at = reading.at().filter(|at| YEARS.contains(&at.year()))?;
    (-BEFORE..=LONGEST).contains(&(at - began)).then_some(at)
}

/// Readings fetched at a time for a log.
pub(crate) const PAGE: usize = 20_000;

/// A moment as seconds since 1970.
pub(crate) fn unix_s(at: OffsetDateTime) -> f64 {
    at.unix_timestamp_nanos() as f64 / 1e9
}

#[cfg(test)]
mod tests {
    use super::*;

    fn reading(taken_at: OffsetDateTime, clock_offset_ms: i64) -> StoredReading {
        let received_at = OffsetDateTime::UNIX_EPOCH;
        StoredReading {
            n: 1,
            client_id: None,
            taken_at,
            clock_offset_ms,
            received_at,
            struck_at: None,
            document: serde_json::Value::Null,
        }
    }

    fn wrong(taken_at: OffsetDateTime, clock_offset_ms: i64) -> usize {
        let mut problems = Problems::default();
        check(&mut problems, taken_at, clock_offset_ms);
        problems.problems.len()
    }

    #[test]
    fn times_of_documents_have_bounds() {
        let wrong = |said: Option<&str>| {
            let checked = check_said([("/ended_at", &said.map(str::to_owned))]);
            checked.map_or_else(|wrong| wrong.problems.len(), |()| 0)
        };
        assert_eq!((wrong(None), wrong(Some("2026-11-25T09:00:00+01:00"))), (0, 0));
        assert_eq!((wrong(Some("")), wrong(Some("2026-11-25")), wrong(Some("now"))), (1, 1, 1));
        assert_eq!((wrong(Some("1970-01-01T00:00:00Z")), wrong(Some("1969-12-31T23:59:59Z"))), (0, 1));
        assert_eq!((wrong(Some("2199-12-31T23:59:59Z")), wrong(Some("2200-01-01T00:00:00Z"))), (0, 1));
    }

    #[test]
    fn times_and_clocks_have_bounds() {
        let now = time::macros::datetime!(2026-11-25 09:00 UTC);
        assert_eq!((wrong(now, MOST_OFF_MS), wrong(now, MOST_OFF_MS + 1), wrong(now, -MOST_OFF_MS - 1)), (0, 1, 1));
        assert_eq!(wrong(time::macros::datetime!(1970-01-01 00:00 UTC), 0), 0);
        assert_eq!(wrong(time::macros::datetime!(1969-12-31 23:59:59 UTC), 0), 1);
        assert_eq!(wrong(time::macros::datetime!(2199-12-31 23:59:59 UTC), 0), 0);
        assert_eq!(wrong(time::macros::datetime!(9999-12-31 23:59:59 UTC), i64::MAX), 2);
    }

    #[test]
    fn what_lies_outside_its_run_is_not_placed() {
        let began = time::macros::datetime!(2026-11-25 09:00 UTC);
        assert!(placed(&reading(began + LONGEST, 0), began).is_some());
        assert!(placed(&reading(began + LONGEST + Duration::seconds(1), 0), began).is_none());
        assert!(placed(&reading(began - BEFORE, 0), began).is_some());
        assert!(placed(&reading(began - BEFORE - Duration::seconds(1), 0), began).is_none());
        assert!(placed(&reading(began, 1_000_000_000_000_000), began).is_none());
        assert!(placed(&reading(time::macros::datetime!(9999-12-31 23:59:59 UTC), i64::MIN), began).is_none());
    }
}
