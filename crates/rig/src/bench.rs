//! A plan wired up, with knobs that are turned and displays that are read.

mod knobs;
mod wiring;

use rumek_core::CellFigures;
use rumek_core::codes::{Balancer as Levels, ChargerKind, Overload, Place, SourceKind};
use rumek_core::formats::{ChargerDoc, PackDoc, PlanDoc};

use crate::circuit::Circuit;
use crate::parts::{Cells, Kind, Load, Relay};
use crate::passing::{Passings, Rating};
use crate::truth::Truth;
use wiring::{cells, charger_parts, ratings, source_parts, wire_on};

/// A plan wired up.
#[derive(Clone, Debug)]
pub struct Bench {
    circuit: Circuit,
    plan: PlanDoc,
    supplies: Vec<usize>,
    battery: Option<usize>,
    charger: Option<usize>,
    packs: Vec<usize>,
    /// What each of them may be charged with, A.
    packs_a: Vec<f64>,
    load: Option<usize>,
    load_until_s: f64,
    passings: Passings,
    ratings: Ratings,
    charge_as: f64,
    late_s: f64,
}

/// What may be passed, as labels say it or as is usual.
#[derive(Clone, Copy, Debug)]
struct Ratings {
    pack_a: f64,
    board_a: f64,
    cell_v: f64,
    /// Whether a whole block's mean is what that holds for: inside a block cells differ by some hundredths.
    by_block: bool,
    window_c: (f64, f64),
    deep_v: f64,
    deep_a: f64,
}

/// Whether a cell has come up is read to two hundredths, and the last of them may deceive, V.
const READ_DEEP_V: f64 = 0.03;
/// One of several supplies is set a little higher than the next, V.
const APART_V: f64 = 0.01;
/// A supply's output, Ω.
const OUTPUT_OHM: f64 = 1e-3;
/// … and of a unit in a row with its jumper to the bus, Ω.
const JUMPER_OHM: f64 = 0.01;

impl Bench {
    /// Wires up a plan whose every default is filled in; `soc` is where the card thinks the pack starts. `None`
    /// for a pack of cells nobody has figures of, or a plan without one.
    #[must_use]
    pub fn of(plan: &PlanDoc, soc: f64, truth: &Truth) -> Option<Self> {
        let pack = plan.pack.clone()?;
        let figures = CellFigures::of(pack.chemistry?)?;
        let n = f64::from(pack.packs_in_parallel.unwrap_or(1));
        let mut circuit = Circuit::default();
        let cells = cells(&pack, figures, truth.soc.unwrap_or(soc), truth)?;
        let rest_v = cells.rest_v();
        let mut at = circuit.node(rest_v);
        let (mut supplies, mut battery, mut charger) = (Vec::new(), None, None);
        if let Some(source) = &plan.source {
            let leads = plan.leads.clone().unwrap_or_default();
            at = source_parts(&mut circuit, source, truth, &mut supplies, &mut battery)?;
            if let Some(lead) = &leads.input {
                at = wire_on(&mut circuit, Place::InputLead, lead, at)?;
            }
            if let Some(doc) = &plan.charger {
                let (output, number) = charger_parts(&mut circuit, doc, source, at, rest_v, truth)?;
                (at, charger) = (output, number);
            }
            if let Some(doc) = &plan.cut_off {
                let next = circuit.node(rest_v);
                let over = truth.relay * doc.error_v.unwrap_or(0.0);
                let relay = Relay { low_v: doc.low_v?, high_v: doc.high_v?, reads_over_v: over, closed: true };
                circuit.add(Place::CutOff, Kind::Relay(relay), at, next);
                at = next;
            }
            if let Some(lead) = &leads.output {
                at = wire_on(&mut circuit, Place::OutputLead, lead, at)?;
            }
            if source.remote_sense == Some(true) && plan.charger.is_none() {
                for number in &supplies {
                    circuit.part_mut(*number).input = at;
                }
            }
        }
        let ratings = ratings(&pack, figures, n);
        let mut packs = vec![circuit.add(Place::Pack, Kind::Cells(Box::new(cells)), at, 0)];
        let mut packs_a = vec![ratings.pack_a];
        for other in plan.other_packs.iter().flatten() {
            let doc = PackDoc {
                capacity_ah: other.capacity_ah,
                resistance_mohm: other.resistance_mohm.or(pack.resistance_mohm),
                rated_charge_a: other.rated_charge_a,
                rated_c_rate: pack.rated_c_rate.filter(|_| other.rated_charge_a.is_none()),
                ..pack.clone()
            };
            packs_a.push(self::ratings(&doc, figures, n).pack_a);
            let cells = self::cells(&doc, figures, truth.soc.unwrap_or(soc), truth)?;
            packs.push(circuit.add(Place::Pack, Kind::Cells(Box::new(cells)), at, 0));
        }
        let load = plan.load.as_ref().and_then(|load| {
            let load = match (load.current_a, load.power_w) {
                (Some(a), _) => Load::Current(a),
                (None, watts) => Load::Power { watts: watts?, floor_v: 0.3 * rest_v.max(1.0) },
            };
            Some(circuit.add(Place::Load, Kind::Load(load, true), at, 0))
        });
        Some(Self {
            circuit,
            plan: plan.clone(),
            supplies,
            battery,
            charger,
            packs,
            packs_a,
            load,
            load_until_s: truth.load_until_s,
            passings: Passings::default(),
            ratings,
            charge_as: 0.0,
            late_s: truth.late_s,
        })
    }

    /// A pack alone with what is to run it down: a load, a resistor, lamps. `None` as for [`Self::of`].
    #[must_use]
    pub fn running_down(plan: &PlanDoc, soc: f64, truth: &Truth, sink: Kind) -> Option<Self> {
        let alone = PlanDoc { source: None, charger: None, load: None, ..plan.clone() };
        let mut bench = Self::of(&alone, soc, truth)?;
        let pack = bench.circuit.parts()[*bench.packs.first()?].input;
        bench.load = Some(bench.circuit.add(Place::Load, sink, pack, 0));
        bench.circuit.settle();
        Some(bench)
    }

    /// Puts other cells where the first pack stood: the same pack on another bench.
    pub fn put(&mut self, cells: Cells) {
        if let Some(number) = self.packs.first() {
            self.circuit.part_mut(*number).kind = Kind::Cells(Box::new(cells));
            self.circuit.start();
        }
    }

    /// The circuit, to be looked at with a probe anywhere.
    #[must_use]
    pub fn circuit(&self) -> &Circuit {
        &self.circuit
    }

    /// By so much whoever turns its knobs comes late, s.
    #[must_use]
    pub fn late_s(&self) -> f64 {
        self.late_s
    }

    /// Since it was switched on, s.
    #[must_use]
    pub fn t_s(&self) -> f64 {
        self.circuit.t_s()
    }

    /// Every rating passed so far.
    #[must_use]
    pub fn passings(&self) -> &Passings {
        &self.passings
    }

    fn cells(&self, number: usize) -> Option<&Cells> {
        match &self.circuit.parts()[number].kind {
            Kind::Cells(cells) => Some(cells),
            _ => None,
        }
    }

    /// The first pack.
    #[must_use]
    pub fn pack(&self) -> Option<&Cells> {
        self.cells(*self.packs.first()?)
    }

    /// How full all packs are together.
    #[must_use]
    pub fn soc(&self) -> f64 {
        let (held, whole) =
            self.packs.iter().filter_map(|number| self.cells(*number)).fold((0.0, 0.0), |sum, cells| {
                let whole = cells.cells.first().map_or(0.0, |cell| cell.capacity_as);
                (sum.0 + cells.soc() * whole, sum.1 + whole)
            });
        held / whole.max(1e-12)
    }

    /// What has gone into the packs, A·s.
    #[must_use]
    pub fn charge_as(&self) -> f64 {
        self.charge_as
    }

    /// What has been taken up somewhere but nowhere given, or the reverse, as a share of all that was given; the
    /// cells' own account against what flowed into them counted with it.
    #[must_use]
    pub fn unaccounted(&self) -> f64 {
        let (mut sum_j, mut given_j, mut worst_j) = (0.0, 0.0, 0.0_f64);
        for part in self.circuit.parts() {
            sum_j += part.absorbed_j;
            given_j += (-part.absorbed_j).max(0.0);
            if let Kind::Cells(cells) = &part.kind {
                worst_j = worst_j.max((part.absorbed_j - cells.stored_j - cells.heat_j).abs());
            }
        }
        // What every open contact lets through adds up to less than a joule in a day.
        const NEXT_TO_NOTHING_J: f64 = 100.0;
        let sum_j: f64 = sum_j;
        sum_j.abs().max(worst_j) / f64::max(given_j, NEXT_TO_NOTHING_J)
    }

    /// At the packs' terminals, V.
    #[must_use]
    pub fn pack_v(&self) -> f64 {
        self.packs.first().map_or(0.0, |number| self.circuit.across(&self.circuit.parts()[*number]))
    }

    /// Into the packs, A.
    #[must_use]
    pub fn pack_a(&self) -> f64 {
        self.packs.iter().map(|number| self.circuit.parts()[*number].current_a).sum()
    }

    /// Out of what feeds the packs, their load's share with it, A.
    #[must_use]
    pub fn total_a(&self) -> f64 {
        self.pack_a() + self.load.map_or(0.0, |number| self.circuit.parts()[number].current_a)
    }

    /// What a battery that feeds still holds, 0…1.
    #[must_use]
    pub fn source_soc(&self) -> Option<f64> {
        self.battery.and_then(|number| self.cells(number)).map(Cells::soc)
    }

    /// Whether the relay before the pack conducts; without one it does.
    #[must_use]
    pub fn relay_closed(&self) -> bool {
        self.circuit.parts().iter().all(|part| !matches!(&part.kind, Kind::Relay(relay) if !relay.closed))
    }

    /// Whether any supply has let go, or a regulator is starved.
    #[must_use]
    pub fn let_go(&self) -> bool {
        self.circuit.parts().iter().any(|part| match &part.kind {
            Kind::Supply(supply) => supply.has_tripped(),
            Kind::Regulator(regulator) => regulator.is_starved(),
            _ => false,
        })
    }

    /// Whether what sets the voltage holds it, as its own sign of constant voltage says.
    #[must_use]
    pub fn holds_volts(&self) -> bool {
        let number = self.charger.or(self.supplies.first().copied());
        number.is_some_and(|number| match &self.circuit.parts()[number].kind {
            Kind::Supply(supply) => supply.holds(),
            Kind::Regulator(regulator) => regulator.holds(),
            _ => false,
        })
    }

    /// Whether a fuse has melted or a wire has burnt through.
    #[must_use]
    pub fn burnt(&self) -> bool {
        self.circuit.parts().iter().any(|part| matches!(&part.kind, Kind::Wire(wire) if !wire.whole()))
    }

    /// Finds what flows at this very moment, after a knob was turned.
    pub fn settle(&mut self) {
        self.circuit.settle();
    }

    /// Takes a step of at most so many seconds; how long it was.
    pub fn step(&mut self, most_s: f64) -> f64 {
        let (t_s, before_a) = (self.t_s(), self.pack_a());
        if t_s >= self.load_until_s {
            self.load_until_s = f64::INFINITY;
            if let Some(Kind::Load(_, on)) = self.load.map(|number| &mut self.circuit.part_mut(number).kind) {
                *on = false;
            }
            self.circuit.settle();
        }
        let until_switch_s = self.load_until_s - t_s;
        let h = self.circuit.step(most_s.min(until_switch_s.max(0.02)));
        self.charge_as += h * 0.5 * (before_a + self.pack_a());
        self.trim();
        self.note(h);
        h
    }

    /// A charger that reads each cell holds the highest at its share.
    fn trim(&mut self) {
        let reads = self.plan.pack.as_ref().and_then(|pack| pack.balancer) == Some(Levels::BalanceLead);
        let is_hobby = self.plan.charger.as_ref().and_then(|doc| doc.kind) == Some(ChargerKind::HobbyCharger);
        if !(reads && is_hobby) {
            return;
        }
        let Some((highest_v, n)) = self.pack().map(|cells| (cells.highest_v(), cells.cells.len() as f64)) else {
            return;
        };
        if let Some(Kind::Regulator(regulator)) = self.charger.map(|number| self.circuit.kind_mut(number)) {
            let over_v = highest_v - regulator.volts / n;
            regulator.trimmed_v = (regulator.trimmed_v + 0.5 * over_v * n).clamp(0.0, 0.2 * regulator.volts);
        }
    }

    /// Notes every rating that is passed.
    fn note(&mut self, h: f64) {
        let t_s = self.t_s();
        let ratings = self.ratings;
        let pack_a = self.pack_a();
        let charger = self.plan.charger.as_ref();
        let mut passings = std::mem::take(&mut self.passings);
        let mut over =
            |at: Place, rating: Rating, value: f64, rated: f64| passings.note(at, rating, value, rated, t_s, h);
        for (number, may_a) in self.packs.iter().zip(&self.packs_a) {
            over(Place::Pack, Rating::PackAmps, self.circuit.parts()[*number].current_a, *may_a);
        }
        over(Place::Pack, Rating::BoardAmps, pack_a, ratings.board_a);
        if self.circuit.swings() {
            over(Place::Charger, Rating::LetGo, 1.0, 0.0);
        }
        for part in self.circuit.parts() {
            let across_v = self.circuit.across(part);
            match &part.kind {
                Kind::Cells(cells) if part.place == Place::Pack => {
                    // A hand meter tells hundredths.
                    let mean_v = cells.cells.iter().map(|cell| cell.volts).sum::<f64>() / cells.cells.len() as f64;
                    let most_v = if ratings.by_block { mean_v } else { cells.highest_v() };
                    over(Place::Pack, Rating::CellVolts, most_v - 0.01, ratings.cell_v);
                    if part.current_a > 0.005 * ratings.pack_a.min(1e3) {
                        let (low_c, high_c) = ratings.window_c;
                        let outside = (low_c - cells.temperature_c).max(cells.around_c - high_c);
                        over(Place::Pack, Rating::PackTemperature, outside, 0.5);
                    }
                    // A cell that is bridged inside is dead: nothing spares it.
                    let alive = cells.cells.iter().filter(|cell| cell.short_ohm.is_infinite());
                    let deep = alive.into_iter().any(|cell| cell.volts < ratings.deep_v - READ_DEEP_V);
                    if deep {
                        over(Place::Pack, Rating::DeepCellAmps, part.current_a, ratings.deep_a);
                    }
                }
                Kind::Wire(wire) => {
                    over(part.place, Rating::WireAmps, part.current_a.abs(), wire.carries_a);
                    over(part.place, Rating::FuseAmps, part.current_a.abs(), wire.fuse_a.unwrap_or(f64::INFINITY));
                }
                Kind::Supply(supply) => {
                    let gives_a = -part.current_a;
                    if supply.overload != Overload::ConstantCurrent {
                        over(Place::Source, Rating::SourceAmps, gives_a, supply.rated_a.unwrap_or(f64::INFINITY));
                        over(
                            Place::Source,
                            Rating::SourceWatts,
                            gives_a * across_v,
                            supply.rated_w.unwrap_or(f64::INFINITY),
                        );
                    }
                    if supply.has_tripped() {
                        over(Place::Source, Rating::LetGo, 1.0, 0.0);
                    }
                }
                Kind::Regulator(regulator) => {
                    let in_v = self.circuit.at(part.input);
                    let number =
                        |field: fn(&ChargerDoc) -> Option<f64>| charger.and_then(field).unwrap_or(f64::INFINITY);
                    let watts = charger.and_then(|doc| {
                        let mains = self.plan.source.as_ref().and_then(|s| s.kind) == Some(SourceKind::Mains);
                        doc.mains_output_max_w.filter(|_| mains).or(doc.output_max_w)
                    });
                    over(Place::Charger, Rating::OutputAmps, part.current_a, number(|doc| doc.output_max_a));
                    over(
                        Place::Charger,
                        Rating::OutputWatts,
                        part.current_a * across_v,
                        watts.unwrap_or(f64::INFINITY),
                    );
                    if self.plan.source.as_ref().and_then(|s| s.kind) != Some(SourceKind::Mains) {
                        over(Place::Charger, Rating::InputAmps, part.input_a, number(|doc| doc.input_max_a));
                        over(Place::Charger, Rating::InputWatts, part.input_a * in_v, number(|doc| doc.input_max_w));
                        over(Place::Charger, Rating::InputVolts, in_v, number(|doc| doc.input_max_v));
                    }
                    if regulator.is_starved() {
                        over(Place::Charger, Rating::LetGo, 1.0, 0.0);
                    }
                }
                Kind::Lamp(lamp) => over(Place::Charger, Rating::LampVolts, across_v, 1.1 * lamp.rated_v),
                Kind::Resistor(_) if part.place == Place::Charger => {
                    let rated_w = charger.and_then(|doc| doc.rated_w).unwrap_or(f64::INFINITY);
                    over(Place::Charger, Rating::ResistorWatts, across_v * part.current_a, rated_w);
                }
                _ => {}
            }
        }
        self.passings = passings;
    }
}
