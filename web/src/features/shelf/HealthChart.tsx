import { scaleLinear } from "d3-scale";
import type { StandingDoc } from "../../api/client";
import { trimmed } from "../../ui/quantity/parse";
import { useWidth } from "../../ui/useSize";
import { date } from "./standingWords";

const HEIGHT = 250;
const MARGIN = { top: 12, right: 84, bottom: 26, left: 46 };
const YEAR_MS = 365.25 * 86_400_000;
const WORN = 0.8;

export type Against = "date" | "cycles";

interface Props {
  standing: StandingDoc;
  against: Against;
}

/** What a pack holds over the years or over its cycles: tests as dots with bars, refits lighter, the trend, the label. */
export function HealthChart({ standing, against }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { points, label_ah, capacity_ah, fading } = standing;
  const now = Date.parse(standing.at);
  const xOf = (point: { at: string; cycles: number }) => (against === "date" ? Date.parse(point.at) : point.cycles);
  const xNow = against === "date" ? now : standing.full_cycles;
  const xs = [...points.map(xOf), xNow];
  const [first, last] = [Math.min(...xs), Math.max(...xs)];
  const room = Math.max((last - first) * 0.12, against === "date" ? YEAR_MS / 12 : 1);
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const x = scaleLinear([first - room / 3, last + room], [0, plotWidth]);
  const lows = [...points.map(({ ah, sd_ah }) => ah - 2 * sd_ah), WORN * label_ah, capacity_ah?.low ?? label_ah];
  const highs = [...points.map(({ ah, sd_ah }) => ah + 2 * sd_ah), label_ah, capacity_ah?.high ?? label_ah];
  const y = scaleLinear([Math.min(...lows), Math.max(...highs)], [plotHeight, 0]).nice(4);
  // Over the years the line is the trend's own; over cycles it is that of a hundred of them.
  const slope = against === "date" ? fading && (fading.per_year.value * label_ah) / YEAR_MS : fading?.per_hundred_cycles && (fading.per_hundred_cycles.value * label_ah) / 100;
  const trend = capacity_ah && slope != null ? (at: number) => capacity_ah.value + slope * (at - xNow) : undefined;
  const years = against === "date" ? yearTicks(first, last + room) : x.ticks(6).map((cycles) => ({ at: cycles, words: trimmed(cycles, 0) }));
  return (
    <div ref={ref}>
      <svg width={width} height={HEIGHT} className="health-chart" role="img" aria-label={`What it holds ${against === "date" ? "over the years" : "over its cycles"}; the table below says the same.`}>
        <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
          {y.ticks(4).map((ah) => (
            <g key={ah} className="tick" transform={`translate(0,${y(ah)})`}>
              <path d={`M0,0 H${plotWidth}`} />
              <text x={-6} dy="0.32em" textAnchor="end">
                {trimmed(ah, 2)} Ah
              </text>
            </g>
          ))}
          {years.map(({ at, words }) => (
            <text key={at} className="tick" x={x(at)} y={plotHeight + 17} textAnchor="middle">
              {words}
            </text>
          ))}
          {[
            { share: 1, words: "label" },
            { share: WORN, words: "80 % of it" },
          ].map(({ share, words }) => (
            <g key={words} className="health-line" transform={`translate(0,${y(share * label_ah)})`}>
              <path d={`M0,0 H${plotWidth}`} />
              <text x={plotWidth + 6} dy="0.32em">
                {words}
              </text>
            </g>
          ))}
          {trend && <path className="health-trend" d={`M${x(first)},${y(trend(first))} L${x(last + room)},${y(trend(last + room))}`} />}
          {capacity_ah && <path className="health-now" d={`M${x(xNow)},${y(capacity_ah.low)} V${y(capacity_ah.high)}`} />}
          {points.map((point, n) => (
            <g key={n} className={`health-point ${point.from}${point.counted ? "" : " uncounted"}`} transform={`translate(${x(xOf(point))},0)`}>
              <path d={`M0,${y(point.ah - 2 * point.sd_ah)} V${y(point.ah + 2 * point.sd_ah)}`} />
              {point.from === "test" ? <circle cy={y(point.ah)} r="4.5" /> : <path d={`M-4,${y(point.ah)} L0,${y(point.ah) - 5} L4,${y(point.ah)} L0,${y(point.ah) + 5} Z`} />}
              <path className="health-raw" d={`M-4,${y(point.raw_ah)} H4`} />
            </g>
          ))}
        </g>
      </svg>
    </div>
  );
}

/** The first of each year, or of each quarter where that says more. */
function yearTicks(from: number, to: number) {
  const quarters = (to - from) / YEAR_MS < 2;
  const ticks = [];
  const start = new Date(from);
  for (let n = 0; n < 80; n++) {
    const at = new Date(start.getFullYear(), quarters ? 3 * n : 12 * n, 1);
    if (at.getTime() > to) break;
    if (at.getTime() >= from) ticks.push({ at: at.getTime(), words: quarters ? at.toLocaleDateString(undefined, { month: "short", year: "2-digit" }) : String(at.getFullYear()) });
  }
  return ticks;
}

const FROM_WORDS = { test: "test", charge: "charge, refitted", part_charge: "part of a charge" } as const;

/** The same as figures. */
export function HealthTable({ standing }: { standing: StandingDoc }) {
  return (
    <details className="health-table">
      <summary>As a table</summary>
      <table>
        <thead>
          <tr>
            <th scope="col">When</th>
            <th scope="col">Cycles</th>
            <th scope="col">At 25 °C and the reference rate</th>
            <th scope="col">As measured</th>
            <th scope="col">By</th>
          </tr>
        </thead>
        <tbody>
          {[...standing.points].reverse().map((point, n) => (
            <tr key={n}>
              <td>{date(point.at)}</td>
              <td className="figures">{trimmed(point.cycles, 0)}</td>
              <td className="figures">
                {trimmed(point.ah, 2)} ± {trimmed(2 * point.sd_ah, 2)} Ah
              </td>
              <td className="figures">{trimmed(point.raw_ah, 2)} Ah</td>
              <td>
                {FROM_WORDS[point.from]}
                {point.counted ? "" : ", not counted"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {standing.resistances.length > 0 && (
        <table>
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">Resistance at 25 °C</th>
              <th scope="col">As measured</th>
            </tr>
          </thead>
          <tbody>
            {[...standing.resistances].reverse().map((one, n) => (
              <tr key={n}>
                <td>{date(one.at)}</td>
                <td className="figures">{trimmed(one.mohm, 1)} mΩ</td>
                <td className="figures">{trimmed(one.raw_mohm, 1)} mΩ</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}
