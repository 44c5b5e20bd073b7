//! The sums of all readings of a run, kept and gone on with.

use rumek_core::formats::{Problems, RunDoc, RunReadingDoc, from_value};
use rumek_core::{LogRow, LogSums};
use rumek_store::{Logs, StoredReading};
use time::OffsetDateTime;
use uuid::Uuid;

use crate::problem::Problem;
use crate::routes::clock::{self, PAGE, unix_s};

/// Sums of so many more readings than were kept before are kept in turn.
const WORTH_KEEPING: usize = 500;

/// The sums of all readings of a run: those that were kept, gone on with.
pub(crate) async fn of_all(logs: &Logs, id: Uuid, run: &RunDoc, began: OffsetDateTime) -> Result<LogSums, Problem> {
    let under = |wrong: Problems| Problem::from(wrong.under("/plan"));
    let plan = run.plan.clone().unwrap_or_default();
    let discharge = run.discharge.as_ref();
    let (covered, kept) = logs.sums(id).await?.unzip();
    let resumed = match &kept {
        Some(kept) => LogSums::resume(&plan, discharge, kept).map_err(under)?,
        None => None,
    };
    let covered = covered.filter(|_| resumed.is_some()).unwrap_or(0);
    let sums = match resumed {
        Some(sums) => sums,
        None => LogSums::new(&plan, discharge).map_err(under)?,
    };
    let ((sums, read), again) = match go_on(logs, id, sums, covered, began).await? {
        Some(done) => (done, false),
        // A reading was taken before some that are summed already: all anew, by their times.
        None => (anew(logs, id, LogSums::new(&plan, discharge).map_err(under)?, began).await?, true),
    };
    if read >= covered + WORTH_KEEPING || (again && read >= WORTH_KEEPING) {
        let document = sums.to_json().map_err(|error| Problem::failed(&error))?;
        logs.keep_sums(id, read, &document).await?;
    }
    Ok(sums)
}

/// Goes on from the first so many readings; none where they are not in the order of their times.
async fn go_on(
    logs: &Logs,
    run: Uuid,
    mut sums: LogSums,
    covered: usize,
    began: OffsetDateTime,
) -> Result<Option<(LogSums, usize)>, Problem> {
    let mut read = covered;
    loop {
        let page = logs.page(run, read, PAGE).await?;
        if page.is_empty() {
            return Ok(Some((sums, read)));
        }
        read += page.len();
        for row in page.iter().filter_map(|row| line(row, began)) {
            let between = sums.last_unix_s().is_some_and(|last_s| row.unix_s < last_s);
            if !between {
                sums.push(&row);
            } else if !sums.put_between(&row) {
                return Ok(None);
            }
        }
    }
}

/// All of them, put in the order of their times.
async fn anew(logs: &Logs, run: Uuid, mut sums: LogSums, began: OffsetDateTime) -> Result<(LogSums, usize), Problem> {
    let rows = logs.page(run, 0, usize::MAX).await?;
    // Of a long log that takes seconds: others are served meanwhile.
    let summed = tokio::task::spawn_blocking(move || {
        let mut lines: Vec<LogRow> = rows.iter().filter_map(|row| line(row, began)).collect();
        lines.sort_by(|a, b| a.unix_s.total_cmp(&b.unix_s));
        lines.iter().for_each(|line| sums.push(line));
        (sums, rows.len())
    });
    summed.await.map_err(|error| Problem::failed(&error))
}

/// A reading as a line of a log; none of one that was taken back, cannot be placed, or not be read.
fn line(row: &StoredReading, began: OffsetDateTime) -> Option<LogRow> {
    if row.struck_at.is_some() {
        return None;
    }
    let at = clock::placed(row, began)?;
    let reading = from_value::<RunReadingDoc>(&row.document).ok()?;
    Some(LogRow { unix_s: unix_s(at), reading })
}
