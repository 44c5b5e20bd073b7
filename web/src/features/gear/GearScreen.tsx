import { useNavigate } from "react-router";
import type { SourceDoc } from "../../api/client";
import { withValue } from "../../ui/documents/pointer";
import { SourceFields } from "../../ui/documents/SourceFields";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { SourceDrawing } from "../../ui/shelf/SourceDrawing";
import { KIND_OPTIONS, OVERLOAD_OPTIONS } from "../../ui/words";
import { currentDraft, emptyDraft, setDraft } from "../plan/draft";

const EXAMPLE: SourceDoc = {
  name: "Borrowed bench supply",
  kind: "bench_supply",
  min_voltage_v: 0,
  max_voltage_v: 30,
  max_current_a: 5,
  notes: "Shows 0.04 V more than the meter.",
};

const SORTS = [
  { value: "name", label: "by name", of: (source: SourceDoc) => source.name ?? "" },
  { value: "kind", label: "by kind", of: (source: SourceDoc) => source.kind ?? "" },
  { value: "volts", label: "by volts", of: (source: SourceDoc) => source.max_voltage_v ?? source.voltage_v ?? 0 },
  { value: "amps", label: "by amps", of: (source: SourceDoc) => source.max_current_a ?? 0 },
];

/** What it is, and what it is said to do when overloaded. */
function kindWords(source: SourceDoc): string {
  const kind = KIND_OPTIONS.find(({ value }) => value === source.kind)?.label ?? "Supply";
  const overload = OVERLOAD_OPTIONS.find(({ value }) => value === source.overload)?.label;
  return overload ? `${kind} · overloaded, it ${overload}` : kind;
}

/** My supplies and what they truly do. */
export default function GearScreen() {
  const navigate = useNavigate();
  return (
    <ShelfList
      shelf="gear"
      title="Gear"
      one="supply"
      teach="Your supplies live here: what the box says, and what it truly does when asked for more."
      example={EXAMPLE}
      fresh={{ kind: "bench_supply" }}
      words={kindWords}
      sorts={SORTS}
      draw={(source) => <SourceDrawing source={source} />}
      fields={(editor) => <SourceFields editor={editor} />}
      onPlan={(row) => {
        const draft = currentDraft() ?? emptyDraft();
        const pack = draft.document.pack ?? { chemistry: "lipo" };
        setDraft({
          ...draft,
          document: withValue(withValue(draft.document, "/pack", pack), "/source", row.document),
          links: { ...draft.links, source: { id: row.id, version: row.version } },
        });
        void navigate("/plan");
      }}
    />
  );
}
