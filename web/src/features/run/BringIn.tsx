import { Button, Input, Segmented } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { newId } from "../../api/id";
import { ProblemError, type Schemas } from "../../api/client";
import { refetch } from "../../api/changes";
import { type Stored, useRows, useSave } from "../../api/shelves";
import { StoppedError, upload } from "../../api/upload";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { useFeedback } from "../../ui/feedback";
import { Sending } from "../../ui/Sending";
import { packWords } from "../../ui/words";
import { BadLines } from "./BadLines";
import type { LogFile } from "./logFile";

interface Props {
  log: LogFile;
  looked: Schemas["LogLookedDoc"];
  changed: boolean;
  began_at: string | undefined;
}

/** Whose it is, what of lines that cannot be read, and off it goes. */
export function BringIn({ log, looked, changed, began_at }: Props) {
  const { look, remembered, packs: fits } = looked;
  const packs = useRows("packs").data ?? [];
  const plans = useRows("plans").data ?? [];
  const mappings = useRows("log-mappings").data ?? [];
  const save = useSave("log-mappings");
  const client = useQueryClient();
  const navigate = useNavigate();
  const feedback = useFeedback();
  const [chosen, setChosen] = useState<string>();
  const [plan, setPlan] = useState<string>();
  const [name, setName] = useState(log.file.name.replace(/\.[^.]*$/, ""));
  const [malformed, setMalformed] = useState<"skip" | "refuse">("refuse");
  const [sending, setSending] = useState<{ share: number; cancel: () => void }>();
  const [id] = useState(newId);
  const [kept, setKept] = useState<Stored<"log-mappings">>();
  const [refused, setRefused] = useState<Schemas["Problem"]>();
  const pack = chosen ?? fits[0];
  const fitting = new Set(fits);
  const rank = (id: string) => (fitting.has(id) ? fits.indexOf(id) : fits.length);
  const options = [...packs]
    .sort((a, b) => rank(a.id) - rank(b.id))
    .map((row) => ({
      value: row.id,
      label: `${row.document.name ?? "unnamed"} · ${packWords(row.document)}${fitting.has(row.id) ? "" : " · its volts do not fit"}`,
    }));
  const planned = plans.filter((row) => row.links.pack?.id === pack);
  const bring = async () => {
    setRefused(undefined);
    try {
      const known = kept ?? mappings.find((row) => row.id === remembered);
      const document = { name: known?.document.name ?? name, ...look.mapping };
      const same = JSON.stringify(known?.document.columns) === JSON.stringify(document.columns) && !changed;
      const mapping =
        known && same ? known : await save.mutateAsync(known ? { id: known.id, version: known.version, document } : { document });
      setKept(mapping);
      // The same file sent twice, because the first answer was lost, becomes one run.
      const query = new URLSearchParams({ id, mapping: mapping.id, malformed, name, file: log.file.name });
      if (pack) query.set("pack", pack);
      if (plan) query.set("plan", plan);
      if (!look.dated && began_at !== undefined) query.set("began_at", began_at);
      const sent = upload<Schemas["BroughtInDoc"]>(`/api/logs?${query.toString()}`, "text/csv", log.file, (share) => {
        setSending({ share, cancel: sent.cancel });
      });
      setSending({ share: 0, cancel: sent.cancel });
      const { run, lines, skipped } = await sent.answer;
      refetch(client, "runs");
      feedback.done(skipped === 0 ? `${lines} readings are in the logbook.` : `${lines} readings are in the logbook; ${skipped} lines were passed over.`);
      void navigate(`/run/${run.id}`);
    } catch (error) {
      if (error instanceof StoppedError) feedback.done(error.message);
      else if (error instanceof ProblemError && error.problem.problems.length > 0) setRefused(error.problem);
      else feedback.failed(error);
    } finally {
      setSending(undefined);
    }
  };
  return (
    <form
      className="log-bring"
      onSubmit={(event) => {
        event.preventDefault();
        void bring();
      }}
    >
      <div className="log-shape">
        <ChoiceInput
          label="Pack"
          value={pack}
          options={options}
          onChange={(id) => {
            setChosen(id);
            setPlan(undefined);
          }}
        />
        {planned.length > 0 && (
          <ChoiceInput label="Charged by the plan" clearable value={plan} options={planned.map((row) => ({ value: row.id, label: row.document.name ?? "unnamed" }))} onChange={setPlan} />
        )}
        <div className="field">
          <label htmlFor="log-name">Called</label>
          <Input
            id="log-name"
            size="small"
            variant="underlined"
            maxLength={120}
            value={name}
            onChange={(event) => {
              setName(event.target.value);
            }}
          />
        </div>
        <div className="field">
          <span className="muted">Lines that cannot be read</span>
          <Segmented
            size="small"
            aria-label="Lines that cannot be read"
            options={[
              { value: "refuse", label: "refuse the file" },
              { value: "skip", label: "pass over" },
            ]}
            value={malformed}
            onChange={setMalformed}
          />
        </div>
      </div>
      {refused && (
        <div role="alert" ref={(shown) => { shown?.scrollIntoView({ block: "nearest" }); }}>
          <p className="field-problem">{refused.detail}</p>
          <BadLines title="Which, and what is wrong" open bad={refused.problems.map((p) => ({ line: Number(p.pointer.split("/").at(-1)) || 0, message: p.message }))} />
        </div>
      )}
      {pack === undefined && <p className="muted">Whose log is it? {packs.length === 0 ? "Add the pack on the Shelf first." : "No pack’s volts fit: choose it."}</p>}
      {sending ? (
        <Sending share={sending.share} what="The log is read" onCancel={sending.cancel} />
      ) : (
        <Button type="primary" htmlType="submit" disabled={look.missing.length > 0 || pack === undefined} loading={save.isPending}>
          Bring it in
        </Button>
      )}
    </form>
  );
}
