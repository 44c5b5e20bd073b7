//! What a log shows of its pack, whatever fed it: the worst of each quantity over all of its readings.

use super::course::Look;
use super::diagnose::{AHEAD_V, BEHIND_V, Cells, HIGH_RESISTANCE, WARMING_K, saying, slack_v};
use super::refit::Fitted;
use crate::chemistry::Family;
use crate::document::{RunReadingDoc, SayingCode, SayingDoc, Severity};
use crate::plan::Plan;
use crate::units::{in_amp_hours, in_celsius, show_hours, trimmed};

/// A log, and what was made of it.
pub(crate) struct Log<'a> {
    pub(crate) plan: &'a Plan,
    pub(crate) readings: &'a [RunReadingDoc],
    pub(crate) looks: &'a [Look],
    pub(crate) fitted: &'a Fitted,
    /// Into the pack, Ah.
    pub(crate) charge_ah: f64,
}

/// Everything in it that stands out, gravest first; that nothing does, where nothing does.
pub(crate) fn seen(log: &Log<'_>) -> Vec<SayingDoc> {
    let rules: [fn(&Log<'_>) -> Option<SayingDoc>; 6] =
        [over_voltage, warmed, fell_behind, over_capacity, ran_ahead, high_resistance];
    let mut said: Vec<SayingDoc> = rules.iter().filter_map(|rule| rule(log)).collect();
    if said.is_empty() && !log.looks.is_empty() {
        said.push(saying(SayingCode::OnTrack, Severity::Note, "Nothing in this log stands out.".to_owned(), &[]));
    }
    said.sort_by_key(|s| s.severity);
    said
}

/// Among so many readings or more, one alone above all others is the logger's slip.
const MANY: usize = 20;

/// The highest of what is picked, with when it was read, s.
fn highest(all: impl Iterator<Item = (f64, f64)>) -> Option<(f64, f64)> {
    let mut all: Vec<(f64, f64)> = all.filter(|(_, value)| value.is_finite()).collect();
    all.sort_by(|a, b| b.1.total_cmp(&a.1));
    all.get(usize::from(all.len() >= MANY)).copied()
}

fn at(t_s: f64) -> String {
    format!("{} in,", show_hours(t_s / 3600.0))
}

/// Each reading of the cells, with when it was, s.
fn cells<'a>(log: &'a Log<'_>) -> impl Iterator<Item = (f64, Cells)> + 'a {
    log.readings.iter().filter_map(|r| Some((r.t_s?, Cells::of(r.cell_voltages_v.as_deref()?)?)))
}

fn over_voltage(log: &Log<'_>) -> Option<SayingDoc> {
    let pack = &log.plan.pack;
    let ceiling_v = pack.profile.ceiling_at(in_celsius(pack.temperature));
    let cell = highest(cells(log).map(|(t_s, cells)| (t_s, cells.highest_v)))
        .filter(|(_, v)| *v > ceiling_v + slack_v(ceiling_v));
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
    let (t_s, v) = highest(log.looks.iter().filter_map(|look| Some((look.t_s, look.pack_v?))))?;
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
    let (t_s, c) = highest(log.readings.iter().filter_map(|r| Some((r.t_s?, r.temperature_c?))))?;
    let begun_c = log.readings.iter().find_map(|r| r.temperature_c)?;
    let (too_hot, by_k) = (c >= most_c, c - begun_c);
    // Nickel warms as it fills.
    let warmed = by_k >= WARMING_K && profile.family != Family::Nickel;
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
    let (t_s, behind_v) = highest(cells(log).map(|(t_s, cells)| (t_s, cells.mean_v - cells.lowest_v)))?;
    (behind_v > BEHIND_V && log.plan.pack.profile.family != Family::Capacitor).then(|| {
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
    let near = cells(log).filter(|(_, cells)| cells.highest_v >= profile.full_v - 0.02);
    let (t_s, ahead_v) = highest(near.map(|(t_s, cells)| (t_s, cells.highest_v - cells.mean_v)))?;
    (profile.family == Family::Lithium && ahead_v >= AHEAD_V).then(|| {
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
    ((logarithm - 2.0 * deviation).exp() >= HIGH_RESISTANCE).then(|| {
        let factor = logarithm.exp();
        let message = format!(
            "Its resistance is about {} times what was believed: an aged or a cold pack. It fills slowly, and gives less.",
            trimmed(factor, 1)
        );
        saying(SayingCode::HighResistance, Severity::Note, message, &[("factor", factor), ("deviation", deviation)])
    })
}
