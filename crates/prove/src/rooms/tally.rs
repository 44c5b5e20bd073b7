//! What came of the acts of each room.

use std::collections::BTreeMap;

use super::told::Told;

/// Counts by kind.
#[derive(Clone, Debug, Default)]
pub struct RoomTally {
    rows: BTreeMap<&'static str, Row>,
    disagreements: Vec<String>,
}

#[derive(Clone, Copy, Debug, Default)]
struct Row {
    cases: usize,
    told: usize,
    passed: usize,
    given_up: usize,
    missed: usize,
    stuck: usize,
    timed: usize,
    inside: usize,
}

impl RoomTally {
    /// Adds one case.
    pub fn add(&mut self, told: &Told) {
        let row = self.rows.entry(told.kind).or_default();
        row.cases += 1;
        row.told += usize::from(told.told);
        row.passed += usize::from(!told.passed.is_empty());
        row.given_up += usize::from(told.given_up.is_some());
        row.missed += usize::from(told.missed.is_some());
        row.stuck += usize::from(told.stuck.is_some());
        row.timed += told.timed;
        row.inside += told.inside;
        let mut say = |what: &str, said: &str| {
            self.disagreements.push(format!("{}: {what}: {said}\n  {}", told.kind, told.asked));
        };
        told.passed.iter().for_each(|said| say("passed", said));
        told.given_up.iter().for_each(|said| say("given up", said));
        told.missed.iter().for_each(|said| say("missed", said));
        told.stuck.iter().for_each(|said| say("stuck", said));
        told.outside.iter().for_each(|said| say("time", said));
    }

    /// Each disagreement in words, with what was asked.
    #[must_use]
    pub fn disagreements(&self) -> &[String] {
        &self.disagreements
    }

    /// How many acts passed what a pack bears, and how many came to no end.
    #[must_use]
    pub fn passed_or_stuck(&self) -> (usize, usize) {
        self.rows.values().fold((0, 0), |sum, row| (sum.0 + row.passed, sum.1 + row.stuck))
    }

    /// The kinds with what a share of them comes to: sound ones given up, faults missed, times inside their span.
    #[must_use]
    pub fn shares(&self) -> Vec<(&'static str, [f64; 3])> {
        let share = |n: usize, of: usize| n as f64 / of.max(1) as f64;
        self.rows
            .iter()
            .map(|(kind, row)| {
                let inside = if row.timed == 0 { 1.0 } else { share(row.inside, row.timed) };
                (*kind, [share(row.given_up, row.told), share(row.missed, row.told), inside])
            })
            .collect()
    }

    /// A table by kind.
    #[must_use]
    pub fn table(&self) -> String {
        let mut lines = vec![format!(
            "{:<36}{:>8}{:>8}{:>8}{:>10}{:>8}{:>8}{:>9}",
            "acts of the other rooms", "cases", "told", "passed", "given up", "missed", "stuck", "in span"
        )];
        for (kind, row) in &self.rows {
            lines.push(format!(
                "{kind:<36}{:>8}{:>8}{:>8}{:>10}{:>8}{:>8}{:>9}",
                row.cases,
                row.told,
                row.passed,
                row.given_up,
                row.missed,
                row.stuck,
                if row.timed == 0 {
                    "–".to_owned()
                } else {
                    format!("{:.0} %", 100.0 * row.inside as f64 / row.timed as f64)
                },
            ));
        }
        lines.join("\n")
    }
}
