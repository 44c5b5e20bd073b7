//! What stands between source and pack: chargers, modules, limiters.

use crate::formats::{ChargerDoc, ChargerKind, MeterAt, Problems, Topology};
use crate::parts::meter::{self, Correction};
use crate::parts::problems::Checked;
use crate::physics::operating::Lamps;
use crate::units::trimmed;

/// A charger ready to be computed with. Volts, amps, watts as its box says.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Charger {
    pub(crate) name: Option<String>,
    pub(crate) kind: ChargerKind,
    pub(crate) works: Works,
    pub(crate) input_min_v: Option<f64>,
    pub(crate) input_max_v: Option<f64>,
    pub(crate) input_max_a: Option<f64>,
    pub(crate) input_max_w: Option<f64>,
    pub(crate) output_min_v: Option<f64>,
    pub(crate) output_max_v: Option<f64>,
    pub(crate) output_max_a: Option<f64>,
    /// Of the channel in use, its share of a common limit taken.
    pub(crate) output_max_w: Option<f64>,
    pub(crate) mains_output_max_w: Option<f64>,
    max_series: Vec<(f64, u32)>,
    pub(crate) min_start_v: Option<f64>,
    pub(crate) auto_voltage: bool,
    pub(crate) has_cc: bool,
    pub(crate) has_cv: bool,
    pub(crate) diode_v: f64,
    /// Whether its efficiency is a guess.
    pub(crate) efficiency_assumed: bool,
    pub(crate) corrections: Vec<Correction>,
}

/// How it moves the current from input to output.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Works {
    Switching { topology: Topology, efficiency: f64, dropout_v: f64 },
    Linear { dropout_v: f64, heat_w: f64 },
    Pwm { duty: f64, path_ohm: f64 },
    Lamp(Lamps),
    Resistor { ohm: f64, rated_w: Option<f64> },
}

impl Charger {
    /// Whether the person sets its current.
    pub(crate) fn dials_current(&self) -> bool {
        self.kind == ChargerKind::HobbyCharger || (self.kind == ChargerKind::DcDc && self.has_cc)
    }

    /// Whether the person sets its voltage.
    pub(crate) fn dials_voltage(&self) -> bool {
        matches!(self.kind, ChargerKind::HobbyCharger | ChargerKind::DcDc) && self.has_cv
    }

    /// Whether it ends the charge by itself.
    pub(crate) fn terminates(&self) -> bool {
        matches!(self.kind, ChargerKind::HobbyCharger | ChargerKind::SmartCharger | ChargerKind::LinearModule)
    }

    /// Whether it turns its own power down as the pack rises, instead of overrunning a limit.
    pub(crate) fn keeps_its_power(&self) -> bool {
        matches!(self.kind, ChargerKind::HobbyCharger | ChargerKind::SmartCharger)
    }

    /// The most cells it charges from an input voltage; `None` where nothing says.
    pub(crate) fn most_cells(&self, input_v: f64) -> Option<u32> {
        self.max_series.iter().filter(|(from_v, _)| *from_v <= input_v).map(|(_, cells)| *cells).max().or_else(|| {
            // Below every line of its table it charges nothing.
            (!self.max_series.is_empty()).then_some(0)
        })
    }

    /// Its output power, W, by whether the wall feeds it.
    pub(crate) fn output_w(&self, mains: bool) -> Option<f64> {
        match (mains, self.mains_output_max_w) {
            (true, Some(w)) => Some(w),
            _ => self.output_max_w,
        }
    }

    /// The lamps it is, where it is some.
    pub(crate) fn lamps(&self) -> Option<Lamps> {
        match self.works {
            Works::Lamp(lamps) => Some(lamps),
            _ => None,
        }
    }

    /// The heat it can shed, W, where that is what limits it.
    pub(crate) fn sheds_w(&self) -> Option<f64> {
        match self.works {
            Works::Linear { heat_w, .. } => Some(heat_w),
            _ => None,
        }
    }

    /// Output over input power; 1 where the same current flows through it.
    pub(crate) fn efficiency(&self) -> f64 {
        match self.works {
            Works::Switching { efficiency, .. } => efficiency,
            _ => 1.0,
        }
    }

    /// What it is, in words.
    pub(crate) fn kind_name(&self) -> &'static str {
        match (self.kind, self.works) {
            (ChargerKind::HobbyCharger, _) => "Hobby charger",
            (ChargerKind::SmartCharger, _) => "Smart charger",
            (ChargerKind::DcDc, Works::Switching { topology: Topology::Boost, .. }) => "Boost module",
            (ChargerKind::DcDc, Works::Switching { topology: Topology::BuckBoost, .. }) => "Buck-boost module",
            (ChargerKind::DcDc, _) => "Buck module",
            (ChargerKind::LinearModule, _) => "Linear module",
            (ChargerKind::Pwm, _) => "PWM stage",
            (ChargerKind::Lamp, _) => "Lamp",
            (ChargerKind::Resistor, _) => "Resistor",
        }
    }

    /// Its rating in short, such as `8 A · 120 W`.
    pub(crate) fn describe(&self) -> String {
        let amps = self.output_max_a.map(|a| format!("{} A", trimmed(a, 2)));
        let watts = self.output_max_w.map(|w| format!("{} W", trimmed(w, 0)));
        let own = match self.works {
            Works::Lamp(lamps) => {
                Some(format!("{} V · {} W", trimmed(lamps.rated_v, 1), trimmed(lamps.rated_v * lamps.rated_a, 0)))
            }
            Works::Resistor { ohm, .. } => Some(format!("{} Ω", trimmed(ohm, 2))),
            Works::Pwm { duty, .. } => Some(format!("duty {} %", trimmed(duty * 100.0, 0))),
            Works::Switching { .. } | Works::Linear { .. } => None,
        };
        own.into_iter().chain(amps).chain(watts).collect::<Vec<_>>().join(" · ")
    }
}

/// A field that only some kinds have, and whether a document gives it.
type OwnField = (&'static str, fn(&ChargerDoc) -> bool, &'static [ChargerKind]);

const SWITCHING: &[ChargerKind] = &[ChargerKind::HobbyCharger, ChargerKind::SmartCharger, ChargerKind::DcDc];
const ACTIVE: &[ChargerKind] =
    &[ChargerKind::HobbyCharger, ChargerKind::SmartCharger, ChargerKind::DcDc, ChargerKind::LinearModule];
const ALL_BUT_PASSIVE: &[ChargerKind] = &[
    ChargerKind::HobbyCharger,
    ChargerKind::SmartCharger,
    ChargerKind::DcDc,
    ChargerKind::LinearModule,
    ChargerKind::Pwm,
];
/// Which fields only some kinds of charger have.
const OWN_FIELDS: [OwnField; 29] = [
    ("topology", |doc| doc.topology.is_some(), ACTIVE),
    ("input_min_v", |doc| doc.input_min_v.is_some(), ALL_BUT_PASSIVE),
    ("input_max_v", |doc| doc.input_max_v.is_some(), ALL_BUT_PASSIVE),
    ("input_max_a", |doc| doc.input_max_a.is_some(), ALL_BUT_PASSIVE),
    ("input_max_w", |doc| doc.input_max_w.is_some(), SWITCHING),
    ("output_min_v", |doc| doc.output_min_v.is_some(), ACTIVE),
    ("output_max_v", |doc| doc.output_max_v.is_some(), ACTIVE),
    ("output_max_a", |doc| doc.output_max_a.is_some(), ALL_BUT_PASSIVE),
    ("output_max_w", |doc| doc.output_max_w.is_some(), SWITCHING),
    ("mains_output_max_w", |doc| doc.mains_output_max_w.is_some(), SWITCHING),
    ("channels_in_use", |doc| doc.channels_in_use.is_some(), SWITCHING),
    ("shared_max_w", |doc| doc.shared_max_w.is_some(), SWITCHING),
    ("max_series", |doc| doc.max_series.is_some(), ACTIVE),
    ("efficiency", |doc| doc.efficiency.is_some(), SWITCHING),
    ("dropout_v", |doc| doc.dropout_v.is_some(), ACTIVE),
    ("min_start_v", |doc| doc.min_start_v.is_some(), ACTIVE),
    ("auto_voltage", |doc| doc.auto_voltage == Some(true), SWITCHING),
    ("has_cc", |doc| doc.has_cc == Some(true), ALL_BUT_PASSIVE),
    ("has_cv", |doc| doc.has_cv == Some(true), ALL_BUT_PASSIVE),
    ("discharge_max_a", |doc| doc.discharge_max_a.is_some(), SWITCHING),
    ("discharge_max_w", |doc| doc.discharge_max_w.is_some(), SWITCHING),
    ("regenerates", |doc| doc.regenerates == Some(true), SWITCHING),
    ("lamp_rated_v", |doc| doc.lamp_rated_v.is_some(), &[ChargerKind::Lamp]),
    ("lamp_rated_w", |doc| doc.lamp_rated_w.is_some(), &[ChargerKind::Lamp]),
    ("lamps_in_parallel", |doc| doc.lamps_in_parallel.is_some(), &[ChargerKind::Lamp]),
    ("resistance_ohm", |doc| doc.resistance_ohm.is_some(), &[ChargerKind::Resistor]),
    ("rated_w", |doc| doc.rated_w.is_some(), &[ChargerKind::Resistor, ChargerKind::LinearModule]),
    ("duty", |doc| doc.duty.is_some(), &[ChargerKind::Pwm]),
    ("path_resistance_mohm", |doc| doc.path_resistance_mohm.is_some(), &[ChargerKind::Pwm]),
];

/// The fields that only some kinds of charger have, with those kinds.
pub(crate) fn own_fields() -> impl Iterator<Item = (&'static str, &'static [ChargerKind])> {
    OWN_FIELDS.iter().map(|(field, _, owners)| (*field, *owners))
}

fn out_of_place(doc: &ChargerDoc, kind: ChargerKind, check: &mut Checked<'_>) {
    for (field, given, owners) in OWN_FIELDS {
        if given(doc) && !owners.contains(&kind) {
            let owners = owners.iter().map(|kind| kind.code()).collect::<Vec<_>>().join(", ");
            check.add(field, format!("a {} has none", kind.code()), format!("nothing here, or one of {owners}"));
        }
    }
    let switching_only = matches!(doc.topology, Some(Topology::Linear)) != (kind == ChargerKind::LinearModule);
    if doc.topology.is_some() && switching_only && ACTIVE.contains(&kind) {
        check.add(
            "topology",
            "this does not go with the kind",
            "linear for a linear_module, else buck, boost or buck_boost",
        );
    }
}

/// Reads the charger out of its (resolved) document.
pub(crate) fn read(doc: &ChargerDoc, at: &str, problems: &mut Problems) -> Option<Charger> {
    let meters = doc.meters.as_deref().unwrap_or_default();
    let corrections = meter::read(meters, &format!("{at}/meters"), Some(MeterAt::Charger), problems);
    let mut check = Checked::new(at, problems);
    let kinds = ChargerKind::ALL.iter().map(|kind| kind.code()).collect::<Vec<_>>().join(", ");
    let kind = check.required("kind", doc.kind, &kinds)?;
    out_of_place(doc, kind, &mut check);
    let input_min_v = check.within("input_min_v", doc.input_min_v, 0.1, 1000.0);
    let input_max_v = check.within("input_max_v", doc.input_max_v, input_min_v.unwrap_or(0.1), 1000.0);
    let input_max_a = check.within("input_max_a", doc.input_max_a, 0.01, 10_000.0);
    let input_max_w = check.within("input_max_w", doc.input_max_w, 0.1, 1e6);
    let output_min_v = check.within("output_min_v", doc.output_min_v, 0.0, 1000.0);
    let output_max_v = check.within("output_max_v", doc.output_max_v, output_min_v.unwrap_or(0.1), 1000.0);
    let output_max_a = check.within("output_max_a", doc.output_max_a, 0.005, 10_000.0);
    let output_max_w = check.within("output_max_w", doc.output_max_w, 0.1, 1e6);
    let mains_output_max_w = check.within("mains_output_max_w", doc.mains_output_max_w, 0.1, 1e6);
    check.within("discharge_max_a", doc.discharge_max_a, 0.005, 10_000.0);
    check.within("discharge_max_w", doc.discharge_max_w, 0.1, 1e6);
    let channels = check.whole("channels_in_use", doc.channels_in_use, 1, 16).unwrap_or(1);
    let shared_max_w = check.within("shared_max_w", doc.shared_max_w, 0.1, 1e6);
    let min_start_v = check.within("min_start_v", doc.min_start_v, 0.1, 1000.0);
    let diode_v = check.within("diode_drop_v", doc.diode_drop_v, 0.0, 5.0).unwrap_or(0.0);
    let max_series = max_series(doc, &mut check);
    let works = works(doc, kind, &mut check);
    let needs_rating = kind.may_switch() || kind == ChargerKind::LinearModule;
    if needs_rating && doc.output_max_a.is_none() && (doc.output_max_w.is_none() || kind == ChargerKind::LinearModule) {
        check.lacks(
            "output_max_a",
            "what it can put out is not said",
            "0.005 to 10000 A, or output_max_w where it has one",
        );
    }
    let share_w = shared_max_w.map(|w| w / f64::from(channels));
    let shared = |w: Option<f64>| match (w, share_w) {
        (Some(own), Some(share)) => Some(own.min(share)),
        (own, share) => own.or(share),
    };
    Some(Charger {
        name: doc.name.clone(),
        kind,
        works: works?,
        input_min_v,
        input_max_v,
        input_max_a,
        input_max_w,
        output_min_v,
        output_max_v,
        output_max_a,
        output_max_w: shared(output_max_w),
        mains_output_max_w: mains_output_max_w.map(|w| share_w.map_or(w, |share| w.min(share))),
        max_series,
        min_start_v,
        auto_voltage: doc.auto_voltage == Some(true),
        has_cc: doc.has_cc.unwrap_or(kind.regulates()),
        has_cv: doc.has_cv.unwrap_or(kind.regulates()),
        diode_v,
        efficiency_assumed: false,
        corrections,
    })
}

fn max_series(doc: &ChargerDoc, check: &mut Checked<'_>) -> Vec<(f64, u32)> {
    let given = doc.max_series.as_deref().unwrap_or_default();
    given
        .iter()
        .enumerate()
        .filter_map(|(n, line)| {
            let field = |name: &str| format!("max_series/{n}/{name}");
            let from_v = check.within(&field("input_from_v"), line.input_from_v, 0.0, 1000.0);
            let cells = check.whole(&field("max_series"), line.max_series, 1, 200);
            let cells = check.required(&field("max_series"), cells, "1 to 200 cells")?;
            Some((from_v.unwrap_or(0.0), cells))
        })
        .collect()
}

fn works(doc: &ChargerDoc, kind: ChargerKind, check: &mut Checked<'_>) -> Option<Works> {
    let dropout_v = check.within("dropout_v", doc.dropout_v, 0.0, 50.0).unwrap_or(0.0);
    match kind {
        ChargerKind::HobbyCharger | ChargerKind::SmartCharger | ChargerKind::DcDc => {
            let efficiency = check.within("efficiency", doc.efficiency, 0.3, 1.0)?;
            let topology = check.required("topology", doc.topology, "buck, boost or buck_boost")?;
            Some(Works::Switching { topology, efficiency, dropout_v })
        }
        ChargerKind::LinearModule => {
            let heat_w = check.within("rated_w", doc.rated_w, 0.05, 500.0)?;
            Some(Works::Linear { dropout_v, heat_w })
        }
        ChargerKind::Pwm => {
            let duty = check.within("duty", doc.duty, 0.01, 1.0);
            let duty = check.required("duty", duty, "the share of time it is on, 0.01 to 1");
            let path = check.within("path_resistance_mohm", doc.path_resistance_mohm, 1.0, 1e6);
            let path = check.required("path_resistance_mohm", path, "1 to 1000000 mΩ");
            Some(Works::Pwm { duty: duty?, path_ohm: path? / 1e3 })
        }
        ChargerKind::Lamp => {
            let volts = check.within("lamp_rated_v", doc.lamp_rated_v, 1.0, 400.0);
            let volts = check.required("lamp_rated_v", volts, "the volts printed on it, 1 to 400");
            let watts = check.within("lamp_rated_w", doc.lamp_rated_w, 0.5, 5000.0);
            let watts = check.required("lamp_rated_w", watts, "the watts printed on it, 0.5 to 5000");
            let n = check.whole("lamps_in_parallel", doc.lamps_in_parallel, 1, 50).unwrap_or(1);
            let (rated_v, rated_w) = (volts?, watts?);
            Some(Works::Lamp(Lamps { rated_v, rated_a: f64::from(n) * rated_w / rated_v }))
        }
        ChargerKind::Resistor => {
            let ohm = check.within("resistance_ohm", doc.resistance_ohm, 0.01, 1e6);
            let ohm = check.required("resistance_ohm", ohm, "0.01 to 1000000 Ω");
            let rated_w = check.within("rated_w", doc.rated_w, 0.05, 10_000.0);
            Some(Works::Resistor { ohm: ohm?, rated_w })
        }
    }
}
