//! What came of many chains, by kind.

use std::collections::BTreeMap;

use rumek_core::codes::EndReason;
use rumek_rig::Ended;

use crate::proof::{Given, Outcome, Proof, told};

/// Of one kind of chain.
#[derive(Clone, Debug, Default)]
struct Row {
    chains: usize,
    misread: usize,
    refused: usize,
    causeless: usize,
    given: usize,
    passed: usize,
    timed: usize,
    inside: usize,
    beyond_twice: usize,
    reasons: usize,
    charges: usize,
    off: Vec<f64>,
    cv_off: Vec<f64>,
    unaccounted: f64,
}

/// All of them.
#[derive(Clone, Debug, Default)]
pub struct Tally {
    rows: BTreeMap<String, Row>,
    causeless: BTreeMap<String, usize>,
    disagreements: Vec<String>,
}

/// Whether the end carried out is the one told.
fn agrees(told: EndReason, ended: Ended) -> bool {
    match told {
        EndReason::Taper => matches!(ended, Ended::Current | Ended::Steady),
        EndReason::Goal => matches!(ended, Ended::Charge | Ended::Time),
        EndReason::StopVoltage => ended == Ended::Volts,
        EndReason::CutOff => ended == Ended::Relay,
        EndReason::SourceEmpty => ended == Ended::SourceEmpty,
        EndReason::TimeLimit | EndReason::EnoughCharge => matches!(ended, Ended::Time | Ended::Current | Ended::Steady),
        EndReason::Stalled => matches!(ended, Ended::Current | Ended::Never | Ended::Steady),
        EndReason::Discharging => ended == Ended::Draining,
        EndReason::GoalBelowStart | EndReason::Refused => true,
    }
}

impl Tally {
    /// Adds one.
    pub fn add(&mut self, proof: &Proof) {
        let row = self.rows.entry(proof.kind.clone()).or_default();
        row.chains += 1;
        let mut wrong = Vec::new();
        match &proof.outcome {
            Outcome::Misread(why) => {
                row.misread += 1;
                wrong.push(format!("misread: {why}"));
            }
            Outcome::Refused { stops, caused, .. } => {
                row.refused += 1;
                if !caused {
                    row.causeless += 1;
                    for stop in stops {
                        *self.causeless.entry(stop.clone()).or_default() += 1;
                    }
                    wrong.push(format!("causeless: {}", stops.join(", ")));
                }
            }
            Outcome::Given(given) => row.count(given, &mut wrong),
        }
        let kind = &proof.kind;
        self.disagreements.extend(wrong.into_iter().map(|what| format!("{kind}: {what}\n  {}", proof.plan)));
    }

    /// Each disagreement in words, with its plan.
    #[must_use]
    pub fn disagreements(&self) -> &[String] {
        &self.disagreements
    }

    /// How many chains passed a rating.
    #[must_use]
    pub fn passed(&self) -> usize {
        self.rows.values().map(|row| row.passed).sum()
    }

    /// The kinds whose times lie inside their span less often than this, with the share.
    #[must_use]
    pub fn outside(&self, share: f64) -> Vec<(&str, f64)> {
        let inside = |row: &Row| row.inside as f64 / row.timed.max(1) as f64;
        self.rows
            .iter()
            .filter(|(_, row)| row.timed > 0 && inside(row) < share)
            .map(|(kind, row)| (kind.as_str(), inside(row)))
            .collect()
    }

    /// The share of all times that lie inside their span.
    #[must_use]
    pub fn inside(&self) -> f64 {
        let sum = |pick: fn(&Row) -> usize| self.rows.values().map(pick).sum::<usize>();
        sum(|row| row.inside) as f64 / sum(|row| row.timed).max(1) as f64
    }

    /// The share of all chains that were refused without cause.
    #[must_use]
    pub fn causeless(&self) -> f64 {
        let chains: usize = self.rows.values().map(|row| row.chains).sum();
        self.rows.values().map(|row| row.causeless).sum::<usize>() as f64 / chains.max(1) as f64
    }

    /// Documents that could not be read.
    #[must_use]
    pub fn misread(&self) -> usize {
        self.rows.values().map(|row| row.misread).sum()
    }

    /// The greatest share of energy that the rig could not account for.
    #[must_use]
    pub fn unaccounted(&self) -> f64 {
        self.rows.values().map(|row| row.unaccounted).fold(0.0, f64::max)
    }

    /// A table by kind.
    #[must_use]
    pub fn table(&self) -> String {
        let mut lines = vec![format!(
            "{:<44}{:>7}{:>8}{:>9}{:>7}{:>8}{:>8}{:>7}{:>7}{:>8}{:>8}{:>8}{:>9}",
            "kind of chain",
            "chains",
            "refused",
            "no cause",
            "passed",
            "in span",
            "> twice",
            "end",
            "Ah",
            "time",
            "worst",
            "to CV",
            "energy"
        )];
        let mut all = Row::default();
        for (kind, row) in &self.rows {
            lines.push(row.line(kind));
            all.join(row);
        }
        lines.push(all.line("all"));
        for (stop, n) in &self.causeless {
            lines.push(format!("without cause: {stop} {n}"));
        }
        lines.join("\n")
    }
}

fn middle(values: &[f64]) -> f64 {
    let mut sorted = values.to_vec();
    sorted.sort_by(f64::total_cmp);
    sorted.get(sorted.len() / 2).copied().unwrap_or(0.0)
}

impl Row {
    fn count(&mut self, given: &Given, wrong: &mut Vec<String>) {
        self.given += 1;
        if let Some((passing, truth)) = given.passed.first() {
            self.passed += 1;
            wrong.push(format!("passed: {} {truth:?}", told(passing)));
        }
        let carried = &given.carried;
        if agrees(given.reason, carried.ended) {
            self.reasons += 1;
        } else {
            wrong.push(format!("end: told {:?}, {:?} {carried:?}", given.reason, carried.ended));
        }
        let near = (carried.charge_ah - given.charge_ah).abs() <= 0.05 * given.charge_ah.abs().max(0.01);
        if near {
            self.charges += 1;
        } else {
            wrong.push(format!("charge: told {:.3} Ah, {:.3} {:?}", given.charge_ah, carried.charge_ah, carried.ended));
        }
        self.unaccounted = self.unaccounted.max(given.unaccounted);
        if given.unaccounted > 1e-3 {
            wrong.push(format!("energy: {:.2} % unaccounted for", 100.0 * given.unaccounted));
        }
        let Some((total_s, low_s, high_s)) = given.total_s else { return };
        if total_s > 0.0 {
            self.off.push((carried.after_s / total_s - 1.0).abs());
        }
        if let (Some(told_s), Some(seen_s)) = (given.to_cv_s, carried.to_cv_s)
            && told_s > 60.0
        {
            self.cv_off.push((seen_s / told_s - 1.0).abs());
        }
        for (carried, truth) in std::iter::once((carried, None)).chain(given.drawn.iter().map(|(c, t)| (c, Some(t)))) {
            self.timed += 1;
            if given.inside(carried) == Some(true) {
                self.inside += 1;
            } else {
                wrong.push(format!(
                    "time: told {total_s:.0} ({low_s:.0}–{high_s:.0}) s, {:.0} {:?} {truth:?}",
                    carried.after_s, carried.ended
                ));
            }
            if carried.after_s > 2.0 * high_s + 120.0 {
                self.beyond_twice += 1;
            }
        }
    }

    fn join(&mut self, other: &Self) {
        self.chains += other.chains;
        self.misread += other.misread;
        self.refused += other.refused;
        self.causeless += other.causeless;
        self.given += other.given;
        self.passed += other.passed;
        self.timed += other.timed;
        self.inside += other.inside;
        self.beyond_twice += other.beyond_twice;
        self.reasons += other.reasons;
        self.charges += other.charges;
        self.off.extend(&other.off);
        self.cv_off.extend(&other.cv_off);
        self.unaccounted = self.unaccounted.max(other.unaccounted);
    }

    fn line(&self, kind: &str) -> String {
        let share = |n: usize, of: usize| format!("{:.0} %", 100.0 * n as f64 / of.max(1) as f64);
        let worst = self.off.iter().copied().fold(0.0, f64::max);
        format!(
            "{kind:<44}{:>7}{:>8}{:>9}{:>7}{:>8}{:>8}{:>7}{:>7}{:>8}{:>8}{:>8}{:>9}",
            self.chains,
            self.refused,
            self.causeless,
            self.passed,
            share(self.inside, self.timed),
            self.beyond_twice,
            share(self.reasons, self.given),
            share(self.charges, self.given),
            format!("{:.1} %", 100.0 * middle(&self.off)),
            format!("{:.0} %", 100.0 * worst),
            format!("{:.1} %", 100.0 * middle(&self.cv_off)),
            format!("{:.3} %", 100.0 * self.unaccounted),
        )
    }
}
