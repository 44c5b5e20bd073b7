import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { memo, useMemo, useState } from "react";
import type { CurvePoint, Schemas } from "../../api/client";
import { showSeconds, trimmed } from "../quantity/parse";
import { useWidth } from "../useSize";
import { LIMIT_WORDS } from "../words";
import { CurveTable } from "./CurveTable";
import { ExportMenu } from "./ExportMenu";
import type { Moment } from "./moment";
import { spreadLabels, timeTicks } from "./ticks";
import "./chart.css";

interface Props {
  /** What the plan is called: its files are named after it. */
  name: string | null | undefined;
  stages: Schemas["StageDoc"][];
  curve: CurvePoint[];
  pinch: Schemas["PinchDoc"][];
  /** When a knob is to be turned. */
  nudges: Schemas["NudgeDoc"][];
  to80_s: number | null | undefined;
  /** Where the cursor stands, and what is there. */
  moment: Moment;
  onMove: (t_s: number) => void;
}

const HEIGHT = 204;
const MARGIN = { top: 24, right: 104, bottom: 22, left: 42 };
const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;

/** Voltage, current and state of charge over time, banded by what limits, with a cursor to drag. */
export const ChargeChart = memo(function ChargeChart({ name, stages, curve, pinch, nudges, to80_s, moment, onMove }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const [asTable, setAsTable] = useState(false);
  const end_s = curve.at(-1)?.t_s ?? 0;
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const drawn = useMemo(() => draw(curve, end_s, plotWidth), [curve, end_s, plotWidth]);
  const spoken = `${showSeconds(moment.t_s)}: ${trimmed(moment.pack_v, 2)} volts, ${trimmed(moment.current_a, 2)} amps, state of charge ${trimmed(moment.soc * 100, 0)} percent, limited by the ${LIMIT_WORDS[moment.limit]}`;
  return (
    <section className="chart" aria-label="Charge curve">
      <div className="chart-bar">
        <h2>{(curve[0]?.current_a ?? 0) < 0 ? "Discharge curve" : "Charge curve"}</h2>
        <p className="chart-reading" aria-hidden="true">
          <span className="volts">{trimmed(moment.pack_v, 2)} V</span>
          <span className="amps">{trimmed(moment.current_a, 2)} A</span>
          <span>{trimmed(moment.power_w, 0)} W</span>
          <span className="soc">SoC {trimmed(moment.soc * 100, 0)} %</span>
          <span className="pinch-name">{LIMIT_WORDS[moment.limit]}</span>
        </p>
        <ExportMenu name={name} stages={stages} curve={curve} plot={ref} />
        <button
          type="button"
          className="plain-button link"
          aria-pressed={asTable}
          onClick={() => {
            setAsTable(!asTable);
          }}
        >
          {asTable ? "As a curve" : "As a table"}
        </button>
      </div>
      {asTable ? (
        <CurveTable curve={curve} />
      ) : (
        <div ref={ref} className="chart-plot">
          {width > 0 && (
            <>
              <svg width={width} height={HEIGHT} aria-hidden="true" focusable="false">
                <defs>
                  <pattern id="limited" width="7" height="7" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
                    <path className="hatch" d="M0,0 V7" />
                  </pattern>
                </defs>
                <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
                  {pinch.map((span) => (
                    <Band key={span.from_s} span={span} x={drawn.x} height={plotHeight} />
                  ))}
                  <Axes drawn={drawn} end_s={end_s} width={plotWidth} />
                  <Lines drawn={drawn} nudges={nudges} to80_s={to80_s} end_s={end_s} />
                  <EndLabels drawn={drawn} last={curve.at(-1)} x={plotWidth + 42} />
                  <Cursor drawn={drawn} moment={moment} width={plotWidth} />
                </g>
              </svg>
              <input
                type="range"
                className="chart-cursor"
                aria-label="Moment of the charge"
                aria-valuetext={spoken}
                min={0}
                max={1000}
                step={1}
                value={end_s > 0 ? Math.round((moment.t_s / end_s) * 1000) : 0}
                onChange={(event) => {
                  onMove((event.target.valueAsNumber / 1000) * end_s);
                }}
              />
            </>
          )}
        </div>
      )}
    </section>
  );
});

type Drawn = ReturnType<typeof draw>;

/** Volts on the left, amps on the right, time below. */
function Axes({ drawn: { x, volts, amps }, end_s, width }: { drawn: Drawn; end_s: number; width: number }) {
  return (
    <>
      {volts.ticks(5).map((v) => (
        <g key={v} className="tick" transform={`translate(0,${volts(v)})`}>
          <path d={`M0,0 H${width}`} />
          <text className="volts" x={-6} textAnchor="end">
            {trimmed(v, 1)}
          </text>
        </g>
      ))}
      {amps.ticks(4).map((a) => (
        <text key={a} className="tick amps" x={width + 6} y={amps(a)}>
          {trimmed(a, 2)}
        </text>
      ))}
      <text className="axis volts" x={-6} y={-14} textAnchor="end">
        V
      </text>
      <text className="axis amps" x={width + 6} y={-14}>
        A
      </text>
      {timeTicks(end_s, width).map(({ t_s, words }) => (
        <text key={t_s} className="tick" x={x(t_s)} y={plotHeight + 13} textAnchor="middle">
          {words}
        </text>
      ))}
    </>
  );
}

/** The three curves, where a knob is turned, and when four fifths are in. */
function Lines({ drawn, nudges, to80_s, end_s }: { drawn: Drawn; end_s: number } & Pick<Props, "nudges" | "to80_s">) {
  const { x, soc } = drawn;
  return (
    <>
      <path className="curve soc" d={drawn.socPath} />
      <path className="curve amps" d={drawn.ampsPath} />
      <path className="curve volts" d={drawn.voltsPath} />
      {nudges.map((nudge) => (
        <path key={nudge.at_s} className="turn" d={`M${x(nudge.at_s)},${plotHeight} l-4,7 h8 Z`} />
      ))}
      {to80_s != null && to80_s > 0 && to80_s <= end_s && (
        <g className="milestone" transform={`translate(${x(to80_s)},${soc(0.8)})`}>
          <circle r="3.5" />
          <text x={8} y={10}>
            80 %
          </text>
        </g>
      )}
    </>
  );
}

/** What each curve is, and where it ends. */
function EndLabels({ drawn: { volts, amps, soc }, last, x }: { drawn: Drawn; last: CurvePoint | undefined; x: number }) {
  if (!last) return null;
  const labels = spreadLabels([
    { name: "SoC", className: "soc", y: soc(last.soc), text: `SoC ${trimmed(last.soc * 100, 0)} %` },
    { name: "volts", className: "volts", y: volts(last.pack_v), text: `${trimmed(last.pack_v, 2)} V` },
    { name: "amps", className: "amps", y: amps(last.current_a), text: `${trimmed(last.current_a, 2)} A` },
  ]);
  return labels.map((label) => (
    <text key={label.name} className={`name ${label.className}`} x={x} y={label.y}>
      {label.text}
    </text>
  ));
}

/** The moment looked at. */
function Cursor({ drawn: { x, volts, amps, soc }, moment, width }: { drawn: Drawn; moment: Moment; width: number }) {
  const at = x(moment.t_s);
  const flagX = Math.min(Math.max(at, 30 - MARGIN.left + 12), width + 20);
  return (
    <g className="cursor">
      <path d={`M${at},0 V${plotHeight}`} />
      <circle className="volts" cx={at} cy={volts(moment.pack_v)} r="4" />
      <circle className="amps" cx={at} cy={amps(moment.current_a)} r="4" />
      <circle className="soc" cx={at} cy={soc(moment.soc)} r="4" />
      <rect x={flagX - 32} y={-22} width="64" height="20" rx="2" />
      <text x={flagX} y={-12}>
        {moment.t_s === 0 ? "start" : showSeconds(moment.t_s)}
      </text>
    </g>
  );
}

/** Scales and lines; made again only when the curve or the width changes. */
function draw(curve: CurvePoint[], end_s: number, width: number) {
  const values = (pick: (point: CurvePoint) => number) => curve.map(pick);
  const range = (numbers: number[]) => [Math.min(...numbers), Math.max(...numbers)] as const;
  const [lowV, highV] = range(values((point) => point.pack_v));
  const [lowA, highA] = range(values((point) => point.current_a));
  const spareV = Math.max((highV - lowV) * 0.12, highV * 0.005, 0.05);
  const x = scaleLinear([0, Math.max(end_s, 1)], [0, width]);
  const volts = scaleLinear([lowV - spareV, highV + spareV], [plotHeight, 0]);
  const amps = scaleLinear([Math.min(lowA * 1.12, 0), Math.max(highA * 1.12, 0.001)], [plotHeight, 0]);
  const soc = scaleLinear([0, 1], [plotHeight, 0]);
  const path = (y: (point: CurvePoint) => number) =>
    line<CurvePoint>()
      .x((point) => x(point.t_s))
      .y(y)(curve) ?? "";
  return {
    x,
    volts,
    amps,
    soc,
    voltsPath: path((point) => volts(point.pack_v)),
    ampsPath: path((point) => amps(point.current_a)),
    socPath: path((point) => soc(point.soc)),
  };
}

interface BandProps {
  span: Schemas["PinchDoc"];
  x: (t_s: number) => number;
  height: number;
}

/** The time in which one limit binds. */
function Band({ span, x, height }: BandProps) {
  const from = x(span.from_s);
  const width = Math.max(x(span.to_s) - from, 0);
  const held = span.limit === "set_voltage";
  const words = held ? "held at voltage" : LIMIT_WORDS[span.limit];
  return (
    <g>
      <rect className={held ? "band held" : "band"} x={from} width={width} height={height} />
      {width > words.length * 6.4 + 12 && (
        <text className={held ? "band-name" : "band-name pinch-name"} x={from + 6} y={height - 9}>
          {words}
        </text>
      )}
    </g>
  );
}
