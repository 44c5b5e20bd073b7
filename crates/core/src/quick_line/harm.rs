//! Words of harm or of failure that nothing else was made of: the settings wait until somebody says what is meant.

use super::draft::{Draft, Token};
use super::said::{Choice, Question};
use crate::codes::PackMark;
use crate::units::{Kind, show};

/// Words that may mean that the pack, its board or what charges it is not what the plan takes it for.
const HARM: &[&str] = &[
    // Its shape and its shell.
    "pillowed",
    "pillow",
    "pillowing",
    "blown",
    "torn",
    "ripped",
    "nicked",
    "bent",
    "deformed",
    "warped",
    "squishy",
    "spongy",
    "cracked",
    "crack",
    "split",
    "gouged",
    "damaged",
    "damage",
    "crumpled",
    "squashed",
    "melted",
    "melting",
    "burned",
    "scorched",
    "charred",
    "fire",
    "smoke",
    "steam",
    "fumes",
    "fuming",
    "oozing",
    "corroded",
    "corrosion",
    "rusty",
    "rusted",
    "powder",
    "crust",
    "crusty",
    // Its cells.
    "dead",
    "weak",
    "failing",
    "failed",
    "faulty",
    "defective",
    "defect",
    "broken",
    "bad",
    "unequal",
    "uneven",
    "imbalanced",
    "unbalanced",
    "mismatched",
    "mixed",
    "reversed",
    "reverse",
    "drained",
    "overdischarged",
    "over-discharged",
    "undervoltage",
    "self-discharging",
    "dying",
    "suspicious",
    "suspect",
    "strange",
    "weird",
    "abused",
    "drift",
    "drifted",
    "drifting",
    // What was done to it.
    "bypassed",
    "bypass",
    "bridged",
    "jumpered",
    "repaired",
    "rebuilt",
    "resoldered",
    "soldered",
    "modified",
    "salvaged",
    "scavenged",
    "reclaimed",
    "recycled",
    "improvised",
    "homemade",
    "defeated",
    "tampered",
    "fell",
    "fallen",
    "accident",
    "collision",
    // Where it was.
    "water",
    "wet",
    "rain",
    "rained",
    "moisture",
    "damp",
    "minus",
    "neg",
    "negative",
    "boiled",
    // How long.
    "sat",
    "forgotten",
    "neglected",
    "unused",
    "abandoned",
    "years",
    "year",
    "months",
    "month",
    "winters",
    // What guards it.
    "trips",
    "tripping",
    "tripped",
    "locked",
    "latched",
    "protection",
    "errors",
    "error",
    "fault",
    "beeps",
    "beeping",
];
/// How cold or how warm it may be where no figure says it: the words, and the temperatures to choose from, °C.
const WARMTHS: &[(&[&str], [f64; 3])] = &[
    (
        &["freezing", "frost", "frosty", "freezer", "fridge", "subzero", "sub-zero", "zero", "snow", "ice", "icy"],
        [-5.0, 3.0, 15.0],
    ),
    (&["hot", "overheated", "overheating", "boiling"], [50.0, 40.0, 25.0]),
];
/// Turned round these say the same: `not equal`, `not working`.
const SOUND: &[&str] = &[
    "equal", "even", "level", "matched", "same", "working", "works", "work", "healthy", "good", "sound", "ok", "okay",
    "reliable", "safe", "intact",
];

/// Whether a word is one of them.
pub(super) fn says(word: &str) -> bool {
    HARM.contains(&word) || WARMTHS.iter().any(|(words, _)| words.contains(&word))
}

/// The words that a slip of a letter is mended to; shorter ones are too near to harmless words.
pub(super) fn mended() -> impl Iterator<Item = &'static str> {
    HARM.iter().copied().filter(|word| word.len() >= 6)
}

impl Draft {
    /// Keeps a word of harm that nothing was made of; whether it is one.
    pub(super) fn harm(&mut self, token: &Token) -> bool {
        let word = token.word.as_str();
        if let Some((_, temperatures)) = WARMTHS.iter().find(|(words, _)| !token.denied && words.contains(&word)) {
            self.warmth = Some((token.text.clone(), *temperatures));
            return true;
        }
        let harms = if token.denied { SOUND.contains(&word) } else { HARM.contains(&word) };
        if !harms {
            return false;
        }
        let said = if token.denied { format!("not {}", token.text) } else { token.text.clone() };
        self.harms.push((token.text.clone(), said));
        true
    }

    /// Asks what words of harm mean, all in one question.
    pub(super) fn settle_harm(&mut self, questions: &mut Vec<Question>) {
        if let Some((text, temperatures)) = self.warmth.take().filter(|_| self.pack.temperature_c.is_none()) {
            let field = "/pack/temperature_c";
            let choices = temperatures.map(|c| Choice::of(show(Kind::Temperature, c), field, c)).into();
            questions.push(Question::choosing(field, format!("“{text}”: how warm is the pack?"), choices).holding());
        }
        if self.harms.is_empty() || self.pack.mark == Some(PackMark::Retired) {
            return;
        }
        let said: Vec<String> = self.harms.iter().map(|(_, said)| format!("“{said}”")).collect();
        let texts: Vec<String> = self.harms.iter().map(|(text, _)| text.clone()).collect();
        let question = format!("{}: is anything wrong with the pack, its board or what charges it?", said.join(", "));
        questions.push(
            Question::choosing(
                "/pack/mark",
                question,
                vec![
                    Choice::of("Yes: it is not charged", "/pack/mark", PackMark::Retired.code()),
                    Choice::without("No: leave the words out", texts),
                ],
            )
            .holding(),
        );
    }
}
