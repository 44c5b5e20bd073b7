import { memo } from "react";
import { told } from "../../ui/preferences";
import { day } from "../../ui/clock";
import type { ResultDoc } from "../../api/client";

/** What the printed card says besides the card: which plan, which pack, which supply, which stops were accepted, the notes of its family, what to do when it burns. */
export const PrintHead = memo(function PrintHead({ name, result }: { name: string; result: ResultDoc }) {
  const grave = result.checks.filter((check) => check.severity !== "note");
  const notes = result.checks.filter((check) => check.severity === "note");
  return (
    <header className="print-head">
      <h2>
        {name || "Charge plan"} <span className="print-date">{day(new Date())}</span>
      </h2>
      {result.stages.map((stage) => (
        <p key={stage.at}>
          <strong>{stage.label}</strong> · {stage.rating}
        </p>
      ))}
      <ul>
        {grave.map((check) => (
          <li key={check.code + check.message}>
            <strong>{check.accepted ? "stop, accepted" : check.severity}:</strong> {told(check.message)}
          </li>
        ))}
      </ul>
      <p className="print-notes">{notes.map((check) => check.message).join(" ")}</p>
      {result.emergency.length > 0 && (
        <p className="print-notes">
          <strong>If it smokes, hisses or burns:</strong> {result.emergency.join(" ")}
        </p>
      )}
    </header>
  );
});
