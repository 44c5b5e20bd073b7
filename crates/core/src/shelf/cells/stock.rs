//! The cells of a question, checked, and the units they move in: a cell, or cells that are welded together.

use std::collections::HashMap;

use crate::codes::{Chemistry, UnfitCode};
use crate::formats::{MATCH_FORMAT, MatchDoc, Problems, UnfitDoc};
use crate::lines::line::{Line, OfFamily};
use crate::lines::{cells, leaks, meters, volts};
use crate::parts::problems::Checked;
use crate::physics::cell::{Leaks, Profile, profile};
use crate::units::trimmed;

/// No cell of any kind stands higher, V.
const HIGHEST_V: f64 = 4.37;

/// A cell ready to be put somewhere.
#[derive(Clone, Debug)]
pub(super) struct Cell {
    pub(super) id: String,
    pub(super) ah: f64,
    pub(super) mohm: Option<f64>,
    pub(super) volts: Option<f64>,
    leaks_mv: Option<f64>,
    /// Which group it sits in, counted through all packs.
    pub(super) sits: Option<usize>,
    welded: Vec<usize>,
}

/// What moves as one.
#[derive(Clone, Debug)]
pub(super) struct Unit {
    pub(super) cells: Vec<usize>,
    pub(super) ah: f64,
    pub(super) sits: Option<usize>,
}

/// A place for cells in parallel.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) struct Group {
    pub(super) pack: usize,
    pub(super) holds: usize,
}

/// The question, checked.
pub(super) struct Stock {
    pub(super) cells: Vec<Cell>,
    pub(super) names: Vec<String>,
    pub(super) groups: Vec<Group>,
    pub(super) profile: Option<&'static Profile>,
}

/// Reads the question.
pub(super) fn stock(doc: &MatchDoc) -> Result<Stock, Problems> {
    let mut problems = Problems::default();
    if doc.format.as_deref().is_some_and(|format| format != MATCH_FORMAT) {
        problems.add("/format", "this is another format", MATCH_FORMAT);
    }
    let given = doc.packs.clone().unwrap_or_default();
    let (mut names, mut groups, mut first_group) = (Vec::new(), Vec::new(), Vec::new());
    for (k, pack) in given.iter().enumerate() {
        let at = format!("/packs/{k}");
        let mut checked = Checked::new(&at, &mut problems);
        let name = pack.name.clone().filter(|name| !name.trim().is_empty());
        let name = checked.required("name", name, "what the pack is called").unwrap_or_default();
        if names.contains(&name) {
            checked.add("name", format!("two packs are called “{name}”"), "each name once");
        }
        let series = checked.required("series", pack.series, "1 to 200").unwrap_or(1);
        let series = checked.whole("series", Some(series), 1, 200).unwrap_or(1);
        let parallel = checked.whole("parallel", Some(pack.parallel.unwrap_or(1)), 1, 100).unwrap_or(1);
        first_group.push(groups.len());
        groups.extend((0..series).map(|_| Group { pack: k, holds: parallel as usize }));
        names.push(name);
    }
    if given.is_empty() {
        problems.add("/packs", "no pack is to be built", "at least one pack with its S and P");
    }
    let listed = doc.cells.clone().unwrap_or_default();
    if listed.is_empty() {
        problems.add("/cells", "there are no cells", "at least one cell with its capacity");
    }
    let at_of: HashMap<String, usize> =
        listed.iter().enumerate().filter_map(|(k, cell)| Some((cell.id.clone()?, k))).collect();
    let mut cells = Vec::with_capacity(listed.len());
    for (k, cell) in listed.iter().enumerate() {
        let at = format!("/cells/{k}");
        let mut checked = Checked::new(&at, &mut problems);
        let id = checked.required("id", cell.id.clone().filter(|id| !id.trim().is_empty()), "what the cell is called");
        if id.as_ref().is_some_and(|id| at_of.get(id) != Some(&k)) {
            checked.add(
                "id",
                format!("two cells are called “{}”", id.as_deref().unwrap_or_default()),
                "each name once",
            );
        }
        let ah = checked.required("capacity_ah", cell.capacity_ah, "what it holds, Ah");
        let ah = checked.within("capacity_ah", ah, 0.001, 10_000.0).unwrap_or(1.0);
        let mohm = checked.within("resistance_mohm", cell.resistance_mohm, 0.001, 1e6);
        let volts = checked.within("voltage_v", cell.voltage_v, 0.0, 10.0);
        let leaks_mv = checked.within("self_discharge_mv_per_day", cell.self_discharge_mv_per_day, 0.0, 5000.0);
        let mut sits = None;
        if let Some(place) = &cell.sits {
            let pack = place.pack.as_ref().and_then(|name| names.iter().position(|one| one == name));
            let series = pack.map_or(0, |pack| groups.iter().filter(|group| group.pack == pack).count());
            match (pack, place.group) {
                (Some(pack), Some(group)) if group >= 1 && group as usize <= series => {
                    sits = Some(first_group[pack] + group as usize - 1);
                }
                (Some(_), _) => checked.add("sits/group", "the pack has no such group", format!("1 to {series}")),
                // It sits in a pack that is not to be built: it is as good as loose.
                (None, _) => {}
            }
        }
        let mut welded = Vec::new();
        for other in cell.welded_with.iter().flatten() {
            match at_of.get(other) {
                Some(at) if *at != k => welded.push(*at),
                Some(_) => {}
                None => checked.add("welded_with", format!("no cell is called “{other}”"), "the name of another cell"),
            }
        }
        cells.push(Cell { id: id.unwrap_or_default(), ah, mohm, volts, leaks_mv, sits, welded });
    }
    for (g, group) in groups.iter().enumerate() {
        let sitting = cells.iter().filter(|cell| cell.sits == Some(g)).count();
        if sitting > group.holds {
            let number = g - first_group[group.pack] + 1;
            problems.add(
                "/cells",
                format!("{sitting} cells sit in group {number} of “{}”", names[group.pack]),
                format!("{} at most, as its P says", group.holds),
            );
        }
    }
    let chemistry = doc.chemistry.filter(|chemistry| *chemistry != Chemistry::Custom);
    problems.into_result(Stock { cells, names, groups, profile: chemistry.and_then(profile) })
}

fn median(mut values: Vec<f64>) -> Option<f64> {
    let half = values.len().checked_sub(1)? / 2;
    values.sort_by(f64::total_cmp);
    Some(values[half])
}

impl Stock {
    /// The cells that are not to be used, and the units of the others.
    pub(super) fn sorted_out(&self) -> (Vec<UnfitDoc>, Vec<Unit>) {
        let mut unfit: Vec<Option<(UnfitCode, String)>> = self.cells.iter().map(|cell| self.unfit(cell)).collect();
        let clusters = self.clusters();
        let widest = self.groups.iter().map(|group| group.holds).max().unwrap_or(1);
        let mut units = Vec::new();
        for cluster in clusters {
            let bad = cluster.iter().find(|k| unfit[**k].is_some()).map(|k| self.cells[*k].id.clone());
            if let Some(bad) = bad {
                for k in cluster {
                    unfit[k]
                        .get_or_insert((UnfitCode::Welded, format!("It is welded to {bad}, which is not to be used.")));
                }
            } else if cluster.len() > widest {
                let message = format!("{} cells are welded together, and a group holds {widest}.", cluster.len());
                cluster.iter().for_each(|k| unfit[*k] = Some((UnfitCode::TooMany, message.clone())));
            } else {
                let ah = cluster.iter().map(|k| self.cells[*k].ah).sum();
                units.push(Unit { ah, sits: self.cells[cluster[0]].sits, cells: cluster });
            }
        }
        let told = self
            .cells
            .iter()
            .zip(unfit)
            .filter_map(|(cell, why)| why.map(|(code, message)| UnfitDoc { id: cell.id.clone(), code, message }));
        (told.collect(), units)
    }

    /// Cells that are welded together, whoever of them says so.
    fn clusters(&self) -> Vec<Vec<usize>> {
        let mut of: Vec<usize> = (0..self.cells.len()).collect();
        fn root(of: &mut [usize], mut k: usize) -> usize {
            while of[k] != k {
                of[k] = of[of[k]];
                k = of[k];
            }
            k
        }
        for (k, cell) in self.cells.iter().enumerate() {
            for other in &cell.welded {
                let (a, b) = (root(&mut of, k), root(&mut of, *other));
                of[a.max(b)] = a.min(b);
            }
        }
        let mut found: Vec<Vec<usize>> = vec![Vec::new(); self.cells.len()];
        for k in 0..self.cells.len() {
            let at = root(&mut of, k);
            found[at].push(k);
        }
        found.into_iter().filter(|cluster| !cluster.is_empty()).collect()
    }

    /// What such cells lose at rest in a day: a sound one less than the first, a shorted one more than the second, V; of
    /// cells nobody described as little as of the strictest kind.
    fn leaks(&self) -> (f64, f64) {
        let of =
            |line: Line<OfFamily>, strict_v: f64| self.profile.and_then(|profile| line.of(profile)).unwrap_or(strict_v);
        let strict = Leaks::STRICT;
        (of(leaks::SOUND_A_DAY_V, strict.sound_v), of(leaks::SHORTED_A_DAY_V, strict.shorted_v))
    }

    /// The resistance of a cell, Ω: as measured, else as is usual for its kind and size.
    pub(super) fn ohm(&self, cell: usize) -> Option<f64> {
        let Cell { mohm, ah, .. } = &self.cells[cell];
        mohm.map(|mohm| mohm / 1000.0).or_else(|| self.profile.map(|profile| profile.resistance_ohm_ah / ah))
    }

    /// What is to be minded of the packs that are built.
    pub(super) fn notes(&self, packs: &[usize]) -> Vec<String> {
        let mut notes = Vec::new();
        let sound_mv = 1000.0 * self.leaks().0;
        let slow: Vec<&str> = self
            .cells
            .iter()
            .filter(|cell| cell.leaks_mv.is_some_and(|mv| mv > sound_mv) && self.unfit(cell).is_none())
            .map(|cell| cell.id.as_str())
            .collect();
        if !slow.is_empty() {
            notes.push(format!(
                "A sound cell loses less than {} mV a day; these lose more: {}. Watch them, and use others if you have them.",
                trimmed(sound_mv, 1),
                slow.join(", ")
            ));
        }
        if self.cells.iter().any(|cell| cell.volts.is_none()) {
            notes.push(format!(
                "Measure each cell before you join it: apart by more than {} V it is levelled first.",
                trimmed(cells::JOIN_V.at, 2)
            ));
        }
        let full_v = self.profile.map_or(HIGHEST_V, |profile| profile.full_v);
        for pack in packs {
            let series = self.groups.iter().filter(|group| group.pack == *pack).count();
            let volts = full_v * series as f64;
            let name = &self.names[*pack];
            if volts > volts::LETHAL_V.at {
                notes.push(format!(
                    "“{name}” stands at {} V when it is full: that kills at a touch. Only electrically skilled persons build and charge it, by the local code.",
                    trimmed(volts, 0)
                ));
            } else if volts > volts::TOUCH_V.at {
                notes.push(format!(
                    "“{name}” stands at {} V when it is full, which can kill: cover every contact as you build it.",
                    trimmed(volts, 0)
                ));
            }
        }
        notes
    }

    /// Why a cell is not to be used, if so.
    fn unfit(&self, cell: &Cell) -> Option<(UnfitCode, String)> {
        let (sound_v, shorted_v) = self.leaks();
        let shorted_mv = 1000.0 * shorted_v;
        if let Some(mv) = cell.leaks_mv.filter(|mv| *mv > shorted_mv) {
            let (mv, sound, most) = (trimmed(mv, 1), trimmed(1000.0 * sound_v, 1), trimmed(shorted_mv, 1));
            return Some((
                UnfitCode::SelfDischarge,
                format!(
                    "It loses {mv} mV a day. A sound cell loses less than {sound}; over {most} it is shorted inside."
                ),
            ));
        }
        let highest_v = self.profile.map_or(HIGHEST_V, |profile| profile.ceiling_v);
        if let Some(v) = cell.volts.filter(|v| *v > highest_v + meters::CELL_V.at) {
            return Some((UnfitCode::Voltage, format!("It stands at {} V, above full. Do not use it.", trimmed(v, 2))));
        }
        if let (Some(v), Some(profile)) = (cell.volts, self.profile)
            && v < profile.precharge_below_v
        {
            let (v, line) = (trimmed(v, 2), trimmed(profile.precharge_below_v, 2));
            return Some((UnfitCode::Voltage, format!("It stands at {v} V, below {line} V: Rescue first, if at all.")));
        }
        let usual = |of: fn(&Cell) -> Option<f64>| median(self.cells.iter().filter_map(of).collect());
        if let (Some(mohm), Some(usual)) = (cell.mohm, usual(|cell| cell.mohm))
            && mohm > cells::RESISTANCE.at * usual
        {
            let (mohm, usual) = (trimmed(mohm, 1), trimmed(usual, 1));
            return Some((UnfitCode::Resistance, format!("{mohm} mΩ is more than twice the others' {usual} mΩ.")));
        }
        let usual_ah = usual(|cell| Some(cell.ah))?;
        (cell.ah < cells::CAPACITY.at * usual_ah).then(|| {
            let (ah, usual) = (trimmed(cell.ah, 2), trimmed(usual_ah, 2));
            (
                UnfitCode::Capacity,
                format!("{ah} Ah is less than 70 % of the others' {usual} Ah: it would end their charge early."),
            )
        })
    }
}
