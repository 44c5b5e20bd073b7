//! What a line is answered with: a card where it is harmless, else one question.

use rumek_core::formats::{PlanDoc, QuickLine, ResultDoc, Severity, from_value};
use rumek_core::quick_line::say;
use serde_json::{Value, json};

use crate::dice::Dice;

const SPOKEN: &str = include_str!("said/spoken.txt");

fn spoken() -> impl Iterator<Item = &'static str> {
    SPOKEN.lines().filter(|line| !line.is_empty() && !line.starts_with('#'))
}

fn stopped(result: &ResultDoc) -> bool {
    result.checks.iter().any(|check| check.severity == Severity::Stop)
}

/// What is set, V and A, where there is a card.
fn card(said: &QuickLine) -> Option<(f64, f64)> {
    if said.held {
        return None;
    }
    let result = rumek_core::answer(&said.plan).ok().filter(|result| !stopped(result))?;
    result.settings.map(|set| (set.voltage_v, set.expect_a))
}

/// In one line: the card, what stops it, or what is asked.
fn told(said: &QuickLine) -> String {
    let pack = said.plan.pack.clone().unwrap_or_default();
    let kind = pack.chemistry.map_or("?", |chemistry| chemistry.code());
    let cells = pack.series.map_or_else(|| "?".to_owned(), |series| series.to_string());
    let asked = || said.ask.first().map_or_else(String::new, |ask| format!("{} {}", ask.pointer, ask.choices.len()));
    if said.held {
        return format!("held {}", asked());
    }
    match rumek_core::answer(&said.plan) {
        Err(_) => format!("asks {} | {kind} {cells}S", asked()),
        Ok(result) if stopped(&result) => {
            let stop = result.checks.iter().find(|check| check.severity == Severity::Stop).unwrap();
            format!("stop {} | {kind} {cells}S", stop.code.code())
        }
        Ok(result) => result.settings.map_or_else(
            || format!("nothing flows | {kind} {cells}S"),
            |set| format!("{:.2} V {:.2} A | {kind} {cells}S", set.voltage_v, set.expect_a),
        ),
    }
}

#[test]
fn what_people_say_becomes_a_card_a_stop_or_one_question() {
    let rows: Vec<String> = spoken().map(|line| format!("{line}\n    {}", told(&say(line)))).collect();
    assert!(rows.len() >= 250, "{}", rows.len());
    insta::assert_snapshot!(rows.join("\n"));
}

#[test]
fn no_question_has_one_answer_too_many_and_each_answer_in_a_line_answers_it() {
    for line in spoken() {
        let said = say(line);
        assert_eq!(said.held, said.ask.iter().any(|ask| ask.holds), "{line}");
        assert!(said.readings.len() <= 8, "{line}");
        for ask in &said.ask {
            assert!(ask.choices.len() <= 4, "{line}: {ask:?}");
            assert!(!ask.why.is_empty() && !ask.question.is_empty(), "{line}: {ask:?}");
            for choice in ask.choices.iter().filter(|choice| !choice.line.is_empty()) {
                let next = say(&choice.line);
                let again = next.ask.iter().any(|one| one.question == ask.question && one.holds);
                assert!(!again, "{line} → {}: {ask:?}", choice.line);
            }
        }
    }
}

/// The parts of a line in the other order.
fn turned(line: &str) -> String {
    let mut parts: Vec<&str> = line.split(", ").collect();
    parts.reverse();
    parts.join(", ")
}

/// Two letters of its longest word changed over.
fn slipped(line: &str) -> String {
    let longest =
        line.split(' ').filter(|word| word.chars().all(|c| c.is_ascii_lowercase())).max_by_key(|word| word.len());
    let Some(word) = longest.filter(|word| word.len() >= 6) else { return line.to_owned() };
    let mut letters: Vec<char> = word.chars().collect();
    letters.swap(2, 3);
    line.replacen(word, &letters.into_iter().collect::<String>(), 1)
}

/// No other way to say a line gives a card where it has none, or one that gives more.
#[test]
fn a_line_said_in_another_way_is_never_given_more() {
    let mut wrong = Vec::new();
    for line in spoken() {
        let plain = card(&say(line));
        let ways = [turned(line), slipped(line), format!("hello there, {line}"), format!("{line}, thank you")];
        for other in ways.iter().filter(|other| *other != line) {
            let said = say(other);
            let Some((volts, amps)) = card(&said) else { continue };
            let fits = plain.is_some_and(|(v, a)| volts <= 1.01 * v && amps <= 1.05 * a);
            if !fits {
                wrong.push(format!("{other}\n    {} where it is {plain:?}", told(&said)));
            }
        }
    }
    assert!(wrong.is_empty(), "{}:\n{}", wrong.len(), wrong.join("\n"));
}

/// A battery as it is, and how somebody may tell of it.
struct Truth {
    plan: Value,
    chemistry: &'static str,
    series: u32,
    line: String,
    /// Whether its kind or its cells were left out.
    open: bool,
}

/// Chemistry, word, cell counts, volts a cell on the label, full volts a cell, Ah, and things that have such a battery.
type Kind = (&'static str, &'static str, &'static [u32], f64, f64, (f64, f64), &'static [&'static str]);

const KINDS: &[Kind] = &[
    (
        "li_ion",
        "li-ion",
        &[1, 2, 3, 4, 5, 6, 7, 10, 13, 14],
        3.6,
        4.2,
        (1.5, 20.0),
        &["drill battery", "e-bike battery", "laptop battery", "battery"],
    ),
    (
        "lipo",
        "lipo",
        &[1, 2, 3, 4, 5, 6, 8, 12],
        3.7,
        4.2,
        (0.3, 10.0),
        &["drone pack", "plane pack", "pack", "battery"],
    ),
    ("lfp", "LiFePO4", &[1, 4, 8, 16], 3.2, 3.65, (5.0, 200.0), &["leisure battery", "solar battery", "battery"]),
    ("nimh", "NiMH", &[4, 5, 6, 7, 8], 1.2, 1.6, (0.6, 4.0), &["stick pack", "AA cells", "receiver pack"]),
    (
        "lead_agm",
        "AGM",
        &[3, 6, 12],
        2.0,
        2.4,
        (1.2, 120.0),
        &["alarm battery", "UPS battery", "leisure battery", "car battery"],
    ),
    (
        "lead_flooded",
        "flooded",
        &[3, 6, 12],
        2.0,
        2.4,
        (10.0, 150.0),
        &["car battery", "tractor battery", "leisure battery"],
    ),
    ("lead_gel", "gel", &[3, 6], 2.0, 2.4, (5.0, 100.0), &["mobility battery", "leisure battery", "battery"]),
];

fn truth(dice: &mut Dice) -> Truth {
    let mut pick = |n: usize| ((dice.next() * n as f64) as usize).min(n - 1);
    let (chemistry, word, counts, label_v, full_v, (least, most), things) = KINDS[pick(KINDS.len())];
    let series = counts[pick(counts.len())];
    let thing = things[pick(things.len())];
    let (says_kind, says_cells, says_label) = (pick(2) == 0, pick(3) == 0, pick(4) > 0);
    let charger = pick(3) == 0 && full_v > 1.7;
    let ah = least * (most / least).powf(pick(1000) as f64 / 1000.0);
    let ah = (ah * 10.0).round() / 10.0;
    let lead = chemistry.starts_with("lead");
    let volts = (label_v * f64::from(series) * 10.0).round() / 10.0;
    let mut words = vec![format!("{ah} Ah"), thing.to_owned()];
    if says_kind {
        words.push(word.to_owned());
    }
    if says_cells && !lead {
        words.push(format!("{series}S"));
    }
    if says_label || lead {
        words.push(format!("{volts} V"));
    }
    // In any order.
    for n in (1..words.len()).rev() {
        words.swap(n, pick(n + 1));
    }
    let whole_v = (full_v * f64::from(series) * 10.0).round() / 10.0;
    let (gear, source, unit) = if charger {
        let unit = json!({ "kind": "hobby_charger", "output_max_v": whole_v, "output_max_a": 2.0 });
        (format!("its {whole_v} V 2 A charger"), json!({ "kind": "mains" }), unit)
    } else {
        let bench = json!({ "kind": "bench_supply", "max_voltage_v": 80.0, "max_current_a": 10.0 });
        ("bench 80 V 10 A".to_owned(), bench, Value::Null)
    };
    let pack = json!({ "chemistry": chemistry, "series": series, "capacity_ah": ah });
    let plan = json!({ "format": "rumek.plan/1", "pack": pack, "source": source, "charger": unit });
    let open = !says_kind || !says_cells && !says_label && !lead;
    Truth { plan, chemistry, series, line: format!("{}, {gear}", words.join(" ")), open }
}

/// What a plan would do to the truth where its volts and amps are set.
fn harms(truth: &Truth, set: &ResultDoc) -> bool {
    let Some(settings) = &set.settings else { return false };
    let mut forced = truth.plan.clone();
    let natural: PlanDoc = from_value(&forced).unwrap();
    if rumek_core::answer(&natural).is_ok_and(|result| stopped(&result)) {
        return false;
    }
    forced["settings"] = json!({ "voltage_v": settings.voltage_v, "current_a": settings.current_a });
    rumek_core::answer(&from_value(&forced).unwrap()).is_ok_and(|result| stopped(&result))
}

/// How many truths are told with facts left out; `RUMEK_CASES` asks for more.
fn cases() -> usize {
    std::env::var("RUMEK_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(600)
}

#[test]
fn facts_left_out_leave_the_truth_among_the_readings_and_what_is_set_harmless() {
    let mut dice = Dice(28);
    let (mut open, mut among, mut cards, mut wrong) = (0, 0, 0, Vec::new());
    let mut missed = Vec::new();
    for _ in 0..cases() {
        let truth = truth(&mut dice);
        let said = say(&truth.line);
        if truth.open {
            open += 1;
            let is = said.readings.iter().any(|reading| {
                let pack = reading.plan.pack.clone().unwrap_or_default();
                let kind = pack.chemistry.is_some_and(|chemistry| chemistry.code() == truth.chemistry);
                kind && pack.series.is_none_or(|series| series == truth.series)
            });
            among += usize::from(is);
            if !is {
                missed.push(format!("{} is {} {}S: {}", truth.line, truth.chemistry, truth.series, told(&said)));
            }
        }
        let Some(result) = (!said.held).then(|| rumek_core::answer(&said.plan).ok()).flatten() else { continue };
        if stopped(&result) || result.settings.is_none() {
            continue;
        }
        cards += 1;
        if harms(&truth, &result) {
            wrong.push(format!("{} is {} {}S: {}", truth.line, truth.chemistry, truth.series, told(&said)));
        }
    }
    let share = among as f64 / open.max(1) as f64;
    println!("OPEN {open}, among {:.2} %, cards {cards}, harmful {}", 100.0 * share, wrong.len());
    assert!(wrong.is_empty(), "{} of {cards}:\n{}", wrong.len(), wrong.join("\n"));
    assert!(share >= 0.99, "{among} of {open}:\n{}", missed.join("\n"));
}
