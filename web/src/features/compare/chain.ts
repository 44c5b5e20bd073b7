import type { LinksDoc, PlanDoc } from "../../api/client";
import type { Stored } from "../../api/shelves";
import type { Draft } from "../plan/draft";

/** A chain to compare: what stands before the pack. */
export interface Chain {
  key: string;
  name: string;
  plan: PlanDoc;
  links: LinksDoc;
}

/** The chain of one plan before the pack of another. */
export function withChainOf(draft: Draft, row: Stored<"plans">): Chain {
  const { source, charger, leads, cut_off, visit_every_min, mains } = row.document;
  const { pack, load, practice, ambient_c, other_packs, price_per_kwh } = draft.document;
  const plan = { format: "rumek.plan/1", pack, load, practice, ambient_c, other_packs, price_per_kwh, source, charger, leads, cut_off, visit_every_min, mains };
  return {
    key: row.id,
    name: row.document.name ?? "Unnamed plan",
    plan,
    links: { ...row.links, pack: draft.links.pack ?? null },
  };
}
