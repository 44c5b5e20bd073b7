//! What is not charged at all, and what nobody here knows how to charge.

use super::draft::Draft;
use super::said::{Choice, Question};

/// Words of cells that are used once, with what such cells are called.
const ONCE: &[(&[&str], &str)] = &[
    (
        &["alkaline", "alkali", "alkalines", "zinc-carbon", "zinc-chloride", "lr6", "lr03", "lr44", "6lr61"],
        "Alkaline cells",
    ),
    (
        &[
            "cr2032", "cr2025", "cr2016", "cr2450", "cr123", "cr123a", "cr2", "cr-v3", "primary", "coin", "button",
            "er14505",
        ],
        "Cells with lithium metal",
    ),
    (&["non-rechargeable", "nonrechargeable", "disposable", "zinc-air"], "These cells"),
];
/// Kinds of which Rumek has no figures.
const UNKNOWN: &[(&[&str], &str)] = &[
    (&["nizn", "ni-zn", "nickel-zinc", "nickelzinc"], "nickel-zinc"),
    (&["silver-zinc", "agzn", "silverzinc"], "silver-zinc"),
    (&["nife", "ni-fe", "nickel-iron"], "nickel-iron"),
    (&["zebra", "molten-salt"], "molten-salt"),
];
/// Sizes that are sold once-only as well as rechargeable.
const EITHER: &[&str] = &["aa", "aaa", "mignon"];

/// Whether a word names such cells.
pub(super) fn says(word: &str) -> bool {
    [ONCE, UNKNOWN].into_iter().flatten().any(|(words, _)| words.contains(&word))
}

impl Draft {
    /// What forbids any charge, or must be known before one; `None` where nothing does.
    pub(super) fn refusal(&self) -> Option<Question> {
        let words = self.words.pack.iter().chain(&self.words.gear);
        let named = |table: &[(&[&str], &'static str)]| {
            words
                .clone()
                .find_map(|word| table.iter().find(|(words, _)| words.contains(&word.as_str())).map(|(_, name)| *name))
        };
        const FIELD: &str = "/pack/chemistry";
        if let Some(name) = named(ONCE) {
            let question = format!(
                "{name} are not charged: they leak, and they can burst or burn. Take them to a collection point."
            );
            return Some(Question::open(FIELD, question).holding());
        }
        if let Some(name) = named(UNKNOWN) {
            let question =
                format!("Rumek does not know how to charge {name} batteries. Use the charger that was made for them.");
            return Some(Question::open(FIELD, question).holding());
        }
        let says = |what: &[&str]| self.words.pack.iter().any(|word| what.contains(&word.as_str()));
        let unsaid = self.pack.chemistry.is_none() && self.pack.capacity_ah.is_none() && self.bare.is_none();
        (says(EITHER) && unsaid && !says(&["rechargeable", "charged", "recharge"])).then(|| {
            Question::choosing(
                FIELD,
                "Does “NiMH”, “NiCd” or “rechargeable” stand on the cells? Others leak and burst when they are charged.",
                vec![Choice::of("NiMH, or rechargeable", FIELD, "nimh"), Choice::of("NiCd", FIELD, "nicd")],
            )
            .holding()
        })
    }
}
