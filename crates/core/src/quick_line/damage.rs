//! Words for a pack that is not to be charged, and for one that has to be looked at first.
//!
//! They matter more than any figure beside them: a swollen pack is retired whatever it reads.

use super::draft::{Draft, Token};
use super::said::{Choice, Question};
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
/// Shorter words are a slip away from harmless ones: `leads` are no leaks.
const SHORTEST_MENDED: usize = 6;

/// The words that a slip of a letter is mended to.
pub(super) fn mended() -> impl Iterator<Item = &'static str> {
    GONE.iter().copied().filter(|word| word.len() >= SHORTEST_MENDED)
}

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
        if token.denied || DENIED.contains(&before) {
            return true;
        }
        if gone {
            self.pack.mark = Some(PackMark::Retired);
            return self.note(token, format!("{word}: not to be charged, whatever it reads"), FIELD);
        }
        let question = format!(
            "{word}: is it swollen, dented, leaking or wet inside, or does it smell? Then it is never charged again."
        );
        let choices = vec![
            Choice::of("yes, one of these", FIELD, PackMark::Retired.code()),
            Choice::without("no, none of these", vec![token.text.clone()]),
        ];
        self.asked.push(Question::choosing(FIELD, question, choices).holding());
        self.note(token, format!("{word}: look at it first, asked below"), FIELD)
    }
}
