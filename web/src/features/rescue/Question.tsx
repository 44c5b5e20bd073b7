import { told } from "../../ui/preferences";
import { Button, Checkbox } from "antd";
import { type ReactNode, useState } from "react";
import type { Schemas } from "../../api/client";
import { useRows } from "../../api/shelves";
import { VoltagesField } from "../../ui/documents/fields";
import { chemistryOf } from "../../ui/documents/kinds";
import { useEditor } from "../../ui/documents/editor";
import { withValue } from "../../ui/documents/pointer";
import { ChoiceInput } from "../../ui/ChoiceInput";
import type { Kind } from "../../ui/quantity/parse";
import { QuantityInput } from "../../ui/quantity/QuantityInput";
import { CHEMISTRY_OPTIONS, chargerWords, packWords, sourceWords } from "../../ui/words";
import { answer, cannotTell, type Case, caseOfPack, change, currentCase, rescueOf, setCase } from "./case";
import { BMS_OPTIONS, ACID_SIGNS, LOW_FOR_OPTIONS, SIGN_OPTIONS } from "./words";

interface Props {
  one: Case;
  question: Schemas["QuestionDoc"];
  /** How many more there are. */
  more: number;
  problems: readonly Schemas["FieldProblem"][];
}

/** One question at a time: what, why, how, and always the way to say that nobody can tell. */
export function Question({ one, question, more, problems }: Props) {
  const { pointer } = question;
  const [looks, setLooks] = useState(false);
  // A damaged pack is given up whatever it is: that may be said at any time.
  const unseen = rescueOf(one).found?.signs == null && pointer !== "/found/signs";
  return (
    <section className="ask" aria-label="The next question" key={pointer}>
      <p className="ask-more muted">{more > 0 ? `${more} more after this` : "the last one"}</p>
      <h2 className="ask-question">{told(question.question)}</h2>
      <p className="ask-why">{told(question.why)}</p>
      <div className="ask-input">
        <Asked one={one} pointer={pointer} problems={problems} />
      </div>
      <p className="ask-how">
        <b>How to find out.</b> {told(question.how)}
      </p>
      <Button
        type="link"
        size="small"
        onClick={() => {
          cannotTell(pointer);
        }}
      >
        I can’t tell
      </Button>
      {unseen && !looks && (
        <Button
          type="link"
          size="small"
          onClick={() => {
            setLooks(true);
          }}
        >
          It is swollen, leaks, smells or was crushed
        </Button>
      )}
      {unseen && looks && <AskedSigns one={one} />}
    </section>
  );
}

const QUANTITIES: Partial<Record<string, { kind: Kind; label: string }>> = {
  "/pack/series": { kind: "count", label: "Cells in series" },
  "/pack/capacity_ah": { kind: "charge", label: "Capacity" },
  "/pack/capacitance_f": { kind: "capacitance", label: "Capacitance of one position" },
  "/found/temperature_c": { kind: "temperature", label: "Temperature" },
  "/found/terminal_v": { kind: "voltage", label: "At the terminals" },
};

function Asked({ one, pointer, problems }: { one: Case; pointer: string; problems: Props["problems"] }): ReactNode {
  const quantity = QUANTITIES[pointer];
  if (quantity) return <AskedQuantity pointer={pointer} {...quantity} />;
  const of = (options: readonly { value: string; label: string }[]) => (
    <div className="ask-choices">
      {options.map(({ value, label }) => (
        <Button key={value} onClick={() => { answer(pointer, value); }}>
          {label}
        </Button>
      ))}
    </div>
  );
  switch (pointer) {
    case "/pack/chemistry":
      return <AskedPack choose={of(CHEMISTRY_OPTIONS.filter(({ value }) => value !== "custom"))} />;
    case "/found/bms":
      return of(BMS_OPTIONS);
    case "/found/low_for":
      return of(LOW_FOR_OPTIONS);
    case "/found/cells_reachable":
      return (
        <div className="ask-choices">
          <Button onClick={() => { answer(pointer, true); }}>Yes</Button>
          <Button onClick={() => { answer(pointer, false); }}>No</Button>
        </div>
      );
    case "/found/signs":
      return <AskedSigns one={one} />;
    case "/found/cell_voltages_v":
      return <AskedCells problems={problems} />;
    case "/source":
      return <AskedGear />;
    default:
      return <AskedCharger />;
  }
}

function AskedQuantity({ pointer, kind, label }: { pointer: string; kind: Kind; label: string }) {
  const [value, setValue] = useState<number>();
  return (
    <form
      className="ask-line"
      onSubmit={(event) => {
        event.preventDefault();
        if (value !== undefined) answer(pointer, value);
      }}
    >
      <QuantityInput label={label} kind={kind} value={value} onChange={setValue} />
      <Button type="primary" htmlType="submit" disabled={value === undefined}>
        Next
      </Button>
    </form>
  );
}

/** A pack from the shelf, or its chemistry. */
function AskedPack({ choose }: { choose: ReactNode }) {
  const packs = useRows("packs").data ?? [];
  return (
    <>
      {packs.length > 0 && (
        <ChoiceInput
          label="From the shelf"
          value={undefined}
          options={packs.map((row) => ({ value: row.id, label: `${row.document.name ?? "unnamed"} · ${packWords(row.document)}` }))}
          onChange={(id) => {
            const row = packs.find((pack) => pack.id === id);
            const now = currentCase();
            if (!row || !now) return;
            const fresh = caseOfPack(row);
            const rescue = { ...rescueOf(now), pack: fresh.document.rescue?.pack };
            const name = now.document.name ?? row.document.name;
            setCase({ ...now, document: { ...now.document, rescue, name }, links: fresh.links });
          }}
        />
      )}
      {choose}
    </>
  );
}

function AskedSigns({ one }: { one: Case }) {
  const [seen, setSeen] = useState<Schemas["Sign"][]>([]);
  const acid = chemistryOf(rescueOf(one).pack ?? {})?.holds_acid ?? false;
  const options = SIGN_OPTIONS.filter(({ value }) => acid || !ACID_SIGNS.includes(value));
  return (
    <>
      <Button
        type={seen.length === 0 ? "primary" : "default"}
        onClick={() => {
          answer("/found/signs", ["none"]);
        }}
      >
        Nothing out of the ordinary
      </Button>
      <Checkbox.Group className="ask-signs" options={[...options]} value={seen} onChange={setSeen} />
      {seen.length > 0 && (
        <Button
          type="primary"
          onClick={() => {
            answer("/found/signs", seen);
          }}
        >
          That is what I see
        </Button>
      )}
    </>
  );
}

function AskedCells({ problems }: { problems: Props["problems"] }) {
  const editor = { ...useEditor<{ cell_voltages_v?: number[] }>({}), problems };
  const volts = editor.document.cell_voltages_v ?? [];
  return (
    <form
      className="ask-line"
      onSubmit={(event) => {
        event.preventDefault();
        if (volts.length > 0) answer("/found/cell_voltages_v", volts);
      }}
    >
      <VoltagesField editor={editor} at="/cell_voltages_v" label="Each cell, V" hint="From the negative end, parted by spaces." />
      <Button type="primary" htmlType="submit" disabled={volts.length === 0}>
        Next
      </Button>
    </form>
  );
}

/** What there is to feed it with, out of the gear. */
function AskedGear() {
  const sources = useRows("supplies").data ?? [];
  const chargers = (useRows("chargers").data ?? []).filter((row) => ["dc_dc", "lamp", "resistor", "linear_module"].includes(row.document.kind ?? ""));
  const [source, setSource] = useState<string>();
  const [charger, setCharger] = useState<string>();
  const chosen = sources.find((row) => row.id === source);
  return (
    <div className="ask-gear">
      <ChoiceInput
        label="Supply"
        value={source}
        options={sources.map((row) => ({ value: row.id, label: `${row.document.name ?? "unnamed"} · ${sourceWords(row.document)}` }))}
        onChange={setSource}
      />
      <ChoiceInput
        label="through"
        value={charger}
        clearable
        options={chargers.map((row) => ({ value: row.id, label: `${row.document.name ?? "unnamed"} · ${chargerWords(row.document)}` }))}
        onChange={setCharger}
      />
      <Button
        type="primary"
        disabled={!chosen}
        onClick={() => {
          answer("/charger", chargers.find((row) => row.id === charger)?.document);
          answer("/source", chosen?.document);
        }}
      >
        Next
      </Button>
    </div>
  );
}

/** What normally charges it, and from where on. */
function AskedCharger() {
  const chargers = (useRows("chargers").data ?? []).filter((row) => ["hobby_charger", "smart_charger", "dc_dc"].includes(row.document.kind ?? ""));
  const [id, setId] = useState<string>();
  const row = chargers.find((charger) => charger.id === id);
  const [start_v, setStart] = useState<number>();
  return (
    <form
      className="ask-gear"
      onSubmit={(event) => {
        event.preventDefault();
        if (row) answer("/handover", start_v === undefined ? row.document : { ...row.document, min_start_v: start_v });
      }}
    >
      <ChoiceInput
        label="Charger"
        value={id}
        options={chargers.map((charger) => ({ value: charger.id, label: `${charger.document.name ?? "unnamed"} · ${chargerWords(charger.document)}` }))}
        onChange={setId}
      />
      <QuantityInput label="It starts from" kind="voltage" value={start_v} assumed={row?.document.min_start_v} onChange={setStart} />
      <Button type="primary" htmlType="submit" disabled={!row}>
        Next
      </Button>
    </form>
  );
}

/** Renames a rescue. */
export function nameCase(name: string) {
  const now = currentCase();
  if (now) change(withValue(now.document, "/name", name === "" ? undefined : name));
}
