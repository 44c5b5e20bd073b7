//! The pack measured, then joined without a spark.

use super::task::{Steps, Task};
use crate::formats::{Balancer, ChargerKind, Place, StepWhen::Before};
use crate::lines::leads;
use crate::lines::volts::{self, ARC_V};
use crate::physics::wire::Lying;
use crate::units::{in_ohms, trimmed};

/// A lead is taken to be this long where none is described, m.
const USUAL_LENGTH_M: f64 = 1.0;

/// What the pack must read before anything else.
pub(super) fn measure(steps: &mut Steps, task: &Task<'_>) {
    let (pack, found) = (&task.plan.pack, task.found);
    let cells = if pack.series > 1 && pack.profile.traits.balance_lead { " and each cell" } else { " at rest" };
    let expected = if found.measured {
        format!("{} V as noted", trimmed(found.rest_v, 2))
    } else {
        format!("about {} V", trimmed(found.rest_v, 1))
    };
    steps.add(
        Before,
        "measure_pack",
        Place::Pack,
        format!("Measure the pack{cells}. Expect {expected}."),
        &[("voltage_v", found.rest_v)],
    );
}

pub(super) fn connect(steps: &mut Steps, task: &Task<'_>) {
    let (plan, chosen) = (task.plan, task.chosen);
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
    // An arc at more volts does not go out by itself when contacts part.
    let rated = if chosen.dial_v > ARC_V.at {
        format!(" rated for {} V DC", trimmed(chosen.dial_v.ceil(), 0))
    } else {
        String::new()
    };
    let kind = plan.charger.as_ref().map(|c| c.kind);
    let message = match kind {
        Some(ChargerKind::HobbyCharger | ChargerKind::SmartCharger) => {
            let balance = if pack.balancer == Balancer::BalanceLead {
                " Then connect its balance lead, straight and by its key: two of its pins bridged short a cell."
            } else {
                ""
            };
            format!("Supply off: connect the charger. Supply on. Then connect the pack.{balance}")
        }
        Some(ChargerKind::DcDc) if chosen.nudge.is_none() => {
            format!("The module stays set. {}", first_touch(task))
        }
        Some(ChargerKind::DcDc) => {
            format!(
                "Connect module and pack through a switch{rated}: a dead module would draw a spark and be fed backwards."
            )
        }
        Some(ChargerKind::LinearModule) => "Supply on first, then the cell.".to_owned(),
        Some(_) => format!("Supply on, then the pack through a switch{rated}."),
        None if chosen.nudge.is_some() => {
            format!("Connect supply and pack through a switch{rated}: nothing should flow yet.")
        }
        None if task.source.output_switch => by_output_switch(task),
        None if task.source.dials_voltage() => {
            let stays = "The supply stays set: do not turn its voltage down for this.";
            format!("{stays} {}", first_touch(task))
        }
        None => format!("Supply on. {}", first_touch(task)),
    };
    steps.add(Before, "connect", Place::Pack, message, &[]);
}

/// A supply whose output is switched off while it stays set.
fn by_output_switch(task: &Task<'_>) -> String {
    let pack = &task.plan.pack;
    let order = if pack.profile.traits.gasses {
        "Connect the plus clamp, then the minus clamp (in a vehicle to the body, away from the battery)."
    } else {
        "Connect plus, then minus."
    };
    let amps = if task.source.dials_current() {
        format!(": it holds {} A", trimmed(task.chosen.current_a(), 2))
    } else {
        String::new()
    };
    format!(
        "Output off. {order} Output on{amps}. From then on leave its voltage knob alone: the display shows the pack."
    )
}

/// The moment at which a supply without a switch meets the pack: its output capacitors charge, or discharge, at once.
fn first_touch(task: &Task<'_>) -> String {
    /// What stands across the output of such a supply or module, F, and the leads and contacts at least, Ω.
    const OUTPUT_F: f64 = 0.002;
    const CONTACT_OHM: f64 = 0.03;
    let apart_v = (task.chosen.dial_v - task.found.rest_v).abs();
    let ohm = in_ohms(task.plan.pack.resistance) + CONTACT_OHM;
    let spark_a = apart_v / ohm;
    let lasts_ms = 3.0 * ohm * OUTPUT_F * 1e3;
    if spark_a > volts::SPARK_A.at {
        // As much as may flow, so that the pack is not asked for more at the touch than later.
        let bears_a = task.most_a().max(0.1);
        return format!(
            "Touch plus first through a resistor of {} Ω for a second, then connect it: without one {} A would flow for a moment.",
            trimmed((apart_v / bears_a).max(0.5).ceil(), 0),
            significant(spark_a)
        );
    }
    format!(
        "Connect plus, then minus. A small spark is normal: {} A for {} ms.",
        significant(spark_a.max(0.1)),
        trimmed(lasts_ms.max(0.1), 1)
    )
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
        format!("Check with the meter that plus meets plus.{} {guard}", why_by_meter(task)),
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
    format!(" Reversed, {} A would flow.", significant(short_a))
}

/// What a fuse has to part, where that is more than an ordinary one does.
fn that_breaks(task: &Task<'_>) -> String {
    let volts = task.source.may_stand_at(task.chosen.dial_v).max(task.found.rest_v);
    let short_a = task.plan.pack.short_circuit_a(task.found.rest_v);
    let mut parts = Vec::new();
    if volts > leads::FUSE_V.at {
        parts.push(format!("for {} V DC", trimmed(volts.ceil(), 0)));
    }
    if short_a > leads::FUSE_BREAKS_A.at {
        parts.push(format!("made to break {} kA", trimmed((short_a / 1e3).ceil(), 0)));
    }
    if parts.is_empty() { String::new() } else { format!(" {}", parts.join(", ")) }
}

/// Two figures.
fn significant(amps: f64) -> String {
    let step = 10f64.powf(amps.log10().floor() - 1.0);
    trimmed((amps / step).round() * step, 0)
}
