import { Input } from "antd";
import { type FocusEvent, type KeyboardEvent, memo, useId, useState } from "react";
import { type Kind, parse, show } from "./parse";
import { FieldLabel, ShortLabel } from "../terms/FieldLabel";
import { useStable } from "../useStable";
import "./quantity.css";

interface Props {
  label: string;
  kind: Kind;
  value: number | null | undefined;
  /** What stands in where nothing was said. */
  assumed?: number | null | undefined;
  onChange: (value: number | undefined) => void;
  /** What the core found wrong with it. */
  problem?: string | undefined;
  hint?: string;
  /** Shown without its label, which is then only spoken. */
  bare?: boolean;
  /** Takes a text that is wrong here to where it belongs; whether there is such a place. */
  onElsewhere?: (text: string) => boolean;
  /** How it is written back, where that is not by its unit. */
  written?: (value: number) => string;
}

/** Drawn anew only where it shows another thing: a plan has many, and one is typed into. */
const Line = memo(Input);

/** By thumb the keys with figures come up; the unit is the one shown. */
const BY_TOUCH = typeof window.matchMedia === "function" && window.matchMedia("(pointer: coarse)").matches;

/** A quantity typed as people write it, shown back normalised. What is no quantity is kept as typed, and said. */
export function QuantityInput({ label, kind, value, assumed, onChange, problem, hint, bare = false, written, onElsewhere }: Props) {
  const write = written ?? ((quantity: number) => show(kind, quantity));
  const id = useId();
  const [text, setText] = useState<string>();
  const [before, setBefore] = useState<number>();
  const settled = value ?? undefined;
  const standIn = settled === undefined ? (assumed ?? undefined) : undefined;
  const parsed = text === undefined || text.trim() === "" ? undefined : parse(kind, text);
  const wrong = parsed && "wrong" in parsed ? parsed.wrong : undefined;
  const message = wrong ?? problem;

  const type = useStable(({ target }: { target: { value: string } }) => {
    const next = target.value;
    setText(next);
    if (next.trim() === "") {
      onChange(undefined);
      return;
    }
    const read = parse(kind, next);
    if ("value" in read) onChange(read.value);
  });
  const enter = useStable(({ target }: FocusEvent<HTMLInputElement>) => {
    setBefore(settled);
    target.select();
  });
  const escape = useStable((event: KeyboardEvent) => {
    // What stood there comes back; a second Escape closes what is around.
    if (event.key !== "Escape" || text === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    setText(undefined);
    onChange(before);
  });
  const leave = useStable(() => {
    if (wrong && text !== undefined && onElsewhere?.(text)) {
      // What stood here before the other unit came stands again.
      onChange(before);
      setText(undefined);
    } else if (!wrong) setText(undefined);
  });

  const input = (
    <Line
      id={id}
      className={standIn === undefined ? "figures" : "figures assumed"}
      variant="underlined"
      size="small"
      autoComplete="off"
      spellCheck={false}
      value={text ?? (settled === undefined ? "" : write(settled))}
      placeholder={standIn === undefined ? "–" : write(standIn)}
      status={message ? "error" : ""}
      aria-label={bare ? label : undefined}
      aria-invalid={message ? true : undefined}
      aria-describedby={message || hint || standIn !== undefined ? `${id}-more` : undefined}
      inputMode={BY_TOUCH && kind !== "hours" ? "decimal" : undefined}
      onChange={type}
      onFocus={enter}
      onKeyDown={escape}
      onBlur={leave}
    />
  );
  const spoken = standIn === undefined ? hint : `Not said: ${write(standIn)} is assumed.${hint ? ` ${hint}` : ""}`;
  return (
    <div className={bare ? "field field-bare" : "field"}>
      {bare ? <ShortLabel label={label} of={id} /> : <FieldLabel label={label} of={id} />}
      {input}
      {message ? (
        <p className="field-problem" id={`${id}-more`} role="alert">
          {message}
        </p>
      ) : (
        spoken && (
          <p className={hint && !bare ? "field-hint" : "unseen"} id={`${id}-more`}>
            {hint && !bare ? hint : spoken}
          </p>
        )
      )}
    </div>
  );
}
