//! Words for a pack that is not to be charged, and for one that has to be looked at first.
//!
//! They matter more than any figure beside them: a swollen pack is retired whatever it reads.

use super::draft::{Draft, Token};
use super::said::Question;
use crate::codes::PackMark;

/// The pack is retired by these alone, as in Rescue.
const GONE: &[&str] = &[
    "swollen",
    "swelled",
    "swelling",
    "puffed",
    "puffy",
    "puffing",
    "bulging",
    "bulged",
    "bloated",
    "ballooned",
    "ballooning",
    "leaking",
    "leaked",
    "leaks",
    "leaky",
    "dented",
    "crushed",
    "pierced",
    "punctured",
    "smell",
    "smells",
    "smelly",
    "stinks",
    "stinking",
    "hissing",
    "vented",
    "venting",
    "smoked",
    "smoking",
    "burnt",
    "retired",
];
/// After these it may be as bad as that.
const DOUBTFUL: &[&str] =
    &["crash", "crashed", "dropped", "soaked", "drowned", "submerged", "frozen", "overcharged", "shorted"];
/// Before a word these turn it round: `not swollen`.
const DENIED: &[&str] = &["not", "no", "never", "isnt", "isn't", "without"];

/// Whether a word speaks of a pack's health.
pub(super) fn says(word: &str) -> bool {
    GONE.contains(&word) || DOUBTFUL.contains(&word)
}

/// The field such a word fills.
const FIELD: &str = "/pack/mark";

impl Draft {
    /// What a word says of a pack's health; whether it says anything of it. `before`: the word before it.
    pub(super) fn damage(&mut self, token: &Token, before: &str) -> bool {
        let word = token.word.as_str();
        let (gone, doubtful) = (GONE.contains(&word), DOUBTFUL.contains(&word));
        if !gone && !doubtful {
            return false;
        }
        if DENIED.contains(&before) {
            return true;
        }
        if gone {
            self.pack.mark = Some(PackMark::Retired);
            return self.note(token, format!("{word}: not to be charged, whatever it reads"), FIELD);
        }
        self.asked.push(Question {
            pointer: FIELD.to_owned(),
            question: format!(
                "{word}: is it swollen, dented, leaking or wet inside, or does it smell? Then it is never charged again."
            ),
            options: vec![PackMark::Retired.code().to_owned()],
            choices: Vec::new(),
        });
        self.note(token, format!("{word}: look at it first, asked below"), FIELD)
    }
}
