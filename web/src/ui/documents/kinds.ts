import type { PackDoc, SourceDoc } from "../../api/client";

/** A pack of another chemistry: fields that only the old one had go, the rest stays. */
export function withChemistry(pack: PackDoc, chemistry: PackDoc["chemistry"]): PackDoc {
  const { capacity_ah, energy_wh, capacitance_f, capacitance_spread, cell, ...rest } = pack;
  if (chemistry === "supercap") return { ...rest, chemistry, capacitance_f, capacitance_spread };
  return { ...rest, chemistry, capacity_ah, energy_wh, ...(chemistry === "custom" ? { cell } : {}) };
}

/** A supply of another kind: its voltage moves to the field that kind has. */
export function withKind(source: SourceDoc, kind: SourceDoc["kind"]): SourceDoc {
  const { voltage_v, min_voltage_v, max_voltage_v, voltage_step_v, ...rest } = source;
  const volts = max_voltage_v ?? voltage_v;
  if (kind === "fixed_supply") return { ...rest, kind, voltage_v: volts };
  return { ...rest, kind, min_voltage_v, max_voltage_v: volts, voltage_step_v };
}
