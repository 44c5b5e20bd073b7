//! A logger's file read as a history, for the command line and for the page alike.

use std::io::Read;

use rumek_core::formats::{LogLookAskDoc, LogMappingDoc, LogResultDoc, PackDoc, Problems};
use rumek_core::{LogError, LogHistory, LogReader, LogTotals, NEWEST_FIRST, decoded_log, log_head_text, look_at_log};
use time::OffsetDateTime;

use crate::wire::shown;

/// So much of the beginning tells how a file is read, bytes.
const HEAD: usize = 1 << 17;

/// Why no history can be told.
#[derive(Debug, thiserror::Error)]
pub(crate) enum HistoryError {
    /// Something in the file, the mapping or the pack.
    #[error(transparent)]
    Problems(#[from] Problems),
    /// The file broke off.
    #[error(transparent)]
    Log(#[from] LogError),
}

/// Reads a file to its end. Without a mapping, or with one that says only some of it, the rest is found out.
pub(crate) fn history(
    source: impl Read,
    mapping: Option<&LogMappingDoc>,
    pack: Option<&PackDoc>,
) -> Result<LogResultDoc, HistoryError> {
    let mut history = LogHistory::new(pack)?;
    let mut totals = pack.map(LogTotals::of).transpose()?;
    let mut decoded = decoded_log(source).map_err(LogError::from)?;
    let mut head = Vec::with_capacity(HEAD);
    (&mut decoded).take(HEAD as u64).read_to_end(&mut head).map_err(LogError::from)?;
    let look = look_at_log(&LogLookAskDoc {
        text: Some(log_head_text(&head, head.len() < HEAD)),
        mapping: mapping.cloned(),
        ..LogLookAskDoc::default()
    })?;
    if let Some(missing) = look.missing.iter().find(|missing| *missing != NEWEST_FIRST) {
        let mut problems = Problems::default();
        problems.add("", missing.clone(), "a file whose columns are named, or a mapping that says what they hold");
        return Err(problems.into());
    }
    let mut reader = LogReader::new(&look.mapping, 0.0, head.as_slice().chain(decoded))?.with_any_clock();
    let (mut first_s, mut last_s) = (None, None);
    while let Some(row) = reader.next_row()? {
        match row {
            Ok(row) => {
                first_s = first_s.or(Some(row.unix_s));
                last_s = Some(row.unix_s);
                history.push(row.unix_s, &row.reading);
                if let Some(totals) = &mut totals {
                    totals.push(&row);
                }
            }
            Err(bad) => history.push_bad(bad),
        }
    }
    if let Some(why) = totals.as_ref().and_then(LogTotals::another) {
        let mut problems = Problems::default();
        problems.add("", why, "a log of this pack, with the volts at its terminals");
        return Err(problems.into());
    }
    let earliest_s = if history.newest_first() { last_s } else { first_s };
    let began_at = earliest_s.filter(|_| look.dated).and_then(|s| OffsetDateTime::from_unix_timestamp(s as i64).ok());
    Ok(history.finish(look.mapping, began_at.map(shown)))
}
