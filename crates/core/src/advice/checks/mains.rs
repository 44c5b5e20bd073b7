//! Check of the outlet's circuit.

use super::situation::Situation;
use crate::acts::Finding;
use crate::codes::CheckCode;
use crate::formats::SourceKind;
use crate::lines::leads;
use crate::units::trimmed;

/// Supplies without a correction draw their current in pulses: what the circuit carries is more than the
/// watts say. Those above 75 W have to be corrected in most countries; smaller ones hardly are.
const CORRECTED_FROM_W: f64 = 75.0;
const CORRECTED: f64 = 0.95;
const PULSED: f64 = 0.65;

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
    let each_w = mains_w / f64::from(source.units);
    let usual = if each_w > CORRECTED_FROM_W { CORRECTED } else { PULSED };
    let power_factor = source.power_factor.unwrap_or(usual);
    let mains_a = mains_w / power_factor / mains.voltage_v;
    let values = [("mains_a", mains_a), ("circuit_a", mains.circuit_a), ("mains_w", mains_w)];
    let units = if source.units > 1 { format!("The {} units", source.units) } else { "It".to_owned() };
    if mains_a > mains.circuit_a {
        findings.push(Finding::caution(
            CheckCode::MainsCircuit,
            format!(
                "{units} may draw {} A from a circuit of {} A, counted at a power factor of {}: share the load over two circuits. What one may carry, the local electrical code says.",
                trimmed(mains_a, 1),
                trimmed(mains.circuit_a, 1),
                trimmed(power_factor, 2)
            ),
            &values,
        ));
    } else if mains_a > leads::CIRCUIT.at * mains.circuit_a {
        findings.push(Finding::caution(
            CheckCode::MainsCircuit,
            format!(
                "{units} may draw {} A for hours; a circuit of {} A is not loaded beyond {} A that long.",
                trimmed(mains_a, 1),
                trimmed(mains.circuit_a, 1),
                trimmed(leads::CIRCUIT.at * mains.circuit_a, 1)
            ),
            &values,
        ));
    }
}
