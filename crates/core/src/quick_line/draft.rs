//! The plan that a line grows into, and the tokens it grows from.

use super::said::{Leftover, Question, Understood};
use crate::formats::{ChargerDoc, LeadDoc, LoadDoc, PackDoc, Practice, SettingsDoc, SourceDoc, StartDoc};

/// A number with its unit, or a word.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Token {
    pub(super) text: String,
    pub(super) number: Option<f64>,
    /// What else the number may be: five thousand where it reads `5,000`.
    pub(super) grouped: Option<f64>,
    /// Lower case; the unit of a number, or the word.
    pub(super) word: String,
}

/// What was understood so far.
#[derive(Default)]
pub(super) struct Draft {
    pub(super) pack: PackDoc,
    pub(super) start: StartDoc,
    pub(super) source: SourceDoc,
    pub(super) charger: ChargerDoc,
    pub(super) lead: LeadDoc,
    pub(super) settings: SettingsDoc,
    pub(super) load: LoadDoc,
    pub(super) practice: Option<Practice>,
    pub(super) understood: Vec<Understood>,
    pub(super) not_understood: Vec<Leftover>,
    pub(super) asked: Vec<Question>,
    /// A bare number on the pack: where it stands in `understood`, and the number.
    pub(super) bare: Option<(usize, f64)>,
    /// Amps the pack gives, A.
    pub(super) given_a: Option<f64>,
}

impl Draft {
    /// Keeps what a token was taken to mean.
    pub(super) fn note(&mut self, token: &Token, meaning: String, pointer: &str) -> bool {
        self.understood.push(Understood { text: token.text.clone(), meaning, pointer: pointer.to_owned() });
        true
    }
}
