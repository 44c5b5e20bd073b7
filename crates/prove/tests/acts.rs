//! Acts of the other rooms carried out: some of each kind; `make prove` asks for two thousand.

#![allow(clippy::unwrap_used, clippy::expect_used, clippy::panic)]

use fastrand::Rng;
use rumek_prove::{ROOMS, RoomTally, carried};

/// So many of each kind.
const EACH: u64 = 100;

#[test]
fn acts_are_carried_out_within_what_a_pack_bears() {
    let mut tally = RoomTally::default();
    for (n, kind) in ROOMS.into_iter().enumerate() {
        for k in 0..EACH {
            let mut rng = Rng::with_seed(70_001 + 1_000 * n as u64 + k);
            if let Some(told) = carried(kind, &mut rng) {
                tally.add(&told);
            }
        }
    }
    println!("{}", tally.table());
    let said = tally.disagreements().join("\n");
    assert_eq!(tally.passed_or_stuck(), (0, 0), "{said}");
    for (kind, [given_up, missed, inside]) in tally.shares() {
        assert!(given_up <= 0.02 && missed <= 0.04 && inside >= 0.9, "{kind}: {given_up} {missed} {inside}\n{said}");
    }
}
