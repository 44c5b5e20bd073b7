//! Checks of the leads: wire, drop, fuse.

use super::{CheckCode, Finding, Situation};
use crate::chain::LimitCode;
use crate::document::{FuseAt, Place};
use crate::lead::{FUSE_MARGIN, Lead, fuse_for};
use crate::units::{in_volts, trimmed};

/// A drop beyond this share of the pack's voltage is worth a thicker wire.
const DROP_SHARE: f64 = 0.03;

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    let (Some(source), Some(chosen)) = (&s.plan.source, s.chosen) else {
        return;
    };
    let feed = &chosen.built.feed;
    let highest_v = source.highest_v.max(chosen.dial_v);
    let source_a = s
        .charge
        .moments
        .iter()
        .map(|m| feed.flows(m.pack_v, (m.current_a + s.plan.load.current_a(m.pack_v)).max(0.0)).source_a)
        .fold(0.0, f64::max);
    let battery = source.battery.is_some();
    if let Some(lead) = &s.plan.input {
        one(s, lead, Place::InputLead, source_a, in_volts(source.max), findings);
        fuse(lead, Place::InputLead, source_a, highest_v, battery.then_some(FuseAt::Source), findings);
    }
    if let Some(lead) = &s.plan.output {
        one(s, lead, Place::OutputLead, s.most_total_a(), s.found.rest_v, findings);
        fuse(lead, Place::OutputLead, s.most_total_a(), highest_v, Some(FuseAt::Pack), findings);
    }
}

fn which(at: Place) -> &'static str {
    if at == Place::InputLead { "input lead" } else { "pack lead" }
}

fn one(s: &Situation<'_>, lead: &Lead, at: Place, current_a: f64, volts: f64, findings: &mut Vec<Finding>) {
    let carries_a = lead.ampacity_a();
    let holds = s.chosen.is_some_and(|chosen| chosen.places().lead == at)
        && s.charge.moments.iter().any(|m| m.limit == LimitCode::Lead);
    if current_a > carries_a * 1.001 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsUndersized,
                format!(
                    "{} A through the {}, whose {} mm² carry {} A for hours: it gets hot. Take thicker wire.",
                    trimmed(current_a, 1),
                    which(at),
                    trimmed(lead.area_mm2, 2),
                    trimmed(carries_a, 1)
                ),
                &[("current_a", current_a), ("carries_a", carries_a)],
            )
            .at(at),
        );
    } else if holds {
        findings.push(
            Finding::caution(
                CheckCode::LeadsUndersized,
                format!(
                    "The {} carries no more than {} A: it holds the whole charge down to that.",
                    which(at),
                    trimmed(lead.most_a(), 1)
                ),
                &[("current_a", current_a), ("carries_a", lead.most_a())],
            )
            .at(at),
        );
    }
    let drop_v = current_a * lead.ohm;
    if drop_v > DROP_SHARE * volts && drop_v > 0.15 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsDrop,
                format!(
                    "The {} loses {} V at {} A ({} mΩ there and back): the charge reaches its voltage early and tapers longer. Never add the drop to the charge voltage; it is gone when the current is.",
                    which(at),
                    trimmed(drop_v, 2),
                    trimmed(current_a, 1),
                    trimmed(lead.ohm * 1e3, 0)
                ),
                &[("drop_v", drop_v), ("lead_mohm", lead.ohm * 1e3)],
            )
            .at(at),
        );
    }
}

/// `battery_end`: the end at which a battery could feed a fault.
fn fuse(
    lead: &Lead,
    at: Place,
    current_a: f64,
    highest_v: f64,
    battery_end: Option<FuseAt>,
    findings: &mut Vec<Finding>,
) {
    let right_a = fuse_for(current_a);
    let take = right_a.map_or(String::new(), |a| format!(" {} A would fit.", trimmed(a, 1)));
    let Some(fuse) = lead.fuse else {
        let finding = if battery_end.is_some() { Finding::caution } else { Finding::note };
        findings.push(
            finding(
                CheckCode::LeadsNoFuse,
                format!("No fuse in the {}: a short can take hundreds of amps from a battery.{take}", which(at)),
                &[("current_a", current_a)],
            )
            .at(at),
        );
        return;
    };
    let values = [("fuse_a", fuse.rated_a), ("current_a", current_a), ("carries_a", lead.ampacity_a())];
    if battery_end.is_some_and(|end| fuse.at != end && fuse.at != FuseAt::Both) {
        findings.push(
            Finding::caution(
                CheckCode::LeadsNoFuseAtPack,
                format!("The fuse in the {} is at the wrong end: a short before it is fed by the battery unguarded. Put it at the battery's plus.", which(at)),
                &values,
            )
            .at(at),
        );
    }
    if fuse.rated_a > lead.ampacity_a() * 1.001 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseTooBig,
                format!(
                    "The {} A fuse lets through more than the {} carries ({} A): the wire burns before the fuse.{take}",
                    trimmed(fuse.rated_a, 1),
                    which(at),
                    trimmed(lead.ampacity_a(), 1)
                ),
                &values,
            )
            .at(at),
        );
    } else if fuse.rated_a < FUSE_MARGIN * current_a * 0.999 {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseTooSmall,
                format!(
                    "The {} A fuse in the {} is too near {} A: it tires and blows.{take}",
                    trimmed(fuse.rated_a, 1),
                    which(at),
                    trimmed(current_a, 1)
                ),
                &values,
            )
            .at(at),
        );
    }
    if let Some(rated_v) = fuse.rated_v.filter(|v| *v < highest_v) {
        findings.push(
            Finding::caution(
                CheckCode::LeadsFuseVoltage,
                format!(
                    "The fuse in the {} breaks {} V DC, {} V may stand there: an arc can burn on in it.",
                    which(at),
                    trimmed(rated_v, 0),
                    trimmed(highest_v, 1)
                ),
                &[("fuse_v", rated_v), ("voltage_v", highest_v)],
            )
            .at(at),
        );
    }
}
