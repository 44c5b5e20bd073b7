//! What connecting a donor battery would do: `ΔV ÷ (R1 + R2 + leads)` against everything in its
//! way, and the accepted case where it wakes a disconnected board.

use super::found::Picture;
use super::rescue_stages::break_off;
use super::triage::Decision;
use crate::formats::{DonorDoc, Verdict};
use crate::parts::lead::Lead;
use crate::parts::source::Source;
use crate::units::{in_amps, in_ohms, in_volts, trimmed};

/// Works out a donor.
pub(crate) fn donor(picture: &Picture, decision: &Decision, source: &Source, lead: Option<&Lead>) -> DonorDoc {
    let profile = &picture.pack.profile;
    let series = picture.series();
    let donor_v = in_volts(source.max);
    let waking = decision.verdict == Verdict::Wake;
    // A woken board joins the donor to cells that may stand at the floor of what a board lets out.
    let worst_v = profile.rescue_floors_v.map_or(0.0, |floors| floors.cautious_v) * series;
    let pack_v = if waking {
        picture.cells.known().map_or(worst_v, super::found::Cells::sum_v)
    } else {
        picture.inside_v().unwrap_or(0.0)
    };
    let apart_v = donor_v - pack_v;
    let lead_ohm = lead.map_or(0.0, |lead| lead.ohm);
    let inrush_a = apart_v.abs() / (source.sag_ohm + in_ohms(picture.pack.resistance) + lead_ohm);
    let rated_a = picture.pack.bms_max.or(picture.pack.rated).map(in_amps);
    let rated_a = rated_a.or_else(|| picture.pack.hard_limit().map(in_amps));
    let window_v = waking.then(|| [profile.nominal_v * series, profile.full_v * series]);
    let within = window_v.is_some_and(|[low, high]| (low..=high).contains(&donor_v));
    let most_a = [rated_a, lead.map(Lead::carries_a), lead.and_then(|lead| lead.fuse.map(|fuse| fuse.rated_a))]
        .into_iter()
        .flatten()
        .fold(f64::INFINITY, f64::min);
    let bearable = inrush_a <= most_a;
    // What wakes no board may still let a charger see a battery: anything within what it starts from.
    let shows = !waking
        && decision.verdict <= Verdict::Wake
        && bearable
        && picture.start_v.is_some_and(|start_v| (start_v..=profile.full_v * series).contains(&donor_v));
    let accepted = picture.fed().is_some() && ((waking && within && bearable) || shows);
    let flows = format!(
        "{} V apart: {} A would flow at once",
        trimmed(apart_v.abs(), 2),
        trimmed(inrush_a, if inrush_a < 10.0 { 1 } else { 0 })
    );
    let against = if most_a.is_finite() {
        format!(", {} A is the most anything here bears", trimmed(most_a, 1))
    } else {
        String::new()
    };
    let message = match (waking, within, bearable) {
        (true, true, true) => format!("{flows}{against}. A touch of this donor is an accepted way to wake a board."),
        (true, false, _) => format!(
            "This donor stands at {} V; one that wakes the board lies between {} and {} V.",
            trimmed(donor_v, 1),
            trimmed(profile.nominal_v * series, 1),
            trimmed(profile.full_v * series, 1)
        ),
        (true, true, false) => {
            format!("{flows} into cells that have woken low{against}: not without something that limits it.")
        }
        (false, _, _) if shows => format!(
            "{flows}{against}. Its charger starts from {} V: a touch of this donor lets it see a battery and begin; it comes off as soon as the charger runs.",
            trimmed(picture.start_v.unwrap_or(0.0), 1)
        ),
        (false, _, _) if decision.verdict > Verdict::Wake => {
            format!("{flows}{against}. This pack is not to be fed at all, by a donor least of all.")
        }
        (false, _, _) => format!(
            "{flows}{against}. Nothing limits it, nothing ends it: not recommended. The same charge, limited to {} A, does no harm.",
            trimmed(picture.gentle_a(), 2)
        ),
    };
    let stop = break_off(picture).sentence(false);
    let steps = if accepted {
        vec![
            "Same chemistry and cell count, itself sound; everything else off.".to_owned(),
            "A fused lead, plus to plus, by meter; minus last, for some seconds.".to_owned(),
            "When the terminals of the pack hold by themselves, or its charger runs, the donor comes off.".to_owned(),
            stop,
            "Read what the cells really hold before anything else.".to_owned(),
        ]
    } else if decision.verdict > Verdict::Wake {
        Vec::new()
    } else {
        vec![limited(apart_v, donor_v, picture), stop]
    };
    DonorDoc {
        apart_v,
        inrush_a,
        rated_a,
        wire_a: lead.map(Lead::carries_a),
        fuse_a: lead.and_then(|lead| lead.fuse.map(|fuse| fuse.rated_a)),
        window_v,
        accepted,
        message,
        steps,
    }
}

/// The same end with a resistor between the two.
fn limited(apart_v: f64, donor_v: f64, picture: &Picture) -> String {
    let limit_a = picture.gentle_a();
    let ohm = (apart_v.abs() / limit_a).max(0.1);
    let heat_w = apart_v.powi(2) / ohm;
    let full_v = picture.pack.profile.full_v * picture.series();
    let watch = if donor_v > full_v { " The donor stands above full: watch it all the time." } else { "" };
    format!(
        "Limited: {} Ω, {} W at least, between plus and plus holds it to {} A.{watch}",
        trimmed(ohm, 0),
        trimmed((2.0 * heat_w).ceil(), 0),
        trimmed(limit_a, 2)
    )
}
