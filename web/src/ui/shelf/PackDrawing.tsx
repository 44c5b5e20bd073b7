import { useId } from "react";
import type { PackDoc, Schemas } from "../../api/client";

const CELL = 9;
const MOST_CELLS = 28;
const HEIGHT = 56;

/** A pack by eye: a bar per cell in series, as tall as its capacity on a scale of decades; where it is known how full it
 *  is, filled so far, hatched between the bounds. */
export function PackDrawing({ pack, charge }: { pack: PackDoc; charge?: Schemas["ChargeNowDoc"] | null | undefined }) {
  const hatch = useId();
  const cells = Math.min(pack.series ?? Math.max(1, Math.round((pack.label_v ?? 4) / 2)), MOST_CELLS);
  const ah = pack.capacity_ah ?? (pack.energy_wh ?? 10) / (pack.label_v ?? 3.7 * cells);
  const decades = Math.log10(Math.max(ah, 0.1) / 0.1) / 3.3;
  const height = 12 + Math.min(Math.max(decades, 0), 1) * (HEIGHT - 14);
  const family = pack.chemistry?.split("_")[0] ?? "lipo";
  return (
    <svg width={cells * CELL + 6} height={HEIGHT} className={`pack-drawing ${family}`}>
      <pattern id={hatch} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <path d="M0,0 V4" className="pack-hatch" />
      </pattern>
      {Array.from({ length: cells }, (_, k) => {
        const [x, y] = [k * CELL + 1, HEIGHT - height - 1];
        if (charge === undefined) return <rect key={k} x={x} y={y} width={CELL - 2} height={height} rx="1.5" />;
        const level = (soc: number) => y + height * (1 - soc);
        const { low, high } = charge ?? { low: 0, high: 1 };
        return (
          <g key={k}>
            <rect className="pack-shell" x={x + 0.5} y={y + 0.5} width={CELL - 3} height={height - 1} rx="1.5" />
            <rect x={x} y={level(high)} width={CELL - 2} height={Math.max(level(low) - level(high), 0)} style={{ fill: `url(#${hatch})` }} />
            {low > 0 && <rect x={x} y={level(low)} width={CELL - 2} height={height * low} rx="1.5" />}
          </g>
        );
      })}
    </svg>
  );
}
