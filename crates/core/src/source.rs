//! The supply: what it can give, and what it does when asked for more.

use crate::document::{Overload, Problems, SourceDoc, SourceKind, Wiring};
use crate::problems::Checked;
use crate::units::{
    ElectricCurrent, ElectricPotential, Power, amps, in_amps, in_volts, in_watts, trimmed, volts, watts,
};

/// A supply, all its units taken together.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct Source {
    pub(crate) name: Option<String>,
    pub(crate) kind: SourceKind,
    pub(crate) min: ElectricPotential,
    pub(crate) max: ElectricPotential,
    pub(crate) step: ElectricPotential,
    rating: Rating,
    ranges: Vec<Range>,
    pub(crate) overload: Overload,
    foldback: Option<ElectricCurrent>,
    headroom: f64,
    pub(crate) efficiency: f64,
    pub(crate) units: u32,
    pub(crate) wiring: Wiring,
    /// `None`: unknown, and treated as not.
    pub(crate) isolated: Option<bool>,
}

/// Amps and watts as rated, before headroom.
#[derive(Clone, Copy, Debug, PartialEq)]
struct Rating {
    current: Option<ElectricCurrent>,
    power: Option<Power>,
}

#[derive(Clone, Copy, Debug, PartialEq)]
struct Range {
    from: ElectricPotential,
    to: ElectricPotential,
    rating: Rating,
}

impl Source {
    /// Whether the person can turn its current.
    pub(crate) fn dials_current(&self) -> bool {
        self.kind == SourceKind::BenchSupply
    }

    /// Whether it holds a current by itself instead of failing.
    pub(crate) fn limits_current(&self) -> bool {
        self.overload.limits_current()
    }

    fn rating_at(&self, set: ElectricPotential) -> Rating {
        self.ranges.iter().find(|range| range.from <= set && set <= range.to).map_or(self.rating, |range| Rating {
            current: range.rating.current.or(self.rating.current),
            power: range.rating.power.or(self.rating.power),
        })
    }

    /// Usable current at a set voltage, headroom taken off.
    pub(crate) fn current_at(&self, set: ElectricPotential) -> Option<ElectricCurrent> {
        self.rating_at(set).current.map(|a| a * self.headroom)
    }

    /// Usable power at a set voltage, headroom taken off.
    pub(crate) fn power_at(&self, set: ElectricPotential) -> Option<Power> {
        self.rating_at(set).power.map(|w| w * self.headroom)
    }

    /// What still flows once a foldback supply has folded back.
    pub(crate) fn folded_back(&self) -> Option<ElectricCurrent> {
        (self.overload == Overload::Foldback).then(|| self.foldback.or(self.rating.current.map(|a| a * 0.3))).flatten()
    }

    /// Its label in short, such as `0–30 V · 5 A`.
    pub(crate) fn describe(&self) -> String {
        let volts = if self.min == self.max {
            format!("{} V", trimmed(in_volts(self.max), 2))
        } else {
            format!("{}–{} V", trimmed(in_volts(self.min), 2), trimmed(in_volts(self.max), 2))
        };
        let rest = self
            .rating
            .current
            .map(|a| format!("{} A", trimmed(in_amps(a), 2)))
            .into_iter()
            .chain(self.rating.power.map(|w| format!("{} W", trimmed(in_watts(w), 0))));
        std::iter::once(volts).chain(rest).collect::<Vec<_>>().join(" · ")
    }

    /// What it is, in words.
    pub(crate) fn kind_name(&self) -> &'static str {
        match self.kind {
            SourceKind::BenchSupply => "Bench supply",
            SourceKind::FixedSupply => "Fixed supply",
        }
    }
}

/// Reads the supply out of its (resolved) document.
pub(crate) fn read(doc: &SourceDoc, at: &str, problems: &mut Problems) -> Option<Source> {
    let mut check = Checked::new(at, problems);
    let kind = check.required("kind", doc.kind, "bench_supply or fixed_supply")?;
    let window = voltage_window(doc, kind, &mut check);
    let rating = Rating {
        current: check.within("max_current_a", doc.max_current_a, 0.01, 10_000.0).map(amps),
        power: check.within("max_power_w", doc.max_power_w, 0.1, 1e6).map(watts),
    };
    if doc.max_current_a.is_none() && doc.max_power_w.is_none() && doc.ranges.is_none() {
        check.add("max_current_a", "what the supply can give is not said", "0.01 to 10000 A, or max_power_w");
    }
    let ranges = ranges(doc, &mut check);
    let overload = doc.overload.unwrap_or(Overload::ConstantCurrent);
    let foldback = check.within("foldback_current_a", doc.foldback_current_a, 0.001, 10_000.0).map(amps);
    if foldback.is_some() && overload != Overload::Foldback {
        check.add(
            "foldback_current_a",
            "this supply does not fold back",
            "overload foldback, or no foldback_current_a",
        );
    }
    let headroom = check.within("headroom", doc.headroom, 0.05, 1.0).unwrap_or(1.0);
    let efficiency = check.within("efficiency", doc.efficiency, 0.1, 1.0).unwrap_or(0.87);
    let step = check.within("voltage_step_v", doc.voltage_step_v, 0.0001, 10.0).unwrap_or(0.01);
    let sharing = check.within("sharing", doc.sharing, 0.3, 1.0).unwrap_or(0.85);
    let units = check.whole("units", doc.units, 1, 20).unwrap_or(1);
    let wiring = match (doc.wiring, units) {
        (Some(wiring), _) => wiring,
        (None, 1) => Wiring::Parallel,
        (None, _) => check.required("wiring", None, "series or parallel, with more than one unit")?,
    };
    let (min, max) = window?;
    let n = f64::from(units);
    let (volts_factor, amps_factor) = match wiring {
        Wiring::Series => (n, 1.0),
        Wiring::Parallel => (1.0, if units > 1 { n * sharing } else { 1.0 }),
    };
    let scaled = |r: Rating| Rating {
        current: r.current.map(|a| a * amps_factor),
        power: r.power.map(|w| w * if wiring == Wiring::Series { n } else { amps_factor }),
    };
    Some(Source {
        name: doc.name.clone(),
        kind,
        min: volts(if units > 1 && wiring == Wiring::Series { min * n } else { min }),
        max: volts(max * volts_factor),
        step: volts(step),
        rating: scaled(rating),
        ranges: ranges
            .into_iter()
            .map(|r| Range { from: r.from * volts_factor, to: r.to * volts_factor, rating: scaled(r.rating) })
            .collect(),
        overload,
        foldback: foldback.map(|a| a * amps_factor),
        headroom,
        efficiency,
        units,
        wiring,
        isolated: doc.isolated_outputs,
    })
}

/// Lowest and highest voltage of one unit, V.
fn voltage_window(doc: &SourceDoc, kind: SourceKind, check: &mut Checked<'_>) -> Option<(f64, f64)> {
    let fixed = check.within("voltage_v", doc.voltage_v, 0.5, 1000.0);
    let low = check.within("min_voltage_v", doc.min_voltage_v, 0.0, 1000.0);
    let high = check.within("max_voltage_v", doc.max_voltage_v, 0.5, 1000.0);
    match kind {
        SourceKind::FixedSupply => {
            for (name, given) in [("min_voltage_v", low), ("max_voltage_v", high)] {
                if given.is_some() {
                    check.add(name, "a fixed supply has one voltage", "voltage_v instead");
                }
            }
            check.required("voltage_v", fixed, "0.5 to 1000 V").map(|v| (v, v))
        }
        SourceKind::BenchSupply => {
            if fixed.is_some() {
                check.add("voltage_v", "a bench supply is set, it has no one voltage", "max_voltage_v instead");
            }
            let high = check.required("max_voltage_v", high, "0.5 to 1000 V")?;
            let low = low.unwrap_or(0.0);
            if low > high {
                check.add("min_voltage_v", "the lowest voltage is above the highest", "at most max_voltage_v");
                return None;
            }
            Some((low, high))
        }
    }
}

fn ranges(doc: &SourceDoc, check: &mut Checked<'_>) -> Vec<Range> {
    let given = doc.ranges.as_deref().unwrap_or_default();
    given
        .iter()
        .enumerate()
        .filter_map(|(n, range)| {
            let field = |name: &str| format!("ranges/{n}/{name}");
            let from = check.within(&field("from_v"), range.from_v, 0.0, 1000.0);
            let from = check.required(&field("from_v"), from, "0 to 1000 V")?;
            let to = check.within(&field("to_v"), range.to_v, from, 1000.0);
            let to = check.required(&field("to_v"), to, "from_v to 1000 V")?;
            let current = check.within(&field("max_current_a"), range.max_current_a, 0.01, 10_000.0).map(amps);
            let power = check.within(&field("max_power_w"), range.max_power_w, 0.1, 1e6).map(watts);
            if current.is_none() && power.is_none() {
                check.add(&field("max_current_a"), "a range says what it can give", "max_current_a or max_power_w");
                return None;
            }
            Some(Range { from: volts(from), to: volts(to), rating: Rating { current, power } })
        })
        .collect()
}
