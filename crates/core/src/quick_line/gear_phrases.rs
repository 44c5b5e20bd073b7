//! What several words say together of a supply, a charger, a load, a relay or a fuse.

use super::draft::Draft;
use super::part::Part;
use super::phrases::About;
use super::said::Question;
use super::vocabulary::CHARGER_WORDS;
use crate::formats::{Balancer, ChargerDoc, ChargerKind, Leftover, SourceKind, Topology};
use crate::units::{Kind, show};

const LOAD_VERBS: &[&str] = &[
    "run", "runs", "running", "drives", "driving", "powers", "powering", "feeds", "feeding", "draws", "drawing",
    "load", "loads",
];

/// What a load is called after its figure.
const LOADS: &[&str] =
    &["load", "loads", "heater", "inverter", "pump", "fan", "motor", "light", "lights", "lighting", "appliance"];

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
                    holds: false,
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
                self.input_amps(part, n.max(word) + 1);
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

    /// `input 7–28 V max 30 A`: amps right behind what it takes are what it takes.
    fn input_amps(&mut self, part: &mut Part<'_>, from: usize) {
        let at = part.past_between(from);
        if let Some(amps) = part.figure(at, &["a"]).filter(|_| part.word(at + 1) != "output") {
            let token = part.take(from.min(at), at);
            self.charger.input_max_a = Some(amps);
            self.note(&token, format!("it takes {} at most", show(Kind::Current, amps)), "/charger/input_max_a");
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
                    self.parallel_board = true;
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
            let led = matches!(part.word(n), "no" | "without");
            let at = n + usize::from(led);
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
            let denied = led || part.tokens[at].denied || part.tokens.get(end).is_some_and(|t| t.denied);
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
            } else if let Some(at) = before_or_after(part, &["bms", "pcb", "pcm"]) {
                self.board(part, n, at, amps);
            }
        }
    }

    /// `BMS 40A discharge / 5A charge`, `30 A BMS`: a board's single figure is what it lets out; only what is called
    /// its charge current is let in.
    fn board(&mut self, part: &mut Part<'_>, n: usize, board: usize, amps: f64) {
        const IN: &[&str] = &["charge", "charging", "chg", "in"];
        const OUT: &[&str] = &["discharge", "discharging", "out", "continuous", "cont", "peak"];
        self.pack.bms.get_or_insert_default();
        let way = |part: &Part<'_>, k: usize| {
            let of = |words: &[&str]| words.contains(&part.word(k + 1)) || k > 0 && words.contains(&part.word(k - 1));
            (of(IN), of(OUT))
        };
        // The figures of a board stand one after the other, each with its word.
        let mut figures = vec![(n, amps)];
        let mut k = n + 1;
        while k < part.tokens.len() {
            match part.figure(k, &["a", "ma"]) {
                Some(more) => figures.push((k, more)),
                None if IN.contains(&part.word(k)) || OUT.contains(&part.word(k)) || part.word(k) == "and" => {}
                None if k == board => {}
                None => break,
            }
            k += 1;
        }
        let several = figures.len() > 1;
        let last = figures.last().map_or(n, |(at, _)| *at);
        let end = last + usize::from(IN.contains(&part.word(last + 1)) || OUT.contains(&part.word(last + 1)));
        let inward = figures.iter().find(|(at, _)| {
            let next_in = IN.contains(&part.word(at + 1));
            if several { next_in || (way(part, *at).0 && !OUT.contains(&part.word(at + 1))) } else { way(part, *at).0 }
        });
        let inward = inward.map(|(_, amps)| *amps);
        let token = part.take(n.min(board), end.max(board));
        match inward {
            Some(amps) => {
                self.pack.bms.get_or_insert_default().max_charge_a = Some(amps);
                let meaning = format!("its protection board lets {} in", show(Kind::Current, amps));
                self.note(&token, meaning, "/pack/bms/max_charge_a");
            }
            None => {
                let meaning = format!(
                    "its protection board lets {} out; nothing says what it lets in",
                    show(Kind::Current, amps)
                );
                self.note(&token, meaning, "/pack/bms");
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
        let volts_after = |word: &str, part: &Part<'_>| {
            (n..part.tokens.len()).find(|k| part.word(*k) == word).and_then(|k| {
                let at = part.past_between(k + 1);
                Some((at, part.figure(at, &["v"])?))
            })
        };
        if let (Some((a, off_v)), Some((b, on_v))) = (volts_after("off", part), volts_after("on", part))
            && on_v < off_v
        {
            let token = part.take(n, a.max(b));
            (self.cut_off.low_v, self.cut_off.high_v) = (Some(on_v), Some(off_v));
            let shown = |v: f64| show(Kind::Voltage, v);
            let meaning = format!("a relay that opens at {} and closes below {}", shown(off_v), shown(on_v));
            self.note(&token, meaning, "/cut_off/high_v");
            return;
        }
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

    /// `180 W at 12 V`: a charger's watts on one of the supplies that feed it.
    pub(super) fn rated_at(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let Some(watts) = part.figure(n, &["w", "kw"]) else { continue };
            let Some(volts) = part.figure(n + 2, &["v"]).filter(|_| matches!(part.word(n + 1), "at" | "on")) else {
                continue;
            };
            let token = part.take(n, n + 2);
            let (w, v) = (show(Kind::Power, watts), show(Kind::Voltage, volts));
            if self.charger == ChargerDoc::default() && !part.says(CHARGER_WORDS) {
                self.source.max_power_w = Some(watts);
                self.note(&token, format!("the supply gives {w}, told at {v}"), "/source/max_power_w");
            } else {
                self.charger.output_max_w = Some(watts);
                self.note(&token, format!("the charger gives {w} where {v} feed it"), "/charger/output_max_w");
            }
        }
    }

    /// `540 A EN`, `600 CCA`: what a battery gives a starter.
    pub(super) fn starting_current(&mut self, part: &mut Part<'_>) {
        const STARTING: &[&str] = &["en", "cca", "sae", "din", "mca", "hca", "cold", "cranking", "starting"];
        for n in 0..part.tokens.len() {
            let Some(amps) = part.figure(n, &["a", ""]) else { continue };
            if !STARTING.contains(&part.word(n + 1)) || part.tokens[n].word.is_empty() && amps < 50.0 {
                continue;
            }
            let last = (n + 1..part.tokens.len())
                .take_while(|k| STARTING.contains(&part.word(*k)) || part.word(*k) == "amps")
                .last();
            let token = part.take(n, last.unwrap_or(n + 1));
            self.note(&token, format!("{} is its starting current: not used", show(Kind::Current, amps)), "/pack");
        }
    }

    /// `250 W load`, `runs 250 W`, `load 3 A`.
    pub(super) fn loads(&mut self, part: &mut Part<'_>) {
        for n in 0..part.tokens.len() {
            let units = ["w", "kw", "a", "ma"];
            let Some(value) = part.figure(n, &units) else { continue };
            let unit = part.tokens[n].word.clone();
            let verb = part.word_before(n, LOAD_VERBS).or_else(|| part.word_after(n, LOADS));
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
