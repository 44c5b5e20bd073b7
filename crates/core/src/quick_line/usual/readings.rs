//! The plans that a line may mean: each is the same line with its kind of battery and its cells said.

use super::weights::{Candidate, candidates};
use crate::codes::Chemistry;
use crate::physics::cell::profile;
use crate::quick_line::read::read;
use crate::quick_line::said::Heard;
use crate::quick_line::spoken::said_in;

/// A reading weighs at least this beside the heaviest, or it is none.
const LEAST: f64 = 0.02;
/// No more of them are followed.
const MOST: usize = 8;

/// One plan that a line may mean.
#[derive(Clone, Debug)]
pub(crate) struct Reading {
    /// The line that says it.
    pub(crate) line: String,
    pub(crate) heard: Heard,
    pub(crate) chemistry: Chemistry,
    pub(crate) series: Option<u32>,
    pub(crate) weight: f64,
    pub(crate) because: Vec<String>,
}

impl Reading {
    /// Its kind and its cells, as on a button.
    pub(crate) fn label(&self) -> String {
        let profile = profile(self.chemistry);
        let name = profile.map_or("other", |profile| profile.name);
        let lead = profile.is_some_and(|profile| profile.traits.absorbs);
        match self.series {
            Some(series) if lead => format!("{name}, {} V", 2 * series),
            Some(1) => format!("{name}, one cell"),
            Some(series) => format!("{name}, {series} cells in series"),
            None => name.to_owned(),
        }
    }
}

/// The readings of a line whose kind of battery or whose cells are not said, the likeliest first; none where both are.
pub(crate) fn readings(line: &str, heard: &Heard) -> Vec<Reading> {
    let pack = heard.plan.pack.clone().unwrap_or_default();
    if pack.chemistry.is_some() && pack.series.is_some() || heard.words.refused {
        return Vec::new();
    }
    let likely = candidates(heard).into_iter().take_while(|one| one.weight >= LEAST).take(MOST);
    likely.filter_map(|candidate| reading(line, heard, candidate)).collect()
}

fn reading(line: &str, said: &Heard, candidate: Candidate) -> Option<Reading> {
    let Candidate { chemistry, series, weight, because } = candidate;
    let pack = said.plan.pack.clone().unwrap_or_default();
    let kind = if pack.chemistry.is_none() { profile(chemistry)?.named.first().copied() } else { None };
    let cells = series.filter(|_| pack.series.is_none()).map(|series| format!("{series}S"));
    let fits = |heard: &Heard| {
        let pack = heard.plan.pack.as_ref();
        // What charges it stays what it was; a charger's volts may turn out to be a name for the pack.
        let charger = |heard: &Heard| heard.plan.charger.as_ref().map(|charger| (charger.kind, charger.output_max_a));
        let alike = heard.plan.source == said.plan.source && charger(heard) == charger(said);
        alike
            && pack.is_some_and(|pack| pack.chemistry == Some(chemistry) && (series.is_none() || pack.series == series))
    };
    // Where its kind alone says how many cells it has, no count is put beside it.
    let said: Vec<&str> = kind.into_iter().chain(cells.as_deref()).collect();
    let line = kind
        .and_then(|kind| said_in(line, kind, false, fits))
        .or_else(|| said_in(line, &said.join(" "), false, fits))?;
    let heard = read(&line);
    Some(Reading { line, heard, chemistry, series, weight, because })
}
