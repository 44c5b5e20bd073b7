//! The tokens of one part, and which of them are spoken for.

use super::draft::Token;

/// Words that may stand between a word and its figure.
const BETWEEN: &[&str] = &[
    "at", "to", "of", "is", "are", "when", "under", "below", "less", "than", "the", "current", "voltage", "use", "max",
    "up", "after", "about", "no", "not", "exceed", "power", "charge", "it", "for", "limit", "with", "a",
];

/// The tokens of one part, and which of them are spoken for.
pub(super) struct Part<'a> {
    pub(super) tokens: &'a [Token],
    pub(super) used: Vec<bool>,
}

impl<'a> Part<'a> {
    pub(super) fn new(tokens: &'a [Token]) -> Self {
        Self { tokens, used: vec![false; tokens.len()] }
    }

    /// What nothing was made of yet.
    pub(super) fn left(&self) -> Vec<Token> {
        self.tokens.iter().zip(&self.used).filter(|(_, used)| !**used).map(|(token, _)| token.clone()).collect()
    }

    pub(super) fn word(&self, n: usize) -> &str {
        self.tokens.get(n).filter(|t| t.number.is_none()).map_or("", |t| t.word.as_str())
    }

    pub(super) fn says(&self, words: &[&str]) -> bool {
        (0..self.tokens.len()).any(|n| words.contains(&self.word(n)))
    }

    /// A figure with one of these units at a place, in the unit that documents use.
    pub(super) fn figure(&self, n: usize, units: &[&str]) -> Option<f64> {
        let token = self.tokens.get(n).filter(|t| t.upto.is_none() && t.grouped.is_none())?;
        let figure = token.number.filter(|_| !self.used[n] && units.contains(&token.word.as_str()))?;
        Some(token.in_base(figure))
    }

    pub(super) fn span(&self, n: usize, units: &[&str]) -> Option<(f64, f64)> {
        let token = self.tokens.get(n).filter(|_| !self.used[n])?;
        Some((token.number?, token.upto?)).filter(|_| units.contains(&token.word.as_str()))
    }

    /// The place after those words that may stand between.
    pub(super) fn past_between(&self, from: usize) -> usize {
        (from..self.tokens.len()).find(|n| !BETWEEN.contains(&self.word(*n))).unwrap_or(self.tokens.len())
    }

    /// The nearest of these words before a place, with nothing but words between; where it stands.
    pub(super) fn word_before(&self, n: usize, words: &[&str]) -> Option<usize> {
        let mut at = n;
        while at > 0 {
            at -= 1;
            if words.contains(&self.word(at)) {
                return Some(at);
            }
            if !BETWEEN.contains(&self.word(at)) && !matches!(self.word(at), "-" | "–") {
                return None;
            }
        }
        None
    }

    pub(super) fn word_after(&self, n: usize, words: &[&str]) -> Option<usize> {
        let at = self.past_between(n + 1);
        words.contains(&self.word(at)).then_some(at)
    }

    /// One of these words beside a place: right after it, or before it; a word between two figures belongs to the
    /// one before it unless that has its own.
    pub(super) fn beside(&self, n: usize, words: &[&str]) -> Option<usize> {
        self.word_before(n, words).filter(|at| !self.used[*at]).or_else(|| self.word_after(n, words))
    }

    /// Takes a stretch of tokens, and makes one of their text.
    pub(super) fn take(&mut self, from: usize, to: usize) -> Token {
        let text = self.tokens[from..=to].iter().map(|t| t.text.as_str()).collect::<Vec<_>>().join(" ");
        self.used[from..=to].fill(true);
        let at = self.tokens[from].at;
        Token { text, number: None, upto: None, grouped: None, word: String::new(), at, denied: false }
    }

    pub(super) fn take_both(&mut self, a: usize, b: usize) -> Token {
        self.take(a.min(b), a.max(b))
    }
}
