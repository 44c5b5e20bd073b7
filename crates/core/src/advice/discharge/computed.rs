//! A discharge computed, and told as a phase.

use crate::codes::{SegmentKind, TestCheckCode};
use crate::formats::{TestPhaseDoc, TestPinchDoc, TestPoint};
use crate::parts::pack::Pack;
use crate::parts::sink::Sink;
use crate::physics::charge::{Draw, Model, RunDown, Scale, Until, run_down};
use crate::units::{in_amp_hours, in_celsius, significant};

/// A curve has so many points at most.
const MOST_POINTS: usize = 200;
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
pub(crate) struct Discharge<'a> {
    pub(crate) pack: &'a Pack,
    pub(crate) sink: &'a Sink,
    pub(crate) wanted: Wanted,
    pub(crate) start_soc: f64,
    pub(crate) lead_ohm: f64,
    /// Whether the charger that discharges reads each cell at the balance plug.
    pub(crate) reads_cells: bool,
}

/// It, computed.
pub(crate) struct Done {
    pub(crate) run: RunDown,
    draw: Draw,
}

impl Discharge<'_> {
    pub(crate) fn series(&self) -> f64 {
        f64::from(self.pack.series)
    }

    /// What the pack gives of its capacity at a current, A, and its temperature: of what it would at the rate its label
    /// is given for.
    pub(crate) fn gives(&self, amps: f64) -> f64 {
        gives(self.pack, amps)
    }

    /// Computes it; what takes it cannot where it says why.
    pub(crate) fn run(&self) -> Result<Done, TestCheckCode> {
        let draw = self.sink.draw?;
        Ok(Done { run: self.run_scaled(draw, Scale::NOMINAL), draw })
    }

    fn run_scaled(&self, draw: Draw, scale: Scale) -> RunDown {
        let model = Model::new(self.pack.body(), &[], false, scale);
        let volts_now = self.pack.profile.ocv.at(self.start_soc).0 * self.series();
        let share = self.gives(draw.current_a(volts_now));
        let until = match self.wanted {
            Wanted::Whole { to_v } => {
                Until { volts: to_v * self.series(), soc: (self.start_soc * (1.0 - share)).max(0.0) }
            }
            Wanted::Soc(soc) => Until { volts: 0.0, soc },
        };
        run_down(&model, self.start_soc, draw, self.lead_ohm, until)
    }

    /// The shortest and the longest it may take, s.
    pub(crate) fn takes_s(&self, done: &Done) -> (f64, f64) {
        let (better, worse) = self.pack.resistance_spread();
        let scaled = |capacity: f64, resistance: f64| {
            self.run_scaled(done.draw, Scale { resistance, capacity, ..Scale::NOMINAL }).total_s()
        };
        let (short, long) = (scaled(HOLDS.0, worse), scaled(HOLDS.1, better));
        let total_s = done.run.total_s();
        (short.min(total_s), long.max(total_s))
    }

    /// It as a phase that begins at a time, s; `back` is the share that is given back into the source.
    pub(crate) fn phase(&self, done: &Done, from_s: f64, back: Option<f64>) -> TestPhaseDoc {
        let run = &done.run;
        let energy_wh = run.energy_j / 3600.0;
        let lead_wh = lead_heat_wh(run, self.lead_ohm);
        let given_wh = back.map_or(0.0, |efficiency| (energy_wh - lead_wh) * efficiency);
        let hottest_w =
            run.moments.iter().map(|m| m.current_a * (m.pack_v - self.lead_ohm * m.current_a)).fold(0.0, f64::max);
        let (takes_low_s, takes_high_s) = self.takes_s(done);
        let stored_wh = self.stored_wh(run.end.soc);
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
            heat_w: significant(hottest_w * back.map_or(1.0, |efficiency| 1.0 - efficiency)),
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

    /// What the cells give up down to a state of charge, by their rest voltage, Wh.
    fn stored_wh(&self, end_soc: f64) -> f64 {
        rest_energy_wh(self.pack, end_soc, self.start_soc)
    }
}

/// What a pack gives of its capacity at a current, A, and its temperature.
pub(crate) fn gives(pack: &Pack, amps: f64) -> f64 {
    let keeping = &pack.profile.keeping;
    let c_rate = amps / in_amp_hours(pack.nameplate).max(1e-9);
    let by_rate = keeping.gives_at_rate(c_rate) / keeping.gives_at_rate(pack.profile.proof.c_rate);
    keeping.gives_at(in_celsius(pack.temperature)) * by_rate.min(1.05)
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
    let every = run.moments.len().div_ceil(MOST_POINTS).max(1);
    let last = run.moments.len().saturating_sub(1);
    let kept = run.moments.iter().enumerate().filter(|(n, _)| n % every == 0 || *n == last);
    kept.map(|(_, m)| TestPoint {
        t_s: significant(m.t_s),
        pack_v: significant(m.pack_v),
        current_a: significant(-m.current_a),
        soc: significant(m.soc),
    })
    .collect()
}
