import type { Place } from "../../api/client";
import { placeOf, problemWords } from "../../ui/documents/fieldWords";
import type { Answer } from "./useAnswer";

/** In place of the bench card while there is none for what stands on the screen: why, and what it lacks. */
export function NoCard({ answer, held = false, onShow }: { answer: Answer; held?: boolean; onShow: (place: Place) => void }) {
  const { problems, failure, unfinished } = answer;
  const open = held || unfinished !== undefined;
  return (
    <section className="card no-card" aria-label="Bench card">
      <div className="card-head">
        <h2>Bench card</h2>
      </div>
      {failure !== undefined && <p className="card-note">No card: what stands here has not been computed. {failure}</p>}
      {open && failure === undefined && <p className="card-note">No card yet. Answer the question first: the settings depend on it.</p>}
      {!open && failure === undefined && problems.length === 0 && <p className="card-note no-card-wait">Computing…</p>}
      {problems.length > 0 && (
        <>
          <p className="card-note">No card yet. This plan still needs:</p>
          <ul className="no-card-needs">
            {problems.map((problem) => {
              const place = placeOf(problem.pointer);
              const said = problemWords(problem);
              return (
                <li key={problem.pointer + problem.message}>
                  {place ? (
                    <button type="button" className="plain-button" onClick={() => { onShow(place); }}>
                      {said}
                    </button>
                  ) : (
                    said
                  )}
                </li>
              );
            })}
          </ul>
        </>
      )}
    </section>
  );
}
