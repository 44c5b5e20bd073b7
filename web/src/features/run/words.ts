import { degrees } from "../../ui/preferences";
import type { ResultDoc, Schemas } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";
import { shownDate } from "../../ui/words";

export const END_OPTIONS = [
  { value: "done", label: "as planned" },
  { value: "by_hand", label: "by hand, early" },
  { value: "fault", label: "something was wrong" },
] as const satisfies readonly { value: Schemas["RunEnd"]; label: string }[];

type Reading = Schemas["RunReadingDoc"];

/** What was read, and where. */
export function readingWords(reading: Reading, down = false): string {
  const volts = (value: number | null | undefined, where: string) => value != null && `${trimmed(value, 3)} V ${where}`;
  const amps = (value: number | null | undefined, where: string) => value != null && `${trimmed(value, 3)} A ${where}`;
  const parts = [
    volts(reading.terminal_v, "terminals"),
    amps(reading.terminal_a, down ? "out of the pack" : "into the pack"),
    volts(reading.source_v, "supply"),
    amps(reading.source_a, "supply"),
    volts(reading.charger_v, "charger"),
    amps(reading.charger_a, "charger"),
    reading.charger_ah != null && `${trimmed(reading.charger_ah, 3)} Ah charger`,
    volts(reading.bms_v, "BMS"),
    amps(reading.bms_a, "BMS"),
    reading.cell_voltages_v && `cells ${reading.cell_voltages_v.map((v) => trimmed(v, 3)).join(" ")} V`,
    reading.temperature_c != null && degrees(reading.temperature_c),
    volts(reading.set_v, "set"),
    reading.sure === true && "read twice",
    reading.note,
  ];
  return parts.filter(Boolean).join(" · ");
}

/** Volts and amps at the pack, as far as a reading has them, for the chart. */
export function atPack(reading: Reading): { volts: number | undefined; amps: number | undefined } {
  const sum = reading.cell_voltages_v?.reduce((all, v) => all + v, 0);
  return {
    volts: reading.terminal_v ?? sum ?? reading.bms_v ?? reading.charger_v ?? reading.source_v ?? undefined,
    amps: reading.terminal_a ?? reading.bms_a ?? reading.charger_a ?? reading.source_a ?? undefined,
  };
}

/** Whether a run takes charge out of its pack: it says into what, or its plan came to that. */
export const runsDown = (document: Schemas["RunDoc"]) => document.discharge != null || (document.result as ResultDoc | undefined)?.discharge != null;

/** Whether charge came out of its pack, by what every list of runs has. */
export const wentOut = (document: Schemas["RunDoc"]) => document.discharge != null || (document.charge_ah ?? 0) < 0;

/** A current without its sign: of a discharge every display shows it as it likes. */
export const unsigned = <T extends { current_a: number }>(points: readonly T[]): T[] => points.map((point) => ({ ...point, current_a: Math.abs(point.current_a) }));

/** What went in, or came out. */
export const movedWords = (ah: number) => `${trimmed(Math.abs(ah), 2)} Ah ${ah < 0 ? "out" : "in"}`;

/** A large number as it is read at a glance. */
export const countWords = (count: number) => count.toLocaleString("en").replaceAll(",", " ");

export function stateWords(document: Schemas["RunDoc"]): string {
  if (!document.ended_at) return "going on";
  const how = END_OPTIONS.find(({ value }) => value === document.end)?.label ?? (document.log_name ? "a log" : "ended");
  return `${shownDate(document.started_at ?? "")}, ${how}`;
}
