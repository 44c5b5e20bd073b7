//! What displays, dials and hand meters leave open.

/// What meter and dial may be off at some volts.
pub(crate) fn slack_v(volts: f64) -> f64 {
    0.006 * volts + 0.02
}

/// What displays may be off at some amps.
pub(crate) fn slack_a(amps: f64) -> f64 {
    0.06 * amps.abs() + 0.03
}
