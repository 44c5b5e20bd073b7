import type { Schemas, SourceDoc } from "../../api/client";
import { KIND_OPTIONS, OVERLOAD_OPTIONS } from "../words";
import type { Editor } from "./editor";
import { ChoiceField, QuantityField, TextField, YesNoField } from "./fields";
import { withKind } from "./kinds";
import "./documents.css";

const WIRINGS = [
  { value: "series", label: "in series" },
  { value: "parallel", label: "in parallel" },
] as const satisfies readonly { value: Schemas["Wiring"]; label: string }[];

export function KindField({ editor, bare }: { editor: Editor; bare?: boolean }) {
  return (
    <ChoiceField
      editor={editor}
      at="/kind"
      label="Kind of supply"
      bare={bare ?? false}
      options={KIND_OPTIONS}
      onChoose={(kind) => {
        editor.set("", withKind((editor.document ?? {}) as SourceDoc, kind));
      }}
    />
  );
}

export function VoltsField({ editor, bare }: { editor: Editor; bare?: boolean }) {
  const fixed = (editor.document as SourceDoc | undefined)?.kind === "fixed_supply";
  return (
    <QuantityField
      editor={editor}
      bare={bare ?? false}
      at={fixed ? "/voltage_v" : "/max_voltage_v"}
      label={fixed ? "Voltage" : "Highest voltage"}
      kind="voltage"
    />
  );
}

/** Everything a supply's box says, and what it truly does. */
export function SourceFields({ editor }: { editor: Editor }) {
  const source = (editor.document ?? {}) as SourceDoc;
  const bench = source.kind !== "fixed_supply";
  const several = (source.units ?? 1) > 1;
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      <KindField editor={editor} />
      <VoltsField editor={editor} />
      {bench && <QuantityField editor={editor} at="/min_voltage_v" label="Lowest voltage" kind="voltage" />}
      {bench && <QuantityField editor={editor} at="/voltage_step_v" label="Step of its setting" kind="voltage" />}
      <QuantityField editor={editor} at="/max_current_a" label="Rated current" kind="current" />
      <QuantityField editor={editor} at="/max_power_w" label="Rated power" kind="power" />
      <ChoiceField editor={editor} at="/overload" label="When overloaded it" options={OVERLOAD_OPTIONS} />
      {source.overload === "foldback" && (
        <QuantityField editor={editor} at="/foldback_current_a" label="Folded back it gives" kind="current" />
      )}
      <QuantityField editor={editor} at="/headroom" label="Share of the rating to use" kind="fraction" />
      <QuantityField editor={editor} at="/efficiency" label="Mains efficiency" kind="fraction" />
      <QuantityField editor={editor} at="/units" label="Such units" kind="count" />
      {several && <ChoiceField editor={editor} at="/wiring" label="Joined" options={WIRINGS} />}
      {several && <YesNoField editor={editor} at="/isolated_outputs" label="Outputs isolated" />}
      {several && source.wiring === "parallel" && (
        <QuantityField editor={editor} at="/sharing" label="Share of the summed amps" kind="fraction" />
      )}
      <div className="fields-wide">
        <TextField editor={editor} at="/notes" label="Notes" long />
      </div>
    </div>
  );
}
