//! What a person wants: what to charge to and with, where to stop, where it begins.

use super::draft::{Draft, HIGHEST_CELL_V};
use super::part::Part;
use super::said::{Choice, Question};
use crate::formats::{GoalDoc, GoalKind};
use crate::units::{Kind, show};

const STOP_WORDS: &[&str] = &["stop", "stops", "until", "ends", "end", "cutoff", "cut-off", "taper", "tail"];

impl Draft {
    /// `never above 4.1 V per cell`, `do not go over 3 A`, `at most 2 A`: limits that a person sets bind.
    pub(super) fn limits(&mut self, part: &mut Part<'_>) {
        /// What a label says is no wish.
        const LABEL: &[&str] = &["initial", "label", "rated", "cycle", "cyclic", "standby", "input", "bms"];
        const NEVER: &[&str] = &["never", "not", "no", "don't", "dont", "without"];
        const OVER: &[&str] = &["above", "over", "exceed", "exceeding", "more", "past", "beyond", "higher"];
        const REACH: usize = 5;
        if part.says(LABEL) {
            return;
        }
        for n in 1..part.tokens.len() {
            let Some(figure) = part.figure(n, &["v", "a", "ma"]) else { continue };
            let from = n.saturating_sub(REACH);
            let words = |what: &[&str]| (from..n).rev().find(|k| what.contains(&part.word(*k)));
            let most = (part.word(n - 1) == "most" && n >= 2 && part.word(n - 2) == "at").then(|| n - 2);
            let never = words(OVER).and_then(|over| (from..over).rev().find(|k| NEVER.contains(&part.word(*k))));
            let Some(from) = most.or(never).filter(|k| (*k..n).all(|at| part.tokens[at].number.is_none())) else {
                continue;
            };
            let volts = part.tokens[n].word == "v";
            let of_cell = matches!((part.word(n + 1), part.word(n + 2)), ("per" | "a" | "each", "cell"));
            let token = part.take(from, if of_cell { n + 2 } else { n });
            let shown = show(if volts { Kind::Voltage } else { Kind::Current }, figure);
            if volts && (of_cell || figure <= HIGHEST_CELL_V) {
                self.a_cell.charge_v = Some(figure);
                self.note(&token, format!("charge to {shown} a cell at the most"), "/settings/voltage_v");
            } else if volts {
                self.settings.voltage_v = Some(figure);
                self.note(&token, format!("charge to {shown} at the most"), "/settings/voltage_v");
            } else {
                self.settings.current_a = Some(figure);
                self.note(&token, format!("charge with {shown} at the most"), "/settings/current_a");
            }
        }
    }

    /// `LVC 3.3 V`, `discharge cut-off 10 V`: down to where it is used, which is nothing to charge by.
    pub(super) fn lower_limits(&mut self, part: &mut Part<'_>) {
        const LOWEST: &[&str] = &["lvc", "undervoltage", "uvp", "lvd"];
        for n in 0..part.tokens.len() {
            let named = LOWEST.contains(&part.word(n));
            let ends = matches!(part.word(n), "cutoff" | "cut-off" | "cut")
                && n > 0
                && matches!(part.word(n - 1), "discharge" | "discharging" | "low" | "voltage" | "lower");
            if !named && !ends {
                continue;
            }
            let at = part.past_between(n + 1);
            let at = if part.word(at) == "off" { part.past_between(at + 1) } else { at };
            let Some(volts) = part.figure(at, &["v"]) else { continue };
            let from = if named { n } else { n - 1 };
            let token = part.take(from, at);
            self.note(&token, format!("used down to {}: nothing to charge by", show(Kind::Voltage, volts)), "/pack");
        }
    }

    /// `stop at 3 A`, `until 14.2 V`, `2 h limit`, `tail current 0.5 A`.
    pub(super) fn stops(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            if let Some(hours) = part.figure(n, &["h", "min"]).filter(|_| n > 0 && part.word(n - 1) == "for") {
                let token = part.take(n - 1, n);
                self.settings.time_limit_h = Some(hours);
                self.note(&token, format!("stop after {}", show(Kind::Hours, hours)), "/settings/time_limit_h");
                continue;
            }
            if !STOP_WORDS.contains(&part.word(n)) || part.used[n] {
                continue;
            }
            let at = part.past_between(n + 1);
            if let Some(amps) = part.figure(at, &["a", "ma"]) {
                let token = part.take(n, at);
                self.settings.stop_current_a = Some(amps);
                self.note(&token, format!("stop at {}", show(Kind::Current, amps)), "/settings/stop_current_a");
            } else if let Some(volts) = part.figure(at, &["v"]) {
                let token = part.take(n, at);
                self.settings.stop_voltage_v = Some(volts);
                self.note(&token, format!("stop at {}", show(Kind::Voltage, volts)), "/settings/stop_voltage_v");
            } else if let Some(share) = part.figure(at, &["%"]).filter(|share| (1.0..=100.0).contains(share)) {
                let token = part.take(n, at);
                self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Soc), soc: Some(share / 100.0) });
                self.note(&token, format!("charge to {share} %"), "/pack/goal");
            } else if let Some(hours) = part.figure(at, &["h", "min"]) {
                let token = part.take(n, at);
                self.settings.time_limit_h = Some(hours);
                self.note(&token, format!("stop after {}", show(Kind::Hours, hours)), "/settings/time_limit_h");
            }
        }
    }

    /// `charge at 14.4 V`, `with 2 A`, `to 14.4 V`: what the person wants.
    pub(super) fn told_to_charge(&mut self, part: &mut Part<'_>) {
        for n in 1..part.tokens.len() {
            let before = part.word(n - 1);
            let charge = n >= 2 && matches!(part.word(n - 2), "charge" | "charging" | "set" | "dial");
            let with_amps = before == "with" && part.says(&["charge"]) && part.figure(n, &["a"]).is_some();
            let voltage = charge && before == "voltage";
            let wants = before == "to" || with_amps || voltage || (charge && matches!(before, "at" | "with" | "by"));
            let from = if charge { n - 2 } else { n - 1 };
            if !wants || part.word_before(n, &["max", "maximum", "rated"]).is_some() {
                continue;
            }
            // `to 4.2`, `to 28.8`: volts are said without their unit.
            let cell_v = part
                .figure(n, &[""])
                .filter(|v| before == "to" && part.tokens[n].text.contains(['.', ',']) && *v >= 2.0);
            if let Some(volts) = part.figure(n, &["v"]).or(cell_v) {
                let token = part.take(from, n);
                self.settings.voltage_v = Some(volts);
                self.note(&token, format!("charge to {}", show(Kind::Voltage, volts)), "/settings/voltage_v");
            } else if let Some(amps) = part.figure(n, &["a"]).filter(|_| charge || with_amps) {
                let token = part.take(from, n);
                self.settings.current_a = Some(amps);
                self.note(&token, format!("charge with {}", show(Kind::Current, amps)), "/settings/current_a");
            }
        }
    }

    /// `from 24 V`: what it starts at, or what feeds it; asked.
    pub(super) fn volts_from(&mut self, part: &mut Part<'_>) {
        for n in 1..part.tokens.len() {
            let Some(volts) = part.figure(n, &["v"]).filter(|_| part.word(n - 1) == "from") else { continue };
            if matches!(part.word(n + 1), "to" | "-" | "–") {
                continue;
            }
            let token = part.take(n - 1, n);
            let shown = show(Kind::Voltage, volts);
            self.asked.push(Question::choosing(
                "/pack/start/rest_voltage_v",
                format!("From {shown}: what the pack reads now, or what feeds it?"),
                vec![
                    Choice::of("it reads that", "/pack/start/rest_voltage_v", volts),
                    Choice::of("that feeds it", "/source/voltage_v", volts),
                ],
            ));
            self.note(&token, format!("{shown}, asked below"), "/pack/start/rest_voltage_v");
        }
    }

    /// `13.65 V float`: held there.
    pub(super) fn stands_at(&mut self, part: &mut Part<'_>) {
        // What batteries are called after is what none is held at.
        const NAMES_V: &[f64] = &[2.0, 4.0, 6.0, 8.0, 12.0, 24.0, 36.0, 48.0];
        for n in 0..part.tokens.len() {
            let Some(volts) = part.figure(n, &["v"]).filter(|v| !NAMES_V.contains(v)) else { continue };
            let Some(at) = part.beside(n, &["float", "standby"]) else { continue };
            let token = part.take_both(n, at);
            self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Float), soc: None });
            self.settings.voltage_v = Some(volts);
            self.note(&token, format!("hold it at {}", show(Kind::Voltage, volts)), "/settings/voltage_v");
        }
    }

    /// `4 A per pack`: charged with so much each.
    pub(super) fn each_pack(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(amps) = part.figure(n, &["a", "ma"]) else { continue };
            let end = match (part.word(n + 1), part.word(n + 2)) {
                ("per" | "a" | "each", "pack" | "battery") => n + 2,
                ("each", _) => n + 1,
                _ => continue,
            };
            let token = part.take(n, end);
            self.each_a = Some(amps);
            self.note(&token, format!("charge each with {}", show(Kind::Current, amps)), "/settings/current_a");
        }
    }
}
