import { Button } from "antd";
import type { Place, PlanDoc } from "../../api/client";
import type { Editor } from "../../ui/documents/editor";
import { valueAt } from "../../ui/documents/pointer";
import { PLACE_WORDS } from "../../ui/words";
import { PressMenu } from "../../ui/PressMenu";

/** What a stage starts as when it is added: what it is, no more; the core asks for the rest. */
const FRESH = [
  { place: "source", pointer: "/source", document: { kind: "bench_supply" } },
  { place: "input_lead", pointer: "/leads/input", document: {} },
  { place: "charger", pointer: "/charger", document: { kind: "hobby_charger" } },
  { place: "cut_off", pointer: "/cut_off", document: {} },
  { place: "output_lead", pointer: "/leads/output", document: {} },
  { place: "load", pointer: "/load", document: undefined },
] as const satisfies readonly { place: Place; pointer: string; document: object | undefined }[];

interface Props {
  plan: PlanDoc;
  editor: Editor<PlanDoc>;
  onOpen: (place: Place) => void;
}

/** The stages this chain does not have yet. */
export function AddToChain({ plan, editor, onOpen }: Props) {
  const absent = FRESH.filter(({ pointer }) => valueAt(plan, pointer) === undefined);
  if (absent.length === 0) return null;
  return (
    <PressMenu
      items={absent.map(({ place, pointer, document }) => ({
        key: place,
        label: PLACE_WORDS[place],
        onClick: () => {
          if (document) editor.set(pointer, document);
          onOpen(place);
        },
      }))}
    >
      <Button size="small" type="link">
        Add to the chain
      </Button>
    </PressMenu>
  );
}
