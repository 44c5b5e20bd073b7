//! How many cells, how they are joined and what was said of one of them, once the whole line was read.

use super::draft::{Draft, HIGHEST_CELL_V};
use super::said::{Choice, Question};
use crate::formats::LabelVoltageDoc;
use crate::parts::pack::series_candidates;
use crate::physics::cell::{Chemistry, Profile, profile};
use crate::units::{Kind, show, volts};

impl Draft {
    /// The cells in series that the label's volts mean; asked where they may mean several.
    pub(super) fn settle_series(&mut self, chemistry: Chemistry, questions: &mut Vec<Question>) {
        if self.pack.series.is_some() {
            return;
        }
        if self.loose_cells.is_some() {
            // Its volts are those of one of them.
            self.pack.label_v = None;
            questions.push(self.how_many_in_series());
            return;
        }
        let ask = |question: String, options: Vec<String>| Question {
            pointer: "/pack/series".to_owned(),
            question,
            options,
            choices: Vec::new(),
            holds: false,
        };
        let Some(label_v) = self.pack.label_v else {
            questions.push(self.how_many_in_series());
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

    /// Asks how many cells are in series: lead by its volts, cells of which so many were told by how they are joined.
    pub(super) fn how_many_in_series(&self) -> Question {
        let choice = |label: String, count: u32| Choice::of(label, "/pack/series", f64::from(count));
        let lead = self.is_lead_battery();
        let (question, choices) = match self.loose_cells {
            Some(count) => (
                format!("{count} cells: one after the other? Side by side, say “in parallel”."),
                vec![choice(format!("{count} in series"), count)],
            ),
            None if lead => (
                "How many volts has the battery?".to_owned(),
                [(6, 3), (12, 6), (24, 12)].map(|(volts, cells)| choice(format!("{volts} V"), cells)).into(),
            ),
            None => ("How many cells are in series?".to_owned(), Vec::new()),
        };
        Question::choosing("/pack/series", question, choices)
    }

    /// What was said of one cell, of several packs in a row and of a label's range, once the cells are known.
    pub(super) fn settle_cells(&mut self, questions: &mut Vec<Question>) {
        if let (Some(count), Some(series), Some(label_v)) = (self.in_series, self.pack.series, self.pack.label_v)
            && self.all_or_each(count, label_v)
        {
            self.ask_all_or_each((count, series), label_v, questions);
        } else if let (Some(count), Some(series)) = (self.in_series, self.pack.series) {
            self.pack.series = Some(series * count);
            self.pack.label_v = None;
        } else if let (Some(count), Some(label_v)) = (self.in_series, self.pack.label_v) {
            // Their cells are not known yet: what they come to together is.
            let all_v = round(label_v * f64::from(count));
            self.pack.label_v = Some(all_v);
            self.meant("/pack/series", format!("{count} of them in series, {}", show(Kind::Voltage, all_v)));
        } else if let Some(count) = self.in_series {
            // Loose cells one after the other.
            self.pack.series = Some(count);
            questions.retain(|question| question.pointer != "/pack/series");
        }
        self.label_or_reading(questions);
        let series = self.pack.series.map(f64::from);
        self.whole_or_cell(questions);
        self.settle_batteries(questions);
        if let (Some(reading_v), Some(series)) = (self.a_cell.reading_v, series) {
            self.cell_near_full(reading_v, series, questions);
        }
        if let (Some(mohm), Some(series)) = (self.a_cell.resistance_mohm, series) {
            self.pack.resistance_mohm = Some(round(mohm * series));
        }
        if let Some(each_a) = self.each_a {
            self.settings.current_a = Some(each_a * f64::from(self.pack.packs_in_parallel.unwrap_or(1)));
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
            self.meant("/settings/voltage_v", format!("charge to {} a cell", show(Kind::Voltage, set_v)));
        }
        let Some((low, high)) = self.label_span.take() else { return };
        // What a lead battery stands at for good is below 2.33 V a cell, what it is charged with above 2.37.
        const STANDS_UNDER_V: f64 = 2.33;
        const CHARGED_OVER_V: f64 = 2.37;
        let cells = series.unwrap_or(1.0);
        let series = series.filter(|_| self.is_lead_battery());
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
            let shown = format!("{} to {}", show(Kind::Voltage, low), show(Kind::Voltage, high));
            questions.push(Question::choosing(
                "/pack/label_voltage_v",
                format!("{shown} on the label: to charge with, or to stand at?"),
                vec![
                    Choice::of("to charge with", "/pack/label_voltage_v/cycle", vec![low, high]),
                    Choice::of("to stand at", "/pack/label_voltage_v/standby", vec![low, high]),
                ],
            ));
            return;
        };
        if let Some((_, piece)) = piece {
            piece.meaning =
                format!("its label: {} to {} {meaning}", show(Kind::Voltage, low), show(Kind::Voltage, high));
            piece.pointer = pointer.to_owned();
        }
    }

    /// Whether volts beside so many in series may be those of all of them as well as of each, V.
    fn all_or_each(&self, count: u32, label_v: f64) -> bool {
        let cell_v = label_v / f64::from(count);
        let within = |profile: &Profile| (profile.precharge_below_v..=1.01 * profile.full_v).contains(&cell_v);
        !self.is_lead_battery()
            && self.pack.series != Some(1)
            && self.pack.chemistry.and_then(profile).is_some_and(within)
    }

    /// `3x 18650 in series 12.6 V`, `4x 12.8 V in series`: asked.
    fn ask_all_or_each(&mut self, (count, series): (u32, u32), label_v: f64, questions: &mut Vec<Question>) {
        (self.pack.series, self.pack.label_v) = (None, None);
        let shown = show(Kind::Voltage, label_v);
        let choice = |label: String, cells: u32| Choice::of(label, "/pack/series", f64::from(cells));
        questions.push(Question::choosing(
            "/pack/series",
            format!("{count} in series, {shown}: is that all of them, or each?"),
            vec![
                choice(format!("{count} cells, {shown} all together"), count),
                choice(format!("{shown} each, {} cells", count * series), count * series),
            ],
        ));
        self.meant("/pack/series", format!("{count} of them in series, asked below"));
    }

    /// Volts that no label of so many of these cells says are asked: they may be what the pack reads.
    fn label_or_reading(&mut self, questions: &mut Vec<Question>) {
        // A label's volts are rounded to a tenth; whole ones are a name, near what its cells have.
        const ROUNDED_V: f64 = 0.051;
        const NAMED: std::ops::RangeInclusive<f64> = 0.93..=1.04;
        let (Some(label_v), Some(series)) = (self.pack.label_v, self.pack.series.map(f64::from)) else { return };
        let Some(profile) = self.pack.chemistry.and_then(profile) else { return };
        let says = |cells: f64| profile.label_readings_v.iter().any(|v| (v * cells - label_v).abs() <= ROUNDED_V);
        let named = label_v.fract() == 0.0 && NAMED.contains(&(label_v / (profile.nominal_v * series)));
        let meaning = if says(series) || named {
            return;
        } else if says(1.0) {
            self.pack.label_v = None;
            format!("{} on the label of each cell", show(Kind::Voltage, label_v))
        } else {
            self.pack.label_v = None;
            questions.push(Question::choosing(
                "/pack/label_v",
                format!("{}: what it reads now, or what its label says?", show(Kind::Voltage, label_v)),
                vec![
                    Choice::of("it reads that", "/pack/start/rest_voltage_v", label_v),
                    Choice::of("its label says that", "/pack/label_v", label_v),
                ],
            ));
            format!("{}, asked below", show(Kind::Voltage, label_v))
        };
        self.meant("/pack/label_v", meaning);
    }

    /// So few volts over several cells are one cell's, or a pack's that is in trouble: asked.
    fn whole_or_cell(&mut self, questions: &mut Vec<Question>) {
        let (Some(rest_v), Some(series)) = (self.start.rest_voltage_v, self.pack.series) else { return };
        if series < 2 || rest_v > HIGHEST_CELL_V || self.a_cell.reading_v.is_some() {
            return;
        }
        self.start.rest_voltage_v = None;
        let choice = |label: &str, value: f64| Choice::of(label, "/pack/start/rest_voltage_v", value);
        questions.push(Question::choosing(
            "/pack/start/rest_voltage_v",
            format!("{}: is that each cell, or the whole pack?", show(Kind::Voltage, rest_v)),
            vec![choice("each cell", round(rest_v * f64::from(series))), choice("the whole pack", rest_v)],
        ));
    }

    /// Several packs are as often charged one by one as side by side or one after the other: asked.
    fn settle_batteries(&mut self, questions: &mut Vec<Question>) {
        let (Some(count), Some(series)) = (self.batteries, self.pack.series) else { return };
        if self.parallel_board {
            self.pack.packs_in_parallel = Some(count);
            return;
        }
        if self.is_lead_battery() {
            self.pack.label_v = None;
        }
        self.meant("/pack/packs_in_parallel", format!("{count} of them, asked below how they are charged"));
        let field = "/pack/packs_in_parallel";
        questions.push(
            Question::choosing(
                field,
                format!("How are the {count} charged?"),
                vec![
                    Choice::of("one by one", field, 1),
                    Choice::of("side by side", field, count),
                    Choice::of("one after the other, in series", "/pack/series", series * count),
                ],
            )
            .holding(),
        );
    }

    /// What stands so high that it may be a reading of a nearly full cell or the volts to charge it to is asked, unless
    /// a word beside it said which, V.
    fn cell_near_full(&mut self, cell_v: f64, series: f64, questions: &mut Vec<Question>) {
        const NEARLY: f64 = 0.96;
        let pack_v = round(cell_v * series);
        let full_v = self.pack.chemistry.and_then(profile).map_or(f64::INFINITY, |profile| profile.full_v);
        if self.a_cell.said_to_be_read || cell_v < NEARLY * full_v {
            self.start.rest_voltage_v = Some(pack_v);
            return;
        }
        questions.push(Question::choosing(
            "/pack/start/rest_voltage_v",
            format!("{} a cell: what they read now, or what to charge them to?", show(Kind::Voltage, cell_v)),
            vec![
                Choice::of("they read that", "/pack/start/rest_voltage_v", pack_v),
                Choice::of("charge to that", "/settings/voltage_v", pack_v),
            ],
        ));
        self.meant("/pack/start/rest_voltage_v", format!("{} a cell, asked below", show(Kind::Voltage, cell_v)));
    }

    /// Whether the pack is a lead battery, of whichever kind.
    pub(super) fn is_lead_battery(&self) -> bool {
        self.lead_acid || self.pack.chemistry.and_then(profile).is_some_and(|p| p.traits.absorbs)
    }
}

fn round(v: f64) -> f64 {
    (v * 1000.0).round() / 1000.0
}
