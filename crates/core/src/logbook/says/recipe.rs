//! What to look at where no current flows, by the kind of chain.

use super::super::scene::Scene;
use crate::parts::charger::Charger;

/// What to do, one sentence a part that may be the cause.
pub(super) fn recipe(scene: &Scene<'_>) -> String {
    let plan = scene.plan;
    let charger = plan.charger.as_ref();
    let mut says: Vec<&str> = Vec::new();
    if charger.is_some_and(Charger::terminates) {
        says.push("Read what the charger shows: it has ended by itself, or it reports a fault.");
    }
    if plan.cut_off.is_some() {
        says.push("Read the volts on both sides of the relay: where they differ it is open.");
    }
    if scene.chosen.nudge.is_some() {
        says.push("Turn the knob all the way down. Take one clip off. Switch the supply off and on. Then connect it again and begin low.");
    } else if charger.is_none_or(|charger| !charger.terminates()) {
        says.push("Look whether the supply or its output is off. A supply that has tripped stays off until you switch it off and on again.");
    }
    if [&plan.input, &plan.output].into_iter().flatten().any(|lead| lead.fuse.is_some()) {
        says.push("Read the volts on both sides of the fuse.");
    }
    if plan.pack.bms {
        says.push("Read the cells: its board may have switched the pack off.");
    }
    says.push("Look at clips and plugs. A lit display proves nothing: the pack can feed it.");
    says.join(" ")
}
