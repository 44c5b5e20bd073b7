import { Select, type SelectProps } from "antd";
import { memo, useId, useMemo } from "react";
import { FieldLabel, ShortLabel } from "./terms/FieldLabel";
import { useStable } from "./useStable";
import "./quantity/quantity.css";

interface Props<T extends string> {
  label: string;
  value: T | null | undefined;
  assumed?: T | null | undefined;
  options: readonly { value: T; label: string }[];
  onChange: (value: T | undefined) => void;
  problem?: string | undefined;
  bare?: boolean;
  clearable?: boolean;
}

/** Drawn anew only where it shows another thing. */
const List = memo<SelectProps<string | null>>(Select);

/** One of a few, with its stand-in shown where nothing was said. */
export function ChoiceInput<T extends string>({ label, value, assumed, options, onChange, problem, bare, clearable }: Props<T>) {
  const id = useId();
  const standIn = options.find((option) => option.value === assumed)?.label;
  const listed = useMemo(() => [...options], [options]);
  const placeholder = useMemo(() => (standIn ? <span className="assumed-choice">{standIn}</span> : "–"), [standIn]);
  const choose = useStable((next?: string | null) => {
    onChange((next ?? undefined) as T | undefined);
  });
  return (
    <div className={bare ? "field choice-bare" : "field"}>
      {bare ? <ShortLabel label={label} of={id} /> : <FieldLabel label={label} of={id} />}
      <List
        id={id}
        size="small"
        variant="underlined"
        value={value ?? null}
        options={listed}
        placeholder={placeholder}
        allowClear={clearable ?? false}
        status={problem ? "error" : ""}
        aria-label={label}
        popupMatchSelectWidth={false}
        onChange={choose}
      />
      {problem && (
        <p className="field-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}
