import type { ChargerDoc, Schemas } from "../../api/client";
import type { Kind } from "../quantity/parse";
import { CHARGER_OPTIONS, TOPOLOGY_OPTIONS } from "../words";
import type { Editor } from "./editor";
import { ChoiceField, QuantityField, TextField, YesNoField } from "./fields";
import { hasChargerField, withChargerKind } from "./kinds";
import { MeterFields } from "./MeterFields";
import { RowsField } from "./RowsField";
import "./documents.css";

const SERIES_COLUMNS = [
  { name: "input_from_v", label: "From an input of", kind: "voltage" },
  { name: "max_series", label: "Cells at most", kind: "count" },
] as const satisfies readonly { name: keyof Schemas["MaxSeriesDoc"]; label: string; kind: Kind }[];

export function ChargerKindField({ editor, bare }: { editor: Editor<ChargerDoc>; bare?: boolean }) {
  return (
    <ChoiceField
      editor={editor}
      at="/kind"
      label="Kind of charger"
      bare={bare ?? false}
      options={CHARGER_OPTIONS}
      onChoose={(kind) => {
        editor.set("", withChargerKind((editor.document ?? {}), kind));
      }}
    />
  );
}

/** What the box says a limiter is. */
function LimiterFields({ editor, kind }: { editor: Editor<ChargerDoc>; kind: ChargerDoc["kind"] }) {
  switch (kind) {
    case "lamp":
      return (
        <>
          <QuantityField editor={editor} at="/lamp_rated_v" label="Volts on the lamp" kind="voltage" />
          <QuantityField editor={editor} at="/lamp_rated_w" label="Watts on the lamp" kind="power" />
          <QuantityField editor={editor} at="/lamps_in_parallel" label="Lamps side by side" kind="count" />
        </>
      );
    case "resistor":
      return (
        <>
          <QuantityField editor={editor} at="/resistance_ohm" label="Resistance, Ω" kind="number" />
          <QuantityField editor={editor} at="/rated_w" label="Rated for" kind="power" />
        </>
      );
    case "pwm":
      return (
        <>
          <QuantityField editor={editor} at="/duty" label="Duty" kind="fraction" />
          <QuantityField editor={editor} at="/path_resistance_mohm" label="Resistance of the path" kind="resistance" />
        </>
      );
    default:
      return null;
  }
}

/** What a converter's box says of input and output. */
function ConverterFields({ editor, charger }: { editor: Editor<ChargerDoc>; charger: ChargerDoc }) {
  const { kind } = charger;
  const has = (field: keyof ChargerDoc) => hasChargerField(kind, field);
  const switching = has("output_max_w");
  const bySelf = kind === "hobby_charger" || kind === "smart_charger";
  return (
    <>
      {kind === "dc_dc" && <ChoiceField editor={editor} at="/topology" label="Moves the voltage" options={TOPOLOGY_OPTIONS} />}
      {kind === "dc_dc" && <YesNoField editor={editor} at="/has_cc" label="Holds a current" />}
      {kind === "dc_dc" && <YesNoField editor={editor} at="/has_cv" label="Holds a voltage" />}
      <QuantityField editor={editor} at="/output_max_a" label="Output, most amps" kind="current" />
      {switching && <QuantityField editor={editor} at="/output_max_w" label="Output, most watts" kind="power" />}
      {bySelf && <QuantityField editor={editor} at="/mains_output_max_w" label="Watts when on the wall" kind="power" />}
      <QuantityField editor={editor} at="/output_max_v" label="Output, highest" kind="voltage" />
      <QuantityField editor={editor} at="/output_min_v" label="Output, lowest" kind="voltage" />
      <QuantityField editor={editor} at="/input_min_v" label="Input from" kind="voltage" />
      <QuantityField editor={editor} at="/input_max_v" label="Input up to" kind="voltage" />
      <QuantityField editor={editor} at="/input_max_a" label="Input, most amps" kind="current" />
      {switching && <QuantityField editor={editor} at="/input_max_w" label="Input, most watts" kind="power" />}
      {switching && <QuantityField editor={editor} at="/efficiency" label="Efficiency" kind="fraction" />}
      {(kind === "linear_module" || charger.topology === "buck") && (
        <QuantityField editor={editor} at="/dropout_v" label="Needs above its output" kind="voltage" />
      )}
      {kind === "linear_module" && <QuantityField editor={editor} at="/rated_w" label="Heat it can shed" kind="power" />}
      {bySelf && (
        <>
          <QuantityField editor={editor} at="/channels_in_use" label="Channels in use" kind="count" />
          <QuantityField editor={editor} at="/shared_max_w" label="Watts they share" kind="power" />
          <YesNoField editor={editor} at="/auto_voltage" label="Finds the cells by voltage" />
        </>
      )}
      <QuantityField editor={editor} at="/min_start_v" label="Starts from a pack of" kind="voltage" />
      {switching && (
        <>
          <QuantityField editor={editor} at="/discharge_max_a" label="Its discharger, most amps" kind="current" />
          <QuantityField editor={editor} at="/discharge_max_w" label="Its discharger, most watts" kind="power" />
          <YesNoField editor={editor} at="/regenerates" label="Discharges back into its battery" />
        </>
      )}
    </>
  );
}

/** Everything a charger's box says, and what it truly does. */
export function ChargerFields({ editor }: { editor: Editor<ChargerDoc> }) {
  const charger = editor.document ?? {};
  const limiter = charger.kind != null && !hasChargerField(charger.kind, "output_max_v");
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      <ChargerKindField editor={editor} />
      {limiter ? <LimiterFields editor={editor} kind={charger.kind} /> : <ConverterFields editor={editor} charger={charger} />}
      <QuantityField editor={editor} at="/diode_drop_v" label="Series diode drops" kind="voltage" />
      {charger.kind != null && hasChargerField(charger.kind, "max_series") && (
        <div className="fields-wide">
          <RowsField editor={editor} at="/max_series" columns={SERIES_COLUMNS} called={(k) => `line ${k + 1}`} add="Charges only so many cells from an input voltage" />
        </div>
      )}
      {!limiter && (
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
