import type { PackDoc, Schemas } from "../../api/client";
import { ChoiceInput } from "../ChoiceInput";
import { trimmed } from "../quantity/parse";
import { CHEMISTRY_OPTIONS } from "../words";
import type { Editor } from "./editor";
import { ChoiceField, DayField, QuantityField, TextField, VoltagesField, WordsField, YesNoField } from "./fields";
import { chemistryOf, hasField, withChemistry } from "./kinds";
import type { Pointer } from "./pointer";
import "./documents.css";

const BALANCERS = [
  { value: "none", label: "nothing" },
  { value: "balance_lead", label: "a charger, by the balance lead" },
  { value: "external", label: "a separate balancer" },
  { value: "built_in", label: "a circuit in the pack" },
] as const satisfies readonly { value: Schemas["Balancer"]; label: string }[];

const GOALS = [
  { value: "full", label: "full" },
  { value: "soc", label: "a state of charge" },
  { value: "storage", label: "storage" },
  { value: "float", label: "float" },
] as const satisfies readonly { value: Schemas["GoalKind"]; label: string }[];

const LAST = [
  { value: "charged", label: "charged" },
  { value: "discharged", label: "discharged" },
  { value: "unknown", label: "unknown" },
] as const satisfies readonly { value: Schemas["LastUse"]; label: string }[];

const STARTS = [
  { value: "soc", label: "state of charge" },
  { value: "rest_voltage_v", label: "voltage at rest" },
  { value: "cell_voltages_v", label: "each cell at rest" },
  { value: "block_voltages_v", label: "blocks of cells at rest" },
] as const;
type StartMode = (typeof STARTS)[number]["value"];

export function ChemistryField({ editor, bare }: { editor: Editor<PackDoc>; bare?: boolean }) {
  return (
    <ChoiceField
      editor={editor}
      at="/chemistry"
      label="Chemistry"
      bare={bare ?? false}
      options={CHEMISTRY_OPTIONS}
      onChoose={(chemistry) => {
        editor.set("", withChemistry((editor.document ?? {}), chemistry));
      }}
    />
  );
}

export function SeriesField({ editor }: { editor: Editor<PackDoc> }) {
  return (
    <QuantityField editor={editor} at="/series" label="Cells in series" kind="count" bare written={(cells) => `${trimmed(cells, 0)}S`} />
  );
}

export function HoldsField({ editor, bare }: { editor: Editor<PackDoc>; bare?: boolean }) {
  const pack = editor.document ?? {};
  const common = { editor, bare: bare ?? false };
  if (hasField(pack, "capacitance_f"))
    return <QuantityField {...common} at="/capacitance_f" label="Capacitance of one position" kind="capacitance" />;
  if (bare && pack.energy_wh != null && pack.capacity_ah == null)
    return <QuantityField {...common} at="/energy_wh" label="Energy" kind="energy" />;
  return <QuantityField {...common} at="/capacity_ah" label="Capacity" kind="charge" />;
}

/** Everything a pack's label says. */
export function PackLabelFields({ editor }: { editor: Editor<PackDoc> }) {
  const pack = editor.document ?? {};
  const ranges = chemistryOf(pack)?.label_says_volts ?? false;
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      <ChemistryField editor={editor} />
      <QuantityField editor={editor} at="/series" label="Cells in series" kind="count" />
      <QuantityField editor={editor} at="/label_v" label="Voltage on the label" kind="voltage" />
      <HoldsField editor={editor} />
      {hasField(pack, "energy_wh") && <QuantityField editor={editor} at="/energy_wh" label="or energy" kind="energy" />}
      <QuantityField editor={editor} at="/rated_c_rate" label="Rated charge rate" kind="rate" />
      <QuantityField editor={editor} at="/rated_charge_a" label="or charge current" kind="current" />
      <QuantityField editor={editor} at="/discharge_c_rate" label="May give (not charged with)" kind="rate" />
      <QuantityField editor={editor} at="/sheet_charge_a" label="Sheet allows at its temperature" kind="current" />
      <QuantityField editor={editor} at="/resistance_mohm" label="Resistance, DC 10 s" kind="resistance" />
      <QuantityField editor={editor} at="/packs_in_parallel" label="Such packs in parallel" kind="count" />
      <QuantityField editor={editor} at="/health" label="Usable share (health)" kind="fraction" />
      <ChoiceField editor={editor} at="/balancer" label="Levelled by" options={BALANCERS} />
      <QuantityField editor={editor} at="/balance_current_a" label="Balance current" kind="current" />
      <QuantityField editor={editor} at="/bms/max_charge_a" label="BMS allows" kind="current" />
      <YesNoField editor={editor} at="/bms/balances" label="BMS balances" />
      {ranges && <RangeField editor={editor} at="/label_voltage_v/cycle" label="Label, cyclic use" />}
      {ranges && <RangeField editor={editor} at="/label_voltage_v/standby" label="Label, standby use" />}
      {hasField(pack, "capacitance_spread") && (
        <>
          <QuantityField editor={editor} at="/capacitance_spread" label="Spread of capacitance" kind="fraction" />
          <QuantityField editor={editor} at="/balance_start_v" label="Levelling begins at, a cell" kind="voltage" />
        </>
      )}
      {hasField(pack, "cell") && (
        <>
          <QuantityField editor={editor} at="/cell/empty_v" label="Cell, empty at rest" kind="voltage" />
          <QuantityField editor={editor} at="/cell/nominal_v" label="Cell, nominal" kind="voltage" />
          <QuantityField editor={editor} at="/cell/full_v" label="Cell, full" kind="voltage" />
          <QuantityField editor={editor} at="/cell/storage_v" label="Cell, storage" kind="voltage" />
          <QuantityField editor={editor} at="/cell/precharge_below_v" label="Cell, deep below" kind="voltage" />
          <QuantityField editor={editor} at="/cell/rescue_floor_v" label="Cell, given up below" kind="voltage" />
          <QuantityField editor={editor} at="/cell/max_c_rate" label="Cell, fastest rate" kind="rate" />
          <QuantityField editor={editor} at="/cell/charge_min_c" label="Cell, coldest charge" kind="temperature" />
          <QuantityField editor={editor} at="/cell/charge_max_c" label="Cell, hottest charge" kind="temperature" />
        </>
      )}
      <WordsField editor={editor} at="/tags" label="Tags, parted by commas" />
      <DayField editor={editor} at="/bought_on" label="Bought on" alone />
      <DayField editor={editor} at="/next_use" label="Next used on" />
      <QuantityField editor={editor} at="/kept_at_c" label="Kept at" kind="temperature" />
      <div className="fields-wide">
        <TextField editor={editor} at="/notes" label="Notes" long />
      </div>
    </div>
  );
}

/** How a pack stands right now, and what the charge is for. */
export function PackNowFields({ editor }: { editor: Editor<PackDoc> }) {
  const start = editor.document?.start;
  const mode = STARTS.find(({ value }) => start?.[value] != null)?.value ?? "soc";
  return (
    <div className="fields">
      <ChoiceInput<StartMode>
        label="Start known by"
        value={mode}
        options={STARTS}
        onChange={(next) => {
          if (next) editor.set("/start", emptyStart(next, start));
        }}
      />
      <StartField editor={editor} mode={mode} />
      {mode !== "soc" && (
        <>
          <QuantityField editor={editor} at="/start/rested_min" label="Rested, minutes" kind="count" />
          <ChoiceField editor={editor} at="/start/last" label="Last it was" options={LAST} />
        </>
      )}
      <QuantityField editor={editor} at="/temperature_c" label="Pack temperature" kind="temperature" />
      <ChoiceField
        editor={editor}
        at="/goal/kind"
        label="Charge to"
        options={GOALS}
        onChoose={(kind) => {
          editor.set("/goal", kind && { kind });
        }}
      />
      {editor.document?.goal?.kind === "soc" && (
        <QuantityField editor={editor} at="/goal/soc" label="State of charge wanted" kind="fraction" />
      )}
    </div>
  );
}

/** A start of another kind: what was measured the old way goes, how it rested stays. */
function emptyStart(mode: StartMode, start: PackDoc["start"]): PackDoc["start"] {
  if (mode === "soc") return undefined;
  const kept = { rested_min: start?.rested_min, last: start?.last };
  if (mode === "rest_voltage_v") return { ...kept, rest_voltage_v: 0 };
  if (mode === "cell_voltages_v") return { ...kept, cell_voltages_v: [] };
  return { ...kept, block_voltages_v: [], cells_per_block: 3 };
}

export function StartField({ editor, mode, bare }: { editor: Editor<PackDoc>; mode?: StartMode; bare?: boolean }) {
  const start = editor.document?.start;
  const known = mode ?? STARTS.find(({ value }) => start?.[value] != null)?.value ?? "soc";
  const common = { editor, bare: bare ?? false };
  switch (known) {
    case "soc":
      return <QuantityField {...common} at="/start/soc" label="State of charge at the start" kind="fraction" />;
    case "rest_voltage_v":
      return <QuantityField {...common} at="/start/rest_voltage_v" label="Voltage at rest" kind="voltage" />;
    case "cell_voltages_v":
      return (
        <div className="fields-wide">
          <VoltagesField editor={editor} at="/start/cell_voltages_v" label="Each cell at rest, V" hint="From the negative end, parted by spaces." />
        </div>
      );
    case "block_voltages_v":
      return (
        <>
          <VoltagesField editor={editor} at="/start/block_voltages_v" label="Each block at rest, V" hint="From the negative end." />
          <QuantityField editor={editor} at="/start/cells_per_block" label="Cells in a block" kind="count" />
        </>
      );
  }
}

/** A label's low and high voltage, as one pair. */
function RangeField({ editor, at, label }: { editor: Editor<PackDoc>; at: Pointer<PackDoc>; label: string }) {
  return <VoltagesField editor={editor} at={at} label={`${label}, V`} hint="Low and high, for the whole pack." />;
}
