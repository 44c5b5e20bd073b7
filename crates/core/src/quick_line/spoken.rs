//! A line with one more thing said in it, so that nothing is forgotten when it is read again.

use serde_json::Value;

use super::read::read;
use super::said::{Heard, Question};
use super::write::line_of;
use crate::asking::{Setting, with};
use crate::codes::{Chemistry, SourceKind};
use crate::formats::Understood;
use crate::physics::cell::profile;
use crate::units::trimmed;

/// The line with some words put where they are understood as wanted; `None` where they are not, wherever they stand.
pub(super) fn said_in(line: &str, words: &str, gear: bool, fits: impl Fn(&Heard) -> bool) -> Option<String> {
    let ends =
        line.char_indices().filter(|(at, c)| matches!(c, ',' | ';') && !parts_decimals(line, *at)).map(|(at, _)| at);
    let mut places: Vec<usize> = ends.chain([line.len()]).collect();
    // Gear is said behind the pack.
    if gear {
        places.reverse();
    }
    let before = std::iter::once(format!("{words} {line}"));
    let within = places.into_iter().map(|at| {
        let gap = if words.starts_with(',') { "" } else { " " };
        format!("{}{gap}{words}{}", line[..at].trim_end(), &line[at..])
    });
    within.chain(before).find(|line| fits(&read(line)))
}

/// Whether a comma stands between two digits.
fn parts_decimals(line: &str, at: usize) -> bool {
    let digit = |c: Option<char>| c.is_some_and(|c| c.is_ascii_digit());
    digit(line[..at].chars().next_back()) && digit(line[at + 1..].chars().next())
}

/// The line without some of its words.
fn without(line: &str, words: &[String]) -> String {
    let mut left = line.to_owned();
    for word in words {
        let alone = |at: &usize| {
            let letter = |c: Option<char>| c.is_some_and(|c| c.is_alphanumeric() || c == '.');
            !letter(left[..*at].chars().next_back())
                && !left[at + word.len()..].chars().next().is_some_and(char::is_alphanumeric)
        };
        if let Some(at) = left.match_indices(word.as_str()).map(|(at, _)| at).find(alone) {
            left.replace_range(at..at + word.len(), "");
        }
    }
    left.split_whitespace().collect::<Vec<_>>().join(" ").replace(" ,", ",")
}

/// The line with an answer in it: in place of the piece that was asked about, or beside it; empty where no line says it.
///
/// A line is taken only where reading it again asks the question no more and fills the field as the answer does.
pub(super) fn answered(line: &str, heard: &Heard, question: &str, settings: &[Setting]) -> String {
    let about = heard.questions.iter().find(|one| one.question == question).map(|one| one.pointer.clone());
    let before: Vec<_> =
        heard.questions.iter().filter(|one| one.question != question && Some(&one.pointer) != about.as_ref()).collect();
    let apart = apart_from(heard, about.as_deref().unwrap_or_default());
    let fits = |heard: &Heard| {
        let plan = serde_json::to_value(&heard.plan).unwrap_or_default();
        let goes_on = |pointer: &str| heard.questions.iter().any(|one| one.pointer == *pointer);
        let fills = settings
            .iter()
            .all(|(pointer, value)| plan.pointer(pointer).is_some_and(|found| same(found, value)) || goes_on(pointer));
        // What else is open stays open: no answer takes another figure out of the line.
        let labels = |one: &Question| one.choices.iter().map(|choice| choice.label.clone()).collect::<Vec<_>>();
        let keeps = before.iter().all(|other| {
            let same = |one: &Question| {
                one.question == other.question || !one.choices.is_empty() && labels(one) == labels(other)
            };
            heard.questions.iter().any(same)
        });
        fills && keeps && keeps_apart(&apart, heard) && heard.questions.iter().all(|one| one.question != question)
    };
    let [(pointer, value)] = settings else { return String::new() };
    // One pack of several is charged like one alone.
    if pointer == "/pack/packs_in_parallel" && value.as_u64() == Some(1) {
        let said = heard.understood.iter().filter(|piece| piece.pointer == *pointer).map(|piece| piece.text.clone());
        return without(line, &said.collect::<Vec<_>>());
    }
    let pieces =
        heard.understood.iter().filter(|piece| piece.pointer == *pointer || Some(&piece.pointer) == about.as_ref());
    let words = words_of(pointer, value);
    let replaced = words.iter().flat_map(|words| {
        pieces.clone().filter_map(move |piece| {
            line.find(&piece.text).map(|at| format!("{}{words}{}", &line[..at], &line[at + piece.text.len()..]))
        })
    });
    let replaced = replaced.collect::<Vec<_>>().into_iter().find(|line| fits(&read(line)));
    replaced
        .or_else(|| words.and_then(|words| said_in(line, &words, !pointer.starts_with("/pack"), fits)))
        .or_else(|| with(&heard.plan, settings).map(|plan| line_of(&plan)).filter(|line| fits(&read(line))))
        .unwrap_or_default()
}

/// The pieces that speak of another part of the plan than a field: an answer about the supply changes nothing of the pack.
fn apart_from(heard: &Heard, pointer: &str) -> Vec<Understood> {
    let part = |pointer: &str| pointer.split('/').nth(1).unwrap_or_default().to_owned();
    let own = part(pointer);
    heard.understood.iter().filter(|piece| part(&piece.pointer) != own).cloned().collect()
}

fn keeps_apart(apart: &[Understood], heard: &Heard) -> bool {
    apart.iter().all(|piece| heard.understood.iter().any(|one| one.text == piece.text && one.pointer == piece.pointer))
}

/// The line without the words that an answer leaves out; empty where that changes another part of the plan.
pub(super) fn left_out(line: &str, heard: &Heard, pointer: &str, words: &[String]) -> String {
    let left = without(line, words);
    let apart: Vec<Understood> =
        apart_from(heard, pointer).into_iter().filter(|piece| !words.contains(&piece.text)).collect();
    if pointer.is_empty() || keeps_apart(&apart, &read(&left)) { left } else { String::new() }
}

fn same(found: &Value, wanted: &Value) -> bool {
    match (found.as_f64(), wanted.as_f64()) {
        (Some(found), Some(wanted)) => (found - wanted).abs() <= 1e-6 * wanted.abs().max(1.0),
        _ => found == wanted,
    }
}

/// How a line says a field; `None` where it has no words for it.
fn words_of(pointer: &str, value: &Value) -> Option<String> {
    let number = || value.as_f64().map(|v| trimmed(v, 4));
    let code = value.as_str();
    Some(match pointer {
        "/pack/chemistry" | "/source/chemistry" => {
            profile(Chemistry::from_code(code?)?)?.named.first().map(|name| (*name).to_owned())?
        }
        "/pack/series" | "/source/series" => format!("{}S", number()?),
        "/pack/packs_in_parallel" => format!("{} packs in parallel", number()?),
        "/pack/capacity_ah" => format!("{} Ah", number()?),
        "/pack/label_v" => format!("{} V label", number()?),
        "/pack/start/rest_voltage_v" => format!("reads {} V", number()?),
        "/pack/temperature_c" => format!("{} °C", number()?),
        "/pack/rated_c_rate" => format!("charge {}C", number()?),
        "/pack/discharge_c_rate" => format!("discharge {}C", number()?),
        "/pack/rated_charge_a" => format!("max charge current {} A", number()?),
        "/pack/mark" => code?.to_owned(),
        "/pack/label_voltage_v/cycle" | "/pack/label_voltage_v/standby" => {
            let ends: Vec<String> = value.as_array()?.iter().filter_map(Value::as_f64).map(|v| trimmed(v, 3)).collect();
            format!("{} {} V", pointer.rsplit('/').next()?, ends.join("-"))
        }
        "/settings/voltage_v" => format!("charge to {} V", number()?),
        "/source/voltage_v" => format!("from {} V", number()?),
        "/source" => source_words(value)?,
        "/source/wiring" => format!("in {}", code?),
        "/source/kind" => match SourceKind::from_code(code?)? {
            SourceKind::BenchSupply => "bench".to_owned(),
            SourceKind::AdjustableSupply => "adjustable".to_owned(),
            SourceKind::FixedSupply => "fixed".to_owned(),
            _ => return None,
        },
        _ => return None,
    })
}

/// How a line says a whole source.
fn source_words(value: &Value) -> Option<String> {
    let plan = with(&crate::formats::PlanDoc::default(), &[("/source".to_owned(), value.clone())])?;
    Some(format!(", {}", line_of(&plan)))
}
