import { useSyncExternalStore } from "react";
import { keep, readKept } from "../state/kept";
import { ofFields, shaped } from "../state/shape";
import { trimmed } from "./quantity/trimmed";

/** What a person sets once, in this browser. */
export interface Preferences {
  degrees: "°C" | "°F";
  wire: "AWG" | "mm²";
  clock: "24 h" | "12 h";
  /** How a date is written; `system` as the browser does. */
  dates: "system" | "day first" | "year first";
  /** Put after what a charge costs. */
  currency: string;
}

const KEY = "rumek.preferences";
export const USUAL: Preferences = { degrees: "°C", wire: "AWG", clock: "24 h", dates: "system", currency: "" };

const arePreferences = shaped<Partial<Preferences>>(
  ofFields({
    degrees: { enum: ["°C", "°F"] },
    wire: { enum: ["AWG", "mm²"] },
    clock: { enum: ["24 h", "12 h"] },
    dates: { enum: ["system", "day first", "year first"] },
    currency: { type: "string" },
  }),
);

let current: Preferences = stored();
const listeners = new Set<() => void>();

function stored(): Preferences {
  return { ...USUAL, ...readKept(KEY, arePreferences, localStorage) };
}

export const preferences = () => current;

export function prefer(changes: Partial<Preferences>) {
  current = { ...current, ...changes };
  keep(KEY, current, localStorage);
  for (const listener of listeners) listener();
}

/** The same in every window of this browser. */
window.addEventListener("storage", (event) => {
  if (event.key !== KEY) return;
  current = stored();
  for (const listener of listeners) listener();
});

export const usePreferences = () =>
  useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => current,
  );

/** A temperature as a figure in the unit that was set. */
export const inDegrees = (celsius: number) => (current.degrees === "°F" ? celsius * 1.8 + 32 : celsius);

/** A temperature as it is to be read, with its unit. */
export const degrees = (celsius: number, places = 1) => `${trimmed(inDegrees(celsius), places)} ${current.degrees}`;

const TEMPERATURES = /(-?\d+(?:\.\d+)?)(?:( to | and )(-?\d+(?:\.\d+)?))? °C( warmer| a minute)?/g;

/** A sentence of the core with its temperatures in the unit that was set; differences as that. */
export function told(sentence: string): string {
  if (current.degrees === "°C") return sentence;
  return sentence.replace(TEMPERATURES, (_, first: string, between: string | undefined, second: string | undefined, by = "") => {
    const shown = (celsius: string) => trimmed(by ? Number(celsius) * 1.8 : inDegrees(Number(celsius)), 1);
    return `${shown(first)}${second === undefined ? "" : `${between ?? ""}${shown(second)}`} °F${by}`;
  });
}

/** What a charge costs, in the currency that was set. */
export const money = (value: number) => [trimmed(value, 3), current.currency].filter(Boolean).join(" ");
