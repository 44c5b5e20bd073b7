//! Check of the outlet's circuit.

use super::{CheckCode, Finding, Situation};
use crate::document::SourceKind;
use crate::units::trimmed;

/// Small supplies draw their current in pulses: what the circuit carries is more than the watts say.
const POWER_FACTOR: f64 = 0.65;
/// A circuit is not loaded beyond this for hours.
const CONTINUOUS: f64 = 0.8;

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(mains), Some(source)) = (s.plan.mains, &s.plan.source) else {
        return;
    };
    let mains_w = match (source.kind, &s.plan.charger) {
        (SourceKind::Battery, _) => return,
        (SourceKind::Mains, Some(charger)) => {
            let by_current = charger.output_max_a.zip(s.chosen).map(|(a, chosen)| a * chosen.dial_v);
            charger.output_w(true).or(by_current).unwrap_or(0.0) / charger.efficiency()
        }
        _ => source.rated_w() / source.efficiency,
    };
    if !mains_w.is_finite() || mains_w <= 0.0 {
        return;
    }
    let mains_a = mains_w / POWER_FACTOR / mains.voltage_v;
    let values = [("mains_a", mains_a), ("circuit_a", mains.circuit_a), ("mains_w", mains_w)];
    let units = if source.units > 1 { format!("The {} units", source.units) } else { "It".to_owned() };
    if mains_a > mains.circuit_a {
        findings.push(Finding::caution(
            CheckCode::MainsCircuit,
            format!(
                "{units} may draw {} A from a circuit of {} A, counted at a power factor of {POWER_FACTOR}: share the load over two circuits.",
                trimmed(mains_a, 1), trimmed(mains.circuit_a, 1)
            ),
            &values,
        ));
    } else if mains_a > CONTINUOUS * mains.circuit_a {
        findings.push(Finding::caution(
            CheckCode::MainsCircuit,
            format!(
                "{units} may draw {} A for hours; a circuit of {} A is not loaded beyond {} A that long.",
                trimmed(mains_a, 1),
                trimmed(mains.circuit_a, 1),
                trimmed(CONTINUOUS * mains.circuit_a, 1)
            ),
            &values,
        ));
    }
}
