//! The pack measured, then joined without a spark.

use super::{Steps, Task};
use crate::chemistry::Family;
use crate::document::{Balancer, ChargerKind, Place, StepWhen::Before};
use crate::lead::wire_for;
use crate::units::trimmed;

/// A lead is taken to be this long where none is described, m.
const USUAL_LENGTH_M: f64 = 1.0;

pub(super) fn connect(steps: &mut Steps, task: &Task<'_>) {
    let (plan, found, chosen) = (task.plan, task.found, task.chosen);
    let pack = &plan.pack;
    let cells = if pack.series > 1 && pack.profile.family == Family::Lithium { " and each cell" } else { "" };
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
    let kind = plan.charger.as_ref().map(|c| c.kind);
    let message = match kind {
        Some(ChargerKind::HobbyCharger | ChargerKind::SmartCharger) => {
            let balance = if pack.balancer == Balancer::BalanceLead { ", then its balance lead" } else { "" };
            format!("Charger to the dead supply, supply on, then the pack's main lead{balance}.")
        }
        Some(ChargerKind::DcDc) if chosen.nudge.is_none() => {
            format!(
                "Module to {rest} V, as the pack; join them through a switch; then up to {} V: a dead module would draw a spark and be fed backwards.",
                trimmed(chosen.dial_v, 2)
            )
        }
        Some(ChargerKind::DcDc) => {
            "Join module and pack through a switch; a dead module would draw a spark and be fed backwards.".to_owned()
        }
        Some(ChargerKind::LinearModule) => "Supply on first, then the cell.".to_owned(),
        Some(_) => "Supply on, then the pack through a switch.".to_owned(),
        None if chosen.nudge.is_some() => "Join supply and pack through a switch: nothing should flow yet.".to_owned(),
        None if chosen.dial_v > found.rest_v + 0.2 && task.source.dials_voltage() => {
            steps.add(
                Before,
                "soft_connect",
                Place::Pack,
                if pack.profile.family == Family::Lead {
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
        None => "Supply on, then connect the pack through a switch.".to_owned(),
    };
    steps.add(Before, "connect", Place::Pack, message, &[]);
}

fn polarity(steps: &mut Steps, task: &Task<'_>) {
    let most_a = task.most_a();
    let lead = match &task.plan.output {
        Some(lead) if lead.fuse.is_some() => "Plus to plus, by meter. Leads that stay cool.".to_owned(),
        Some(lead) => {
            lead.fuse_for(most_a).map_or("Plus to plus, by meter. Fuse at the pack's plus.".to_owned(), |a| {
                format!("Plus to plus, by meter. {} A fuse at the pack's plus.", trimmed(a, 1))
            })
        }
        None => wire_for(most_a, USUAL_LENGTH_M, 0.02 * task.chosen.dial_v.max(1.0)).map_or(
            "Plus to plus, by meter. Fuse at the pack's plus. Leads that stay cool.".to_owned(),
            |(mm2, fuse_a)| {
                format!(
                    "Plus to plus, by meter. {} A fuse at the pack's plus, wire from {} mm².",
                    trimmed(fuse_a, 1),
                    trimmed(mm2, 2)
                )
            },
        ),
    };
    steps.add(Before, "polarity", Place::Pack, lead, &[("current_a", most_a)]);
}
