//! The pack measured, then joined without a spark.

use super::task::{ARC_V, Steps, Task};
use crate::advice::checks::{ORDINARY_FUSE_BREAKS_A, ORDINARY_FUSE_V};
use crate::formats::{Balancer, ChargerKind, Place, StepWhen::Before};
use crate::physics::wire::Lying;
use crate::units::trimmed;

/// A lead is taken to be this long where none is described, m.
const USUAL_LENGTH_M: f64 = 1.0;

/// What the pack must read before anything else.
pub(super) fn measure(steps: &mut Steps, task: &Task<'_>) {
    let (pack, found) = (&task.plan.pack, task.found);
    let cells = if pack.series > 1 && pack.profile.traits.balance_lead { " and each cell" } else { "" };
    let expected = if found.measured {
        format!("{} V as noted", trimmed(found.rest_v, 2))
    } else {
        format!("about {} V", trimmed(found.rest_v, 1))
    };
    steps.add(
        Before,
        "measure_pack",
        Place::Pack,
        format!("Pack at rest: terminals{cells}; expect {expected}."),
        &[("voltage_v", found.rest_v)],
    );
}

pub(super) fn connect(steps: &mut Steps, task: &Task<'_>) {
    let (plan, found, chosen) = (task.plan, task.found, task.chosen);
    let pack = &plan.pack;
    measure(steps, task);
    polarity(steps, task);
    if !plan.members.is_empty() {
        steps.add(
            Before,
            "join_packs",
            Place::Pack,
            format!(
                "{} packs: a fuse in each branch, main leads first, wait until no current flows between them, then the balance leads.",
                plan.members.len()
            ),
            &[("packs", plan.members.len() as f64)],
        );
    } else if pack.parallel > 1 {
        steps.add(
            Before,
            "join_packs",
            Place::Pack,
            format!("{} packs: level them within 0.05 V a cell, a fuse in each branch, main leads first, then the balance leads.", pack.parallel),
            &[("packs", f64::from(pack.parallel))],
        );
    }
    let rest = trimmed(found.rest_v, 1);
    // An arc at more volts does not go out by itself when contacts part.
    let rated = if chosen.dial_v > ARC_V {
        format!(" rated for {} V DC", trimmed(chosen.dial_v.ceil(), 0))
    } else {
        String::new()
    };
    let kind = plan.charger.as_ref().map(|c| c.kind);
    let message = match kind {
        Some(ChargerKind::HobbyCharger | ChargerKind::SmartCharger) => {
            let balance = if pack.balancer == Balancer::BalanceLead {
                ", then its balance lead, straight and by its key: two of its pins bridged short a cell"
            } else {
                ""
            };
            format!("Charger to the dead supply, supply on, then the pack's main lead{balance}.")
        }
        Some(ChargerKind::DcDc) if chosen.nudge.is_none() => {
            format!(
                "Module to {rest} V, as the pack; join them through a switch{rated}; then up to {} V: a dead module would draw a spark and be fed backwards.",
                trimmed(chosen.dial_v, 2)
            )
        }
        Some(ChargerKind::DcDc) => {
            format!(
                "Join module and pack through a switch{rated}; a dead module would draw a spark and be fed backwards."
            )
        }
        Some(ChargerKind::LinearModule) => "Supply on first, then the cell.".to_owned(),
        Some(_) => format!("Supply on, then the pack through a switch{rated}."),
        None if chosen.nudge.is_some() => {
            format!("Join supply and pack through a switch{rated}: nothing should flow yet.")
        }
        None if chosen.dial_v > found.rest_v + 0.2 && task.source.dials_voltage() => {
            steps.add(
                Before,
                "soft_connect",
                Place::Pack,
                if pack.profile.traits.gasses {
                    format!(
                        "Supply to {rest} V, as the battery, and off; plus clamp, minus clamp (in a vehicle to the body, away from the battery); supply on, then up to {} V.",
                        trimmed(chosen.dial_v, 2)
                    )
                } else {
                    format!(
                        "Supply to {rest} V, as the pack; connect; then up to {} V: no spark.",
                        trimmed(chosen.dial_v, 2)
                    )
                },
                &[("voltage_v", found.rest_v)],
            );
            return;
        }
        None => format!("Supply on, then connect the pack through a switch{rated}."),
    };
    steps.add(Before, "connect", Place::Pack, message, &[]);
}

fn polarity(steps: &mut Steps, task: &Task<'_>) {
    let most_a = task.most_a();
    let lying = Lying::usual(task.plan.around_c);
    let guard = match &task.plan.output {
        Some(lead) if lead.fuse.is_some() => "Leads that stay cool.".to_owned(),
        Some(lead) => lead.fuse_for(most_a).map_or("Fuse at the pack's plus.".to_owned(), |a| {
            format!("{} A fuse{} within 20 cm of plus.", trimmed(a, 1), that_breaks(task))
        }),
        None => lying.wire_for(most_a, USUAL_LENGTH_M, 0.02 * task.chosen.dial_v.max(1.0)).map_or(
            "Fuse within 20 cm of plus. Leads that stay cool.".to_owned(),
            |(mm2, fuse_a)| {
                format!(
                    "{} A fuse{} within 20 cm of plus, wire from {} mm².",
                    trimmed(fuse_a, 1),
                    that_breaks(task),
                    trimmed(mm2, 2)
                )
            },
        ),
    };
    steps.add(
        Before,
        "polarity",
        Place::Pack,
        format!("Plus to plus, by meter at the plugs{}. {guard}", why_by_meter(task)),
        &[("current_a", most_a)],
    );
}

/// What a reversed pack does here.
fn why_by_meter(task: &Task<'_>) -> String {
    let short_a = task.plan.pack.short_circuit_a(task.found.rest_v);
    // A charger that ends by itself checks it; a limiter bears it; a battery has no such diode.
    let has_diode =
        task.plan.charger.as_ref().is_none_or(|c| c.kind == ChargerKind::DcDc) && task.source.battery.is_none();
    if !has_diode || short_a < 5.0 * task.most_a() {
        return String::new();
    }
    format!(" (reversed it is shorted: {} A)", significant(short_a))
}

/// What a fuse has to part, where that is more than an ordinary one does.
fn that_breaks(task: &Task<'_>) -> String {
    let volts = task.source.may_stand_at(task.chosen.dial_v).max(task.found.rest_v);
    let short_a = task.plan.pack.short_circuit_a(task.found.rest_v);
    let mut parts = Vec::new();
    if volts > ORDINARY_FUSE_V {
        parts.push(format!("for {} V DC", trimmed(volts.ceil(), 0)));
    }
    if short_a > ORDINARY_FUSE_BREAKS_A {
        parts.push(format!("made to break {} kA", trimmed((short_a / 1e3).ceil(), 0)));
    }
    if parts.is_empty() { String::new() } else { format!(" {}", parts.join(", ")) }
}

/// Two figures.
fn significant(amps: f64) -> String {
    let step = 10f64.powf(amps.log10().floor() - 1.0);
    trimmed((amps / step).round() * step, 0)
}
