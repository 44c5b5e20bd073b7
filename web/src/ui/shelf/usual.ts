import type { PackDoc, SourceDoc } from "../../api/client";

/** Things as they are usually sold, to begin with: what the label at hand says is typed over them. */
export interface Usual<D> {
  label: string;
  document: D;
}

export const USUAL_PACKS: readonly Usual<PackDoc>[] = [
  { label: "LiPo, 3S 2200 mAh", document: { chemistry: "lipo", series: 3, capacity_ah: 2.2, balancer: "balance_lead" } },
  { label: "LiPo, 4S 5000 mAh", document: { chemistry: "lipo", series: 4, capacity_ah: 5, balancer: "balance_lead" } },
  { label: "LiPo, 6S 5000 mAh", document: { chemistry: "lipo", series: 6, capacity_ah: 5, balancer: "balance_lead" } },
  { label: "Li-ion tool battery, 18 V 4 Ah", document: { chemistry: "li_ion", series: 5, capacity_ah: 4 } },
  { label: "Li-ion, 36 V 10 Ah with a BMS", document: { chemistry: "li_ion", series: 10, capacity_ah: 10, balancer: "built_in" } },
  { label: "LiFePO₄, 12.8 V 20 Ah with a BMS", document: { chemistry: "lfp", series: 4, capacity_ah: 20, balancer: "built_in" } },
  { label: "LiFePO₄, 12.8 V 100 Ah with a BMS", document: { chemistry: "lfp", series: 4, capacity_ah: 100, balancer: "built_in" } },
  { label: "NiMH, 8 cells 2000 mAh", document: { chemistry: "nimh", series: 8, capacity_ah: 2 } },
  { label: "Lead AGM, 12 V 7 Ah", document: { chemistry: "lead_agm", series: 6, capacity_ah: 7 } },
  { label: "Lead, flooded, 12 V 60 Ah", document: { chemistry: "lead_flooded", series: 6, capacity_ah: 60 } },
];

export const USUAL_SOURCES: readonly Usual<SourceDoc>[] = [
  { label: "Bench supply, 30 V 5 A", document: { kind: "bench_supply", min_voltage_v: 0, max_voltage_v: 30, max_current_a: 5 } },
  { label: "Bench supply, 30 V 10 A", document: { kind: "bench_supply", min_voltage_v: 0, max_voltage_v: 30, max_current_a: 10 } },
  { label: "Bench supply, 60 V 5 A", document: { kind: "bench_supply", min_voltage_v: 0, max_voltage_v: 60, max_current_a: 5 } },
  { label: "Laptop adapter, 19.5 V 90 W", document: { kind: "wall_adapter", voltage_v: 19.5, max_power_w: 90 } },
  { label: "Wall adapter, 12 V 2 A", document: { kind: "wall_adapter", voltage_v: 12, max_current_a: 2 } },
  { label: "Fixed supply, 13.8 V 20 A", document: { kind: "fixed_supply", voltage_v: 13.8, max_current_a: 20 } },
  { label: "Fixed supply, 24 V 15 A", document: { kind: "fixed_supply", voltage_v: 24, max_current_a: 15 } },
  { label: "Field battery, 12 V 60 Ah AGM", document: { kind: "battery", chemistry: "lead_agm", series: 6, capacity_ah: 60 } },
];
