import type { ReactNode } from "react";
import type { SourceDoc } from "../../api/client";
import { SourceFields } from "../../ui/documents/SourceFields";
import { trimmed } from "../../ui/quantity/parse";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { SourceDrawing } from "../../ui/shelf/SourceDrawing";
import { USUAL_SOURCES } from "../../ui/shelf/usual";
import { KIND_OPTIONS, OVERLOAD_OPTIONS } from "../../ui/words";
import { displayWords, sentence } from "./truly";
import { useTakeIntoPlan } from "./useTakeIntoPlan";

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

const kindWords = (source: SourceDoc) => KIND_OPTIONS.find(({ value }) => value === source.kind)?.label ?? "Supply";

function truly(source: SourceDoc): string | undefined {
  const overload = OVERLOAD_OPTIONS.find(({ value }) => value === source.overload)?.label;
  return sentence([
    overload && `overloaded, it ${overload}`,
    source.headroom == null ? undefined : `${trimmed(source.headroom * 100, 0)} % of its rating is used`,
    source.open_circuit_v == null ? undefined : `stands at ${trimmed(source.open_circuit_v, 1)} V with nothing on it`,
    displayWords(source.meters),
  ]);
}

/** My supplies: what the box says, and what they truly do. */
export function Supplies({ tabs }: { tabs: ReactNode }) {
  const take = useTakeIntoPlan();
  return (
    <ShelfList
      shelf="supplies"
      title="Gear"
      tabs={tabs}
      one="supply"
      teach="Your supplies live here: what the box says, and what it truly does when asked for more."
      example={EXAMPLE}
      usual={USUAL_SOURCES}
      fresh={{ kind: "bench_supply" }}
      words={kindWords}
      truly={truly}
      sorts={SORTS}
      draw={(source) => <SourceDrawing source={source} />}
      fields={(editor) => <SourceFields editor={editor} />}
      onPlan={(row) => {
        take("/source", "source", row);
      }}
    />
  );
}
