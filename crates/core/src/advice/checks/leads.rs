//! Checks of the leads: wire, plugs, drop, fuse.

use super::situation::Situation;
use crate::acts::Finding;
use crate::chain::feed::Control;
use crate::chain::settings::Chosen;
use crate::codes::CheckCode;
use crate::codes::LimitCode;
use crate::formats::{ChargerKind, Connector, FuseAt, Laid, Place};
use crate::lines::leads as lines;
use crate::parts::lead::{Lead, SLACK};
use crate::parts::source::Source;
use crate::physics::battery::Battery;
use crate::physics::wire::Lying;
use crate::units::{in_amps, in_volts, trimmed, volts};

/// A lead where it stands in the chain.
struct Wire<'a> {
    lead: &'a Lead,
    at: Place,
    /// The most that flows in it, A.
    current_a: f64,
    /// What stands across it, V; a drop is judged against it.
    volts: f64,
    /// The highest its fuse may have to part, V.
    highest_v: f64,
    /// The end at which a battery could feed a fault.
    battery_end: Option<FuseAt>,
    /// What that battery gives into a short, A.
    short_a: f64,
    /// Whether its fuse alone keeps the current from growing without bounds.
    by_fuse_alone: bool,
}

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(source), Some(chosen)) = (&s.plan.source, s.chosen) else {
        return;
    };
    let highest_v = source.highest_v.max(chosen.dial_v);
    let input = s.plan.input.as_ref().map(|lead| Wire {
        lead,
        at: Place::InputLead,
        current_a: s.most.source_a,
        volts: in_volts(source.max),
        highest_v,
        battery_end: source.battery.is_some().then_some(FuseAt::Source),
        short_a: source.battery.as_ref().map_or(0.0, Battery::short_circuit_a),
        by_fuse_alone: by_fuse_alone(s, source, chosen, lead),
    });
    let output = s.plan.output.as_ref().map(|lead| Wire {
        lead,
        at: Place::OutputLead,
        current_a: s.most.total_a,
        volts: chosen.dial_v,
        highest_v,
        battery_end: Some(FuseAt::Pack),
        short_a: s.plan.pack.short_circuit_a(s.found.rest_v),
        by_fuse_alone: by_fuse_alone(s, source, chosen, lead),
    });
    if source.battery.is_some() && s.plan.input.is_none() {
        let fuse = Lying::usual(s.plan.around_c)
            .fuse_for(s.most.source_a)
            .map_or(String::new(), |a| format!(" of {} A", trimmed(a, 1)));
        findings.push(
            Finding::caution(
                CheckCode::LeadsNoFuse,
                format!(
                    "The battery that feeds this can give hundreds of amps into a short: a fuse{fuse} at its plus, within 20 cm of the terminal, in wire that carries that. Describe the lead to have it judged."
                ),
                &[("current_a", s.most.source_a)],
            )
            .at(Place::InputLead),
        );
    }
    for wire in [input, output].into_iter().flatten() {
        carries(s, &wire, findings);
        plugs(&wire, findings);
        drop(&wire, findings);
        fuse(&wire, findings);
    }
}

/// Whether nothing before a lead holds its current: no dial, no limiter, and no supply that limits or
/// trips below what the wire carries.
fn by_fuse_alone(s: &Situation<'_>, source: &Source, chosen: &Chosen, lead: &Lead) -> bool {
    let limiter = s.plan.charger.as_ref().is_some_and(|c| matches!(c.kind, ChargerKind::Lamp | ChargerKind::Resistor));
    let open = match chosen.built.control {
        Control::Free => !limiter,
        Control::Hand => true,
        Control::Dial | Control::Held => false,
    };
    let rated_a = source.current_at(volts(chosen.built.feed.supply.open_v)).map(in_amps);
    let same_current = s.plan.charger.is_none();
    let trips = same_current && source.trips() && rated_a.is_some_and(|a| a / source.headroom() <= lead.wire_a());
    open && !source.limits_current() && !trips
}

fn which(at: Place) -> &'static str {
    if at == Place::InputLead { "input lead" } else { "pack lead" }
}

/// What carries a current: the fuse and, where this wire is too thin for it, the wire it takes.
fn would_do(lead: &Lead, current_a: f64) -> String {
    if let Some(fuse_a) = lead.fuse_for(current_a) {
        return format!("A {} A fuse would fit.", trimmed(fuse_a, 1));
    }
    lead.lying
        .wire_for(current_a, lead.length_m, f64::INFINITY)
        .map_or(format!("{} A want a busbar, not a wire.", trimmed(current_a, 0)), |(mm2, fuse_a)| {
            format!("It takes wire from {} mm² with a {} A fuse.", trimmed(mm2, 2), trimmed(fuse_a, 1))
        })
}

/// Whether wire and plugs carry what flows: held to it by what is set, or not at all.
fn carries(s: &Situation<'_>, wire: &Wire<'_>, findings: &mut Vec<Finding>) {
    let &Wire { lead, at, current_a, .. } = wire;
    let carries_a = lead.wire_a();
    let amps = trimmed(current_a, 1);
    if current_a > carries_a * SLACK {
        findings.push(
            Finding::stop(
                CheckCode::LeadsUndersized,
                format!(
                    "{amps} A would flow in the {}, whose {} mm²{} carry {} A for hours, and nothing here can be turned down: it gets {}. {}",
                    which(at),
                    trimmed(lead.area_mm2, 2),
                    lies(lead.lying),
                    trimmed(carries_a, 1),
                    if current_a > lines::BURNS.at * carries_a { "hot enough to burn" } else { "too hot" },
                    would_do(lead, current_a)
                ),
                &[("current_a", current_a), ("carries_a", carries_a)],
            )
            .at(at),
        );
        return;
    }
    let Some(chosen) = s.chosen.filter(|chosen| chosen.places().lead == at) else { return };
    let set_for_it = chosen.built.feed.current_code == LimitCode::Lead
        || chosen.input_limit.is_some_and(|limit| limit.code == LimitCode::Lead && at == Place::InputLead)
        || s.charge.moments.iter().any(|m| m.limit == LimitCode::Lead);
    if set_for_it {
        findings.push(
            Finding::caution(
                CheckCode::LeadsUndersized,
                format!("{}: what is set is set for that.", thinnest(lead, at)),
                &[("current_a", current_a), ("carries_a", lead.most_a())],
            )
            .at(at),
        );
    }
}

/// What of a lead carries least, in a clause.
fn thinnest(lead: &Lead, at: Place) -> String {
    let most = trimmed(lead.most_a(), 1);
    match (lead.connector, lead.fuse) {
        (Some(connector), _) if lead.plug_a() <= lead.most_a() => {
            format!("Through the {} of the {} no more than {most} A for hours", connector.words(), which(at))
        }
        (_, Some(fuse)) if lead.fuse_carries_a() <= lead.most_a() => {
            format!("The {} A fuse in the {} carries {most} A for hours", trimmed(fuse.rated_a, 1), which(at))
        }
        _ => format!(
            "The {}'s {} mm²{} carry {most} A for hours",
            which(at),
            trimmed(lead.area_mm2, 2),
            lies(lead.lying)
        ),
    }
}

/// How a wire lies, where that makes it carry less.
fn lies(lying: Lying) -> String {
    let room = Lying { ambient_c: Lying::USUAL.ambient_c, ..lying };
    let warm = if lying.carries_a(1.0) < room.carries_a(1.0) {
        format!(", at {} °C around it", trimmed(lying.ambient_c, 0))
    } else {
        String::new()
    };
    let laid = match lying.laid {
        Laid::Open => "",
        Laid::Bundled => ", bundled",
        Laid::Coiled => ", coiled",
    };
    format!("{laid}{warm}")
}

/// Whether the plugs carry what flows; and how wires go under screws.
fn plugs(wire: &Wire<'_>, findings: &mut Vec<Finding>) {
    let &Wire { lead, at, current_a, .. } = wire;
    let Some(connector) = lead.connector else { return };
    let carries_a = lead.plug_a();
    if current_a > carries_a * SLACK {
        let finding = if current_a > lines::PLUG_OVER.at * carries_a { Finding::stop } else { Finding::caution };
        findings.push(
            finding(
                CheckCode::LeadsConnector,
                format!(
                    "{} A would flow through the {} of the {}, made for {} A for hours, and nothing here can be turned down: plugs get hot before wires do. Take plugs for more, or something that limits the current.",
                    trimmed(current_a, 1),
                    connector.words(),
                    which(at),
                    trimmed(carries_a, 0)
                ),
                &[("current_a", current_a), ("carries_a", carries_a)],
            )
            .at(at),
        );
    } else if connector == Connector::Screw {
        findings.push(
            Finding::note(
                CheckCode::LeadsConnector,
                format!(
                    "Under screws {} A want bare strands or ferrules pressed with their tool: tinned ends creep, come loose and burn. Tighten them again after the first hour.",
                    trimmed(current_a, 1)
                ),
                &[("current_a", current_a)],
            )
            .at(at),
        );
    }
}

fn drop(wire: &Wire<'_>, findings: &mut Vec<Finding>) {
    let &Wire { lead, at, current_a, volts, .. } = wire;
    let drop_v = current_a * lead.ohm;
    if drop_v > lines::DROP.at * volts && drop_v > 0.15 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsDrop,
                format!(
                    "The {} loses {} V at {} A ({} mΩ there and back): the charge reaches its voltage early and tapers longer. Never add the drop to the charge voltage; it is gone when the current is.",
                    which(at),
                    trimmed(drop_v, 2),
                    trimmed(current_a, 1),
                    trimmed(lead.ohm * 1e3, 0)
                ),
                &[("drop_v", drop_v), ("lead_mohm", lead.ohm * 1e3)],
            )
            .at(at),
        );
    }
}

fn fuse(wire: &Wire<'_>, findings: &mut Vec<Finding>) {
    let &Wire { lead, at, current_a, highest_v, battery_end, .. } = wire;
    let Some(fuse) = lead.fuse else {
        let finding = if battery_end.is_some() { Finding::caution } else { Finding::note };
        findings.push(
            finding(
                CheckCode::LeadsNoFuse,
                format!(
                    "No fuse in the {}: a short can take hundreds of amps from a battery. {}",
                    which(at),
                    would_do(lead, current_a)
                ),
                &[("current_a", current_a)],
            )
            .at(at),
        );
        return;
    };
    let carries_a = lead.wire_a();
    let values = [("fuse_a", fuse.rated_a), ("current_a", current_a), ("carries_a", carries_a)];
    if battery_end.is_some_and(|end| fuse.at != end && fuse.at != FuseAt::Both) {
        findings.push(
            Finding::caution(
                CheckCode::LeadsNoFuseAtPack,
                format!("The fuse in the {} is at the wrong end: a short before it is fed by the battery unguarded. Put it at the battery's plus.", which(at)),
                &values,
            )
            .at(at),
        );
    }
    let rated = trimmed(fuse.rated_a, 1);
    if fuse.rated_a > carries_a * SLACK {
        findings.push(too_big(wire, fuse.rated_a, &values));
    }
    if fuse.rated_a * SLACK < current_a {
        findings.push(
            Finding::stop(
                CheckCode::LeadsFuseTooSmall,
                format!(
                    "{} A would flow through the {rated} A fuse in the {}, and nothing here can be turned down: it blows. {}",
                    trimmed(current_a, 1),
                    which(at),
                    would_do(lead, current_a)
                ),
                &values,
            )
            .at(at),
        );
    } else if fuse.rated_a < lead.lying.fuse_margin() * current_a * 0.999 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseTooSmall,
                format!(
                    "The {rated} A fuse in the {} is too near {} A: it tires and blows. {}",
                    which(at),
                    trimmed(current_a, 1),
                    would_do(lead, current_a)
                ),
                &values,
            )
            .at(at),
        );
    }
    if fuse.rated_v.is_none() && highest_v > lines::FUSE_V.at {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseVoltage,
                format!(
                    "{} V may stand across the fuse in the {}, and what it breaks is not said: an ordinary blade fuse breaks {} V DC, above which it arcs on. Take one for more than that.",
                    trimmed(highest_v, 1),
                    which(at),
                    trimmed(lines::FUSE_V.at, 0)
                ),
                &[("voltage_v", highest_v)],
            )
            .at(at),
        );
    }
    if wire.short_a > lines::FUSE_BREAKS_A.at {
        findings.push(breaking(wire));
    }
    if let Some(rated_v) = fuse.rated_v.filter(|v| *v < highest_v) {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseVoltage,
                format!(
                    "The fuse in the {} breaks {} V DC, {} V may stand there: an arc can burn on in it.",
                    which(at),
                    trimmed(rated_v, 0),
                    trimmed(highest_v, 1)
                ),
                &[("fuse_v", rated_v), ("voltage_v", highest_v)],
            )
            .at(at),
        );
    }
}

/// A battery that gives more into a short than an ordinary fuse breaks.
fn breaking(wire: &Wire<'_>) -> Finding {
    /// From so much on it is no more a matter of luck, A.
    const SURELY_A: f64 = 2000.0;
    let finding = if wire.short_a > SURELY_A { Finding::caution } else { Finding::note };
    finding(
        CheckCode::LeadsFuseBreaking,
        format!(
            "Into a short this battery gives about {} kA; an ordinary blade fuse breaks {} kA, and above that arcs on. In the {} take one made to break more, at {} V DC.",
            trimmed(wire.short_a / 1e3, 1),
            trimmed(lines::FUSE_BREAKS_A.at / 1e3, 0),
            which(wire.at),
            trimmed(wire.highest_v.ceil(), 0)
        ),
        &[("short_a", wire.short_a), ("breaks_a", lines::FUSE_BREAKS_A.at)],
    )
    .at(wire.at)
}

/// A fuse that lets more through than its wire carries.
fn too_big(wire: &Wire<'_>, fuse_a: f64, values: &[(&str, f64)]) -> Finding {
    let carries_a = wire.lead.wire_a();
    let (rated, carries) = (trimmed(fuse_a, 1), trimmed(carries_a, 1));
    let which = which(wire.at);
    let up_to = wire
        .lead
        .largest_fuse()
        .map_or("Take thicker wire.".to_owned(), |a| format!("A fuse up to {} A protects it.", trimmed(a, 1)));
    let finding = if wire.by_fuse_alone {
        Finding::stop(
            CheckCode::LeadsFuseTooBig,
            format!(
                "Nothing but its {rated} A fuse holds the current in the {which}, and its wire carries {carries} A. {up_to}"
            ),
            values,
        )
    } else if fuse_a > lines::BURNS.at * carries_a {
        Finding::caution(
            CheckCode::LeadsFuseTooBig,
            format!(
                "The {rated} A fuse in the {which} lets through far more than its wire carries ({carries} A): in a short the wire burns before the fuse. {up_to}"
            ),
            values,
        )
    } else {
        Finding::caution(
            CheckCode::LeadsFuseTooBig,
            format!("The wire of the {which} carries {carries} A, its fuse {rated} A. {up_to}"),
            values,
        )
    };
    finding.at(wire.at)
}
