//! Checks of what draws from the pack.

use super::situation::Situation;
use crate::acts::Finding;
use crate::chain::feed::Control;
use crate::chain::may::usual;
use crate::codes::CheckCode;
use crate::formats::EndReason;
use crate::lines::outward;
use crate::parts::charger::Charger;
use crate::parts::lead::SLACK;
use crate::physics::operating::LoadDraw;
use crate::units::{in_amp_hours, in_amps, trimmed};

fn ends_itself(s: &Situation<'_>) -> bool {
    s.plan.charger.as_ref().is_some_and(Charger::terminates)
}

/// A dial that feeds the load too gives the pack all of it once the load is off.
fn goes_off(s: &Situation<'_>, load_a: f64) -> String {
    let Some(chosen) = s.chosen.filter(|chosen| matches!(chosen.built.control, Control::Dial | Control::Hand)) else {
        return String::new();
    };
    let (dial_a, alone_a) = (chosen.current_a(), usual(&s.plan.pack, s.plan.practice));
    if dial_a <= alone_a * SLACK {
        return String::new();
    }
    format!(
        " Turn the {} A down to {} A before the load goes off: the pack would get all of it.",
        trimmed(dial_a, 2),
        trimmed((dial_a - load_a).max(alone_a.min(dial_a)), 2)
    )
}

pub(super) fn check(s: &Situation<'_>, findings: &mut Vec<Finding>) {
    if s.plan.load == LoadDraw::None {
        return;
    }
    let load_a = s.plan.load.current_a(s.found.rest_v);
    if s.chosen.is_none() {
        let c = load_a / in_amp_hours(s.plan.pack.nameplate);
        let message = match s.plan.pack.gives.map(in_amps) {
            Some(gives_a) if load_a > gives_a * SLACK => format!(
                "{} A is more than the {} A that its label says it may give: it overheats.",
                trimmed(load_a, 1),
                trimmed(gives_a, 1)
            ),
            Some(_) => return,
            None if c > outward::UNLABELLED_C.at => format!(
                "{} A is {}C: see that pack, plug and wire are rated for it, and expect heat. Reckoned with {} mΩ{}; energy cells sag more and give less.",
                trimmed(load_a, 1),
                trimmed(c, 1),
                trimmed(s.pack_ohm() * 1e3, 0),
                if s.plan.pack.resistance_given { " as said" } else { ", as cells made for that have" }
            ),
            None => return,
        };
        findings.push(Finding::caution(CheckCode::LoadRateTooHigh, message, &[("current_a", load_a), ("c_rate", c)]));
        return;
    }
    if s.charge.reason == EndReason::Discharging || s.first_a() < 0.0 {
        findings.push(Finding::caution(
            CheckCode::LoadExceedsCharge,
            format!(
                "The load draws {} A, more than comes in: the pack runs down while it is on charge.",
                trimmed(load_a, 2)
            ),
            &[("load_a", load_a)],
        ));
    } else if let Some(stop_a) = s.chosen.and_then(|chosen| chosen.stop_a).filter(|_| ends_itself(s)) {
        // A charger ends by what it puts out, the load's share included.
        if load_a >= 0.9 * stop_a {
            findings.push(Finding::caution(
                CheckCode::LoadPreventsTermination,
                format!(
                    "The charger never sees less than the load's {} A and does not end at {} A: switch the load off, or end it yourself.{}",
                    trimmed(load_a, 2),
                    trimmed(stop_a, 2),
                    goes_off(s, load_a)
                ),
                &[("load_a", load_a), ("stop_a", stop_a)],
            ));
        }
    } else if let Some(taper_a) = s.chosen.and_then(|chosen| chosen.stops.taper_a) {
        findings.push(Finding::caution(
            CheckCode::LoadPreventsTermination,
            format!(
                "The supply's display shows pack and load together: the pack is done when it reads {} A, not {} A.{}",
                trimmed(taper_a + load_a, 2),
                trimmed(taper_a, 2),
                goes_off(s, load_a)
            ),
            &[("display_a", taper_a + load_a), ("stop_a", taper_a)],
        ));
    }
}
