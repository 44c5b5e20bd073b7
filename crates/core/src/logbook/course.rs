//! The model driven by the current that was read: what the terminals should have shown.

use crate::charge::{Model, State};
use crate::document::{MeterAt, MeterQuantity, RunReadingDoc};
use crate::plan::Plan;

/// Between readings no step is longer than this, s.
const STEP_S: f64 = 60.0;

/// A reading brought to the pack: volts at its terminals, amps into it.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Look {
    pub(crate) t_s: f64,
    pub(crate) pack_v: Option<f64>,
    pub(crate) pack_a: Option<f64>,
}

/// What displays show, made true where they were compared with a meter.
pub(crate) fn corrected(plan: &Plan, readings: &[RunReadingDoc]) -> Vec<RunReadingDoc> {
    let truly = |shown: Option<f64>, at: MeterAt, quantity: MeterQuantity| {
        let known = plan.corrections.iter().find(|c| c.at == at && c.quantity == quantity);
        shown.map(|shown| known.map_or(shown, |c| c.true_of(shown)))
    };
    let volts = |shown, at| truly(shown, at, MeterQuantity::Voltage);
    let amps = |shown, at| truly(shown, at, MeterQuantity::Current);
    readings
        .iter()
        .map(|reading| RunReadingDoc {
            source_v: volts(reading.source_v, MeterAt::Source),
            source_a: amps(reading.source_a, MeterAt::Source),
            charger_v: volts(reading.charger_v, MeterAt::Charger),
            charger_a: amps(reading.charger_a, MeterAt::Charger),
            ..reading.clone()
        })
        .collect()
}

/// Brings readings to the pack: the nearest place to it that was read counts, and what a display
/// further away shows is less what the lead takes.
pub(crate) fn looks(plan: &Plan, readings: &[RunReadingDoc]) -> Vec<Look> {
    let out_ohm = plan.output.as_ref().map_or(0.0, |lead| lead.ohm);
    let in_ohm = plan.input.as_ref().map_or(0.0, |lead| lead.ohm);
    let direct = plan.charger.is_none();
    let mut looks: Vec<Look> = readings
        .iter()
        .filter_map(|r| {
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
            Some(Look { t_s, pack_v, pack_a: r.terminal_a.or(r.bms_a).or(net) })
        })
        .collect();
    looks.sort_by(|a, b| a.t_s.total_cmp(&b.t_s));
    looks
}

/// The current over time: read where it was read, as predicted before the first reading.
#[derive(Clone, Debug)]
pub(crate) struct Drive {
    /// Time, s, and current, A; at least one.
    nodes: Vec<(f64, f64)>,
}

impl Drive {
    /// `predicted`: what the plan had flowing at a time, A.
    pub(crate) fn new(looks: &[Look], predicted: impl Fn(f64) -> f64) -> Self {
        let mut nodes: Vec<(f64, f64)> = looks.iter().filter_map(|look| Some((look.t_s, look.pack_a?))).collect();
        let (until_s, scale) = match nodes.first() {
            // Until the first reading it went as predicted, as strong as that reading has it.
            Some((t_s, a)) => (*t_s, (a / predicted(*t_s).max(1e-6)).clamp(0.2, 1.2)),
            None => (looks.last().map_or(0.0, |look| look.t_s), 1.0),
        };
        let steps = (until_s / 300.0).ceil().max(1.0);
        let times = (0..=steps as usize).map(|n| until_s * n as f64 / steps);
        let mut before: Vec<(f64, f64)> = times.map(|t_s| (t_s, scale * predicted(t_s))).collect();
        if !nodes.is_empty() {
            before.pop();
        }
        before.append(&mut nodes);
        Self { nodes: before }
    }

    /// The current at a time, A; falling, it falls as a taper does.
    pub(crate) fn at(&self, t_s: f64) -> f64 {
        let after = self.nodes.partition_point(|(t, _)| *t < t_s);
        match (after.checked_sub(1).and_then(|n| self.nodes.get(n)), self.nodes.get(after)) {
            (Some(&(t0, a0)), Some(&(t1, a1))) if t1 > t0 => {
                let share = (t_s - t0) / (t1 - t0);
                if a0 > 1e-6 && a1 > 1e-6 && a1 < a0 { a0 * (a1 / a0).powf(share) } else { a0 + share * (a1 - a0) }
            }
            (_, Some(&(_, a))) | (Some(&(_, a)), None) => a,
            (None, None) => 0.0,
        }
    }
}

/// The model's state and terminal volts at each of some times, rising.
pub(crate) fn follow(model: &Model<'_>, start_soc: f64, drive: &Drive, times_s: &[f64]) -> (Vec<f64>, State) {
    let mut state = State::rested(start_soc);
    let mut volts = Vec::with_capacity(times_s.len());
    for &until_s in times_s {
        let steps = ((until_s - state.t_s) / STEP_S).ceil().max(0.0) as usize;
        let h_s = if steps > 0 { (until_s - state.t_s) / steps as f64 } else { 0.0 };
        for _ in 0..steps {
            let (from_a, to_a) = (drive.at(state.t_s), drive.at(state.t_s + h_s));
            state = model.prepare(state, from_a, h_s).finish(to_a);
        }
        let now = model.now(&state);
        volts.push(now.e_v + now.r_ohm * drive.at(until_s));
    }
    (volts, state)
}
