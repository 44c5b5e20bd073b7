import { scaleLinear } from "d3-scale";
import { area, line } from "d3-shape";
import type { RescueStageDoc, Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { timeTicks } from "../../ui/chart/ticks";
import { useWidth } from "../../ui/useSize";

const HEIGHT = 190;
const MARGIN = { top: 10, right: 14, bottom: 22, left: 46 };

interface Props {
  stage: RescueStageDoc;
  readings: Schemas["RescueReadingDoc"][];
  /** Since the stage began, s; absent before. */
  now_s?: number;
}

/** How the terminals should rise, between which bounds, and what was read. */
export function CorridorChart({ stage, readings, now_s }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { curve } = stage;
  const read = readings.flatMap(({ t_s, terminal_v }) => (t_s == null || terminal_v == null ? [] : [{ t_s, terminal_v }]));
  const end_s = Math.max(curve.at(-1)?.t_s ?? 60, ...read.map((one) => one.t_s), Math.min(now_s ?? 0, stage.max_s ?? 0), 60);
  const until_v = stage.until.pack_v ?? 0;
  const volts = [...curve.flatMap((p) => [p.low_v, p.high_v]), ...read.map((one) => one.terminal_v), until_v];
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const x = scaleLinear([0, end_s], [0, plotWidth]);
  const y = scaleLinear([Math.min(...volts), Math.max(...volts)], [plotHeight, 0]).nice(4);
  // Beyond its end the prediction stays where it got to.
  const drawn = curve.at(-1) ? [...curve, { ...(curve.at(-1) as Schemas["CorridorPoint"]), t_s: end_s }] : [];
  const band = area<Schemas["CorridorPoint"]>()
    .x((p) => x(p.t_s))
    .y0((p) => y(p.low_v))
    .y1((p) => y(p.high_v));
  const likely = line<Schemas["CorridorPoint"]>()
    .x((p) => x(p.t_s))
    .y((p) => y(p.pack_v));
  const done = stage.expected_s == null ? "" : `; ${trimmed(until_v, 2)} V is expected after ${showSeconds(stage.expected_s)}`;
  return (
    <div ref={ref} className="corridor">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Terminals over time with the bounds of a living pack${done}`}>
          <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
            {y.ticks(4).map((v) => (
              <g key={v} className="tick" transform={`translate(0,${y(v)})`}>
                <path d={`M0,0 H${plotWidth}`} />
                <text x={-6} dy="0.32em" textAnchor="end">
                  {trimmed(v, 2)} V
                </text>
              </g>
            ))}
            {timeTicks(end_s, plotWidth).map(({ t_s, words }) => (
              <text key={t_s} className="tick" x={x(t_s)} y={plotHeight + 15} textAnchor="middle">
                {words}
              </text>
            ))}
            <path className="corridor-band" d={band(drawn) ?? ""} />
            <path className="corridor-likely" d={likely(drawn) ?? ""} />
            <path className="corridor-until" d={`M0,${y(until_v)} H${plotWidth}`} />
            <text className="corridor-label" x={plotWidth} y={y(until_v) + 13} textAnchor="end">
              hand over at {trimmed(until_v, 2)} V
            </text>
            {now_s !== undefined && now_s <= end_s && <path className="corridor-now" d={`M${x(now_s)},0 V${plotHeight}`} />}
            {read.map((one) => (
              <circle key={one.t_s} className="corridor-read" cx={x(one.t_s)} cy={y(one.terminal_v)} r={4.5} />
            ))}
          </g>
        </svg>
      )}
      <details className="corridor-table">
        <summary>As a table</summary>
        <table>
          <thead>
            <tr>
              <th>After</th>
              <th>Expected</th>
              <th>Living pack</th>
            </tr>
          </thead>
          <tbody>
            {curve
              .filter((_, k) => k % 10 === 0)
              .map((p) => (
                <tr key={p.t_s}>
                  <td>{showSeconds(p.t_s)}</td>
                  <td>{trimmed(p.pack_v, 2)} V</td>
                  <td>
                    {trimmed(p.low_v, 2)} to {trimmed(p.high_v, 2)} V
                  </td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </div>
  );
}
