//! What several words say together of a supply, a charger, a load, a relay or a fuse.

use super::draft::Draft;
use super::part::Part;
use super::phrases::About;
use super::said::{Leftover, Question};
use super::vocabulary::CHARGER_WORDS;
use crate::formats::{Balancer, ChargerKind, SourceKind, Topology};
use crate::units::{Kind, show};

const LOAD_VERBS: &[&str] = &[
    "run", "runs", "running", "drives", "driving", "powers", "powering", "feeds", "feeding", "draws", "drawing",
    "load", "loads",
];

impl Draft {
    /// `transformer 15 V AC 120 VA`.
    pub(super) fn transformer(&mut self, part: &mut Part<'_>) {
        let Some(word) = (0..part.tokens.len()).find(|n| part.word(*n) == "transformer") else { return };
        let token = part.take(word, word);
        self.source.kind = Some(SourceKind::TransformerRectifier);
        self.note(&token, "a transformer with a rectifier".to_owned(), "/source/kind");
        for n in 0..part.tokens.len() {
            if let Some(volts) = part.figure(n, &["v", "vac"]) {
                let end = n + usize::from(part.word(n + 1) == "ac");
                let token = part.take(n, end);
                self.source.secondary_vac = Some(volts);
                self.note(&token, format!("{} AC at its load", show(Kind::Voltage, volts)), "/source/secondary_vac");
            } else if let Some(va) = part.figure(n, &["va"]) {
                let token = part.take(n, n);
                self.source.rated_va = Some(va);
                self.note(&token, format!("rated {va} VA"), "/source/rated_va");
            }
        }
    }

    /// `8-16 V`: as far as a knob goes.
    pub(super) fn knob(&mut self, part: &mut Part<'_>) {
        let Some(n) = (0..part.tokens.len()).find(|n| part.span(*n, &["v", ""]).is_some()) else { return };
        let Some((low, high)) = part.span(n, &["v", ""]) else { return };
        if part.says(&["input"]) {
            return;
        }
        let token = part.take(n, n);
        (self.source.min_voltage_v, self.source.max_voltage_v) = (Some(low), Some(high));
        let meaning = format!("from {} to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
        self.note(&token, meaning, "/source/max_voltage_v");
        if !part.says(&["bench"]) {
            self.source.kind = Some(SourceKind::AdjustableSupply);
            if !part.says(&["adjustable", "variable", "knob"]) {
                self.asked.push(Question {
                    pointer: "/source/kind".to_owned(),
                    question: "What is set on the supply?".to_owned(),
                    options: vec!["bench_supply".to_owned(), "adjustable_supply".to_owned()],
                    choices: Vec::new(),
                });
            }
        }
    }

    /// `20 A input`, `input 11-18 V`: the side of a converter that is fed.
    pub(super) fn sides(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(word) = part.beside(n, &["input"]) else { continue };
            if let Some((low, high)) = part.span(n, &["v"]) {
                let token = part.take_both(n, word);
                (self.charger.input_min_v, self.charger.input_max_v) = (Some(low), Some(high));
                let meaning = format!("it takes {} to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
                self.note(&token, meaning, "/charger/input_max_v");
            } else if let Some(amps) = part.figure(n, &["a"]) {
                let token = part.take_both(n, word);
                self.charger.input_max_a = Some(amps);
                self.note(&token, format!("it takes {} at most", show(Kind::Current, amps)), "/charger/input_max_a");
            } else if let Some(watts) = part.figure(n, &["w"]) {
                let token = part.take_both(n, word);
                self.charger.input_max_w = Some(watts);
                self.note(&token, format!("it takes {} at most", show(Kind::Power, watts)), "/charger/input_max_w");
            } else if let Some(volts) = part.figure(n, &["v"]) {
                let least =
                    part.beside(n, &["min", "minimum", "least"]).or_else(|| part.beside(word, &["min", "minimum"]));
                let token = part.take_both(n, word);
                if let Some(least) = least {
                    part.used[least] = true;
                    self.charger.input_min_v = Some(volts);
                    self.note(
                        &token,
                        format!("it takes no less than {}", show(Kind::Voltage, volts)),
                        "/charger/input_min_v",
                    );
                } else {
                    self.charger.input_max_v = Some(volts);
                    self.note(&token, format!("it takes up to {}", show(Kind::Voltage, volts)), "/charger/input_max_v");
                }
            }
        }
    }

    /// Kinds of gear that have two words or a figure of their own.
    pub(super) fn kinds(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let (here, next) = (part.word(n).to_owned(), part.word(n + 1).to_owned());
            let topology = match (here.as_str(), next.as_str()) {
                ("buck", "boost") => Some((Topology::BuckBoost, n + 1, "a module that steps down and up")),
                ("step", "down") => Some((Topology::Buck, n + 1, "a module that steps down")),
                ("step", "up") => Some((Topology::Boost, n + 1, "a module that steps up")),
                ("buck-boost" | "buckboost", _) => Some((Topology::BuckBoost, n, "a module that steps down and up")),
                ("step-down", _) => Some((Topology::Buck, n, "a module that steps down")),
                ("step-up", _) => Some((Topology::Boost, n, "a module that steps up")),
                _ => None,
            };
            if let Some((topology, end, meaning)) = topology.filter(|_| !part.used[n]) {
                let token = part.take(n, end);
                self.charger.topology = Some(topology);
                self.charger.kind = Some(ChargerKind::DcDc);
                self.note(&token, meaning.to_owned(), "/charger/topology");
                continue;
            }
            match (here.as_str(), next.as_str()) {
                // What packs are joined by turns no volts into others.
                ("board", _) if part.says(&["parallel"]) => {
                    part.take(n - usize::from(n > 0 && part.word(n - 1) == "parallel"), n);
                }
                ("wall" | "plug", "wart" | "adapter" | "adaptor" | "brick" | "supply") => {
                    let token = part.take(n, n + 1);
                    self.source.kind = Some(SourceKind::FixedSupply);
                    self.note(&token, "a fixed supply".to_owned(), "/source/kind");
                }
                ("power", "station") => {
                    let token = part.take(n, n + 1);
                    self.source.kind = Some(SourceKind::RegulatedPort);
                    self.note(&token, "a regulated port".to_owned(), "/source/kind");
                }
                (
                    "computer" | "server" | "atx" | "laptop",
                    "supply" | "supplies" | "psu" | "psus" | "brick" | "power" | "adapter",
                ) => {
                    let end = n + 1 + usize::from(next == "power" && part.word(n + 2) == "supply");
                    let token = part.take(n, end);
                    self.source.kind = Some(SourceKind::FixedSupply);
                    self.note(&token, "a fixed supply".to_owned(), "/source/kind");
                }
                // A lamp stands in the way, however it is joined.
                ("series", _) if part.says(&["lamp", "bulb"]) => {
                    part.take(n, n);
                }
                ("pwm", _) => {
                    let token = part.take(n, n);
                    self.charger.kind = Some(ChargerKind::Pwm);
                    self.note(&token, "a switch by duty".to_owned(), "/charger/kind");
                }
                ("duty", _) => {
                    let at = part.past_between(n + 1);
                    let side = [Some(at), n.checked_sub(1)];
                    if let Some((at, share)) =
                        side.into_iter().flatten().find_map(|at| Some((at, part.figure(at, &["%"])?)))
                    {
                        let token = part.take_both(n, at);
                        self.charger.duty = Some(share / 100.0);
                        self.note(&token, format!("a duty of {share} %"), "/charger/duty");
                    }
                }
                _ => {}
            }
            if let Some(ohm) = part.figure(n, &["ohm"]) {
                let token = part.take(n, n);
                self.charger.kind = Some(ChargerKind::Resistor);
                self.charger.resistance_ohm = Some(ohm);
                self.note(&token, format!("a resistor of {ohm} Ω"), "/charger/resistance_ohm");
            }
        }
    }

    /// `no current limit`, `without cc`, `cc/cv`: whether it holds a current.
    pub(super) fn holding(&mut self, part: &mut Part<'_>, about: About) {
        const CC: &[&str] = &["cc", "cc/cv", "cc-cv", "cccv"];
        if !matches!(about, About::Source | About::Charger) {
            return;
        }
        for n in 0..part.tokens.len() {
            let denied = matches!(part.word(n), "no" | "without");
            let at = n + usize::from(denied);
            let amps = |k: usize| part.figure(k, &["a", "ma"]).is_some();
            let end = match (part.word(at), part.word(at + 1)) {
                (word, _) if CC.contains(&word) => at,
                ("constant", "current") => at + 1,
                ("current", "limit" | "limiting" | "limited" | "limiter") if !amps(at + 2) => at + 1,
                ("limited", "to") if about == About::Source && amps(at + 2) => at + 1,
                _ => continue,
            };
            if part.used[at] {
                continue;
            }
            let token = part.take(n, end);
            let (pointer, what) = if about == About::Charger {
                self.charger.has_cc = Some(!denied);
                ("/charger/has_cc", "it")
            } else {
                self.holds_current = Some(!denied);
                ("/source/kind", "the supply")
            };
            let meaning = if denied { format!("{what} holds no current") } else { format!("{what} holds a current") };
            self.note(&token, meaning, pointer);
        }
    }

    /// `2 A balancer`, `balance current 0.3 A`: what levels the cells; `100 A bms`: what the board in the pack lets in.
    pub(super) fn levelling(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(amps) = part.figure(n, &["a", "ma"]) else { continue };
            let shown = show(Kind::Current, amps);
            let before_or_after = |part: &Part<'_>, words: &[&str]| {
                let next = words.contains(&part.word(n + 1)).then_some(n + 1);
                next.or_else(|| part.word_before(n, words)).filter(|at| !part.used[*at])
            };
            if let Some(at) = before_or_after(part, &["balance", "balancer", "balancers", "balancing"]) {
                let token = part.take_both(n, at);
                self.pack.balance_current_a = Some(amps);
                let own = part.says(&["bms"]);
                self.pack.balancer.get_or_insert(if own { Balancer::BuiltIn } else { Balancer::BalanceLead });
                self.note(&token, format!("the cells are levelled with {shown}"), "/pack/balance_current_a");
            } else if let Some(at) = before_or_after(part, &["bms"]) {
                let token = part.take_both(n, at);
                self.pack.bms.get_or_insert_default().max_charge_a = Some(amps);
                self.note(&token, format!("its protection board lets {shown} in"), "/pack/bms/max_charge_a");
            }
        }
    }

    /// `plug 60 A`: what a plug bears is nothing that a supply gives or a pack takes.
    pub(super) fn plugs(&mut self, part: &mut Part<'_>) {
        const PLUGS: &[&str] = &["plug", "plugs", "connector", "connectors", "clip", "clips"];
        for n in 0..part.tokens.len() {
            if part.figure(n, &["a"]).is_none() {
                continue;
            }
            let beside = [n.checked_sub(1), Some(n + 1)];
            if let Some(at) = beside.into_iter().flatten().find(|at| PLUGS.contains(&part.word(*at))) {
                let token = part.take_both(n, at);
                self.not_understood.push(Leftover { text: token.text });
            }
        }
    }

    /// `10 A fuse`: in the lead to the pack.
    pub(super) fn fuse(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(amps) = part.figure(n, &["a", "ma"]) else { continue };
            let Some(at) = part.beside(n, &["fuse", "fused"]) else { continue };
            let token = part.take_both(n, at);
            self.lead.fuse_a = Some(amps);
            self.note(&token, format!("a fuse of {}", show(Kind::Current, amps)), "/leads/output/fuse_a");
        }
    }

    /// A cut-off relay with its two voltages.
    pub(super) fn relay(&mut self, part: &mut Part<'_>) {
        let Some(n) = (0..part.tokens.len()).find(|n| part.word(*n) == "relay") else { return };
        let at = part.past_between(n + 1);
        let before = n.checked_sub(1);
        let Some(at) = [Some(at), before].into_iter().flatten().find(|at| part.span(*at, &["v"]).is_some()) else {
            return;
        };
        let Some((low, high)) = part.span(at, &["v"]) else { return };
        let token = part.take_both(n, at);
        (self.cut_off.low_v, self.cut_off.high_v) = (Some(low), Some(high));
        let meaning = format!(
            "a relay that opens at {} and closes below {}",
            show(Kind::Voltage, high),
            show(Kind::Voltage, low)
        );
        self.note(&token, meaning, "/cut_off/high_v");
    }

    /// `250 W load`, `runs 250 W`, `load 3 A`.
    pub(super) fn loads(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let units = ["w", "kw", "a", "ma"];
            let Some(value) = part.figure(n, &units) else { continue };
            let unit = part.tokens[n].word.clone();
            let verb = part.word_before(n, LOAD_VERBS).or_else(|| part.word_after(n, &["load", "loads"]));
            let Some(verb) = verb else { continue };
            // `feeding a 250 W charger`.
            let after = (n + 1..part.tokens.len()).find(|k| part.tokens[*k].number.is_none());
            if after.is_some_and(|k| CHARGER_WORDS.contains(&part.word(k))) {
                continue;
            }
            let token = part.take_both(n, verb);
            if unit.ends_with('w') {
                self.load.power_w = Some(value);
                self.note(&token, format!("the load draws {}", show(Kind::Power, value)), "/load/power_w");
            } else {
                self.load.current_a = Some(value);
                self.note(&token, format!("the load draws {}", show(Kind::Current, value)), "/load/current_a");
            }
        }
    }
}
