//! The pack as an equivalent circuit: `v = ocv(soc)·S + i·R0 + v1 + v2 + v3`.
//!
//! `R0` and the fast share of the pairs add up to the 10 s resistance; the pairs stand for
//! diffusion, whose slow settling gives a taper its long tail. Plain SI numbers inside.

use crate::physics::cell::Profile;
use crate::physics::operating::Thevenin;

/// How sure the figures are: factors that the fast and the slow case put on them.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Scale {
    pub(crate) resistance: f64,
    pub(crate) capacity: f64,
    /// How unlike capacitors in series are, as a share of what they may be.
    pub(crate) unlike: f64,
}

impl Scale {
    /// The likeliest case.
    pub(crate) const NOMINAL: Self = Self { resistance: 1.0, capacity: 1.0, unlike: 1.0 };
}

/// Capacitors that differ, and what shunts the smaller ones once they are full.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Shunted {
    /// From here on the smallest may be full.
    pub(crate) from_soc: f64,
    /// How much smaller than the mean the smallest may be, and how much larger the largest, 0…1.
    pub(crate) smaller: f64,
}

impl Shunted {
    /// The share of what flows then that raises their volts, from a level start. The largest is full last and sets
    /// the charge: `(1 + s)·C·(1 − soc₀)` in all, of which `C·(1 − s − soc₀)` flowed before.
    fn kept(&self, start_soc: f64, unlike: f64) -> f64 {
        let rise = self.smaller.min(1.0 - start_soc).max(1e-6);
        rise / (rise + unlike * self.smaller * (1.0 - start_soc))
    }
}

/// A pack in plain numbers.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Body<'a> {
    pub(crate) profile: &'a Profile,
    /// Cells in series.
    pub(crate) series: f64,
    /// Ampere-seconds of the whole pack.
    pub(crate) capacity_as: f64,
    /// Its 10 s resistance, Ω.
    pub(crate) ohm: f64,
    pub(crate) temperature_c: f64,
    pub(crate) shunted: Option<Shunted>,
}

/// What does not change during a charge.
#[derive(Clone, Debug)]
pub(crate) struct Model<'a> {
    profile: &'a Profile,
    series: f64,
    /// Ampere-seconds of the whole pack.
    pub(crate) capacity_as: f64,
    /// Resistance that answers at once, and the slow pairs, at mid charge.
    fast_ohm: f64,
    slow_ohm: [f64; 3],
    /// One over each pair's time, 1/s.
    per_tau: [f64; 3],
    /// SoC of each position minus the mean; empty where all are alike.
    offsets: Vec<f64>,
    /// Which branch of the open-circuit curve: +1 charging, −1 discharging.
    branch: f64,
    /// Factor on the share that is kept, by the pack's temperature.
    keeps: f64,
    /// From which SoC on only so large a share is kept, because balancers shunt the rest.
    shunts: Option<(f64, f64)>,
}

/// What changes.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct State {
    pub(crate) t_s: f64,
    pub(crate) soc: f64,
    slow_v: [f64; 3],
    /// The share of its current that the last step kept.
    kept: f64,
}

impl State {
    /// A rested pack.
    pub(crate) fn rested(soc: f64) -> Self {
        Self { t_s: 0.0, soc, slow_v: [0.0; 3], kept: 1.0 }
    }
}

/// The part of a step that does not depend on the current sought: pairs decayed, gains fixed.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Step {
    h_s: f64,
    start: State,
    start_a: f64,
    /// Pair voltages at the end without the end current's share.
    carried_v: [f64; 3],
    /// What each ampere at the end adds to them.
    gain_ohm: [f64; 3],
    fast_ohm: f64,
    /// The share of the current that is kept.
    kept: f64,
    /// SoC gained per ampere at one end of the step.
    soc_per_a: f64,
}

/// A step's end near some current, where all is straight.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Tangent {
    pub(crate) line: Thevenin,
    /// Open-circuit volts at no current, and what each ampere adds.
    level_v: f64,
    per_a: f64,
}

impl<'a> Model<'a> {
    pub(crate) fn new(body: Body<'a>, offsets: &[f64], charging: bool, scale: Scale) -> Self {
        let profile = body.profile;
        let ten_s_ohm = body.ohm * scale.resistance;
        let slow_ohm = profile.rc.map(|rc| ten_s_ohm * rc.ratio);
        let within_ten_s: f64 = profile.rc.iter().map(|rc| rc.ratio * (1.0 - (-10.0 / rc.tau_s).exp())).sum();
        Self {
            profile,
            series: body.series,
            capacity_as: body.capacity_as * scale.capacity,
            fast_ohm: ten_s_ohm * (1.0 - within_ten_s),
            slow_ohm,
            per_tau: profile.rc.map(|rc| 1.0 / rc.tau_s),
            offsets: offsets.to_vec(),
            branch: if charging { 1.0 } else { -1.0 },
            keeps: profile.keeps_at(body.temperature_c),
            shunts: None,
        }
    }

    /// Capacitors that differ, from a level start on.
    pub(crate) fn levelling(self, shunted: Option<Shunted>, start_soc: f64, unlike: f64) -> Self {
        let shunts = shunted.map(|shunted| (shunted.from_soc, shunted.kept(start_soc, unlike)));
        Self { shunts, ..self }
    }

    /// Open-circuit volts of the pack and their slope per unit SoC.
    #[inline]
    fn ocv(&self, soc: f64) -> (f64, f64) {
        let lift = self.branch * self.profile.hysteresis_v * self.series;
        if self.offsets.is_empty() {
            let (v, slope) = self.profile.ocv.at(soc);
            return (v * self.series + lift, slope * self.series);
        }
        let share = self.series / self.offsets.len() as f64;
        let (v, slope) = self.offsets.iter().fold((0.0, 0.0), |(v, slope), offset| {
            let (one_v, one_slope) = self.profile.ocv.at(soc + offset);
            (v + one_v, slope + one_slope)
        });
        (v * share + lift, slope * share)
    }

    /// Open-circuit volts of the pack on the charging branch.
    pub(crate) fn open_circuit_v(&self, soc: f64) -> f64 {
        self.ocv(soc).0
    }

    fn fast_ohm(&self, soc: f64) -> f64 {
        self.fast_ohm * self.profile.resistance_by_soc.at(soc)
    }

    /// How much the slow pairs change between two states of charge, as a fraction.
    pub(crate) fn slowing(&self, from_soc: f64, to_soc: f64) -> f64 {
        let by_soc = &self.profile.slow_by_soc;
        (by_soc.at(to_soc) / by_soc.at(from_soc) - 1.0).abs()
    }

    /// Factor on the slow pairs, by which way the current flows.
    fn slow_factor(&self, soc: f64, current_a: f64) -> f64 {
        if current_a < 0.0 { self.profile.discharge.slow } else { self.profile.slow_by_soc.at(soc) }
    }

    /// The state of charge at which a discharge from another one ends, because no more can be had at
    /// that current.
    pub(crate) fn spent_soc(&self, from_soc: f64, out_a: f64) -> f64 {
        let c_rate = out_a * 3600.0 / self.capacity_as;
        from_soc * (1.0 - self.profile.discharge.share_at(c_rate))
    }

    /// Share of a positive current that is kept at a state of charge.
    fn kept(&self, soc: f64, current_a: f64) -> f64 {
        if current_a <= 0.0 {
            return 1.0;
        }
        let unshunted = self.shunts.filter(|(from_soc, _)| soc >= *from_soc).map_or(1.0, |(_, kept)| kept);
        unshunted * self.keeps * self.profile.kept(soc, current_a * 3600.0 / self.capacity_as)
    }

    /// The pack at this very moment, before any slow part has moved.
    pub(crate) fn now(&self, state: &State) -> Thevenin {
        Thevenin { e_v: self.ocv(state.soc).0 + state.slow_v.iter().sum::<f64>(), r_ohm: self.fast_ohm(state.soc) }
    }

    /// What a steady current settles to, all diffusion done.
    pub(crate) fn settled(&self, soc: f64) -> Thevenin {
        let slow: f64 = self.slow_ohm.iter().sum::<f64>() * self.profile.slow_by_soc.at(soc);
        Thevenin { e_v: self.ocv(soc).0, r_ohm: self.fast_ohm(soc) + slow }
    }

    /// The state of charge at which a steady current holds these volts, all diffusion done; 0 where
    /// even an empty pack stands higher. Bracketed: both curve and resistance rise towards full.
    pub(crate) fn soc_held(&self, volts: f64, current_a: f64) -> f64 {
        let above = |soc: f64| {
            let settled = self.settled(soc);
            settled.e_v + settled.r_ohm * current_a > volts
        };
        let (mut low, mut high) = (0.0, 1.0);
        if !above(high) {
            return high;
        }
        for _ in 0..24 {
            let middle = 0.5 * (low + high);
            if above(middle) { high = middle } else { low = middle }
        }
        low
    }

    /// Prepares a step of `h_s` from a state at which `start_a` flows, and about `middle_a` half way through.
    ///
    /// Within a step the current is a straight line, for which the pairs have an exact solution.
    pub(crate) fn prepare(&self, start: State, start_a: f64, middle_a: f64, h_s: f64) -> Step {
        // Where the middle is need not be known better than from what was kept of the step before.
        let middle_soc = start.soc + h_s * 0.25 * (start_a + middle_a) * start.kept / self.capacity_as;
        let kept = self.kept(middle_soc, middle_a);
        let slow_factor = self.slow_factor(middle_soc, middle_a);
        let mut carried_v = [0.0; 3];
        let mut gain_ohm = [0.0; 3];
        let per_h = 1.0 / h_s;
        for k in 0..3 {
            let tau_s = self.profile.rc[k].tau_s;
            let x = h_s * self.per_tau[k];
            let decay = (-x).exp();
            // (1 − e^−x)/x, by series where it would cancel.
            let mean = if x < 1e-5 { 1.0 - 0.5 * x } else { (1.0 - decay) * tau_s * per_h };
            let ohm = self.slow_ohm[k] * slow_factor;
            carried_v[k] = start.slow_v[k] * decay + ohm * start_a * (mean - decay);
            gain_ohm[k] = ohm * (1.0 - mean);
        }
        Step {
            h_s,
            start,
            start_a,
            carried_v,
            gain_ohm,
            fast_ohm: self.fast_ohm(middle_soc),
            kept,
            soc_per_a: h_s * 0.5 * kept / self.capacity_as,
        }
    }

    /// The pack at the end of a step, as a straight line around a guess of the end current.
    pub(crate) fn end_of(&self, step: &Step, guess_a: f64) -> Thevenin {
        self.tangent(step, guess_a).line
    }

    /// The same with what it is made of.
    pub(crate) fn tangent(&self, step: &Step, guess_a: f64) -> Tangent {
        let (open_v, slope) = self.ocv(step.soc_at(guess_a));
        let per_a = slope * step.soc_per_a;
        let level_v = open_v - per_a * guess_a;
        let line = Thevenin {
            e_v: level_v + step.carried_v.iter().sum::<f64>(),
            r_ohm: step.fast_ohm + per_a + step.gain_ohm.iter().sum::<f64>(),
        };
        Tangent { line, level_v, per_a }
    }
}

impl Tangent {
    /// What the open-circuit curve would read at some current at the end if it went on straight, V.
    pub(crate) fn open_v(&self, end_a: f64) -> f64 {
        self.level_v + self.per_a * end_a
    }
}

impl Step {
    /// The state of charge at the end, given the current there.
    pub(crate) fn soc_at(&self, end_a: f64) -> f64 {
        self.start.soc + self.soc_per_a * (self.start_a + end_a)
    }

    /// The state at the end, given the current there.
    pub(crate) fn finish(&self, end_a: f64) -> State {
        let mut slow_v = self.carried_v;
        for (v, gain) in slow_v.iter_mut().zip(self.gain_ohm) {
            *v += gain * end_a;
        }
        State { t_s: self.start.t_s + self.h_s, soc: self.soc_at(end_a), slow_v, kept: self.kept }
    }
}
