//! What a label's bare numbers and rates mean: what is read, what is asked, what is never charged by.
//!
//! A label that says what a pack may *give* in large letters says little of what it may be charged with;
//! mixing them up sets packs alight. A capacity without a unit is milliampere-hours on one kind of pack
//! and ampere-hours on another.

use super::draft::{Draft, Token};
use super::said::{Choice, Question};
use crate::formats::Leftover;
use crate::physics::cell::{Chemistry, profile};
use crate::units::{Kind, show, trimmed};

/// No pack is warmer than this without smoke, °C.
const WARMEST_C: f64 = 80.0;
/// A lone C number above this is what a pack may give.
const CHARGED_WITH_AT_MOST_C: f64 = 5.0;
/// Words that say that a number beside them is for charging, and for giving.
const CHARGING: &[&str] = &["charge", "charging", "chg", "charged", "initial", "recharge", "recommended"];
const GIVING: &[&str] =
    &["discharge", "discharging", "dischg", "dis", "burst", "continuous", "constant", "cont", "peak"];
/// Words that may stand between such a word and its number.
const BETWEEN: &[&str] = &[
    "rate", "current", "max", "max.", "maximum", "rated", "at", "with", "up", "to", "of", "is", "a", "under", "below",
    "less", "than", "not", "no", "exceed", "limit", "must", "be",
];

/// What a rate or a current beside its word is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum Way {
    In,
    Out,
    /// Nothing says.
    Open,
}

fn way_of(word: &str) -> Option<Way> {
    let word = word.trim_matches([':', '.', '(', ')']);
    if CHARGING.contains(&word) {
        Some(Way::In)
    } else if GIVING.contains(&word) {
        Some(Way::Out)
    } else {
        None
    }
}

/// Whether a token is a rate or a current.
fn is_rate(token: &Token) -> bool {
    range(&token.word).is_some() || (token.number.is_some() && matches!(token.word.as_str(), "c" | "a" | "ma"))
}

/// What the words around a token say of it; a word belongs to the rate after it before the one before it,
/// unless every rate has one after it: `60C discharge 5C charge`.
pub(super) fn way(tokens: &[Token], n: usize) -> Way {
    let word = |token: &Token| token.number.is_none().then(|| way_of(&token.word)).flatten();
    let marked: Vec<usize> = (0..tokens.len()).filter(|k| word(&tokens[*k]).is_some()).collect();
    let rates: Vec<usize> = (0..tokens.len()).filter(|k| is_rate(&tokens[*k])).collect();
    if marked.len() >= rates.len()
        && rates.iter().zip(&marked).all(|(rate, mark)| rate < mark)
        && let Some(way) = rates.iter().position(|k| *k == n).and_then(|k| word(&tokens[marked[k]]))
    {
        return way;
    }
    let ahead = tokens[..n].iter().rev().take_while(|t| BETWEEN.contains(&t.word.as_str())).count();
    let before = n.checked_sub(ahead + 1).and_then(|m| tokens.get(m));
    if let Some(way) = before.filter(|t| t.number.is_none()).and_then(|t| way_of(&t.word)) {
        return way;
    }
    let skipped = tokens[n + 1..].iter().take_while(|t| matches!(t.word.as_str(), "max" | "max." | "rate")).count();
    let word_at = n + 1 + skipped;
    let Some(way) = tokens.get(word_at).filter(|t| t.number.is_none()).and_then(|t| way_of(&t.word)) else {
        return Way::Open;
    };
    let rest = &tokens[word_at + 1..];
    let next = rest.iter().find(|t| !BETWEEN.contains(&t.word.as_str()));
    if next.is_some_and(is_rate) { Way::Open } else { way }
}

/// `1c-5c`, `1-5c`, `35/70c`: its two ends.
pub(super) fn range(word: &str) -> Option<(f64, f64)> {
    let body = word.strip_suffix('c')?;
    let (low, high) = body.split_once(['-', '–', '/', '…'])?;
    let number =
        |text: &str| text.trim_end_matches('c').replace(',', ".").parse::<f64>().ok().filter(|n| n.is_finite());
    Some((number(low)?, number(high)?)).filter(|(low, high)| *low > 0.0 && low <= high)
}

fn choice(label: String, pointer: &str, value: f64) -> Choice {
    Choice::of(label, pointer, trimmed(value, 4).parse().unwrap_or(value))
}

impl Draft {
    /// A C number on a pack. `may_be_warm`: something beside it speaks of a pack that is warm, or of a place.
    pub(super) fn rate(&mut self, token: &Token, c_rate: f64, way: Way, may_be_warm: bool) -> bool {
        let shown = show(Kind::Rate, c_rate);
        let warmth = (c_rate.fract() == 0.0 && !token.text.contains('/'))
            .then(|| choice(format!("it is at {} °C", trimmed(c_rate, 0)), "/pack/temperature_c", c_rate));
        match way {
            Way::In => {
                self.pack.rated_c_rate = Some(c_rate);
                self.note(token, format!("rated {shown} for charging"), "/pack/rated_c_rate")
            }
            Way::Open if c_rate <= CHARGED_WITH_AT_MOST_C => {
                self.asked.push(Question::choosing(
                    "/pack/rated_c_rate",
                    format!("{shown}: is that what it may be charged with, or what it may give?"),
                    vec![
                        choice(format!("charged with {shown}"), "/pack/rated_c_rate", c_rate),
                        choice(format!("gives {shown}"), "/pack/discharge_c_rate", c_rate),
                    ]
                    .into_iter()
                    .chain(warmth)
                    .collect(),
                ));
                self.note(token, format!("{shown}, asked below"), "/pack/rated_c_rate")
            }
            // A hot pack is not to be charged, and looks like a strong one.
            Way::Open if may_be_warm && c_rate <= WARMEST_C && warmth.is_some() => {
                let gives = choice(format!("gives {shown}"), "/pack/discharge_c_rate", c_rate);
                self.asked.push(Question::choosing(
                    "/pack/temperature_c",
                    format!("{shown}: is that what it may give, or how warm it is?"),
                    [gives].into_iter().chain(warmth).collect(),
                ));
                self.note(token, format!("{shown}, asked below"), "/pack/temperature_c")
            }
            Way::Open | Way::Out => {
                // Of what it gives for long and at peaks the lower is the one it gives for long.
                let before = self.pack.discharge_c_rate.unwrap_or(c_rate);
                self.pack.discharge_c_rate = Some(before.min(c_rate));
                let meaning = format!("gives up to {shown}; it is not charged with that");
                self.note(token, meaning, "/pack/discharge_c_rate")
            }
        }
    }

    /// Two C numbers on a pack: charge rates where both are such, else what it gives for long and at peaks.
    pub(super) fn rates(&mut self, token: &Token, (low, high): (f64, f64), way: Way) -> bool {
        if way == Way::In || (way == Way::Open && high <= CHARGED_WITH_AT_MOST_C) {
            return self.rate(token, high, Way::In, false);
        }
        self.rate(token, low, Way::Out, false)
    }

    /// Amps on a pack.
    pub(super) fn pack_amps(&mut self, token: &Token, amps: f64, way: Way) -> bool {
        let shown = show(Kind::Current, amps);
        match way {
            Way::In => {
                self.pack.rated_charge_a = Some(amps);
                self.note(token, format!("rated {shown} for charging"), "/pack/rated_charge_a")
            }
            Way::Out => {
                self.given_a = Some(amps);
                let meaning = format!("gives up to {shown}; it is not charged with that");
                self.note(token, meaning, "/pack/discharge_c_rate")
            }
            Way::Open => {
                self.given_a = Some(amps);
                self.asked.push(Question::choosing(
                    "/pack/rated_charge_a",
                    format!("{shown}: is that what it may be charged with, or what it may give?"),
                    vec![
                        choice(format!("charged with {shown}"), "/pack/rated_charge_a", amps),
                        Choice::without(format!("it gives {shown}"), vec![token.text.clone()]),
                    ],
                ));
                self.note(token, format!("{shown}, asked below"), "/pack/rated_charge_a")
            }
        }
    }

    /// Keeps a bare number on a pack until its chemistry is known.
    pub(super) fn bare(&mut self, token: &Token, number: f64) -> bool {
        if self.bare.is_some() || self.pack.capacity_ah.is_some() || number <= 0.0 {
            return false;
        }
        self.bare = Some((self.understood.len(), number));
        self.note(token, String::new(), "/pack/capacity_ah")
    }

    /// What a bare number on a pack is: mAh or Ah where its kind is sold in one of them only, else asked.
    pub(super) fn settle_capacity(&mut self) {
        if let Some(amps) = self.given_a
            && let Some(ah) = self.pack.capacity_ah
            && !self.asked.iter().any(|question| question.pointer == "/pack/rated_charge_a")
        {
            self.pack.discharge_c_rate.get_or_insert(amps / ah);
        }
        let Some((n, number)) = self.bare.take() else { return };
        if self.pack.capacity_ah.is_some() || self.pack.energy_wh.is_some() || self.pack.capacitance_f.is_some() {
            let piece = self.understood.remove(n);
            self.figures.retain(|(_, text, _)| *text != piece.1.text);
            self.not_understood.push(Leftover { text: piece.1.text });
            return;
        }
        let meaning = match reads_as(self.pack.chemistry, number) {
            Some(ah) => {
                self.pack.capacity_ah = Some(ah);
                show(Kind::Charge, ah)
            }
            None => {
                self.ask_capacity(&trimmed(number, 3), [number / 1e3, number]);
                "a capacity, asked below".to_owned()
            }
        };
        if let Some(piece) = self.understood.get_mut(n) {
            piece.1.meaning = meaning;
        }
    }

    /// Asks which of two capacities was meant, Ah.
    pub(super) fn ask_capacity(&mut self, written: &str, either_ah: [f64; 2]) {
        let offered = |ah: f64| {
            let label = if ah < 1.0 { format!("{} mAh", trimmed(ah * 1e3, 1)) } else { show(Kind::Charge, ah) };
            choice(label, "/pack/capacity_ah", ah)
        };
        self.asked.push(Question::choosing(
            "/pack/capacity_ah",
            format!("{written}: which capacity is that?"),
            either_ah.map(offered).into(),
        ));
    }
}

/// The Ah of a bare number on a label; `None` where it may be either of the units it is sold in.
fn reads_as(chemistry: Option<Chemistry>, number: f64) -> Option<f64> {
    let sold = profile(chemistry?)?.sold?;
    if number >= sold.mah_from {
        Some(number / 1e3)
    } else if number < sold.ah_below {
        Some(number)
    } else {
        None
    }
}
