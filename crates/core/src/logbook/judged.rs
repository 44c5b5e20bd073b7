//! The readings of a charge held against what was known before each of them: judged first, learned from after.

use super::course::{Drive, Look};
use super::foreseen::{Doubt, Foreseen, Foresight};
use super::material::{Material, put_in};
use super::refit::{Fitted, refit};

/// The readings of a run, judged.
pub(crate) struct Judged {
    /// The pack refitted to those that may teach.
    pub(crate) fitted: Fitted,
    pub(crate) drive: Drive,
    /// What the last look was to show, and why it may not teach.
    pub(crate) due: Foreseen,
    pub(crate) doubt: Option<Doubt>,
    /// All of them, amps that nobody is sure of left out.
    pub(crate) looks: Vec<Look>,
    /// Whether amps were left out.
    slips: bool,
}

impl Judged {
    /// Charge and energy into the pack until the last reading, Ah and Wh.
    pub(crate) fn put_in(&self, material: &Material) -> (f64, f64) {
        if self.slips && material.put_in.is_none() {
            put_in(&self.looks, &self.drive)
        } else {
            material.put_in(&self.drive)
        }
    }
}

impl Foresight<'_> {
    /// What each look was to show, and why it may not teach.
    fn doubts(&self, fitted: &Fitted, looks: &[Look], drive: &Drive) -> (Vec<Foreseen>, Vec<Option<Doubt>>) {
        let due = self.of(fitted, looks, drive);
        let doubts = looks.iter().zip(&due).map(|(look, due)| self.doubt(look, due)).collect();
        (due, doubts)
    }

    /// Judges the readings of a charge, and refits the pack to those that may teach.
    pub(crate) fn judge(&self, material: &Material) -> Judged {
        let predicted = |t_s: f64| self.planned.at(t_s).map_or(0.0, |m| m.current_a);
        let believed = Fitted::believed(self.plan, self.found);
        let mut looks = material.looks.clone();
        let mut drive = material.drive(predicted);
        let (mut due, mut doubts) = self.doubts(&believed, &looks, &drive);
        let too_much = |doubt: &Option<Doubt>| *doubt == Some(Doubt::TooMuch);
        let slips = doubts.iter().any(too_much);
        if slips {
            // Amps that nobody is sure of did not flow: what they would have charged is not counted.
            looks.iter_mut().zip(&doubts).filter(|(_, doubt)| too_much(doubt)).for_each(|(look, _)| look.pack_a = None);
            drive = Drive::new(&looks, predicted).with(material.means.clone());
            let (again, then) = self.doubts(&believed, &looks, &drive);
            due = again;
            doubts = doubts
                .into_iter()
                .zip(then)
                .map(|(doubt, then)| doubt.filter(|one| *one == Doubt::TooMuch).or(then))
                .collect();
        }
        let teaching = |doubts: &[Option<Doubt>]| -> Vec<Look> {
            looks.iter().zip(doubts).filter(|(_, doubt)| doubt.is_none()).map(|(look, _)| *look).collect()
        };
        // The last one is held against what those before it have taught.
        if let Some((last, before)) = doubts.split_last_mut()
            && last.is_none()
            && !before.is_empty()
        {
            let taught = refit(self.plan, self.found, &teaching(before), &drive, true);
            let (then_due, then) = self.doubts(&taught, &looks, &drive);
            due = then_due;
            *last = then.last().copied().flatten();
        }
        let fitted = refit(self.plan, self.found, &teaching(&doubts), &drive, true);
        Judged {
            fitted,
            drive,
            due: due.last().copied().unwrap_or_default(),
            doubt: doubts.last().copied().flatten(),
            looks,
            slips,
        }
    }
}
