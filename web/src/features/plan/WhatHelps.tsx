import type { ResultDoc } from "../../api/client";
import { showSeconds } from "../../ui/quantity/parse";
import { WITHOUT_WORDS } from "../../ui/words";

/** A bar per limit: the minutes it alone costs. */
export function WhatHelps({ result }: { result: ResultDoc }) {
  const most = Math.max(...result.what_if.map((entry) => entry.saves_s), 60);
  const best = result.what_if.find((entry) => entry.advised);
  return (
    <section className="helps" aria-label="What would help">
      <h2>What would help</h2>
      {result.what_if.length === 0 ? (
        <p className="muted">Nothing to compare in this plan.</p>
      ) : (
        <ul>
          {result.what_if.map((entry) => (
            <li key={entry.without}>
              <span>{WITHOUT_WORDS[entry.without]}</span>
              <svg className="helps-bar" viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                <rect className={entry.advised ? "advised" : ""} width={Math.max((100 * entry.saves_s) / most, 1.5)} height="10" />
              </svg>
              <span className="figures">{entry.saves_s < 30 ? "0 min" : `−${showSeconds(entry.saves_s)}`}</span>
            </li>
          ))}
        </ul>
      )}
      {result.what_if.length > 0 && (
        <p className="muted">
          {best
            ? `${WITHOUT_WORDS[best.without]} from the supply is worth a look.`
            : "Nothing bought would help: the pack itself sets the pace. Its limits are to be kept."}
        </p>
      )}
    </section>
  );
}
