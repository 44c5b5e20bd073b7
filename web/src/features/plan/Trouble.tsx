import type { Place } from "../../api/client";
import { placeOf, problemWords } from "../../ui/documents/fieldWords";
import type { Answer } from "./useAnswer";

/** Why there is no answer to what stands there now, and where to mend it. */
export function Trouble({ answer, onShow }: { answer: Answer; onShow: (place: Place) => void }) {
  if (answer.failure) return <p className="trouble" role="alert">{answer.failure} Asking again…</p>;
  if (answer.problems.length === 0) return <p className="muted">Computing…</p>;
  return (
    <ul className="trouble" role="alert">
      {answer.problems.map((problem) => {
        const place = placeOf(problem.pointer);
        return (
          <li key={problem.pointer + problem.message}>
            {problemWords(problem)}{" "}
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
