import type { SourceDoc } from "../../api/client";
import { trimmed } from "../quantity/parse";
import { sourceVolts } from "../words";

/** A supply by its label: what it says it gives, in the size it matters. */
export function SourceDrawing({ source }: { source: SourceDoc }) {
  const volts = source.kind === "mains" ? "wall" : sourceVolts(source);
  const amount = source.kind === "battery" ? unit(source.capacity_ah, "Ah") : unit(source.max_current_a, "A");
  return <LabelDrawing lines={[volts ?? "– V", amount, unit(source.max_power_w, "W", 0) ?? unit(source.rated_va, "VA", 0)]} />;
}

/** A label's figures, the first one large. */
export function LabelDrawing({ lines }: { lines: readonly (string | undefined)[] }) {
  return (
    <div className="source-drawing figures">
      {lines.map((line, k) => (
        <span key={k}>{line ?? ""}</span>
      ))}
    </div>
  );
}

/** A figure with its unit; nothing where the label says nothing. */
export const unit = (value: number | null | undefined, name: string, places = 2) =>
  value == null ? undefined : `${trimmed(value, places)} ${name}`;
