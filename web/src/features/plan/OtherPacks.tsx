import type { PlanDoc, Schemas } from "../../api/client";
import type { Editor } from "../../ui/documents/editor";
import { RowsField } from "../../ui/documents/RowsField";
import type { Kind } from "../../ui/quantity/parse";

const COLUMNS = [
  { name: "capacity_ah", label: "Holds", kind: "charge" },
  { name: "rest_voltage_v", label: "At rest", kind: "voltage" },
  { name: "resistance_mohm", label: "Resistance", kind: "resistance" },
  { name: "rated_charge_a", label: "Label's charge current", kind: "current" },
] as const satisfies readonly { name: keyof Schemas["OtherPackDoc"]; label: string; kind: Kind }[];

/** Packs of the same chemistry and cell count, but not alike, joined in parallel. */
export function OtherPacks({ editor }: { editor: Editor<PlanDoc> }) {
  return <RowsField editor={editor} at="/other_packs" columns={COLUMNS} called={(k) => `pack ${k + 2}`} add="Add a pack that is not alike" />;
}
