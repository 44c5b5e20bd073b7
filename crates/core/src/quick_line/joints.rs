//! Where one thing ends and another begins within a part, and what a token speaks of.

use super::draft::Token;
use super::label::range;
use super::vocabulary::{CHARGER_WORDS, SOURCE_WORDS};
use crate::physics::cell::named;

/// Words after which a supply, a charger or a battery may come in.
const JOINTS: &[&str] = &["from", "off", "on", "with", "through", "via", "using", "by"];
/// What a battery does to a charger, and a pack to its load.
const FEEDING: &[&str] = &["feeding", "feeds", "powering", "powers", "running", "runs", "driving", "drives"];
/// Words after which something of another sort may come in than what stands before them.
const AND: &[&str] = &["between", "and", "into", "to", "for"];

/// A part cut where words say that something else comes in: `on a usb port`, `through a charger`, `from 12 V 10 A`,
/// `a lamp between 13.8 V 5 A and 12 V 7 Ah`.
pub(super) fn stretches(tokens: &[Token]) -> Vec<Vec<Token>> {
    joined(tokens).iter().flat_map(|stretch| gear_apart(stretch)).collect()
}

/// Cut where a word says that something else comes in.
fn joined(tokens: &[Token]) -> Vec<Vec<Token>> {
    let joint = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let any_joint = |t: &Token| joint(t, JOINTS) || joint(t, AND);
    let mut out: Vec<Vec<Token>> = vec![Vec::new()];
    for (n, token) in tokens.iter().enumerate() {
        let ahead = &tokens[n + 1..];
        let ahead = &ahead[..ahead.iter().position(any_joint).unwrap_or(ahead.len())];
        let before = out.last().map_or(&[][..], Vec::as_slice);
        let begun = before.iter().any(|t| t.number.is_some() || is_charger_word(t));
        let cut = begun
            && if joint(token, JOINTS) {
                ahead.iter().any(|t| is_source_token(t) || is_capacity(t) || (is_charger_word(t) && !joins(before, t)))
                    || ahead.iter().any(is_ohm)
                    || (matches!(token.word.as_str(), "from" | "off" | "by")
                        && (is_feed(ahead) || is_vehicle(ahead) || (is_volts(ahead) && before.iter().any(is_ohm))))
                    || (token.word == "with" && is_feed(ahead) && before.iter().any(is_lamp))
            } else if joint(token, FEEDING) {
                names_a_charger(ahead)
            } else {
                joint(token, AND) && another_comes_in(before, ahead)
            };
        if cut {
            out.push(Vec::new());
        }
        if let Some(last) = out.last_mut() {
            last.push(token.clone());
        }
    }
    out
}

/// A supply and what regulates, said one after the other without a word between: `usb 5 V 2 A boost`,
/// `24 V 15 A psu 300 W charger`. What stands between their names belongs to the first where that has no figure
/// before its name or the second has one after its own, else to the second.
fn gear_apart(stretch: &[Token]) -> Vec<Vec<Token>> {
    const SUPPLIES: &[&str] = &[
        "supply",
        "supplies",
        "psu",
        "psus",
        "brick",
        "bricks",
        "adapter",
        "adaptor",
        "usb",
        "usb-c",
        "port",
        "pd",
        "bench",
        "generator",
    ];
    let whole = || vec![stretch.to_vec()];
    let supply = |t: &Token| t.number.is_none() && SUPPLIES.contains(&t.word.as_str());
    let regulates = |t: &Token| is_charger_word(t) && !matches!(t.word.as_str(), "linear" | "cc" | "board");
    let (Some(source), Some(charger)) = (stretch.iter().position(supply), stretch.iter().position(regulates)) else {
        return whole();
    };
    let figure = |t: &Token| t.number.is_some() && matches!(t.word.as_str(), "v" | "a" | "ma" | "w" | "kw");
    let (first, second) = (source.min(charger), source.max(charger));
    // Words of one thing stand side by side: `bench supply`, `smart charger`.
    let alike = |t: &Token| if first == source { supply(t) } else { is_charger_word(t) };
    let first_end = first + stretch[first..second].iter().take_while(|t| alike(t)).count();
    let own = stretch[..first].iter().rev().take_while(|t| !is_pack_token(t)).any(figure);
    if !own && !stretch[first_end..second].iter().any(figure) {
        return whole();
    }
    let at = if !own || stretch[second..].iter().any(figure) { second } else { first_end };
    vec![stretch[..at].to_vec(), stretch[at..].to_vec()]
}

/// Whether a stretch says what feeds the charge though it names no supply: `from 12 V 10 A`, or `12 V 1 A` before
/// `through 39 ohm`.
pub(super) fn feeds(stretch: &[Token], next: Option<&[Token]>) -> bool {
    let first = |tokens: &[Token], words: &[&str]| {
        tokens.first().is_some_and(|t| t.number.is_none() && words.contains(&t.word.as_str()))
    };
    let fed_on = next.is_some_and(|next| first(next, &["through", "via", "with", "using"]) && names_what_limits(next));
    // `car battery 12 V 70 Ah feeding a 250 W charger`
    if next.is_some_and(|next| first(next, FEEDING) && names_a_charger(next)) {
        return stretch.iter().any(|t| is_capacity(t) || t.word == "v");
    }
    let named = stretch.iter().any(|t| is_source_token(t) || is_charger_word(t) || is_pack_token(t));
    if first(stretch, &["with"]) && is_feed(stretch) && !named {
        return true;
    }
    if first(stretch, &["from", "off", "by"]) {
        (is_feed(stretch) || is_volts(stretch) || is_vehicle(stretch)) && !named
            || stretch.iter().any(is_capacity)
            || is_battery_by_cells(stretch)
    } else {
        fed_on && is_feed(stretch) && !named
    }
}

fn names_what_limits(tokens: &[Token]) -> bool {
    names_a_charger(tokens) || tokens.iter().any(is_ohm)
}

fn is_ohm(token: &Token) -> bool {
    token.number.is_some() && token.word == "ohm"
}

fn is_lamp(token: &Token) -> bool {
    token.number.is_none() && matches!(token.word.as_str(), "lamp" | "lamps" | "bulb" | "bulbs")
}

/// `12 V car`.
fn is_vehicle(tokens: &[Token]) -> bool {
    tokens.iter().any(|t| t.number.is_none() && matches!(t.word.as_str(), "car" | "vehicle"))
}

/// `6S battery`.
fn is_battery_by_cells(tokens: &[Token]) -> bool {
    tokens.iter().any(|t| t.number.is_none() && t.word == "battery")
        && tokens.iter().any(|t| t.number.is_some() && t.word == "s")
}

/// Volts, and no other figure.
fn is_volts(tokens: &[Token]) -> bool {
    let mut figures = tokens.iter().filter(|t| t.number.is_some()).peekable();
    figures.peek().is_some() && figures.all(|t| t.word == "v")
}

/// Whether what follows is of a sort that was not spoken of yet.
fn another_comes_in(before: &[Token], ahead: &[Token]) -> bool {
    let has = |tokens: &[Token], is: fn(&Token) -> bool| tokens.iter().any(is);
    let gear = |tokens: &[Token]| has(tokens, is_source_token) || has(tokens, is_charger_word);
    (has(ahead, is_source_token) && !has(before, is_source_token))
        || (has(ahead, is_charger_word) && !has(before, is_charger_word))
        || (has(ahead, is_of_a_battery) && gear(before) && !has(before, is_of_a_battery))
        || (has(ahead, is_of_a_battery) && before.first().is_some_and(|t| t.number.is_none() && t.word == "from"))
}

/// `in parallel on a board`: what packs are joined by turns no volts into others.
fn joins(before: &[Token], token: &Token) -> bool {
    token.word == "board" && before.iter().any(|t| t.number.is_none() && t.word == "parallel")
}

/// `12 V 10 A`, `24 V 300 W`, `230 V`: the figures of what feeds it.
fn is_feed(tokens: &[Token]) -> bool {
    let has = |units: &[&str]| tokens.iter().any(|t| t.number.is_some() && units.contains(&t.word.as_str()));
    let mains = tokens.iter().any(|t| t.word == "v" && t.number.is_some_and(|v| (100.0..=250.0).contains(&v)));
    mains || (has(&["v"]) && has(&["a", "w", "kw"]))
}

fn is_capacity(token: &Token) -> bool {
    token.number.is_some() && token.word == "ah"
}

fn is_of_a_battery(token: &Token) -> bool {
    match token.number {
        Some(_) => matches!(token.word.as_str(), "s" | "ah" | "mah" | "wh" | "kwh" | "f"),
        None => named(&token.word).is_some(),
    }
}

/// Whether a token speaks of the pack.
pub(super) fn is_pack_token(token: &Token) -> bool {
    match token.number {
        Some(_) => matches!(token.word.as_str(), "s" | "p" | "ah" | "mah" | "wh" | "kwh" | "f" | "c" | "%"),
        None => named(&token.word).is_some() || range(&token.word).is_some(),
    }
}

fn is_charger_word(token: &Token) -> bool {
    token.number.is_none() && CHARGER_WORDS.contains(&token.word.as_str())
}

/// Whether a token speaks of what feeds the charge.
pub(super) fn is_source_token(token: &Token) -> bool {
    token.number.is_none() && SOURCE_WORDS.contains(&token.word.as_str())
}

/// Whether some tokens speak of what regulates. A supply may be linear, or hold its current, too; what packs are
/// joined by is a board as well.
pub(super) fn names_a_charger(tokens: &[Token]) -> bool {
    let says = |word: &str| tokens.iter().any(|t| t.number.is_none() && t.word == word);
    let supply = tokens.iter().any(is_source_token);
    if tokens.iter().any(is_ohm) {
        return true;
    }
    tokens.iter().filter(|t| is_charger_word(t)).any(|t| match t.word.as_str() {
        "linear" | "cc" | "cc/cv" | "cc-cv" | "cccv" => !supply,
        "board" => !says("parallel"),
        // `16 V 58 F module`: cells in a case.
        "module" => !tokens.iter().any(|t| t.number.is_some() && t.word == "f"),
        _ => true,
    })
}
