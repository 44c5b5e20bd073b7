import type { ReactNode } from "react";
import type { RunStateDoc } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { shownDate } from "../../ui/words";
import type { useEnded } from "./useRun";
import { movedWords } from "./words";

/** Less than this learned, the readings say nothing of the pack itself. */
const TELLS = 0.15;

const COLUMNS: [name: string, shown: (state: RunStateDoc) => ReactNode][] = [
  ["in all", ({ account }) => showSeconds(account.total_s)],
  ["rising", ({ account }) => (account.to_cv_s == null ? "–" : showSeconds(account.to_cv_s))],
  ["began at", ({ fit }) => `${trimmed(fit.start_soc * 100, 0)} %`],
  ["in or out", ({ account }) => movedWords(account.charge_ah)],
  ["resistance", ({ fit }) => (fit.learned < TELLS ? "–" : `${trimmed(fit.resistance_mohm, 0)} ± ${trimmed(fit.resistance_sd_mohm, 0)} mΩ`)],
  ["holds", ({ fit }) => (fit.learned < TELLS ? "–" : `${trimmed(fit.capacity_ah, 2)} ± ${trimmed(fit.capacity_sd_ah, 2)} Ah`)],
];

/** What each of some runs of a pack came to, and what its readings made of the pack. */
export function OverlayTable({ each }: { each: ReturnType<typeof useEnded> }) {
  return (
    <div className="overlay-table" tabIndex={0} role="region" aria-label="The runs beside each other, as a table">
      <table className="account">
        <thead>
          <tr>
            <th scope="col">run</th>
            {COLUMNS.map(([name]) => (
              <th key={name} scope="col">
                {name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {each.map(({ run, state }, k) => (
            <tr key={run.id}>
              <th scope="row">
                <svg width="28" height="6" aria-hidden="true">
                  <path className={`overlay-line line-${k}`} d="M0,3 H28" />
                </svg>{" "}
                {shownDate(run.document.started_at ?? "")}
              </th>
              {COLUMNS.map(([name, shown]) => (
                <td key={name} className="figures">
                  {state ? shown(state) : "…"}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
