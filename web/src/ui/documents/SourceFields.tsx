import type { Schemas, SourceDoc } from "../../api/client";
import { type Kind, trimmed } from "../quantity/parse";
import { CHEMISTRY_OPTIONS, KIND_OPTIONS, OVERLOAD_OPTIONS } from "../words";
import type { Editor } from "./editor";
import { ChoiceField, QuantityField, TextField, YesNoField } from "./fields";
import { hasSourceField, withKind } from "./kinds";
import { MeterFields } from "./MeterFields";
import { RowsField } from "./RowsField";
import "./documents.css";

const WIRINGS = [
  { value: "series", label: "in series" },
  { value: "parallel", label: "in parallel" },
  { value: "leader_follower", label: "a leader and followers" },
] as const satisfies readonly { value: Schemas["Wiring"]; label: string }[];

const RANGE_COLUMNS = [
  { name: "from_v", label: "From", kind: "voltage" },
  { name: "to_v", label: "Up to", kind: "voltage" },
  { name: "max_current_a", label: "Rated current", kind: "current" },
  { name: "max_power_w", label: "Rated power", kind: "power" },
] as const satisfies readonly { name: keyof Schemas["RangeDoc"]; label: string; kind: Kind }[];

export function KindField({ editor, bare }: { editor: Editor<SourceDoc>; bare?: boolean }) {
  return (
    <ChoiceField
      editor={editor}
      at="/kind"
      label="Kind of supply"
      bare={bare ?? false}
      options={KIND_OPTIONS}
      onChoose={(kind) => {
        editor.set("", withKind((editor.document ?? {}), kind));
      }}
    />
  );
}

export function VoltsField({ editor, bare }: { editor: Editor<SourceDoc>; bare?: boolean }) {
  const source = editor.document ?? {};
  const common = { editor, bare: bare ?? false, kind: "voltage" } as const;
  switch (source.kind) {
    case "battery":
      return <QuantityField editor={editor} bare={bare ?? false} at="/series" label="Battery's cells in series" kind="count" written={(cells) => `${trimmed(cells, 0)}S`} />;
    case "transformer_rectifier":
      return <QuantityField {...common} at="/secondary_vac" label="Volts AC at its load" />;
    case "mains":
      return null;
    case "bench_supply":
    case "adjustable_supply":
    case undefined:
    case null:
      return <QuantityField {...common} at="/max_voltage_v" label="Highest voltage" />;
    default:
      return <QuantityField {...common} at="/voltage_v" label="Voltage" />;
  }
}

const TRANSFORMERS = [
  { value: "low_voltage", label: "a low-voltage safety one" },
  { value: "oven", label: "out of an oven" },
  { value: "unknown", label: "not known" },
] as const satisfies readonly { value: Schemas["TransformerType"]; label: string }[];

const CELL_OPTIONS = CHEMISTRY_OPTIONS.filter(({ value }) => value !== "custom");

/** What only one kind of supply says. */
function OwnFields({ editor, source }: { editor: Editor<SourceDoc>; source: SourceDoc }) {
  switch (source.kind) {
    case "wall_adapter":
      return <QuantityField editor={editor} at="/open_circuit_v" label="With nothing on it" kind="voltage" hint="Read it by meter: well above the label." />;
    case "transformer_rectifier":
      return (
        <>
          <ChoiceField editor={editor} at="/type" label="Transformer" options={TRANSFORMERS} />
          <QuantityField editor={editor} at="/rated_va" label="Rating, VA" kind="number" />
          <QuantityField editor={editor} at="/open_vac" label="Volts AC, nothing on it" kind="voltage" />
          <QuantityField editor={editor} at="/regulation" label="or regulation" kind="fraction" />
          <QuantityField editor={editor} at="/smoothing_uf" label="Capacitor, µF" kind="number" />
          <QuantityField editor={editor} at="/mains_hz" label="Mains, Hz" kind="number" />
        </>
      );
    case "battery":
      return (
        <>
          <ChoiceField editor={editor} at="/chemistry" label="Chemistry" options={CELL_OPTIONS} />
          <QuantityField editor={editor} at="/capacity_ah" label="Capacity" kind="charge" />
          <QuantityField editor={editor} at="/resistance_mohm" label="Resistance" kind="resistance" />
          <QuantityField editor={editor} at="/soc" label="State of charge now" kind="fraction" />
          <QuantityField editor={editor} at="/reserve_soc" label="Not taken below" kind="fraction" />
        </>
      );
    default:
      return null;
  }
}

/** Everything a supply's box says, and what it truly does. */
export function SourceFields({ editor }: { editor: Editor<SourceDoc> }) {
  const source = editor.document ?? {};
  const dialled = hasSourceField(source.kind ?? "bench_supply", "max_voltage_v");
  const walled = source.kind === "mains";
  const several = (source.units ?? 1) > 1;
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      <KindField editor={editor} />
      <VoltsField editor={editor} />
      <OwnFields editor={editor} source={source} />
      {dialled && <QuantityField editor={editor} at="/min_voltage_v" label="Lowest voltage" kind="voltage" />}
      {dialled && <QuantityField editor={editor} at="/voltage_step_v" label="Step of its setting" kind="voltage" />}
      {!walled && (
        <>
          <QuantityField editor={editor} at="/max_current_a" label="Rated current" kind="current" />
          <QuantityField editor={editor} at="/max_power_w" label="Rated power" kind="power" />
          <ChoiceField editor={editor} at="/overload" label="When overloaded it" options={OVERLOAD_OPTIONS} />
        </>
      )}
      {source.overload === "foldback" && (
        <QuantityField editor={editor} at="/foldback_current_a" label="Folded back it gives" kind="current" />
      )}
      {!walled && <QuantityField editor={editor} at="/headroom" label="Share of the rating to use" kind="fraction" />}
      {!walled && source.kind !== "battery" && (
        <>
          <QuantityField editor={editor} at="/efficiency" label="Mains efficiency" kind="fraction" />
          <QuantityField editor={editor} at="/power_factor" label="Power factor" kind="fraction" />
          <YesNoField editor={editor} at="/modified" label="Opened or rebuilt" />
        </>
      )}
      {(dialled || source.kind === "fixed_supply") && <YesNoField editor={editor} at="/remote_sense" label="Senses at the pack" />}
      {dialled && <YesNoField editor={editor} at="/output_switch" label="Output can be switched off" />}
      {!walled && <QuantityField editor={editor} at="/units" label="Such units" kind="count" />}
      {several && <ChoiceField editor={editor} at="/wiring" label="Joined" options={WIRINGS} />}
      {(several || dialled || source.kind === "fixed_supply") && <YesNoField editor={editor} at="/isolated_outputs" label="Outputs isolated" />}
      {several && source.wiring === "parallel" && (
        <QuantityField editor={editor} at="/sharing" label="Share of the summed amps" kind="fraction" />
      )}
      {dialled && (
        <div className="fields-wide">
          <RowsField editor={editor} at="/ranges" columns={RANGE_COLUMNS} called={(k) => `range ${k + 1}`} add="Gives other amps in a part of its voltage" />
        </div>
      )}
      {dialled && (
        <div className="fields-wide">
          <MeterFields editor={editor} />
        </div>
      )}
      <div className="fields-wide">
        <TextField editor={editor} at="/notes" label="Notes" long />
      </div>
    </div>
  );
}
