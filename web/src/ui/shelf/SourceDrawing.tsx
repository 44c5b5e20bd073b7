import type { SourceDoc } from "../../api/client";
import { trimmed } from "../quantity/parse";

/** A supply by its label: what it says it gives, in the size it matters. */
export function SourceDrawing({ source }: { source: SourceDoc }) {
  const volts = source.kind === "fixed_supply" ? source.voltage_v : source.max_voltage_v;
  const from = source.kind === "fixed_supply" ? "" : `${trimmed(source.min_voltage_v ?? 0, 1)}–`;
  return (
    <div className="source-drawing figures">
      <span>{volts == null ? "– V" : `${from}${trimmed(volts, 2)} V`}</span>
      <span>{source.max_current_a == null ? "" : `${trimmed(source.max_current_a, 2)} A`}</span>
      <span>{source.max_power_w == null ? "" : `${trimmed(source.max_power_w, 0)} W`}</span>
    </div>
  );
}
