//! One field, two figures: which of them counts is asked, never taken from their order.

use super::draft::Draft;
use super::said::{Choice, Question};
use crate::units::trimmed;

/// The fields of which a line can give only one figure.
const ONCE: &[(&str, &str)] = &[
    ("/pack/series", "how many cells are in series"),
    ("/pack/capacity_ah", "what the pack holds"),
    ("/pack/energy_wh", "what the pack holds"),
    ("/pack/rated_charge_a", "what it may be charged with"),
    ("/pack/start/rest_voltage_v", "what the pack reads at rest"),
    ("/pack/temperature_c", "how warm the pack is"),
    ("/source/voltage_v", "what the supply gives"),
    ("/source/max_voltage_v", "what the supply reaches"),
    ("/source/max_current_a", "what the supply gives"),
    ("/source/max_power_w", "what the supply gives"),
    ("/source/capacity_ah", "what the battery that feeds it holds"),
    ("/charger/output_max_v", "what the charger reaches"),
    ("/charger/output_max_a", "what the charger gives"),
    ("/charger/output_max_w", "what the charger gives"),
    ("/charger/lamp_rated_v", "what is printed on the lamp"),
    ("/charger/lamp_rated_w", "what is printed on the lamp"),
    ("/settings/voltage_v", "what to charge to"),
    ("/settings/current_a", "what to charge with"),
    ("/load/power_w", "what the load draws"),
    ("/load/current_a", "what the load draws"),
];

impl Draft {
    /// Asks for each field that was given two figures; the plan has neither until one is chosen.
    pub(super) fn settle_twice(&self, questions: &mut Vec<Question>) -> Vec<&'static str> {
        let mut open = Vec::new();
        for (pointer, what) in ONCE {
            let mut said: Vec<&(String, String, f64)> = Vec::new();
            for one in self.figures.iter().filter(|(field, ..)| field == pointer) {
                if said.iter().all(|(.., figure)| (figure - one.2).abs() > 1e-9) {
                    said.push(one);
                }
            }
            if said.len() < 2 || questions.iter().any(|question| question.pointer == *pointer) {
                continue;
            }
            open.push(*pointer);
            let quoted: Vec<String> = said.iter().map(|(_, text, _)| format!("“{text}”")).collect();
            questions.push(Question::choosing(
                pointer,
                format!("{} were each read as {what}. Which is it?", quoted.join(" and ")),
                said.iter()
                    .map(|(_, text, figure)| {
                        let others =
                            said.iter().filter(|(_, other, _)| other != text).map(|(_, other, _)| other.clone());
                        let value: f64 = trimmed(*figure, 6).parse().unwrap_or(*figure);
                        Choice { without: others.collect(), ..Choice::of(text.as_str(), pointer, value) }
                    })
                    .collect(),
            ));
        }
        open
    }
}
