//! The words of a line, part by part, into what they say.

use super::about::names_a_battery;
use super::draft::{Draft, HIGHEST_CELL_V, Token};
use super::gear::LONE;
use super::joints::{feeds, is_pack_token, is_source_token, names_a_charger, stretches};
use super::label::{range, way};
use super::part::Part;
use super::phrases::{About, counted};
use super::said::{Choice, Heard, Question};
use super::settle::{is_lead_word, which_chemistry, which_lead};
use super::tokens::{parts, tokens};
use super::usual::things;
use super::vocabulary::{FILLER, FLOWN, known};
use super::{harm, odd_cell, refused, scope};
use crate::asking::with;
use crate::formats::{
    Balancer, ChargerDoc, ChargerKind, CutOffDoc, GoalDoc, GoalKind, LeadDoc, LeadsDoc, Leftover, LoadDoc, PLAN_FORMAT,
    PackDoc, PlanDoc, Practice, SettingsDoc, SourceDoc, SourceKind, StartDoc, Topology,
};
use crate::physics::cell::{Chemistry, named, profile};
use crate::units::{Kind, show};

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
pub fn read(line: &str) -> Heard {
    let mut draft = Draft::default();
    let mut from = 0;
    let mut said: Vec<(Vec<Token>, bool)> = Vec::new();
    for part in parts(line) {
        let tokens = tokens(&part, from);
        from += tokens.len();
        match said.last_mut() {
            // `cells: 3.81, 3.83`: their commas part no things.
            Some((last, _)) if goes_on(last, &tokens) || odd_cell::goes_on(last, &tokens) => last.extend(tokens),
            _ => {
                let cut = stretches(&tokens);
                let fed = |n: usize| feeds(&cut[n], cut.get(n + 1).map(Vec::as_slice));
                let fed: Vec<bool> = (0..cut.len()).map(fed).collect();
                said.extend(cut.into_iter().zip(fed));
            }
        }
    }
    draft.flown = said.iter().any(|(tokens, _)| tokens.iter().any(|t| FLOWN.contains(&t.word.as_str())));
    said.iter().for_each(|(tokens, feeds)| draft.part(tokens, *feeds));
    draft.finish()
}

/// `10-14V 6S 15-19V 8S`, `2-6S`: what a charger manages, on so many volts each.
fn manages(tokens: &[Token]) -> bool {
    let charger = tokens.iter().any(|t| t.number.is_none() && matches!(t.word.as_str(), "charger" | "chargers"));
    let figure = |t: &Token, unit: &str| t.number.is_some() && t.word == unit;
    let packs =
        tokens.iter().any(|t| figure(t, "ah") || figure(t, "mah") || t.number.is_none() && named(&t.word).is_some());
    let spans = tokens.iter().any(|t| t.upto.is_some() && matches!(t.word.as_str(), "v" | "s"));
    !packs && (spans || charger) && tokens.iter().any(|t| figure(t, "s"))
}

/// `pack`, `packs`: the part speaks of what is charged.
fn says_pack(tokens: &[Token]) -> bool {
    tokens.iter().any(|t| t.number.is_none() && matches!(t.word.as_str(), "pack" | "packs"))
}

/// The volts of a part that says nothing else.
fn alone(tokens: &[Token]) -> Option<&Token> {
    const BESIDE: &[&str] = &["from", "per", "pack", "a", "the"];
    let (figures, words): (Vec<&Token>, Vec<&Token>) = tokens.iter().partition(|t| t.number.is_some());
    let [volts] = figures.as_slice() else { return None };
    let plain = volts.word == "v" && volts.upto.is_none();
    (plain && words.iter().all(|t| BESIDE.contains(&t.word.as_str()))).then_some(volts)
}

/// `30/5`: two figures above nothing, no units.
fn over(word: &str) -> Option<(f64, f64)> {
    let (first, second) = word.split_once('/')?;
    let number = |text: &str| text.parse::<f64>().ok().filter(|n| n.is_finite() && *n > 0.0);
    number(first).zip(number(second))
}

/// Whether readings of cells go on after a comma.
fn goes_on(before: &[Token], tokens: &[Token]) -> bool {
    let reading = |t: &Token| t.number.is_some_and(|n| n < HIGHEST_CELL_V) && matches!(t.word.as_str(), "" | "v");
    before.iter().any(|t| t.word == "cells") && !tokens.is_empty() && tokens.iter().all(reading)
}

impl Draft {
    fn part(&mut self, tokens: &[Token], feeds: bool) {
        if tokens.is_empty() {
            return;
        }
        let about = if feeds { About::Source } else { self.about(tokens) };
        if let (Some(token), About::Source, true, None) = (alone(tokens), about, self.has_pack(), self.lone_v) {
            self.lone_v = token.number;
            let shown = show(Kind::Voltage, token.number.unwrap_or_default());
            self.note(token, format!("{shown}, asked below"), LONE);
            return;
        }
        // A stated pack is never multiplied: what comes after it as a whole battery feeds it.
        if about == About::Pack && !says_pack(tokens) && self.feeds_it(tokens) {
            self.battery(tokens);
            return;
        }
        let words = tokens.iter().filter(|t| t.number.is_none() && !t.denied).map(|t| t.word.clone());
        if about == About::Pack {
            self.words.pack.extend(words)
        } else {
            self.words.gear.extend(words)
        }
        let mut phrases = Part::new(tokens);
        self.phrases(&mut phrases, about);
        let left = phrases.left();
        // A battery named after the pack is what feeds it.
        let whole = self.pack.series.is_some() && self.pack.capacity_ah.is_some() && self.pack.chemistry.is_some();
        let another =
            (about == About::Source && self.has_pack() || about == About::Pack && whole) && names_a_battery(&left);
        let holds = feeds && left.iter().any(|t| t.number.is_some() && matches!(t.word.as_str(), "ah" | "mah"));
        if another
            || holds
            || about == About::Pack && !phrases.says(&["pack"]) && left.iter().any(|token| self.is_another(token))
        {
            self.battery(&left);
            return;
        }
        self.words_of(&left, tokens, about);
    }

    /// What was not said in several words, one by one.
    fn words_of(&mut self, tokens: &[Token], all: &[Token], about: About) {
        let last_pack = tokens.iter().rposition(is_pack_token);
        let has_source = all.iter().any(is_source_token);
        let has_charger = names_a_charger(all);
        let has_load = tokens.iter().any(|t| t.word == "load");
        self.in_charger =
            manages(all) && self.pack.series.is_some() && (self.pack.capacity_ah.is_some() || self.bare.is_some());
        let about = if self.in_charger { About::Charger } else { about };
        self.in_lead = all.iter().any(|t| t.number.is_some() && matches!(t.word.as_str(), "awg" | "mm2" | "m" | "ft"));
        let before = |n: usize| {
            let at = |back: usize| n.checked_sub(back).and_then(|m| tokens.get(m));
            let word = at(1).map_or("", |t| t.word.as_str());
            // `set 16.8 V 2 A`: both are set.
            if tokens.get(n + 1).is_some_and(|t| matches!(t.word.as_str(), "health" | "soh")) {
                return "health";
            }
            let set = at(2).is_some_and(|t| t.number.is_none() && t.word == "set");
            if set && at(1).is_some_and(|t| t.number.is_some()) { "set" } else { word }
        };
        let beside_source = |n: usize| {
            [n.checked_sub(1), Some(n + 1)].into_iter().flatten().filter_map(|m| tokens.get(m)).any(is_source_token)
        };
        for (n, token) in tokens.iter().enumerate() {
            let role = if has_load {
                About::Load
            } else if has_charger && last_pack.is_none_or(|last| n > last) {
                About::Charger
            } else if has_source && last_pack.is_none_or(|last| n > last) {
                About::Source
            } else if about == About::Pack || last_pack.is_some() {
                About::Pack
            } else {
                About::Source
            };
            let taken = match (token.number, range(&token.word)) {
                (Some(low), _) if token.upto.is_some() => self.span(token, low, role),
                (Some(_), _) if token.grouped.is_some() => self.either(token, role),
                // No rate is below nothing.
                (Some(number), _) if token.word == "c" && number < 0.0 => self.warm(token, number),
                (Some(number), _) if role == About::Pack && token.word == "c" => {
                    let may_be_warm = self.flown || before(n) == "at";
                    self.rate(token, number, way(tokens, n), may_be_warm)
                }
                (Some(number), _) if role == About::Pack && matches!(token.word.as_str(), "a" | "ma") => {
                    self.pack_amps(token, token.in_base(number), way(tokens, n))
                }
                (Some(number), _) => self.quantity(token, number, role, before(n)),
                (None, Some(ends)) if role == About::Pack => self.rates(token, ends, way(tokens, n)),
                (None, _) if (role == About::Source || beside_source(n)) && over(&token.word).is_some() => {
                    self.volts_over_amps(token)
                }
                (None, _) if self.damage(token, before(n)) => true,
                (None, _) => {
                    let read = self.word(token, has_source);
                    read && (!harm::says(&token.word) || named(&token.word).is_some()) || self.harm(token)
                }
            };
            if !taken {
                self.not_understood.push(Leftover { text: token.text.clone() });
            }
        }
    }

    /// `30/5` on a supply: its volts stand before its amps.
    fn volts_over_amps(&mut self, token: &Token) -> bool {
        let Some((volts, amps)) = over(&token.word) else { return false };
        let said = |number: f64, unit: &str| Token { number: Some(number), word: unit.to_owned(), ..token.clone() };
        self.quantity(&said(volts, "v"), volts, About::Source, "")
            && self.quantity(&said(amps, "a"), amps, About::Source, "")
    }

    /// Two figures of which nothing said what they are.
    fn span(&mut self, token: &Token, low: f64, role: About) -> bool {
        let Some(high) = token.upto else { return false };
        let shown = || format!("{} to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
        match (role, token.word.as_str()) {
            (_, "v" | "s") if self.in_charger => {
                self.note(token, "what the charger manages".to_owned(), "/charger/max_series")
            }
            // What a lead battery's label allows: asked which of the two it is.
            (About::Pack, "v") => {
                let meaning = format!("{}, asked below", shown());
                self.label_span = Some((low, high));
                self.note(token, meaning, "/pack/label_voltage_v")
            }
            (About::Source, "a") => {
                self.source.max_current_a = Some(high);
                self.note(token, format!("the supply gives {}", show(Kind::Current, high)), "/source/max_current_a")
            }
            (About::Charger, "v") => {
                (self.charger.output_min_v, self.charger.output_max_v) = (Some(low), Some(high));
                self.note(token, format!("the charger gives {}", shown()), "/charger/output_max_v")
            }
            _ => false,
        }
    }

    /// A battery that feeds the charge.
    fn battery(&mut self, tokens: &[Token]) {
        self.source.kind = Some(SourceKind::Battery);
        for token in tokens {
            let taken = match (token.number, token.word.as_str()) {
                (Some(count), "x") if count.fract() == 0.0 && (2.0..=32.0).contains(&count) => {
                    self.source_count = Some(count as u32);
                    self.note(token, format!("{count} batteries feed it"), "/source/series")
                }
                (None, word) if counted(word).is_some() => {
                    self.source_count = counted(word);
                    self.note(token, format!("{word} batteries feed it"), "/source/series")
                }
                (None, "series" | "parallel") => {
                    self.source_in_series = Some(token.word == "series");
                    let how = if token.word == "series" { "one after the other" } else { "side by side" };
                    self.note(token, format!("they are joined {how}"), "/source/series")
                }
                (Some(ah), "ah" | "mah") if token.grouped.is_none() => {
                    let ah = token.in_base(ah);
                    self.source.capacity_ah = Some(ah);
                    self.note(
                        token,
                        format!("the battery that feeds it holds {}", show(Kind::Charge, ah)),
                        "/source/capacity_ah",
                    )
                }
                (Some(v), "v") => {
                    self.source_label_v = Some(v);
                    self.note(token, format!("the battery that feeds it: {}", show(Kind::Voltage, v)), "/source/series")
                }
                (Some(s), "s") if s.fract() == 0.0 && (1.0..=100.0).contains(&s) => {
                    self.source.series = Some(s as u32);
                    self.note(token, format!("the battery that feeds it: {s} cells in series"), "/source/series")
                }
                (Some(share), "%") if (0.0..=100.0).contains(&share) => {
                    self.source.soc = Some(share / 100.0);
                    self.note(token, format!("it starts at {share} %"), "/source/soc")
                }
                (None, "full") => {
                    self.source.soc = Some(1.0);
                    self.note(token, "it starts full".to_owned(), "/source/soc")
                }
                (None, word) => match named(word) {
                    Some(chemistry) => {
                        self.source.chemistry = Some(chemistry);
                        let name = profile(chemistry).map_or("custom", |p| p.name);
                        self.note(token, format!("the battery that feeds it: {name}"), "/source/chemistry")
                    }
                    None if is_lead_word(word) => {
                        self.source_lead = true;
                        self.note(token, "the battery that feeds it: lead, asked below".to_owned(), "/source/chemistry")
                    }
                    None => FILLER.contains(&word),
                },
                _ => false,
            };
            if !taken {
                self.not_understood.push(Leftover { text: token.text.clone() });
            }
        }
    }

    pub(super) fn has_pack(&self) -> bool {
        self.pack.chemistry.is_some() || self.pack.series.is_some() || self.pack.capacity_ah.is_some()
    }

    fn word(&mut self, token: &Token, has_source: bool) -> bool {
        if token.denied {
            return self.denied(token);
        }
        if matches!(token.word.as_str(), "lead" | "wire" | "cable") && (self.in_lead || token.word != "lead") {
            return true;
        }
        if is_lead_word(&token.word) {
            self.lead_acid = true;
            return self.note(token, "lead, asked below which".to_owned(), "/pack/chemistry");
        }
        if FLOWN.contains(&token.word.as_str()) {
            return true;
        }
        if let Some(chemistry) = named(&token.word) {
            self.chemistry_said(chemistry);
            let name = profile(chemistry).map_or("custom", |p| p.name);
            return self.note(token, name.to_owned(), "/pack/chemistry");
        }
        let gently = matches!(token.word.as_str(), "gently" | "slow" | "slowly");
        let practice = if gently { "gentle" } else { token.word.as_str() };
        if let Some(practice) = Practice::from_code(practice) {
            self.practice = Some(practice);
            return self.note(token, format!("practice {}", practice.code()), "/practice");
        }
        match token.word.as_str() {
            "parallel" if self.batteries.is_some() => {
                self.pack.packs_in_parallel = self.batteries.take();
                self.note(token, "they are charged side by side".to_owned(), "/pack/packs_in_parallel")
            }
            "lithium" => {
                self.lithium = true;
                self.note(token, "lithium, asked below which".to_owned(), "/pack/chemistry")
            }
            "bms" => {
                self.pack.bms.get_or_insert_default();
                self.note(token, "it has a protection board".to_owned(), "/pack/bms")
            }
            "bench" | "lab" if self.source.kind == Some(SourceKind::Battery) => {
                self.asked.push(
                    Question::choosing(
                        "/source/kind",
                        "A battery and a bench supply are named. Which of them charges the pack?",
                        vec![Choice::without("the battery", vec![token.text.clone()])],
                    )
                    .holding(),
                );
                true
            }
            "bench" | "lab" => {
                self.source.kind = Some(SourceKind::BenchSupply);
                self.note(token, "a bench supply".to_owned(), "/source/kind")
            }
            "supply" | "supplies" | "psu" | "psus"
                if self.source.kind.is_some() || has_source && self.source.kind == Some(SourceKind::BenchSupply) =>
            {
                true
            }
            // A span of volts was said of it: asked whether it holds a current.
            "brick" | "bricks" | "adapter" | "adaptor" | "adapters"
                if self.source.kind == Some(SourceKind::AdjustableSupply) =>
            {
                true
            }
            "supply" | "supplies" | "psu" | "psus" | "fixed" | "brick" | "bricks" | "adapter" | "adaptor"
            | "adapters" => {
                self.source.kind = Some(SourceKind::FixedSupply);
                self.note(token, "a fixed supply".to_owned(), "/source/kind")
            }
            "adjustable" | "variable" | "knob" => {
                self.source.kind = Some(SourceKind::AdjustableSupply);
                self.note(token, "an adjustable supply without current limit".to_owned(), "/source/kind")
            }
            "port" | "pd" | "usb" | "usb-c" | "type-c" => {
                self.source.kind = Some(SourceKind::RegulatedPort);
                self.note(token, "a regulated port".to_owned(), "/source/kind")
            }
            "mains" | "wall" | "outlet" | "generator" => {
                self.source.kind = Some(SourceKind::Mains);
                self.note(token, "from the wall".to_owned(), "/source/kind")
            }
            "linear" if has_source && self.charger.kind.is_none() => true,
            "module" if self.farads.is_some() && self.charger.kind.is_none() => true,
            "charger" | "chargers" | "smart" | "buck" | "boost" | "module" | "converter" | "board" | "regulator"
            | "linear" | "linear-charger" | "lamp" | "lamps" | "bulb" | "bulbs" | "cc" | "resistor" | "dcdc"
            | "dc-dc" => self.charger_word(token),
            "balance" | "balanced" | "balancer" | "balancers" | "balancing" => {
                self.pack.balancer = Some(Balancer::BalanceLead);
                self.note(token, "the charger levels the cells".to_owned(), "/pack/balancer")
            }
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
            "half" => {
                self.start.soc = Some(0.5);
                self.note(token, "starts at 50 %".to_owned(), "/pack/start/soc")
            }
            "empty" | "flat" => {
                self.start.soc = Some(0.0);
                self.note(token, "starts empty".to_owned(), "/pack/start/soc")
            }
            word => FILLER.contains(&word) || things::says(word) || refused::says(word) || scope::says(word),
        }
    }

    /// A word that is turned round sets the contrary, or nothing.
    fn denied(&mut self, token: &Token) -> bool {
        if let Some(chemistry) = named(&token.word) {
            self.words.not.push(chemistry);
            let name = profile(chemistry).map_or("custom", |p| p.name);
            return self.note(token, format!("not {name}"), "/pack/chemistry");
        }
        match token.word.as_str() {
            "balance" | "balanced" | "balancer" | "balancers" | "balancing" | "level" | "levels" => {
                self.pack.balancer = Some(Balancer::None);
                self.note(token, "nothing levels the cells".to_owned(), "/pack/balancer")
            }
            "bms" => {
                self.pack.bms = None;
                self.note(token, "no protection board guards it".to_owned(), "/pack/bms")
            }
            word => known(word),
        }
    }

    /// What regulates, by its words.
    fn charger_word(&mut self, token: &Token) -> bool {
        let topology = match token.word.as_str() {
            "buck" => Some(Topology::Buck),
            "boost" => Some(Topology::Boost),
            _ => None,
        };
        if let Some(topology) = topology {
            self.charger.topology = Some(topology);
            self.charger.kind = Some(ChargerKind::DcDc);
            return self.note(token, format!("a {} module", token.word), "/charger/topology");
        }
        let (kind, meaning) = match token.word.as_str() {
            "smart" => (ChargerKind::SmartCharger, "a charger that runs by itself"),
            "linear" | "linear-charger" => (ChargerKind::LinearModule, "a linear module"),
            "lamp" | "lamps" | "bulb" | "bulbs" => (ChargerKind::Lamp, "a lamp as limiter"),
            "resistor" => (ChargerKind::Resistor, "a resistor as limiter"),
            "dcdc" | "dc-dc" => (ChargerKind::DcDc, "a module that turns volts into others"),
            "cc" => {
                self.charger.has_cc = Some(true);
                return self.note(token, "it holds a current".to_owned(), "/charger/has_cc");
            }
            "module" | "converter" | "board" | "regulator" if self.charger.kind.is_some() => return true,
            "module" | "converter" | "board" | "regulator" => {
                (ChargerKind::DcDc, "a module that turns volts into others")
            }
            // After "smart" or "buck" it says nothing new.
            _ if self.charger.kind.is_some() => return true,
            _ => (ChargerKind::HobbyCharger, "a charger, set by menu"),
        };
        self.charger.kind = Some(kind);
        self.note(token, meaning.to_owned(), "/charger/kind")
    }

    fn finish(mut self) -> Heard {
        if self.start.rest_voltage_v.is_some()
            || self.start.cell_voltages_v.is_some()
            || self.a_cell.reading_v.is_some()
        {
            // `flat at 8.4 V`: what it reads says how flat.
            self.start.soc = None;
        }
        let refusal = self.refusal();
        self.settle_farads();
        self.settle_capacity();
        self.settle_parallel();
        self.settle_battery();
        let mut questions = std::mem::take(&mut self.asked);
        self.words.refused = refusal.is_some();
        questions.extend(refusal);
        self.settle_lone(&mut questions);
        self.settle_source(&mut questions);
        self.settle_charger();
        if self.pack.rated_c_rate.is_some() && self.pack.rated_charge_a.is_some() {
            self.pack.rated_c_rate = None;
        }
        match self.pack.chemistry {
            None if self.lead_acid => {
                questions.push(which_lead("/pack/chemistry"));
                // They all have the same cells to a label.
                self.settle_series(Chemistry::LeadAgm, &mut questions);
            }
            None => {
                if questions.iter().all(|question| question.pointer != "/pack/chemistry") {
                    questions.push(which_chemistry(self.lithium));
                }
                if self.loose_cells.is_some() && self.pack.series.is_none() {
                    questions.push(self.how_many_in_series());
                }
            }
            Some(chemistry) => self.settle_series(chemistry, &mut questions),
        }
        self.settle_odd_cells(&mut questions);
        self.settle_cells(&mut questions);
        self.settle_charger_volts(&mut questions);
        self.settle_harm(&mut questions);
        let open = self.settle_twice(&mut questions);
        let pack = &self.pack;
        let asked = questions.iter().any(|question| question.pointer == "/pack/capacity_ah");
        if !asked && pack.capacity_ah.is_none() && pack.energy_wh.is_none() && pack.capacitance_f.is_none() {
            questions.push(Question {
                pointer: "/pack/capacity_ah".to_owned(),
                question: "How much does the pack hold? Ah or Wh are on its label.".to_owned(),
                options: Vec::new(),
                choices: Vec::new(),
                holds: false,
            });
        }
        let said = |default: bool| !default;
        let mut plan = PlanDoc {
            format: Some(PLAN_FORMAT.to_owned()),
            practice: self.practice,
            source: said(self.source == SourceDoc::default()).then_some(self.source),
            charger: said(self.charger == ChargerDoc::default()).then_some(self.charger),
            cut_off: said(self.cut_off == CutOffDoc::default()).then_some(self.cut_off),
            leads: said(self.lead == LeadDoc::default()).then_some(LeadsDoc { input: None, output: Some(self.lead) }),
            load: said(self.load == LoadDoc::default()).then_some(self.load),
            settings: said(self.settings == SettingsDoc::default()).then_some(self.settings),
            ..PlanDoc::default()
        };
        if self.start != StartDoc::default() {
            self.pack.start = Some(self.start);
        }
        plan.pack = said(self.pack == PackDoc::default()).then_some(self.pack);
        if plan.source.is_none() && (plan.load.is_none() || plan.charger.is_some()) {
            questions.push(Question {
                pointer: "/source".to_owned(),
                question: if plan.charger.is_some() {
                    "What feeds the charger? For example: the wall, or a 12 V 30 A supply.".to_owned()
                } else {
                    "What do you charge it from? For example: 30 V 5 A bench supply.".to_owned()
                },
                options: Vec::new(),
                choices: Vec::new(),
                holds: false,
            });
        }
        let mut understood = self.understood;
        understood.sort_by_key(|piece| piece.0);
        let understood = understood.into_iter().map(|(_, piece)| piece).collect();
        let cleared: Vec<_> = open.iter().map(|pointer| ((*pointer).to_owned(), serde_json::Value::Null)).collect();
        let plan = with(&plan, &cleared).unwrap_or(plan);
        self.words.lead = self.lead_acid;
        self.words.lithium = self.lithium;
        Heard { plan, understood, not_understood: self.not_understood, questions, words: self.words }
    }
}
