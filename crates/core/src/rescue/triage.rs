//! From what was found to a verdict: every rule adds its reason, and the gravest decides. What is
//! not known counts as the dangerous case.

use super::allowed;
use super::found::{Cells, Picture};
use super::reason::Reason;
use crate::formats::{LowFor, PackMark, ReasonCode, RescuePractice, Sign, Verdict};
use crate::lines::{deep, meters, warmth};
use crate::physics::cell::Floors;
use crate::units::trimmed;

/// A verdict with its reasons, gravest first.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Decision {
    pub(crate) verdict: Verdict,
    pub(crate) reasons: Vec<Reason>,
}

impl Decision {
    fn of(mut reasons: Vec<Reason>) -> Self {
        reasons.sort_by_key(|reason| (std::cmp::Reverse(reason.verdict), reason.code));
        let verdict = reasons.first().map_or(Verdict::Charge, |reason| reason.verdict);
        Self { verdict, reasons }
    }

    /// Whether a reason is among them.
    pub(crate) fn has(&self, code: ReasonCode) -> bool {
        self.reasons.iter().any(|reason| reason.code == code)
    }
}

/// Decides. Total: every picture has an answer.
pub(crate) fn decide(picture: &Picture) -> Decision {
    let mut reasons = Vec::new();
    marks(picture, &mut reasons);
    signs(picture, &mut reasons);
    temperature(picture, &mut reasons);
    reasons.extend(allowed::reasons(picture));
    match picture.bms.known() {
        Some(bms) => volts(picture, *bms, &mut reasons),
        None if asks_for_board(picture) => either_board(picture, &mut reasons),
        None => volts(picture, false, &mut reasons),
    }
    Decision::of(reasons)
}

/// Whether a protection board may stand between terminals and cells.
pub(crate) fn asks_for_board(picture: &Picture) -> bool {
    picture.pack.profile.traits.board
}

/// Nobody knows whether there is a board: the graver of both cases, but what only not knowing
/// would condemn is found out first.
fn either_board(picture: &Picture, reasons: &mut Vec<Reason>) {
    let mut cases = [Vec::new(), Vec::new()];
    volts(picture, true, &mut cases[0]);
    volts(picture, false, &mut cases[1]);
    let [with, without] = cases.map(Decision::of);
    if with.verdict == without.verdict {
        reasons.extend(with.reasons);
        return;
    }
    let graver = if with.verdict > without.verdict { with } else { without };
    if graver.verdict > Verdict::Precharge {
        reasons.push(
            Reason::new(
                Verdict::Inspect,
                ReasonCode::BmsUnknown,
                "Whether there is a protection board decides what this reading means: with one the cells may be sound and only disconnected, without one the terminals are the cells.",
            )
            .unless("Find out: a flat circuit board under the wrap, a charge and a discharge port, or a maker's sheet."),
        );
    } else {
        reasons.extend(graver.reasons);
    }
}

fn marks(picture: &Picture, reasons: &mut Vec<Reason>) {
    if picture.mark == Some(PackMark::Retired) {
        reasons.push(Reason::new(
            Verdict::Retire,
            ReasonCode::Retired,
            "It is marked as retired: somebody has already decided, for a reason.",
        ));
    }
}

fn signs(picture: &Picture, reasons: &mut Vec<Reason>) {
    let Some(signs) = picture.signs.known() else {
        reasons.push(unseen());
        return;
    };
    let feeds_on_itself = asks_for_board(picture);
    reasons.extend(signs.iter().filter_map(|sign| told_by(*sign, feeds_on_itself)));
}

fn unseen() -> Reason {
    Reason::new(
        Verdict::Inspect,
        ReasonCode::SignsUnknown,
        "Nobody has looked at it yet: a damaged pack must not be fed at all.",
    )
    .unless("Look at it from all sides, and feel it with the back of the hand.")
}

/// What retires a pack of any kind by its looks alone, known or not.
pub(crate) fn beyond_help(signs: &[Sign]) -> Vec<Reason> {
    let mildest = signs.iter().filter_map(|sign| told_by(*sign, false));
    mildest.filter(|reason| reason.verdict == Verdict::Retire).collect()
}

/// What one sign means; `None` where there is none.
fn told_by(sign: Sign, feeds_on_itself: bool) -> Option<Reason> {
    use ReasonCode::{Damaged, Frozen, LowElectrolyte, Wet};
    use Verdict::{Inspect, Retire};
    Some(match sign {
        Sign::None => return None,
        Sign::Unknown => unseen(),
        Sign::Swollen => {
            Reason::new(Retire, Damaged, "Swollen: gas has formed inside, and charging makes more of it.")
        }
        Sign::Leaking => Reason::new(
            Retire,
            Damaged,
            "Leaking: what has run out burns or corrodes, and the cells are open to the air.",
        ),
        Sign::Dented => {
            Reason::new(Retire, Damaged, "Dented: layers inside may touch, and short once there is charge in them.")
        }
        Sign::Crushed => {
            Reason::new(Retire, Damaged, "Crushed or pierced: it can ignite at any time, charged or not.")
        }
        Sign::Smell => Reason::new(Retire, Damaged, "It smells: a cell has vented or is about to."),
        Sign::Hot if feeds_on_itself => {
            Reason::new(Retire, Damaged, "Warm with nothing connected: something inside is feeding on itself.")
                .unless("If it only lay in the sun: two hours outside in the shade, then feel it again.")
        }
        Sign::Hot => Reason::new(Inspect, Damaged, "Warm with nothing connected: find out why before it is fed.")
            .unless("Let it cool for some hours in the open; warm again by itself means a short inside."),
        Sign::Wet if feeds_on_itself => Reason::new(
            Retire,
            Wet,
            "It has been in water: salt and rust eat on inside, and such packs burn days later. Outdoors, 15 m from any building, never dried indoors.",
        )
        .unless("Fresh water on a sealed pack only: a week outdoors, then looked over."),
        Sign::Wet => {
            Reason::new(Inspect, Wet, "It has been in water: salt and rust bridge the terminals or the board.")
                .unless("Dry it for days, open what can be opened, and look for corrosion and warm spots.")
        }
        Sign::Frozen => {
            Reason::new(Inspect, Frozen, "Frozen: it must not be charged, and ice may have split its case.")
                .unless("Thaw it for a day in a room, then look for cracks.")
        }
        Sign::LowElectrolyte => {
            Reason::new(Inspect, LowElectrolyte, "Plates stand dry: charging would burn them and gas strongly.")
                .unless("Cover the plates with distilled water first, to the mark only after the charge.")
        }
    })
}

fn temperature(picture: &Picture, reasons: &mut Vec<Reason>) {
    let window = picture.pack.profile.window;
    let Some(&c) = picture.temperature_c.known() else {
        reasons.push(
            Reason::new(
                Verdict::Inspect,
                ReasonCode::TemperatureUnknown,
                format!(
                    "How warm it is inside is not known; it may be charged from {} to {} °C.",
                    trimmed(window.min_c, 0),
                    trimmed(window.max_c, 0)
                ),
            )
            .unless("Left in a room for four hours it has the room's temperature."),
        );
        return;
    };
    if asks_for_board(picture) && c >= warmth::RUNAWAY_C.at {
        reasons.push(
            Reason::new(
                Verdict::Retire,
                ReasonCode::TooHot,
                format!(
                    "{} °C with nothing connected: it feeds on itself and may burst into flame. Do not touch or carry it. Everybody out, door shut, call the fire service.",
                    trimmed(c, 0)
                ),
            )
            .with(&[("temperature_c", c), ("max_c", window.max_c)]),
        );
    }
}

/// What the voltages say, if there is a board or if there is none.
fn volts(picture: &Picture, bms: bool, reasons: &mut Vec<Reason>) {
    let single = (picture.pack.series == 1 && (!bms || picture.woken))
        .then(|| picture.terminal_v.known().map(|v| Cells { each_v: vec![*v], per_reading: 1.0 }))
        .flatten();
    let cells = picture.cells.known().cloned().or(single);
    match (&cells, picture.terminal_v.known()) {
        (Some(cells), terminal_v) => {
            by_cells(picture, cells, reasons);
            joined(picture, cells, terminal_v.copied(), bms, reasons);
        }
        (None, Some(v)) => by_terminals(picture, *v, bms, reasons),
        (None, None) => reasons.push(
            Reason::new(Verdict::Inspect, ReasonCode::TerminalsUnknown, "Nothing has been read at the terminals yet.")
                .unless("A multimeter on DC volts, nothing else connected."),
        ),
    }
    if let (Some(start_v), Some(inside_v)) = (picture.start_v, picture.inside_v())
        && inside_v < start_v
    {
        reasons.push(
            Reason::new(
                Verdict::Precharge,
                ReasonCode::BelowStart,
                format!("Its charger starts at {} V; it reads {} V.", trimmed(start_v, 2), trimmed(inside_v, 2)),
            )
            .with(&[("start_v", start_v), ("pack_v", inside_v)]),
        );
    }
}

fn by_cells(picture: &Picture, cells: &Cells, reasons: &mut Vec<Reason>) {
    let profile = &picture.pack.profile;
    let lowest_v = cells.lowest_v();
    let slack_v = if profile.traits.farads { meters::CELL_V.at } else { 0.0 };
    if lowest_v < -slack_v {
        reasons.push(
            Reason::new(
                Verdict::Retire,
                ReasonCode::Reversed,
                format!("A cell reads {} V: reversed. It shorts inside when it is charged.", trimmed(lowest_v, 3)),
            )
            .with(&[("cell_v", lowest_v)])
            .unless("Swap the meter's leads and read again, to be sure that it was not them."),
        );
        return;
    }
    let behind_v = cells.behind_v();
    // Cells of lithium lie apart by their size as well; deep down that does not explain so much.
    let most_v = profile.failed_behind_v().filter(|_| !profile.traits.burns || lowest_v < profile.precharge_below_v);
    if let Some(most_v) = most_v.filter(|most_v| behind_v > *most_v) {
        let whose = if profile.traits.in_blocks { "a dead cell" } else { "a group that has failed" };
        reasons.push(
            Reason::new(
                Verdict::Retire,
                ReasonCode::GroupBehind,
                format!(
                    "One lies {} V below its neighbours: {whose}. Charging would push the others past full.",
                    trimmed(behind_v, 2)
                ),
            )
            .with(&[("behind_v", behind_v), ("allowed_v", most_v)])
            .unless("A wrong contact of the meter reads the same: read that one again."),
        );
    }
    level(picture, lowest_v, true, reasons);
}

/// Whether the terminals are joined to the cells.
fn joined(picture: &Picture, cells: &Cells, terminal_v: Option<f64>, bms: bool, reasons: &mut Vec<Reason>) {
    let Some(terminal_v) = terminal_v else {
        return;
    };
    if terminal_v >= deep::JOINED.at * cells.sum_v() || cells.sum_v() <= 0.5 * picture.series() {
        return;
    }
    let values = [("terminal_v", terminal_v), ("cells_v", cells.sum_v())];
    let apart =
        format!("The terminals read {} V, the cells together {} V", trimmed(terminal_v, 2), trimmed(cells.sum_v(), 2));
    reasons.push(if bms {
        Reason::new(Verdict::Wake, ReasonCode::BmsAsleep, format!("{apart}: its board has disconnected the cells."))
            .with(&values)
    } else {
        Reason::new(
            Verdict::Inspect,
            ReasonCode::OpenCircuit,
            format!("{apart}: a fuse, link or joint between them is open."),
        )
        .with(&values)
        .unless("Find the break with the meter, cell by cell, and mend it first.")
    });
}

fn by_terminals(picture: &Picture, terminal_v: f64, bms: bool, reasons: &mut Vec<Reason>) {
    let profile = &picture.pack.profile;
    let each_v = terminal_v / picture.series();
    let values = [("terminal_v", terminal_v), ("cell_v", each_v)];
    if each_v < -meters::CELL_V.at {
        // As many the wrong way round as it has when it is sound: it was read, or wired, the wrong way round.
        let empty_v = profile.ocv.at(0.0).0.max(0.5 * profile.full_v);
        let sound = (empty_v..=profile.ceiling_v).contains(&-each_v);
        let verdict = if bms || sound { Verdict::Inspect } else { Verdict::Retire };
        let why = if sound {
            "as many as this pack has: the meter's leads are swapped, or its plug is wired the wrong way round"
        } else {
            "reversed, or the meter's leads are"
        };
        let message = format!("The terminals read {} V: {why}.", trimmed(terminal_v, 2));
        reasons.push(
            Reason::new(verdict, ReasonCode::Reversed, message)
                .with(&values)
                .unless("Swap the meter's leads and read again."),
        );
        return;
    }
    match profile.rescue_floors_v {
        Some(floors) if bms && !picture.woken && each_v < floors.cautious_v => reasons.push(
            Reason::new(
                Verdict::Wake,
                ReasonCode::BmsAsleep,
                format!(
                    "{} V at the terminals of a pack with a board is usually the board, disconnected, not the cells.",
                    trimmed(terminal_v, 2)
                ),
            )
            .with(&values)
            .unless("Read the cells themselves, if they can be reached."),
        ),
        _ => level(picture, each_v, false, reasons),
    }
}

/// How low the lowest cell is, or the mean where only the terminals were read.
fn level(picture: &Picture, cell_v: f64, measured: bool, reasons: &mut Vec<Reason>) {
    let profile = &picture.pack.profile;
    let line_v = profile.precharge_below_v;
    let values = [("cell_v", cell_v), ("precharge_below_v", line_v)];
    let reads = format!("{} V a cell", trimmed(cell_v, 3));
    let mean_low =
        !measured && picture.pack.series > 1 && deep::MEAN_V.of(profile).is_some_and(|mean_v| cell_v < mean_v);
    let soft = deep::SOFT_V.of(profile).is_some_and(|soft_v| cell_v < soft_v);
    if cell_v >= line_v && soft {
        reasons.push(
            Reason::new(
                Verdict::Precharge,
                ReasonCode::BelowLine,
                format!(
                    "{reads}: flat for long. It gets little current for an hour, which shows whether a cell is dead."
                ),
            )
            .with(&values),
        );
        return;
    }
    if cell_v >= line_v && mean_low {
        let message = format!(
            "{reads} is only the mean of {}: one of them may be under {} V.",
            picture.pack.series,
            trimmed(line_v, 2)
        );
        reasons.push(Reason::new(Verdict::Precharge, ReasonCode::BelowLine, message).with(&values));
        reasons.push(if picture.pack.series <= 3 { needed(picture, cell_v) } else { unread(picture) });
        return;
    }
    if cell_v >= line_v {
        let code = ReasonCode::HighEnough;
        let message = if profile.traits.farads {
            format!(
                "{reads}: a capacitor starts from 0 V as well. Set the amps first, for an empty one looks like a short."
            )
        } else {
            format!("{reads} is above the {} V under which a gentle start is needed.", trimmed(line_v, 2))
        };
        reasons.push(Reason::new(Verdict::Charge, code, message).with(&values));
        if !measured && picture.pack.series > 1 && profile.rescue_floors_v.is_some() {
            reasons.push(unread(picture));
        }
        return;
    }
    match profile.rescue_floors_v {
        Some(floors) => lithium(picture, cell_v, measured, floors, reasons),
        None => {
            reasons.push(
                Reason::new(
                    Verdict::Precharge,
                    ReasonCode::BelowLine,
                    format!(
                        "{reads} is below {} V: a normal charger may refuse it, or fill it too fast.",
                        trimmed(line_v, 2)
                    ),
                )
                .with(&values),
            );
            if profile.traits.sulphates && picture.low_for.known() != Some(&LowFor::Hours) {
                reasons.push(Reason::new(
                    Verdict::Precharge,
                    ReasonCode::Sulphated,
                    "Low for long: hardened sulphate may hold the voltage high and the current near nothing at first.",
                ));
            }
        }
    }
}

fn lithium(picture: &Picture, cell_v: f64, measured: bool, floors: Floors, reasons: &mut Vec<Reason>) {
    use RescuePractice::{Cautious, Experienced};
    let low = picture.pack.profile.words.low;
    let reads = format!("{} V a cell", trimmed(cell_v, 3));
    let values =
        [("cell_v", cell_v), ("cautious_floor_v", floors.cautious_v), ("experienced_floor_v", floors.experienced_v)];
    let line = |verdict, code, message: String| Reason::new(verdict, code, message).with(&values);
    if picture.mark == Some(PackMark::Recovered) {
        let verdict = if picture.practice == Cautious { Verdict::Retire } else { Verdict::Precharge };
        reasons.push(line(
            verdict,
            ReasonCode::LowAgain,
            format!("{reads}, and it has been brought back once before: {}.", low.again),
        ));
    }
    let above = |line: Option<f64>| line.is_none_or(|v| cell_v >= v);
    if above(deep::CAUTIOUS_V.of(&picture.pack.profile)) {
        reasons.push(line(
            Verdict::Precharge,
            ReasonCode::BelowLine,
            format!("{reads}: too low for a normal charge, but {}.", low.not_yet),
        ));
        // The sum of so few cells hides a dead one.
        if !measured && picture.pack.series <= 3 && picture.pack.series > 1 {
            reasons.push(needed(picture, cell_v));
        } else if !measured && picture.pack.series > 1 {
            reasons.push(unread(picture));
        }
        return;
    }
    if !above(deep::EXPERIENCED_V.of(&picture.pack.profile)) {
        reasons.push(line(
            Verdict::Retire,
            ReasonCode::BelowBothFloors,
            format!(
                "{reads} is under {} V, the floor of both practices: {}.",
                trimmed(floors.experienced_v, 2),
                low.has
            ),
        ));
        return;
    }
    let low_for = picture.low_for.known().copied();
    let soon_enough = match picture.practice {
        Cautious => low_for == Some(LowFor::Hours),
        Experienced => matches!(low_for, Some(LowFor::Hours | LowFor::Days)),
    };
    let floor = format!("{reads} is under the cautious floor of {} V", trimmed(floors.cautious_v, 2));
    if !soon_enough {
        let (most, other) = match picture.practice {
            Cautious => (
                "hours",
                "The experienced practice would try one that has been low for days at most, each cell measured.",
            ),
            Experienced => ("days", "No practice brings back a cell that has lain so low for weeks."),
        };
        let long = match low_for {
            Some(LowFor::Days) => "for days",
            Some(_) => "for weeks",
            None => "for nobody knows how long",
        };
        reasons.push(
            line(
                Verdict::Retire,
                ReasonCode::BelowFloor,
                format!("{floor}, and has been {long}: more than {most} there {}.", low.in_time),
            )
            .unless(other),
        );
    } else if measured {
        reasons.push(line(
            Verdict::Precharge,
            ReasonCode::BelowFloor,
            format!("{floor}, but not for long: it may come back, watched, and is never quite the same."),
        ));
    } else {
        reasons.push(needed(picture, cell_v));
    }
}

/// Each cell must be read before anything flows.
fn needed(picture: &Picture, cell_v: f64) -> Reason {
    Reason::new(
        Verdict::Inspect,
        ReasonCode::CellsNeeded,
        format!(
            "{} V a cell is only the mean of {}: one of them may be dead and the others charged past full in its place.",
            trimmed(cell_v, 2),
            picture.pack.series
        ),
    )
    .unless("Read each cell, at the balance plug or at the joints.")
}

fn unread(picture: &Picture) -> Reason {
    Reason::new(
        Verdict::Charge,
        ReasonCode::CellsUnread,
        format!(
            "Only the mean of {} cells is known. Read each before the normal charge: a shorted group would overcharge the others.",
            picture.pack.series
        ),
    )
}
