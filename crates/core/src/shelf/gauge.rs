//! What a gauge by volts means: which state of charge each of its thresholds stands for, at rest, under a load and while
//! it is charged.

use crate::formats::{GaugeAskDoc, GaugeDoc, GaugeMarkDoc, Problems, SpanDoc};
use crate::parts::pack::Pack;
use crate::parts::plan::alone;
use crate::parts::problems::Checked;
use crate::units::{in_amp_hours, in_ohms, significant, trimmed};

/// Of a minute or more under current a pack drops so many times its 10 s resistance.
const SETTLED: f64 = 1.5;
/// Such a gauge's comparator is off by so much, as a share of its threshold.
const OFF: f64 = 0.01;
/// Drawn where nobody says, C.
const LOAD_C: f64 = 0.2;

/// Says what a gauge means.
///
/// # Errors
/// Everything wrong with the question, each problem with its JSON pointer.
pub fn gauge(ask: &GaugeAskDoc) -> Result<GaugeDoc, Problems> {
    let mut problems = Problems::default();
    let mut check = Checked::new("", &mut problems);
    let given = check.required("pack", ask.pack.clone(), "a pack: chemistry, series and capacity_ah at least");
    let load_c = check.within("load_c_rate", ask.load_c_rate, 0.0, 50.0).unwrap_or(LOAD_C);
    let charge_c = check.within("charge_c_rate", ask.charge_c_rate, 0.0, 50.0);
    let mut volts = ask.thresholds_v.clone().unwrap_or_default();
    if volts.is_empty() || volts.len() > 20 || volts.iter().any(|v| !(0.1..=1000.0).contains(v)) {
        check.add("thresholds_v", "the volts of its blocks are not said", "1 to 20 of them, 0.1 to 1000 V");
    }
    let pack = given.map(|given| alone(&given)).transpose().map_err(|wrong| wrong.under("/pack"))?;
    let Some(pack) = pack.filter(|_| problems.problems.is_empty()) else { return Err(problems) };
    volts.sort_by(f64::total_cmp);
    let standard_c = pack.profile.rates.standard;
    let charge_c = charge_c.unwrap_or(if standard_c.is_finite() { standard_c } else { 1.0 });
    let count = volts.len() as f64;
    let mark = |(n, v): (usize, &f64)| GaugeMarkDoc {
        voltage_v: *v,
        takes_it_for: significant((n as f64 + 1.0) / count),
        at_rest: at(&pack, *v, 0.0),
        under_load: at(&pack, *v, -load_c),
        charging: at(&pack, *v, charge_c),
    };
    let marks: Vec<GaugeMarkDoc> = volts.iter().enumerate().map(mark).collect();
    let says = says(&pack, &marks, load_c, charge_c);
    Ok(GaugeDoc { marks, says })
}

/// The state of charge at which a pack stands at some volts while a rate flows in, C; negative out.
fn at(pack: &Pack, volts: f64, c_rate: f64) -> SpanDoc {
    let profile = &pack.profile;
    let series = f64::from(pack.series);
    if !profile.voltage_tells_soc {
        return SpanDoc { value: 0.5, low: 0.0, high: 1.0 };
    }
    let drop_v = c_rate * in_amp_hours(pack.nameplate) * in_ohms(pack.resistance) * SETTLED / series;
    let branch_v = if c_rate == 0.0 { 0.0 } else { profile.hysteresis_v.copysign(c_rate) };
    let cell_v = volts / series - drop_v - branch_v;
    let unsure_v = OFF * volts / series
        + profile.curve_spread_v
        + 0.3 * drop_v.abs()
        + if c_rate == 0.0 { profile.hysteresis_v } else { 0.0 };
    let soc = |v: f64| profile.ocv.soc_at(v);
    SpanDoc {
        value: significant(soc(cell_v)),
        low: significant(soc(cell_v - unsure_v)),
        high: significant(soc(cell_v + unsure_v)),
    }
}

fn says(pack: &Pack, marks: &[GaugeMarkDoc], load_c: f64, charge_c: f64) -> Vec<String> {
    let percent = |share: f64| trimmed(share * 100.0, 0);
    if !pack.profile.voltage_tells_soc {
        return vec![
            "The volts of this chemistry tell nothing of its charge: no such gauge is of use on it.".to_owned(),
        ];
    }
    let mut says = Vec::new();
    let widest =
        marks.iter().max_by(|a, b| (a.at_rest.high - a.at_rest.low).total_cmp(&(b.at_rest.high - b.at_rest.low)));
    if let Some(mark) = widest
        && mark.at_rest.high - mark.at_rest.low > 0.3
    {
        says.push(format!(
            "{} V at rest may be anything from {} to {} %: on so flat a curve a gauge by volts says little.",
            trimmed(mark.voltage_v, 2),
            percent(mark.at_rest.low),
            percent(mark.at_rest.high)
        ));
    }
    let lies = |mark: &GaugeMarkDoc| (mark.at_rest.value - mark.takes_it_for).abs();
    if let Some(mark) = marks.iter().max_by(|a, b| lies(a).total_cmp(&lies(b)))
        && lies(mark) > 0.15
    {
        says.push(format!(
            "At {} V it shows {} %, and the pack rests at {} %.",
            trimmed(mark.voltage_v, 2),
            percent(mark.takes_it_for),
            percent(mark.at_rest.value)
        ));
    }
    let shift = |of: fn(&GaugeMarkDoc) -> f64| {
        marks.iter().map(|mark| of(mark) - mark.at_rest.value).max_by(|a, b| a.abs().total_cmp(&b.abs())).unwrap_or(0.0)
    };
    let (load, charging) = (shift(|mark| mark.under_load.value), shift(|mark| mark.charging.value));
    if load.abs() > 0.05 {
        says.push(format!("At {}C it shows up to {} % less than there is.", trimmed(load_c, 2), percent(load.abs())));
    }
    if charging.abs() > 0.05 {
        says.push(format!(
            "While {}C go in it shows up to {} % more than there is.",
            trimmed(charge_c, 2),
            percent(charging.abs())
        ));
    }
    if says.is_empty() {
        says.push("On this pack it is as good as its blocks are coarse.".to_owned());
    }
    says
}
