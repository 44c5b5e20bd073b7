import type { ReactNode } from "react";
import type { LeadDoc } from "../../api/client";
import { LeadFields } from "../../ui/documents/LeadFields";
import { ShelfList } from "../../ui/shelf/ShelfList";
import { LabelDrawing, unit } from "../../ui/shelf/SourceDrawing";
import { gaugeWords, leadWords } from "../../ui/words";
import { useTakeIntoPlan } from "./useTakeIntoPlan";

const EXAMPLE: LeadDoc = { name: "Crocodile clips", awg: 16, length_m: 1, connector_mohm: 12, fuse_a: 10, fuse_v: 32, fuse_at: "pack" };

const SORTS = [
  { value: "name", label: "by name", of: (lead: LeadDoc) => lead.name ?? "" },
  { value: "length", label: "by length", of: (lead: LeadDoc) => lead.length_m ?? 0 },
  { value: "fuse", label: "by fuse", of: (lead: LeadDoc) => lead.fuse_a ?? 0 },
];

/** My leads. */
export function Leads({ tabs }: { tabs: ReactNode }) {
  const take = useTakeIntoPlan();
  return (
    <ShelfList
      shelf="leads"
      title="Gear"
      tabs={tabs}
      one="lead"
      teach="Your leads live here: wire, plugs and fuse. Planned with, one goes between charger and pack."
      example={EXAMPLE}
      fresh={{ awg: 16, length_m: 1 }}
      words={leadWords}
      sorts={SORTS}
      draw={(lead) => <LabelDrawing lines={[gaugeWords(lead) ?? "– AWG", unit(lead.length_m, "m"), unit(lead.fuse_a, "A fuse", 1)]} />}
      fields={(editor) => <LeadFields editor={editor} />}
      onPlan={(row) => {
        take("/leads/output", "output", row);
      }}
    />
  );
}
