import { useMutation } from "@tanstack/react-query";
import { Button, Checkbox, Drawer } from "antd";
import { useState } from "react";
import { type LogMappingDoc, type LogResultDoc, type PackDoc, ProblemError } from "../../api/client";
import { chooseFile } from "../../ui/chooseFile";
import { stopwatch } from "../../ui/clock";
import { explain } from "../../ui/feedback";
import { overlays } from "../../ui/overlays";
import { useDrop } from "../../ui/useDrop";
import { trimmed } from "../../ui/quantity/parse";
import { useRecord } from "../../ui/useRecord";
import { COLUMNS, unitsOf, withMeaning } from "../run/logFile";

interface Props {
  open: boolean;
  pack: { id: string; version: number; document: PackDoc };
  onClose: () => void;
}

const KIND_WORDS = { charge: "charge", rest: "rest", discharge: "discharge" } as const;
const END_WORDS = { taper: "its current had fallen", cut_off: "a voltage", stopped: "it was stopped" } as const;

interface Asked {
  file: File;
  /** How its columns are read, where somebody has mended that. */
  as?: LogMappingDoc;
}

async function read(pack: string, { file, as }: Asked): Promise<LogResultDoc> {
  const query = new URLSearchParams({ pack, ...(as && { read_as: JSON.stringify(as) }) });
  const response = await fetch(`/api/logs/history?${query.toString()}`, { method: "POST", headers: { "content-type": "text/csv" }, body: file });
  const body: unknown = await response.json();
  if (!response.ok) throw new ProblemError(body as ConstructorParameters<typeof ProblemError>[0]);
  return body as LogResultDoc;
}

/** A logger's file of many cycles, parted; its tests are kept with the pack, all or chosen ones. */
export function History({ open, pack, onClose }: Props) {
  const [name, setName] = useState("");
  const [passed, setPassed] = useState<ReadonlySet<number>>(new Set());
  const [shown, setShown] = useState<number>();
  const [ended, setEnded] = useState("");
  // What was found stays while the file is read again with a column mended.
  const [found, setFound] = useState<LogResultDoc>();
  const reading = useMutation({ mutationFn: (asked: Asked) => read(pack.id, asked), onSuccess: setFound });
  const { keep, saving } = useRecord(pack);
  const take = (file: File) => {
    setName(file.name);
    setPassed(new Set());
    setShown(undefined);
    setEnded("");
    setFound(undefined);
    reading.mutate({ file });
  };
  const mend = (columns: LogMappingDoc["columns"]) => {
    if (!reading.variables || !found) return;
    setPassed(new Set());
    setShown(undefined);
    reading.mutate({ file: reading.variables.file, as: { ...found.mapping, columns: columns ?? null } });
  };
  useDrop((file) => {
    if (open) take(file);
  });
  const whole = found?.tests.filter(({ complete }) => complete) ?? [];
  const chosen = whole.filter(({ segment }) => !passed.has(segment));
  // A file without a clock says when each part was, but not on which day.
  const undated = found !== undefined && found.began_at == null;
  const last_s = found?.segments.at(-1)?.to_s ?? 0;
  const began = found?.began_at ?? (ended === "" ? undefined : new Date(Date.parse(`${ended}T12:00`) - last_s * 1000).toISOString());
  const keepAll = async () => {
    if (!found || began === undefined) return;
    for (const test of chosen) {
      const segment = found.segments[test.segment];
      const at = new Date(Date.parse(began) + (segment?.to_s ?? last_s) * 1000).toISOString();
      const kept = await keep(
        {
          kind: "test",
          at,
          whole: true,
          capacity_ah: test.capacity_ah,
          ...(test.energy_wh == null ? {} : { energy_wh: test.energy_wh }),
          ...(segment ? { current_a: segment.mean_a } : {}),
          ...(test.temperature_c == null ? {} : { temperature_c: test.temperature_c }),
          log_name: name,
        },
        `Kept: ${trimmed(test.capacity_ah, 2)} Ah.`,
      );
      if (!kept) return;
    }
    onClose();
  };
  return (
    <Drawer
      title="History from a log"
      size={720}
      open={open}
      onClose={onClose}
      getContainer={overlays}
      extra={
        <Button type="primary" disabled={chosen.length === 0 || began === undefined} loading={saving} onClick={() => void keepAll()}>
          Keep {chosen.length === 1 ? "this test" : `${chosen.length} tests`}
        </Button>
      }
    >
      <p className="history-drop">Drop a logger’s file here, of one charge or of months: it is parted into charges, rests and discharges, and every whole discharge from full counts as a capacity test.</p>
      <Button
        loading={reading.isPending}
        onClick={() => {
          chooseFile(".csv,.txt,.tsv,text/csv,text/plain", take);
        }}
      >
        Choose it
      </Button>
      {reading.isError && (
        <p className="field-problem" role="alert">
          {explain(reading.error)}
        </p>
      )}
      {found && (
        <>
          <p className="history-head" role="status">
            {name}: {found.readings} readings, {found.segments.length} parts, {found.tests.length} discharges, {whole.length} of them whole.
            {found.bad.length > 0 && ` ${found.bad.length} lines cannot be read.`}
          </p>
          <Columns mapping={found.mapping} onColumns={mend} />
          {undated && whole.length > 0 && (
            <p className="history-day">
              <label htmlFor="log-ended">This file has no dates. Its last line was written on</label>{" "}
              <input id="log-ended" type="date" value={ended} max={new Date().toISOString().slice(0, 10)} onChange={({ target }) => { setEnded(target.value); }} />
            </p>
          )}
          {found.notes.map((note) => (
            <p key={note} className="muted">{note}</p>
          ))}
          <table className="history-table">
            <thead>
              <tr>
                <th scope="col">From</th>
                <th scope="col">Part</th>
                <th scope="col">Ah</th>
                <th scope="col">Wh</th>
                <th scope="col">Mean</th>
                <th scope="col">Ended by</th>
                <th scope="col">Keep</th>
              </tr>
            </thead>
            <tbody>
              {found.segments.map((segment, n) => {
                const test = found.tests.find((one) => one.segment === n);
                return (
                  <tr key={n} className={`part-${segment.kind}`}>
                    <td className="figures">{stopwatch(segment.from_s)}</td>
                    <td>
                      <button type="button" className="plain-button history-part" aria-expanded={shown === n} onClick={() => { setShown(shown === n ? undefined : n); }}>
                        {KIND_WORDS[segment.kind]}
                      </button>
                      {shown === n && <Part segment={segment} test={test} />}
                    </td>
                    <td className="figures">{segment.kind === "rest" ? "" : trimmed(segment.charge_ah, 3)}</td>
                    <td className="figures">{segment.kind === "rest" || segment.energy_wh == null ? "" : trimmed(segment.energy_wh, 1)}</td>
                    <td className="figures">{segment.kind === "rest" ? "" : `${trimmed(segment.mean_a, 2)} A`}</td>
                    <td>{segment.ended_by ? END_WORDS[segment.ended_by] : ""}</td>
                    <td>
                      {test?.complete && (
                        <Checkbox
                          aria-label={`Keep the test of ${trimmed(test.capacity_ah, 2)} Ah`}
                          checked={!passed.has(n)}
                          onChange={({ target }) => {
                            const next = new Set(passed);
                            if (target.checked) next.delete(n);
                            else next.add(n);
                            setPassed(next);
                          }}
                        />
                      )}
                    </td>
                  </tr>
                );
              })}
            </tbody>
          </table>
          {found.cycles.some(({ charge_efficiency }) => charge_efficiency != null) && (
            <p>
              Out of what went in came out:{" "}
              {found.cycles
                .filter(({ charge_efficiency }) => charge_efficiency != null)
                .map(({ charge_efficiency, energy_efficiency }) => `${trimmed((charge_efficiency ?? 0) * 100, 1)} % of the Ah, ${trimmed((energy_efficiency ?? 0) * 100, 1)} % of the Wh`)
                .join("; ")}
              .
            </p>
          )}
          {found.resistance.length > 0 && <p>Its steps show {resistanceWords(found.resistance)}.</p>}
        </>
      )}
    </Drawer>
  );
}

/** What each column of the file is read as; mended, the file is read again. */
function Columns({ mapping, onColumns }: { mapping: LogMappingDoc; onColumns: (columns: LogMappingDoc["columns"]) => void }) {
  const columns = mapping.columns ?? [];
  return (
    <details className="history-columns">
      <summary>How its columns are read</summary>
      <ul>
        {columns.map((column, k) => {
          const name = mapping.header?.[k] ?? `column ${k + 1}`;
          const is = column.is ?? "ignored";
          return (
            <li key={k}>
              <span>{name}</span>
              <select
                aria-label={`What “${name}” is`}
                value={is}
                onChange={({ target }) => {
                  const chosen = COLUMNS.find(({ value }) => value === target.value);
                  if (chosen) onColumns(withMeaning(columns, k, chosen.value));
                }}
              >
                {COLUMNS.map(({ value, label }) => (
                  <option key={value} value={value}>
                    {label}
                  </option>
                ))}
              </select>
              {unitsOf(is).length > 1 && (
                <select
                  aria-label={`What “${name}” counts in`}
                  value={column.unit ?? unitsOf(is)[0]}
                  onChange={({ target }) => {
                    const unit = unitsOf(is).find((one) => one === target.value);
                    if (unit) onColumns(columns.map((one, at) => (at === k ? { ...one, unit } : one)));
                  }}
                >
                  {unitsOf(is).map((unit) => (
                    <option key={unit}>{unit}</option>
                  ))}
                </select>
              )}
            </li>
          );
        })}
      </ul>
    </details>
  );
}

function Part({ segment, test }: { segment: LogResultDoc["segments"][number]; test: LogResultDoc["tests"][number] | undefined }) {
  const { start_v, end_v, temperature_c, gaps_s, counted_ah, to_s, from_s, max_a } = segment;
  return (
    <ul className="muted history-more">
      <li>
        {stopwatch(to_s - from_s)} long{start_v != null && end_v != null && `, ${trimmed(start_v, 2)} V to ${trimmed(end_v, 2)} V`}
        {segment.kind !== "rest" && `, up to ${trimmed(max_a, 2)} A`}
        {temperature_c != null && `, ${trimmed(temperature_c, 0)} °C`}
      </li>
      {counted_ah != null && <li>The logger counted {trimmed(counted_ah, 3)} Ah.</li>}
      {gaps_s > 0 && <li>Silent for {stopwatch(gaps_s)} of it.</li>}
      {test?.corrected_ah != null && (
        <li>
          At 25 °C and the reference rate {trimmed(test.corrected_ah, 2)} ± {trimmed(2 * (test.corrected_sd_ah ?? 0), 2)} Ah.
        </li>
      )}
      {test?.missing.map(({ code, message }) => <li key={code}>{message}</li>)}
    </ul>
  );
}

function resistanceWords(steps: LogResultDoc["resistance"]): string {
  const middle = (values: number[]) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
  const one = middle(steps.flatMap(({ mohm_1s }) => (mohm_1s == null ? [] : [mohm_1s])));
  const ten = middle(steps.flatMap(({ mohm_10s }) => (mohm_10s == null ? [] : [mohm_10s])));
  return [one !== undefined && `${trimmed(one, 1)} mΩ after a second`, ten !== undefined && `${trimmed(ten, 1)} mΩ after ten`].filter(Boolean).join(", ");
}
