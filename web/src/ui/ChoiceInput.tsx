import { Select } from "antd";
import { useId } from "react";
import { FieldLabel, ShortLabel } from "./terms/FieldLabel";
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

/** One of a few, with its stand-in shown where nothing was said. */
export function ChoiceInput<T extends string>({ label, value, assumed, options, onChange, problem, bare, clearable }: Props<T>) {
  const id = useId();
  const standIn = options.find((option) => option.value === assumed)?.label;
  return (
    <div className={bare ? "field choice-bare" : "field"}>
      {bare ? <ShortLabel label={label} of={id} /> : <FieldLabel label={label} of={id} />}
      <Select<T>
        id={id}
        size="small"
        variant="underlined"
        value={value ?? null}
        options={[...options]}
        placeholder={standIn ? <span className="assumed-choice">{standIn}</span> : "–"}
        allowClear={clearable ?? false}
        status={problem ? "error" : ""}
        aria-label={label}
        popupMatchSelectWidth={false}
        onChange={(next?: T) => {
          onChange(next);
        }}
      />
      {problem && (
        <p className="field-problem" role="alert">
          {problem}
        </p>
      )}
    </div>
  );
}
