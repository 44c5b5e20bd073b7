//! The judge against packs that are simulated whole and broken, with noise and missing readings.

use super::deep::{deepened, shares};
use super::{judge, picture, rescue};
use crate::chain::reckoning::{Reckoning, identified};
use crate::chain::settings::choose;
use crate::formats::{
    BmsFound, FoundDoc, JudgeAskDoc, JudgeState, JudgementDoc, LowFor, PLAN_FORMAT, PackDoc, PlanDoc, RESCUE_FORMAT,
    RescueDoc, RescuePractice, RescueReadingDoc, RescueStageKind, SettingsDoc, Sign, SourceDoc, SourceKind, StartDoc,
    Verdict,
};
use crate::parts::plan::resolve;
use crate::physics::cell::Chemistry;
use crate::physics::charge::{Moment, Scale};
use crate::physics::operating::LoadDraw;
use crate::testing::Chance;

const TRIALS: u64 = 1000;

/// What is wrong with a pack.
#[derive(Clone, Copy, Debug, PartialEq)]
enum Fault {
    None,
    /// Loses this share of the gentle current inside.
    Leaky(f64),
    /// One group stays at this share of the precharge line.
    Shorted(f64),
    /// This many times the resistance.
    Sulphated(f64),
}

struct Subject {
    doc: RescueDoc,
    /// The true course: terminals without the faulty group's share, and what flows.
    moments: Vec<Moment>,
    leak_a: f64,
    fault: Fault,
    healthy_cells: u32,
    measured: bool,
}

fn subject(chance: &mut Chance, chemistry: Chemistry, fault: Fault) -> Option<Subject> {
    let lead = chemistry == Chemistry::LeadAgm;
    let series = if lead { chance.one_of(&[3, 6, 12]) } else { chance.one_of(&[1, 2, 3, 4, 6, 12]) };
    if matches!(fault, Fault::Shorted(_)) && series < 2 {
        return None;
    }
    let capacity_ah = chance.one_of(&[0.8, 2.2, 5.0, 20.0]);
    let profile = crate::physics::cell::profile(chemistry)?;
    let line_v = profile.precharge_below_v;
    let floor_v = profile.rescue_floors_v.map_or(0.4, |floors| floors.cautious_v);
    let from_v = chance.within(floor_v + 0.02, line_v - 0.05);
    let measured = lead || series < 4 || chance.next() < 0.5;
    let fault = if let Fault::Shorted(share) = fault { Fault::Shorted(share * line_v) } else { fault };
    let healthy_cells = if matches!(fault, Fault::Shorted(_)) { series - 1 } else { series };
    let mut cells = vec![from_v; healthy_cells as usize];
    if let Fault::Shorted(v) = fault {
        cells.push(v);
    }
    let terminal_v: f64 = cells.iter().sum();
    let found = FoundDoc {
        terminal_v: Some(terminal_v),
        cell_voltages_v: (measured && !lead).then_some(cells),
        cells_reachable: Some(measured),
        bms: Some(BmsFound::Absent),
        low_for: Some(LowFor::Hours),
        signs: Some(vec![Sign::None]),
        temperature_c: Some(20.0),
        ..FoundDoc::default()
    };
    let pack = PackDoc {
        chemistry: Some(chemistry),
        series: Some(series),
        capacity_ah: Some(capacity_ah),
        ..PackDoc::default()
    };
    let source = SourceDoc {
        kind: Some(SourceKind::BenchSupply),
        max_voltage_v: Some(60.0),
        max_current_a: Some(5.0),
        ..SourceDoc::default()
    };
    let doc = RescueDoc {
        format: Some(RESCUE_FORMAT.to_owned()),
        practice: Some(RescuePractice::Cautious),
        pack: Some(pack.clone()),
        found: Some(found),
        source: Some(source.clone()),
        ..RescueDoc::default()
    };
    let result = rescue(&doc).unwrap();
    if result.verdict != Verdict::Precharge {
        // Triage has caught it already.
        return None;
    }
    let stage = &result.stages[0];
    let (ceiling_v, limit_a) = (stage.voltage_v?, stage.current_a?);
    let plan = PlanDoc {
        format: Some(PLAN_FORMAT.to_owned()),
        pack: Some(PackDoc {
            series: Some(healthy_cells),
            start: Some(StartDoc { rest_voltage_v: Some(from_v * f64::from(healthy_cells)), ..StartDoc::default() }),
            ..pack
        }),
        source: Some(source),
        settings: Some(SettingsDoc {
            voltage_v: Some(ceiling_v - if let Fault::Shorted(v) = fault { v } else { 0.0 }),
            current_a: Some(limit_a),
            stop_current_a: Some(0.0002),
            time_limit_h: Some(14.0),
            ..SettingsDoc::default()
        }),
        ..PlanDoc::default()
    };
    let mut plan = resolve(&plan).unwrap().plan;
    let [_, least, most] = shares(profile);
    plan.pack = deepened(&plan.pack, chance.within(least, most));
    let leak_a = if let Fault::Leaky(share) = fault { share * limit_a } else { 0.0 };
    if leak_a > 0.0 {
        plan.load = LoadDraw::CurrentA(leak_a);
    }
    let resistance = if let Fault::Sulphated(factor) = fault { factor } else { chance.within(0.6, 2.2) };
    let found = identified(&plan);
    let chosen = choose(&plan, plan.source.as_ref()?, &found);
    // What the person dials does not know of the leak.
    let mut chosen = chosen;
    chosen.built.feed.current_a = limit_a;
    // … nor that somebody looks after the first hour.
    chosen.stops.limit_s = Some(14.0 * 3600.0);
    let reckoning = Reckoning { plan: &plan, found: &found, chosen: Some(&chosen) };
    let charge = reckoning.run(found.soc, Scale { resistance, capacity: chance.within(0.85, 1.1), ..Scale::NOMINAL });
    Some(Subject { doc, moments: charge.moments, leak_a, fault, healthy_cells, measured })
}

/// What is said of a rest: told that the meter cannot tell yet, somebody reads it again when told.
fn rested(doc: &RescueDoc, first_s: f64, then_s: f64, read: &mut dyn FnMut(f64) -> RescueReadingDoc) -> JudgementDoc {
    let mut readings = vec![read(first_s)];
    let mut look_s = then_s;
    loop {
        readings.push(read(look_s));
        let said = judge(&JudgeAskDoc {
            rescue: Some(doc.clone()),
            stage: Some(RescueStageKind::Rest),
            now_s: Some(look_s),
            readings: Some(readings.clone()),
            rounds: None,
        })
        .unwrap();
        match said.next_look_s {
            Some(next_s) if said.state == JudgeState::OnTrack => look_s = next_s,
            _ => return said,
        }
    }
}

impl Subject {
    fn true_at(&self, t_s: f64) -> (f64, f64) {
        let after = self.moments.partition_point(|m| m.t_s < t_s);
        let (a, b) = (&self.moments[after.saturating_sub(1)], &self.moments[after.min(self.moments.len() - 1)]);
        let share = if b.t_s > a.t_s { ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0) } else { 0.0 };
        let volts = a.pack_v + share * (b.pack_v - a.pack_v);
        (volts, a.current_a + share * (b.current_a - a.current_a) + self.leak_a)
    }

    fn read(&self, chance: &mut Chance, t_s: f64, cells: bool) -> RescueReadingDoc {
        let (healthy_v, amps) = self.true_at(t_s);
        let dead_v = if let Fault::Shorted(v) = self.fault { v } else { 0.0 };
        let noise =
            |chance: &mut Chance, v: f64| v * (1.0 + chance.within(-0.003, 0.003)) + chance.within(-0.005, 0.005);
        let each = healthy_v / f64::from(self.healthy_cells);
        let mut cell_v: Vec<f64> = (0..self.healthy_cells).map(|_| noise(chance, each)).collect();
        if let Fault::Shorted(v) = self.fault {
            cell_v.push(noise(chance, v));
        }
        RescueReadingDoc {
            t_s: Some(t_s),
            terminal_v: Some(noise(chance, healthy_v + dead_v)),
            current_a: (chance.next() > 0.15)
                .then(|| (amps * (1.0 + chance.within(-0.02, 0.02)) + chance.within(-0.002, 0.002)).max(0.0)),
            temperature_c: (chance.next() > 0.5).then(|| 20.0 + chance.within(-1.0, 2.0)),
            cell_voltages_v: cells.then_some(cell_v),
            ..RescueReadingDoc::default()
        }
    }

    /// A lead battery a day after its charge, and a day later.
    fn rest(&self, chance: &mut Chance) -> JudgeState {
        let chemistry = self.doc.pack.as_ref().unwrap().chemistry.unwrap();
        let rested_v = crate::physics::cell::profile(chemistry).unwrap().ocv.at(chance.within(0.8, 1.0)).0;
        let dead_v = if let Fault::Shorted(v) = self.fault { v } else { 0.0 };
        let volts = rested_v * f64::from(self.healthy_cells) + dead_v;
        // One meter, read again and again: its gain stays, its last digit does not.
        let gain = 1.0 + chance.within(-0.002, 0.002);
        let mut read = |t_s: f64| RescueReadingDoc {
            t_s: Some(t_s),
            terminal_v: Some(volts * gain + chance.within(-0.004, 0.004)),
            ..RescueReadingDoc::default()
        };
        rested(&self.doc, 86_400.0, 172_800.0, &mut read).state
    }

    /// Follows the precharge, and the handover after it, as somebody who looks when told.
    fn follow(&self, chance: &mut Chance) -> JudgeState {
        let ask = |stage, now_s, readings: &[RescueReadingDoc]| {
            judge(&JudgeAskDoc {
                rescue: Some(self.doc.clone()),
                stage: Some(stage),
                now_s: Some(now_s),
                readings: Some(readings.to_vec()),
                rounds: None,
            })
            .unwrap()
        };
        let lead = self.doc.pack.as_ref().unwrap().chemistry == Some(Chemistry::LeadAgm);
        let mut readings: Vec<RescueReadingDoc> = Vec::new();
        let mut now_s: f64 = 60.0;
        for _ in 0..200 {
            // Sometimes nobody comes.
            if chance.next() > 0.2 {
                let cells = self.measured && !lead && chance.next() > 0.5;
                readings.push(self.read(chance, now_s, cells));
            }
            let said = ask(RescueStageKind::Precharge, now_s, &readings);
            match said.state {
                JudgeState::Abort => return JudgeState::Abort,
                JudgeState::Reached => {
                    let last = self.read(chance, now_s, self.doc.pack.as_ref().unwrap().series.unwrap() > 1 && !lead);
                    return match ask(RescueStageKind::Handover, now_s, &[last]).state {
                        // What the precharge cannot see of lead, its rest after the charge shows.
                        JudgeState::Slow | JudgeState::Reached if lead => self.rest(chance),
                        // Back for a while: it rests a little lower than it stood.
                        JudgeState::Slow | JudgeState::Reached => JudgeState::Reached,
                        other => other,
                    };
                }
                _ => {}
            }
            now_s = said.next_look_s.unwrap_or(now_s + 900.0).max(now_s + 30.0);
        }
        JudgeState::Waiting
    }
}

fn rate(
    seed: u64,
    fault: impl Fn(&mut Chance) -> Fault,
    chemistries: &[Chemistry],
    wanted: &[JudgeState],
) -> (u64, u64) {
    let mut chance = Chance(seed);
    let (mut tried, mut right) = (0, 0);
    while tried < TRIALS {
        let chemistry = chance.one_of(chemistries);
        let fault = fault(&mut chance);
        let Some(subject) = subject(&mut chance, chemistry, fault) else { continue };
        tried += 1;
        let state = subject.follow(&mut chance);
        if wanted.contains(&state) {
            right += 1;
        } else {
            let (found, pack) = (subject.doc.found.as_ref().unwrap(), subject.doc.pack.as_ref().unwrap());
            let (s, ah) = (pack.series.unwrap(), pack.capacity_ah.unwrap());
            eprintln!(
                "{state:?} of {fault:?}: {s}S {ah} Ah {chemistry:?} {:?} {:?}",
                found.terminal_v, found.cell_voltages_v
            );
        }
    }
    (tried, right)
}

const LITHIUM: &[Chemistry] =
    &[Chemistry::Lipo, Chemistry::LiIon, Chemistry::Lfp, Chemistry::Lihv, Chemistry::Lto, Chemistry::SodiumIon];
const ALL: &[Chemistry] = &[
    Chemistry::Lipo,
    Chemistry::LiIon,
    Chemistry::Lfp,
    Chemistry::Lihv,
    Chemistry::Lto,
    Chemistry::SodiumIon,
    Chemistry::LeadAgm,
    Chemistry::Nimh,
];

#[test]
fn no_living_pack_is_aborted() {
    let (tried, right) = rate(1, |_| Fault::None, ALL, &[JudgeState::Reached]);
    assert_eq!(right, tried);
}

#[test]
fn no_leaky_pack_is_passed() {
    let leak = |chance: &mut Chance| Fault::Leaky(chance.within(1.0, 1.6));
    let (tried, right) = rate(2, leak, ALL, &[JudgeState::Abort]);
    assert_eq!(right, tried);
}

#[test]
fn no_shorted_group_is_passed() {
    let short = |chance: &mut Chance| Fault::Shorted(chance.within(0.0, 0.6));
    let (tried, right) = rate(3, short, LITHIUM, &[JudgeState::Abort]);
    assert_eq!(right, tried);
}

/// Among twelve cells the terminals alone do not tell a dead one from a battery that is not full: it is
/// charged on and rests anew.
#[test]
fn no_dead_lead_cell_is_passed() {
    let dead = |chance: &mut Chance| Fault::Shorted(chance.within(0.0, 0.3));
    let (tried, right) = rate(4, dead, &[Chemistry::LeadAgm], &[JudgeState::Abort, JudgeState::Slow]);
    assert_eq!(right, tried);
}

#[test]
fn no_sulphated_battery_is_passed() {
    let sulphate = |chance: &mut Chance| Fault::Sulphated(chance.within(2000.0, 8000.0));
    let (tried, right) = rate(5, sulphate, &[Chemistry::LeadAgm], &[JudgeState::Abort]);
    assert_eq!(right, tried);
}

#[test]
fn a_leak_too_small_for_the_precharge_shows_at_rest() {
    let mut chance = Chance(6);
    for trial in 0..TRIALS {
        let chemistry = chance.one_of(LITHIUM);
        let series = chance.one_of(&[1, 2, 4, 6, 12]);
        let profile = crate::physics::cell::profile(chemistry).unwrap();
        // Half of them lose 8 to 25 % of their charge meanwhile, the others as little as a sound one, 2 % a month.
        let lost = if trial % 2 == 0 { chance.within(0.08, 0.25) } else { chance.within(0.0, 0.0006) };
        let full = profile.shows_a_leak_at().unwrap_or(0.985);
        let at = |soc: f64| profile.ocv.at(soc).0 * f64::from(series);
        let doc = RescueDoc {
            format: Some(RESCUE_FORMAT.to_owned()),
            pack: Some(PackDoc {
                chemistry: Some(chemistry),
                series: Some(series),
                capacity_ah: Some(4.0),
                ..PackDoc::default()
            }),
            found: Some(FoundDoc {
                terminal_v: Some(profile.nominal_v * f64::from(series)),
                bms: Some(BmsFound::Absent),
                signs: Some(vec![Sign::None]),
                temperature_c: Some(20.0),
                ..FoundDoc::default()
            }),
            ..RescueDoc::default()
        };
        assert!(picture(&doc).unwrap().is_some());
        // One meter, read twice: its gain stays, its last digit does not.
        let mut read = |t_s: f64, volts: f64| RescueReadingDoc {
            t_s: Some(t_s),
            terminal_v: Some(volts + chance.within(-0.005, 0.005)),
            ..RescueReadingDoc::default()
        };
        let (settled_s, later_s) = (profile.resting.settled_h * 3600.0, profile.resting.in_h * 3600.0);
        let said = rested(&doc, settled_s, settled_s + later_s, &mut |t_s: f64| {
            read(t_s, at(full - lost * (t_s - settled_s) / later_s))
        });
        let wanted = if lost > 0.01 { JudgeState::Abort } else { JudgeState::Reached };
        assert_eq!(said.state, wanted, "{chemistry:?} {series}S lost {lost}: {said:?}");
    }
}
