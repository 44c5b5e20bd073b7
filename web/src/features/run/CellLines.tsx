import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useId } from "react";
import { timeTicks } from "../../ui/chart/ticks";
import { stopwatch } from "../../ui/clock";
import { inDegrees, preferences } from "../../ui/preferences";
import { trimmed } from "../../ui/quantity/parse";
import { MARGIN } from "./RunLines";
import type { Taken } from "./useRun";

const HEIGHT = 130;
/** Cells closer together than this are drawn as close as they are, not blown up, V. */
const LEAST_SPAN_V = 0.02;

interface Props {
  taken: Taken[];
  /** From when until when it is drawn, s. */
  shown: readonly [number, number];
  width: number;
}

const spreadOf = (cells: readonly number[]) => Math.max(...cells) - Math.min(...cells);
const millivolts = (volts: number) => `${trimmed(volts * 1000, 0)} mV`;

/** Each cell's volts over time, how far they are apart, and the pack's warmth, where they were read. */
export function CellLines({ taken, shown, width }: Props) {
  const clip = useId();
  const [from_s, to_s] = shown;
  const inside = taken.filter(({ reading }) => reading.t_s >= from_s && reading.t_s <= to_s).map(({ reading }) => reading);
  const cells = inside.flatMap(({ t_s, cell_voltages_v }) => (cell_voltages_v && cell_voltages_v.length > 1 ? [{ t_s, cells: cell_voltages_v }] : []));
  const warmth = inside.flatMap(({ t_s, temperature_c }) => (temperature_c == null ? [] : [{ t_s, temperature_c }]));
  const [first, last] = [cells[0], cells.at(-1)];
  if ((!first || !last || cells.length < 2) && warmth.length < 2) return null;
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const x = scaleLinear([from_s, to_s], [0, plotWidth]);
  const volts = cells.flatMap((one) => one.cells);
  const [low, high] = volts.length > 0 ? [Math.min(...volts), Math.max(...volts)] : [0, 1];
  const yV = scaleLinear([low, Math.max(high, low + LEAST_SPAN_V)], [plotHeight, 0]).nice(3);
  const warmths = warmth.map(({ temperature_c }) => inDegrees(temperature_c));
  const [cool, warm] = warmths.length > 0 ? [Math.min(...warmths), Math.max(...warmths)] : [0, 1];
  const yT = scaleLinear([cool, Math.max(warm, cool + 2)], [plotHeight, 0]).nice(3);
  const count = Math.max(0, ...cells.map((one) => one.cells.length));
  const cellLine = (n: number) =>
    line<(typeof cells)[number]>()
      .defined((one) => one.cells[n] !== undefined)
      .x((one) => x(one.t_s))
      .y((one) => yV(one.cells[n] ?? 0))(cells) ?? "";
  const warmLine = line<(typeof warmth)[number]>().x((one) => x(one.t_s)).y((_, n) => yT(warmths[n] ?? 0))(warmth) ?? "";
  const said = [
    first && last && `Cells apart: ${millivolts(spreadOf(first.cells))} at first, ${millivolts(spreadOf(last.cells))} last, ${millivolts(Math.max(...cells.map((one) => spreadOf(one.cells))))} at most; the highest last is cell ${last.cells.indexOf(Math.max(...last.cells)) + 1}, the lowest cell ${last.cells.indexOf(Math.min(...last.cells)) + 1}.`,
    warmths.length > 1 && `Warmth: ${trimmed(warmths[0] ?? 0, 1)} ${preferences().degrees} at first, ${trimmed(warm, 1)} ${preferences().degrees} at most.`,
  ].filter(Boolean);
  return (
    <figure className="run-cells">
      <svg width={width} height={HEIGHT} role="img" aria-label={`Each cell and the pack’s warmth, from ${stopwatch(from_s)} to ${stopwatch(to_s)}`}>
        <clipPath id={clip}>
          <rect x={-2} y={-2} width={plotWidth + 4} height={plotHeight + 4} />
        </clipPath>
        <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
          {count > 0 &&
            yV.ticks(3).map((v) => (
              <g key={v} className="tick" transform={`translate(0,${yV(v)})`}>
                <path d={`M0,0 H${plotWidth}`} />
                <text x={-6} dy="0.32em" textAnchor="end" className="volts">
                  {yV.tickFormat(3)(v)} V
                </text>
              </g>
            ))}
          {warmths.length > 1 &&
            yT.ticks(3).map((t) => (
              <text key={t} x={plotWidth + 6} y={yT(t)} dy="0.32em" className="tick warmth">
                {yT.tickFormat(3)(t)} {preferences().degrees}
              </text>
            ))}
          {timeTicks(to_s, plotWidth, from_s).map(({ t_s, words }) => (
            <text key={t_s} className="tick" x={x(t_s)} y={plotHeight + 15} textAnchor="middle">
              {words}
            </text>
          ))}
          <g clipPath={`url(#${clip})`}>
            {Array.from({ length: count }, (_, n) => (
              <path key={n} className={n === (last?.cells.indexOf(Math.min(...last.cells)) ?? -1) ? "cell-line lowest" : "cell-line"} d={cellLine(n)} />
            ))}
            {warmths.length > 1 && <path className="warm-line" d={warmLine} />}
          </g>
        </g>
      </svg>
      <figcaption className="muted">
        {count > 0 && "Thin: each cell, the lowest thick. "}
        {warmths.length > 1 && "Dotted: warmth. "}
        {said.join(" ")}
      </figcaption>
    </figure>
  );
}
