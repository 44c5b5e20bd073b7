//! Rules about volts: above what may be, a cell's worth missing, none that such a pack can have, lost on the way.

use super::super::foreseen::Doubt;
use super::super::scene::{Scene, saying};
use super::super::slack::slack_v;
use super::asked::{asked, sure_of};
use super::cells::Cells;
use crate::formats::{AskDoc, MeterAt, SayingCode, SayingDoc, Severity};
use crate::lines::{self, leads, meters};
use crate::units::{in_amp_hours, in_celsius, trimmed};

/// More volts than are set: something regulates wrongly, or the set voltage is another's. A cell above
/// what its chemistry bears is grave whatever was set.
pub(crate) fn over_voltage(scene: &Scene<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let series = f64::from(pack.series);
    let last = scene.readings.last()?;
    let highest = last.cell_voltages_v.as_deref().and_then(Cells::of).map(|cells| cells.highest_v);
    let ceiling_v = pack.profile.ceiling_at(in_celsius(pack.temperature));
    let volts = scene.last_look().and_then(|look| look.pack_v);
    if let Some(cell) = highest.filter(|v| *v > ceiling_v + meters::CELL_V.at) {
        let message = format!(
            "A cell reads {} V. {} V is the most this chemistry bears. Stop the charge now. Watch the pack from a distance. Find out why before you charge it again.",
            trimmed(cell, 2),
            trimmed(ceiling_v, 2)
        );
        return Some(saying(
            SayingCode::OverVoltage,
            Severity::Stop,
            message,
            &[("cell_v", cell), ("most_v", ceiling_v)],
        ));
    }
    let (v, most_v) = (volts?, ceiling_v * series);
    if v > most_v + slack_v(most_v) {
        let message = format!(
            "The pack reads {} V; {} V is the most {} cells in series bear. Stop the charge now, and check the voltage that is set and the cell count.",
            trimmed(v, 2),
            trimmed(most_v, 2),
            pack.series
        );
        let ask = perhaps_a_slip(scene, v);
        let values = [("pack_v", v), ("most_v", most_v)];
        return Some(SayingDoc { ask, ..saying(SayingCode::OverVoltage, Severity::Stop, message, &values) });
    }
    let set_v = scene.chosen.dial_v;
    // What is charged by current and time holds no voltage.
    let above = !pack.profile.traits.timed && v > set_v + 2.0 * slack_v(set_v);
    above.then(|| {
        let message = format!(
            "The pack reads {} V, above the {} V that is to be set. Check what the supply is set to, and the meter.",
            trimmed(v, 2),
            trimmed(set_v, 2)
        );
        saying(SayingCode::OverVoltage, Severity::Caution, message, &[("pack_v", v), ("set_v", set_v)])
    })
}

/// About a cell's worth of volts is missing.
pub(crate) fn voltage_missing(scene: &Scene<'_>) -> Option<SayingDoc> {
    let v = scene.last_look()?.pack_v?;
    let pack = &scene.plan.pack;
    let profile = &pack.profile;
    let due = scene.due.volts;
    let missing_v = due.at - v;
    // Past full the model's voltage means nothing.
    let known = scene.charge_ah < in_amp_hours(pack.capacity) * (1.0 - scene.found.low);
    let tells = known && !profile.traits.timed && !profile.traits.farads && pack.series > 1;
    let a_cell_less = missing_v > lines::cells::MISSING.at * profile.nominal_v + slack_v(v) && v < due.low - slack_v(v);
    (tells && a_cell_less).then(|| {
        let message = format!(
            "{} V is read where {} V was expected: the volts of about {} cells are missing. A cell is shorted, or the number of cells is wrong. Stop the charge, and read each cell.",
            trimmed(v, 2),
            trimmed(due.at, 2),
            trimmed(missing_v / profile.nominal_v, 1)
        );
        let ask = perhaps_a_slip(scene, v);
        let values = [("voltage_v", v), ("expected_v", due.at)];
        SayingDoc { ask, ..saying(SayingCode::VoltageMissing, Severity::Stop, message, &values) }
    })
}

/// Whether the meter really reads that: a point in the wrong place, or one cell's volts for the pack's.
fn slip(scene: &Scene<'_>, volts: f64) -> AskDoc {
    asked(
        scene.volts_field(),
        format!("Does the meter read {} V?", trimmed(volts, 2)),
        scene
            .other_scale(volts)
            .map(|other| (format!("{} V", trimmed(other, 2)), other, "it counts as that".to_owned())),
        sure_of(format!("{} V, read twice", trimmed(volts, 2)), "it counts, and the cause is to be found"),
    )
}

/// The same only where a slip would explain them, and nobody is sure.
fn perhaps_a_slip(scene: &Scene<'_>, volts: f64) -> Option<AskDoc> {
    let sure = scene.last_look().is_some_and(|look| look.sure);
    (!sure && scene.other_scale(volts).is_some()).then(|| slip(scene, volts))
}

/// Volts that no such pack can have by now: a slip, a meter that is off, or another pack.
pub(crate) fn volts_unlikely(scene: &Scene<'_>) -> Option<SayingDoc> {
    let look = scene.last_look()?;
    let v = look.pack_v.filter(|_| scene.doubt == Some(Doubt::Volts))?;
    let due = scene.due.volts;
    let read = format!(
        "{} V is read where {} V was expected, between {} and {} V.",
        trimmed(v, 2),
        trimmed(due.at, 2),
        trimmed(due.low, 2),
        trimmed(due.high, 2)
    );
    let values = [("voltage_v", v), ("expected_v", due.at), ("low_v", due.low), ("high_v", due.high)];
    if look.sure {
        let message = format!(
            "{read} Another pack is connected, its number of cells is wrong, or the meter is off. Read each cell, and compare the meter with another one. Nothing is learned of the pack from this reading."
        );
        return Some(saying(SayingCode::VoltsUnlikely, Severity::Caution, message, &values));
    }
    let message = format!("{read} Nothing is learned of the pack from it until that is cleared up.");
    let ask = Some(slip(scene, v));
    Some(SayingDoc { ask, ..saying(SayingCode::VoltsUnlikely, Severity::Caution, message, &values) })
}

/// What the lead takes, from the last reading that has both its ends.
pub(crate) fn lead_drop(scene: &Scene<'_>) -> Option<SayingDoc> {
    let plan = scene.plan;
    let direct = plan.charger.is_none();
    if direct && plan.source.as_ref().is_some_and(|source| source.remote_sense) {
        return None;
    }
    let at = if direct { MeterAt::Source } else { MeterAt::Charger };
    let (display_v, terminal_v, a) = scene.readings.iter().rev().find_map(|r| {
        let display_v = if direct { r.source_v } else { r.charger_v };
        let a = if direct { r.source_a.or(r.terminal_a) } else { r.charger_a.or(r.terminal_a) };
        Some((display_v?, r.terminal_v?, a?))
    })?;
    if a < 0.1 {
        return None;
    }
    let wires = [plan.output.as_ref(), plan.input.as_ref().filter(|_| direct)];
    let known_ohm: f64 = wires.into_iter().flatten().map(|lead| lead.ohm).sum();
    let drop_v = display_v - terminal_v;
    let stray_v = drop_v - a * (1.5 * known_ohm + leads::STRAY_OHM.at);
    // A display that was compared is trusted further than one that was not.
    let compared = plan.corrections.iter().any(|c| c.at == at);
    let display_slack_v = if compared { 0.003 } else { 0.01 } * display_v;
    (stray_v > leads::STRAY_V.at + display_slack_v).then(|| {
        let mohm = drop_v / a * 1e3;
        let message = format!(
            "{} V between display and terminals at {} A: {} mΩ, where the leads have {}. Look for a poor contact, feel for a warm one; while much current flows the pack sees less than the display: add nothing to the voltage.",
            trimmed(drop_v, 2),
            trimmed(a, 2),
            trimmed(mohm, 0),
            trimmed(known_ohm * 1e3, 0)
        );
        saying(SayingCode::LeadDrop, Severity::Caution, message, &[("drop_v", drop_v), ("lead_mohm", mohm), ("known_mohm", known_ohm * 1e3)])
    })
}
