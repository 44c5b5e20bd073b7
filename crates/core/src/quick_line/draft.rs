//! The plan that a line grows into, and the tokens it grows from.

use super::said::{Question, Words};
use crate::formats::{
    ChargerDoc, CutOffDoc, LeadDoc, Leftover, LoadDoc, PackDoc, Practice, SettingsDoc, SourceDoc, StartDoc, Understood,
};

/// A number with its unit, or a word.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Token {
    pub(super) text: String,
    pub(super) number: Option<f64>,
    /// The upper end of a span, whose lower one is the number.
    pub(super) upto: Option<f64>,
    /// What else the number may be: five thousand where it reads `5,000`.
    pub(super) grouped: Option<f64>,
    /// Lower case; the unit of a number, or the word.
    pub(super) word: String,
    /// Its place in the line.
    pub(super) at: usize,
    /// Whether a word beside it turns it round: `not full`, `balancer broken`.
    pub(super) denied: bool,
}

impl Token {
    /// A figure in the unit that documents use: A, V, Ah, W, Wh, m, h.
    pub(super) fn in_base(&self, figure: f64) -> f64 {
        match self.word.as_str() {
            "mv" | "ma" | "mah" => figure / 1e3,
            "kw" | "kwh" => figure * 1e3,
            "cm" => figure / 100.0,
            "ft" => (figure * 304.8).round() / 1e3,
            "inch" => (figure * 25.4).round() / 1e3,
            "min" => figure / 60.0,
            _ => figure,
        }
    }
}

/// No cell stands above this, V: what is higher is no cell's.
pub(super) const HIGHEST_CELL_V: f64 = 4.5;

/// What was said of one cell, V where nothing else is said.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub(super) struct ACell {
    pub(super) reading_v: Option<f64>,
    pub(super) charge_v: Option<f64>,
    /// mΩ.
    pub(super) resistance_mohm: Option<f64>,
    /// Whether a word beside the reading said that it is one.
    pub(super) said_to_be_read: bool,
}

/// Cells that stand apart, and where the others stand.
#[derive(Debug, Default)]
pub(super) struct OddCells {
    /// Each with its number, where that was said, and its volts.
    pub(super) apart: Vec<(Option<usize>, f64)>,
    pub(super) others_v: Option<f64>,
    /// As it was written.
    pub(super) text: String,
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
    pub(super) cut_off: CutOffDoc,
    pub(super) a_cell: ACell,
    /// Cells that stand apart from the others.
    pub(super) odd_cells: Option<OddCells>,
    /// Each with its place in the line.
    pub(super) understood: Vec<(usize, Understood)>,
    pub(super) not_understood: Vec<Leftover>,
    pub(super) asked: Vec<Question>,
    /// A bare number on the pack: where it stands in `understood`, and the number.
    pub(super) bare: Option<(usize, f64)>,
    /// A number before F: where it stands in `understood`; farads or degrees.
    pub(super) farads: Option<(usize, f64)>,
    /// Lead, of which kind nobody said.
    pub(super) lead_acid: bool,
    pub(super) source_lead: bool,
    /// Lithium, of which kind nobody said.
    pub(super) lithium: bool,
    /// Volts that stood alone in their part, V.
    pub(super) lone_v: Option<f64>,
    /// What each of several packs is charged with, A.
    pub(super) each_a: Option<f64>,
    /// A label's range that may be for charging or for standing, V.
    pub(super) label_span: Option<(f64, f64)>,
    /// How many batteries feed it, and whether they stand one after the other.
    pub(super) source_count: Option<u32>,
    pub(super) source_in_series: Option<bool>,
    /// The label of a battery that feeds it, V.
    pub(super) source_label_v: Option<f64>,
    /// `4p`, and whether it came right after the cells in series.
    pub(super) side_by_side: Option<u32>,
    pub(super) counted_in: bool,
    /// So many packs one after the other.
    pub(super) in_series: Option<u32>,
    /// Whether the pack was said to have been used just now.
    pub(super) flown: bool,
    /// Whether the part says what a charger manages: cells beside spans of volts, after the pack is known.
    pub(super) in_charger: bool,
    /// Whether the part speaks of wire.
    pub(super) in_lead: bool,
    /// Amps the pack gives, A.
    pub(super) given_a: Option<f64>,
    /// Whether the supply holds a current, where that was said.
    pub(super) holds_current: Option<bool>,
    /// Whether packs are joined side by side on a board.
    pub(super) parallel_board: bool,
    /// Several packs, of which nothing said how they are joined.
    pub(super) batteries: Option<u32>,
    /// Single cells, of which nothing said how they are joined.
    pub(super) loose_cells: Option<u32>,
    /// A word of cold or of heat without a figure, and what it may be, °C.
    pub(super) warmth: Option<(String, [f64; 3])>,
    /// Words of harm that nothing was made of: each as it was written, and as it is told.
    pub(super) harms: Vec<(String, String)>,
    /// The words of the pack and of what charges it.
    pub(super) words: Words,
    /// Each figure with the field it went to, as it was written.
    pub(super) figures: Vec<(String, String, f64)>,
}

impl Draft {
    /// What was said of one field belongs to another, now that the kind of thing is known.
    pub(super) fn moved(&mut self, from: &str, to: &str) {
        let pieces = self.understood.iter_mut().map(|(_, piece)| piece);
        pieces.filter(|piece| piece.pointer == from).for_each(|piece| to.clone_into(&mut piece.pointer));
        self.figures.iter_mut().filter(|(field, ..)| field == from).for_each(|(field, ..)| to.clone_into(field));
    }

    /// What was first said of a field means something else.
    pub(super) fn meant(&mut self, pointer: &str, meaning: String) {
        if let Some((_, piece)) = self.understood.iter_mut().find(|(_, piece)| piece.pointer == pointer) {
            piece.meaning = meaning;
        }
    }

    /// Keeps what a token was taken to mean.
    pub(super) fn note(&mut self, token: &Token, meaning: String, pointer: &str) -> bool {
        if let Some(figure) = token.number.filter(|_| token.upto.is_none()) {
            self.figures.push((pointer.to_owned(), token.text.clone(), token.in_base(figure)));
        }
        self.understood.push((token.at, Understood { text: token.text.clone(), meaning, pointer: pointer.to_owned() }));
        true
    }
}
