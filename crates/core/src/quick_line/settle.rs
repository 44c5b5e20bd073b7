//! What is only known once the whole line was read.

use super::draft::Draft;
use super::said::{Choice, Question};
use crate::formats::{LabelVoltageDoc, SourceKind};
use crate::parts::pack::series_candidates;
use crate::physics::cell::{Chemistry, profile};
use crate::units::{Kind, from_fahrenheit, show, volts};

/// Words for lead batteries of which kind they leave open.
pub(super) fn is_lead_word(word: &str) -> bool {
    matches!(
        word,
        "lead" | "acid" | "lead-acid" | "leadacid" | "sealed" | "sla" | "vrla" | "starter" | "car" | "vehicle"
    )
}

/// Asks which kind of lead battery it is.
pub(super) fn which_lead(pointer: &str) -> Question {
    Question {
        pointer: pointer.to_owned(),
        question: "Which kind of lead battery? Caps to refill it: flooded. Sealed: AGM, or gel if the label says so."
            .to_owned(),
        options: vec!["lead_agm".to_owned(), "lead_gel".to_owned(), "lead_flooded".to_owned()],
        choices: Vec::new(),
    }
}

impl Draft {
    /// F after a number: farads of a capacitor, else degrees.
    pub(super) fn settle_farads(&mut self) {
        let Some((n, number)) = self.farads.take() else { return };
        let other = self.pack.chemistry.is_some_and(|c| c != Chemistry::Supercap && c != Chemistry::Custom);
        let holds = self.pack.capacity_ah.is_some() || self.pack.energy_wh.is_some() || self.lead_acid;
        if !other && !holds {
            self.pack.capacitance_f = Some(number);
            if self.pack.chemistry.is_none() {
                self.pack.chemistry = Some(Chemistry::Supercap);
            }
            return;
        }
        let celsius = self.at_celsius(from_fahrenheit(number));
        if let Some((_, piece)) = self.understood.get_mut(n) {
            piece.meaning = format!("the pack is at {}", show(Kind::Temperature, celsius));
            piece.pointer = "/pack/temperature_c".to_owned();
        }
    }

    /// `4p` by itself: cells of one pack, or packs side by side.
    pub(super) fn settle_parallel(&mut self) {
        let Some(count) = self.side_by_side.filter(|count| *count > 1 && self.pack.packs_in_parallel.is_none()) else {
            return;
        };
        if self.pack.series.is_some() && self.counted_in {
            return;
        }
        let choice = |label: String, value: u32| Choice {
            label,
            pointer: "/pack/packs_in_parallel".to_owned(),
            value: f64::from(value),
        };
        self.asked.push(Question {
            pointer: "/pack/packs_in_parallel".to_owned(),
            question: format!("{count}P: does the capacity count them already, or is it that of one of them?"),
            options: Vec::new(),
            choices: vec![choice("all together".to_owned(), 1), choice(format!("one of {count}"), count)],
        });
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
                }
            });
        }
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
            }),
        }
    }

    /// What was said of one cell, of several packs in a row and of a label's range, once the cells are known.
    pub(super) fn settle_cells(&mut self, questions: &mut Vec<Question>) {
        if let (Some(count), Some(series)) = (self.in_series, self.pack.series) {
            self.pack.series = Some(series * count);
            self.pack.label_v = None;
        } else if let (Some(count), None) = (self.in_series, self.pack.label_v) {
            // Loose cells one after the other.
            self.pack.series = Some(count);
            questions.retain(|question| question.pointer != "/pack/series");
        }
        let series = self.pack.series.map(f64::from);
        if let (Some(reading_v), Some(series)) = (self.a_cell.reading_v, series) {
            self.start.rest_voltage_v = Some(round(reading_v * series));
        }
        if let (Some(charge_v), Some(series)) = (self.a_cell.charge_v, series) {
            self.settings.voltage_v = Some(round(charge_v * series));
        }
        // A wish of so few volts is one cell's.
        if let (Some(set_v), Some(series), Some(profile)) =
            (self.settings.voltage_v, series, self.pack.chemistry.and_then(profile))
            && series > 1.0
            && self.a_cell.charge_v.is_none()
            && (0.9 * profile.nominal_v..=1.02 * profile.full_v).contains(&set_v)
        {
            self.settings.voltage_v = Some(round(set_v * series));
            if let Some((_, piece)) =
                self.understood.iter_mut().find(|(_, piece)| piece.pointer == "/settings/voltage_v")
            {
                piece.meaning = format!("charge to {} a cell", show(Kind::Voltage, set_v));
            }
        }
        let Some((low, high)) = self.label_span.take() else { return };
        // What a lead battery stands at for good is below 2.33 V a cell, what it is charged with above 2.37.
        const STANDS_UNDER_V: f64 = 2.33;
        const CHARGED_OVER_V: f64 = 2.37;
        let cells = series.unwrap_or(1.0);
        let lead = self.lead_acid || self.pack.chemistry.and_then(profile).is_some_and(|p| p.traits.absorbs);
        let series = series.filter(|_| lead);
        let label = self.pack.label_voltage_v.get_or_insert_with(LabelVoltageDoc::default);
        let piece = self.understood.iter_mut().find(|(_, piece)| piece.pointer == "/pack/label_voltage_v");
        let (meaning, pointer) = if series.is_some() && low / cells >= CHARGED_OVER_V && label.cycle.is_none() {
            label.cycle = Some([low, high]);
            ("to charge with", "/pack/label_voltage_v/cycle")
        } else if series.is_some() && high / cells <= STANDS_UNDER_V && label.standby.is_none() {
            label.standby = Some([low, high]);
            ("to stand at", "/pack/label_voltage_v/standby")
        } else {
            if *label == LabelVoltageDoc::default() {
                self.pack.label_voltage_v = None;
            }
            questions.push(Question {
                pointer: "/pack/label_voltage_v".to_owned(),
                question: format!(
                    "{} to {}: say “cycle” or “standby” before it.",
                    show(Kind::Voltage, low),
                    show(Kind::Voltage, high)
                ),
                options: Vec::new(),
                choices: Vec::new(),
            });
            return;
        };
        if let Some((_, piece)) = piece {
            piece.meaning =
                format!("its label: {} to {} {meaning}", show(Kind::Voltage, low), show(Kind::Voltage, high));
            piece.pointer = pointer.to_owned();
        }
    }
}

fn round(v: f64) -> f64 {
    (v * 1000.0).round() / 1000.0
}
