//! What is only known once the whole line was read.

use super::draft::{Draft, Token};
use super::said::{Choice, Question};
use crate::physics::cell::Chemistry;
use crate::units::{Kind, from_fahrenheit, show};

/// Words for lead batteries of which kind they leave open.
pub(super) fn is_lead_word(word: &str) -> bool {
    matches!(
        word,
        "lead" | "acid" | "lead-acid" | "leadacid" | "sealed" | "sla" | "vrla" | "starter" | "car" | "vehicle"
    )
}

/// Whether some words speak of lead.
pub(super) fn says_lead(tokens: &[Token]) -> bool {
    tokens.iter().any(|t| t.number.is_none() && is_lead_word(&t.word))
}

/// Asks which kind of lead battery it is.
pub(super) fn which_lead(pointer: &str) -> Question {
    Question {
        pointer: pointer.to_owned(),
        question: "Which kind of lead battery? Caps to refill it: flooded. Sealed: AGM, or gel if the label says so."
            .to_owned(),
        options: vec!["lead_agm".to_owned(), "lead_gel".to_owned(), "lead_flooded".to_owned()],
        choices: Vec::new(),
        holds: false,
    }
}

/// Asks which chemistry it is, of the lithium ones where that was said.
pub(super) fn which_chemistry(lithium: bool) -> Question {
    const LITHIUM: &[Chemistry] = &[Chemistry::Lfp, Chemistry::LiIon, Chemistry::Lipo, Chemistry::Lihv, Chemistry::Lto];
    let options = if lithium { LITHIUM } else { Chemistry::ALL };
    Question {
        pointer: "/pack/chemistry".to_owned(),
        question: if lithium { "Which kind of lithium pack?" } else { "Which chemistry is the pack?" }.to_owned(),
        options: options.iter().filter(|c| **c != Chemistry::Custom).map(|c| c.code().to_owned()).collect(),
        choices: Vec::new(),
        holds: false,
    }
}

impl Draft {
    /// A chemistry of the pack: of two, the high-voltage kind is a LiPo too, and others are asked.
    pub(super) fn chemistry_said(&mut self, chemistry: Chemistry) {
        let both = |a, b| [a, b].contains(&chemistry) && self.pack.chemistry.is_some_and(|c| [a, b].contains(&c));
        match self.pack.chemistry {
            Some(before) if before != chemistry && both(Chemistry::Lipo, Chemistry::Lihv) => {
                self.pack.chemistry = Some(Chemistry::Lihv);
            }
            Some(before) if before != chemistry => {
                self.pack.chemistry = None;
                self.words.either = vec![before, chemistry];
                self.asked.push(Question {
                    pointer: "/pack/chemistry".to_owned(),
                    question: "Two chemistries are said. Which is the pack?".to_owned(),
                    options: [before, chemistry].map(|c| c.code().to_owned()).into(),
                    choices: Vec::new(),
                    holds: false,
                });
            }
            _ => self.pack.chemistry = Some(chemistry),
        }
    }

    /// F after a number: farads of a capacitor, else degrees.
    pub(super) fn settle_farads(&mut self) {
        let Some((n, number)) = self.farads.take() else { return };
        let other = self.pack.chemistry.is_some_and(|c| c != Chemistry::Supercap && c != Chemistry::Custom);
        let holds =
            self.bare.is_some() || self.pack.capacity_ah.is_some() || self.pack.energy_wh.is_some() || self.lead_acid;
        let capacitor = self.pack.chemistry == Some(Chemistry::Supercap);
        if capacitor || !other && !holds {
            self.pack.capacitance_f = Some(number);
            if self.pack.chemistry.is_none() {
                self.pack.chemistry = Some(Chemistry::Supercap);
            }
            return;
        }
        let celsius = self.at_celsius(from_fahrenheit(number));
        if let Some((_, piece)) = self.understood.get_mut(n) {
            piece.meaning = format!("the pack is at {}", show(Kind::Temperature, celsius));
            piece.pointer = "/pack/temperature_c".to_owned();
        }
    }

    /// `4p` by itself: cells of one pack, or packs side by side.
    pub(super) fn settle_parallel(&mut self) {
        let Some(count) = self.side_by_side.filter(|count| *count > 1 && self.pack.packs_in_parallel.is_none()) else {
            return;
        };
        if self.pack.series.is_some() && self.counted_in {
            return;
        }
        let choice = |label: String, value: u32| Choice::of(label, "/pack/packs_in_parallel", f64::from(value));
        self.asked.push(Question::choosing(
            "/pack/packs_in_parallel",
            format!("{count}P: does the capacity count them already, or is it that of one of them?"),
            vec![choice("all together".to_owned(), 1), choice(format!("one of {count}"), count)],
        ));
    }
}
