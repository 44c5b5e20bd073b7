//! A line cut into parts, and a part into tokens: a number with its unit, a span of two, or a word.

use super::draft::Token;
use super::scope::scoped;
use super::vocabulary::{UNITS, known, nearest, plain_unit};
use crate::physics::cell::named;
use crate::units::{Kind, Written, is_of_number, written};

/// No line is longer.
const LONGEST: usize = 400;

/// Parts between commas and semicolons; a comma inside a number stays.
pub(super) fn parts(line: &str) -> Vec<String> {
    // `supply -> module -> pack`, `pack + supply`
    let line = ["-->", "->", "=>", ">>", " + "].iter().fold(line.to_owned(), |line, arrow| line.replace(arrow, "→"));
    let chars: Vec<char> = line.chars().take(LONGEST).collect();
    let digit = |n: usize| chars.get(n).is_some_and(char::is_ascii_digit);
    let mut parts = vec![String::new()];
    for (n, c) in chars.iter().enumerate() {
        let decimal = *c == ',' && n > 0 && digit(n - 1) && digit(n + 1);
        let sentence = *c == '.' && ends_a_sentence(parts.last().map_or("", String::as_str), chars.get(n + 1..));
        if (matches!(c, ',' | ';' | '\n' | '|') && !decimal) || *c == '→' || sentence {
            parts.push(String::new());
        } else if let Some(last) = parts.last_mut() {
            last.push(*c);
        }
    }
    parts
}

/// Whether a full stop after some words parts what comes: not after a figure without a unit, nor after what is
/// shortened: `max. 5 A`.
fn ends_a_sentence(before: &str, after: Option<&[char]>) -> bool {
    const SHORTENED: &[&str] = &["max", "min", "typ", "approx", "nom", "cont", "chg", "no", "vdc", "v"];
    let word = before.split_whitespace().last().unwrap_or("").to_lowercase();
    let blank = after.and_then(<[char]>::first).is_some_and(|c| c.is_whitespace());
    blank && word.ends_with(|c: char| c.is_alphabetic() || c == '%') && !SHORTENED.contains(&word.as_str())
}

/// The tokens of a part; `from` is the place of its first one in the line.
pub(super) fn tokens(part: &str, from: usize) -> Vec<Token> {
    let mut out: Vec<Token> = Vec::new();
    for raw in part.replace('@', " at ").replace('−', "-").split_whitespace() {
        for piece in pieces(trimmed(raw)) {
            take(&mut out, &piece);
        }
    }
    join_names(&mut out);
    part_volts_and_amps(&mut out);
    shares_of_c(&mut out);
    scoped(&mut out);
    for (n, token) in out.iter_mut().enumerate() {
        token.at = from + n;
    }
    out
}

/// `half a C`, `1/2 C`: a share of its capacity.
fn shares_of_c(out: &mut Vec<Token>) {
    const SHARES: &[(&str, f64)] =
        &[("half", 0.5), ("1/2", 0.5), ("quarter", 0.25), ("1/4", 0.25), ("1/10", 0.1), ("1/5", 0.2), ("tenth", 0.1)];
    let mut n = 0;
    while n < out.len() {
        let share = SHARES.iter().find(|(word, _)| out[n].number.is_none() && out[n].word == *word);
        let article =
            usize::from(out.get(n + 1).is_some_and(|t| t.number.is_none() && matches!(t.word.as_str(), "a" | "of")));
        let rate = out.get(n + 1 + article).is_some_and(|t| t.number.is_none() && t.word == "c");
        if let (Some((_, share)), true) = (share, rate) {
            let text: Vec<String> = out[n..=n + 1 + article].iter().map(|t| t.text.clone()).collect();
            out.drain(n + 1..=n + 1 + article);
            out[n].text = text.join(" ");
            (out[n].number, out[n].word) = (Some(*share), "c".to_owned());
        }
        n += 1;
    }
}

/// `30 V × 30 A`: no count stands between volts and amps.
fn part_volts_and_amps(out: &mut Vec<Token>) {
    let mut n = 1;
    while n + 1 < out.len() {
        let volts = out[n - 1].number.is_some() && out[n - 1].word == "v";
        let amps = out[n + 1].number.is_some() && matches!(out[n + 1].word.as_str(), "a" | "ma");
        let times = out[n].number.is_none() && matches!(out[n].word.as_str(), "x" | "×");
        if volts && amps && times {
            out.remove(n);
        } else if volts
            && out[n].word == "x"
            && out.get(n + 1).is_some_and(|t| t.number.is_none() && matches!(t.word.as_str(), "a" | "amp" | "amps"))
        {
            // `30 V × 30 A`, where the count took the figure.
            "a".clone_into(&mut out[n].word);
            let unit = out.remove(n + 1);
            out[n].text = format!("{} {}", out[n].text, unit.text);
        }
        n += 1;
    }
}

/// Two words that name another thing than each of them: a laptop's charger charges no pack.
const NAMES: &[(&[&str], &[&str], &str)] = &[
    (
        &["laptop", "notebook", "printer", "router", "modem", "led"],
        &["charger", "supply", "adapter", "adaptor", "brick", "psu", "driver"],
        "brick",
    ),
    (&["phone", "usb", "usb-c", "pd", "tablet"], &["charger", "adapter", "adaptor", "brick", "supply", "port"], "port"),
    (&["power"], &["bank"], "port"),
    (&["sub"], &["c"], "sub-c"),
    (&["charge", "solar", "mppt"], &["controller"], "smart"),
    (&["capacitor", "supercapacitor", "supercap", "ultracap", "cap"], &["module", "bank"], "supercap"),
    (&["battery"], &["module"], "battery"),
    (&["linear"], &["charger", "module", "board"], "linear-charger"),
    (&["sodium"], &["ion"], "sodium-ion"),
    (&["lithium"], &["ion"], "liion"),
    (&["lithium"], &["polymer"], "lipo"),
    (&["iron"], &["phosphate"], "lfp"),
    (&["hv"], &["lipo", "lipos"], "lihv"),
    (&["years", "year", "months", "month"], &["old"], "old"),
    (&["lipo"], &["hv"], "lihv"),
];

/// Names that are found before the others: `lipo HV servos` names no kind of pack.
const OTHERS_NAMES: &[(&[&str], &[&str], &str)] =
    &[(&["hv"], &["servo", "servos", "esc", "bec", "receiver"], "servos")];

fn join_names(out: &mut Vec<Token>) {
    // `LiFePO4 charger`: what a charger is made for is no second pack.
    let mut n = 0;
    while n + 1 < out.len() {
        let kind = out[n].number.is_none() && named(&out[n].word).is_some();
        if kind && n > 0 && out[n + 1].number.is_none() && out[n + 1].word == "charger" {
            let charger = out.remove(n + 1);
            out[n].text = format!("{} {}", out[n].text, charger.text);
            "charger".clone_into(&mut out[n].word);
        }
        n += 1;
    }
    join(out, OTHERS_NAMES);
    join(out, NAMES);
}

fn join(out: &mut Vec<Token>, names: &[(&[&str], &[&str], &str)]) {
    let word = |t: &Token, words: &[&str]| t.number.is_none() && words.contains(&t.word.as_str());
    let mut n = 0;
    while n + 1 < out.len() {
        let name = names.iter().find(|(first, second, _)| word(&out[n], first) && word(&out[n + 1], second));
        if let Some((_, _, name)) = name {
            let second = out.remove(n + 1);
            out[n].text = format!("{} {}", out[n].text, second.text);
            (*name).clone_into(&mut out[n].word);
        }
        n += 1;
    }
}

/// A word without the marks around it.
fn trimmed(raw: &str) -> &str {
    let marks = |c: char| matches!(c, '(' | ')' | '[' | ']' | ':' | '?' | '!' | '"' | '=' | '“' | '”' | '*');
    raw.trim_matches(marks).trim_end_matches('.').trim_matches(marks)
}

fn is_dash(c: char) -> bool {
    matches!(c, '-' | '–' | '—' | '~' | '…')
}

/// What is glued together in one word: `12V7Ah`, `30V/5A`, `6x3.72`, `4s2p`.
fn pieces(word: &str) -> Vec<String> {
    let starts_a_number = |text: &str| text.starts_with(|c: char| c.is_ascii_digit() || c == '.');
    if super::label::range(&word.to_lowercase()).is_some() || named(word).is_some() {
        return vec![word.to_owned()];
    }
    // `3.71/3.70/3.72`: readings of cells.
    let listed: Vec<&str> = word.split('/').collect();
    if listed.len() > 2 && listed.iter().all(|one| starts_a_number(one) && one.parse::<f64>().is_ok()) {
        return listed.into_iter().map(str::to_owned).collect();
    }
    // `V/cell`, and what stands side by side of a slash.
    if let Some((before, after)) = word.split_once('/')
        && !before.is_empty()
        && !before.eq_ignore_ascii_case("c")
        && (starts_a_number(after) || ["cell", "pack"].iter().any(|of| after.eq_ignore_ascii_case(of)))
        && before.chars().any(char::is_alphabetic)
    {
        let joint = if after.eq_ignore_ascii_case("cell") { vec!["per".to_owned()] } else { Vec::new() };
        return [pieces(before), joint, pieces(after)].concat();
    }
    let chars: Vec<char> = word.chars().collect();
    let mut out = vec![String::new()];
    let mut unit = String::new();
    for (n, c) in chars.iter().enumerate() {
        let next_is_digit = c.is_ascii_digit();
        let piece_is_number = out.last().is_some_and(|piece| starts_a_number(piece));
        // A unit ends where a digit begins anew; `mm2` and `1h30` are one piece.
        let ends = next_is_digit && UNITS.contains(&unit.as_str()) && !matches!(unit.as_str(), "h" | "mm");
        let crossed = matches!(unit.as_str(), "x" | "×") && (next_is_digit || c.is_alphabetic());
        if piece_is_number && (ends || (crossed && next_is_digit)) {
            out.push(String::new());
            unit.clear();
        }
        if c.is_alphabetic() || matches!(c, '°' | '×') {
            unit.extend(c.to_lowercase());
        } else {
            unit.clear();
        }
        if let Some(last) = out.last_mut() {
            last.push(chars[n]);
        }
    }
    out
}

/// A number and what follows it.
fn number_of(piece: &str) -> Option<(Option<Written>, &str)> {
    let lead = usize::from(piece.starts_with(['-', '+']));
    let split =
        piece[lead..].find(|c: char| !is_of_number(c) || matches!(c, '-' | '+')).map_or(piece.len(), |n| n + lead);
    let (digits, suffix) = piece.split_at(split);
    let plain = plain_unit(suffix);
    let quantity = suffix.is_empty() || UNITS.contains(&plain);
    quantity.then(|| (written(digits, plain, kind_of(plain)), suffix))
}

/// `14.4-15.0v`, `14.4v–15v`, `8~16`, `14.7±0.3v`: its two ends and its unit.
fn span_of(piece: &str) -> Option<(f64, f64, String)> {
    if let Some((middle, off)) = piece.split_once('±') {
        let ((Some(Written::One(middle)), _), (Some(Written::One(off)), unit)) = (number_of(middle)?, number_of(off)?)
        else {
            return None;
        };
        return (off > 0.0 && off < middle)
            .then(|| (around(middle, -off), around(middle, off), plain_unit(unit).to_owned()));
    }
    let cut = piece.char_indices().skip(1).find(|(_, c)| is_dash(*c))?;
    let (before, after) = (&piece[..cut.0], &piece[cut.0 + cut.1.len_utf8()..]);
    let (low, low_unit) = number_of(before)?;
    let (high, high_unit) = number_of(after.trim_start_matches(is_dash))?;
    let (Some(Written::One(low)), Some(Written::One(high))) = (low, high) else { return None };
    let (low_unit, high_unit) = (plain_unit(low_unit), plain_unit(high_unit));
    (low >= 0.0 && low < high && (low_unit.is_empty() || low_unit == high_unit))
        .then(|| (low, high, high_unit.to_owned()))
}

/// A figure and what it may be off by, without the dust of a binary sum.
fn around(middle: f64, off: f64) -> f64 {
    ((middle + off) * 1e6).round() / 1e6
}

/// `c/10`: a tenth of its capacity.
fn share_of_capacity(piece: &str) -> Option<f64> {
    let over: f64 = piece.strip_prefix("c/")?.parse().ok()?;
    (over >= 1.0).then(|| 1.0 / over)
}

fn take(out: &mut Vec<Token>, piece: &str) {
    if piece.is_empty() || matches!(piece, "/" | "&" | "+" | "•" | "·") {
        return;
    }
    let lower = piece.to_lowercase().replace('Ω', "ω");
    let lower = super::elsewhere::english(&lower).to_owned();
    let token = |number: Option<f64>, word: &str| Token {
        text: piece.to_owned(),
        number,
        upto: None,
        grouped: None,
        word: word.to_owned(),
        at: 0,
        denied: false,
    };
    let joins = out.last().is_some_and(|last| last.number.is_some() && last.word.is_empty());
    let unit = super::elsewhere::unit(&lower).unwrap_or_else(|| plain_unit(&lower));
    // `1500 x 6`: what is too many to be counted is no count.
    const MOST_COUNTED: f64 = 100.0;
    let counts = out.last().and_then(|last| last.number).is_some_and(|n| n <= MOST_COUNTED);
    if joins
        && UNITS.contains(&unit)
        && (unit != "x" || counts)
        && let Some(last) = out.last_mut()
    {
        last.text = format!("{} {piece}", last.text);
        last.word = unit.to_owned();
        join_thousands(out);
        join_span(out);
        return;
    }
    // `13 amp hours`.
    if let Some(last) =
        out.last_mut().filter(|last| last.number.is_some() && matches!(last.word.as_str(), "a" | "ma" | "w"))
        && matches!(lower.as_str(), "hour" | "hours")
    {
        last.text = format!("{} {piece}", last.text);
        last.word.push('h');
        return;
    }
    // `6 cells`.
    if let Some(last) = out.last_mut().filter(|_| joins && matches!(lower.as_str(), "cell" | "cells"))
        && last.upto.is_none()
        && last.number.is_some_and(|n| n.fract() == 0.0)
    {
        last.text = format!("{} {piece}", last.text);
        last.word = "s".to_owned();
        return;
    }
    // `x 4`.
    if let Some(last) = out.last_mut().filter(|last| last.number.is_none() && matches!(last.word.as_str(), "x" | "×"))
        && let Ok(times) = lower.parse::<u32>()
    {
        last.text = format!("{} {piece}", last.text);
        last.number = Some(f64::from(times));
        last.word = "x".to_owned();
        return;
    }
    // `x6`: so many of them.
    if let Some(times) = lower.strip_prefix(['x', '×']).and_then(|rest| rest.parse::<u32>().ok()) {
        out.push(token(Some(f64::from(times)), "x"));
        return;
    }
    // `3-cell`
    if let Some(cells) = lower.strip_suffix("-cell").and_then(|cells| cells.parse::<u32>().ok()) {
        out.push(token(Some(f64::from(cells)), "s"));
        return;
    }
    let awg = lower.strip_prefix("awg").and_then(|rest| rest.parse::<f64>().ok());
    if let Some((number, unit)) = awg.map(|n| (n, "awg")).or(share_of_capacity(&lower).map(|n| (n, "c"))) {
        out.push(token(Some(number), unit));
        return;
    }
    if let Some((low, high, unit)) = span_of(&lower).filter(|(_, _, unit)| unit != "c") {
        out.push(Token { upto: Some(high), ..token(Some(low), &unit) });
        return;
    }
    // A word that merely begins with digits (`18650`) and is a chemistry or a size of cells stays a word.
    let read = number_of(&lower).filter(|_| !known(&lower));
    match read {
        Some((Some(Written::One(number)), suffix)) => out.push(token(Some(number), plain_unit(suffix))),
        Some((Some(Written::Either { grouped, decimal }), suffix)) => {
            out.push(Token { grouped: Some(grouped), ..token(Some(decimal), plain_unit(suffix)) });
        }
        _ => {
            let word = if known(&lower) { lower.as_str() } else { nearest(&lower).unwrap_or(&lower) };
            out.push(token(None, word));
        }
    }
    join_thousands(out);
    join_span(out);
}

/// `5 000 mAh`: the thousands were parted by a space.
fn join_thousands(out: &mut Vec<Token>) {
    let [.., before, last] = out.as_slice() else { return };
    let threes = last.word == "mah" && last.text.chars().take_while(char::is_ascii_digit).count() == 3;
    let parted = before.word.is_empty() && before.number.is_some_and(|n| (1.0..1e3).contains(&n) && n.fract() == 0.0);
    if let (true, true, Some(thousands), Some(rest)) = (threes, parted, before.number, last.number) {
        let text = format!("{} {}", before.text, last.text);
        out.truncate(out.len() - 2);
        out.push(Token {
            text,
            number: Some(thousands * 1e3 + rest),
            upto: None,
            grouped: None,
            word: "mah".to_owned(),
            at: 0,
            denied: false,
        });
    }
}

/// `14.4 - 15.0 V`, `11 to 18 V`: two numbers with a dash or a word between.
fn join_span(out: &mut Vec<Token>) {
    let [.., low, between, high] = out.as_slice() else { return };
    let dash = between.number.is_none() && matches!(between.word.as_str(), "-" | "–" | "—" | "~" | "to" | "…");
    let (Some(from), Some(to)) = (low.number, high.number) else { return };
    let off = between.number.is_none() && matches!(between.word.as_str(), "±" | "+/-" | "+-");
    // `14.7 ± 0.3 V`
    let (from, to) = if off { (around(from, -to), around(from, to)) } else { (from, to) };
    let dash = dash || off;
    let alike = low.word == high.word || (low.word.is_empty() && !high.word.is_empty());
    let volts_or_amps = matches!(high.word.as_str(), "v" | "a");
    let plain = low.upto.is_none() && high.upto.is_none();
    if dash && alike && volts_or_amps && plain && (0.0..to).contains(&from) {
        let text = format!("{} {} {}", low.text, between.text, high.text);
        let word = high.word.clone();
        out.truncate(out.len() - 3);
        out.push(Token { text, number: Some(from), upto: Some(to), grouped: None, word, at: 0, denied: false });
    }
}

/// The kind of quantity a unit belongs to.
fn kind_of(unit: &str) -> Kind {
    match unit {
        "ah" | "mah" | "" => Kind::Charge,
        "wh" | "kwh" => Kind::Energy,
        "w" | "kw" => Kind::Power,
        "f" => Kind::Capacitance,
        _ => Kind::Number,
    }
}
