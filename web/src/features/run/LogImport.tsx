import { Button, Input, InputNumber, Segmented } from "antd";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { newId } from "../../api/id";
import { answered, api, type LogMappingDoc, ProblemError, type Schemas } from "../../api/client";
import { refetch } from "../../api/changes";
import { type Stored, useRows, useSave } from "../../api/shelves";
import { StoppedError, upload } from "../../api/upload";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { chooseFile } from "../../ui/chooseFile";
import { explain, useFeedback } from "../../ui/feedback";
import { Sending } from "../../ui/Sending";
import { useDrop } from "../../ui/useDrop";
import { packWords } from "../../ui/words";
import { BadLines } from "./BadLines";
import { LogTable } from "./LogTable";
import { beginning, DECIMALS, DELIMITERS, type LogFile, sizeWords, TIMES } from "./logFile";

const ACCEPTED = ".csv,.txt,.tsv,.log,text/csv,text/plain";

/** A file of another instrument becomes a run: shown as it is read, corrected, brought in whole. */
export function LogImport() {
  const [log, setLog] = useState<LogFile>();
  const take = (file: File) => {
    void beginning(file).then(setLog);
  };
  useDrop(take);
  return (
    <section className="log-import" aria-label="A log from another instrument">
      <h1>A log from another instrument</h1>
      {log ? (
        <Shown
          key={`${log.file.name} ${log.file.lastModified}`}
          log={log}
          onOther={() => {
            chooseFile(ACCEPTED, take);
          }}
        />
      ) : (
        <>
          <p>
            Any logger’s CSV becomes a run of one of your packs: drop the file here. How it is written is found out; you see how
            each column is read, and correct it once. Files with the same columns are known from then on.
          </p>
          <Button
            type="primary"
            onClick={() => {
              chooseFile(ACCEPTED, take);
            }}
          >
            Choose a file
          </Button>
        </>
      )}
    </section>
  );
}

/** A date and time as a local clock shows it, and back. */
const toLocal = (at: Date) => new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);

function Shown({ log, onOther }: { log: LogFile; onOther: () => void }) {
  const { file, text } = log;
  const [changed, setChanged] = useState<LogMappingDoc>();
  const [beganLocal, setBegan] = useState(() => toLocal(new Date(file.lastModified)));
  const began = new Date(beganLocal);
  const began_at = Number.isNaN(began.getTime()) ? undefined : began.toISOString();
  const looked = useQuery({
    queryKey: ["log", file.name, file.lastModified, file.size, changed, began_at],
    queryFn: ({ signal }) => {
      const body = { text, mapping: changed, began_at, utc_offset_min: -new Date().getTimezoneOffset() };
      return answered(api.POST("/api/logs/look", { body, signal }));
    },
    placeholderData: keepPreviousData,
    retry: false,
  });
  const { look, remembered } = looked.data ?? {};
  if (!look)
    return (
      <p className={looked.error ? "field-problem" : "muted"} role="status">
        {looked.error ? explain(looked.error) : "Looking at it…"}
      </p>
    );
  const { mapping } = look;
  // The shape is found out anew around what is set; what the columns hold is kept as it is corrected.
  const reshape = (part: Partial<LogMappingDoc>) => {
    const { delimiter, decimal, time, skip_lines, header_lines } = changed ?? {};
    setChanged({ delimiter, decimal, time, skip_lines, header_lines, ...part });
  };
  return (
    <>
      <p className="log-file">
        <b>{file.name}</b> <span className="muted">{sizeWords(file.size)}</span>{" "}
        {remembered != null && !changed && <span className="muted">· read as the last file with these columns</span>}{" "}
        <Button size="small" type="text" onClick={onOther}>
          Another file
        </Button>
      </p>
      <div className="log-shape">
        <ChoiceInput label="Fields parted by" value={mapping.delimiter ?? undefined} options={DELIMITERS} onChange={(delimiter) => { reshape({ delimiter }); }} />
        <ChoiceInput label="Decimals after a" value={mapping.decimal ?? undefined} options={DECIMALS} onChange={(decimal) => { setChanged({ ...mapping, decimal }); }} />
        <ChoiceInput label="Time written as" value={mapping.time ?? undefined} options={TIMES} onChange={(time) => { setChanged({ ...mapping, time }); }} />
        <div className="field">
          <label htmlFor="log-header">Names of columns in line</label>
          <InputNumber
            id="log-header"
            size="small"
            min={0}
            max={10_000}
            variant="underlined"
            value={mapping.header_lines === 0 ? 0 : (mapping.skip_lines ?? 0) + 1}
            onChange={(line) => {
              if (line === 0) reshape({ header_lines: 0, skip_lines: undefined });
              else if (line) reshape({ skip_lines: line - 1, header_lines: undefined });
            }}
          />
        </div>
        {!look.dated && (
          <div className="field log-began">
            <label htmlFor="log-began">It began (the file does not say)</label>
            <Input
              id="log-began"
              size="small"
              type="datetime-local"
              variant="underlined"
              value={beganLocal}
              onChange={(event) => {
                setBegan(event.target.value);
              }}
            />
          </div>
        )}
      </div>
      <LogTable
        look={look}
        onColumns={(columns) => {
          setChanged({ ...mapping, columns });
        }}
      />
      {look.missing.length > 0 && (
        <ul className="field-problem" aria-label="What is missing">
          {look.missing.map((one) => (
            <li key={one}>{one}</li>
          ))}
        </ul>
      )}
      <BadLines title={look.bad.length === 1 ? "One of its first lines cannot be read" : `${look.bad.length} of its first ${look.looked_at} lines cannot be read`} bad={look.bad} />
      <BringIn log={log} looked={looked.data as Schemas["LogLookedDoc"]} changed={changed !== undefined} began_at={began_at} />
    </>
  );
}

interface BringInProps {
  log: LogFile;
  looked: Schemas["LogLookedDoc"];
  changed: boolean;
  began_at: string | undefined;
}

/** Whose it is, what of lines that cannot be read, and off it goes. */
function BringIn({ log, looked, changed, began_at }: BringInProps) {
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
