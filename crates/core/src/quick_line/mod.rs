//! One line of text → a draft plan, what was understood of it and what was not.
//!
//! `6S 4000 lipo, 30 V 5 A bench` · `12V 7Ah agm` · `6S 4000 lipo, 19 V 90 W, 8 A charger, 16awg 1 m`.
//! Commas part the pack from what feeds it, what regulates and what draws from it; within a part
//! the order is free.

mod draft;
mod label;
mod said;

use crate::formats::{
    Balancer, ChargerDoc, ChargerKind, GoalDoc, GoalKind, LeadDoc, LeadsDoc, LoadDoc, PLAN_FORMAT, PackDoc, PlanDoc,
    Practice, SettingsDoc, SourceDoc, SourceKind, StartDoc, Topology,
};
use crate::parts::pack::series_candidates;
use crate::physics::cell::{Chemistry, named, profile};
use crate::units::{Kind, Written, is_of_number, show, volts, written};
use draft::{Draft, Token};
use label::{range, way};
pub use said::{Choice, Leftover, Question, QuickLine, Understood};

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Role {
    Pack,
    Source,
    Charger,
    Load,
}

const UNITS: &[&str] = &[
    "v", "mv", "a", "ma", "w", "kw", "ah", "mah", "wh", "kwh", "c", "s", "%", "f", "mohm", "mω", "°c", "volt", "volts",
    "amp", "amps", "watt", "watts", "awg", "mm2", "mm²", "m",
];
const FILLER: &[&str] = &[
    "a",
    "an",
    "the",
    "from",
    "on",
    "with",
    "and",
    "pack",
    "battery",
    "of",
    "at",
    "to",
    "set",
    "rest",
    "reads",
    "charge",
    "cells",
    "cell",
    "charging",
    "chg",
    "charged",
    "initial",
    "recharge",
    "discharge",
    "discharging",
    "dischg",
    "dis",
    "burst",
    "continuous",
    "cont",
    "peak",
    "rate",
    "current",
    "max",
    "max.",
    "maximum",
    "rated",
    "up",
    "is",
];
const SOURCE_WORDS: &[&str] = &[
    "bench",
    "supply",
    "psu",
    "fixed",
    "brick",
    "adapter",
    "adaptor",
    "adjustable",
    "port",
    "usb",
    "mains",
    "wall",
    "outlet",
];
const CHARGER_WORDS: &[&str] =
    &["charger", "smart", "buck", "boost", "buck-boost", "module", "linear", "lamp", "bulb", "cc"];

/// Reads a line. Never fails: what it cannot place comes back in `not_understood`.
///
/// # Examples
/// ```
/// use rumek_core::quick_line::read;
///
/// let line = read("6S 4000 LiPo, bench 30 V 5 A");
/// assert_eq!(line.plan.pack.and_then(|pack| pack.series), Some(6));
/// ```
#[must_use]
pub fn read(line: &str) -> QuickLine {
    let mut draft = Draft::default();
    for part in parts(line) {
        draft.part(&tokens(&part));
    }
    draft.finish()
}

/// Parts between commas and semicolons; a comma inside a number stays.
fn parts(line: &str) -> Vec<String> {
    let chars: Vec<char> = line.chars().take(400).collect();
    let digit = |n: usize| chars.get(n).is_some_and(char::is_ascii_digit);
    let mut parts = vec![String::new()];
    for (n, c) in chars.iter().enumerate() {
        let decimal = *c == ',' && n > 0 && digit(n - 1) && digit(n + 1);
        if (matches!(c, ',' | ';' | '\n') && !decimal) || *c == '→' {
            parts.push(String::new());
        } else if let Some(last) = parts.last_mut() {
            last.push(*c);
        }
    }
    parts
}

fn tokens(part: &str) -> Vec<Token> {
    let mut out: Vec<Token> = Vec::new();
    for raw in part.split_whitespace() {
        let lower = raw.to_lowercase().replace('Ω', "ω");
        // "4s2p" is two quantities in one word.
        if let Some((s, p)) = lower.strip_suffix('p').and_then(|rest| rest.split_once('s'))
            && let (Ok(s), Ok(p)) = (s.parse::<f64>(), p.parse::<f64>())
        {
            for (number, unit) in [(s, "s"), (p, "p")] {
                out.push(Token { text: raw.to_owned(), number: Some(number), grouped: None, word: unit.to_owned() });
            }
            continue;
        }
        let joins = out.last().is_some_and(|last| last.number.is_some() && last.word.is_empty());
        if joins
            && UNITS.contains(&lower.as_str())
            && let Some(last) = out.last_mut()
        {
            last.text = format!("{} {raw}", last.text);
            last.word = lower;
            join_thousands(&mut out);
            continue;
        }
        let split = lower.find(|c: char| !is_of_number(c) || matches!(c, '-' | '+')).unwrap_or(lower.len());
        let (digits, suffix) = lower.split_at(split);
        // A word that merely begins with digits ("18650") and is a chemistry stays a word.
        let quantity = named(&lower).is_none() && (suffix.is_empty() || UNITS.contains(&suffix));
        let read = Some(digits).filter(|_| quantity).and_then(|digits| written(digits, suffix, kind_of(suffix)));
        let (number, grouped) = match read {
            Some(Written::One(number)) => (Some(number), None),
            Some(Written::Either { grouped, decimal }) => (Some(decimal), Some(grouped)),
            None => (None, None),
        };
        let word = if number.is_some() { suffix.to_owned() } else { lower };
        out.push(Token { text: raw.to_owned(), number, grouped, word });
        join_thousands(&mut out);
    }
    out
}

/// `5 000 mAh`: the thousands were parted by a space.
fn join_thousands(out: &mut Vec<Token>) {
    let [.., before, last] = out.as_slice() else { return };
    let threes = last.word == "mah" && last.text.chars().take_while(char::is_ascii_digit).count() == 3;
    let parted = before.word.is_empty() && before.number.is_some_and(|n| (1.0..1e3).contains(&n) && n.fract() == 0.0);
    if let (true, true, Some(thousands), Some(rest)) = (threes, parted, before.number, last.number) {
        let text = format!("{} {}", before.text, last.text);
        out.truncate(out.len() - 2);
        out.push(Token { text, number: Some(thousands * 1e3 + rest), grouped: None, word: "mah".to_owned() });
    }
}

/// The kind of quantity a unit belongs to.
fn kind_of(unit: &str) -> Kind {
    match unit {
        "ah" | "mah" | "" => Kind::Charge,
        "wh" | "kwh" => Kind::Energy,
        "w" | "kw" | "watt" | "watts" => Kind::Power,
        "f" => Kind::Capacitance,
        _ => Kind::Number,
    }
}

fn is_pack_token(token: &Token) -> bool {
    match token.number {
        Some(_) => matches!(token.word.as_str(), "s" | "p" | "ah" | "mah" | "wh" | "kwh" | "f" | "c" | "%"),
        None => named(&token.word).is_some() || range(&token.word).is_some(),
    }
}

fn is_charger_token(token: &Token) -> bool {
    token.number.is_none() && CHARGER_WORDS.contains(&token.word.as_str())
}

fn is_source_token(token: &Token) -> bool {
    token.number.is_none() && SOURCE_WORDS.contains(&token.word.as_str())
}

impl Draft {
    fn part(&mut self, tokens: &[Token]) {
        let last_pack = tokens.iter().rposition(is_pack_token);
        let has_source = tokens.iter().any(is_source_token);
        let has_charger = tokens.iter().any(is_charger_token);
        let has_load = tokens.iter().any(|t| t.word == "load");
        let before = |n: usize| n.checked_sub(1).and_then(|m| tokens.get(m)).map_or("", |t| t.word.as_str());
        for (n, token) in tokens.iter().enumerate() {
            let role = if has_load {
                Role::Load
            } else if has_charger && last_pack.is_none_or(|last| n > last) {
                Role::Charger
            } else if has_source && last_pack.is_none_or(|last| n > last) {
                Role::Source
            } else if last_pack.is_some() || !self.has_pack() {
                Role::Pack
            } else {
                Role::Source
            };
            let taken = match (token.number, range(&token.word)) {
                (Some(_), _) if token.grouped.is_some() => self.either(token, role),
                (Some(number), _) if role == Role::Pack && token.word == "c" => {
                    self.rate(token, number, way(tokens, n))
                }
                (Some(number), _)
                    if role == Role::Pack && matches!(token.word.as_str(), "a" | "ma" | "amp" | "amps") =>
                {
                    let amps = if token.word == "ma" { number / 1e3 } else { number };
                    self.pack_amps(token, amps, way(tokens, n))
                }
                (Some(number), _) => self.quantity(token, number, role, before(n)),
                (None, Some(ends)) if role == Role::Pack => self.rates(token, ends, way(tokens, n)),
                (None, _) => self.word(token, has_source),
            };
            if !taken {
                self.not_understood.push(Leftover { text: token.text.clone() });
            }
        }
    }

    fn has_pack(&self) -> bool {
        self.pack.chemistry.is_some() || self.pack.series.is_some() || self.pack.capacity_ah.is_some()
    }

    fn word(&mut self, token: &Token, has_source: bool) -> bool {
        if token.word == "lead" && self.lead != LeadDoc::default() {
            return true;
        }
        if let Some(chemistry) = named(&token.word) {
            self.pack.chemistry = Some(chemistry);
            let name = profile(chemistry).map_or("custom", |p| p.name);
            return self.note(token, name.to_owned(), "/pack/chemistry");
        }
        if let Some(practice) = Practice::from_code(&token.word) {
            self.practice = Some(practice);
            return self.note(token, format!("practice {}", practice.code()), "/practice");
        }
        match token.word.as_str() {
            "bench" => {
                self.source.kind = Some(SourceKind::BenchSupply);
                self.note(token, "a bench supply".to_owned(), "/source/kind")
            }
            "supply" | "psu"
                if self.source.kind.is_some() || has_source && self.source.kind == Some(SourceKind::BenchSupply) =>
            {
                true
            }
            "supply" | "psu" | "fixed" | "brick" | "adapter" | "adaptor" => {
                self.source.kind = Some(SourceKind::FixedSupply);
                self.note(token, "a fixed supply".to_owned(), "/source/kind")
            }
            "adjustable" => {
                self.source.kind = Some(SourceKind::AdjustableSupply);
                self.note(token, "an adjustable supply without current limit".to_owned(), "/source/kind")
            }
            "port" | "usb" => {
                self.source.kind = Some(SourceKind::RegulatedPort);
                self.note(token, "a regulated port".to_owned(), "/source/kind")
            }
            "mains" | "wall" | "outlet" => {
                self.source.kind = Some(SourceKind::Mains);
                self.note(token, "from the wall".to_owned(), "/source/kind")
            }
            "charger" | "smart" | "buck" | "boost" | "buck-boost" | "module" | "linear" | "lamp" | "bulb" | "cc" => {
                self.charger_word(token)
            }
            "balance" | "balanced" => {
                self.pack.balancer = Some(Balancer::BalanceLead);
                self.note(token, "the charger levels the cells".to_owned(), "/pack/balancer")
            }
            "wire" => true,
            "storage" => {
                self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Storage), soc: None });
                self.note(token, "charge to storage".to_owned(), "/pack/goal")
            }
            "float" => {
                self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Float), soc: None });
                self.note(token, "hold at float".to_owned(), "/pack/goal")
            }
            "full" => {
                self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Full), soc: None });
                self.note(token, "charge to full".to_owned(), "/pack/goal")
            }
            "load" => true,
            "empty" | "flat" => {
                self.start.soc = Some(0.0);
                self.note(token, "starts empty".to_owned(), "/pack/start/soc")
            }
            word => FILLER.contains(&word),
        }
    }

    /// What regulates, by its words.
    fn charger_word(&mut self, token: &Token) -> bool {
        let topology = match token.word.as_str() {
            "buck" => Some(Topology::Buck),
            "boost" => Some(Topology::Boost),
            "buck-boost" => Some(Topology::BuckBoost),
            _ => None,
        };
        if let Some(topology) = topology {
            self.charger.topology = Some(topology);
            self.charger.kind = Some(ChargerKind::DcDc);
            return self.note(token, format!("a {} module", token.word), "/charger/topology");
        }
        let (kind, meaning) = match token.word.as_str() {
            "smart" => (ChargerKind::SmartCharger, "a charger that runs by itself"),
            "linear" => (ChargerKind::LinearModule, "a linear module"),
            "lamp" | "bulb" => (ChargerKind::Lamp, "a lamp as limiter"),
            "cc" => {
                self.charger.has_cc = Some(true);
                return self.note(token, "it holds a current".to_owned(), "/charger/has_cc");
            }
            "module" => return self.charger.kind.is_some(),
            // After "smart" or "buck" it says nothing new.
            _ if self.charger.kind.is_some() => return true,
            _ => (ChargerKind::HobbyCharger, "a charger, set by menu"),
        };
        self.charger.kind = Some(kind);
        self.note(token, meaning.to_owned(), "/charger/kind")
    }

    /// A figure of what regulates.
    fn charger_figure(&mut self, token: &Token, value: f64) -> bool {
        let lamp = self.charger.kind == Some(ChargerKind::Lamp);
        match token.word.as_str() {
            "a" | "ma" | "amp" | "amps" => {
                self.charger.output_max_a = Some(value);
                self.note(token, format!("the charger gives {}", show(Kind::Current, value)), "/charger/output_max_a")
            }
            "w" | "kw" | "watt" | "watts" => {
                self.charger.output_max_w = Some(value);
                self.note(token, format!("the charger gives {}", show(Kind::Power, value)), "/charger/output_max_w")
            }
            "v" | "volt" | "volts" if lamp => {
                self.charger.lamp_rated_v = Some(value);
                self.note(token, format!("a lamp for {}", show(Kind::Voltage, value)), "/charger/lamp_rated_v")
            }
            "v" | "volt" | "volts" => {
                self.charger.output_max_v = Some(value);
                self.note(token, format!("the charger reaches {}", show(Kind::Voltage, value)), "/charger/output_max_v")
            }
            _ => false,
        }
    }

    /// A figure of the lead to the pack.
    fn lead_figure(&mut self, token: &Token, value: f64) -> bool {
        match token.word.as_str() {
            "awg" => {
                self.lead.awg = Some(value);
                self.note(token, format!("a lead of {}", show(Kind::Gauge, value)), "/leads/output/awg")
            }
            "mm2" | "mm²" => {
                self.lead.area_mm2 = Some(value);
                self.note(token, format!("a lead of {}", show(Kind::Area, value)), "/leads/output/area_mm2")
            }
            _ => {
                self.lead.length_m = Some(value);
                self.note(token, format!("the lead is {} long", show(Kind::Length, value)), "/leads/output/length_m")
            }
        }
    }

    fn quantity(&mut self, token: &Token, number: f64, role: Role, before: &str) -> bool {
        let scaled = match token.word.as_str() {
            "mv" | "ma" | "mah" => number / 1e3,
            "kw" | "kwh" => number * 1e3,
            _ => number,
        };
        match (role, token.word.as_str()) {
            (_, "awg" | "mm2" | "mm²" | "m") => self.lead_figure(token, scaled),
            (Role::Charger, _) => self.charger_figure(token, scaled),
            (_, "v" | "mv" | "volt" | "volts") => self.volts(token, scaled, role, before),
            (Role::Load, "a" | "ma" | "amp" | "amps") => {
                self.load.current_a = Some(scaled);
                self.note(token, format!("the load draws {}", show(Kind::Current, scaled)), "/load/current_a")
            }
            (Role::Load, "w" | "kw" | "watt" | "watts") => {
                self.load.power_w = Some(scaled);
                self.note(token, format!("the load draws {}", show(Kind::Power, scaled)), "/load/power_w")
            }
            (_, "a" | "ma" | "amp" | "amps") => self.amps(token, scaled, before),
            (_, "w" | "kw" | "watt" | "watts") => {
                self.source.max_power_w = Some(scaled);
                self.note(token, format!("the supply gives {}", show(Kind::Power, scaled)), "/source/max_power_w")
            }
            (Role::Load, _) => false,
            (_, "s") if number.fract() == 0.0 && (1.0..=200.0).contains(&number) => {
                self.pack.series = Some(number as u32);
                self.note(token, format!("{number} cells in series"), "/pack/series")
            }
            (_, "p") if number.fract() == 0.0 && number >= 1.0 => {
                // The label's capacity counts the cells in parallel already.
                self.note(token, format!("{number} cells in parallel, counted in the capacity"), "/pack/capacity_ah")
            }
            (_, "ah" | "mah") => {
                self.pack.capacity_ah = Some(scaled);
                self.note(token, show(Kind::Charge, scaled), "/pack/capacity_ah")
            }
            (_, "wh" | "kwh") => {
                self.pack.energy_wh = Some(scaled);
                self.note(token, show(Kind::Energy, scaled), "/pack/energy_wh")
            }
            (_, "f") => {
                self.pack.capacitance_f = Some(number);
                self.note(token, format!("{} each", show(Kind::Capacitance, number)), "/pack/capacitance_f")
            }
            (_, "mohm" | "mω") => {
                self.pack.resistance_mohm = Some(number);
                self.note(token, show(Kind::Resistance, number), "/pack/resistance_mohm")
            }
            (_, "°c") => {
                self.pack.temperature_c = Some(number);
                self.note(token, format!("the pack is at {}", show(Kind::Temperature, number)), "/pack/temperature_c")
            }
            (_, "%") if before == "to" && (1.0..=100.0).contains(&number) => {
                self.pack.goal = Some(GoalDoc { kind: Some(GoalKind::Soc), soc: Some(number / 100.0) });
                self.note(token, format!("charge to {number} %"), "/pack/goal")
            }
            (_, "%") if (0.0..=100.0).contains(&number) => {
                self.start.soc = Some(number / 100.0);
                self.note(token, format!("starts at {number} %"), "/pack/start/soc")
            }
            (Role::Pack, "") => self.bare(token, number),
            _ => false,
        }
    }

    fn volts(&mut self, token: &Token, volts: f64, role: Role, before: &str) -> bool {
        let shown = show(Kind::Voltage, volts);
        match role {
            Role::Pack if matches!(before, "at" | "rest" | "reads") => {
                self.start.rest_voltage_v = Some(volts);
                self.note(token, format!("{shown} at rest"), "/pack/start/rest_voltage_v")
            }
            Role::Pack => {
                self.pack.label_v = Some(volts);
                self.note(token, format!("{shown} on the label"), "/pack/label_v")
            }
            Role::Source if matches!(before, "set" | "at") => {
                self.settings.voltage_v = Some(volts);
                self.note(token, format!("charge at {shown}"), "/settings/voltage_v")
            }
            Role::Source => {
                self.source.voltage_v = Some(volts);
                self.note(token, format!("the supply gives {shown}"), "/source/voltage_v")
            }
            Role::Load | Role::Charger => false,
        }
    }

    /// Amps beside the supply.
    fn amps(&mut self, token: &Token, amps: f64, before: &str) -> bool {
        let shown = show(Kind::Current, amps);
        match before {
            _ if matches!(before, "set" | "at") => {
                self.settings.current_a = Some(amps);
                self.note(token, format!("charge with {shown}"), "/settings/current_a")
            }
            _ => {
                self.source.max_current_a = Some(amps);
                self.note(token, format!("the supply gives {shown}"), "/source/max_current_a")
            }
        }
    }

    /// A number whose comma may group thousands or part decimals: asked.
    fn either(&mut self, token: &Token, role: Role) -> bool {
        let (Some(decimal), Some(grouped)) = (token.number, token.grouped) else { return false };
        if role == Role::Pack && matches!(token.word.as_str(), "ah" | "") {
            let unit = if token.word.is_empty() { 1e-3 } else { 1.0 };
            self.ask_capacity(&token.text, [decimal, grouped * unit]);
            return self.note(token, "a capacity, asked below".to_owned(), "/pack/capacity_ah");
        }
        false
    }

    fn finish(mut self) -> QuickLine {
        self.settle_capacity();
        let mut questions = std::mem::take(&mut self.asked);
        self.settle_source();
        self.settle_charger();
        if self.pack.rated_c_rate.is_some() && self.pack.rated_charge_a.is_some() {
            self.pack.rated_c_rate = None;
        }
        match self.pack.chemistry {
            None => questions.push(Question {
                pointer: "/pack/chemistry".to_owned(),
                question: "Which chemistry is the pack?".to_owned(),
                options: Chemistry::ALL
                    .iter()
                    .filter(|c| **c != Chemistry::Custom)
                    .map(|c| c.code().to_owned())
                    .collect(),
                choices: Vec::new(),
            }),
            Some(chemistry) => self.settle_series(chemistry, &mut questions),
        }
        let pack = &self.pack;
        let asked = questions.iter().any(|question| question.pointer == "/pack/capacity_ah");
        if !asked && pack.capacity_ah.is_none() && pack.energy_wh.is_none() && pack.capacitance_f.is_none() {
            questions.push(Question {
                pointer: "/pack/capacity_ah".to_owned(),
                question: "How much does the pack hold? Ah or Wh are on its label.".to_owned(),
                options: Vec::new(),
                choices: Vec::new(),
            });
        }
        let said = |default: bool| !default;
        let mut plan = PlanDoc {
            format: Some(PLAN_FORMAT.to_owned()),
            practice: self.practice,
            source: said(self.source == SourceDoc::default()).then_some(self.source),
            charger: said(self.charger == ChargerDoc::default()).then_some(self.charger),
            leads: said(self.lead == LeadDoc::default()).then_some(LeadsDoc { input: None, output: Some(self.lead) }),
            load: said(self.load == LoadDoc::default()).then_some(self.load),
            settings: said(self.settings == SettingsDoc::default()).then_some(self.settings),
            ..PlanDoc::default()
        };
        if self.start != StartDoc::default() {
            self.pack.start = Some(self.start);
        }
        plan.pack = said(self.pack == PackDoc::default()).then_some(self.pack);
        if plan.source.is_none() && plan.load.is_none() {
            questions.push(Question {
                pointer: "/source".to_owned(),
                question: "What feeds it? Such as: 30 V 5 A bench".to_owned(),
                options: Vec::new(),
                choices: Vec::new(),
            });
        }
        QuickLine { plan, understood: self.understood, not_understood: self.not_understood, questions }
    }

    /// Volts go to the field the kind of supply has.
    fn settle_source(&mut self) {
        if self.source == SourceDoc::default() {
            return;
        }
        // Before a charger an unnamed supply is the usual brick with one voltage.
        let unnamed =
            if self.charger == ChargerDoc::default() { SourceKind::BenchSupply } else { SourceKind::FixedSupply };
        let kind = *self.source.kind.get_or_insert(unnamed);
        if matches!(kind, SourceKind::BenchSupply | SourceKind::AdjustableSupply) {
            self.source.max_voltage_v = self.source.voltage_v.take();
            for piece in &mut self.understood {
                if piece.pointer == "/source/voltage_v" {
                    piece.pointer = "/source/max_voltage_v".to_owned();
                }
            }
        }
    }

    /// What is said of a lamp goes to the fields a lamp has; a charger without a kind is set by menu.
    fn settle_charger(&mut self) {
        if self.charger == ChargerDoc::default() {
            return;
        }
        let kind = *self.charger.kind.get_or_insert(ChargerKind::HobbyCharger);
        if kind == ChargerKind::Lamp {
            self.charger.lamp_rated_w = self.charger.output_max_w.take();
            self.charger.lamp_rated_v = self.charger.lamp_rated_v.or(self.charger.output_max_v.take());
            for piece in &mut self.understood {
                if piece.pointer == "/charger/output_max_w" {
                    piece.pointer = "/charger/lamp_rated_w".to_owned();
                }
            }
        }
    }

    fn settle_series(&mut self, chemistry: Chemistry, questions: &mut Vec<Question>) {
        if self.pack.series.is_some() {
            return;
        }
        let ask = |question: String, options: Vec<String>| Question {
            pointer: "/pack/series".to_owned(),
            question,
            options,
            choices: Vec::new(),
        };
        let Some(label_v) = self.pack.label_v else {
            questions.push(ask("How many cells are in series?".to_owned(), Vec::new()));
            return;
        };
        match series_candidates(chemistry, volts(label_v)).as_slice() {
            [one] => self.pack.series = Some(*one),
            [] => questions.push(ask(
                format!(
                    "{} fits no whole number of these cells. How many are in series?",
                    show(Kind::Voltage, label_v)
                ),
                Vec::new(),
            )),
            several => questions.push(ask(
                format!("{} may be more than one cell count. How many are in series?", show(Kind::Voltage, label_v)),
                several.iter().map(ToString::to_string).collect(),
            )),
        }
    }
}
