//! What a pack gives of its label at a rate and a temperature: what a test is foretold with, and what it is corrected by.

use crate::codes::DischargeLimit;
use crate::parts::pack::Pack;
use crate::physics::cell::Profile;
use crate::physics::charge::{Body, Draw, Model, Scale, State, Until, run_down};
use crate::units::{in_amp_hours, in_celsius};

/// A current so small that it leaves nothing in for its drop's sake gives no more than this, of the label's rate.
const MOST_BY_RATE: f64 = 1.05;
/// Whatever the cold and the current, so much comes out.
const LEAST: f64 = 0.1;

/// What a pack gives of its capacity at a current, A, and its temperature: of what it would at the rate its label is
/// given for.
pub(crate) fn gives(pack: &Pack, amps: f64) -> f64 {
    gives_of(&pack.profile, amps / in_amp_hours(pack.nameplate).max(1e-9), in_celsius(pack.temperature))
}

/// The same of any of its kind at a rate, C, and a temperature, °C. Where data sheets say what it gives at each rate,
/// they are believed; elsewhere a current leaves in what its drop keeps from coming out.
pub(crate) fn gives_of(profile: &Profile, c_rate: f64, temperature_c: f64) -> f64 {
    let (keeping, discharge) = (&profile.keeping, profile.discharge);
    let by_warmth = keeping.gives_at(temperature_c);
    if discharge.hangs_on_rate() {
        return by_warmth * (discharge.share_at(c_rate) / discharge.share_at(profile.proof.c_rate)).min(MOST_BY_RATE);
    }
    // The cold takes a share of the whole, and what is left of it comes to the cut-off with something still in.
    let comes_out = |c_rate: f64, at_c: f64| 1.0 - left_in(profile, c_rate, at_c);
    let by_volts = comes_out(c_rate, temperature_c) / comes_out(profile.proof.c_rate, 25.0);
    let by_rate = keeping.gives_at_rate(c_rate) / keeping.gives_at_rate(profile.proof.c_rate);
    (by_warmth * by_volts.min(by_rate).min(MOST_BY_RATE)).max(LEAST)
}

/// What is left in a cell of its kind when its volts have fallen to the usual cut-off, as a share: where its open volts
/// less what the rate, C, drops in it are that.
fn left_in(profile: &Profile, c_rate: f64, temperature_c: f64) -> f64 {
    let drop_v = c_rate * profile.resistance_ohm_ah * profile.warmed(25.0, temperature_c);
    let slow: f64 = profile.rc.iter().map(|pair| pair.ratio).sum::<f64>() * profile.discharge.slow;
    let stands = |soc: f64| {
        profile.ocv.at(soc).0 - profile.hysteresis_v - drop_v * (profile.resistance_by_soc.at(soc) + slow)
            > profile.proof.to_v
    };
    let (mut low, mut high) = (0.0, 0.6);
    if stands(low) || !stands(high) {
        return if stands(low) { 0.0 } else { high };
    }
    for _ in 0..20 {
        let middle = 0.5 * (low + high);
        if stands(middle) { high = middle } else { low = middle }
    }
    high
}

/// What a usual pack of its kind, labelled with 1 Ah and holding `share` of it, gives from full to the usual cut-off at
/// a rate, C of the label, and a temperature, °C: Ah. A whole discharge is foretold by the same steps.
pub(crate) fn foretold_ah(profile: &Profile, share: f64, c_rate: f64, temperature_c: f64) -> f64 {
    // As a pack is taken to be: what holds less resists more, and so does the cold.
    let ohm = profile.resistance_ohm_ah / share.clamp(0.01, 1.0) * profile.warmed(25.0, temperature_c);
    let body = Body { profile, series: 1.0, capacity_as: 3600.0 * share, ohm, temperature_c, shunted: None };
    let model = Model::new(body, &[], false, Scale::NOMINAL);
    let until = Until { volts: profile.proof.to_v, soc: (1.0 - gives_of(profile, c_rate, temperature_c)).max(0.0) };
    let (set_by, watts_by) = (DischargeLimit::MaxCurrent, DischargeLimit::MaxPower);
    let draw = Draw::Holds { amps: c_rate, set_by, watts: f64::INFINITY, watts_by };
    run_down(&model, State::rested(1.0), draw, 0.0, until).charge_as / 3600.0
}
