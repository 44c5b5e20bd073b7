//! One chain answered and carried out.

use fastrand::Rng;
use rumek_core::CellFigures;
use rumek_core::answer;
use rumek_core::codes::{EndReason, Place, Severity};
use rumek_core::formats::{PlanDoc, ResultDoc, from_value};
use rumek_rig::{Bench, Carried, Ended, Passing, Rating, Truth, carry_out, switch_on};
use serde_json::Value;

use crate::truths;

/// What came of one chain.
#[derive(Clone, Debug)]
pub struct Proof {
    /// Its kind.
    pub kind: String,
    /// The plan.
    pub plan: Value,
    /// What the core said, and what came of it.
    pub outcome: Outcome,
}

/// What the core said, and what came of it.
#[derive(Clone, Debug)]
pub enum Outcome {
    /// The document was refused as one that cannot be read: a mistake of whoever made it.
    Misread(String),
    /// No settings; carried out all the same.
    Refused {
        /// The stops.
        stops: Vec<String>,
        /// What was passed, and whether the charge did what it should without it.
        caused: bool,
        /// What was passed.
        passed: Vec<Passing>,
    },
    /// Settings, carried out as told.
    Given(Box<Given>),
}

/// Settings carried out.
#[derive(Clone, Debug)]
pub struct Given {
    /// Ratings passed: as told, and with things as they may be.
    pub passed: Vec<(Passing, Truth)>,
    /// As told.
    pub carried: Carried,
    /// With things as they may be.
    pub drawn: Vec<(Carried, Truth)>,
    /// The total told, with its span, s.
    pub total_s: Option<(f64, f64, f64)>,
    /// The charge told, Ah.
    pub charge_ah: f64,
    /// Why it ends, as told.
    pub reason: EndReason,
    /// The time to the charge voltage as told, s.
    pub to_cv_s: Option<f64>,
    /// Energy that the rig cannot account for, as a share of what flowed.
    pub unaccounted: f64,
}

impl Given {
    /// Whether a time lies within the told span; a minute is whoever comes late. `None` where no time was told.
    #[must_use]
    pub fn inside(&self, carried: &Carried) -> Option<bool> {
        let (_, low_s, high_s) = self.total_s?;
        Some((low_s - 60.0..=high_s + 60.0).contains(&carried.after_s))
    }
}

/// So many times each chain is carried out with things as they may be.
const DRAWN: usize = 2;

/// Answers a plan and carries it out.
#[must_use]
pub fn prove(kind: &str, plan: Value, rng: &mut Rng) -> Proof {
    let outcome = match from_value::<PlanDoc>(&plan).and_then(|doc| answer(&doc)) {
        Err(problems) => {
            let said = problems.problems.first().map(|one| format!("{}: {}", one.pointer, one.message));
            Outcome::Misread(said.unwrap_or_default())
        }
        Ok(card) if card.settings.is_none() => refused(&card),
        Ok(card) => given(&card, rng),
    };
    Proof { kind: kind.to_owned(), plan, outcome }
}

fn given(card: &ResultDoc, rng: &mut Rng) -> Outcome {
    let mut passed = Vec::new();
    let mut carry = |truth: Truth| {
        let mut bench = Bench::of(&card.resolved, card.start.soc, &truth)?;
        let carried = carry_out(card, &mut bench);
        passed.extend(bench.passings().lasting().map(|one| (*one, truth)));
        Some((carried, bench))
    };
    let Some((carried, bench)) = carry(Truth::AS_TOLD) else {
        return Outcome::Misread("a pack the rig has no figures of".to_owned());
    };
    let mut drawn = Vec::new();
    for _ in 0..DRAWN {
        let truth = truths::drawn(card, rng);
        drawn.extend(carry(truth).map(|(carried, _)| (carried, truth)));
    }
    // A load that is switched off leaves the pack what it drew: no rating may be passed then, whatever the time.
    if card.resolved.load.is_some() {
        carry(Truth { load_until_s: 0.3 * card.end.after_s, ..truths::drawn(card, rng) });
    }
    let time = &card.time;
    let total_s = time.total_s.zip(time.total_low_s).zip(time.total_high_s).map(|((t, low), high)| (t, low, high));
    Outcome::Given(Box::new(Given {
        passed,
        carried,
        drawn,
        total_s,
        charge_ah: card.delivered.charge_ah,
        reason: card.end.reason,
        to_cv_s: card.time.to_cv_s,
        unaccounted: bench.unaccounted(),
    }))
}

/// Carries out what was refused as somebody would who goes by the label.
fn refused(card: &ResultDoc) -> Outcome {
    let stops: Vec<String> = card
        .checks
        .iter()
        .filter(|check| check.severity == Severity::Stop && !check.accepted)
        .map(|check| check.code.code().to_owned())
        .collect();
    let plan = &card.resolved;
    let pack = plan.pack.clone().unwrap_or_default();
    let Some(figures) = pack.chemistry.and_then(CellFigures::of) else {
        return Outcome::Misread("a pack the rig has no figures of".to_owned());
    };
    let series = f64::from(pack.series.unwrap_or(1));
    let settings = plan.settings.clone().unwrap_or_default();
    let warmth_v = figures.compensation_v(pack.temperature_c.unwrap_or(20.0));
    let label_v = pack.label_voltage_v.as_ref().and_then(|label| label.cycle).map(|[_, high]| high);
    let own_v = if figures.timed() { 1.7 * series } else { (figures.full_v() + warmth_v) * series };
    let volts = settings.voltage_v.or(label_v).or(pack.label_v).unwrap_or(own_v);
    let ah = pack.capacity_ah.unwrap_or(1.0) * f64::from(pack.packs_in_parallel.unwrap_or(1));
    let label_a = pack.rated_charge_a.or(pack.rated_c_rate.map(|c| c * ah));
    let usual_a = if figures.usual_c_rate().is_finite() { figures.usual_c_rate() * ah } else { 10.0 };
    let amps = settings.current_a.or(label_a).unwrap_or(usual_a);
    // With the mains high as well as as they should be: a danger on some days is one.
    let mut passed = Vec::new();
    let mut fails = false;
    let ways = [1.0, 1.1, 0.9].map(|mains| Truth { mains, ..Truth::AS_TOLD });
    // A pack whose resistance nobody said may be stiffer than most.
    let stiff = Truth { resistance: 0.7, ..Truth::AS_TOLD };
    let without_load = Truth { load_until_s: 60.0, ..Truth::AS_TOLD };
    for truth in ways.into_iter().chain([stiff]).chain(plan.load.as_ref().map(|_| without_load)) {
        let Some(mut bench) = Bench::of(plan, card.start.soc, &truth) else { continue };
        let carried = switch_on(card, volts, amps, &mut bench);
        passed.extend(bench.passings().lasting().copied());
        // What charges nothing at all is no charge either.
        fails |= carried.ended == Ended::Failed || carried.last_a <= 0.0 || carried.charge_ah <= 0.0;
    }
    let caused = fails || !passed.is_empty();
    Outcome::Refused { stops, caused, passed }
}

/// In words, for whoever settles a disagreement.
#[must_use]
pub(crate) fn told(passing: &Passing) -> String {
    let Passing { at, rating, value, rated, from_s, for_s } = passing;
    let place: &Place = at;
    let rating: &Rating = rating;
    format!("{rating:?} at {}: {value:.3} of {rated:.3} from {from_s:.0} s for {for_s:.1} s", place.code())
}
