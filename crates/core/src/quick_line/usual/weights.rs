//! How likely a kind of battery with so many cells is, given what the line says of it. Every fact votes.

use super::gear::size;
use super::things::{ANYTHING, LEAD, LITHIUM, Thing, named};
use crate::codes::{ChargerKind, Chemistry, SourceKind};
use crate::parts::pack::series_candidates;
use crate::physics::cell::{Profile, profile};
use crate::quick_line::said::Heard;
use crate::units::{Kind, show, volts};

/// A kind of battery, with its cells where they are known.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Candidate {
    pub(super) chemistry: Chemistry,
    pub(super) series: Option<u32>,
    pub(super) weight: f64,
    pub(super) because: Vec<String>,
}

/// A fact that fits nothing of this kind.
const UNLIKE: f64 = 0.02;
/// A name such as 12 V that is rounded.
const NAMED: f64 = 0.6;
/// Volts that would be those of a full pack.
const WHEN_FULL: f64 = 0.2;
/// A charger made for other volts than these cells have when they are full.
const MISFIT: f64 = 0.15;
/// A charger made for just this many cells.
const FITS_CHARGER: f64 = 4.0;
/// A charger's volts are told to the tenth: within this share they are full cells.
const OF_FULL: f64 = 0.012;

/// A number of cells that packs are hardly built of.
const UNUSUAL: f64 = 0.3;

/// Whether packs are commonly built of so many cells.
fn usual_count(profile: &Profile, cells: u32) -> bool {
    if profile.traits.in_blocks {
        matches!(cells, 1 | 2 | 3 | 6 | 12 | 18 | 24)
    } else {
        matches!(cells, 1..=8 | 10 | 12..=16 | 20 | 24)
    }
}

/// What it may be, the likeliest first.
pub(super) fn candidates(heard: &Heard) -> Vec<Candidate> {
    let pack = heard.plan.pack.clone().unwrap_or_default();
    let thing = if pack.chemistry.is_none() { named(&heard.words.pack) } else { None };
    let kinds: Vec<(Chemistry, f64)> = match pack.chemistry {
        Some(chemistry) => vec![(chemistry, 1.0)],
        None => prior(heard, thing),
    };
    let mut out: Vec<Candidate> = Vec::new();
    for (chemistry, weight) in kinds {
        let Some(profile) = profile(chemistry) else { continue };
        let counts = counts(heard, profile, thing);
        if counts.is_empty() {
            // Its volts are those of no whole number of such cells.
            let fits = if pack.label_v.is_some() || heard.words.max_v.is_some() { UNLIKE } else { 1.0 };
            out.push(Candidate {
                chemistry,
                series: None,
                weight: weight * fits * stands(heard, profile, None),
                because: why(thing),
            });
        }
        for series in counts {
            let (vote, mut because) = votes(heard, profile, series);
            because.splice(0..0, why(thing));
            let common = if usual_count(profile, series) { 1.0 } else { UNUSUAL };
            let weight = weight * vote * common * stands(heard, profile, Some(series));
            out.push(Candidate { chemistry, series: Some(series), weight, because });
        }
    }
    out.sort_by(|a, b| b.weight.total_cmp(&a.weight));
    let most = out.first().map_or(1.0, |first| first.weight.max(f64::MIN_POSITIVE));
    out.iter_mut().for_each(|one| one.weight /= most);
    out
}

fn why(thing: Option<&Thing>) -> Vec<String> {
    thing.map(|thing| format!("it is {}", thing.name)).into_iter().collect()
}

fn prior(heard: &Heard, thing: Option<&Thing>) -> Vec<(Chemistry, f64)> {
    let words = &heard.words;
    if !words.either.is_empty() {
        return words.either.iter().map(|chemistry| (*chemistry, 1.0)).collect();
    }
    let of_thing = thing.map(|thing| thing.is);
    let lead = |chemistry: Chemistry| profile(chemistry).is_some_and(|p| p.traits.absorbs);
    let burns = |chemistry: Chemistry| profile(chemistry).is_some_and(|p| p.traits.burns);
    let fits = |chemistry: Chemistry| {
        (!words.lead || lead(chemistry)) && (!words.lithium || burns(chemistry)) && !words.not.contains(&chemistry)
    };
    // What the words say of its kind goes before what such things usually are.
    let table = match of_thing {
        Some(is) if is.iter().any(|(chemistry, _)| fits(*chemistry)) => is,
        _ if words.lead => LEAD,
        _ if words.lithium => LITHIUM,
        _ => ANYTHING,
    };
    table.iter().copied().filter(|(chemistry, _)| fits(*chemistry)).collect()
}

/// The cell counts that the line's volts may mean.
fn counts(heard: &Heard, profile: &Profile, thing: Option<&Thing>) -> Vec<u32> {
    let pack = heard.plan.pack.clone().unwrap_or_default();
    if let Some(series) = pack.series.filter(|_| pack.chemistry.is_some() || !heard.words.lead) {
        return vec![series];
    }
    let mut out: Vec<u32> = Vec::new();
    if let Some(label_v) = pack.label_v {
        out.extend(series_candidates(profile.chemistry, volts(label_v)));
        if !profile.traits.absorbs {
            out.extend(cells_of(label_v, profile.full_v, OF_FULL));
        }
    }
    // A name for a full pack is rounded down to a whole number: 40 V max is ten cells of 4.0 to 4.2 V.
    if let Some(max_v) = heard.words.max_v {
        out = (1..=30)
            .filter(|s| (0.95 * profile.full_v..=1.01 * profile.full_v).contains(&(max_v / f64::from(*s))))
            .collect();
    }
    if out.is_empty() {
        out.extend(charger_v(heard).and_then(|v| cells_of(v, profile.full_v, OF_FULL)));
    }
    if out.is_empty() && pack.label_v.is_none() {
        out.extend(thing.map_or(&[][..], |thing| thing.series));
    }
    let one = heard.words.pack.iter().any(|word| matches!(word.as_str(), "one" | "single"));
    if out.is_empty() && pack.label_v.is_none() && one && size(&heard.words.pack).is_some() {
        out.push(1);
    }
    // Lead batteries are built of blocks of three cells.
    out.retain(|cells| !profile.traits.in_blocks || cells % 3 == 0 || *cells == 1 || *cells == 2);
    out.sort_unstable();
    out.dedup();
    out
}

/// So many cells whose volts come to this, within a share.
fn cells_of(all_v: f64, cell_v: f64, within: f64) -> Option<u32> {
    let cells = (all_v / cell_v).round();
    ((1.0..=200.0).contains(&cells) && (all_v / (cells * cell_v) - 1.0).abs() <= within).then_some(cells as u32)
}

/// The volts of a charger that is made for this pack, V.
fn charger_v(heard: &Heard) -> Option<f64> {
    let charger = heard.plan.charger.as_ref();
    let own = charger
        .filter(|c| {
            matches!(c.kind, Some(ChargerKind::HobbyCharger | ChargerKind::SmartCharger)) && c.output_min_v.is_none()
        })
        .and_then(|c| c.output_max_v);
    let plug = heard.plan.source.as_ref().filter(|s| s.kind == Some(SourceKind::FixedSupply)).and_then(|s| s.voltage_v);
    let called = heard.words.gear.iter().any(|word| matches!(word.as_str(), "its" | "own" | "original"));
    own.or(heard.words.charger_v).or(plug.filter(|_| charger.is_none() && called))
}

/// How well the volts on the label and of the charger fit, and why.
fn votes(heard: &Heard, profile: &Profile, series: u32) -> (f64, Vec<String>) {
    let cells = f64::from(series);
    let (mut vote, mut because) = (1.0, Vec::new());
    if let Some(label_v) = heard.plan.pack.as_ref().and_then(|pack| pack.label_v) {
        let printed = profile.label_readings_v.iter().any(|v| (v * cells - label_v).abs() <= 0.051);
        let near = (0.93..=1.04).contains(&(label_v / (profile.nominal_v * cells)));
        let full = (label_v / (profile.full_v * cells) - 1.0).abs() <= OF_FULL;
        vote *= if printed {
            1.0
        } else if near {
            NAMED
        } else if full {
            WHEN_FULL
        } else {
            UNLIKE
        };
        if printed || near {
            because.push(format!(
                "{} is {series} × {} V",
                show(Kind::Voltage, label_v),
                crate::units::trimmed(label_v / cells, 2)
            ));
        }
    }
    let fits =
        charger_v(heard).map(|charger_v| (charger_v, (charger_v / (profile.full_v * cells) - 1.0).abs() <= OF_FULL));
    if let Some((_, false)) = fits.filter(|_| profile.traits.burns) {
        vote *= MISFIT;
    }
    if let Some((charger_v, true)) = fits {
        vote *= FITS_CHARGER;
        because.push(format!(
            "{} is {series} × {} V",
            show(Kind::Voltage, charger_v),
            crate::units::trimmed(profile.full_v, 2)
        ));
    }
    (vote, because)
}

/// How well what it reads and what it holds fit.
fn stands(heard: &Heard, profile: &Profile, series: Option<u32>) -> f64 {
    let pack = heard.plan.pack.clone().unwrap_or_default();
    let mut vote = 1.0;
    if let (Some(rest_v), Some(series)) = (pack.start.as_ref().and_then(|start| start.rest_voltage_v), series) {
        let cell_v = rest_v / f64::from(series);
        if cell_v > 1.02 * profile.full_v || cell_v < 0.8 * profile.precharge_below_v {
            vote *= UNLIKE;
        }
    }
    if let Some(ah) = pack.capacity_ah {
        let (least, most) = profile.usual_ah;
        if !(least..=most).contains(&ah) {
            vote *= 0.2;
        }
    }
    if profile.traits.in_blocks && series.is_some_and(|cells| cells > 2 && cells % 3 != 0) {
        vote *= UNLIKE;
    }
    if pack.capacitance_f.is_some() && !profile.traits.farads {
        vote *= UNLIKE;
    }
    vote
}
