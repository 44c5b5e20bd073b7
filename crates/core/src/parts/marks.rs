//! What a pack's mark on the shelf means for every plan that copied the pack before it was marked.

use crate::codes::PackMark;
use crate::formats::{PackDoc, PlanDoc};

/// The plan with the mark that its pack carries on the shelf, and the rate that goes with it: they count
/// whatever the plan's own copy says. A mark of the copy stays where the shelf has none.
#[must_use]
pub fn as_marked(plan: &PlanDoc, shelf: &PackDoc) -> PlanDoc {
    let mut plan = plan.clone();
    let (Some(pack), Some(mark)) = (&mut plan.pack, shelf.mark) else { return plan };
    pack.mark = Some(mark);
    if mark == PackMark::Recovered && shelf.rated_c_rate.is_some() {
        pack.rated_charge_a = None;
        pack.rated_c_rate = shelf.rated_c_rate;
    }
    plan
}
