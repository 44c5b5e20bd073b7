import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { CurvePoint } from "../../api/client";
import { showSeconds, trimmed } from "../../ui/quantity/parse";
import { timeTicks } from "../../ui/chart/ticks";
import { useWidth } from "../../ui/useSize";
import type { Taken } from "./useRun";
import { atPack } from "./words";

const HEIGHT = 230;
/** More readings than these are a line, not marks. */
const DENSE = 60;
const MARGIN = { top: 12, right: 44, bottom: 22, left: 48 };

interface Props {
  planned: CurvePoint[];
  course: CurvePoint[];
  taken: Taken[];
  now_s: number;
}

/** What was planned, what was read, and how it goes on from there. */
export function RunChart({ planned, course, taken, now_s }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const read = taken.map(({ reading }) => ({ t_s: reading.t_s ?? 0, ...atPack(reading) }));
  const all = [...planned, ...course];
  const end_s = Math.max(...all.map((p) => p.t_s), ...read.map((r) => r.t_s), now_s, 60);
  const volts = [...all.map((p) => p.pack_v), ...read.flatMap((r) => (r.volts === undefined ? [] : [r.volts]))];
  const amps = [...all.map((p) => p.current_a), ...read.flatMap((r) => (r.amps === undefined ? [] : [r.amps]))];
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const x = scaleLinear([0, end_s], [0, plotWidth]);
  const yV = scaleLinear([Math.min(...volts), Math.max(...volts, 0.1)], [plotHeight, 0]).nice(4);
  const yA = scaleLinear([0, Math.max(...amps, 0.1)], [plotHeight, 0]).nice(4);
  const voltLine = line<CurvePoint>().x((p) => x(p.t_s)).y((p) => yV(p.pack_v));
  const ampLine = line<CurvePoint>().x((p) => x(p.t_s)).y((p) => yA(p.current_a));
  type Read = (typeof read)[number];
  const readVolts = line<Read>().x((r) => x(r.t_s)).y((r) => yV(r.volts ?? 0));
  const readAmps = line<Read>().x((r) => x(r.t_s)).y((r) => yA(r.amps ?? 0));
  const dense = read.length > DENSE;
  return (
    <div ref={ref} className="run-chart">
      {width > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Volts and amps over time: planned, read ${read.length} times, and onwards to ${showSeconds(end_s)}`}>
          <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
            {yV.ticks(4).map((v) => (
              <g key={v} className="tick" transform={`translate(0,${yV(v)})`}>
                <path d={`M0,0 H${plotWidth}`} />
                <text x={-6} dy="0.32em" textAnchor="end" className="volts">
                  {trimmed(v, 2)} V
                </text>
              </g>
            ))}
            {yA.ticks(4).map((a) => (
              <text key={a} x={plotWidth + 6} y={yA(a)} dy="0.32em" className="tick amps">
                {trimmed(a, 2)} A
              </text>
            ))}
            {timeTicks(end_s, plotWidth).map((t) => (
              <text key={t} className="tick" x={x(t)} y={plotHeight + 15} textAnchor="middle">
                {showSeconds(t)}
              </text>
            ))}
            <path className="run-volts planned" d={voltLine(planned) ?? ""} />
            <path className="run-amps planned" d={ampLine(planned) ?? ""} />
            <path className="run-volts" d={voltLine(course) ?? ""} />
            <path className="run-amps" d={ampLine(course) ?? ""} />
            {now_s <= end_s && <path className="run-now" d={`M${x(now_s)},0 V${plotHeight}`} />}
            {dense && (
              <>
                <path className="run-line volts" d={readVolts(read.filter((r) => r.volts !== undefined)) ?? ""} />
                <path className="run-line amps" d={readAmps(read.filter((r) => r.amps !== undefined)) ?? ""} />
              </>
            )}
            {!dense && read.map((r, k) => (
              <g key={k}>
                {r.volts !== undefined && <circle className="run-read volts" cx={x(r.t_s)} cy={yV(r.volts)} r={4.5} />}
                {r.amps !== undefined && (
                  <path className="run-read amps" d={`M${x(r.t_s) - 4.5},${yA(r.amps)} l4.5,-4.5 l4.5,4.5 l-4.5,4.5 z`} />
                )}
              </g>
            ))}
          </g>
        </svg>
      )}
      <p className="muted run-legend">
        {[
          planned.length > 0 && "Thin: as planned.",
          course.length > 0 && "Thick: how it goes on.",
          dense ? "Lines: volts, and dashed amps, as logged; of a long log every peak and dip." : "○ volts read, ◇ amps read.",
        ]
          .filter(Boolean)
          .join(" ")}
      </p>
    </div>
  );
}
