//! The list before a discharge.

use super::super::items::{MOVED_V, between, item};
use crate::advice::discharge::{Discharge, Done, Wanted};
use crate::codes::{DischargeBy, PreflightCode, PreflightKind};
use crate::formats::PreflightItemDoc;
use crate::lines::{outward, wear};
use crate::parts::identify::Identified;
use crate::units::{in_celsius, show_hours, trimmed};

/// Coldest at which a pack is run down, °C.
const COLDEST_C: f64 = -20.0;

/// What is measured, or seen to, before a discharge begins.
pub(crate) fn list(discharge: &Discharge, done: &Done, found: &Identified) -> Vec<PreflightItemDoc> {
    use PreflightCode::{Cells, Clock, CutOff, Polarity, RestVoltage, Sink, Surface, Temperature};
    use PreflightKind::Tick;
    let pack = &discharge.pack;
    let profile = &pack.profile;
    let series = f64::from(pack.series);
    let mut items = Vec::new();
    if profile.traits.burns {
        items.push(item(Surface, Tick, "It lies on a surface that does not burn, nothing above it."));
    }
    let first_a = done.run.moments.first().map_or(0.0, |low| low.current_a);
    let last_v = done.run.moments.last().map_or(0.0, |low| low.pack_v);
    let end_v = match discharge.wanted {
        Wanted::Whole { to_v } => to_v * series,
        Wanted::Soc(_) => last_v,
    };
    let (amps, volts) = (trimmed(first_a, 2), trimmed(end_v, 2));
    match discharge.sink.by {
        DischargeBy::Resistor | DischargeBy::Lamp => {
            let what = if discharge.sink.by == DischargeBy::Lamp { "lamp" } else { "resistor" };
            let watts = trimmed(done.hottest_w, 0);
            let place = format!("The {what} lies on stone or metal, a hand’s breadth from everything: {watts} W.");
            items.push(item(Sink, Tick, place));
            let by = show_hours(0.8 * done.takes_s.0 / 3600.0);
            items.push(item(Clock, Tick, format!("A clock is set to {by}: nothing ends it but you, at {volts} V.")));
        }
        DischargeBy::ElectronicLoad => {
            let set = format!("The load, its input off, is set to {amps} A and ends at {volts} V.");
            items.push(item(CutOff, Tick, set));
        }
        DischargeBy::Charger | DischargeBy::Source => {
            let set =
                format!("The charger is set to discharge with {amps} A down to {volts} V, {} cells.", pack.series);
            items.push(item(CutOff, Tick, set));
        }
    }
    items.push(item(Polarity, Tick, "Plus and minus read by meter on both sides, before they meet."));
    let whole = matches!(discharge.wanted, Wanted::Whole { .. });
    let rest = item(RestVoltage, PreflightKind::Voltage, "The pack’s terminals at rest.");
    let margin_v = MOVED_V * series;
    let most_v = profile.ceiling_at(25.0) * series;
    items.push(if whole && found.soc >= wear::FROM_FULL.at && profile.voltage_tells_soc {
        let full_v = profile.ocv.at(wear::FROM_FULL.at).0 * series;
        between(rest, found.rest_v, full_v - margin_v, most_v)
    } else if found.measured && profile.voltage_tells_soc {
        between(rest, found.rest_v, found.rest_v - margin_v, found.rest_v + margin_v)
    } else {
        between(rest, found.rest_v, profile.precharge_below_v * series, most_v)
    });
    if pack.series > 1 && profile.traits.balance_lead {
        let cells = item(Cells, PreflightKind::Cells, "Each cell at rest, at the balance plug.");
        items.push(between(cells, found.rest_v / series, profile.precharge_below_v, profile.ceiling_v));
    }
    let feels = item(Temperature, PreflightKind::Temperature, "How warm the pack is itself.");
    items.push(between(feels, in_celsius(pack.temperature), COLDEST_C, outward::OUT_MAX_C.at - 15.0));
    items
}
