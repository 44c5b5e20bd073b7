//! What still matters, in the order a careful person asks.

use super::found::{Answer, Cells, Picture, unidentified};
use super::triage::{asks_for_board, decide};
use crate::formats::{LowFor, QuestionDoc, RescueDoc, Sign, Verdict};

/// Questions about a pack that is not described yet.
pub(crate) fn about_pack(doc: &RescueDoc) -> Vec<QuestionDoc> {
    let pack = doc.pack.clone().unwrap_or_default();
    unidentified(&pack).into_iter().filter(|pointer| !cannot_tell(doc, pointer)).map(question).collect()
}

fn cannot_tell(doc: &RescueDoc, pointer: &str) -> bool {
    doc.found.iter().flat_map(|found| found.cant_tell.iter().flatten()).any(|told| told == pointer)
}

/// Questions about what was found: those whose answer could still move the verdict, everything
/// else not yet said taken at its mildest.
pub(crate) fn about_found(doc: &RescueDoc, picture: &Picture, verdict: Verdict) -> Vec<QuestionDoc> {
    let mild = mildest(picture);
    if decide(&mild).verdict == Verdict::Retire {
        return Vec::new();
    }
    let mut asked: Vec<&'static str> = Vec::new();
    let mut ask = |pointer: &'static str, open: bool, variants: Vec<Picture>| {
        if open && differ(&variants) {
            asked.push(pointer);
        }
    };
    ask("/found/bms", picture.bms.is_open() && asks_for_board(picture), boards(&mild));
    ask("/found/signs", picture.signs.is_open(), with_signs(&mild));
    ask("/found/temperature_c", picture.temperature_c.is_open(), temperatures(&mild));
    ask("/found/terminal_v", picture.terminal_v.is_open(), terminals(&mild));
    let cells = readings(&mild);
    let reach = picture.cells.is_open() && picture.reachable.is_open() && picture.pack.series > 1;
    ask("/found/cells_reachable", reach, cells.clone());
    let read = picture.cells.is_open() && picture.pack.series > 1;
    ask("/found/cell_voltages_v", read, cells);
    ask("/found/low_for", picture.low_for.is_open(), lengths(&mild));
    let feeds = matches!(verdict, Verdict::Wake | Verdict::Precharge);
    if feeds && doc.source.is_none() && !cannot_tell(doc, "/source") {
        asked.push("/source");
    }
    if feeds && doc.handover.is_none() && !cannot_tell(doc, "/handover") {
        asked.push("/handover");
    }
    asked.into_iter().map(question).collect()
}

fn differ(variants: &[Picture]) -> bool {
    let mut verdicts = variants.iter().map(|variant| decide(variant).verdict);
    verdicts.next().is_some_and(|first| verdicts.any(|other| other != first))
}

/// Everything not yet said at its mildest.
fn mildest(picture: &Picture) -> Picture {
    let mut mild = picture.clone();
    let profile = &picture.pack.profile;
    if mild.signs.is_open() {
        mild.signs = Answer::Known(std::collections::BTreeSet::new());
    }
    if mild.temperature_c.is_open() {
        mild.temperature_c = Answer::Known(0.5 * (profile.window.min_c + profile.window.max_c));
    }
    if mild.low_for.is_open() {
        mild.low_for = Answer::Known(LowFor::Hours);
    }
    if mild.terminal_v.is_open() {
        mild.terminal_v = Answer::Known(profile.nominal_v * picture.series());
    }
    mild
}

fn boards(mild: &Picture) -> Vec<Picture> {
    let with = |bms: bool| Picture { bms: Answer::Known(bms), ..mild.clone() };
    // What a board means shows at the terminals: as long as nobody has read them, it matters.
    let dark = Picture { terminal_v: Answer::Known(0.0), ..mild.clone() };
    let read = mild.terminal_v.known().is_some_and(|v| *v < 0.95 * mild.pack.profile.nominal_v * mild.series());
    if read {
        vec![with(true), with(false)]
    } else {
        vec![Picture { bms: Answer::Known(true), ..dark.clone() }, Picture { bms: Answer::Known(false), ..dark }]
    }
}

fn with_signs(mild: &Picture) -> Vec<Picture> {
    let with = |sign: Option<Sign>| Picture { signs: Answer::Known(sign.into_iter().collect()), ..mild.clone() };
    vec![with(None), with(Some(Sign::Swollen))]
}

fn temperatures(mild: &Picture) -> Vec<Picture> {
    let window = mild.pack.profile.window;
    [window.min_c - 5.0, 0.5 * (window.min_c + window.max_c), window.max_c + 5.0]
        .into_iter()
        .map(|c| Picture { temperature_c: Answer::Known(c), ..mild.clone() })
        .collect()
}

/// Voltages of a cell that lie between the lines the rules draw.
fn telling_v(picture: &Picture) -> Vec<f64> {
    let profile = &picture.pack.profile;
    let mut volts = vec![profile.nominal_v, 0.5 * profile.precharge_below_v, 0.0];
    if let Some(floors) = profile.rescue_floors_v {
        volts.extend([
            0.5 * (floors.cautious_v + profile.precharge_below_v),
            0.5 * (floors.cautious_v + floors.experienced_v),
            0.5 * floors.experienced_v,
        ]);
    }
    volts
}

fn terminals(mild: &Picture) -> Vec<Picture> {
    telling_v(mild)
        .into_iter()
        .map(|v| Picture { terminal_v: Answer::Known(v * mild.series()), ..mild.clone() })
        .collect()
}

/// Readings that would go with what the terminals read: all alike, or one of them flat.
fn readings(mild: &Picture) -> Vec<Picture> {
    // Capacitors may stand anywhere; the cells of a sealed lead battery cannot be reached.
    let traits = &mild.pack.profile.traits;
    if traits.farads || (traits.in_blocks && !traits.caps) {
        return Vec::new();
    }
    let n = mild.pack.series as usize;
    let terminal_v = mild.terminal_v.known().copied().unwrap_or(0.0);
    let with = |each_v: Vec<f64>| Picture { cells: Answer::Known(Cells { each_v, per_reading: 1.0 }), ..mild.clone() };
    let mean_v = terminal_v / mild.series();
    let mut variants = vec![mild.clone(), with(vec![mean_v; n])];
    // A pack that stands high hides no flat cell.
    if mean_v < mild.pack.profile.nominal_v {
        let others_v = mean_v * n as f64 / (n as f64 - 1.0).max(1.0);
        let mut one_flat = vec![others_v; n];
        one_flat[0] = 0.0;
        variants.push(with(one_flat));
    }
    if mild.bms.known() != Some(&false) && asks_for_board(mild) {
        variants.extend(telling_v(mild).into_iter().map(|v| with(vec![v; n])));
    }
    variants
}

fn lengths(mild: &Picture) -> Vec<Picture> {
    [LowFor::Hours, LowFor::Days, LowFor::Weeks]
        .into_iter()
        .map(|low_for| Picture { low_for: Answer::Known(low_for), ..mild.clone() })
        .collect()
}

fn question(pointer: &'static str) -> QuestionDoc {
    let (question, why, how) = match pointer {
        "/pack/chemistry" => (
            "What is it?",
            "How low is too low, and what brings it back, differs from chemistry to chemistry.",
            "It stands on the label: LiPo, Li-ion, LiFePO4, NiMH, lead. A label that is gone: the maker's sheet, or the device it came from.",
        ),
        "/pack/series" => (
            "How many cells in series?",
            "Every voltage is judged per cell.",
            "6S on the label, or its voltage divided by the nominal one: 22.2 V of LiPo is 6S. Without a label count the wires of the balance plug: one less than there are.",
        ),
        "/pack/capacity_ah" => (
            "How much does it hold?",
            "The current that is gentle enough is a twentieth of it.",
            "mAh or Ah on the label. Unsure: take the smaller figure.",
        ),
        "/pack/capacitance_f" => (
            "How many farads has one position?",
            "It sets how fast the voltage rises.",
            "F on the label of one capacitor.",
        ),
        "/found/bms" => (
            "Does it have a protection board?",
            "A board disconnects the cells when they are low: then the terminals say nothing about them.",
            "A flat circuit board under the wrap, tool and bicycle packs have one, bare model packs with a balance plug have none.",
        ),
        "/found/signs" => (
            "How does it look, feel and smell?",
            "A damaged pack can ignite when it is fed; no reading makes up for that.",
            "From all sides, in good light, nothing connected. Feel it with the back of the hand. A sweet smell, as of solvent, from an arm's length: stop there, and do not put your nose to it.",
        ),
        "/found/temperature_c" => (
            "How warm is it?",
            "Cold, lithium plates out as metal; hot, it decomposes.",
            "A probe or an infrared thermometer on a cell. After four hours in a room it has the room's temperature.",
        ),
        "/found/terminal_v" => (
            "What do its terminals read?",
            "It says how low it is, and whether its board conducts.",
            "Everything unplugged, any switch or sleep mode tried, meter on DC volts, red to plus.",
        ),
        "/found/cells_reachable" => (
            "Can you get at the single cells?",
            "The sum hides a dead cell; a reading of each does not.",
            "A balance plug, screws on a lid, or joints between cells. Never cut a wrap over cells you cannot see.",
        ),
        "/found/cell_voltages_v" => (
            "What does each cell read?",
            "One dead or reversed cell decides about all of them.",
            "From the negative end, between one wire of the balance plug and the next. A slip shorts a cell: tape all but two points of the probes.",
        ),
        "/found/low_for" => (
            "How long has it been this low?",
            "At such voltages a cell is damaged by the day.",
            "When was it last used or charged? Left in a device since, it has been low for most of that time.",
        ),
        "/source" => (
            "What is there to feed it with?",
            "It must give little, and no more than little.",
            "A bench supply does best; a lamp or a resistor before something else will do; a small wall adapter for lead.",
        ),
        _ => (
            "What normally charges it?",
            "It takes over as soon as it recognises the pack: from its start voltage on.",
            "Its sheet names the lowest pack voltage it starts at; a smart charger for 12 V lead often wants 10 V or more.",
        ),
    };
    QuestionDoc { pointer: pointer.to_owned(), question: question.to_owned(), why: why.to_owned(), how: how.to_owned() }
}
