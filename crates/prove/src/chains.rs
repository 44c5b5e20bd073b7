//! Chains as people really have them, the odd ones more often than they come.

use fastrand::Rng;
use serde_json::{Value, json};

/// Every kind of chain that is made.
pub const KINDS: [&str; 34] = [
    "bench supply, lithium",
    "bench supply, phosphate",
    "bench supply, lead",
    "bench supply, lead by its label",
    "bench supply, nickel",
    "bench supply, capacitors",
    "bench supply with a display that lies",
    "two units in parallel",
    "two units in series",
    "bench supply and a load",
    "bench supply and a relay",
    "unlike packs in parallel",
    "cells out of step",
    "a voltage set below full",
    "knob, lead",
    "knob, phosphate looked after now and then",
    "knob, lithium",
    "knob, capacitors with balancers",
    "fixed supply on lead",
    "port on phosphate",
    "lamp",
    "resistor",
    "wall adapter and lamp",
    "switch, lead",
    "switch, capacitors",
    "charger on a supply",
    "charger on a supply that trips",
    "charger on lead",
    "charger on the wall",
    "charger on the wall and a load",
    "module that holds a current",
    "module without current limit",
    "boost on a transformer",
    "linear board",
];

/// A kind of pack: chemistry, cells in series, Ah from and to, volts of a full cell, and a usual rate, C.
type Made = (&'static str, &'static [u32], (f64, f64), f64, f64);

const LITHIUM: &[Made] = &[
    ("lipo", &[1, 2, 3, 4, 6, 8, 12], (0.3, 22.0), 4.20, 1.0),
    ("lihv", &[1, 2, 3, 4, 6], (0.3, 10.0), 4.35, 1.0),
    ("li_ion", &[1, 2, 3, 4, 5, 7, 10, 13], (1.0, 40.0), 4.20, 0.5),
    ("lto", &[5, 6, 10, 12], (5.0, 80.0), 2.80, 1.0),
    ("sodium_ion", &[1, 4, 8, 16], (1.0, 200.0), 4.00, 0.5),
];
const PHOSPHATE: &[Made] = &[("lfp", &[4, 8, 16], (5.0, 300.0), 3.65, 0.5)];
const LEAD: &[Made] = &[
    ("lead_flooded", &[3, 6, 12], (5.0, 230.0), 2.42, 0.1),
    ("lead_agm", &[3, 6, 12], (1.2, 230.0), 2.42, 0.15),
    ("lead_gel", &[6, 12], (7.0, 230.0), 2.36, 0.1),
];
const NICKEL: &[Made] =
    &[("nimh", &[4, 6, 8, 10], (0.7, 6.0), 1.70, 0.1), ("nicd", &[6, 8, 10], (0.7, 5.0), 1.70, 0.1)];

/// A pack, the volts of it full, and the amps it usually takes.
struct Sample {
    pack: Value,
    full_v: f64,
    amps: f64,
    ah: f64,
}

struct Maker<'a>(&'a mut Rng);

impl Maker<'_> {
    fn between(&mut self, from: f64, to: f64) -> f64 {
        let value = from + (to - from) * self.0.f64();
        // As labels and meters have it: three figures.
        let step = 10f64.powf(value.abs().max(1e-9).log10().floor() - 2.0);
        ((value / step).round() * step * 1e9).round() / 1e9
    }

    fn scaled(&mut self, from: f64, to: f64) -> f64 {
        let value = from * (to / from).powf(self.0.f64());
        let step = 10f64.powf(value.log10().floor() - 1.0);
        ((value / step).round() * step * 1e9).round() / 1e9
    }

    fn chance(&mut self, share: f64) -> bool {
        self.0.f64() < share
    }

    fn one_of<T: Copy>(&mut self, all: &[T]) -> T {
        all[self.0.usize(..all.len())]
    }

    fn pack(&mut self, of: &[Made]) -> Sample {
        let (chemistry, cells, (least_ah, most_ah), full_v, usual_c) = self.one_of(of);
        let series = self.one_of(cells);
        let ah = self.scaled(least_ah, most_ah);
        let soc = self.between(0.08, 0.7);
        let mut pack = json!({"chemistry": chemistry, "series": series, "capacity_ah": ah, "temperature_c": self.between(17.0, 30.0), "start": {"soc": soc}});
        let lithium = full_v > 2.6;
        if self.chance(0.4) && chemistry != "lead_agm" {
            pack["rated_c_rate"] = json!(usual_c * self.one_of(&[1.0, 2.0, 3.0]));
        }
        if lithium && series > 1 {
            pack["balancer"] = json!("built_in");
        }
        if self.chance(0.2) {
            pack["resistance_mohm"] =
                json!(self.between(0.7, 1.4) * f64::from(series) * if lithium { 25.0 } else { 60.0 } / ah);
        }
        Sample { pack, full_v: full_v * f64::from(series), amps: usual_c * ah, ah }
    }

    fn capacitors(&mut self) -> Sample {
        let series = self.one_of(&[1, 2, 4, 6]);
        let farads = self.one_of(&[100.0, 350.0, 1500.0, 3000.0]);
        let full_v = self.one_of(&[2.5, 2.7]) * f64::from(series);
        let amps = (farads / 300.0_f64).max(0.5);
        let mut pack = json!({"chemistry": "supercap", "series": series, "capacitance_f": farads, "label_v": full_v, "start": {"soc": self.between(0.0, 0.5)}});
        if series > 1 && self.chance(0.6) {
            pack["balancer"] = json!("built_in");
            pack["balance_current_a"] = json!(self.one_of(&[0.1, 0.3, 0.5, 1.0]));
        }
        Sample { pack, full_v, amps, ah: farads * 2.5 / 3600.0 }
    }

    /// The thinnest lead one buys for a current, with its fuse; now and then one too thin.
    fn lead(&mut self, amps: f64) -> Value {
        let spare = if self.chance(0.2) { self.between(0.5, 1.0) } else { 1.3 };
        let fuse_a = [3.0, 5.0, 7.5, 10.0, 15.0, 20.0, 25.0, 30.0, 40.0, 50.0, 60.0, 80.0, 100.0, 150.0]
            .into_iter()
            .find(|fuse_a| *fuse_a >= spare * amps)
            .unwrap_or(200.0);
        let carries = |awg: i32| 12.0 * (0.012_668 * 92f64.powf((36.0 - f64::from(awg)) / 19.5)).powf(0.7);
        let awg = (-3..=20).rev().find(|awg| carries(*awg) >= fuse_a).unwrap_or(-3);
        let mut lead = json!({"awg": awg, "length_m": self.between(0.2, 1.5)});
        if self.chance(0.7) {
            lead["fuse_a"] = json!(fuse_a);
        }
        lead
    }

    fn bench_supply(&mut self, full_v: f64, amps: f64) -> Value {
        let max_v = self.one_of(&[15.0, 30.0, 60.0, 120.0]);
        let max_v = if max_v < 1.03 * full_v { (1.2 * full_v).ceil() } else { max_v };
        json!({"kind": "bench_supply", "max_voltage_v": max_v, "max_current_a": self.scaled(0.4 * amps + 0.2, 3.0 * amps + 0.4)})
    }

    fn supply_for(&mut self, volts: f64, watts: f64, overload: &str) -> Value {
        json!({"kind": "fixed_supply", "voltage_v": volts, "max_current_a": (self.scaled(0.6, 2.5) * watts / volts).max(0.5), "overload": overload})
    }
}

/// A plan of a kind. The same numbers drawn make the same plan.
#[must_use]
pub fn chain(kind: &str, rng: &mut Rng) -> Value {
    let mut maker = Maker(rng);
    let mut plan = made(kind, &mut maker);
    plan["format"] = json!("rumek.plan/1");
    if plan.get("practice").is_none() {
        plan["practice"] = json!(maker.one_of(&["gentle", "standard", "standard", "hurry"]));
    }
    plan
}

fn made(kind: &str, make: &mut Maker<'_>) -> Value {
    match kind {
        "bench supply, lithium" => bench(make, LITHIUM),
        "bench supply, phosphate" => bench(make, PHOSPHATE),
        "bench supply, lead" => bench(make, LEAD),
        "bench supply, lead by its label" => by_label(make),
        "bench supply, nickel" => bench(make, NICKEL),
        "bench supply, capacitors" => {
            let made = make.capacitors();
            json!({"pack": made.pack, "source": make.bench_supply(made.full_v, made.amps), "settings": {"current_a": made.amps}})
        }
        "bench supply with a display that lies" => {
            let mut plan = bench(make, LITHIUM);
            let (gain, amps_gain) = (make.between(0.97, 1.03), make.between(0.93, 1.07));
            plan["source"]["meters"] = json!([
                {"quantity": "voltage", "points": [{"shown": 12.0, "true": 12.0 * gain}]},
                {"quantity": "current", "points": [{"shown": 2.0, "true": 2.0 * amps_gain}]}]);
            plan
        }
        "two units in parallel" => units(make, "parallel"),
        "two units in series" => units(make, "series"),
        "bench supply and a load" => {
            let made = make.pack(LEAD);
            let load = make.between(0.02, 1.2) * made.amps;
            json!({"source": make.bench_supply(made.full_v, made.amps), "pack": made.pack, "load": load_of(make, load, made.full_v)})
        }
        "bench supply and a relay" => {
            let made = make.pack(LEAD);
            let source = make.bench_supply(made.full_v, made.amps);
            let high = (made.full_v * make.between(0.93, 0.99) * 100.0).round() / 100.0;
            json!({"source": source, "pack": made.pack, "cut_off": {"low_v": (0.97 * high * 100.0).round() / 100.0, "high_v": high}})
        }
        "unlike packs in parallel" => {
            let made = make.pack(LITHIUM);
            let mut plan = json!({"source": make.bench_supply(made.full_v, 2.0 * made.amps), "pack": made.pack});
            let ah = made.ah * make.between(0.5, 1.5);
            let series = plan["pack"]["series"].as_f64().unwrap_or(1.0);
            plan["pack"]["resistance_mohm"] = json!(series * 25.0 / made.ah);
            plan["pack"]["start"] = json!({"rest_voltage_v": (made.full_v * 0.9 * 100.0).round() / 100.0});
            let rest_v = plan["pack"]["start"]["rest_voltage_v"].clone();
            plan["other_packs"] =
                json!([{"capacity_ah": ah, "rest_voltage_v": rest_v, "resistance_mohm": series * 25.0 / ah}]);
            plan
        }
        "cells out of step" => {
            let made = make.pack(LITHIUM);
            let mut plan = json!({"source": make.bench_supply(made.full_v, made.amps), "pack": made.pack});
            let series = plan["pack"]["series"].as_u64().unwrap_or(1);
            let each = made.full_v / series as f64;
            let cells: Vec<f64> =
                (0..series).map(|_| ((each * 0.9 + make.between(0.0, 0.02)) * 1000.0).round() / 1000.0).collect();
            plan["pack"]["start"] = json!({"cell_voltages_v": cells, "rested_min": 240});
            if let Some(pack) = plan["pack"].as_object_mut() {
                pack.remove("balancer");
            }
            plan
        }
        "a voltage set below full" => {
            let mut plan = bench(make, LITHIUM);
            let series = plan["pack"]["series"].as_f64().unwrap_or(1.0);
            let full = LITHIUM.iter().find(|made| plan["pack"]["chemistry"] == made.0).map_or(4.2, |made| made.3);
            plan["settings"] = json!({"voltage_v": (series * full * make.between(0.95, 0.99) * 100.0).round() / 100.0});
            plan
        }
        "knob, lead" => knob(make, LEAD, false),
        "knob, phosphate looked after now and then" => knob(make, PHOSPHATE, true),
        "knob, lithium" => knob(make, LITHIUM, false),
        "knob, capacitors with balancers" => {
            let made = make.capacitors();
            // Through plain leads hardly any knob is fine enough for them: most have poor or long ones.
            let ohms = make.one_of(&[0.0, 50.0, 200.0, 500.0]);
            json!({"pack": made.pack, "settings": {"current_a": made.amps},
                "leads": {"output": {"awg": 10, "length_m": 1.0, "connector_mohm": ohms}},
                "source": {"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": 1.3 * made.full_v, "max_current_a": 3.0 * made.amps, "voltage_step_v": make.one_of(&[0.001, 0.01])}})
        }
        "fixed supply on lead" => {
            let made = make.pack(LEAD);
            let volts = (made.full_v * make.between(0.92, 0.99) * 10.0).round() / 10.0;
            let overload = make.one_of(&["constant_current", "foldback", "hiccup", "unprotected"]);
            let mut source = make.supply_for(volts, volts * 2.0 * made.amps, overload);
            if make.chance(0.3) {
                source["max_current_a"] = json!(20.0 * made.amps);
            }
            json!({"pack": made.pack, "source": source, "leads": {"output": make.lead(2.0 * made.amps)}})
        }
        "port on phosphate" => {
            let mut made = make.pack(&[("lfp", &[4], (5.0, 200.0), 3.65, 0.5)]);
            made.pack["bms"] = json!({"max_charge_a": made.ah, "balances": true});
            let volts = make.one_of(&[13.3, 13.36, 13.4, 13.5, 13.6, 13.8, 14.0, 14.4]);
            json!({"pack": made.pack, "source": {"kind": "regulated_port", "voltage_v": volts, "max_current_a": make.one_of(&[8.0, 10.0, 20.0])}})
        }
        "lamp" | "resistor" | "wall adapter and lamp" => limiter(kind, make),
        "switch, lead" | "switch, capacitors" => switch(kind, make),
        "charger on a supply" => charger(make, &["constant_current"]),
        "charger on a supply that trips" => charger(make, &["hiccup", "shutdown", "foldback", "unprotected"]),
        "charger on lead" => {
            let made = make.pack(&LITHIUM[..3]);
            let watts = made.full_v * made.amps;
            let twelve = make.chance(0.6);
            json!({"pack": made.pack,
                "source": {"kind": "battery", "chemistry": "lead_agm", "series": if twelve { 6 } else { 12 }, "capacity_ah": make.scaled(7.0, 200.0), "soc": make.between(0.6, 1.0)},
                "charger": hobby(make, made.amps, watts), "leads": {"input": make.lead(watts / 12.0)}})
        }
        "charger on the wall" => {
            let made = if make.chance(0.5) { make.pack(LEAD) } else { make.pack(LITHIUM) };
            let amps = make.scaled(0.3, 1.2) * made.amps;
            json!({"pack": made.pack, "source": {"kind": "mains"}, "charger": {"kind": "smart_charger", "output_max_a": amps}})
        }
        "charger on the wall and a load" => {
            let made = make.pack(LEAD);
            let amps = make.scaled(0.5, 1.2) * made.amps;
            let load = make.between(0.05, 1.1) * amps;
            json!({"pack": made.pack, "source": {"kind": "mains"}, "charger": {"kind": "smart_charger", "output_max_a": amps}, "load": load_of(make, load, made.full_v)})
        }
        "module that holds a current" => module(make, true),
        "module without current limit" => module(make, false),
        "boost on a transformer" => {
            let made =
                make.pack(&[("lead_agm", &[12], (5.0, 60.0), 2.42, 0.15), ("lipo", &[6, 8], (1.0, 8.0), 4.2, 1.0)]);
            json!({"pack": made.pack,
                "source": {"kind": "transformer_rectifier", "secondary_vac": make.one_of(&[9.0, 12.0]), "rated_va": make.one_of(&[60.0, 120.0, 300.0]), "type": "low_voltage", "smoothing_uf": 10000, "max_current_a": null},
                "charger": {"kind": "dc_dc", "topology": "boost", "has_cc": true, "output_max_a": 6, "input_max_a": 10}})
        }
        _ => {
            let made = make.pack(&[("li_ion", &[1], (0.5, 3.5), 4.2, 0.5), ("lipo", &[1], (0.3, 3.0), 4.2, 1.0)]);
            json!({"pack": made.pack, "source": {"kind": "regulated_port", "voltage_v": make.one_of(&[5.0, 5.1]), "max_current_a": make.one_of(&[0.5, 1.0, 2.0, 3.0])},
                "charger": {"kind": "linear_module", "output_max_a": make.one_of(&[0.1, 0.5, 1.0])}})
        }
    }
}

fn load_of(make: &mut Maker<'_>, amps: f64, volts: f64) -> Value {
    if make.chance(0.6) { json!({"current_a": amps}) } else { json!({"power_w": amps * volts}) }
}

fn bench(make: &mut Maker<'_>, of: &[Made]) -> Value {
    let made = make.pack(of);
    let mut plan = json!({"source": make.bench_supply(made.full_v, made.amps), "pack": made.pack});
    if make.chance(0.4) {
        plan["leads"] = json!({"output": make.lead(made.amps)});
    }
    if of == LITHIUM && make.chance(0.3) {
        plan["settings"] = json!({"current_a": make.between(0.2, 1.5) * made.amps});
    }
    plan
}

fn by_label(make: &mut Maker<'_>) -> Value {
    let made = make.pack(&[("lead_agm", &[6], (1.2, 100.0), 2.42, 0.15)]);
    let mut plan = json!({"source": make.bench_supply(15.5, made.amps), "pack": made.pack});
    let (low, high) = make.one_of(&[(14.4, 15.0), (14.4, 14.7), (14.1, 14.4), (14.5, 14.9)]);
    plan["pack"]["label_voltage_v"] = json!({"cycle": [low, high], "standby": [13.5, 13.8]});
    plan["pack"]["rated_charge_a"] = json!(make.one_of(&[0.2, 0.25, 0.3]) * made.ah);
    plan
}

fn units(make: &mut Maker<'_>, wiring: &str) -> Value {
    let made = make.pack(LITHIUM);
    let each_v = if wiring == "series" { 0.7 * made.full_v } else { 1.3 * made.full_v };
    json!({"pack": made.pack,
        "source": {"kind": "bench_supply", "max_voltage_v": each_v.max(5.0), "max_current_a": make.scaled(0.3, 1.5) * made.amps, "units": 2, "wiring": wiring, "isolated_outputs": true}})
}

fn knob(make: &mut Maker<'_>, of: &[Made], looked_after: bool) -> Value {
    let mut made = make.pack(of);
    if of == PHOSPHATE {
        made.pack["bms"] = json!({"max_charge_a": made.ah, "balances": true});
    }
    let from = make.one_of(&[0.0, 0.0, 0.5, 0.75]);
    let mut source = json!({"kind": "adjustable_supply", "min_voltage_v": (from * made.full_v).round(), "max_voltage_v": (1.2 * made.full_v).round().max(3.0), "max_current_a": make.scaled(0.5, 4.0) * made.amps + 0.2});
    if make.chance(0.5) {
        source["voltage_step_v"] = json!(make.one_of(&[0.01, 0.02, 0.1]));
    }
    let mut plan = json!({"pack": made.pack, "source": source});
    if looked_after {
        plan["visit_every_min"] = json!(make.one_of(&[30, 60, 180, 360]));
    }
    if make.chance(0.5) {
        plan["leads"] = json!({"output": make.lead(made.amps)});
    }
    plan
}

fn limiter(kind: &str, make: &mut Maker<'_>) -> Value {
    let made = make.pack(LEAD);
    let volts = (made.full_v * make.between(1.0, 1.7) * 10.0).round() / 10.0;
    let source = if kind == "wall adapter and lamp" {
        json!({"kind": "wall_adapter", "voltage_v": volts, "max_current_a": make.one_of(&[0.5, 1.0, 2.0]), "open_circuit_v": (volts * make.between(1.1, 1.4) * 10.0).round() / 10.0})
    } else if make.chance(0.5) {
        json!({"kind": "fixed_supply", "voltage_v": volts, "max_current_a": make.one_of(&[3.0, 5.0, 10.0]), "overload": "hiccup"})
    } else {
        json!({"kind": "adjustable_supply", "min_voltage_v": 0, "max_voltage_v": volts, "max_current_a": make.one_of(&[3.0, 5.0, 10.0])})
    };
    let charger = if kind == "resistor" {
        json!({"kind": "resistor", "resistance_ohm": make.scaled(0.5, 30.0), "rated_w": make.one_of(&[5.0, 10.0, 25.0, 50.0, 100.0])})
    } else {
        json!({"kind": "lamp", "lamp_rated_v": make.one_of(&[6.0, 12.0, 24.0]), "lamp_rated_w": make.one_of(&[5.0, 10.0, 21.0, 55.0]), "lamps_in_parallel": make.one_of(&[1, 1, 2])})
    };
    let mut plan = json!({"pack": made.pack, "source": source, "charger": charger});
    if make.chance(0.7) {
        plan["settings"] = json!({"stop_voltage_v": (made.full_v * make.between(0.95, 1.0) * 10.0).round() / 10.0});
    }
    plan
}

fn switch(kind: &str, make: &mut Maker<'_>) -> Value {
    let made = if kind == "switch, lead" {
        make.pack(&[("lead_agm", &[6], (7.0, 100.0), 2.42, 0.15)])
    } else {
        make.capacitors()
    };
    let twelve = json!({"kind": "battery", "chemistry": "lead_agm", "series": 6, "capacity_ah": make.scaled(7.0, 100.0), "soc": 0.9});
    let fixed = json!({"kind": "fixed_supply", "voltage_v": make.one_of(&[12.0, 19.0, 24.0]), "max_current_a": make.one_of(&[5.0, 10.0, 20.0])});
    let source = if make.chance(0.4) { twelve } else { fixed };
    let volts = source["voltage_v"].as_f64().unwrap_or(12.6);
    let duty = ((1.05 * made.full_v / volts).clamp(0.05, 0.98) * 100.0).round() / 100.0;
    let mut charger = json!({"kind": "pwm", "duty": duty, "path_resistance_mohm": make.one_of(&[50, 100, 200, 400])});
    if make.chance(0.5) {
        charger["output_max_a"] = json!(make.one_of(&[4.0, 10.0, 20.0]));
    }
    if make.chance(0.3) {
        charger["diode_drop_v"] = json!(0.5);
    }
    let mut plan = json!({"pack": made.pack, "source": source, "charger": charger, "settings": {"current_a": made.amps, "stop_voltage_v": (made.full_v * 0.98 * 100.0).round() / 100.0}});
    if make.chance(0.5) {
        plan["visit_every_min"] = json!(make.one_of(&[1, 5, 10, 30]));
        plan["cut_off"] = json!({"low_v": (0.9 * made.full_v * 100.0).round() / 100.0, "high_v": (made.full_v * 100.0).round() / 100.0});
    }
    plan
}

fn hobby(make: &mut Maker<'_>, amps: f64, watts: f64) -> Value {
    json!({"kind": "hobby_charger", "output_max_a": (make.scaled(0.5, 4.0) * amps).max(0.5), "output_max_w": (make.scaled(0.5, 3.0) * watts).max(10.0), "input_min_v": make.one_of(&[7.0, 10.0, 11.0]), "input_max_v": 32})
}

fn charger(make: &mut Maker<'_>, overloads: &[&str]) -> Value {
    let made = make.pack(LITHIUM);
    let watts = made.full_v * made.amps;
    let mut pack = made.pack;
    pack["balancer"] = json!("balance_lead");
    let volts = make.one_of(&[12.0, 13.8, 19.0, 24.0]);
    let overload = make.one_of(overloads);
    json!({"pack": pack, "source": make.supply_for(volts, 1.3 * watts, overload), "charger": hobby(make, made.amps, watts), "leads": {"input": make.lead(watts / volts)}})
}

fn module(make: &mut Maker<'_>, has_cc: bool) -> Value {
    let made = if make.chance(0.5) { make.pack(LITHIUM) } else { make.pack(LEAD) };
    let watts = made.full_v * made.amps;
    let buck = make.chance(0.5);
    let volts = if buck { (made.full_v + make.between(2.0, 12.0)).ceil() } else { make.one_of(&[12.0, 19.0, 24.0]) };
    let overload = make.one_of(&["constant_current", "hiccup", "shutdown"]);
    let mut plan = json!({"pack": made.pack, "source": make.supply_for(volts, 1.3 * watts, overload),
        "charger": {"kind": "dc_dc", "topology": if buck { "buck" } else { "buck_boost" }, "has_cc": has_cc, "output_max_a": (make.scaled(0.6, 4.0) * made.amps).max(0.3)}});
    if make.chance(0.3) {
        plan["charger"]["output_max_w"] = json!(make.scaled(0.6, 2.0) * watts);
    }
    if make.chance(0.3) {
        plan["charger"]["input_max_a"] = json!((make.scaled(0.6, 3.0) * watts / volts).max(0.2));
    }
    plan
}
