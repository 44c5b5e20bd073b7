import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { CurvePoint } from "../../api/client";
import { showSeconds } from "../../ui/quantity/parse";
import { useWidth } from "../../ui/useSize";
import { timeTicks } from "../../ui/chart/ticks";

const HEIGHT = 220;
const MARGIN = { top: 12, right: 20, bottom: 24, left: 44 };

interface Props {
  curves: CurvePoint[][];
  names: string[];
}

/** State of charge over time, a line a chain. */
export function Chart({ curves, names }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const end_s = Math.max(...curves.map((curve) => curve.at(-1)?.t_s ?? 0), 1);
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const x = scaleLinear([0, end_s], [0, plotWidth]);
  const y = scaleLinear([0, 1], [HEIGHT - MARGIN.top - MARGIN.bottom, 0]);
  const path = line<CurvePoint>()
    .x((point) => x(point.t_s))
    .y((point) => y(point.soc));
  const spoken = curves.map((curve, k) => `${names[k] ?? ""}: ${curve.length > 0 ? showSeconds(curve.at(-1)?.t_s ?? 0) : "no settings"}`);
  return (
    <div ref={ref} className="compare-chart">
      <h2>State of charge</h2>
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`State of charge over time. ${spoken.join("; ")}`}>
          <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
            {[0, 0.5, 1].map((soc) => (
              <g key={soc} className="tick" transform={`translate(0,${y(soc)})`}>
                <path d={`M0,0 H${plotWidth}`} />
                <text x={-6} textAnchor="end">
                  {soc * 100} %
                </text>
              </g>
            ))}
            {timeTicks(end_s, plotWidth).map(({ t_s, words }) => (
              <text key={t_s} className="tick" x={x(t_s)} y={y(0) + 14} textAnchor="middle">
                {words}
              </text>
            ))}
            {curves.map((curve, k) => (
              <path key={names[k]} className={`line-${k}`} d={path(curve) ?? ""} />
            ))}
          </g>
        </svg>
      )}
    </div>
  );
}
