//! What may be so, within what a card tells.

use fastrand::Rng;
use rumek_core::formats::ResultDoc;
use rumek_rig::Truth;

/// One way things may be, drawn from within the told spans.
pub(crate) fn drawn(card: &ResultDoc, rng: &mut Rng) -> Truth {
    let said = |pointer: &str| !card.assumed.iter().any(|one| one == pointer);
    let mut between = |from: f64, to: f64| from + (to - from) * rng.f64();
    let (least, most): (f64, f64) = if said("/pack/resistance_mohm") { (0.87, 1.15) } else { (0.68, 1.45) };
    Truth {
        resistance: (between(least.ln(), most.ln())).exp(),
        capacity: between(0.96, 1.02),
        soc: Some(between(card.start.soc_low, card.start.soc_high)),
        mains: between(0.9, 1.1),
        efficiency: if said("/charger/efficiency") { 0.0 } else { between(-0.04, 0.05) },
        relay: between(-1.0, 1.0),
        load_until_s: f64::INFINITY,
        late_s: 60.0 * rng.f64(),
        weak_cell: 1.0,
    }
}
