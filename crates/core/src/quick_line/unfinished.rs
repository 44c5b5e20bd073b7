//! What is still open of a plan that came in fields, asked as a line would be.

use super::say::say;
use super::write::line_of;
use crate::asking::{ask_doc, order, question};
use crate::formats::{AskDoc, PlanDoc, Problems, UnfinishedDoc};

/// What is open of a plan in which nothing is wrong but that something was not said yet; `None` where something is.
#[must_use]
pub fn unfinished(plan: &PlanDoc, problems: &Problems) -> Option<UnfinishedDoc> {
    if !problems.only_missing() {
        return None;
    }
    let said = say(&line_of(plan));
    let lacking = |pointer: &str| problems.problems.iter().any(|problem| problem.pointer == pointer);
    let whole = lacking("/pack");
    let mut ask: Vec<AskDoc> =
        said.ask.into_iter().filter(|one| lacking(&one.pointer) || whole && one.pointer.starts_with("/pack")).collect();
    for problem in &problems.problems {
        let unasked = ask.iter().all(|one| one.pointer != problem.pointer);
        if unasked && (!whole || ask.is_empty()) {
            let told = question(&problem.pointer);
            let told = if told.is_empty() {
                format!("{}. Allowed: {}.", problem.message, problem.allowed)
            } else {
                told.to_owned()
            };
            ask.push(ask_doc(&problem.pointer, told, false, Vec::new()));
        }
    }
    // A line says nothing here: the answers fill the fields of the plan.
    ask.iter_mut().flat_map(|one| &mut one.choices).for_each(|choice| choice.line.clear());
    ask.sort_by_key(|one| order(&one.pointer));
    Some(UnfinishedDoc { ask, readings: said.readings })
}
