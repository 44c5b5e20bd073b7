import { memo, Suspense, useCallback, useEffect, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import type { CheckDoc, Place, PlanDoc, ResultDoc } from "../../api/client";
import { useRow, useRows } from "../../api/shelves";
import { BenchCard } from "../../ui/bench-card/BenchCard";
import { DischargeCard } from "../../ui/bench-card/DischargeCard";
import { ChargeChart } from "../../ui/chart/ChargeChart";
import { momentAt } from "../../ui/chart/moment";
import { Checks } from "../../ui/checks/Checks";
import type { Editor } from "../../ui/documents/editor";
import { ChainPipe } from "../../ui/pipe/ChainPipe";
import { caseOfPlan, setCase } from "../rescue/case";
import { startWith } from "../run/starting";
import { Asked, Granted } from "./Asked";
import { isHeld } from "./asked";
import { Cells } from "./Cells";
import { changeDraft, currentDraft, type Draft, draftOf, isEmpty, setDraft, useDraft } from "./draft";
import { Empty } from "./Empty";
import { DeadLink } from "./DeadLink";
import { headFields, Unanswered } from "./headFields";
import { Limits } from "./Limits";
import { Newer } from "./Newer";
import { NoCard } from "./NoCard";
import { PlansDrawer, SizingDrawer } from "./drawers";
import { PlanTitle } from "./PlanTitle";
import { PrintHead } from "./PrintHead";
import { PrintRun } from "./PrintRun";
import { StagePanel } from "./StagePanel";
import { drawnChain } from "./stages";
import { Summary, summary } from "./Summary";
import { Trouble } from "./Trouble";
import { PutAside } from "./PutAside";
import { useAddress } from "./useAddress";
import { useAnswer } from "./useAnswer";
import { useImport } from "./useImport";
import { usePicking } from "./usePicking";
import { usePlanFile } from "./usePlanFile";
import { WhatHelps } from "./WhatHelps";
import "../../ui/work.css";
import "./plan.css";
import "./print.css";

/** What do I set, what limits, how long, is it safe. */
export default function PlanScreen() {
  const draft = useDraft();
  const dead = useAddress(draft);
  const { choose } = useImport();
  const plans = useRows("plans");
  const first = plans.data?.[0];
  useEffect(() => {
    // Another plan may be asked for by the address.
    if (!draft && first && window.location.pathname === "/plan" && window.location.hash === "") setDraft(draftOf(first));
  }, [draft, first]);
  if (dead !== undefined) return <DeadLink why={dead} />;
  if (!draft && plans.isPending && plans.failureCount === 0) return <p className="screen-note">Fetching your last plan…</p>;
  if (!draft || isEmpty(draft)) return <Empty draft={draft} onImport={choose} />;
  return <Plan draft={draft} onImport={choose} />;
}

function Plan({ draft, onImport }: { draft: Draft; onImport: () => void }) {
  const shelfPack = useRow("packs", draft.links.pack?.id).data;
  const plan = draft.document;
  const answer = useAnswer(plan, draft.of, shelfPack ?? draft.links.pack ?? undefined);
  const { result, stale, last, problems, failure, unfinished } = answer;
  // What an open question could make harmful is withheld: the card, its print and its start.
  const held = isHeld(draft);
  const [panel, setPanel] = useState<Place>();
  const [plansOpen, setPlansOpen] = useState(false);
  const [sizing, setSizing] = useState(false);
  const [cursor_s, setCursor] = useState(0);
  const file = usePlanFile();
  const { pick, keep } = usePicking(draft);
  const editor: Editor<PlanDoc> = useMemo(
    () => ({ document: draft.document, resolved: result?.resolved, problems, set: changeDraft }),
    [draft.document, result, problems],
  );
  const answers = result !== undefined && !held && problems.length === 0 && failure === undefined;
  const curve = result?.curve;
  // The same as long as the curve is: nothing is drawn anew while a value is typed.
  const moment = useMemo(() => curve && momentAt(curve, Math.min(cursor_s, curve.at(-1)?.t_s ?? 0)), [curve, cursor_s]);
  // While its chain is changed the fields stay where they are, without any figure of the one before.
  const drawn = result ?? last;
  const chain = drawn && drawnChain(drawn, moment ?? momentAt(drawn.curve, 0));
  const toggle = useCallback((place: Place) => {
    setPanel((open) => (open === place ? undefined : place));
  }, []);
  const openPlans = useCallback(() => {
    setPlansOpen(true);
  }, []);
  const openSizing = useCallback(() => {
    setSizing(true);
  }, []);
  return (
    <div className="plan">
      <PlanTitle
        draft={draft}
        editor={editor}
        onPlans={openPlans}
        onImport={onImport}
        summary={answers ? <Summary result={result} dimmed={stale} /> : undefined}
      />
      <PutAside />
      {!answers && !unfinished && !held && <Trouble answer={answer} onShow={setPanel} />}
      <Newer draft={draft} pick={pick} />
      <p className="unseen" role="status" aria-live="polite">
        {result && !stale && !held ? `Answer: ${summary(result).join(", ")}` : ""}
      </p>
      {chain ? (
        <ChainPipe
          {...chain}
          stages={chain.stages.map((stage) => ({ ...stage, fields: headFields(stage, editor, setPanel) }))}
          open={panel}
          onOpen={toggle}
          dimmed={stale}
          unknown={!result}
          withheld={held}
        />
      ) : (
        <Unanswered editor={editor} onOpen={toggle} />
      )}
      <div className="plan-body">
        <div className="plan-left">
          <Asked draft={draft} unfinished={unfinished} onShow={setPanel} />
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
          <Granted draft={draft} />
          {result && !held && moment && result.curve.length > 1 && (
            <div className={stale ? "dimmed" : ""}>
              <ChargeChart
                name={draft.document.name}
                stages={result.stages}
                curve={result.curve}
                pinch={result.pinch}
                nudges={result.nudges}
                to80_s={result.time.to_80_s}
                moment={moment}
                onMove={setCursor}
              />
            </div>
          )}
          {result && !held && (
            <div className={stale ? "plan-under dimmed" : "plan-under"}>
              <Under result={result} onShow={setPanel} onSizing={openSizing} />
            </div>
          )}
        </div>
        <div className="plan-card">
          {result && !held && <Card name={draft.document.name ?? ""} result={result} stale={stale} onOpen={toggle} />}
          {(!result || held) && <NoCard answer={answer} held={held} onShow={setPanel} />}
        </div>
      </div>
      {sizing && (
        <Suspense fallback={null}>
          <SizingDrawer
            plan={plan}
            pack={draft.links.pack}
            onClose={() => {
              setSizing(false);
            }}
          />
        </Suspense>
      )}
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

/** A check is accepted, or no more, as it stands now. */
function accept(check: CheckDoc, accepted: boolean) {
  const others = (currentDraft()?.document.accepted ?? []).filter((one) => one.code !== check.code);
  const mine = accepted ? [{ code: check.code, values: check.values, at: new Date().toISOString() }] : [];
  const all = [...others, ...mine];
  changeDraft("/accepted", all.length > 0 ? all : undefined);
}

/** Takes the pack of the plan on the bench to Rescue. */
function toRescue() {
  const draft = currentDraft();
  if (draft) setCase(caseOfPlan(draft.document, draft.links));
}

interface UnderProps {
  result: ResultDoc;
  onShow: (place: Place) => void;
  onSizing: () => void;
}

/** Below the curve: what to heed, what would help, what limits. Drawn anew only for another answer. */
const Under = memo(function Under({ result, onShow, onSizing }: UnderProps) {
  const navigate = useNavigate();
  return (
    <>
      <Checks
        checks={result.checks}
        onShow={onShow}
        onAccept={accept}
        onRescue={() => {
          toRescue();
          void navigate("/rescue");
        }}
      />
      <div>
        {result.settings && <WhatHelps result={result} onAsk={onSizing} onCompare={() => void navigate("/compare")} />}
        <Limits result={result} />
        <Cells cells={result.cells} />
      </div>
    </>
  );
});

interface CardProps {
  name: string;
  result: ResultDoc;
  stale: boolean;
  onOpen: (place: Place) => void;
}

/** The card to take to the bench; one that is being computed anew says so, and is not printed. */
function Card({ name, result, stale, onOpen }: CardProps) {
  const navigate = useNavigate();
  const start = () => {
    const draft = currentDraft();
    if (!draft) return;
    startWith(draft.document, draft.links);
    void navigate("/run");
  };
  if (result.discharge) return <DischargeCard discharge={result.discharge} emergency={result.emergency} before={stale} onStart={start} />;
  return (
    <>
      <div hidden={stale}>
        <PrintHead name={name} result={result} />
      </div>
      <BenchCard
        result={result}
        before={stale}
        onChange={() => {
          onOpen("settings");
        }}
        {...(result.curve.length > 1 && { onStart: start })}
      />
      <div hidden={stale}>
        <PrintRun result={result} />
      </div>
    </>
  );
}
