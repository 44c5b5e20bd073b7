//! What a part of the line speaks of.

use super::draft::{Draft, Token};
use super::joints::{is_pack_token, is_source_token, names_a_charger};
use super::phrases::About;
use crate::formats::{ChargerDoc, SourceDoc};
use crate::physics::cell::{Chemistry, named};

/// Words before what a pack reads at rest.
pub(super) const REST_WORDS: &[&str] = &[
    "at",
    "is",
    "rest",
    "reads",
    "resting",
    "rests",
    "reading",
    "read",
    "measured",
    "measures",
    "now",
    "currently",
    "sits",
    "sitting",
    "stands",
    "standing",
    "start",
    "starts",
    "starting",
    "other",
    "others",
];

/// Whether words say what a pack reads: `reads 18.9 V`, `pack at 52.9 V`, `now 12.1 V`.
fn is_of_rest(tokens: &[Token]) -> bool {
    let word = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let reads: Vec<&str> = REST_WORDS.iter().copied().filter(|word| !matches!(*word, "at" | "is")).collect();
    let mine = ["pack", "packs", "battery", "batteries", "it", "cells", "one", "other", "others"];
    let volts = tokens.iter().filter(|t| t.number.is_some()).all(|t| matches!(t.word.as_str(), "v" | "mv"));
    let at = tokens.windows(2).any(|two| word(&two[0], &["at", "is"]) && two[1].number.is_some());
    volts && (tokens.iter().any(|t| word(t, &reads)) || (at && tokens.iter().any(|t| word(t, &mine))))
}

/// `12 V car battery`.
pub(super) fn names_a_battery(tokens: &[Token]) -> bool {
    let says = |t: &Token| matches!(t.word.as_str(), "battery" | "batteries" | "car" | "vehicle");
    tokens.iter().any(|t| t.number.is_none() && says(t))
        && tokens.iter().any(|t| t.number.is_some() && matches!(t.word.as_str(), "v" | "s"))
}

/// `max 7 A`: what a label allows, where nothing but amps is said.
fn is_limit(tokens: &[Token]) -> bool {
    let most = |t: &Token| t.number.is_none() && matches!(t.word.as_str(), "max" | "max." | "maximum");
    let amps = |t: &Token| matches!(t.word.as_str(), "a" | "ma");
    tokens.iter().any(most) && tokens.iter().filter(|t| t.number.is_some()).all(amps)
}

/// `float 13.5-13.8 V`, `13.65 V float`: what it is held at, where no supply is named.
fn is_standby(tokens: &[Token]) -> bool {
    let float = |t: &Token| t.number.is_none() && matches!(t.word.as_str(), "float" | "standby");
    tokens.iter().any(float) && tokens.iter().filter(|t| t.number.is_some()).all(|t| t.word == "v")
}

/// `4 A per pack`.
fn is_each(tokens: &[Token]) -> bool {
    let word = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let amps = |t: &Token| t.number.is_some() && matches!(t.word.as_str(), "a" | "ma");
    tokens.windows(3).any(|t| amps(&t[0]) && word(&t[1], &["per", "a", "each"]) && word(&t[2], &["pack", "battery"]))
}

impl Draft {
    /// Whether a token speaks of another battery than the pack, of which that is known already.
    pub(super) fn is_another(&self, token: &Token) -> bool {
        let (pack, word) = (&self.pack, token.word.as_str());
        let kind = pack.chemistry.is_some() || self.lead_acid;
        match token.number {
            Some(_) => matches!(word, "ah" | "mah") && pack.capacity_ah.is_some() && kind,
            None => {
                kind && !token.denied
                    && self.has_pack()
                    && (named(word).is_some_and(|c| c != Chemistry::Lihv)
                        || matches!(word, "car" | "vehicle" | "starter"))
            }
        }
    }

    /// Whether a part names a whole battery after the pack is known: so many volts or cells, and what it holds or is.
    pub(super) fn feeds_it(&self, tokens: &[Token]) -> bool {
        let known = (self.pack.chemistry.is_some() || self.lead_acid)
            && (self.pack.capacity_ah.is_some() || self.bare.is_some());
        let figure = |units: &[&str]| tokens.iter().any(|t| t.number.is_some() && units.contains(&t.word.as_str()));
        let kind = tokens.iter().any(|t| t.number.is_none() && !t.denied && named(&t.word).is_some());
        let called = tokens.iter().any(|t| {
            t.number.is_none() && matches!(t.word.as_str(), "battery" | "batteries" | "car" | "vehicle" | "starter")
        });
        known
            && figure(&["v", "s"])
            && (figure(&["ah", "mah"]) || called)
            && (kind || called || super::settle::says_lead(tokens))
    }

    /// What a part is mostly about.
    pub(super) fn about(&self, tokens: &[Token]) -> About {
        let packs = tokens.iter().any(is_pack_token);
        let wants_a_pack = !self.has_pack();
        let of_label = |t: &Token| {
            let purpose = [
                "cycle",
                "cyclic",
                "standby",
                "initial",
                "charge",
                "charging",
                "recommended",
                "discharge",
                "discharging",
            ];
            t.number.is_none() && purpose.contains(&t.word.as_str())
        };
        let at_rest = self.has_pack() && is_of_rest(tokens);
        let before_gear = self.source == SourceDoc::default() && self.charger == ChargerDoc::default();
        let limit = self.has_pack() && before_gear && is_limit(tokens);
        let gear = names_a_charger(tokens) || tokens.iter().any(is_source_token);
        if tokens.iter().any(|t| t.word == "load") && !packs {
            About::Load
        } else if packs
            || (!gear
                && (wants_a_pack
                    || at_rest
                    || limit
                    || tokens.iter().any(of_label)
                    || is_standby(tokens)
                    || is_each(tokens)))
        {
            About::Pack
        } else if names_a_charger(tokens) {
            About::Charger
        } else {
            About::Source
        }
    }
}
