import type { MatchDoc, Schemas } from "../../api/client";

export type Cell = Schemas["MatchCellDoc"];

/** What a pasted table's columns are called, in any wording. */
const COLUMNS: { is: keyof Cell | "pack" | "group"; named: RegExp }[] = [
  { is: "id", named: /^(id|cell|name|no\.?|nr\.?|number|#)$/i },
  { is: "self_discharge_mv_per_day", named: /self|leak|loss|mv\s*\/?\s*(d|day)/i },
  { is: "capacity_ah", named: /cap|ah/i },
  { is: "resistance_mohm", named: /res|ohm|mω|ir\b/i },
  { is: "voltage_v", named: /volt|^v$|ocv/i },
  { is: "welded_with", named: /weld|tab/i },
  { is: "pack", named: /^pack|sits/i },
  { is: "group", named: /group|position|series/i },
];

/** The order of columns where nobody names them. */
const USUAL: (keyof Cell | "pack" | "group")[] = ["id", "capacity_ah", "resistance_mohm", "voltage_v", "self_discharge_mv_per_day", "pack", "group", "welded_with"];

/** A number with or without its unit; a word is none. */
function number(text: string): number {
  const bare = text.trim().replace(",", ".").replace(/\s*[a-zΩ/%]+$/i, "");
  return bare === "" ? NaN : Number(bare);
}

/** Reads cells out of a table as it is typed or pasted: a line a cell, parted by tabulators, semicolons or blanks. */
export function readCells(text: string): { cells: Cell[]; wrong: string[] } {
  const lines = text.split(/\r?\n/).filter((line) => line.trim() !== "");
  const parting = lines.some((line) => line.includes("\t")) ? /\t/ : lines.some((line) => line.includes(";")) ? /;/ : lines.some((line) => /,\s/.test(line)) ? /,\s+/ : /\s+/;
  const rows = lines.map((line) => line.trim().split(parting).map((field) => field.trim()));
  const [first] = rows;
  const headed = first !== undefined && first.slice(1).every((field) => field === "" || Number.isNaN(number(field)) || /^[a-z]/i.test(field));
  const columns = headed ? first.map((name) => COLUMNS.find(({ named }) => named.test(name))?.is) : USUAL;
  const milli = headed && first.some((name) => /mah/i.test(name));
  const cells: Cell[] = [];
  const wrong: string[] = [];
  for (const row of headed ? rows.slice(1) : rows) {
    const at = (is: (typeof USUAL)[number]) => {
      const field = row[columns.indexOf(is)];
      return field === undefined || field === "" || field === "-" || field === "–" ? undefined : field;
    };
    const id = at("id") ?? String(cells.length + 1);
    const quantity = (is: keyof Cell) => {
      const field = at(is);
      if (field === undefined) return undefined;
      const value = number(field);
      if (Number.isFinite(value)) return value;
      wrong.push(`${id}: “${field}” is no number.`);
      return undefined;
    };
    const raw = quantity("capacity_ah");
    if (raw === undefined) {
      wrong.push(`${id}: its capacity is missing.`);
      continue;
    }
    // Nobody means a cell of hundreds of amp-hours here: such numbers are milliamp-hours.
    const capacity_ah = milli || raw >= 100 ? raw / 1000 : raw;
    const [pack, group, welded] = [at("pack"), at("group"), at("welded_with")];
    const [resistance_mohm, voltage_v, leaks] = [quantity("resistance_mohm"), quantity("voltage_v"), quantity("self_discharge_mv_per_day")];
    cells.push({
      id,
      capacity_ah,
      ...(resistance_mohm === undefined ? {} : { resistance_mohm }),
      ...(voltage_v === undefined ? {} : { voltage_v }),
      ...(leaks === undefined ? {} : { self_discharge_mv_per_day: leaks }),
      ...(welded === undefined ? {} : { welded_with: welded.split(/[+,\s]+/) }),
      ...(pack !== undefined && group !== undefined ? { sits: { pack, group: number(group) } } : {}),
    });
  }
  return { cells, wrong };
}

/** Packs as they are typed: a name and S and P, such as `lamp 4S6P`, one a line. */
export function readPacks(text: string): { packs: NonNullable<MatchDoc["packs"]>; wrong: string[] } {
  const packs = [];
  const wrong = [];
  for (const line of text.split(/\r?\n|,/).filter((line) => line.trim() !== "")) {
    const found = /^(.*?)\s*(\d+)\s*s\s*(?:(\d+)\s*p)?\s*$/i.exec(line.trim());
    if (found) packs.push({ name: found[1] || "Pack", series: Number(found[2]), parallel: Number(found[3] ?? 1) });
    else wrong.push(`“${line.trim()}” says no cells in series: write such as “Lamp 4S6P”.`);
  }
  return { packs, wrong };
}
