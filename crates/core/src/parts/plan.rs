//! A plan ready to be computed: its defaults filled in, its fields checked.

use crate::formats::{
    AcceptedDoc, Balancer, ChargerDoc, ChargerKind, CutOffStarts, FuseAt, GoalDoc, GoalKind, Insulation, Laid, LastUse,
    LeadDoc, Overload, PLAN_FORMAT, PackDoc, PlanDoc, Practice, Problems, SettingsDoc, SourceDoc, SourceKind, StartDoc,
    Topology, TransformerType, Wires,
};
use crate::lines::gear;
use crate::parts::charger::{self, Charger};
use crate::parts::lead::{self, Lead};
use crate::parts::meter::{self, Correction};
use crate::parts::pack::{self, Pack};
use crate::parts::parallel::{self, Member};
use crate::parts::problems::Checked;
use crate::parts::source::{self, Source, usual_regulation};
use crate::physics::cell::{Chemistry, Traits, profile};
use crate::physics::operating::LoadDraw;
use crate::units::{in_amp_hours, in_ohms};

/// What a chemistry is like; of one that nobody knows the careful guess.
fn traits(chemistry: Option<Chemistry>) -> Traits {
    chemistry.and_then(profile).map_or(Traits::UNKNOWN, |known| known.traits)
}

/// A question in domain terms.
#[derive(Clone, Debug)]
pub(crate) struct Plan {
    pub(crate) practice: Practice,
    /// All packs in parallel taken together.
    pub(crate) pack: Pack,
    /// Unlike packs in parallel, the plan's own first; empty where there are none.
    pub(crate) members: Vec<Member>,
    pub(crate) source: Option<Source>,
    pub(crate) charger: Option<Charger>,
    /// Source to charger.
    pub(crate) input: Option<Lead>,
    /// To the pack.
    pub(crate) output: Option<Lead>,
    pub(crate) cut_off: Option<CutOff>,
    /// The plan's own first, then what stands with the devices.
    pub(crate) corrections: Vec<Correction>,
    pub(crate) load: LoadDraw,
    pub(crate) settings: SettingsDoc,
    pub(crate) visit_every_s: Option<f64>,
    /// Somebody stays for so long at the start, s.
    pub(crate) attended_first_s: f64,
    pub(crate) mains: Option<Mains>,
    pub(crate) price_per_kwh: Option<f64>,
    pub(crate) acceptances: Vec<AcceptedDoc>,
    /// Whether what its source does when overloaded was a guess.
    pub(crate) overload_assumed: bool,
    /// Whether the start was a guess.
    pub(crate) start_assumed: bool,
    /// How warm it is where the charge goes on, °C.
    pub(crate) around_c: f64,
}

/// A voltage cut-off relay: closes below `low_v`, opens above `high_v`, V at the pack.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct CutOff {
    pub(crate) low_v: f64,
    pub(crate) high_v: f64,
    pub(crate) error_v: f64,
    /// What its reading shows more than there is, V.
    pub(crate) offset_v: f64,
    /// When it first closes; `None` where nobody knows.
    pub(crate) starts: Option<CutOffStarts>,
}

impl CutOff {
    /// The true voltage at which it opens, as far as its reading is known to be off, V.
    pub(crate) fn opens_v(&self) -> f64 {
        self.high_v - self.offset_v
    }
}

/// The outlet's circuit.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Mains {
    pub(crate) voltage_v: f64,
    pub(crate) circuit_a: f64,
}

/// A plan, its document with every default filled in, and the pointers of what was not said.
pub(crate) struct Resolved {
    pub(crate) plan: Plan,
    pub(crate) document: PlanDoc,
    pub(crate) assumed: Vec<String>,
}

/// Fills a field that was not said and remembers its pointer.
fn fill<T>(field: &mut Option<T>, value: T, pointer: &str, assumed: &mut Vec<String>) {
    if field.is_none() {
        *field = Some(value);
        assumed.push(pointer.to_owned());
    }
}

/// Where nobody says how warm it is, °C.
pub(crate) const ROOM_C: f64 = 20.0;

/// Resolves a plan document.
///
/// # Errors
/// Every field that is missing, out of range or not meant for its kind.
pub(crate) fn resolve(given: &PlanDoc) -> Result<Resolved, Problems> {
    let mut document = given.clone();
    let mut assumed = Vec::new();
    fill_constants(&mut document, &mut assumed);
    let mut problems = Problems::default();
    let plan = read(&document, &mut problems);
    let mut plan = match plan {
        Some(plan) if problems.problems.is_empty() => plan,
        _ => return Err(problems),
    };
    plan.overload_assumed = assumed.iter().any(|pointer| pointer == "/source/overload");
    plan.start_assumed = assumed.iter().any(|pointer| pointer == "/pack/start");
    if let Some(charger) = &mut plan.charger {
        charger.efficiency_assumed = assumed.iter().any(|pointer| pointer == "/charger/efficiency");
    }
    if let Some(doc) = &mut document.pack {
        let pack = &plan.pack;
        let n = f64::from(pack.parallel);
        fill(&mut doc.series, pack.series, "/pack/series", &mut assumed);
        if doc.capacitance_f.is_none() {
            let each_ah = in_amp_hours(pack.nameplate) / n;
            fill(&mut doc.capacity_ah, (each_ah * 1e4).round() / 1e4, "/pack/capacity_ah", &mut assumed);
        }
        let each_mohm = in_ohms(pack.resistance) * n * 1e3;
        fill(&mut doc.resistance_mohm, (each_mohm * 100.0).round() / 100.0, "/pack/resistance_mohm", &mut assumed);
    }
    Ok(Resolved { plan, document, assumed })
}

/// Checks a pack by itself, as it stands on a shelf.
///
/// # Errors
/// Every field that is missing, out of range or not meant for its chemistry.
pub fn check_pack(given: &PackDoc) -> Result<(), Problems> {
    alone(given).map(|_| ())
}

/// A pack by itself, as it stands on a shelf.
pub(crate) fn alone(given: &PackDoc) -> Result<Pack, Problems> {
    let mut pack = given.clone();
    fill_pack(&mut pack, ROOM_C, &mut Vec::new());
    let mut problems = Problems::default();
    match pack::read(&pack, "", &mut problems) {
        Some(pack) if problems.problems.is_empty() => Ok(pack),
        _ => Err(problems),
    }
}

/// Checks a supply by itself, as it stands among the gear.
///
/// # Errors
/// Every field that is missing, out of range or not meant for its kind.
pub fn check_source(given: &SourceDoc) -> Result<(), Problems> {
    let mut source = given.clone();
    fill_source(&mut source, &mut Vec::new());
    let mut problems = Problems::default();
    source::read(&source, "", &mut problems);
    problems.into_result(())
}

/// Checks a charger by itself, as it stands among the gear.
///
/// # Errors
/// Every field that is missing, out of range or not meant for its kind.
pub fn check_charger(given: &ChargerDoc) -> Result<(), Problems> {
    let mut charger = given.clone();
    fill_charger(&mut charger, &mut Vec::new());
    let mut problems = Problems::default();
    charger::read(&charger, "", &mut problems);
    problems.into_result(())
}

/// Checks a lead by itself, as it stands among the gear.
///
/// # Errors
/// Every field that is missing or out of range.
pub fn check_lead(given: &LeadDoc) -> Result<(), Problems> {
    let mut problems = Problems::default();
    lead::read(given, ROOM_C, "", &mut problems);
    problems.into_result(())
}

fn fill_constants(doc: &mut PlanDoc, assumed: &mut Vec<String>) {
    fill(&mut doc.practice, Practice::Standard, "/practice", assumed);
    fill(&mut doc.ambient_c, ROOM_C, "/ambient_c", assumed);
    if doc.visit_every_min.is_some_and(|min| min > FIRST_MIN) {
        fill(&mut doc.attended_first_min, FIRST_MIN, "/attended_first_min", assumed);
    }
    let ambient_c = doc.ambient_c.unwrap_or(ROOM_C);
    if let Some(pack) = &mut doc.pack {
        // Who asks how long a pack runs asks it of a full one.
        if doc.source.is_none() && pack.start.as_ref().is_none_or(|start| *start == StartDoc::default()) {
            pack.start = None;
            fill(&mut pack.start, StartDoc { soc: Some(1.0), ..StartDoc::default() }, "/pack/start", assumed);
        }
        fill_pack(pack, ambient_c, assumed);
    }
    if let Some(source) = &mut doc.source {
        fill_source(source, assumed);
    }
    if let Some(charger) = &mut doc.charger {
        fill_charger(charger, assumed);
    }
    if let Some(leads) = &mut doc.leads {
        // A battery can feed a fault: the fuse belongs to the battery's end.
        let battery = doc.source.as_ref().is_some_and(|source| source.kind == Some(SourceKind::Battery));
        let input_end = if battery { FuseAt::Source } else { FuseAt::Pack };
        for (lead, end, name) in [(&mut leads.input, input_end, "input"), (&mut leads.output, FuseAt::Pack, "output")] {
            let Some(lead) = lead else { continue };
            let at = |field: &str| format!("/leads/{name}/{field}");
            if lead.fuse_a.is_some() {
                fill(&mut lead.fuse_at, end, &at("fuse_at"), assumed);
            }
            fill(&mut lead.wires, Wires::Pair, &at("wires"), assumed);
            fill(&mut lead.insulation, Insulation::Pvc, &at("insulation"), assumed);
            fill(&mut lead.laid, Laid::Open, &at("laid"), assumed);
            fill(&mut lead.ambient_c, ambient_c, &at("ambient_c"), assumed);
        }
    }
    if let Some(cut_off) = &mut doc.cut_off {
        fill(&mut cut_off.error_v, 0.1, "/cut_off/error_v", assumed);
    }
}

/// Whoever comes seldom has connected it, and stays for the steep first part of it, min.
const FIRST_MIN: f64 = 60.0;

/// What is charged to a state of charge that nobody says is spared the last fifth.
const PART_CHARGE: f64 = 0.8;

pub(crate) fn fill_pack(pack: &mut PackDoc, ambient_c: f64, assumed: &mut Vec<String>) {
    fill(&mut pack.packs_in_parallel, 1, "/pack/packs_in_parallel", assumed);
    fill(&mut pack.health, 1.0, "/pack/health", assumed);
    fill(&mut pack.temperature_c, ambient_c, "/pack/temperature_c", assumed);
    fill(&mut pack.balancer, Balancer::None, "/pack/balancer", assumed);
    let empty_start = StartDoc::default();
    if pack.start.as_ref() == Some(&empty_start) {
        pack.start = None;
    }
    let supercap = traits(pack.chemistry).farads;
    if supercap {
        let spread = if pack.series == Some(1) { 0.0 } else { 0.2 };
        fill(&mut pack.capacitance_spread, spread, "/pack/capacitance_spread", assumed);
    }
    let start = StartDoc { soc: Some(if supercap { 0.0 } else { 0.2 }), ..StartDoc::default() };
    fill(&mut pack.start, start, "/pack/start", assumed);
    if let Some(start) = &mut pack.start
        && start.soc.is_none()
    {
        fill(&mut start.last, LastUse::Unknown, "/pack/start/last", assumed);
    }
    fill(&mut pack.goal, GoalDoc { kind: Some(GoalKind::Full), soc: None }, "/pack/goal", assumed);
    if let Some(goal) = &mut pack.goal
        && goal.kind == Some(GoalKind::Soc)
    {
        fill(&mut goal.soc, PART_CHARGE, "/pack/goal/soc", assumed);
    }
}

pub(crate) fn fill_source(source: &mut SourceDoc, assumed: &mut Vec<String>) {
    let Some(kind) = source.kind else {
        return;
    };
    let overload = match kind {
        SourceKind::BenchSupply | SourceKind::RegulatedPort | SourceKind::Mains => Overload::ConstantCurrent,
        SourceKind::FixedSupply | SourceKind::AdjustableSupply => Overload::Hiccup,
        SourceKind::WallAdapter | SourceKind::TransformerRectifier | SourceKind::Battery => Overload::Unprotected,
    };
    fill(&mut source.overload, overload, "/source/overload", assumed);
    let headroom = if source.overload == Some(Overload::ConstantCurrent) { 1.0 } else { gear::HEADROOM.at };
    fill(&mut source.headroom, headroom, "/source/headroom", assumed);
    // What comes out of a battery or the wall is not converted before it is counted.
    let efficiency = if matches!(kind, SourceKind::Battery | SourceKind::Mains) { 1.0 } else { gear::EFFICIENCY.at };
    fill(&mut source.efficiency, efficiency, "/source/efficiency", assumed);
    fill(&mut source.units, 1, "/source/units", assumed);
    match kind {
        SourceKind::BenchSupply => {
            fill(&mut source.min_voltage_v, 0.0, "/source/min_voltage_v", assumed);
            fill(&mut source.voltage_step_v, 0.01, "/source/voltage_step_v", assumed);
            fill(&mut source.output_switch, true, "/source/output_switch", assumed);
        }
        SourceKind::AdjustableSupply => {
            fill(&mut source.min_voltage_v, 0.0, "/source/min_voltage_v", assumed);
            // Most such knobs turn without steps: as finely as somebody turns them.
            fill(&mut source.voltage_step_v, 0.001, "/source/voltage_step_v", assumed);
            fill(&mut source.output_switch, false, "/source/output_switch", assumed);
        }
        SourceKind::WallAdapter => {
            if let Some(v) = source.voltage_v {
                fill(&mut source.open_circuit_v, (v * 135.0).round() / 100.0, "/source/open_circuit_v", assumed);
            }
        }
        SourceKind::TransformerRectifier => {
            fill(&mut source.r#type, TransformerType::Unknown, "/source/type", assumed);
            fill(&mut source.smoothing_uf, 4700.0, "/source/smoothing_uf", assumed);
            fill(&mut source.mains_hz, 50.0, "/source/mains_hz", assumed);
            if let (None, Some(va)) = (source.open_vac, source.rated_va) {
                fill(&mut source.regulation, usual_regulation(va), "/source/regulation", assumed);
            }
        }
        SourceKind::Battery => {
            let reserve = traits(source.chemistry).keeps_back;
            fill(&mut source.soc, 1.0, "/source/soc", assumed);
            fill(&mut source.reserve_soc, reserve, "/source/reserve_soc", assumed);
        }
        SourceKind::FixedSupply | SourceKind::RegulatedPort | SourceKind::Mains => {}
    }
}

fn fill_charger(charger: &mut ChargerDoc, assumed: &mut Vec<String>) {
    let Some(kind) = charger.kind else {
        return;
    };
    match kind {
        ChargerKind::HobbyCharger | ChargerKind::SmartCharger => {
            fill(&mut charger.topology, Topology::BuckBoost, "/charger/topology", assumed);
            let auto = kind == ChargerKind::SmartCharger;
            fill(&mut charger.auto_voltage, auto, "/charger/auto_voltage", assumed);
            fill(&mut charger.channels_in_use, 1, "/charger/channels_in_use", assumed);
        }
        ChargerKind::DcDc => {
            if charger.topology == Some(Topology::Buck) {
                fill(&mut charger.dropout_v, 1.5, "/charger/dropout_v", assumed);
            }
            // A module without a current knob fails when taken for one with it, not the other way.
            fill(&mut charger.has_cc, false, "/charger/has_cc", assumed);
            fill(&mut charger.has_cv, true, "/charger/has_cv", assumed);
        }
        ChargerKind::LinearModule => {
            fill(&mut charger.topology, Topology::Linear, "/charger/topology", assumed);
            fill(&mut charger.dropout_v, 0.3, "/charger/dropout_v", assumed);
            fill(&mut charger.rated_w, 1.2, "/charger/rated_w", assumed);
            fill(&mut charger.output_max_v, 4.2, "/charger/output_max_v", assumed);
        }
        ChargerKind::Lamp => fill(&mut charger.lamps_in_parallel, 1, "/charger/lamps_in_parallel", assumed),
        ChargerKind::Pwm | ChargerKind::Resistor => {}
    }
    if kind.may_switch() {
        fill(&mut charger.efficiency, gear::EFFICIENCY.at, "/charger/efficiency", assumed);
    }
    fill(&mut charger.diode_drop_v, 0.0, "/charger/diode_drop_v", assumed);
}

fn read(doc: &PlanDoc, problems: &mut Problems) -> Option<Plan> {
    if doc.format.as_deref() != Some(PLAN_FORMAT) {
        let said = doc.format.as_deref().unwrap_or("nothing");
        problems.add("/format", format!("the format says {said}"), PLAN_FORMAT);
    }
    let mut check = Checked::new("", problems);
    let around_c = check.within("ambient_c", doc.ambient_c, -60.0, 80.0).unwrap_or(ROOM_C);
    let visit_every_s = check.within("visit_every_min", doc.visit_every_min, 1.0, 10_080.0).map(|min| min * 60.0);
    let attended_first_s =
        check.within("attended_first_min", doc.attended_first_min, 0.0, 10_080.0).map(|min| min * 60.0);
    let price_per_kwh = check.within("price_per_kwh", doc.price_per_kwh, 0.0, 1e4);
    let load = load(doc, &mut check);
    let settings = settings(doc, &mut check);
    if doc.pack.is_none() {
        check.lacks("pack", "there is no pack", "a pack: chemistry, series and capacity_ah at least");
    }
    // A pack above its goal is discharged into what it stands before, without any source.
    let passive = |charger: &ChargerDoc| charger.kind.is_some_and(ChargerKind::passive);
    let drains = doc.charger.as_ref().is_some_and(passive) && aims_low(doc);
    if doc.source.is_none() && doc.load.is_none() && !drains {
        check.lacks("source", "nothing feeds the pack and nothing draws from it", "a source, a load or both");
    }
    if doc.source.is_none() && doc.charger.is_some() && !drains {
        check.lacks("source", "nothing feeds the charger", "a source; mains where it plugs into the wall");
    }
    if doc.source.as_ref().is_some_and(|source| source.kind == Some(SourceKind::Mains))
        && !doc.charger.as_ref().and_then(|charger| charger.kind).is_some_and(ChargerKind::may_switch)
    {
        check.add("charger", "the wall charges nothing by itself", "a hobby_charger, smart_charger or dc_dc on it");
    }
    let acceptances = acceptances(doc, &mut check);
    let cut_off = cut_off(doc, &mut check);
    let mains = mains(doc, &mut check);
    let pack = doc.pack.as_ref().and_then(|pack| pack::read(pack, "/pack", problems));
    let source = doc.source.as_ref().map(|source| source::read(source, "/source", problems));
    let charger = doc.charger.as_ref().map(|charger| charger::read(charger, "/charger", problems));
    let leads = doc.leads.clone().unwrap_or_default();
    let input = leads.input.as_ref().map(|lead| lead::read(lead, around_c, "/leads/input", problems));
    let output = leads.output.as_ref().map(|lead| lead::read(lead, around_c, "/leads/output", problems));
    let mut corrections = meter::read(doc.meters.as_deref().unwrap_or_default(), "/meters", None, problems);
    let mut pack = pack?;
    if doc.source.is_none() && !pack.resistance_given && pack.profile.traits.burns {
        made_for(&mut pack, load);
    }
    let members = parallel::join(doc.other_packs.as_deref().unwrap_or_default(), &mut pack, problems);
    let source = whole(source)?;
    let charger = whole(charger)?;
    // A charger on the balance lead levels the cells.
    let levels = charger.as_ref().is_some_and(|charger| charger.kind == ChargerKind::HobbyCharger);
    pack.balanced |= levels && pack.balancer == Balancer::BalanceLead;
    corrections.extend(source.iter().flat_map(|source| source.corrections.iter().copied()));
    corrections.extend(charger.iter().flat_map(|charger| charger.corrections.iter().copied()));
    // Below half the nominal voltage a converter has long let go; what runs off a capacitor is made to use
    // nearly all that it holds.
    let runs_down = source.is_none() && pack.profile.traits.farads;
    let let_go = if runs_down { 0.05 } else { 0.5 };
    let floor_v = let_go * pack.profile.nominal_v * f64::from(pack.series);
    Some(Plan {
        around_c,
        practice: doc.practice.unwrap_or(Practice::Standard),
        load: match load {
            LoadDraw::PowerW { watts, .. } => LoadDraw::PowerW { watts, floor_v },
            other => other,
        },
        pack,
        members,
        source,
        charger,
        input: whole(input)?,
        output: whole(output)?,
        cut_off,
        corrections,
        settings,
        visit_every_s,
        attended_first_s: attended_first_s.unwrap_or(0.0),
        mains,
        price_per_kwh,
        acceptances,
        overload_assumed: false,
        start_assumed: false,
    })
}

/// Whether a plan's goal may lie below its start.
fn aims_low(doc: &PlanDoc) -> bool {
    let goal = doc.pack.as_ref().and_then(|pack| pack.goal.as_ref()).and_then(|goal| goal.kind);
    matches!(goal, Some(GoalKind::Storage | GoalKind::Soc))
}

/// Who runs a load of more than twice the capacity has cells made for that: a third of the usual resistance, by
/// published sheets of power cells against energy cells.
fn made_for(pack: &mut Pack, load: LoadDraw) {
    const FAST_C: f64 = 2.0;
    const POWER_CELLS: f64 = 0.35;
    let nominal_v = pack.profile.nominal_v * f64::from(pack.series);
    if load.current_a(nominal_v) > FAST_C * in_amp_hours(pack.nameplate) {
        pack.resistance *= POWER_CELLS;
    }
}

/// What was read of a part that may be absent; `None` where it is there and wrong.
fn whole<T>(read: Option<Option<T>>) -> Option<Option<T>> {
    match read {
        Some(None) => None,
        Some(part) => Some(part),
        None => Some(None),
    }
}

fn cut_off(doc: &PlanDoc, check: &mut Checked<'_>) -> Option<CutOff> {
    let relay = doc.cut_off.as_ref()?;
    let low_v = check.within("cut_off/low_v", relay.low_v, 0.1, 1000.0);
    let low_v = check.required("cut_off/low_v", low_v, "the voltage it closes below, 0.1 to 1000 V");
    let high_v = check.within("cut_off/high_v", relay.high_v, low_v.unwrap_or(0.1), 1000.0);
    let high_v = check.required("cut_off/high_v", high_v, "the voltage it opens above, low_v to 1000 V");
    let error_v = check.within("cut_off/error_v", relay.error_v, 0.0, 20.0);
    let offset_v = check.within("cut_off/offset_v", relay.offset_v, -20.0, 20.0).unwrap_or(0.0);
    Some(CutOff { low_v: low_v?, high_v: high_v?, error_v: error_v?, offset_v, starts: relay.starts })
}

fn mains(doc: &PlanDoc, check: &mut Checked<'_>) -> Option<Mains> {
    let mains = doc.mains.as_ref()?;
    let voltage_v = check.within("mains/voltage_v", mains.voltage_v, 80.0, 500.0);
    let voltage_v = check.required("mains/voltage_v", voltage_v, "80 to 500 V rms");
    let circuit_a = check.within("mains/circuit_a", mains.circuit_a, 1.0, 200.0);
    let circuit_a = check.required("mains/circuit_a", circuit_a, "what its breaker allows, 1 to 200 A");
    Some(Mains { voltage_v: voltage_v?, circuit_a: circuit_a? })
}

fn load(doc: &PlanDoc, check: &mut Checked<'_>) -> LoadDraw {
    let Some(load) = &doc.load else {
        return LoadDraw::None;
    };
    let current = check.within("load/current_a", load.current_a, 0.0, 10_000.0);
    let power = check.within("load/power_w", load.power_w, 0.0, 1e6);
    match (load.current_a, load.power_w) {
        (Some(_), Some(_)) => {
            check.add("load", "the load is given twice", "current_a or power_w, not both");
            LoadDraw::None
        }
        (None, None) => {
            check.lacks("load", "how much the load draws is not said", "current_a or power_w");
            LoadDraw::None
        }
        _ => current
            .map(LoadDraw::CurrentA)
            .or(power.map(|watts| LoadDraw::PowerW { watts, floor_v: 0.1 }))
            .unwrap_or(LoadDraw::None),
    }
}

fn settings(doc: &PlanDoc, check: &mut Checked<'_>) -> SettingsDoc {
    let given = doc.settings.clone().unwrap_or_default();
    check.within("settings/voltage_v", given.voltage_v, 0.1, 1000.0);
    check.within("settings/current_a", given.current_a, 0.001, 10_000.0);
    check.within("settings/stop_current_a", given.stop_current_a, 0.0001, 10_000.0);
    check.within("settings/stop_voltage_v", given.stop_voltage_v, 0.1, 1000.0);
    check.within("settings/time_limit_h", given.time_limit_h, 0.01, 480.0);
    check.within("settings/input_limit_a", given.input_limit_a, 0.05, 1000.0);
    let kind = doc.charger.as_ref().and_then(|charger| charger.kind);
    if given.input_limit_a.is_some() && !matches!(kind, Some(ChargerKind::HobbyCharger | ChargerKind::SmartCharger)) {
        check.add(
            "settings/input_limit_a",
            "nothing here has an input limit to set",
            "a hobby_charger or smart_charger",
        );
    }
    given
}

/// Acceptances of both kinds; only codes that may be accepted at all.
fn acceptances(doc: &PlanDoc, check: &mut Checked<'_>) -> Vec<AcceptedDoc> {
    let once = doc
        .accept
        .iter()
        .flatten()
        .enumerate()
        .map(|(n, code)| (format!("accept/{n}"), AcceptedDoc { code: Some(*code), values: None, at: None }));
    let kept = doc.accepted.iter().flatten().enumerate().map(|(n, a)| (format!("accepted/{n}/code"), a.clone()));
    once.chain(kept)
        .filter(|(field, accepted)| {
            let fine = accepted.code.is_some_and(crate::codes::CheckCode::acceptable);
            if !fine {
                let code = accepted.code.map_or("nothing", crate::codes::CheckCode::code);
                let allowed: Vec<&str> = crate::codes::CheckCode::ALL
                    .iter()
                    .filter(|code| code.acceptable())
                    .map(|code| code.code())
                    .collect();
                check.add(field, format!("{code} cannot be accepted"), allowed.join(", "));
            }
            fine
        })
        .map(|(_, accepted)| accepted)
        .collect()
}
