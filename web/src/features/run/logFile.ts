import type { Schemas } from "../../api/client";

/** So much of a file is looked at, bytes. */
const LOOKED_AT = 48_000;

export interface LogFile {
  file: File;
  /** Its first bytes, as Base64: how they are written is the server's to find out. */
  base64: string;
  /** Whether those are all of it. */
  whole: boolean;
}

/** The beginning of a file. */
export async function beginning(file: File): Promise<LogFile> {
  const bytes = new Uint8Array(await file.slice(0, LOOKED_AT).arrayBuffer());
  const base64 = btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(""));
  return { file, base64, whole: file.size <= LOOKED_AT };
}

export const sizeWords = (bytes: number) => (bytes < 1e6 ? `${Math.max(1, Math.round(bytes / 1e3))} kB` : `${(bytes / 1e6).toFixed(1)} MB`);

type Options<T extends string> = readonly { value: T; label: string }[];

export const DELIMITERS: Options<Schemas["LogDelimiter"]> = [
  { value: "comma", label: "comma ," },
  { value: "semicolon", label: "semicolon ;" },
  { value: "tab", label: "tabulator" },
  { value: "bar", label: "bar |" },
  { value: "blanks", label: "blanks" },
];
export const DECIMALS: Options<Schemas["LogDecimal"]> = [
  { value: "point", label: "point, 3.7" },
  { value: "comma", label: "comma, 3,7" },
];
export const TIMES: Options<Schemas["LogTime"]> = [
  { value: "seconds", label: "seconds from its start" },
  { value: "minutes", label: "minutes from its start" },
  { value: "hours", label: "hours from its start" },
  { value: "milliseconds", label: "milliseconds from its start" },
  { value: "clock", label: "clock, 1:02:03" },
  { value: "clock_minutes", label: "clock, 14:20 (hours and minutes)" },
  { value: "unix_seconds", label: "seconds since 1970" },
  { value: "unix_milliseconds", label: "milliseconds since 1970" },
  { value: "year_first", label: "date, year first" },
  { value: "day_first", label: "date, day first" },
  { value: "month_first", label: "date, month first" },
];
export const COLUMNS: Options<Schemas["LogColumn"]> = [
  { value: "ignored", label: "not used" },
  { value: "time", label: "time" },
  { value: "date", label: "date" },
  { value: "terminal_v", label: "volts, terminals" },
  { value: "terminal_a", label: "amps into the pack" },
  { value: "discharge_a", label: "amps out of the pack" },
  { value: "power_w", label: "watts into the pack" },
  { value: "charger_v", label: "volts, charger" },
  { value: "charger_a", label: "amps, charger" },
  { value: "charger_ah", label: "charge counted" },
  { value: "source_v", label: "volts, supply" },
  { value: "source_a", label: "amps, supply" },
  { value: "bms_v", label: "volts, BMS" },
  { value: "bms_a", label: "amps, BMS" },
  { value: "cell_v", label: "volts, cell" },
  { value: "temperature_c", label: "temperature" },
  { value: "note", label: "note" },
];

const UNITS: Record<string, readonly Schemas["LogUnit"][]> = {
  v: ["V", "mV"],
  a: ["A", "mA"],
  w: ["W"],
  ah: ["Ah", "mAh"],
  c: ["°C", "°F"],
};

/** What a column of this kind may count in. */
export const unitsOf = (is: Schemas["LogColumn"]) => UNITS[is.split("_").at(-1) ?? ""] ?? [];

type Column = Schemas["LogColumnDoc"];

/** The columns with one of them made something else; what held the same before is given up. */
export function withMeaning(columns: readonly Column[], at: number, is: Schemas["LogColumn"]): Column[] {
  const cells = columns.filter((column, k) => k !== at && column.is === "cell_v").length;
  const [unit] = unitsOf(is);
  return columns.map((column, k) => {
    if (k === at) return { is, ...(unit === undefined ? {} : { unit }), ...(is === "cell_v" ? { cell: cells + 1 } : {}) };
    return is !== "ignored" && is !== "cell_v" && column.is === is ? { is: "ignored" } : column;
  });
}
