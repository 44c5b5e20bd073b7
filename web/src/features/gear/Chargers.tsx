import type { ReactNode } from "react";
import type { ChargerDoc } from "../../api/client";
import { ChargerFields } from "../../ui/documents/ChargerFields";
import { trimmed } from "../../ui/quantity/parse";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { LabelDrawing, unit } from "../../ui/shelf/SourceDrawing";
import { CHARGER_OPTIONS, TOPOLOGY_OPTIONS } from "../../ui/words";
import { displayWords, sentence } from "./truly";
import { useTakeIntoPlan } from "./useTakeIntoPlan";

const EXAMPLE: ChargerDoc = {
  name: "Slope charger",
  kind: "hobby_charger",
  output_max_a: 8,
  output_max_w: 120,
  input_min_v: 11,
  input_max_v: 26,
  input_max_a: 12,
};

const SORTS = [
  { value: "name", label: "by name", of: (charger: ChargerDoc) => charger.name ?? "" },
  { value: "kind", label: "by kind", of: (charger: ChargerDoc) => charger.kind ?? "" },
  { value: "amps", label: "by amps", of: (charger: ChargerDoc) => charger.output_max_a ?? 0 },
  { value: "watts", label: "by watts", of: (charger: ChargerDoc) => charger.output_max_w ?? 0 },
];

function kindWords(charger: ChargerDoc): string {
  const kind = CHARGER_OPTIONS.find(({ value }) => value === charger.kind)?.label ?? "Charger";
  const topology = TOPOLOGY_OPTIONS.find(({ value }) => value === charger.topology)?.label;
  return charger.kind === "dc_dc" && topology ? `${kind}, ${topology}` : kind;
}

function truly(charger: ChargerDoc): string | undefined {
  const module = charger.kind === "dc_dc" && charger.has_cc != null;
  return sentence([
    module ? (charger.has_cc ? "holds a current" : "holds no current") : undefined,
    charger.min_start_v == null ? undefined : `refuses a pack below ${trimmed(charger.min_start_v, 1)} V`,
    charger.mains_output_max_w == null ? undefined : `${trimmed(charger.mains_output_max_w, 0)} W when on the wall`,
    displayWords(charger.meters),
  ]);
}

function figures(charger: ChargerDoc): (string | undefined)[] {
  switch (charger.kind) {
    case "lamp":
      return [unit(charger.lamp_rated_v, "V", 0), unit(charger.lamp_rated_w, "W", 0)];
    case "resistor":
      return [unit(charger.resistance_ohm, "Ω"), unit(charger.rated_w, "W", 0)];
    case "pwm":
      return [unit((charger.duty ?? 0) * 100, "%", 0), unit(charger.output_max_a, "A")];
    default:
      return [unit(charger.output_max_a, "A") ?? "– A", unit(charger.output_max_w, "W", 0), unit(charger.input_max_v, "V in", 0)];
  }
}

/** My chargers, modules and limiters. */
export function Chargers({ tabs }: { tabs: ReactNode }) {
  const take = useTakeIntoPlan();
  return (
    <ShelfList
      shelf="chargers"
      title="Gear"
      tabs={tabs}
      one="charger"
      teach="Your chargers, converter modules and limiters live here, with what they take in and what they put out."
      example={EXAMPLE}
      fresh={{ kind: "hobby_charger" }}
      words={kindWords}
      truly={truly}
      sorts={SORTS}
      draw={(charger) => <LabelDrawing lines={figures(charger)} />}
      fields={(editor) => <ChargerFields editor={editor} />}
      onPlan={(row) => {
        take("/charger", "charger", row);
      }}
    />
  );
}
