//! Numbers by name, as checks, steps and sayings carry them.

use std::collections::BTreeMap;

/// Numbers by name, to a millionth.
pub(crate) fn named(values: &[(&str, f64)]) -> BTreeMap<String, f64> {
    values.iter().map(|(name, v)| ((*name).to_owned(), (*v * 1e6).round() / 1e6)).collect()
}
