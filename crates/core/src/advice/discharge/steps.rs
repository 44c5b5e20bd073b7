//! What to do for a discharge, in order.

use super::computed::{Discharge, Done, Wanted};
use crate::acts::BreakOff;
use crate::codes::{DischargeBy, StepWhen};
use crate::formats::TestStepDoc;
use crate::units::{show_hours, trimmed};

pub(super) fn steps(asked: &Discharge, done: &Done, phase: u32) -> Vec<TestStepDoc> {
    let mut steps = Vec::new();
    let mut add = |when: StepWhen, message: String| steps.push(TestStepDoc { phase, when, message });
    let (Some(first), Some(last)) = (done.run.moments.first(), done.run.moments.last()) else { return steps };
    let series = asked.series();
    let lead = asked.pack.profile.traits.in_blocks;
    add(
        StepWhen::Before,
        format!(
            "Measure by meter: the pack at rest, about {} V{}; its warmth.",
            trimmed(asked.pack.profile.ocv.at(asked.start_soc).0 * series, 1),
            if series > 1.0 && !lead { ", and each cell" } else { "" }
        ),
    );
    let (amps, watts) = (trimmed(first.current_a, 2), trimmed(first.current_a * first.pack_v, 1));
    let cut_v = match asked.wanted {
        Wanted::Whole { to_v } => to_v * series,
        Wanted::Soc(_) => last.pack_v,
    };
    let cut = trimmed(cut_v, 2);
    match asked.sink.by {
        DischargeBy::Charger | DischargeBy::Source => {
            add(
                StepWhen::Before,
                format!(
                    "Set the charger to discharge: {amps} A, down to {cut} V ({} cells in series).",
                    asked.pack.series
                ),
            );
            add(StepWhen::Before, "Main lead first, then the balance lead where it has one; read the cell count it shows before you start.".into());
        }
        DischargeBy::ElectronicLoad => {
            add(StepWhen::Before, format!("Set the load, its input off: constant current, {amps} A, cut-off {cut} V."));
            add(StepWhen::Before, "Plus to plus, minus to minus by meter: reversed, a load conducts without limit. A fuse at the pack's plus. Then input on.".into());
        }
        DischargeBy::Resistor | DischargeBy::Lamp => {
            let what = if asked.sink.by == DischargeBy::Lamp { "lamp" } else { "resistor" };
            add(
                StepWhen::Before,
                format!("Put the {what} where nothing can burn; it takes {watts} W. A fuse at the pack's plus."),
            );
            add(
                StepWhen::Before,
                format!("The {what} to the lead first, the pack last, and part it at the pack first."),
            );
        }
    }
    add(StepWhen::During, format!("Expect {amps} A at {} V at first.", trimmed(first.pack_v, 2)));
    let (low_s, high_s) = done.takes_s;
    let (low, high) = (show_hours(low_s / 3600.0), show_hours(high_s / 3600.0));
    match asked.wanted {
        Wanted::Whole { to_v } => add(
            StepWhen::During,
            format!(
                "It is empty after {low} to {high}: end it at {cut} V, or when the first cell is at {} V.",
                trimmed(to_v, 2)
            ),
        ),
        Wanted::Soc(_) => add(
            StepWhen::During,
            format!(
                "After {low} to {high}, {} Ah, it is where it should be: about {cut} V under current.",
                trimmed(done.run.charge_as / 3600.0, 2)
            ),
        ),
    }
    // Lead's cells cannot be read; of the others none goes below where the test ends, or below its line.
    let least_v = match asked.wanted {
        Wanted::Whole { to_v } => to_v,
        Wanted::Soc(_) => asked.pack.profile.precharge_below_v,
    };
    let cells_read = series > 1.0 && !lead && least_v > 0.0;
    add(StepWhen::During, BreakOff::out_of(&asked.pack, least_v).sentence(cells_read));
    match asked.wanted {
        Wanted::Whole { .. } => {
            add(
                StepWhen::After,
                "Write down Ah, Wh, amps and warmth; ten minutes later the volts of each cell at rest.".into(),
            );
            if asked.pack.profile.traits.burns || lead {
                add(
                    StepWhen::After,
                    "Do not leave it empty: charge it again within the hour, once it has cooled.".into(),
                );
            }
        }
        Wanted::Soc(soc) => {
            let rest_v = trimmed(asked.pack.profile.ocv.at(soc).0 * series, 2);
            add(StepWhen::After, format!("Half an hour later it rests at about {rest_v} V."));
        }
    }
    steps
}
