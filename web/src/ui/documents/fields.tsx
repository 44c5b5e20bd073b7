import { Input } from "antd";
import { useId, useState } from "react";
import type { PlanDoc } from "../../api/client";
import { ChoiceInput } from "../ChoiceInput";
import type { Kind } from "../quantity/parse";
import { QuantityInput } from "../quantity/QuantityInput";
import { useFeedback } from "../feedback";
import { elsewhere } from "./elsewhere";
import { type Editor, numberAt, problemAt, textAt } from "./editor";
import { type Pointer, valueAt } from "./pointer";

interface FieldProps<T> {
  editor: Editor<T>;
  at: Pointer<T>;
  label: string;
  bare?: boolean;
}

interface QuantityProps<T> extends FieldProps<T> {
  kind: Kind;
  hint?: string;
  written?: (value: number) => string;
}

export function QuantityField<T>({ editor, at, label, bare, kind, hint, written }: QuantityProps<T>) {
  const feedback = useFeedback();
  return (
    <QuantityInput
      label={label}
      kind={kind}
      bare={bare ?? false}
      value={numberAt(editor.document, at)}
      assumed={numberAt(editor.resolved, at)}
      problem={problemAt(editor, at)}
      {...(hint === undefined ? {} : { hint })}
      {...(written === undefined ? {} : { written })}
      onElsewhere={(text) => {
        const found = elsewhere(at, text);
        if (!found) return false;
        // The neighbour is a field of the same document.
        editor.set(found.at as Pointer<T>, found.value);
        feedback.done(found.said);
        return true;
      }}
      onChange={(value) => {
        editor.set(at, value);
      }}
    />
  );
}

/** A load as it was said: in amps or in watts. */
export function LoadField({ editor }: { editor: Editor<PlanDoc> }) {
  return valueAt(editor.document, "/load/current_a") === undefined ? (
    <QuantityField editor={editor} at="/load/power_w" label="Load, watts" kind="power" bare />
  ) : (
    <QuantityField editor={editor} at="/load/current_a" label="Load, amps" kind="current" bare />
  );
}

interface ChoiceProps<D, T extends string> extends FieldProps<D> {
  options: readonly { value: T; label: string }[];
  clearable?: boolean;
  onChoose?: (value: T | undefined) => void;
}

export function ChoiceField<D, T extends string>({ editor, at, label, bare, options, clearable, onChoose }: ChoiceProps<D, T>) {
  return (
    <ChoiceInput<T>
      label={label}
      bare={bare ?? false}
      clearable={clearable ?? false}
      value={textAt(editor.document, at) as T | undefined}
      assumed={textAt(editor.resolved, at) as T | undefined}
      options={options}
      problem={problemAt(editor, at)}
      onChange={(value) => {
        if (onChoose) onChoose(value);
        else editor.set(at, value);
      }}
    />
  );
}

const YES_NO = [
  { value: "yes", label: "yes" },
  { value: "no", label: "no" },
] as const;

/** Yes, no or not known. */
export function YesNoField<T>({ editor, at, label }: FieldProps<T>) {
  const word = (value: unknown) => (value === true ? "yes" : value === false ? "no" : undefined);
  return (
    <ChoiceInput
      label={label}
      clearable
      value={word(valueAt(editor.document, at))}
      assumed={word(valueAt(editor.resolved, at))}
      options={YES_NO}
      problem={problemAt(editor, at)}
      onChange={(value) => {
        editor.set(at, value === undefined ? undefined : value === "yes");
      }}
    />
  );
}

export function TextField<T>({ editor, at, label, long }: FieldProps<T> & { long?: boolean }) {
  const id = useId();
  const problem = problemAt(editor, at);
  const common = {
    id,
    variant: "underlined" as const,
    size: "small" as const,
    value: textAt(editor.document, at) ?? "",
    maxLength: long ? 2000 : 120,
    onChange: (event: { target: { value: string } }) => {
      editor.set(at, event.target.value === "" ? undefined : event.target.value);
    },
  };
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      {long ? <Input.TextArea {...common} rows={2} /> : <Input {...common} autoComplete="off" />}
      {problem && <p className="field-problem">{problem}</p>}
    </div>
  );
}

/** A day, kept as its noon. */
export function DayField<T>({ editor, at, label, alone }: FieldProps<T> & { alone?: boolean }) {
  const id = useId();
  const problem = problemAt(editor, at);
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input
        id={id}
        type="date"
        variant="underlined"
        size="small"
        value={(textAt(editor.document, at) ?? "").slice(0, 10)}
        onChange={({ target }) => {
          editor.set(at, target.value === "" ? undefined : alone ? target.value : `${target.value}T12:00:00Z`);
        }}
      />
      {problem && <p className="field-problem">{problem}</p>}
    </div>
  );
}

/** Free words, parted by commas. */
export function WordsField<T>({ editor, at, label }: FieldProps<T>) {
  const id = useId();
  const given = (valueAt(editor.document, at) as string[] | undefined) ?? [];
  const [text, setText] = useState<string>();
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input
        id={id}
        variant="underlined"
        size="small"
        autoComplete="off"
        maxLength={200}
        value={text ?? given.join(", ")}
        onChange={({ target }) => {
          setText(target.value);
          const words = target.value.split(",").map((word) => word.trim()).filter((word) => word !== "");
          editor.set(at, words.length === 0 ? undefined : words);
        }}
        onBlur={() => {
          setText(undefined);
        }}
      />
    </div>
  );
}

/** Several voltages in one line, parted by spaces; a comma may part them or stand for the point. */
export function VoltagesField<T>({ editor, at, label, hint }: FieldProps<T> & { hint?: string }) {
  const id = useId();
  const given = (valueAt(editor.document, at) as number[] | undefined) ?? [];
  const [text, setText] = useState<string>();
  const [wrong, setWrong] = useState(false);
  const problem = wrong ? "Write voltages parted by spaces, such as 3.74 3.75 3.74, or 6x3.74." : problemAt(editor, at);
  return (
    <div className="field">
      <label htmlFor={id}>{label}</label>
      <Input
        id={id}
        className="figures"
        variant="underlined"
        size="small"
        autoComplete="off"
        value={text ?? given.join("  ")}
        status={problem ? "error" : ""}
        aria-invalid={problem ? true : undefined}
        aria-describedby={`${id}-more`}
        onChange={(event) => {
          setText(event.target.value);
          const volts = readVoltages(event.target.value);
          setWrong(volts === undefined);
          if (volts) editor.set(at, volts);
        }}
        onBlur={() => {
          if (!wrong) setText(undefined);
        }}
      />
      <p id={`${id}-more`} className={problem ? "field-problem" : "field-hint"} hidden={!problem && !hint}>
        {problem ?? hint}
      </p>
    </div>
  );
}

/** Voltages out of a line; `undefined` where a piece is no number. */
export function readVoltages(text: string): number[] | undefined {
  // `6x3.72`: every cell the same.
  const alike = /^\s*(\d{1,2})\s*[x×]\s*(\d+(?:[.,]\d+)?)\s*v?\s*$/i.exec(text);
  if (alike) return Array.from({ length: Number(alike[1]) }, () => Number(alike[2]?.replace(",", ".")));
  const bare = text.replaceAll(/\s*v\b/gi, " ");
  const plain = bare.includes(".") ? bare.replaceAll(",", " ") : bare.replaceAll(/(\d),(\d)/g, "$1.$2");
  const volts = plain
    .split(/[\s;,]+/)
    .filter((piece) => piece !== "")
    .map((piece) => Number(piece.replace("−", "-")));
  return volts.every(Number.isFinite) ? volts : undefined;
}
