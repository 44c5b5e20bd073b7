//! What one limit costs: the charge again without it.

use crate::answer::Case;
use crate::chain::{Feed, LimitCode};
use crate::charge::{Charge, Scale, Stops};
use crate::document::WhatIfDoc;
use crate::settings::Chosen;

/// The time to the same end without each limit that binds, the greatest saving first.
///
/// The charge voltage is not among them: it is what the pack is filled to, not what holds it up.
pub(crate) fn what_if(case: &Case<'_>, chosen: &Chosen, base: &Charge) -> Vec<WhatIfDoc> {
    let Some(total_s) = base.total_s else {
        return Vec::new();
    };
    let mut binding: Vec<LimitCode> = base.moments.iter().map(|m| m.limit).collect();
    binding.sort();
    binding.dedup();
    let stops = Stops { goal_soc: base.end.soc, ends_at_goal: true, taper_a: None, ..chosen.stops };
    let mut answers: Vec<WhatIfDoc> = binding
        .into_iter()
        .filter_map(|without| {
            let feed = relaxed(chosen, without)?;
            let faster_s = case.run_with(case.found.soc, Scale::NOMINAL, Some(&feed), &stops).total_s?;
            Some(WhatIfDoc {
                without,
                at: without.place(),
                total_s: faster_s,
                saves_s: (total_s - faster_s).max(0.0),
                advised: without.purchasable() && total_s - faster_s > 0.05 * total_s,
            })
        })
        .collect();
    answers.sort_by(|a, b| b.saves_s.total_cmp(&a.saves_s));
    answers
}

/// The feed without one limit; `None` where that limit is not the feed's to lift.
fn relaxed(chosen: &Chosen, without: LimitCode) -> Option<Feed> {
    let feed = chosen.feed;
    match without {
        LimitCode::SourcePower => Some(Feed { power_w: f64::INFINITY, ..feed }),
        LimitCode::SourceVoltage => Some(Feed { voltage_v: chosen.wanted_v, ..feed }),
        LimitCode::SetVoltage | LimitCode::Load => None,
        code => {
            let next = chosen.currents.iter().find(|(other, _)| *other != code);
            let (current_code, current_a) = next.copied().unwrap_or((code, f64::INFINITY));
            Some(Feed { current_a, current_code, ..feed })
        }
    }
}
