import type { Place, Schemas } from "../../api/client";
import { CHEMISTRY_OPTIONS } from "../words";
import { capital } from "./capital";

type Problem = Schemas["FieldProblem"];

const PARTS: readonly [string, Place, string][] = [
  ["/leads/input", "input_lead", "the lead to the charger"],
  ["/leads/output", "output_lead", "the lead to the pack"],
  ["/source", "source", "the supply"],
  ["/visit_every_min", "source", "how often you look"],
  ["/attended_first_min", "source", "how long you stay at first"],
  ["/mains", "source", "the outlet"],
  ["/meters", "source", "what its display shows"],
  ["/charger", "charger", "the charger"],
  ["/cut_off", "cut_off", "the cut-off relay"],
  ["/other_packs", "pack", "the other packs"],
  ["/pack/bms", "pack", "the pack’s BMS"],
  ["/pack/cell", "pack", "the cell"],
  ["/pack", "pack", "the pack"],
  ["/load", "load", "the load"],
  ["/settings", "settings", "your own settings"],
];

/** What a field of a document is called where that is not its name with its unit taken off. */
const WORDS: Record<string, string> = {
  kind: "kind",
  min_voltage_v: "lowest voltage",
  max_voltage_v: "highest voltage",
  max_current_a: "rated amps",
  max_power_w: "rated watts",
  output_max_a: "most amps",
  output_max_v: "highest voltage",
  output_max_w: "most watts",
  input_min_v: "lowest input voltage",
  input_max_v: "highest input voltage",
  input_max_a: "most input amps",
  input_max_w: "most input watts",
  label_v: "voltage on the label",
  capacity_ah: "capacity",
  energy_wh: "energy",
  capacitance_f: "capacitance",
  series: "cells in series",
  soc: "state of charge",
  secondary_vac: "secondary volts",
  open_vac: "open secondary volts",
  rated_va: "rated VA",
  rated_w: "rated watts",
  awg: "wire gauge",
  area_mm2: "cross-section",
  length_m: "length, one way",
  fuse_a: "fuse",
  fuse_v: "fuse’s volts",
  duty: "duty",
  path_resistance_mohm: "path resistance",
  low_v: "lower threshold",
  high_v: "upper threshold",
};

const UNITS = /_(v|a|ah|w|wh|mohm|ohm|f|uf|hz|va|vac|s|min|h|m|mm2|c|c_rate|v_per_cell)$/;

/** The stage a problem belongs to; none where it is the whole plan's. */
export const placeOf = (pointer: string): Place | undefined => PARTS.find(([start]) => pointer.startsWith(start))?.[1];

const nameWords = (name: string) => WORDS[name] ?? name.replace(UNITS, "").replaceAll("_", " ");

/** Names and codes of documents within a sentence, in words: `label_v` is the voltage on the label. */
const inWords = (text: string) =>
  text.replaceAll(/\b[a-z]+(?:_[a-z0-9]+)+\b/g, (code) => CHEMISTRY_OPTIONS.find(({ value }) => value === code)?.label ?? nameWords(code));

/** A field of a plan in the words of its form, such as “the supply, lowest voltage”. */
export function fieldWords(pointer: string): string {
  const part = PARTS.find(([start]) => pointer.startsWith(start));
  const rest = pointer.slice(part?.[0].length ?? 0).split("/").filter((name) => name !== "" && !/^\d+$/.test(name));
  const name = rest.at(-1);
  const field = name === undefined ? undefined : nameWords(name);
  return [part?.[2] ?? (field === undefined ? "the plan" : undefined), field].filter(Boolean).join(", ");
}

/** What is wrong with a value and what is allowed, as one sentence each. */
export const wrongWords = ({ message, allowed }: Pick<Problem, "message" | "allowed">) =>
  inWords(`${capital(message)}. Allowed: ${allowed}.`);

/** The same with the field's name before it; `whole`: what the document is where all of it is meant. */
export const problemWords = (problem: Problem, whole?: string) =>
  `${capital(problem.pointer === "" && whole !== undefined ? whole : fieldWords(problem.pointer))}: ${wrongWords(problem)}`;
