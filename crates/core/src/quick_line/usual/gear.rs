//! What is taken for granted of what charges the pack, and of a cell whose size says what it holds.

use serde_json::{Value, json};

use crate::asking::Setting;
use crate::codes::{ChargerKind, SourceKind};
use crate::formats::AssumedDoc;
use crate::physics::cell::profile;
use crate::quick_line::said::Heard;
use crate::units::{Kind, show};

/// Round cells by their size, and the least that one of them holds, Ah.
const SIZES: &[(&str, f64)] =
    &[("18650", 1.5), ("21700", 3.0), ("20700", 2.8), ("14500", 0.5), ("26650", 2.5), ("32650", 4.0), ("32700", 5.0)];

/// The size of a cell that some words name.
pub(super) fn size(words: &[String]) -> Option<(&'static str, f64)> {
    SIZES.iter().copied().find(|(size, _)| words.iter().any(|word| word == size))
}

/// What nobody said and what harms nothing when it is wrong: each field with what it is set to and why.
pub(crate) fn granted(heard: &Heard) -> Vec<(Setting, AssumedDoc)> {
    let board = usb_board(heard);
    let own = if board.is_empty() { own_charger(heard) } else { None };
    board.into_iter().chain(own).chain(least_of_size(heard)).collect()
}

/// A small board that charges one lithium cell from a USB socket is a linear one that gives 1 A.
fn usb_board(heard: &Heard) -> Vec<(Setting, AssumedDoc)> {
    let says = |word: &str| heard.words.gear.iter().any(|one| one == word);
    let unsaid = heard.plan.charger.as_ref().is_some_and(|c| c.output_max_a.is_none() && c.topology.is_none());
    let port = heard
        .plan
        .source
        .as_ref()
        .is_some_and(|s| s.kind == Some(SourceKind::RegulatedPort) && s.max_current_a.is_none());
    if !(says("board") || says("module")) || !unsaid || !port {
        return Vec::new();
    }
    let charger = json!({ "kind": "linear_module", "output_max_a": 1.0 });
    let source = json!({ "kind": "regulated_port", "voltage_v": 5.0, "max_current_a": 1.0 });
    vec![
        assume("/charger", charger, "The board is taken to be a linear one for one cell, which gives 1 A."),
        assume(
            "/source",
            source,
            "The USB socket is taken to give 5 V and 1 A. If it gives less, the charge takes longer.",
        ),
    ]
}

fn assume(pointer: &str, value: Value, because: &str) -> (Setting, AssumedDoc) {
    let told =
        AssumedDoc { pointer: pointer.to_owned(), value: value.clone(), because: because.to_owned(), harmless: true };
    ((pointer.to_owned(), value), told)
}

/// A charger that is called the pack's own, or that has its volts printed on it, plugs into the wall.
fn own_charger(heard: &Heard) -> Option<(Setting, AssumedDoc)> {
    let charger = heard.plan.charger.as_ref().filter(|_| heard.plan.source.is_none())?;
    let called = |words: &[&str]| heard.words.gear.iter().any(|word| words.contains(&word.as_str()));
    let smart = charger.kind == Some(ChargerKind::SmartCharger);
    let hobby = charger.kind == Some(ChargerKind::HobbyCharger);
    let own = called(&["its", "own", "plug", "included", "supplied", "original", "trickle"]) || called(&["battery"]);
    // A charger for lead batteries that is told by its amps alone stands between the wall and the battery.
    let lead =
        heard.plan.pack.as_ref().and_then(|pack| pack.chemistry).and_then(profile).is_some_and(|p| p.traits.absorbs);
    let plain = lead && charger.output_max_w.is_none() && charger.output_max_a.is_some();
    let printed = charger.output_max_v.is_some() && charger.output_min_v.is_none();
    (smart || hobby && (own || printed || plain)).then(|| {
        assume(
            "/source",
            json!({ "kind": "mains" }),
            "The charger is taken to plug into the wall. If it needs a supply of its own, say which.",
        )
    })
}

/// The size of a cell says the least that it holds: a current for that harms none that holds more.
fn least_of_size(heard: &Heard) -> Option<(Setting, AssumedDoc)> {
    let pack = heard.plan.pack.as_ref()?;
    let known = pack.capacity_ah.is_some() || pack.energy_wh.is_some() || pack.capacitance_f.is_some();
    let (size, ah) = size(&heard.words.pack).filter(|_| !known)?;
    let because = format!(
        "Taken to hold {}, the least that a {size} cell holds. If it holds more, the charge only takes longer.",
        show(Kind::Charge, ah)
    );
    Some(assume("/pack/capacity_ah", json!(ah), &because))
}
