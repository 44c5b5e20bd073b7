import { Button, Input, Segmented } from "antd";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { type Stored, useRows } from "../../api/shelves";
import { ChoiceInput } from "../../ui/ChoiceInput";
import { Sending } from "../../ui/Sending";
import { packWords } from "../../ui/words";
import { BadLines } from "./BadLines";
import type { LogFile } from "./logFile";
import { useBringIn } from "./useBringIn";

interface Props {
  log: LogFile;
  looked: Schemas["LogLookedDoc"];
  changed: boolean;
  began_at: string | undefined;
}

/** Whose it is, what of lines that cannot be read, and off it goes. */
export function BringIn({ log, looked, changed, began_at }: Props) {
  const { look, packs: fits } = looked;
  const packs = useRows("packs").data ?? [];
  const plans = useRows("plans").data ?? [];
  const { bring, sending, refused, saving } = useBringIn();
  const [chosen, setChosen] = useState<string>();
  const [plan, setPlan] = useState<string>();
  const [name, setName] = useState(log.file.name.replace(/\.[^.]*$/, ""));
  const [malformed, setMalformed] = useState<"skip" | "refuse">("refuse");
  const pack = chosen;
  const options = packOptions(packs, fits);
  const planned = plans.filter((row) => pack !== undefined && row.links.pack?.id === pack);
  return (
    <form
      className="log-bring"
      onSubmit={(event) => {
        event.preventDefault();
        void bring({ log, looked, changed, began_at, pack, plan, name, malformed });
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
      {refused && <Refused problem={refused} />}
      {pack === undefined && <p className="muted">Whose log is it? {packs.length === 0 ? "Add the pack on the Shelf first." : fits.length === 0 ? "No pack’s volts fit: choose it." : "Choose its pack. Those whose volts fit stand first."}</p>}
      {sending ? (
        <Sending share={sending.share} what="The log is read" onCancel={sending.cancel} />
      ) : (
        <Button type="primary" htmlType="submit" disabled={look.missing.length > 0 || pack === undefined} loading={saving}>
          Bring it in
        </Button>
      )}
    </form>
  );
}

/** The packs to choose from, those whose volts fit first. */
function packOptions(packs: readonly Stored<"packs">[], fits: readonly string[]) {
  const fitting = new Set(fits);
  const rank = (id: string) => (fitting.has(id) ? fits.indexOf(id) : fits.length);
  return [...packs]
    .sort((a, b) => rank(a.id) - rank(b.id))
    .map((row) => ({
      value: row.id,
      label: `${row.document.name ?? "unnamed"} · ${packWords(row.document)}${fitting.has(row.id) ? "" : " · its volts do not fit"}`,
    }));
}

function Refused({ problem }: { problem: Schemas["Problem"] }) {
  return (
    <div role="alert" ref={(shown) => { shown?.scrollIntoView({ block: "nearest" }); }}>
      <p className="field-problem">{problem.detail}</p>
      <BadLines title="Which, and what is wrong" open bad={problem.problems.map((p) => ({ line: Number(p.pointer.split("/").at(-1)) || 0, message: p.message }))} />
    </div>
  );
}
