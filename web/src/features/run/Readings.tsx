import { Button } from "antd";
import { useState } from "react";
import type { PlanDoc, Schemas } from "../../api/client";
import { clock } from "../../ui/clock";
import type { Sent } from "./outbox";
import { RunReading } from "./RunReading";
import { useCorrecting } from "./useCorrecting";
import type { Taken } from "./useRun";
import { countWords, readingWords } from "./words";

/** Of a long log, so many readings are listed. */
const LISTED = 20;

interface Props {
  run: string;
  plan: PlanDoc;
  taken: readonly Taken[];
  struck: readonly Schemas["KeptReadingDoc"][];
  count: number;
  sent: Sent;
}

/** The latest readings first; of a long log not every one. One that was mistyped is corrected or taken back. */
export function Readings({ run, plan, taken, struck, count, sent }: Props) {
  const [correcting, setCorrecting] = useState<string>();
  const { takeBack, correct, countAgain } = useCorrecting(run, sent);
  const rows = [
    ...taken.map(({ at, reading, waiting, id }) => ({ at, reading, waiting, id, gone: false })),
    ...struck.map(({ at, taken_at, reading, client_id }) => ({ at: at ?? taken_at, reading, waiting: false, id: client_id ?? undefined, gone: true })),
  ].sort((a, b) => Date.parse(b.at) - Date.parse(a.at));
  const first = rows.at(-1);
  if (!first) return null;
  /** By its day only where that is another than the first reading's. */
  const when = (at: string) => clock(at, 0, Date.parse(first.at));

  return (
    <>
      <ul className="readings" aria-label="Readings">
        {rows.slice(0, LISTED).map(({ at, reading, waiting, id, gone }, k) => (
          <li key={id ?? `${at} ${k}`} className="figures">
            <span>{when(at)}</span>
            {gone ? (
              <span>
                <s>{readingWords(reading)}</s> <span className="muted">taken back</span>
              </span>
            ) : (
              <span>{readingWords(reading)}</span>
            )}
            <span className="reading-acts">
              {waiting && <span className="muted">waits</span>}
              {id !== undefined && !gone && (
                <>
                  <Button
                    size="small"
                    type="text"
                    aria-label={`Correct the reading of ${when(at)}`}
                    onClick={() => {
                      setCorrecting(id);
                    }}
                  >
                    Correct
                  </Button>
                  <Button size="small" type="text" aria-label={`Take back the reading of ${when(at)}`} onClick={() => void takeBack(id, waiting, reading)}>
                    Take back
                  </Button>
                </>
              )}
              {id !== undefined && gone && (
                <Button size="small" type="text" aria-label={`Count the reading of ${when(at)} again`} onClick={() => {
                    countAgain(id);
                  }}>
                  Count it again
                </Button>
              )}
            </span>
            {id !== undefined && correcting === id && (
              <RunReading
                plan={plan}
                before={reading}
                focus
                onEnter={(next) => {
                  setCorrecting(undefined);
                  void correct(id, at, waiting, next);
                }}
                onLeave={() => {
                  setCorrecting(undefined);
                }}
              />
            )}
          </li>
        ))}
      </ul>
      {Math.max(count, rows.length) > LISTED && (
        <p className="muted">
          These are {Math.min(LISTED, rows.length)} of {countWords(Math.max(count, rows.length))} readings; the CSV holds every one that counts.
        </p>
      )}
    </>
  );
}
