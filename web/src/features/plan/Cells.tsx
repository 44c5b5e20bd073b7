import type { Schemas } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";

const HEIGHT = 34;
const STEP = 16;

/** Where each series position ends, the highest marked: nothing levels what is drawn apart here. */
export function Cells({ cells }: { cells: Schemas["CellDoc"][] }) {
  if (cells.length < 2) return null;
  const ends = cells.map((cell) => cell.end_v);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const span = Math.max(high - low, 0.02);
  const words = `${trimmed(low, 3)} to ${trimmed(high, 3)} V`;
  return (
    <section className="limits" aria-label="Cells at the end">
      <h2>Cells at the end</h2>
      <div className="cells-row">
      <svg width={cells.length * STEP} height={HEIGHT} role="img" aria-label={`Cells at the end, ${words}`}>
        {cells.map((cell, k) => {
          const height = 8 + ((cell.end_v - low) / span) * (HEIGHT - 10);
          return (
            <rect
              key={cell.position}
              className={cell.end_v === high && high - low > 0.005 ? "cell highest" : "cell"}
              x={k * STEP}
              y={HEIGHT - height}
              width={STEP - 4}
              height={height}
            />
          );
        })}
      </svg>
      <p className="muted">{words}, charging</p>
      </div>
    </section>
  );
}
