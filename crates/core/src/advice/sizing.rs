//! The reverse questions: how big, how many, how thick. All by the one simulation.

use crate::advice::checks::{self, Situation};
use crate::chain::may::{Subject, may};
use crate::chain::reckoning::{Reckoning, identified};
use crate::chain::settings::{Chosen, choose};
use crate::codes::{CheckCode, LimitCode, Severity};
use crate::formats::{
    CheckDoc, DoneInDoc, FieldBatteryDoc, PacksDoc, Place, PlanDoc, Problems, SizingAskDoc, SizingDoc, SourceKind,
    WireDoc,
};
use crate::lines::gear;
use crate::parts::plan::{Plan, resolve};
use crate::parts::source::Source;
use crate::physics::charge::{Charge, Fed, Moment, Scale, Stops};
use crate::physics::operating::{Feed, Line, LoadDraw, Path};
use crate::physics::wire::{Lying, area_of_awg, wire_ohm};
use crate::units::significant;
use crate::units::{in_amps, in_volts, show_hours, trimmed};

/// Stops of the pack that another charger settles.
const OF_GEAR: [CheckCode; 4] =
    [CheckCode::PackBmsOverloaded, CheckCode::PackRateTooHigh, CheckCode::PackRecoveredRate, CheckCode::PackColdRate];
/// No more packs than these are tried at once.
const MOST_PACKS: u32 = 8;

/// Answers the reverse questions of a plan.
///
/// # Examples
/// ```
/// use rumek_core::formats::{SizingAskDoc, from_value};
/// use serde_json::json;
///
/// let ask: SizingAskDoc = from_value(&json!({ "plan": json!({
///     "format": "rumek.plan/1",
///     "pack": { "chemistry": "lipo", "series": 6, "capacity_ah": 4, "balancer": "built_in" },
///     "source": { "kind": "bench_supply", "max_voltage_v": 30, "max_current_a": 5 }
/// }), "done_in_min": 30 }))?;
/// let done_in = rumek_core::size(&ask)?.done_in.expect("that was asked");
/// assert!(!done_in.possible, "{}", done_in.message);
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the question, each problem with its JSON pointer.
pub fn size(ask: &SizingAskDoc) -> Result<SizingDoc, Problems> {
    let mut problems = Problems::default();
    let within = |value: Option<f64>, low: f64, high: f64| value.is_none_or(|v| (low..=high).contains(&v));
    if !within(ask.done_in_min, 1.0, 10_080.0) {
        problems.add("/done_in_min", "this is out of range", "1 to 10080 min");
    }
    if !within(ask.length_m, 0.05, 100.0) {
        problems.add("/length_m", "this is out of range", "0.05 to 100 m");
    }
    let Some(document) = &ask.plan else {
        problems.add("/plan", "there is no plan", "a rumek.plan/1 document");
        return Err(problems);
    };
    let plan = match resolve(document) {
        Ok(resolved) => resolved.plan,
        Err(wrong) => {
            for problem in wrong.problems {
                problems.add(format!("/plan{}", problem.pointer), problem.message, problem.allowed);
            }
            return Err(problems);
        }
    };
    problems.into_result(())?;
    let nothing =
        SizingDoc { done_in: None, packs: Vec::new(), packs_message: None, wires: Vec::new(), field_battery: None };
    let Some(source) = &plan.source else {
        return Ok(nothing);
    };
    let found = identified(&plan);
    let chosen = choose(&plan, source, &found);
    let case = Reckoning { plan: &plan, found: &found, chosen: Some(&chosen) };
    let charge = case.run(found.soc, Scale::NOMINAL);
    let packs = packs(document, &plan);
    Ok(SizingDoc {
        done_in: ask.done_in_min.map(|min| {
            let situation = Situation::new(&plan, &found, Some(&chosen), &charge);
            let checks = checks::run(&situation);
            // What its pack's state forbids no size of gear makes good.
            let of_pack = |check: &&CheckDoc| check.at == Place::Pack && !OF_GEAR.contains(&check.code);
            match checks.iter().filter(of_pack).find(|check| check.severity == Severity::Stop && !check.accepted) {
                Some(stop) => refused(min * 60.0, &stop.message),
                None => done_in(&case, &chosen, source, min * 60.0),
            }
        }),
        packs_message: packs_message(&packs),
        packs,
        wires: wires(&case, &chosen, source, &charge, ask.length_m),
        field_battery: field_battery(source, &charge),
    })
}

/// Total current at a moment, load included, A.
fn total_a(case: &Reckoning<'_>, moment: &Moment) -> f64 {
    (moment.current_a + case.plan.load.current_a(moment.pack_v)).max(0.0)
}

/// The chain with nothing but the pack's own limits and a current.
fn unlimited(chosen: &Chosen, current_a: f64) -> Feed {
    let feed = chosen.built.feed;
    Feed {
        current_a,
        current_code: LimitCode::ChargerOutputCurrent,
        power_w: f64::INFINITY,
        inputs: None,
        hold: Line { volts: chosen.charge_v, code: LimitCode::SetVoltage, ..feed.hold },
        drive: None,
        lamps: None,
        heat_w: None,
        path: Path::Direct,
        ..feed
    }
}

/// What the state of the pack forbids.
fn refused(wanted_s: f64, why: &str) -> DoneInDoc {
    DoneInDoc {
        wanted_s,
        best_s: None,
        possible: false,
        charger_a: None,
        charger_w: None,
        supply_w: None,
        message: why.to_owned(),
    }
}

fn done_in(case: &Reckoning<'_>, chosen: &Chosen, source: &Source, wanted_s: f64) -> DoneInDoc {
    let given = may(&Subject { pack: &case.plan.pack, found: case.found, practice: case.plan.practice });
    let pack_a = case.plan.pack.bms_max.map_or(given.amps, |bms| given.amps.min(in_amps(bms)))
        + case.plan.load.current_a(chosen.dial_v);
    // A capacitor that nothing limits is full in seconds; a thousand amps stand for that.
    let most_a = pack_a.min(1000.0);
    let stops = Stops { stop_v: None, cut_off_v: None, limit_s: None, ..chosen.stops };
    let run = |current_a: f64| {
        let feed = unlimited(chosen, current_a);
        let charge = case.run_with(
            case.found.soc,
            Scale::NOMINAL,
            Some(Fed { feed: &feed, battery: None, nudge: None, stands: false }),
            &stops,
        );
        (feed, charge)
    };
    let (_, best) = run(most_a);
    let best_s = best.total_s;
    let possible = best_s.is_some_and(|s| s <= wanted_s);
    let wanted = show_hours(wanted_s / 3600.0);
    if !possible {
        let message = match best_s {
            Some(s) => format!(
                "Not in {wanted}: at {} A, what the pack may take by this practice, it needs {}.",
                trimmed(most_a, 2),
                show_hours(s / 3600.0)
            ),
            None if case.plan.load == LoadDraw::None => format!(
                "Not at all: at {} A, what the pack may take by this practice, it does not come to its end.",
                trimmed(most_a, 2)
            ),
            None => "Not at all: the load takes more than the pack may be charged with.".to_owned(),
        };
        return DoneInDoc { wanted_s, best_s, possible, charger_a: None, charger_w: None, supply_w: None, message };
    }
    let (mut low, mut high) = (0.0, most_a);
    for _ in 0..16 {
        let middle = 0.5 * (low + high);
        let in_time = run(middle).1.total_s.is_some_and(|s| s <= wanted_s);
        if in_time { high = middle } else { low = middle }
    }
    let (feed, charge) = run(high);
    let output_w = charge.moments.iter().map(|m| feed.flows(m.pack_v, total_a(case, m)).output_w).fold(0.0, f64::max);
    let efficiency = case.plan.charger.as_ref().map_or(1.0, |c| match c.efficiency() {
        e if c.kind.may_switch() => e,
        _ => gear::EFFICIENCY.at,
    });
    let supply_w = output_w / efficiency / gear::HEADROOM.at;
    let have = source.rated_w();
    let enough = if have >= supply_w { " Your supply is big enough." } else { "" };
    let charger = if case.plan.charger.is_some() {
        format!("a charger of {} A and {} W on a supply of {} W", ceil2(high), ceil2(output_w), ceil2(supply_w))
    } else {
        format!("a supply of {} A and {} W", ceil2(high / gear::HEADROOM.at), ceil2(supply_w))
    };
    DoneInDoc {
        wanted_s,
        best_s,
        possible,
        charger_a: Some(significant(high)),
        charger_w: Some(significant(output_w)),
        supply_w: Some(significant(supply_w)),
        message: format!("To be done in {wanted}: {charger}.{enough}"),
    }
}

/// Two digits, rounded up.
fn ceil2(value: f64) -> String {
    let unit = 10f64.powf(value.max(1e-9).log10().floor() - 1.0);
    trimmed((value / unit - 1e-6).ceil() * unit, 2)
}

/// One to eight of the plan's pack at once.
fn packs(document: &PlanDoc, plan: &Plan) -> Vec<PacksDoc> {
    if !plan.members.is_empty() {
        return Vec::new();
    }
    (1..=MOST_PACKS)
        .filter_map(|n| {
            let mut other = document.clone();
            other.pack.as_mut()?.packs_in_parallel = Some(n);
            let plan = resolve(&other).ok()?.plan;
            let source = plan.source.as_ref()?;
            let found = identified(&plan);
            let chosen = choose(&plan, source, &found);
            let case = Reckoning { plan: &plan, found: &found, chosen: Some(&chosen) };
            let charge = case.run(found.soc, Scale::NOMINAL);
            let situation = Situation::new(&plan, &found, Some(&chosen), &charge);
            let refused = checks::refuses(&checks::run(&situation));
            let first = charge.moments.first()?;
            Some(PacksDoc {
                packs: n,
                total_s: charge.total_s.filter(|_| !refused).map(significant),
                each_a: significant(first.current_a / f64::from(n)),
                limit: first.limit,
                refused,
            })
        })
        .collect()
}

/// How many at once take hardly longer than one.
fn packs_message(packs: &[PacksDoc]) -> Option<String> {
    let one_s = packs.first()?.total_s?;
    let even = packs.iter().take_while(|p| p.total_s.is_some_and(|s| s <= 1.1 * one_s)).last()?;
    let whole = |s: f64| show_hours(s / 3600.0);
    Some(match (even.packs, packs.get(even.packs as usize).and_then(|next| next.total_s)) {
        (1, Some(next_s)) => format!("One at a time: {}; two together take {}.", whole(one_s), whole(next_s)),
        (1, None) => format!("One at a time: {}.", whole(one_s)),
        (n, Some(next_s)) => format!("{}; {} take {}.", together(n, one_s, even.total_s), n + 1, whole(next_s)),
        (n, None) => format!("{}.", together(n, one_s, even.total_s)),
    })
}

/// How long several take beside one, as the table says it.
fn together(packs: u32, one_s: f64, all_s: Option<f64>) -> String {
    let [one, all] = [one_s, all_s.unwrap_or(one_s)].map(|s| show_hours(s / 3600.0));
    if one == all {
        format!("{packs} together take no longer than one ({one})")
    } else {
        format!("{packs} together take hardly longer than one: {all} for {one}")
    }
}

/// The wire and fuse of each lead.
fn wires(
    case: &Reckoning<'_>,
    chosen: &Chosen,
    source: &Source,
    charge: &Charge,
    length_m: Option<f64>,
) -> Vec<WireDoc> {
    let feed = &chosen.built.feed;
    let most_a = charge.moments.iter().map(|m| total_a(case, m)).fold(0.0, f64::max);
    let source_a = charge.moments.iter().map(|m| feed.flows(m.pack_v, total_a(case, m)).source_a).fold(0.0, f64::max);
    let wire = |at: Place, current_a: f64, volts: f64, own_m: Option<f64>| {
        let length_m = length_m.or(own_m).unwrap_or(1.0);
        let fits = Lying::usual(case.plan.around_c).wire_for(current_a, length_m, 0.02 * volts);
        let drop_v = fits.map(|(mm2, _)| wire_ohm(mm2, length_m) * current_a);
        let what = if at == Place::InputLead { "To the charger" } else { "To the pack" };
        let message = match (fits, drop_v) {
            (Some((mm2, fuse_a)), Some(drop_v)) => format!(
                "{what}: {} mm² (or {} AWG) and a {} A fuse for {} A over {} m; it loses {} V.",
                trimmed(mm2, 2),
                awg_text(mm2),
                trimmed(fuse_a, 1),
                trimmed(current_a, 1),
                trimmed(length_m, 2),
                trimmed(drop_v, 2)
            ),
            _ => format!("{what}: {} A is beyond single wires; use bars or several cables.", trimmed(current_a, 0)),
        };
        WireDoc {
            at,
            current_a: significant(current_a),
            length_m,
            area_mm2: fits.map(|(mm2, _)| mm2),
            awg: fits.map(|(mm2, _)| gauge(mm2)),
            fuse_a: fits.map(|(_, a)| a),
            drop_v: drop_v.map(significant),
            message,
        }
    };
    let output = wire(Place::OutputLead, most_a, chosen.dial_v, case.plan.output.as_ref().map(|l| l.length_m));
    let walled = source.kind == SourceKind::Mains;
    if case.plan.charger.is_none() || walled {
        return vec![output];
    }
    let input_m = case.plan.input.as_ref().map(|l| l.length_m);
    vec![wire(Place::InputLead, source_a, in_volts(source.max), input_m), output]
}

/// The thinnest gauge one can buy that is no thinner than this.
fn gauge(mm2: f64) -> f64 {
    let bought = (1..=18).rev().map(|half| 2 * half).chain([1, 0, -1, -2, -3]);
    bought.map(f64::from).find(|awg| area_of_awg(*awg) >= mm2 * 0.98).unwrap_or(-3.0)
}

fn awg_text(mm2: f64) -> String {
    match gauge(mm2) {
        awg if awg < 0.5 => format!("{}/0", trimmed(1.0 - awg, 0)),
        awg => trimmed(awg, 0),
    }
}

/// How many such charges the battery that feeds the chain holds.
fn field_battery(source: &Source, charge: &Charge) -> Option<FieldBatteryDoc> {
    let battery = source.battery.as_ref()?;
    let per_charge_wh = (charge.flowed.source_w + charge.flowed.inside_w) / 3600.0;
    if per_charge_wh <= 0.0 {
        return None;
    }
    let usable_wh = battery.usable_wh();
    let charges = usable_wh / per_charge_wh;
    Some(FieldBatteryDoc {
        usable_wh: significant(usable_wh),
        per_charge_wh: significant(per_charge_wh),
        charges: significant(charges),
        message: format!(
            "It holds {} such charges: {} Wh down to {} %, {} Wh for each.",
            trimmed(charges.floor(), 0),
            trimmed(usable_wh, 0),
            trimmed(battery.reserve_soc * 100.0, 0),
            trimmed(per_charge_wh, 0)
        ),
    })
}
