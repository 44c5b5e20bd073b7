import { useState } from "react";
import { NavLink, useParams } from "react-router";
import { type Stored, useRows } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { packWords, shownDate } from "../../ui/words";
import { Follow } from "./Follow";
import { Preflight } from "./Preflight";
import { keepStarting, starting as kept, type Starting } from "./starting";
import { END_OPTIONS } from "./words";
import "../rescue/rescue.css";
import "./run.css";

/** Am I on the predicted line, what do I do now; and what was before. */
export default function RunScreen() {
  const { id } = useParams();
  const [starting, setStarting] = useState(kept);
  const change = (next: Starting | undefined) => {
    keepStarting(next);
    setStarting(next);
  };
  return (
    <div className="runs">
      <RunList starting={starting} />
      <div className="runs-work">
        {id ? <Follow key={id} id={id} /> : starting ? <Preflight starting={starting} onChange={change} /> : <Teach />}
      </div>
    </div>
  );
}

function Teach() {
  return (
    <div className="rescue-teach">
      <h1>Run</h1>
      <p>
        A charge as it happens: the list before it, your readings beside the prediction, what they mean, and when it will be
        done. Start one from a plan, on its bench card.
      </p>
    </div>
  );
}

function RunList({ starting }: { starting: Starting | undefined }) {
  const rows = useRows("runs");
  const sorted = [...(rows.data ?? [])].sort((a, b) => rank(a) - rank(b));
  return (
    <aside className="cases" aria-label="Runs">
      {rows.isError && (
        <p className="field-problem" role="alert">
          {explain(rows.error)}
        </p>
      )}
      <ul>
        {starting && (
          <li>
            <NavLink className="case" to="/run" end>
              <b>{starting.plan.name ?? "A charge"}</b>
              <span className="case-state">about to begin</span>
            </NavLink>
          </li>
        )}
        {sorted.map((row) => (
          <li key={row.id}>
            <NavLink className="case" to={`/run/${row.id}`}>
              <b>{row.document.name ?? "unnamed"}</b>
              <span className="muted">{packWords(row.document.plan?.pack ?? {})}</span>
              <span className="case-state">{stateWords(row.document)}</span>
            </NavLink>
          </li>
        ))}
      </ul>
    </aside>
  );
}

const rank = (row: Stored<"runs">) => (row.document.ended_at ? 1 : 0);

export function stateWords(document: Stored<"runs">["document"]): string {
  if (!document.ended_at) return "going on";
  const how = END_OPTIONS.find(({ value }) => value === document.end)?.label ?? "ended";
  return `${shownDate(document.started_at ?? "")}, ${how}`;
}
