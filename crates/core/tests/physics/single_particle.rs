//! An independent reference: a lithium cell as two diffusing spheres.
//!
//! Each electrode is one spherical particle with Fickian diffusion (finite volumes, implicit in
//! time), Butler–Volmer kinetics at its surface and an open-circuit potential of its own; the
//! electrolyte is a resistance with one settling pole. Nothing of it is shared with the model
//! under test. Everything is scaled to a cell of 1 Ah, so currents are C-rates. Source: the
//! standard single-particle equations; potentials and diffusion times of the order published
//! for such electrodes.

const SHELLS: usize = 30;
const THERMAL_V: f64 = 0.0257;

/// One electrode.
#[derive(Clone, Copy)]
pub(crate) struct Electrode {
    /// Stoichiometry with the cell empty and full.
    pub(crate) empty: f64,
    pub(crate) full: f64,
    /// R²/D, s.
    pub(crate) diffusion_s: f64,
    /// Exchange current at half stoichiometry, C.
    pub(crate) exchange_c: f64,
    pub(crate) potential: fn(f64) -> f64,
}

/// One cell.
#[derive(Clone, Copy)]
pub(crate) struct Cell {
    pub(crate) name: &'static str,
    pub(crate) chemistry: &'static str,
    pub(crate) negative: Electrode,
    pub(crate) positive: Electrode,
    pub(crate) ohmic: f64,
    pub(crate) electrolyte: f64,
    pub(crate) electrolyte_s: f64,
    pub(crate) full_v: f64,
}

#[derive(Clone)]
struct Particle {
    e: Electrode,
    shells: [f64; SHELLS],
}

impl Particle {
    fn at(e: Electrode, soc: f64) -> Self {
        Self { e, shells: [e.empty + (e.full - e.empty) * soc; SHELLS] }
    }

    /// Advances by `h_s` at a charge current of `c`; returns the surface stoichiometry.
    fn advance(&mut self, c: f64, h_s: f64) {
        let dr = 1.0 / SHELLS as f64;
        let mean_rate = (self.e.full - self.e.empty) * c / 3600.0;
        let (mut a, mut b, mut cc, mut d) = ([0.0; SHELLS], [0.0; SHELLS], [0.0; SHELLS], [0.0; SHELLS]);
        for k in 0..SHELLS {
            let (r0, r1) = (k as f64 * dr, (k + 1) as f64 * dr);
            let volume = (r1.powi(3) - r0.powi(3)) / 3.0;
            let inner = if k == 0 { 0.0 } else { r0 * r0 / dr };
            let outer = if k == SHELLS - 1 { 0.0 } else { r1 * r1 / dr };
            let g = h_s / self.e.diffusion_s / volume;
            a[k] = -g * inner;
            cc[k] = -g * outer;
            b[k] = 1.0 + g * (inner + outer);
            d[k] = self.shells[k] + if k == SHELLS - 1 { h_s * mean_rate / 3.0 / volume } else { 0.0 };
        }
        for k in 1..SHELLS {
            let m = a[k] / b[k - 1];
            b[k] -= m * cc[k - 1];
            d[k] -= m * d[k - 1];
        }
        self.shells[SHELLS - 1] = d[SHELLS - 1] / b[SHELLS - 1];
        for k in (0..SHELLS - 1).rev() {
            self.shells[k] = (d[k] - cc[k] * self.shells[k + 1]) / b[k];
        }
    }

    fn surface(&self, c: f64) -> f64 {
        let gradient = self.e.diffusion_s * (self.e.full - self.e.empty) * c / 3600.0 / 3.0;
        (self.shells[SHELLS - 1] + gradient * 0.5 / SHELLS as f64).clamp(1e-4, 1.0 - 1e-4)
    }

    /// Electrode potential; `sign` +1 for the positive, −1 for the negative.
    fn volts(&self, c: f64, sign: f64) -> f64 {
        let s = self.surface(c);
        let exchange = self.e.exchange_c * 2.0 * (s * (1.0 - s)).sqrt();
        (self.e.potential)(s) + sign * 2.0 * THERMAL_V * (c / (2.0 * exchange)).asinh()
    }
}

/// A cell being charged.
#[derive(Clone)]
pub(crate) struct Bench {
    cell: Cell,
    negative: Particle,
    positive: Particle,
    electrolyte_v: f64,
    pub(crate) ah: f64,
    pub(crate) t_s: f64,
    /// When the voltage was reached, s.
    pub(crate) cv_s: Option<f64>,
}

impl Bench {
    pub(crate) fn rested(cell: Cell, soc: f64) -> Self {
        Self {
            cell,
            negative: Particle::at(cell.negative, soc),
            positive: Particle::at(cell.positive, soc),
            electrolyte_v: 0.0,
            ah: 0.0,
            t_s: 0.0,
            cv_s: None,
        }
    }

    pub(crate) fn volts(&self, c: f64) -> f64 {
        self.positive.volts(c, 1.0) - self.negative.volts(c, -1.0) + self.cell.ohmic * c + self.electrolyte_v
    }

    pub(crate) fn advance(&mut self, c: f64, h_s: f64) {
        self.negative.advance(c, h_s);
        self.positive.advance(c, h_s);
        let decay = (-h_s / self.cell.electrolyte_s).exp();
        self.electrolyte_v = self.electrolyte_v * decay + self.cell.electrolyte * c * (1.0 - decay);
        self.ah += c * h_s / 3600.0;
        self.t_s += h_s;
    }

    /// The current at which the cell stands at `volts` after a step, never above `most`.
    fn held(&self, volts: f64, most: f64, h_s: f64) -> f64 {
        let after = |c: f64| {
            let mut next = self.clone();
            next.advance(c, h_s);
            next.volts(c)
        };
        if after(most) <= volts {
            return most;
        }
        let (mut low, mut high) = (0.0, most);
        for _ in 0..24 {
            let c = 0.5 * (low + high);
            if after(c) > volts { high = c } else { low = c }
        }
        low
    }

    /// Charges at `rate` (or `power` W, whichever is less) to `volts` until `stop`; returns the seconds.
    pub(crate) fn charge(&mut self, rate: f64, power: Option<f64>, volts: f64, stop: f64) -> f64 {
        let mut c = rate;
        while self.t_s < 40.0 * 3600.0 {
            let h_s = if c > 0.9 * rate { 2.0 } else { 8.0 };
            let most = power.map_or(rate, |w| rate.min(w / self.volts(c)));
            c = self.held(volts, most, h_s);
            if c < most && self.cv_s.is_none() {
                self.cv_s = Some(self.t_s);
            }
            self.advance(c, h_s);
            if c <= stop {
                break;
            }
        }
        self.t_s
    }
}

impl Cell {
    /// 10 s DC resistance at half charge from a 1C pulse, Ω for 1 Ah.
    pub(crate) fn ten_second_ohm(&self) -> f64 {
        let mut bench = Bench::rested(*self, 0.5);
        let rest = bench.volts(0.0);
        for _ in 0..10 {
            bench.advance(1.0, 1.0);
        }
        bench.volts(1.0) - rest
    }
}

fn graphite_silicon(x: f64) -> f64 {
    1.9793 * (-39.3631 * x).exp() + 0.2482
        - 0.0909 * (29.8538 * (x - 0.1234)).tanh()
        - 0.04478 * (14.9159 * (x - 0.2769)).tanh()
        - 0.0205 * (30.4444 * (x - 0.6103)).tanh()
}

fn nickel_rich(y: f64) -> f64 {
    -0.8090 * y + 4.4875 - 0.0428 * (18.5138 * (y - 0.5542)).tanh() - 17.7326 * (15.7890 * (y - 0.3117)).tanh()
        + 17.5842 * (15.9308 * (y - 0.3120)).tanh()
}

fn graphite(x: f64) -> f64 {
    let t = |centre: f64, width: f64| ((x - centre) / width).tanh();
    0.194 + 1.5 * (-120.0 * x).exp() + 0.0351 * t(0.286, 0.083)
        - 0.0045 * t(0.849, 0.119)
        - 0.035 * t(0.9233, 0.05)
        - 0.0147 * t(0.5, 0.034)
        - 0.102 * t(0.194, 0.142)
        - 0.022 * t(0.9, 0.0164)
        - 0.011 * t(0.124, 0.0226)
        + 0.0155 * t(0.105, 0.029)
}

fn cobalt(y: f64) -> f64 {
    let s = 1.062 * y;
    2.16216 + 0.07645 * (30.834 - 54.4806 * s).tanh() + 2.1581 * (52.294 - 50.294 * s).tanh()
        - 0.14169 * (11.0923 - 19.8543 * s).tanh()
        + 0.2051 * (1.4684 - 5.4888 * s).tanh()
        + 0.2531 * ((-s + 0.56478) / 0.1316).tanh()
        - 0.02167 * ((s - 0.525) / 0.006).tanh()
}

fn phosphate(y: f64) -> f64 {
    3.4077 - 0.020269 * y + 0.5 * (-150.0 * y).exp() - 0.9 * (-30.0 * (1.0 - y)).exp()
}

/// Cells spanning thin power electrodes to thick energy ones.
pub(crate) fn cells() -> Vec<Cell> {
    let mut cells = Vec::new();
    for (name, chemistry, slowness, ohmic) in [
        ("nickel-rich energy cell", "li_ion", 1.0, 0.045),
        ("nickel-rich, quick diffusion", "li_ion", 0.45, 0.06),
        ("nickel-rich, high resistance", "li_ion", 1.0, 0.10),
    ] {
        cells.push(Cell {
            name,
            chemistry,
            negative: Electrode {
                empty: 0.0279,
                full: 0.9014,
                diffusion_s: 1040.0 * slowness,
                exchange_c: 1.5,
                potential: graphite_silicon,
            },
            positive: Electrode {
                empty: 0.9084,
                full: 0.2661,
                diffusion_s: 6800.0 * slowness,
                exchange_c: 2.0,
                potential: nickel_rich,
            },
            ohmic,
            electrolyte: 0.035,
            electrolyte_s: 60.0,
            full_v: 4.20,
        });
    }
    for (name, slowness, ohmic, exchange_c) in [
        ("cobalt pouch", 1.0, 0.02, 4.0),
        ("cobalt power pouch", 0.5, 0.01, 8.0),
        ("cobalt thick pouch", 1.6, 0.05, 2.0),
    ] {
        cells.push(Cell {
            name,
            chemistry: "lipo",
            negative: Electrode {
                empty: 0.02,
                full: 0.83,
                diffusion_s: 900.0 * slowness,
                exchange_c,
                potential: graphite,
            },
            positive: Electrode {
                empty: 0.95,
                full: 0.44,
                diffusion_s: 1500.0 * slowness,
                exchange_c,
                potential: cobalt,
            },
            ohmic,
            electrolyte: ohmic * 0.8,
            electrolyte_s: 45.0,
            full_v: 4.20,
        });
    }
    for (name, slowness, ohmic, exchange_c) in [
        ("phosphate power cell", 0.5, 0.015, 5.0),
        ("phosphate energy cell", 1.0, 0.03, 3.0),
        ("phosphate thick cell", 2.0, 0.05, 2.0),
    ] {
        cells.push(Cell {
            name,
            chemistry: "lfp",
            negative: Electrode {
                empty: 0.01,
                full: 0.80,
                diffusion_s: 1200.0 * slowness,
                exchange_c,
                potential: graphite,
            },
            positive: Electrode {
                empty: 0.95,
                full: 0.02,
                diffusion_s: 500.0 * slowness,
                exchange_c,
                potential: phosphate,
            },
            ohmic,
            electrolyte: ohmic * 0.8,
            electrolyte_s: 60.0,
            full_v: 3.65,
        });
    }
    cells
}
