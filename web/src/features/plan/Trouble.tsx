import type { Place } from "../../api/client";
import { capital } from "../../ui/documents/editor";
import type { Answer } from "./useAnswer";

const PLACES: readonly [string, Place][] = [
  ["/source", "source"],
  ["/visit_every_min", "source"],
  ["/mains", "source"],
  ["/meters", "source"],
  ["/charger", "charger"],
  ["/leads/input", "input_lead"],
  ["/leads/output", "output_lead"],
  ["/cut_off", "cut_off"],
  ["/pack", "pack"],
  ["/other_packs", "pack"],
  ["/load", "load"],
  ["/settings", "settings"],
];

/** Why there is no answer to what stands there now, and where to mend it. */
export function Trouble({ answer, onShow }: { answer: Answer; onShow: (place: Place) => void }) {
  if (answer.failure) return <p className="trouble" role="alert">{answer.failure} Asking again…</p>;
  if (answer.problems.length === 0) return <p className="muted">Computing…</p>;
  return (
    <ul className="trouble" role="alert">
      {answer.problems.map((problem) => {
        const place = PLACES.find(([start]) => problem.pointer.startsWith(start))?.[1];
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
