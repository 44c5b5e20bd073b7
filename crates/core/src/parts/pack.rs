//! The pack as the chain sees it: every identical pack in parallel taken together.

use std::borrow::Cow;

use crate::formats::moment::unix_s;
use crate::formats::{Balancer, GoalKind, LastUse, PackDoc, PackMark, Problems, StartDoc};
use crate::parts::problems::Checked;
use crate::physics::cell::{Chemistry, CustomCell, Profile, custom_profile, profile};
use crate::physics::charge::{Body, Shunted};
use crate::units::{
    CRate, ElectricCharge, ElectricCurrent, ElectricPotential, ElectricalResistance, ThermodynamicTemperature,
    amp_hours, amps, celsius, in_amp_hours, in_celsius, in_ohms, ohms, trimmed, volts,
};

/// A pack ready to be computed with. Currents and capacity are totals over parallel packs.
#[derive(Clone, Debug)]
pub(crate) struct Pack {
    pub(crate) name: Option<String>,
    pub(crate) profile: Cow<'static, Profile>,
    pub(crate) series: u32,
    pub(crate) parallel: u32,
    /// Nameplate; C-rates refer to it.
    pub(crate) nameplate: ElectricCharge,
    /// What is usable of it.
    pub(crate) capacity: ElectricCharge,
    /// 10 s DC resistance of the whole pack at mid charge and its temperature.
    pub(crate) resistance: ElectricalResistance,
    pub(crate) resistance_given: bool,
    pub(crate) rated: Option<ElectricCurrent>,
    /// What its data sheet allows at its temperature.
    pub(crate) sheet: Option<ElectricCurrent>,
    /// What the label says it may give.
    pub(crate) gives: Option<ElectricCurrent>,
    /// Whether a board stands between its cells and its terminals.
    pub(crate) bms: bool,
    pub(crate) bms_max: Option<ElectricCurrent>,
    pub(crate) balanced: bool,
    pub(crate) balancer: Balancer,
    pub(crate) balance_current: Option<ElectricCurrent>,
    pub(crate) temperature: ThermodynamicTemperature,
    pub(crate) label_cycle: Option<[ElectricPotential; 2]>,
    pub(crate) label_standby: Option<[ElectricPotential; 2]>,
    pub(crate) start: Start,
    pub(crate) goal: Goal,
    pub(crate) mark: Option<PackMark>,
    /// Where capacitors differ: how much smaller the smallest may be than the mean, 0…1.
    pub(crate) smaller: f64,
    /// Where a built-in or external balancer starts, V a cell.
    pub(crate) balance_start_v: Option<f64>,
    /// Where unlike packs share the current: the share of the summed rates that the worst of them allows, 0…1.
    pub(crate) uneven: f64,
    /// What one pack holds by the Wh on its label, where that contradicts its Ah.
    pub(crate) contradicted: Option<ElectricCharge>,
}

/// What is known of where the pack starts.
#[derive(Clone, Debug, PartialEq)]
pub(crate) enum Start {
    Soc(f64),
    Rest {
        volts: ElectricPotential,
        rest: Rest,
    },
    /// Readings of one cell each, or of blocks of `cells` in series.
    Positions {
        volts: Vec<ElectricPotential>,
        cells: u32,
        rest: Rest,
    },
}

/// How a rest voltage came about.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Rest {
    pub(crate) minutes: Option<f64>,
    pub(crate) last: LastUse,
}

/// What the charge is for.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Goal {
    Full,
    Soc(f64),
    Storage,
    Float,
}

impl Pack {
    /// The nameplate rate a total current means.
    pub(crate) fn rate(&self, current: ElectricCurrent) -> CRate {
        CRate::of(current, self.nameplate)
    }

    /// What the label says it is charged with, as far as that can be: of lithium a number above what
    /// anybody charges with says what the pack may give, wherever it was written.
    pub(crate) fn rated_believed(&self) -> Option<ElectricCurrent> {
        let last_word = CRate(self.profile.rates.last_word).current(self.nameplate);
        let capped = self.profile.traits.label_boasts;
        self.rated.map(|rated| if capped && rated > last_word { last_word } else { rated })
    }

    /// The current above which Rumek refuses: the label's, else the chemistry's refusal column.
    /// `None` where the chemistry is charged by amps and no label speaks.
    pub(crate) fn hard_limit(&self) -> Option<ElectricCurrent> {
        let rates = self.profile.rates;
        let of_rate = |rate: f64| rate.is_finite().then(|| CRate(rate).current(self.nameplate));
        match (self.mark, self.rated_believed()) {
            // What Rescue has brought back carries its mark, whatever its label says.
            (Some(PackMark::Recovered), label) => {
                let half = of_rate(rates.standard / 2.0);
                label.into_iter().chain(half).reduce(|a, b| if b < a { b } else { a })
            }
            (_, Some(label)) => Some(label),
            (_, None) => of_rate(rates.refuse_above),
        }
    }

    /// The most that nobody is surprised at: the label's, else what its makers usually allow, A.
    pub(crate) fn usual_limit(&self) -> ElectricCurrent {
        let rates = self.profile.rates;
        // Of lithium the usual maker's rule is 1C unless the label says more.
        let usual = if self.profile.traits.label_boasts { rates.standard.max(1.0) } else { rates.hurry };
        self.rated_believed().unwrap_or(CRate(usual).current(self.nameplate))
    }

    /// What its resistance may be at the least and the most, as a share of what it is taken for.
    pub(crate) fn resistance_spread(&self) -> (f64, f64) {
        if self.resistance_given { (0.85, 1.2) } else { (0.6, 1.6) }
    }

    /// The pack in plain numbers.
    pub(crate) fn body(&self) -> Body<'_> {
        Body {
            profile: &self.profile,
            series: f64::from(self.series),
            capacity_as: in_amp_hours(self.capacity) * 3600.0,
            ohm: in_ohms(self.resistance),
            temperature_c: in_celsius(self.temperature),
            shunted: self.shunted(),
        }
    }

    /// Capacitors whose balancers shunt what no longer goes into the smaller ones.
    fn shunted(&self) -> Option<Shunted> {
        let begins = self.balance_start_v.unwrap_or(self.profile.full_v).min(self.profile.full_v) / self.profile.full_v;
        let shunts = self.profile.traits.farads && self.balance_current.is_some() && self.smaller > 0.0;
        shunts.then_some(Shunted { from_soc: begins * (1.0 - self.smaller), smaller: self.smaller })
    }

    /// What it gives into a short at its terminals, A.
    pub(crate) fn short_circuit_a(&self, rest_v: f64) -> f64 {
        rest_v / in_ohms(self.resistance).max(1e-5)
    }

    /// The most it is charged with because of the cold, A: its data sheet's word, else what is usual;
    /// `None` where it is warm enough.
    pub(crate) fn cold_limit(&self) -> Option<ElectricCurrent> {
        let rate = self.profile.warmth.cold_rate(in_celsius(self.temperature))?;
        Some(self.sheet.unwrap_or(CRate(rate).current(self.nameplate)))
    }

    /// Whether it is so warm that it is charged half as fast.
    pub(crate) fn hot(&self) -> bool {
        self.sheet.is_none() && in_celsius(self.temperature) >= self.profile.warmth.hot_from_c
    }

    /// A short description, such as `6S · 4 Ah LiPo`.
    pub(crate) fn rating(&self) -> String {
        let parallel = if self.parallel > 1 { format!(" × {}", self.parallel) } else { String::new() };
        let each = in_amp_hours(self.nameplate) / f64::from(self.parallel);
        format!(
            "{}S · {} Ah {}{parallel}",
            self.series,
            crate::units::trimmed(each, if each < 1.0 { 3 } else { 2 }),
            self.profile.name
        )
    }
}

/// The series counts a label's voltage may mean for a chemistry, likeliest first.
///
/// A label gives the nominal or the full reading, rounded; a reading within 5 % of either
/// counts. One that fits within 1.5 % and is alone within 3 % decides.
#[must_use]
pub(crate) fn series_candidates(chemistry: Chemistry, label: ElectricPotential) -> Vec<u32> {
    let Some(profile) = profile(chemistry) else {
        return Vec::new();
    };
    let label_v = crate::units::in_volts(label);
    let mut found: Vec<(u32, f64)> = (1..=200)
        .filter_map(|s| {
            let miss = profile
                .label_readings_v
                .iter()
                .map(|reading| (label_v / f64::from(s) / reading - 1.0).abs())
                .fold(f64::INFINITY, f64::min);
            (miss <= 0.05).then_some((s, miss))
        })
        .collect();
    found.sort_by(|a, b| a.1.total_cmp(&b.1));
    // An exact multiple of the nominal voltage is that, where it is none of another reading.
    let exactly = |reading: f64| {
        let cells = (label_v / reading).round();
        (cells >= 1.0 && (label_v - cells * reading).abs() < 1e-6 * label_v).then_some(cells as u32)
    };
    let exact: Vec<u32> = profile.label_readings_v.iter().filter_map(|reading| exactly(*reading)).collect();
    if let (Some(cells), [only]) = (exactly(profile.nominal_v), exact.as_slice())
        && cells == *only
    {
        return vec![cells];
    }
    match found.as_slice() {
        [first, rest @ ..] if first.1 <= 0.015 && rest.iter().all(|(_, miss)| *miss > 0.03) => {
            vec![first.0]
        }
        _ => found.into_iter().map(|(s, _)| s).take(5).collect(),
    }
}

/// Reads the pack out of its (resolved) document.
pub(crate) fn read(doc: &PackDoc, at: &str, problems: &mut Problems) -> Option<Pack> {
    let mut check = Checked::new(at, problems);
    let chemistry = check.required("chemistry", doc.chemistry, "a chemistry code, such as lipo");
    let profile = chemistry.and_then(|code| chemistry_figures(doc, code, &mut check));
    let series = series(doc, chemistry, &mut check);
    let parallel = check.whole("packs_in_parallel", doc.packs_in_parallel, 1, 50).unwrap_or(1);
    let health = check.within("health", doc.health, 0.05, 1.2).unwrap_or(1.0);
    let one = match (&profile, series) {
        (Some(profile), Some(series)) => capacity(doc, profile, series, &mut check),
        _ => None,
    };
    if doc.rated_c_rate.is_some() && doc.rated_charge_a.is_some() {
        check.add("rated_charge_a", "the label's rate is given twice", "rated_c_rate or rated_charge_a, not both");
    }
    let rated_c = check.within("rated_c_rate", doc.rated_c_rate, 0.001, 300.0);
    let sheet_a = check.within("sheet_charge_a", doc.sheet_charge_a, 0.001, 10_000.0);
    let gives_c = check.within("discharge_c_rate", doc.discharge_c_rate, 0.01, 1000.0);
    let rated_a = check.within("rated_charge_a", doc.rated_charge_a, 0.001, 10_000.0);
    let resistance_mohm = check.within("resistance_mohm", doc.resistance_mohm, 0.001, 1e6);
    check.within("kept_at_c", doc.kept_at_c, -40.0, 60.0);
    if doc.next_use.as_deref().is_some_and(|at| unix_s(at).is_none()) {
        check.add("next_use", "this is no time", "RFC 3339, such as 2026-12-01T09:00:00Z");
    }
    let temperature_c = check.within("temperature_c", doc.temperature_c, -60.0, 100.0).unwrap_or(20.0);
    let balance_current = check.within("balance_current_a", doc.balance_current_a, 0.001, 100.0);
    let balance_start_v = check.within("balance_start_v", doc.balance_start_v, 0.5, 5.0);
    let spread = check.within("capacitance_spread", doc.capacitance_spread, 0.0, 0.9);
    let bms_max = doc.bms.as_ref().and_then(|bms| check.within("bms/max_charge_a", bms.max_charge_a, 0.001, 10_000.0));
    let start = start(doc.start.as_ref(), series, &mut check);
    let goal = goal(doc, &mut check);
    let label = doc.label_voltage_v.as_ref();
    let label_cycle = label_range(label.and_then(|l| l.cycle), "label_voltage_v/cycle", series, &profile, &mut check);
    let label_standby =
        label_range(label.and_then(|l| l.standby), "label_voltage_v/standby", series, &profile, &mut check);

    let (mut profile, series, one_ah, start, goal) = (profile?, series?, one?, start?, goal?);
    if profile.chemistry == Chemistry::Supercap
        && let Some(label_v) = doc.label_v
    {
        let full_v = label_v / f64::from(series);
        let own = profile.to_mut();
        own.proof.to_v *= full_v / own.full_v;
        own.ocv = own.ocv.stretched(0.0, full_v);
        (own.nominal_v, own.full_v, own.ceiling_v) = (full_v, full_v, full_v);
    }
    let n = f64::from(parallel);
    let default_ohm = profile.resistance_ohm_ah / (one_ah * health.min(1.0)) * f64::from(series);
    // A default is a figure at 25 °C; a measurement is taken to be from the bench (15…30 °C).
    let (each_ohm, reference_c) = match resistance_mohm {
        Some(mohm) => (mohm / 1e3, temperature_c.clamp(15.0, 30.0)),
        None => (default_ohm, 25.0),
    };
    let warmth = profile.warmed(reference_c, temperature_c);
    let balancer = doc.balancer.unwrap_or(Balancer::None);
    Some(Pack {
        name: doc.name.clone(),
        series,
        parallel,
        nameplate: amp_hours(one_ah * n),
        capacity: amp_hours(one_ah * health * n),
        resistance: ohms(each_ohm * warmth / n),
        resistance_given: resistance_mohm.is_some(),
        rated: rated_a.or(rated_c.map(|c| c * one_ah)).map(|a| amps(a * n)),
        sheet: sheet_a.map(|a| amps(a * n)),
        gives: gives_c.map(|c| amps(c * one_ah * n)),
        bms: doc.bms.is_some(),
        bms_max: bms_max.map(|a| amps(a * n)),
        balanced: doc.bms.as_ref().and_then(|b| b.balances).unwrap_or(false)
            || matches!(balancer, Balancer::External | Balancer::BuiltIn),
        balancer,
        balance_current: balance_current.map(amps),
        temperature: celsius(temperature_c),
        label_cycle,
        label_standby,
        start,
        goal,
        mark: doc.mark,
        smaller: spread.unwrap_or(0.0) / 2.0,
        balance_start_v,
        uneven: 1.0,
        contradicted: contradicted(doc, &profile, series).map(amp_hours),
        profile,
    })
}

fn chemistry_figures(doc: &PackDoc, code: Chemistry, check: &mut Checked<'_>) -> Option<Cow<'static, Profile>> {
    if code != Chemistry::Custom {
        if doc.cell.is_some() {
            check.add("cell", "a known chemistry brings its own figures", "cell only with chemistry custom");
        }
        return profile(code).map(Cow::Borrowed);
    }
    let cell = check.required("cell", doc.cell.as_ref(), "the cell's empty_v, nominal_v and full_v")?;
    for (name, value) in
        [("cell/empty_v", cell.empty_v), ("cell/nominal_v", cell.nominal_v), ("cell/full_v", cell.full_v)]
    {
        check.within(name, value, 0.1, 10.0);
        check.required(name, value, "0.1 to 10 V");
    }
    check.within("cell/max_c_rate", cell.max_c_rate, 0.001, 50.0);
    check.within("cell/storage_v", cell.storage_v, 0.1, 10.0);
    check.within("cell/precharge_below_v", cell.precharge_below_v, 0.0, 10.0);
    check.within("cell/rescue_floor_v", cell.rescue_floor_v, 0.0, 10.0);
    check.within("cell/charge_min_c", cell.charge_min_c, -60.0, 100.0);
    check.within("cell/charge_max_c", cell.charge_max_c, -60.0, 100.0);
    let figures = custom_profile(CustomCell {
        nominal_v: cell.nominal_v,
        full_v: cell.full_v,
        empty_v: cell.empty_v,
        storage_v: cell.storage_v,
        precharge_below_v: cell.precharge_below_v,
        rescue_floor_v: cell.rescue_floor_v,
        max_c_rate: cell.max_c_rate,
        charge_min_c: cell.charge_min_c,
        charge_max_c: cell.charge_max_c,
    });
    if figures.is_none() {
        check.add("cell", "the cell's voltages do not rise", "empty_v below nominal_v below full_v");
    }
    figures.map(Cow::Owned)
}

fn series(doc: &PackDoc, chemistry: Option<Chemistry>, check: &mut Checked<'_>) -> Option<u32> {
    let label_v = check.within("label_v", doc.label_v, 0.5, 1000.0);
    if doc.series.is_some() {
        return check.whole("series", doc.series, 1, 200);
    }
    let (Some(label_v), Some(chemistry)) = (label_v, chemistry) else {
        if doc.label_v.is_none() {
            check.lacks("series", "how many cells are in series is not said", "1 to 200, or label_v");
        }
        return None;
    };
    match series_candidates(chemistry, volts(label_v)).as_slice() {
        [one] => Some(*one),
        [] => {
            check.add(
                "label_v",
                format!("{label_v} V fits no whole number of {} cells", chemistry.code()),
                "series, or the label's nominal or full voltage",
            );
            None
        }
        several => {
            let list = several.iter().map(|s| format!("{s}S")).collect::<Vec<_>>().join(", ");
            check.lacks("series", format!("{label_v} V on a {} label may mean {list}", chemistry.code()), list.clone());
            None
        }
    }
}

/// Ah of one pack, from its capacity, energy or capacitance.
fn capacity(doc: &PackDoc, profile: &Profile, series: u32, check: &mut Checked<'_>) -> Option<f64> {
    let ah = check.within("capacity_ah", doc.capacity_ah, 0.005, 10_000.0);
    let wh = check.within("energy_wh", doc.energy_wh, 0.01, 100_000.0);
    let farads = check.within("capacitance_f", doc.capacitance_f, 0.01, 1e6);
    if profile.chemistry == Chemistry::Supercap {
        for (name, given) in [("capacity_ah", ah), ("energy_wh", wh)] {
            if given.is_some() {
                check.add(name, "a supercapacitor is known by its capacitance", "capacitance_f instead");
            }
        }
        let full_v = doc.label_v.map_or(profile.full_v, |label| label / f64::from(series));
        return check.required("capacitance_f", farads, "farads of one series position").map(|f| f * full_v / 3600.0);
    }
    if farads.is_some() {
        check.add("capacitance_f", "only a supercapacitor has one", "capacity_ah or energy_wh");
    }
    if doc.capacity_ah.is_none() && doc.energy_wh.is_none() {
        check.lacks("capacity_ah", "how much the pack holds is not said", "0.005 to 10000 Ah, or energy_wh");
    }
    ah.or_else(|| wh.map(|wh| wh / (profile.nominal_v * f64::from(series))))
}

/// The capacity that the label's Wh mean, where it says both and they are apart by more than a tenth, Ah.
fn contradicted(doc: &PackDoc, profile: &Profile, series: u32) -> Option<f64> {
    const APART: f64 = 0.10;
    let meant_ah = doc.energy_wh? / (profile.nominal_v * f64::from(series));
    ((doc.capacity_ah? / meant_ah - 1.0).abs() > APART).then_some(meant_ah)
}

fn start(doc: Option<&StartDoc>, series: Option<u32>, check: &mut Checked<'_>) -> Option<Start> {
    let Some(doc) = doc else {
        return Some(Start::Soc(0.2));
    };
    let given: Vec<&str> = [
        ("soc", doc.soc.is_some()),
        ("rest_voltage_v", doc.rest_voltage_v.is_some()),
        ("cell_voltages_v", doc.cell_voltages_v.is_some()),
        ("block_voltages_v", doc.block_voltages_v.is_some()),
    ]
    .into_iter()
    .filter_map(|(name, given)| given.then_some(name))
    .collect();
    if given.len() > 1 {
        check.add("start", format!("the start is given {} times", given.len()), format!("one of {}", given.join(", ")));
        return None;
    }
    let minutes = check.within("start/rested_min", doc.rested_min, 0.0, 1e7);
    let rest = Rest { minutes, last: doc.last.unwrap_or(LastUse::Unknown) };
    let cells = check.whole("start/cells_per_block", doc.cells_per_block, 1, 100);
    if let Some(volts_given) = doc.rest_voltage_v {
        if volts_given < -0.5 {
            let said =
                format!("{} V is less than nothing: pack or meter is the wrong way round", trimmed(volts_given, 2));
            check.add("start/rest_voltage_v", said, "read it again with the red probe on plus");
            return None;
        }
        let v = check.within("start/rest_voltage_v", Some(volts_given), -0.5, 1000.0)?;
        return Some(Start::Rest { volts: volts(v), rest });
    }
    if let Some(cell_v) = &doc.cell_voltages_v {
        return positions(cell_v, 1, "start/cell_voltages_v", series, rest, check);
    }
    if let Some(block_v) = &doc.block_voltages_v {
        let cells = check.required("start/cells_per_block", cells, "how many cells each reading spans")?;
        return positions(block_v, cells, "start/block_voltages_v", series, rest, check);
    }
    check.within("start/soc", doc.soc, 0.0, 1.0);
    Some(Start::Soc(doc.soc.unwrap_or(0.2)))
}

fn positions(
    given: &[f64],
    cells: u32,
    name: &str,
    series: Option<u32>,
    rest: Rest,
    check: &mut Checked<'_>,
) -> Option<Start> {
    let series = series?;
    if given.len() as u64 * u64::from(cells) != u64::from(series) {
        check.add(
            name,
            format!("{} readings of {cells} cells do not make {series}S", given.len()),
            format!("{} readings", series.div_ceil(cells)),
        );
        return None;
    }
    let ceiling = 6.0 * f64::from(cells);
    for (n, v) in given.iter().enumerate() {
        check.within(&format!("{name}/{n}"), Some(*v), -ceiling, ceiling)?;
    }
    Some(Start::Positions { volts: given.iter().copied().map(volts).collect(), cells, rest })
}

fn goal(doc: &PackDoc, check: &mut Checked<'_>) -> Option<Goal> {
    let Some(goal) = &doc.goal else {
        return Some(Goal::Full);
    };
    let soc = check.within("goal/soc", goal.soc, 0.01, 1.0);
    let kind = check.required("goal/kind", goal.kind, "full, soc, storage or float")?;
    if kind != GoalKind::Soc && goal.soc.is_some() {
        check.add("goal/soc", "only the goal soc has one", "goal/kind soc, or no goal/soc");
        return None;
    }
    match kind {
        GoalKind::Full => Some(Goal::Full),
        GoalKind::Soc => soc.map(Goal::Soc),
        GoalKind::Storage => Some(Goal::Storage),
        GoalKind::Float => {
            if doc.chemistry.and_then(profile).is_none_or(|p| p.float_v.is_none()) {
                check.add("goal/kind", "only lead-acid is held at float", "full, soc or storage");
                return None;
            }
            Some(Goal::Float)
        }
    }
}

/// A label's charge voltages must be such as could charge this pack at all.
fn label_range(
    range: Option<[f64; 2]>,
    name: &str,
    series: Option<u32>,
    profile: &Option<Cow<'static, Profile>>,
    check: &mut Checked<'_>,
) -> Option<[ElectricPotential; 2]> {
    let [low, high] = range?;
    let (series, profile) = (f64::from(series?), profile.as_ref()?);
    let (least, most) = (profile.nominal_v * 0.9 * series, profile.ceiling_v * 1.15 * series);
    for (n, v) in [low, high].into_iter().enumerate() {
        check.within(&format!("{name}/{n}"), Some(v), least, most)?;
    }
    Some([volts(low), volts(high)])
}
