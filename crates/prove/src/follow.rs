//! One plan carried out as told, step by step, for whoever settles a disagreement by hand.

use std::fmt::Write;

use anyhow::{Context, anyhow};
use rumek_core::answer;
use rumek_core::formats::{PlanDoc, from_value};
use rumek_rig::{Bench, Truth, carry_out_seen};
use serde_json::Value;

use crate::proof::told;

/// So many lines of a course are printed.
const LINES: f64 = 60.0;

/// What flows where, a line a moment, and what was passed.
///
/// # Errors
/// A plan that cannot be read, or a pack that the rig has no figures of.
pub fn follow(plan: Value) -> anyhow::Result<String> {
    let card = from_value::<PlanDoc>(&plan)
        .and_then(|doc| answer(&doc))
        .map_err(|problems| anyhow!("{:?}", problems.problems))?;
    let mut bench = Bench::of(&card.resolved, card.start.soc, &Truth::AS_TOLD).context("no figures of this pack")?;
    let mut said =
        format!("settings {:?}\nend {:?}\ntime {:?}\nturns {:?}\n", card.settings, card.end, card.time, card.nudges);
    let every_s = card.end.after_s.max(600.0) / LINES;
    let mut next_s = 0.0;
    let carried = carry_out_seen(&card, &mut bench, |bench| {
        if bench.t_s() < next_s {
            return;
        }
        next_s = bench.t_s() + every_s;
        let flows: Vec<String> = bench
            .circuit()
            .parts()
            .iter()
            .map(|part| format!("{} {:.3} V {:.3} A", part.place.code(), bench.circuit().across(part), part.current_a))
            .collect();
        let (t_s, soc, lost) = (bench.t_s(), bench.soc(), bench.unaccounted());
        let _ = writeln!(said, "{t_s:>9.1} s  {soc:.4}  {lost:.5}  {}", flows.join(" · "));
    });
    let _ = writeln!(said, "{carried:?}, {:.5} unaccounted", bench.unaccounted());
    bench.passings().lasting().for_each(|one| said.push_str(&format!("passed {}\n", told(one))));
    Ok(said)
}
