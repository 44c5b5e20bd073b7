//! Live readings against a stage: as a living pack would, slower, or stop.

use std::collections::BTreeMap;

use super::found::{Cells, Picture};
use super::proof::share;
use super::rescue_stages::{break_off, leaks_by_v, may_lose_v};
use crate::chain::may::recovered_v;
use crate::formats::{
    AbortCode, CorridorPoint, JudgeState, JudgementDoc, RescueReadingDoc, RescueStageDoc, RescueStageKind,
};
use crate::lines::{ends, meters, rates, readings, wear};
use crate::physics::cell::{Resting, Traits};
use crate::units::{in_amp_hours, show_hours, trimmed};

/// Looks at a pack that is being fed, s after the start; then every quarter of an hour.
const LOOKS_S: [f64; 3] = [60.0, 300.0, 900.0];
/// A cell is given this long before it counts as staying behind, s.
const SETTLING_S: f64 = readings::SETTLING_H.at * 3600.0;
/// A reading decides about the longest time only if it is no older than this, s.
const FRESH_S: f64 = readings::FRESH_H.at * 3600.0;
const HOUR_S: f64 = 3600.0;
/// How long lead may take no current before it is given up, s.
const SULPHATED_S: f64 = ends::SULPHATED_H.at * HOUR_S;

/// A stage with what has been read of it.
pub(crate) struct Watch<'a> {
    pub(crate) picture: &'a Picture,
    pub(crate) stage: &'a RescueStageDoc,
    pub(crate) now_s: f64,
    /// Oldest first.
    pub(crate) readings: &'a [RescueReadingDoc],
    /// How often this stage has been gone through before.
    pub(crate) rounds: u32,
    /// Whether there is a precharge to go back to.
    pub(crate) precharges: bool,
}

fn judgement(state: JudgeState, message: impl Into<String>) -> JudgementDoc {
    JudgementDoc {
        state,
        code: None,
        message: message.into(),
        values: BTreeMap::new(),
        until_s: None,
        next_look_s: None,
        ways: Vec::new(),
    }
}

/// What is done at once, by what is wrong: nobody carries a pack that is hot or shows signs.
fn at_once(code: AbortCode) -> &'static str {
    use AbortCode as C;
    match code {
        C::Signs => {
            "Stop: mains off at the switch. Do not touch or carry it. Everybody out, door shut, call the fire service: the smoke is poisonous. Water in quantity, from a distance, cools a small pack."
        }
        C::Warming => {
            "Stop: pull the plug at the wall. Do not carry it while it is hot; watch it from a distance until it can be held in the hand, then take it outside."
        }
        C::LosesVoltage | C::NoLife | C::LowCapacity | C::Sulphated | C::DeadCell => "Stop: pull the plug and part it.",
        C::OverVoltage
        | C::OverCurrent
        | C::CellReversed
        | C::CellOver
        | C::CellBehind
        | C::Falling
        | C::TooMuchCharge => "Stop: pull the plug, part it, and take it outside if it can be held in the hand.",
    }
}

fn stop(code: AbortCode, message: impl AsRef<str>, values: &[(&str, f64)]) -> JudgementDoc {
    JudgementDoc {
        code: Some(code),
        values: values.iter().map(|(name, v)| ((*name).to_owned(), *v)).collect(),
        ..judgement(JudgeState::Abort, format!("{} {}", at_once(code), message.as_ref()))
    }
}

/// Judges a stage.
pub(crate) fn judge(watch: &Watch<'_>) -> JudgementDoc {
    if let Some(stopped) = watch.danger() {
        return stopped;
    }
    let mut judgement = match watch.stage.kind {
        RescueStageKind::Inspect => judgement(JudgeState::Waiting, "Answer what is open: that decides how it goes on."),
        RescueStageKind::Wake => watch.wake(),
        RescueStageKind::Precharge => watch.precharge(),
        RescueStageKind::Handover => watch.handover(),
        RescueStageKind::Charge => watch.charge(),
        RescueStageKind::Rest => watch.rest(),
        RescueStageKind::Prove => watch.prove(),
    };
    if matches!(judgement.state, JudgeState::Waiting | JudgeState::OnTrack | JudgeState::Slow) {
        judgement.next_look_s = judgement.next_look_s.or_else(|| watch.next_look_s());
    }
    judgement
}

impl Watch<'_> {
    fn traits(&self) -> &Traits {
        &self.picture.pack.profile.traits
    }

    fn lithium(&self) -> bool {
        self.picture.pack.profile.rescue_floors_v.is_some()
    }

    /// What a meter may be off at the terminals, V.
    fn slack_v(&self, volts: f64) -> f64 {
        meters::CELL_V.at * self.picture.series().sqrt() + 0.006 * volts.abs()
    }

    fn last<T: Copy>(&self, pick: fn(&RescueReadingDoc) -> Option<T>) -> Option<(f64, T)> {
        self.readings.iter().rev().find_map(|r| Some((r.t_s.unwrap_or(0.0), pick(r)?)))
    }

    /// What ends every stage, whatever else is read.
    fn danger(&self) -> Option<JudgementDoc> {
        let begun_c = self.picture.temperature_c.known().copied().unwrap_or(self.picture.around_c);
        let break_off = break_off(self.picture);
        let most_c = break_off.warmest.at_c;
        for reading in self.readings {
            if reading.alarm == Some(true) {
                return Some(stop(AbortCode::Signs, "What you saw or smelled decides.", &[]));
            }
            if let Some(c) = reading.temperature_c.filter(|c| break_off.too_warm(*c)) {
                let message = format!("{} °C, from {} °C at the start.", trimmed(c, 0), trimmed(begun_c, 0));
                return Some(stop(AbortCode::Warming, message, &[("temperature_c", c), ("allowed_c", most_c)]));
            }
            if self.feeds()
                && let Some(stopped) = self.past_limits(reading)
            {
                return Some(stopped);
            }
            if let Some(stopped) = self.cells(reading) {
                return Some(stopped);
            }
        }
        None
    }

    fn feeds(&self) -> bool {
        matches!(self.stage.kind, RescueStageKind::Wake | RescueStageKind::Precharge | RescueStageKind::Charge)
    }

    fn past_limits(&self, reading: &RescueReadingDoc) -> Option<JudgementDoc> {
        if let (Some(v), Some(most_v)) = (reading.terminal_v, self.stage.voltage_v)
            && v > most_v + self.slack_v(most_v)
        {
            let message = format!("{} V, and {} V is the most.", trimmed(v, 2), trimmed(most_v, 2));
            return Some(stop(AbortCode::OverVoltage, message, &[("voltage_v", v), ("allowed_v", most_v)]));
        }
        if let (Some(a), Some(most_a)) = (reading.current_a, self.stage.current_a)
            && a > rates::OVER_TOLD.at * most_a + 0.01
        {
            let message = format!("{} A, and {} A is the most.", trimmed(a, 3), trimmed(most_a, 3));
            return Some(stop(AbortCode::OverCurrent, message, &[("current_a", a), ("allowed_a", most_a)]));
        }
        None
    }

    fn cells(&self, reading: &RescueReadingDoc) -> Option<JudgementDoc> {
        let each_v = reading.cell_voltages_v.as_ref().filter(|cells| !cells.is_empty())?;
        let cells = Cells { each_v: each_v.clone(), per_reading: 1.0 };
        let profile = &self.picture.pack.profile;
        let lowest_v = cells.lowest_v();
        if lowest_v < -meters::CELL_V.at {
            let message = format!("A cell reads {} V: reversed.", trimmed(lowest_v, 2));
            return Some(stop(AbortCode::CellReversed, message, &[("cell_v", lowest_v)]));
        }
        let highest_v = each_v.iter().copied().fold(f64::NEG_INFINITY, f64::max);
        let ceiling_v = break_off(self.picture).cell_over_v;
        if ceiling_v.is_some_and(|most_v| highest_v > most_v + meters::CELL_V.at) {
            let message = format!("A cell reads {} V, above full.", trimmed(highest_v, 3));
            return Some(stop(AbortCode::CellOver, message, &[("cell_v", highest_v)]));
        }
        let most_v = profile.failed_behind_v()?;
        let behind_v = cells.behind_v();
        let settled = reading.t_s.unwrap_or(0.0) >= SETTLING_S || self.stage.kind == RescueStageKind::Handover;
        (settled && behind_v > most_v).then(|| {
            let message = format!("A cell lies {} V below its neighbours: it has failed.", trimmed(behind_v, 2));
            stop(AbortCode::CellBehind, message, &[("behind_v", behind_v), ("allowed_v", most_v)])
        })
    }

    fn wake(&self) -> JudgementDoc {
        let limit_a = self.stage.current_a.unwrap_or(0.1);
        let max_s = self.stage.max_s.unwrap_or(180.0);
        let floor_v = self.picture.pack.profile.rescue_floors_v.map_or(1.0, |floors| floors.experienced_v);
        // Read once parted: no current is given, and the terminals stand by themselves.
        let jumped = self.readings.iter().any(|r| {
            r.current_a.map_or_else(
                || r.terminal_v.is_some_and(|v| v > floor_v * self.picture.series()),
                |a| a >= readings::FLOWS.at * limit_a,
            )
        });
        if jumped {
            return judgement(
                JudgeState::Reached,
                "It has woken. Part it, and read the terminals: that is what the cells really hold.",
            );
        }
        if self.now_s >= max_s {
            return JudgementDoc {
                message: "Stop: three tries and nothing flows. Look for a blown fuse or a board that has failed."
                    .to_owned(),
                ..stop(AbortCode::NoLife, "", &[("max_s", max_s)])
            };
        }
        let mut waiting =
            judgement(JudgeState::Waiting, "A minute at a time, a minute between. Enter the current that flows.");
        waiting.next_look_s = Some(self.now_s + 60.0);
        waiting.until_s = Some(max_s);
        waiting
    }

    /// What the prediction expects at a time: the corridor's point there.
    fn expected(&self, t_s: f64) -> Option<CorridorPoint> {
        let curve = &self.stage.curve;
        let after = curve.partition_point(|p| p.t_s < t_s);
        let (a, b) = (curve.get(after.saturating_sub(1))?, curve.get(after).or(curve.last())?);
        let share = if b.t_s > a.t_s { ((t_s - a.t_s) / (b.t_s - a.t_s)).clamp(0.0, 1.0) } else { 0.0 };
        let mix = |from: f64, to: f64| from + share * (to - from);
        Some(CorridorPoint {
            t_s,
            pack_v: mix(a.pack_v, b.pack_v),
            low_v: mix(a.low_v, b.low_v),
            high_v: mix(a.high_v, b.high_v),
            current_a: mix(a.current_a, b.current_a),
        })
    }

    fn precharge(&self) -> JudgementDoc {
        let until_v = self.stage.until.pack_v.unwrap_or(f64::INFINITY);
        let max_s = self.stage.max_s.unwrap_or(f64::INFINITY);
        let reference_a = self.stage.curve.first().map_or(1.0, |p| p.current_a).max(1e-6);
        let Some((t_s, volts)) = self.last(|r| r.terminal_v) else {
            return judgement(JudgeState::Waiting, "Read volts, amps and warmth within a minute of connecting.");
        };
        let flowing_a = self.last(|r| r.current_a).map(|(_, a)| a);
        if let Some(stopped) = self.falling(reference_a) {
            return stopped;
        }
        if let Some(stopped) = self.dead_lead_cell() {
            return stopped;
        }
        if let Some(flowing_a) = flowing_a
            && self.took_none(reference_a, until_v)
        {
            return self.blocked(flowing_a);
        }
        if volts >= until_v {
            return if flowing_a.is_none() {
                judgement(JudgeState::Waiting, "High enough. Read the current too: without it the voltage may deceive.")
            } else {
                judgement(JudgeState::Reached, format!("{} V: part it and hand it over.", trimmed(volts, 2)))
            };
        }
        if self.now_s >= max_s {
            if t_s < max_s - FRESH_S {
                return judgement(JudgeState::Waiting, "Its time is up: read it now. That reading decides.");
            }
            let message = format!(
                "{} V after {}; {} V is what a living pack shows. It takes charge and keeps none.",
                trimmed(volts, 2),
                show_hours(self.now_s / 3600.0),
                trimmed(until_v, 2)
            );
            return stop(AbortCode::NoLife, message, &[("voltage_v", volts), ("until_v", until_v), ("max_s", max_s)]);
        }
        let slow_s = self.stage.curve.last().map_or(max_s, |p| p.t_s);
        let expected = self.expected(t_s);
        let behind = expected.is_some_and(|p| volts < p.low_v - self.slack_v(p.low_v));
        if behind || self.now_s > 1.1 * slow_s {
            let mut slow = judgement(JudgeState::Slow, "Slower than a living pack.");
            slow.until_s = Some(max_s);
            return slow;
        }
        let between = expected.map_or(String::new(), |p| {
            let how = if volts > p.high_v {
                "a little above the"
            } else if volts < p.low_v {
                "a little below the"
            } else {
                "within the"
            };
            format!(", {how} {} to {} V expected", trimmed(p.low_v, 2), trimmed(p.high_v, 2))
        });
        judgement(JudgeState::OnTrack, format!("On track: {} V{between}.", trimmed(volts, 2)))
    }

    /// Lithium and nickel that fall while current flows are shorting inside. Lead may fall as its
    /// sulphate dissolves.
    fn falling(&self, reference_a: f64) -> Option<JudgementDoc> {
        if self.traits().sulphates || self.traits().farads {
            return None;
        }
        let mut peak: Option<(f64, f64)> = None;
        for reading in self.readings {
            let Some(volts) = reading.terminal_v else { continue };
            let amps = reading.current_a.unwrap_or(reference_a);
            if amps < 0.5 * reference_a {
                continue;
            }
            if let Some((peak_v, peak_a)) = peak
                && amps >= 0.8 * peak_a
                && volts < peak_v - 2.0 * self.slack_v(peak_v) - 0.05
            {
                let message =
                    format!("It fell from {} to {} V while current flowed.", trimmed(peak_v, 2), trimmed(volts, 2));
                return Some(stop(AbortCode::Falling, message, &[("peak_v", peak_v), ("voltage_v", volts)]));
            }
            if peak.is_none_or(|(peak_v, _)| volts > peak_v) {
                peak = Some((volts, amps));
            }
        }
        None
    }

    /// Lead that has taken C/100 for an hour and stays under its line has a dead cell.
    fn dead_lead_cell(&self) -> Option<JudgementDoc> {
        if !self.traits().in_blocks {
            return None;
        }
        let (t_s, volts) = self.last(|r| r.terminal_v)?;
        let hundredth_a = in_amp_hours(self.picture.pack.nameplate) / 100.0;
        let line_v = recovered_v(&self.picture.pack)?;
        let taken = self.readings.iter().filter_map(|r| r.current_a).fold(f64::INFINITY, f64::min);
        (t_s >= ends::FIRST_HOUR_H.at * HOUR_S && taken.is_finite() && taken >= hundredth_a && volts < line_v).then(
            || {
                let message = format!(
                    "An hour of current and still {} V, under {} V: a cell is dead.",
                    trimmed(volts, 2),
                    trimmed(line_v, 1)
                );
                stop(AbortCode::DeadCell, message, &[("voltage_v", volts), ("line_v", line_v)])
            },
        )
    }

    /// High from the start while next to nothing has ever flowed: the voltage says nothing about the charge.
    fn took_none(&self, reference_a: f64, until_v: f64) -> bool {
        let flowed = self.readings.iter().filter_map(|r| r.current_a).any(|a| a >= readings::FLOWS.at * reference_a);
        // Lithium that nobody looked at may have filled to the ceiling and tapered off meanwhile.
        let early_s = match (self.traits().sulphates, self.stage.expected_s) {
            (true, _) | (_, None) => f64::INFINITY,
            (_, Some(expected_s)) => 0.5 * expected_s,
        };
        let high = |r: &RescueReadingDoc| {
            r.t_s.unwrap_or(0.0) <= early_s
                && r.terminal_v.is_some_and(|v| v >= 0.97 * until_v)
                && r.current_a.is_some_and(|a| a < readings::NONE.at * reference_a)
        };
        !flowed && self.readings.iter().any(high)
    }

    /// High voltage, no current.
    fn blocked(&self, flowing_a: f64) -> JudgementDoc {
        let lead = self.traits().sulphates;
        let patience_s = match (lead, self.loosens()) {
            (true, true) => 2.0 * SULPHATED_S,
            (true, false) => SULPHATED_S,
            (false, _) => SETTLING_S,
        };
        if self.now_s >= patience_s {
            let (code, why) = if lead {
                (AbortCode::Sulphated, "sulphated through, and a day at full voltage has not loosened it")
            } else {
                (AbortCode::NoLife, "dried out or broken inside")
            };
            let message = format!(
                "Full voltage at once and only {} A after {}: {why}.",
                trimmed(flowing_a, 3),
                show_hours(self.now_s / 3600.0)
            );
            return stop(code, message, &[("current_a", flowing_a)]);
        }
        let mut slow =
            judgement(JudgeState::Slow, "Full voltage at once, next to no current: a living pack begins to take it.");
        slow.until_s = Some(patience_s);
        slow
    }

    /// Whether what it takes has grown since half the time ago.
    fn loosens(&self) -> bool {
        let taken = |until_s: f64| {
            let before = self.readings.iter().rev().filter(|r| r.t_s.unwrap_or(0.0) <= until_s);
            before.filter_map(|r| r.current_a).next()
        };
        taken(0.5 * self.now_s).zip(taken(self.now_s)).is_some_and(|(half_way, now)| now >= ends::LOOSENS.at * half_way)
    }

    fn handover(&self) -> JudgementDoc {
        let start_v = self.stage.until.pack_v.unwrap_or(0.0);
        let several = self.picture.pack.series > 1 && self.lithium();
        let read_now = self.readings.iter().any(|r| r.cell_voltages_v.as_ref().is_some_and(|cells| !cells.is_empty()));
        if several && !read_now {
            return judgement(JudgeState::Waiting, "Enter each cell's voltage: only they show a shorted one.");
        }
        // Read cell by cell, the mean says nothing more; its charger's own start still does.
        let own_v = self.picture.pack.profile.precharge_below_v * self.picture.series();
        let start_v = if several { self.picture.start_v.unwrap_or(own_v).max(own_v) } else { start_v };
        let Some((_, volts)) = self.last(|r| r.terminal_v) else {
            return judgement(JudgeState::Waiting, "Part the supply, wait a minute, enter what the terminals read.");
        };
        if volts < start_v - self.slack_v(start_v) {
            return self.back(format!("{} V at rest is under {} V", trimmed(volts, 2), trimmed(start_v, 2)));
        }
        let line_v = self.picture.pack.profile.precharge_below_v;
        let lowest_v = self.readings.iter().rev().find_map(|r| r.cell_voltages_v.as_ref());
        let lowest_v = lowest_v.map_or(f64::INFINITY, |each| each.iter().copied().fold(f64::INFINITY, f64::min));
        if lowest_v < line_v - meters::CELL_V.at {
            return self.back(format!(
                "The lowest cell reads {} V, under {} V",
                trimmed(lowest_v, 2),
                trimmed(line_v, 2)
            ));
        }
        judgement(JudgeState::Reached, format!("{} V at rest: its charger can take over.", trimmed(volts, 2)))
    }

    /// Too low at rest: back to the precharge, unless that has been enough rounds to show that it keeps nothing.
    fn back(&self, found: String) -> JudgementDoc {
        if !self.precharges {
            return judgement(JudgeState::Slow, format!("{found}: do not charge it yet. These readings decide anew."));
        }
        if f64::from(self.rounds + 1) >= ends::ROUNDS.at {
            let message = format!("{found}, after {} precharges. It takes charge and keeps none.", self.rounds + 1);
            return stop(AbortCode::NoLife, message, &[("rounds", f64::from(self.rounds + 1))]);
        }
        judgement(JudgeState::Slow, format!("{found}: back to the precharge for a while."))
    }

    /// Charge that has gone in, Ah; between readings the current is a straight line.
    fn charge_ah(&self) -> f64 {
        let amps: Vec<(f64, f64)> = self.readings.iter().filter_map(|r| Some((r.t_s?, r.current_a?))).collect();
        amps.windows(2).map(|w| 0.5 * (w[0].1 + w[1].1) * (w[1].0 - w[0].0) / 3600.0).sum()
    }

    /// How long the charge may take, s: as long as the current that was read needs.
    fn longest_s(&self) -> Option<f64> {
        let told_s = self.stage.max_s?;
        let amps: Vec<f64> = self.readings.iter().filter_map(|r| r.current_a).collect();
        let most_a = amps.iter().copied().fold(0.0, f64::max);
        let told_a = self.stage.current_a.filter(|_| most_a > 0.0).unwrap_or(most_a);
        // What has to loosen first begins only once it takes current.
        let begins_s = if self.traits().sulphates {
            let flows = |r: &&RescueReadingDoc| r.current_a.is_some_and(|a| a >= readings::FLOWS.at * most_a);
            self.readings.iter().find(flows).and_then(|r| r.t_s).unwrap_or(0.0)
        } else {
            0.0
        };
        Some(begins_s + told_s * (told_a / most_a.max(1e-6)).max(1.0))
    }

    fn charge(&self) -> JudgementDoc {
        let nameplate_ah = in_amp_hours(self.picture.pack.nameplate);
        let charge_ah = self.charge_ah();
        // Nickel and lead are given more than they keep.
        let most_ah = nameplate_ah * self.picture.pack.profile.most_given;
        if charge_ah > most_ah {
            let message =
                format!("{} Ah have gone in; it holds {} Ah.", trimmed(charge_ah, 2), trimmed(nameplate_ah, 2));
            return stop(AbortCode::TooMuchCharge, message, &[("charge_ah", charge_ah), ("capacity_ah", nameplate_ah)]);
        }
        let full_v = self.stage.voltage_v.unwrap_or(f64::INFINITY);
        let near = self.last(|r| r.terminal_v).is_some_and(|(_, v)| v >= full_v - self.slack_v(full_v));
        let tapered = match (self.last(|r| r.current_a), self.stage.until.current_a) {
            (Some((_, a)), Some(stop_a)) => a <= 1.1 * stop_a && near,
            (_, None) => self.traits().farads && near || self.stage.expected_s.is_some_and(|s| self.now_s >= s),
            _ => false,
        };
        // Lead at full voltage that has taken next to nothing is sulphated, not full.
        if let Some((_, flowing_a)) = self.last(|r| r.current_a)
            && tapered
            && self.traits().sulphates
            && charge_ah < readings::TAKEN.at * nameplate_ah
            && self.picture.identified().soc < 1.0 - readings::TAKEN.at
        {
            return self.blocked(flowing_a);
        }
        if tapered {
            return judgement(JudgeState::Reached, format!("Done: {} Ah as read. Let it rest.", trimmed(charge_ah, 2)));
        }
        if let Some(max_s) = self.longest_s().filter(|max_s| self.now_s >= *max_s) {
            let message = format!("{} and not full: it takes charge and keeps none.", show_hours(self.now_s / 3600.0));
            return stop(AbortCode::NoLife, message, &[("max_s", max_s)]);
        }
        if self.readings.is_empty() {
            return judgement(JudgeState::Waiting, "Enter volts, amps and warmth after a minute.");
        }
        judgement(JudgeState::OnTrack, format!("On track: {} Ah in as read.", trimmed(charge_ah, 2)))
    }

    fn rest(&self) -> JudgementDoc {
        let Resting { settled_h, in_h, .. } = self.picture.pack.profile.resting;
        let (settled_s, in_s) = (settled_h * 3600.0, in_h * 3600.0);
        let series = self.picture.series();
        let read: Vec<(f64, f64)> = self.readings.iter().filter_map(|r| Some((r.t_s?, r.terminal_v?))).collect();
        if let Some((last_s, last_v)) = read.last().copied()
            && last_s >= readings::EARLY.at * HOUR_S
            && let Some((dead_v, full_v)) = self.picture.pack.profile.rests_above(series)
        {
            if last_v < dead_v - self.slack_v(dead_v) {
                let message = format!(
                    "It rests at {} V after a charge, under {} V: a cell is dead.",
                    trimmed(last_v, 2),
                    trimmed(dead_v, 1)
                );
                return stop(AbortCode::DeadCell, message, &[("voltage_v", last_v), ("allowed_v", dead_v)]);
            }
            if last_v < full_v - self.slack_v(full_v) {
                return judgement(
                    JudgeState::Slow,
                    format!(
                        "{} V at rest, under {} V: not full, or sulphated. Charge on with {} A, then let it rest anew; if it rests no higher then, a cell is dead.",
                        trimmed(last_v, 2),
                        trimmed(full_v, 1),
                        trimmed(self.picture.gentle_a(), 2)
                    ),
                );
            }
        }
        let settled: Vec<(f64, f64)> =
            read.into_iter().filter(|(t_s, _)| *t_s >= readings::EARLY.at * settled_s).collect();
        let (Some((first_s, first_v)), Some((last_s, last_v))) = (settled.first().copied(), settled.last().copied())
        else {
            let mut waiting = judgement(
                JudgeState::Waiting,
                format!(
                    "Read the terminals {} h after the charge, and again {} h later: before that it settles.",
                    trimmed(settled_h, 0),
                    trimmed(in_h, 0)
                ),
            );
            waiting.next_look_s = Some(settled_s.max(self.now_s));
            return waiting;
        };
        // Looked at late, it may have lost as much more.
        let hours = (last_s - first_s).max(in_s) / HOUR_S;
        let allowed_v = may_lose_v(self.picture, hours);
        let cell_may_v = leaks_by_v(self.picture, hours).unwrap_or(f64::INFINITY);
        let lost_v = first_v - last_v;
        let lost_by_cell = self.lost_by_a_cell();
        // Where each cell was read and none leaks, the terminals say nothing more.
        let (lost, most_v, again_v) = match lost_by_cell {
            Some(lost) => (lost, cell_may_v, meters::AGAIN_CELL_V.at),
            None => (lost_v, allowed_v, meters::AGAIN_V.at),
        };
        // What a meter may be off each time is less and less against what several days add up to.
        let decided = last_s - first_s >= ends::REST_DAYS.at * 24.0 * HOUR_S;
        if lost > most_v + if decided { 0.0 } else { again_v } {
            let a_day = lost * 24.0 / hours * 1000.0;
            let sound = self.picture.pack.profile.leaks.map_or(0.0, |leaks| 1000.0 * leaks.sound_v);
            let shorted = self.picture.pack.profile.leaks.map_or(0.0, |leaks| 1000.0 * leaks.shorted_v);
            let message = format!(
                "It loses {} mV a day. A sound cell loses less than {}; over {} it is shorted inside.",
                trimmed(a_day, 1),
                trimmed(sound, 1),
                trimmed(shorted, 1)
            );
            return stop(AbortCode::LosesVoltage, message, &[("lost_v", lost), ("allowed_v", most_v)]);
        }
        if last_s - first_s >= readings::EARLY.at * in_s && lost > most_v - again_v && !decided {
            let mut unsure = judgement(
                JudgeState::OnTrack,
                format!(
                    "{} V lost in {}: too near the line of {} V for this meter to tell. Read it again a day later.",
                    trimmed(lost.max(0.0), 3),
                    show_hours((last_s - first_s) / 3600.0),
                    trimmed(most_v, 3)
                ),
            );
            unsure.next_look_s = Some(last_s + 24.0 * HOUR_S);
            return unsure;
        }
        if last_s - first_s >= readings::EARLY.at * in_s {
            return judgement(
                JudgeState::Reached,
                format!(
                    "It holds: {} V lost in {}.",
                    trimmed(lost_v.max(0.0), 3),
                    show_hours((last_s - first_s) / 3600.0)
                ),
            );
        }
        let mut rests =
            judgement(JudgeState::OnTrack, format!("It holds so far: {} V lost.", trimmed(lost_v.max(0.0), 3)));
        rests.until_s = Some(first_s + in_s);
        rests.next_look_s = Some(first_s + in_s);
        rests
    }

    /// The most any one cell has lost since the first reading once settled, V.
    fn lost_by_a_cell(&self) -> Option<f64> {
        let settled_s = readings::EARLY.at * self.picture.pack.profile.resting.settled_h * 3600.0;
        let mut cells = self
            .readings
            .iter()
            .filter(|r| r.t_s.unwrap_or(0.0) >= settled_s)
            .filter_map(|r| r.cell_voltages_v.as_ref());
        let first = cells.next()?;
        let last = cells.next_back()?;
        first.iter().zip(last).map(|(first, last)| first - last).max_by(f64::total_cmp)
    }

    fn prove(&self) -> JudgementDoc {
        let Some((_, ah)) = self.last(|r| r.capacity_ah) else {
            return judgement(JudgeState::Waiting, "Enter the Ah it gave, and the amps it gave them at.");
        };
        let amps = self.last(|r| r.current_a).map(|(_, a)| a);
        let share = share(self.picture, ah, amps);
        let values = [("capacity_ah", ah), ("share", share)];
        let hangs_on_rate = self.picture.pack.profile.discharge.hangs_on_rate();
        let whole = if hangs_on_rate && amps.is_some() { "what it gives at that current" } else { "its label" };
        let gave = format!("{} Ah, {} % of {whole}", trimmed(ah, 2), trimmed(share * 100.0, 0));
        if share < wear::RETIRE.at {
            return JudgementDoc {
                message: format!("{gave}: too little left to be worth the risk. Retire it."),
                ..stop(AbortCode::LowCapacity, "", &values)
            };
        }
        let word = if share >= wear::WORN.at { "as good as it was" } else { "usable, for light work" };
        JudgementDoc {
            values: values.iter().map(|(name, v)| ((*name).to_owned(), *v)).collect(),
            ..judgement(JudgeState::Reached, format!("{gave}: {word}."))
        }
    }

    /// When to look again, s.
    fn next_look_s(&self) -> Option<f64> {
        if !self.feeds() {
            return None;
        }
        let scheduled = LOOKS_S.into_iter().find(|t_s| *t_s > self.now_s + 20.0);
        let scheduled = scheduled.unwrap_or_else(|| (self.now_s / 900.0).floor() * 900.0 + 900.0);
        // Not past the moment it is expected to be done.
        let done_s = self.stage.expected_s.filter(|done_s| *done_s > self.now_s + 60.0);
        Some(done_s.map_or(scheduled, |done_s| scheduled.min(done_s)))
    }
}
