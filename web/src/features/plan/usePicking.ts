import { useQueryClient } from "@tanstack/react-query";
import { newId } from "../../api/id";
import { type Stored, useSave } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { withValue } from "../../ui/documents/pointer";
import { currentDraft, type Draft, setDraft } from "./draft";

/** Copying between the plan and the shelves. */
export function usePicking(draft: Draft) {
  const client = useQueryClient();
  const savePack = useSave("packs");
  const saveGear = useSave("gear");
  const feedback = useFeedback();
  /** Takes a kept pack or supply into the plan; how the pack stands today stays. */
  const pick = <S extends "packs" | "gear">(shelf: S, row: Stored<S>) => {
    const origin = { id: row.id, version: row.version };
    if (shelf === "packs") {
      const { start, goal, temperature_c } = draft.document.pack ?? {};
      const kept = draft.links.pack?.id === row.id ? { start, goal, temperature_c } : { goal };
      const document = withValue(draft.document, "/pack", { ...row.document, ...kept });
      setDraft({ ...draft, document, links: { ...draft.links, pack: origin } });
    } else {
      const document = withValue(draft.document, "/source", row.document);
      setDraft({ ...draft, document, links: { ...draft.links, source: origin } });
    }
    client.setQueryData([shelf, row.id], row);
  };
  /** Keeps the plan's pack or supply: new, or over the one it was copied from. */
  const keep = (shelf: "packs" | "gear") => {
    const link = shelf === "packs" ? draft.links.pack : draft.links.source;
    const based = link ? { id: link.id, version: link.version } : { id: newId() };
    const kept = (row: { id: string; version: number }) => {
      const origin = { id: row.id, version: row.version };
      // The plan may have been typed on while this was on its way.
      const now = currentDraft() ?? draft;
      setDraft({ ...now, links: { ...now.links, ...(shelf === "packs" ? { pack: origin } : { source: origin }) } });
      feedback.done(shelf === "packs" ? "Kept on the shelf." : "Kept in the gear.");
    };
    const done = { onSuccess: kept, onError: feedback.failed };
    if (shelf === "packs") {
      const { start, goal, temperature_c, ...label } = draft.document.pack ?? {};
      savePack.mutate({ ...based, document: label }, done);
    } else saveGear.mutate({ ...based, document: draft.document.source ?? {} }, done);
  };
  return { pick, keep };
}
