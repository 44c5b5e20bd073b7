//! What a line of text is answered with: the plan it becomes, what was taken for granted, and the one question that
//! decides most.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use serde_json::Value;

use super::plan::PlanDoc;
use super::result::ResultDoc;

/// What a line was read as.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct QuickLine {
    /// The likeliest plan; what was taken for granted is in it.
    pub plan: PlanDoc,
    /// What was understood, in the order of the line.
    pub understood: Vec<Understood>,
    /// What was not.
    pub not_understood: Vec<Leftover>,
    /// Whether an answer to an open question could make the settings harmful: there is no card, no print and no start
    /// then.
    pub held: bool,
    /// The plans it may mean, the likeliest first; at most eight.
    pub readings: Vec<ReadingDoc>,
    /// What was taken for granted, each with its reason.
    pub assumed: Vec<AssumedDoc>,
    /// What is open, the gravest first. One is asked at a time.
    pub ask: Vec<AskDoc>,
}

/// What a plan is answered with: its answer, or what is still open.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(untagged)]
pub enum PlanAnswerDoc {
    /// Nothing is wrong, and something was not said yet.
    Unfinished {
        /// What is open.
        unfinished: UnfinishedDoc,
    },
    /// The answer.
    Answer(Box<ResultDoc>),
}

/// What is still open of a plan.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct UnfinishedDoc {
    /// The questions, the one that decides most first; one is asked at a time.
    pub ask: Vec<AskDoc>,
    /// What the plan may come to, the likeliest first.
    pub readings: Vec<ReadingDoc>,
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

/// One plan that the line may mean.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ReadingDoc {
    /// The plan.
    pub plan: PlanDoc,
    /// How likely it is beside the others; the likeliest has 1.
    pub weight: f64,
    /// Why it may be meant.
    pub because: Vec<String>,
}

/// Something that nobody said and that was taken for granted.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AssumedDoc {
    /// The field.
    pub pointer: String,
    /// What it was taken to be.
    pub value: Value,
    /// Why, in one sentence.
    pub because: String,
    /// Whether the settings harm nothing if it is wrong.
    pub harmless: bool,
}

/// A question.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AskDoc {
    /// The field it is about.
    pub pointer: String,
    /// The question.
    pub question: String,
    /// Why it matters, in one sentence.
    pub why: String,
    /// How to find out; empty where the question says so itself.
    pub how: String,
    /// Whether it withholds the card.
    pub holds: bool,
    /// Two to four answers, the likeliest first; none where the answer is a figure that only the person knows.
    pub choices: Vec<AskChoiceDoc>,
}

/// An answer to choose.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct AskChoiceDoc {
    /// What it says.
    pub label: String,
    /// The field it fills.
    pub pointer: String,
    /// … with this.
    pub value: Value,
    /// What it leads to, such as `25.2 V, 1.5 A`; empty where that cannot be said yet.
    pub leads_to: String,
    /// The line with this answer in it; empty where no line says it.
    pub line: String,
}
