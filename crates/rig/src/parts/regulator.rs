//! What regulates between an input and an output: converters, linear boards, chargers, a switch.

use super::segment::Segment;

/// How it moves the current.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Works {
    /// Power in is power out and its loss; down only where it cannot go up.
    Switching {
        /// Output over input power.
        efficiency: f64,
        /// Whether it can put out more than it is fed.
        steps_up: bool,
    },
    /// The same current flows in and out; the difference in volts is heat.
    Linear {
        /// It turns itself down beyond this, W.
        sheds_w: f64,
    },
    /// A switch that is on for a share of the time, before a path of so many ohms.
    Duty {
        /// The share, 0…1.
        duty: f64,
        /// The path, Ω.
        ohm: f64,
    },
}

/// The limits a charger keeps to by itself; a bare module keeps none.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Keeps {
    /// Output, A.
    pub output_a: f64,
    /// Output, W.
    pub output_w: f64,
    /// Input, A, the lower of its rating and what it was told.
    pub input_a: f64,
    /// Input, W.
    pub input_w: f64,
    /// It turns itself down before its input sinks below this, V.
    pub input_min_v: f64,
}

/// One.
#[derive(Clone, Debug)]
pub struct Regulator {
    /// How it works.
    pub works: Works,
    /// What it keeps to by itself.
    pub keeps: Option<Keeps>,
    /// The volts it is set to, or built for.
    pub volts: f64,
    /// The amps it is set to, or built for.
    pub limit_a: f64,
    /// What it needs above its output, V.
    pub dropout_v: f64,
    /// A diode before its output, V.
    pub diode_v: f64,
    /// Below this its input starves it, V.
    pub input_min_v: f64,
    /// Whether it is on.
    pub on: bool,
    /// What it has taken off its volts because a cell stands higher than its share, V.
    pub trimmed_v: f64,
    starved_until_s: f64,
    at_s: f64,
    segment: Segment,
}

/// What flows at some volts of input and output, A, and how it changes with each of them, A/V.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Flow {
    pub(crate) in_a: f64,
    pub(crate) out_a: f64,
    pub(crate) in_by_in: f64,
    /// By so much less it draws for each volt more because its watts stay, A/V.
    pub(crate) in_by_watts: f64,
    pub(crate) in_by_out: f64,
    pub(crate) out_by_in: f64,
    pub(crate) out_by_out: f64,
}

/// The output resistance of what holds a voltage, Ω.
pub(crate) const STIFF_OHM: f64 = 5e-4;

impl Regulator {
    /// One that is off and keeps to nothing.
    #[must_use]
    pub fn off(works: Works, volts: f64) -> Self {
        Self {
            works,
            keeps: None,
            volts,
            limit_a: f64::INFINITY,
            dropout_v: 0.0,
            diode_v: 0.0,
            input_min_v: 0.0,
            on: false,
            trimmed_v: 0.0,
            starved_until_s: 0.0,
            at_s: 0.0,
            segment: Segment::Holds,
        }
    }

    /// Whether its input has starved it of late.
    #[must_use]
    pub fn is_starved(&self) -> bool {
        self.at_s < self.starved_until_s
    }

    /// Whether it holds its volts now, and not its amps.
    #[must_use]
    pub fn holds(&self) -> bool {
        self.segment == Segment::Holds && !matches!(self.works, Works::Duty { .. })
    }

    /// Where it stands as it is switched on: what limits its amps does so until its volts are reached.
    pub(crate) fn start(&mut self) {
        let limits = self.limit_a.is_finite() || self.keeps.is_some() || matches!(self.works, Works::Linear { .. });
        self.segment = if limits { Segment::Limits } else { Segment::Holds };
    }

    /// Where it stands if its volts are what it holds.
    pub(crate) fn hold(&mut self) {
        self.segment = Segment::Holds;
    }

    /// Lets it pass to the next of its lines; whether it did.
    pub(crate) fn pass(&mut self, in_v: f64, out_v: f64) -> bool {
        let (most_a, needs_room) = self.bounds(in_v, out_v);
        let (top_v, _) = self.top_v(in_v, needs_room);
        let segment = self.segment.towards((top_v - self.diode_v - out_v) / STIFF_OHM, most_a);
        std::mem::replace(&mut self.segment, segment) != segment
    }

    pub(crate) fn flow(&self, in_v: f64, out_v: f64) -> Flow {
        let fed_v = in_v.max(0.1);
        if !self.on || self.is_starved() {
            return Flow::default();
        }
        let (most_a, needs_room) = self.bounds(in_v, out_v);
        match self.works {
            Works::Duty { duty, ohm } => {
                let driven_v = duty * in_v - self.diode_v - out_v;
                if driven_v <= 0.0 {
                    return Flow::default();
                }
                let out_a = driven_v / ohm;
                Flow {
                    in_a: duty * out_a,
                    out_a,
                    in_by_in: duty * duty / ohm,
                    in_by_watts: 0.0,
                    in_by_out: -duty / ohm,
                    out_by_in: duty / ohm,
                    out_by_out: -1.0 / ohm,
                }
            }
            Works::Linear { .. } => {
                let (out_a, by_in, by_out) = self.held(in_v, out_v, most_a, needs_room);
                Flow {
                    in_a: out_a,
                    out_a,
                    in_by_in: by_in,
                    in_by_watts: 0.0,
                    in_by_out: by_out,
                    out_by_in: by_in,
                    out_by_out: by_out,
                }
            }
            Works::Switching { efficiency, .. } => {
                let (out_a, by_in, by_out) = self.held(in_v, out_v, most_a, needs_room);
                let behind_v = out_v + self.diode_v;
                let drawn_w = behind_v * out_a / efficiency;
                Flow {
                    in_a: drawn_w / fed_v,
                    out_a,
                    in_by_in: behind_v * by_in / efficiency / fed_v,
                    in_by_watts: drawn_w / (fed_v * fed_v),
                    in_by_out: (out_a + behind_v * by_out) / efficiency / fed_v,
                    out_by_in: by_in,
                    out_by_out: by_out,
                }
            }
        }
    }

    /// The most it puts out at some volts, A, and whether its input must stand above its output.
    fn bounds(&self, in_v: f64, out_v: f64) -> (f64, bool) {
        match self.works {
            Works::Duty { .. } => (f64::INFINITY, true),
            Works::Linear { sheds_w } => (self.limit_a.min(sheds_w / (in_v - out_v).max(0.05)), true),
            Works::Switching { efficiency, steps_up } => {
                // No board gives more than this for a moment, whatever it is set to.
                const LARGEST_A: f64 = 1e4;
                let most_a = self.most_a(in_v.max(0.1), out_v, efficiency).min(LARGEST_A);
                (most_a * self.left(in_v).0, !steps_up)
            }
        }
    }

    /// What it holds its output to, V, and how that changes with the input.
    fn top_v(&self, in_v: f64, needs_room: bool) -> (f64, f64) {
        let set_v = self.volts - self.trimmed_v;
        let room_v = in_v - self.dropout_v;
        if needs_room && room_v < set_v { (room_v, 1.0) } else { (set_v, 0.0) }
    }

    fn most_a(&self, in_v: f64, out_v: f64, efficiency: f64) -> f64 {
        let Some(keeps) = self.keeps else { return self.limit_a };
        let out_v = (out_v + self.diode_v).max(0.5);
        let by_input = efficiency * keeps.input_w.min(keeps.input_a * in_v) / out_v;
        [keeps.output_a, keeps.output_w / out_v, by_input].into_iter().fold(self.limit_a, f64::min)
    }

    /// The share of its output that is left as its input sinks, and how it changes, 1/V. A charger turns itself
    /// down over a few tenths of a volt, a module over half of what starves it.
    fn left(&self, in_v: f64) -> (f64, f64) {
        let (from_v, over_v) = match self.keeps {
            Some(keeps) => (keeps.input_min_v, 0.2),
            None => (self.starves_v(), 0.5 * self.starves_v()),
        };
        let left = (in_v - from_v) / over_v + 1.0;
        if (0.0..1.0).contains(&left) { (left, 1.0 / over_v) } else { (left.clamp(0.0, 1.0), 0.0) }
    }

    /// Below this its input starves a module, V.
    fn starves_v(&self) -> f64 {
        const LEAST_V: f64 = 3.0;
        self.input_min_v.max(LEAST_V)
    }

    /// Holds its volts up to some amps; what flows, and how it changes with input and output.
    fn held(&self, in_v: f64, out_v: f64, most_a: f64, needs_room: bool) -> (f64, f64, f64) {
        const LEAK: f64 = 1e-7;
        let (top_v, follows) = self.top_v(in_v, needs_room);
        match self.segment {
            Segment::Blocks => (0.0, 0.0, -LEAK),
            Segment::Holds => ((top_v - self.diode_v - out_v) / STIFF_OHM, follows / STIFF_OHM, -1.0 / STIFF_OHM),
            Segment::Limits if matches!(self.works, Works::Switching { .. }) => {
                let (left, by_in) = self.left(in_v);
                (most_a, by_in * most_a / left.max(1e-3), -LEAK)
            }
            Segment::Limits => (most_a, 0.0, -LEAK),
        }
    }

    /// Lets it answer how its input stands; whether it changed what it does.
    pub(crate) fn answer(&mut self, in_v: f64, out_a: f64, at_s: f64) -> bool {
        const STARVED_S: f64 = 2.0;
        self.at_s = at_s;
        if !self.on {
            return false;
        }
        let switches = matches!(self.works, Works::Switching { .. });
        if self.keeps.is_none() && switches && in_v < 0.98 * self.starves_v() && out_a > 0.0 {
            self.starved_until_s = at_s + STARVED_S;
            return true;
        }
        false
    }
}
