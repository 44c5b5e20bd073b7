//! What the words of a line come to, before anything is weighed or judged.

use serde_json::Value;

use crate::formats::{Leftover, PlanDoc, Understood};

/// What the words of a line say.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Heard {
    /// The draft; only what was said.
    pub plan: PlanDoc,
    /// What was understood, in the order of the line.
    pub understood: Vec<Understood>,
    /// What was not.
    pub not_understood: Vec<Leftover>,
    /// What must still be said, most important first.
    pub questions: Vec<Question>,
    /// The words beside the pack, and beside what charges it.
    pub(super) words: Words,
}

/// The words of a line by what they stand beside, in lower case and as they were read.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Words {
    pub(super) pack: Vec<String>,
    pub(super) gear: Vec<String>,
    /// Lead, of which kind nobody said.
    pub(super) lead: bool,
    /// Lithium, of which kind nobody said.
    pub(super) lithium: bool,
    /// What the label calls the volts when it is full, V: `40 V max`.
    pub(super) max_v: Option<f64>,
    /// Whether nothing may be taken for granted of its kind: it may be none that is charged.
    pub(super) refused: bool,
    /// The volts of a charger that are those of the pack as well, V.
    pub(super) charger_v: Option<f64>,
    /// Chemistries of which one was said as well as another.
    pub(super) either: Vec<crate::codes::Chemistry>,
    /// Chemistries it was said not to be.
    pub(super) not: Vec<crate::codes::Chemistry>,
}

/// Something to ask.
#[derive(Clone, Debug, PartialEq)]
pub struct Question {
    /// The field that is missing.
    pub pointer: String,
    /// The question.
    pub question: String,
    /// Answers that fit, as the document spells them; empty where any will do.
    pub options: Vec<String>,
    /// Answers in words, each with the field it fills; empty where the options serve.
    pub choices: Vec<Choice>,
    /// Whether no card may be given before it is answered, whatever the answers lead to.
    pub holds: bool,
}

impl Question {
    /// One that is answered with one of several sentences.
    pub(super) fn choosing(pointer: &str, question: impl Into<String>, choices: Vec<Choice>) -> Self {
        Self { choices, ..Self::open(pointer, question) }
    }

    /// One whose answer only the person knows.
    pub(super) fn open(pointer: &str, question: impl Into<String>) -> Self {
        Self {
            pointer: pointer.to_owned(),
            question: question.into(),
            options: Vec::new(),
            choices: Vec::new(),
            holds: false,
        }
    }

    /// The same; no card is given before it is answered.
    pub(super) fn holding(self) -> Self {
        Self { holds: true, ..self }
    }
}

/// One answer to a question.
#[derive(Clone, Debug, PartialEq)]
pub struct Choice {
    /// What it says.
    pub label: String,
    /// The field it fills.
    pub pointer: String,
    /// … with this.
    pub value: Value,
    /// Words that are left out of the line by it.
    pub without: Vec<String>,
}

impl Choice {
    pub(super) fn of(label: impl Into<String>, pointer: &str, value: impl Into<Value>) -> Self {
        Self { label: label.into(), pointer: pointer.to_owned(), value: value.into(), without: Vec::new() }
    }

    /// One that fills nothing: words of the line are left out.
    pub(super) fn without(label: impl Into<String>, words: Vec<String>) -> Self {
        Self { label: label.into(), pointer: String::new(), value: Value::Null, without: words }
    }
}
