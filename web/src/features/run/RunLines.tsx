import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useId } from "react";
import type { CurvePoint } from "../../api/client";
import { timeTicks } from "../../ui/chart/ticks";
import { stopwatch } from "../../ui/clock";
import type { Taken } from "./useRun";
import { atPack } from "./words";

const HEIGHT = 230;
export const MARGIN = { top: 12, right: 44, bottom: 22, left: 48 };

/** What is drawn of a moment. */
export type Point = Pick<CurvePoint, "t_s" | "pack_v" | "current_a">;

interface Props {
  planned: Point[];
  course: Point[];
  taken: Taken[];
  now_s: number;
  /** From when until when it is drawn, s. */
  shown: readonly [number, number];
  /** What is being chosen to be looked at closer, s. */
  chosen: readonly [number, number] | undefined;
  /** So many readings that they are lines, not marks. */
  dense: boolean;
  width: number;
}

/** Volts and amps over a span of a run. */
export function RunLines({ planned, course, taken, now_s, shown, chosen, dense, width }: Props) {
  const clip = useId();
  const [from_s, to_s] = shown;
  const inside = ({ t_s }: { t_s: number }) => t_s >= from_s && t_s <= to_s;
  const read = taken.map(({ reading }) => ({ t_s: reading.t_s, ...atPack(reading) }));
  const curves = [...planned, ...course].filter(inside);
  const seen = read.filter(inside);
  const volts = [...curves.map((p) => p.pack_v), ...seen.flatMap((r) => (r.volts === undefined ? [] : [r.volts]))];
  const amps = [...curves.map((p) => p.current_a), ...seen.flatMap((r) => (r.amps === undefined ? [] : [r.amps]))];
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const x = scaleLinear([from_s, to_s], [0, plotWidth]);
  const [lowest, highest] = volts.length > 0 ? [Math.min(...volts), Math.max(...volts)] : [0, 1];
  // A voltage that stands still is not blown up to fill the height.
  const yV = scaleLinear([lowest, Math.max(highest, lowest + 0.02)], [plotHeight, 0]).nice(4);
  const yA = scaleLinear([Math.min(...amps, 0), Math.max(...amps, 0.1)], [plotHeight, 0]).nice(4);
  const voltLine = line<Point>().x((p) => x(p.t_s)).y((p) => yV(p.pack_v));
  const ampLine = line<Point>().x((p) => x(p.t_s)).y((p) => yA(p.current_a));
  type Read = (typeof read)[number];
  const readVolts = line<Read>().x((r) => x(r.t_s)).y((r) => yV(r.volts ?? 0));
  const readAmps = line<Read>().x((r) => x(r.t_s)).y((r) => yA(r.amps ?? 0));
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={`Volts and amps over time: planned, read ${seen.length} times, from ${stopwatch(from_s)} to ${stopwatch(to_s)}`}>
      <clipPath id={clip}>
        <rect x={-6} y={-6} width={plotWidth + 12} height={plotHeight + 12} />
      </clipPath>
      <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
        {yV.ticks(4).map((v) => (
          <g key={v} className="tick" transform={`translate(0,${yV(v)})`}>
            <path d={`M0,0 H${plotWidth}`} />
            <text x={-6} dy="0.32em" textAnchor="end" className="volts">
              {yV.tickFormat(4)(v)} V
            </text>
          </g>
        ))}
        {yA.ticks(4).map((a) => (
          <text key={a} x={plotWidth + 6} y={yA(a)} dy="0.32em" className="tick amps">
            {yA.tickFormat(4)(a)} A
          </text>
        ))}
        {timeTicks(to_s, plotWidth, from_s).map(({ t_s, words }) => (
          <text key={t_s} className="tick" x={x(t_s)} y={plotHeight + 15} textAnchor="middle">
            {words}
          </text>
        ))}
        <g clipPath={`url(#${clip})`}>
          <path className="run-volts planned" d={voltLine(planned) ?? ""} />
          <path className="run-amps planned" d={ampLine(planned) ?? ""} />
          <path className="run-volts" d={voltLine(course) ?? ""} />
          <path className="run-amps" d={ampLine(course) ?? ""} />
          {now_s <= to_s && now_s >= from_s && <path className="run-now" d={`M${x(now_s)},0 V${plotHeight}`} />}
          {dense && (
            <>
              <path className="run-line volts" d={readVolts(read.filter((r) => r.volts !== undefined)) ?? ""} />
              <path className="run-line amps" d={readAmps(read.filter((r) => r.amps !== undefined)) ?? ""} />
            </>
          )}
          {!dense &&
            read.map((r, k) => (
              <g key={k}>
                {r.volts !== undefined && <circle className="run-read volts" cx={x(r.t_s)} cy={yV(r.volts)} r={4.5} />}
                {r.amps !== undefined && (
                  <path className="run-read amps" d={`M${x(r.t_s) - 4.5},${yA(r.amps)} l4.5,-4.5 l4.5,4.5 l-4.5,4.5 z`} />
                )}
              </g>
            ))}
          {chosen && <rect className="run-chosen" x={x(chosen[0])} y={0} width={Math.max(0, x(chosen[1]) - x(chosen[0]))} height={plotHeight} />}
        </g>
      </g>
    </svg>
  );
}
