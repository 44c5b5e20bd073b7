//! What a test costs the battery that feeds it, whether it takes back what is given back, and how many cycles it pays.

use crate::codes::{Severity, TestCheckCode};
use crate::formats::{ChargerDoc, SegmentKind, TestCheckDoc, TestPhaseDoc, named};
use crate::parts::source::Source;
use crate::units::{show_hours, trimmed};

/// What is looked at.
pub(super) struct Asked<'a> {
    pub(super) phases: &'a [TestPhaseDoc],
    pub(super) source: Option<&'a Source>,
    pub(super) charger: Option<&'a ChargerDoc>,
    /// The share given back; `None` where nothing is.
    pub(super) back: Option<f64>,
    pub(super) cycle_s: f64,
    /// What each cycle after the first costs, Wh; `None` where there is one.
    pub(super) again_wh: Option<f64>,
}

/// What came of it.
#[derive(Default)]
pub(super) struct Paid {
    pub(super) checks: Vec<TestCheckDoc>,
    pub(super) cycles: Option<u32>,
    pub(super) costs_wh: Option<f64>,
    pub(super) held_up_by_w: Option<f64>,
}

/// More cycles than this nobody counts.
const MOST_CYCLES: u32 = 9_999;

/// Follows the battery through a cycle.
pub(super) fn paid(asked: &Asked<'_>) -> Paid {
    let mut paid = Paid::default();
    let Some(battery) = asked.source.and_then(|source| source.battery.as_ref()) else { return paid };
    let mut check = |code: TestCheckCode, severity: Severity, message: String, values: &[(&str, f64)]| {
        paid.checks.push(TestCheckDoc { code, severity, message, values: named(values), lifts: Vec::new() });
    };
    let usable_wh = battery.usable_wh();
    let whole_wh = battery.capacity_as / 3600.0 * battery.open_v(0.5);
    let room_wh = (1.0 - battery.soc) * whole_wh;
    // From its present charge: how far it goes down, and how far up, within one cycle.
    let (mut level, mut lowest, mut highest) = (0.0_f64, 0.0_f64, 0.0_f64);
    for phase in asked.phases {
        level -= phase.source_wh;
        lowest = lowest.min(level);
        highest = highest.max(level);
    }
    let costs_wh = asked.again_wh.unwrap_or(-level);
    let (room, given) = (trimmed(room_wh, 0), trimmed(highest, 0));
    let gives_back = asked.back.is_some();
    if gives_back && highest > room_wh + 0.01 * whole_wh {
        check(
            TestCheckCode::NoRoom,
            Severity::Stop,
            format!(
                "{given} Wh would come back and the battery that feeds it has room for {room}: run something off it first, or begin with the charge."
            ),
            &[("back_wh", highest), ("room_wh", room_wh)],
        );
    }
    if let Some(phase) = asked.phases.iter().find(|phase| gives_back && phase.kind == SegmentKind::Discharge) {
        let hours = (phase.to_s - phase.from_s) / 3600.0;
        let mean_w = -phase.source_wh / hours.max(1e-6);
        let peak_w = mean_w * phase.current_a * (phase.to_s - phase.from_s) / 3600.0 / phase.charge_ah.max(1e-9);
        let at_soc = (battery.soc + (highest.max(0.0)) / whole_wh.max(1e-9)).min(1.0);
        let open_v = battery.open_v(at_soc) + 2.0 * battery.profile.hysteresis_v * battery.series;
        let back_a = peak_w / open_v.max(1.0);
        let lifted_v = open_v + back_a * battery.ohm;
        let most_v = battery.profile.full_v * battery.series;
        let shown = trimmed(lifted_v, 2);
        if lifted_v > most_v {
            check(
                TestCheckCode::SourceVoltage,
                Severity::Stop,
                format!(
                    "{} A given back lift the battery that feeds it to {shown} V, above its own charge voltage of {} V: less current, or a battery less full.",
                    trimmed(back_a, 1),
                    trimmed(most_v, 2)
                ),
                &[("voltage_v", lifted_v), ("limit_v", most_v)],
            );
        }
        if let Some(window_v) = asked.charger.and_then(|charger| charger.input_max_v)
            && lifted_v > window_v
        {
            check(
                TestCheckCode::InputWindow,
                Severity::Stop,
                format!(
                    "{shown} V at the charger's input is above the {} V it takes: it would switch off in the midst, or break.",
                    trimmed(window_v, 1)
                ),
                &[("voltage_v", lifted_v), ("limit_v", window_v)],
            );
        }
    }
    paid.costs_wh = Some(costs_wh);
    if -lowest > usable_wh {
        check(
            TestCheckCode::SourceShort,
            Severity::Stop,
            format!(
                "The battery that feeds it has {} Wh above its reserve, and one cycle draws {}: charge it first, or hold it up meanwhile.",
                trimmed(usable_wh, 0),
                trimmed(-lowest, 0)
            ),
            &[("usable_wh", usable_wh), ("needed_wh", -lowest)],
        );
        paid.cycles = Some(0);
    } else if costs_wh > 1e-6 {
        // Each cycle but the last only costs what it does not give back.
        let more = ((usable_wh + lowest) / costs_wh).floor().max(0.0);
        paid.cycles = Some((more as u32).min(MOST_CYCLES - 1) + 1);
        let mean_w = 3600.0 * costs_wh / asked.cycle_s.max(1.0);
        paid.held_up_by_w = Some(mean_w);
        let hours = show_hours(asked.cycle_s / 3600.0);
        check(
            TestCheckCode::HeldUp,
            Severity::Note,
            format!(
                "A cycle of {hours} costs it {} Wh: {} W on average from the sun or a mains charger hold it up.",
                trimmed(costs_wh, 1),
                trimmed(mean_w, 1)
            ),
            &[("cost_wh", costs_wh), ("power_w", mean_w)],
        );
    }
    paid
}
