//! The items of a list before something begins.

use crate::formats::{PreflightCode, PreflightItemDoc, PreflightKind};

/// How far a pack may have moved since it was noted, V a cell.
pub(super) const MOVED_V: f64 = 0.05;

pub(super) fn item(code: PreflightCode, kind: PreflightKind, message: impl Into<String>) -> PreflightItemDoc {
    PreflightItemDoc {
        code,
        kind,
        message: message.into(),
        expected: None,
        low: None,
        high: None,
        ok: None,
        problem: None,
    }
}

pub(super) fn between(item: PreflightItemDoc, expected: f64, low: f64, high: f64) -> PreflightItemDoc {
    PreflightItemDoc { expected: Some(expected), low: Some(low), high: Some(high), ..item }
}
