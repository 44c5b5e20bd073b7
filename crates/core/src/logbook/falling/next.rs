//! When to look at a discharge next: in time for the cell that comes to its end first.

use super::super::scene::{SOON_S, USUAL_LOOK_S};
use super::judge::Falling;
use crate::codes::Severity;
use crate::formats::SayingDoc;

/// Of the time until its earliest end somebody looks after so much where nothing watches each cell …
const SHARE: f64 = 0.4;
/// … and after so much where the charger that discharges does.
const SHARE_WATCHED: f64 = 0.8;
/// No sooner than this, s: nearer than that somebody stays.
const STAY_S: f64 = 120.0;
/// Two cells read by one meter may be so much further apart, V.
const READ_V: f64 = 0.01;
/// Less used than this says nothing of what a cell holds.
const TOO_LITTLE: f64 = 0.05;

/// When the lowest cell may come to its end, s: it has used more of itself than the others, by how far it stands below
/// them, and goes on doing so. `None` where the cells were not read.
pub(super) fn first_cell_s(scene: &Falling<'_>, last_s: f64) -> Option<f64> {
    let (lowest_v, mean_v) = scene.cells_v()?;
    let flowing_a = scene.flowing_a().filter(|a| *a > 0.0)?;
    let ocv = &scene.plan.pack.profile.ocv;
    // What the resistance takes is about the same of each.
    let open_v = ocv.at(scene.soc).0;
    let behind = scene.soc - ocv.soc_at(open_v - (mean_v - lowest_v) - READ_V);
    let soc = (scene.soc - behind.max(0.0)).max(0.0);
    let used = scene.found.soc - soc;
    if used < TOO_LITTLE {
        return None;
    }
    let left_ah = soc * scene.out_ah / used;
    Some(last_s + left_ah * 3600.0 / flowing_a)
}

/// When to look next, and why; `earliest_s` is when it may be over, or its first cell.
pub(super) fn look(
    scene: &Falling<'_>,
    said: &[SayingDoc],
    earliest_s: Option<f64>,
    last_s: f64,
) -> (Option<f64>, String) {
    if said.iter().any(|one| one.severity == Severity::Stop) {
        return (Some(last_s), "Now: something is wrong.".to_owned());
    }
    let mut looks = vec![(last_s + USUAL_LOOK_S, "A usual look: volts, amps, warmth.")];
    if said.iter().any(|one| one.severity == Severity::Caution) {
        looks.push((last_s + SOON_S, "Soon: to see whether it stays so."));
    }
    if let Some(earliest_s) = earliest_s {
        let share = if scene.discharge.reads_cells { SHARE_WATCHED } else { SHARE };
        let near_s = share * (earliest_s - last_s);
        looks.push(if near_s > STAY_S {
            let why = if scene.discharge.sink.ends {
                "Before its first cell may be empty: read each."
            } else {
                "Be there in time: nothing ends it but you. Read each cell."
            };
            (last_s + near_s, why)
        } else {
            (last_s + STAY_S, "It comes to its end: stay with it, and read each cell.")
        });
    }
    let next = looks.into_iter().min_by(|a, b| a.0.total_cmp(&b.0));
    next.map_or((None, String::new()), |(t_s, why)| (Some(t_s), why.to_owned()))
}
