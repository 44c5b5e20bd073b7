//! What a pack is discharged into, as it is described: how much it takes, and whether it ends by itself.

use crate::codes::{DischargeBy, DischargeLimit, TestCheckCode};
use crate::formats::{ChargerDoc, ChargerKind, DischargeAskDoc};
use crate::lines::gear;
use crate::parts::pack::Pack;
use crate::parts::problems::Checked;
use crate::parts::source::Source;
use crate::physics::charge::Draw;
use crate::physics::operating::Lamps;
use crate::units::{in_amp_hours, in_amps};

/// What a pack is discharged into.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Sink {
    pub(crate) by: DischargeBy,
    /// What it draws; `None` where what takes it cannot, and why.
    pub(crate) draw: Result<Draw, TestCheckCode>,
    /// What a resistor may turn to heat, W.
    pub(crate) rated_w: Option<f64>,
    /// What a lamp is made for, V.
    pub(crate) lamp_v: Option<f64>,
    /// Whether it ends at the cut-off by itself.
    pub(crate) ends: bool,
    /// Whether its current was asked for, not found.
    pub(crate) asked: bool,
}

/// What limits a discharge besides what takes it.
pub(crate) struct Around<'a> {
    pub(crate) pack: &'a Pack,
    pub(crate) charger: Option<&'a ChargerDoc>,
    pub(crate) source: Option<&'a Source>,
}

/// Reads it; everything wrong is recorded.
pub(crate) fn read(ask: &DischargeAskDoc, around: &Around<'_>, check: &mut Checked<'_>) -> Option<Sink> {
    let known = DischargeBy::ALL.iter().map(|by| by.code()).collect::<Vec<_>>().join(", ");
    let by = check.required("by", ask.by, &known)?;
    let asked_a = check.within("current_a", ask.current_a, 0.001, 10_000.0);
    let max_w = check.within("max_w", ask.max_w, 0.1, 1e6);
    let ohm = check.within("resistance_ohm", ask.resistance_ohm, 0.001, 1e6);
    let rated_w = check.within("rated_w", ask.rated_w, 0.05, 1e6);
    let lamp_v = check.within("lamp_rated_v", ask.lamp_rated_v, 1.0, 400.0);
    let lamp_w = check.within("lamp_rated_w", ask.lamp_rated_w, 0.5, 5000.0);
    let lamps = check.whole("lamps_in_parallel", ask.lamps_in_parallel, 1, 50).unwrap_or(1);
    let pack = around.pack;
    let nameplate_ah = in_amp_hours(pack.nameplate);
    let reference_a = pack.profile.keeping.reference_c * nameplate_ah;
    let gives_a = pack.gives.map(in_amps);
    let (mut amps, mut set_by) = (asked_a.unwrap_or(reference_a), DischargeLimit::SetCurrent);
    if asked_a.is_none() && gives_a.is_some_and(|gives| gives < amps) {
        (amps, set_by) = (gives_a.unwrap_or(amps), DischargeLimit::PackRate);
    }
    let (mut watts, mut watts_by) = (max_w.unwrap_or(f64::INFINITY), DischargeLimit::MaxPower);
    let draw = match by {
        DischargeBy::Resistor => {
            let ohm = check.required("resistance_ohm", ohm, "its resistance, Ω")?;
            Ok(Draw::Ohm(ohm))
        }
        DischargeBy::Lamp => {
            let rated_v = check.required("lamp_rated_v", lamp_v, "one lamp's rated voltage, V")?;
            let rated_w = check.required("lamp_rated_w", lamp_w, "one lamp's rated power, W")?;
            Ok(Draw::Lamps(Lamps { rated_v, rated_a: f64::from(lamps) * rated_w / rated_v }))
        }
        DischargeBy::ElectronicLoad => Ok(Draw::Holds { amps, set_by, watts, watts_by }),
        DischargeBy::Charger | DischargeBy::Source => {
            let charger = around.charger;
            let own_a = charger.and_then(|charger| charger.discharge_max_a);
            let own_w = charger.and_then(|charger| charger.discharge_max_w);
            if let Some(a) = own_a.filter(|a| *a < amps) {
                (amps, set_by) = (a, DischargeLimit::MaxCurrent);
            }
            watts = watts.min(own_w.unwrap_or(f64::INFINITY));
            if by == DischargeBy::Source
                && let Some(limit) = back_into(around)
                && limit.0 < watts
            {
                (watts, watts_by) = limit;
            }
            let known = own_a.is_some() || own_w.is_some() || max_w.is_some();
            match (by, around.charger.and_then(|charger| charger.regenerates)) {
                _ if !known => Err(TestCheckCode::NoDischarger),
                (DischargeBy::Source, back) if back != Some(true) => Err(TestCheckCode::NotRegenerative),
                (DischargeBy::Source, _) if around.source.is_none_or(|source| source.battery.is_none()) => {
                    Err(TestCheckCode::SourceTakesNothing)
                }
                _ => Ok(Draw::Holds { amps, set_by, watts, watts_by }),
            }
        }
    };
    Some(Sink {
        by,
        draw,
        rated_w: rated_w.filter(|_| by == DischargeBy::Resistor),
        lamp_v: lamp_v.filter(|_| by == DischargeBy::Lamp),
        ends: matches!(by, DischargeBy::Charger | DischargeBy::Source | DischargeBy::ElectronicLoad),
        asked: asked_a.is_some(),
    })
}

/// What the way back into the battery takes at the pack's side, W, and which of charger and battery says so.
fn back_into(around: &Around<'_>) -> Option<(f64, DischargeLimit)> {
    let battery = around.source?.battery.as_ref()?;
    let efficiency = around.charger.and_then(|charger| charger.efficiency).unwrap_or(gear::EFFICIENCY.at);
    let volts = battery.open_v(battery.soc);
    let rate = battery.profile.rates.standard;
    let battery_w = rate * battery.capacity_as / 3600.0 * volts / efficiency;
    let input_a = around.charger.and_then(|charger| charger.input_max_a).unwrap_or(f64::INFINITY);
    let input_w = around.charger.and_then(|charger| charger.input_max_w).unwrap_or(f64::INFINITY);
    let charger_w = input_w.min(input_a * volts) / efficiency;
    Some(if charger_w < battery_w {
        (charger_w, DischargeLimit::ChargerInput)
    } else {
        (battery_w, DischargeLimit::SourceRate)
    })
}

/// What a plan's charger could discharge its pack into; `None` where it is nothing of the kind.
pub(crate) fn of_charger(charger: &ChargerDoc) -> Option<DischargeAskDoc> {
    let by = match charger.kind? {
        ChargerKind::Resistor => DischargeBy::Resistor,
        ChargerKind::Lamp => DischargeBy::Lamp,
        _ if charger.discharge_max_a.is_some() || charger.discharge_max_w.is_some() => DischargeBy::Charger,
        _ => return None,
    };
    Some(DischargeAskDoc {
        by: Some(by),
        // What its own discharger takes, no gentler.
        current_a: charger.discharge_max_a.filter(|_| by == DischargeBy::Charger),
        max_w: charger.discharge_max_w.filter(|_| by == DischargeBy::Charger),
        resistance_ohm: charger.resistance_ohm,
        rated_w: charger.rated_w.filter(|_| by == DischargeBy::Resistor),
        lamp_rated_v: charger.lamp_rated_v,
        lamp_rated_w: charger.lamp_rated_w,
        lamps_in_parallel: charger.lamps_in_parallel,
        to_v_per_cell: None,
    })
}
