import { useQuery } from "@tanstack/react-query";
import { Segmented, Select } from "antd";
import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { useState } from "react";
import type { Stored } from "../../api/shelves";
import { timeTicks } from "../../ui/chart/ticks";
import { trimmed } from "../../ui/quantity/parse";
import { useWidth } from "../../ui/useSize";
import { shownDate } from "../../ui/words";
import { OverlayTable } from "./OverlayTable";
import { logbookQuery, useEnded } from "./useRun";
import { atPack, wentOut } from "./words";

const HEIGHT = 220;
const MARGIN = { top: 12, right: 16, bottom: 22, left: 48 };
/** More than these cannot be told apart. */
const MOST = 4;

/** Runs of one pack over each other, so that its ageing is seen. */
export function Overlay({ run }: { run: Stored<"runs"> }) {
  const pack = run.links.pack?.id;
  const listed = useQuery({ ...logbookQuery({ pack: pack ?? "" }), enabled: pack !== undefined });
  const others = (listed.data ?? []).map((entry) => entry.run).filter((row) => row.id !== run.id && row.document.ended_at && wentOut(row.document) === wentOut(run.document));
  const [chosen, setChosen] = useState<string[]>();
  const [align, setAlign] = useState<"start" | "cv">("start");
  const [quantity, setQuantity] = useState<"volts" | "amps">("volts");
  // The oldest says most of ageing.
  const oldest = [...others].sort((a, b) => (a.document.started_at ?? "").localeCompare(b.document.started_at ?? ""))[0];
  const shown = (chosen ?? (oldest ? [oldest.id] : [])).slice(0, MOST - 1);
  const drawn = [run, ...others.filter((row) => shown.includes(row.id))];
  const each = useEnded(drawn);
  if (others.length === 0) return null;
  const curves = each.map(({ taken, state }) => {
    const zero = align === "cv" ? (state?.account.to_cv_s ?? 0) : 0;
    return taken.flatMap(({ reading }) => {
      const value = atPack(reading)[quantity];
      return value === undefined ? [] : [{ t_s: reading.t_s - zero, value }];
    });
  });
  return (
    <section className="overlay" aria-label="Beside earlier runs">
      <div className="stage-plan-head">
        <h2>Beside earlier runs of this pack</h2>
        <Segmented
          size="small"
          aria-label="What is drawn"
          options={[
            { value: "volts", label: "volts" },
            { value: "amps", label: "amps" },
          ]}
          value={quantity}
          onChange={setQuantity}
        />
        <Segmented
          size="small"
          aria-label="Aligned at"
          options={[
            { value: "start", label: "from the start" },
            { value: "cv", label: "from its charge voltage" },
          ]}
          value={align}
          onChange={setAlign}
        />
      </div>
      <Select
        mode="multiple"
        size="small"
        variant="underlined"
        className="overlay-choice"
        aria-label="Runs to lay over this one"
        maxCount={MOST - 1}
        value={shown}
        options={others.map((row) => ({ value: row.id, label: `${shownDate(row.document.started_at ?? "")} · ${row.document.name ?? ""}` }))}
        onChange={setChosen}
      />
      <Lines curves={curves} names={drawn.map((row) => shownDate(row.document.started_at ?? ""))} unit={quantity === "volts" ? "V" : "A"} />
      <OverlayTable each={each} />
    </section>
  );
}

function Lines({ curves, names, unit }: { curves: { t_s: number; value: number }[][]; names: string[]; unit: string }) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const all = curves.flat();
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const plotHeight = HEIGHT - MARGIN.top - MARGIN.bottom;
  const from = Math.min(...all.map((p) => p.t_s), 0);
  const to = Math.max(...all.map((p) => p.t_s), 60);
  const x = scaleLinear([from, to], [0, plotWidth]);
  const values = all.map((p) => p.value);
  const y = scaleLinear([Math.min(...values), Math.max(...values, 0.1)], [plotHeight, 0]).nice(4);
  const path = line<{ t_s: number; value: number }>()
    .x((p) => x(p.t_s))
    .y((p) => y(p.value));
  return (
    <div ref={ref} className="run-chart">
      {width > 0 && all.length > 0 && (
        <svg width={width} height={HEIGHT} role="img" aria-label={`Readings over time of ${names.join(", ")}`}>
          <g transform={`translate(${MARGIN.left},${MARGIN.top})`}>
            {y.ticks(4).map((v) => (
              <g key={v} className="tick" transform={`translate(0,${y(v)})`}>
                <path d={`M0,0 H${plotWidth}`} />
                <text x={-6} dy="0.32em" textAnchor="end">
                  {trimmed(v, 2)} {unit}
                </text>
              </g>
            ))}
            {timeTicks(to, plotWidth, from).map(({ t_s, words }) => (
              <text key={t_s} className="tick" x={x(t_s)} y={plotHeight + 15} textAnchor="middle">
                {words}
              </text>
            ))}
            {from < 0 && <path className="run-now" d={`M${x(0)},0 V${plotHeight}`} />}
            {curves.map((curve, k) => (
              <path key={k} className={`overlay-line line-${k}`} d={path(curve) ?? ""} />
            ))}
          </g>
        </svg>
      )}
    </div>
  );
}
