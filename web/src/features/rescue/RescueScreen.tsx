import { Input } from "antd";
import { useEffect } from "react";
import { ProblemError } from "../../api/client";
import { useRow, useRows } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { Button } from "antd";
import { StepButtons } from "../../ui/StepButtons";
import { packWords } from "../../ui/words";
import { type Case, caseOfPack, caseOfRow, currentCase, newCase, setCase, step, steps, useCase } from "./case";
import { CaseList } from "./CaseList";
import { Ending, History, Over } from "./Ended";
import { Known } from "./Known";
import { nameCase, Question } from "./Question";
import { StagePlan } from "./StagePlan";
import { StageRun } from "./StageRun";
import { useAddress } from "./useAddress";
import { type Keeping, useKeeping, useResult } from "./useRescue";
import { VerdictPanel } from "./VerdictPanel";
import { problemWords } from "../../ui/documents/fieldWords";
import "../../ui/work.css";
import "./rescue.css";

/** Can this pack come back, how, and when do I give up. */
export default function RescueScreen() {
  const one = useCase();
  const keeping = useKeeping(one);
  const rows = useRows("rescues");
  useAddress(one);
  return (
    <div className="rescue">
      <CaseList currentId={one?.id} />
      {one ? <OneRescue key={one.id} one={one} keeping={keeping} /> : rows.isLoading ? <p className="screen-note">Fetching…</p> : <Teach />}
    </div>
  );
}

/** What this screen is for, said while nothing is in trouble. */
function Teach() {
  const low = useRows("packs").data ?? [];
  return (
    <div className="teach">
      <h1>Rescue</h1>
      <p>
        <strong>Swollen, leaking, hot, crushed or smelling?</strong> Do not charge it. Put it outside, on stone, away from what burns.
      </p>
      <p>
        For a pack that was left too low, sleeps, or that its charger refuses. You are asked one thing at a time; Rumek says
        whether it can come back, how, and when to give it up.
      </p>
      <Button
        type="primary"
        onClick={() => {
          setCase(newCase());
        }}
      >
        A pack in trouble
      </Button>
      {low.length > 0 && (
        <>
          <p>Or one from your shelf:</p>
          <ul className="teach-packs">
            {low.map((row) => (
              <li key={row.id}>
                <Button
                  size="small"
                  onClick={() => {
                    setCase(caseOfPack(row));
                  }}
                >
                  {row.document.name ?? packWords(row.document)}
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </div>
  );
}

function OneRescue({ one, keeping }: { one: Case; keeping: Keeping }) {
  const query = useResult(one);
  const result = query.data;
  const wrong = query.error instanceof ProblemError ? query.error.problem.problems : [];
  const { stage, outcome, history } = one.document;
  const running = stage == null ? undefined : result?.stages.find(({ kind }) => kind === stage);
  const aborted = stage == null && history?.at(-1)?.state === "abort";
  const done = stage == null && history?.at(-1)?.stage === "prove";
  const [question] = outcome || aborted || done ? [] : (result?.ask ?? []);
  useFresh(one);
  return (
    <>
      <div className="rescue-head">
        <h1>
          <Input
            className="rescue-name"
            variant="borderless"
            aria-label="Name of this rescue"
            placeholder="A pack in trouble"
            value={one.document.name ?? ""}
            maxLength={120}
            onChange={(event) => {
              nameCase(event.target.value);
            }}
          />
        </h1>
        <StepButtons steps={steps} of="this rescue" go={step} />
        <KeepingNote one={one} keeping={keeping} />
      </div>
      <div className="rescue-work">
        {query.error && (
          <div className="trouble" role="alert">
            {wrong.length > 0
              ? wrong.map((problem) => (
                  <p key={problem.pointer + problem.message}>
                    {problemWords(problem, "the rescue")}
                  </p>
                ))
              : explain(query.error)}
          </div>
        )}
        <Over one={one} />
        {result && running ? (
          <StageRun one={one} stage={running} />
        ) : (
          <>
            {question && <Question one={one} question={question} more={(result?.ask.length ?? 1) - 1} problems={wrong} />}
            <History one={one} />
            {result && !outcome && !question && <Ending one={one} result={result} keeping={keeping} />}
            {result && !outcome && !aborted && !done && !(question && result.verdict === "inspect") && <StagePlan one={one} result={result} />}
            <Known one={one} fixed={outcome != null || aborted || done} />
          </>
        )}
      </div>
      <div className="rescue-verdict">{result && <VerdictPanel one={one} result={result} dimmed={query.isPlaceholderData} />}</div>
    </>
  );
}

/** A rescue that another window carried on is shown as it stands there, unless something here is not kept yet. */
function useFresh(one: Case) {
  const row = useRow("rescues", one.version === undefined ? undefined : one.id).data;
  useEffect(() => {
    const now = currentCase();
    if (!row || now?.id !== row.id || row.version <= (now.version ?? 0)) return;
    const stands = caseOfRow(row);
    if (now.saved === undefined || JSON.stringify([now.document, now.links.pack ?? null]) === now.saved) setCase(stands);
  }, [row]);
}

function KeepingNote({ one, keeping }: { one: Case; keeping: Keeping }) {
  const row = useRow("rescues", keeping === "conflict" ? one.id : undefined).data;
  if (keeping === "conflict")
    return (
      <p className="field-problem" role="alert">
        It was changed in another window.{" "}
        {row && (
          <>
            <Button size="small" onClick={() => { setCase(caseOfRow(row)); }}>
              Show what stands there
            </Button>{" "}
            <Button size="small" onClick={() => { setCase({ ...one, version: row.version }); }}>
              Put this over it
            </Button>
          </>
        )}
      </p>
    );
  if (keeping === "waiting") return <p className="field-problem" role="status">Kept in this browser; the server cannot be reached. Trying again…</p>;
  return <p className="muted rescue-kept">{one.version === undefined ? "" : keeping === "kept" ? "kept" : "keeping…"}</p>;
}
