//! The one thing a pack needs, by when and why: what is dangerous first, then what harms it, then what is due.

use super::faults::{Drift, Leak};
use super::known::Known;
use super::level::Level;
use super::read::{cell_apart, need, unsound};
use crate::acts::a_thousandfold;
use crate::codes::{NeedCode, NeedWhy};
use crate::formats::moment::written;
use crate::formats::{NeedDoc, PackMark};
use crate::lines::wear;
use crate::parts::pack::Pack;
use crate::units::trimmed;

const DAY_S: f64 = 86_400.0;

/// What is known of a pack when it is asked what it needs.
pub(super) struct State<'a> {
    pub(super) pack: &'a Pack,
    pub(super) now_s: f64,
    pub(super) level: Option<Level>,
    /// The level as it was when it was last known.
    pub(super) was: Option<Level>,
    pub(super) loses: [f64; 3],
    /// Health at the most, by a test.
    pub(super) health_high: Option<f64>,
    pub(super) leak: Option<Leak>,
    pub(super) drift: Option<Drift>,
    /// How many times its resistance has grown, where that is sure.
    pub(super) grown: Option<f64>,
    pub(super) last_test_s: Option<f64>,
    pub(super) last_charge_s: Option<f64>,
    /// By how far a refit lies from the last test, Ah and its share.
    pub(super) disagree: Option<(f64, f64)>,
    pub(super) next_use_s: Option<f64>,
    /// Its last rest reading.
    pub(super) read: Option<&'a Known>,
}

impl State<'_> {
    /// What it needs now, and what it will need next.
    pub(super) fn needs(&self) -> (NeedDoc, Option<NeedDoc>) {
        let now = self
            .given_up()
            .or_else(|| self.read.and_then(|read| unsound(self.pack, read)))
            // What it does from reading to reading says more than one reading.
            .or_else(|| self.looked_at())
            .or_else(|| self.read.and_then(|read| cell_apart(self.pack, read)));
        if let Some(now) = now {
            return (now, None);
        }
        let mut due: Vec<(f64, NeedDoc)> = Vec::new();
        due.extend(self.low());
        due.extend(self.full());
        due.extend(self.stood());
        due.extend(self.test());
        // What is due is told in the order of what it harms; what is not yet, by its date.
        if let Some(at) = due.iter().position(|(from_s, _)| *from_s <= self.now_s) {
            let (_, now) = due.swap_remove(at);
            return (now, None);
        }
        let next = due.into_iter().min_by(|a, b| a.0.total_cmp(&b.0));
        let well = need(NeedCode::Nothing, NeedWhy::Well, None, "Nothing now.".to_owned());
        (well, next.map(|(from_s, next)| NeedDoc { by: Some(written(from_s)), ..next }))
    }

    fn given_up(&self) -> Option<NeedDoc> {
        if self.pack.mark == Some(PackMark::Retired) {
            let message =
                "Do not charge it again. Take it to a battery collection point and say that it is damaged.".to_owned();
            return Some(need(NeedCode::Retire, NeedWhy::Failed, None, message));
        }
        let high = self.health_high.filter(|high| *high < wear::RETIRE.at)?;
        let share = trimmed(high * 100.0, 0);
        Some(need(
            NeedCode::Retire,
            NeedWhy::Worn,
            None,
            format!("By its test it holds no more than {share} % of its label: retire it."),
        ))
    }

    fn looked_at(&self) -> Option<NeedDoc> {
        if a_thousandfold(self.pack) {
            let message = "What it holds cannot be: look at its label, mAh are a thousandth of Ah.".to_owned();
            return Some(need(NeedCode::LookAt, NeedWhy::DoesNotFit, None, message));
        }
        // Which cell it is says more than that it is one.
        if let Some(Drift { cell, by_v, days, shorted }) = self.drift {
            let (mv, days) = (trimmed(by_v * 1000.0, 0), trimmed(days, 0));
            let what = if shorted {
                "it is shorted inside. Do not charge this pack"
            } else {
                "it leaks, or its tap does. Do not charge it unattended"
            };
            return Some(need(
                NeedCode::LookAt,
                NeedWhy::CellDrifts,
                None,
                format!("Cell {cell} fell {mv} mV behind its neighbours in {days} days at rest: {what}."),
            ));
        }
        if let Some(leak) = self.leak {
            let (loses, usual) = (trimmed(leak.a_month * 100.0, 0), trimmed(leak.usual * 100.0, 0));
            let store =
                if self.pack.profile.traits.burns { " Outdoors, away from what burns, until then." } else { "" };
            return Some(need(
                NeedCode::LookAt,
                NeedWhy::Leaks,
                None,
                format!(
                    "It loses {loses} % a month or more, where {usual} % are usual: something draws from it, or a cell leaks inside. Unplug everything and read it again in a week.{store}"
                ),
            ));
        }
        let grown = self.grown?;
        Some(need(
            NeedCode::LookAt,
            NeedWhy::Resistance,
            None,
            format!(
                "Its resistance is {} times what it was: a poor joint, or it is worn. Read each cell under load.",
                trimmed(grown, 1)
            ),
        ))
    }

    /// When it comes down to a state of charge at a loss in a month, s.
    fn comes_to(&self, from: f64, to: f64, loses: f64) -> Option<f64> {
        let was = self.was?;
        (loses > 0.0).then(|| was.at_s + (from - to).max(0.0) / loses * super::level::MONTH_S)
    }

    /// When its earliest and latest come down to nothing, s.
    pub(super) fn empty_s(&self) -> Option<(f64, Option<f64>)> {
        let was = self.was.filter(|_| self.pack.profile.precharge_below_v > 0.0)?;
        let earliest = self.comes_to(was.low, 0.0, self.loses[2])?;
        Some((earliest, self.comes_to(was.high, 0.0, self.loses[1])))
    }

    fn low(&self) -> Option<(f64, NeedDoc)> {
        let (was, level) = self.was.zip(self.level)?;
        let line = self.pack.profile.keeping.too_low_soc;
        if line <= 0.0 {
            return None;
        }
        let from_s = if was.soc <= line { was.at_s } else { self.comes_to(was.soc, line, self.loses[0])? };
        let shown = if level.soc <= line { level.soc } else { line };
        let by_s = self.empty_s().map(|(earliest, _)| earliest).filter(|s| *s > self.now_s);
        let percent = trimmed(shown * 100.0, 0);
        let harm = self.pack.profile.words.low.in_time;
        let message = if self.pack.profile.traits.sulphates {
            format!("At {percent} % it begins to sulphate: charge it.")
        } else {
            format!("At {percent} %: charge it to storage before it is flat, which {harm}.")
        };
        Some((from_s, need(NeedCode::TopUp, NeedWhy::TooLow, by_s, message)))
    }

    fn full(&self) -> Option<(f64, NeedDoc)> {
        let (line, days) = self.pack.profile.keeping.too_full?;
        let was = self.was.filter(|was| was.soc > line)?;
        // One that comes down by itself within days need not be helped.
        let falls_s = self.comes_to(was.soc, line, self.loses[0])?;
        let due_s = was.at_s + days * DAY_S;
        let eve =
            self.next_use_s.is_some_and(|use_s| use_s > self.now_s && use_s - self.now_s < wear::EVE_DAYS.at * DAY_S);
        if eve || falls_s < due_s || falls_s < self.now_s {
            return None;
        }
        let percent = trimmed(self.level.map_or(was.soc, |level| level.soc) * 100.0, 0);
        let storage = self.pack.profile.storage_v.map_or(String::new(), |v| format!(" of {} V a cell", trimmed(v, 2)));
        let message = format!("It stands at {percent} %, and full it ages: bring it down to storage{storage}.");
        Some((due_s, need(NeedCode::Storage, NeedWhy::TooFull, None, message)))
    }

    fn stood(&self) -> Option<(f64, NeedDoc)> {
        let days = self.pack.profile.keeping.stands_days?;
        let due_s = self.last_charge_s? + days * DAY_S;
        let stood = trimmed((self.now_s.max(due_s) - self.last_charge_s?) / DAY_S, 0);
        let message = format!("It was charged {stood} days ago: top it up, lead wants that every quarter of a year.");
        Some((due_s, need(NeedCode::TopUp, NeedWhy::StoodLong, None, message)))
    }

    fn test(&self) -> Option<(f64, NeedDoc)> {
        let Some(last_s) = self.last_test_s else {
            let message = "Nobody knows what it holds: test its capacity once.".to_owned();
            return Some((f64::NEG_INFINITY, need(NeedCode::Test, NeedWhy::NeverTested, None, message)));
        };
        if let Some((off_ah, share)) = self.disagree {
            let (ah, percent) = (trimmed(off_ah, 2), trimmed(share * 100.0, 0));
            let message =
                format!("Its charges since say {ah} Ah ({percent} %) another than its last test: test it again.");
            return Some((f64::NEG_INFINITY, need(NeedCode::Test, NeedWhy::Disagree, None, message)));
        }
        let message = "Its last capacity test is a year ago.".to_owned();
        Some((last_s + wear::TEST_DAYS.at * DAY_S, need(NeedCode::Test, NeedWhy::TestOld, None, message)))
    }
}
