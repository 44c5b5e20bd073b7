//! What to do, in order: nothing connected first.

mod connect;
mod emergency;
mod ending;
mod prepare;
mod task;

use task::Steps;

pub(crate) use emergency::{emergency, emergency_of_any};
pub(crate) use task::Task;

use crate::acts::BreakOff;
use crate::advice::checks::{charges_nothing, nothing_flows};
use crate::codes::LimitCode;
use crate::formats::{Balancer, CheckDoc, Place, Severity, StepDoc, StepWhen};
use crate::lines::volts::ARC_V;
use crate::parts::plan::Plan;
use crate::physics::charge::Charge;
use crate::physics::operating::LoadDraw;
use crate::units::{in_amp_hours, show_hours, trimmed};

/// The steps of a charge by this chain.
pub(crate) fn steps(task: &Task<'_>, checks: &[CheckDoc]) -> Vec<StepDoc> {
    let mut steps = Steps(Vec::new());
    if nothing_flows(task.plan, task.charge) {
        connect::measure(&mut steps, task);
        let reaches_v = task.chosen.dial_v;
        steps.add(
            StepWhen::Before,
            "nothing_flows",
            Place::Pack,
            format!(
                "Above {} V leave it unconnected: nothing would flow into the pack, and it would feed what stands before it.",
                trimmed(reaches_v, 2)
            ),
            &[("voltage_v", reaches_v)],
        );
        return steps.0;
    }
    if charges_nothing(task.plan, task.charge) {
        connect::measure(&mut steps, task);
        return steps.0;
    }
    prepare::prepare(&mut steps, task);
    connect::connect(&mut steps, task);
    during(&mut steps, task);
    after(&mut steps, task);
    for accepted in checks.iter().filter(|c| c.accepted && c.severity == Severity::Stop) {
        steps.add(
            StepWhen::Before,
            "accepted",
            accepted.at,
            format!("You accepted this stop ({}): {}", accepted.code.code(), accepted.message),
            &[],
        );
    }
    steps.0.sort_by_key(|step| step.when);
    steps.0
}

fn during(steps: &mut Steps, task: &Task<'_>) {
    let Task { plan, chosen, charge, .. } = task;
    use StepWhen::During;
    let Some(first) = charge.moments.first() else {
        return;
    };
    steps.add(
        During,
        "expect",
        chosen.places().dial,
        format!(
            "Expect {} A at {} V at first. Much less: poor contact or the wrong pack.",
            trimmed(first.current_a + plan.load.current_a(first.pack_v), 2),
            trimmed(first.pack_v, 1)
        ),
        &[("current_a", first.current_a), ("voltage_v", first.pack_v)],
    );
    if let Some(next) = charge.nudges.get(1) {
        let set = next
            .duty
            .map_or(format!("{} V", trimmed(next.set_v, 2)), |duty| format!("duty {} %", trimmed(duty * 100.0, 0)));
        steps.add(
            During,
            "turn",
            chosen.places().dial,
            format!(
                "After {} turn up until {} A flow, never past {set}; {} turns in all, as in the table.",
                show_hours(next.at_s / 3600.0),
                trimmed(next.current_a, 2),
                charge.nudges.len()
            ),
            &[("at_s", next.at_s), ("current_a", next.current_a)],
        );
    }
    if let (Some(balance), true) =
        (chosen.built.feed.balance, charge.moments.iter().any(|m| m.limit == LimitCode::Balance))
    {
        steps.add(
            During,
            "balance",
            Place::Pack,
            format!(
                "At {} V the smallest capacitor is full: turn the current down to {} A, which the balancers shunt, and only then go on.",
                trimmed(balance.from_v, 2),
                trimmed(balance.current_a, 2)
            ),
            &[("voltage_v", balance.from_v), ("current_a", balance.current_a)],
        );
    }
    if let (Some(longest_s), Some(stop_a)) = (chosen.stops.absorption_s, chosen.stop_a) {
        steps.add(
            During,
            "absorb",
            Place::Pack,
            format!(
                "At {} V it is full once {} A flow, or the current has not fallen for an hour; after {} h there it is over in any case.",
                trimmed(chosen.dial_v, 2),
                trimmed(stop_a, 2),
                trimmed(longest_s / 3600.0, 0)
            ),
            &[("voltage_v", chosen.dial_v), ("stop_a", stop_a), ("longest_h", longest_s / 3600.0)],
        );
    }
    let end_s = charge.total_s.unwrap_or(charge.end.t_s);
    let look_s = charge.to_cv_s.filter(|t| *t > 0.1 * end_s).map_or(0.5 * end_s, |t| t.min(0.5 * end_s));
    if let Some(then) = charge.moments.iter().find(|m| m.t_s >= look_s) {
        let in_ah = (then.soc - charge.moments.first().map_or(0.0, |m| m.soc)) * in_amp_hours(plan.pack.capacity);
        steps.add(
            During,
            "look",
            Place::Pack,
            format!(
                "Look after {}: about {} V, {} A{}, {} Ah in.",
                show_hours(then.t_s / 3600.0),
                trimmed(then.pack_v, 2),
                trimmed(then.current_a, 2),
                if plan.load == LoadDraw::None { "" } else { " into the pack" },
                trimmed(in_ah, 2)
            ),
            &[("at_s", then.t_s), ("voltage_v", then.pack_v), ("current_a", then.current_a), ("charge_ah", in_ah)],
        );
    }
    ending::end(steps, task);
    let several = plan.pack.series > 1;
    let break_off = BreakOff::of(&plan.pack, plan.around_c);
    steps.add(During, "abort", Place::Pack, break_off.sentence(several), &break_off.values(several));
}

fn after(steps: &mut Steps, task: &Task<'_>) {
    use StepWhen::After;
    let (plan, charge) = (task.plan, task.charge);
    let charge_ah = charge.charge_as / 3600.0;
    let end = charge.moments.last().map_or(0.0, |m| m.pack_v);
    let balance_lead = plan.pack.balancer == Balancer::BalanceLead;
    let order = match &plan.charger {
        Some(charger) if charger.terminates() => {
            let first = if balance_lead { "Balance lead off, then the main lead" } else { "The pack's lead off" };
            format!("{first}, and only then switch the supply off.")
        }
        _ if plan.pack.profile.traits.gasses => {
            "Supply off at its switch, a minute for the gas to clear, then the clamps, minus first.".to_owned()
        }
        _ => {
            // Above that an arc burns on between contacts that part.
            let arc = if task.chosen.dial_v > ARC_V.at { ": never part what carries current above 30 V" } else { "" };
            let off = if task.source.output_switch { "Output off" } else { "Output off or current to zero" };
            format!("{off}, disconnect the pack at once, then the mains{arc}.")
        }
    };
    steps.add(After, "disconnect", Place::Pack, order, &[]);
    if task.source.transformer.is_some() || task.source.modified {
        steps.add(
            After,
            "discharge",
            Place::Source,
            "Its capacitors stay charged: unplugged, let them down through a resistor or a lamp, and check by meter before you touch them.".to_owned(),
            &[],
        );
    }
    steps.add(
        After,
        "note",
        Place::Pack,
        format!(
            "Note the Ah (about {}) and the rest voltage an hour later: about {} V.",
            trimmed(charge_ah, 2),
            trimmed(rest_after(plan, charge, end), 1)
        ),
        &[("charge_ah", charge_ah)],
    );
}

/// Where the pack settles once the current is gone, V.
fn rest_after(plan: &Plan, charge: &Charge, end_v: f64) -> f64 {
    // The last of a curve is a voltage of the charge, not one that a cell rests at.
    const RESTS_AT_MOST: f64 = 0.985;
    let cell_v = plan.pack.profile.ocv.at(charge.end.soc.min(RESTS_AT_MOST)).0;
    (cell_v * f64::from(plan.pack.series)).min(end_v)
}
