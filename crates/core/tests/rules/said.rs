//! What people say: a table of lines, each with the whole plan it must become.

use std::collections::{BTreeMap, BTreeSet};

use rumek_core::quick_line::{line_of, read};
use serde_json::Value;

const FILES: [(&str, &str); 2] =
    [("lines.txt", include_str!("said/lines.txt")), ("imagined.txt", include_str!("said/imagined.txt"))];

/// Every value of a document by its path.
fn flat(value: &Value, path: &str, out: &mut BTreeMap<String, Value>) {
    match value {
        Value::Object(fields) => fields.iter().for_each(|(name, value)| {
            flat(value, &if path.is_empty() { name.clone() } else { format!("{path}.{name}") }, out);
        }),
        Value::Null => {}
        Value::Number(n) => {
            out.insert(path.to_owned(), serde_json::json!((n.as_f64().unwrap() * 1e3).round() / 1e3));
        }
        Value::Array(items) => {
            let numbers = items.iter().map(|item| serde_json::json!(item.as_f64().unwrap_or(f64::NAN))).collect();
            out.insert(path.to_owned(), Value::Array(numbers));
        }
        other => {
            out.insert(path.to_owned(), other.clone());
        }
    }
}

fn number(value: Value) -> Value {
    match value {
        Value::Number(n) => serde_json::json!(n.as_f64().unwrap()),
        Value::Array(items) => Value::Array(items.into_iter().map(number).collect()),
        other => other,
    }
}

#[test]
fn every_line_becomes_what_its_words_say() {
    let mut wrong = Vec::new();
    let mut lines = 0;
    for (file, text) in FILES {
        for row in text.lines().filter(|row| !row.is_empty() && !row.starts_with('#')) {
            lines += 1;
            let (line, expected) = row.split_once(" :: ").unwrap_or_else(|| panic!("{file}: {row}"));
            let (mut fields, mut asked, mut left) = (BTreeMap::new(), BTreeSet::new(), BTreeSet::new());
            for word in expected.split_whitespace() {
                if let Some(pointer) = word.strip_prefix('?') {
                    asked.insert(format!("/{pointer}"));
                } else if let Some(word) = word.strip_prefix('!') {
                    left.insert(word.to_owned());
                } else {
                    let (path, value) = word.split_once('=').unwrap_or_else(|| panic!("{file}: {row}"));
                    let value = serde_json::from_str(value).unwrap_or_else(|_| Value::String(value.to_owned()));
                    fields.insert(path.to_owned(), number(value));
                }
            }
            let said = read(line);
            let mut found = BTreeMap::new();
            flat(&serde_json::to_value(&said.plan).unwrap(), "", &mut found);
            found.remove("format");
            let questions: BTreeSet<String> = said.questions.iter().map(|q| q.pointer.clone()).collect();
            let unread: BTreeSet<String> = said.not_understood.iter().map(|l| l.text.clone()).collect();
            if (&found, &questions, &unread) != (&fields, &asked, &left) {
                let extra: Vec<_> = found.iter().filter(|(k, v)| fields.get(*k) != Some(v)).collect();
                let missing: Vec<_> = fields.iter().filter(|(k, v)| found.get(*k) != Some(v)).collect();
                wrong.push(format!(
                    "{file}: {line}\n    became {extra:?}\n    wanted {missing:?}\n    asked {questions:?}, left {unread:?}"
                ));
            }
            assert!(said.understood.iter().all(|piece| !piece.meaning.is_empty() && !piece.text.is_empty()), "{line}");
        }
    }
    assert!(wrong.is_empty(), "{} of {lines}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(lines >= 200, "{lines}");
}

#[test]
fn the_line_of_a_plan_makes_that_plan() {
    let mut wrong = Vec::new();
    for (_, text) in FILES {
        for row in text.lines().filter(|row| !row.is_empty() && !row.starts_with('#')) {
            let Some((line, _)) = row.split_once(" :: ") else { continue };
            let mut plan = read(line).plan;
            // A goal that is the usual one needs no words.
            if let Some(pack) = &mut plan.pack {
                pack.goal = pack.goal.take().filter(|goal| goal.kind != Some(rumek_core::codes::GoalKind::Full));
            }
            let again = line_of(&plan);
            let back = read(&again).plan;
            if serde_json::to_value(&back).unwrap() != serde_json::to_value(&plan).unwrap() {
                let (mut a, mut b) = (BTreeMap::new(), BTreeMap::new());
                flat(&serde_json::to_value(&plan).unwrap(), "", &mut a);
                flat(&serde_json::to_value(&back).unwrap(), "", &mut b);
                let unlike: Vec<_> = a.iter().filter(|(k, v)| b.get(*k) != Some(v)).collect();
                let added: Vec<_> = b.iter().filter(|(k, v)| a.get(*k) != Some(v)).collect();
                if !unlike.is_empty() || !added.is_empty() {
                    wrong.push(format!("{line}\n   → {again}\n   lost {unlike:?}, new {added:?}"));
                }
            }
        }
    }
    assert!(wrong.is_empty(), "{}:\n{}", wrong.len(), wrong.join("\n"));
}

/// A line fills no field that the kind of thing it names has not.
#[test]
fn no_line_makes_a_plan_with_a_field_that_belongs_elsewhere() {
    let mut wrong = Vec::new();
    for row in FILES.iter().flat_map(|(_, text)| text.lines()) {
        let Some((line, _)) = row.split_once(" :: ") else { continue };
        let Err(problems) = rumek_core::answer(&read(line).plan) else { continue };
        let misplaced = problems.problems.iter().filter(|p| p.message.contains("has none"));
        wrong.extend(misplaced.map(|p| format!("{line}: {} {}", p.pointer, p.message)));
    }
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

/// The parts of a line in any order, where each names what it speaks of.
#[test]
fn the_order_of_the_parts_changes_nothing() {
    const NAMING: &[&str] =
        &["bench", "charger", "supply", "psu", "brick", "lamp", "module", "resistor", "boost", "buck"];
    let mut wrong = Vec::new();
    let mut turned = 0;
    for row in FILES.iter().flat_map(|(_, text)| text.lines()) {
        let Some((line, _)) = row.split_once(" :: ") else { continue };
        let parts: Vec<&str> = line.split(", ").collect();
        let names = |part: &str| NAMING.iter().any(|word| part.to_lowercase().contains(word));
        if parts.len() < 2 || line.contains(';') || !parts[1..].iter().all(|part| names(part)) || names(parts[0]) {
            continue;
        }
        turned += 1;
        let mut back = parts.clone();
        back.reverse();
        let (said, again) = (read(line), read(&back.join(", ")));
        if said.plan != again.plan {
            wrong.push(format!(
                "{line}\n   {}\n   {}",
                serde_json::to_string(&said.plan).unwrap(),
                serde_json::to_string(&again.plan).unwrap()
            ));
        }
    }
    assert!(wrong.is_empty(), "{} of {turned}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(turned >= 80, "{turned}");
}
