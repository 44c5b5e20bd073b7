//! Cold, heat and frost.

use crate::acts::act::Act;
use crate::acts::break_off::warmest;
use crate::acts::finding::Finding;
use crate::chain::may::usual;
use crate::codes::CheckCode;
use crate::lines::warmth;
use crate::parts::lead::SLACK;
use crate::units::{in_amps, in_celsius, show_hours, trimmed};

/// Where a plan says how warm its pack is, and its room.
const WARMTH: &str = "/pack/temperature_c";
const ROOM: &str = "/ambient_c";

pub(super) fn too_cold(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let profile = &pack.profile;
    let (t, min_c) = (in_celsius(pack.temperature), warmth::CHARGE_MIN_C.of(profile)?);
    if !act.kind.charges() || t >= min_c {
        return None;
    }
    let finding = if profile.traits.burns { Finding::stop } else { Finding::caution };
    Some(
        finding(
            CheckCode::PackTooCold,
            format!(
                "{} °C is below {} °C for charging {}: {}. Warm it first.",
                trimmed(t, 1),
                trimmed(min_c, 0),
                profile.name,
                profile.words.too_cold
            ),
            &[("temperature_c", t), ("min_c", min_c)],
        )
        .lifted_by("Leave it in a warm room for four hours, then measure it again.", WARMTH, 20.0),
    )
}

pub(super) fn too_hot(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let profile = &pack.profile;
    let (t, max_c) = (in_celsius(pack.temperature), warmth::CHARGE_MAX_C.of(profile)?);
    if !act.kind.charges() || t <= max_c {
        return None;
    }
    // A charge that begins past what breaks it off is none.
    Some(
        Finding::stop(
            CheckCode::PackTooHot,
            format!(
                "{} °C is above {} °C for charging {}: {}. Take it off any charger, let it cool, and find out what warmed it.",
                trimmed(t, 1),
                trimmed(max_c, 0),
                profile.name,
                profile.traits.too_hot
            ),
            &[("temperature_c", t), ("max_c", max_c)],
        )
        .lifted_by("Let it cool in the shade, then measure it again.", WARMTH, 25.0),
    )
}

/// Acid that may be ice.
pub(super) fn frozen(act: &Act<'_>) -> Option<Finding> {
    let (pack, found) = (act.subject.pack, act.subject.found);
    let t = in_celsius(pack.temperature);
    let freezes_c = pack.profile.freezes_c?.at(found.low);
    (act.kind.charges() && t < freezes_c).then(|| {
        Finding::stop(
            CheckCode::PackFrozen,
            format!(
                "At {} °C the acid of a battery that may hold only {} % is ice (it freezes at {} °C): charged, it bursts. Thaw it for a day in a warm place first, and look for a split case.",
                trimmed(t, 1),
                trimmed(found.low * 100.0, 0),
                trimmed(freezes_c, 0)
            ),
            &[("temperature_c", t), ("freezes_c", freezes_c), ("soc_low", found.low)],
        )
        .lifted_by("Thaw it for a day in a warm place, look for a split case, then measure it again.", WARMTH, 15.0)
    })
}

/// A rate that its cold allows, or does not.
pub(super) fn cold_rate(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let t = in_celsius(pack.temperature);
    let window = warmth::CHARGE_MIN_C.of(&pack.profile)?;
    let cold_a = pack.cold_limit().map(in_amps).filter(|_| act.kind.charges() && t >= window)?;
    let asked_a = act.asked_a.max(act.most_a);
    let full_c = pack.profile.warmth.full_from_c();
    let values = [("temperature_c", t), ("current_a", asked_a), ("cold_a", cold_a), ("full_from_c", full_c)];
    let why = pack.profile.words.cold_rate;
    let (at, may, asked, full) = (trimmed(t, 1), trimmed(cold_a, 2), trimmed(asked_a, 2), trimmed(full_c, 0));
    // A data sheet has the last word; what is only usual may be passed a little.
    let most = if pack.sheet.is_some() { 1.0 } else { warmth::COLD_OVER.at };
    let code = CheckCode::PackColdRate;
    if asked_a > most * cold_a * SLACK {
        let message = format!(
            "{asked} A at {at} °C, where {may} A are usual: {why}. Warm it to {full} °C, or charge it with {may} A; its data sheet may allow more."
        );
        return Some(Finding::stop(code, message, &values).lifted_by(format!("Warm it to {full} °C."), WARMTH, full_c));
    }
    if asked_a > cold_a * SLACK {
        let message = format!("{asked} A at {at} °C, where {may} A are usual: {why}. Warm it to {full} °C first.");
        return Some(Finding::caution(code, message, &values));
    }
    (usual(pack, act.subject.practice) > cold_a * SLACK).then(|| {
        let message = format!(
            "At {at} °C it is charged with no more than {may} A: {why}. From {full} °C on it takes its full rate."
        );
        Finding::note(code, message, &values)
    })
}

/// A pack that reaches its break-off before it is full.
pub(super) fn hot_start(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let t = in_celsius(pack.temperature);
    let max_c = warmth::CHARGE_MAX_C.of(&pack.profile)?;
    if !act.kind.charges() || t > max_c {
        return None;
    }
    let values = [("temperature_c", t), ("max_c", max_c)];
    let code = CheckCode::PackHotStart;
    if t >= warmest(pack, t, act.around_c).at_c - warmth::START_UNDER_K.at {
        let message = format!(
            "It is at {} °C and has to stop at {} °C, which the charge itself brings it to. Let it cool to 30 °C first.",
            trimmed(t, 1),
            trimmed(max_c, 0)
        );
        let lift = "Let it cool to 30 °C in the shade, then measure it again.";
        return Some(Finding::stop(code, message, &values).lifted_by(lift, WARMTH, 30.0));
    }
    let hot_c = warmth::HOT_FROM_C.of(&pack.profile)?;
    if t >= hot_c {
        let message = format!(
            "It starts at {} °C and has to stop at {} °C; charging warms it by some degrees, so it will hardly finish. Let it cool to 30 °C: packs warm from use are the usual case.",
            trimmed(t, 1),
            trimmed(max_c, 0)
        );
        return Some(Finding::caution(code, message, &values));
    }
    (t > hot_c - warmth::NEARLY_HOT_K.at).then(|| {
        let message = format!(
            "At {} °C it is warm from use or from the sun, and charging adds some degrees: let it cool to 30 °C first, in the shade.",
            trimmed(t, 1)
        );
        Finding::note(code, message, &values)
    })
}

/// How fast a pack takes the warmth of its room, s: hand-sized packs of some hundred grams to some kilograms.
const COOLS_S: f64 = 3_000.0;

/// A pack that is warm enough now, and falls below its window in the air around it while it charges.
pub(super) fn cools_down(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let (t, min_c) = (in_celsius(pack.temperature), warmth::CHARGE_MIN_C.of(&pack.profile)?);
    if !act.kind.charges() || !pack.profile.traits.burns || act.around_c >= min_c || t < min_c {
        return None;
    }
    let after_s = COOLS_S * ((t - act.around_c) / (min_c - act.around_c)).ln();
    let values = [("ambient_c", act.around_c), ("min_c", min_c), ("after_s", after_s)];
    let message = format!(
        "In air of {} °C this pack falls below {} °C after about {}: {}.",
        trimmed(act.around_c, 0),
        trimmed(min_c, 0),
        show_hours(after_s / 3600.0),
        pack.profile.words.too_cold
    );
    Some(if warmth::MAY_TAKE.at * act.lasts_s > after_s {
        let message = format!("{message} Charge it where it is warmer than {} °C.", trimmed(min_c, 0));
        Finding::stop(CheckCode::PackCoolsDown, message, &values).lifted_by("Charge it in a warm room.", ROOM, 20.0)
    } else {
        Finding::caution(CheckCode::PackCoolsDown, message, &values)
    })
}
