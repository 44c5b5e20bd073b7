//! The source: what it can give, and what it does when asked for more.

use crate::formats::{MeterAt, Overload, Problems, SourceDoc, SourceKind, TransformerType, Wiring};
use crate::lines::gear;
use crate::parts::meter::{self, Correction};
use crate::parts::problems::Checked;
use crate::physics::battery::Battery;
use crate::physics::cell::profile;
use crate::units::{
    ElectricCurrent, ElectricPotential, Power, amps, floor_to, in_amps, in_volts, in_watts, trimmed, volts, watts,
};

/// One silicon diode of a bridge under load, V; a bridge has two in the path.
const BRIDGE_DIODE_V: f64 = 0.9;
/// The same with next to no current.
const BRIDGE_DIODE_OPEN_V: f64 = 0.6;
/// What may be taken as DC from a transformer that feeds a capacitor, of VA ÷ secondary volts: the
/// current flows in short pulses that heat the windings more than their mean.
const RECTIFIED_SHARE: f64 = 0.6;
/// Mains may stand this much above nominal …
pub(crate) const MAINS_HIGH: f64 = 1.1;
/// … and this much below.
pub(crate) const MAINS_LOW: f64 = 0.9;

/// A source, all its units taken together.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Source {
    pub(crate) name: Option<String>,
    pub(crate) kind: SourceKind,
    /// Lowest and highest it can be set to; one value where it cannot be set. Of a source that
    /// droops, its voltage with nothing connected.
    pub(crate) min: ElectricPotential,
    pub(crate) max: ElectricPotential,
    pub(crate) step: ElectricPotential,
    rating: Rating,
    ranges: Vec<Range>,
    pub(crate) overload: Overload,
    foldback: Option<ElectricCurrent>,
    headroom: f64,
    pub(crate) efficiency: f64,
    /// At the mains; absent where not said.
    pub(crate) power_factor: Option<f64>,
    /// Opened or rebuilt by somebody.
    pub(crate) modified: bool,
    pub(crate) remote_sense: bool,
    /// Whether its output can be switched off while it stays set.
    pub(crate) output_switch: bool,
    pub(crate) units: u32,
    pub(crate) wiring: Wiring,
    /// `None`: unknown, and treated as not.
    pub(crate) isolated: Option<bool>,
    /// What it loses inside for every ampere, Ω; 0 where its voltage is held.
    pub(crate) sag_ohm: f64,
    /// The highest it can stand with nothing connected, V.
    pub(crate) highest_v: f64,
    pub(crate) battery: Option<Battery>,
    pub(crate) transformer: Option<TransformerType>,
    /// Volts by which a transformer's output ripples at its rated current.
    pub(crate) ripple_v: f64,
    pub(crate) corrections: Vec<Correction>,
}

/// Amps and watts as rated, before headroom.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
struct Rating {
    current: Option<ElectricCurrent>,
    power: Option<Power>,
}

#[derive(Clone, Copy, Debug, PartialEq)]
struct Range {
    from: ElectricPotential,
    to: ElectricPotential,
    rating: Rating,
}

impl Source {
    /// The highest it may stand at while this is dialled, V: one that can be set is not set higher than it has to be.
    pub(crate) fn may_stand_at(&self, dial_v: f64) -> f64 {
        if self.dials_voltage() { dial_v } else { self.highest_v.max(dial_v) }
    }

    /// Whether the person can turn its current.
    pub(crate) fn dials_current(&self) -> bool {
        self.kind == SourceKind::BenchSupply
    }

    /// Whether the person can turn its voltage.
    pub(crate) fn dials_voltage(&self) -> bool {
        self.min < self.max
    }

    /// Whether it holds its voltage, whatever is drawn within its rating.
    pub(crate) fn regulated(&self) -> bool {
        !matches!(
            self.kind,
            SourceKind::WallAdapter | SourceKind::TransformerRectifier | SourceKind::Battery | SourceKind::Mains
        )
    }

    /// What each of several units is set to so that all together give this, V and A; `None` of one.
    pub(crate) fn each_of(&self, all_v: f64, all_a: f64) -> Option<(f64, f64)> {
        let n = f64::from(self.units);
        (self.units > 1).then(|| match self.wiring {
            // Two figures on a display: rounded up, all together would pass what was meant.
            Wiring::Series => (floor_to(all_v / n, 0.01), all_a),
            Wiring::Parallel | Wiring::LeaderFollower => (all_v, floor_to(all_a / n, 0.01)),
        })
    }

    /// Whether its voltage rises and sinks with the mains.
    pub(crate) fn hangs_on_mains(&self) -> bool {
        matches!(self.kind, SourceKind::WallAdapter | SourceKind::TransformerRectifier)
    }

    /// The lowest it may stand with nothing drawn while `open_v` is thought of, V.
    pub(crate) fn lowest_v(&self, open_v: f64) -> f64 {
        match &self.battery {
            Some(battery) => battery.lowest_v(),
            None if self.hangs_on_mains() => MAINS_LOW * open_v,
            None => open_v,
        }
    }

    /// Whether it holds a current by itself instead of failing.
    pub(crate) fn limits_current(&self) -> bool {
        self.overload.limits_current()
    }

    /// Whether it lets go by itself once it is overloaded.
    pub(crate) fn trips(&self) -> bool {
        self.overload.trips()
    }

    fn rating_at(&self, set: ElectricPotential) -> Rating {
        self.ranges.iter().find(|range| range.from <= set && set <= range.to).map_or(self.rating, |range| Rating {
            current: range.rating.current.or(self.rating.current),
            power: range.rating.power.or(self.rating.power),
        })
    }

    /// The share of its rating that is used.
    pub(crate) fn headroom(&self) -> f64 {
        self.headroom
    }

    /// Usable current at a set voltage, headroom taken off.
    pub(crate) fn current_at(&self, set: ElectricPotential) -> Option<ElectricCurrent> {
        self.rating_at(set).current.map(|a| a * self.headroom)
    }

    /// Usable power at a set voltage, headroom taken off.
    pub(crate) fn power_at(&self, set: ElectricPotential) -> Option<Power> {
        self.rating_at(set).power.map(|w| w * self.headroom)
    }

    /// The most it may be asked for as rated, W; infinite where nothing says.
    pub(crate) fn rated_w(&self) -> f64 {
        let by_current = self.rating.current.map_or(f64::INFINITY, |a| in_amps(a) * in_volts(self.max));
        by_current.min(self.rating.power.map_or(f64::INFINITY, in_watts))
    }

    /// What still flows once a foldback supply has folded back.
    pub(crate) fn folded_back(&self) -> Option<ElectricCurrent> {
        /// What foldback leaves of the rated current into a short: data sheets of such supplies give 0.2 to 0.4.
        const FOLDED: f64 = 0.3;
        (self.overload == Overload::Foldback)
            .then(|| self.foldback.or(self.rating.current.map(|a| a * FOLDED)))
            .flatten()
    }

    /// Its label in short, such as `0–30 V · 5 A`.
    pub(crate) fn describe(&self) -> String {
        if let Some(battery) = &self.battery {
            return format!(
                "{}S {} · {} Ah · {} %",
                trimmed(battery.series, 0),
                battery.profile.name,
                trimmed(battery.capacity_as / 3600.0, 1),
                trimmed(battery.soc * 100.0, 0)
            );
        }
        if self.kind == SourceKind::Mains {
            return "wall outlet".to_owned();
        }
        let volts = if self.min == self.max {
            let open = if self.regulated() { "" } else { " open" };
            format!("{} V{open}", trimmed(in_volts(self.max), if self.regulated() { 2 } else { 1 }))
        } else {
            format!("{}–{} V", trimmed(in_volts(self.min), 2), trimmed(in_volts(self.max), 2))
        };
        let rest = self
            .rating
            .current
            .map(|a| format!("{} A", trimmed(in_amps(a), 2)))
            .into_iter()
            .chain(self.rating.power.map(|w| format!("{} W", trimmed(in_watts(w), 0))));
        std::iter::once(volts).chain(rest).collect::<Vec<_>>().join(" · ")
    }

    /// What it is, in words.
    pub(crate) fn kind_name(&self) -> &'static str {
        match self.kind {
            SourceKind::BenchSupply => "Bench supply",
            SourceKind::AdjustableSupply => "Adjustable supply",
            SourceKind::FixedSupply => "Fixed supply",
            SourceKind::WallAdapter => "Wall adapter",
            SourceKind::TransformerRectifier => "Transformer and rectifier",
            SourceKind::Battery => "Battery",
            SourceKind::RegulatedPort => "Regulated port",
            SourceKind::Mains => "Mains",
        }
    }
}

/// A field that only some kinds have, and whether a document gives it.
type OwnField = (&'static str, fn(&SourceDoc) -> bool, &'static [SourceKind]);

const TRANSFORMER: &[SourceKind] = &[SourceKind::TransformerRectifier];
const BATTERY: &[SourceKind] = &[SourceKind::Battery];
const SET: &[SourceKind] = &[SourceKind::BenchSupply, SourceKind::AdjustableSupply];
/// Which fields only some kinds of source have, beside their voltages.
const OWN_FIELDS: [OwnField; 15] = [
    ("output_switch", |doc| doc.output_switch.is_some(), SET),
    ("open_circuit_v", |doc| doc.open_circuit_v.is_some(), &[SourceKind::WallAdapter]),
    ("secondary_vac", |doc| doc.secondary_vac.is_some(), TRANSFORMER),
    ("open_vac", |doc| doc.open_vac.is_some(), TRANSFORMER),
    ("regulation", |doc| doc.regulation.is_some(), TRANSFORMER),
    ("rated_va", |doc| doc.rated_va.is_some(), TRANSFORMER),
    ("smoothing_uf", |doc| doc.smoothing_uf.is_some(), TRANSFORMER),
    ("mains_hz", |doc| doc.mains_hz.is_some(), TRANSFORMER),
    ("type", |doc| doc.r#type.is_some(), TRANSFORMER),
    ("chemistry", |doc| doc.chemistry.is_some(), BATTERY),
    ("series", |doc| doc.series.is_some(), BATTERY),
    ("capacity_ah", |doc| doc.capacity_ah.is_some(), BATTERY),
    ("resistance_mohm", |doc| doc.resistance_mohm.is_some(), BATTERY),
    ("soc", |doc| doc.soc.is_some(), BATTERY),
    ("reserve_soc", |doc| doc.reserve_soc.is_some(), BATTERY),
];
const ONE_VOLTAGE: &[SourceKind] = &[SourceKind::FixedSupply, SourceKind::WallAdapter, SourceKind::RegulatedPort];
/// … and which voltage a kind has.
const VOLTAGES: [(&str, &[SourceKind]); 3] =
    [("voltage_v", ONE_VOLTAGE), ("min_voltage_v", SET), ("max_voltage_v", SET)];

/// The fields that only some kinds of source have, with those kinds.
pub(crate) fn own_fields() -> impl Iterator<Item = (&'static str, &'static [SourceKind])> {
    OWN_FIELDS.iter().map(|(field, _, owners)| (*field, *owners)).chain(VOLTAGES)
}

fn out_of_place(doc: &SourceDoc, kind: SourceKind, check: &mut Checked<'_>) {
    use SourceKind::{Battery, Mains, TransformerRectifier, WallAdapter};
    for (field, given, owners) in OWN_FIELDS {
        if given(doc) && !owners.contains(&kind) {
            let owners = owners.iter().map(|kind| kind.code()).collect::<Vec<_>>().join(", ");
            check.add(field, format!("this belongs to the kind {owners}"), "another kind, or nothing here");
        }
    }
    let own_voltage = matches!(kind, TransformerRectifier | Battery | Mains);
    if own_voltage {
        for (field, given) in [
            ("voltage_v", doc.voltage_v.is_some() && kind != Mains),
            ("min_voltage_v", doc.min_voltage_v.is_some()),
            ("max_voltage_v", doc.max_voltage_v.is_some()),
        ] {
            if given {
                check.add(
                    field,
                    format!("the voltage of a {} follows from its other figures", kind.code()),
                    "nothing here",
                );
            }
        }
    }
    if doc.remote_sense == Some(true) && (own_voltage || kind == WallAdapter) {
        check.add("remote_sense", "only a regulated supply senses its voltage elsewhere", "false, or nothing here");
    }
    if kind == Mains && doc.units.is_some_and(|n| n > 1) {
        check.add("units", "the wall is one", "1");
    }
}

/// One unit's voltage, droop and rating as its kind has them.
#[derive(Debug, Default)]
struct Unit {
    min_v: f64,
    max_v: f64,
    sag_ohm: f64,
    highest_v: f64,
    ripple_v: f64,
    /// What its kind says of amps where no label does.
    own_a: Option<f64>,
    battery: Option<Battery>,
}

impl Unit {
    fn steady(min_v: f64, max_v: f64) -> Self {
        Self { min_v, max_v, highest_v: max_v, ..Self::default() }
    }
}

/// Reads the source out of its (resolved) document.
pub(crate) fn read(doc: &SourceDoc, at: &str, problems: &mut Problems) -> Option<Source> {
    let corrections = meter::read(
        doc.meters.as_deref().unwrap_or_default(),
        &format!("{at}/meters"),
        Some(MeterAt::Source),
        problems,
    );
    let mut check = Checked::new(at, problems);
    let kinds = SourceKind::ALL.iter().map(|kind| kind.code()).collect::<Vec<_>>().join(", ");
    let kind = check.required("kind", doc.kind, &kinds)?;
    out_of_place(doc, kind, &mut check);
    let rating = Rating {
        current: check.within("max_current_a", doc.max_current_a, 0.01, 10_000.0).map(amps),
        power: check.within("max_power_w", doc.max_power_w, 0.1, 1e6).map(watts),
    };
    let unit = unit(doc, kind, &mut check);
    let says = doc.max_current_a.is_some() || doc.max_power_w.is_some() || doc.ranges.is_some();
    if !says && !matches!(kind, SourceKind::Battery | SourceKind::Mains | SourceKind::TransformerRectifier) {
        check.lacks("max_current_a", "what the supply can give is not said", "0.01 to 10000 A, or max_power_w");
    }
    let ranges = ranges(doc, &mut check);
    let overload = doc.overload.unwrap_or(Overload::ConstantCurrent);
    let foldback = check.within("foldback_current_a", doc.foldback_current_a, 0.001, 10_000.0).map(amps);
    if foldback.is_some() && overload != Overload::Foldback {
        check.add(
            "foldback_current_a",
            "this supply does not fold back",
            "overload foldback, or no foldback_current_a",
        );
    }
    let headroom = check.within("headroom", doc.headroom, 0.05, 1.0).unwrap_or(1.0);
    let efficiency = check.within("efficiency", doc.efficiency, 0.1, 1.0).unwrap_or(gear::EFFICIENCY.at);
    let power_factor = check.within("power_factor", doc.power_factor, 0.3, 1.0);
    let step = check.within("voltage_step_v", doc.voltage_step_v, 0.0001, 10.0).unwrap_or(0.01);
    /// Of what equal supplies set alike give together: application notes count 80 % to 90 % without a sharing wire.
    const SHARED: f64 = 0.85;
    let sharing = check.within("sharing", doc.sharing, 0.3, 1.0).unwrap_or(SHARED);
    let units = check.whole("units", doc.units, 1, 20).unwrap_or(1);
    let wiring = match (doc.wiring, units) {
        (Some(wiring), _) => wiring,
        (None, 1) => Wiring::Parallel,
        (None, _) => check.required("wiring", None, "series or parallel, with more than one unit")?,
    };
    let unit = unit?;
    let n = f64::from(units);
    let (volts_factor, amps_factor, ohm_factor) = match wiring {
        Wiring::Series => (n, 1.0, n),
        Wiring::Parallel => (1.0, if units > 1 { n * sharing } else { 1.0 }, 1.0 / n),
        // Units that follow one another share evenly.
        Wiring::LeaderFollower => (1.0, n, 1.0 / n),
    };
    let scaled = |r: Rating| Rating {
        current: r.current.map(|a| a * amps_factor),
        power: r.power.map(|w| w * if wiring == Wiring::Series { n } else { amps_factor }),
    };
    let own = Rating { current: rating.current.or(unit.own_a.map(amps)), power: rating.power };
    Some(Source {
        name: doc.name.clone(),
        kind,
        min: volts(unit.min_v * volts_factor),
        max: volts(unit.max_v * volts_factor),
        step: volts(step),
        rating: scaled(own),
        ranges: ranges
            .into_iter()
            .map(|r| Range { from: r.from * volts_factor, to: r.to * volts_factor, rating: scaled(r.rating) })
            .collect(),
        overload,
        foldback: foldback.map(|a| a * amps_factor),
        headroom,
        efficiency,
        power_factor,
        modified: doc.modified.unwrap_or(false),
        remote_sense: doc.remote_sense == Some(true),
        output_switch: doc.output_switch == Some(true),
        units,
        wiring,
        isolated: doc.isolated_outputs,
        sag_ohm: unit.sag_ohm * ohm_factor,
        highest_v: unit.highest_v * volts_factor,
        battery: unit.battery.map(|b| Battery {
            series: b.series * volts_factor,
            capacity_as: b.capacity_as * if wiring == Wiring::Series { 1.0 } else { n },
            ohm: b.ohm * ohm_factor,
            ..b
        }),
        transformer: (kind == SourceKind::TransformerRectifier).then(|| doc.r#type.unwrap_or(TransformerType::Unknown)),
        ripple_v: unit.ripple_v * volts_factor,
        corrections,
    })
}

/// One unit, by its kind.
fn unit(doc: &SourceDoc, kind: SourceKind, check: &mut Checked<'_>) -> Option<Unit> {
    let fixed = check.within("voltage_v", doc.voltage_v, 0.5, 1000.0);
    let low = check.within("min_voltage_v", doc.min_voltage_v, 0.0, 1000.0);
    let high = check.within("max_voltage_v", doc.max_voltage_v, 0.5, 1000.0);
    match kind {
        SourceKind::Mains => Some(Unit::default()),
        SourceKind::Battery => battery(doc, check),
        SourceKind::TransformerRectifier => transformer(doc, check),
        SourceKind::FixedSupply | SourceKind::RegulatedPort | SourceKind::WallAdapter => {
            for (name, given) in [("min_voltage_v", low), ("max_voltage_v", high)] {
                if given.is_some() {
                    check.add(name, "this has one voltage", "voltage_v instead");
                }
            }
            let v = check.required("voltage_v", fixed, "0.5 to 1000 V");
            if kind != SourceKind::WallAdapter {
                return v.map(|v| Unit::steady(v, v));
            }
            let open = check.within("open_circuit_v", doc.open_circuit_v, v.unwrap_or(0.5), 1000.0);
            let label_a =
                check.required("max_current_a", doc.max_current_a.filter(|a| *a > 0.0), "the amps on its label");
            let (v, open_v) = (v?, open?);
            Some(Unit {
                sag_ohm: (open_v - v) / label_a?,
                highest_v: open_v * MAINS_HIGH,
                ..Unit::steady(open_v, open_v)
            })
        }
        SourceKind::BenchSupply | SourceKind::AdjustableSupply => {
            if fixed.is_some() {
                check.add("voltage_v", "this supply is set, it has no one voltage", "max_voltage_v instead");
            }
            let high = check.required("max_voltage_v", high, "0.5 to 1000 V")?;
            let low = if kind == SourceKind::BenchSupply { low.or(Some(0.0)) } else { low };
            let low = check.required("min_voltage_v", low, "the lowest voltage it can be turned to")?;
            if low > high {
                check.add("min_voltage_v", "the lowest voltage is above the highest", "at most max_voltage_v");
                return None;
            }
            Some(Unit::steady(low, high))
        }
    }
}

/// A battery's open voltage and resistance.
fn battery(doc: &SourceDoc, check: &mut Checked<'_>) -> Option<Unit> {
    let figures = doc.chemistry.and_then(profile);
    let figures = check.required("chemistry", figures, "a chemistry code other than custom");
    let series = check.whole("series", doc.series, 1, 200);
    let series = check.required("series", series, "1 to 200");
    let ah = check.within("capacity_ah", doc.capacity_ah, 0.005, 10_000.0);
    let ah = check.required("capacity_ah", ah, "0.005 to 10000 Ah");
    let mohm = check.within("resistance_mohm", doc.resistance_mohm, 0.001, 1e6);
    let soc = check.within("soc", doc.soc, 0.0, 1.0)?;
    let reserve_soc = check.within("reserve_soc", doc.reserve_soc, 0.0, 1.0)?;
    let (profile, series, ah) = (figures?, f64::from(series?), ah?);
    let ohm = mohm.map_or(profile.resistance_ohm_ah / ah * series, |mohm| mohm / 1e3);
    let battery = Battery { profile, series, capacity_as: ah * 3600.0, ohm, soc, reserve_soc };
    let open_v = battery.open_v(soc);
    // Hours of load settle beyond the ten seconds its resistance is given for, as far as a discharge does.
    let settled: f64 = 1.0 + profile.rc.iter().map(|rc| rc.ratio).sum::<f64>() * 0.5 * profile.discharge.slow;
    Some(Unit { sag_ohm: ohm * settled, battery: Some(battery), ..Unit::steady(open_v, open_v) })
}

/// A transformer's rectified voltage: `√2·v_ac − 2·v_f − ripple/2`, drooping by its regulation.
fn transformer(doc: &SourceDoc, check: &mut Checked<'_>) -> Option<Unit> {
    let loaded = check.within("secondary_vac", doc.secondary_vac, 1.0, 500.0);
    let loaded = check.required("secondary_vac", loaded, "volts rms at its rated load, 1 to 500");
    let rated_va = check.within("rated_va", doc.rated_va, 0.5, 10_000.0);
    let open = check.within("open_vac", doc.open_vac, loaded.unwrap_or(1.0), 800.0);
    let regulation = check.within("regulation", doc.regulation, 0.0, 1.0);
    if doc.open_vac.is_some() && doc.regulation.is_some() {
        check.add("regulation", "the open voltage is given twice", "open_vac or regulation, not both");
    }
    let farads = check.within("smoothing_uf", doc.smoothing_uf, 10.0, 1e6)? / 1e6;
    let mains_hz = check.within("mains_hz", doc.mains_hz, 10.0, 1000.0)?;
    if doc.open_vac.is_none() && doc.regulation.is_none() {
        check.lacks("open_vac", "how far it droops is not said", "open_vac, regulation or rated_va");
    }
    let loaded = loaded?;
    let own_a = rated_va.map(|va| RECTIFIED_SHARE * va / loaded);
    let label_a = doc.max_current_a.filter(|a| *a > 0.0);
    if own_a.is_none() && label_a.is_none() {
        let said = "neither its VA nor the amps of its output are said";
        check.add("rated_va", said, "rated_va 0.5 to 10000 VA, or max_current_a");
    }
    // What it gives while it droops to its loaded voltage, A.
    let loaded_a = own_a.or(label_a)?;
    let open_vac = match open {
        Some(open) => open,
        None => loaded * (1.0 + regulation?),
    };
    let peak = std::f64::consts::SQRT_2;
    // A full wave recharges the capacitor twice a cycle.
    let ripple_ohm = 1.0 / (2.0 * mains_hz * farads);
    let open_v = peak * open_vac - 2.0 * BRIDGE_DIODE_V;
    Some(Unit {
        sag_ohm: peak * (open_vac - loaded) / loaded_a + 0.5 * ripple_ohm,
        highest_v: MAINS_HIGH * peak * open_vac - 2.0 * BRIDGE_DIODE_OPEN_V,
        ripple_v: ripple_ohm * loaded_a,
        own_a,
        ..Unit::steady(open_v.max(0.1), open_v.max(0.1))
    })
}

/// The regulation to assume of a transformer by its size: small ones droop most.
pub(crate) fn usual_regulation(rated_va: f64) -> f64 {
    match rated_va {
        va if va < 30.0 => 0.25,
        va if va < 120.0 => 0.15,
        va if va < 400.0 => 0.10,
        _ => 0.06,
    }
}

fn ranges(doc: &SourceDoc, check: &mut Checked<'_>) -> Vec<Range> {
    let given = doc.ranges.as_deref().unwrap_or_default();
    given
        .iter()
        .enumerate()
        .filter_map(|(n, range)| {
            let field = |name: &str| format!("ranges/{n}/{name}");
            let from = check.within(&field("from_v"), range.from_v, 0.0, 1000.0);
            let from = check.required(&field("from_v"), from, "0 to 1000 V")?;
            let to = check.within(&field("to_v"), range.to_v, from, 1000.0);
            let to = check.required(&field("to_v"), to, "from_v to 1000 V")?;
            let current = check.within(&field("max_current_a"), range.max_current_a, 0.01, 10_000.0).map(amps);
            let power = check.within(&field("max_power_w"), range.max_power_w, 0.1, 1e6).map(watts);
            if current.is_none() && power.is_none() {
                check.add(&field("max_current_a"), "a range says what it can give", "max_current_a or max_power_w");
                return None;
            }
            Some(Range { from: volts(from), to: volts(to), rating: Rating { current, power } })
        })
        .collect()
}
