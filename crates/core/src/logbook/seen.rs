//! What a log shows of its pack, whatever fed it: the worst of each quantity over all of its readings.

use super::course::Look;
use super::refit::Fitted;
use super::scene::saying;
use super::slack::slack_v;
use super::tops::Tops;
use crate::formats::{RunWay, SayingCode, SayingDoc, Severity};
use crate::lines::{cells, warmth, wear};
use crate::parts::plan::Plan;
use crate::units::{in_amp_hours, in_celsius, show_hours, trimmed};

/// A log, and what was made of it.
pub(crate) struct Log<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) tops: &'a Tops,
    pub(crate) looks: &'a [Look],
    /// By how much its volts fell at one moment, and when, s, where a cell was lost.
    pub(crate) lost: Option<(f64, f64)>,
    pub(crate) way: RunWay,
    pub(crate) fitted: &'a Fitted,
    /// Into the pack, Ah.
    pub(crate) charge_ah: f64,
}

/// Everything in it that stands out, gravest first; that nothing does, where nothing does.
pub(crate) fn seen(log: &Log<'_>) -> Vec<SayingDoc> {
    // What only a charge can be told off for is not told of anything else.
    let of_any: [fn(&Log<'_>) -> Option<SayingDoc>; 5] = [went, lost, over_voltage, warmed, fell_behind];
    let of_charges: [fn(&Log<'_>) -> Option<SayingDoc>; 3] = [over_capacity, ran_ahead, high_resistance];
    let charges = of_charges.iter().filter(|_| log.way == RunWay::Charge);
    let rules = of_any.iter().chain(charges);
    let mut said: Vec<SayingDoc> = rules.filter_map(|rule| rule(log)).collect();
    if said.is_empty() && !log.looks.is_empty() {
        said.push(saying(SayingCode::OnTrack, Severity::Note, "Nothing in this log stands out.".to_owned(), &[]));
    }
    said.sort_by_key(|s| s.severity);
    said
}

fn at(t_s: f64) -> String {
    format!("{} in,", show_hours(t_s / 3600.0))
}

/// What a log is where it is no charge.
fn went(log: &Log<'_>) -> Option<SayingDoc> {
    let out_ah = log.charge_ah.abs();
    let values = [("charge_ah", log.charge_ah)];
    Some(match log.way {
        RunWay::Charge => return None,
        RunWay::Discharge => {
            let message = format!(
                "This is a discharge: its volts fall while current flows, and {} Ah came out. Nothing of it is kept with the pack.",
                trimmed(out_ah, 2)
            );
            saying(SayingCode::Discharge, Severity::Note, message, &values)
        }
        RunWay::Several => {
            let message = "This log holds several charges or discharges: their sums say nothing of one. Bring each in as a file of its own.";
            saying(SayingCode::SeveralCycles, Severity::Caution, message.to_owned(), &values)
        }
        RunWay::Unclear => {
            let message = "Its current is counted as coming out while its volts rise: turn the sign of its current as the file is read, and bring it in again.";
            saying(SayingCode::SignUnclear, Severity::Caution, message.to_owned(), &values)
        }
    })
}

/// A cell lost at one moment while current flowed.
fn lost(log: &Log<'_>) -> Option<SayingDoc> {
    let (fell_v, t_s) = log.lost?;
    let message = format!(
        "{} its volts fell by {} V at once while current flowed: about one cell’s worth. A cell may have shorted. Read each cell, and do not charge it until they are read.",
        at(t_s),
        trimmed(fell_v, 2)
    );
    Some(saying(SayingCode::VoltageMissing, Severity::Stop, message, &[("fell_v", fell_v), ("t_s", t_s)]))
}

fn over_voltage(log: &Log<'_>) -> Option<SayingDoc> {
    let pack = &log.plan.pack;
    let ceiling_v = pack.profile.ceiling_at(in_celsius(pack.temperature));
    let cell = log.tops.cell_v.highest().filter(|(_, v)| *v > ceiling_v + slack_v(ceiling_v));
    if let Some((t_s, v)) = cell {
        let message = format!(
            "{} a cell stood at {} V; {} V is the most this chemistry bears. Find out why before it is charged again.",
            at(t_s),
            trimmed(v, 2),
            trimmed(ceiling_v, 2)
        );
        let values = [("cell_v", v), ("most_v", ceiling_v), ("t_s", t_s)];
        return Some(saying(SayingCode::OverVoltage, Severity::Caution, message, &values));
    }
    let most_v = ceiling_v * f64::from(pack.series);
    let (t_s, v) = log.tops.pack_v.highest()?;
    (v > most_v + slack_v(most_v)).then(|| {
        let message = format!(
            "{} it stood at {} V; {} V is the most {} cells in series bear. Check the cell count and what was set before it is charged again.",
            at(t_s),
            trimmed(v, 2),
            trimmed(most_v, 2),
            pack.series
        );
        let values = [("pack_v", v), ("most_v", most_v), ("t_s", t_s)];
        saying(SayingCode::OverVoltage, Severity::Caution, message, &values)
    })
}

fn warmed(log: &Log<'_>) -> Option<SayingDoc> {
    let profile = &log.plan.pack.profile;
    let most_c = profile.window.max_c;
    let (t_s, c) = log.tops.temperature_c.highest()?;
    let begun_c = log.tops.first_c?;
    let (too_hot, by_k) = (c >= most_c, c - begun_c);
    // Nickel warms as it fills.
    let warmed = by_k >= warmth::WARMER_K.at && !profile.traits.timed;
    (too_hot || warmed).then(|| {
        let (at, c_words) = (at(t_s), trimmed(c, 0));
        let (severity, message) = if too_hot {
            let most = trimmed(most_c, 0);
            let message = format!(
                "{at} it was at {c_words} °C; {most} °C is the most this chemistry is charged at. Look it over, and charge it slower."
            );
            (Severity::Caution, message)
        } else {
            let message = format!("{at} it was at {c_words} °C, {} °C warmer than at first: charge it slower.", trimmed(by_k, 0));
            (Severity::Note, message)
        };
        let values = [("temperature_c", c), ("begun_c", begun_c), ("most_c", most_c), ("t_s", t_s)];
        saying(SayingCode::Warming, severity, message, &values)
    })
}

fn fell_behind(log: &Log<'_>) -> Option<SayingDoc> {
    let (t_s, behind_v) = log.tops.behind_v.highest()?;
    (behind_v > cells::BEHIND_V.at && !log.plan.pack.profile.traits.farads).then(|| {
        let message = format!(
            "{} a cell stood {} V below the mean of all: it fails. Read each cell at rest, and do not charge it unwatched.",
            at(t_s),
            trimmed(behind_v, 2)
        );
        saying(SayingCode::CellBehind, Severity::Caution, message, &[("behind_v", behind_v), ("t_s", t_s)])
    })
}

fn ran_ahead(log: &Log<'_>) -> Option<SayingDoc> {
    let profile = &log.plan.pack.profile;
    let (t_s, ahead_v) = log.tops.ahead_v.highest()?;
    (profile.traits.balance_lead && ahead_v >= cells::AHEAD_V.at).then(|| {
        let message = format!(
            "{} a cell stood {} mV above the mean while nearly full: give the balancer more time at a lower current.",
            at(t_s),
            trimmed(ahead_v * 1e3, 0)
        );
        saying(SayingCode::CellAhead, Severity::Note, message, &[("ahead_v", ahead_v), ("t_s", t_s)])
    })
}

fn over_capacity(log: &Log<'_>) -> Option<SayingDoc> {
    let pack = &log.plan.pack;
    let holds_ah = in_amp_hours(pack.capacity);
    (log.charge_ah > pack.profile.most_given * holds_ah).then(|| {
        let message = format!(
            "{} Ah went in; it holds {} Ah. Another pack’s log, a wrong capacity, a dying cell, or a load beside it.",
            trimmed(log.charge_ah, 2),
            trimmed(holds_ah, 2)
        );
        let values = [("charge_ah", log.charge_ah), ("holds_ah", holds_ah)];
        saying(SayingCode::OverCapacity, Severity::Caution, message, &values)
    })
}

fn high_resistance(log: &Log<'_>) -> Option<SayingDoc> {
    // The fit has it as a logarithm.
    let (logarithm, deviation) = (log.fitted.values[1], log.fitted.deviations[1]);
    ((logarithm - 2.0 * deviation).exp() >= wear::GROWN.at).then(|| {
        let factor = logarithm.exp();
        let message = format!(
            "Its resistance is about {} times what was believed: an aged or a cold pack. It fills slowly, and gives less.",
            trimmed(factor, 1)
        );
        saying(SayingCode::HighResistance, Severity::Note, message, &[("factor", factor), ("deviation", deviation)])
    })
}
