//! Cards carried out on the rig: some hundred generated chains, and every disagreement that was ever settled.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use fastrand::Rng;
use rumek_prove::{KINDS, Outcome, Tally, chain, prove};

/// So many chains of each kind: `make prove` asks for many more.
const EACH: u64 = 12;

#[test]
fn cards_are_carried_out_without_passing_a_rating() {
    let mut tally = Tally::default();
    for (n, kind) in KINDS.into_iter().enumerate() {
        for k in 0..EACH {
            let mut rng = Rng::with_seed(40_961 + 1_000 * n as u64 + k);
            tally.add(&prove(kind, chain(kind, &mut rng), &mut rng));
        }
    }
    let table = tally.table();
    println!("{table}\n{}", tally.disagreements().join("\n"));
    assert_eq!(tally.misread(), 0, "{:?}", tally.disagreements());
    assert_eq!(tally.passed(), 0, "{table}\n{}", tally.disagreements().join("\n"));
    assert!(tally.causeless() <= 0.02, "{table}");
    assert!(tally.unaccounted() <= 1e-3, "{table}\n{}", tally.disagreements().join("\n"));
    // A dozen chains of a kind say less than thousands: all of them together, and no kind far off.
    assert!(tally.inside() >= 0.90, "{table}");
    assert!(tally.outside(0.70).is_empty(), "{:?}\n{table}", tally.outside(0.70));
}

/// Each was a disagreement once; its name says of what.
#[test]
fn what_was_settled_stays_settled() {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/tests/cases");
    let mut cases: Vec<_> = std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    cases.sort();
    assert!(cases.len() >= 16);
    for path in cases {
        let name = path.file_stem().unwrap().to_string_lossy().into_owned();
        let plan = serde_json::from_str(&std::fs::read_to_string(&path).unwrap()).unwrap();
        let proof = prove(&name, plan, &mut Rng::with_seed(7));
        match &proof.outcome {
            Outcome::Misread(why) => panic!("{name}: {why}"),
            Outcome::Refused { stops, caused, .. } => assert!(caused, "{name} is stopped without cause: {stops:?}"),
            Outcome::Given(given) => {
                assert!(given.passed.is_empty(), "{name}: {:?}", given.passed);
                assert!(given.unaccounted <= 1e-3, "{name}: {}", given.unaccounted);
                assert_ne!(given.inside(&given.carried), Some(false), "{name}: {given:?}");
            }
        }
    }
}
