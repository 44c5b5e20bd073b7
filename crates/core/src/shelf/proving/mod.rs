//! A capacity test planned: charged full, rested, run down to the cut-off, and brought to storage or full again; where
//! the energy goes, and how many such cycles the battery pays that feeds it.

mod ledger;
mod regenerate;

use crate::advice::answer::answer;
use crate::advice::discharge::{Discharge, Done, Gear, MOST_POINTS, cannot, gives, graver_first, refuses, stop};
use crate::advice::steps::emergency;
use crate::codes::{AfterTest, DischargeBy, EndReason, SegmentKind, Severity, StepWhen, TestCheckCode};
use crate::formats::{
    GoalDoc, GoalKind, PLAN_FORMAT, PackDoc, PlanDoc, Problems, ResultDoc, StartDoc, TEST_FORMAT, TEST_RESULT_FORMAT,
    TestCheckDoc, TestDoc, TestPhaseDoc, TestPinchDoc, TestPoint, TestResultDoc, TestStepDoc, named,
};
use crate::lines::{gear, wear};
use crate::parts::identify::identify;
use crate::parts::lead;
use crate::parts::plan::{ROOM_C, alone, resolve};
use crate::parts::problems::Checked;
use crate::physics::battery::Battery;
use crate::physics::charge::evenly;
use crate::units::{in_amp_hours, significant, trimmed};

/// From so much of its charge on it need not be charged first.
const FULL_SOC: f64 = 0.98;
/// Usual rest between charge and discharge, min.
const REST_MIN: f64 = 60.0;

/// Plans a capacity test.
///
/// # Examples
/// ```
/// use rumek_core::formats::{TestDoc, from_value};
/// use serde_json::json;
///
/// let ask: TestDoc = from_value(&json!({ "format": "rumek.test/1",
///     "pack": { "chemistry": "lfp", "series": 4, "capacity_ah": 20, "start": { "soc": 1.0 } },
///     "discharge": { "by": "electronic_load", "current_a": 10 }, "after": "none" }))?;
/// let answer = rumek_core::plan_test(&ask)?;
/// assert!((answer.total_s.expect("nothing stops it") / 3600.0 - 3.0).abs() < 0.2, "an hour of rest, two at 10 A");
/// # Ok::<(), rumek_core::formats::Problems>(())
/// ```
///
/// # Errors
/// Everything wrong with the document, each problem with its JSON pointer.
pub fn plan_test(ask: &TestDoc) -> Result<TestResultDoc, Problems> {
    let (resolved, assumed) = filled(ask);
    let mut problems = Problems::default();
    if ask.format.as_deref() != Some(TEST_FORMAT) {
        let said = ask.format.as_deref().unwrap_or("nothing");
        problems.add("/format", format!("the format says {said}"), TEST_FORMAT);
    }
    let mut check = Checked::new("", &mut problems);
    let rest_min = check.within("rest_min", resolved.rest_min, 0.0, 10_080.0).unwrap_or(REST_MIN);
    let cycles = check.whole("cycles", resolved.cycles, 1, 100).unwrap_or(1);
    check.within("ambient_c", resolved.ambient_c, -60.0, 80.0);
    let given = check.required("pack", resolved.pack.clone(), "a pack: chemistry, series and capacity_ah at least");
    let asked = check.required("discharge", resolved.discharge.clone(), "what takes it down, and how far");
    let (Some(given), Some(asked)) = (given, asked) else { return Err(problems) };
    let pack = match alone(&given) {
        Ok(pack) => pack,
        Err(wrong) => return Err(wrong.under("/pack")),
    };
    let found = identify(&pack, false);
    let after = resolved.after.unwrap_or(AfterTest::None);
    let charges_first = found.soc < FULL_SOC;
    let charges = charges_first || after != AfterTest::None;
    if charges && resolved.source.is_none() {
        problems.add(
            "/source",
            "nothing feeds the charge before or after it",
            "a source, or a full pack and after “none”",
        );
        return Err(problems);
    }
    // The charge to full and the one after are plans of their own; what is wrong with the gear shows there.
    let plan = |start: StartDoc, goal: GoalKind| charge_plan(&resolved, &given, start, goal);
    let start = given.start.clone().unwrap_or(StartDoc { soc: Some(found.soc), ..StartDoc::default() });
    let fed = resolved.source.as_ref().map(|_| resolve(&plan(start.clone(), GoalKind::Full))).transpose()?;
    let fed = fed.map(|resolved| resolved.plan);
    let source = fed.as_ref().and_then(|plan| plan.source.as_ref());
    let ambient_c = resolved.ambient_c.unwrap_or(ROOM_C);
    let output = resolved.leads.as_ref().and_then(|leads| leads.output.as_ref());
    let output = output.and_then(|doc| lead::read(doc, ambient_c, "/leads/output", &mut problems));
    let lead_ohm = output.as_ref().map_or(0.0, |lead| lead.ohm);
    let gear = Gear { pack: &pack, charger: resolved.charger.as_ref(), source, lead_ohm };
    let whole = match gear.whole(&asked, found.soc, &mut problems) {
        Some(whole) if problems.problems.is_empty() => whole,
        _ => return Err(problems),
    };
    let by = whole.sink.by;
    let mut test = Test { result: empty(&resolved, assumed, emergency(&pack)), at_s: 0.0, span_s: (0.0, 0.0) };
    let draw = match whole.sink.draw {
        Ok(draw) => draw,
        Err(code) => {
            test.result.checks = vec![stop(code, cannot(code, by), &[])];
            return Ok(test.result);
        }
    };
    let mut rows = ledger::Ledger::new(&pack, source, by);
    let mut end_soc = found.soc;
    if charges_first {
        let charged = answer(&plan(start, GoalKind::Full))?;
        end_soc = charged.end.soc;
        test.charge(&charged, found.soc, &mut rows);
    }
    // Only the first cycle begins with it.
    let first = test.result.phases.first().filter(|_| charges_first);
    let first = first.map_or((0.0, 0.0), |phase| (phase.to_s, phase.source_wh));
    // A charge that ends a little below full leaves the discharge a little less.
    let discharge = Discharge { start_soc: end_soc, ..whole };
    let done = discharge.run(draw);
    test.rest(rest_min * 60.0, discharge.start_soc, &pack);
    let back = (by == DischargeBy::Source)
        .then(|| resolved.charger.as_ref().and_then(|charger| charger.efficiency).unwrap_or(gear::EFFICIENCY.at));
    test.discharge(&discharge, &done, back, &mut rows);
    let emptied = done.run.end.soc;
    if after != AfterTest::None {
        let goal = if after == AfterTest::Storage && pack.profile.storage_v.is_some() {
            GoalKind::Storage
        } else {
            GoalKind::Full
        };
        let start = StartDoc { soc: Some(significant(emptied.max(0.0))), ..StartDoc::default() };
        test.charge(&answer(&plan(start, goal))?, emptied, &mut rows);
    }
    let again = if cycles < 2 {
        None
    } else if after == AfterTest::Full {
        Some(test.again(first, (0.0, 0.0)))
    } else if resolved.source.is_some() {
        let start = StartDoc { soc: Some(significant(emptied.max(0.0))), ..StartDoc::default() };
        let charged = answer(&plan(start, GoalKind::Full))?;
        // What comes after the last one is no part of those before it.
        let ends = test.after(after);
        let recharge = (charged.time.total_s.unwrap_or(0.0) - ends.0, charged.delivered.source_wh - ends.1);
        Some(test.again(first, recharge))
    } else {
        None
    };
    // Where a charge is refused, what it would cost cannot be told.
    if let (Some(battery), Some(_)) = (source.and_then(|source| source.battery.as_ref()), back) {
        test.watch_fed(battery);
    }
    let paid = if refuses(&test.result.checks) {
        regenerate::Paid::default()
    } else {
        regenerate::paid(&regenerate::Asked {
            phases: &test.result.phases,
            source,
            charger: resolved.charger.as_ref(),
            back,
            cycle_s: again.map_or(test.at_s, |(seconds, _)| seconds),
            again_wh: again.map(|(_, wh)| wh),
        })
    };
    test.result.checks.extend(paid.checks);
    test.result.cycles_possible = paid.cycles;
    test.result.cycle_costs_wh = paid.costs_wh.map(significant);
    test.result.held_up_by_w = paid.held_up_by_w.map(significant);
    if let (Some(possible), true) = (paid.cycles, cycles > 1)
        && possible < cycles
    {
        test.result.checks.push(source_short(possible, cycles));
    }
    test.expected(&discharge, &done);
    test.finish(rows, cycles, again.map(|(seconds, _)| seconds))
}

fn source_short(possible: u32, cycles: u32) -> TestCheckDoc {
    TestCheckDoc {
        code: TestCheckCode::SourceShort,
        severity: Severity::Caution,
        message: format!(
            "The battery that feeds it pays {possible} of {cycles} cycles: charge it in between, or hold it up meanwhile."
        ),
        lifts: Vec::new(),
        values: named(&[("possible", f64::from(possible)), ("cycles", f64::from(cycles))]),
    }
}

/// The question with its defaults, and the pointers of what was not said.
fn filled(ask: &TestDoc) -> (TestDoc, Vec<String>) {
    let mut resolved = ask.clone();
    let mut assumed = Vec::new();
    let mut fill = |missing: bool, pointer: &str| {
        if missing {
            assumed.push(pointer.to_owned());
        }
    };
    fill(ask.rest_min.is_none(), "/rest_min");
    resolved.rest_min = ask.rest_min.or(Some(REST_MIN));
    fill(ask.after.is_none(), "/after");
    resolved.after = ask.after.or(Some(AfterTest::None));
    fill(ask.cycles.is_none(), "/cycles");
    resolved.cycles = ask.cycles.or(Some(1));
    fill(ask.ambient_c.is_none(), "/ambient_c");
    resolved.ambient_c = ask.ambient_c.or(Some(ROOM_C));
    if let Some(pack) = &mut resolved.pack {
        fill(pack.start.is_none(), "/pack/start");
        // A test begins with a charge unless somebody says that the pack is full.
        pack.start = pack.start.clone().or(Some(StartDoc { soc: Some(0.2), ..StartDoc::default() }));
        if pack.temperature_c.is_none() {
            pack.temperature_c = resolved.ambient_c;
        }
    }
    let profile = resolved.pack.as_ref().and_then(|pack| alone(pack).ok()).map(|pack| pack.profile);
    if let (Some(discharge), Some(profile)) = (&mut resolved.discharge, profile) {
        fill(discharge.to_v_per_cell.is_none(), "/discharge/to_v_per_cell");
        discharge.to_v_per_cell = discharge.to_v_per_cell.or(Some(profile.proof.to_v));
    }
    (resolved, assumed)
}

fn charge_plan(test: &TestDoc, pack: &PackDoc, start: StartDoc, goal: GoalKind) -> PlanDoc {
    PlanDoc {
        format: Some(PLAN_FORMAT.to_owned()),
        ambient_c: test.ambient_c,
        pack: Some(PackDoc { start: Some(start), goal: Some(GoalDoc { kind: Some(goal), soc: None }), ..pack.clone() }),
        source: test.source.clone(),
        charger: test.charger.clone(),
        leads: test.leads.clone(),
        ..PlanDoc::default()
    }
}

fn empty(resolved: &TestDoc, assumed: Vec<String>, emergency: Vec<String>) -> TestResultDoc {
    TestResultDoc {
        format: TEST_RESULT_FORMAT.to_owned(),
        resolved: resolved.clone(),
        assumed,
        phases: Vec::new(),
        ledger: Vec::new(),
        total_s: None,
        total_low_s: None,
        total_high_s: None,
        cycles_possible: None,
        cycle_costs_wh: None,
        held_up_by_w: None,
        expected_ah: None,
        worn_below_ah: None,
        retire_below_ah: None,
        checks: Vec::new(),
        steps: Vec::new(),
        emergency,
    }
}

/// A test as it grows, phase by phase.
struct Test {
    result: TestResultDoc,
    at_s: f64,
    /// The shortest and the longest of what stands so far, s.
    span_s: (f64, f64),
}

impl Test {
    fn push(&mut self, phase: TestPhaseDoc) {
        self.at_s = phase.to_s;
        self.span_s = (self.span_s.0 + phase.takes_low_s, self.span_s.1 + phase.takes_high_s);
        self.result.phases.push(phase);
    }

    fn number(&self) -> u32 {
        self.result.phases.len() as u32
    }

    /// A charge by its own plan.
    fn charge(&mut self, charged: &ResultDoc, start_soc: f64, rows: &mut ledger::Ledger<'_>) {
        let number = self.number();
        let Some(total_s) = charged.time.total_s.filter(|_| charged.settings.is_some()) else {
            if charged.end.reason == EndReason::SourceEmpty {
                let message = "The battery that feeds it is down to its reserve before the charge is done: charge it first, or hold it up meanwhile.";
                self.result.checks.push(stop(TestCheckCode::SourceShort, message.to_owned(), &[]));
                return;
            }
            let why = charged.checks.iter().find(|check| check.severity == Severity::Stop && !check.accepted);
            let why = why.map_or("it never gets there".to_owned(), |check| check.message.clone());
            let message = format!("The charge of this test is refused: {why}");
            self.result.checks.push(stop(TestCheckCode::ChargeRefused, message, &[]));
            return;
        };
        rows.charge(charged, start_soc);
        let delivered = &charged.delivered;
        let most_a = charged.curve.iter().map(|point| point.current_a).fold(0.0, f64::max);
        let times = &charged.time;
        self.result.steps.extend(charged.steps.iter().map(|step| TestStepDoc {
            phase: number,
            when: step.when,
            message: step.message.clone(),
        }));
        self.push(TestPhaseDoc {
            kind: SegmentKind::Charge,
            from_s: self.at_s,
            to_s: self.at_s + total_s,
            takes_low_s: times.total_low_s.unwrap_or(total_s),
            takes_high_s: times.total_high_s.unwrap_or(total_s),
            charge_ah: significant(delivered.charge_ah),
            energy_wh: significant(delivered.energy_wh),
            source_wh: significant(delivered.source_wh),
            heat_wh: significant(delivered.heat_wh - delivered.pack_heat_wh),
            heat_w: significant(if total_s > 0.0 {
                3600.0 * (delivered.heat_wh - delivered.pack_heat_wh) / total_s
            } else {
                0.0
            }),
            pack_heat_wh: significant(delivered.pack_heat_wh),
            start_soc,
            end_soc: charged.end.soc,
            start_v: charged.curve.first().map_or(charged.start.pack_voltage_v, |point| point.pack_v),
            end_v: charged.curve.last().map_or(charged.start.pack_voltage_v, |point| point.pack_v),
            current_a: significant(most_a),
            pinch: charged
                .pinch
                .iter()
                .map(|span| TestPinchDoc {
                    limit: span.limit.code().to_owned(),
                    from_s: span.from_s.round() as u64,
                    to_s: span.to_s.round() as u64,
                })
                .collect(),
            settings: charged.settings.clone(),
            checks: charged.checks.clone(),
            curve: evenly(&charged.curve, MOST_POINTS)
                .map(|point| TestPoint {
                    t_s: point.t_s,
                    pack_v: point.pack_v,
                    current_a: point.current_a,
                    soc: point.soc,
                })
                .collect(),
        });
    }

    fn rest(&mut self, seconds: f64, soc: f64, pack: &crate::parts::pack::Pack) {
        if seconds <= 0.0 {
            return;
        }
        let rest_v = pack.profile.ocv.at(soc).0 * f64::from(pack.series);
        let point = |t_s: f64| TestPoint { t_s, pack_v: significant(rest_v), current_a: 0.0, soc };
        self.result.steps.push(TestStepDoc {
            phase: self.number(),
            when: StepWhen::Before,
            message: format!(
                "Let it rest for {}, nothing connected: it settles to about {} V.",
                crate::units::show_hours(seconds / 3600.0),
                trimmed(rest_v, 2)
            ),
        });
        self.push(TestPhaseDoc {
            kind: SegmentKind::Rest,
            from_s: self.at_s,
            to_s: self.at_s + seconds,
            takes_low_s: seconds,
            takes_high_s: seconds,
            charge_ah: 0.0,
            energy_wh: 0.0,
            source_wh: 0.0,
            heat_wh: 0.0,
            heat_w: 0.0,
            pack_heat_wh: 0.0,
            start_soc: soc,
            end_soc: soc,
            start_v: rest_v,
            end_v: rest_v,
            current_a: 0.0,
            pinch: Vec::new(),
            settings: None,
            checks: Vec::new(),
            curve: vec![point(0.0), point(seconds)],
        });
    }

    fn discharge(&mut self, asked: &Discharge, done: &Done, back: Option<f64>, rows: &mut ledger::Ledger<'_>) {
        rows.discharge(asked, done, back);
        self.result.checks.extend(asked.checks(done));
        self.result.steps.extend(asked.steps(done, self.number()));
        let phase = asked.phase(done, self.at_s, back);
        self.push(phase);
    }

    /// How long each further cycle takes, s, and what it costs what feeds it, Wh: all but the first charge, and a charge
    /// to full instead of what comes after the last.
    fn again(&self, (first_s, first_wh): (f64, f64), (recharge_s, recharge_wh): (f64, f64)) -> (f64, f64) {
        let costs_wh: f64 = self.result.phases.iter().map(|phase| phase.source_wh).sum();
        (self.at_s - first_s + recharge_s, costs_wh - first_wh + recharge_wh)
    }

    /// How long what comes after the discharge takes, s, and what it costs, Wh.
    fn after(&self, after: AfterTest) -> (f64, f64) {
        let last = self.result.phases.last().filter(|_| after != AfterTest::None);
        last.map_or((0.0, 0.0), |phase| (phase.to_s - phase.from_s, phase.source_wh))
    }

    /// The battery that is fed is guarded as one that is charged: its volts, its warmth, nothing else that charges it.
    fn watch_fed(&mut self, battery: &Battery) {
        let phase = self.number().saturating_sub(1);
        let (each_v, most_v) = (battery.profile.full_v, battery.profile.full_v * battery.series);
        let mut add = |when: StepWhen, message: String| self.result.steps.push(TestStepDoc { phase, when, message });
        add(
            StepWhen::Before,
            "The battery that feeds the charger is charged meanwhile: nothing else charges it, and its own fuse is in."
                .to_owned(),
        );
        add(
            StepWhen::During,
            format!(
                "Read that battery too, after a minute and then with every look: at {} V ({} V a cell), or where it warms or smells, end the discharge.",
                trimmed(most_v, 2),
                trimmed(each_v, 3)
            ),
        );
    }

    /// What a pack as good as its label gives in this test, and from where on it is worn.
    fn expected(&mut self, asked: &Discharge, done: &Done) {
        let mean_a = done.run.charge_as / done.run.total_s().max(1.0);
        let label_ah = in_amp_hours(asked.pack.nameplate) * gives(&asked.pack, mean_a);
        self.result.expected_ah = Some(significant(label_ah));
        self.result.worn_below_ah = Some(significant(wear::WORN.at * label_ah));
        self.result.retire_below_ah = Some(significant(wear::RETIRE.at * label_ah));
    }

    fn finish(
        mut self,
        rows: ledger::Ledger<'_>,
        cycles: u32,
        again_s: Option<f64>,
    ) -> Result<TestResultDoc, Problems> {
        self.result.checks = graver_first(std::mem::take(&mut self.result.checks));
        // Both charges may be refused for one reason.
        self.result.checks.dedup();
        if refuses(&self.result.checks) {
            let TestResultDoc { format, resolved, assumed, checks, emergency, .. } = self.result;
            let nothing = empty(&resolved, assumed, emergency);
            return Ok(TestResultDoc { format, checks, ..nothing });
        }
        self.result.ledger = rows.rows();
        // Those after the first take as long as it does without its charge from where the pack was found.
        let times = 1.0 + f64::from(cycles - 1) * again_s.unwrap_or(self.at_s) / self.at_s.max(1e-9);
        self.result.total_s = Some(self.at_s * times);
        self.result.total_low_s = Some(self.span_s.0 * times);
        self.result.total_high_s = Some(self.span_s.1 * times);
        Ok(self.result)
    }
}
