//! How fast a pack is charged, against its board, its label and its kind.

use crate::acts::act::Act;
use crate::acts::finding::Finding;
use crate::codes::{CheckCode, PackMark};
use crate::lines::rates;
use crate::parts::lead::SLACK;
use crate::parts::pack::Pack;
use crate::units::{in_amp_hours, in_amps, trimmed};

/// Where a plan says what its pack is charged with.
const CURRENT: &str = "/settings/current_a";

pub(super) fn board(act: &Act<'_>) -> Option<Finding> {
    let bms_a = act.subject.pack.bms_max.map(in_amps).filter(|_| act.kind.charges())?;
    (act.most_a > bms_a * SLACK).then(|| {
        Finding::stop(
            CheckCode::PackBmsOverloaded,
            format!(
                "{} A would flow where the BMS allows {} A, and nothing here turns the current down.",
                trimmed(act.most_a, 2),
                trimmed(bms_a, 2)
            ),
            &[("current_a", act.most_a), ("bms_a", bms_a)],
        )
        .lifted(format!("Use a charger of at most {} A, or a BMS for more.", trimmed(bms_a, 2)))
    })
}

pub(super) fn too_fast(act: &Act<'_>) -> Option<Finding> {
    let pack = act.subject.pack;
    let hard_a = pack.hard_limit().map(in_amps).filter(|_| act.kind.charges())?;
    let ah = in_amp_hours(pack.nameplate);
    let asked_a = act.asked_a;
    let c = asked_a / ah;
    if asked_a <= hard_a * SLACK {
        return unusual(act, hard_a);
    }
    let (code, whose) = match (pack.mark, pack.rated) {
        (Some(PackMark::Recovered), _) => (CheckCode::PackRecoveredRate, "this recovered pack may take"),
        (_, Some(_)) => (CheckCode::PackRateTooHigh, "the label allows"),
        (_, None) => (CheckCode::PackRateTooHigh, "the chemistry is ever charged with, and no label says more"),
    };
    let finding = Finding::stop(
        code,
        format!(
            "{}{} A ({}C) is more than the {} A {whose}: {}.",
            // What the load leaves may do; without it the pack gets all.
            if act.likely_a <= hard_a && act.unloaded_a.is_some() { "Once the load is off, " } else { "" },
            trimmed(asked_a, 2),
            trimmed(c, 2),
            trimmed(hard_a, 2),
            pack.profile.words.too_fast
        ),
        &[("current_a", asked_a), ("rated_a", hard_a), ("c_rate", c)],
    );
    let mut finding = if act.dials {
        finding.lifted_by(format!("Set {} A or less.", trimmed(hard_a, 2)), CURRENT, hard_a)
    } else {
        finding.lifted(format!("Use something that gives no more than {} A.", trimmed(hard_a, 2)))
    };
    finding.within_acceptance = asked_a <= acceptable_a(pack, hard_a) * 1.0001;
    Some(finding)
}

/// The most that may be accepted, A: half again the label, never past the chemistry's last word.
fn acceptable_a(pack: &Pack, hard_a: f64) -> f64 {
    if pack.rated.is_none() {
        return 0.0;
    }
    (rates::OVER_LABEL.at * hard_a).min(pack.profile.rates.last_word * in_amp_hours(pack.nameplate))
}

/// Faster than is usual where no label speaks.
fn unusual(act: &Act<'_>, hard_a: f64) -> Option<Finding> {
    let pack = act.subject.pack;
    let ah = in_amp_hours(pack.nameplate);
    let usual_a = in_amps(pack.usual_limit());
    let asked_a = act.unloaded_a.map_or(act.asked_a, |a| a.max(act.asked_a));
    let c = asked_a / ah;
    (pack.rated.is_none() && asked_a > rates::OVER_USUAL.at * usual_a).then(|| {
        Finding::caution(
            CheckCode::PackRateTooHigh,
            format!(
                "{}C is faster than {} is usually charged without a label that says so ({}C): watch its warmth, or set {} A.",
                trimmed(c, 2),
                pack.profile.name,
                trimmed(usual_a / ah, 1),
                trimmed(usual_a, 2)
            ),
            &[("current_a", asked_a), ("rated_a", hard_a), ("c_rate", c)],
        )
    })
}
