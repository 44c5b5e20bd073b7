//! What state a pack is in: given up, reversed, with a cell that has failed.

use crate::acts::act::Act;
use crate::acts::finding::Finding;
use crate::chain::may::{gentle, hides_a_dead_one, one_may_be_dead, recovered_v};
use crate::codes::{CheckCode, PackMark};
use crate::lines::{cells, meters, rates};
use crate::parts::identify::bounds;
use crate::parts::pack::Pack;
use crate::units::{in_amp_hours, trimmed};

/// Where the readings of a plan's cells stand.
const CELLS: &str = "/pack/start/cell_voltages_v";
/// … and those of its blocks.
const BLOCKS: &str = "/pack/start/block_voltages_v";

pub(super) fn retired(act: &Act<'_>) -> Option<Finding> {
    (act.subject.pack.mark == Some(PackMark::Retired)).then(|| {
        let does = if act.kind.charges() { "charge it" } else { "discharge it" };
        Finding::stop(
            CheckCode::PackRetired,
            format!("This pack is marked as retired: do not {does}. Tape its terminals and keep it in sand or on stone outdoors. Take it to a battery collection point and say that it is damaged."),
            &[],
        )
        .lifted("Nothing lifts this: a retired pack is given away.")
    })
}

/// Whether a pack's capacity was told in the wrong unit: no pack of its kind is so large, and a thousandth of it is one.
pub(crate) fn a_thousandfold(pack: &Pack) -> bool {
    let each_ah = in_amp_hours(pack.nameplate) / f64::from(pack.parallel);
    let (_, most_ah) = pack.profile.usual_ah;
    // What a bare number on a label of its kind says in mAh; or more than a point that was left out makes it.
    let in_mah = pack.profile.sold.is_some_and(|sold| each_ah >= sold.mah_from);
    each_ah > most_ah && (in_mah || each_ah > 10.0 * most_ah)
}

/// A capacity of which one reading is a thousand times the other: a current for the larger one burns the smaller pack.
pub(super) fn told_in_the_wrong_unit(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    a_thousandfold(pack).then(|| {
        let each_ah = in_amp_hours(pack.nameplate) / f64::from(pack.parallel);
        let other_ah = each_ah / 1e3;
        let (told, other, name) = (trimmed(each_ah, 3), trimmed(other_ah, 3), pack.profile.name);
        Finding::stop(
            CheckCode::PackCapacityUnusual,
            format!("{told} Ah is no capacity of a {name} pack. Was {other} Ah meant? On a label mAh are a thousandth of Ah."),
            &[("capacity_ah", each_ah), ("other_ah", other_ah)],
        )
        .lifted_by(format!("It holds {other} Ah."), "/pack/capacity_ah", other_ah)
        .lifted(format!("It does hold {told} Ah: accept it."))
    })
}

pub(super) fn reversed(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let lowest_v = act.subject.found.lowest_cell_v(pack.series)?;
    let slack_v = if pack.profile.traits.farads { meters::CELL_V.at } else { 0.0 };
    (lowest_v < -slack_v).then(|| {
        Finding::stop(
            CheckCode::PackReversedCell,
            format!(
                "A cell reads {} V: it is reversed, or the meter's probes are swapped. A reversed cell can short inside when charged.",
                trimmed(lowest_v, 3)
            ),
            &[("cell_v", lowest_v)],
        )
        .lifted_at("Swap the meter's probes and read it again.", CELLS)
    })
}

/// A block of lead that lies a whole cell behind its neighbours.
pub(super) fn failed(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    let most_v = cells::FAILED_V.of(&pack.profile).filter(|_| pack.profile.traits.in_blocks)?;
    let (number, behind_v) = found.furthest_behind()?;
    (behind_v > most_v).then(|| {
        Finding::stop(
            CheckCode::PackDeadCell,
            format!(
                "Block {number} lies {} V below its neighbours: one of its cells is dead. Charging would boil the others. Replace that block.",
                trimmed(behind_v, 2)
            ),
            &[("behind_v", behind_v), ("allowed_v", most_v), ("block", number as f64)],
        )
        .lifted_at("A bad contact of the meter reads the same: read that block again.", BLOCKS)
    })
}

/// Rest volts of lead that all cells but one have as well once they are charged: a question, and an hour of little
/// current that answers it.
pub(super) fn one_dead(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    if !act.kind.charges() || !found.measured {
        return None;
    }
    let per_reading = if found.positions_v.is_empty() { pack.series } else { found.cells_per_reading };
    let cells = f64::from(per_reading);
    let sums: Vec<f64> = if found.positions_v.is_empty() {
        vec![found.rest_v]
    } else {
        found.positions_v.iter().map(|v| v * cells).collect()
    };
    let gentle_a = gentle(pack);
    let what = if found.positions_v.is_empty() { "battery" } else { "block" };
    if let Some(sum_v) = sums.iter().copied().find(|sum_v| one_may_be_dead(pack, cells, *sum_v)) {
        let rises_v = recovered_v(pack)? * cells / f64::from(pack.series);
        let values = [("voltage_v", sum_v), ("gentle_a", gentle_a), ("rises_v", rises_v)];
        let too_much = act.asked_a > deep_most_a(gentle_a);
        let message = format!(
            "{} V may be a flat {what} or one with a dead cell. Give it {} A for an hour, with somebody beside it. Below {} V then, a cell is dead.",
            trimmed(sum_v, 2),
            trimmed(gentle_a, 2),
            trimmed(rises_v, 1)
        );
        return Some(if too_much {
            Finding::stop(
                CheckCode::PackDeadCell,
                format!(
                    "{message} Here {} A would flow: that boils the good cells if one is dead.",
                    trimmed(act.asked_a, 2)
                ),
                &values,
            )
            .lifted(format!(
                "Use something that gives no more than {} A until it reads {} V.",
                trimmed(gentle_a, 2),
                trimmed(rises_v, 1)
            ))
            .lifted_at("Read each block, if it has several.", BLOCKS)
        } else {
            Finding::caution(CheckCode::PackDeadCell, message, &values)
        });
    }
    let sum_v = sums.into_iter().find(|sum_v| per_reading > 6 && hides_a_dead_one(pack, cells, *sum_v))?;
    Some(Finding::caution(
        CheckCode::PackDeadCell,
        format!(
            "{} V over {per_reading} cells does not show a dead one among them. Read each block first: one that lies {} V or more below the others has a dead cell. If you cannot read them, give it {} A for the first hour. Stay, and stop it if one block grows warmer than the others.",
            trimmed(sum_v, 2),
            trimmed(cells::FAILED_V.of(&pack.profile).unwrap_or_default(), 1),
            trimmed(gentle_a, 2)
        ),
        &[("voltage_v", sum_v), ("gentle_a", gentle_a)],
    ))
}

/// What a pack that may have a dead cell bears for an hour, A.
fn deep_most_a(gentle_a: f64) -> f64 {
    rates::OVER_TOLD.at * gentle_a
}

/// A cell that stands above full already.
pub(super) fn overfull(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    if !act.kind.charges() || !pack.profile.traits.burns || found.positions_v.is_empty() {
        return None;
    }
    let (_, highest_v) = bounds(&found.positions_v);
    let ceiling_v = pack.profile.ceiling_v;
    (highest_v > ceiling_v + meters::CELL_V.at).then(|| {
        Finding::stop(
            CheckCode::PackCellOverfull,
            format!(
                "A cell stands at {} V, and {} V is its most. Do not charge it: take that cell down to {} V with a small lamp, outdoors, and watch it.",
                trimmed(highest_v, 3),
                trimmed(ceiling_v, 2),
                trimmed(pack.profile.full_v, 2)
            ),
            &[("cell_v", highest_v), ("ceiling_v", ceiling_v)],
        )
        .lifted_at("Read that cell again, with good contact.", CELLS)
    })
}

#[cfg(test)]
mod tests {
    use crate::lines::deep;
    use crate::physics::cell::{Chemistry, profile};

    #[test]
    fn the_line_of_lead_lies_between_empty_and_dead() {
        let lead = profile(Chemistry::LeadAgm).unwrap_or_else(|| unreachable!());
        let soft_v = deep::SOFT_V.of(lead).unwrap_or_default();
        assert!(soft_v < lead.ocv.at(0.0).0 && soft_v > deep::RECOVERED_V.at);
    }
}
