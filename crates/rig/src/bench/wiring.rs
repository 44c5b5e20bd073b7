//! Documents made into parts of a circuit: a pack's cells, leads, supplies, what regulates; and what each is rated for.

use rumek_core::CellFigures;
use rumek_core::codes::{Balancer as Levels, ChargerKind, Chemistry, Overload, Place, SourceKind, Topology, Wiring};
use rumek_core::formats::{ChargerDoc, LeadDoc, PackDoc, SourceDoc};

use super::{APART_V, JUMPER_OHM, OUTPUT_OHM, Ratings};
use crate::circuit::{Circuit, Node};
use crate::parts::{Balancer, Board, Cell, Cells, Keeps, Kind, Lamp, Regulator, Supply, Wire, Works};
use crate::truth::Truth;

pub(super) fn ratings(pack: &PackDoc, figures: CellFigures, n: f64) -> Ratings {
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
        by_block: matches!(pack.chemistry, Some(Chemistry::LeadFlooded | Chemistry::LeadAgm | Chemistry::LeadGel)),
        deep_v,
        deep_a: n * 0.12 * ah * if figures.usual_c_rate().is_finite() { figures.usual_c_rate().max(0.5) } else { 1.0 },
    }
}

pub(super) fn capacity_ah(pack: &PackDoc, figures: CellFigures) -> Option<f64> {
    if figures.counts_farads() {
        let full_v = pack.label_v.map_or(figures.full_v(), |v| v / f64::from(pack.series.unwrap_or(1)));
        return pack.capacitance_f.map(|farads| farads * full_v / 3600.0);
    }
    pack.capacity_ah
}

/// All the packs of a plan as one string.
pub(super) fn cells(pack: &PackDoc, figures: CellFigures, soc: f64, truth: &Truth) -> Option<Cells> {
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
pub(super) fn soc_at(figures: &CellFigures, volts: f64) -> f64 {
    let (mut low, mut high) = (0.0, 1.0);
    for _ in 0..40 {
        let middle = 0.5 * (low + high);
        if figures.rest_v(middle).0 < volts { low = middle } else { high = middle }
    }
    0.5 * (low + high)
}

/// A lead from a node on; the node at its other end.
pub(super) fn wire_on(circuit: &mut Circuit, at: Place, lead: &LeadDoc, from: Node) -> Option<Node> {
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
pub(super) fn source_parts(
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
pub(super) fn rectified(doc: &SourceDoc, mains: f64) -> Option<(f64, f64)> {
    let loaded = doc.secondary_vac?;
    let open = doc.open_vac.unwrap_or(loaded * (1.0 + doc.regulation.unwrap_or(0.15)));
    let rated_a = 0.6 * doc.rated_va? / loaded;
    let peak = std::f64::consts::SQRT_2;
    let ripple_ohm = 1.0 / (2.0 * doc.mains_hz? * doc.smoothing_uf? / 1e6);
    Some((peak * open * mains - 1.8, peak * (open - loaded) / rated_a + 0.5 * ripple_ohm))
}

/// What regulates or limits; its output, and its number where it has knobs.
pub(super) fn charger_parts(
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
