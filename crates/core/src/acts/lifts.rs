//! What lifts a stop, where the rule that found it names nothing of its own: a row a code.

use crate::codes::CheckCode;
use crate::formats::LiftDoc;

/// What to do, and where what is found or chosen then is put in; empty where another thing has to be done.
type Row = (CheckCode, &'static str, &'static str);

const ROWS: &[Row] = &[
    (CheckCode::PackParallelMismatch, "Bring the packs level first, or charge them one by one.", "/other_packs"),
    (CheckCode::PackStartUnknown, "Empty the pack to 1.0 V a cell, then put 0 % as its start.", "/pack/start/soc"),
    (
        CheckCode::SourceNoCurrentLimit,
        "Use a supply that limits its current, or put a lamp or a resistor between.",
        "/source",
    ),
    (
        CheckCode::SourceNotIsolated,
        "Take supplies with isolated outputs, and say that they are.",
        "/source/isolated_outputs",
    ),
    (
        CheckCode::SourceStepTooCoarse,
        "Put a lamp or a resistor between, or use a supply that limits its current.",
        "/source",
    ),
    (CheckCode::SourceHighVoltageTransformer, "Use a safety transformer whose label says its volts.", "/source/type"),
    (CheckCode::ChargerInputTooHigh, "Feed the charger from a supply within its input range.", "/source"),
    (CheckCode::ChargerInputTooLow, "Feed the charger from a supply within its input range.", "/source"),
    (CheckCode::ChargerWillNotStart, "Let Rescue bring the pack up to where this charger starts.", ""),
    (CheckCode::ChargerCannotStepDown, "Use a supply of fewer volts, or a charger that can step down.", "/source"),
    (CheckCode::ChargerCannotStepUp, "Use a supply of more volts, or a charger that can step up.", "/source"),
    (CheckCode::ChargerTooManyCells, "Feed it with more volts, or use a charger for so many cells.", "/charger"),
    (CheckCode::ChargerLimiterHeat, "Use a lamp or a resistor made for that.", "/charger"),
    (CheckCode::ChargerOverloaded, "Use one that is made for that, or fewer amps.", "/charger"),
    (CheckCode::ChargerCutoffWillNotStart, "Set the relay to close above what the pack reads now.", "/cut_off/low_v"),
    (CheckCode::LeadsUndersized, "Use a thicker cable, or set fewer amps.", "/leads"),
    (CheckCode::LeadsConnector, "Use a plug made for that, or set fewer amps.", "/leads"),
    (CheckCode::LeadsFuseTooSmall, "Use a larger fuse, if the cable carries it, or set fewer amps.", "/leads"),
    (CheckCode::LeadsFuseTooBig, "Use a smaller fuse, or a thicker cable.", "/leads"),
    (CheckCode::LeadsFuseVoltage, "Use a fuse made for these volts DC.", "/leads"),
    (CheckCode::LeadsFuseBreaking, "Use a fuse that breaks so much current.", "/leads"),
    (CheckCode::LoadPreventsTermination, "Switch the load off while it charges.", "/load"),
    (CheckCode::LoadExceedsCharge, "Switch the load off, or use a charger that gives more.", "/load"),
    (CheckCode::LoadRateTooHigh, "Use a smaller load.", "/load"),
    (CheckCode::MainsCircuit, "Use another circuit, or set fewer amps.", "/mains"),
    (
        CheckCode::SettingsCurrentNotHeld,
        "Leave the current open, or use something that holds it.",
        "/settings/current_a",
    ),
];

/// What lifts a stop of this kind.
pub(super) fn usual(code: CheckCode) -> Vec<LiftDoc> {
    let of_code = ROWS.iter().filter(|(of, ..)| *of == code);
    let lift = |(_, does, pointer): &Row| LiftDoc {
        does: (*does).to_owned(),
        pointer: (!pointer.is_empty()).then(|| (*pointer).to_owned()),
        value: None,
    };
    of_code.map(lift).collect()
}
