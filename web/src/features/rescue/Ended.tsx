import { told } from "../../ui/preferences";
import { clock } from "../../ui/clock";
import { Button } from "antd";
import { useEffect, useState } from "react";
import type { RescueResultDoc, Schemas } from "../../api/client";
import { useFeedback } from "../../ui/feedback";
import { askAnew, type Case, caseOfRow, setCase } from "./case";
import { type Keeping, useClose } from "./useRescue";
import { OUTCOME_WORDS, STAGE_WORDS } from "./words";

interface Props {
  one: Case;
  result: RescueResultDoc;
  keeping: Keeping;
}

/** What has been done so far, and how it ends. */
export function History({ one }: { one: Case }) {
  const events = one.document.history ?? [];
  if (events.length === 0) return null;
  return (
    <section className="history" aria-label="Done so far">
      <h2>Done so far</h2>
      <ol>
        {events.map((event) => (
          <li key={event.at} className={event.state ?? ""}>
            <b>{event.stage ? STAGE_WORDS[event.stage] : ""}</b> {told(event.message ?? "")}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Closing a rescue: its pack carries the outcome from then on. */
export function Ending({ one, result, keeping }: Props) {
  const { mutate, isPending } = useClose();
  const { failed } = useFeedback();
  const [wanted, setWanted] = useState<Schemas["RescueOutcome"]>();
  // What was said last is kept before the end is: otherwise the two would overtake each other.
  const ready = wanted !== undefined && keeping === "kept" && !isPending;
  useEffect(() => {
    if (!ready) return;
    mutate(
      { one, outcome: wanted },
      {
        onSuccess: (row) => {
          setCase(caseOfRow(row));
        },
        onError: failed,
        onSettled: () => {
          setWanted(undefined);
        },
      },
    );
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each time it is wanted
  }, [ready]);
  const last = one.document.history?.at(-1);
  const proven = last?.stage === "prove" && last.state === "reached";
  const given = last?.state === "abort" || result.verdict === "retire";
  if (!proven && !given) return null;
  const { outcome, message } = result.afterwards;
  const kept = one.links.pack ? "It is kept with the pack on the shelf." : "";
  return (
    <section className="ending" aria-label="How it ends">
      {proven && (
        <>
          <p>
            {message} {kept}
          </p>
          {outcome != null && outcome !== "retired" && (
            <Button type="primary" loading={wanted !== undefined} onClick={() => { setWanted(outcome); }}>
              {outcome === "recovered" ? "Keep it as recovered" : "It is sound"}
            </Button>
          )}
        </>
      )}
      <Button danger={given} type={given ? "primary" : "default"} loading={wanted !== undefined} onClick={() => { setWanted("retired"); }}>
        Retire it
      </Button>
      {last?.state === "abort" && (
        <Button
          onClick={() => {
            askAnew(new Date());
          }}
        >
          Ask everything anew
        </Button>
      )}
      {given && <p className="muted">A retired pack stays listed, marked, and gives no settings any more. {kept}</p>}
    </section>
  );
}

/** A rescue that is over. */
export function Over({ one }: { one: Case }) {
  const { outcome, ended_at } = one.document;
  if (!outcome) return null;
  return (
    <p className={`over ${outcome}`} role="status">
      <b>{OUTCOME_WORDS[outcome]}</b>
      {ended_at && ` · ${clock(ended_at)}`}
    </p>
  );
}
