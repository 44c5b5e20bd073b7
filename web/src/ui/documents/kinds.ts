import type { ChargerDoc, PackDoc, Schemas, SourceDoc } from "../../api/client";
import known from "../../api/kinds.json";

/** What the core says of chemistries and kinds: which fields each has. */
const { chemistries, source_fields, charger_fields } = known as Schemas["KindsDoc"];
const PACK_FIELDS = new Set(chemistries.flatMap((one) => one.own_fields));

/** Of a pack whose chemistry nobody has said: most hold a charge in Ah. */
const ANY: readonly string[] = ["capacity_ah", "energy_wh"];

type Named = Pick<PackDoc, "chemistry">;

/** What is asked and shown of a pack of this chemistry. */
export const chemistryOf = ({ chemistry }: Named) => chemistries.find((one) => one.chemistry === chemistry);

/** Whether a pack of this chemistry has a field. */
export const hasField = (pack: Named, field: keyof PackDoc) => !PACK_FIELDS.has(field) || (chemistryOf(pack)?.own_fields ?? ANY).includes(field);

/** Whether a supply of a kind has a field. */
export const hasSourceField = (kind: SourceDoc["kind"], field: keyof SourceDoc) => belongs(source_fields, kind, field);

/** Whether a charger of a kind has a field. */
export const hasChargerField = (kind: ChargerDoc["kind"], field: keyof ChargerDoc) => belongs(charger_fields, kind, field);

function belongs<K extends string>(fields: readonly { field: string; kinds: K[] }[], kind: K | null | undefined, field: string) {
  const owners = fields.find((one) => one.field === field)?.kinds;
  return owners === undefined || (kind != null && owners.includes(kind));
}

const only = <T extends object>(document: T, has: (field: keyof T) => boolean) =>
  Object.fromEntries(Object.entries(document).filter(([field]) => has(field as keyof T))) as Partial<T>;

/** A pack of another chemistry: fields that only the old one had go, the rest stays. */
export function withChemistry(pack: PackDoc, chemistry: PackDoc["chemistry"]): PackDoc {
  return { ...only(pack, (field) => hasField({ chemistry }, field)), chemistry };
}

/** A supply of another kind: its voltage moves to the field that kind has, what only the old one had goes. */
export function withKind(source: SourceDoc, kind: SourceDoc["kind"]): SourceDoc {
  const moved = (["max_voltage_v", "voltage_v"] as const).find((field) => hasSourceField(kind, field));
  const kept = only(source, (field) => hasSourceField(kind, field));
  if (moved) return { ...kept, kind, [moved]: source.max_voltage_v ?? source.voltage_v };
  // Its voltage follows from figures of its own: it is another thing altogether, and no rating of the old one is its.
  return { ...only(kept, (field) => field === "name" || field === "notes"), kind };
}

/** A charger of another kind keeps what the new kind has. */
export function withChargerKind(charger: ChargerDoc, kind: ChargerDoc["kind"]): ChargerDoc {
  return { ...only(charger, (field) => hasChargerField(kind, field)), kind };
}
