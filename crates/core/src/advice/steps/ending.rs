//! How a charge ends: one step, whoever ends it.

use super::task::{Steps, Task, ends_itself};
use crate::acts::End;
use crate::chain::may::{deep, recovered_v};
use crate::codes::StepWhen::During;
use crate::formats::{EndReason, Place};
use crate::lines::ends;
use crate::parts::pack::Goal;
use crate::units::{in_amp_hours, show_hours, trimmed};

/// What shows that this charge is done.
fn end_of(task: &Task<'_>) -> End {
    let (plan, chosen, charge) = (task.plan, task.chosen, task.charge);
    let pack = &plan.pack;
    let fast = task.most_a() >= ends::FALLS_FROM_C.at * in_amp_hours(pack.nameplate) - 1e-9;
    let load_a = charge.moments.last().map_or(0.0, |m| plan.load.current_a(m.pack_v));
    match charge.reason {
        EndReason::StopVoltage => End::Volts { v: chosen.stops.stop_v.unwrap_or(chosen.dial_v) },
        EndReason::CutOff => End::Volts { v: plan.cut_off.map_or(chosen.dial_v, |relay| relay.high_v) },
        _ if pack.goal == Goal::Float && chosen.built.holds_voltage => End::Stays { at_v: chosen.dial_v },
        EndReason::TimeLimit | EndReason::EnoughCharge => End::Clock { s: charge.end.t_s },
        _ if pack.profile.traits.timed && fast => End::Falls { by_v: pack.profile.falls_by_v * f64::from(pack.series) },
        _ if chosen.stops.ends_at_goal => End::Charge {
            ah: chosen.stop_charge_ah.unwrap_or(charge.charge_as / 3600.0).max(charge.charge_as / 3600.0),
        },
        EndReason::Taper | EndReason::Goal => match chosen.stop_a {
            Some(a) => End::Taper { a, load_a },
            None => End::Clock { s: charge.total_s.unwrap_or(charge.end.t_s) },
        },
        // It comes to no end of its own: it is ended once no more is to be had.
        _ => End::Clock { s: charge.end.t_s },
    }
}

/// The one step that ends it.
pub(super) fn end(steps: &mut Steps, task: &Task<'_>) {
    let (plan, chosen, charge) = (task.plan, task.chosen, task.charge);
    let end = end_of(task);
    let total_s = charge.total_s.unwrap_or(charge.end.t_s);
    let about = show_hours(total_s / 3600.0);
    // What may never come to its sign is ended by the clock all the same.
    let latest_s = [task.latest_s, chosen.stops.limit_s].into_iter().flatten().fold(f64::INFINITY, f64::min);
    let latest = if latest_s.is_finite() && !matches!(end, End::Clock { .. }) && latest_s >= total_s - 1.0 {
        format!(" After {} end it all the same: it may never come there.", show_hours(latest_s / 3600.0))
    } else {
        String::new()
    };
    let clause = end.clause();
    let message = match end {
        End::Stays { at_v } => {
            format!("Leave it on. Look once a month: {} V at the terminals, cool, its case flat.", trimmed(at_v, 2))
        }
        End::Volts { .. } if charge.reason == EndReason::CutOff => {
            format!("The relay opens {clause}, about {about} on. Then disconnect the pack.")
        }
        End::Clock { .. } if deep(&plan.pack, task.found) && recovered_v(&plan.pack).is_some() => format!(
            "End it {clause}: output off. Under {} V then, with the current still flowing, a cell is dead. Above, measure at rest and plan again.",
            trimmed(recovered_v(&plan.pack).unwrap_or_default(), 1)
        ),
        _ if ends_itself(plan) => {
            let sign = if let End::Falls { .. } = end { "by itself, " } else { "by itself " };
            format!("The charger ends {sign}{clause}, about {about} on.{}", by_itself_latest(task, total_s))
        }
        End::Falls { .. } => format!(
            "End it {clause}, or when it warms by 1 °C a minute: output off, disconnect the pack. That is about {about} on; no later than after {} Ah.",
            trimmed(charge.charge_as / 3600.0, 2)
        ),
        End::Clock { .. } => format!("End it {clause}: output off, disconnect the pack.{latest}"),
        _ => format!("End it {clause}, about {about} on: output off, disconnect the pack.{latest}"),
    };
    let (name, value) = end.value();
    steps.add(During, "end", end_at(task), message, &[("at_s", total_s), (name, value)]);
}

/// Where somebody looks for it.
fn end_at(task: &Task<'_>) -> Place {
    if task.charge.reason == EndReason::CutOff { Place::CutOff } else { task.chosen.places().dial }
}

/// A charger that has not ended by then has missed its sign.
fn by_itself_latest(task: &Task<'_>, total_s: f64) -> String {
    /// So many times the likely time, where nothing says more.
    const MISSED: f64 = 1.5;
    let limit_s = task.chosen.stops.limit_s.or(task.latest_s).unwrap_or(MISSED * total_s).max(total_s);
    format!(
        " Still running after {}, or {} Ah? End it yourself: it has missed its sign.",
        show_hours(limit_s / 3600.0),
        trimmed((MISSED * task.charge.charge_as / 3600.0).max(0.01), 2)
    )
}
