import { degrees } from "../../ui/preferences";
import type { Schemas } from "../../api/client";
import { clock } from "../../ui/clock";
import { trimmed } from "../../ui/quantity/parse";
import type { Taken } from "./useRun";
import { END_OPTIONS } from "./words";

const MEASURED: Record<Schemas["PreflightCode"], string> = {
  surface: "surface seen to",
  air: "fresh air seen to",
  current_limit: "current limit",
  no_load_voltage: "nothing connected",
  supply_voltage: "the supply alone",
  polarity: "plus and minus measured",
  rest_voltage: "pack at rest",
  cells: "cells at rest",
  temperature: "warmth",
  sink: "what takes it",
  cut_off: "where it ends",
  clock: "a clock",
  fuse: "fuses in",
};

/** An answer of the list before, in words. */
export function answerWords({ code, value, cells_v }: Schemas["PreflightAnswerDoc"]): string {
  const what = code ? MEASURED[code] : "";
  if (cells_v) return `${what} ${cells_v.map((v) => trimmed(v, 3)).join(" ")} V`;
  if (value == null) return what;
  return `${what} ${code === "temperature" ? degrees(value) : `${trimmed(value, 2)} ${code === "current_limit" ? "A" : "V"}`}`;
}

/** What happened beside the figures: the list before, the start, what was noted, the end. */
export function Events({ document, taken }: { document: Schemas["RunDoc"]; taken: readonly Taken[] }) {
  const noted = taken.filter(({ reading }) => reading.note).map(({ at, reading }) => [at, reading.note ?? ""] as const);
  const answers = (document.preflight ?? []).map(answerWords);
  const end = END_OPTIONS.find(({ value }) => value === document.end)?.label ?? "";
  const events = [
    ...(answers.length > 0 ? [["", `Before: ${answers.join(" · ")}`] as const] : []),
    [document.started_at ?? "", "Current began to flow"] as const,
    ...noted,
    ...(document.ended_at ? [[document.ended_at, `Ended${end === "" ? "" : `, ${end}`}`] as const] : []),
  ];
  if (events.length < 2) return null;
  return (
    <details className="run-events">
      <summary>What happened</summary>
      <ul className="event-list">
        {events.map(([at, what]) => (
          <li key={at + what}>
            <span className="figures">{at === "" ? "" : clock(at, 0, Date.parse(document.started_at ?? at))}</span>
            <span>{what}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
