//! What a word or a figure stands under: turned round by *not* and its like, or below zero. Found once for each part,
//! before anything is made of its tokens.

use super::draft::Token;
use crate::physics::cell::named;

/// Before a word these turn it round.
const BEFORE: &[&str] = &[
    "not", "no", "without", "w/o", "isn't", "isnt", "aren't", "arent", "doesn't", "doesnt", "don't", "dont", "lacks",
    "lacking", "lack", "never", "hasn't", "hasnt", "missing", "disabled", "cannot", "can't", "cant", "won't", "wont",
    "neither", "nor", "un",
];
/// After a word these say that it does nothing.
const AFTER: &[&str] = &[
    "broken",
    "missing",
    "disabled",
    "off",
    "bypassed",
    "removed",
    "unplugged",
    "disconnected",
    "dead",
    "failed",
    "faulty",
    "defective",
    "absent",
];
/// Words of one thing that a denial reaches through: `not current limited`, `does not have a balance lead`.
const THROUGH: &[&str] = &[
    "a",
    "an",
    "the",
    "its",
    "it",
    "have",
    "has",
    "any",
    "is",
    "are",
    "be",
    "been",
    "being",
    "really",
    "yet",
    "quite",
    "fully",
    "completely",
    "my",
    "in",
    "at",
    "all",
    "to",
    "of",
    "or",
    "own",
];
/// A denial reaches no further than so many words that say something.
const REACH: usize = 3;
/// Words at which another thing begins.
const ENDS: &[&str] = &["but", "and", "with", "from", "only", "through", "via", "on"];
/// `not only swollen`, `no more than 3 A`: these deny nothing.
const NO_DENIAL: &[&str] = &["only", "more", "exceed", "over", "above", "less", "hotter", "warmer", "higher", "beyond"];

/// Whether a word turns another round.
pub(super) fn says(word: &str) -> bool {
    BEFORE.contains(&word)
}

/// Marks what is denied and turns what is below zero.
pub(super) fn scoped(tokens: &mut Vec<Token>) {
    below_zero(tokens);
    for n in 0..tokens.len() {
        if tokens[n].number.is_some() {
            continue;
        }
        if BEFORE.contains(&tokens[n].word.as_str()) {
            deny_ahead(tokens, n);
        }
        if AFTER.contains(&tokens[n].word.as_str()) {
            deny_behind(tokens, n);
        }
    }
}

fn deny_ahead(tokens: &mut [Token], n: usize) {
    let next = tokens.get(n + 1).map_or("", |t| t.word.as_str());
    if NO_DENIAL.contains(&next) {
        return;
    }
    let mut said = 0;
    for token in tokens[n + 1..].iter_mut() {
        let stops = token.number.is_some() || ENDS.contains(&token.word.as_str());
        if stops || said == REACH {
            return;
        }
        if !THROUGH.contains(&token.word.as_str()) {
            token.denied = true;
            said += 1;
        }
    }
}

fn deny_behind(tokens: &mut [Token], n: usize) {
    for token in tokens[..n].iter_mut().rev().filter(|t| !THROUGH.contains(&t.word.as_str())).take(2) {
        // `li-ion, bypassed the BMS`: what it is stays what it is.
        if token.number.is_some() || ENDS.contains(&token.word.as_str()) || named(&token.word).is_some() {
            return;
        }
        token.denied = true;
    }
}

/// Units in which a figure may be a temperature.
const DEGREES: &[&str] = &["", "c", "°c", "f", "°f"];

/// `minus 5 degrees`, `10 °C below zero`.
fn below_zero(tokens: &mut Vec<Token>) {
    let is = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let mut n = 0;
    while n < tokens.len() {
        let degrees = |t: &Token| t.number.is_some_and(|v| v > 0.0) && DEGREES.contains(&t.word.as_str());
        if is(&tokens[n], &["minus", "neg", "negative"]) && tokens.get(n + 1).is_some_and(degrees) {
            let sign = tokens.remove(n);
            turn(&mut tokens[n], &format!("{} ", sign.text), "");
            continue;
        }
        // `10 degrees below freezing`: words between belong to it.
        let unit = usize::from(tokens.get(n + 1).is_some_and(|t| is(t, &["degrees", "deg"])));
        let letter = usize::from(unit == 1 && tokens.get(n + 2).is_some_and(|t| is(t, &["c", "°c", "celsius"])));
        let below = n + 1 + unit + letter;
        let under = tokens.get(below).is_some_and(|t| is(t, &["below", "under"]))
            && tokens
                .get(below + 1)
                .is_some_and(|t| is(t, &["zero", "freezing", "frost", "nought", "0"]) || t.number == Some(0.0));
        if degrees(&tokens[n]) && under {
            let told: Vec<String> = tokens[n + 1..=below + 1].iter().map(|t| t.text.clone()).collect();
            tokens.drain(n + 1..=below + 1);
            turn(&mut tokens[n], "", &format!(" {}", told.join(" ")));
            // A bare figure below freezing is one of degrees.
            if tokens[n].word.is_empty() {
                "°c".clone_into(&mut tokens[n].word);
            }
        }
        n += 1;
    }
}

fn turn(token: &mut Token, before: &str, after: &str) {
    token.number = token.number.map(|v| -v);
    token.text = format!("{before}{}{after}", token.text);
}
