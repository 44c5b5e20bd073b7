import type { Stored } from "../../api/shelves";
import { currentDraft, setDraft } from "../plan/draft";

/** Begins a plan with a pack. The chain on the bench stays; without one the plan asks what feeds the pack. */
export function planWith(row: Stored<"packs">) {
  const { source, charger, leads } = currentDraft()?.document ?? {};
  setDraft({
    document: { format: "rumek.plan/1", name: row.document.name, pack: row.document, source, charger, leads },
    links: { ...currentDraft()?.links, pack: { id: row.id, version: row.version } },
  });
}
