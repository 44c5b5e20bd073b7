//! What a card says to set, to watch for, and to stop at.

use crate::advice::checks::nothing_flows;
use crate::chain::reckoning::Reckoning;
use crate::chain::settings::Chosen;
use crate::codes::{AmpsMeaning, VoltsMeaning};
use crate::formats::{EndReason, Place, ResultSettingsDoc};
use crate::parts::charger::Charger;
use crate::parts::plan::Plan;
use crate::physics::charge::Charge;
use crate::physics::operating::{LoadDraw, Path};
use crate::units::significant;

fn amps_meaning(chosen: &Chosen, charge: &Charge) -> AmpsMeaning {
    match chosen.built.current_at {
        Some(_) => AmpsMeaning::Dialled,
        None if charge.nudges.is_empty() => AmpsMeaning::AtMost,
        None => AmpsMeaning::TurnedUpTo,
    }
}

fn volts_meaning(chosen: &Chosen, charge: &Charge) -> VoltsMeaning {
    match chosen.built.voltage_at {
        // A switch sets no voltage, whether its duty is turned or left.
        _ if matches!(chosen.built.feed.path, Path::Duty(_)) => VoltsMeaning::WatchedFor,
        None => VoltsMeaning::Reached,
        Some(_) if charge.nudges.is_empty() => VoltsMeaning::Dialled,
        Some(_) => VoltsMeaning::NeverPast,
    }
}

/// Whether a charge that ends by what is read may never come to that: what nothing holds at a voltage gives ever less,
/// and lead that is nearly full turns as much into gas as reaches it beside a load, or from a source that only just
/// brings it to its voltage.
pub(super) fn may_not_end(plan: &Plan, chosen: &Chosen, charge: &Charge) -> bool {
    /// Of the whole time so much went by before it came to its voltage.
    const BARELY: f64 = 0.9;
    let alone = plan.load == LoadDraw::None;
    let ends_itself = plan.charger.as_ref().is_some_and(Charger::terminates) && alone || plan.cut_off.is_some();
    let read = matches!(charge.reason, EndReason::Taper | EndReason::StopVoltage) && !chosen.stops.ends_at_goal;
    if !read || ends_itself || chosen.stops.limit_s.is_some() {
        return false;
    }
    let held = chosen.built.holds_voltage && !chosen.built.limits && charge.reason == EndReason::Taper;
    let late = charge.total_s.is_some_and(|total_s| charge.to_cv_s.is_none_or(|to_cv_s| to_cv_s > BARELY * total_s));
    !held || late && plan.pack.profile.traits.gasses
}

/// `latest_s`: when it is ended whatever is read by then.
pub(super) fn settings(
    reckoning: &Reckoning<'_>,
    chosen: &Chosen,
    charge: &Charge,
    latest_s: Option<f64>,
) -> ResultSettingsDoc {
    let plan = reckoning.plan;
    let expect_a = charge.moments.first().map_or(0.0, |m| m.current_a + plan.load.current_a(m.pack_v));
    let most_a = charge.most_total_a(plan.load);
    let current_a = chosen.current_a();
    let nothing_holds = !current_a.is_finite();
    ResultSettingsDoc {
        voltage_v: significant(chosen.charge_v),
        dial_voltage_v: significant(chosen.shown_v),
        true_voltage_v: significant(chosen.dial_v),
        voltage_at: chosen.built.voltage_at,
        voltage_means: Some(volts_meaning(chosen, charge)),
        current_a: significant(if nothing_holds { most_a } else { current_a }),
        dial_current_a: significant(if nothing_holds { most_a } else { chosen.shown_a }),
        current_at: chosen.built.current_at,
        current_means: Some(amps_meaning(chosen, charge)),
        expect_a: significant(expect_a),
        stop_current_a: chosen
            .stop_a
            .filter(|_| !chosen.stops.ends_at_goal && !nothing_flows(plan, charge))
            .map(significant),
        // What never comes to its stop current is ended by the clock.
        time_limit_h: chosen
            .stops
            .limit_s
            .or(Some(charge.end.t_s).filter(|_| charge.charge_as >= chosen.stops.most_as))
            .or(latest_s)
            .map(|s| significant(s / 3600.0)),
        absorption_limit_h: chosen.stops.absorption_s.map(|s| significant(s / 3600.0)),
        stop_voltage_v: chosen.stops.stop_v,
        // Of nickel more goes in than it keeps: what goes in is what is counted.
        stop_charge_ah: chosen
            .stop_charge_ah
            .map(|ah| if plan.pack.profile.traits.timed { charge.charge_as / 3600.0 } else { ah })
            .map(significant),
        float_voltage_v: chosen.float_v.map(significant),
        input_limit_a: chosen.input_limit.map(|limit| limit.current_a),
        input_limited_by: chosen.input_limit.map(|limit| limit.code),
        source_voltage_v: plan
            .charger
            .as_ref()
            .and(plan.source.as_ref())
            .and_then(|source| source.dials_voltage().then(|| significant(chosen.built.feed.supply.open_v))),
        unit_voltage_v: unit(plan, chosen, chosen.built.voltage_at).map(|(v, _)| significant(v)),
        unit_current_a: unit(plan, chosen, chosen.built.current_at).map(|(_, a)| significant(a)),
        current_limited_by: chosen.built.feed.current_code,
    }
}

/// What each of several units of a supply is set to, where it is set there, V and A.
fn unit(plan: &Plan, chosen: &Chosen, at: Option<Place>) -> Option<(f64, f64)> {
    let source = plan.source.as_ref().filter(|_| at == Some(Place::Source))?;
    source.each_of(chosen.dial_v, chosen.current_a())
}
