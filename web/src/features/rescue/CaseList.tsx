import { Button } from "antd";
import { type Stored, useRows } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { packWords } from "../../ui/words";
import { caseOfRow, currentCase, isUnsaved, newCase, setCase } from "./case";
import { OUTCOME_WORDS, STAGE_WORDS } from "./words";

/** Every pack in trouble: what is under way first, what is over last. */
export function CaseList({ currentId }: { currentId: string | undefined }) {
  const rows = useRows("rescues");
  const sorted = [...(rows.data ?? [])].sort((a, b) => rank(a) - rank(b));
  return (
    <aside className="worklist" aria-label="Packs in trouble">
      <Button
        type="primary"
        size="small"
        onClick={() => {
          setCase(newCase());
        }}
      >
        A pack in trouble
      </Button>
      {rows.isLoading && <p className="muted">Fetching…</p>}
      {rows.isError && (
        <p className="field-problem" role="alert">
          {explain(rows.error)}
        </p>
      )}
      <ul>
        {sorted.map((row) => (
          <li key={row.id}>
            <button
              type="button"
              className={row.id === currentId ? "plain-button work-row current" : "plain-button work-row"}
              aria-current={row.id === currentId ? "true" : undefined}
              onClick={() => {
                const now = currentCase();
                // What could not be kept yet stays on the bench.
                if (now?.id === row.id && isUnsaved(now)) return;
                setCase(caseOfRow(row));
              }}
            >
              <b>{row.document.name ?? "unnamed"}</b>
              <span className="muted">{packWords(row.document.rescue?.pack ?? {})}</span>
              <span className="work-state">{stateWords(row)}</span>
            </button>
          </li>
        ))}
      </ul>
    </aside>
  );
}

const rank = (row: Stored<"rescues">) => (row.document.outcome ? 2 : row.document.stage ? 0 : 1);

export function stateWords({ document }: Pick<Stored<"rescues">, "document">): string {
  if (document.outcome) return OUTCOME_WORDS[document.outcome];
  if (document.stage) return `${STAGE_WORDS[document.stage].toLowerCase()} under way`;
  return document.history?.at(-1)?.state === "abort" ? "broken off" : "not begun";
}
