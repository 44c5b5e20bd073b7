import { Button } from "antd";
import { useEffect, useMemo, useState } from "react";
import { useQueryClient } from "@tanstack/react-query";
import type { CheckDoc, Place, PlanDoc } from "../../api/client";
import { newId } from "../../api/id";
import { type Stored, useRow, useRows, useSave } from "../../api/shelves";
import { useFeedback } from "../../app/feedback";
import { BenchCard } from "../../ui/bench-card/BenchCard";
import { ChargeChart } from "../../ui/chart/ChargeChart";
import { momentAt } from "../../ui/chart/moment";
import { Checks } from "../../ui/checks/Checks";
import { below, capital, type Editor } from "../../ui/documents/editor";
import { LoadField, QuantityField } from "../../ui/documents/fields";
import { ChemistryField, HoldsField, SeriesField, StartField } from "../../ui/documents/PackFields";
import { withValue } from "../../ui/documents/pointer";
import { KindField, VoltsField } from "../../ui/documents/SourceFields";
import { ChainPipe, type PipeStage } from "../../ui/pipe/ChainPipe";
import { packWords } from "../../ui/words";
import { changeDraft, type Draft, draftOf, isEmpty, setDraft, useDraft } from "./draft";
import { Limits } from "./Limits";
import { PlansDrawer } from "./PlansDrawer";
import { PlanTitle } from "./PlanTitle";
import { PrintHead } from "./PrintHead";
import { StagePanel } from "./StagePanel";
import { drawnChain } from "./stages";
import { Summary, summary } from "./Summary";
import { type Answer, useAnswer } from "./useAnswer";
import { usePlanFile } from "./usePlanFile";
import { WhatHelps } from "./WhatHelps";
import "./plan.css";
import "./print.css";

/** What do I set, what limits, how long, is it safe. */
export default function PlanScreen() {
  const draft = useDraft();
  const plans = useRows("plans");
  const first = plans.data?.[0];
  useEffect(() => {
    if (!draft && first) setDraft(draftOf(first));
  }, [draft, first]);
  if (!draft && plans.isLoading) return <p className="screen-note">Fetching your last plan…</p>;
  if (!draft || isEmpty(draft)) return <Empty draft={draft} />;
  return <Plan draft={draft} />;
}

const EXAMPLE: PlanDoc = {
  format: "rumek.plan/1",
  name: "Tow-plane before the tow",
  pack: { name: "Tow-plane", chemistry: "lipo", series: 6, capacity_ah: 4, rated_c_rate: 2, start: { soc: 0.3 } },
  source: { name: "Small bench supply", kind: "bench_supply", max_voltage_v: 32, max_current_a: 3, max_power_w: 60 },
};

function Empty({ draft }: { draft: Draft | undefined }) {
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

/** The document as it is asked: a mark on the shelf counts, whatever the copy says. */
function asked(draft: Draft, shelfPack: Stored<"packs"> | undefined): PlanDoc {
  const mark = shelfPack?.document.mark;
  return mark && draft.document.pack ? withValue(draft.document, "/pack/mark", mark) : draft.document;
}

function Plan({ draft }: { draft: Draft }) {
  const shelfPack = useRow("packs", draft.links.pack?.id).data;
  const shelfSource = useRow("gear", draft.links.source?.id).data;
  const answer = useAnswer(asked(draft, shelfPack));
  const { result, stale, problems, failure } = answer;
  const [panel, setPanel] = useState<Place>();
  const [plansOpen, setPlansOpen] = useState(false);
  const [cursor_s, setCursor] = useState(0);
  const file = usePlanFile();
  const { pick, keep } = usePicking(draft);
  const editor: Editor = useMemo(
    () => ({ document: draft.document, resolved: result?.resolved, problems, set: changeDraft }),
    [draft.document, result, problems],
  );
  const answers = result !== undefined && problems.length === 0 && failure === undefined;
  const moment = result && momentAt(result.curve, Math.min(cursor_s, result.curve.at(-1)?.t_s ?? 0));
  const chain = result && drawnChain(result, moment);
  const toggle = (place: Place) => {
    setPanel(panel === place ? undefined : place);
  };
  const accept = (check: CheckDoc, accepted: boolean) => {
    const others = (draft.document.accepted ?? []).filter((one) => one.code !== check.code);
    const mine = accepted ? [{ code: check.code, values: check.values, at: new Date().toISOString() }] : [];
    const all = [...others, ...mine];
    changeDraft("/accepted", all.length > 0 ? all : undefined);
  };
  return (
    <div className="plan">
      <PlanTitle
        draft={draft}
        editor={editor}
        file={file}
        onPlans={() => {
          setPlansOpen(true);
        }}
        summary={answers ? <Summary result={result} dimmed={stale} /> : undefined}
      />
      {!answers && <Trouble answer={answer} onShow={setPanel} />}
      <Newer draft={draft} pack={shelfPack} source={shelfSource} pick={pick} />
      <p className="unseen" role="status" aria-live="polite">
        {result && !stale ? `Answer: ${summary(result).join(", ")}` : ""}
      </p>
      {chain ? (
        <ChainPipe
          {...chain}
          stages={chain.stages.map((stage) => ({ ...stage, fields: headFields(stage, editor, setPanel) }))}
          open={panel}
          onOpen={toggle}
          dimmed={stale}
        />
      ) : (
        <Unanswered editor={editor} onOpen={toggle} />
      )}
      <div className="plan-body">
        <div className="plan-left">
          {panel && (
            <StagePanel
              place={panel}
              editor={editor}
              onClose={() => {
                setPanel(undefined);
              }}
              onPick={pick}
              onKeep={keep}
            />
          )}
          {result && moment && (
            <ChargeChart
              curve={result.curve}
              pinch={result.pinch}
              to80_s={result.time.to_80_s}
              moment={moment}
              onMove={setCursor}
              dimmed={stale}
            />
          )}
          {result && (
            <div className={stale ? "plan-under dimmed" : "plan-under"}>
              <Checks checks={result.checks} onShow={setPanel} onAccept={accept} />
              <div>
                {result.settings && <WhatHelps result={result} />}
                <Limits result={result} />
              </div>
            </div>
          )}
        </div>
        {result && (
          <div className="plan-card">
            <PrintHead name={draft.document.name ?? ""} result={result} />
            <BenchCard
              result={result}
              onChange={() => {
                toggle("settings");
              }}
              dimmed={stale}
            />
          </div>
        )}
      </div>
      <PlansDrawer
        open={plansOpen}
        onClose={() => {
          setPlansOpen(false);
        }}
        file={file}
        currentId={draft.id}
      />
    </div>
  );
}

/** The values of a stage that are changed most, right under its name. */
function headFields(stage: Pick<PipeStage, "at">, editor: Editor, onOpen: (place: Place) => void) {
  if (stage.at === "source") {
    const source = below(editor, "/source");
    return (
      <>
        <KindField editor={source} bare />
        <VoltsField editor={source} bare />
        <QuantityField editor={source} at="/max_current_a" label="Rated current" kind="current" bare />
        <QuantityField editor={source} at="/max_power_w" label="Rated power" kind="power" bare />
      </>
    );
  }
  if (stage.at === "load")
    return <LoadField editor={editor} />;
  const pack = below(editor, "/pack");
  const plan = editor.document as PlanDoc;
  const measured = plan.pack?.start?.cell_voltages_v ?? plan.pack?.start?.block_voltages_v;
  return (
    <>
      <ChemistryField editor={pack} bare />
      <SeriesField editor={pack} />
      <HoldsField editor={pack} bare />
      {!measured && <StartField editor={pack} bare />}
      <QuantityField editor={pack} at="/temperature_c" label="Pack temperature" kind="temperature" bare />
      {!plan.source && (
        <Button
          size="small"
          type="link"
          onClick={() => {
            editor.set("/source", { kind: "bench_supply" });
            onOpen("source");
          }}
        >
          Add a supply
        </Button>
      )}
      {!plan.load && (
        <Button
          size="small"
          type="link"
          onClick={() => {
            onOpen("load");
          }}
        >
          Add a load
        </Button>
      )}
    </>
  );
}

/** Before the first answer: the two ends of the chain, to be filled in. */
function Unanswered({ editor, onOpen }: { editor: Editor; onOpen: (place: Place) => void }) {
  return (
    <div className="unanswered">
      {(["source", "pack"] as const).map((place) => (
        <div key={place}>
          <button type="button" className="plain-button chain-name" onClick={() => { onOpen(place); }}>
            <strong>{place === "source" ? "Supply" : "Pack"}</strong>
          </button>
          <div className="chain-fields">{headFields({ at: place }, editor, onOpen)}</div>
        </div>
      ))}
    </div>
  );
}

const PLACES: readonly Place[] = ["source", "pack", "load", "settings"];

/** Why there is no answer to what stands there now, and where to mend it. */
function Trouble({ answer, onShow }: { answer: Answer; onShow: (place: Place) => void }) {
  if (answer.failure) return <p className="trouble" role="alert">{answer.failure} Asking again…</p>;
  if (answer.problems.length === 0) return <p className="muted">Computing…</p>;
  return (
    <ul className="trouble" role="alert">
      {answer.problems.map((problem) => {
        const place = PLACES.find((name) => problem.pointer.startsWith(`/${name}`));
        return (
          <li key={problem.pointer + problem.message}>
            <code>{problem.pointer.slice(1)}</code>: {capital(problem.message)}. Allowed: {problem.allowed}.{" "}
            {place && (
              <button type="button" className="plain-button check-show" onClick={() => { onShow(place); }}>
                Mend it →
              </button>
            )}
          </li>
        );
      })}
    </ul>
  );
}

interface NewerProps {
  draft: Draft;
  pack: Stored<"packs"> | undefined;
  source: Stored<"gear"> | undefined;
  pick: ReturnType<typeof usePicking>["pick"];
}

/** The shelf has moved on since its values were copied: says so, and offers to take them over. */
function Newer({ draft, pack, source, pick }: NewerProps) {
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

/** Copying between the plan and the shelves. */
function usePicking(draft: Draft) {
  const client = useQueryClient();
  const savePack = useSave("packs");
  const saveGear = useSave("gear");
  const feedback = useFeedback();
  /** Takes a kept pack or supply into the plan; how the pack stands today stays. */
  const pick = <S extends "packs" | "gear">(shelf: S, row: Stored<S>) => {
    const origin = { id: row.id, version: row.version };
    if (shelf === "packs") {
      const { start, goal, temperature_c } = draft.document.pack ?? {};
      const kept = draft.links.pack?.id === row.id ? { start, goal, temperature_c } : { goal };
      const document = withValue(draft.document, "/pack", { ...row.document, ...kept });
      setDraft({ ...draft, document, links: { ...draft.links, pack: origin } });
    } else {
      const document = withValue(draft.document, "/source", row.document);
      setDraft({ ...draft, document, links: { ...draft.links, source: origin } });
    }
    client.setQueryData([shelf, row.id], row);
  };
  /** Keeps the plan's pack or supply: new, or over the one it was copied from. */
  const keep = (shelf: "packs" | "gear") => {
    const link = shelf === "packs" ? draft.links.pack : draft.links.source;
    const based = link ? { id: link.id, version: link.version } : { id: newId() };
    const kept = (row: { id: string; version: number }) => {
      const origin = { id: row.id, version: row.version };
      setDraft({ ...draft, links: { ...draft.links, ...(shelf === "packs" ? { pack: origin } : { source: origin }) } });
      feedback.done(shelf === "packs" ? "Kept on the shelf." : "Kept in the gear.");
    };
    const done = { onSuccess: kept, onError: feedback.failed };
    if (shelf === "packs") {
      const { start, goal, temperature_c, ...label } = draft.document.pack ?? {};
      savePack.mutate({ ...based, document: label }, done);
    } else saveGear.mutate({ ...based, document: draft.document.source ?? {} }, done);
  };
  return { pick, keep };
}

