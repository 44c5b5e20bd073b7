import { Button } from "antd";
import type { Stored } from "../../api/shelves";
import { packWords } from "../../ui/words";
import type { Draft } from "./draft";
import type { usePicking } from "./usePicking";

interface NewerProps {
  draft: Draft;
  pack: Stored<"packs"> | undefined;
  source: Stored<"gear"> | undefined;
  pick: ReturnType<typeof usePicking>["pick"];
}

/** The shelf has moved on since its values were copied: says so, and offers to take them over. */
export function Newer({ draft, pack, source, pick }: NewerProps) {
  const packNewer = pack && pack.version > (draft.links.pack?.version ?? 0);
  const sourceNewer = source && source.version > (draft.links.source?.version ?? 0);
  return (
    <>
      {packNewer && (
        <p className="newer">
          The shelf's copy of “{pack.document.name ?? packWords(pack.document)}” is newer.{" "}
          <Button size="small" type="link" onClick={() => { pick("packs", pack); }}>
            Take it over
          </Button>
        </p>
      )}
      {sourceNewer && (
        <p className="newer">
          The gear's copy of “{source.document.name ?? "the supply"}” is newer.{" "}
          <Button size="small" type="link" onClick={() => { pick("gear", source); }}>
            Take it over
          </Button>
        </p>
      )}
    </>
  );
}
