import { useId, useState } from "react";
import { Link } from "react-router";
import { shortName } from "../quantity/shortNames";
import { termOf } from "./byLabel";
import type { Term } from "./terms";
import "./terms.css";

/** The label of a field; where its word may need one, what it means is one press away. */
export function FieldLabel({ label, of }: { label: string; of: string }) {
  const term = termOf(label);
  return (
    <span className="field-label">
      <label htmlFor={of}>{label}</label>
      {term !== undefined && <Explain id={term} label={label} />}
    </span>
  );
}

/** The name of a field in the chain, where there is little room. */
export function ShortLabel({ label, of }: { label: string; of: string }) {
  const short = shortName(label);
  return short === undefined ? null : (
    <label className="field-short" htmlFor={of}>
      {short}
    </label>
  );
}

function Explain({ id, label }: { id: string; label: string }) {
  const popover = useId();
  const [term, setTerm] = useState<Term>();
  return (
    <>
      <button
        type="button"
        className="plain-button explain"
        popoverTarget={popover}
        aria-label={`What “${label}” means`}
        onClick={() => {
          // The list is fetched when the first word is asked for.
          void import("./terms").then(({ TERMS }) => {
            setTerm(TERMS.find((one) => one.id === id));
          });
        }}
      >
        ?
      </button>
      <div id={popover} popover="auto" className="explained">
        {term && (
          <>
            <strong>{term.word}.</strong> {term.means}{" "}
            <Link to={`/guide#${term.id}`}>More in the guide</Link>
          </>
        )}
      </div>
    </>
  );
}
