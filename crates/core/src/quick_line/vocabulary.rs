//! The words a line may be made of, and the nearest of them to one that is none.

use crate::physics::cell::named;

/// What walls give, V.
pub(super) const WALL_V: &[f64] = &[100.0, 110.0, 115.0, 117.0, 120.0, 125.0, 127.0, 220.0, 230.0, 240.0];

/// The units of a number, each in its plain spelling.
pub(super) const UNITS: &[&str] = &[
    "v", "mv", "vac", "a", "ma", "w", "kw", "va", "ah", "mah", "wh", "kwh", "c", "s", "p", "%", "f", "°f", "mohm",
    "ohm", "°c", "awg", "mm2", "m", "cm", "ft", "inch", "h", "min", "x",
];

/// Other spellings of them.
const SPELLED: &[(&str, &[&str])] = &[
    ("v", &["volt", "volts", "vdc", "vdc.", "v."]),
    ("vac", &["vrms"]),
    ("a", &["amp", "amps", "ampere", "amperes", "adc"]),
    ("ma", &["milliamp", "milliamps", "milliampere", "milliamperes"]),
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
    ("ft", &["foot", "feet"]),
    ("inch", &["inches"]),
    ("h", &["hr", "hrs", "hour", "hours"]),
    ("min", &["mins", "minute", "minutes"]),
    ("%", &["percent", "pct"]),
    ("x", &["×"]),
];

/// Words that say nothing of their own.
pub(super) const FILLER: &[&str] = &[
    "servo",
    "servos",
    "esc",
    "bec",
    "leads",
    "holder",
    "health",
    "soh",
    "lvc",
    "bit",
    "constant",
    "chargers",
    "heater",
    "de",
    "one",
    "after",
    "just",
    "still",
    "fresh",
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
    "rests",
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
    "hobby",
    "says",
    "measures",
    "sits",
    "sitting",
    "stands",
    "standing",
    "currently",
    "tool",
    "recover",
    "switching",
    "mode",
    "cv",
    "fed",
    "recommended",
    "trickle",
    "aa",
    "aaa",
    "ebike",
    "e-bike",
    "scooter",
    "e-scooter",
    "drone",
    "quad",
    "plane",
    "glider",
    "boat",
    "rectified",
    "rectifier",
    "way",
    "between",
    "into",
    "approx",
    "approx.",
    "approximately",
    "internal",
    "resistance",
    "sub-c",
    "subc",
    "bank",
    "14500",
    "26650",
    "32650",
    "32700",
    "how",
    "long",
    "will",
    "does",
    "can",
    "while",
    "feeding",
    "feeds",
    "roughly",
    "around",
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
    "pd",
    "usb",
    "usb-c",
    "type-c",
    "mains",
    "wall",
    "outlet",
    "transformer",
    "station",
    "atx",
    "computer",
    "server",
    "generator",
    "lab",
    "solar",
    "panel",
    "alternator",
];

pub(super) const CHARGER_WORDS: &[&str] = &[
    "charger",
    "chargers",
    "smart",
    "buck",
    "boost",
    "buck-boost",
    "buckboost",
    "module",
    "converter",
    "linear",
    "linear-charger",
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
    "regulator",
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
    "balancers",
    "balancing",
    "bms",
    "lithium",
    "starting",
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
    "run",
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
    "slow",
    "slowly",
    "plug",
    "connector",
    "after",
    "when",
    "twin",
    "seven",
    "ten",
    "twelve",
    "single",
    "without",
    "wart",
    "fuse",
    "fused",
    "cc-cv",
    "cccv",
    "unregulated",
    "regulated",
];

/// What a pack that is warm has just done.
pub(super) const FLOWN: &[&str] =
    &["flight", "flights", "flying", "flown", "flew", "landed", "landing", "ride", "riding", "rode", "drive", "drove"];
/// Words of where a pack stands, and how warm that is: a C beside them is a degree.
pub(super) const WARMTH: &[&str] =
    &["room", "ambient", "outside", "garage", "shed", "basement", "cold", "warm", "cool", "hot", "temperature", "temp"];

/// What a unit is called here.
pub(super) fn plain_unit(unit: &str) -> &str {
    SPELLED.iter().find(|(_, others)| others.contains(&unit)).map_or(unit, |(plain, _)| plain)
}

/// Whether a word is one of those that are read.
pub(super) fn known(word: &str) -> bool {
    // No slip is mended to a flight: `light` is none.
    named(word).is_some()
        || super::damage::says(word)
        || super::harm::says(word)
        || super::scope::says(word)
        || super::refused::says(word)
        || super::usual::things::says(word)
        || FLOWN.contains(&word)
        || all().any(|one| one == word)
        || super::label::range(word).is_some()
}

fn all() -> impl Iterator<Item = &'static str> {
    [FILLER, SOURCE_WORDS, CHARGER_WORDS, PURPOSES, WARMTH].into_iter().flatten().copied()
}

/// The word that one mistyped letter made of this; `None` where there is none, or the word is too short to tell.
pub(super) fn nearest(word: &str) -> Option<&'static str> {
    const SHORTEST: usize = 4;
    if word.chars().count() < SHORTEST || word.chars().any(|c| c.is_ascii_digit()) {
        return None;
    }
    const CHEMISTRIES: &[&str] =
        &["lipo", "lihv", "liion", "lifepo", "nimh", "supercap", "flooded", "titanate", "nicad"];
    // A number is never a slip: `light` is no eight.
    const NUMBERS: &[&str] = &["two", "three", "four", "five", "six", "seven", "eight", "ten", "twelve"];
    // Words of four letters are a slip away from too many others: `well` is no wall.
    all()
        .filter(|one| one.len() > SHORTEST && !NUMBERS.contains(one))
        .chain(CHEMISTRIES.iter().copied())
        .chain(super::damage::mended())
        .chain(super::harm::mended())
        .find(|one| one_slip(word, one))
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
