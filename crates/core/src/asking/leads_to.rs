//! What an answer leads to, in a few words.

use super::held::{Judgement, judge, stops};
use super::set::{strong_source, with};
use crate::formats::{PlanDoc, ResultDoc};
use crate::units::{significant, trimmed};

/// No more of a check's message than this is told beside an answer, characters.
const LONGEST: usize = 70;

/// What a plan comes to: its settings, or what stops it; empty where that cannot be said yet.
pub(crate) fn leads_to(plan: &PlanDoc) -> String {
    match judge(plan) {
        Judgement::Given(result) => settings(&result),
        Judgement::Stopped(result) => stopped(&result),
        Judgement::Unfinished => fed(plan),
    }
}

fn settings(result: &ResultDoc) -> String {
    result.settings.as_ref().map_or_else(
        || "nothing to charge".to_owned(),
        |set| {
            let amps = trimmed(significant(set.expect_a), 2);
            format!("{} V, {amps} A", trimmed(set.voltage_v, 2))
        },
    )
}

/// The first sentence of what stops it.
fn stopped(result: &ResultDoc) -> String {
    let Some(stop) = stops(result).next() else { return String::new() };
    let sentence = stop.message.find(". ").map_or(stop.message.trim_end_matches('.'), |end| &stop.message[..end]);
    let sentence = sentence.find(": ").map_or(sentence, |end| &sentence[..end]);
    let told = if sentence.chars().count() > LONGEST {
        let cut: String = sentence.chars().take(LONGEST).collect();
        format!("{}…", cut.rsplit_once(' ').map_or(cut.as_str(), |(words, _)| words))
    } else {
        sentence.to_owned()
    };
    format!("stopped: {told}")
}

/// What a strong bench supply would be set to, where nobody said yet what feeds the pack.
fn fed(plan: &PlanDoc) -> String {
    if plan.source.is_some() {
        return String::new();
    }
    match with(plan, &[strong_source(plan)]).map(|plan| judge(&plan)) {
        Some(Judgement::Given(result)) => {
            result.settings.as_ref().map_or_else(String::new, |set| format!("{} V", trimmed(set.voltage_v, 2)))
        }
        Some(Judgement::Stopped(result)) => stopped(&result),
        Some(Judgement::Unfinished) | None => String::new(),
    }
}
