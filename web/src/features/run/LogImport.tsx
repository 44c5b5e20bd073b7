import { Button, Input, InputNumber } from "antd";
import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { answered, api, type LogMappingDoc, type Schemas } from "../../api/client";
import { usePutAway, useRow } from "../../api/shelves";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { chooseFile } from "../../ui/chooseFile";
import { explain, useFeedback } from "../../ui/feedback";
import { useDrop } from "../../ui/useDrop";
import { BadLines } from "./BadLines";
import { BringIn } from "./BringIn";
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
  const { file, base64, whole } = log;
  const [changed, setChanged] = useState<LogMappingDoc>();
  const [beganLocal, setBegan] = useState(() => toLocal(new Date(file.lastModified)));
  const began = new Date(beganLocal);
  const began_at = Number.isNaN(began.getTime()) ? undefined : began.toISOString();
  const looked = useQuery({
    queryKey: ["log", file.name, file.lastModified, file.size, changed, began_at],
    queryFn: ({ signal }) => {
      const body = { base64, whole, mapping: changed, began_at, utc_offset_min: -new Date().getTimezoneOffset() };
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
        {remembered != null && !changed && <Remembered id={remembered} />}{" "}
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

/** That a kept mapping is used; it can be forgotten, and taken back. */
function Remembered({ id }: { id: string }) {
  const row = useRow("log-mappings", id).data;
  const putAway = usePutAway("log-mappings");
  const client = useQueryClient();
  const feedback = useFeedback();
  // Awaited, not called back: by the time it is undone this is no longer shown.
  const move = async (version: number, away: boolean) => {
    try {
      const now = await putAway.mutateAsync({ id, version, away });
      await client.invalidateQueries({ queryKey: ["log"] });
      if (away)
        feedback.undoable("Forgotten; it is found out anew.", () => {
          void move(now.version, false);
        });
    } catch (error) {
      feedback.failed(error);
    }
  };
  return (
    <>
      <span className="muted">· read as the last file with these columns</span>{" "}
      <Button
        size="small"
        type="text"
        disabled={!row}
        loading={putAway.isPending}
        onClick={() => {
          if (row) void move(row.version, true);
        }}
      >
        Forget that
      </Button>
    </>
  );
}
