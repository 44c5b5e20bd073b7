import { useNavigate } from "react-router";
import type { LinksDoc } from "../../api/client";
import type { Kept, Stored } from "../../api/shelves";
import { withValue } from "../../ui/documents/pointer";
import { currentDraft, emptyDraft, setDraft } from "../plan/draft";

export type Part = "supplies" | "chargers" | "leads";

/** Takes a piece of gear into the plan on the bench, and goes there. */
export function useTakeIntoPlan() {
  const navigate = useNavigate();
  return (pointer: string, link: keyof LinksDoc, row: Stored<Kept>) => {
    const draft = currentDraft() ?? emptyDraft();
    const pack = draft.document.pack ?? { chemistry: "lipo" };
    setDraft({
      ...draft,
      document: withValue(withValue(draft.document, "/pack", pack), pointer, row.document),
      links: { ...draft.links, [link]: { id: row.id, version: row.version } },
    });
    void navigate("/plan");
  };
}
