import { Button } from "antd";
import { useNavigate } from "react-router";
import type { PackDoc } from "../../api/client";
import { PackLabelFields } from "../../ui/documents/PackFields";
import { PackDrawing } from "../../ui/shelf/PackDrawing";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { USUAL_PACKS } from "../../ui/shelf/usual";
import { markWords, packWords } from "../../ui/words";
import { currentDraft, setDraft } from "../plan/draft";
import { caseOfPack, setCase } from "../rescue/case";

const EXAMPLE: PackDoc = { name: "Slope glider", chemistry: "lipo", series: 3, capacity_ah: 2.2, rated_c_rate: 1, balancer: "none" };

const SORTS = [
  { value: "name", label: "by name", of: (pack: PackDoc) => pack.name ?? "" },
  { value: "chemistry", label: "by chemistry", of: (pack: PackDoc) => pack.chemistry ?? "" },
  { value: "cells", label: "by cells", of: (pack: PackDoc) => pack.series ?? 0 },
  { value: "capacity", label: "by capacity", of: (pack: PackDoc) => pack.capacity_ah ?? 0 },
];

/** My packs. */
export default function ShelfScreen() {
  const navigate = useNavigate();
  return (
    <ShelfList
      shelf="packs"
      title="Shelf"
      one="pack"
      teach="Your packs live here: what their labels say, once, so that a plan needs only how they stand today."
      example={EXAMPLE}
      usual={USUAL_PACKS}
      fresh={{ chemistry: "lipo" }}
      words={packWords}
      sorts={SORTS}
      draw={(pack) => <PackDrawing pack={pack} />}
      truly={markWords}
      more={(row) => (
        <Button
          size="small"
          type="text"
          aria-label={`Rescue ${row.document.name ?? packWords(row.document)}`}
          onClick={() => {
            setCase(caseOfPack(row));
            void navigate("/rescue");
          }}
        >
          Rescue
        </Button>
      )}
      fields={(editor) => <PackLabelFields editor={editor} />}
      onPlan={(row) => {
        // The chain on the bench stays; without one the plan asks what feeds the pack.
        const { source, charger, leads } = currentDraft()?.document ?? {};
        setDraft({
          document: { format: "rumek.plan/1", name: row.document.name, pack: row.document, source, charger, leads },
          links: { ...currentDraft()?.links, pack: { id: row.id, version: row.version } },
        });
        void navigate("/plan");
      }}
    />
  );
}
