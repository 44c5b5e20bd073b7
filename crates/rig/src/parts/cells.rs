//! Cells in series, each by itself, with what shunts them and the board that parts them from the terminals.

use rumek_core::CellFigures;

/// How a cell goes on below empty, down to nothing at all.
#[derive(Clone, Copy, Debug)]
pub struct Below {
    /// What lies there as a share of its capacity.
    pub share: f64,
    /// How soon its volts come up: 2 slowly, 5 at once.
    pub bend: f64,
    /// Factor on its resistance at no volts.
    pub ohm: f64,
}

/// Hardened sulphate: what it adds to a resistance, and how soon it gives way.
#[derive(Clone, Copy, Debug)]
pub struct Crust {
    /// So many times the resistance.
    pub times: f64,
    /// While current flows it is a third of that after so long, s; for ever where it does not give way.
    pub yields_s: f64,
}

/// One cell.
#[derive(Clone, Debug)]
pub struct Cell {
    /// What it holds, A·s.
    pub capacity_as: f64,
    /// Its 10 s resistance at mid charge and its temperature, Ω.
    pub ohm: f64,
    /// How full it is; below 0 and above 1 it goes on as its curve leaves there.
    pub soc: f64,
    /// What it loses by itself, A.
    pub leak_a: f64,
    /// What joins its plus to its minus inside, Ω; none in a sound cell.
    pub short_ohm: f64,
    /// How it goes on below empty; as its curve leaves there where that is not known.
    pub below: Option<Below>,
    /// Hardened sulphate on its plates.
    pub crust: Option<Crust>,
    /// Its volts as a share of what its kind has; other than 1 for capacitors of another rating.
    pub scale: f64,
    /// What its curve lies above that of its kind, V.
    pub above_v: f64,
    /// At its terminals, V.
    pub volts: f64,
    /// What its balancer takes past it now, A.
    pub shunt_a: f64,
    slow_v: [f64; 3],
    /// Between the branch after a discharge (−1) and the one after a charge (1).
    branch: f64,
}

impl Cell {
    /// A rested cell.
    #[must_use]
    pub fn rested(capacity_as: f64, ohm: f64, soc: f64, branch: f64) -> Self {
        Self {
            capacity_as,
            ohm,
            soc,
            leak_a: 0.0,
            short_ohm: f64::INFINITY,
            below: None,
            crust: None,
            scale: 1.0,
            above_v: 0.0,
            volts: 0.0,
            shunt_a: 0.0,
            slow_v: [0.0; 3],
            branch,
        }
    }

    fn rest_v(&self, figures: &CellFigures) -> (f64, f64) {
        self.rest_v_at(figures, self.soc)
    }

    fn rest_v_at(&self, figures: &CellFigures, soc: f64) -> (f64, f64) {
        let (v, slope) = match self.below {
            Some(below) if soc < 0.0 => below.rest_v(figures.rest_v(0.0).0, soc),
            _ => figures.rest_v(soc),
        };
        (v * self.scale + self.branch * figures.hysteresis_v() + self.above_v, slope * self.scale)
    }
}

impl Below {
    /// Volts and slope below empty: nothing at the bottom, what an empty cell has at the top, bent between.
    fn rest_v(&self, empty_v: f64, soc: f64) -> (f64, f64) {
        let (up, whole) = (1.0 + soc / self.share, 1.0 - (-self.bend).exp());
        let steep = empty_v * self.bend / (self.share * whole);
        if up < 0.0 {
            return (steep * self.share * up, steep);
        }
        let left = (-self.bend * up).exp();
        (empty_v * (1.0 - left) / whole, steep * left)
    }
}

impl Cell {
    /// Its resistance as it stands, Ω.
    fn ohm_now(&self) -> f64 {
        let deep = self.below.map_or(1.0, |below| 1.0 + (below.ohm - 1.0) * (-self.soc / below.share).clamp(0.0, 1.0));
        self.ohm * deep * (1.0 + self.crust.map_or(0.0, |crust| crust.times))
    }
}

/// What shunts a full cell.
#[derive(Clone, Copy, Debug)]
pub struct Balancer {
    /// From so many volts on.
    pub from_v: f64,
    /// No more than this, A.
    pub most_a: f64,
}

/// A protection board: it opens, and stays open until the cells have come back.
#[derive(Clone, Copy, Debug)]
pub struct Board {
    /// What it lets in, A.
    pub most_a: f64,
    /// A cell above this opens it, V.
    pub opens_v: f64,
    /// Asleep it closes once its terminals are offered this, V.
    wakes_v: Option<f64>,
    open: bool,
}

impl Board {
    /// A closed board.
    #[must_use]
    pub fn closed(most_a: f64, opens_v: f64) -> Self {
        Self { most_a, opens_v, wakes_v: None, open: false }
    }

    /// A board that sleeps until its terminals are offered so many volts; one that never wakes has none to offer.
    #[must_use]
    pub fn asleep(most_a: f64, opens_v: f64, wakes_v: f64) -> Self {
        Self { most_a, opens_v, wakes_v: Some(wakes_v), open: true }
    }
}

/// What a step of the cells comes to for each ampere at its end.
#[derive(Clone, Copy, Debug)]
struct Pair {
    decay: f64,
    mean: f64,
}

/// The integral of a pair's squared volts over a step in which the current runs straight, V²·s.
fn squared_over(before_v: f64, ohm: f64, tau_s: f64, (start_a, end_a): (f64, f64), h: f64) -> f64 {
    if h <= 0.0 {
        return 0.0;
    }
    // v = a·e^(−t/τ) + R·(q + m·t)
    let m = (end_a - start_a) / h;
    let q = start_a - m * tau_s;
    let a = before_v - ohm * q;
    let decay = (-h / tau_s).exp();
    let falls = 0.5 * a * a * tau_s * (1.0 - decay * decay);
    let both = q * tau_s * (1.0 - decay) + m * (tau_s * tau_s * (1.0 - decay) - h * tau_s * decay);
    let runs = q * q * h + q * m * h * h + m * m * h * h * h / 3.0;
    falls + 2.0 * a * ohm * both + ohm * ohm * runs
}

/// Cells in series.
#[derive(Clone, Debug)]
pub struct Cells {
    figures: CellFigures,
    /// One after the other from minus.
    pub cells: Vec<Cell>,
    /// What levels them.
    pub balancer: Option<Balancer>,
    /// What parts them from the terminals.
    pub board: Option<Board>,
    /// Their temperature, °C.
    pub temperature_c: f64,
    /// Around them, °C.
    pub around_c: f64,
    /// Heat to warm all of them by one kelvin, J.
    pub warms_j_per_k: f64,
    /// What they lose for each kelvin, W.
    pub sheds_w_per_k: f64,
    /// What flows in now, A.
    pub current_a: f64,
    /// Taken up by the cells, J.
    pub stored_j: f64,
    /// Turned to heat in the cells, their balancers and by what is not kept, J.
    pub heat_j: f64,
    pairs: [Pair; 3],
    step_s: f64,
}

impl Cells {
    /// Rested cells that lie at a temperature, °C.
    #[must_use]
    pub fn rested(figures: CellFigures, cells: Vec<Cell>, temperature_c: f64) -> Self {
        let ah: f64 = cells.iter().map(|cell| cell.capacity_as / 3600.0).sum();
        let wh = ah * figures.full_v();
        // About 150 Wh/kg and 1 J/(g·K); a surface that sheds a watt a kelvin for each 100 Wh.
        let (warms_j_per_k, sheds_w_per_k) = (wh / 0.15, 0.05 + wh / 100.0);
        let mut rested = Self {
            figures,
            cells,
            balancer: None,
            board: None,
            temperature_c,
            around_c: temperature_c,
            warms_j_per_k,
            sheds_w_per_k,
            current_a: 0.0,
            stored_j: 0.0,
            heat_j: 0.0,
            pairs: [Pair { decay: 1.0, mean: 1.0 }; 3],
            step_s: 0.0,
        };
        for cell in &mut rested.cells {
            cell.volts = cell.rest_v(&figures).0;
        }
        rested
    }

    /// Leaves them alone until nothing in them moves any more.
    pub fn rest(&mut self) {
        let figures = self.figures;
        self.current_a = 0.0;
        for cell in &mut self.cells {
            (cell.slow_v, cell.shunt_a) = ([0.0; 3], 0.0);
            cell.volts = cell.rest_v(&figures).0;
        }
    }

    /// The lowest of their volts.
    #[must_use]
    pub fn lowest_v(&self) -> f64 {
        self.cells.iter().map(|cell| cell.volts).fold(f64::INFINITY, f64::min)
    }

    /// What its kind is like.
    #[must_use]
    pub fn figures(&self) -> &CellFigures {
        &self.figures
    }

    /// Whether the board holds the terminals apart.
    #[must_use]
    pub fn is_open(&self) -> bool {
        self.board.is_some_and(|board| board.open)
    }

    /// How full they are together.
    #[must_use]
    pub fn soc(&self) -> f64 {
        self.cells.iter().map(|cell| cell.soc).sum::<f64>() / self.cells.len().max(1) as f64
    }

    /// The highest of their volts.
    #[must_use]
    pub fn highest_v(&self) -> f64 {
        self.cells.iter().map(|cell| cell.volts).fold(f64::NEG_INFINITY, f64::max)
    }

    /// All of them together with nothing moving, V.
    #[must_use]
    pub fn rest_v(&self) -> f64 {
        self.cells.iter().map(|cell| cell.rest_v(&self.figures).0).sum()
    }

    /// Fixes what does not hang on the current of a step of so many seconds.
    pub(crate) fn prepare(&mut self, step_s: f64) {
        self.step_s = step_s;
        self.pairs = self.figures.pairs().map(|(_, tau_s)| {
            let x = step_s / tau_s;
            let decay = (-x).exp();
            Pair { decay, mean: if x < 1e-6 { 1.0 } else { (1.0 - decay) / x } }
        });
    }

    /// Volts and slope of one cell at the end of the step, were that current to flow there.
    fn end(&self, cell: &Cell, end_a: f64) -> (f64, f64) {
        let (start_a, h) = (self.current_a - cell.shunt_a, self.step_s);
        let end_a = end_a - cell.shunt_a;
        let fast: f64 = self.figures.pairs().iter().map(|(ratio, tau_s)| ratio * (1.0 - (-10.0 / tau_s).exp())).sum();
        let kept = self.kept(cell, 0.5 * (start_a + end_a));
        let per_a = 0.5 * h * kept / cell.capacity_as;
        let soc = cell.soc + per_a * (start_a + end_a) - h * cell.leak_a / cell.capacity_as;
        let (rest_v, slope) = cell.rest_v_at(&self.figures, soc);
        let cell_ohm = cell.ohm_now();
        let fast_ohm = cell_ohm * (1.0 - fast) * self.figures.ohm_by_soc(soc);
        let slow = self.figures.slow_by_soc(cell.soc, end_a >= 0.0);
        let (mut volts, mut per_amp) = (rest_v + fast_ohm * end_a, slope * per_a + fast_ohm);
        for ((ratio, _), (pair, slow_v)) in self.figures.pairs().iter().zip(self.pairs.iter().zip(cell.slow_v)) {
            let ohm = cell_ohm * ratio * slow;
            volts += slow_v * pair.decay + ohm * (start_a * (pair.mean - pair.decay) + end_a * (1.0 - pair.mean));
            per_amp += ohm * (1.0 - pair.mean);
        }
        // What a short inside takes over the step at the volts it ends at, which are the lower for it.
        let taken = 1.0 + slope * h / (cell.capacity_as * cell.short_ohm);
        (volts / taken, per_amp / taken)
    }

    fn kept(&self, cell: &Cell, current_a: f64) -> f64 {
        if current_a <= 0.0 {
            return 1.0;
        }
        self.figures.keeps(cell.soc, current_a * 3600.0 / cell.capacity_as, self.temperature_c)
    }

    /// Volts and slope of all of them at the end of the step, were that current to flow there.
    pub(crate) fn line(&self, end_a: f64) -> (f64, f64) {
        self.cells.iter().fold((0.0, 0.0), |(volts, slope), cell| {
            let (v, ohm) = self.end(cell, end_a);
            (volts + v, slope + ohm)
        })
    }

    /// Takes the step with what flows at its end.
    pub(crate) fn take(&mut self, end_a: f64) {
        let h = self.step_s;
        let figures = self.figures;
        let fast: f64 = figures.pairs().iter().map(|(ratio, tau_s)| ratio * (1.0 - (-10.0 / tau_s).exp())).sum();
        let ends: Vec<f64> = self.cells.iter().map(|cell| self.end(cell, end_a).0).collect();
        let (mut stored_j, mut heat_j) = (0.0, 0.0);
        let (start_a, temperature_c) = (self.current_a, self.temperature_c);
        for (cell, volts) in self.cells.iter_mut().zip(ends) {
            let (i0, i1) = (start_a - cell.shunt_a, end_a - cell.shunt_a);
            let mean_a = 0.5 * (i0 + i1);
            let keeps = if mean_a > 0.0 {
                figures.keeps(cell.soc, mean_a * 3600.0 / cell.capacity_as, temperature_c)
            } else {
                1.0
            };
            let slow = figures.slow_by_soc(cell.soc, i1 >= 0.0);
            let lost_a = cell.leak_a + volts / cell.short_ohm;
            let soc = cell.soc + h * (keeps * mean_a - lost_a) / cell.capacity_as;
            let middle_v = cell.rest_v_at(&figures, 0.5 * (cell.soc + soc)).0;
            stored_j += (soc - cell.soc) * cell.capacity_as * middle_v;
            let lost_j = h * ((1.0 - keeps) * mean_a + lost_a) * middle_v;
            let cell_ohm = cell.ohm_now();
            let fast_ohm = cell_ohm * (1.0 - fast) * figures.ohm_by_soc(soc);
            let squared = (i0 * i0 + i0 * i1 + i1 * i1) / 3.0;
            heat_j += lost_j + h * fast_ohm * squared + h * cell.shunt_a * 0.5 * (cell.volts + volts);
            for (k, (ratio, tau_s)) in figures.pairs().iter().enumerate() {
                let ohm = cell_ohm * ratio * slow;
                let before_v = cell.slow_v[k];
                let pair = self.pairs[k];
                let after_v = before_v * pair.decay + ohm * (i0 * (pair.mean - pair.decay) + i1 * (1.0 - pair.mean));
                let farads = tau_s / ohm.max(1e-12);
                stored_j += 0.5 * farads * (after_v * after_v - before_v * before_v);
                heat_j += squared_over(before_v, ohm, *tau_s, (i0, i1), h) / ohm.max(1e-12);
                cell.slow_v[k] = after_v;
            }
            let moved = h * mean_a / (0.02 * cell.capacity_as);
            cell.branch = (cell.branch + moved).clamp(-1.0, 1.0);
            if let Some(crust) = &mut cell.crust
                && mean_a > 0.0
            {
                crust.times *= (-h / crust.yields_s).exp();
            }
            (cell.soc, cell.volts) = (soc, volts);
        }
        self.current_a = end_a;
        self.stored_j += stored_j;
        self.heat_j += heat_j;
        if h > 0.0 {
            let settled_k = heat_j / h / self.sheds_w_per_k;
            let share = 1.0 - (-h * self.sheds_w_per_k / self.warms_j_per_k).exp();
            self.temperature_c += (self.around_c + settled_k - self.temperature_c) * share;
        }
    }

    /// Lets balancers and board answer what the cells now stand at, and what its terminals are offered; whether
    /// anything switched.
    pub(crate) fn answer(&mut self, offered_v: f64) -> bool {
        /// Over so many volts a balancer comes to carry all it can.
        const OVER_V: f64 = 0.010;
        if let Some(balancer) = self.balancer {
            for cell in &mut self.cells {
                let share = ((cell.volts - balancer.from_v) / OVER_V).clamp(0.0, 1.0);
                // It follows what it sees half way a step, so that it does not swing.
                cell.shunt_a += 0.5 * (share * balancer.most_a - cell.shunt_a);
            }
        }
        let highest_v = self.highest_v();
        let current_a = self.current_a;
        let Some(board) = &mut self.board else { return false };
        if board.open && board.wakes_v.is_some_and(|wakes_v| offered_v >= wakes_v) {
            (board.open, board.wakes_v) = (false, None);
            return true;
        }
        let opens = highest_v > board.opens_v || current_a > 1.3 * board.most_a;
        if opens && !board.open {
            board.open = true;
            return true;
        }
        false
    }
}
