import { Button } from "antd";
import { useRow } from "../../api/shelves";
import { valueAt } from "../../ui/documents/pointer";
import { packWords } from "../../ui/words";
import type { Draft } from "./draft";
import { type Part, PARTS, type usePicking } from "./usePicking";

const WORDS = { packs: "the pack", supplies: "the supply", chargers: "the charger", leads: "the lead" } as const;

/** A shelf has moved on since its values were copied: says so, and offers to take them over. */
export function Newer({ draft, pick }: { draft: Draft; pick: ReturnType<typeof usePicking>["pick"] }) {
  return Object.values(PARTS).map((part) => <One key={part.link} part={part} draft={draft} pick={pick} />);
}

function One({ part, draft, pick }: { part: Part; draft: Draft; pick: ReturnType<typeof usePicking>["pick"] }) {
  const link = draft.links[part.link];
  const row = useRow(part.shelf, link?.id).data;
  if (valueAt(draft.document, part.pointer) === undefined) return null;
  if (!row || row.version <= (link?.version ?? 0)) return null;
  const name = row.document.name ?? (part.shelf === "packs" ? packWords(row.document) : WORDS[part.shelf]);
  return (
    <p className="newer">
      {part.shelf === "packs" ? "The shelf's" : "The gear's"} copy of “{name}” is newer.{" "}
      <Button size="small" type="link" onClick={() => { pick(part, row); }}>
        Take it over
      </Button>
    </p>
  );
}
