//! The figures of one chemistry: what they are, and what follows from them alone.

use super::keeping::Keeping;
use super::ocv::{BySoc, OcvCurve};
use super::traits::{FailedBehind, Traits};
use crate::codes::{Chemistry, Practice};

/// One diffusion-like pair: its resistance as a multiple of the 10 s resistance, its time constant.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct RcPair {
    pub(crate) ratio: f64,
    pub(crate) tau_s: f64,
}

/// How charging voltage shifts with temperature, and how far it may be charged cold or hot.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct ChargeWindow {
    pub(crate) min_c: f64,
    pub(crate) max_c: f64,
    /// V per cell per kelvin from 25 °C.
    pub(crate) compensation_v: f64,
}

/// How fast a cell may be charged by its temperature, where neither label nor sheet says.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Warmth {
    /// Colder than the first of these, °C, no faster than the second, C; the coldest first. No hurry
    /// where any of them holds.
    pub(crate) cold: &'static [(f64, f64)],
    /// From here on half as fast, °C: the charge itself warms it.
    pub(crate) hot_from_c: f64,
}

impl Warmth {
    /// At any temperature of its window alike.
    pub(crate) const EVEN: Self = Self { cold: &[], hot_from_c: f64::INFINITY };

    /// The fastest rate at a temperature, C; `None` where it is not too cold for any.
    pub(crate) fn cold_rate(&self, temperature_c: f64) -> Option<f64> {
        self.cold.iter().find(|(below_c, _)| temperature_c < *below_c).map(|(_, rate)| *rate)
    }

    /// From where it is charged at full rate, °C.
    pub(crate) fn full_from_c(&self) -> f64 {
        self.cold.last().map_or(f64::NEG_INFINITY, |(below_c, _)| *below_c)
    }
}

/// How a cell gives what it holds.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Discharge {
    /// Factor on the slow pairs: what hinders a charge near its end does not hinder a discharge.
    pub(crate) slow: f64,
    /// What it gives of its label, by rate (C), the slowest first, as data sheets have it; empty where it is the same
    /// at every rate it is made for.
    pub(crate) gives: &'static [(f64, f64)],
    /// What one of its kind gives less, and more, than that: cells of one label differ, and so do sheets.
    pub(crate) spread: (f64, f64),
}

impl Discharge {
    /// Gives nearly all that it holds at any rate it is made for.
    pub(crate) const WHOLE: Self = Self { slow: 1.0, gives: &[], spread: (0.0, 0.03) };

    /// Whether what it gives hangs on how fast it is taken.
    pub(crate) fn hangs_on_rate(self) -> bool {
        !self.gives.is_empty()
    }

    /// The share of the capacity that can be had at a rate, C: straight between the rates of its table on a scale of
    /// ratios, and on past its end as it runs there.
    pub(crate) fn share_at(self, c_rate: f64) -> f64 {
        let after = self.gives.partition_point(|(rate, _)| *rate < c_rate).clamp(1, self.gives.len().max(2) - 1);
        let (Some((slow, slow_gives)), Some((fast, fast_gives))) = (self.gives.get(after - 1), self.gives.get(after))
        else {
            return 1.0;
        };
        let share = ((c_rate / slow).ln() / (fast / slow).ln()).max(0.0);
        (slow_gives + share * (fast_gives - slow_gives)).max(LEAST_GIVEN)
    }
}

/// However fast it is taken, so much of a capacity can be had.
const LEAST_GIVEN: f64 = 0.1;

/// Charge rates, C.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Rates {
    pub(crate) standard: f64,
    pub(crate) hurry: f64,
    /// Refused above this where the label says nothing.
    pub(crate) refuse_above: f64,
    /// Above this nobody charges, whatever a label or an acceptance says: a higher number on a label says
    /// what the pack may give.
    pub(crate) last_word: f64,
    /// The current at which the charge is done, as a rate.
    pub(crate) taper: f64,
}

/// How a sound cell rests after a charge, open.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Resting {
    /// It settles until then, h after the charge: what it loses before says nothing.
    pub(crate) settled_h: f64,
    /// A leak shows in so many hours from then on.
    pub(crate) in_h: f64,
    /// A dead cell lacks at least so much of what a charged one has, V; `None` where terminals do not tell.
    pub(crate) dead_lacks_v: Option<f64>,
}

/// What a cell loses in a day once it has settled, V.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Leaks {
    /// A sound one loses less.
    pub(crate) sound_v: f64,
    /// One that loses more is shorted inside.
    pub(crate) shorted_v: f64,
}

impl Leaks {
    /// As little as the strictest kind may lose: for a cell that nobody described.
    pub(crate) const STRICT: Self = Self { sound_v: 0.001, shorted_v: 0.005 };
}

/// At what rate and down to where a capacity test is honest.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Proof {
    /// The rate its label's capacity is given for, C.
    pub(crate) c_rate: f64,
    /// Empty under that current, V a cell.
    pub(crate) to_v: f64,
    /// The share of the label's capacity that lies above that voltage.
    pub(crate) gives: f64,
}

/// In which unit its capacity is printed.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Sold {
    pub(crate) mah_from: f64,
    pub(crate) ah_below: f64,
}

/// What is said of a cell of its kind where it matters, in clauses.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Words {
    /// Why it is not charged below its window.
    pub(crate) too_cold: &'static str,
    /// Why it is charged slower in the cold.
    pub(crate) cold_rate: &'static str,
    /// Why it is charged no faster than it may be.
    pub(crate) too_fast: &'static str,
    /// What more than its voltage does to it, a sentence.
    pub(crate) overcharged: &'static str,
    /// What being left too low does to it.
    pub(crate) low: Low,
}

/// What being left too low does to a cell, in clauses.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Low {
    pub(crate) may: &'static str,
    pub(crate) not_yet: &'static str,
    pub(crate) has: &'static str,
    pub(crate) again: &'static str,
    pub(crate) in_time: &'static str,
}

impl Low {
    /// Graphite stands on copper, which dissolves where the cell is run down too far.
    pub(crate) const COPPER: Self = Self {
        may: "Copper may have dissolved and can short the cell once it is charged",
        not_yet: "not yet where copper dissolves",
        has: "copper has dissolved and will short the cell once it is charged",
        again: "each time dissolves more copper",
        in_time: "dissolves copper that shorts the cell later",
    };
    /// On aluminium both ways nothing dissolves; what suffers are the electrodes themselves.
    pub(crate) const ELECTRODES: Self = Self {
        may: "Its electrodes may be damaged and give off gas",
        not_yet: "not yet where its electrodes are damaged",
        has: "its electrodes are damaged and give off gas once it is charged",
        again: "each time its electrodes suffer more",
        in_time: "damages its electrodes",
    };
}

/// Below these a deep-discharged cell is given up, V.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Floors {
    pub(crate) cautious_v: f64,
    pub(crate) experienced_v: f64,
}

/// The figures of one chemistry, per cell at 25 °C. Volts, unless the name says otherwise.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Profile {
    pub(crate) chemistry: Chemistry,
    pub(crate) name: &'static str,
    /// What it shares with others of its kind.
    pub(crate) traits: Traits,
    pub(crate) nominal_v: f64,
    pub(crate) full_v: f64,
    pub(crate) ceiling_v: f64,
    pub(crate) gentle_v: Option<f64>,
    /// What its makers charge a cell to, from the lowest to the highest, V, where they differ so much that only the
    /// label tells; the lowest harms none of them.
    pub(crate) makers_v: Option<(f64, f64)>,
    pub(crate) storage_v: Option<f64>,
    /// Where its volts do not tell storage, and it is counted: the voltage that guards it, V a cell.
    pub(crate) storage_guard_v: Option<f64>,
    pub(crate) float_v: Option<f64>,
    /// Deeply discharged below this; 0 where empty is normal.
    pub(crate) precharge_below_v: f64,
    /// Below these Rescue gives a cell up: the cautious and the experienced floor; `None` where
    /// voltage alone condemns no cell.
    pub(crate) rescue_floors_v: Option<Floors>,
    /// What a label may call one cell, for finding S from a label's voltage.
    pub(crate) label_readings_v: &'static [f64],
    pub(crate) rates: Rates,
    pub(crate) window: ChargeWindow,
    /// Rest voltage, midway between the branch after charge and the one after discharge.
    pub(crate) ocv: OcvCurve,
    /// Half the distance between those branches.
    pub(crate) hysteresis_v: f64,
    /// How far a typical cell's curve lies from this one.
    pub(crate) curve_spread_v: f64,
    /// How much higher a kind of cell sold under the same name may rest when it is nearly empty, V.
    pub(crate) empty_spread_v: f64,
    /// How it rests when it is sound.
    pub(crate) resting: Resting,
    /// What it loses while it rests; `None` where nobody knows.
    pub(crate) leaks: Option<Leaks>,
    /// How its capacity is proven.
    pub(crate) proof: Proof,
    /// How it keeps what it holds, and gives it.
    pub(crate) keeping: Keeping,
    /// Whether rest voltage says anything of the state of charge.
    pub(crate) voltage_tells_soc: bool,
    /// 10 s DC resistance times capacity, Ω·Ah a cell, at mid charge.
    pub(crate) resistance_ohm_ah: f64,
    pub(crate) rc: [RcPair; 3],
    /// Factor on the 10 s resistance.
    pub(crate) resistance_by_soc: BySoc,
    /// Factor on the slow pairs while current flows in.
    pub(crate) slow_by_soc: BySoc,
    /// What differs while current flows out.
    pub(crate) discharge: Discharge,
    /// The longest it is held above its float voltage, h; `None` where nothing but the current ends that.
    pub(crate) longest_absorption_h: Option<f64>,
    /// Resistance grows by `exp(slope·(25 − °C))`, per kelvin.
    pub(crate) temperature_slope: f64,
    /// What is said of it.
    pub(crate) words: Words,
    /// Words of a label that name it, without what is no letter and no figure.
    pub(crate) named: &'static [&'static str],
    /// From so much on a bare number on its label is mAh, and below so much Ah; `None` where it may be anything.
    pub(crate) sold: Option<Sold>,
    /// How fast it may be charged cold and hot.
    pub(crate) warmth: Warmth,
    /// At which temperature its acid freezes, °C, by state of charge; `None` where nothing freezes.
    pub(crate) freezes_c: Option<BySoc>,
    /// Share of the charge that is kept at a tenth of the capacity and below.
    pub(crate) coulombic: BySoc,
    /// … at half of it and above.
    pub(crate) coulombic_fast: BySoc,
    /// Over this last part of the charge it comes to keep nothing at all, as a share of the capacity; 0 where
    /// the charge ends before that.
    pub(crate) keeps_none_over: f64,
    /// Factor on the share kept, by °C, straight between these; one before the first.
    pub(crate) keeps_by_c: &'static [(f64, f64)],
    /// The least and the most that one pack of it usually holds, Ah: a thousand times more or less is another unit.
    pub(crate) usual_ah: (f64, f64),
    /// By so much a cell's volts fall from their peak when a fast charge has filled it, V; 0 where they do not.
    pub(crate) falls_by_v: f64,
    /// So many times what it holds is put into a pack at most: nickel and lead are given more than they keep.
    pub(crate) most_given: f64,
}

impl Profile {
    /// Factor on a resistance that is known at one temperature, at another, °C.
    pub(crate) fn warmed(&self, known_at_c: f64, at_c: f64) -> f64 {
        (self.temperature_slope * (known_at_c - at_c)).clamp(-1.0, 2.5).exp()
    }

    /// Of the standard rate a gentle charge takes this share: below a tenth of its capacity nickel never fills
    /// reliably, so that its standard charge is its gentle one.
    pub(crate) fn gentle_share(&self) -> f64 {
        if self.traits.timed { 1.0 } else { 0.5 }
    }

    /// The lowest voltage at which a cell of its kind may be full, V.
    pub(crate) fn least_full_v(&self) -> f64 {
        self.makers_v.map_or(self.full_v, |(lowest_v, _)| lowest_v)
    }

    /// What a practice charges a cell to where no label speaks, V.
    pub(crate) fn practice_v(&self, practice: Practice) -> f64 {
        let usual_v = match practice {
            Practice::Gentle => self.gentle_v.unwrap_or(self.full_v),
            Practice::Standard | Practice::Hurry => self.full_v,
        };
        if self.makers_v.is_some() { usual_v.min(self.least_full_v()) } else { usual_v }
    }

    /// Below the first of these a pack has a dead cell among so many once it rests after a charge, below the
    /// second it is not full, V; `None` where terminals do not tell.
    pub(crate) fn rests_above(&self, series: f64) -> Option<(f64, f64)> {
        let lacks_v = self.resting.dead_lacks_v?;
        Some((self.ocv.at(0.8).0 * series - lacks_v, self.ocv.at(0.5).0 * series))
    }

    /// The mean of several cells below which one of them may stand too low for a normal charge, V; `None` where no
    /// cell is harmed by that. Below empty a curve is steep and cells lie far apart.
    pub(crate) fn mean_line_v(&self) -> Option<f64> {
        /// A mean this near to the line says nothing of the lowest cell, V.
        const NEAR_V: f64 = 0.1;
        self.traits.burns.then(|| self.ocv.at(0.0).0.max(self.precharge_below_v + NEAR_V))
    }

    /// A cell so far below its neighbours has failed, V; `None` where that is no sign.
    pub(crate) fn failed_behind_v(&self) -> Option<f64> {
        match self.traits.failed_behind {
            FailedBehind::OfNominal(share) => Some(share * self.nominal_v),
            FailedBehind::Volts(volts) => Some(volts),
            FailedBehind::Never => None,
        }
    }

    /// Whether so little of the voltage tells the charge that a gentle top is counted in Ah.
    pub(crate) fn flat(&self) -> bool {
        self.chemistry == Chemistry::Lfp
    }

    /// Whether its voltage falls by itself once it is full, because its curve turns up at the very top.
    pub(crate) fn falls_at_its_top(&self) -> bool {
        const TURNS_UP: f64 = 3.0;
        self.traits.burns && self.ocv.at(1.0).1 > TURNS_UP * self.ocv.at(0.9).1
    }

    /// The state of charge at which a leak shows, where that is not as full as a charge leaves it.
    pub(crate) fn shows_a_leak_at(&self) -> Option<f64> {
        self.falls_at_its_top().then(|| if self.flat() { 0.15 } else { 0.9 })
    }

    /// Factor on the share of a charge that is kept at a temperature.
    pub(crate) fn keeps_at(&self, temperature_c: f64) -> f64 {
        let after = self.keeps_by_c.partition_point(|(c, _)| *c <= temperature_c);
        match (after.checked_sub(1).and_then(|n| self.keeps_by_c.get(n)), self.keeps_by_c.get(after)) {
            (Some((from_c, from)), Some((to_c, to))) => from + (to - from) * (temperature_c - from_c) / (to_c - from_c),
            (Some((_, last)), None) => *last,
            (None, _) => 1.0,
        }
    }

    /// Share of a charge that is kept at a state of charge and a rate, C, at 25 °C.
    #[inline]
    pub(crate) fn kept(&self, soc: f64, c_rate: f64) -> f64 {
        /// Between these rates, C, a charge goes over from slow to fast.
        const SLOW_C: f64 = 0.1;
        const FAST_C: f64 = 0.5;
        let fast = ((c_rate - SLOW_C) / (FAST_C - SLOW_C)).clamp(0.0, 1.0);
        let (slow, quick) = (self.coulombic.at(soc), self.coulombic_fast.at(soc));
        let over = self.keeps_none_over;
        let last = if over > 0.0 { ((1.0 - soc) / over).clamp(0.0, 1.0) } else { 1.0 };
        last * (slow + fast * (quick - slow))
    }

    /// What temperature adds to a cell's charge voltage, V, clamped to the charge window.
    pub(crate) fn compensation_v(&self, temperature_c: f64) -> f64 {
        let t = temperature_c.clamp(self.window.min_c, self.window.max_c);
        self.window.compensation_v * (t - 25.0)
    }

    /// The highest charge voltage of a cell at a temperature, V.
    pub(crate) fn ceiling_at(&self, temperature_c: f64) -> f64 {
        self.ceiling_v + self.compensation_v(temperature_c)
    }
}
