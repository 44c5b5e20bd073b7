//! What makes the power: one unit with its knobs and its way of being overloaded.

use rumek_core::codes::Overload;

use super::segment::Segment;

/// How it stands.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Mode {
    Runs,
    /// Gives only what is left when it has folded back.
    Folded,
    /// Gives nothing until then, s.
    Pauses(f64),
    /// Gives nothing until somebody switches it off and on.
    Latched,
}

/// One unit.
#[derive(Clone, Debug)]
pub struct Supply {
    /// With nothing drawn, V.
    pub volts: f64,
    /// Its output's resistance, Ω.
    pub ohm: f64,
    /// What its knob, or what it is built for, lets out where it holds a current, A.
    pub limit_a: f64,
    /// Its rating, A.
    pub rated_a: Option<f64>,
    /// Its rating, W.
    pub rated_w: Option<f64>,
    /// What it does when asked for more.
    pub overload: Overload,
    /// What it still gives when it has folded back, A.
    pub folded_a: f64,
    /// Whether its output is on.
    pub on: bool,
    mode: Mode,
    segment: Segment,
}

impl Supply {
    /// A unit that is off.
    #[must_use]
    pub fn off(volts: f64, ohm: f64, overload: Overload) -> Self {
        Self {
            volts,
            ohm,
            limit_a: f64::INFINITY,
            rated_a: None,
            rated_w: None,
            overload,
            folded_a: f64::INFINITY,
            on: false,
            mode: Mode::Runs,
            segment: Segment::Holds,
        }
    }

    /// Whether it gives nothing because it was asked for too much.
    #[must_use]
    pub fn has_tripped(&self) -> bool {
        matches!(self.mode, Mode::Pauses(_) | Mode::Latched)
    }

    /// Off and on again.
    pub fn cycle(&mut self) {
        self.mode = Mode::Runs;
    }

    /// The most it gives at some volts, A, and how that changes, A/V.
    fn most_a(&self, terminal_v: f64) -> (f64, f64) {
        let mut most = (f64::INFINITY, 0.0);
        if self.overload == Overload::ConstantCurrent {
            most.0 = self.limit_a;
            let v = terminal_v.max(0.1);
            if let Some(w) = self.rated_w.filter(|w| w / v < most.0) {
                most = (w / v, -w / (v * v));
            }
        }
        if self.mode != Mode::Folded {
            return most;
        }
        // Less the lower its terminals stand, down to what is left into a short.
        let slope = (self.rated_a.unwrap_or(self.folded_a) - self.folded_a).max(0.0) / self.volts.max(0.1);
        let left_a = self.folded_a + slope * terminal_v.max(0.0);
        if left_a < most.0 { (left_a, slope) } else { most }
    }

    fn gives_nothing(&self) -> bool {
        !self.on || matches!(self.mode, Mode::Pauses(_) | Mode::Latched)
    }

    /// Whether it holds its volts now, and not its amps.
    #[must_use]
    pub fn holds(&self) -> bool {
        self.segment == Segment::Holds
    }

    /// Where it stands as it is switched on.
    pub(crate) fn start(&mut self) {
        self.segment = Segment::Holds;
    }

    /// Lets it pass to the next of its lines; whether it did.
    pub(crate) fn pass(&mut self, terminal_v: f64) -> bool {
        let free_a = (self.volts - terminal_v) / self.ohm;
        let segment = self.segment.towards(free_a, self.most_a(terminal_v).0);
        std::mem::replace(&mut self.segment, segment) != segment
    }

    /// What it gives at some volts of its terminals, A, and its slope, A/V.
    pub(crate) fn at(&self, terminal_v: f64) -> (f64, f64) {
        /// What a unit that is off, or fed backwards, still lets through, S.
        const LEAK: f64 = 1e-7;
        match self.segment {
            _ if self.gives_nothing() => (-LEAK * terminal_v, -LEAK),
            Segment::Blocks => (LEAK * (self.volts - terminal_v), -LEAK),
            Segment::Limits if self.most_a(terminal_v).0.is_finite() => {
                // Its current sinks by a thousandth over its whole range.
                let (most_a, slope) = self.most_a(terminal_v);
                let sinks = 1e-3 * most_a / self.volts.max(1.0);
                (most_a - sinks * terminal_v, slope - sinks)
            }
            Segment::Holds | Segment::Limits => ((self.volts - terminal_v) / self.ohm, -1.0 / self.ohm),
        }
    }

    /// Lets it answer what it gave for a while; whether it let go or came back.
    pub(crate) fn answer(&mut self, gives_a: f64, terminal_v: f64, at_s: f64) -> bool {
        /// Built with so much in hand.
        const IN_HAND: f64 = 1.05;
        const PAUSE_S: f64 = 2.0;
        let before = self.mode;
        let over = self.rated_a.is_some_and(|a| gives_a > IN_HAND * a)
            || self.rated_w.is_some_and(|w| gives_a * terminal_v > IN_HAND * w);
        self.mode = match (before, self.overload) {
            (Mode::Runs, Overload::Foldback) if over => Mode::Folded,
            (Mode::Folded, _) if self.segment == Segment::Holds => Mode::Runs,
            (Mode::Runs, Overload::Hiccup) if over => Mode::Pauses(at_s + PAUSE_S),
            (Mode::Pauses(until_s), _) if at_s >= until_s => Mode::Runs,
            (Mode::Runs, Overload::Shutdown) if over => Mode::Latched,
            (mode, _) => mode,
        };
        std::mem::discriminant(&before) != std::mem::discriminant(&self.mode)
    }
}
