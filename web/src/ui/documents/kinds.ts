import type { ChargerDoc, PackDoc, SourceDoc } from "../../api/client";

/** A pack of another chemistry: fields that only the old one had go, the rest stays. */
export function withChemistry(pack: PackDoc, chemistry: PackDoc["chemistry"]): PackDoc {
  const { capacity_ah, energy_wh, capacitance_f, capacitance_spread, cell, ...rest } = pack;
  if (chemistry === "supercap") return { ...rest, chemistry, capacitance_f, capacitance_spread };
  return { ...rest, chemistry, capacity_ah, energy_wh, ...(chemistry === "custom" ? { cell } : {}) };
}

/** A supply of another kind: its voltage moves to the field that kind has, what only the old one had goes. */
export function withKind(source: SourceDoc, kind: SourceDoc["kind"]): SourceDoc {
  const { name, notes, max_current_a, max_power_w, units, wiring, isolated_outputs, meters } = source;
  const kept = { name, notes, kind, max_current_a, max_power_w, units, wiring, isolated_outputs, meters };
  const volts = source.max_voltage_v ?? source.voltage_v;
  switch (kind) {
    case "bench_supply":
    case "adjustable_supply":
      return { ...kept, min_voltage_v: source.min_voltage_v, max_voltage_v: volts, voltage_step_v: source.voltage_step_v };
    case "battery":
      return { name, notes, kind, chemistry: source.chemistry, series: source.series, capacity_ah: source.capacity_ah };
    case "transformer_rectifier":
      return { name, notes, kind, secondary_vac: source.secondary_vac, rated_va: source.rated_va };
    case "mains":
      return { name, notes, kind };
    default:
      return { ...kept, voltage_v: volts };
  }
}

/** A charger of another kind keeps its name and, where the new kind has one, its output rating. */
export function withChargerKind(charger: ChargerDoc, kind: ChargerDoc["kind"]): ChargerDoc {
  const { name, notes, output_max_a, output_max_w, input_min_v, input_max_v, meters } = charger;
  const active = { name, notes, kind, output_max_a, input_min_v, input_max_v, meters };
  switch (kind) {
    case "lamp":
    case "resistor":
    case "pwm":
      return { name, notes, kind };
    case "linear_module":
      return active;
    default:
      return { ...active, output_max_w };
  }
}
