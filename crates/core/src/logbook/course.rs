//! The model driven by the current that was read: what the terminals should have shown.

use crate::formats::{MeterAt, MeterQuantity, RunReadingDoc};
use crate::parts::plan::Plan;
use crate::physics::charge::{Model, State};

/// Points of the course from here.
pub(super) const COURSE_POINTS: usize = 120;
/// Between readings no step is longer than this, s.
const STEP_S: f64 = 60.0;

/// A reading brought to the pack: volts at its terminals, amps into it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Look {
    pub(crate) t_s: f64,
    pub(crate) pack_v: Option<f64>,
    pub(crate) pack_a: Option<f64>,
    /// Where the knob or the dial stands, as it was read, V.
    pub(crate) set_v: Option<f64>,
    /// Somebody read it twice and is sure of it.
    pub(crate) sure: bool,
}

/// A reading with what displays show made true where they were compared with a meter.
pub(crate) fn corrected(plan: &Plan, reading: &RunReadingDoc) -> RunReadingDoc {
    let truly = |shown: Option<f64>, at: MeterAt, quantity: MeterQuantity| {
        let known = plan.corrections.iter().find(|c| c.at == at && c.quantity == quantity);
        shown.map(|shown| known.map_or(shown, |c| c.true_of(shown)))
    };
    let volts = |shown, at| truly(shown, at, MeterQuantity::Voltage);
    let amps = |shown, at| truly(shown, at, MeterQuantity::Current);
    RunReadingDoc {
        source_v: volts(reading.source_v, MeterAt::Source),
        source_a: amps(reading.source_a, MeterAt::Source),
        charger_v: volts(reading.charger_v, MeterAt::Charger),
        charger_a: amps(reading.charger_a, MeterAt::Charger),
        ..reading.clone()
    }
}

/// Brings a corrected reading to the pack: the nearest place to it that was read counts, and what a
/// display further away shows is less what the lead takes.
pub(crate) fn look(plan: &Plan, r: &RunReadingDoc) -> Option<Look> {
    let out_ohm = plan.output.as_ref().map_or(0.0, |lead| lead.ohm);
    let in_ohm = plan.input.as_ref().map_or(0.0, |lead| lead.ohm);
    let direct = plan.charger.is_none();
    let t_s = r.t_s.filter(|t| t.is_finite() && *t >= 0.0)?;
    let load_a = |v: f64| plan.load.current_a(v);
    let source_a = r.source_a.filter(|_| direct);
    let total_a = r.charger_a.or(source_a);
    let sum_v = r.cell_voltages_v.as_ref().filter(|cells| cells.len() == plan.pack.series as usize);
    let sum_v = sum_v.map(|cells| cells.iter().sum::<f64>());
    let through_a = total_a.or(r.terminal_a).unwrap_or(0.0);
    let charger_v = r.charger_v.map(|v| v - through_a * out_ohm);
    let sensed = plan.source.as_ref().is_some_and(|source| source.remote_sense);
    let lost_ohm = if sensed { 0.0 } else { in_ohm + out_ohm };
    let source_v = r.source_v.filter(|_| direct).map(|v| v - through_a * lost_ohm);
    let pack_v = r.terminal_v.or(sum_v).or(r.bms_v).or(charger_v).or(source_v);
    let net = total_a.map(|a| a - load_a(pack_v.unwrap_or(0.0)));
    let pack_a = r.terminal_a.or(r.bms_a).or(net);
    Some(Look { t_s, pack_v, pack_a, set_v: r.set_v, sure: r.sure == Some(true) })
}

/// The current over a stretch of a log, A.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Mean {
    pub(crate) from_s: f64,
    pub(crate) to_s: f64,
    pub(crate) current_a: f64,
}

/// What is taken of the current between two readings of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Lean {
    /// That it went from one to the other.
    Between,
    /// That the smaller of both flowed all the while.
    Least,
    /// That the larger did.
    Most,
}

/// The current over time: read where it was read, as predicted before the first reading.
#[derive(Clone, Debug)]
pub(crate) struct Drive {
    lean: Lean,
    /// Until the first reading of it, s, it is thought to have been so many times as strong as was predicted.
    read_from_s: f64,
    before_scale: f64,
    /// Time, s, and current, A; at least one.
    nodes: Vec<(f64, f64)>,
    /// Of a long log what flowed on average between them; empty where the nodes tell all.
    means: Vec<Mean>,
    /// Where the knob stood when it was last read, V.
    set_v: Option<f64>,
}

impl Drive {
    /// `predicted`: what the plan had flowing at a time, A.
    pub(crate) fn new(looks: &[Look], predicted: impl Fn(f64) -> f64) -> Self {
        let mut nodes: Vec<(f64, f64)> = looks.iter().filter_map(|look| Some((look.t_s, look.pack_a?))).collect();
        let (until_s, scale) = match nodes.first() {
            // Until the first reading it went as predicted, as strong as that reading has it.
            Some((t_s, a)) => {
                let then_a = predicted(*t_s);
                (*t_s, if then_a.abs() > 1e-6 { (a / then_a).clamp(0.2, 1.2) } else { 1.2 })
            }
            None => (looks.last().map_or(0.0, |look| look.t_s), 1.0),
        };
        let steps = (until_s / 300.0).ceil().max(1.0);
        let times = (0..=steps as usize).map(|n| until_s * n as f64 / steps);
        let mut before: Vec<(f64, f64)> = times.map(|t_s| (t_s, scale * predicted(t_s))).collect();
        if !nodes.is_empty() {
            before.pop();
            if until_s <= 0.0 {
                before.clear();
            }
        }
        before.append(&mut nodes);
        Self {
            lean: Lean::Between,
            read_from_s: until_s,
            before_scale: scale,
            nodes: before,
            means: Vec::new(),
            set_v: looks.iter().rev().find_map(|look| look.set_v),
        }
    }

    /// The same with less or more between two readings, and before the first of them.
    pub(crate) fn leaning(&self, lean: Lean) -> Self {
        let factor = match lean {
            Lean::Between => 1.0,
            Lean::Least => self.before_scale.recip().min(1.0),
            Lean::Most => self.before_scale.recip().max(1.0),
        };
        let node = |&(t_s, a): &(f64, f64)| (t_s, if t_s < self.read_from_s { factor * a } else { a });
        Self { lean, nodes: self.nodes.iter().map(node).collect(), ..self.clone() }
    }

    /// Where the knob stood when it was last read, V.
    pub(crate) fn set_v(&self) -> Option<f64> {
        self.set_v
    }

    /// The same where what flowed between the looks is known better than by them.
    pub(crate) fn with(self, means: Vec<Mean>) -> Self {
        Self { means, ..self }
    }

    /// The current at the start and the end of a step that carries the charge of it, A.
    fn over(&self, from_s: f64, to_s: f64) -> (f64, f64) {
        let middle_s = 0.5 * (from_s + to_s);
        let after = self.means.partition_point(|mean| mean.to_s < middle_s);
        match self.means.get(after).filter(|mean| mean.from_s <= middle_s) {
            Some(mean) => (mean.current_a, mean.current_a),
            None => (self.at(from_s), self.at(to_s)),
        }
    }

    /// Charge and energy from 0 to a time, A·s and J, by the volts at a time.
    pub(crate) fn brought(&self, until_s: f64, volts_at: impl Fn(f64) -> f64) -> (f64, f64) {
        let mut times: Vec<f64> =
            self.nodes.iter().map(|(t_s, _)| *t_s).filter(|t_s| (0.0..until_s).contains(t_s)).collect();
        times.extend([0.0, until_s]);
        times.sort_by(f64::total_cmp);
        times.windows(2).fold((0.0, 0.0), |(charge_as, energy_j), pair| {
            let (from_s, to_s) = (pair[0], pair[1]);
            let middle_s = 0.5 * (from_s + to_s);
            // Simpson's rule between two readings, where the current is a straight line or a decay.
            let as_of = (to_s - from_s) * (self.at(from_s) + 4.0 * self.at(middle_s) + self.at(to_s)) / 6.0;
            (charge_as + as_of, energy_j + as_of * volts_at(middle_s))
        })
    }

    /// The current at a time, A; falling, it falls as a taper does.
    pub(crate) fn at(&self, t_s: f64) -> f64 {
        let after = self.nodes.partition_point(|(t, _)| *t < t_s);
        match (after.checked_sub(1).and_then(|n| self.nodes.get(n)), self.nodes.get(after)) {
            (Some(&(t0, a0)), Some(&(t1, a1))) if t1 > t0 => {
                let share = (t_s - t0) / (t1 - t0);
                match self.lean {
                    Lean::Least if t_s < t1 => return a0.min(a1),
                    Lean::Most if t_s < t1 => return a0.max(a1),
                    _ => {}
                }
                // Readings close together are taken as they are.
                let apart = t1 - t0 > STEP_S;
                if apart && a0 > 1e-6 && a1 > 1e-6 && a1 < a0 {
                    a0 * (a1 / a0).powf(share)
                } else {
                    a0 + share * (a1 - a0)
                }
            }
            (_, Some(&(_, a))) | (Some(&(_, a)), None) => a,
            (None, None) => 0.0,
        }
    }
}

/// The model's state at each of some times, rising.
pub(crate) fn states(model: &Model<'_>, start_soc: f64, drive: &Drive, times_s: &[f64]) -> Vec<State> {
    let mut state = State::rested(start_soc);
    let mut states = Vec::with_capacity(times_s.len());
    for &until_s in times_s {
        let steps = ((until_s - state.t_s) / STEP_S).ceil().max(0.0) as usize;
        let h_s = if steps > 0 { (until_s - state.t_s) / steps as f64 } else { 0.0 };
        for _ in 0..steps {
            let (from_a, to_a) = drive.over(state.t_s, state.t_s + h_s);
            state = model.prepare(state, from_a, 0.5 * (from_a + to_a), h_s).finish(to_a);
        }
        states.push(state);
    }
    states
}

/// The volts at its terminals at each of some times, rising, and its state at the last of them.
pub(crate) fn follow(model: &Model<'_>, start_soc: f64, drive: &Drive, times_s: &[f64]) -> (Vec<f64>, State) {
    let states = states(model, start_soc, drive, times_s);
    let volts = terminals(model, &states, drive, times_s);
    (volts, states.last().copied().unwrap_or_else(|| State::rested(start_soc)))
}

/// The volts at its terminals in each of some states, V.
pub(crate) fn terminals(model: &Model<'_>, states: &[State], drive: &Drive, times_s: &[f64]) -> Vec<f64> {
    let volts = states.iter().zip(times_s).map(|(state, t_s)| {
        let now = model.now(state);
        now.e_v + now.r_ohm * drive.at(*t_s)
    });
    volts.collect()
}
