//! Rules about single cells: one that failed, one that is full before the others.

use super::super::scene::{Scene, saying};
use crate::formats::{SayingCode, SayingDoc, Severity};
use crate::lines::{self, meters};
use crate::units::{in_amps, trimmed};

/// How far some cells stand apart, V.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Cells {
    pub(crate) lowest_v: f64,
    pub(crate) mean_v: f64,
    pub(crate) highest_v: f64,
}

impl Cells {
    /// None of no cells.
    pub(crate) fn of(cells: &[f64]) -> Option<Self> {
        let lowest_v = cells.iter().copied().reduce(f64::min)?;
        let highest_v = cells.iter().copied().reduce(f64::max)?;
        Some(Self { lowest_v, mean_v: cells.iter().sum::<f64>() / cells.len() as f64, highest_v })
    }
}

/// The cells as they were last read, where there are several.
fn cells(scene: &Scene<'_>) -> Option<Cells> {
    let last = scene.readings.iter().rev().find_map(|r| r.cell_voltages_v.as_deref());
    last.filter(|cells| cells.len() > 1).and_then(Cells::of)
}

/// A cell far below the others has failed.
pub(crate) fn cell_behind(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Cells { lowest_v, mean_v, .. } = cells(scene)?;
    let known = scene.found.spread_v();
    (mean_v - lowest_v > lines::cells::BEHIND_V.at + known && !scene.plan.pack.profile.traits.farads).then(|| {
        let message = format!(
            "A cell reads {} V, the others {} V: it has failed. Stop, and do not leave it on the table.",
            trimmed(lowest_v, 2),
            trimmed(mean_v, 2)
        );
        saying(SayingCode::CellBehind, Severity::Stop, message, &[("cell_v", lowest_v), ("mean_v", mean_v)])
    })
}

/// A cell that is full while the others are not.
pub(crate) fn cell_ahead(scene: &Scene<'_>) -> Option<SayingDoc> {
    let Cells { mean_v, highest_v, .. } = cells(scene)?;
    let profile = &scene.plan.pack.profile;
    let near = highest_v >= profile.least_full_v() - meters::CELL_V.at;
    if !(profile.traits.balance_lead && near && highest_v - mean_v >= lines::cells::AHEAD_V.at) {
        return None;
    }
    let values = [("cell_v", highest_v), ("mean_v", mean_v)];
    // Past what a hand meter leaves open its own rule stops it. Up to there a balancer brings the cell back.
    let (severity, does) = match scene.plan.pack.balance_current.map(in_amps) {
        Some(a) => {
            let does = format!("Turn the current down to {} A, what the balancer can shunt.", trimmed(a, 2));
            (Severity::Caution, does)
        }
        None if highest_v > profile.ceiling_v => (Severity::Stop, "Stop the charge now.".to_owned()),
        None => (Severity::Caution, "Lower the voltage until it holds, or stop.".to_owned()),
    };
    let message =
        format!("A cell is at {} V while the others stand at {} V. {does}", trimmed(highest_v, 3), trimmed(mean_v, 3));
    Some(saying(SayingCode::CellAhead, severity, message, &values))
}
