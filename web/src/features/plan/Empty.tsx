import { Button } from "antd";
import { useState } from "react";
import type { PlanDoc } from "../../api/client";
import { type Draft, setDraft } from "./draft";
import { PlansDrawer } from "./drawers";
import { usePlanFile } from "./usePlanFile";

const EXAMPLE: PlanDoc = {
  format: "rumek.plan/1",
  name: "Tow-plane before the tow",
  pack: { name: "Tow-plane", chemistry: "lipo", series: 6, capacity_ah: 4, rated_c_rate: 2, start: { soc: 0.3 } },
  source: { name: "Small bench supply", kind: "bench_supply", max_voltage_v: 32, max_current_a: 3, max_power_w: 60 },
};

/** Before there is a plan: what this is for, and four ways to start one. */
export function Empty({ draft, onImport }: { draft: Draft | undefined; onImport: () => void }) {
  const [plansOpen, setPlansOpen] = useState(false);
  const file = usePlanFile();
  return (
    <section className="empty">
      <h1>What do you want to charge, and from what?</h1>
      <p>
        Type it in the line at the top, pack first: <span className="figures">6S 4000 lipo, 30 V 5 A bench</span>. Rumek answers with what to
        set, what limits you, how long it takes and whether it is safe.
      </p>
      <p className="empty-actions">
        <Button
          type="primary"
          onClick={() => {
            setDraft({ document: EXAMPLE, links: {} });
          }}
        >
          Show me an example
        </Button>
        <Button
          onClick={() => {
            setDraft({ document: { ...draft?.document, format: "rumek.plan/1", pack: { chemistry: "lipo" }, source: { kind: "bench_supply" } }, links: {} });
          }}
        >
          Fill in a pack and a supply
        </Button>
        <Button
          onClick={() => {
            setPlansOpen(true);
          }}
        >
          Open a saved plan
        </Button>
        <Button onClick={onImport}>Open a file</Button>
      </p>
      <PlansDrawer
        open={plansOpen}
        onClose={() => {
          setPlansOpen(false);
        }}
        file={file}
        currentId={undefined}
      />
    </section>
  );
}
