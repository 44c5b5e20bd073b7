//! A figure with its unit, alone: which field of what it is.

use super::about::REST_WORDS;
use super::draft::{Draft, Token};
use super::phrases::About;
use super::said::{Choice, Question};
use super::vocabulary::WALL_V;
use crate::formats::{ChargerKind, GoalDoc, GoalKind, SourceKind};
use crate::units::{Kind, show};

impl Draft {
    /// A figure of what regulates.
    fn charger_figure(&mut self, token: &Token, value: f64) -> bool {
        let lamp = self.charger.kind == Some(ChargerKind::Lamp);
        match token.word.as_str() {
            "a" | "ma" => {
                self.charger.output_max_a = Some(value);
                self.note(token, format!("the charger gives {}", show(Kind::Current, value)), "/charger/output_max_a")
            }
            "w" | "kw" => {
                self.charger.output_max_w = Some(value);
                self.note(token, format!("the charger gives {}", show(Kind::Power, value)), "/charger/output_max_w")
            }
            "v" if lamp => {
                self.charger.lamp_rated_v = Some(value);
                self.note(token, format!("a lamp for {}", show(Kind::Voltage, value)), "/charger/lamp_rated_v")
            }
            // No charger reaches them: it stands at the wall.
            "v" if WALL_V.contains(&value) => {
                self.source.kind = Some(SourceKind::Mains);
                self.note(token, "from the wall".to_owned(), "/source/kind")
            }
            "v" => {
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
            "mm2" => {
                self.lead.area_mm2 = Some(value);
                self.note(token, format!("a lead of {}", show(Kind::Area, value)), "/leads/output/area_mm2")
            }
            _ => {
                self.lead.length_m = Some(value);
                self.note(token, format!("the lead is {} long", show(Kind::Length, value)), "/leads/output/length_m")
            }
        }
    }

    pub(super) fn quantity(&mut self, token: &Token, number: f64, role: About, before: &str) -> bool {
        let scaled = token.in_base(number);
        match (role, token.word.as_str()) {
            (_, "awg" | "mm2" | "m" | "cm" | "ft" | "inch") => self.lead_figure(token, scaled),
            (About::Charger, _) => self.charger_figure(token, scaled),
            (_, "v" | "mv") => self.volts(token, scaled, role, before),
            (About::Load, "a" | "ma") => {
                self.load.current_a = Some(scaled);
                self.note(token, format!("the load draws {}", show(Kind::Current, scaled)), "/load/current_a")
            }
            (About::Load, "w" | "kw") => {
                self.load.power_w = Some(scaled);
                self.note(token, format!("the load draws {}", show(Kind::Power, scaled)), "/load/power_w")
            }
            (_, "a" | "ma") => self.amps(token, scaled, before),
            (_, "w" | "kw") => {
                self.source.max_power_w = Some(scaled);
                self.note(token, format!("the supply gives {}", show(Kind::Power, scaled)), "/source/max_power_w")
            }
            (About::Load, _) => false,
            (_, "s") if self.in_charger && number.fract() == 0.0 => {
                self.note(token, format!("the charger manages {number} cells in series"), "/charger/max_series")
            }
            (_, "s") if number.fract() == 0.0 && (1.0..=200.0).contains(&number) => {
                self.pack.series = Some(number as u32);
                self.note(token, format!("{number} cells in series"), "/pack/series")
            }
            (_, "p") if number.fract() == 0.0 && number >= 1.0 => {
                self.side_by_side = Some(number as u32);
                self.counted_in |= before == "s";
                // Beside a count in series it belongs to one pack, whose capacity counts it already.
                self.note(
                    token,
                    format!("{number} cells in parallel, counted in the capacity"),
                    "/pack/packs_in_parallel",
                )
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
                self.farads = Some((self.understood.len(), number));
                self.note(token, format!("{} each", show(Kind::Capacitance, number)), "/pack/capacitance_f")
            }
            (_, "mohm") => {
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
            (_, "%") if before == "health" => self.note(token, format!("{number} % health, not used"), "/pack"),
            (_, "%") if (0.0..=100.0).contains(&number) => {
                self.start.soc = Some(number / 100.0);
                self.note(token, format!("starts at {number} %"), "/pack/start/soc")
            }
            (About::Pack, "") if REST_WORDS.contains(&before) && token.text.contains(['.', ',']) => {
                self.volts(token, number, role, before)
            }
            (About::Pack, "") => self.bare(token, number),
            _ => false,
        }
    }

    fn volts(&mut self, token: &Token, volts: f64, role: About, before: &str) -> bool {
        let shown = show(Kind::Voltage, volts);
        match role {
            About::Pack if REST_WORDS.contains(&before) => {
                self.start.rest_voltage_v = Some(volts);
                self.note(token, format!("{shown} at rest"), "/pack/start/rest_voltage_v")
            }
            About::Pack if self.is_of_all(volts) => self.note(token, format!("{shown} all together"), "/pack/series"),
            About::Pack if self.pack.label_v.is_some_and(|label_v| (1.05..1.3).contains(&(volts / label_v))) => {
                self.note(token, format!("{shown} when full"), "/pack/label_v")
            }
            About::Pack if self.pack.label_v.is_some_and(|label_v| (label_v - volts).abs() > 0.01) => {
                self.other_volts(token, volts)
            }
            About::Pack => {
                self.pack.label_v = Some(volts);
                self.note(token, format!("{shown} on the label"), "/pack/label_v")
            }
            About::Source if matches!(before, "set" | "at") => {
                self.settings.voltage_v = Some(volts);
                self.note(token, format!("charge at {shown}"), "/settings/voltage_v")
            }
            About::Source => {
                self.source.voltage_v = Some(volts);
                self.note(token, format!("the supply gives {shown}"), "/source/voltage_v")
            }
            About::Load | About::Charger => false,
        }
    }

    /// Whether volts are those of several batteries in series, of which each has its label's: `2x 12 V in series, 24 V`.
    fn is_of_all(&self, volts: f64) -> bool {
        let all_v = self.pack.label_v.zip(self.in_series).map(|(label_v, count)| label_v * f64::from(count));
        all_v.is_some_and(|all_v| (all_v - volts).abs() < 0.01)
    }

    /// Volts beside those of the label: of the two whole ones are a name, and the others are asked.
    fn other_volts(&mut self, token: &Token, volts: f64) -> bool {
        let label_v = self.pack.label_v.unwrap_or(volts);
        let (label_v, other_v) =
            if label_v.fract() != 0.0 && volts.fract() == 0.0 { (volts, label_v) } else { (label_v, volts) };
        self.pack.label_v = Some(label_v);
        let shown = show(Kind::Voltage, other_v);
        self.asked.push(Question::choosing(
            "/pack/start/rest_voltage_v",
            format!("{shown} beside {}: what it reads now, or what to charge it to?", show(Kind::Voltage, label_v)),
            vec![
                Choice::of("it reads that", "/pack/start/rest_voltage_v", other_v),
                Choice::of("charge to that", "/settings/voltage_v", other_v),
            ],
        ));
        self.note(token, format!("{}, {shown} asked below", show(Kind::Voltage, label_v)), "/pack/label_v")
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
    pub(super) fn either(&mut self, token: &Token, role: About) -> bool {
        let (Some(decimal), Some(grouped)) = (token.number, token.grouped) else { return false };
        if role == About::Pack && matches!(token.word.as_str(), "ah" | "") {
            let unit = if token.word.is_empty() { 1e-3 } else { 1.0 };
            self.ask_capacity(&token.text, [decimal, grouped * unit]);
            return self.note(token, "a capacity, asked below".to_owned(), "/pack/capacity_ah");
        }
        false
    }
}
