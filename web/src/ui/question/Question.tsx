import { useId } from "react";
import type { Schemas } from "../../api/client";
import "./question.css";

export type Ask = Schemas["AskDoc"];
type AskChoice = Schemas["AskChoiceDoc"];

interface Props {
  ask: Ask;
  /** How many more are open after this one. */
  more: number;
  onChoose: (choice: AskChoice) => void;
  /** Leads to where the answer is typed; for a question whose answer only the person knows. */
  onType?: (() => void) | undefined;
  /** Puts it away unanswered; only where nothing dangerous hangs on it. */
  onLeave?: (() => void) | undefined;
}

/** The one question that decides most, each answer with what it leads to. With the focus in it, 1 to 4 choose. */
export function Question({ ask, more, onChoose, onType, onLeave }: Props) {
  const id = useId();
  return (
    <section
      className={ask.holds ? "query query-holds" : "query"}
      aria-labelledby={id}
      onKeyDown={(event) => {
        const chosen = /^[1-4]$/.test(event.key) ? ask.choices[Number(event.key) - 1] : undefined;
        if (!chosen || event.ctrlKey || event.metaKey || event.altKey) return;
        event.preventDefault();
        onChoose(chosen);
      }}
    >
      <h2 id={id}>{ask.question}</h2>
      <p className="query-why">
        {ask.why} {ask.how}
      </p>
      {ask.choices.length > 0 && (
        <ol className="query-choices">
          {ask.choices.map((choice, n) => (
            <li key={choice.label}>
              <button
                type="button"
                className="query-choice"
                aria-label={choice.leads_to === "" ? choice.label : `${choice.label}: ${choice.leads_to}`}
                onClick={() => {
                  onChoose(choice);
                }}
              >
                <span className="query-number figures" aria-hidden="true">
                  {n + 1}
                </span>
                <span className="query-label">{choice.label}</span>
                {choice.leads_to !== "" && <span className={choice.leads_to.startsWith("stopped") ? "query-leads" : "query-leads figures"}>{choice.leads_to}</span>}
              </button>
            </li>
          ))}
        </ol>
      )}
      <p className="query-foot">
        {onType && (
          <button type="button" className="plain-button" onClick={onType}>
            {ask.choices.length > 0 ? "Something else: type it" : "Type the answer"}
          </button>
        )}
        {onLeave && (
          <button type="button" className="plain-button" onClick={onLeave}>
            Leave it open
          </button>
        )}
        {more > 0 && <span className="muted">{more === 1 ? "1 more question after this one." : `${String(more)} more questions after this one.`}</span>}
      </p>
    </section>
  );
}
