//! The line that makes a plan, to be sent or kept as text.

use crate::formats::{
    Balancer, ChargerDoc, ChargerKind, GoalKind, LeadDoc, LoadDoc, Overload, PackDoc, PackMark, PlanDoc, SettingsDoc,
    SourceDoc, SourceKind, StartDoc, Topology, Wiring,
};
use crate::physics::cell::profile;
use crate::units::trimmed;

/// What a line says of a plan; what it has no words for is left out.
///
/// # Examples
/// ```
/// use rumek_core::quick_line::{line_of, read};
///
/// let plan = read("12V 7Ah agm, 20 V 3 A bench").plan;
/// assert_eq!(read(&line_of(&plan)).plan, plan);
/// ```
#[must_use]
pub fn line_of(plan: &PlanDoc) -> String {
    let mut parts = Vec::new();
    if let Some(doc) = &plan.pack {
        parts.push(pack(doc, plan));
    }
    parts.extend(plan.source.as_ref().map(source));
    parts.extend(plan.charger.as_ref().map(charger));
    let relay = plan.cut_off.as_ref().and_then(|doc| Some((doc.low_v?, doc.high_v?)));
    parts.extend(relay.map(|(low, high)| format!("relay {}-{} V", n(low), n(high))));
    parts.extend(plan.leads.as_ref().and_then(|leads| leads.output.as_ref()).map(lead));
    parts.extend(plan.load.as_ref().map(load));
    parts.extend(plan.settings.as_ref().and_then(stops));
    parts.retain(|part| !part.is_empty());
    parts.join(", ")
}

fn n(value: f64) -> String {
    trimmed(value, 6)
}

/// Each figure that is there with its unit behind.
fn figures(of: &[(Option<f64>, &str)]) -> Vec<String> {
    of.iter().filter_map(|(value, unit)| value.map(|value| format!("{} {unit}", n(value)))).collect()
}

fn pack(doc: &PackDoc, plan: &PlanDoc) -> String {
    let mut said: Vec<String> = Vec::new();
    said.extend(doc.packs_in_parallel.filter(|count| *count > 1).map(|count| format!("{count}x in parallel")));
    said.extend(doc.mark.filter(|mark| *mark == PackMark::Retired).map(|_| "retired".to_owned()));
    said.extend(doc.series.map(|series| format!("{series}S")));
    let chemistry = doc.chemistry.and_then(profile).and_then(|profile| profile.named.first());
    said.extend(chemistry.map(|name| (*name).to_owned()));
    said.extend(figures(&[
        (doc.capacity_ah, "Ah"),
        (doc.energy_wh, "Wh"),
        (doc.capacitance_f, "farad"),
        (doc.label_v, "V"),
        (doc.resistance_mohm, "mohm"),
        (doc.temperature_c, "°C"),
    ]));
    said.extend(doc.rated_c_rate.map(|rate| format!("charge {}C", n(rate))));
    said.extend(doc.rated_charge_a.map(|amps| format!("max charge current {} A", n(amps))));
    said.extend(doc.discharge_c_rate.map(|rate| format!("discharge {}C", n(rate))));
    if let Some(label) = &doc.label_voltage_v {
        said.extend(label.cycle.map(|[low, high]| format!("cycle {}-{} V", n(low), n(high))));
        said.extend(label.standby.map(|[low, high]| format!("standby {}-{} V", n(low), n(high))));
    }
    said.extend(levelling(doc));
    said.extend(doc.start.as_ref().and_then(start));
    said.extend(doc.goal.as_ref().and_then(|goal| match goal.kind? {
        GoalKind::Full => None,
        GoalKind::Storage => Some("storage".to_owned()),
        GoalKind::Float => Some("float".to_owned()),
        GoalKind::Soc => goal.soc.map(|soc| format!("to {} %", n(soc * 100.0))),
    }));
    if let Some(settings) = &plan.settings {
        said.extend(settings.voltage_v.map(|v| format!("charge at {} V", n(v))));
        said.extend(settings.current_a.map(|a| format!("charge with {} A", n(a))));
    }
    said.extend(plan.practice.map(|practice| practice.code().to_owned()));
    said.join(" ")
}

/// What levels the cells, and what the board in the pack lets in.
fn levelling(doc: &PackDoc) -> Vec<String> {
    let own = doc.balancer == Some(Balancer::BuiltIn) && doc.balance_current_a.is_some();
    let board = doc.bms.as_ref().and_then(|bms| bms.max_charge_a);
    let balancer = doc.balance_current_a.map(|amps| format!("{} A balancer", n(amps)));
    let balanced = (doc.balancer == Some(Balancer::BalanceLead)).then(|| "balanced".to_owned());
    let bms = board.map(|amps| format!("bms charge {} A", n(amps))).or(own.then(|| "bms".to_owned()));
    bms.into_iter().chain(balancer.or(balanced)).collect()
}

fn start(doc: &StartDoc) -> Option<String> {
    if let Some(cells) = &doc.cell_voltages_v {
        let (first, count) = (cells.first()?, cells.len());
        let alike = cells.iter().all(|v| (v - first).abs() < 1e-9);
        return Some(if alike {
            format!("{count}x {} V", n(*first))
        } else {
            format!("cells {}", cells.iter().map(|v| n(*v)).collect::<Vec<_>>().join(" "))
        });
    }
    let soc = doc.soc.map(|soc| format!("{} %", n(soc * 100.0)));
    doc.rest_voltage_v.map(|v| format!("reads {} V", n(v))).or(soc)
}

fn source(doc: &SourceDoc) -> String {
    let battery = doc.kind == Some(SourceKind::Battery);
    let mut said: Vec<String> = battery.then(|| "from".to_owned()).into_iter().collect();
    said.extend(doc.units.filter(|units| *units > 1).map(|units| format!("{units}x")));
    said.extend(match (doc.min_voltage_v, doc.max_voltage_v) {
        (Some(low), Some(high)) => Some(format!("{}-{} V", n(low), n(high))),
        (_, high) => doc.voltage_v.or(high).map(|v| format!("{} V", n(v))),
    });
    said.extend(figures(&[
        (doc.secondary_vac, "VAC"),
        (doc.rated_va, "VA"),
        (doc.max_current_a, "A"),
        (doc.max_power_w, "W"),
    ]));
    if battery {
        let name = doc.chemistry.and_then(profile).and_then(|profile| profile.named.first());
        said.extend(doc.series.map(|series| format!("{series}S")));
        said.extend(figures(&[(doc.capacity_ah, "Ah")]));
        said.push(name.map_or_else(|| "battery".to_owned(), |name| format!("{name} battery")));
        said.extend(doc.soc.map(|soc| format!("{} %", n(soc * 100.0))));
    }
    said.extend(
        doc.kind
            .and_then(|kind| match kind {
                SourceKind::BenchSupply => Some("bench"),
                SourceKind::AdjustableSupply => Some("adjustable supply"),
                SourceKind::FixedSupply | SourceKind::WallAdapter => Some("supply"),
                SourceKind::TransformerRectifier => Some("transformer"),
                SourceKind::RegulatedPort => Some("port"),
                SourceKind::Mains => Some("wall"),
                SourceKind::Battery => None,
            })
            .map(str::to_owned),
    );
    said.extend((doc.overload == Some(Overload::ConstantCurrent)).then(|| "cc".to_owned()));
    said.extend(
        doc.wiring.map(
            |wiring| {
                if wiring == Wiring::Series { "in series".to_owned() } else { "in parallel".to_owned() }
            },
        ),
    );
    said.join(" ")
}

fn charger(doc: &ChargerDoc) -> String {
    let mut said: Vec<String> = Vec::new();
    said.extend(doc.lamps_in_parallel.filter(|count| *count > 1).map(|count| format!("{count}x")));
    said.extend(figures(&[
        (doc.output_max_a, "A"),
        (doc.output_max_w, "W"),
        (doc.output_max_v.filter(|_| doc.output_min_v.is_none()), "V"),
        (doc.lamp_rated_v, "V"),
        (doc.lamp_rated_w, "W"),
        (doc.rated_w, "W"),
        (doc.resistance_ohm, "ohm"),
    ]));
    said.extend(doc.output_min_v.zip(doc.output_max_v).map(|(low, high)| format!("{}-{} V", n(low), n(high))));
    let topology = doc.topology.and_then(|topology| match topology {
        Topology::Buck => Some("buck module"),
        Topology::Boost => Some("boost module"),
        Topology::BuckBoost => Some("buck-boost module"),
        Topology::Linear => None,
    });
    said.extend(
        doc.kind
            .map(|kind| match kind {
                ChargerKind::HobbyCharger => "charger",
                ChargerKind::SmartCharger => "smart charger",
                ChargerKind::DcDc => topology.unwrap_or("module"),
                ChargerKind::LinearModule => "linear board",
                ChargerKind::Pwm => "pwm",
                ChargerKind::Lamp => "lamp",
                ChargerKind::Resistor => "resistor",
            })
            .map(str::to_owned),
    );
    said.extend(doc.duty.map(|duty| format!("duty {} %", n(duty * 100.0))));
    said.extend((doc.has_cc == Some(true)).then(|| "cc".to_owned()));
    said.extend(match (doc.input_min_v, doc.input_max_v) {
        (Some(low), Some(high)) => Some(format!("input {}-{} V", n(low), n(high))),
        (Some(low), None) => Some(format!("min input {} V", n(low))),
        (None, high) => high.map(|v| format!("input {} V", n(v))),
    });
    said.extend(doc.input_max_a.map(|a| format!("input {} A", n(a))));
    said.extend(doc.input_max_w.map(|w| format!("input {} W", n(w))));
    said.join(" ")
}

fn lead(doc: &LeadDoc) -> String {
    let mut said: Vec<String> = figures(&[(doc.awg, "awg"), (doc.area_mm2, "mm²"), (doc.length_m, "m")]);
    if !said.is_empty() {
        said.push("wire".to_owned());
    }
    said.extend(doc.fuse_a.map(|amps| format!("{} A fuse", n(amps))));
    said.join(" ")
}

fn load(doc: &LoadDoc) -> String {
    let said = figures(&[(doc.power_w, "W"), (doc.current_a, "A")]);
    if said.is_empty() { String::new() } else { format!("load {}", said.join(" ")) }
}

fn stops(doc: &SettingsDoc) -> Option<String> {
    let said = figures(&[(doc.stop_current_a, "A"), (doc.stop_voltage_v, "V"), (doc.time_limit_h, "h")]);
    let said: Vec<String> = said.into_iter().map(|figure| format!("stop at {figure}")).collect();
    (!said.is_empty()).then(|| said.join(" "))
}
