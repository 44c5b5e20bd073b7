//! One cell that stands apart from the others: `cell 3 at 2.9, others 3.6`, `all 3.6 except one at 2.9`.
//!
//! It is why a pack is asked about, and read as anything else it would be charged past: as the pack's own volts, or as
//! what each of its cells is charged to.

use super::draft::{Draft, HIGHEST_CELL_V, OddCells, Token};
use super::part::Part;
use super::said::Question;
use crate::formats::Leftover;
use crate::units::{Kind, show};

/// What a cell is called that stands apart, before or in place of its number.
const APART: &[&str] =
    &["one", "a", "lowest", "weakest", "worst", "low", "weak", "bad", "dead", "highest", "high", "odd"];
/// What the cells are called that do not.
const OTHERS: &[&str] = &["others", "other", "rest", "remaining"];
const EXCEPT: &[&str] = &["except", "but"];
/// Words that may stand between a cell and what it reads.
const BETWEEN: &[&str] = &[
    "at", "is", "are", "the", "and", "all", "of", "reads", "read", "reading", "down", "only", "sits", "stands",
    "about", "cells", "cell", "with", "for", "has", "shows", "to",
];
/// A line goes on with the other cells after a comma, in no more words than these.
const FEW: usize = 7;
const FIELD: &str = "/pack/start/cell_voltages_v";
/// No pack has more cells in series that are told apart by number.
const MOST_CELLS: f64 = 100.0;

/// Whether a part goes on with the cells of the one before.
pub(super) fn goes_on(before: &[Token], tokens: &[Token]) -> bool {
    let is = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let first = tokens.iter().find(|t| !is(t, &["the", "and", "all"]));
    before.iter().any(|t| is(t, &["cell"]))
        && tokens.len() <= FEW
        && first.is_some_and(|t| is(t, OTHERS) || is(t, &["cell"]))
}

impl Draft {
    /// Cells that stand apart from the others.
    pub(super) fn odd_cells(&mut self, part: &mut Part<'_>) {
        let mut odd = OddCells::default();
        let (mut first, mut last) = (usize::MAX, 0);
        let mut n = 0;
        while n < part.tokens.len() {
            let read = cell_apart(part, n).or_else(|| excepted(part, n));
            let Some((from, to, cell, others_v)) = read else {
                n += 1;
                continue;
            };
            odd.apart.push(cell);
            odd.others_v = odd.others_v.or(others_v);
            (first, last) = (first.min(from), last.max(to));
            n = to + 1;
        }
        if odd.apart.is_empty() {
            return;
        }
        if let Some((at, volts)) = others(part, last + 1).or_else(|| others(part, 0).filter(|(at, _)| *at < first)) {
            odd.others_v = Some(volts);
            let others_from = (0..=at).rev().find(|k| OTHERS.contains(&part.word(*k))).unwrap_or(at);
            (first, last) = (first.min(others_from), last.max(at));
        }
        let token = part.take(first, last);
        odd.text.clone_from(&token.text);
        self.note(&token, "cells that stand apart, asked below".to_owned(), FIELD);
        self.odd_cells = Some(odd);
    }

    /// Puts them down cell by cell, once it is known how many there are; asks what is missing.
    pub(super) fn settle_odd_cells(&mut self, questions: &mut Vec<Question>) {
        let Some(odd) = self.odd_cells.take() else { return };
        let volts = |v: f64| show(Kind::Voltage, v);
        let list = odd.apart.iter().map(|(_, v)| volts(*v)).collect::<Vec<_>>().join(" and ");
        if odd.others_v.is_none() {
            questions.push(Question {
                pointer: FIELD.to_owned(),
                question: format!("{list} is not all of them: what does each cell read?"),
                options: Vec::new(),
                choices: Vec::new(),
                holds: false,
            });
        }
        // A low cell is what a card must not be given past, whatever the others read.
        let lowest_v = odd.apart.iter().map(|(_, v)| *v).fold(f64::INFINITY, f64::min);
        let others_v = odd.others_v.unwrap_or(lowest_v);
        let count = self.pack.series.map_or(0, |series| series as usize);
        let fits = odd.apart.len() <= count && odd.apart.iter().all(|(at, _)| at.is_none_or(|at| at <= count));
        if !fits {
            // Until it is known how many there are, nothing is made of them.
            self.understood.retain(|(_, piece)| piece.pointer != FIELD || piece.text != odd.text);
            self.not_understood.push(Leftover { text: odd.text });
            return;
        }
        let mut cells = vec![others_v; count];
        let named: Vec<usize> = odd.apart.iter().filter_map(|(at, _)| *at).collect();
        let mut free = (1..=count).filter(|at| !named.contains(at));
        for (at, v) in &odd.apart {
            if let Some(cell) = at.or_else(|| free.next()).and_then(|at| cells.get_mut(at - 1)) {
                *cell = *v;
            }
        }
        let told = if odd.others_v.is_none() {
            format!("{list}; the others are taken to read the same until they are told")
        } else if named.len() < odd.apart.len() {
            format!("{list}, the others {}; which one was not said, so it stands first", volts(others_v))
        } else {
            format!("{list}, the others {}", volts(others_v))
        };
        self.meant(FIELD, format!("{count} cells read: {told}"));
        self.start.cell_voltages_v = Some(cells);
        self.start.soc = None;
    }
}

/// The place of the figure after words that may stand between, and that figure as a cell's volts.
fn reading(part: &Part<'_>, from: usize) -> Option<(usize, f64)> {
    let at = (from..part.tokens.len()).find(|n| !BETWEEN.contains(&part.word(*n)))?;
    let volts = part.figure(at, &["", "v", "mv"]).filter(|v| (0.0..=HIGHEST_CELL_V).contains(v))?;
    Some((at, volts))
}

/// A cell's number at a place.
fn number(part: &Part<'_>, n: usize) -> Option<usize> {
    part.figure(n, &[""]).filter(|k| k.fract() == 0.0 && (1.0..=MOST_CELLS).contains(k)).map(|k| k as usize)
}

type Read = (usize, usize, (Option<usize>, f64), Option<f64>);

/// The place from where words lead up to a cell: `the one dead`, `all`.
fn led_up(part: &Part<'_>, n: usize) -> usize {
    let leads = |word: &str| APART.contains(&word) || matches!(word, "all" | "the" | "and" | "but" | "cells");
    (0..n).rev().take_while(|k| leads(part.word(*k))).last().unwrap_or(n)
}

/// `cell 3 at 2.9`, `one cell at 2.9`, `lowest cell 2.9`: from where to where, its number and volts.
fn cell_apart(part: &Part<'_>, n: usize) -> Option<Read> {
    if part.word(n) != "cell" {
        return None;
    }
    if let Some((at, volts)) = number(part, n + 1).and_then(|_| reading(part, n + 2)) {
        return Some((led_up(part, n), at, (number(part, n + 1), volts), None));
    }
    let before = n.checked_sub(1)?;
    let called = APART.contains(&part.word(before));
    let from = if called { led_up(part, n) } else { before };
    let (at, volts) = reading(part, n + 1)?;
    (called || number(part, before) == Some(1)).then_some((from, at, (None, volts), None))
}

/// `3.6 except one at 2.9`, `3.6 V but cell 2 2.9 V`: the same, and what the others read.
fn excepted(part: &Part<'_>, n: usize) -> Option<Read> {
    if !EXCEPT.contains(&part.word(n)) {
        return None;
    }
    let others_at = n.checked_sub(1)?;
    let others_v = part.figure(others_at, &["", "v"]).filter(|v| (0.0..=HIGHEST_CELL_V).contains(v))?;
    let named = (n + 1..part.tokens.len()).find(|k| !APART.contains(&part.word(*k)) && part.word(*k) != "for")?;
    let cell = if part.word(named) == "cell" { number(part, named + 1) } else { None };
    let (at, volts) = reading(part, if cell.is_some() { named + 2 } else { named })?;
    Some((led_up(part, others_at), at, (cell, volts), Some(others_v)))
}

/// `others 3.6`, `the rest at 3.6 V`: the place of the figure, and what they read.
fn others(part: &Part<'_>, from: usize) -> Option<(usize, f64)> {
    let named = (from..part.tokens.len()).find(|n| OTHERS.contains(&part.word(*n)))?;
    reading(part, named + 1)
}
