//! How a rescue ends for the pack: what it carries from then on.

use super::found::Picture;
use super::picture::picture;
use super::proof::share;
use super::{rescue_stages, triage};
use crate::formats::{PackDoc, PackMark, Problems, RescueCaseDoc, RescueOutcome, RescueReadingDoc};

/// The pack as it is after a rescue: a retired one carries its mark; a recovered one its mark, its
/// reduced rating and what its capacity test gave.
///
/// # Errors
/// What is wrong with the rescue; an outcome that is not said; a retired pack called otherwise.
pub fn close(case: &RescueCaseDoc, pack: &PackDoc) -> Result<PackDoc, Problems> {
    let mut problems = Problems::default();
    let rescue = case.rescue.clone().unwrap_or_default();
    let Some(outcome) = case.outcome else {
        problems.add("/outcome", "how it ended is not said", "recovered, sound, retired");
        return Err(problems);
    };
    let picture = picture(&rescue).map_err(|wrong| wrong.under("/rescue"))?;
    let mut after = pack.clone();
    match outcome {
        RescueOutcome::Retired => after.mark = Some(PackMark::Retired),
        RescueOutcome::Recovered | RescueOutcome::Sound => {
            if pack.mark == Some(PackMark::Retired) {
                problems.add("/outcome", "this pack is retired", "retired");
                return Err(problems);
            }
            if let Some(picture) = &picture {
                let marked = rescue_stages::marked(picture, &triage::decide(picture));
                if marked && outcome == RescueOutcome::Sound {
                    problems.add("/outcome", "it was so low that it carries a mark from now on", "recovered, retired");
                    return Err(problems);
                }
                if outcome == RescueOutcome::Recovered {
                    after.mark = Some(PackMark::Recovered);
                    after.rated_charge_a = None;
                    after.rated_c_rate = Some(rescue_stages::derated(picture)).filter(|rate| rate.is_finite());
                }
            }
            after.health = picture.as_ref().and_then(|picture| measured_health(case, picture)).or(pack.health);
        }
    }
    Ok(after)
}

/// The share of what it should give that the last capacity test gave.
fn measured_health(case: &RescueCaseDoc, picture: &Picture) -> Option<f64> {
    let readings = case.readings.as_deref().unwrap_or_default();
    let given = |reading: &RescueReadingDoc| reading.capacity_ah.map(|ah| share(picture, ah, reading.current_a));
    let share = readings.iter().rev().find_map(|kept| kept.reading.as_ref().and_then(given))?;
    Some((share.clamp(0.05, 1.2) * 100.0).round() / 100.0)
}
