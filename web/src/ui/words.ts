import type { LimitCode, Schemas } from "../api/client";
import { trimmed } from "./quantity/parse";

/** What each limit is called, as the owner of the current. */
export const LIMIT_WORDS: Record<LimitCode, string> = {
  pack_rating: "pack's rate",
  bms: "BMS",
  set_current: "current you set",
  set_voltage: "charge voltage",
  source_current: "supply's amps",
  source_power: "supply's watts",
  source_voltage: "supply's volts",
  load: "load",
};

/** What taking a limit away would mean. */
export const WITHOUT_WORDS: Record<LimitCode, string> = {
  pack_rating: "Pack rated faster",
  bms: "Stronger BMS",
  set_current: "No set current",
  set_voltage: "No charge voltage",
  source_current: "More amps",
  source_power: "More watts",
  source_voltage: "More volts",
  load: "No load",
};

export const CHEMISTRY_OPTIONS = [
  { value: "lipo", label: "LiPo" },
  { value: "lihv", label: "LiHV" },
  { value: "li_ion", label: "Li-ion" },
  { value: "lfp", label: "LiFePO₄" },
  { value: "lto", label: "LTO" },
  { value: "nimh", label: "NiMH" },
  { value: "nicd", label: "NiCd" },
  { value: "lead_flooded", label: "Lead, flooded" },
  { value: "lead_agm", label: "Lead, AGM" },
  { value: "lead_gel", label: "Lead, gel" },
  { value: "supercap", label: "Supercapacitor" },
  { value: "custom", label: "Custom cell" },
] as const satisfies readonly { value: Schemas["Chemistry"]; label: string }[];

export const KIND_OPTIONS = [
  { value: "bench_supply", label: "Bench supply" },
  { value: "fixed_supply", label: "Fixed supply" },
] as const satisfies readonly { value: Schemas["SourceKind"]; label: string }[];

/** What a supply does when asked for more than it has. */
export const OVERLOAD_OPTIONS = [
  { value: "constant_current", label: "holds its current" },
  { value: "foldback", label: "folds back" },
  { value: "hiccup", label: "stops and tries again" },
  { value: "shutdown", label: "shuts down" },
  { value: "unprotected", label: "is unprotected" },
] as const satisfies readonly { value: Schemas["Overload"]; label: string }[];

/** A pack in a few words, from what its document says. */
export function packWords(pack: Schemas["PackDoc"]): string {
  const cells = pack.series ? `${pack.series}S` : pack.label_v ? `${trimmed(pack.label_v, 1)} V` : undefined;
  const holds = pack.capacity_ah
    ? `${trimmed(pack.capacity_ah, 3)} Ah`
    : pack.energy_wh
      ? `${trimmed(pack.energy_wh, 1)} Wh`
      : pack.capacitance_f
        ? `${trimmed(pack.capacitance_f, 0)} F`
        : undefined;
  const kind = CHEMISTRY_OPTIONS.find((option) => option.value === pack.chemistry)?.label;
  return [cells, holds, kind].filter(Boolean).join(" · ");
}

/** A supply in a few words, from what its document says. */
export function sourceWords(source: Schemas["SourceDoc"]): string {
  const volts =
    source.kind === "fixed_supply"
      ? source.voltage_v && `${trimmed(source.voltage_v, 2)} V`
      : source.max_voltage_v && `${trimmed(source.min_voltage_v ?? 0, 2)}–${trimmed(source.max_voltage_v, 2)} V`;
  const amps = source.max_current_a && `${trimmed(source.max_current_a, 2)} A`;
  const watts = source.max_power_w && `${trimmed(source.max_power_w, 0)} W`;
  return [volts, amps, watts].filter(Boolean).join(" · ");
}

/** When something was saved, in the reader's own time. */
export const shownDate = (iso: string) =>
  new Date(iso).toLocaleDateString(undefined, { day: "numeric", month: "short", year: "numeric" });

