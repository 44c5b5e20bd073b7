import type { LimitCode, Place, Schemas } from "../api/client";
import { day } from "./clock";
import { trimmed } from "./quantity/parse";

/** What each limit is called, as the owner of the current. */
export const LIMIT_WORDS: Record<LimitCode, string> = {
  pack_rating: "pack's rate",
  temperature: "pack's temperature",
  bms: "BMS",
  balance: "balancers",
  set_current: "current you set",
  set_voltage: "charge voltage",
  nudge: "knob as it stands",
  lead: "lead",
  charger_output_current: "charger's amps",
  charger_output_power: "charger's watts",
  charger_output_voltage: "charger's volts",
  charger_input_current: "charger's input amps",
  charger_input_power: "charger's input watts",
  charger_input_voltage: "charger's input volts",
  limiter: "limiter",
  thermal: "module's heat",
  source_current: "supply's amps",
  source_power: "supply's watts",
  source_voltage: "supply's volts",
  load: "load",
};

/** What taking a limit away would mean. */
export const WITHOUT_WORDS: Record<LimitCode, string> = {
  pack_rating: "Pack rated faster",
  temperature: "Warmer pack",
  bms: "Stronger BMS",
  balance: "Stronger balancers",
  set_current: "No set current",
  set_voltage: "No charge voltage",
  nudge: "A held current",
  lead: "Thicker lead",
  charger_output_current: "Bigger charger",
  charger_output_power: "Bigger charger",
  charger_output_voltage: "Charger: more volts",
  charger_input_current: "Charger: more in",
  charger_input_power: "Charger: more in",
  charger_input_voltage: "Supply: more volts",
  limiter: "No limiter",
  thermal: "Cooler module",
  source_current: "Bigger supply",
  source_power: "Bigger supply",
  source_voltage: "Supply: more volts",
  load: "No load",
};

/** What each place of the chain is called. */
export const PLACE_WORDS: Record<Place, string> = {
  source: "Supply",
  input_lead: "Lead to the charger",
  charger: "Charger",
  cut_off: "Cut-off relay",
  output_lead: "Lead to the pack",
  pack: "Pack",
  load: "Load",
  settings: "Your own settings",
};

export const CHEMISTRY_OPTIONS = [
  { value: "lipo", label: "LiPo" },
  { value: "lihv", label: "LiHV" },
  { value: "li_ion", label: "Li-ion" },
  { value: "lfp", label: "LiFePO₄" },
  { value: "lto", label: "LTO" },
  { value: "sodium_ion", label: "Sodium-ion" },
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
  { value: "adjustable_supply", label: "Adjustable supply" },
  { value: "fixed_supply", label: "Fixed supply" },
  { value: "wall_adapter", label: "Wall adapter" },
  { value: "transformer_rectifier", label: "Transformer, rectified" },
  { value: "battery", label: "Battery" },
  { value: "regulated_port", label: "Power station port" },
  { value: "mains", label: "Wall outlet" },
] as const satisfies readonly { value: Schemas["SourceKind"]; label: string }[];

export const CHARGER_OPTIONS = [
  { value: "hobby_charger", label: "Charger, set by menu" },
  { value: "smart_charger", label: "Charger, all by itself" },
  { value: "dc_dc", label: "Converter module" },
  { value: "linear_module", label: "Linear module" },
  { value: "pwm", label: "PWM stage" },
  { value: "lamp", label: "Lamp" },
  { value: "resistor", label: "Resistor" },
] as const satisfies readonly { value: Schemas["ChargerKind"]; label: string }[];

export const TOPOLOGY_OPTIONS = [
  { value: "buck", label: "buck: down" },
  { value: "boost", label: "boost: up" },
  { value: "buck_boost", label: "buck-boost: both" },
] as const satisfies readonly { value: Schemas["Topology"]; label: string }[];

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

/** A pack's lasting mark, as it is shown beside it. */
export function markWords(pack: Schemas["PackDoc"]): string | undefined {
  if (pack.mark === "retired") return "Retired: not to be charged again.";
  if (pack.mark !== "recovered") return undefined;
  return pack.rated_c_rate == null ? "Recovered." : `Recovered: ${trimmed(pack.rated_c_rate, 2)}C at most.`;
}

const label = (value: number | null | undefined, unit: string, places = 2) =>
  value == null ? undefined : `${trimmed(value, places)} ${unit}`;

/** A supply's voltage as its label says it. */
export function sourceVolts(source: Schemas["SourceDoc"]): string | undefined {
  if (source.kind === "battery") {
    const kind = CHEMISTRY_OPTIONS.find((option) => option.value === source.chemistry)?.label;
    return [source.series && `${source.series}S`, kind].filter(Boolean).join(" ") || undefined;
  }
  if (source.kind === "transformer_rectifier") return label(source.secondary_vac, "V AC", 1);
  if (source.max_voltage_v != null) return `${trimmed(source.min_voltage_v ?? 0, 2)}–${trimmed(source.max_voltage_v, 2)} V`;
  return label(source.voltage_v, "V");
}

/** A supply in a few words, from what its document says. */
export function sourceWords(source: Schemas["SourceDoc"]): string {
  const holds = source.kind === "battery" ? label(source.capacity_ah, "Ah") : undefined;
  const volts = source.kind === "mains" ? "wall outlet" : sourceVolts(source);
  const parts = [volts, holds, label(source.max_current_a, "A"), label(source.max_power_w, "W", 0), label(source.rated_va, "VA", 0)];
  return parts.filter(Boolean).join(" · ");
}

/** A charger in a few words, from what its document says. */
export function chargerWords(charger: Schemas["ChargerDoc"]): string {
  const kind = CHARGER_OPTIONS.find((option) => option.value === charger.kind)?.label;
  const topology = charger.kind === "dc_dc" ? charger.topology?.replace("_", "-") : undefined;
  const duty = charger.duty == null ? undefined : `duty ${trimmed(charger.duty * 100, 0)} %`;
  const lamp = charger.kind === "lamp" ? [label(charger.lamp_rated_v, "V", 1), label(charger.lamp_rated_w, "W", 0)] : [];
  const parts = [topology ?? kind, ...lamp, label(charger.resistance_ohm, "Ω"), duty, label(charger.output_max_a, "A"), label(charger.output_max_w, "W", 0)];
  return parts.filter(Boolean).join(" · ");
}

/** A wire's gauge as it is written. */
export function gaugeWords(lead: Schemas["LeadDoc"]): string | undefined {
  if (lead.awg != null) return lead.awg < 0.5 ? `${trimmed(1 - lead.awg, 0)}/0 AWG` : `${trimmed(lead.awg, 0)} AWG`;
  return label(lead.area_mm2, "mm²");
}

/** A lead in a few words, from what its document says. */
export function leadWords(lead: Schemas["LeadDoc"]): string {
  const fuse = lead.fuse_a == null ? "no fuse" : `${trimmed(lead.fuse_a, 1)} A fuse`;
  return [gaugeWords(lead), label(lead.length_m, "m"), fuse].filter(Boolean).join(" · ");
}

/** When something was saved, in the reader's own time. */
export const shownDate = (iso: string) => day(new Date(iso));

