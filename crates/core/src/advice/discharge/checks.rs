//! What to mind of a discharge: that it ends, that no cell falls too low, that nothing gets too hot.

use super::computed::{Discharge, Done, Wanted};
use crate::acts::{Act, ActKind, Refused, judge};
use crate::chain::may::Subject;
use crate::codes::{CheckCode, DischargeBy, Practice, Severity, TestCheckCode};
use crate::formats::{TestCheckDoc, named};
use crate::lines::outward;
use crate::parts::identify::identify;
use crate::units::{in_amp_hours, in_amps, in_celsius, show_hours, trimmed};

const LONG_S: f64 = outward::LONG_H.at * 3600.0;

/// Whether any of them is a stop.
pub(crate) fn refuses(checks: &[TestCheckDoc]) -> bool {
    checks.iter().any(|check| check.severity == Severity::Stop)
}

/// Gravest first, each in the order it was found.
pub(crate) fn graver_first(mut checks: Vec<TestCheckDoc>) -> Vec<TestCheckDoc> {
    checks.sort_by_key(|check| match check.severity {
        Severity::Stop => 0,
        Severity::Caution => 1,
        Severity::Note => 2,
    });
    checks
}

/// Why what was chosen cannot take it.
pub(crate) fn cannot(code: TestCheckCode, by: DischargeBy) -> String {
    match (code, by) {
        (TestCheckCode::NotRegenerative, _) => {
            "The charger is not said to give anything back into its source. Choose its own discharger, a load, a resistor or a lamp.".into()
        }
        (TestCheckCode::SourceTakesNothing, _) => {
            "What feeds the charger is no battery: current given back into a supply lifts its voltage until it trips or breaks.".into()
        }
        _ => "What the charger's discharger takes is not said: look for “discharge” on its label or in its leaflet, W or A.".into(),
    }
}

struct Found(Vec<TestCheckDoc>);

impl Found {
    fn add(&mut self, code: TestCheckCode, severity: Severity, message: String, values: &[(&str, f64)]) {
        self.0.push(TestCheckDoc { code, severity, message, values: named(values), lifts: Vec::new() });
    }
}

pub(super) fn checks(asked: &Discharge, done: &Done) -> Vec<TestCheckDoc> {
    let mut found = Found(every_act(asked, done));
    pack(asked, done, &mut found);
    ends(asked, done, &mut found);
    heat(asked, done, &mut found);
    found.0
}

/// What the rules of every act say of it.
fn every_act(asked: &Discharge, done: &Done) -> Vec<TestCheckDoc> {
    let pack = &asked.pack;
    let identified = identify(pack, false);
    let most_a = done.run.moments.iter().map(|m| m.current_a).fold(0.0, f64::max);
    let rest_v = pack.profile.ocv.at(asked.start_soc).0 * asked.series();
    let act = Act {
        kind: ActKind::Discharge,
        subject: Subject { pack, found: &identified, practice: Practice::Standard },
        around_c: in_celsius(pack.temperature),
        dials: true,
        asked_a: most_a,
        most_a,
        likely_a: most_a,
        unloaded_a: None,
        highest_v: rest_v.max(identified.rest_v),
        lasts_s: done.run.total_s(),
    };
    let findings = match judge(act, Vec::new()) {
        Ok(cleared) => cleared.findings().to_vec(),
        Err(Refused { findings }) => findings,
    };
    let code = |code: CheckCode| match code {
        CheckCode::PackRetired => TestCheckCode::Retired,
        CheckCode::PackLethalVoltage | CheckCode::PackTouchVoltage => TestCheckCode::Shock,
        _ => TestCheckCode::CellFailed,
    };
    let told = findings.into_iter().map(|finding| TestCheckDoc {
        code: code(finding.code),
        severity: finding.severity,
        message: finding.message,
        values: finding.values,
        lifts: finding.lifts,
    });
    told.collect()
}

fn pack(asked: &Discharge, done: &Done, found: &mut Found) {
    use Severity::{Caution, Note, Stop};
    let pack = &asked.pack;
    let profile = &pack.profile;
    let most_a = done.run.moments.iter().map(|m| m.current_a).fold(0.0, f64::max);
    let c_rate = most_a / in_amp_hours(pack.nameplate);
    let (amps, rate) = (trimmed(most_a, 2), trimmed(c_rate, 2));
    match pack.gives.map(in_amps) {
        Some(gives_a) if most_a > outward::OVER_GIVES.at * gives_a => found.add(
            TestCheckCode::RateTooHigh,
            Stop,
            format!("{amps} A is more than the {} A its label lets it give.", trimmed(gives_a, 2)),
            &[("current_a", most_a), ("limit_a", gives_a)],
        ),
        None if c_rate > outward::UNLABELLED_C.at => found.add(
            TestCheckCode::RateTooHigh,
            Caution,
            format!("{amps} A is {rate}C and nobody said what this pack may give: put a thermometer on it and stop at {} °C.", trimmed(outward::OUT_MAX_C.at, 0)),
            &[("c_rate", c_rate)],
        ),
        _ => {}
    }
    let warm_c = in_celsius(pack.temperature);
    let shown = trimmed(warm_c, 0);
    if warm_c > outward::OUT_MAX_C.at {
        found.add(
            TestCheckCode::Temperature,
            Stop,
            format!("The pack is at {shown} °C: let it cool below 40 °C first."),
            &[("temperature_c", warm_c)],
        );
    } else if let Wanted::Whole { .. } = asked.wanted
        && !(outward::COMPARED_FROM_C.at..=outward::COMPARED_TO_C.at).contains(&warm_c)
    {
        found.add(
            TestCheckCode::Temperature,
            Caution,
            format!(
                "At {shown} °C what it gives says little of what it holds: test it between 15 and 30 °C if you can."
            ),
            &[("temperature_c", warm_c)],
        );
    }
    if let Wanted::Whole { to_v } = asked.wanted {
        // Lead under a large current falls below its cut-off at rest without harm.
        let share = if profile.traits.in_blocks { outward::LEAD_UNDER_LOAD.at } else { 1.0 };
        let line_v = share * profile.precharge_below_v;
        let (cut, line) = (trimmed(to_v, 2), trimmed(line_v, 2));
        if to_v < line_v - 1e-9 {
            found.add(
                TestCheckCode::CutOffTooLow,
                Stop,
                format!("A cut-off of {cut} V a cell lies below {line} V: {}.", profile.words.low.in_time),
                &[("to_v_per_cell", to_v), ("line_v", line_v)],
            );
        } else if to_v > outward::CUT_OFF_HIGH.at * profile.proof.to_v {
            let usual = trimmed(profile.proof.to_v, 2);
            found.add(
                TestCheckCode::CutOffHigh,
                Note,
                format!("At {cut} V a cell some is still in it; {usual} V is usual. It is no whole test then."),
                &[("to_v_per_cell", to_v)],
            );
        }
        let mean_a = done.run.charge_as / done.run.total_s().max(1.0);
        let mean_c = mean_a / in_amp_hours(pack.nameplate);
        let off = mean_c / profile.keeping.reference_c;
        if !(0.5..=2.0).contains(&off) {
            let (mean, reference) = (trimmed(mean_c, 2), trimmed(profile.keeping.reference_c, 2));
            found.add(
                TestCheckCode::NotReferenceRate,
                Note,
                format!("On average {mean}C flow; packs of its kind are compared at {reference}C. What it gives is corrected for that, a little less surely."),
                &[("c_rate", mean_c)],
            );
        }
    }
}

fn ends(asked: &Discharge, done: &Done, found: &mut Found) {
    use Severity::{Caution, Note};
    let pack = &asked.pack;
    let profile = &pack.profile;
    if profile.traits.burns {
        found.add(
            TestCheckCode::Attend,
            Caution,
            "Stay within earshot, on a surface that does not burn: a lithium cell run down too far can vent later, when it is charged.".into(),
            &[],
        );
    }
    let early_s = done.takes_s.0;
    if !asked.sink.ends {
        let what = if asked.sink.by == DischargeBy::Lamp { "The lamp" } else { "The resistor" };
        let harm = profile.words.low.in_time;
        let by = show_hours(0.8 * early_s / 3600.0);
        found.add(
            TestCheckCode::NothingEnds,
            Caution,
            format!("{what} goes on to 0 V: set a clock to {by}, stay from then on with the meter on the pack, and take it off yourself. Too low {harm}."),
            &[("be_there_s", 0.8 * early_s)],
        );
    }
    let whole = matches!(asked.wanted, Wanted::Whole { .. });
    if pack.series > 1 && whole && !asked.reads_cells {
        let line_v = match asked.wanted {
            Wanted::Whole { to_v } => to_v,
            Wanted::Soc(_) => profile.proof.to_v,
        };
        let cells = if profile.traits.in_blocks { "block" } else { "cell" };
        found.add(
            TestCheckCode::CellsUnread,
            Caution,
            format!(
                "It is ended by the whole pack's volts, and its weakest {cells} falls first: read each in the last quarter, and end it when the first is at {} V.",
                trimmed(line_v * if profile.traits.in_blocks { per_block(pack.series) } else { 1.0 }, 2)
            ),
            &[("cell_v", line_v)],
        );
    }
    let total_s = done.run.total_s();
    if total_s > LONG_S {
        let hours = show_hours(total_s / 3600.0);
        found.add(
            TestCheckCode::TooLong,
            Note,
            format!("It takes {hours}: more amps or watts, or a resistor beside it, would shorten that."),
            &[("total_s", total_s)],
        );
    }
}

/// Cells in one block of lead as it is sold.
fn per_block(series: u32) -> f64 {
    f64::from(if series.is_multiple_of(6) {
        6
    } else if series.is_multiple_of(3) {
        3
    } else {
        series
    })
}

fn heat(asked: &Discharge, done: &Done, found: &mut Found) {
    use Severity::{Caution, Stop};
    let sink = &asked.sink;
    let hottest_w = done.hottest_w;
    let watts = trimmed(hottest_w, 1);
    if let Some(rated_w) = sink.rated_w
        && hottest_w > rated_w
    {
        found.add(
            TestCheckCode::TooHot,
            Stop,
            format!("The resistor would turn {watts} W to heat and is made for {} W: it burns out, or what it lies on does.", trimmed(rated_w, 1)),
            &[("heat_w", hottest_w), ("rated_w", rated_w)],
        );
    } else if sink.by == DischargeBy::Resistor && sink.rated_w.is_none() {
        found.add(
            TestCheckCode::TooHot,
            Caution,
            format!("It turns {watts} W to heat: take a resistor made for twice that, and say what it is made for."),
            &[("heat_w", hottest_w)],
        );
    }
    let first_v = done.run.moments.first().map_or(0.0, |m| m.pack_v);
    if let Some(lamp_v) = sink.lamp_v
        && first_v > outward::OUT_LAMP_OVER.at * lamp_v
    {
        found.add(
            TestCheckCode::LampVoltage,
            Stop,
            format!("The pack stands at {} V and the lamp is made for {} V: it burns out, or bursts. Two in series, or one for more volts.", trimmed(first_v, 1), trimmed(lamp_v, 1)),
            &[("voltage_v", first_v), ("lamp_rated_v", lamp_v)],
        );
    }
    let hot = match sink.by {
        DischargeBy::Resistor => {
            hottest_w > outward::HOT_W.at || sink.rated_w.is_some_and(|rated| hottest_w > outward::HOT_SHARE.at * rated)
        }
        DischargeBy::Lamp => hottest_w > outward::HOT_W.at,
        DischargeBy::Charger | DischargeBy::ElectronicLoad | DischargeBy::Source => false,
    };
    if hot {
        let what = if sink.by == DischargeBy::Lamp { "lamp" } else { "resistor" };
        found.add(
            TestCheckCode::HotSurface,
            Caution,
            format!("{watts} W in a {what}: hot enough to burn skin, paper and plastic. On stone or metal, a hand's breadth from everything, the pack further."),
            &[("heat_w", hottest_w)],
        );
    }
}
