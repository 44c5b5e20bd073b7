//! A run's plan.

use crate::formats::{LoadDoc, PlanDoc, Problems};
use crate::parts::plan::{Plan, resolve};

/// A run's plan as it was frozen. A log that was brought in knows its pack only: nothing that is known
/// of draws from it.
pub(super) fn frozen(given: &PlanDoc) -> Result<Plan, Problems> {
    let mut given = given.clone();
    if given.source.is_none() && given.load.is_none() {
        given.load = Some(LoadDoc { current_a: Some(0.0), ..LoadDoc::default() });
    }
    Ok(resolve(&given)?.plan)
}
