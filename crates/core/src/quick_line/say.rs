//! What a line is answered with: its words heard, its readings weighed and judged, the question that decides most.

use serde_json::{Value, json};

use super::read::read;
use super::said::{Choice, Heard, Question};
use super::spoken::{answered, left_out};
use super::usual::{Reading, granted, readings};
use crate::asking::{Judgement, Setting, ask_doc, forced, harmless, judge, leads_to, order, strong_source, with};
use crate::formats::{AskChoiceDoc, AskDoc, AssumedDoc, PlanDoc, QuickLine, ReadingDoc, ResultDoc};
use crate::physics::cell::profile;

/// No question has more answers.
const CHOICES: usize = 4;
/// Another number of cells that weighs so much beside the heaviest is asked about, harmless or not.
const OTHER_CELLS: f64 = 0.15;
/// What is set for every reading fills the likeliest to this at the least.
const FILLS: f64 = 0.8;

/// Reads a line of text. Never fails: what it cannot place comes back in `not_understood`.
///
/// # Examples
/// ```
/// use rumek_core::quick_line::say;
///
/// let said = say("36V e-bike battery 10Ah, its 42V 2A charger");
/// assert_eq!(said.plan.pack.and_then(|pack| pack.series), Some(10));
/// assert!(!said.held);
/// ```
#[must_use]
pub fn say(line: &str) -> QuickLine {
    let first = read(line);
    let readings = readings(line, &first);
    let chosen = choose(&readings);
    let (text, mut heard, mut assumed) = match chosen {
        Some(reading) => (reading.line.clone(), reading.heard.clone(), assumed_of(&first, reading, &readings)),
        None => (line.to_owned(), first.clone(), Vec::new()),
    };
    let mut ask: Vec<AskDoc> = Vec::new();
    if chosen.is_none() && readings.len() > 1 {
        ask.push(which(&first, &readings));
        heard.questions.retain(|question| !matches!(question.pointer.as_str(), "/pack/chemistry" | "/pack/series"));
    } else if let (None, [only]) = (chosen, readings.as_slice()) {
        (heard, assumed) = (only.heard.clone(), assumed_of(&first, only, &readings));
    }
    if chosen.is_some() {
        heard.questions.retain(|question| question.pointer != "/pack/chemistry");
    }
    for (setting, told) in granted(&heard) {
        let Some(plan) = with(&heard.plan, std::slice::from_ref(&setting)) else { continue };
        heard.plan = plan;
        heard.questions.retain(|question| question.pointer != setting.0);
        assumed.push(told);
    }
    let questions = std::mem::take(&mut heard.questions);
    for question in questions {
        match opened((line, &first), (&text, &heard), &question) {
            Opened::Ask(doc) => ask.push(doc),
            Opened::Same(plan, told) => {
                heard.plan = *plan;
                assumed.extend(told);
            }
        }
    }
    ask.sort_by_key(|one| (!one.holds, order(&one.pointer)));
    let held = ask.iter().any(|one| one.holds);
    // What was taken for granted was not written.
    let understood = first.understood;
    let readings = readings
        .into_iter()
        .map(|reading| ReadingDoc { plan: reading.heard.plan, weight: reading.weight, because: reading.because })
        .collect();
    QuickLine { plan: heard.plan, understood, not_understood: heard.not_understood, held, readings, assumed, ask }
}

/// The reading that may stand: what it sets harms none of the others, and no other number of cells is likely.
fn choose(readings: &[Reading]) -> Option<&Reading> {
    let heaviest = readings.first()?;
    if readings.iter().any(|one| one.series != heaviest.series && one.weight >= OTHER_CELLS) {
        return None;
    }
    let likely = || readings.iter().filter(|one| one.series == heaviest.series || one.weight >= OTHER_CELLS);
    // What every reading is stopped for stands as what it most likely is.
    let stopped = |one: &Reading| matches!(judge(&fed(&one.heard.plan)), Judgement::Stopped(_));
    if readings.iter().all(stopped) {
        return Some(heaviest);
    }
    likely().find(|one| {
        let Some(base) = judged(&one.heard.plan) else { return false };
        let others = readings.iter().filter(|other| other.chemistry != one.chemistry || other.series != one.series);
        let safe = others.clone().all(|other| harmless(&base, &fed(&other.heard.plan)));
        safe && (one.chemistry == heaviest.chemistry || fills(&base, &heaviest.heard.plan))
    })
}

/// Whether what is set fills another reading, too.
fn fills(base: &ResultDoc, other: &PlanDoc) -> bool {
    let given = |judgement| matches!(judgement, Judgement::Given(result) if result.end.soc >= FILLS);
    base.settings.is_some() && forced(base, &fed(other)).is_some_and(given)
}

fn judged(plan: &PlanDoc) -> Option<Box<ResultDoc>> {
    match judge(&fed(plan)) {
        Judgement::Given(result) => Some(result),
        _ => None,
    }
}

/// The plan with a strong bench supply and a usual capacity in the places that are still open: what it would be set to.
fn fed(plan: &PlanDoc) -> PlanDoc {
    let mut settings: Vec<Setting> = Vec::new();
    if plan.source.is_none() {
        settings.push(strong_source(plan));
    }
    let pack = plan.pack.clone().unwrap_or_default();
    if pack.capacity_ah.is_none() && pack.energy_wh.is_none() && pack.capacitance_f.is_none() {
        settings.push(("/pack/capacity_ah".to_owned(), json!(5.0)));
    }
    with(plan, &settings).unwrap_or_else(|| plan.clone())
}

/// What was taken for granted with a reading.
fn assumed_of(first: &Heard, reading: &Reading, readings: &[Reading]) -> Vec<AssumedDoc> {
    let pack = first.plan.pack.clone().unwrap_or_default();
    let mut out = Vec::new();
    let why = |lead: String| {
        let others: Vec<&str> = readings
            .iter()
            .filter(|other| other.chemistry != reading.chemistry)
            .filter_map(|other| profile(other.chemistry).map(|profile| profile.name))
            .collect();
        let because = reading.because.join(", and ");
        let because = if because.is_empty() { String::new() } else { format!(", because {because}") };
        let harms = match others.first() {
            None => String::new(),
            Some(_) => format!(" The same settings do no harm if it is {}.", listed(&others)),
        };
        if reading.weight < 1.0 {
            let name = profile(reading.chemistry).map_or("that kind", |profile| profile.name);
            return format!(
                "Set as for {name}. The same settings do no harm if it is {}. Say which kind it is, and it may get more.",
                listed(&others)
            );
        }
        format!("{lead}{because}.{harms}")
    };
    if pack.chemistry.is_none() {
        let name = profile(reading.chemistry).map_or("another kind", |profile| profile.name);
        let cells =
            reading.series.filter(|_| pack.series.is_none()).map_or(String::new(), |s| format!(", {}", cells(s)));
        let value = Value::from(reading.chemistry.code());
        let because = why(format!("Taken as {name}{cells}"));
        out.push(AssumedDoc { pointer: "/pack/chemistry".to_owned(), value, because, harmless: true });
    } else if let Some(series) = reading.series {
        let because = why(format!("Taken as {}", cells(series)));
        out.push(AssumedDoc {
            pointer: "/pack/series".to_owned(),
            value: Value::from(series),
            because,
            harmless: true,
        });
    }
    out
}

fn listed(names: &[&str]) -> String {
    let mut names = names.to_vec();
    names.dedup();
    match names.split_last() {
        Some((last, [])) => (*last).to_owned(),
        Some((last, first)) => format!("{} or {last}", first.join(", ")),
        None => String::new(),
    }
}

fn cells(series: u32) -> String {
    if series == 1 { "one cell".to_owned() } else { format!("{series} cells in series") }
}

/// Asks which of several readings it is.
fn which(first: &Heard, readings: &[Reading]) -> AskDoc {
    let known = first.plan.pack.as_ref().is_some_and(|pack| pack.chemistry.is_some());
    let cells_known = readings.iter().all(|one| one.series == readings[0].series);
    let choices: Vec<AskChoiceDoc> = readings
        .iter()
        .take(CHOICES)
        .map(|one| AskChoiceDoc {
            label: if known {
                one.series.map_or_else(|| one.label(), |series| format!("{series} cells in series"))
            } else if cells_known {
                profile(one.chemistry).map_or_else(|| one.label(), |profile| profile.name.to_owned())
            } else {
                one.label()
            },
            pointer: if known { "/pack/series".to_owned() } else { "/pack/chemistry".to_owned() },
            value: if known { Value::from(one.series) } else { Value::from(one.chemistry.code()) },
            leads_to: leads_to(&one.heard.plan),
            line: one.line.clone(),
        })
        .collect();
    let (pointer, question) = if known {
        ("/pack/series", "How many cells are in series?")
    } else {
        ("/pack/chemistry", "Which kind of battery is it?")
    };
    ask_doc(pointer, question.to_owned(), true, choices)
}

/// What is usual where a question has no answers of its own to choose from.
fn usual_answers(heard: &Heard, pointer: &str) -> Vec<Choice> {
    let pack = heard.plan.pack.clone().unwrap_or_default();
    let family = pack.chemistry.and_then(profile);
    match pointer {
        "/pack/series" => {
            let counts: &[u32] = match family {
                _ if heard.words.pack.iter().any(|word| word.starts_with("18650") || word.starts_with("21700")) => {
                    &[1, 2, 3, 4]
                }
                Some(family) if family.traits.timed => &[4, 6, 8],
                Some(family) if family.nominal_v < 3.4 => &[4, 8, 16],
                _ => &[2, 3, 4, 6],
            };
            counts.iter().map(|count| Choice::of(cells(*count), pointer, *count)).collect()
        }
        "/source" if heard.plan.charger.is_some() => vec![
            Choice::of("the wall", pointer, json!({ "kind": "mains" })),
            Choice::of(
                "a 12 V 60 Ah AGM battery",
                pointer,
                json!({ "kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 60.0 }),
            ),
            Choice::of(
                "a 24 V 15 A supply",
                pointer,
                json!({ "kind": "fixed_supply", "voltage_v": 24.0, "max_current_a": 15.0 }),
            ),
        ],
        "/source" => {
            let full_v = family.zip(pack.series).map_or(0.0, |(family, series)| family.full_v * f64::from(series));
            /// What a bench supply of 30 V still reaches with its lead, V.
            const SMALL_V: f64 = 29.0;
            let v = if full_v <= SMALL_V { 30.0 } else { 60.0 };
            let bench = |a: f64| {
                let value = json!({ "kind": "bench_supply", "max_voltage_v": v, "max_current_a": a });
                Choice::of(format!("a bench supply, {v} V {a} A"), pointer, value)
            };
            vec![bench(5.0), bench(10.0)]
        }
        _ => Vec::new(),
    }
}

/// A question of a line, opened out.
enum Opened {
    Ask(AskDoc),
    /// All its answers come to the same danger, or to the same settings: it is not asked.
    Same(Box<PlanDoc>, Option<AssumedDoc>),
}

fn opened(first: (&str, &Heard), (text, heard): (&str, &Heard), question: &Question) -> Opened {
    let choices: Vec<Choice> = question
        .options
        .iter()
        .map(|option| {
            let value = option.parse::<u32>().map_or_else(|_| Value::from(option.as_str()), Value::from);
            Choice::of(named(&question.pointer, option), &question.pointer, value)
        })
        .chain(question.choices.iter().cloned())
        .take(CHOICES)
        .collect();
    let choices = if choices.is_empty() { usual_answers(heard, &question.pointer) } else { choices };
    let plans: Vec<Option<PlanDoc>> = choices
        .iter()
        .map(|choice| {
            let fills = fills_of(&heard.plan, choice);
            if choice.pointer.is_empty() { Some(heard.plan.clone()) } else { with(&heard.plan, &fills) }
        })
        .collect();
    if let Some(plan) = same_danger(&plans, question) {
        return Opened::Same(Box::new(plan), None);
    }
    if let Some(plan) = same_settings(&plans, question) {
        let value = choices.first().map_or(Value::Null, |choice| choice.value.clone());
        let name = choices.first().map_or(String::new(), |choice| choice.label.clone());
        let because = format!("Taken as {name}: the settings are the same for the others.");
        let told = AssumedDoc { pointer: question.pointer.clone(), value, because, harmless: true };
        return Opened::Same(Box::new(plan), Some(told));
    }
    let base = judged(&heard.plan);
    let harms = |plan: &Option<PlanDoc>| match (&base, plan) {
        (Some(base), Some(plan)) => !harmless(base, &fed(plan)),
        // A plan that a check stops sets nothing.
        (None, _) => false,
        (Some(_), None) => true,
    };
    let holds = question.holds || plans.iter().any(harms);
    let choices = choices
        .iter()
        .zip(&plans)
        .map(|(choice, plan)| AskChoiceDoc {
            label: capital(&choice.label),
            pointer: choice.pointer.clone(),
            value: choice.value.clone(),
            leads_to: plan.as_ref().map_or_else(String::new, leads_to),
            line: if choice.without.is_empty() {
                // What was taken for granted is not written as if it had been said.
                let fills = [(choice.pointer.clone(), choice.value.clone())];
                let own = answered(first.0, first.1, &question.question, &fills);
                if own.is_empty() { answered(text, heard, &question.question, &fills) } else { own }
            } else {
                left_out(first.0, first.1, &choice.pointer, &choice.without)
            },
        })
        .collect();
    Opened::Ask(ask_doc(&question.pointer, question.question.clone(), holds, choices))
}

/// The fields that an answer fills: a supply of another kind has its volts in another field.
fn fills_of(plan: &PlanDoc, choice: &Choice) -> Vec<Setting> {
    let mut fills = vec![(choice.pointer.clone(), choice.value.clone())];
    let source = plan.source.as_ref().filter(|_| choice.pointer == "/source/kind");
    if let Some(volts) = source.and_then(|source| source.voltage_v.or(source.max_voltage_v)) {
        let fixed = choice.value.as_str() == Some("fixed_supply");
        let (holds, empty) = if fixed { ("voltage_v", "max_voltage_v") } else { ("max_voltage_v", "voltage_v") };
        fills.push((format!("/source/{holds}"), json!(volts)));
        fills.push((format!("/source/{empty}"), Value::Null));
    }
    fills
}

/// The first of several kinds of supply or of feeding battery where the settings are the same with each of them.
fn same_settings(plans: &[Option<PlanDoc>], question: &Question) -> Option<PlanDoc> {
    if !matches!(question.pointer.as_str(), "/source/chemistry" | "/source/kind") || plans.len() < 2 {
        return None;
    }
    let settings: Option<Vec<(f64, f64)>> = plans
        .iter()
        .map(|plan| match judge(&fed(plan.as_ref()?)) {
            Judgement::Given(result) => result.settings.map(|set| (set.voltage_v, set.current_a)),
            _ => None,
        })
        .collect();
    let settings = settings?;
    let (volts, amps) = settings[0];
    let same = |(v, a): &(f64, f64)| (v - volts).abs() < 1e-6 && (a - amps).abs() <= 0.02 * amps;
    settings.iter().all(same).then(|| plans[0].clone()).flatten()
}

/// The first of several answers where each is stopped by the same check.
fn same_danger(plans: &[Option<PlanDoc>], question: &Question) -> Option<PlanDoc> {
    // Only what the pack reads is a danger whichever way it is read; of gear somebody knows which.
    let read = ["/pack/start", "/pack/label_v"].iter().any(|start| question.pointer.starts_with(start));
    if plans.len() < 2 || question.holds || !read {
        return None;
    }
    let codes: Option<Vec<_>> = plans
        .iter()
        .map(|plan| match judge(&fed(plan.as_ref()?)) {
            Judgement::Stopped(result) => crate::asking::stops(&result).next().map(|stop| stop.code),
            _ => None,
        })
        .collect();
    let codes = codes?;
    codes.iter().all(|code| *code == codes[0]).then(|| plans[0].clone()).flatten()
}

fn capital(label: &str) -> String {
    let mut letters = label.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

/// What an option is called on a button.
fn named(pointer: &str, option: &str) -> String {
    use crate::codes::{Chemistry, PackMark, SourceKind};
    if pointer.ends_with("/series") {
        return format!("{option} cells in series");
    }
    if let Some(profile) = Chemistry::from_code(option).and_then(profile) {
        return profile.name.to_owned();
    }
    if PackMark::from_code(option) == Some(PackMark::Retired) {
        return "Yes, one of these".to_owned();
    }
    match SourceKind::from_code(option) {
        Some(SourceKind::BenchSupply) => "volts and amps".to_owned(),
        Some(SourceKind::AdjustableSupply) => "only volts".to_owned(),
        Some(SourceKind::FixedSupply) => "nothing".to_owned(),
        _ => option.replace('_', " "),
    }
}
