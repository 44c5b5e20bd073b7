//! Faults put into the readings of generated charges: each is told, and a sound charge is left in peace.
//!
//! The truth is another plan than the one that is followed: its pack begins elsewhere and has another resistance.

use rumek_core::formats::{CurvePoint, PlanDoc, RunAskDoc, RunStateDoc, SayingCode, Severity, from_value};
use rumek_core::{answer, understand};
use serde_json::{Value, json};

use crate::dice::Dice;
use crate::merge;

/// What is wrong.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Fault {
    Nothing,
    /// No current any more, the meter on the pack's side.
    Trips,
    /// The pack has switched itself off: the meter sees the chain alone.
    BoardOpens,
    /// What feeds it has died, and its load runs on the pack.
    Dead,
    Backwards,
    /// So many times the amps.
    TooMuch(f64),
    /// A point in the wrong place.
    TenfoldAmps,
    TenfoldVolts,
    TenthVolts,
    OneCellsVolts,
    /// A meter that shows so many times the volts.
    Meter(f64),
    /// A cell that gives only this share of its volts.
    Shorted(f64),
}

const CHAINS: [&str; 10] = ["bench", "slow", "knob", "resistor", "lamp", "module", "turned", "menu", "loaded", "float"];

struct Case {
    chain: &'static str,
    followed: PlanDoc,
    curve: Vec<CurvePoint>,
    load_a: f64,
    series: f64,
    ohm: f64,
    dial_v: f64,
}

fn chain(kind: &str, dice: &mut Dice, ah: f64, full_v: f64) -> Value {
    let amps = |rate: f64| ((rate * ah * 100.0).round() / 100.0).max(0.05);
    let rate = dice.within(0.3, 1.0);
    let above = (full_v + dice.within(2.0, 8.0)).ceil();
    match kind {
        "slow" => {
            json!({"source": {"kind": "bench_supply", "max_voltage_v": 60, "max_current_a": amps(dice.within(0.04, 0.1))}})
        }
        "knob" => {
            json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 3, "max_voltage_v": 60, "max_current_a": amps(1.0), "overload": "trip"}, "settings": {"current_a": amps(0.5 * rate)}})
        }
        "resistor" => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": full_v, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "resistor", "resistance_ohm": (20.0 / ah * dice.within(0.5, 2.0) * 10.0).round() / 10.0, "rated_w": 500}})
        }
        "lamp" => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": full_v, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "lamp", "lamp_rated_v": above, "lamp_rated_w": (above * amps(rate)).round().max(1.0)}})
        }
        "module" => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": above + 3.0, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "dc_dc", "topology": "buck", "has_cc": true, "has_cv": true, "output_max_a": amps(rate), "input_max_v": 80, "output_max_v": 70}})
        }
        "turned" => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": above + 3.0, "max_current_a": 30, "overload": "constant_current"}, "charger": {"kind": "dc_dc", "topology": "buck", "output_max_a": amps(rate), "input_max_v": 80, "output_max_v": 70}})
        }
        "menu" => {
            json!({"source": {"kind": "mains"}, "charger": {"kind": "hobby_charger", "output_max_a": amps(rate)}})
        }
        "loaded" => {
            json!({"source": {"kind": "bench_supply", "max_voltage_v": 60, "max_current_a": amps(rate)}, "load": {"current_a": (amps(rate) * dice.within(0.2, 0.5) * 100.0).round() / 100.0}})
        }
        "float" => {
            json!({"source": {"kind": "fixed_supply", "voltage_v": full_v, "max_current_a": amps(rate), "overload": "constant_current"}})
        }
        _ => json!({"source": {"kind": "bench_supply", "max_voltage_v": 60, "max_current_a": amps(rate)}}),
    }
}

/// A charge as it is planned, and as it goes; `None` where the plan gives no settings or little flows.
fn case(dice: &mut Dice) -> Option<Case> {
    let packs: [(&str, &[u32], f64); 6] = [
        ("lipo", &[2, 3, 4, 6, 12], 4.2),
        ("li_ion", &[3, 4, 7, 10, 13], 4.2),
        ("lfp", &[4, 8, 16], 3.6),
        ("lead_agm", &[6, 12], 2.4),
        ("lto", &[5, 10], 2.7),
        ("lead_flooded", &[6], 2.4),
    ];
    let pick = |dice: &mut Dice, n: usize| (dice.next() * n as f64) as usize;
    let (chemistry, counts, cell_v) = packs[pick(dice, packs.len())];
    let series = counts[pick(dice, counts.len())];
    let ah = [1.3, 2.2, 5.0, 10.0, 40.0][pick(dice, 5)];
    let kind = CHAINS[pick(dice, CHAINS.len())];
    let begins = dice.within(0.1, 0.5);
    let mut followed = json!({ "format": "rumek.plan/1",
        "pack": { "chemistry": chemistry, "series": series, "capacity_ah": ah, "temperature_c": 20, "balancer": "built_in", "start": { "soc": begins } } });
    merge(&mut followed, &chain(kind, dice, ah, cell_v * f64::from(series)));
    let told = answer(&from_value(&followed).ok()?).ok()?;
    let settings = told.settings.as_ref()?;
    if dice.one_in(2) {
        followed["pack"]["resistance_mohm"] = json!(told.resolved.pack.as_ref()?.resistance_mohm?);
    }
    let mut truth = followed.clone();
    let believed_mohm = told.resolved.pack.as_ref()?.resistance_mohm?;
    merge(
        &mut truth["pack"],
        &json!({ "resistance_mohm": believed_mohm * dice.within(0.8, 1.4), "health": dice.within(0.92, 1.03), "start": { "soc": (begins + dice.within(-0.02, 0.02)).max(0.02) } }),
    );
    let went = answer(&from_value(&truth).ok()?).ok()?;
    let load_a = followed.pointer("/load/current_a").and_then(Value::as_f64).unwrap_or(0.0);
    (went.curve.len() > 5).then(|| Case {
        chain: kind,
        followed: from_value(&followed).unwrap(),
        load_a,
        series: f64::from(series),
        ohm: believed_mohm / 1000.0,
        dial_v: settings.true_voltage_v,
        curve: went.curve,
    })
}

impl Case {
    fn total_s(&self) -> f64 {
        self.curve.last().unwrap().t_s
    }

    fn at(&self, t_s: f64) -> (f64, f64) {
        let after = self.curve.partition_point(|p| p.t_s < t_s).clamp(1, self.curve.len() - 1);
        let (a, b) = (&self.curve[after - 1], &self.curve[after]);
        let share = if b.t_s > a.t_s { ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0) } else { 1.0 };
        (a.pack_v + share * (b.pack_v - a.pack_v), a.current_a + share * (b.current_a - a.current_a))
    }

    /// What is read at a time; `on` where the fault has come.
    fn read(&self, t_s: f64, fault: Fault, on: bool, dice: &mut Dice) -> Value {
        let (v, a) = self.at(t_s);
        let (mut v, mut a) = (v, a);
        let rests_v = v - 1.3 * a * self.ohm;
        match fault {
            // A meter is off from the beginning on.
            Fault::Meter(times) => v *= times,
            _ if !on => {}
            Fault::Nothing => {}
            Fault::Trips => (v, a) = (rests_v, -self.load_a),
            Fault::BoardOpens => (v, a) = (self.dial_v, 0.0),
            Fault::Dead => (v, a) = (rests_v - self.load_a * self.ohm, -self.load_a),
            Fault::Backwards => a = -a,
            Fault::TooMuch(times) => (v, a) = (v + a * (times - 1.0) * self.ohm, a * times),
            Fault::TenfoldAmps => a *= 10.0,
            Fault::TenfoldVolts => v *= 10.0,
            Fault::TenthVolts => v /= 10.0,
            Fault::OneCellsVolts => v /= self.series,
            Fault::Shorted(left) => v -= (1.0 - left) * v / self.series,
        }
        let shown = |x: f64, dice: &mut Dice| ((x * (1.0 + dice.noise(0.0012))) * 100.0).round() / 100.0;
        json!({ "t_s": t_s, "terminal_v": shown(v, dice), "terminal_a": shown(a, dice) })
    }

    fn state(&self, fault: Fault, dice: &mut Dice) -> RunStateDoc {
        let until_s =
            self.total_s() * if fault == Fault::Nothing { dice.within(0.05, 0.97) } else { dice.within(0.1, 0.55) };
        let looks = 2 + (dice.next() * 7.0) as u32;
        let from = 1 + (dice.next() * f64::from(looks)) as u32;
        let readings: Vec<Value> =
            (1..=looks).map(|k| self.read(until_s * f64::from(k) / f64::from(looks), fault, k >= from, dice)).collect();
        let ask = RunAskDoc {
            plan: Some(self.followed.clone()),
            readings: Some(from_value::<RunAskDoc>(&json!({ "readings": readings })).unwrap().readings.unwrap()),
            ..RunAskDoc::default()
        };
        understand(&ask).unwrap()
    }
}

fn cases() -> usize {
    std::env::var("RUMEK_CASES").ok().and_then(|n| n.parse().ok()).unwrap_or(400)
}

fn words(case: &Case, state: &RunStateDoc) -> String {
    let said: Vec<String> = state.said.iter().map(|said| format!("{}: {}", said.code.code(), said.message)).collect();
    format!("{} {} | {}", case.chain, case.followed.pack.as_ref().unwrap().chemistry.unwrap().code(), said.join(" | "))
}

#[test]
fn a_sound_charge_is_left_in_peace() {
    let mut dice = Dice(2912);
    let (mut tried, mut disturbed) = (0, 0);
    while tried < cases() {
        let Some(case) = case(&mut dice) else { continue };
        tried += 1;
        let state = case.state(Fault::Nothing, &mut dice);
        if state.said.iter().any(|said| said.severity != Severity::Note) {
            disturbed += 1;
            eprintln!("DISTURBED {}", words(&case, &state));
        }
    }
    eprintln!("RATE disturbed {disturbed} of {tried}");
    assert!(disturbed * 100 <= 3 * tried, "{disturbed} of {tried} sound charges are told off");
}

/// What is told of a fault: any of these.
fn wanted(fault: Fault) -> &'static [SayingCode] {
    use SayingCode::{
        HighResistance, KnobElsewhere, OverCurrent, OverVoltage, RunningDown, Stopped, VoltageMissing, VoltsUnlikely,
    };
    match fault {
        Fault::Nothing => &[],
        Fault::Trips | Fault::BoardOpens | Fault::Dead => &[Stopped, RunningDown],
        Fault::Backwards => &[RunningDown],
        Fault::TooMuch(_) | Fault::TenfoldAmps => &[OverCurrent, KnobElsewhere],
        Fault::TenfoldVolts => &[OverVoltage],
        Fault::TenthVolts | Fault::OneCellsVolts => &[VoltsUnlikely, VoltageMissing],
        Fault::Meter(_) => &[VoltsUnlikely, OverVoltage, VoltageMissing, HighResistance],
        Fault::Shorted(_) => &[VoltageMissing, VoltsUnlikely],
    }
}

#[test]
fn each_fault_in_the_readings_is_told() {
    let mut dice = Dice(2913);
    let kinds: [fn(&mut Dice) -> Fault; 11] = [
        |_| Fault::Trips,
        |_| Fault::BoardOpens,
        |_| Fault::Dead,
        |_| Fault::Backwards,
        |dice| Fault::TooMuch(dice.within(2.3, 4.0)),
        |_| Fault::TenfoldAmps,
        |_| Fault::TenfoldVolts,
        |_| Fault::TenthVolts,
        |_| Fault::OneCellsVolts,
        |dice| Fault::Meter(1.0 + dice.within(0.07, 0.12)),
        |dice| Fault::Shorted(dice.within(0.0, 0.15)),
    ];
    let mut counts = std::collections::BTreeMap::<String, (usize, usize)>::new();
    let mut tried = 0;
    while tried < cases() {
        let fault = kinds[tried % kinds.len()](&mut dice);
        let Some(case) = case(&mut dice) else { continue };
        let (_, least_a) = case.at(0.55 * case.total_s());
        // What a display hardly shows is no fault to be told; lead's volts leave more open than a meter is off.
        let lead =
            case.series < 13.0 && case.followed.pack.as_ref().unwrap().chemistry.unwrap().code().starts_with("lead");
        let told_by_volts = matches!(fault, Fault::Meter(_));
        if least_a < 0.1 || (fault == Fault::Dead && case.load_a < 0.1) || (told_by_volts && lead) {
            continue;
        }
        tried += 1;
        let state = case.state(fault, &mut dice);
        let hit = state.said.iter().any(|said| said.severity != Severity::Note && wanted(fault).contains(&said.code));
        let name = format!("{fault:?}").split('(').next().unwrap().to_owned();
        let count = counts.entry(name).or_default();
        *count = (count.0 + usize::from(hit), count.1 + 1);
        if !hit {
            eprintln!("MISSED {fault:?} {}", words(&case, &state));
        }
    }
    let missed: usize = counts.values().map(|(hits, all)| all - hits).sum();
    eprintln!("RATE missed {missed} of {tried}: {counts:?}");
    assert!(missed * 100 <= tried, "{missed} of {tried} faults are missed");
}
