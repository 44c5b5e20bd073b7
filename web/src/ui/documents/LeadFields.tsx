import type { LeadDoc, Schemas } from "../../api/client";
import { usePreferences } from "../preferences";
import type { Editor } from "./editor";
import { ChoiceField, QuantityField, TextField } from "./fields";
import "./documents.css";

const ENDS = [
  { value: "pack", label: "at the pack's end" },
  { value: "source", label: "at the supply's end" },
  { value: "both", label: "at both ends" },
  { value: "none", label: "there is none" },
] as const satisfies readonly { value: Schemas["FuseAt"]; label: string }[];

const CONNECTORS = [
  { value: "clips_small", label: "crocodile clips, small (5 A)" },
  { value: "clips_large", label: "crocodile clips, large (10 A)" },
  { value: "banana", label: "banana plugs (15 A)" },
  { value: "bullet_3_5mm", label: "3.5 mm bullets (30 A)" },
  { value: "bullet_4mm", label: "4 mm bullets (40 A)" },
  { value: "two_pin_15a", label: "two-pin plug, 15 A" },
  { value: "two_pin_30a", label: "two-pin plug, 30 A" },
  { value: "two_pin_60a", label: "two-pin plug, 60 A" },
  { value: "balance_plug", label: "balance plug (3 A)" },
  { value: "usb_c_3a", label: "USB-C, 3 A" },
  { value: "usb_c_5a", label: "USB-C, 5 A" },
  { value: "car_socket", label: "vehicle socket (10 A)" },
  { value: "screw", label: "screw terminals" },
  { value: "bolted", label: "bolted lugs" },
] as const satisfies readonly { value: Schemas["Connector"]; label: string }[];

const WIRES = [
  { value: "pair", label: "side by side" },
  { value: "single", label: "each by itself" },
] as const satisfies readonly { value: Schemas["Wires"]; label: string }[];

const INSULATIONS = [
  { value: "pvc", label: "PVC" },
  { value: "silicone", label: "silicone" },
] as const satisfies readonly { value: Schemas["Insulation"]; label: string }[];

const LAID = [
  { value: "open", label: "in the open" },
  { value: "bundled", label: "among others, or sleeved" },
  { value: "coiled", label: "rolled up" },
] as const satisfies readonly { value: Schemas["Laid"]; label: string }[];

/** A lead: its wire, its plugs, its fuse. */
export function LeadFields({ editor }: { editor: Editor<LeadDoc> }) {
  const lead = editor.document ?? {};
  const { wire } = usePreferences();
  const gauge = lead.area_mm2 == null && <QuantityField key="awg" editor={editor} at="/awg" label="Wire, AWG" kind="gauge" />;
  const area = lead.awg == null && <QuantityField key="mm2" editor={editor} at="/area_mm2" label={wire === "AWG" ? "or wire, mm²" : "Wire, mm²"} kind="area" />;
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      {wire === "AWG" ? [gauge, area] : [area, gauge]}
      <QuantityField editor={editor} at="/length_m" label="Length, one way" kind="length" />
      <ChoiceField editor={editor} at="/connector" label="It ends in" options={CONNECTORS} clearable />
      <QuantityField editor={editor} at="/connector_mohm" label="Plugs and switches" kind="resistance" />
      <QuantityField editor={editor} at="/fuse_a" label="Fuse" kind="current" />
      <QuantityField editor={editor} at="/fuse_v" label="It breaks, DC" kind="voltage" />
      <ChoiceField editor={editor} at="/fuse_at" label="The fuse sits" options={ENDS} />
      <ChoiceField editor={editor} at="/insulation" label="Insulation" options={INSULATIONS} />
      <ChoiceField editor={editor} at="/wires" label="Its two wires" options={WIRES} />
      <ChoiceField editor={editor} at="/laid" label="It lies" options={LAID} />
      <QuantityField editor={editor} at="/ambient_c" label="Warmth around it" kind="temperature" />
      <div className="fields-wide">
        <TextField editor={editor} at="/notes" label="Notes" long />
      </div>
    </div>
  );
}
