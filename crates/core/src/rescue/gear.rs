//! Whether some gear is gentle enough, how to set it, and how long it takes: the same chain and
//! the same charge as a plan's, with the pack carried below empty.

use super::deep::{deepened, shares};
use super::found::Picture;
use crate::advice::checks::{self, Situation};
use crate::chain::feed::Control;
use crate::chain::reckoning::{Reckoning, identified};
use crate::chain::settings::choose;
use crate::codes::CheckCode;
use crate::formats::{
    ChargerDoc, ChargerKind, CheckDoc, EndReason, FitDoc, GoalDoc, GoalKind, LeadsDoc, PLAN_FORMAT, PackDoc, PlanDoc,
    Problems, SettingsDoc, Severity, SourceDoc, SourceKind, StartDoc,
};
use crate::lines::{gear, rates};
use crate::parts::plan::resolve;
use crate::physics::charge::{Charge, Scale};
use crate::units::{show_hours, significant, trimmed};

/// Longer than this no precharge is followed, h.
const LONGEST_H: f64 = 24.0;
/// Less than any current that charges, A.
const LEAST_A: f64 = 0.0002;

/// What a stage asks of the gear.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Target {
    /// Never above this at the terminals, V.
    pub(crate) ceiling_v: f64,
    /// Never more than this, A.
    pub(crate) limit_a: f64,
    /// Where it is done, V.
    pub(crate) until_v: f64,
    /// Where the cells stand at first, V a cell.
    pub(crate) from_v: f64,
}

/// A stage computed with some gear.
pub(crate) struct Trial {
    pub(crate) fit: FitDoc,
    /// The likely charge first, then the others that a living pack may show.
    pub(crate) charges: Vec<Charge>,
}

/// The gear that is asked about.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Gear<'a> {
    pub(crate) source: &'a SourceDoc,
    pub(crate) charger: Option<&'a ChargerDoc>,
    pub(crate) leads: Option<&'a LeadsDoc>,
}

/// A supply that does just what is asked, to show the course of a stage where none is named.
pub(crate) fn ideal(target: &Target) -> SourceDoc {
    SourceDoc {
        name: Some("A bench supply".to_owned()),
        kind: Some(SourceKind::BenchSupply),
        max_voltage_v: Some(target.ceiling_v.max(0.5) + 1.0),
        max_current_a: Some(target.limit_a.max(0.01)),
        ..SourceDoc::default()
    }
}

fn question(picture: &Picture, pack: &PackDoc, gear: Gear<'_>, target: &Target) -> PlanDoc {
    // Without readings all cells are taken to be alike.
    let start = match picture.cells.known() {
        Some(cells) => StartDoc {
            block_voltages_v: Some(cells.each_v.iter().map(|v| v * cells.per_reading).collect()),
            cells_per_block: Some(cells.per_reading as u32),
            ..StartDoc::default()
        },
        None => StartDoc { rest_voltage_v: Some(target.from_v * picture.series()), ..StartDoc::default() },
    };
    PlanDoc {
        format: Some(PLAN_FORMAT.to_owned()),
        pack: Some(PackDoc {
            start: Some(start),
            goal: Some(GoalDoc { kind: Some(GoalKind::Full), soc: None }),
            mark: None,
            temperature_c: picture.temperature_c.known().copied(),
            ..pack.clone()
        }),
        source: Some(gear.source.clone()),
        charger: gear.charger.cloned(),
        leads: gear.leads.cloned(),
        settings: Some(SettingsDoc {
            voltage_v: Some(target.ceiling_v.max(0.1)),
            current_a: Some(target.limit_a.max(0.001)),
            stop_voltage_v: Some(target.until_v.max(0.1)),
            // Only the voltage ends it, however little flows.
            stop_current_a: Some(LEAST_A),
            time_limit_h: Some(LONGEST_H),
            ..SettingsDoc::default()
        }),
        ..PlanDoc::default()
    }
}

/// Tries some gear on a stage.
///
/// # Errors
/// What is wrong with the gear's documents.
pub(crate) fn attempt(
    picture: &Picture,
    pack: &PackDoc,
    gear: Gear<'_>,
    target: &Target,
    all: bool,
) -> Result<Trial, Problems> {
    let mut plan = resolve(&question(picture, pack, gear, target))?.plan;
    let level = plan.pack.clone();
    let [likely, least, most] = shares(&level.profile);
    let mut run = |share: f64, resistance: f64| {
        plan.pack = deepened(&level, share);
        let found = identified(&plan);
        let source = plan.source.clone()?;
        let mut chosen = choose(&plan, &source, &found);
        // A stage has an hour's reading of its own, and goes on from there.
        chosen.stops.limit_s = Some(LONGEST_H * 3600.0);
        let reckoning = Reckoning { plan: &plan, found: &found, chosen: Some(&chosen) };
        let charge = reckoning.run(found.soc, Scale { resistance, ..Scale::NOMINAL });
        let checks = checks::run(&Situation::new(&plan, &found, Some(&chosen), &charge));
        let controlled = matches!(chosen.built.control, Control::Dial | Control::Held);
        let dial = chosen.built.voltage_at.is_some();
        Some((charge, checks, chosen.dial_v, chosen.built.control, controlled, dial))
    };
    let Some((charge, checks, dial_v, control, controlled, dial)) = run(likely, 1.0) else {
        return Err(Problems::default());
    };
    let name = name(gear);
    let most_a = charge.moments.iter().map(|m| m.current_a).fold(0.0, f64::max);
    let reached = matches!(charge.reason, EndReason::StopVoltage);
    let unfit = why_not(picture, gear, target, &checks, &charge, (dial_v, dial), control);
    let expected_s = reached.then(|| significant(charge.end.t_s));
    let message = unfit.clone().unwrap_or_else(|| how(target, dial_v, dial, controlled, most_a, expected_s));
    let fit = FitDoc {
        name,
        source: None,
        charger: None,
        fits: unfit.is_none(),
        controlled: controlled && dial,
        voltage_v: Some(dial_v),
        current_a: Some(most_a),
        expected_s,
        message,
    };
    let mut charges = vec![charge];
    if all {
        for (share, resistance) in [(least, 0.6), (most, 0.6), (most, 2.5), (least, 2.5)] {
            charges.extend(run(share, resistance).map(|trial| trial.0));
        }
    }
    Ok(Trial { fit, charges })
}

fn name(gear: Gear<'_>) -> String {
    let own = |name: &Option<String>, kind: Option<&str>| {
        name.clone().unwrap_or_else(|| kind.unwrap_or("gear").replace('_', " "))
    };
    let source = own(&gear.source.name, gear.source.kind.map(SourceKind::code));
    match gear.charger {
        Some(charger) => format!("{source} with {}", own(&charger.name, charger.kind.map(ChargerKind::code))),
        None => source,
    }
}

/// Whether what no dial holds is no more above what was wanted than a stage is broken off at.
fn hardly_more(check: &CheckDoc) -> bool {
    let value = |name: &str| check.values.get(name).copied().unwrap_or(f64::INFINITY);
    check.code == CheckCode::SettingsCurrentNotHeld && value("current_a") <= rates::OVER_TOLD.at * value("set_a")
}

/// The least that some gear can be set to, A: its knob, and what its display is off.
fn least_set_a(gear: Gear<'_>, control: Control) -> Option<f64> {
    if control != Control::Dial {
        return None;
    }
    let range_a = gear.charger.map_or(gear.source.max_current_a, |charger| charger.output_max_a);
    Some(gear::LEAST_SET_A.at.max(gear::OFFSET.at * range_a.unwrap_or(0.0)))
}

/// Stops of a plan that say nothing about whether the gear is gentle: those of the pack are
/// triage's, and a low pack always looks like one of fewer cells.
fn of_gear(picture: &Picture, code: CheckCode) -> bool {
    // Lead is judged at its terminals, attended, whatever a small adapter reads with nothing drawn.
    let lead = picture.pack.profile.traits.sulphates
        && matches!(code, CheckCode::SourceNoCurrentLimit | CheckCode::SettingsVoltageTooHigh);
    !lead && !code.code().starts_with("pack.") && code != CheckCode::SettingsWrongCellCount
}

/// Why some gear does not do, if it does not.
fn why_not(
    picture: &Picture,
    gear: Gear<'_>,
    target: &Target,
    checks: &[CheckDoc],
    charge: &Charge,
    (dial_v, dial): (f64, bool),
    control: Control,
) -> Option<String> {
    if gear.charger.is_some_and(|charger| charger.kind.is_some_and(ChargerKind::chooses)) {
        return Some(
            "It goes by the cells it counts and has no voltage setting: it refuses so low a pack, or takes it for one of fewer cells.".to_owned(),
        );
    }
    if let Some(least_a) = least_set_a(gear, control).filter(|least_a| *least_a > target.limit_a) {
        return Some(format!(
            "It cannot be set to so little: {} A at least, and {} A is the most that is gentle. A resistor of {} Ω in series would hold it.",
            trimmed(least_a, 2),
            trimmed(target.limit_a, 3),
            trimmed(((target.ceiling_v - target.from_v * picture.series()).max(0.5) / target.limit_a).ceil(), 0)
        ));
    }
    if let Some(stop) =
        checks.iter().find(|c| c.severity == Severity::Stop && of_gear(picture, c.code) && !hardly_more(c))
    {
        // A rescue has no current that could be left open.
        let not_held = stop.code == CheckCode::SettingsCurrentNotHeld;
        return Some(match (stop.values.get("set_a"), stop.values.get("current_a")) {
            (Some(set_a), Some(flows_a)) if not_held => format!(
                "{} A are wanted, and nothing here holds a current: up to {} A would flow.",
                trimmed(*set_a, 2),
                trimmed(*flows_a, if *flows_a < 10.0 { 1 } else { 0 })
            ),
            _ => stop.message.clone(),
        });
    }
    if control == Control::Hand {
        return Some("Nothing holds its current: a turn too far and it gives all it has.".to_owned());
    }
    let most_a = charge.moments.iter().map(|m| m.current_a).fold(0.0, f64::max);
    if most_a > rates::DIAL_OVER.at * target.limit_a {
        return Some(format!(
            "It drives {} A into this pack; {} A is the most that is gentle.",
            trimmed(most_a, 2),
            trimmed(target.limit_a, 3)
        ));
    }
    let label_a = gear.source.max_current_a.filter(|_| gear.source.kind == Some(SourceKind::WallAdapter));
    if let Some(label_a) = label_a.filter(|label_a| most_a > rates::ADAPTER_OVER.at * label_a) {
        return Some(format!(
            "It would give {} A into so low a pack; its label says {} A, and it would overheat.",
            trimmed(most_a, 2),
            trimmed(label_a, 2)
        ));
    }
    let limiting = !picture.pack.profile.traits.sulphates;
    if limiting && !dial && dial_v > target.ceiling_v * 1.002 {
        return Some(format!(
            "It stands at {} V with nothing drawn; {} V is the most this pack may see.",
            trimmed(dial_v, 2),
            trimmed(target.ceiling_v, 2)
        ));
    }
    if charge.reason != EndReason::StopVoltage {
        let last_v = charge.moments.last().map_or(0.0, |m| m.pack_v);
        return Some(if dial_v < target.until_v {
            format!("It reaches {} V; {} V is needed.", trimmed(dial_v, 2), trimmed(target.until_v, 2))
        } else {
            format!("In a day it would bring it to {} V only.", trimmed(last_v, 2))
        });
    }
    None
}

fn how(target: &Target, dial_v: f64, dial: bool, controlled: bool, most_a: f64, expected_s: Option<f64>) -> String {
    let takes = expected_s.map_or(String::new(), |s| {
        if s < 45.0 { " Seconds.".to_owned() } else { format!(" About {}.", show_hours(s / 3600.0)) }
    });
    let amps = trimmed(most_a, 3);
    match (dial, controlled) {
        (true, true) => format!("Output off: set {} V and {amps} A, then connect.{takes}", trimmed(dial_v, 2)),
        (true, false) => {
            format!("Set {} V: it gives {amps} A at first, less as the pack rises.{takes}", trimmed(dial_v, 2))
        }
        (false, _) if dial_v > target.ceiling_v => format!(
            "It gives {amps} A at most, but stands at {} V with nothing drawn: stay, and part it at {} V.{takes}",
            trimmed(dial_v, 1),
            trimmed(target.until_v, 2)
        ),
        (false, _) => format!("It gives {amps} A at most by itself.{takes}"),
    }
}
