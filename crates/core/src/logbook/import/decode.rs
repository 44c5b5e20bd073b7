//! The characters of a logger's file: one decoder for whoever looks at it and whoever reads it whole.
//!
//! UTF-16 is told by its mark or by its nulls. Everything else is read field by field as UTF-8, and where a field is
//! none as the western code page that older programs write: one stray byte spoils its own field only.

use std::io::{Chain, Cursor, Read};

use encoding_rs::{Encoding, UTF_16BE, UTF_16LE, WINDOWS_1252};
use encoding_rs_io::{DecodeReaderBytes, DecodeReaderBytesBuilder};

/// So much of the beginning tells how it is written, bytes.
const TOLD_BY: usize = 4096;

/// A file's bytes, UTF-16 made UTF-8; its mark taken off.
pub type LogDecoded<R> = DecodeReaderBytes<Chain<Cursor<Vec<u8>>, R>, Vec<u8>>;

/// The encoding of a file without a mark whose every other byte is null, or `None`.
fn wide(head: &[u8]) -> Option<&'static Encoding> {
    let nulls = |from: usize| head.iter().skip(from).step_by(2).filter(|byte| **byte == 0).count();
    let half = head.len() / 2;
    let (even, odd) = (nulls(0), nulls(1));
    match half {
        0 | 1 => None,
        _ if 10 * odd >= 7 * half && even * 10 < half => Some(UTF_16LE),
        _ if 10 * even >= 7 * half && odd * 10 < half => Some(UTF_16BE),
        _ => None,
    }
}

/// Reads a file as its first bytes say that it is written.
///
/// # Errors
/// What the source says.
pub fn decoded_log<R: Read>(mut source: R) -> std::io::Result<LogDecoded<R>> {
    let mut head = Vec::with_capacity(TOLD_BY);
    (&mut source).take(TOLD_BY as u64).read_to_end(&mut head)?;
    let told = wide(&head);
    let bytes = Cursor::new(head).chain(source);
    let mut builder = DecodeReaderBytesBuilder::new();
    builder.bom_override(true).utf8_passthru(true).strip_bom(true).encoding(told);
    builder.build_with_buffer(bytes, vec![0; 8192]).map_err(std::io::Error::other)
}

/// The beginning of a file as text, its last line only where it is whole or all there is.
#[must_use]
pub fn log_head_text(bytes: &[u8], whole: bool) -> String {
    let mut read = Vec::new();
    // Bytes in memory are always read.
    let _ = decoded_log(bytes).and_then(|mut source| source.read_to_end(&mut read));
    let end =
        if whole { read.len() } else { read.iter().rposition(|byte| *byte == b'\n').map_or(read.len(), |at| at + 1) };
    text(&read[..end])
}

/// UTF-8 where a field is, else the western code page; line by line, so that one stray byte spoils no other line.
fn text(bytes: &[u8]) -> String {
    if let Ok(text) = std::str::from_utf8(bytes) {
        return text.to_owned();
    }
    bytes.split_inclusive(|byte| *byte == b'\n').map(text_of).collect()
}

/// The text of a field or of a line.
pub(super) fn text_of(field: &[u8]) -> std::borrow::Cow<'_, str> {
    match std::str::from_utf8(field) {
        Ok(text) => text.into(),
        Err(_) => WINDOWS_1252.decode_without_bom_handling(field).0,
    }
}
