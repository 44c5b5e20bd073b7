import type { PackDoc } from "../../api/client";

const CELL = 9;
const MOST_CELLS = 28;
const HEIGHT = 56;

/** A pack by eye: a bar per cell in series, as tall as its capacity on a scale of decades. */
export function PackDrawing({ pack }: { pack: PackDoc }) {
  const cells = Math.min(pack.series ?? Math.max(1, Math.round((pack.label_v ?? 4) / 2)), MOST_CELLS);
  const ah = pack.capacity_ah ?? (pack.energy_wh ?? 10) / (pack.label_v ?? 3.7 * cells);
  const decades = Math.log10(Math.max(ah, 0.1) / 0.1) / 3.3;
  const height = 12 + Math.min(Math.max(decades, 0), 1) * (HEIGHT - 14);
  const family = pack.chemistry?.split("_")[0] ?? "lipo";
  return (
    <svg width={cells * CELL + 6} height={HEIGHT} className={`pack-drawing ${family}`}>
      {Array.from({ length: cells }, (_, k) => (
        <rect key={k} x={k * CELL + 1} y={HEIGHT - height - 1} width={CELL - 2} height={height} rx="1.5" />
      ))}
    </svg>
  );
}
