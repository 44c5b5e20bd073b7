import { degrees, preferences } from "../preferences";
import { trimmed } from "./trimmed";

export { trimmed };

/**
 * Quantities as people write them. The same rules as the core's `units`; both suites run
 * `docs/formats/quantities.csv`.
 */
export type Kind =
  | "voltage"
  | "current"
  | "charge"
  | "energy"
  | "power"
  | "resistance"
  | "capacitance"
  | "temperature"
  | "hours"
  | "fraction"
  | "rate"
  | "count"
  | "number"
  | "gauge"
  | "area"
  | "length";

const SUFFIXES: Record<Kind, Record<string, number>> = {
  voltage: { v: 1, mv: 1e-3, kv: 1e3, volt: 1, volts: 1 },
  current: { a: 1, ma: 1e-3, amp: 1, amps: 1 },
  charge: { ah: 1, mah: 1e-3 },
  energy: { wh: 1, kwh: 1e3, mwh: 1e-3 },
  power: { w: 1, mw: 1e-3, kw: 1e3, watt: 1, watts: 1 },
  resistance: { mω: 1, mohm: 1, ω: 1e3, ohm: 1e3 },
  capacitance: { f: 1, kf: 1e3, mf: 1e-3 },
  temperature: { "°c": 1, c: 1, "°": 1 },
  hours: { h: 1, min: 1 / 60, s: 1 / 3600 },
  fraction: { "%": 0.01 },
  rate: { c: 1 },
  count: { s: 1, p: 1 },
  number: {},
  gauge: { awg: 1, ga: 1 },
  area: { "mm²": 1, mm2: 1 },
  length: { m: 1, cm: 0.01, mm: 1e-3 },
};

const EXAMPLES: Record<Kind, string> = {
  voltage: "volts, such as 25.2 V or 850 mV",
  current: "amps, such as 4 A or 350 mA",
  charge: "a capacity, such as 4 Ah or 4000 mAh",
  energy: "an energy, such as 74 Wh",
  power: "watts, such as 90 W",
  resistance: "a resistance, such as 12 mΩ",
  capacitance: "a capacitance, such as 3000 F",
  temperature: "a temperature, such as 20 °C",
  hours: "a time, such as 1h30, 90 min or 1.5 h",
  fraction: "a share, such as 80 % or 0.8",
  rate: "a rate, such as 1C or 0.5",
  count: "a whole number",
  number: "a number, such as 0.30",
  gauge: "a gauge, such as 16 AWG or 2/0",
  area: "a cross-section, such as 2.5 mm²",
  length: "a length, such as 1.5 m or 30 cm",
};

export type Parsed = { value: number } | { wrong: string };

export function parse(kind: Kind, text: string): Parsed {
  const compact = text.trim().toLowerCase().replaceAll(/\s/g, "").replaceAll("−", "-").replaceAll(/[Ω\u2126]/g, "ω");
  const fahrenheit = kind === "temperature" && preferences().degrees === "°F";
  const wrong = { wrong: `Write ${fahrenheit ? "a temperature, such as 68 °F" : EXAMPLES[kind]}.` };
  // A rate's two ends: the upper one counts.
  const ends = kind === "rate" ? /^([\d.,]+)c?[-–]([\d.,]+)c?$/.exec(compact) : null;
  if (ends) return parse("rate", ends[2] ?? "");
  if (kind === "hours") {
    const value = hoursAndMinutes(compact);
    if (value !== undefined) return { value };
  }
  // 1/0, 2/0 … are the gauges thicker than 1.
  const noughts = /^([1-4])\/0(awg)?$/.exec(compact)?.[1];
  if (kind === "gauge" && noughts !== undefined) return { value: 1 - Number(noughts) };
  const [, digits = "", suffix = ""] = /^([-+0-9.,'’]*)(.*)$/.exec(compact) ?? [];
  const read = written(digits, suffix, kind);
  if (read === undefined) return wrong;
  if (typeof read !== "number") {
    return { wrong: `${digits} may be ${trimmed(read.grouped, 0)} or ${trimmed(read.decimal, 3)}: write one of them.` };
  }
  const number = read;
  let value = number;
  // A bare number is in the unit that is shown.
  const bare = suffix === "" || suffix === "°";
  if (kind === "temperature" && (suffix === "f" || suffix === "°f" || (bare && fahrenheit))) value = (number - 32) / 1.8;
  else if (suffix !== "") {
    const factor = SUFFIXES[kind][suffix];
    if (factor === undefined) return { wrong: `${otherKind(kind, suffix)}${wrong.wrong}` };
    value = number * factor;
  } else if (kind === "fraction" && number > 1) value = number / 100;
  if (!Number.isFinite(value) || ((kind === "count" || kind === "gauge") && !Number.isInteger(value))) return wrong;
  return { value };
}

const NAMES: Partial<Record<Kind, string>> = {
  voltage: "volts",
  current: "amps",
  charge: "a capacity",
  energy: "an energy",
  power: "watts",
  rate: "a rate",
  temperature: "a temperature",
};

/** What a unit belongs to instead, in words. */
function otherKind(kind: Kind, suffix: string): string {
  const other = (Object.keys(NAMES) as Kind[]).find((one) => one !== kind && suffix in SUFFIXES[one]);
  return other === undefined ? "" : `“${suffix === "c" ? "C" : suffix}” is for ${NAMES[other] ?? ""}. `;
}

const EITHER = new Set<Kind>(["charge", "energy", "power", "capacitance"]);
const THOUSANDTHS = new Set(["mah", "ma", "mv", "mw", "mwh"]);

/**
 * What digits with points, commas or apostrophes among them mean before a unit: a number, two numbers that
 * they may mean (`5,000`), or nothing. The same rules as the core's `units::written`.
 */
function written(digits: string, suffix: string, kind: Kind): number | { grouped: number; decimal: number } | undefined {
  const plain = digits.replaceAll(/['’]/g, "");
  const sign = plain.startsWith("-") ? -1 : 1;
  const body = plain.replace(/^[-+]/, "");
  const value = (text: string) => (/^(\d+\.?\d*|\.\d+)$/.test(text) ? sign * Number(text) : undefined);
  const marks = body.match(/[.,]/g) ?? [];
  const mark = marks.at(-1);
  if (mark === undefined) return value(body);
  const last = body.lastIndexOf(mark);
  const [before, after] = [body.slice(0, last), body.slice(last + 1)];
  const [first = "", ...groups] = body.split(/[.,]/);
  const inThrees = (some: string[]) => some.every((group) => group.length === 3);
  const thousands = inThrees(groups) && first.length >= 1 && first.length <= 3;
  const grouped = value(body.replaceAll(/[.,]/g, ""));
  if (marks.length > 1) {
    if (!before.includes(mark)) {
      const [, ...rest] = before.split(/[.,]/);
      return inThrees(rest) ? value(`${before.replaceAll(/[.,]/g, "")}.${after}`) : undefined;
    }
    return thousands && marks.every((one) => one === mark) ? grouped : undefined;
  }
  const decimal = value(`${before}.${after}`);
  if (decimal === undefined || grouped === undefined || !thousands || before === "0") return decimal;
  if (THOUSANDTHS.has(suffix)) return grouped;
  return mark === "," && EITHER.has(kind) ? { grouped, decimal } : decimal;
}

/** `1h30`, `1:30`, `1h30min`. */
function hoursAndMinutes(text: string): number | undefined {
  const match = /^(\d+(?:\.\d+)?)[h:](\d+(?:\.\d+)?)m?(?:in)?$/.exec(text);
  const minutes = Number(match?.[2]);
  return match && minutes < 60 ? Number(match[1]) + minutes / 60 : undefined;
}


/** A time as `43 min` or `1 h 02`. */
export function showHours(hours: number): string {
  const minutes = Math.max(0, Math.round(hours * 60));
  if (minutes < 60) return `${minutes} min`;
  return `${Math.floor(minutes / 60)} h ${String(minutes % 60).padStart(2, "0")}`;
}

export const showSeconds = (seconds: number) => showHours(seconds / 3600);

const SHOWN: Record<Kind, (value: number) => string> = {
  voltage: (v) => `${trimmed(v, 3)} V`,
  current: (v) => `${trimmed(v, 3)} A`,
  charge: (v) => `${trimmed(v, 3)} Ah`,
  energy: (v) => `${trimmed(v, 2)} Wh`,
  power: (v) => `${trimmed(v, 2)} W`,
  resistance: (v) => `${trimmed(v, 2)} mΩ`,
  capacitance: (v) => `${trimmed(v, 2)} F`,
  temperature: (v) => degrees(v),
  hours: showHours,
  fraction: (v) => `${trimmed(v * 100, 1)} %`,
  rate: (v) => `${trimmed(v, 3)}C`,
  count: (v) => trimmed(v, 0),
  number: (v) => trimmed(v, 4),
  gauge: (v) => (v < 0.5 ? `${trimmed(1 - v, 0)}/0 AWG` : `${trimmed(v, 0)} AWG`),
  area: (v) => `${trimmed(v, 2)} mm²`,
  length: (v) => `${trimmed(v, 2)} m`,
};

/** Shows a value normalised, with its unit. */
export const show = (kind: Kind, value: number) => SHOWN[kind](value);
