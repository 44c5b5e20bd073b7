//! What was told of one case of a room, and what came of it.

use fastrand::Rng;

use super::found::Inside;
use super::{donors, downs, levels, offers, rescues};

/// One case carried out.
#[derive(Clone, Debug, Default)]
pub struct Told {
    /// Its kind.
    pub kind: &'static str,
    /// Whether anything was told to be done with amps or volts.
    pub told: bool,
    /// What was passed that the family bears, in words.
    pub passed: Vec<String>,
    /// Sound, and given up all the same: why.
    pub given_up: Option<String>,
    /// Faulty, and found good: how.
    pub missed: Option<String>,
    /// It came to no end.
    pub stuck: Option<String>,
    /// Times, and how many of them lay in the told span.
    pub timed: usize,
    /// See `timed`.
    pub inside: usize,
    /// What lay outside, in words.
    pub outside: Vec<String>,
    /// The question, for whoever settles a disagreement.
    pub asked: String,
}

impl Told {
    /// Notes a time against its span, a minute either way.
    pub(super) fn time(&mut self, what: &str, took_s: f64, (low_s, high_s): (f64, f64)) {
        self.timed += 1;
        if (low_s - 60.0..=high_s + 60.0).contains(&took_s) {
            self.inside += 1;
        } else {
            self.outside.push(format!("{what}: {took_s:.0} s, told {low_s:.0} to {high_s:.0}"));
        }
    }

    /// Notes a state of charge against its span.
    pub(super) fn share(&mut self, what: &str, soc: f64, (low, high): (f64, f64)) {
        self.timed += 1;
        if (low..=high).contains(&soc) {
            self.inside += 1;
        } else {
            self.outside.push(format!("{what}: {soc:.3}, told {low:.3} to {high:.3}"));
        }
    }
}

/// Every kind of case.
pub const ROOMS: [&str; 15] = {
    let mut names = [downs::TEST; 15];
    (names[1], names[2], names[3]) = (downs::STORAGE, donors::DONOR, levels::LEVEL);
    (names[4], names[5]) = (offers::HELP, offers::BIG);
    let mut k = 0;
    while k < Inside::ALL.len() {
        names[k + 6] = Inside::ALL[k].name();
        k += 1;
    }
    names
};

/// Makes a case of a kind out of a seed and carries it out.
#[must_use]
pub fn carried(kind: &str, rng: &mut Rng) -> Option<Told> {
    match kind {
        downs::TEST => downs::tested(rng),
        downs::STORAGE => downs::to_storage(rng),
        donors::DONOR => donors::touched(rng),
        levels::LEVEL => levels::levelled(rng),
        offers::HELP => offers::helped(rng),
        offers::BIG => offers::big(rng),
        rescued => rescues::carried(Inside::ALL.into_iter().find(|inside| inside.name() == rescued)?, rng),
    }
}
