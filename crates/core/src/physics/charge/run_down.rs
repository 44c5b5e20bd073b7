//! A pack run down into something: by how much current, for how long, how warm.

use super::model::{Model, State};
use crate::codes::DischargeLimit;
use crate::physics::operating::Lamps;

/// What draws the current.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Draw {
    /// Held at a current and at watts, whichever comes first; what sets the amps.
    Holds { amps: f64, set_by: DischargeLimit, watts: f64, watts_by: DischargeLimit },
    /// A resistance, Ω.
    Ohm(f64),
    /// Filaments.
    Lamps(Lamps),
}

impl Draw {
    /// What it draws at a voltage across it, A.
    pub(crate) fn current_a(self, volts: f64) -> f64 {
        let v = volts.max(1e-6);
        match self {
            Self::Holds { amps, watts, .. } => amps.min(watts / v),
            Self::Ohm(ohm) => v / ohm,
            Self::Lamps(lamps) => lamps.current_a(v),
        }
    }

    /// The same where so many times as much flows as was said.
    pub(crate) fn scaled(self, by: f64) -> Self {
        match self {
            Self::Holds { amps, set_by, watts, watts_by } => {
                Self::Holds { amps: amps * by, set_by, watts: watts * by, watts_by }
            }
            Self::Ohm(ohm) => Self::Ohm(ohm / by),
            Self::Lamps(lamps) => Self::Lamps(Lamps { rated_a: lamps.rated_a * by, ..lamps }),
        }
    }

    /// What sets that current.
    pub(crate) fn limit(self, volts: f64) -> DischargeLimit {
        match self {
            Self::Holds { amps, set_by, watts, watts_by } => {
                if watts / volts.max(1e-6) < amps {
                    watts_by
                } else {
                    set_by
                }
            }
            Self::Ohm(_) => DischargeLimit::Resistance,
            Self::Lamps(_) => DischargeLimit::Lamps,
        }
    }
}

/// One moment of it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Low {
    pub(crate) t_s: f64,
    pub(crate) pack_v: f64,
    /// Out of the pack, A.
    pub(crate) current_a: f64,
    pub(crate) soc: f64,
    pub(crate) limit: DischargeLimit,
}

/// When it is over.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Until {
    /// The terminals under current, V.
    pub(crate) volts: f64,
    /// The state of charge.
    pub(crate) soc: f64,
}

/// What it came to.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct RunDown {
    pub(crate) moments: Vec<Low>,
    /// Out of the pack, A·s and J.
    pub(crate) charge_as: f64,
    pub(crate) energy_j: f64,
    pub(crate) end: State,
    /// Whether it came to one of its ends within twenty days.
    pub(crate) ended: bool,
}

impl RunDown {
    pub(crate) fn total_s(&self) -> f64 {
        self.end.t_s
    }

    /// It at a time, between its moments on a straight line; before it as at first, after its end as at its end.
    pub(crate) fn at(&self, t_s: f64) -> Option<Low> {
        let after = self.moments.partition_point(|low| low.t_s <= t_s);
        let a = self.moments.get(after.saturating_sub(1))?;
        let Some(b) = self.moments.get(after).filter(|b| b.t_s > a.t_s) else { return Some(*a) };
        let share = ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0);
        let mix = |from: f64, to: f64| from + share * (to - from);
        Some(Low {
            t_s,
            pack_v: mix(a.pack_v, b.pack_v),
            current_a: mix(a.current_a, b.current_a),
            soc: mix(a.soc, b.soc),
            ..*a
        })
    }
}

const HORIZON_S: f64 = 20.0 * 86_400.0;
/// A step moves no more than this share of the charge …
const STEP_SOC: f64 = 0.004;
/// … and none is longer or shorter than this, s.
const STEP_S: (f64, f64) = (0.05, 3600.0);
const MOST_STEPS: usize = 20_000;

/// What flows out of a pack in a state, A.
pub(crate) fn drawn_a(model: &Model<'_>, state: &State, draw: Draw, lead_ohm: f64) -> f64 {
    let now = model.now(state);
    settled_a(draw, lead_ohm, |a| now.e_v - now.r_ohm * a)
}

/// Runs a pack down from a state through a lead of `lead_ohm`; its times go on from there, its last moment lies on its
/// end.
pub(crate) fn run_down(model: &Model<'_>, mut state: State, draw: Draw, lead_ohm: f64, until: Until) -> RunDown {
    let now = model.now(&state);
    let began_s = state.t_s;
    let mut current_a = drawn_a(model, &state, draw, lead_ohm);
    let mut pack_v = now.e_v - now.r_ohm * current_a;
    let mut run = RunDown { moments: Vec::new(), charge_as: 0.0, energy_j: 0.0, end: state, ended: false };
    let low = |t_s: f64, pack_v: f64, current_a: f64, soc: f64| Low {
        t_s,
        pack_v,
        current_a,
        soc,
        limit: draw.limit(pack_v - lead_ohm * current_a),
    };
    run.moments.push(low(began_s, pack_v, current_a, state.soc));
    let over = |pack_v: f64, soc: f64| pack_v <= until.volts || soc <= until.soc;
    run.ended = over(pack_v, state.soc);
    while !run.ended && state.t_s - began_s < HORIZON_S && run.moments.len() < MOST_STEPS {
        let pace_s = STEP_SOC * model.capacity_as / current_a.max(1e-9);
        let mut step_s = pace_s.clamp(STEP_S.0, STEP_S.1);
        let attempt = |step_s: f64| {
            let step = model.prepare(state, -current_a, -current_a, step_s);
            let mut end_a = current_a;
            // The pack at the end hangs on the current there: put in until it stands.
            for _ in 0..8 {
                let line = model.end_of(&step, -end_a);
                let next_a = settled_a(draw, lead_ohm, |a| line.e_v - line.r_ohm * a);
                let settled = (next_a - end_a).abs() <= 1e-7 * next_a.abs() + 1e-9;
                end_a = next_a;
                if settled {
                    break;
                }
            }
            let line = model.end_of(&step, -end_a);
            (step.finish(-end_a), end_a, line.e_v - line.r_ohm * end_a)
        };
        let mut next = attempt(step_s);
        if over(next.2, next.0.soc) {
            // The end is found by halving the step it lies in.
            let (mut before_s, mut after_s) = (0.0, step_s);
            while after_s - before_s > 0.05_f64.max(1e-4 * step_s) {
                let middle_s = 0.5 * (before_s + after_s);
                let there = attempt(middle_s);
                if over(there.2, there.0.soc) { after_s = middle_s } else { before_s = middle_s }
            }
            step_s = after_s;
            next = attempt(step_s);
            run.ended = true;
        }
        let (end, end_a, end_v) = next;
        run.charge_as += 0.5 * step_s * (current_a + end_a);
        run.energy_j += step_s * (pack_v * current_a + end_v * end_a) / 2.0;
        (state, current_a, pack_v) = (end, end_a, end_v);
        run.moments.push(low(state.t_s, pack_v, current_a, state.soc));
    }
    run.end = state;
    run
}

/// The current at which what is drawn at the end of the lead is what the pack gives there, A: bracketed, for what
/// draws at a lower voltage no more than the pack sags by.
fn settled_a(draw: Draw, lead_ohm: f64, pack_v: impl Fn(f64) -> f64) -> f64 {
    let wanted = |a: f64| draw.current_a(pack_v(a) - lead_ohm * a);
    let (mut low, mut high) = (0.0, wanted(0.0).max(1e-9));
    // Watts draw more as the volts sag.
    for _ in 0..20 {
        if wanted(high) <= high {
            break;
        }
        high *= 1.3;
    }
    for _ in 0..50 {
        let middle = 0.5 * (low + high);
        if wanted(middle) > middle {
            low = middle
        } else {
            high = middle
        }
        if high - low < 1e-10 * high {
            break;
        }
    }
    0.5 * (low + high)
}
