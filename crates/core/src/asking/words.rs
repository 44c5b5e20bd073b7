//! Why a field matters, how to find it out, and in which order fields are asked for.

use crate::formats::{AskChoiceDoc, AskDoc};

/// What decides most is asked first.
pub(crate) fn order(pointer: &str) -> usize {
    const ORDER: &[&str] = &[
        "/pack/mark",
        "/pack/chemistry",
        "/pack/series",
        "/pack/start",
        "/pack/temperature_c",
        "/settings",
        "/pack/capacity_ah",
        "/source/kind",
        "/source",
        "/pack",
    ];
    ORDER.iter().position(|start| pointer.starts_with(start)).unwrap_or(ORDER.len())
}

/// A question with why it matters and how to find out.
pub(crate) fn ask_doc(pointer: &str, question: String, holds: bool, choices: Vec<AskChoiceDoc>) -> AskDoc {
    let (why, how) = words(pointer);
    AskDoc { pointer: pointer.to_owned(), question, why: why.to_owned(), how: how.to_owned(), holds, choices }
}

/// Why a field matters, and how to find it out.
fn words(pointer: &str) -> (&'static str, &'static str) {
    match pointer {
        "/pack/chemistry" => (
            "Each kind is charged to another voltage. Too high a voltage can set it on fire.",
            "Read the label: Li-ion 3.6 or 3.7 V a cell, LiFePO4 3.2 V, NiMH 1.2 V; lead batteries are heavy and say Pb.",
        ),
        "/pack/series" => (
            "The charge voltage follows from the number of cells in series.",
            "Count the wires of the balance lead and take one away, or divide the volts on the label by those of one cell.",
        ),
        "/pack/capacity_ah" => ("The current follows from the capacity.", "The label says it in Ah, mAh or Wh."),
        "/pack/start/rest_voltage_v" | "/pack/start/cell_voltages_v" | "/pack/label_v" => (
            "A pack that reads too low must not get its normal charge.",
            "Measure at the pack's own plug, with nothing connected.",
        ),
        "/pack/temperature_c" => {
            ("A pack that is too cold or too warm must not be charged.", "Hold a thermometer to it.")
        }
        "/pack/mark" => ("A damaged pack can catch fire while it charges.", "Look at every side of it, and smell it."),
        "/pack/rated_c_rate" | "/pack/rated_charge_a" => (
            "What a pack may give says nothing of what it may be charged with.",
            "Look for the word “charge” on the label.",
        ),
        "/source/kind" => (
            "A supply that does not hold its current gives a low pack more than both bear.",
            "Look at its front: one knob and display for volts, one for amps.",
        ),
        "/source/chemistry" => ("How far it may be run down depends on its kind.", "Its label says it."),
        "/source" => ("Its volts and amps decide what can be set.", "Its label says both."),
        "/pack/packs_in_parallel" => (
            "Side by side they share the current; one after the other they add their volts.",
            "Follow the wires from plus.",
        ),
        _ => ("The settings depend on it.", ""),
    }
}

/// The question for a field that was not said, in the words of the person.
pub(crate) fn question(pointer: &str) -> &'static str {
    match pointer {
        "/pack" | "/pack/chemistry" => "Which kind of battery is it?",
        "/pack/series" => "How many cells are in series?",
        "/pack/capacity_ah" | "/pack/capacitance_f" => {
            "How much does the pack hold? For example: 4000 mAh, 7 Ah, 90 Wh."
        }
        "/source" => "What do you charge it from? For example: 30 V 5 A bench supply.",
        "/source/kind" => "What can be set on the supply?",
        "/source/max_current_a" => "How many amps or watts does the supply give?",
        "/source/voltage_v" => "How many volts does the supply give?",
        "/source/max_voltage_v" => "How many volts does the supply reach?",
        "/source/secondary_vac" => "How many volts AC does the transformer give?",
        "/source/open_vac" => "How many volts AC does the transformer give with nothing connected?",
        "/source/chemistry" => "Which kind of battery feeds it?",
        "/source/series" => "How many cells has the battery that feeds it in series?",
        "/source/capacity_ah" => "How much does the battery hold that feeds it?",
        "/charger/kind" => "What kind of charger is it?",
        "/charger/output_max_a" | "/charger/output_max_w" => "How many amps or watts does the charger give?",
        "/charger/lamp_rated_v" | "/charger/lamp_rated_w" => "How many volts and watts are printed on the lamp?",
        "/charger/resistance_ohm" => "How many ohms has the resistor?",
        "/load/current_a" | "/load" => "How much does the load draw?",
        "/leads/output/awg" | "/leads/input/awg" => "How thick is the cable?",
        "/cut_off/high_v" => "At which voltage does the relay open?",
        "/cut_off/low_v" => "At which voltage does the relay close again?",
        _ => "",
    }
}
