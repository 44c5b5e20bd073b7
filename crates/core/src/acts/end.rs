//! What shows that an act is done: exactly one thing, told on the card, in the steps and in print.

use crate::units::{show_hours, trimmed};

/// What shows that an act is done.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum End {
    /// The current has fallen to this, A; with a load across the pack the display shows so much more, A.
    Taper { a: f64, load_a: f64 },
    /// The terminals stand at this, V.
    Volts { v: f64 },
    /// The volts have fallen from their peak by this, V.
    Falls { by_v: f64 },
    /// So much has gone in, Ah.
    Charge { ah: f64 },
    /// So much time has gone by, s.
    Clock { s: f64 },
    /// It stays connected, held at this, V.
    Stays { at_v: f64 },
}

impl End {
    /// As a clause: what is waited for.
    pub(crate) fn clause(self) -> String {
        match self {
            Self::Taper { a, load_a } if load_a > 0.0 => {
                format!("at {} A into the pack, {} A with its load", trimmed(a, 2), trimmed(a + load_a, 2))
            }
            Self::Taper { a, .. } => format!("at {} A", trimmed(a, 3)),
            Self::Volts { v } => format!("at {} V", trimmed(v, 2)),
            Self::Falls { by_v } => format!("once the voltage has fallen {} mV from its peak", trimmed(1e3 * by_v, 0)),
            Self::Charge { ah } => format!("after {} Ah have gone in", trimmed(ah, 2)),
            Self::Clock { s } => format!("after {}", show_hours(s / 3600.0)),
            Self::Stays { at_v } => format!("never: it is held at {} V", trimmed(at_v, 2)),
        }
    }

    /// Its one figure, with its name.
    pub(crate) fn value(self) -> (&'static str, f64) {
        match self {
            Self::Taper { a, .. } => ("current_a", a),
            Self::Volts { v } => ("voltage_v", v),
            Self::Falls { by_v } => ("falls_v", by_v),
            Self::Charge { ah } => ("charge_ah", ah),
            Self::Clock { s } => ("after_s", s),
            Self::Stays { at_v } => ("held_v", at_v),
        }
    }
}
