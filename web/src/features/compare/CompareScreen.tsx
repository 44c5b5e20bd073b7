import { useQueries } from "@tanstack/react-query";
import { Button, Select } from "antd";
import { useState } from "react";
import { useNavigate } from "react-router";
import { answered, api, type ResultDoc } from "../../api/client";
import { useRow, useRows } from "../../api/shelves";
import { Chart } from "./Chart";
import { Column } from "./Column";
import { type Chain, withChainOf } from "./chain";
import { byMark } from "../../api/marks";
import { isHeld } from "../plan/asked";
import { draftOf, emptyDraft, setDraft, useDraft } from "../plan/draft";
import "../../ui/work.css";
import "./compare.css";

const MOST = 3;

/** Two or three chains for the same pack, side by side. */
export default function CompareScreen() {
  const draft = useDraft() ?? emptyDraft();
  const plans = useRows("plans");
  const [chosen, setChosen] = useState<string[]>([]);
  const navigate = useNavigate();
  const rows = plans.data ?? [];
  const mine: Chain = { key: "mine", name: draft.document.name ?? "The plan on the bench", plan: draft.document, links: draft.links };
  const others = chosen.flatMap((id) => rows.filter((row) => row.id === id).map((row) => withChainOf(draft, row)));
  const chains = [mine, ...others];
  // While a question is open that could make the settings harmful, no chain is computed for this pack.
  const held = isHeld(draft);
  const shelfPack = useRow("packs", draft.links.pack?.id).data;
  const pack = shelfPack ?? draft.links.pack;
  const answers = useQueries({
    queries: chains.map(({ plan }) => ({
      queryKey: ["compare", plan, pack?.id, pack?.version],
      enabled: plan.pack != null && !held,
      networkMode: "always" as const,
      retry: false,
      queryFn: ({ signal }: { signal: AbortSignal }) => answered(api.POST("/api/plan", { params: { query: byMark(pack) }, body: plan, signal })),
    })),
  });
  const results = answers.map(({ data }): ResultDoc | undefined => (data && !("unfinished" in data) ? data : undefined));
  if (!draft.document.pack) {
    return (
      <section className="compare-empty">
        <h1>Compare</h1>
        <p>
          Two or three chains before the same pack, side by side: how long each takes, what it costs, how hot it gets and what to mind. Which
          pack? Choose a plan.
        </p>
        <ul className="compare-start">
          {rows.slice(0, 8).map((row) => (
            <li key={row.id}>
              <Button
                onClick={() => {
                  setDraft(draftOf(row));
                }}
              >
                {row.document.name ?? "Unnamed plan"}
              </Button>
            </li>
          ))}
        </ul>
        <Button type="primary" onClick={() => void navigate("/plan")}>
          Plan a charge first
        </Button>
      </section>
    );
  }
  return (
    <section className="compare">
      <div className="compare-head">
        <Button size="small" onClick={() => void navigate(draft.id === undefined ? "/plan" : `/plan/${draft.id}`)}>
          Back to the plan
        </Button>
        <h1>Compare chains for {draft.document.pack.name ?? "this pack"}</h1>
        <Select
          mode="multiple"
          size="small"
          className="compare-pick"
          aria-label="Chains of these plans"
          placeholder="Before the same pack, the chain of…"
          maxCount={MOST - 1}
          value={chosen}
          options={rows
            .filter((row) => row.id !== draft.id && row.document.source)
            .map((row) => ({ value: row.id, label: row.document.name ?? "Unnamed plan" }))}
          showSearch={{ optionFilterProp: "label" }}
          onChange={setChosen}
        />
      </div>
      {held && <p className="caution-text">Answer the open question of the plan first: the settings depend on it.</p>}
      <div className="compare-columns">
        {chains.map((chain, k) => (
          <Column
            key={chain.key}
            chain={chain}
            mark={k}
            result={results[k]}
            error={answers[k]?.error}
            first={k > 0 ? results[0] : undefined}
            onTake={
              k === 0
                ? undefined
                : () => {
                    setDraft({ document: chain.plan, links: chain.links });
                    void navigate("/plan");
                  }
            }
          />
        ))}
      </div>
      {chains.length === 1 && <p className="muted">Choose one or two more above: their supply, charger and leads are put before this pack.</p>}
      <Chart curves={results.map((result) => result?.curve ?? [])} names={chains.map(({ name }) => name)} />
    </section>
  );
}
