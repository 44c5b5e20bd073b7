import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { stopwatch } from "../../ui/clock";
import { trimmed } from "../../ui/quantity/parse";
import { MARGIN } from "./RunLines";
import type { Taken } from "./useRun";

const HEIGHT = 84;
/** A supply that moves by less stands still, V. */
const LEAST_SPAN_V = 0.2;

interface Props {
  taken: Taken[];
  /** From when until when it is drawn, s. */
  shown: readonly [number, number];
  width: number;
}

/** What the supply stood at meanwhile, where that was read beside the pack's volts: one that sinks is at its end. */
export function InputLine({ taken, shown, width }: Props) {
  const [from_s, to_s] = shown;
  const read = taken.flatMap(({ reading }) => {
    const { t_s, source_v } = reading;
    const besides = reading.terminal_v ?? reading.bms_v ?? reading.charger_v ?? reading.cell_voltages_v?.[0];
    return source_v == null || besides == null || t_s < from_s || t_s > to_s ? [] : [{ t_s, source_v }];
  });
  const [first] = read;
  if (!first || read.length < 2) return null;
  const volts = read.map(({ source_v }) => source_v);
  const [low, high] = [Math.min(...volts), Math.max(...volts)];
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - 16;
  const x = scaleLinear([from_s, to_s], [0, plotWidth]);
  const y = scaleLinear([low, Math.max(high, low + LEAST_SPAN_V)], [plotHeight, 0]).nice(2);
  const drawn = line<(typeof read)[number]>().x((one) => x(one.t_s)).y((one) => y(one.source_v))(read) ?? "";
  return (
    <figure className="run-cells">
      <svg width={width} height={HEIGHT} role="img" aria-label={`The supply’s volts from ${stopwatch(from_s)} to ${stopwatch(to_s)}`}>
        <g transform={`translate(${MARGIN.left},8)`}>
          {y.ticks(2).map((v) => (
            <g key={v} className="tick" transform={`translate(0,${y(v)})`}>
              <path d={`M0,0 H${plotWidth}`} />
              <text x={-6} dy="0.32em" textAnchor="end">
                {y.tickFormat(2)(v)} V
              </text>
            </g>
          ))}
          <path className="warm-line" d={drawn} />
        </g>
      </svg>
      <figcaption className="muted">
        The supply’s own volts: {trimmed(first.source_v, 2)} V at first, {trimmed(low, 2)} V at least.
      </figcaption>
    </figure>
  );
}
