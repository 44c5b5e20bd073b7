//! The question about a reading that does not fit.

use crate::formats::{AskChoiceDoc, AskDoc};
use serde_json::{Value, json};

/// The answer of somebody who has read it twice.
pub(super) fn sure_of(label: String, leads_to: &str) -> AskChoiceDoc {
    AskChoiceDoc {
        label,
        pointer: "/reading/sure".to_owned(),
        value: json!(true),
        leads_to: leads_to.to_owned(),
        line: String::new(),
    }
}

/// Asks whether the last reading is true: what it may have been instead, that it is true, or that it is taken back.
pub(super) fn asked(
    pointer: &str,
    question: String,
    instead: impl IntoIterator<Item = (String, f64, String)>,
    sure: AskChoiceDoc,
) -> AskDoc {
    let mut choices: Vec<AskChoiceDoc> = instead
        .into_iter()
        .map(|(label, value, leads_to)| AskChoiceDoc {
            label,
            pointer: pointer.to_owned(),
            value: json!((value * 1e4).round() / 1e4),
            leads_to,
            line: String::new(),
        })
        .collect();
    choices.push(sure);
    if choices.len() < 2 {
        choices.insert(
            0,
            AskChoiceDoc {
                label: "It was misread".to_owned(),
                pointer: "/reading".to_owned(),
                value: Value::Null,
                leads_to: "it is taken back: read again".to_owned(),
                line: String::new(),
            },
        );
    }
    AskDoc {
        pointer: pointer.to_owned(),
        question,
        why: "It does not fit what flowed and what was read before.".to_owned(),
        how: "Read it once more before you answer.".to_owned(),
        holds: false,
        choices,
    }
}
