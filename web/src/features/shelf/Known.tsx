import { Button } from "antd";
import { Link } from "react-router";
import type { RecordDoc, Schemas } from "../../api/client";
import { type Stored, usePutAway } from "../../api/shelves";
import { useFeedback } from "../../ui/feedback";
import { trimmed } from "../../ui/quantity/parse";
import { Remember } from "./Remember";
import { date } from "./standingWords";

type Page = Schemas["PackPageDoc"];

interface Props {
  pack: { id: string; version: number };
  records: readonly Stored<"records">[];
  runs: Page["runs"];
}

/** A record in words. */
function recordWords(record: RecordDoc): string {
  const { kind, capacity_ah, current_a, temperature_c, voltage_v, cell_voltages_v, charge_ah, note } = record;
  const warm = temperature_c == null ? "" : ` at ${trimmed(temperature_c, 0)} °C`;
  switch (kind) {
    case "test":
      return `gave ${trimmed(capacity_ah ?? 0, 2)} Ah${current_a == null ? "" : ` at ${trimmed(current_a, 2)} A`}${warm}${record.whole === false ? ", not whole" : ""}`;
    case "rest":
      return cell_voltages_v ? `at rest, cells ${cell_voltages_v.map((v) => trimmed(v, 3)).join(" ")} V${warm}` : `at rest ${trimmed(voltage_v ?? 0, 2)} V${warm}`;
    case "charge":
      return `${trimmed(charge_ah ?? 0, 2)} Ah went in`;
    case "discharge":
      return `${trimmed(charge_ah ?? 0, 2)} Ah came out`;
    case "photo":
      return "a photo";
    case "note":
    case undefined:
    case null:
      return note ?? "";
  }
}

/** How it looked then; large where it is pressed. */
function Photo({ id, at }: { id: string; at: string }) {
  const address = `/api/records/${id}/photo`;
  return (
    <a href={address} target="_blank" rel="noreferrer" className="pack-photo">
      <img src={address} alt={`The pack on ${date(at)}`} loading="lazy" />
    </a>
  );
}

/** What is known of a pack, and its runs, the newest first. */
export function Known({ pack, records, runs }: Props) {
  const putAway = usePutAway("records");
  const feedback = useFeedback();
  const move = async (row: { id: string; version: number }, away: boolean) => {
    try {
      const now = await putAway.mutateAsync({ ...row, away });
      if (away)
        feedback.undoable("It is not counted any more.", () => {
          void move({ id: now.id, version: now.version }, false);
        });
    } catch (error) {
      feedback.failed(error);
    }
  };
  const rows = [
    ...records.map((row) => ({ key: row.id, at: row.document.at ?? row.created_at, row })),
    ...runs.map((run) => ({ key: run.id, at: run.ended_at ?? "", run })),
  ].sort((a, b) => b.at.localeCompare(a.at));
  return (
    <section className="pack-known" aria-label="What is known of it">
      <h2>What is known of it</h2>
      <Remember pack={pack} />
      {rows.length === 0 && <p className="muted">Nothing yet: enter what it reads at rest, a test, or bring a log in.</p>}
      <ol data-pack={pack.id}>
        {rows.map((one) => (
          <li key={one.key}>
            <span className="muted">{one.at ? date(one.at) : ""}</span>
            {"run" in one ? (
              <span>
                <Link to={`/run/${one.run.id}`}>{one.run.name ?? "Run"}</Link>
                {one.run.charge_ah != null && `: ${trimmed(Math.abs(one.run.charge_ah), 2)} Ah ${one.run.charge_ah < 0 ? "out" : "in"}`}
              </span>
            ) : (
              <>
                {one.row.document.kind === "photo" ? <Photo id={one.row.id} at={one.at} /> : <span>{recordWords(one.row.document)}</span>}
                <Button size="small" type="text" aria-label={`Take back: ${recordWords(one.row.document)}`} onClick={() => { void move(one.row, true); }}>
                  Take back
                </Button>
              </>
            )}
          </li>
        ))}
      </ol>
    </section>
  );
}
