//! A discharge computed, and told as a phase.

use super::gives::gives;
use crate::codes::SegmentKind;
use crate::formats::{TestPhaseDoc, TestPinchDoc, TestPoint};
use crate::parts::pack::Pack;
use crate::parts::sink::Sink;
use crate::physics::charge::{Draw, Low, Model, RunDown, Scale, State, Until, drawn_a, evenly, run_down};
use crate::units::{in_amp_hours, significant};

/// A curve has so many points at most.
pub(crate) const MOST_POINTS: usize = 200;
/// What a sound pack may hold, give or take, of its label.
const HOLDS: (f64, f64) = (0.94, 1.04);

/// What a discharge is for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Wanted {
    /// All that it gives, down to so many volts a cell under current.
    Whole { to_v: f64 },
    /// Down to a state of charge.
    Soc(f64),
}

/// A discharge to be computed.
#[derive(Clone, Debug)]
pub(crate) struct Discharge {
    pub(crate) pack: Pack,
    pub(crate) sink: Sink,
    pub(crate) wanted: Wanted,
    pub(crate) start_soc: f64,
    pub(crate) lead_ohm: f64,
    /// Whether the charger that discharges reads each cell at the balance plug.
    pub(crate) reads_cells: bool,
}

/// It, computed.
pub(crate) struct Done {
    pub(crate) run: RunDown,
    /// The shortest and the longest it may take, s.
    pub(crate) takes_s: (f64, f64),
    /// Turned to heat by what takes it at the most, W.
    pub(crate) hottest_w: f64,
}

impl Discharge {
    pub(crate) fn series(&self) -> f64 {
        f64::from(self.pack.series)
    }

    /// Computes it.
    pub(crate) fn run(&self, draw: Draw) -> Done {
        let run = self.run_scaled(draw, Scale::NOMINAL);
        let takes_s = self.takes_s(&run, draw);
        let at_sink = |m: &Low| m.current_a * (m.pack_v - self.lead_ohm * m.current_a);
        let hottest_w = run.moments.iter().map(at_sink).fold(0.0, f64::max);
        Done { run, takes_s, hottest_w }
    }

    /// What flows out of a pack in a state, A.
    pub(crate) fn expected_a(&self, draw: Draw, scale: Scale, state: &State) -> f64 {
        drawn_a(&Model::new(self.pack.body(), &[], false, scale), state, draw, self.lead_ohm)
    }

    fn run_scaled(&self, draw: Draw, scale: Scale) -> RunDown {
        self.go_on(draw, scale, State::rested(self.start_soc), self.until(draw, self.start_soc))
    }

    /// When it is over, having begun at a state of charge: at its volts, or where no more comes at this rate and warmth.
    pub(crate) fn until(&self, draw: Draw, start_soc: f64) -> Until {
        let volts_now = self.pack.profile.ocv.at(start_soc).0 * self.series();
        let share = gives(&self.pack, draw.current_a(volts_now));
        match self.wanted {
            Wanted::Whole { to_v } => Until { volts: to_v * self.series(), soc: (start_soc * (1.0 - share)).max(0.0) },
            Wanted::Soc(soc) => Until { volts: 0.0, soc },
        }
    }

    /// The rest of it from a state; its times go on from there.
    pub(crate) fn go_on(&self, draw: Draw, scale: Scale, state: State, until: Until) -> RunDown {
        let model = Model::new(self.pack.body(), &[], false, scale);
        run_down(&model, state, draw, self.lead_ohm, until)
    }

    fn takes_s(&self, run: &RunDown, draw: Draw) -> (f64, f64) {
        let (better, worse) = self.pack.resistance_spread();
        let scaled = |capacity: f64, resistance: f64| {
            self.run_scaled(draw, Scale { resistance, capacity, ..Scale::NOMINAL }).total_s()
        };
        let (less, more) = self.pack.profile.discharge.spread;
        let (short, long) = (scaled(HOLDS.0 * (1.0 - less), worse), scaled(HOLDS.1 * (1.0 + more), better));
        let total_s = run.total_s();
        (short.min(total_s), long.max(total_s))
    }

    /// It as a phase that begins at a time, s; `back` is the share that is given back into the source.
    pub(crate) fn phase(&self, done: &Done, from_s: f64, back: Option<f64>) -> TestPhaseDoc {
        let run = &done.run;
        let energy_wh = run.energy_j / 3600.0;
        let lead_wh = lead_heat_wh(run, self.lead_ohm);
        let given_wh = back.map_or(0.0, |efficiency| (energy_wh - lead_wh) * efficiency);
        let (takes_low_s, takes_high_s) = done.takes_s;
        let stored_wh = rest_energy_wh(&self.pack, run.end.soc, self.start_soc);
        let last = run.moments.last().copied();
        let first = run.moments.first().copied();
        TestPhaseDoc {
            kind: SegmentKind::Discharge,
            from_s,
            to_s: from_s + run.total_s(),
            takes_low_s,
            takes_high_s,
            charge_ah: significant(run.charge_as / 3600.0),
            energy_wh: significant(energy_wh),
            source_wh: significant(-given_wh),
            heat_wh: significant(energy_wh - given_wh),
            heat_w: significant(done.hottest_w * back.map_or(1.0, |efficiency| 1.0 - efficiency)),
            pack_heat_wh: significant(stored_wh - energy_wh),
            start_soc: self.start_soc,
            end_soc: run.end.soc,
            start_v: first.map_or(0.0, |m| m.pack_v),
            // At its very end the volts fall steeply to the cut-off.
            end_v: match self.wanted {
                Wanted::Whole { to_v } => to_v * self.series(),
                Wanted::Soc(_) => last.map_or(0.0, |m| m.pack_v),
            },
            current_a: significant(run.moments.iter().map(|m| m.current_a).fold(0.0, f64::max)),
            pinch: pinch(run),
            settings: None,
            checks: Vec::new(),
            curve: curve(run),
        }
    }
}

/// What lies between two states of charge by the rest voltage, Wh.
pub(crate) fn rest_energy_wh(pack: &Pack, low_soc: f64, high_soc: f64) -> f64 {
    const PARTS: usize = 400;
    let step = (high_soc - low_soc) / PARTS as f64;
    let volts: f64 =
        (0..PARTS).map(|n| pack.profile.ocv.at(low_soc + (n as f64 + 0.5) * step).0).sum::<f64>() / PARTS as f64;
    volts * f64::from(pack.series) * (high_soc - low_soc) * in_amp_hours(pack.capacity)
}

/// What the lead turns to heat, Wh.
pub(crate) fn lead_heat_wh(run: &RunDown, ohm: f64) -> f64 {
    let squares =
        run.moments.windows(2).map(|w| (w[1].t_s - w[0].t_s) * (w[0].current_a.powi(2) + w[1].current_a.powi(2)) / 2.0);
    squares.sum::<f64>() * ohm / 3600.0
}

fn pinch(run: &RunDown) -> Vec<TestPinchDoc> {
    let mut found: Vec<TestPinchDoc> = Vec::new();
    for m in &run.moments {
        let (limit, at_s) = (m.limit.code().to_owned(), m.t_s.round() as u64);
        match found.last_mut() {
            Some(span) if span.limit == limit => span.to_s = at_s,
            last => {
                if let Some(before) = last {
                    before.to_s = at_s;
                }
                found.push(TestPinchDoc { limit, from_s: at_s, to_s: at_s });
            }
        }
    }
    found
}

fn curve(run: &RunDown) -> Vec<TestPoint> {
    evenly(&run.moments, MOST_POINTS)
        .map(|m| TestPoint {
            t_s: significant(m.t_s),
            pack_v: significant(m.pack_v),
            current_a: significant(-m.current_a),
            soc: significant(m.soc),
        })
        .collect()
}
