//! The words a line may be made of, and the nearest of them to one that is none.

use crate::physics::cell::named;

/// The units of a number, each in its plain spelling.
pub(super) const UNITS: &[&str] = &[
    "v", "mv", "vac", "a", "ma", "w", "kw", "va", "ah", "mah", "wh", "kwh", "c", "s", "p", "%", "f", "°f", "mohm",
    "ohm", "°c", "awg", "mm2", "m", "cm", "h", "min", "x",
];

/// Other spellings of them.
const SPELLED: &[(&str, &[&str])] = &[
    ("v", &["volt", "volts", "vdc", "vdc.", "v."]),
    ("vac", &["vrms"]),
    ("a", &["amp", "amps", "ampere", "amperes", "adc"]),
    ("w", &["watt", "watts"]),
    ("ah", &["amp-hour", "amp-hours", "amphour", "amphours", "ampere-hours", "ahr", "a·h", "a.h"]),
    ("mah", &["milliamp-hours", "milliamphours", "ma·h"]),
    ("wh", &["watt-hour", "watt-hours", "whr"]),
    ("f", &["farad", "farads"]),
    ("°f", &["degf", "fahrenheit", "ºf"]),
    ("°c", &["degc", "celsius", "ºc", "°"]),
    ("mohm", &["mω", "milliohm", "milliohms", "mohms"]),
    ("ohm", &["ω", "ohms"]),
    ("mm2", &["mm²", "sqmm"]),
    ("awg", &["ga", "gauge"]),
    ("m", &["metre", "metres", "meter", "meters"]),
    ("h", &["hr", "hrs", "hour", "hours"]),
    ("min", &["mins", "minute", "minutes"]),
    ("%", &["percent", "pct"]),
    ("x", &["×"]),
];

/// Words that say nothing of their own.
pub(super) const FILLER: &[&str] = &[
    "a",
    "an",
    "the",
    "from",
    "on",
    "with",
    "and",
    "pack",
    "packs",
    "battery",
    "batteries",
    "of",
    "at",
    "to",
    "set",
    "rest",
    "resting",
    "reads",
    "reading",
    "read",
    "measured",
    "now",
    "charge",
    "cells",
    "cell",
    "charging",
    "chg",
    "charged",
    "initial",
    "recharge",
    "discharge",
    "discharging",
    "dischg",
    "dis",
    "burst",
    "continuous",
    "cont",
    "peak",
    "rate",
    "current",
    "max",
    "max.",
    "maximum",
    "rated",
    "up",
    "is",
    "are",
    "my",
    "for",
    "by",
    "in",
    "use",
    "via",
    "through",
    "capacity",
    "voltage",
    "nominal",
    "typ",
    "typ.",
    "label",
    "type",
    "rechargeable",
    "off",
    "under",
    "below",
    "less",
    "than",
    "it",
    "its",
    "dc",
    "power",
    "-",
    "–",
    "output",
    "out",
    "limit",
    "limited",
    "charges",
    "using",
    "per",
    "each",
    "temperature",
    "temp",
    "no",
    "not",
    "exceed",
    "state",
    "soc",
    "about",
    "starts",
    "start",
    "left",
    "or",
    "then",
    "i",
    "have",
    "want",
    "must",
    "be",
    "should",
    "need",
    "please",
    "old",
    "new",
    "small",
    "big",
];

pub(super) const SOURCE_WORDS: &[&str] = &[
    "bench",
    "supply",
    "supplies",
    "psu",
    "psus",
    "fixed",
    "brick",
    "bricks",
    "adapter",
    "adaptor",
    "adapters",
    "adjustable",
    "variable",
    "knob",
    "port",
    "usb",
    "mains",
    "wall",
    "outlet",
    "transformer",
    "station",
    "atx",
    "computer",
    "server",
];

pub(super) const CHARGER_WORDS: &[&str] = &[
    "charger",
    "smart",
    "buck",
    "boost",
    "buck-boost",
    "buckboost",
    "module",
    "converter",
    "linear",
    "lamp",
    "lamps",
    "bulb",
    "bulbs",
    "cc",
    "pwm",
    "resistor",
    "step-down",
    "step-up",
    "dcdc",
    "dc-dc",
    "board",
];

/// Words that say what a figure is for.
const PURPOSES: &[&str] = &[
    "cycle",
    "cyclic",
    "standby",
    "float",
    "storage",
    "full",
    "empty",
    "flat",
    "half",
    "balance",
    "balanced",
    "balancer",
    "wire",
    "cable",
    "lead",
    "acid",
    "lead-acid",
    "leadacid",
    "sealed",
    "sla",
    "vrla",
    "starter",
    "car",
    "vehicle",
    "load",
    "loads",
    "runs",
    "running",
    "drives",
    "driving",
    "powers",
    "powering",
    "feeds",
    "feeding",
    "draws",
    "drawing",
    "stop",
    "stops",
    "until",
    "ends",
    "end",
    "cutoff",
    "cut-off",
    "relay",
    "taper",
    "tail",
    "input",
    "parallel",
    "series",
    "two",
    "three",
    "four",
    "five",
    "six",
    "eight",
    "duty",
    "step",
    "down",
    "ac",
    "laptop",
    "degrees",
    "deg",
    "gentle",
    "standard",
    "hurry",
    "gently",
    "after",
    "when",
    "twin",
    "unregulated",
    "regulated",
];

/// What a unit is called here.
pub(super) fn plain_unit(unit: &str) -> &str {
    SPELLED.iter().find(|(_, others)| others.contains(&unit)).map_or(unit, |(plain, _)| plain)
}

/// Whether a word is one of those that are read.
pub(super) fn known(word: &str) -> bool {
    named(word).is_some() || all().any(|one| one == word) || super::label::range(word).is_some()
}

fn all() -> impl Iterator<Item = &'static str> {
    [FILLER, SOURCE_WORDS, CHARGER_WORDS, PURPOSES].into_iter().flatten().copied()
}

/// The word that one mistyped letter made of this; `None` where there is none, or the word is too short to tell.
pub(super) fn nearest(word: &str) -> Option<&'static str> {
    const SHORTEST: usize = 4;
    if word.chars().count() < SHORTEST || word.chars().any(|c| c.is_ascii_digit()) {
        return None;
    }
    const CHEMISTRIES: &[&str] =
        &["lipo", "lihv", "liion", "lifepo", "nimh", "supercap", "flooded", "titanate", "nicad"];
    // Words of four letters are a slip away from too many others: `well` is no wall.
    all().filter(|one| one.len() > SHORTEST).chain(CHEMISTRIES.iter().copied()).find(|one| one_slip(word, one))
}

/// Whether one letter was left out, put in, changed, or two neighbours swapped.
fn one_slip(a: &str, b: &str) -> bool {
    let (a, b): (Vec<char>, Vec<char>) = (a.chars().collect(), b.chars().collect());
    let same = a.iter().zip(&b).take_while(|(x, y)| x == y).count();
    let (rest_a, rest_b) = (&a[same..], &b[same..]);
    match a.len() as isize - b.len() as isize {
        0 => {
            let changed = rest_a.get(1..) == rest_b.get(1..) && !rest_a.is_empty();
            let swapped =
                rest_a.len() >= 2 && rest_a[0] == rest_b[1] && rest_a[1] == rest_b[0] && rest_a[2..] == rest_b[2..];
            changed || swapped
        }
        1 => rest_a[1..] == *rest_b,
        -1 => *rest_a == rest_b[1..],
        _ => false,
    }
}
