//! A rescue gone through stage by stage, as somebody does who reads it, looks when told and obeys.

use fastrand::Rng;
use rumek_core::codes::{JudgeState, Place, RescueStageKind as Kind, Verdict};
use rumek_core::formats::{
    JudgeAskDoc, JudgementDoc, PlanDoc, RescueDoc, RescueReadingDoc, RescueResultDoc, RescueStageDoc, from_value,
};
use rumek_core::{judge, rescue};
use rumek_rig::parts::{Cells, Kind as Part, Load};
use rumek_rig::{Bench, Truth};
use serde_json::{Value, json};

use super::found::{Found, Inside, found, shown};
use super::told::Told;
use crate::proof::told as passing_in_words;

/// Nobody goes through more stages than this.
const MOST_STAGES: usize = 24;

/// Where a stage led.
enum Way {
    /// On to another one.
    To(Kind),
    /// The pack is as good as it was.
    Good(String),
    /// It is given up: why.
    GivenUp(String),
    /// The board woke: what is found is read anew.
    Woken,
    /// It came to no end.
    Stuck(String),
}

/// The pack on the bench, and what has been told of it.
struct Case {
    told: Value,
    doc: RescueDoc,
    result: RescueResultDoc,
    cells: Cells,
    out: Told,
    rng: Rng,
    /// What the terminals rested at when it was last told to charge on.
    rested_v: Option<f64>,
    charges_on: bool,
    /// Stages that are over.
    gone: Vec<Kind>,
    /// Whether it is to go as a living pack does.
    spans: bool,
}

/// Makes a pack in trouble and goes through its rescue.
pub(super) fn carried(inside: Inside, rng: &mut Rng) -> Option<Told> {
    let Found { told, cells, inside } = found(inside, rng)?;
    let out = Told { kind: inside.name(), asked: told.to_string(), ..Told::default() };
    let doc: RescueDoc = from_value(&told).ok()?;
    let result = rescue(&doc).ok()?;
    let (told, doc, result) = with_gear_that_does(told, doc, result)?;
    let mut case = Case {
        told,
        doc,
        result,
        cells,
        out,
        rng: rng.fork(),
        rested_v: None,
        charges_on: false,
        gone: Vec::new(),
        spans: !inside.faulty() && inside != Inside::Sulphated,
    };
    let way = case.through();
    let mut out = case.out;
    match way {
        Way::GivenUp(why) if !inside.faulty() => out.given_up = Some(why),
        Way::Good(how) if inside.faulty() => out.missed = Some(how),
        Way::Stuck(why) => out.stuck = Some(why),
        _ => {}
    }
    Some(out)
}

/// Whoever is told that their gear does not do takes a bench supply.
fn with_gear_that_does(
    mut told: Value,
    doc: RescueDoc,
    result: RescueResultDoc,
) -> Option<(Value, RescueDoc, RescueResultDoc)> {
    if result.gear.as_ref().is_none_or(|gear| gear.fits) {
        return Some((told, doc, result));
    }
    told["source"] = json!({ "kind": "bench_supply", "max_voltage_v": 80, "max_current_a": 2, "output_switch": true });
    told.as_object_mut()?.remove("charger");
    let doc: RescueDoc = from_value(&told).ok()?;
    let result = rescue(&doc).ok()?;
    Some((told, doc, result))
}

impl Case {
    fn through(&mut self) -> Way {
        let mut at = None;
        for _ in 0..MOST_STAGES {
            let first = self.result.stages.first().map(|stage| stage.kind);
            match self.result.verdict {
                Verdict::Retire if at.is_none() => {
                    let why = self.result.reasons.first().map_or("", |reason| reason.code.code());
                    // Nothing was ever connected: how it was found decided.
                    return if self.out.told {
                        Way::GivenUp(format!("by what was found: {why}"))
                    } else {
                        Way::To(Kind::Inspect)
                    };
                }
                Verdict::Inspect => return Way::To(Kind::Inspect),
                _ => {}
            }
            let Some(kind) = at.or(first) else { return Way::Stuck("no stage".to_owned()) };
            let Some(stage) = self.result.stages.iter().find(|stage| stage.kind == kind).cloned() else {
                return Way::Stuck(format!("no stage {}", kind.code()));
            };
            let way = self.stage(&stage);
            self.gone.push(kind);
            match way {
                Way::To(Kind::Inspect) if kind == Kind::Handover => {
                    if self.decide_anew().is_none() {
                        return Way::Stuck("what was read cannot be told".to_owned());
                    }
                    at = None;
                }
                Way::To(next) => at = Some(next),
                Way::Woken => {
                    if self.read_anew().is_none() {
                        return Way::Stuck("what was found cannot be read".to_owned());
                    }
                    at = None;
                }
                end => return end,
            }
        }
        Way::Stuck(format!("{MOST_STAGES} stages"))
    }

    /// After the board woke: what the terminals read then.
    fn read_anew(&mut self) -> Option<()> {
        self.told["found"]["terminal_v"] = json!(shown(self.cells.rest_v()));
        self.told["found"]["woken"] = json!(true);
        self.doc = from_value(&self.told).ok()?;
        self.result = rescue(&self.doc).ok()?;
        Some(())
    }

    /// What was read at the handover is how it was found.
    fn decide_anew(&mut self) -> Option<()> {
        let each: Vec<f64> = self.cells.cells.iter().map(|cell| shown(cell.volts)).collect();
        self.told["found"]["terminal_v"] = json!(shown(self.terminals_v()));
        if each.len() > 1 && !self.in_blocks() {
            self.told["found"]["cell_voltages_v"] = json!(each);
            self.told["found"]["cells_reachable"] = json!(true);
        }
        self.doc = from_value(&self.told).ok()?;
        self.result = rescue(&self.doc).ok()?;
        Some(())
    }

    fn stage(&mut self, stage: &RescueStageDoc) -> Way {
        match stage.kind {
            Kind::Inspect => Way::To(Kind::Inspect),
            Kind::Wake => self.wake(stage),
            Kind::Precharge | Kind::Charge => self.feed(stage),
            Kind::Handover => self.look_once(stage),
            Kind::Rest => self.rest(stage),
            Kind::Prove => self.prove(stage),
        }
    }

    /// The plan whose bench this is: the gear that was named, or what normally charges it.
    fn bench(&self, normally: bool) -> Option<Bench> {
        let mut plan: PlanDoc =
            from_value(&json!({ "format": "rumek.plan/1", "pack": self.told["pack"], "leads": {} })).ok()?;
        plan.source = self.doc.source.clone();
        plan.charger = self.doc.charger.clone();
        if normally {
            plan.charger = None;
            plan.source =
                from_value(&json!({ "kind": "bench_supply", "max_voltage_v": 80, "max_current_a": 100 })).ok();
        }
        if let Some(source) = &mut plan.source {
            source.overload.get_or_insert(rumek_core::codes::Overload::ConstantCurrent);
        }
        let pack = plan.pack.as_mut()?;
        pack.temperature_c = Some(self.cells.around_c);
        pack.resistance_mohm = Some(1e3 * self.cells.cells.iter().map(|cell| cell.ohm).sum::<f64>());
        let mut bench = Bench::of(&plan, 0.0, &Truth::AS_TOLD)?;
        bench.put(self.cells.clone());
        Some(bench)
    }

    fn reading(&self, bench: &Bench, t_s: f64, with_cells: bool) -> RescueReadingDoc {
        let cells = bench.pack().filter(|_| with_cells);
        RescueReadingDoc {
            t_s: Some(t_s),
            terminal_v: Some(shown(bench.pack_v())),
            current_a: Some((bench.pack_a() * 1000.0).round() / 1000.0),
            temperature_c: bench.pack().map(|pack| pack.temperature_c.round()),
            cell_voltages_v: cells.map(|pack| pack.cells.iter().map(|cell| shown(cell.volts)).collect()),
            ..RescueReadingDoc::default()
        }
    }

    fn readable(&self) -> bool {
        self.told["found"]["cells_reachable"] == json!(true)
    }

    fn judged(&self, stage: Kind, now_s: f64, readings: &[RescueReadingDoc]) -> Option<JudgementDoc> {
        judge(&JudgeAskDoc {
            rescue: Some(self.doc.clone()),
            stage: Some(stage),
            now_s: Some(now_s),
            readings: Some(readings.to_vec()),
            rounds: Some(self.gone.iter().filter(|gone| **gone == stage).count() as u32),
        })
        .ok()
    }

    /// What a judgement leads to; `None` where the stage goes on.
    fn way(&self, stage: Kind, said: &JudgementDoc) -> Option<Way> {
        match said.state {
            JudgeState::Abort => {
                let why = said.code.map_or("", |code| code.code());
                Some(Way::GivenUp(format!("{}: {why}: {}", stage.code(), said.message)))
            }
            JudgeState::Reached if stage == Kind::Wake => Some(Way::Woken),
            JudgeState::Reached => Some(match said.ways.first().and_then(|way| way.to) {
                Some(next) => Way::To(next),
                None => Way::Good(said.message.clone()),
            }),
            JudgeState::Slow if stage == Kind::Handover => said.ways.first().and_then(|way| way.to).map(Way::To),
            _ => None,
        }
    }

    /// Keeps the pack as a bench leaves it, and what was passed there.
    fn leave(&mut self, bench: &Bench, what: &str) {
        if let Some(cells) = bench.pack() {
            self.cells = cells.clone();
        }
        let passed = bench.passings().lasting().filter(|one| one.at == Place::Pack);
        self.out.passed.extend(passed.map(|one| format!("{what}: {}", passing_in_words(one))));
    }

    /// Leaves the pack alone.
    fn alone(&mut self, seconds: f64) {
        let Some(mut bench) = self.bench(false) else { return };
        bench.switch(false);
        steps(&mut bench, seconds);
        self.leave(&bench, "alone");
    }

    fn wake(&mut self, stage: &RescueStageDoc) -> Way {
        let (Some(volts), Some(amps), Some(mut bench)) = (stage.voltage_v, stage.current_a, self.bench(false)) else {
            return Way::Stuck("a wake without volts or amps".to_owned());
        };
        self.out.told = true;
        bench.turn_volts(Place::Source, volts);
        bench.turn_amps(Place::Source, amps);
        let mut readings = Vec::new();
        let mut now_s = 0.0;
        loop {
            bench.switch(true);
            steps(&mut bench, 55.0);
            now_s += 60.0;
            readings.push(RescueReadingDoc { terminal_v: None, ..self.reading(&bench, now_s, false) });
            bench.switch(false);
            steps(&mut bench, 60.0);
            let Some(said) = self.judged(Kind::Wake, now_s, &readings) else {
                return Way::Stuck("no judgement of a wake".to_owned());
            };
            if let Some(way) = self.way(Kind::Wake, &said) {
                self.leave(&bench, "wake");
                if bench.pack().is_some_and(Cells::is_open) && matches!(way, Way::Woken) {
                    return Way::Stuck("told awake, and asleep".to_owned());
                }
                return way;
            }
            now_s += 60.0;
        }
    }

    /// A precharge or a whole charge.
    fn feed(&mut self, stage: &RescueStageDoc) -> Way {
        let normally = stage.kind == Kind::Charge;
        let Some(mut bench) = self.bench(normally) else { return Way::Stuck("no bench".to_owned()) };
        self.out.told = true;
        if normally || self.doc.charger.is_none() {
            let charger_a = self.doc.handover.as_ref().filter(|_| normally).and_then(|doc| doc.output_max_a);
            let stage_a = stage.current_a.unwrap_or(f64::INFINITY);
            let amps = charger_a.map_or(stage_a, |a| a.min(stage_a));
            let amps = if self.charges_on && normally { amps.min(0.05 * self.ah()) } else { amps };
            bench.turn_volts(Place::Source, stage.voltage_v.unwrap_or(0.0));
            bench.turn_amps(Place::Source, amps);
        }
        bench.switch(true);
        let mut readings: Vec<RescueReadingDoc> = Vec::new();
        let mut now_s = 60.0;
        let longest_s = 2.0 * stage.max_s.unwrap_or(0.0).max(86_400.0);
        loop {
            let until_s = now_s - bench.t_s();
            steps(&mut bench, until_s);
            let with_cells = self.readable() && self.rng.bool();
            readings.push(self.reading(&bench, now_s, with_cells));
            let Some(said) = self.judged(stage.kind, now_s, &readings) else {
                return Way::Stuck(format!("no judgement of {}", stage.kind.code()));
            };
            if let Some(way) = self.way(stage.kind, &said) {
                if matches!(way, Way::To(_)) && !self.charges_on && self.spans {
                    self.note_time(stage, now_s);
                }
                bench.switch(false);
                self.leave(&bench, stage.kind.code());
                return way;
            }
            if now_s > longest_s {
                self.leave(&bench, stage.kind.code());
                return Way::Stuck(format!(
                    "{} goes on after {:.0} h: {}",
                    stage.kind.code(),
                    now_s / 3600.0,
                    said.message
                ));
            }
            let least_s = if normally { 900.0 } else { 30.0 };
            now_s = said.next_look_s.unwrap_or(now_s + 900.0).max(now_s + least_s);
        }
    }

    fn ah(&self) -> f64 {
        self.told["pack"]["capacity_ah"].as_f64().unwrap_or(1.0)
    }

    /// A living pack's time against the corridor it was told; of a charge against its limit.
    fn note_time(&mut self, stage: &RescueStageDoc, took_s: f64) {
        let until_v = stage.until.pack_v.unwrap_or(f64::INFINITY);
        // Whoever looks every quarter of an hour sees it so much later.
        const LOOK_S: f64 = 900.0;
        let first_s = stage.curve.iter().find(|point| point.high_v >= until_v).map_or(0.0, |point| point.t_s);
        let low_s = if stage.kind == Kind::Precharge { first_s } else { 0.0 };
        let high_s = match stage.curve.last() {
            Some(last) if stage.kind == Kind::Precharge => last.t_s.max(stage.expected_s.unwrap_or(0.0)),
            _ => stage.max_s.unwrap_or(f64::INFINITY),
        };
        self.out.time(stage.kind.code(), took_s, (low_s - LOOK_S, high_s + LOOK_S));
    }

    fn look_once(&mut self, stage: &RescueStageDoc) -> Way {
        self.alone(60.0);
        let Some(bench) = self.bench(false) else { return Way::Stuck("no bench".to_owned()) };
        // Asked for its cells, somebody reads them who can; whoever cannot answers so.
        let several = self.cells.cells.len() > 1 && !self.in_blocks();
        let reading = RescueReadingDoc {
            current_a: None,
            terminal_v: Some(shown(self.terminals_v())),
            ..self.reading(&bench, 60.0, several)
        };
        let reading = RescueReadingDoc {
            cell_voltages_v: several.then(|| self.cells.cells.iter().map(|cell| shown(cell.volts)).collect()),
            ..reading
        };
        match self.judged(stage.kind, 60.0, &[reading]) {
            Some(said) => self.way(stage.kind, &said).unwrap_or(Way::Stuck(format!("handover: {}", said.message))),
            None => Way::Stuck("no judgement of a handover".to_owned()),
        }
    }

    /// Whether its cells cannot be read at all.
    fn in_blocks(&self) -> bool {
        self.told["pack"]["chemistry"].as_str().is_some_and(|name| name.starts_with("lead"))
    }

    fn terminals_v(&self) -> f64 {
        self.cells.cells.iter().map(|cell| cell.volts).sum()
    }

    /// Runs it down to so many volts.
    fn take_out(&mut self, to_v: f64, amps: f64) {
        let Some(mut bench) = self.run_down(amps) else { return };
        while bench.pack_v() > to_v && bench.t_s() < 3.0 * 86_400.0 {
            bench.step(60.0);
        }
        self.leave(&bench, "taken out");
    }

    /// The pack with a load on it.
    fn run_down(&self, amps: f64) -> Option<Bench> {
        let mut plan: PlanDoc = from_value(&json!({ "format": "rumek.plan/1", "pack": self.told["pack"] })).ok()?;
        let pack = plan.pack.as_mut()?;
        pack.temperature_c = Some(self.cells.around_c);
        pack.resistance_mohm = Some(1e3 * self.cells.cells.iter().map(|cell| cell.ohm).sum::<f64>());
        let mut bench = Bench::running_down(&plan, 1.0, &Truth::AS_TOLD, Part::Load(Load::Current(amps), true))?;
        bench.put(self.cells.clone());
        bench.settle();
        Some(bench)
    }

    fn rest(&mut self, stage: &RescueStageDoc) -> Way {
        if let Some(to_v) = stage.take_out_to_v {
            self.take_out(to_v, 0.05 * self.ah());
        }
        let mut readings: Vec<RescueReadingDoc> = Vec::new();
        let mut now_s = 0.0;
        let mut look_s = self.judged(Kind::Rest, 0.0, &[]).and_then(|said| said.next_look_s).unwrap_or(86_400.0);
        for _ in 0..12 {
            self.alone(look_s - now_s);
            now_s = look_s;
            let with_cells = self.readable() && self.rng.bool();
            readings.push(RescueReadingDoc {
                t_s: Some(now_s),
                terminal_v: Some(shown(self.terminals_v())),
                cell_voltages_v: with_cells
                    .then(|| self.cells.cells.iter().map(|cell| (cell.volts * 1000.0).round() / 1000.0).collect()),
                ..RescueReadingDoc::default()
            });
            let Some(said) = self.judged(stage.kind, now_s, &readings) else {
                return Way::Stuck("no judgement of a rest".to_owned());
            };
            if let Some(way) = self.way(stage.kind, &said) {
                return way;
            }
            // Lead that rests low is charged on; if it rests no higher then, it is given up.
            if said.state == JudgeState::Slow {
                let volts = self.terminals_v();
                if self.rested_v.is_some_and(|before_v| volts <= before_v + 0.02) {
                    return Way::GivenUp(format!("rest: no higher after it was charged on: {volts:.2} V"));
                }
                self.rested_v = Some(volts);
                self.charges_on = true;
                return Way::To(Kind::Charge);
            }
            look_s = said.next_look_s.unwrap_or(now_s + 86_400.0).max(now_s + 3600.0);
        }
        Way::Stuck("it rests for ever".to_owned())
    }

    /// A capacity test by the stage's own words.
    fn prove(&mut self, stage: &RescueStageDoc) -> Way {
        let (Some(amps), Some(to_v)) = (stage.current_a, stage.until.pack_v) else {
            return Way::Stuck("a test without amps or volts".to_owned());
        };
        // What was taken out before its rest is put back.
        if let Some(charge) = self.result.stages.iter().find(|stage| stage.kind == Kind::Charge).cloned()
            && self.result.stages.iter().any(|stage| stage.take_out_to_v.is_some())
            && let way @ (Way::GivenUp(_) | Way::Stuck(_)) = self.feed(&charge)
        {
            return way;
        }
        let Some(mut bench) = self.run_down(amps) else { return Way::Stuck("no bench".to_owned()) };
        bench.step(0.02);
        while bench.pack_v() > to_v && bench.t_s() < 40.0 * 86_400.0 {
            bench.step(if bench.soc() > 0.1 { 120.0 } else { 10.0 });
        }
        let gave_ah = -bench.charge_as() / 3600.0;
        self.leave(&bench, "prove");
        let reading = RescueReadingDoc {
            t_s: Some(bench.t_s()),
            capacity_ah: Some(gave_ah),
            current_a: Some(amps),
            ..RescueReadingDoc::default()
        };
        match self.judged(stage.kind, bench.t_s(), &[reading]) {
            Some(said) => self.way(stage.kind, &said).unwrap_or(Way::Stuck(format!("prove: {}", said.message))),
            None => Way::Stuck("no judgement of a test".to_owned()),
        }
    }
}

/// So many seconds on.
fn steps(bench: &mut Bench, seconds: f64) {
    let until_s = bench.t_s() + seconds;
    while bench.t_s() < until_s - 0.01 {
        bench.step(until_s - bench.t_s());
    }
}
