import { useQueryClient } from "@tanstack/react-query";
import type { LinksDoc } from "../../api/client";
import { newId } from "../../api/id";
import { type Documents, type Kept, type Stored, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { valueAt, withValue } from "../../ui/documents/pointer";
import { currentDraft, type Draft, setDraft } from "./draft";

/** A part of the plan that also stands on a shelf. */
export interface Part {
  shelf: Kept;
  link: keyof LinksDoc;
  pointer: string;
}

export const PARTS = {
  pack: { shelf: "packs", link: "pack", pointer: "/pack" },
  source: { shelf: "supplies", link: "source", pointer: "/source" },
  charger: { shelf: "chargers", link: "charger", pointer: "/charger" },
  input_lead: { shelf: "leads", link: "input", pointer: "/leads/input" },
  output_lead: { shelf: "leads", link: "output", pointer: "/leads/output" },
} as const satisfies Record<string, Part>;

/** Copying between the plan and the shelves. */
export function usePicking(draft: Draft) {
  const client = useQueryClient();
  const savers = { packs: useSave("packs"), supplies: useSave("supplies"), chargers: useSave("chargers"), leads: useSave("leads") };
  const feedback = useFeedback();
  /** Takes what is kept into the plan; how the pack stands today stays. */
  const pick = (part: Part, row: Stored<Kept>) => {
    const { start, goal, temperature_c } = draft.document.pack ?? {};
    const same = draft.links.pack?.id === row.id;
    const today = part.link !== "pack" ? {} : same ? { start, goal, temperature_c } : { goal };
    const document = withValue(draft.document, part.pointer, { ...row.document, ...today });
    setDraft({ ...draft, document, links: { ...draft.links, [part.link]: { id: row.id, version: row.version } } });
    client.setQueryData([part.shelf, row.id], row);
  };
  /** Keeps a part of the plan: new, or over the one it was copied from. */
  const keep = (part: Part) => {
    const link = draft.links[part.link];
    const based = link ? { id: link.id, version: link.version } : { id: newId() };
    const kept = (row: { id: string; version: number }) => {
      // The plan may have been typed on while this was on its way.
      const now = currentDraft() ?? draft;
      setDraft({ ...now, links: { ...now.links, [part.link]: { id: row.id, version: row.version } } });
      feedback.done(part.shelf === "packs" ? "Kept on the shelf." : "Kept in the gear.");
    };
    const { start: _start, goal: _goal, temperature_c: _now, ...label } = (valueAt(draft.document, part.pointer) ?? {}) as Documents["packs"];
    savers[part.shelf].mutate({ ...based, document: label }, { onSuccess: kept, onError: feedback.failed });
  };
  return { pick, keep };
}
