//! What is only known of the supply and of what regulates once the whole line was read.

use super::draft::Draft;
use super::said::{Choice, Question};
use super::settle::which_lead;
use crate::formats::{ChargerDoc, ChargerKind, Overload, SourceDoc, SourceKind};
use crate::parts::pack::series_candidates;
use crate::physics::cell::{Chemistry, profile};
use crate::units::{Kind, show, volts};

/// Where volts that stand alone are noted until it is known whose they are.
pub(super) const LONE: &str = "/source/voltage_v/alone";

/// What lead batteries, and chargers for them, are called after, V; and what each of their cells counts for, V.
const NAMES_V: &[f64] = &[6.0, 12.0, 24.0, 36.0, 48.0];
const LEAD_CELL_V: f64 = 2.0;

/// Asks whose volts those are that stand alone: a supply that so much is said of gives amps, too.
fn lone_volts(volts: f64) -> Question {
    Question::choosing(
        "/pack/start/rest_voltage_v",
        format!("{}: what the pack reads, what to charge it to, or what the supply gives?", show(Kind::Voltage, volts)),
        vec![
            Choice::of("it reads that", "/pack/start/rest_voltage_v", volts),
            Choice::of("charge to that", "/settings/voltage_v", volts),
            Choice::of("the supply gives that", "/source/voltage_v", volts),
        ],
    )
}

impl Draft {
    /// Volts that stood alone in their part are the supply's where one is named that has none; else they are asked.
    pub(super) fn settle_lone(&mut self, questions: &mut Vec<Question>) {
        let Some(volts) = self.lone_v else { return };
        // No pack stands, or is charged, so far above its full voltage.
        const ABOVE: f64 = 1.05;
        let full_v = self.pack.chemistry.and_then(profile).zip(self.pack.series).map(|(p, s)| p.full_v * f64::from(s));
        let beyond = full_v.is_some_and(|full_v| volts > ABOVE * full_v);
        let gear = self.source != SourceDoc::default() || self.charger != ChargerDoc::default();
        if beyond || gear && self.source.voltage_v.is_none() && self.source.max_voltage_v.is_none() {
            self.source.voltage_v = Some(volts);
            self.meant(LONE, format!("the supply gives {}", show(Kind::Voltage, volts)));
            self.moved(LONE, "/source/voltage_v");
            return;
        }
        questions.push(lone_volts(volts));
        self.moved(LONE, "/pack/start/rest_voltage_v");
    }

    /// Volts go to the field the kind of supply has.
    pub(super) fn settle_source(&mut self, questions: &mut Vec<Question>) {
        if self.source == SourceDoc::default() {
            return;
        }
        // Before a charger an unnamed supply is the usual brick with one voltage.
        let unnamed =
            if self.charger == ChargerDoc::default() { SourceKind::BenchSupply } else { SourceKind::FixedSupply };
        // A small voltage at the wall comes out of a plug with a supply in it.
        const NO_MAINS_V: f64 = 90.0;
        let charger = self.charger != ChargerDoc::default();
        let bare = self.source.max_current_a.is_none() && self.source.max_power_w.is_none();
        match (self.source.kind, self.source.voltage_v) {
            (Some(SourceKind::Mains), Some(v)) if v < NO_MAINS_V => self.source.kind = Some(SourceKind::FixedSupply),
            (Some(SourceKind::Mains), Some(_)) => self.set_wall(),
            (None, Some(v)) if v >= NO_MAINS_V && charger && bare => self.set_wall(),
            _ => {}
        }
        let asked = questions.iter().any(|question| question.pointer == "/source/kind");
        if self.source.kind.is_none() && !asked && self.holds_current.is_none() {
            questions.push(Question {
                pointer: "/source/kind".to_owned(),
                question: "What is set on the supply?".to_owned(),
                options: ["bench_supply", "adjustable_supply", "fixed_supply"].map(str::to_owned).into(),
                choices: Vec::new(),
                holds: false,
            });
        }
        self.source.kind.get_or_insert(unnamed);
        self.settle_current_limit(questions);
        let kind = self.source.kind.unwrap_or(unnamed);
        if matches!(kind, SourceKind::BenchSupply | SourceKind::AdjustableSupply) {
            self.source.max_voltage_v = self.source.voltage_v.take().or(self.source.max_voltage_v);
            self.moved("/source/voltage_v", "/source/max_voltage_v");
        }
    }

    /// Volts of the mains are what every wall has.
    fn set_wall(&mut self) {
        self.source.kind = Some(SourceKind::Mains);
        self.source.voltage_v = None;
        for (_, piece) in &mut self.understood {
            if piece.pointer == "/source/voltage_v" {
                piece.pointer = "/source/kind".to_owned();
                piece.meaning = "from the wall".to_owned();
            }
        }
    }

    /// What is said of a lamp goes to the fields a lamp has; a charger without a kind is set by menu.
    pub(super) fn settle_charger(&mut self) {
        if self.charger == ChargerDoc::default() {
            return;
        }
        // Only a module is told of by nothing but that it holds a current.
        let unnamed = if self.charger.has_cc.is_some() { ChargerKind::DcDc } else { ChargerKind::HobbyCharger };
        let kind = *self.charger.kind.get_or_insert(unnamed);
        if kind == ChargerKind::Lamp {
            self.charger.lamp_rated_v = self.charger.lamp_rated_v.or(self.charger.output_max_v.take());
        }
        let watts = self.charger.output_max_w;
        let pointer = match kind {
            ChargerKind::Lamp => {
                self.charger.lamp_rated_w = watts;
                "/charger/lamp_rated_w"
            }
            ChargerKind::Resistor | ChargerKind::LinearModule => {
                self.charger.rated_w = watts;
                "/charger/rated_w"
            }
            _ => return,
        };
        self.charger.output_max_w = None;
        for (_, piece) in &mut self.understood {
            if piece.pointer == "/charger/output_max_w" {
                piece.meaning = piece.meaning.replace("the charger gives", "it bears");
            }
        }
        self.moved("/charger/output_max_w", pointer);
    }

    /// A charger's volts are as often what it is made for, or what feeds it, as what it reaches.
    pub(super) fn settle_charger_volts(&mut self, questions: &mut Vec<Question>) {
        let (Some(kind), Some(reaches_v)) = (self.charger.kind, self.charger.output_max_v) else { return };
        if !matches!(kind, ChargerKind::HobbyCharger | ChargerKind::SmartCharger) || self.charger.output_min_v.is_some()
        {
            return;
        }
        let series = self.pack.series.map(f64::from);
        let nominal_v = if self.is_lead_battery() {
            series.map(|cells| cells * LEAD_CELL_V)
        } else {
            self.pack.chemistry.and_then(profile).zip(series).map(|(profile, cells)| profile.nominal_v * cells)
        };
        let shown = show(Kind::Voltage, reaches_v);
        if self.pack.label_v == Some(reaches_v)
            || self.is_lead_battery() && nominal_v.is_some_and(|v| (v - reaches_v).abs() < 0.01)
        {
            // `12 V charger`: for batteries of that name; it plugs into the wall.
            self.charger.output_max_v = None;
            self.words.charger_v = Some(reaches_v).filter(|_| !self.is_lead_battery());
            self.words.gear.push("its".to_owned());
            self.meant("/charger/output_max_v", format!("for packs of {shown}"));
        } else if let Some(nominal_v) = nominal_v.filter(|_| self.is_lead_battery() && NAMES_V.contains(&reaches_v)) {
            // `24 V charger` beside a 12 V battery: one of the two is another.
            self.charger.output_max_v = None;
            self.meant("/charger/output_max_v", format!("for packs of {shown}, asked below"));
            let choice = |v: f64| Choice::of(show(Kind::Voltage, v), "/pack/series", (v / LEAD_CELL_V).round());
            questions.push(Question::choosing(
                "/pack/series",
                format!("A {shown} charger is for {shown} batteries. How many volts has this one?"),
                vec![choice(reaches_v), choice(nominal_v)],
            ));
        } else if nominal_v.is_some_and(|nominal_v| reaches_v < nominal_v) && self.source == SourceDoc::default() {
            self.charger.output_max_v = None;
            self.meant("/charger/output_max_v", format!("{shown}, asked below"));
            questions.push(Question::choosing(
                "/charger/output_max_v",
                format!("{shown} is less than the pack has: what the charger reaches, or what feeds it?"),
                vec![
                    Choice::of("that feeds it", "/source/voltage_v", reaches_v),
                    Choice::of("it reaches that", "/charger/output_max_v", reaches_v),
                ],
            ));
        }
    }

    /// The cells of a battery that feeds it follow from its label.
    pub(super) fn settle_battery(&mut self) {
        if self.source.kind != Some(SourceKind::Battery) {
            return;
        }
        if self.source.chemistry.is_none() {
            self.asked.push(if self.source_lead {
                which_lead("/source/chemistry")
            } else {
                Question {
                    pointer: "/source/chemistry".to_owned(),
                    question: "Which chemistry is the battery that feeds it?".to_owned(),
                    options: ["lead_agm", "lead_flooded", "lfp", "li_ion"].map(str::to_owned).into(),
                    choices: Vec::new(),
                    holds: false,
                }
            });
        }
        self.settle_source_series();
        self.settle_source_count();
    }

    /// Several batteries that feed it: their volts add one after the other, their capacity side by side.
    fn settle_source_count(&mut self) {
        let (Some(count), Some(series)) = (self.source_count, self.source.series) else { return };
        let whole_ah = self.source.capacity_ah.map(|ah| ah * f64::from(count));
        match self.source_in_series {
            Some(true) => self.source.series = Some(series * count),
            Some(false) => self.source.capacity_ah = whole_ah,
            None => {
                let mut choices = vec![Choice::of("one after the other", "/source/series", series * count)];
                choices.extend(whole_ah.map(|ah| Choice::of("side by side", "/source/capacity_ah", ah)));
                self.asked.push(
                    Question::choosing(
                        "/source/series",
                        format!("How are the {count} batteries joined that feed it?"),
                        choices,
                    )
                    .holding(),
                );
            }
        }
    }

    fn settle_source_series(&mut self) {
        let Some(label_v) = self.source_label_v.filter(|_| self.source.series.is_none()) else { return };
        let chemistry = self.source.chemistry.unwrap_or(Chemistry::LeadAgm);
        match series_candidates(chemistry, volts(label_v)).as_slice() {
            [one] => self.source.series = Some(*one),
            several => self.asked.push(Question {
                pointer: "/source/series".to_owned(),
                question: format!(
                    "How many cells has the {} battery that feeds it in series?",
                    show(Kind::Voltage, label_v)
                ),
                options: several.iter().map(ToString::to_string).collect(),
                choices: Vec::new(),
                holds: false,
            }),
        }
    }

    /// Whether the supply holds a current, where the line says.
    fn settle_current_limit(&mut self, questions: &mut Vec<Question>) {
        let Some(holds) = self.holds_current else { return };
        match (self.source.kind, holds) {
            (Some(SourceKind::AdjustableSupply), true) => self.source.kind = Some(SourceKind::BenchSupply),
            (Some(SourceKind::BenchSupply), false) => self.source.kind = Some(SourceKind::AdjustableSupply),
            (Some(SourceKind::FixedSupply), true) => self.source.overload = Some(Overload::ConstantCurrent),
            _ => {}
        }
        questions.retain(|question| question.pointer != "/source/kind");
    }
}
