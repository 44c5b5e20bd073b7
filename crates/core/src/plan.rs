//! A plan ready to be computed: its defaults filled in, its fields checked.

use crate::chain::LoadDraw;
use crate::document::{
    AcceptedDoc, Balancer, GoalDoc, GoalKind, LastUse, Overload, PLAN_FORMAT, PackDoc, PlanDoc, Practice, Problems,
    SettingsDoc, SourceDoc, SourceKind, StartDoc,
};
use crate::pack::{self, Pack};
use crate::problems::Checked;
use crate::source::{self, Source};
use crate::units::{in_amp_hours, in_ohms};

/// A question in domain terms.
#[derive(Clone, Debug)]
pub(crate) struct Plan {
    pub(crate) practice: Practice,
    pub(crate) pack: Pack,
    pub(crate) source: Option<Source>,
    pub(crate) load: LoadDraw,
    pub(crate) settings: SettingsDoc,
    pub(crate) price_per_kwh: Option<f64>,
    pub(crate) acceptances: Vec<AcceptedDoc>,
    /// Whether the start was a guess.
    pub(crate) start_assumed: bool,
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
    plan.start_assumed = assumed.iter().any(|pointer| pointer == "/pack/start");
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
    let mut pack = given.clone();
    fill_pack(&mut pack, 20.0, &mut Vec::new());
    let mut problems = Problems::default();
    pack::read(&pack, "", &mut problems);
    problems.into_result(())
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

fn fill_constants(doc: &mut PlanDoc, assumed: &mut Vec<String>) {
    fill(&mut doc.practice, Practice::Standard, "/practice", assumed);
    fill(&mut doc.ambient_c, 20.0, "/ambient_c", assumed);
    let ambient_c = doc.ambient_c.unwrap_or(20.0);
    if let Some(pack) = &mut doc.pack {
        fill_pack(pack, ambient_c, assumed);
    }
    if let Some(source) = &mut doc.source {
        fill_source(source, assumed);
    }
}

fn fill_pack(pack: &mut PackDoc, ambient_c: f64, assumed: &mut Vec<String>) {
    fill(&mut pack.packs_in_parallel, 1, "/pack/packs_in_parallel", assumed);
    fill(&mut pack.health, 1.0, "/pack/health", assumed);
    fill(&mut pack.temperature_c, ambient_c, "/pack/temperature_c", assumed);
    fill(&mut pack.balancer, Balancer::None, "/pack/balancer", assumed);
    let empty_start = StartDoc::default();
    if pack.start.as_ref() == Some(&empty_start) {
        pack.start = None;
    }
    let supercap = pack.chemistry == Some(crate::chemistry::Chemistry::Supercap);
    let start = StartDoc { soc: Some(if supercap { 0.0 } else { 0.2 }), ..StartDoc::default() };
    fill(&mut pack.start, start, "/pack/start", assumed);
    if let Some(start) = &mut pack.start
        && start.soc.is_none()
    {
        fill(&mut start.last, LastUse::Unknown, "/pack/start/last", assumed);
    }
    fill(&mut pack.goal, GoalDoc { kind: Some(GoalKind::Full), soc: None }, "/pack/goal", assumed);
}

fn fill_source(source: &mut SourceDoc, assumed: &mut Vec<String>) {
    let bench = source.kind == Some(SourceKind::BenchSupply);
    let overload = if bench { Overload::ConstantCurrent } else { Overload::Hiccup };
    fill(&mut source.overload, overload, "/source/overload", assumed);
    let headroom = if source.overload == Some(Overload::ConstantCurrent) { 1.0 } else { 0.9 };
    fill(&mut source.headroom, headroom, "/source/headroom", assumed);
    fill(&mut source.efficiency, 0.87, "/source/efficiency", assumed);
    fill(&mut source.units, 1, "/source/units", assumed);
    if bench {
        fill(&mut source.min_voltage_v, 0.0, "/source/min_voltage_v", assumed);
        fill(&mut source.voltage_step_v, 0.01, "/source/voltage_step_v", assumed);
    }
}

fn read(doc: &PlanDoc, problems: &mut Problems) -> Option<Plan> {
    if doc.format.as_deref() != Some(PLAN_FORMAT) {
        let said = doc.format.as_deref().unwrap_or("nothing");
        problems.add("/format", format!("the format says {said}"), PLAN_FORMAT);
    }
    not_yet(doc, problems);
    let mut check = Checked::new("", problems);
    check.within("ambient_c", doc.ambient_c, -60.0, 80.0);
    check.within("visit_every_min", doc.visit_every_min, 1.0, 10_080.0);
    let price_per_kwh = check.within("price_per_kwh", doc.price_per_kwh, 0.0, 1e4);
    let load = load(doc, &mut check);
    let settings = settings(doc, &mut check);
    if doc.pack.is_none() {
        check.add("pack", "there is no pack", "a pack: chemistry, series and capacity_ah at least");
    }
    if doc.source.is_none() && doc.load.is_none() {
        check.add("source", "nothing feeds the pack and nothing draws from it", "a source, a load or both");
    }
    let acceptances = acceptances(doc, &mut check);
    let pack = doc.pack.as_ref().and_then(|pack| pack::read(pack, "/pack", problems));
    let source = doc.source.as_ref().map(|source| source::read(source, "/source", problems));
    let source = match source {
        Some(None) => return None,
        Some(read) => read,
        None => None,
    };
    let pack = pack?;
    let half_v = 0.5 * pack.profile.nominal_v * f64::from(pack.series);
    Some(Plan {
        practice: doc.practice.unwrap_or(Practice::Standard),
        load: match load {
            // Below half the nominal voltage a converter has long let go.
            LoadDraw::PowerW { watts, .. } => LoadDraw::PowerW { watts, floor_v: half_v },
            other => other,
        },
        pack,
        source,
        settings,
        price_per_kwh,
        acceptances,
        start_assumed: false,
    })
}

/// Parts of the format that are not computed yet are refused, never silently ignored.
fn not_yet(doc: &PlanDoc, problems: &mut Problems) {
    let leads = doc.leads.clone().unwrap_or_default();
    let present = |value: &Option<serde_json::Value>| value.is_some();
    let filled = |list: &Option<Vec<serde_json::Value>>| list.as_ref().is_some_and(|l| !l.is_empty());
    for (pointer, given) in [
        ("/other_packs", filled(&doc.other_packs)),
        ("/charger", present(&doc.charger)),
        ("/leads/input", present(&leads.input)),
        ("/leads/output", present(&leads.output)),
        ("/cut_off", present(&doc.cut_off)),
        ("/meters", filled(&doc.meters)),
        ("/visit_every_min", doc.visit_every_min.is_some() && !holds_current(doc)),
        ("/mains", present(&doc.mains)),
        ("/settings/input_limit_a", doc.settings.as_ref().is_some_and(|s| s.input_limit_a.is_some())),
    ] {
        if given {
            problems.add(
                pointer,
                "this version computes a pack straight on its supply and would have to ignore this",
                "leave it out",
            );
        }
    }
}

/// Whether nobody has to come by and turn a knob.
fn holds_current(doc: &PlanDoc) -> bool {
    doc.source.as_ref().is_none_or(|source| source.overload.is_some_and(Overload::limits_current))
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
            check.add("load", "how much the load draws is not said", "current_a or power_w");
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
            let fine = accepted.code.is_some_and(crate::checks::CheckCode::acceptable);
            if !fine {
                let code = accepted.code.map_or("nothing", crate::checks::CheckCode::code);
                let allowed: Vec<&str> = crate::checks::CheckCode::ALL
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
