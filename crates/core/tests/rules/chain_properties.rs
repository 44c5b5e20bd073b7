//! The physics of whole chains, over generated ones.

use proptest::prelude::*;
use rumek_core::codes::LimitCode;
use rumek_core::formats::{EndReason, Place, ResultDoc};
use serde_json::{Value, json};

use crate::properties::{ask, numbers, pack, seconds_to};

fn source() -> impl Strategy<Value = Value> {
    let kind = prop::sample::select(vec![
        "bench_supply",
        "adjustable_supply",
        "fixed_supply",
        "wall_adapter",
        "transformer_rectifier",
        "battery",
        "regulated_port",
        "mains",
    ]);
    (kind, 5.0..60.0f64, 0.3..40.0f64, prop::option::of(10.0..600.0f64), 0.05..1.0f64).prop_map(|(kind, v, a, w, share)| {
        let mut source = match kind {
            "bench_supply" | "adjustable_supply" => json!({"min_voltage_v": v * 0.3, "max_voltage_v": v, "max_current_a": a}),
            "transformer_rectifier" => json!({"secondary_vac": v, "rated_va": a * v, "type": "low_voltage"}),
            "mains" => json!({}),
            "battery" => json!({"chemistry": "lead_agm", "series": 1 + (v / 4.0) as u32, "capacity_ah": a * 4.0, "soc": share}),
            _ => json!({"voltage_v": v, "max_current_a": a}),
        };
        source["kind"] = json!(kind);
        if let Some(w) = w.filter(|_| kind != "mains") {
            source["max_power_w"] = json!(w);
        }
        source
    })
}

fn charger() -> impl Strategy<Value = Value> {
    let kind = prop::sample::select(vec![
        "hobby_charger",
        "smart_charger",
        "dc_dc",
        "dc_dc",
        "linear_module",
        "pwm",
        "lamp",
        "resistor",
    ]);
    let topology = prop::sample::select(vec!["buck", "boost", "buck_boost"]);
    (kind, topology, 0.2..20.0f64, prop::option::of(5.0..400.0f64), 0.1..1.0f64, any::<bool>()).prop_map(
        |(kind, topology, a, w, share, flag)| {
            let mut charger = match kind {
                "dc_dc" => {
                    json!({"topology": topology, "has_cc": flag, "output_max_a": a, "efficiency": 0.5 + share / 2.0})
                }
                "linear_module" => json!({"output_max_a": a, "rated_w": share * 10.0, "output_max_v": 4.2}),
                "pwm" => json!({"duty": share, "path_resistance_mohm": 50.0 + share * 2000.0}),
                "lamp" => json!({"lamp_rated_v": 6.0 + 40.0 * share, "lamp_rated_w": a * 10.0}),
                "resistor" => json!({"resistance_ohm": share * 10.0}),
                _ => json!({"output_max_a": a, "input_max_a": a * (1.0 + share), "input_min_v": 4.0 + share * 8.0}),
            };
            charger["kind"] = json!(kind);
            if let (Some(w), "hobby_charger" | "smart_charger" | "dc_dc") = (w, kind) {
                charger["output_max_w"] = json!(w);
            }
            charger
        },
    )
}

prop_compose! {
    fn lead()(awg in 4u32..26, length in 0.1..6.0f64, fuse in prop::option::of(1.0..40.0f64)) -> Value {
        let mut lead = json!({"awg": awg, "length_m": length, "connector_mohm": 2});
        if let Some(fuse) = fuse {
            lead["fuse_a"] = json!(fuse);
        }
        lead
    }
}

prop_compose! {
    fn chain()(
        pack in pack(),
        source in source(),
        charger in prop::option::weighted(0.8, charger()),
        input in prop::option::of(lead()),
        output in prop::option::of(lead()),
        load in prop::option::weighted(0.3, (any::<bool>(), 0.01..4.0f64)),
        visits in prop::option::weighted(0.2, 10.0..90.0f64),
        relay in prop::option::weighted(0.2, 0.9..1.1f64),
    ) -> Value {
        let mut plan = json!({"format": "rumek.plan/1", "pack": pack, "source": source, "leads": {"input": input, "output": output}, "visit_every_min": visits});
        if let Some(charger) = charger {
            plan["charger"] = charger;
        }
        // Only a converter plugs into the wall.
        let kind = plan["charger"]["kind"].as_str();
        if plan["source"]["kind"] == "mains" && !matches!(kind, Some("hobby_charger" | "smart_charger" | "dc_dc")) {
            plan["charger"] = json!({"kind": "hobby_charger", "output_max_a": 5});
        }
        if let Some((current, size)) = load {
            plan["load"] = if current { json!({"current_a": size}) } else { json!({"power_w": size * 12.0}) };
        }
        if let Some(share) = relay {
            let nominal = 3.5 * plan["pack"]["series"].as_f64().unwrap();
            plan["cut_off"] = json!({"low_v": nominal * share, "high_v": nominal * share * 1.1});
        }
        plan
    }
}

fn at_stage(result: &ResultDoc, at: Place) -> Option<usize> {
    result.stages.iter().position(|s| s.at == at)
}

proptest! {
    #![proptest_config(crate::kept(700, file!()))]

    #[test]
    fn every_chain_answers_finitely(value in chain()) {
        let result = ask(&value);
        let json = serde_json::to_value(&result).unwrap();
        let again = serde_json::from_value::<ResultDoc>(json.clone());
        prop_assert!(again.is_ok(), "every number survives JSON: {again:?}");
        let mut all = Vec::new();
        numbers(&json, "", &mut all);
        prop_assert!(all.iter().all(|(_, n)| n.is_finite()));
        prop_assert!(result.curve.len() <= 400 && result.nudges.len() <= 200);
        prop_assert!(result.curve.is_sorted_by(|a, b| a.t_s <= b.t_s));
        prop_assert!(result.curve.iter().all(|p| (-0.01..1.05).contains(&p.soc) && p.stage_a.len() == result.stages.len()));
        if result.settings.is_some() {
            prop_assert!(result.steps.iter().any(|s| s.code == "measure_pack"));
        }
    }

    #[test]
    fn energy_only_gets_less_from_stage_to_stage(value in chain()) {
        let result = ask(&value);
        prop_assume!(result.settings.is_some());
        let d = &result.delivered;
        let scale = d.source_wh.abs().max(d.energy_wh.abs()).max(1e-6);
        for stage in result.stages.iter().filter(|s| s.at != Place::Pack) {
            prop_assert!(stage.heat_wh >= -2e-3 * scale, "{stage:?} {d:?}");
        }
        let heat: f64 = result.stages.iter().map(|s| s.heat_wh).sum();
        prop_assert!((heat - d.heat_wh).abs() <= 1e-9 * scale.max(heat));
        // What the source gives is what the leads and the charger burn, what reaches the pack, and the load's.
        if value.get("load").is_none() {
            let burnt: f64 = result.stages.iter().filter(|s| !matches!(s.at, Place::Source | Place::Pack)).map(|s| s.heat_wh).sum();
            prop_assert!((d.source_wh - burnt - d.energy_wh).abs() <= 3e-3 * scale, "{d:?} {burnt}");
        }
    }

    #[test]
    fn the_pinch_is_the_narrowest_stage(value in chain()) {
        let result = ask(&value);
        prop_assume!(result.settings.is_some() && result.end.reason != EndReason::Discharging);
        let places: Vec<(LimitCode, Place)> = result.pinch.iter().map(|p| (p.limit, p.at)).collect();
        for p in &result.curve {
            let load = at_stage(&result, Place::Load).map_or(0.0, |n| p.stage_a[n]);
            let total = p.current_a + load;
            // Where the load alone drives the pack, nothing in the chain is narrowest.
            if total <= 1e-4 {
                continue;
            }
            if let Some((_, place)) = places.iter().find(|(limit, _)| *limit == p.limit)
                && let Some(n) = at_stage(&result, *place)
            {
                prop_assert!(p.stage_a[n] <= total * 1.02 + 1.1e-2, "{p:?} {place:?} {:?}", result.stages);
            }
        }
    }

    #[test]
    fn a_bigger_thing_never_takes_longer(value in chain(), field in 0usize..6, factor in 1.0..3.0f64) {
        let (part, field) = [("source", "max_current_a"), ("source", "max_power_w"), ("charger", "output_max_a"), ("charger", "output_max_w"), ("charger", "input_max_a"), ("charger", "rated_w")][field];
        prop_assume!(value.get(part).is_some_and(|p| p.get(field).is_some()));
        // A wall adapter's label is also its droop, and a turned knob waits for its turns.
        prop_assume!(value["source"]["kind"] != "wall_adapter");
        let base = ask(&value);
        prop_assume!(base.settings.is_some() && base.nudges.is_empty() && base.end.reason != EndReason::Discharging);
        let mut relaxed = value.clone();
        relaxed[part][field] = json!(value[part][field].as_f64().unwrap() * factor);
        let relaxed = ask(&relaxed);
        prop_assume!(relaxed.settings.is_some());
        for soc in [0.2, 0.4, 0.6, 0.8, 0.9] {
            if let (Some(slow), Some(fast)) = (seconds_to(&base, soc), seconds_to(&relaxed, soc)) {
                prop_assert!(fast <= slow * 1.01 + 1.0, "{soc}: {fast} > {slow}");
            }
        }
    }

    #[test]
    fn net_charge_is_the_charger_minus_the_load(value in chain()) {
        let result = ask(&value);
        // A thinned curve cuts the teeth of a turned knob.
        prop_assume!(result.settings.is_some() && result.curve.len() > 2 && result.nudges.is_empty());
        // A capacitor whose load takes as much as comes in hovers; thinned, the hovering does not add up.
        prop_assume!(value["pack"]["chemistry"] != "supercap");
        let Some(load) = at_stage(&result, Place::Load) else { return Ok(()) };
        for p in &result.curve {
            let load_a = p.stage_a[load];
            // No stage takes current back.
            prop_assert!(p.current_a >= -load_a - 1e-4 * (1.0 + load_a), "{p:?}");
        }
        let ah: f64 = result.curve.windows(2).map(|w| (w[1].t_s - w[0].t_s) * 0.5 * (w[0].current_a + w[1].current_a) / 3600.0).sum();
        prop_assert!((ah - result.delivered.charge_ah).abs() <= 0.02 * ah.abs().max(result.delivered.charge_ah.abs()).max(1e-3), "{ah} {:?}", result.delivered);
    }

    #[test]
    fn nudges_stay_within_their_band(value in chain()) {
        let result = ask(&value);
        prop_assume!(result.settings.is_some() && !result.nudges.is_empty());
        let settings = result.settings.unwrap();
        for nudge in &result.nudges {
            prop_assert!(nudge.current_a <= settings.current_a * 1.021 + 1e-6, "{nudge:?} {settings:?}");
            prop_assert!(nudge.set_voltage_v.is_none_or(|v| v <= settings.dial_voltage_v * 1.0001), "{nudge:?}");
        }
        prop_assert!(result.nudges.is_sorted_by(|a, b| a.at_s < b.at_s));
    }

    #[test]
    fn a_converter_never_takes_more_than_any_input_limit(value in chain()) {
        let converts = matches!(value["charger"]["kind"].as_str(), Some("hobby_charger" | "smart_charger" | "dc_dc"));
        prop_assume!(converts && value["source"]["kind"] != "mains" && value["source"]["kind"] != "battery");
        let result = ask(&value);
        prop_assume!(result.settings.is_some());
        // The chain's equations once more, from the documents alone.
        let resolved = serde_json::to_value(&result.resolved).unwrap();
        let (source, charger) = (&resolved["source"], &resolved["charger"]);
        let ohm_of = |lead: &Value| {
            let area = 0.012_668 * 92f64.powf((36.0 - lead["awg"].as_f64()?) / 19.5);
            Some(2.0 * lead["length_m"].as_f64()? * 0.0178 / area + lead["connector_mohm"].as_f64()? / 1e3)
        };
        let out_ohm = ohm_of(&resolved["leads"]["output"]).unwrap_or(0.0);
        let in_ohm = ohm_of(&resolved["leads"]["input"]).unwrap_or(0.0);
        let headroom = source["headroom"].as_f64().unwrap();
        let (open_v, sag_ohm, rated_a) = match source["kind"].as_str().unwrap() {
            "wall_adapter" => {
                let (open, v, a) = (source["open_circuit_v"].as_f64().unwrap(), source["voltage_v"].as_f64().unwrap(), source["max_current_a"].as_f64().unwrap());
                (open, (open - v) / a, a)
            }
            "transformer_rectifier" => return Ok(()),
            "fixed_supply" | "regulated_port" => (source["voltage_v"].as_f64().unwrap(), 0.0, source["max_current_a"].as_f64().unwrap()),
            _ => (result.settings.as_ref().unwrap().source_voltage_v.unwrap(), 0.0, source["max_current_a"].as_f64().unwrap()),
        };
        let efficiency = charger["efficiency"].as_f64().unwrap();
        let load = at_stage(&result, Place::Load);
        for p in &result.curve {
            let total_a = (p.current_a + load.map_or(0.0, |n| p.stage_a[n])).max(0.0);
            let input_w = (p.pack_v + total_a * out_ohm) * total_a / efficiency;
            // Brackets instead of the root: the current at which the source delivers that power.
            let ohm = in_ohm + sag_ohm;
            let (mut low, mut high) = (0.0, if ohm > 0.0 { open_v / (2.0 * ohm) } else { 1e6 });
            for _ in 0..100 {
                let middle = 0.5 * (low + high);
                if (open_v - middle * ohm) * middle < input_w { low = middle } else { high = middle }
            }
            let slack = 1.0 + 1e-3;
            prop_assert!(high <= headroom * rated_a * slack + 1e-3, "{high} A from the source: {p:?}");
            if let Some(w) = source["max_power_w"].as_f64() {
                prop_assert!((open_v - high * sag_ohm) * high <= headroom * w * slack + 1e-3, "{p:?}");
            }
            if let Some(a) = charger["input_max_a"].as_f64() {
                prop_assert!(high <= a * slack + 1e-3, "{high} A in: {p:?}");
            }
            if let Some(v) = charger["input_min_v"].as_f64() {
                prop_assert!(open_v - high * ohm >= v * (1.0 - 1e-3) - 1e-3, "{} V in: {p:?}", open_v - high * ohm);
            }
            if let Some(w) = charger["output_max_w"].as_f64() {
                prop_assert!(input_w * efficiency <= w * slack + 1e-3, "{p:?}");
            }
        }
    }

    #[test]
    fn what_ifs_promise_nothing_negative_and_add_up(value in chain()) {
        let result = ask(&value);
        for w in &result.what_if {
            prop_assert!(w.saves_s >= 0.0 && w.gains_soc.is_none_or(|g| g >= 0.0), "{w:?}");
            if let (Some(now), Some(then)) = (result.time.total_s, w.total_s) {
                prop_assert!((now - then).max(0.0) - w.saves_s < 1.0, "{w:?} {now}");
            }
        }
        prop_assert!(result.settings.is_none() || result.verdict.is_some() || result.time.total_s.is_none_or(|s| s == 0.0), "{:?}", result.end);
    }

    #[test]
    fn who_has_more_time_needs_no_bigger_charger(value in chain(), minutes in 5.0..600.0f64, factor in 1.0..4.0f64) {
        let size = |minutes: f64| {
            let ask = json!({"plan": value, "done_in_min": minutes});
            rumek_core::size(&rumek_core::formats::from_value(&ask).unwrap()).unwrap().done_in.unwrap()
        };
        let (soon, later) = (size(minutes), size(minutes * factor));
        prop_assert!(!soon.possible || later.possible);
        if let (Some(soon_a), Some(later_a)) = (soon.charger_a, later.charger_a) {
            prop_assert!(later_a <= soon_a * 1.01, "{soon_a} {later_a}");
        }
    }
}
