//! What the line is answered with.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::formats::PlanDoc;

/// What a line was read as.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct QuickLine {
    /// The draft; only what was said.
    pub plan: PlanDoc,
    /// What was understood, in the order of the line.
    pub understood: Vec<Understood>,
    /// What was not.
    pub not_understood: Vec<Leftover>,
    /// What must still be said, most important first.
    pub questions: Vec<Question>,
}

/// A piece of the line and what it means.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Understood {
    /// The piece as written.
    pub text: String,
    /// What it was taken to mean.
    pub meaning: String,
    /// The field it fills.
    pub pointer: String,
}

/// A piece nothing was made of.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Leftover {
    /// The piece as written.
    pub text: String,
}

/// Something to ask.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Question {
    /// The field that is missing.
    pub pointer: String,
    /// The question.
    pub question: String,
    /// Answers that fit, as the document spells them; empty where any will do.
    pub options: Vec<String>,
    /// Answers in words, each with the field it fills; empty where the options serve.
    pub choices: Vec<Choice>,
}

impl Question {
    /// One that is answered with one of several sentences.
    pub(super) fn choosing(pointer: &str, question: impl Into<String>, choices: Vec<Choice>) -> Self {
        Self { pointer: pointer.to_owned(), question: question.into(), options: Vec::new(), choices }
    }
}

/// One answer to a question.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Choice {
    /// What it says.
    pub label: String,
    /// The field it fills.
    pub pointer: String,
    /// … with this.
    pub value: f64,
}

impl Choice {
    pub(super) fn of(label: impl Into<String>, pointer: &str, value: f64) -> Self {
        Self { label: label.into(), pointer: pointer.to_owned(), value }
    }
}
