import { Button } from "antd";
import type { RescueResultDoc, Schemas } from "../../api/client";
import { useFeedback } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";
import { askAnew, type Case, caseOfRow, setCase } from "./case";
import { useClose } from "./useRescue";
import { OUTCOME_WORDS, STAGE_WORDS } from "./words";

interface Props {
  one: Case;
  result: RescueResultDoc;
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
            <b>{event.stage ? STAGE_WORDS[event.stage] : ""}</b> {event.message}
          </li>
        ))}
      </ol>
    </section>
  );
}

/** Closing a rescue: its pack carries the outcome from then on. */
export function Ending({ one, result }: Props) {
  const close = useClose();
  const feedback = useFeedback();
  const last = one.document.history?.at(-1);
  const proven = last?.stage === "prove" && last.state === "reached";
  const given = last?.state === "abort" || result.verdict === "retire";
  if (!proven && !given) return null;
  const marked = result.afterwards.mark === "recovered";
  const end = (outcome: Schemas["RescueOutcome"]) => {
    close.mutate({ one, outcome }, { onSuccess: (row) => { setCase(caseOfRow(row)); }, onError: feedback.failed });
  };
  const kept = one.links.pack ? "It is kept with the pack on the shelf." : "";
  return (
    <section className="ending" aria-label="How it ends">
      {proven && (
        <>
          <p>
            {marked && result.afterwards.rated_c_rate != null
              ? `From now on it is charged with ${trimmed(result.afterwards.rated_c_rate, 2)}C at most and carries the mark “recovered”. ${kept}`
              : `Nothing stays but what it gave. ${kept}`}
          </p>
          <Button type="primary" loading={close.isPending} onClick={() => { end(marked ? "recovered" : "sound"); }}>
            {marked ? "Keep it as recovered" : "It is sound"}
          </Button>
        </>
      )}
      <Button danger={given} type={given ? "primary" : "default"} loading={close.isPending} onClick={() => { end("retired"); }}>
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
      {ended_at && ` · ${new Date(ended_at).toLocaleString(undefined, { dateStyle: "medium", timeStyle: "short" })}`}
    </p>
  );
}
