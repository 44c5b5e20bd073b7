import type { LeadDoc, Schemas } from "../../api/client";
import type { Editor } from "./editor";
import { ChoiceField, QuantityField, TextField } from "./fields";
import "./documents.css";

const ENDS = [
  { value: "pack", label: "at the pack's end" },
  { value: "source", label: "at the supply's end" },
  { value: "both", label: "at both ends" },
  { value: "none", label: "there is none" },
] as const satisfies readonly { value: Schemas["FuseAt"]; label: string }[];

/** A lead: its wire, its plugs, its fuse. */
export function LeadFields({ editor }: { editor: Editor }) {
  const lead = (editor.document ?? {}) as LeadDoc;
  return (
    <div className="fields">
      <TextField editor={editor} at="/name" label="Name" />
      {lead.area_mm2 == null && <QuantityField editor={editor} at="/awg" label="Wire, AWG" kind="gauge" />}
      {lead.awg == null && <QuantityField editor={editor} at="/area_mm2" label="or wire, mm²" kind="area" />}
      <QuantityField editor={editor} at="/length_m" label="Length, one way" kind="length" />
      <QuantityField editor={editor} at="/connector_mohm" label="Plugs and switches" kind="resistance" />
      <QuantityField editor={editor} at="/fuse_a" label="Fuse" kind="current" />
      <QuantityField editor={editor} at="/fuse_v" label="It breaks, DC" kind="voltage" />
      <ChoiceField editor={editor} at="/fuse_at" label="The fuse sits" options={ENDS} />
      <div className="fields-wide">
        <TextField editor={editor} at="/notes" label="Notes" long />
      </div>
    </div>
  );
}
