//! A plan wired up, with knobs that are turned and displays that are read.

use rumek_core::CellFigures;
use rumek_core::codes::{
    Balancer as Levels, ChargerKind, MeterAt, MeterQuantity, Overload, Place, SourceKind, Topology, Wiring,
};
use rumek_core::formats::{ChargerDoc, LeadDoc, PackDoc, PlanDoc, SourceDoc};

use crate::circuit::{Circuit, Node};
use crate::parts::{Balancer, Board, Cell, Cells, Keeps, Kind, Lamp, Load, Regulator, Relay, Supply, Wire, Works};
use crate::passing::{Passings, Rating};
use crate::truth::Truth;

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
    window_c: (f64, f64),
    deep_v: f64,
    deep_a: f64,
}

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

    /// What a display shows while something is so; the plan's own comparison before the device's.
    #[must_use]
    pub fn shows(&self, at: Place, quantity: MeterQuantity, so: f64) -> f64 {
        self.correction(at, quantity).map_or(so, |(gain, offset)| (so - offset) / gain)
    }

    /// What is so while a display shows something.
    #[must_use]
    pub fn is_so(&self, at: Place, quantity: MeterQuantity, shown: f64) -> f64 {
        self.correction(at, quantity).map_or(shown, |(gain, offset)| gain * shown + offset)
    }

    /// `so = gain · shown + offset`.
    fn correction(&self, at: Place, quantity: MeterQuantity) -> Option<(f64, f64)> {
        let device = match at {
            Place::Charger => self.plan.charger.as_ref().and_then(|doc| doc.meters.as_ref()),
            _ => self.plan.source.as_ref().and_then(|doc| doc.meters.as_ref()),
        };
        let meter_at = if at == Place::Charger { MeterAt::Charger } else { MeterAt::Source };
        let own =
            self.plan.meters.iter().flatten().find(|doc| doc.at == Some(meter_at) && doc.quantity == Some(quantity));
        let meter = own.or_else(|| device.into_iter().flatten().find(|doc| doc.quantity == Some(quantity)))?;
        let points: Vec<(f64, f64)> =
            meter.points.iter().flatten().filter_map(|point| Some((point.shown?, point.r#true?))).collect();
        match points.as_slice() {
            [] => None,
            [(shown, so)] => Some((so / shown, 0.0)),
            [(shown0, so0), .., (shown1, so1)] => {
                let gain = (so1 - so0) / (shown1 - shown0);
                Some((gain, so0 - gain * shown0))
            }
        }
    }

    /// Turns the volts of a supply or a charger, true volts.
    pub fn turn_volts(&mut self, at: Place, volts: f64) {
        if at == Place::Charger {
            if let Some(regulator) = self.regulator() {
                regulator.volts = volts;
            }
            return;
        }
        let in_series = self.plan.source.as_ref().is_some_and(|doc| doc.wiring == Some(Wiring::Series));
        let n = self.supplies.len() as f64;
        for (k, number) in self.supplies.clone().into_iter().enumerate() {
            if let Kind::Supply(supply) = &mut self.circuit.part_mut(number).kind {
                supply.volts = if in_series { volts / n } else { volts - APART_V * k as f64 };
            }
        }
    }

    /// What the volts of a supply or a charger stand at, true volts; all units of a supply together.
    #[must_use]
    pub fn set_volts(&self, at: Place) -> Option<f64> {
        let volts = |number: &usize| match &self.circuit.parts()[*number].kind {
            Kind::Supply(supply) => Some(supply.volts),
            Kind::Regulator(regulator) => Some(regulator.volts),
            _ => None,
        };
        if at == Place::Charger {
            return self.charger.as_ref().and_then(volts);
        }
        let in_series = self.plan.source.as_ref().is_some_and(|doc| doc.wiring == Some(Wiring::Series));
        if in_series { self.supplies.iter().map(volts).sum() } else { self.supplies.first().and_then(volts) }
    }

    /// Turns the current limit of every unit of a supply, or of a charger, true amps.
    pub fn turn_amps(&mut self, at: Place, amps: f64) {
        if at == Place::Charger {
            if let Some(regulator) = self.regulator() {
                regulator.limit_a = amps;
            }
            return;
        }
        for number in self.supplies.clone() {
            if let Kind::Supply(supply) = &mut self.circuit.part_mut(number).kind {
                supply.limit_a = amps.min(supply.rated_a.unwrap_or(f64::INFINITY));
            }
        }
    }

    /// Turns a switch's share of the time, 0…1.
    pub fn turn_duty(&mut self, share: f64) {
        if let Some(Regulator { works: Works::Duty { duty, .. }, .. }) = self.regulator() {
            *duty = share;
        }
    }

    /// A switch's share of the time, 0…1.
    #[must_use]
    pub fn duty(&self) -> Option<f64> {
        match &self.circuit.parts()[self.charger?].kind {
            Kind::Regulator(Regulator { works: Works::Duty { duty, .. }, .. }) => Some(*duty),
            _ => None,
        }
    }

    /// Tells a charger how much it may draw, A.
    pub fn limit_input(&mut self, amps: f64) {
        if let Some(Regulator { keeps: Some(keeps), .. }) = self.regulator() {
            keeps.input_a = keeps.input_a.min(amps);
        }
    }

    fn regulator(&mut self) -> Option<&mut Regulator> {
        match &mut self.circuit.part_mut(self.charger?).kind {
            Kind::Regulator(regulator) => Some(regulator),
            _ => None,
        }
    }

    /// Switches every supply and charger on, or off.
    pub fn switch(&mut self, on: bool) {
        for number in 0..self.circuit.parts().len() {
            match &mut self.circuit.part_mut(number).kind {
                Kind::Supply(supply) => supply.on = on,
                Kind::Regulator(regulator) => regulator.on = on,
                _ => {}
            }
        }
        self.circuit.start();
        self.circuit.settle();
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
                    over(Place::Pack, Rating::CellVolts, cells.highest_v() - 0.01, ratings.cell_v);
                    if part.current_a > 0.005 * ratings.pack_a.min(1e3) {
                        let (low_c, high_c) = ratings.window_c;
                        let outside = (low_c - cells.temperature_c).max(cells.around_c - high_c);
                        over(Place::Pack, Rating::PackTemperature, outside, 0.5);
                    }
                    let deep = cells.cells.iter().any(|cell| cell.volts < ratings.deep_v);
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

fn ratings(pack: &PackDoc, figures: CellFigures, n: f64) -> Ratings {
    let temperature_c = pack.temperature_c.unwrap_or(20.0);
    let ah = capacity_ah(pack, figures).unwrap_or(0.0);
    let label_a = pack.rated_charge_a.or(pack.rated_c_rate.map(|c| c * ah));
    let most_a = label_a.map_or(figures.refused_above_c_rate() * ah, |a| a.min(figures.most_c_rate() * ah));
    let series = f64::from(pack.series.unwrap_or(1));
    let label_v = pack.label_voltage_v.as_ref().and_then(|label| label.cycle).map(|[_, high]| high / series);
    let label_v = label_v.filter(|_| figures.label_says_ceiling()).map(|v| v + figures.compensation_v(temperature_c));
    let capacitor_v = pack.label_v.filter(|_| figures.counts_farads()).map(|v| v / series);
    let own_v = capacitor_v.unwrap_or(figures.ceiling_v(temperature_c));
    let deep_v = if figures.timed() || figures.counts_farads() { f64::NEG_INFINITY } else { figures.deep_below_v() };
    Ratings {
        pack_a: n * most_a,
        board_a: pack.bms.as_ref().and_then(|bms| bms.max_charge_a).map_or(f64::INFINITY, |a| n * a),
        // Nickel is ended by a sign of its own; its volts are no rating.
        cell_v: if figures.timed() { f64::INFINITY } else { label_v.map_or(own_v, |v| v.max(own_v)) },
        window_c: figures.window_c(),
        deep_v,
        deep_a: n * 0.12 * ah * if figures.usual_c_rate().is_finite() { figures.usual_c_rate().max(0.5) } else { 1.0 },
    }
}

fn capacity_ah(pack: &PackDoc, figures: CellFigures) -> Option<f64> {
    if figures.counts_farads() {
        let full_v = pack.label_v.map_or(figures.full_v(), |v| v / f64::from(pack.series.unwrap_or(1)));
        return pack.capacitance_f.map(|farads| farads * full_v / 3600.0);
    }
    pack.capacity_ah
}

/// All the packs of a plan as one string.
fn cells(pack: &PackDoc, figures: CellFigures, soc: f64, truth: &Truth) -> Option<Cells> {
    let n = f64::from(pack.packs_in_parallel.unwrap_or(1));
    let series = pack.series?;
    let ah = capacity_ah(pack, figures)? * pack.health.unwrap_or(1.0);
    let temperature_c = pack.temperature_c.unwrap_or(20.0);
    let ohm = pack.resistance_mohm? / 1e3 / n / f64::from(series) * truth.resistance;
    let start = pack.start.as_ref();
    let farads = figures.counts_farads();
    let scale = if farads { pack.label_v.map_or(1.0, |v| v / f64::from(series) / figures.full_v()) } else { 1.0 };
    let read: Vec<f64> = start.and_then(|start| start.cell_voltages_v.clone()).unwrap_or_default();
    let mean_soc = {
        let socs: Vec<f64> = read.iter().map(|v| soc_at(&figures, *v)).collect();
        socs.iter().sum::<f64>() / socs.len().max(1) as f64
    };
    let spread = if farads { pack.capacitance_spread.unwrap_or(0.0) / 2.0 } else { 0.0 };
    let cells = (0..series as usize).map(|k| {
        let apart = read.get(k).map_or(0.0, |v| soc_at(&figures, *v) - mean_soc);
        // Of capacitors the first is the smallest, the last as much larger.
        let size = match (k, series) {
            (0, 2..) => 1.0 - spread,
            (k, 2..) if k + 1 == series as usize => 1.0 + spread,
            _ => 1.0,
        };
        // Which of its two curves it starts on is not told where only its charge is.
        let mut cell = Cell::rested(ah * n * 3600.0 * truth.capacity * size, ohm, soc + apart, 1.0);
        if k == 0 {
            cell.capacity_as *= truth.weak_cell;
        }
        if farads && size != 1.0 {
            // They were filled in series: each holds the same charge.
            cell.soc = soc / size;
        }
        cell.scale = scale;
        cell
    });
    let mut cells = Cells::rested(figures, cells.collect(), temperature_c);
    let levels = pack.balancer.unwrap_or(Levels::None);
    if let Some(most_a) = pack.balance_current_a {
        let full_v = figures.full_v() * scale;
        cells.balancer = Some(Balancer { from_v: pack.balance_start_v.unwrap_or(full_v).min(full_v) - 0.01, most_a });
    } else if matches!(levels, Levels::BuiltIn | Levels::External)
        || pack.bms.as_ref().and_then(|bms| bms.balances) == Some(true)
    {
        cells.balancer = Some(Balancer { from_v: figures.full_v(), most_a: 0.002 * ah * n });
    }
    if let Some(most_a) = pack.bms.as_ref().and_then(|bms| bms.max_charge_a) {
        cells.board = Some(Board::closed(most_a * n, figures.ceiling_v(25.0) + 0.08));
    }
    Some(cells)
}

/// Where a cell that rests at some volts stands.
fn soc_at(figures: &CellFigures, volts: f64) -> f64 {
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..40 {
        let middle = 0.5 * (low + high);
        if figures.rest_v(middle).0 < volts { low = middle } else { high = middle }
    }
    0.5 * (low + high)
}

/// A lead from a node on; the node at its other end.
fn wire_on(circuit: &mut Circuit, at: Place, lead: &LeadDoc, from: Node) -> Option<Node> {
    /// Copper, Ω·mm²/m.
    const COPPER: f64 = 0.0178;
    let area_mm2 = lead.area_mm2.or(lead.awg.map(|awg| 0.012_668 * 92f64.powf((36.0 - awg) / 19.5)))?;
    let ohm = 2.0 * lead.length_m? * COPPER / area_mm2 + lead.connector_mohm.unwrap_or(0.0) / 1e3;
    // A pair in still air warms by some 35 K at this current.
    let carries_a = 12.0 * area_mm2.powf(0.7);
    let next = circuit.node(circuit.at(from));
    circuit.add(at, Kind::Wire(Wire::cold(ohm, carries_a, lead.fuse_a)), from, next);
    Some(next)
}

/// What makes the power; its plus.
fn source_parts(
    circuit: &mut Circuit,
    doc: &SourceDoc,
    truth: &Truth,
    supplies: &mut Vec<usize>,
    battery: &mut Option<usize>,
) -> Option<Node> {
    let kind = doc.kind?;
    let overload = doc.overload.unwrap_or(Overload::ConstantCurrent);
    if kind == SourceKind::Battery {
        let figures = CellFigures::of(doc.chemistry?)?;
        let series = f64::from(doc.series?);
        let ah = doc.capacity_ah?;
        let ohm = doc.resistance_mohm.map_or(figures.ohm_ah() / ah, |mohm| mohm / 1e3 / series);
        let soc = doc.soc.unwrap_or(1.0);
        let cells = (0..doc.series?).map(|_| Cell::rested(ah * 3600.0, ohm, soc, -1.0)).collect();
        let cells = Cells::rested(figures, cells, 20.0);
        let plus = circuit.node(cells.rest_v());
        *battery = Some(circuit.add(Place::Source, Kind::Cells(Box::new(cells)), plus, 0));
        return Some(plus);
    }
    let (volts, ohm) = match kind {
        SourceKind::Battery => return None,
        SourceKind::Mains => (230.0, OUTPUT_OHM),
        SourceKind::WallAdapter => {
            let open_v = doc.open_circuit_v?;
            (open_v * truth.mains, (open_v - doc.voltage_v?) / doc.max_current_a?)
        }
        SourceKind::TransformerRectifier => rectified(doc, truth.mains)?,
        SourceKind::FixedSupply | SourceKind::RegulatedPort => (doc.voltage_v?, OUTPUT_OHM),
        SourceKind::BenchSupply | SourceKind::AdjustableSupply => (doc.max_voltage_v?, OUTPUT_OHM),
    };
    let rated_a = match kind {
        SourceKind::TransformerRectifier => doc.max_current_a.or(Some(0.6 * doc.rated_va? / doc.secondary_vac?)),
        _ => doc.max_current_a,
    };
    let units = doc.units.unwrap_or(1);
    let in_series = units > 1 && doc.wiring == Some(Wiring::Series);
    let (mut minus, mut plus) = (0, 0);
    for k in 0..units {
        if k == 0 || in_series {
            minus = if in_series { plus } else { 0 };
            plus = circuit.node(volts * if in_series { f64::from(k + 1) } else { 1.0 });
        }
        let apart_v = if in_series || units == 1 { 0.0 } else { APART_V * f64::from(k) };
        let jumper_ohm = if units > 1 { JUMPER_OHM } else { 0.0 };
        let mut supply = Supply::off(volts - apart_v, ohm + jumper_ohm, overload);
        (supply.rated_a, supply.rated_w) = (rated_a, doc.max_power_w);
        supply.limit_a = rated_a.unwrap_or(f64::INFINITY);
        supply.folded_a = doc.foldback_current_a.or(rated_a.map(|a| 0.3 * a)).unwrap_or(f64::INFINITY);
        supplies.push(circuit.add(Place::Source, Kind::Supply(supply), plus, minus));
    }
    Some(plus)
}

/// A transformer's rectified voltage with nothing drawn, V, and what it droops, Ω.
fn rectified(doc: &SourceDoc, mains: f64) -> Option<(f64, f64)> {
    let loaded = doc.secondary_vac?;
    let open = doc.open_vac.unwrap_or(loaded * (1.0 + doc.regulation.unwrap_or(0.15)));
    let rated_a = 0.6 * doc.rated_va? / loaded;
    let peak = std::f64::consts::SQRT_2;
    let ripple_ohm = 1.0 / (2.0 * doc.mains_hz? * doc.smoothing_uf? / 1e6);
    Some((peak * open * mains - 1.8, peak * (open - loaded) / rated_a + 0.5 * ripple_ohm))
}

/// What regulates or limits; its output, and its number where it has knobs.
fn charger_parts(
    circuit: &mut Circuit,
    doc: &ChargerDoc,
    source: &SourceDoc,
    input: Node,
    rest_v: f64,
    truth: &Truth,
) -> Option<(Node, Option<usize>)> {
    let output = circuit.node(rest_v);
    let diode_v = doc.diode_drop_v.unwrap_or(0.0);
    let kind = doc.kind?;
    if kind.passive() {
        let mut from = input;
        if diode_v > 0.0 {
            let behind = circuit.node(rest_v);
            circuit.add(Place::Charger, Kind::Diode(diode_v), input, behind);
            from = behind;
        }
        let limiter = match kind {
            ChargerKind::Lamp => {
                let rated_v = doc.lamp_rated_v?;
                let n = f64::from(doc.lamps_in_parallel.unwrap_or(1));
                Kind::Lamp(Lamp { rated_v, rated_a: n * doc.lamp_rated_w? / rated_v })
            }
            _ => Kind::Resistor(doc.resistance_ohm?),
        };
        circuit.add(Place::Charger, limiter, from, output);
        return Some((output, None));
    }
    let efficiency = (doc.efficiency.unwrap_or(0.87) + truth.efficiency).clamp(0.3, 1.0);
    let works = match kind {
        ChargerKind::Pwm => Works::Duty { duty: doc.duty?, ohm: doc.path_resistance_mohm? / 1e3 },
        ChargerKind::LinearModule => Works::Linear { sheds_w: doc.rated_w.unwrap_or(1.2) },
        _ => Works::Switching { efficiency, steps_up: doc.topology != Some(Topology::Buck) },
    };
    let mut regulator = Regulator::off(works, doc.output_max_v.unwrap_or(0.0));
    regulator.diode_v = diode_v;
    regulator.dropout_v = doc.dropout_v.unwrap_or(0.0);
    let or_none = |value: Option<f64>| value.unwrap_or(f64::INFINITY);
    if matches!(kind, ChargerKind::HobbyCharger | ChargerKind::SmartCharger) {
        let mains = source.kind == Some(SourceKind::Mains);
        let channel_w = or_none(doc.mains_output_max_w.filter(|_| mains).or(doc.output_max_w));
        let shared_w = or_none(doc.shared_max_w) / f64::from(doc.channels_in_use.unwrap_or(1));
        regulator.keeps = Some(Keeps {
            output_a: or_none(doc.output_max_a),
            output_w: channel_w.min(shared_w),
            input_a: if mains { f64::INFINITY } else { or_none(doc.input_max_a) },
            input_w: if mains { f64::INFINITY } else { or_none(doc.input_max_w) },
            input_min_v: if mains { 0.0 } else { doc.input_min_v.unwrap_or(0.0) },
        });
    } else if kind == ChargerKind::LinearModule {
        regulator.limit_a = or_none(doc.output_max_a);
    } else {
        regulator.input_min_v = doc.input_min_v.unwrap_or(0.0);
    }
    let number = circuit.add_between(Place::Charger, Kind::Regulator(regulator), input, output);
    if doc.topology == Some(Topology::Boost) {
        // What cannot go down lets its input through.
        circuit.add(Place::Charger, Kind::Diode(0.4), input, output);
    }
    Some((output, Some(number)))
}
