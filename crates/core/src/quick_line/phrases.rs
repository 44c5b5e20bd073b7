//! What several words say together: read before the words one by one, and taken out of the part.
//!
//! A label's ranges, what a charge ends at, how many there are of a thing, figures a cell, what a load draws, what
//! goes into a charger: each would be misread as something else if its number were taken alone.

use super::draft::{Draft, HIGHEST_CELL_V, Token};
use super::part::Part;
use super::said::{Choice, Question};
use super::vocabulary::WARMTH;
use crate::formats::{LabelVoltageDoc, Leftover, Wiring};
use crate::physics::cell::named;
use crate::units::{Kind, from_fahrenheit, show};

/// What a part is mostly about, as far as phrases need it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum About {
    Pack,
    Source,
    Charger,
    Load,
}

const READ_WORDS: &[&str] = &[
    "at", "reads", "reading", "read", "rest", "resting", "measured", "measures", "now", "is", "are", "from", "sits",
    "stands", "rests", "start", "starts", "starting",
];
/// Two volts may be a label's own and its full one.
const SHORTEST_ROW: usize = 3;
const CELL_WORDS: &[&str] = &["cell", "cells"];

/// Numbers in words.
const NUMBERS: &[(&str, u32)] = &[
    ("two", 2),
    ("twin", 2),
    ("three", 3),
    ("four", 4),
    ("five", 5),
    ("six", 6),
    ("seven", 7),
    ("eight", 8),
    ("ten", 10),
    ("twelve", 12),
];

/// What a word counts.
pub(super) fn counted(word: &str) -> Option<u32> {
    NUMBERS.iter().find(|(spelled, _)| *spelled == word).map(|(_, count)| *count)
}

impl Draft {
    /// Everything that several words of a part say together.
    pub(super) fn phrases(&mut self, part: &mut Part<'_>, about: About) {
        self.limits(part);
        self.holding(part, about);
        self.fuse(part);
        self.levelling(part);
        self.plugs(part);
        self.relay(part);
        self.odd_cells(part);
        self.cells_each(part);
        self.lower_limits(part);
        self.stops(part);
        self.rated_at(part);
        self.starting_current(part);
        self.loads(part);
        match about {
            About::Pack => {
                self.at_rest(part);
                self.when_full(part);
                self.ranges(part);
                self.volts_from(part);
                self.stands_at(part);
                self.each_pack(part);
                self.each_cell_holds(part);
                self.told_to_charge(part);
            }
            About::Source => {
                self.transformer(part);
                self.knob(part);
            }
            About::Charger => {}
            About::Load => return,
        }
        self.sides(part);
        self.kinds(part);
        self.temperature(part);
        self.several(part, about);
    }

    /// `6x3.72`, `3.72 V a cell`, `cells 3.71 3.72 3.69`, `to 4.1 V per cell`.
    fn cells_each(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            // So many times one reading.
            if let (Some(count), Some(volts)) = (part.figure(n, &["x"]), part.figure(n + 1, &["", "v"]))
                && count.fract() == 0.0
                && (1.0..=30.0).contains(&count)
                && (0.5..=HIGHEST_CELL_V).contains(&volts)
            {
                // Volts before a capacity are printed on each of them.
                if ["ah", "mah", "f"].iter().any(|unit| part.figure(n + 2, &[unit]).is_some()) {
                    let token = part.take(n, n + 1);
                    self.loose_cells = Some(count as u32);
                    let meaning = format!("{count} cells of {}, asked below", show(Kind::Voltage, volts));
                    self.note(&token, meaning, "/pack/series");
                    continue;
                }
                let token = part.take(n, n + 1);
                self.start.cell_voltages_v = Some(vec![volts; count as usize]);
                self.pack.series.get_or_insert(count as u32);
                self.note(
                    &token,
                    format!("{count} cells read at {}", show(Kind::Voltage, volts)),
                    "/pack/start/cell_voltages_v",
                );
                continue;
            }
            // Several readings of cells one after the other.
            let row = (n..part.tokens.len())
                .map_while(|k| part.figure(k, &["v"]).filter(|v| (0.0..=HIGHEST_CELL_V).contains(v)))
                .collect::<Vec<f64>>();
            if row.len() >= SHORTEST_ROW {
                let token = part.take(n, n + row.len() - 1);
                self.note(&token, format!("{} cells read", row.len()), "/pack/start/cell_voltages_v");
                self.pack.series.get_or_insert(row.len() as u32);
                self.start.cell_voltages_v = Some(row);
                continue;
            }
            // A list of readings.
            if CELL_WORDS.contains(&part.word(n)) {
                let first = part.past_between(n + 1);
                let first = if matches!(part.word(first), "read" | "reads") { first + 1 } else { first };
                let readings: Vec<f64> = (first..part.tokens.len())
                    .map_while(|k| part.figure(k, &["", "v"]))
                    .take_while(|v| (0.0..=HIGHEST_CELL_V).contains(v))
                    .collect();
                if readings.len() > 1 {
                    let token = part.take(n, first + readings.len() - 1);
                    self.note(&token, format!("{} cells read", readings.len()), "/pack/start/cell_voltages_v");
                    self.pack.series.get_or_insert(readings.len() as u32);
                    self.start.cell_voltages_v = Some(readings);
                    continue;
                }
            }
            if let Some(mohm) = part.figure(n, &["mohm"])
                && matches!([part.word(n + 1), part.word(n + 2)], ["a" | "per" | "each", "cell"])
            {
                let token = part.take(n, n + 2);
                self.a_cell.resistance_mohm = Some(mohm);
                self.note(&token, format!("{} a cell", show(Kind::Resistance, mohm)), "/pack/resistance_mohm");
                continue;
            }
            let Some(volts) = part.figure(n, &["v"]).filter(|v| (0.5..=HIGHEST_CELL_V).contains(v)) else { continue };
            let after = [part.word(n + 1), part.word(n + 2)];
            let end = match after {
                ["a" | "per" | "each" | "every", "cell"] => n + 2,
                ["cell" | "cells" | "each", _] => n + 1,
                _ => n,
            };
            let named_before = part.word_before(n, &["cell", "cells", "each"]).filter(|_| end == n);
            if end == n && named_before.is_none() {
                continue;
            }
            let wanted = part.word_before(n, &["to", "set", "charge", "dial", "until", "stop"]).filter(|_| {
                let before = part.word(n.wrapping_sub(1));
                matches!(before, "to" | "set" | "with" | "charge" | "dial" | "until" | "stop")
                    || (before == "at" && part.says(&["charge"]))
            });
            let from = wanted.or(named_before).unwrap_or(n);
            let token = part.take(from.min(n), end);
            let shown = show(Kind::Voltage, volts);
            if wanted.is_some() {
                self.a_cell.charge_v = Some(volts);
                self.note(&token, format!("charge to {shown} a cell"), "/settings/voltage_v");
            } else {
                self.a_cell.reading_v = Some(volts);
                let before = part.word(from.wrapping_sub(1));
                self.a_cell.said_to_be_read = from != n || READ_WORDS.contains(&before);
                self.note(&token, format!("{shown} a cell at rest"), "/pack/start/rest_voltage_v");
            }
        }
    }

    /// `11.4 V at rest`, `sitting at 22.4 V`, `22.4 V now`: what the pack reads.
    fn at_rest(&mut self, part: &mut Part<'_>) {
        const SITS: &[&str] = &["sits", "sitting", "stands", "standing", "rests", "resting", "measured", "reading"];
        for n in 0..part.tokens.len() {
            let Some(volts) = part.figure(n, &["v", "mv"]) else { continue };
            let end = match (part.word(n + 1), part.word(n + 2)) {
                ("at" | "when" | "after", "rest" | "resting") => n + 2,
                ("rest" | "resting" | "now" | "currently" | "measured", _) => n + 1,
                _ => n,
            };
            let at = n.wrapping_sub(1);
            let from = if part.word(at) == "at" && SITS.contains(&part.word(n.wrapping_sub(2))) { n - 2 } else { n };
            if end == n && from == n {
                continue;
            }
            let token = part.take(from, end);
            self.start.rest_voltage_v = Some(volts);
            self.note(&token, format!("{} at rest", show(Kind::Voltage, volts)), "/pack/start/rest_voltage_v");
        }
    }

    /// `4P 2900 mAh cells`, `2500 mAh per cell`: what one of several side by side holds.
    fn each_cell_holds(&mut self, part: &mut Part<'_>) {
        let strings = (0..part.tokens.len()).find_map(|n| part.figure(n, &["p"])).filter(|p| *p > 1.0);
        for n in 0..part.tokens.len() {
            let Some(ah) = part.figure(n, &["ah", "mah"]) else { continue };
            let end = match (part.word(n + 1), part.word(n + 2)) {
                ("per" | "a" | "each" | "every", "cell") => n + 2,
                ("cells" | "each", _) => n + 1,
                _ => continue,
            };
            let Some(strings) = strings.or((self.pack.series.is_some() || part.says(&["s"])).then_some(1.0)) else {
                continue;
            };
            let token = part.take(n, end);
            let all_ah = (ah * strings * 1e6).round() / 1e6;
            self.pack.capacity_ah = Some(all_ah);
            let meaning = format!("{} each, {} together", show(Kind::Charge, ah), show(Kind::Charge, all_ah));
            self.note(&token, meaning, "/pack/capacity_ah");
            if strings > 1.0 {
                // The cells side by side are counted in it.
                self.counted_in = true;
                self.pack.series =
                    self.pack.series.or((0..part.tokens.len()).find_map(|k| part.figure(k, &["s"])).map(|s| s as u32));
            }
        }
    }

    /// `40 V max`: what a full pack is called after.
    fn when_full(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(volts) = part.figure(n, &["v"]).filter(|_| matches!(part.word(n + 1), "max" | "max." | "maximum"))
            else {
                continue;
            };
            // `12 V max charge current 5 A`: there it belongs to the current.
            const OF_ANOTHER: &[&str] = &["charge", "charging", "current", "discharge", "initial", "input", "rate"];
            if OF_ANOTHER.contains(&part.word(n + 2))
                || self.pack.label_v.is_some()
                || part.word_before(n, &["charge", "charging", "to", "set", "stop", "until"]).is_some()
            {
                continue;
            }
            let token = part.take(n, n + 1);
            self.words.max_v = Some(volts);
            self.note(&token, format!("{} when full", show(Kind::Voltage, volts)), "/pack/series");
        }
    }

    /// `cycle 14.4-15.0 V`, `13.5–13.8 V standby`: what a lead battery's label allows.
    fn ranges(&mut self, part: &mut Part<'_>) {
        const CYCLE: &[&str] = &["cycle", "cyclic"];
        const STANDBY: &[&str] = &["standby", "float"];
        for n in 0..part.tokens.len() {
            let named = part.beside(n, &[CYCLE, STANDBY].concat());
            let units: &[&str] = if named.is_some() { &["v", ""] } else { &["v"] };
            let Some((low, high)) = part.span(n, units) else { continue };
            let Some(named) = named else {
                // A start and a wish.
                if let Some(from) = part.word_before(n, &["from"]) {
                    let token = part.take(from, n);
                    self.start.rest_voltage_v = Some(low);
                    self.settings.voltage_v = Some(high);
                    let meaning =
                        format!("from {} at rest, charge to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
                    self.note(&token, meaning, "/settings/voltage_v");
                }
                continue;
            };
            let cycle = CYCLE.contains(&part.word(named));
            let uses = usize::from(part.word(named + 1) == "use" && named + 1 != n);
            let token = part.take(named.min(n), (named + if named > n { uses } else { 0 }).max(n));
            let label = self.pack.label_voltage_v.get_or_insert_with(LabelVoltageDoc::default);
            let shown = format!("{} to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
            if cycle {
                label.cycle = Some([low, high]);
                self.note(&token, format!("its label: {shown} to charge with"), "/pack/label_voltage_v/cycle");
            } else {
                label.standby = Some([low, high]);
                self.note(&token, format!("its label: {shown} to stand at"), "/pack/label_voltage_v/standby");
            }
        }
    }

    /// `68 °F`; `20 degrees`; `garage 3C`.
    fn temperature(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            if self.warmth_range(part, n) {
                continue;
            }
            let place = |part: &Part<'_>| part.word_before(n, WARMTH).or_else(|| part.word_after(n, WARMTH));
            if let (Some(celsius), Some(at)) = (part.figure(n, &["c", "°c"]), place(part)) {
                let token = part.take_both(n, at);
                self.warm(&token, celsius);
                continue;
            }
            let bare_degrees = part.figure(n, &[""]).filter(|_| matches!(part.word(n + 1), "degrees" | "deg"));
            let fahrenheit = matches!(part.word(n + 2), "f" | "°f");
            let celsius = match (part.figure(n, &["°f"]), bare_degrees) {
                (Some(f), _) => Some((from_fahrenheit(f), n)),
                (None, Some(f)) if fahrenheit => Some((from_fahrenheit(f), n + 2)),
                (None, Some(c)) => Some((c, n + 1 + usize::from(matches!(part.word(n + 2), "c" | "°c")))),
                _ => None,
            };
            let Some((celsius, end)) = celsius else { continue };
            let token = part.take(n, end);
            self.warm(&token, celsius);
        }
    }

    /// `between -5 and 5 °C`, `-5 to 5 °C`: of two temperatures the one that is worse for a pack counts.
    fn warmth_range(&mut self, part: &mut Part<'_>, n: usize) -> bool {
        const DEGREES: &[&str] = &["c", "°c"];
        /// Below this a range is one of cold, °C.
        const COLD_C: f64 = 15.0;
        let led = part.word(n) == "between";
        let first = n + usize::from(led);
        let joined = matches!(part.word(first + 1), "and" | "to" | "-" | "–");
        let (Some(from), Some(to)) = (part.figure(first, &["", "c", "°c"]), part.figure(first + 2, DEGREES)) else {
            return false;
        };
        // `charge 1C to 2C` speaks of rates.
        let rates = part.tokens[first + 2].word == "c" && !led && from > 0.0;
        if !joined || rates {
            return false;
        }
        let token = part.take(n, first + 2);
        let (low, high) = (from.min(to), from.max(to));
        self.warm(&token, if low < COLD_C { low } else { high });
        true
    }

    /// How warm the pack is, to a tenth of a degree, °C.
    pub(super) fn at_celsius(&mut self, celsius: f64) -> f64 {
        let celsius = (celsius * 10.0).round() / 10.0;
        self.pack.temperature_c = Some(celsius);
        celsius
    }

    pub(super) fn warm(&mut self, token: &Token, celsius: f64) -> bool {
        let celsius = self.at_celsius(celsius);
        self.note(token, format!("the pack is at {}", show(Kind::Temperature, celsius)), "/pack/temperature_c")
    }

    /// `two 24 V 15 A supplies in parallel`, `4x 3S 2200`.
    fn several(&mut self, part: &mut Part<'_>, about: About) {
        if about == About::Pack && self.cells_in_words(part, NUMBERS) {
            return;
        }
        let counted = (0..part.tokens.len()).find_map(|n| {
            let spelled = NUMBERS.iter().find(|(word, _)| *word == part.word(n)).map(|(_, count)| *count);
            let amps = part.figure(n + 1, &["a", "ma"]).is_some();
            let times = part
                .figure(n, &["x"])
                .filter(|x| x.fract() == 0.0 && (2.0..=32.0).contains(x) && !(amps && about == About::Pack));
            // `3 6S 5000 lipos`: so many of what comes.
            let of_cells = part.figure(n, &[""]).filter(|x| {
                about == About::Pack
                    && x.fract() == 0.0
                    && (2.0..=12.0).contains(x)
                    && part.figure(n + 1, &["s"]).is_some()
            });
            // `2 supercaps`, `3 lipos`.
            let plural = part.figure(n, &[""]).filter(|x| {
                let next = part.word(n + 1);
                x.fract() == 0.0 && (2.0..=32.0).contains(x) && next.ends_with('s') && named(next).is_some()
            });
            let packs = part.figure(n, &[""]).filter(|x| x.fract() == 0.0 && (2.0..=32.0).contains(x)).filter(|_| {
                const THINGS: &[&str] =
                    &["packs", "batteries", "supplies", "psus", "bricks", "identical", "aa", "aaa", "sub-c"];
                THINGS.contains(&part.word(n + 1)) || THINGS.contains(&part.word(n + 2)) && !part.word(n + 1).is_empty()
            });
            Some((n, spelled.or(times.or(packs).or(of_cells).or(plural).map(|x| x as u32))?))
        });
        let wiring = (0..part.tokens.len())
            .find(|n| !part.used[*n] && matches!(part.word(*n), "parallel" | "series"))
            .map(|n| (n, if part.word(n) == "series" { Wiring::Series } else { Wiring::Parallel }));
        let Some((at, count)) = counted else { return };
        // `24 V (two 12 V)`: what the label says already.
        let each_v = part.figure(at + 1, &["v"]).filter(|_| about == About::Pack);
        let all_v = each_v.map(|v| v * f64::from(count)).filter(|all_v| {
            let same = |v: f64| (v - all_v).abs() < 0.01;
            self.pack.label_v.is_some_and(same) || (0..at).any(|n| part.figure(n, &["v"]).is_some_and(same))
        });
        if let (Some(each_v), Some(_)) = (each_v, all_v) {
            let token = part.take(at, at + 1);
            if let Some((n, _)) = wiring {
                part.used[n] = true;
            }
            let meaning = format!("{count} batteries of {} in series", show(Kind::Voltage, each_v));
            self.note(&token, meaning, "/pack/label_v");
            return;
        }
        let token = part.take(at, at);
        if let Some((n, _)) = wiring {
            part.used[n] = true;
        }
        match about {
            About::Source => {
                self.source.units = Some(count);
                self.source.wiring = wiring.map(|(_, wiring)| wiring);
                let how = match wiring {
                    Some((_, Wiring::Series)) => " in series",
                    Some(_) => " in parallel",
                    None => "",
                };
                self.note(&token, format!("{count} of them{how}"), "/source/units");
                if wiring.is_none() {
                    self.asked.push(Question {
                        pointer: "/source/wiring".to_owned(),
                        question: format!("How are the {count} joined?"),
                        options: vec!["parallel".to_owned(), "series".to_owned()],
                        choices: Vec::new(),
                        holds: false,
                    });
                }
            }
            About::Charger if part.says(&["lamp", "lamps", "bulb", "bulbs"]) => {
                self.charger.lamps_in_parallel = Some(count);
                self.note(&token, format!("{count} of them side by side"), "/charger/lamps_in_parallel");
            }
            About::Charger => {
                let words = vec![token.text.clone()];
                let question = format!("{count} chargers on one pack: which of them charges it?");
                self.asked.push(
                    Question::choosing("/charger", question, vec![Choice::without("one of them", words)]).holding(),
                );
                self.note(&token, format!("{count} of them, asked below"), "/charger");
            }
            About::Load => self.not_understood.push(Leftover { text: token.text }),
            About::Pack => {
                if wiring.is_some_and(|(_, wiring)| wiring == Wiring::Series) {
                    self.in_series = Some(count);
                    self.note(&token, format!("{count} of them in series"), "/pack/series");
                } else if wiring.is_none() && part.says(&["holder"]) {
                    self.pack.series = Some(count);
                    self.note(&token, format!("{count} cells in series, as a holder joins them"), "/pack/series");
                } else if wiring.is_none() && self.are_single_cells(part) {
                    self.loose_cells = Some(count);
                    self.note(&token, format!("{count} cells, asked below how they are joined"), "/pack/series");
                } else {
                    self.pack.packs_in_parallel = Some(count).filter(|_| wiring.is_some());
                    self.batteries = Some(count).filter(|_| wiring.is_none());
                    let how = if wiring.is_some() { "in parallel" } else { "asked below how they are charged" };
                    self.note(&token, format!("{count} of them, {how}"), "/pack/packs_in_parallel");
                }
            }
        }
    }

    /// `six cells`, `a single cell`.
    fn cells_in_words(&mut self, part: &mut Part<'_>, numbers: &[(&str, u32)]) -> bool {
        let found = (0..part.tokens.len()).find_map(|n| {
            if part.word(n) == "single" {
                return Some((n, n + usize::from(CELL_WORDS.contains(&part.word(n + 1))), 1));
            }
            let (_, count) = numbers.iter().find(|(word, _)| *word == part.word(n))?;
            CELL_WORDS.contains(&part.word(n + 1)).then_some((n, n + 1, *count))
        });
        let Some((from, to, count)) = found else { return false };
        let token = part.take(from, to);
        self.pack.series = Some(count);
        self.note(
            &token,
            if count == 1 { "one cell".to_owned() } else { format!("{count} cells in series") },
            "/pack/series",
        );
        true
    }

    /// Whether a part speaks of cells, not of packs: no count in series, and the volts of one of them or none.
    fn are_single_cells(&self, part: &Part<'_>) -> bool {
        let packs = ["pack", "packs", "battery", "batteries"];
        let count = (0..part.tokens.len()).any(|n| part.figure(n, &["s"]).is_some());
        let high = (0..part.tokens.len()).any(|n| part.figure(n, &["v"]).is_some_and(|v| v > HIGHEST_CELL_V));
        self.pack.series.is_none() && !count && !high && !part.says(&packs)
    }
}
