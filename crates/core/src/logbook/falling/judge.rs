//! What the readings of a discharge mean: each rule looks for one thing and is silent else.

use super::super::course::Look;
use super::super::refit::Fitted;
use super::super::scene::saying;
use super::super::slack::{slack_a, slack_v};
use crate::advice::discharge::{Discharge, Wanted, gives};
use crate::codes::{DischargeBy, SayingCode, Severity};
use crate::formats::{RunReadingDoc, SayingDoc};
use crate::lines::{cells, deep, ends, flow, meters, outward, readings, warmth, wear};
use crate::parts::identify::Identified;
use crate::parts::plan::Plan;
use crate::units::{in_amp_hours, in_amps, in_celsius, in_ohms, trimmed};

/// What a smaller current gives back, in resistances: what is slow comes after.
const RECOVERS: f64 = 1.6;
/// As near to its goal as can be told.
const AT_GOAL: f64 = 0.005;

/// All that the rules look at.
pub(super) struct Falling<'a> {
    pub(super) plan: &'a Plan,
    pub(super) found: &'a Identified,
    pub(super) discharge: &'a Discharge,
    pub(super) readings: &'a [RunReadingDoc],
    pub(super) looks: &'a [Look],
    pub(super) fitted: &'a Fitted,
    /// Where the readings have brought it.
    pub(super) soc: f64,
    /// Out of the pack as it stands, A.
    pub(super) expected_a: f64,
    /// At the terminals at the last look, as was believed before any reading, V.
    pub(super) believed_v: f64,
    /// Out of the pack so far, Ah.
    pub(super) out_ah: f64,
    /// … as the charger or the load counted it.
    pub(super) counted_ah: Option<f64>,
}

/// All that the readings say, gravest first; on track where nothing else is said.
pub(super) fn judged(scene: &Falling<'_>) -> Vec<SayingDoc> {
    let rules: [fn(&Falling<'_>) -> Option<SayingDoc>; 13] = [
        over_discharged,
        done,
        ended_itself,
        wrong_way,
        warming,
        over_current,
        cell_behind,
        voltage_missing,
        cell_first,
        cells_unread,
        stopped,
        slower,
        high_resistance,
    ];
    let mut said: Vec<SayingDoc> = rules.iter().filter_map(|rule| rule(scene)).collect();
    let has = |said: &[SayingDoc], code: SayingCode| said.iter().any(|one| one.code == code);
    // What explains the others is not told twice.
    if has(&said, SayingCode::Done) || has(&said, SayingCode::OverDischarged) {
        said.retain(|one| {
            !matches!(
                one.code,
                SayingCode::CellFirst
                    | SayingCode::CellsUnread
                    | SayingCode::Stopped
                    | SayingCode::SupplyLimited
                    | SayingCode::VoltageMissing
            )
        });
    }
    if has(&said, SayingCode::Stopped) {
        said.retain(|one| one.code != SayingCode::SupplyLimited);
    }
    if said.is_empty() && !scene.looks.is_empty() {
        said.push(saying(SayingCode::OnTrack, Severity::Note, "As computed.".to_owned(), &[]));
    }
    said.sort_by_key(|one| one.severity);
    said
}

/// The cells as they were last read, where there are several: the lowest with its number, and the mean.
struct LowCell {
    n: usize,
    lowest_v: f64,
    mean_v: f64,
}

impl Falling<'_> {
    fn series(&self) -> f64 {
        f64::from(self.plan.pack.series)
    }

    fn last_look(&self) -> Option<&Look> {
        self.looks.iter().rev().find(|look| look.pack_v.is_some() || look.pack_a.is_some())
    }

    /// Out of the pack as last read, A.
    pub(super) fn flowing_a(&self) -> Option<f64> {
        self.looks.iter().rev().find_map(|look| look.pack_a).map(f64::abs)
    }

    fn low_cell(&self) -> Option<LowCell> {
        let cells = self.readings.iter().rev().find_map(|reading| reading.cell_voltages_v.as_deref())?;
        let cells = Some(cells).filter(|cells| cells.len() == self.plan.pack.series as usize)?;
        let lowest = cells.iter().copied().enumerate().min_by(|a, b| a.1.total_cmp(&b.1))?;
        let mean_v = cells.iter().sum::<f64>() / cells.len() as f64;
        Some(LowCell { n: lowest.0 + 1, lowest_v: lowest.1, mean_v })
    }

    /// Out of the pack so far, Ah: by its own counter, where that was read.
    pub(super) fn given_ah(&self) -> f64 {
        self.counted_ah.unwrap_or(self.out_ah)
    }

    /// Whether it was found ended by itself at its cut-off.
    pub(super) fn ended_itself(&self) -> bool {
        let none = self.flowing_a().is_some_and(|a| a <= flow::NOTHING.at * self.expected_a);
        let volts = self.last_look().and_then(|look| look.pack_v);
        let soc = volts.map(|v| self.plan.pack.profile.ocv.soc_at(v / self.series()));
        let ends = self.whole().is_some() && self.discharge.sink.ends;
        ends && none && self.looks.len() > 1 && soc.is_some_and(|soc| soc <= ends::RUN_DOWN.at)
    }

    /// The lowest and the mean of the cells as they were last read, V.
    pub(super) fn cells_v(&self) -> Option<(f64, f64)> {
        self.low_cell().map(|cell| (cell.lowest_v, cell.mean_v))
    }

    /// The lowest cell as far as it is known, V: of a reading without cells their mean.
    fn lowest_v(&self) -> Option<f64> {
        let cells = self.readings.last().and_then(|reading| reading.cell_voltages_v.as_ref());
        let of_cells = cells.and(self.low_cell()).map(|cell| cell.lowest_v);
        of_cells.or_else(|| Some(self.last_look()?.pack_v? / self.series()))
    }

    /// Below this a cell is over-discharged, V: lead falls lower under a large current, without harm.
    fn line_v(&self) -> f64 {
        let profile = &self.plan.pack.profile;
        let share = if profile.traits.in_blocks { outward::LEAD_UNDER_LOAD.at } else { 1.0 };
        let line_v = share * profile.precharge_below_v;
        line_v.min(self.whole().unwrap_or(line_v)) - deep::UNDER_LOAD.at * profile.nominal_v
    }

    fn whole(&self) -> Option<f64> {
        match self.discharge.wanted {
            Wanted::Whole { to_v } => Some(to_v),
            Wanted::Soc(_) => None,
        }
    }

    /// How whatever takes it is taken off.
    fn end_it(&self) -> &'static str {
        match self.discharge.sink.by {
            DischargeBy::Resistor | DischargeBy::Lamp => "Take it off at the pack now",
            DischargeBy::ElectronicLoad => "Switch the load’s input off now, then part the pack",
            DischargeBy::Charger | DischargeBy::Source => "End it at the charger now, then part the pack",
        }
    }
}

fn over_discharged(scene: &Falling<'_>) -> Option<SayingDoc> {
    let (lowest_v, line_v) = (scene.lowest_v()?, scene.line_v());
    (line_v > 0.0 && lowest_v < line_v).then(|| {
        let profile = &scene.plan.pack.profile;
        let unit = if profile.traits.in_blocks { "It stands" } else { "A cell stands" };
        let message = format!(
            "{unit} at {} V, below {} V a cell: over-discharged. {}. Too low {}. Half an hour later read it at rest; what stays under the line goes to Rescue, not on the charger.",
            trimmed(lowest_v, 2),
            trimmed(line_v, 2),
            scene.end_it(),
            profile.words.low.in_time
        );
        saying(SayingCode::OverDischarged, Severity::Stop, message, &[("cell_v", lowest_v), ("line_v", line_v)])
    })
}

/// What a pack as good as its label gives at the mean current so far, Ah.
fn due_ah(scene: &Falling<'_>) -> f64 {
    let last_s = scene.looks.last().map_or(0.0, |look| look.t_s);
    let mean_a = scene.out_ah * 3600.0 / last_s.max(1.0);
    in_amp_hours(scene.discharge.pack.nameplate) * gives(&scene.discharge.pack, mean_a)
}

/// It has come to its cut-off, or to the state of charge it was to come to.
fn done(scene: &Falling<'_>) -> Option<SayingDoc> {
    let last_v = scene.lowest_v();
    let there = match scene.discharge.wanted {
        Wanted::Whole { to_v } => last_v.is_some_and(|v| v <= to_v + meters::AGAIN_CELL_V.at),
        Wanted::Soc(goal) => !scene.looks.is_empty() && scene.soc <= goal + AT_GOAL,
    };
    if !there {
        return None;
    }
    let (severity, does) = if scene.discharge.sink.ends {
        (Severity::Note, "It ends by itself: see that it has, then part the pack.".to_owned())
    } else {
        (Severity::Stop, format!("{}: nothing else ends it.", scene.end_it()))
    };
    let mut values = vec![("out_ah", scene.given_ah())];
    let worth = if scene.whole().is_some() { worth(scene) } else { String::new() };
    let message = format!("It is where it was to come to: {} Ah came out. {does}{worth}", trimmed(scene.given_ah(), 2));
    let share = scene.whole().map(|_| ("share", scene.given_ah() / due_ah(scene).max(1e-9)));
    values.extend(share);
    Some(saying(SayingCode::Done, severity, message, &values))
}

/// What it gave beside its label, a sentence after another.
fn worth(scene: &Falling<'_>) -> String {
    let share = scene.given_ah() / due_ah(scene).max(1e-9);
    let verdict = if share < wear::RETIRE.at {
        ": it is done with. Retire it."
    } else if share < wear::WORN.at {
        ": it is worn."
    } else {
        "."
    };
    format!(" That is {} % of what its label gives at this current{verdict}", trimmed(100.0 * share, 0))
}

/// Whatever takes it ends at its cut-off by itself, and was found so: nothing flows, and the pack rests nearly empty.
fn ended_itself(scene: &Falling<'_>) -> Option<SayingDoc> {
    (scene.ended_itself() && done(scene).is_none()).then(|| {
        let counted = scene.counted_ah.map_or_else(
            || "Enter what it counted, Ah, as a reading: its amps were not read to the end.".to_owned(),
            |ah| format!("{} Ah came out by its count.{}", trimmed(ah, 2), worth(scene)),
        );
        let message = format!("It has ended by itself, and the pack rests nearly empty. Part it. {counted}");
        saying(SayingCode::Done, Severity::Note, message, &[("out_ah", scene.given_ah())])
    })
}

/// Its volts rise while it should be run down, by more than a smaller current lets them.
fn wrong_way(scene: &Falling<'_>) -> Option<SayingDoc> {
    let flowing = |look: &&Look| look.pack_a.is_some_and(|a| a.abs() > flow::NOTHING.at * scene.expected_a);
    let read = |look: &Look| look.pack_v.zip(look.pack_a.map(f64::abs));
    let (first_v, first_a) = scene.looks.iter().filter(flowing).find_map(read)?;
    let (last_v, last_a) = scene.looks.iter().filter(flowing).rev().find_map(read)?;
    let ohm = RECOVERS * in_ohms(scene.plan.pack.resistance) * scene.fitted.scale().resistance;
    let recovers_v = ohm * (first_a - last_a).max(0.0);
    (last_v > first_v + recovers_v + slack_v(first_v)).then(|| {
        let message = format!(
            "Its volts have risen from {} to {} V while it should run down: something charges it. Part it, and see what the charger is set to.",
            trimmed(first_v, 2),
            trimmed(last_v, 2)
        );
        saying(SayingCode::WrongWay, Severity::Stop, message, &[("first_v", first_v), ("last_v", last_v)])
    })
}

fn warming(scene: &Falling<'_>) -> Option<SayingDoc> {
    let last_c = scene.readings.iter().rev().find_map(|reading| reading.temperature_c)?;
    let begun_c = in_celsius(scene.plan.pack.temperature);
    let values = [("temperature_c", last_c), ("begun_c", begun_c)];
    let shown = trimmed(last_c, 0);
    if last_c >= outward::OUT_MAX_C.at {
        let most = trimmed(outward::OUT_MAX_C.at, 0);
        let message = format!("{shown} °C: {} and let it cool outside. {most} °C is the most.", lower(scene.end_it()));
        return Some(saying(SayingCode::Warming, Severity::Stop, message, &values));
    }
    (last_c - begun_c >= warmth::OUT_WARMER_K.at).then(|| {
        let message = format!(
            "{shown} °C, from {} °C: less current, or a pause until it is below 40 °C; warmer still, stop.",
            trimmed(begun_c, 0)
        );
        saying(SayingCode::Warming, Severity::Caution, message, &values)
    })
}

fn lower(sentence: &str) -> String {
    let mut letters = sentence.chars();
    letters.next().map_or_else(String::new, |first| first.to_lowercase().chain(letters).collect())
}

fn over_current(scene: &Falling<'_>) -> Option<SayingDoc> {
    let a = scene.flowing_a()?;
    let shown = trimmed(a, 2);
    if let Some(gives_a) = scene.plan.pack.gives.map(in_amps).filter(|gives_a| a > *gives_a + slack_a(*gives_a)) {
        let message =
            format!("{shown} A flow out, and its label lets it give {} A. {}.", trimmed(gives_a, 2), scene.end_it());
        return Some(saying(
            SayingCode::OverCurrent,
            Severity::Stop,
            message,
            &[("current_a", a), ("limit_a", gives_a)],
        ));
    }
    (a > flow::MORE.at * scene.expected_a + slack_a(0.0)).then(|| {
        let message = format!(
            "{shown} A flow out where {} A were expected: see what is set, and that it is the right resistor or lamp.",
            trimmed(scene.expected_a, 2)
        );
        let values = [("current_a", a), ("expected_a", scene.expected_a)];
        saying(SayingCode::OverCurrent, Severity::Caution, message, &values)
    })
}

/// A cell far below the others while the pack as a whole still holds.
fn cell_behind(scene: &Falling<'_>) -> Option<SayingDoc> {
    let LowCell { n, lowest_v, mean_v } = scene.low_cell()?;
    let known_v = scene.found.spread_v();
    let alone = scene.plan.pack.profile.traits.farads || scene.plan.pack.series < 2;
    (mean_v - lowest_v > cells::BEHIND_V.at + known_v && !alone).then(|| {
        let message = format!(
            "Cell {n} reads {} V, the others about {} V: it is empty, or it has failed. {}; that cell decides what the pack is worth.",
            trimmed(lowest_v, 2),
            trimmed(mean_v, 2),
            scene.end_it()
        );
        saying(SayingCode::CellBehind, Severity::Stop, message, &[("cell_v", lowest_v), ("mean_v", mean_v)])
    })
}

/// One comes to the cut-off before the others.
fn cell_first(scene: &Falling<'_>) -> Option<SayingDoc> {
    let to_v = scene.whole()?;
    let LowCell { n, lowest_v, mean_v } = scene.low_cell()?;
    let apart_v = mean_v - lowest_v;
    let first = lowest_v <= to_v + cells::NEAR_END_V.at
        && (cells::FIRST_V.at..=cells::BEHIND_V.at + scene.found.spread_v()).contains(&apart_v);
    first.then(|| {
        let message = format!(
            "Cell {n} comes to its end first: {} V, the others about {} V. Stay, watch that cell, and end it when it reads {} V, whatever the pack reads.",
            trimmed(lowest_v, 2),
            trimmed(mean_v, 2),
            trimmed(to_v, 2)
        );
        saying(SayingCode::CellFirst, Severity::Caution, message, &[("cell_v", lowest_v), ("mean_v", mean_v)])
    })
}

/// Nobody and nothing sees the cells one by one.
fn cells_unread(scene: &Falling<'_>) -> Option<SayingDoc> {
    let pack = &scene.plan.pack;
    let seen = scene.discharge.reads_cells || scene.readings.last()?.cell_voltages_v.is_some();
    let alone = pack.series < 2 || !pack.profile.traits.balance_lead;
    let late = scene.out_ah >= readings::UNREAD.at * in_amp_hours(pack.capacity);
    (scene.whole().is_some() && !seen && !alone && late).then(|| {
        let message = "Only the pack’s volts were read: a weak cell falls first, unseen, and can be empty while the others are half full. Read each cell.".to_owned();
        saying(SayingCode::CellsUnread, Severity::Caution, message, &[("out_ah", scene.out_ah)])
    })
}

fn voltage_missing(scene: &Falling<'_>) -> Option<SayingDoc> {
    let v = scene.last_look()?.pack_v?;
    let profile = &scene.plan.pack.profile;
    let missing_v = scene.believed_v - v;
    let left = scene.found.low - scene.out_ah / in_amp_hours(scene.plan.pack.capacity) > ends::STEEP.at;
    let some = left && !profile.traits.farads && scene.plan.pack.series > 1;
    (some && missing_v > cells::MISSING.at * profile.nominal_v + slack_v(v)).then(|| {
        let message = format!(
            "{} V where {} V was expected: about {} cells’ worth of voltage is missing. A shorted or an empty cell, or a wrong cell count. {}, and read each.",
            trimmed(v, 2),
            trimmed(scene.believed_v, 2),
            trimmed(missing_v / profile.nominal_v, 1),
            scene.end_it()
        );
        saying(SayingCode::VoltageMissing, Severity::Stop, message, &[("voltage_v", v), ("expected_v", scene.believed_v)])
    })
}

fn stopped(scene: &Falling<'_>) -> Option<SayingDoc> {
    let a = scene.flowing_a()?;
    (a <= flow::NOTHING.at * scene.expected_a).then(|| {
        let message = "Next to nothing flows though it should: it has ended by itself, a plug or a fuse is open, or the pack’s board has switched off. Read each cell before it goes on.".to_owned();
        saying(SayingCode::Stopped, Severity::Caution, message, &[("current_a", a), ("expected_a", scene.expected_a)])
    })
}

fn slower(scene: &Falling<'_>) -> Option<SayingDoc> {
    let a = scene.flowing_a()?;
    (a < scene.expected_a - 1.5 * slack_a(scene.expected_a)).then(|| {
        let message = format!(
            "{} A flow out where {} A were expected: what takes it limits, or has turned itself down. It takes that much longer.",
            trimmed(a, 2),
            trimmed(scene.expected_a, 2)
        );
        let values = [("current_a", a), ("expected_a", scene.expected_a)];
        saying(SayingCode::SupplyLimited, Severity::Note, message, &values)
    })
}

fn high_resistance(scene: &Falling<'_>) -> Option<SayingDoc> {
    // The fit has it as a logarithm.
    let (logarithm, deviation) = (scene.fitted.values[1], scene.fitted.deviations[1]);
    ((logarithm - 2.0 * deviation).exp() >= wear::GROWN.at).then(|| {
        let factor = logarithm.exp();
        let message = format!(
            "Its resistance is about {} times what was believed: an aged or a cold pack. It comes to its cut-off early, and holds more than it gives.",
            trimmed(factor, 1)
        );
        saying(SayingCode::HighResistance, Severity::Note, message, &[("factor", factor), ("deviation", deviation)])
    })
}
