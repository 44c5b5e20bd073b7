//! Unlike packs in parallel: what each takes, what flows as they are joined.

use crate::formats::{OtherPackDoc, Problems};
use crate::parts::identify::Identified;
use crate::parts::pack::Pack;
use crate::parts::problems::Checked;
use crate::units::{amp_hours, amps, in_amp_hours, in_amps, in_ohms, ohms};

/// One of several packs joined, the plan's own first.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Member {
    pub(crate) capacity_ah: f64,
    /// At rest, V; `None` for the plan's own, whose start says.
    pub(crate) rest_v: Option<f64>,
    pub(crate) ohm: f64,
    /// The most it may be charged with, A; `None` where neither label nor chemistry says.
    pub(crate) rated_a: Option<f64>,
    /// The most it may take for a moment as it is joined, A: its label's rate or the standard one, and what
    /// its BMS lets through.
    pub(crate) joins_a: f64,
}

/// Reads the other packs and joins them to the plan's own, which from then on stands for all.
pub(crate) fn join(docs: &[OtherPackDoc], pack: &mut Pack, problems: &mut Problems) -> Vec<Member> {
    if docs.is_empty() {
        return Vec::new();
    }
    let mut check = Checked::new("/other_packs", problems);
    let own_ah = in_amp_hours(pack.nameplate);
    let own_ohm = in_ohms(pack.resistance);
    let rate = pack.hard_limit().map(|a| in_amps(a) / own_ah);
    let standard = pack.rated_believed().map_or(pack.profile.rates.standard, |a| in_amps(a) / own_ah);
    let bms_a = pack.bms_max.map_or(f64::INFINITY, in_amps);
    let joins = |ah: f64, rated: Option<f64>| rated.unwrap_or(standard * ah).min(bms_a);
    let mut members = vec![Member {
        capacity_ah: own_ah,
        rest_v: None,
        ohm: own_ohm,
        rated_a: pack.hard_limit().map(in_amps),
        joins_a: joins(own_ah, None),
    }];
    for (n, doc) in docs.iter().enumerate() {
        let ah = check.within(&format!("{n}/capacity_ah"), doc.capacity_ah, 0.005, 10_000.0);
        let ah = check.required(&format!("{n}/capacity_ah"), ah, "0.005 to 10000 Ah");
        let rest = check.within(&format!("{n}/rest_voltage_v"), doc.rest_voltage_v, 0.0, 1000.0);
        let rest = check.required(&format!("{n}/rest_voltage_v"), rest, "its terminals at rest, V");
        let mohm = check.within(&format!("{n}/resistance_mohm"), doc.resistance_mohm, 0.001, 1e6);
        let rated = check.within(&format!("{n}/rated_charge_a"), doc.rated_charge_a, 0.001, 10_000.0);
        if let (Some(capacity_ah), Some(rest_v)) = (ah, rest) {
            let ohm = mohm.map_or(own_ohm * own_ah / capacity_ah, |mohm| mohm / 1e3);
            let rated_a = rated.or(rate.map(|c| c * capacity_ah));
            members.push(Member {
                capacity_ah,
                rest_v: Some(rest_v),
                ohm,
                rated_a,
                joins_a: joins(capacity_ah, rated),
            });
        }
    }
    let siemens: f64 = members.iter().map(|m| 1.0 / m.ohm).sum();
    let total_ah: f64 = members.iter().map(|m| m.capacity_ah).sum();
    let share = |m: &Member| 1.0 / m.ohm / siemens;
    // The pack that takes most for its size decides for all.
    pack.uneven = members.iter().map(|m| m.capacity_ah / total_ah / share(m)).fold(1.0, f64::min);
    if pack.rated.is_some() || docs.iter().any(|doc| doc.rated_charge_a.is_some()) {
        let total_a = members.iter().filter_map(|m| m.rated_a.map(|a| a / share(m))).fold(f64::INFINITY, f64::min);
        pack.rated = total_a.is_finite().then(|| amps(total_a));
    }
    pack.bms_max = pack.bms_max.map(|a| a / share(&members[0]));
    pack.capacity *= total_ah / own_ah;
    pack.nameplate = amp_hours(total_ah);
    pack.resistance = ohms(1.0 / siemens);
    members
}

/// Where the group stands once its packs have levelled: the mean by capacity.
pub(crate) fn level(members: &[Member], pack: &Pack, found: &mut Identified) {
    let series = f64::from(pack.series);
    let total_ah: f64 = members.iter().map(|m| m.capacity_ah).sum();
    let mean = |own: f64| {
        members
            .iter()
            .map(|m| m.capacity_ah / total_ah * m.rest_v.map_or(own, |v| pack.profile.ocv.soc_at(v / series)))
            .sum()
    };
    (found.soc, found.low, found.high) = (mean(found.soc), mean(found.low), mean(found.high));
    // Readings of one pack's cells say nothing of the group's.
    found.offsets.clear();
}

/// The worst pair at the moment of joining.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Joining {
    /// Volts a cell apart.
    pub(crate) apart_v: f64,
    /// What flows at once, ΔV ÷ (R1 + R2 + leads), A.
    pub(crate) inrush_a: f64,
    /// By how much that passes the smaller rating of the pair; 1 is just at it.
    pub(crate) over: f64,
    pub(crate) rated_a: f64,
}

/// The pack that is worst off, by what flows into it from all that stand higher against what may.
pub(crate) fn joining(members: &[Member], own_rest_v: f64, series: u32, lead_ohm: f64) -> Option<Joining> {
    let rest = |m: &Member| m.rest_v.unwrap_or(own_rest_v);
    let into = |low: &Member| {
        let higher = members.iter().filter(|high| rest(high) > rest(low));
        let (inrush_a, apart) = higher.fold((0.0, 0.0f64), |(a, apart), high| {
            let off_v = rest(high) - rest(low);
            (a + off_v / (high.ohm + low.ohm + 2.0 * lead_ohm), apart.max(off_v))
        });
        let rated_a = low.joins_a;
        Joining { apart_v: apart / f64::from(series), inrush_a, over: inrush_a / rated_a, rated_a }
    };
    members
        .iter()
        .map(into)
        .filter(|_| members.len() > 1)
        .reduce(|a, b| if (b.over, b.apart_v) > (a.over, a.apart_v) { b } else { a })
}
