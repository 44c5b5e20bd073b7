//! From a chain's parts to what it does to the pack: who regulates, which limits there are, and
//! which of them hold by themselves.

use crate::codes::LimitCode;
use crate::formats::{Balancer, ChargerKind, Place, SourceKind, Topology};
use crate::parts::charger::{Charger, Works};
use crate::parts::lead::Lead;
use crate::parts::plan::Plan;
use crate::parts::source::Source;
use crate::physics::operating::{
    Balance, Feed, Folds, Inputs, Line, LoadDraw, Path, Places, Supply, Terminals, Thevenin, amps_into, each_limit,
};
use crate::units::floor_to;
use crate::units::{in_amps, in_volts, in_watts, volts};

/// What holds the current.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Control {
    /// The person dials it.
    Dial,
    /// The chain holds it; nothing to dial.
    Held,
    /// Nothing holds it; the person turns a voltage by hand.
    Hand,
    /// Nothing holds it; it follows from voltages and resistances.
    Free,
}

/// What is asked of a chain.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Asked {
    pub(crate) charge_v: f64,
    pub(crate) recommended_a: f64,
    /// Whether the pack's temperature made it less.
    pub(crate) by_temperature: bool,
    /// Whether cold, heat or a deep discharge made it less: then nothing is added for a load.
    pub(crate) gently: bool,
    /// The voltage a load is counted at.
    pub(crate) load_v: f64,
    /// The pack before anything flows.
    pub(crate) now: Thevenin,
}

/// A chain put together.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Built {
    pub(crate) feed: Feed,
    pub(crate) control: Control,
    pub(crate) places: Places,
    /// Watts where the regulating stage puts them out, by limit.
    pub(crate) powers: Vec<(LimitCode, f64)>,
    /// What is set, or what the chain reaches where nothing can be set, V.
    pub(crate) dial_v: f64,
    /// Where the voltage is set; `None` where it cannot be.
    pub(crate) voltage_at: Option<Place>,
    /// Where the current is set.
    pub(crate) current_at: Option<Place>,
    /// Lowest and highest that can be set, V.
    pub(crate) window_v: (f64, f64),
    pub(crate) step_v: f64,
    pub(crate) inrush_a: f64,
    /// Whether something in the chain holds the charge voltage.
    pub(crate) holds_voltage: bool,
    /// Whether a lamp, a resistor or a switch stands between that and the pack.
    pub(crate) limits: bool,
    /// Balancers of capacitors that carry only so much, where nothing can be turned down to it.
    pub(crate) unturned: Option<Balance>,
}

/// By so much more than after ten seconds flows out of a battery in the first moment.
pub(crate) const AT_FIRST: f64 = 1.15;
/// Of an efficiency that nobody said a converter has this share at least: data sheets of small ones give 0.82 to
/// 0.95 where 0.87 is taken.
const SURELY: f64 = 0.94;

/// Puts a chain together: the feed, every current limit (A in total at the pack), and whether a
/// foldback supply starts folded back.
pub(crate) fn build(plan: &Plan, source: &Source, asked: &Asked) -> (Built, Vec<(LimitCode, f64)>, bool) {
    let control = control(plan, source);
    let pwm = plan.charger.as_ref().is_some_and(|c| c.kind == ChargerKind::Pwm);
    if pwm && control == Control::Free {
        // A duty that from the first moment drives more than anything may have is turned up to by hand.
        let by_hand = assemble(plan, source, asked, Control::Hand);
        // A battery gives more at first than it does after ten seconds.
        let at_first = if source.battery.is_some() { AT_FIRST } else { 1.0 };
        let feed = &by_hand.0.feed;
        let too_much = at_first * by_hand.0.inrush_a > feed.current_a;
        // So is one that drives more than the balancers carry once they work.
        let past_balancers = feed.balance.zip(feed.drive).is_some_and(|(balance, drive)| {
            drive.volts - balance.from_v > balance.current_a * drive.ohm && asked.charge_v > balance.from_v
        });
        if too_much || past_balancers {
            return by_hand;
        }
    }
    assemble(plan, source, asked, control)
}

fn assemble(plan: &Plan, source: &Source, asked: &Asked, control: Control) -> (Built, Vec<(LimitCode, f64)>, bool) {
    let charger = plan.charger.as_ref();
    let regulator = regulator(plan, source, asked);
    let supply = Supply {
        open_v: regulator.source_v,
        ohm: source.sag_ohm,
        lead_ohm: plan.input.as_ref().map_or(0.0, |lead| lead.ohm),
    };
    let out_ohm = plan.output.as_ref().map_or(0.0, |lead| lead.ohm);
    let path = path(charger);
    let dial_at = if charger.is_some_and(|c| !c.kind.passive()) { Place::Charger } else { Place::Source };
    let places = Places { dial: dial_at, lead: thinner_lead(plan, path, supply, regulator.dial_v) };
    let inputs = inputs(plan, source, supply);
    // A module is set once and for all: what feeds it is counted at its lowest, its own loss as it may be.
    let module = charger.is_some_and(|c| !c.keeps_its_power());
    let counted = if module { Supply { open_v: source.lowest_v(supply.open_v), ..supply } } else { supply };
    let surely = |inputs: Inputs| match charger.filter(|c| module && c.efficiency_assumed) {
        Some(_) => Inputs { efficiency: inputs.efficiency * SURELY, ..inputs },
        None => inputs,
    };
    let powers = powers(plan, source, counted, inputs.map(surely), regulator.dial_v);
    let mut currents = currents(plan, source, asked, &regulator, control, path);

    // What does not keep to its watts by itself must be set for the worst moment, which is at the charge
    // voltage; a charger, or a supply that limits, turns itself down as the pack rises.
    let keeps = charger.map_or(source.limits_current(), Charger::keeps_its_power);
    if !keeps {
        currents.extend(powers.iter().map(|(code, w)| (*code, amps_into(*w, regulator.dial_v, out_ohm))));
    }
    // … and no converter gives more than its source can.
    let inputs = inputs.map(|inputs| if keeps { inputs } else { Inputs::none(inputs.efficiency) });
    let kept = if keeps { powers.as_slice() } else { &[] };
    let (power_code, power_w) = inputs.map_or_else(|| least_power(kept), |inputs| inputs.least(supply));
    let mut feed = Feed {
        current_a: f64::INFINITY,
        current_code: LimitCode::SourceCurrent,
        power_w,
        power_code,
        power_ohm: out_ohm + if path == Path::Direct { supply.lead_ohm } else { 0.0 },
        hold: hold(plan, source, charger, &regulator, supply, out_ohm),
        drive: drive(charger, &regulator, supply, out_ohm),
        lamps: charger.and_then(Charger::lamps),
        heat_w: charger.and_then(Charger::sheds_w),
        folds: None,
        balance: balance(plan),
        path,
        supply,
        out_ohm,
        diode_v: charger.map_or(0.0, |c| c.diode_v),
        inputs,
    };
    let inrush_a = inrush(&feed, plan, asked);
    let folded = fold_back(source, &mut feed, inrush_a, &mut currents);
    if let Some((code, a)) = held_at(&currents, control, source, charger.is_some()) {
        (feed.current_code, feed.current_a) = (code, a);
    }
    // Where nothing says how much may flow there is nothing to turn to.
    let control = if control == Control::Hand && feed.current_a.is_infinite() { Control::Free } else { control };
    // A dial has two decimals; rounding up would pass a limit.
    if matches!(control, Control::Dial | Control::Hand) && feed.current_a >= 0.02 {
        feed.current_a = floor_to(feed.current_a, 0.01);
    }
    // Only where a current can be turned down are the balancers spared.
    let turned = matches!(control, Control::Dial | Control::Hand);
    let unturned = feed.balance.filter(|_| !turned);
    feed.balance = feed.balance.filter(|_| turned);
    let built = Built {
        control,
        unturned,
        places,
        powers,
        dial_v: regulator.dial_v,
        voltage_at: regulator.dialled_at,
        current_at: (control == Control::Dial).then_some(dial_at),
        window_v: regulator.window_v,
        step_v: regulator.step_v,
        inrush_a,
        holds_voltage: regulator.holds,
        limits: charger.is_some_and(|c| !c.kind.regulates()),
        feed,
    };
    (built, currents, folded)
}

fn least_power(powers: &[(LimitCode, f64)]) -> (LimitCode, f64) {
    powers.iter().copied().min_by(|a, b| a.1.total_cmp(&b.1)).unwrap_or((LimitCode::SourcePower, f64::INFINITY))
}

/// What would flow at once if no dial and no rating limited it, A.
fn inrush(feed: &Feed, plan: &Plan, asked: &Asked) -> f64 {
    let mut least_a = f64::INFINITY;
    each_limit(&Terminals::new(asked.now, plan.load), feed, None, |code, a| {
        if code != LimitCode::Balance && code != feed.power_code && code != LimitCode::Thermal {
            least_a = least_a.min(a);
        }
    });
    least_a
}

/// The least current that something in the chain truly holds, and which; what is turned, by hand or by dial, holds
/// whatever it is turned to.
fn held_at(
    currents: &[(LimitCode, f64)],
    control: Control,
    source: &Source,
    charged: bool,
) -> Option<(LimitCode, f64)> {
    let by_source = |code: LimitCode| code == LimitCode::SourceCurrent && source.limits_current();
    let holds = |code: LimitCode| match control {
        Control::Dial | Control::Hand => true,
        Control::Held if charged => code == LimitCode::ChargerOutputCurrent || by_source(code),
        Control::Held | Control::Free => by_source(code),
    };
    currents.iter().copied().filter(|(code, _)| holds(*code)).min_by(|a, b| a.1.total_cmp(&b.1))
}

fn control(plan: &Plan, source: &Source) -> Control {
    let of_source = || {
        if source.dials_current() {
            Control::Dial
        } else if source.limits_current() {
            Control::Held
        } else if source.dials_voltage() {
            Control::Hand
        } else {
            Control::Free
        }
    };
    let Some(charger) = &plan.charger else {
        return of_source();
    };
    match charger.kind {
        _ if charger.dials_current() => Control::Dial,
        ChargerKind::SmartCharger | ChargerKind::LinearModule => Control::Held,
        ChargerKind::DcDc if charger.has_cv => Control::Hand,
        ChargerKind::Pwm if plan.visit_every_s.is_some() => Control::Hand,
        // A limiter holds the current of a supply whose voltage alone is set.
        ChargerKind::Lamp | ChargerKind::Resistor => match of_source() {
            Control::Hand => Control::Free,
            other => other,
        },
        _ => Control::Free,
    }
}

/// What sets the charge voltage.
struct Regulator {
    /// What it is set to, or reaches, V.
    dial_v: f64,
    /// What the source stands at with nothing drawn, V.
    source_v: f64,
    dialled_at: Option<Place>,
    window_v: (f64, f64),
    step_v: f64,
    /// Whether anything holds it at all.
    holds: bool,
    /// Whether it falls short of the wanted voltage, and whose fault that is.
    short: Option<LimitCode>,
}

fn regulator(plan: &Plan, source: &Source, asked: &Asked) -> Regulator {
    let charge_v = asked.charge_v;
    let (low, high) = (in_volts(source.min), in_volts(source.max));
    let step_v = in_volts(source.step);
    let short = |dial_v: f64, step_v: f64, code: LimitCode| {
        (dial_v < charge_v - f64::max(2.0 * step_v, 0.002 * charge_v)).then_some(code)
    };
    let by_source = || {
        let dial_v = if low >= high { high } else { floor_to(charge_v, step_v).clamp(low, high) };
        Regulator {
            dial_v,
            source_v: dial_v,
            dialled_at: source.dials_voltage().then_some(Place::Source),
            window_v: (low, high),
            step_v,
            holds: source.regulated(),
            short: short(dial_v, step_v, LimitCode::SourceVoltage),
        }
    };
    let Some(charger) = &plan.charger else {
        return by_source();
    };
    let source_v = feeding_volts(plan, source, charger, asked);
    match charger.works {
        Works::Lamp(_) | Works::Resistor { .. } => by_source(),
        Works::Pwm { .. } => Regulator {
            dial_v: source_v,
            source_v,
            dialled_at: None,
            window_v: (0.0, source_v),
            step_v: 0.01 * source_v,
            holds: false,
            short: short(source_v, 0.01, LimitCode::SourceVoltage),
        },
        Works::Switching { .. } | Works::Linear { .. } => {
            let window_v = (charger.output_min_v.unwrap_or(0.0), charger.output_max_v.unwrap_or(1000.0));
            let wanted = floor_to(charge_v, 0.01);
            let dial_v = match charger.kind {
                ChargerKind::LinearModule => window_v.1,
                // Where it holds no voltage, it goes as high as it can.
                _ if !charger.has_cv => charger.output_max_v.unwrap_or(source_v),
                _ => wanted.clamp(window_v.0, window_v.1),
            };
            Regulator {
                dial_v,
                source_v,
                dialled_at: charger.dials_voltage().then_some(Place::Charger),
                window_v,
                step_v: 0.01,
                holds: charger.has_cv,
                short: short(dial_v, 0.01, LimitCode::ChargerOutputVoltage),
            }
        }
    }
}

/// What the source before a charger stands at, V: a supply that can be set is set to what suits the
/// stage, as high as both allow where nothing speaks against it.
fn feeding_volts(plan: &Plan, source: &Source, charger: &Charger, asked: &Asked) -> f64 {
    /// Room for what the leads and a full stage lose, V.
    const ROOM_V: f64 = 1.0;
    let (low, high) = (in_volts(source.min), in_volts(source.max));
    if source.kind == SourceKind::Mains {
        // Only the lead to the wall would see it; the outlet's own voltage where it is said.
        return plan.mains.map_or(230.0, |mains| mains.voltage_v);
    }
    let allowed_v = charger.input_max_v.map_or(high, |most_v| high.min(most_v)).max(low);
    let suits_v = match charger.works {
        // It can only go up: below the pack as it rests.
        Works::Switching { topology: Topology::Boost, .. } => {
            (asked.load_v - ROOM_V).max(charger.input_min_v.unwrap_or(0.0))
        }
        // What it has too much it burns.
        Works::Linear { dropout_v, .. } => asked.charge_v + dropout_v + charger.diode_v + ROOM_V,
        _ => allowed_v,
    };
    if source.dials_voltage() { floor_to(suits_v.min(allowed_v), 0.1).max(low) } else { allowed_v }
}

fn path(charger: Option<&Charger>) -> Path {
    match charger.map(|c| c.works) {
        None => Path::Direct,
        Some(Works::Switching { efficiency, .. }) => Path::Switching { efficiency },
        Some(Works::Pwm { duty, .. }) => Path::Duty(duty),
        Some(Works::Linear { .. } | Works::Lamp(_) | Works::Resistor { .. }) => Path::Series,
    }
}

/// The charge voltage as it reaches the pack.
fn hold(
    plan: &Plan,
    source: &Source,
    charger: Option<&Charger>,
    regulator: &Regulator,
    supply: Supply,
    out_ohm: f64,
) -> Line {
    let code = regulator.short.unwrap_or(LimitCode::SetVoltage);
    let balance_lead = plan.pack.balancer == Balancer::BalanceLead;
    match charger {
        Some(c) if c.kind == ChargerKind::HobbyCharger && balance_lead => {
            Line { volts: regulator.dial_v, ohm: 0.0, code }
        }
        Some(c) if c.kind.regulates() => Line { volts: regulator.dial_v - c.diode_v, ohm: out_ohm, code },
        Some(c) => Line { volts: regulator.dial_v - c.diode_v, ohm: supply.ohm + supply.lead_ohm + out_ohm, code },
        None if source.remote_sense => Line { volts: regulator.dial_v, ohm: 0.0, code },
        None => {
            let code = if source.regulated() { code } else { LimitCode::SourceVoltage };
            Line { volts: regulator.dial_v, ohm: supply.ohm + supply.lead_ohm + out_ohm, code }
        }
    }
}

/// What the source's own voltage drives through everything in between.
fn drive(charger: Option<&Charger>, regulator: &Regulator, supply: Supply, out_ohm: f64) -> Option<Line> {
    let charger = charger?;
    let in_ohm = supply.ohm + supply.lead_ohm;
    let line = |volts: f64, ohm: f64, code: LimitCode| Some(Line { volts: volts - charger.diode_v, ohm, code });
    match charger.works {
        Works::Switching { topology: Topology::Buck | Topology::Linear, dropout_v, .. }
        | Works::Linear { dropout_v, .. } => {
            line(supply.open_v - dropout_v, in_ohm + out_ohm, LimitCode::ChargerInputVoltage)
        }
        Works::Switching { .. } => None,
        Works::Pwm { duty, path_ohm } => {
            line(duty * supply.open_v, path_ohm + out_ohm + duty * duty * in_ohm, LimitCode::Limiter)
        }
        Works::Lamp(_) => line(regulator.dial_v, in_ohm + out_ohm, LimitCode::Limiter),
        Works::Resistor { ohm, .. } => line(regulator.dial_v, ohm + in_ohm + out_ohm, LimitCode::Limiter),
    }
}

/// From which voltage a capacitor pack's balancers must carry the current.
fn balance(plan: &Plan) -> Option<Balance> {
    let pack = &plan.pack;
    let current_a = pack.balance_current.map(in_amps)?;
    pack.profile.traits.farads.then(|| {
        let threshold_v = pack.balance_start_v.unwrap_or(pack.profile.full_v).min(pack.profile.full_v);
        Balance { from_v: threshold_v * f64::from(pack.series) * (1.0 - pack.smaller), current_a }
    })
}

/// What binds the power of a converter; `None` where the chain has none.
fn inputs(plan: &Plan, source: &Source, supply: Supply) -> Option<Inputs> {
    let charger = plan.charger.as_ref()?;
    let Works::Switching { efficiency, .. } = charger.works else {
        return None;
    };
    let or_none = |value: Option<f64>| value.unwrap_or(f64::INFINITY);
    let mains = source.kind == SourceKind::Mains;
    let output_w = or_none(charger.output_w(mains));
    if mains {
        return Some(Inputs { output_w, ..Inputs::none(efficiency) });
    }
    let set = volts(supply.open_v);
    let source_a = or_none(source.current_at(set).map(in_amps));
    let source_w = or_none(source.power_at(set).map(in_watts));
    let lead_a = or_none(plan.input.as_ref().map(Lead::most_a));
    let own = Inputs {
        efficiency,
        output_w,
        input_w: or_none(charger.input_max_w),
        input_a: or_none(charger.input_max_a).min(or_none(plan.settings.input_limit_a)),
        input_min_v: charger.input_min_v.unwrap_or(0.0),
        source_a,
        source_w,
        source_w_as_a: f64::INFINITY,
        lead_a,
    };
    Some(match (charger.kind, input_limit(plan, source)) {
        // The input limit is set in steps; what it is set for holds as it is set.
        (_, Some(_)) => Inputs {
            source_a: floor_to(if source.limits_current() { BELOW * source_a } else { source_a }, INPUT_STEP_A),
            source_w: f64::INFINITY,
            source_w_as_a: floor_to(source_w / highest_input_v(charger, source), INPUT_STEP_A),
            lead_a: floor_to(lead_a, INPUT_STEP_A),
            ..own
        },
        // Nothing can be set: only a source that limits holds it back, a wire never does.
        (ChargerKind::HobbyCharger | ChargerKind::SmartCharger, None) => {
            let of_source = |value: f64| if source.limits_current() { value } else { f64::INFINITY };
            Inputs { source_a: of_source(source_a), source_w: of_source(source_w), lead_a: f64::INFINITY, ..own }
        }
        // A module has no such limit either: the current it puts out is set for all of these.
        _ => own,
    })
}

/// Watts that bind, counted where the regulating stage puts them out.
fn powers(plan: &Plan, source: &Source, supply: Supply, inputs: Option<Inputs>, dial_v: f64) -> Vec<(LimitCode, f64)> {
    match inputs {
        Some(inputs) => inputs.each(supply).into_iter().filter(|(_, w)| w.is_finite()).collect(),
        None if plan.charger.is_none() => {
            source.power_at(volts(dial_v)).map(|w| (LimitCode::SourcePower, in_watts(w))).into_iter().collect()
        }
        None => Vec::new(),
    }
}

/// Every limit on the current, A in total at the pack.
fn currents(
    plan: &Plan,
    source: &Source,
    asked: &Asked,
    regulator: &Regulator,
    control: Control,
    path: Path,
) -> Vec<(LimitCode, f64)> {
    let pack = &plan.pack;
    let hard_a = pack.hard_limit().map_or(f64::INFINITY, in_amps);
    let chosen = plan.settings.current_a;
    let dialled = matches!(control, Control::Dial | Control::Hand);
    let load_a = match plan.load {
        LoadDraw::None => 0.0,
        load => load.current_a(if dialled { regulator.dial_v.min(asked.charge_v) } else { asked.load_v }),
    };
    // What the load takes may be added, but if it is switched off the pack gets it all: never beyond what
    // the pack may take, nor where its state makes that less.
    let bears_a = if asked.gently { 0.0 } else { hard_a };
    let with_load = |a: f64| (a + load_a).min(bears_a.max(a));
    let accepted = plan.acceptances.iter().any(|a| a.code == Some(crate::codes::CheckCode::PackRateTooHigh));
    let rating_a = match chosen {
        Some(set_a) if accepted => hard_a.max(set_a),
        Some(_) => hard_a,
        None if dialled => with_load(asked.recommended_a),
        None => hard_a,
    };
    let rating_code = if asked.by_temperature && chosen.is_none() && dialled {
        LimitCode::Temperature
    } else {
        LimitCode::PackRating
    };
    // What flows in the source for each ampere at the pack, where that does not vary.
    let per_amp = match path {
        Path::Direct | Path::Series => Some(1.0),
        Path::Duty(duty) => Some(duty),
        Path::Switching { .. } => None,
    };
    let through = |a: f64| per_amp.map(|share| a / share);
    let set = volts(regulator.source_v);
    let charger = plan.charger.as_ref();
    let source_w = source.power_at(set).map(in_watts).filter(|_| path != Path::Direct);
    [
        (rating_code, Some(rating_a)),
        (LimitCode::Bms, pack.bms_max.map(in_amps)),
        (LimitCode::SetCurrent, chosen.filter(|_| dialled)),
        (
            LimitCode::Lead,
            least(lead_amps(plan, per_amp), input_lead_amps(plan, source, regulator.source_v, asked.charge_v)),
        ),
        (LimitCode::ChargerOutputCurrent, charger.and_then(|c| c.output_max_a)),
        (LimitCode::ChargerInputCurrent, charger.and_then(|c| c.input_max_a).and_then(through)),
        (LimitCode::SourceCurrent, source.current_at(set).map(in_amps).and_then(through)),
        (LimitCode::SourcePower, source_w.and_then(|w| through(w / regulator.source_v.max(0.1)))),
    ]
    .into_iter()
    .filter_map(|(code, a)| a.filter(|a| a.is_finite()).map(|a| (code, a)))
    .collect()
}

fn least(a: Option<f64>, b: Option<f64>) -> Option<f64> {
    [a, b].into_iter().flatten().min_by(f64::total_cmp)
}

/// What the lead before a charger with a menu carries, A at the pack when it is full: the charger's own input limit,
/// which nobody has asked about, is no guard of a thin wire or a small clip.
fn input_lead_amps(plan: &Plan, source: &Source, source_v: f64, charge_v: f64) -> Option<f64> {
    let charger = plan.charger.as_ref().filter(|c| c.kind == ChargerKind::HobbyCharger)?;
    let Works::Switching { efficiency, .. } = charger.works else { return None };
    let lead =
        plan.input.as_ref().filter(|_| source.kind != SourceKind::Mains && plan.settings.input_limit_a.is_none())?;
    Some(lead.most_a() * source.lowest_v(source_v) * efficiency / charge_v.max(0.1))
}

/// What the leads carry, A at the pack, where their current is the pack's or a fixed share of it.
fn lead_amps(plan: &Plan, per_amp: Option<f64>) -> Option<f64> {
    let output = plan.output.as_ref().map(|lead| lead.most_a());
    let input = plan.input.as_ref().zip(per_amp).map(|(lead, share)| lead.most_a() / share);
    [output, input].into_iter().flatten().min_by(f64::total_cmp)
}

/// The lead that carries less of what the pack could get at the charge voltage.
fn thinner_lead(plan: &Plan, path: Path, supply: Supply, dial_v: f64) -> Place {
    let at_pack = |lead: &Lead| match path {
        Path::Direct | Path::Series => lead.most_a(),
        Path::Duty(duty) => lead.most_a() / duty,
        Path::Switching { efficiency } => efficiency * supply.power_at_current(lead.most_a()) / dial_v.max(0.1),
    };
    match (&plan.input, &plan.output) {
        (Some(input), Some(output)) if at_pack(input) < output.most_a() => Place::InputLead,
        (Some(_), None) => Place::InputLead,
        _ => Place::OutputLead,
    }
}

/// A foldback supply that a flat pack overloads gives less the lower its terminals stand.
fn fold_back(source: &Source, feed: &mut Feed, inrush_a: f64, currents: &mut Vec<(LimitCode, f64)>) -> bool {
    let open_v = feed.supply.open_v;
    if feed.heat_w.is_some() {
        // A board holds its own current.
        return false;
    }
    let rated = source.current_at(volts(open_v)).map(in_amps);
    let Some(rated_a) = rated.filter(|a| matches!(feed.path, Path::Direct | Path::Series) && inrush_a > *a) else {
        return false;
    };
    let Some(folded_a) = source.folded_back().map(in_amps) else {
        return false;
    };
    currents.retain(|(code, _)| *code != LimitCode::SourceCurrent);
    currents.push((LimitCode::SourceCurrent, rated_a));
    feed.folds = Some(Folds { shorted_a: folded_a, per_v: (rated_a - folded_a).max(0.0) / open_v });
    true
}

/// The step in which a charger's input limit is set, A.
const INPUT_STEP_A: f64 = 0.1;

/// Of what a supply holds by itself a charger is told to draw this share.
const BELOW: f64 = 0.98;

/// A charger's own input limit as it is to be set, and what it is set for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct InputLimit {
    pub(crate) current_a: f64,
    pub(crate) code: LimitCode,
}

/// The highest a charger's input may be fed with, V.
fn highest_input_v(charger: &Charger, source: &Source) -> f64 {
    let most_v = in_volts(source.max);
    charger.input_max_v.map_or(most_v, |v| v.min(most_v)).max(0.1)
}

/// What a charger's own input limit is to be set to, so that source, lead and fuse before it are held
/// to what they bear; `None` where it has none to set or nothing is known that it would guard.
pub(crate) fn input_limit(plan: &Plan, source: &Source) -> Option<InputLimit> {
    let charger = plan.charger.as_ref()?;
    // A smart charger has one only where somebody says so.
    let has_one = match charger.kind {
        ChargerKind::HobbyCharger => true,
        ChargerKind::SmartCharger => plan.settings.input_limit_a.is_some(),
        _ => false,
    };
    if !has_one || source.kind == SourceKind::Mains {
        return None;
    }
    let set_v = highest_input_v(charger, source);
    // A supply that holds its current must not be brought to do so: its volts would sink under the charger.
    let below = if source.limits_current() { BELOW } else { 1.0 };
    [
        (LimitCode::SourceCurrent, source.current_at(volts(set_v)).map(|a| below * in_amps(a))),
        (LimitCode::SourcePower, source.power_at(volts(set_v)).map(|w| in_watts(w) / set_v)),
        (LimitCode::Lead, plan.input.as_ref().map(Lead::most_a)),
        (LimitCode::ChargerInputCurrent, charger.input_max_a),
        (LimitCode::SetCurrent, plan.settings.input_limit_a),
    ]
    .into_iter()
    .filter_map(|(code, a)| Some(InputLimit { current_a: floor_to(a?, INPUT_STEP_A), code }))
    .min_by(|a, b| a.current_a.total_cmp(&b.current_a))
    .filter(|limit| limit.current_a > 0.0)
}
