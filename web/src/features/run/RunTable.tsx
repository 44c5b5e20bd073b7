import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { timeOfDay } from "../../ui/clock";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { packWords, shownDate } from "../../ui/words";
import { lasted_s, logbookQuery } from "./useRun";
import { END_OPTIONS, movedWords } from "./words";

/** Each run with what it came to, the latest first; before there is any, what this screen is for. */
export function RunTable() {
  const runs = useQuery(logbookQuery({})).data;
  if (runs?.length === 0)
    return (
      <div className="teach">
        <h1>Run</h1>
        <p>
          A charge as it happens: the list before it, your readings beside the prediction, what they mean, and when it will be
          done. Start one from a plan, on its bench card; or bring in a log of one that was.
        </p>
      </div>
    );
  return (
    <section className="run-table" aria-label="What the runs came to">
      <h1>Run</h1>
      <p className="muted">Start one from a plan, on its bench card. What was before:</p>
      <div className="run-table-scroll">
        <table>
          <thead>
            <tr>
              <th scope="col">Run</th>
              <th scope="col">Pack</th>
              <th scope="col">Began</th>
              <th scope="col">Took</th>
              <th scope="col">Went in or out</th>
              <th scope="col">Rests at</th>
              <th scope="col">How it ended</th>
            </tr>
          </thead>
          <tbody>
            {runs?.map(({ run: { id, document } }) => {
              const took_s = lasted_s(document);
              const began = document.started_at ?? "";
              return (
                <tr key={id}>
                  <th scope="row">
                    <Link to={`/run/${id}`}>{document.name ?? "unnamed"}</Link>
                  </th>
                  <td>{packWords(document.plan?.pack ?? {})}</td>
                  <td className="figures">
                    {shownDate(began)}, {timeOfDay(new Date(began))}
                  </td>
                  <td className="figures">{took_s === undefined ? "–" : showSeconds(took_s)}</td>
                  <td className="figures">{document.charge_ah == null ? "–" : movedWords(document.charge_ah)}</td>
                  <td className="figures">{document.rest_voltage_v == null ? "–" : `${trimmed(document.rest_voltage_v, 2)} V`}</td>
                  <td>{document.ended_at ? (END_OPTIONS.find(({ value }) => value === document.end)?.label ?? "ended") : "going on"}</td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </div>
    </section>
  );
}
