//! What things usually are: the battery of a drill, of an alarm, of a boat. One row a thing; no makes, no models.

use crate::codes::Chemistry::{self, LeadAgm, LeadFlooded, LeadGel, Lfp, LiIon, Lihv, Lipo, Nicd, Nimh};

/// A thing that has a battery.
#[derive(Debug)]
pub(super) struct Thing {
    /// What it is called; several words stand one after the other.
    pub(super) spelled: &'static [&'static str],
    /// How its battery is told.
    pub(super) name: &'static str,
    /// What its battery may be, each with its weight; they come to 1.
    pub(super) is: &'static [(Chemistry, f64)],
    /// How many cells it usually has in series where no volts are said.
    pub(super) series: &'static [u32],
}

const ION: &[(Chemistry, f64)] = &[(LiIon, 0.95), (Lfp, 0.05)];
const TOOL: &[(Chemistry, f64)] = &[(LiIon, 0.9), (Nimh, 0.05), (Nicd, 0.05)];
const POUCH: &[(Chemistry, f64)] = &[(LiIon, 0.55), (Lipo, 0.45)];
const FLYING: &[(Chemistry, f64)] = &[(Lipo, 0.93), (Lihv, 0.05), (LiIon, 0.02)];
const RADIO: &[(Chemistry, f64)] = &[(Nimh, 0.35), (Lipo, 0.25), (LiIon, 0.2), (Lfp, 0.2)];
const ROUND: &[(Chemistry, f64)] = &[(Nimh, 0.92), (Nicd, 0.08)];
const STARTING: &[(Chemistry, f64)] = &[(LeadFlooded, 0.6), (LeadAgm, 0.35), (LeadGel, 0.05)];
const SEALED: &[(Chemistry, f64)] = &[(LeadAgm, 0.85), (LeadGel, 0.14), (LeadFlooded, 0.01)];
const LEISURE: &[(Chemistry, f64)] = &[(LeadAgm, 0.33), (LeadFlooded, 0.3), (Lfp, 0.27), (LeadGel, 0.1)];

pub(super) const THINGS: &[Thing] = &[
    Thing {
        spelled: &[
            "e-bike",
            "ebike",
            "pedelec",
            "e-scooter",
            "escooter",
            "scooter",
            "skateboard",
            "e-skateboard",
            "longboard",
            "hoverboard",
            "unicycle",
            "electric bike",
            "electric bicycle",
            "bike battery",
        ],
        name: "an e-bike or scooter battery",
        is: ION,
        series: &[],
    },
    Thing {
        spelled: &[
            "drill",
            "driver",
            "screwdriver",
            "tool",
            "tools",
            "grinder",
            "saw",
            "chainsaw",
            "mower",
            "lawnmower",
            "trimmer",
            "strimmer",
            "hedge",
            "vacuum",
            "hoover",
            "impact",
            "multitool",
            "blower",
            "nailer",
        ],
        name: "a tool battery",
        is: TOOL,
        series: &[],
    },
    Thing {
        spelled: &["phone", "smartphone", "tablet", "camera", "camcorder", "gopro"],
        name: "the battery of a phone or a camera",
        is: POUCH,
        series: &[1, 2],
    },
    Thing { spelled: &["laptop", "notebook"], name: "a laptop battery", is: POUCH, series: &[3, 4] },
    Thing {
        spelled: &["power bank", "powerbank", "torch", "flashlight", "headlamp", "headtorch", "vape", "speaker"],
        name: "the battery of a torch or a power bank",
        is: ION,
        series: &[1],
    },
    Thing {
        spelled: &["aa", "aaa", "mignon", "sub-c", "subc", "cordless phone", "dect", "shaver", "toothbrush"],
        name: "small round cells",
        is: ROUND,
        series: &[],
    },
    Thing {
        spelled: &["stick", "hump", "airsoft"],
        name: "a stick pack",
        is: &[(Nimh, 0.85), (Lipo, 0.1), (Nicd, 0.05)],
        series: &[],
    },
    Thing {
        spelled: &[
            "car",
            "starter",
            "vehicle",
            "motorcycle",
            "motorbike",
            "moped",
            "tractor",
            "truck",
            "lorry",
            "quadbike",
            "snowmobile",
            "generator battery",
        ],
        name: "a starter battery",
        is: STARTING,
        series: &[6],
    },
    Thing {
        spelled: &[
            "alarm",
            "burglar",
            "siren",
            "ups",
            "toy",
            "ride-on",
            "wheelchair",
            "mobility",
            "stairlift",
            "emergency",
            "exit",
            "golf trolley",
            "fish finder",
            "fishfinder",
            "gate",
        ],
        name: "a sealed lead battery",
        is: SEALED,
        series: &[],
    },
    Thing {
        spelled: &[
            "leisure",
            "boat",
            "marine",
            "caravan",
            "camper",
            "campervan",
            "motorhome",
            "rv",
            "solar",
            "trolling",
            "off-grid",
            "offgrid",
        ],
        name: "a leisure battery",
        is: LEISURE,
        series: &[],
    },
    Thing {
        spelled: &[
            "drone",
            "quad",
            "quadcopter",
            "plane",
            "glider",
            "heli",
            "helicopter",
            "buggy",
            "truggy",
            "fpv",
            "crawler",
            "edf",
            "wing",
            "multirotor",
            "racer",
            "warbird",
            "jet",
        ],
        name: "the pack of a model",
        is: FLYING,
        series: &[],
    },
    Thing {
        spelled: &["tx", "rx", "receiver", "transmitter", "radio"],
        name: "a receiver or transmitter pack",
        is: RADIO,
        series: &[],
    },
];

/// Lead, of which kind nobody said.
pub(super) const LEAD: &[(Chemistry, f64)] = &[(LeadAgm, 0.5), (LeadFlooded, 0.35), (LeadGel, 0.15)];
/// Lithium, of which kind nobody said.
pub(super) const LITHIUM: &[(Chemistry, f64)] =
    &[(Lfp, 0.42), (LiIon, 0.38), (Lipo, 0.176), (Lihv, 0.02), (Chemistry::Lto, 0.004)];
/// Nothing says what it is.
pub(super) const ANYTHING: &[(Chemistry, f64)] = &[
    (LiIon, 0.28),
    (Lipo, 0.25),
    (LeadAgm, 0.14),
    (Lfp, 0.13),
    (Nimh, 0.09),
    (LeadFlooded, 0.06),
    (LeadGel, 0.02),
    (Nicd, 0.01),
    (Lihv, 0.01),
    (Chemistry::Supercap, 0.005),
    (Chemistry::SodiumIon, 0.003),
    (Chemistry::Lto, 0.002),
];

/// The thing that some words name; the one that is named first.
pub(super) fn named(words: &[String]) -> Option<&'static Thing> {
    (0..words.len()).find_map(|n| {
        THINGS.iter().find(|thing| {
            thing.spelled.iter().any(|spelled| {
                let mut parts = spelled.split(' ');
                let mut at = n;
                parts.all(|part| {
                    at += 1;
                    words.get(at - 1).is_some_and(|word| word == part)
                })
            })
        })
    })
}

/// Whether a word belongs to the name of a thing.
pub(crate) fn says(word: &str) -> bool {
    THINGS.iter().any(|thing| thing.spelled.iter().any(|spelled| spelled.split(' ').any(|part| part == word)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_weights_of_a_thing_come_to_one() {
        let rows = THINGS.iter().map(|thing| (thing.name, thing.is));
        for (name, is) in rows.chain([("lead", LEAD), ("lithium", LITHIUM), ("anything", ANYTHING)]) {
            let sum: f64 = is.iter().map(|(_, weight)| weight).sum();
            assert!((sum - 1.0).abs() < 1e-9, "{name}: {sum}");
        }
    }

    #[test]
    fn several_words_stand_one_after_the_other() {
        let words = |text: &str| text.split(' ').map(str::to_owned).collect::<Vec<_>>();
        assert_eq!(named(&words("my electric bike")).map(|thing| thing.name), Some("an e-bike or scooter battery"));
        assert!(named(&words("electric thing")).is_none());
    }
}
