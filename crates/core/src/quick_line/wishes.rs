//! What a person wants: what to charge to and with, where to stop, where it begins.

use super::draft::Draft;
use super::part::Part;
use super::said::{Choice, Question};
use crate::formats::{GoalDoc, GoalKind};
use crate::units::{Kind, show};

const STOP_WORDS: &[&str] = &["stop", "stops", "until", "ends", "end", "cutoff", "cut-off", "taper", "tail"];

impl Draft {
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
