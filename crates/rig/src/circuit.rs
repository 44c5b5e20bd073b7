//! Nodes and the parts between them: one moment solved, one step taken.
//!
//! Nodal analysis with Newton's turns. Within a step the current of a cell runs straight; a step that changes
//! more than a little is taken again at half its length.

use rumek_core::codes::Place;

use crate::matrix::Equations;
use crate::parts::{Flow, Kind};

/// A node; 0 is ground.
pub type Node = usize;

/// A part with where it is joined.
#[derive(Clone, Debug)]
pub struct Part {
    /// The stage of a chain it belongs to.
    pub place: Place,
    /// What it is.
    pub kind: Kind,
    /// Its plus, or where current enters; a regulator's output.
    pub plus: Node,
    /// Its minus, or where current leaves.
    pub minus: Node,
    /// Where a regulator is fed, or a supply senses; its plus for every other.
    pub input: Node,
    /// What flows from plus to minus, A; of a regulator what it puts out.
    pub current_a: f64,
    /// What flows into a regulator's input, A.
    pub input_a: f64,
    /// What it has taken up, given away counted as less than nothing, J.
    pub absorbed_j: f64,
}

/// The most turns until a moment is found.
const TURNS: usize = 60;
/// For so many turns what draws a power is taken for a resistor, which runs away to nowhere.
const RESISTORS: usize = 8;
/// A moment is found when nothing moves by more than this, V.
const FOUND_V: f64 = 1e-8;
/// The shortest and the longest step, s.
const LEAST_S: f64 = 0.02;
const MOST_S: f64 = 120.0;

/// Nodes and parts.
#[derive(Clone, Debug)]
pub struct Circuit {
    parts: Vec<Part>,
    volts: Vec<f64>,
    /// Where its nodes are thought to stand when it is switched on.
    thought_v: Vec<f64>,
    equations: Equations,
    t_s: f64,
    step_s: f64,
    /// For how long it has settled nowhere, s; once too long it stays so.
    unsettled_s: f64,
}

/// What settles nowhere for so long swings, s: a passing from one line to the next takes a step or two.
const SWINGS_S: f64 = 1.0;

impl Default for Circuit {
    fn default() -> Self {
        Self {
            parts: Vec::new(),
            volts: vec![0.0],
            thought_v: vec![0.0],
            equations: Equations::new(0),
            t_s: 0.0,
            step_s: LEAST_S,
            unsettled_s: 0.0,
        }
    }
}

impl Circuit {
    /// A new node, thought to stand at some volts.
    pub fn node(&mut self, volts: f64) -> Node {
        self.volts.push(volts);
        self.thought_v.push(volts);
        self.equations = Equations::new(self.volts.len() - 1);
        self.volts.len() - 1
    }

    /// Puts a part between two nodes; its number.
    pub fn add(&mut self, place: Place, kind: Kind, plus: Node, minus: Node) -> usize {
        self.parts.push(Part { place, kind, plus, minus, input: plus, current_a: 0.0, input_a: 0.0, absorbed_j: 0.0 });
        self.parts.len() - 1
    }

    /// Puts a regulator between the node that feeds it and its output; its number.
    pub fn add_between(&mut self, place: Place, kind: Kind, input: Node, output: Node) -> usize {
        let number = self.add(place, kind, output, 0);
        self.parts[number].input = input;
        number
    }

    /// Every part.
    #[must_use]
    pub fn parts(&self) -> &[Part] {
        &self.parts
    }

    /// A part to be turned at.
    pub fn part_mut(&mut self, number: usize) -> &mut Part {
        self.step_s = LEAST_S;
        &mut self.parts[number]
    }

    /// What a part is, where what changes in it is as slow as the steps.
    pub(crate) fn kind_mut(&mut self, number: usize) -> &mut Kind {
        &mut self.parts[number].kind
    }

    /// Between a part's plus and minus, V.
    #[must_use]
    pub fn across(&self, part: &Part) -> f64 {
        self.volts[part.plus] - self.volts[part.minus]
    }

    /// At a node, V.
    #[must_use]
    pub fn at(&self, node: Node) -> f64 {
        self.volts[node]
    }

    /// Whether a moment came that settles nowhere: what is fed asks for more than what feeds it can give.
    #[must_use]
    pub fn swings(&self) -> bool {
        self.unsettled_s > SWINGS_S
    }

    /// Since the start, s.
    #[must_use]
    pub fn t_s(&self) -> f64 {
        self.t_s
    }

    /// Thinks every node where it was thought to stand at first, before it is switched on.
    pub fn start(&mut self) {
        self.volts.clone_from(&self.thought_v);
        for part in &mut self.parts {
            match &mut part.kind {
                Kind::Supply(supply) => supply.start(),
                Kind::Regulator(regulator) => regulator.start(),
                _ => {}
            }
        }
    }

    /// Thinks every regulator at the volts it holds.
    fn hold(&mut self) {
        self.start();
        for part in &mut self.parts {
            if let Kind::Regulator(regulator) = &mut part.kind {
                regulator.hold();
            }
        }
    }

    /// Finds what flows at this very moment, and lets what switches by itself switch.
    pub fn settle(&mut self) {
        for _ in 0..8 {
            if !self.solve(0.0) {
                self.start();
                self.solve(0.0);
            }
            for part in &mut self.parts {
                if let Kind::Cells(cells) = &mut part.kind {
                    cells.take(part.current_a);
                }
            }
            if !self.answer(0.0) {
                break;
            }
        }
        self.step_s = LEAST_S;
    }

    /// Takes a step of at most so many seconds; how long it was.
    pub fn step(&mut self, most_s: f64) -> f64 {
        let mut h = self.step_s.min(most_s).min(MOST_S);
        let before_v = self.volts.clone();
        let before: Vec<(f64, f64)> = self.parts.iter().map(|part| (part.current_a, part.input_a)).collect();
        let mut change;
        let mut found;
        loop {
            found = self.solve(h);
            if !found && h <= LEAST_S {
                self.start();
                found = self.solve(h) || {
                    self.hold();
                    self.solve(h)
                };
            }
            change = if found { self.change(&before, h) } else { 5.0 };
            if change <= 1.6 || h <= LEAST_S {
                break;
            }
            h = (h * (1.0 / change).clamp(0.2, 0.6)).max(LEAST_S);
            self.volts.clone_from(&before_v);
            for (part, (current_a, input_a)) in self.parts.iter_mut().zip(&before) {
                (part.current_a, part.input_a) = (*current_a, *input_a);
            }
        }
        if !found {
            self.unsettled_s += h;
        } else if !self.swings() {
            self.unsettled_s = 0.0;
        }
        self.count(h, &before_v, &before);
        for part in &mut self.parts {
            if let Kind::Cells(cells) = &mut part.kind {
                cells.take(part.current_a);
            }
        }
        self.t_s += h;
        self.step_s = (h * (0.9 / change.max(0.1)).clamp(0.4, 2.0)).max(LEAST_S);
        if self.answer(h) {
            self.settle();
        }
        h
    }

    /// What each part took up over a step, volts and amps running straight.
    fn count(&mut self, h: f64, before_v: &[f64], before: &[(f64, f64)]) {
        let volts = &self.volts;
        let product =
            |v: (f64, f64), a: (f64, f64)| h * (2.0 * v.0 * a.0 + v.0 * a.1 + v.1 * a.0 + 2.0 * v.1 * a.1) / 6.0;
        for (part, (before_a, before_in_a)) in self.parts.iter_mut().zip(before) {
            let at = |node: Node| (before_v[node], volts[node]);
            let (plus, minus) = (at(part.plus), at(part.minus));
            let amps = (*before_a, part.current_a);
            part.absorbed_j += if matches!(part.kind, Kind::Regulator(_)) {
                product(at(part.input), (*before_in_a, part.input_a)) - product(plus, amps)
            } else {
                product((plus.0 - minus.0, plus.1 - minus.1), amps)
            };
        }
    }

    /// How much a step changes: 1 is as much as one should.
    fn change(&self, before: &[(f64, f64)], h: f64) -> f64 {
        let mut change: f64 = 0.0;
        for (part, (before_a, _)) in self.parts.iter().zip(before) {
            let Kind::Cells(cells) = &part.kind else { continue };
            let Some(capacity_as) = cells.cells.first().map(|cell| cell.capacity_as) else { continue };
            let scale_a = before_a.abs().max(part.current_a.abs()).max(capacity_as / 3600.0 / 200.0);
            let current = (part.current_a - before_a).abs() / (0.04 * scale_a);
            let soc = h * part.current_a.abs() / capacity_as / 0.004;
            change = change.max(current).max(soc);
        }
        change
    }

    /// Lets what switches by itself answer; whether anything did.
    fn answer(&mut self, h: f64) -> bool {
        let mut switched = false;
        let (t_s, volts) = (self.t_s, &self.volts);
        for part in &mut self.parts {
            let across_v = volts[part.plus] - volts[part.minus];
            switched |= match &mut part.kind {
                Kind::Wire(wire) => wire.carry(part.current_a.abs(), h),
                Kind::Cells(cells) => h > 0.0 && cells.answer(across_v),
                Kind::Supply(supply) => supply.answer(-part.current_a, across_v, t_s),
                Kind::Regulator(regulator) => regulator.answer(volts[part.input], part.current_a, t_s),
                Kind::Relay(relay) => relay.answer(volts[part.minus]),
                Kind::Lamp(_) | Kind::Resistor(_) | Kind::Diode(_) | Kind::Load(..) => false,
            };
        }
        switched
    }

    /// Finds the end of a step; whether it was found.
    fn solve(&mut self, h: f64) -> bool {
        for part in &mut self.parts {
            if let Kind::Cells(cells) = &mut part.kind {
                cells.prepare(h);
            }
        }
        let most_v = 1.0 + 0.5 * self.thought_v.iter().copied().fold(0.0, f64::max);
        for turn in 0..TURNS {
            self.equations.clear();
            for part in &self.parts {
                stamp(&mut self.equations, part, &self.volts, turn < RESISTORS);
            }
            // Every node leaks a little, so that one that nothing feeds still stands somewhere.
            for node in 1..self.volts.len() {
                self.equations.add(node, node, 1e-9);
            }
            let mut moved_v: f64 = 0.0;
            let solved = self.equations.solve();
            // Between two answers that send it back and forth it goes half the way.
            let share = if turn < 20 { 1.0 } else { 0.5 };
            for (volts, solved_v) in self.volts.iter_mut().skip(1).zip(solved) {
                let step_v = ((solved_v - *volts) * share).clamp(-most_v, most_v);
                moved_v = moved_v.max(step_v.abs() / (1.0 + solved_v.abs()));
                *volts += step_v;
            }
            let mut passed = false;
            for part in &mut self.parts {
                passed |= pass(part, &self.volts);
                draw(part, &self.volts);
            }
            // Right at the corner of two lines it may pass to and fro without moving.
            if moved_v < FOUND_V && (!passed || turn > TURNS / 2) {
                return true;
            }
        }
        false
    }
}

/// What flows through a part with two ends near some volts: amps there and their slope.
fn two_ended(part: &Part, volts: &[f64]) -> (f64, f64) {
    /// What an open contact still lets through, S.
    const OPEN: f64 = 1e-9;
    let v = volts[part.plus] - volts[part.minus];
    let through = |ohm: f64| (v / ohm.max(1e-5), 1.0 / ohm.max(1e-5));
    match &part.kind {
        Kind::Wire(wire) if wire.whole() => through(wire.ohm),
        Kind::Wire(_) => (OPEN * v, OPEN),
        Kind::Cells(cells) if cells.is_open() => (OPEN * v, OPEN),
        Kind::Cells(cells) => {
            let (rest_v, ohm) = cells.line(part.current_a);
            (part.current_a + (v - rest_v) / ohm, 1.0 / ohm)
        }
        Kind::Lamp(lamp) => lamp.at(v),
        Kind::Resistor(ohm) => through(*ohm),
        Kind::Diode(drop_v) => {
            const ON_OHM: f64 = 5e-3;
            if v > *drop_v { ((v - drop_v) / ON_OHM, 1.0 / ON_OHM) } else { (OPEN * (v - drop_v), OPEN) }
        }
        Kind::Relay(relay) if relay.closed => through(1e-3),
        Kind::Relay(_) => (OPEN * v, OPEN),
        Kind::Load(load, true) if v > 0.0 => load.at(v),
        Kind::Load(..) | Kind::Supply(_) | Kind::Regulator(_) => (OPEN * v, OPEN),
    }
}

/// Lays a part's straight line near some volts into the equations.
fn stamp(equations: &mut Equations, part: &Part, volts: &[f64], as_resistor: bool) {
    let (plus, minus) = (part.plus, part.minus);
    match &part.kind {
        Kind::Regulator(regulator) => {
            let (in_v, out_v) = (volts[part.input], volts[plus]);
            let Flow { in_a, out_a, in_by_in, in_by_watts, in_by_out, out_by_in, out_by_out } =
                regulator.flow(in_v, out_v);
            let in_by_in = if as_resistor { in_by_in + in_by_watts } else { in_by_in - in_by_watts };
            // Drawn from the input, pushed into the output.
            equations.add(part.input, part.input, in_by_in);
            equations.add(part.input, plus, in_by_out);
            equations.add_right(part.input, in_by_in * in_v + in_by_out * out_v - in_a);
            equations.add(plus, part.input, -out_by_in);
            equations.add(plus, plus, -out_by_out);
            equations.add_right(plus, out_a - out_by_in * in_v - out_by_out * out_v);
        }
        Kind::Supply(supply) => {
            let seen_v = volts[part.input] - volts[minus];
            let (gives_a, slope) = supply.at(seen_v);
            for (node, sign) in [(plus, 1.0), (minus, -1.0)] {
                equations.add(node, part.input, -sign * slope);
                equations.add(node, minus, sign * slope);
                equations.add_right(node, sign * (gives_a - slope * seen_v));
            }
        }
        _ => {
            let v = volts[plus] - volts[minus];
            let (through_a, slope) = two_ended(part, volts);
            for (node, sign) in [(plus, 1.0), (minus, -1.0)] {
                equations.add(node, plus, sign * slope);
                equations.add(node, minus, -sign * slope);
                equations.add_right(node, -sign * (through_a - slope * v));
            }
        }
    }
}

/// Lets what holds a voltage pass to the next of its lines; whether it did.
fn pass(part: &mut Part, volts: &[f64]) -> bool {
    match &mut part.kind {
        Kind::Supply(supply) => supply.pass(volts[part.input] - volts[part.minus]),
        Kind::Regulator(regulator) => regulator.pass(volts[part.input], volts[part.plus]),
        _ => false,
    }
}

/// Notes what flows through a part at the volts found.
fn draw(part: &mut Part, volts: &[f64]) {
    match &part.kind {
        Kind::Regulator(regulator) => {
            let flow = regulator.flow(volts[part.input], volts[part.plus]);
            (part.current_a, part.input_a) = (flow.out_a, flow.in_a);
        }
        Kind::Supply(supply) => part.current_a = -supply.at(volts[part.input] - volts[part.minus]).0,
        _ => part.current_a = two_ended(part, volts).0,
    }
}
