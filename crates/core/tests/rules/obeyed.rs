//! Cards obeyed to the letter: whatever is dialled, no wire, fuse, source, charger, BMS or pack is driven
//! past its rating at any voltage between the pack's start and the charge voltage.
//!
//! The chain's sums stand here once more, from the documents alone, and nothing of the core is asked but
//! what its card says.

use proptest::prelude::*;
use proptest::test_runner::TestRunner;
use rstest::rstest;
use rumek_core::codes::CheckCode::{self, *};
use rumek_core::codes::LimitCode;
use rumek_core::formats::ResultDoc;
use rumek_core::formats::Severity::{self, Caution, Stop};
use serde_json::{Value, json};

use crate::properties::ask;
use crate::{ask as ask_patch, severity};

/// Copper there and back, Ω, and what it carries for hours, A.
fn wire(lead: &Value) -> Option<(f64, f64)> {
    let area = 0.012_668 * 92f64.powf((36.0 - lead["awg"].as_f64()?) / 19.5);
    Some((2.0 * lead["length_m"].as_f64()? * 0.0178 / area, 12.0 * area.powf(0.7)))
}

/// What flows at one voltage of the pack: in its lead, and in the lead before the charger.
struct Flow {
    out_a: f64,
    in_a: f64,
    in_v: f64,
}

/// The current drawn at the greatest share of its power at which a sagging source still delivers `watts`.
fn drawn_a(open_v: f64, ohm: f64, watts: f64) -> f64 {
    let most_a = if ohm > 0.0 { open_v / (2.0 * ohm) } else { 1e9 };
    let (mut low, mut high) = (0.0, most_a);
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        if (open_v - middle * ohm) * middle < watts { low = middle } else { high = middle }
    }
    high
}

/// Obeys the card with the pack's terminals at `v` and the source standing at `open_v`.
fn obey(plan: &Value, result: &ResultDoc, v: f64, open_v: f64) -> Flow {
    let settings = result.settings.as_ref().unwrap();
    let number = |value: &Value| value.as_f64().unwrap_or(f64::INFINITY);
    let charger = &plan["charger"];
    if charger.is_null() {
        let out_a = settings.dial_current_a.min(number(&plan["source"]["max_power_w"]) / v);
        return Flow { out_a, in_a: out_a, in_v: v };
    }
    let efficiency = result.resolved.charger.as_ref().unwrap().efficiency.unwrap();
    let out_ohm = wire(&plan["leads"]["output"]).map_or(0.0, |w| w.0);
    let in_ohm = wire(&plan["leads"]["input"]).map_or(0.0, |w| w.0);
    let source_ohm = plan["source"]["resistance_mohm"].as_f64().unwrap_or(0.0) / 1e3;
    let at_output = |out_a: f64| (v + out_a * out_ohm) * out_a;
    let drawn = |out_a: f64| drawn_a(open_v, in_ohm + source_ohm, at_output(out_a) / efficiency);
    let kind = charger["kind"].as_str().unwrap();
    let dialled = if kind == "smart_charger" { f64::INFINITY } else { settings.dial_current_a };
    // Modules know no limit but the one that is dialled; chargers keep to what is printed on them.
    let keeps = kind != "dc_dc";
    let most_a = dialled.min(if keeps { number(&charger["output_max_a"]) } else { f64::INFINITY });
    let (mut low, mut high) = (0.0, most_a);
    for _ in 0..60 {
        let middle = 0.5 * (low + high);
        let in_a = drawn(middle);
        let in_limit = number(&charger["input_max_a"]).min(settings.input_limit_a.unwrap_or(f64::INFINITY));
        // A supply that limits gives no more than it does, whatever it is asked for.
        let limits = plan["source"]["overload"] == "constant_current";
        let in_limit = in_limit.min(if limits { number(&plan["source"]["max_current_a"]) } else { f64::INFINITY });
        let held = keeps && (at_output(middle) > number(&charger["output_max_w"]) || in_a > in_limit);
        if held { high = middle } else { low = middle }
    }
    Flow { out_a: low, in_a: drawn(low), in_v: open_v }
}

/// The first rating that a card drives past, if any.
fn passed(plan: &Value, result: &ResultDoc) -> Option<String> {
    let settings = result.settings.as_ref()?;
    let source = &plan["source"];
    let open = |soc: f64| {
        let series = source["series"].as_f64().unwrap();
        // Lead between empty and full, as its acid has it; on the low side, which asks for more amps.
        series * (1.96 + 0.146 * soc)
    };
    let opens = if source["kind"] == "battery" {
        vec![open(source["soc"].as_f64().unwrap()), open(0.5)]
    } else {
        vec![source["voltage_v"].as_f64().unwrap_or(30.0)]
    };
    let pack = &plan["pack"];
    let ah = pack["capacity_ah"].as_f64().unwrap();
    let rated_a =
        pack["rated_c_rate"].as_f64().map_or(0.5 * ah, |c| c * ah).max(match pack["chemistry"].as_str().unwrap() {
            "lipo" if pack.get("rated_c_rate").is_none() => 5.0 * ah,
            "lfp" if pack.get("rated_c_rate").is_none() => 2.0 * ah,
            _ => 0.0,
        });
    let from_v = result.start.pack_voltage_v;
    for n in 0..=40 {
        let v = from_v + (settings.true_voltage_v - from_v) * f64::from(n) / 40.0;
        for open_v in &opens {
            let flow = obey(plan, result, v, *open_v);
            let mut ratings = vec![
                ("pack", flow.out_a, Some(rated_a)),
                ("bms", flow.out_a, pack["bms"]["max_charge_a"].as_f64()),
                ("charger", flow.out_a, plan["charger"]["output_max_a"].as_f64()),
                ("charger's watts", flow.out_a * v, plan["charger"]["output_max_w"].as_f64()),
                ("charger's input", flow.in_a, plan["charger"]["input_max_a"].as_f64()),
            ];
            if source["overload"] != "constant_current" {
                ratings.push(("source", flow.in_a, source["max_current_a"].as_f64()));
                ratings.push(("source's watts", flow.in_a * flow.in_v, source["max_power_w"].as_f64()));
            }
            for (name, lead, a) in
                [("input", &plan["leads"]["input"], flow.in_a), ("output", &plan["leads"]["output"], flow.out_a)]
            {
                ratings.push((name, a, wire(lead).map(|w| w.1)));
                ratings.push((name, a, lead["fuse_a"].as_f64()));
            }
            for (name, value, rated) in ratings {
                if let Some(rated) = rated.filter(|rated| value > rated * 1.002 + 1e-6) {
                    return Some(format!("{name}: {value} of {rated} at {v} V from {open_v} V"));
                }
            }
        }
    }
    None
}

fn lead() -> impl Strategy<Value = Value> {
    (10u32..23, 0.2..1.5f64, prop::option::weighted(0.7, 2u32..41)).prop_map(|(awg, length, fuse)| {
        let mut lead = json!({"awg": awg, "length_m": length});
        if let Some(fuse) = fuse {
            lead["fuse_a"] = json!(fuse);
        }
        lead
    })
}

fn pack() -> impl Strategy<Value = Value> {
    let kinds = prop::sample::select(vec![("lipo", 3u32), ("lipo", 4), ("lipo", 6), ("lfp", 4), ("lead_agm", 6)]);
    (kinds, 1.0..30.0f64, 0.05..0.8f64, prop::option::of(0.5..4.0f64), prop::option::weighted(0.2, 5.0..60.0f64)).prop_map(
        |((chemistry, series), ah, soc, rated, bms)| {
            let mut pack = json!({"chemistry": chemistry, "series": series, "capacity_ah": ah, "temperature_c": 22, "start": {"soc": soc}, "balancer": "built_in"});
            if let Some(c) = rated.filter(|_| chemistry != "lead_agm") {
                pack["rated_c_rate"] = json!(c);
            }
            if let Some(a) = bms {
                pack["bms"] = json!({"max_charge_a": a});
            }
            pack
        },
    )
}

fn source() -> impl Strategy<Value = Value> {
    let overload = prop::sample::select(vec!["constant_current", "hiccup", "shutdown", "unprotected"]);
    (any::<bool>(), prop::sample::select(vec![12.0, 19.0, 24.0, 28.0]), 3.0..50.0f64, overload, 20.0..120.0f64, 0.6..1.0f64, 2.0..20.0f64).prop_map(
        |(battery, v, a, overload, ah, soc, mohm)| {
            if battery {
                json!({"kind": "battery", "chemistry": "lead_agm", "series": if v < 20.0 { 6 } else { 12 }, "capacity_ah": ah, "soc": soc, "resistance_mohm": mohm})
            } else {
                json!({"kind": "fixed_supply", "voltage_v": v, "max_current_a": a, "overload": overload})
            }
        },
    )
}

fn charger() -> impl Strategy<Value = Value> {
    let kind = prop::sample::select(vec!["hobby_charger", "hobby_charger", "dc_dc", "dc_dc", "smart_charger", "bench"]);
    (kind, 1.0..30.0f64, prop::option::of(30.0..700.0f64), any::<bool>()).prop_map(|(kind, a, w, has_cc)| {
        let mut charger = json!({"kind": kind, "output_max_a": a, "topology": "buck_boost"});
        // Who buys a charger that runs by itself buys one for the pack's size.
        if kind == "smart_charger" {
            charger["output_max_a"] = json!(1.0 + a / 5.0);
        }
        if let Some(w) = w {
            charger["output_max_w"] = json!(w);
        }
        if kind == "dc_dc" {
            charger["has_cc"] = json!(has_cc);
        }
        charger
    })
}

prop_compose! {
    fn chain()(pack in pack(), source in source(), charger in charger(), input in prop::option::of(lead()), output in prop::option::of(lead()), hurry in any::<bool>(), bench_a in 2.0..40.0f64) -> Value {
        let practice = if hurry { "hurry" } else { "standard" };
        let mut plan = json!({"format": "rumek.plan/1", "practice": practice, "pack": pack, "source": source, "leads": {"input": input, "output": output}});
        if charger["kind"] == "bench" {
            plan["source"] = json!({"kind": "bench_supply", "max_voltage_v": 30, "max_current_a": bench_a});
            plan["leads"]["input"] = Value::Null;
        } else {
            plan["charger"] = charger;
        }
        plan
    }
}

#[test]
fn no_card_obeyed_to_the_letter_passes_a_rating() {
    const CASES: u32 = 10_000;
    let stopped = std::cell::Cell::new(0u32);
    let mut runner = TestRunner::new(crate::kept(CASES, file!()));
    let done = runner.run(&chain(), |value| {
        let result = ask(&value);
        if result.settings.is_none() {
            stopped.set(stopped.get() + 1);
            return Ok(());
        }
        let wrong = passed(&value, &result);
        prop_assert!(wrong.is_none(), "{wrong:?} {:?}", result.settings);
        Ok(())
    });
    done.unwrap_or_else(|wrong| panic!("{wrong}"));
    // A rule that stops everything would be safe as well, and of no use.
    assert!(stopped.get() <= CASES / 4, "{} of {CASES} are stopped", stopped.get());
}

/// A chain of a lipo on a 24 V supply, with a charger and its two leads.
fn chain_of(source: Value, charger: Value, input: Value, output: Value) -> ResultDoc {
    ask_patch(json!({
        "pack": {"packs_in_parallel": 4, "rated_c_rate": 2},
        "source": source, "charger": charger, "leads": {"input": input, "output": output},
    }))
}

fn fixed(overload: &str) -> Value {
    json!({"kind": "fixed_supply", "voltage_v": 24, "max_voltage_v": null, "max_current_a": 40, "overload": overload})
}

fn lead_of(awg: u32, fuse_a: Option<f64>) -> Value {
    json!({"awg": awg, "length_m": 0.4, "fuse_a": fuse_a})
}

#[test]
fn a_thin_input_lead_lowers_the_input_limit_and_the_card_says_by_what() {
    let charger = json!({"kind": "hobby_charger", "output_max_a": 28, "output_max_w": 700});
    let result = chain_of(fixed("hiccup"), charger, lead_of(18, None), Value::Null);
    let settings = result.settings.as_ref().unwrap();
    // 18 AWG carries 10.47 A.
    assert_eq!(settings.input_limit_a, Some(10.4));
    assert_eq!(settings.input_limited_by, Some(LimitCode::Lead));
    let step = result.steps.iter().find(|s| s.code == "input_limit").unwrap();
    assert!(step.message.contains("10.4 A") && step.message.contains("lead"), "{}", step.message);
    assert_eq!(severity(&result, CheckCode::LeadsUndersized), Some(Severity::Caution));
}

#[test]
fn a_fuse_before_a_charger_lowers_the_input_limit_below_it() {
    let charger = json!({"kind": "hobby_charger", "output_max_a": 28, "output_max_w": 700});
    let result = chain_of(fixed("constant_current"), charger, lead_of(10, Some(10.0)), Value::Null);
    assert_eq!(result.settings.as_ref().unwrap().input_limit_a, Some(8.0));
    assert!(result.steps.iter().any(|s| s.code == "input_limit"));
}

#[rstest]
// The wire of 22 AWG carries 5.47 A: a charger of just less passes, one of just more is stopped.
#[case::wire_holds(5.42, lead_of(22, None), None, LeadsUndersized, None)]
#[case::wire_passed(5.52, lead_of(22, None), None, LeadsUndersized, Some(Stop))]
#[case::fuse_holds(4.98, lead_of(14, Some(5.0)), None, LeadsFuseTooSmall, Some(Caution))]
#[case::fuse_passed(5.05, lead_of(14, Some(5.0)), None, LeadsFuseTooSmall, Some(Stop))]
#[case::fuse_with_its_margin(3.97, lead_of(14, Some(5.0)), None, LeadsFuseTooSmall, None)]
#[case::fuse_too_near(4.04, lead_of(14, Some(5.0)), None, LeadsFuseTooSmall, Some(Caution))]
#[case::bms_holds(5.94, Value::Null, Some(6.0), PackBmsOverloaded, None)]
#[case::bms_passed(6.06, Value::Null, Some(6.0), PackBmsOverloaded, Some(Stop))]
fn a_charger_that_cannot_be_turned_down_is_stopped_by_the_thinnest_part(
    #[case] charger_a: f64,
    #[case] output: Value,
    #[case] bms_a: Option<f64>,
    #[case] code: CheckCode,
    #[case] expected: Option<Severity>,
) {
    let result = ask_patch(json!({
        "pack": {"capacity_ah": 20, "bms": bms_a.map(|a| json!({"max_charge_a": a}))},
        "source": {"kind": "mains", "max_voltage_v": null, "max_current_a": null},
        "charger": {"kind": "smart_charger", "output_max_a": charger_a}, "leads": {"output": output},
    }));
    assert_eq!(severity(&result, code), expected, "{:?}", result.checks);
    assert_eq!(result.settings.is_none(), expected == Some(Stop));
}

#[rstest]
// 18 AWG carries 10.47 A; where nothing but a fuse holds the current, it must not be above that.
#[case::fuse_below_the_wire(10.0, None)]
#[case::fuse_above_the_wire(15.0, Some(Stop))]
fn a_fuse_that_alone_holds_the_current_is_never_above_its_wire(
    #[case] fuse_a: f64,
    #[case] expected: Option<Severity>,
) {
    let result = ask_patch(json!({
        "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 30, "balancer": "none"},
        "source": {"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": 15, "max_current_a": 30, "overload": "unprotected"},
        "leads": {"output": lead_of(18, Some(fuse_a))},
    }));
    assert_eq!(severity(&result, CheckCode::LeadsFuseTooBig), expected, "{:?}", result.checks);
}

#[rstest]
#[case::much_too_big(25.0, "burns before the fuse")]
#[case::a_little_too_big(15.0, "A fuse up to 10 A protects it")]
// One and a half times the 10.47 A of the wire: 15.7 A.
#[case::hot_only(15.6, "carries 10.5 A, its fuse 15.6 A")]
#[case::burns(15.8, "burns before the fuse")]
fn no_fuse_is_offered_above_its_wire(#[case] fuse_a: f64, #[case] says: &str) {
    let result = ask_patch(json!({"leads": {"output": lead_of(18, Some(fuse_a))}}));
    let check = result.checks.iter().find(|c| c.code == LeadsFuseTooBig).unwrap();
    assert!(check.severity == Caution && check.message.contains(says), "{check:?}");
    assert!(check.message.contains("A fuse up to 10 A protects it"), "{check:?}");
}

#[test]
fn a_port_on_a_thin_wire_is_a_stop_that_says_what_would_do() {
    let result = ask_patch(json!({
        "pack": {"chemistry": "lfp", "series": 4, "capacity_ah": 100, "start": {"soc": 0.2}},
        "source": {"kind": "regulated_port", "voltage_v": 14.4, "max_voltage_v": null, "max_current_a": 25},
        "leads": {"output": lead_of(18, Some(25.0))},
    }));
    let check = result.checks.iter().find(|c| c.code == LeadsUndersized).unwrap();
    assert!(check.severity == Stop && check.message.contains("It takes wire from 6 mm² with a 35 A fuse"), "{check:?}");
}

/// Two capacitors in series off a lead battery through a PWM stage without a limit of its own.
fn pwm(patch: Value) -> ResultDoc {
    let mut plan = json!({
        "pack": {"chemistry": "supercap", "series": 2, "capacity_ah": null, "capacitance_f": 3000, "label_v": 5.4, "balancer": "none",
                 "start": {"soc": null, "rest_voltage_v": 1}},
        "source": {"kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": 35, "max_voltage_v": null, "max_current_a": null},
        "charger": {"kind": "pwm", "duty": 0.45, "path_resistance_mohm": 50, "output_max_a": 4},
        "settings": {"current_a": 3, "stop_voltage_v": 4.8},
    });
    crate::merge(&mut plan, &patch);
    ask_patch(plan)
}

#[test]
fn a_duty_is_turned_up_from_below_where_it_would_drive_too_much_at_once() {
    for visits in [None, Some(30)] {
        let result = pwm(json!({"visit_every_min": visits}));
        let most_a = result.curve.iter().map(|p| p.current_a).fold(0.0, f64::max);
        assert!(result.settings.is_none() || most_a <= 3.0 * 1.001, "{most_a} {:?}", result.settings);
        assert!(result.settings.is_some() && !result.nudges.is_empty(), "{:?}", result.checks);
    }
    // Its own rating holds where nobody set a current.
    let result = pwm(json!({"settings": {"current_a": null}}));
    assert!(result.curve.iter().all(|p| p.current_a <= 4.0 * 1.001), "{:?}", result.settings);
    // A path that bears it needs no turns.
    let result = pwm(json!({"charger": {"path_resistance_mohm": 2000}}));
    assert!(result.nudges.is_empty() && result.settings.is_some(), "{:?}", result.checks);
}

#[rstest]
// Full at 5.4 V, the smallest of the two at 4.86 V; 14 Ω on 5.4 V let 0.04 A flow there.
#[case::balancers_bear_it(0.05, None)]
#[case::balancers_do_not(0.03, Some(Stop))]
fn what_cannot_be_turned_down_never_outruns_balancers(#[case] balance_a: f64, #[case] expected: Option<Severity>) {
    let result = ask_patch(json!({
        "pack": {"chemistry": "supercap", "series": 2, "capacity_ah": null, "capacitance_f": 100, "label_v": 5.4, "balancer": "built_in",
                 "balance_current_a": balance_a, "start": {"soc": null, "rest_voltage_v": 3}},
        "source": {"kind": "fixed_supply", "voltage_v": 5.4, "max_voltage_v": null, "max_current_a": 5, "overload": "hiccup"},
        "charger": {"kind": "resistor", "resistance_ohm": 14, "rated_w": 10},
    }));
    assert_eq!(severity(&result, SettingsVoltageTooHigh), expected, "{:?}", result.checks);
}

#[test]
fn a_duty_is_turned_up_by_hand_where_balancers_could_not_bear_it() {
    let result = pwm(json!({
        "pack": {"balancer": "built_in", "balance_current_a": 0.5},
        "charger": {"path_resistance_mohm": 400, "output_max_a": 20}, "settings": {"current_a": 12, "stop_voltage_v": 5.2},
    }));
    assert!(result.settings.is_some() && !result.nudges.is_empty(), "{:?}", result.checks);
    let past = result.curve.iter().filter(|p| p.pack_v > 0.9 * 5.4 + 1e-6);
    assert!(past.map(|p| p.current_a).fold(0.0, f64::max) <= 0.5 * 1.001);
}

#[rstest]
// 14.4 V through 4 Ω onto 12.34 V at rest: about half an ampere at first.
#[case::set_above_what_flows(0.53, None)]
#[case::set_below_what_flows(0.48, Some(Stop))]
fn a_current_that_nothing_holds_is_not_promised(#[case] set_a: f64, #[case] expected: Option<Severity>) {
    let result = ask_patch(json!({
        "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 10, "balancer": "none", "start": {"soc": 0.5}},
        "source": {"kind": "fixed_supply", "voltage_v": 14.4, "max_voltage_v": null, "max_current_a": 40, "overload": "hiccup"},
        "charger": {"kind": "resistor", "resistance_ohm": 4, "rated_w": 50}, "settings": {"current_a": set_a},
    }));
    assert_eq!(severity(&result, SettingsCurrentNotHeld), expected, "{:?}", result.checks);
}

#[rstest]
#[case::fully_on(1.0, Some(Stop))]
#[case::held_by_its_path(60.0, None)]
fn a_module_that_holds_nothing_is_stopped_where_it_would_pass_its_rating(
    #[case] resistance: f64,
    #[case] expected: Option<Severity>,
) {
    let result = ask_patch(json!({
        "pack": {"chemistry": "lead_agm", "series": 6, "capacity_ah": 40, "balancer": "none", "resistance_mohm": 20, "start": {"soc": 0.5}},
        "source": {"kind": "fixed_supply", "voltage_v": 24, "max_voltage_v": null, "max_current_a": 40, "overload": "constant_current"},
        "charger": {"kind": "dc_dc", "topology": "buck", "has_cc": false, "has_cv": false, "output_max_a": 5, "output_max_v": 14},
        "leads": {"output": {"awg": 4, "length_m": 1, "connector_mohm": resistance * 10.0}},
        "settings": {"stop_voltage_v": 14},
    }));
    assert_eq!(severity(&result, ChargerOverloaded), expected, "{:?}", result.checks);
}
