//! Chains of every kind: what binds, where it ends, what flows.

use rstest::rstest;
use rumek_core::codes::LimitCode;
use rumek_core::formats::{EndReason, Place, ResultDoc, SizingAskDoc, SizingDoc, from_value};
use rumek_core::size;
use serde_json::{Value, json};

use crate::{ask, plan_value, problems};

fn lead_acid(rest: Value) -> Value {
    let mut patch = json!({"pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 10, "temperature_c": 25, "balancer": "none", "start": {"soc": 0.2}}});
    crate::merge(&mut patch, &rest);
    patch
}

fn brick(volts: f64, watts: f64) -> Value {
    json!({"kind": "fixed_supply", "voltage_v": volts, "max_voltage_v": null, "max_current_a": null, "max_power_w": watts, "overload": "hiccup"})
}

fn hobby() -> Value {
    json!({"kind": "hobby_charger", "output_max_a": 8, "output_max_w": 200})
}

fn first_pinch(result: &ResultDoc) -> LimitCode {
    result.pinch.first().unwrap_or_else(|| panic!("{:#?}", result.checks)).limit
}

/// Every limit of the format can be the pinch of some chain.
#[rstest]
#[case::pack_rating(json!({}), LimitCode::PackRating)]
#[case::bms(json!({"pack": {"bms": {"max_charge_a": 1}}}), LimitCode::Bms)]
#[case::set_current(json!({"settings": {"current_a": 1}}), LimitCode::SetCurrent)]
#[case::set_voltage(json!({"pack": {"start": {"soc": 0.985}}}), LimitCode::SetVoltage)]
#[case::output_current(json!({"charger": {"kind": "hobby_charger", "output_max_a": 2}}), LimitCode::ChargerOutputCurrent)]
#[case::output_power(json!({"charger": {"kind": "hobby_charger", "output_max_w": 50}}), LimitCode::ChargerOutputPower)]
#[case::shared_power(json!({"charger": {"kind": "hobby_charger", "output_max_w": 80, "shared_max_w": 100, "channels_in_use": 2}}), LimitCode::ChargerOutputPower)]
#[case::input_current(json!({"charger": {"kind": "hobby_charger", "output_max_a": 8, "input_max_a": 2}}), LimitCode::ChargerInputCurrent)]
#[case::input_power(json!({"charger": {"kind": "hobby_charger", "output_max_a": 8, "input_max_w": 40}}), LimitCode::ChargerInputPower)]
#[case::input_limit_set(json!({"charger": {"kind": "hobby_charger", "output_max_a": 8}, "settings": {"input_limit_a": 1}}), LimitCode::ChargerInputCurrent)]
#[case::input_sags(json!({"charger": {"kind": "hobby_charger", "output_max_a": 8, "input_min_v": 11}, "leads": {"input": {"awg": 28, "length_m": 10}}, "source": {"max_voltage_v": 12}}), LimitCode::ChargerInputVoltage)]
#[case::source_power(json!({"source": brick(19.0, 60.0), "charger": hobby()}), LimitCode::SourcePower)]
#[case::source_current(json!({"source": {"max_voltage_v": 12, "max_current_a": 4}, "charger": hobby()}), LimitCode::SourceCurrent)]
#[case::module_keeps_to_the_source(json!({"source": brick(30.0, 60.0), "charger": {"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 8}}), LimitCode::SourcePower)]
#[case::lead(json!({"leads": {"output": {"awg": 26, "length_m": 0.2}}}), LimitCode::Lead)]
#[case::lead_by_its_fuse(json!({"leads": {"output": {"awg": 14, "length_m": 0.2, "fuse_a": 2}}}), LimitCode::Lead)]
#[case::limiter(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 14.4, "max_voltage_v": null}, "charger": {"kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 21}})), LimitCode::Limiter)]
#[case::resistor(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 14.4, "max_voltage_v": null}, "charger": {"kind": "resistor", "resistance_ohm": 2, "rated_w": 20}})), LimitCode::Limiter)]
#[case::pwm(lead_acid(json!({"source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null}, "charger": {"kind": "pwm", "duty": 0.74, "path_resistance_mohm": 1300}, "settings": {"stop_voltage_v": 14.4}})), LimitCode::Limiter)]
#[case::thermal(json!({"pack": {"series": 1, "capacity_ah": 2}, "source": {"kind": "fixed_supply", "voltage_v": 6, "max_voltage_v": null}, "charger": {"kind": "linear_module", "output_max_a": 1}}), LimitCode::Thermal)]
#[case::knob(lead_acid(json!({"source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16}})), LimitCode::Nudge)]
fn is_the_pinch(#[case] patch: Value, #[case] limit: LimitCode) {
    let result = ask(patch);
    assert_eq!(first_pinch(&result), limit, "{:?} {:?}", result.limits, result.checks);
    let settings = result.settings.unwrap();
    assert!(
        result.limits.iter().any(|l| l.limit == limit || limit == LimitCode::Nudge),
        "{:?} {settings:?}",
        result.limits
    );
}

#[rstest]
#[case::cut_off(lead_acid(json!({"cut_off": {"low_v": 12.6, "high_v": 14.0}})), EndReason::CutOff)]
#[case::field_battery_empty(json!({"source": {"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lead_agm", "series": 6, "capacity_ah": 4}, "charger": hobby()}), EndReason::SourceEmpty)]
#[case::port_too_low(json!({"pack": {"series": 4}, "source": {"kind": "regulated_port", "voltage_v": 15.4, "max_voltage_v": null}}), EndReason::Stalled)]
#[case::adapter_droops_away(lead_acid(json!({"source": {"kind": "wall_adapter", "voltage_v": 11, "max_voltage_v": null, "open_circuit_v": 14.3, "max_current_a": 1}, "cut_off": {"low_v": 13, "high_v": 14.4}})), EndReason::Stalled)]
fn ends(#[case] patch: Value, #[case] reason: EndReason) {
    let result = ask(patch);
    assert_eq!(result.end.reason, reason, "{:?} {:?}", result.end, result.checks);
}

#[test]
fn a_relay_opens_though_so_little_flows_that_the_charge_had_stalled() {
    let result = ask(json!({
        "pack": { "series": 2, "capacity_ah": 40, "chemistry": "li_ion", "start": { "soc": 0.5 } },
        "source": { "kind": "fixed_supply", "voltage_v": 24, "max_voltage_v": null, "max_current_a": 10 },
        "charger": { "kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 35 },
        "cut_off": { "low_v": 7.6, "high_v": 8.2 }
    }));
    assert_eq!(result.end.reason, EndReason::CutOff, "{:?}", result.checks);
    assert!(result.end.soc < 1.0 && result.time.total_s.is_some());
}

#[test]
fn a_field_battery_gives_what_it_holds_down_to_its_reserve() {
    let field = json!({"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lfp", "series": 4, "capacity_ah": 4, "soc": 0.6, "reserve_soc": 0.2});
    let result = ask(json!({"source": field, "charger": hobby(), "pack": {"capacity_ah": 8}}));
    assert_eq!(result.end.reason, EndReason::SourceEmpty);
    // 1.6 Ah at about 13.1 V: what leaves its terminals and what it warms itself with.
    let given_wh = result.delivered.source_wh + result.stages[0].heat_wh;
    assert!((given_wh / (1.6 * 13.1) - 1.0).abs() < 0.01, "{given_wh} {:?}", result.delivered);
    assert!(result.delivered.mains_wh == 0.0 && result.time.total_s.is_none());
}

#[test]
fn a_power_limit_lowers_the_current_as_the_pack_rises() {
    let result = ask(json!({"source": brick(19.0, 60.0), "charger": hobby()}));
    let bound: Vec<_> = result.curve.iter().filter(|p| p.limit == LimitCode::SourcePower).collect();
    for p in &bound {
        // 60 W with 10 % headroom are 2.84 A at 19 V: the input limit is set to 2.8, through an efficiency of 0.87.
        assert!((p.power_w - 2.8 * 19.0 * 0.87).abs() < 1e-3 * p.power_w, "{p:?}");
    }
    assert!(bound.first().unwrap().current_a > bound.last().unwrap().current_a * 1.05);
}

#[test]
fn mains_and_direct_current_may_give_different_watts() {
    let charger = json!({"kind": "hobby_charger", "output_max_a": 10, "output_max_w": 120, "mains_output_max_w": 50});
    let wall = json!({"kind": "mains", "max_voltage_v": null, "max_current_a": null});
    let on_mains = ask(json!({"source": wall, "charger": charger}));
    let on_dc = ask(json!({"source": {"max_current_a": 20}, "charger": charger}));
    let power =
        |result: &ResultDoc| result.limits.iter().find(|l| l.limit == LimitCode::ChargerOutputPower).unwrap().current_a;
    assert!((power(&on_dc) / power(&on_mains) - 120.0 / 50.0).abs() < 0.05);
    assert!(on_mains.limits.iter().all(|l| l.at != Place::Source));
    let d = &on_mains.delivered;
    assert!((d.source_wh * 0.87 - d.energy_wh).abs() < 1e-3 * d.energy_wh && d.mains_wh == d.source_wh, "{d:?}");
}

#[test]
fn a_supply_before_a_module_is_set_to_what_suits_it() {
    let set = |charger: Value| {
        ask(json!({"pack": {"series": 4}, "charger": charger})).settings.unwrap().source_voltage_v.unwrap()
    };
    // A boost stays below the pack, a buck takes what there is.
    assert!(set(json!({"kind": "dc_dc", "topology": "boost", "has_cc": true, "output_max_a": 5})) < 15.0);
    assert!((set(json!({"kind": "dc_dc", "topology": "buck", "has_cc": true, "output_max_a": 5})) - 30.0).abs() < 1e-6);
    assert!((set(json!({"kind": "hobby_charger", "output_max_a": 5, "input_max_v": 26})) - 26.0).abs() < 1e-6);
}

#[test]
fn ratings_follow_the_range_a_supply_is_set_to() {
    let source = json!({"max_current_a": 3, "ranges": [{"from_v": 0, "to_v": 20, "max_current_a": 10}, {"from_v": 20, "to_v": 30, "max_current_a": 5}]});
    let limit = |series: u32| {
        let result = ask(json!({"pack": {"series": series, "rated_c_rate": 9}, "practice": "hurry", "source": source}));
        result.limits.iter().find(|l| l.limit == LimitCode::SourceCurrent).unwrap().current_a
    };
    assert_eq!((limit(4), limit(6)), (10.0, 5.0));
}

#[test]
fn an_unregulated_adapter_droops_through_its_label() {
    // 12 V at 1 A, 16.5 V open, before a buck: 4.5 Ω inside.
    let result = ask(json!({
        "pack": {"series": 2, "capacity_ah": 2, "start": {"soc": 0.1}},
        "source": {"kind": "wall_adapter", "voltage_v": 12, "open_circuit_v": 16.5, "max_voltage_v": null, "max_current_a": 1},
        "charger": {"kind": "hobby_charger", "output_max_a": 5, "input_min_v": 7}
    }));
    // Headroom leaves 0.9 A, at which it stands at 16.5 − 0.9 · 4.5 V.
    let watts = 0.9 * (16.5 - 0.9 * 4.5) * 0.87;
    assert!((result.curve[0].power_w / watts - 1.0).abs() < 1e-4, "{:?}", result.curve[0]);
}

#[test]
fn a_transformer_gives_its_rectified_voltage_and_a_good_half_of_its_amps() {
    // 12 V rms, 60 VA, 15 % regulation: 5 A of AC make 3 A of DC.
    let result = ask(lead_acid(json!({
        "pack": {"capacity_ah": 40, "start": {"soc": 0.05}},
        "source": {"kind": "transformer_rectifier", "max_voltage_v": null, "max_current_a": null, "secondary_vac": 12, "rated_va": 60, "regulation": 0.15, "smoothing_uf": 10000, "type": "low_voltage", "headroom": 1},
        "charger": {"kind": "hobby_charger", "output_max_a": 10}
    })));
    let open_v = 2f64.sqrt() * 13.8 - 1.8;
    let sag_ohm = 2f64.sqrt() * 1.8 / 3.0 + 1.0 / (4.0 * 50.0 * 0.01);
    let watts = 3.0 * (open_v - 3.0 * sag_ohm) * 0.87;
    let limit = result.limits.iter().find(|l| l.limit == LimitCode::SourceCurrent).unwrap();
    let at_start = result.curve.first().map_or(0.0, |p| p.pack_v);
    assert!((limit.current_a * at_start / watts - 1.0).abs() < 0.05, "{limit:?} {watts} {at_start}");
}

#[test]
fn a_lamp_is_steadier_than_a_resistor() {
    let with = |limiter: Value| {
        ask(lead_acid(
            json!({"source": {"kind": "fixed_supply", "voltage_v": 14.7, "max_voltage_v": null}, "charger": limiter}),
        ))
    };
    let lamp = with(json!({"kind": "lamp", "lamp_rated_v": 12, "lamp_rated_w": 21}));
    let resistor = with(json!({"kind": "resistor", "resistance_ohm": 2, "rated_w": 20}));
    let half = |r: &ResultDoc| r.curve.iter().find(|p| p.soc > 0.6).unwrap().current_a / r.curve[0].current_a;
    assert!(half(&lamp) > half(&resistor));
    // By hand: the lamp's own law at the voltage left for it.
    let p = &lamp.curve[0];
    assert!((p.current_a - 1.75 * ((14.7 - p.pack_v) / 12.0).powf(0.55)).abs() < 2e-3, "{p:?}");
}

#[test]
fn a_nudged_supply_never_passes_its_target_and_gets_there() {
    let patch = |minutes: f64| {
        lead_acid(
            json!({"visit_every_min": minutes, "cut_off": {"low_v": 13, "high_v": 14.9}, "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "voltage_step_v": 0.02}}),
        )
    };
    let often = ask(patch(10.0));
    let seldom = ask(patch(60.0));
    for result in [&often, &seldom] {
        let settings = result.settings.clone().unwrap();
        assert!(
            result.nudges.len() > 1
                && result.nudges.iter().all(|n| n.set_voltage_v.unwrap() <= settings.dial_voltage_v + 1e-9)
        );
        assert!(result.curve.iter().all(|p| p.current_a <= settings.current_a * 1.0001), "{settings:?}");
    }
    assert!(often.nudges.len() > seldom.nudges.len());
    assert!(often.time.total_s.unwrap() < seldom.time.total_s.unwrap());
    assert!(seldom.nudges.windows(2).all(|w| w[1].at_s - w[0].at_s >= 3599.0));
    // Without anything to guard it the person stays, whatever interval they asked for.
    let mut unguarded = patch(60.0);
    unguarded["cut_off"] = Value::Null;
    assert!(ask(unguarded).nudges.windows(2).any(|w| w[1].at_s - w[0].at_s < 3599.0));
}

#[test]
fn turns_are_told_as_the_display_shows_them() {
    let patch = |meters: Value| {
        lead_acid(
            json!({"meters": meters, "cut_off": {"low_v": 13, "high_v": 14.9}, "source": {"kind": "adjustable_supply", "min_voltage_v": 9, "max_voltage_v": 16, "voltage_step_v": 0.01}}),
        )
    };
    let (plain, off) = (
        ask(patch(json!([]))),
        ask(patch(json!([{"at": "source", "quantity": "voltage", "points": [{"shown": 12.24, "true": 12.0}]}]))),
    );
    for (real, shown) in plain.nudges.iter().zip(&off.nudges) {
        let (real, shown) = (real.set_voltage_v.unwrap(), shown.set_voltage_v.unwrap());
        assert!((0.0..0.0101).contains(&(real - shown / 1.02)), "{real} {shown}");
    }
}

#[test]
fn a_duty_is_nudged_like_a_voltage() {
    let result = ask(lead_acid(json!({
        "visit_every_min": 20, "cut_off": {"low_v": 13, "high_v": 14.6},
        "source": {"kind": "fixed_supply", "voltage_v": 19, "max_voltage_v": null, "max_current_a": 10},
        "charger": {"kind": "pwm", "duty": 0.7, "path_resistance_mohm": 400}
    })));
    assert!(
        result.nudges.len() > 1 && result.nudges.is_sorted_by(|a, b| a.duty < b.duty),
        "{:?} {:?}",
        result.nudges,
        result.checks
    );
}

#[test]
fn dialling_by_the_readings_puts_the_wanted_volts_on_the_terminals() {
    let points = json!([{"shown": 5.0, "true": 4.9}, {"shown": 25.0, "true": 24.3}]);
    let module = json!({"kind": "dc_dc", "topology": "buck_boost", "has_cc": true, "output_max_a": 5, "meters": [{"quantity": "voltage", "points": points}, {"quantity": "current", "points": [{"shown": 2.0, "true": 2.1}]}]});
    let settings = ask(json!({"charger": module})).settings.unwrap();
    assert_eq!((settings.voltage_at, settings.current_at), (Some(Place::Charger), Some(Place::Charger)));
    let true_v = 0.97 * settings.dial_voltage_v + 0.05;
    assert!(true_v <= settings.true_voltage_v + 1e-9 && settings.true_voltage_v - true_v < 0.011, "{settings:?}");
    assert!((settings.dial_current_a * 1.05 - settings.current_a).abs() < 0.011, "{settings:?}");
}

#[test]
fn the_smallest_capacitor_is_not_overcharged() {
    let caps = |rest: Value| {
        let mut patch = json!({"pack": {"chemistry": "supercap", "series": 6, "capacity_ah": null, "capacitance_f": 350, "label_v": 15, "balancer": "none", "capacitance_spread": 0.2, "start": {"soc": 0}}});
        crate::merge(&mut patch, &rest);
        ask(patch)
    };
    // Nothing shunts: the voltage is lowered so that a capacitor 10 % small ends at its 2.5 V.
    assert!((caps(json!({})).settings.unwrap().voltage_v - 13.46).abs() < 0.011);
    let shunted = caps(json!({"pack": {"balancer": "built_in", "balance_current_a": 0.3}}));
    assert!((shunted.settings.unwrap().voltage_v - 14.96).abs() < 0.011);
    for p in shunted.curve.iter().filter(|p| p.pack_v > 13.51) {
        assert!(p.current_a <= 0.3001, "{p:?}");
    }
    assert!(shunted.curve.iter().any(|p| p.limit == LimitCode::Balance));
}

#[test]
fn unlike_packs_share_by_their_resistance_and_the_worst_decides() {
    let patch = |mohm: f64| json!({"pack": {"resistance_mohm": 40, "start": {"soc": null, "rest_voltage_v": 22.8}}, "source": {"max_current_a": 20}, "other_packs": [{"capacity_ah": 2, "rest_voltage_v": 22.8, "resistance_mohm": mohm}]});
    // Twice the resistance for half the capacity: both take their own C-rate.
    assert!((ask(patch(80.0)).settings.unwrap().current_a - 6.0).abs() < 0.011);
    // The small one takes half of it all: 2 A to it, 2 A to the big one.
    assert!((ask(patch(40.0)).settings.unwrap().current_a - 4.0).abs() < 0.011);
}

#[test]
fn series_and_parallel_agree_with_one_equivalent_supply() {
    let one = |source: Value| {
        let mut result = ask(json!({"source": source, "charger": hobby(), "accept": ["source.not_isolated"]}));
        result.resolved = Default::default();
        result.assumed.clear();
        result.stages.iter_mut().for_each(|s| s.rating.clear());
        result.steps.clear();
        result
    };
    let brick = |extra: Value| {
        let mut source = json!({"kind": "fixed_supply", "max_voltage_v": null});
        crate::merge(&mut source, &extra);
        source
    };
    let series = one(brick(
        json!({"voltage_v": 12, "max_current_a": 4, "max_power_w": 40, "units": 2, "wiring": "series", "isolated_outputs": true}),
    ));
    assert_eq!(series, one(brick(json!({"voltage_v": 24, "max_current_a": 4, "max_power_w": 80}))));
    let parallel =
        one(brick(json!({"voltage_v": 12, "max_current_a": 4, "units": 2, "wiring": "parallel", "sharing": 1})));
    assert_eq!(parallel, one(brick(json!({"voltage_v": 12, "max_current_a": 8}))));
}

#[test]
fn what_would_help_names_a_thing_that_does() {
    let small =
        ask(json!({"source": brick(19.0, 60.0), "charger": hobby(), "pack": {"rated_c_rate": 2}, "practice": "hurry"}));
    let best = small.what_if.iter().find(|w| w.advised).unwrap();
    assert_eq!(best.without, LimitCode::SourcePower);
    assert!(small.verdict.as_ref().unwrap().starts_with("A supply of "), "{:?}", small.verdict);
    let watts: f64 = best.message.split(' ').nth(3).unwrap().parse().unwrap();
    let bigger = ask(
        json!({"source": brick(19.0, watts), "charger": hobby(), "pack": {"rated_c_rate": 2}, "practice": "hurry"}),
    );
    let (now, then) = (small.time.total_s.unwrap(), bigger.time.total_s.unwrap());
    // The promise is for the same state of charge; a faster charge is over a little short of it.
    assert!(
        (0.0..0.06 * now).contains(&(now - then - best.saves_s)),
        "{} saved, {} promised",
        now - then,
        best.saves_s
    );
    // Amps and watts of one box are bought together: lifting one alone would promise next to nothing.
    let mut both = brick(19.0, 60.0);
    both["max_current_a"] = json!(3.1);
    let both = ask(json!({"source": both, "charger": hobby(), "pack": {"rated_c_rate": 2}, "practice": "hurry"}));
    assert!(
        both.what_if.iter().any(|w| w.at == Place::Source && (w.saves_s - best.saves_s).abs() < 0.1 * best.saves_s),
        "{:?}",
        both.what_if
    );
    assert_eq!(both.what_if.iter().filter(|w| w.at == Place::Source && w.size.is_none()).count(), 1);
    let sound = ask(json!({"source": {"max_current_a": 20}}));
    assert!(sound.verdict.unwrap().contains("pack's own safe rate"));
}

fn size_of(mut patch: Value) -> SizingDoc {
    let ask = patch.as_object_mut().unwrap().remove("ask").unwrap_or(json!({}));
    let mut whole = json!({"plan": plan_value(patch)});
    crate::merge(&mut whole, &ask);
    size(&from_value::<SizingAskDoc>(&whole).unwrap()).unwrap()
}

#[test]
fn a_charger_of_the_size_asked_for_is_done_in_time() {
    let patch =
        json!({"practice": "hurry", "pack": {"rated_c_rate": 3}, "source": {"max_voltage_v": 30, "max_current_a": 2}});
    let mut with_ask = patch.clone();
    with_ask["ask"] = json!({"done_in_min": 45});
    let sized = size_of(with_ask).done_in.unwrap();
    assert!(sized.possible, "{sized:?}");
    let mut built = patch;
    built["source"]["max_current_a"] = json!(sized.charger_a.unwrap());
    let took = ask(built).time.total_s.unwrap();
    assert!((2550.0..=2710.0).contains(&took), "{took} {sized:?}");
    let never = size_of(json!({"ask": {"done_in_min": 5}})).done_in.unwrap();
    assert!(!never.possible && never.best_s.unwrap() > 300.0);
}

#[test]
fn packs_wires_and_field_charges_are_counted() {
    let field = json!({"kind": "battery", "max_voltage_v": null, "max_current_a": null, "chemistry": "lfp", "series": 4, "capacity_ah": 50});
    let sized = size_of(json!({"source": field, "charger": hobby(), "pack": {"capacity_ah": 2.2, "series": 3}}));
    let battery = sized.field_battery.unwrap();
    assert!((battery.charges * battery.per_charge_wh - battery.usable_wh).abs() < 1e-2 * battery.usable_wh);
    assert!((10.0..40.0).contains(&battery.charges), "{battery:?}");
    assert_eq!(sized.packs.len(), 8);
    // 200 W and 8 A carry three packs of 2.2 A; the fourth waits.
    let slow = |n: usize| sized.packs[n - 1].total_s.unwrap() / sized.packs[0].total_s.unwrap();
    assert!(slow(3) < 1.1 && slow(8) > 1.5, "{:?}", sized.packs);
    for wire in &sized.wires {
        assert!(wire.fuse_a.unwrap() >= 1.25 * wire.current_a && wire.drop_v.unwrap() <= 0.02 * 15.0, "{wire:?}");
    }
}

#[test]
fn a_lamp_holds_neither_current_nor_voltage() {
    for field in ["has_cc", "has_cv"] {
        let wrong =
            problems(json!({ "charger": { "kind": "lamp", "lamp_rated_v": 24, "lamp_rated_w": 60, (field): true } }));
        assert_eq!(wrong.problems[0].pointer, format!("/charger/{field}"));
    }
}

#[test]
fn a_part_charge_that_nobody_puts_a_figure_to_spares_the_last_fifth() {
    let result = ask(json!({ "pack": { "goal": { "kind": "soc" } } }));
    assert_eq!(result.resolved.pack.and_then(|pack| pack.goal?.soc), Some(0.8));
    assert!(result.assumed.iter().any(|pointer| pointer == "/pack/goal/soc"), "{:?}", result.assumed);
}
