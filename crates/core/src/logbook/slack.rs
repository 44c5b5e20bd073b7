//! What displays, dials and hand meters leave open.

use crate::lines::meters;

/// What meter and dial may be off at some volts.
pub(crate) fn slack_v(volts: f64) -> f64 {
    meters::TERMINALS.at * volts + meters::TERMINALS_V.at
}

/// What displays may be off at some amps.
pub(crate) fn slack_a(amps: f64) -> f64 {
    meters::AMPS.at * amps.abs() + meters::AMPS_A.at
}
