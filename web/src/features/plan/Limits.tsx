import type { ResultDoc } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";
import { LIMIT_WORDS } from "../../ui/words";

/** Every limit at the start, the one that binds first: how far away the next one is. */
export function Limits({ result }: { result: ResultDoc }) {
  if (result.limits.length === 0) return null;
  return (
    <section className="limits" aria-label="Limits at the start">
      <h2>Limits at the start</h2>
      <ul>
        {result.limits.map((limit, k) => (
          <li key={limit.limit} className={k === 0 ? "binding" : ""}>
            <span>{LIMIT_WORDS[limit.limit]}</span>
            <span className="figures">{trimmed(limit.current_a, limit.current_a < 100 ? 2 : 0)} A</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
