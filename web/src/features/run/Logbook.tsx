import { Button, Input, Select } from "antd";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { NavLink, useNavigate } from "react-router";
import { useRows } from "../../api/shelves";
import { explain } from "../../ui/feedback";
import { packWords } from "../../ui/words";
import { useSettled } from "../../ui/useSettled";
import type { Starting } from "./starting";
import { logbookQuery } from "./useRun";
import { countWords, END_OPTIONS, stateWords } from "./words";

const TYPING_MS = 200;
/** How many readings a run has is worth saying of a long log. */
const MANY = 100;
const OUTCOMES = [{ value: "going_on", label: "going on" }, ...END_OPTIONS];

interface Sought {
  text?: string;
  pack?: string;
  gear?: string;
  outcome?: string;
  from?: string;
  until?: string;
}

/** A day as it is chosen, as the moment it begins here. */
const begins = (day: string, days = 0) => {
  const at = new Date(`${day}T00:00:00`);
  at.setDate(at.getDate() + days);
  return at.toISOString();
};

/** Every run, those going on first; by words, pack, gear, date and outcome. */
export function Logbook({ starting }: { starting: Starting | undefined }) {
  const navigate = useNavigate();
  const [sought, setSought] = useState<Sought>({});
  const asked = useSettled(sought, TYPING_MS);
  const set = (part: Sought) => {
    setSought((before) => Object.fromEntries(Object.entries({ ...before, ...part }).filter(([, value]) => value)));
  };
  const { from, until, ...rest } = asked;
  const query = { ...rest, ...(from ? { from: begins(from) } : {}), ...(until ? { until: begins(until, 1) } : {}) };
  const listed = useQuery({ ...logbookQuery(query, asked), placeholderData: keepPreviousData });
  const packs = useRows("packs").data ?? [];
  const gear = useRows("supplies").data ?? [];
  const chargers = useRows("chargers").data ?? [];
  const names = [...new Set([...gear, ...chargers].flatMap(({ document }) => document.name ?? []))].sort();
  const narrowed = Object.keys(sought).length > 0;
  return (
    <aside className="worklist logbook" aria-label="Runs">
      <Button
        size="small"
        onClick={() => {
          void navigate("/run/log");
        }}
      >
        Bring in a log
      </Button>
      <Input
        allowClear
        type="search"
        size="small"
        variant="underlined"
        placeholder="Name, note or pack"
        aria-label="Search the logbook"
        value={sought.text ?? ""}
        onChange={(event) => {
          set({ text: event.target.value });
        }}
      />
      <details className="logbook-more">
        <summary>{narrowed ? "Narrowed down" : "Narrow down"}</summary>
        <Select size="small" allowClear placeholder="Any pack" aria-label="Of which pack" value={sought.pack} options={packs.map((row) => ({ value: row.id, label: row.document.name ?? packWords(row.document) }))} onChange={(pack: string | undefined) => { set({ pack }); }} />
        <Select size="small" allowClear placeholder="Any gear" aria-label="With which gear" value={sought.gear} options={names.map((name) => ({ value: name, label: name }))} onChange={(name: string | undefined) => { set({ gear: name }); }} />
        <Select size="small" allowClear placeholder="However it ended" aria-label="How it ended" value={sought.outcome} options={OUTCOMES} onChange={(outcome: string | undefined) => { set({ outcome }); }} />
        <label>
          from <Input size="small" type="date" value={sought.from ?? ""} onChange={(event) => { set({ from: event.target.value }); }} />
        </label>
        <label>
          to <Input size="small" type="date" value={sought.until ?? ""} onChange={(event) => { set({ until: event.target.value }); }} />
        </label>
        {narrowed && (
          <Button
            size="small"
            type="text"
            onClick={() => {
              setSought({});
            }}
          >
            Show every run
          </Button>
        )}
      </details>
      {listed.isError && (
        <p className="field-problem" role="alert">
          {explain(listed.error)}
        </p>
      )}
      <ul>
        {starting && !narrowed && (
          <li>
            <NavLink className="work-row" to="/run" end>
              <b>{starting.plan.name ?? "A charge"}</b>
              <span className="work-state">about to begin</span>
            </NavLink>
          </li>
        )}
        {listed.data?.map(({ run, readings }) => (
          <li key={run.id}>
            <NavLink className="work-row" to={`/run/${run.id}`}>
              <b>{run.document.name ?? "unnamed"}</b>
              <span className="muted">{packWords(run.document.plan?.pack ?? {})}</span>
              <span className="work-state">
                {stateWords(run.document)}
                {readings > MANY && ` · ${countWords(readings)} readings`}
              </span>
            </NavLink>
          </li>
        ))}
      </ul>
      {listed.data?.length === 0 && narrowed && <p className="muted">No run is like that.</p>}
    </aside>
  );
}
