import { Button } from "antd";
import type { PlanDoc, Schemas } from "../../api/client";
import { type Editor, problemAt } from "../../ui/documents/editor";
import { valueAt } from "../../ui/documents/pointer";
import type { Kind } from "../../ui/quantity/parse";
import { QuantityInput } from "../../ui/quantity/QuantityInput";

type Other = Schemas["OtherPackDoc"];

const FIELDS = [
  { name: "capacity_ah", label: "Holds", kind: "charge" },
  { name: "rest_voltage_v", label: "At rest", kind: "voltage" },
  { name: "resistance_mohm", label: "Resistance", kind: "resistance" },
  { name: "rated_charge_a", label: "Label's charge current", kind: "current" },
] as const satisfies readonly { name: keyof Other; label: string; kind: Kind }[];

/** Packs of the same chemistry and cell count, but not alike, joined in parallel. */
export function OtherPacks({ editor }: { editor: Editor<PlanDoc> }) {
  const others = (valueAt(editor.document, "/other_packs") as Other[] | undefined) ?? [];
  const write = (next: Other[]) => {
    editor.set("/other_packs", next.length > 0 ? next : undefined);
  };
  return (
    <>
      {others.map((other, k) => (
        // They have no names: their order is what tells them apart.
        <div key={k} className="fields other-pack">
          {FIELDS.map(({ name, label, kind }) => (
            <QuantityInput
              key={name}
              label={`${label}, pack ${k + 2}`}
              kind={kind}
              value={other[name]}
              problem={problemAt(editor, `/other_packs/${k}/${name}`)}
              onChange={(value) => {
                write(others.map((old, n) => (n === k ? { ...old, [name]: value } : old)));
              }}
            />
          ))}
          <Button
            size="small"
            type="text"
            onClick={() => {
              write(others.filter((_, n) => n !== k));
            }}
          >
            Take pack {k + 2} away
          </Button>
        </div>
      ))}
      <Button
        size="small"
        type="link"
        onClick={() => {
          write([...others, {}]);
        }}
      >
        Add a pack that is not alike
      </Button>
    </>
  );
}
