//! The rules and the refit against charges that are simulated whole and with honest faults, read
//! with noise, with readings missing, and now and then one that is plainly wrong.

use super::understand;
use crate::chain::reckoning::{Reckoning, identified};
use crate::chain::settings::choose;
use crate::formats::{
    LabelVoltageDoc, PLAN_FORMAT, PackDoc, PlanDoc, RunAskDoc, RunReadingDoc, RunStateDoc, SayingCode, Severity,
    SourceDoc, SourceKind, StartDoc,
};
use crate::parts::plan::resolve;
use crate::physics::cell::Chemistry;
use crate::physics::charge::Scale;
use crate::physics::charge::{Charge, Model, simulate};
use crate::testing::Chance;

const TRIALS: u64 = 400;

/// What is wrong with a charge.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Fault {
    None,
    /// The supply gives this share of what it should.
    Weak(f64),
    /// So much between display and terminals at the full current, V.
    Contact(f64),
    /// It holds this share of what is believed.
    Small(f64),
    /// A cell this far ahead, V.
    Ahead(f64),
    /// A cell at this voltage.
    Shorted(f64),
    /// So much warmer for every hour, K.
    Warms(f64),
    /// It tripped at this share of its time.
    Trips(f64),
    /// This many times the resistance.
    Aged(f64),
    /// Draws this share of the charge current, unknown to anybody.
    Load(f64),
    /// The supply is set higher than it should be by this share.
    High(f64),
}

struct Subject {
    plan: PlanDoc,
    charge: Charge,
    fault: Fault,
    series: u32,
    full_v: f64,
    begun_soc: f64,
    scale: Scale,
    load_a: f64,
}

fn subject(chance: &mut Chance, fault: Fault) -> Subject {
    let chemistry =
        chance.one_of(&[Chemistry::Lipo, Chemistry::LiIon, Chemistry::Lihv, Chemistry::Lto, Chemistry::SodiumIon]);
    let profile = crate::physics::cell::profile(chemistry).unwrap();
    let series = chance.one_of(&[2, 3, 4, 6]);
    let capacity_ah = chance.one_of(&[1.0, 2.2, 4.0, 10.0]);
    let begun_soc = chance.within(0.1, 0.4);
    let rate = chance.within(0.4, 1.0) * profile.rates.standard.min(1.0);
    let resistance_mohm = profile.resistance_ohm_ah / capacity_ah * f64::from(series) * 1e3 * chance.within(0.8, 1.3);
    let rest_v = profile.ocv.at(begun_soc).0 * f64::from(series);
    let plan = PlanDoc {
        format: Some(PLAN_FORMAT.to_owned()),
        pack: Some(PackDoc {
            chemistry: Some(chemistry),
            series: Some(series),
            capacity_ah: Some(capacity_ah),
            resistance_mohm: Some(resistance_mohm),
            temperature_c: Some(20.0),
            // Where its makers differ its label names the voltage of its kind.
            label_voltage_v: profile.makers_v.map(|_| {
                let full_v = profile.full_v * f64::from(series);
                LabelVoltageDoc { cycle: Some([full_v, full_v]), standby: None }
            }),
            start: Some(StartDoc { rest_voltage_v: Some(rest_v), rested_min: Some(240.0), ..StartDoc::default() }),
            ..PackDoc::default()
        }),
        source: Some(SourceDoc {
            kind: Some(SourceKind::BenchSupply),
            max_voltage_v: Some(40.0),
            max_current_a: Some((rate * capacity_ah * 100.0).round() / 100.0),
            ..SourceDoc::default()
        }),
        ..PlanDoc::default()
    };
    let mut real = resolve(&plan).unwrap().plan;
    let found = identified(&real);
    let mut chosen = choose(&real, real.source.as_ref().unwrap(), &found);
    let load_a = if let Fault::Load(share) = fault { share * chosen.built.feed.current_a } else { 0.0 };
    if load_a > 0.0 {
        real.load = crate::physics::operating::LoadDraw::CurrentA(load_a);
    }
    if let Fault::Weak(share) = fault {
        chosen.built.feed.current_a *= share;
    }
    if let Fault::High(share) = fault {
        chosen.built.feed.hold.volts *= 1.0 + share;
    }
    let scale = Scale {
        resistance: match fault {
            // The resistance of a pack for flight is so low, and so little of it slow, that two to three times as
            // much of it is as little in volts.
            Fault::Aged(factor) if matches!(chemistry, Chemistry::Lipo | Chemistry::Lihv) => 2.6 * factor,
            Fault::Aged(factor) => factor,
            _ => chance.within(0.85, 1.2),
        },
        capacity: if let Fault::Small(share) = fault { share } else { chance.within(0.94, 1.03) },
        ..Scale::NOMINAL
    };
    let case = Reckoning { plan: &real, found: &found, chosen: Some(&chosen) };
    let model = Model::new(real.pack.body(), &[], true, scale);
    let mut stops = chosen.stops;
    if load_a > 0.0 {
        // With the load it never tapers; it is followed well past full.
        stops.taper_a = None;
        stops.limit_s = Some(4.0 * 3600.0 / rate);
    }
    let start = (begun_soc + chance.within(-0.015, 0.015)).max(0.02);
    let charge = simulate(&model, start, Some(case.fed(&chosen)), real.load, &stops);
    Subject { plan, charge, fault, series, full_v: profile.full_v, begun_soc: start, scale, load_a }
}

impl Subject {
    fn read(&self, chance: &mut Chance, share: f64) -> RunReadingDoc {
        let t_s = share * self.charge.end.t_s;
        let m = self.charge.at(t_s).unwrap();
        let noise =
            |chance: &mut Chance, v: f64| v * (1.0 + chance.within(-0.002, 0.002)) + chance.within(-0.004, 0.004);
        let mut each = vec![m.pack_v / f64::from(self.series); self.series as usize];
        match self.fault {
            Fault::Ahead(v) => {
                let others = v / f64::from(self.series - 1);
                each.iter_mut().for_each(|cell| *cell -= others);
                each[0] += v + others;
            }
            Fault::Shorted(v) => each[0] = v,
            _ => {}
        }
        let terminal_v: f64 = each.iter().sum();
        let tripped = matches!(self.fault, Fault::Trips(at) if share > at);
        let amps = if tripped { 0.0 } else { m.current_a + self.load_a };
        let resting_v = if tripped { terminal_v * 0.985 } else { terminal_v };
        let warm = if let Fault::Warms(k) = self.fault { k * t_s / 3600.0 } else { 2.0 * share };
        let first_a = self.charge.moments[0].current_a;
        let contact_v = if let Fault::Contact(v) = self.fault { v * amps / first_a } else { 0.0 };
        RunReadingDoc {
            t_s: Some(t_s),
            terminal_v: Some(noise(chance, resting_v)),
            source_v: Some(noise(chance, resting_v + contact_v)),
            source_a: (chance.next() > 0.15).then(|| (noise(chance, amps)).max(0.0)),
            temperature_c: Some(20.0 + warm + chance.within(-0.4, 0.4)),
            cell_voltages_v: (chance.next() > 0.4).then(|| each.iter().map(|v| noise(chance, *v)).collect()),
            ..RunReadingDoc::default()
        }
    }

    /// Readings up to a share of the charge, some missing.
    fn readings(&self, chance: &mut Chance, until: f64) -> Vec<RunReadingDoc> {
        let n = 3 + (chance.next() * 9.0) as usize;
        let mut readings: Vec<RunReadingDoc> = (1..=n)
            .filter(|k| *k == n || chance.next() > 0.2)
            .map(|k| until * k as f64 / n as f64)
            .collect::<Vec<f64>>()
            .into_iter()
            .map(|share| self.read(chance, share))
            .collect();
        if let Some(last) = readings.last_mut() {
            // The last look is a whole one.
            let m = self.charge.at(last.t_s.unwrap()).unwrap();
            let tripped = matches!(self.fault, Fault::Trips(at) if until > at);
            last.source_a.get_or_insert(if tripped { 0.0 } else { m.current_a + self.load_a });
        }
        readings
    }

    fn ask(&self, readings: Vec<RunReadingDoc>) -> RunStateDoc {
        understand(&RunAskDoc {
            plan: Some(self.plan.clone()),
            now_s: None,
            readings: Some(readings),
            ..RunAskDoc::default()
        })
        .unwrap()
    }
}

/// A whole charge with one thing wrong in it, read often, without a word of what fed it.
fn logged(chance: &mut Chance, fault: Fault) -> RunStateDoc {
    let subject = subject(chance, fault);
    let plan = PlanDoc { source: None, ..subject.plan.clone() };
    let readings = (0..40)
        .map(|k| {
            let mut reading = subject.read(chance, f64::from(k) / 39.0);
            (reading.terminal_a, reading.source_v) = (reading.source_a.take(), None);
            reading
        })
        .collect();
    understand(&RunAskDoc { plan: Some(plan), now_s: None, readings: Some(readings), ..RunAskDoc::default() }).unwrap()
}

#[test]
fn what_stands_out_in_a_log_is_told_and_nothing_else_is() {
    use SayingCode::{CellAhead, CellBehind, HighResistance, OnTrack, OverCapacity, OverVoltage, Warming};
    type Make = fn(&mut Chance) -> Fault;
    let faults: [(Make, SayingCode); 7] = [
        (|_| Fault::None, OnTrack),
        (|c| Fault::Shorted(c.within(0.0, 1.0)), CellBehind),
        (|c| Fault::Ahead(c.within(0.06, 0.15)), CellAhead),
        (|c| Fault::Warms(c.within(25.0, 40.0)), Warming),
        (|c| Fault::High(c.within(0.04, 0.08)), OverVoltage),
        (|c| Fault::Load(c.within(0.4, 0.6)), OverCapacity),
        (|c| Fault::Aged(c.within(3.0, 5.0)), HighResistance),
    ];
    let mut chance = Chance(31);
    for (fault, wanted) in faults {
        let hits = (0..TRIALS)
            .filter(|_| {
                let fault = fault(&mut chance);
                let said = logged(&mut chance, fault).said;
                let told = said.iter().any(|s| s.code == wanted);
                if !told {
                    eprintln!("{fault:?}: {said:?}");
                }
                told
            })
            .count() as u64;
        eprintln!("RATE IN A LOG {} {hits} of {TRIALS}", wanted.code());
        let least = if wanted == HighResistance { 80 } else { 97 };
        assert!(hits * 100 >= least * TRIALS, "{} told {hits} of {TRIALS} times", wanted.code());
    }
}

/// How often a fault is told, and how often something else is told instead of nothing.
fn told(seed: u64, fault: impl Fn(&mut Chance) -> Fault, until: (f64, f64), wanted: SayingCode) -> u64 {
    let mut chance = Chance(seed);
    let mut hits = 0;
    for _ in 0..TRIALS {
        let fault = fault(&mut chance);
        let subject = subject(&mut chance, fault);
        let at = chance.within(until.0, until.1);
        let mut readings = subject.readings(&mut chance, at);
        if matches!(wanted, SayingCode::CellAhead | SayingCode::CellBehind) {
            let last = subject.read(&mut chance, at);
            let cells = loop {
                if let Some(cells) = subject.read(&mut chance, at).cell_voltages_v {
                    break cells;
                }
            };
            readings.push(RunReadingDoc { cell_voltages_v: Some(cells), ..last });
        }
        let state = subject.ask(readings);
        // Volts that no resistance explains are asked about.
        let asked = wanted == SayingCode::HighResistance;
        let as_good = |code| asked && code == SayingCode::VoltsUnlikely;
        if state.said.iter().any(|s| s.code == wanted || as_good(s.code)) {
            hits += 1;
        } else {
            eprintln!("{fault:?} at {at:.2}: {:?} of {:?}", state.said, subject.plan.pack.as_ref().unwrap().chemistry);
        }
    }
    hits
}

#[test]
fn a_sound_charge_is_on_track_at_any_moment() {
    let mut chance = Chance(1);
    for _ in 0..2 * TRIALS {
        let subject = subject(&mut chance, Fault::None);
        let at = chance.within(0.05, 0.98);
        let readings = subject.readings(&mut chance, at);
        let state = subject.ask(readings);
        assert!(
            state.said.iter().all(|s| s.severity == Severity::Note && s.code != SayingCode::HighResistance),
            "{:?} at {at}",
            state.said
        );
    }
}

#[test]
fn every_fault_is_told() {
    use SayingCode::{
        CellAhead, CellBehind, HighResistance, LeadDrop, OverCapacity, OverVoltage, Stopped, SupplyLimited,
        VoltageMissing, Warming,
    };
    type Make = fn(&mut Chance) -> Fault;
    let faults: [(Make, (f64, f64), SayingCode); 10] = [
        (|c| Fault::Weak(c.within(0.4, 0.8)), (0.1, 0.6), SupplyLimited),
        (|c| Fault::Contact(c.within(0.5, 1.2)), (0.1, 0.5), LeadDrop),
        (|c| Fault::Load(c.within(0.4, 0.6)), (0.95, 1.0), OverCapacity),
        (|c| Fault::Ahead(c.within(0.06, 0.15)), (0.96, 1.0), CellAhead),
        (|c| Fault::Shorted(c.within(0.0, 1.0)), (0.1, 0.9), CellBehind),
        (|c| Fault::Shorted(c.within(0.0, 0.5)), (0.1, 0.9), VoltageMissing),
        (|c| Fault::Warms(c.within(16.0, 30.0)), (0.8, 0.95), Warming),
        (|c| Fault::Trips(c.within(0.1, 0.3)), (0.4, 0.6), Stopped),
        (|c| Fault::High(c.within(0.03, 0.08)), (0.97, 1.0), OverVoltage),
        (|c| Fault::Aged(c.within(3.0, 5.0)), (0.5, 0.9), HighResistance),
    ];
    for (seed, (fault, until, wanted)) in faults.into_iter().enumerate() {
        let hits = told(seed as u64 + 2, fault, until, wanted);
        eprintln!("RATE {} {hits} of {TRIALS}", wanted.code());
        let least = if wanted == HighResistance { 80 } else { 95 };
        assert!(hits * 100 >= least * TRIALS, "{} told {hits} of {TRIALS} times", wanted.code());
    }
}

#[test]
fn the_refit_comes_nearer_to_the_truth_and_its_range_holds_it() {
    let mut chance = Chance(11);
    let (mut before, mut after, mut inside, mut wrong) = (0.0, 0.0, 0, 0);
    for n in 0..TRIALS {
        let fault = if n % 2 == 0 { Fault::Small(chance.within(0.75, 0.9)) } else { Fault::None };
        let subject = subject(&mut chance, fault);
        let at = chance.within(0.5, 0.85);
        let mut readings = subject.readings(&mut chance, at);
        if n % 3 == 0 && readings.len() > 3 {
            // One typed with its point in the wrong place.
            readings[1].terminal_v = readings[1].terminal_v.map(|v| v / 10.0);
            wrong += 1;
        }
        let planned = crate::answer(&subject.plan).unwrap().time.total_s.unwrap();
        let state = subject.ask(readings);
        let truth = subject.charge.end.t_s;
        before += (planned / truth - 1.0).abs();
        after += (state.end_s.unwrap() / truth - 1.0).abs();
        let (low, high) = (state.end_low_s.unwrap(), state.end_high_s.unwrap());
        inside += u64::from((low..=high).contains(&truth));
        assert!(state.fit.learned >= 0.0 && state.fit.learned < 1.0);
        assert!((state.fit.start_soc - subject.begun_soc).abs() < 0.08, "{:?} {}", state.fit, subject.begun_soc);
        assert!(subject.scale.capacity > 0.0 && subject.full_v > 0.0);
    }
    eprintln!("{before} {after} {inside} {wrong}");
    assert!(after < 0.75 * before, "{after} of {before}");
    assert!(inside * 100 >= 88 * TRIALS, "{inside} of {TRIALS}");
    assert!(wrong > 50);
}
