//! What to do, in order: nothing connected first.

use std::collections::BTreeMap;

use crate::charge::Charge;
use crate::chemistry::Family;
use crate::document::{CheckDoc, Place, Severity, StepDoc, StepWhen};
use crate::identify::Identified;
use crate::plan::Plan;
use crate::settings::Chosen;
use crate::source::Source;
use crate::units::{in_amp_hours, show_hours, trimmed};

struct Steps(Vec<StepDoc>);

impl Steps {
    fn add(&mut self, when: StepWhen, code: &str, at: Place, message: String, values: &[(&str, f64)]) {
        self.0.push(StepDoc {
            when,
            code: code.to_owned(),
            message,
            values: values.iter().map(|(name, v)| ((*name).to_owned(), *v)).collect::<BTreeMap<_, _>>(),
            at,
        });
    }
}

/// The steps of a charge from a bare supply.
pub(crate) fn steps(
    plan: &Plan,
    source: &Source,
    found: &Identified,
    chosen: &Chosen,
    charge: &Charge,
    checks: &[CheckDoc],
) -> Vec<StepDoc> {
    let mut steps = Steps(Vec::new());
    before(&mut steps, plan, source, found, chosen);
    during(&mut steps, plan, chosen, charge);
    after(&mut steps, plan, charge);
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

fn before(steps: &mut Steps, plan: &Plan, source: &Source, found: &Identified, chosen: &Chosen) {
    use StepWhen::Before;
    let pack = &plan.pack;
    let set = trimmed(chosen.dial_v, 2);
    let tolerance_v = 0.005 * f64::from(pack.series);
    if source.min == source.max {
        steps.add(
            Before,
            "check_voltage",
            Place::Source,
            format!(
                "Nothing connected: read the supply by meter. {set} V, and never above {} V.",
                trimmed(chosen.ceiling_v, 2)
            ),
            &[("voltage_v", chosen.dial_v), ("ceiling_v", chosen.ceiling_v)],
        );
    } else {
        steps.add(
            Before,
            "set_voltage",
            Place::Source,
            format!(
                "Nothing connected: set {set} V ± {} V, read by meter at the clips, not on the display.",
                trimmed(tolerance_v, 2)
            ),
            &[("voltage_v", chosen.dial_v), ("tolerance_v", tolerance_v)],
        );
    }
    if source.dials_current() {
        let amps = trimmed(chosen.feed.current_a, 2);
        steps.add(
            Before,
            "set_current",
            Place::Source,
            format!("Current limit {amps} A: by its menu, or clips touching, turned up from zero. Output off."),
            &[("current_a", chosen.feed.current_a)],
        );
    }
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
    steps.add(
        Before,
        "polarity",
        Place::Pack,
        "Plus to plus, by meter. Fuse at the pack's plus. Leads that stay cool.".to_owned(),
        &[],
    );
    if chosen.dial_v > found.rest_v + 0.2 && source.min < source.max {
        steps.add(
            Before,
            "soft_connect",
            Place::Pack,
            format!("Supply to {} V, as the pack; connect; then up to {set} V: no spark.", trimmed(found.rest_v, 1)),
            &[("voltage_v", found.rest_v)],
        );
    } else {
        steps.add(Before, "connect", Place::Pack, "Supply on, then connect the pack through a switch.".to_owned(), &[]);
    }
}

fn during(steps: &mut Steps, plan: &Plan, chosen: &Chosen, charge: &Charge) {
    use StepWhen::During;
    let Some(first) = charge.moments.first() else {
        return;
    };
    steps.add(
        During,
        "expect",
        Place::Source,
        format!(
            "Expect {} A at {} V at first. Much less: poor contact or the wrong pack.",
            trimmed(first.current_a + plan.load.current_a(first.pack_v), 2),
            trimmed(first.pack_v, 1)
        ),
        &[("current_a", first.current_a), ("voltage_v", first.pack_v)],
    );
    let end_s = charge.total_s.unwrap_or(charge.end.t_s);
    let look_s = charge.to_cv_s.filter(|t| *t > 0.1 * end_s).map_or(0.5 * end_s, |t| t.min(0.5 * end_s));
    if let Some(then) = charge.moments.iter().find(|m| m.t_s >= look_s) {
        let in_ah = (then.soc - charge.moments.first().map_or(0.0, |m| m.soc)) * in_amp_hours(plan.pack.capacity);
        steps.add(
            During,
            "look",
            Place::Pack,
            format!(
                "Look after {}: about {} V, {} A, {} Ah in.",
                show_hours(then.t_s / 3600.0),
                trimmed(then.pack_v, 2),
                trimmed(then.current_a, 2),
                trimmed(in_ah, 2)
            ),
            &[("at_s", then.t_s), ("voltage_v", then.pack_v), ("current_a", then.current_a), ("charge_ah", in_ah)],
        );
    }
    let hot = match plan.pack.profile.family {
        Family::Nickel => "Stop at once if it gets hot to the touch, swells or hisses.".to_owned(),
        Family::Lead => "Stop at once if it gets warm, smells of sulphur or boils hard.".to_owned(),
        _ => {
            let ceiling_v = chosen.ceiling_v / f64::from(plan.pack.series);
            format!(
                "Stop at once if it swells, smells, gets more than hand-warm or a cell passes {} V.",
                trimmed(ceiling_v, 2)
            )
        }
    };
    steps.add(During, "abort", Place::Pack, hot, &[]);
}

fn after(steps: &mut Steps, plan: &Plan, charge: &Charge) {
    use StepWhen::After;
    let charge_ah = charge.charge_as / 3600.0;
    let end = charge.moments.last().map_or(0.0, |m| m.pack_v);
    steps.add(After, "disconnect", Place::Pack, "Unplug the pack first, then switch the supply off.".to_owned(), &[]);
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
    let cell_v = plan.pack.profile.ocv.at(charge.end.soc.min(1.0)).0;
    (cell_v * f64::from(plan.pack.series)).min(end_v)
}
