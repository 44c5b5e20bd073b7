import type { PlanDoc } from "../../api/client";

const BOX = { width: 54, height: 26 };
const GAP = 20;
const MOST = 4;

/** How several supplies, or several packs, are wired in this very case. */
export function Wiring({ resolved }: { resolved: PlanDoc }) {
  const units = resolved.source?.units ?? 1;
  const packs = (resolved.pack?.packs_in_parallel ?? 1) + (resolved.other_packs?.length ?? 0);
  return (
    <>
      {units > 1 && resolved.source?.wiring === "series" && <InSeries count={units} />}
      {units > 1 && resolved.source?.wiring !== "series" && <InParallel count={units} what="supply" fused={false} />}
      {packs > 1 && <InParallel count={packs} what="pack" fused />}
    </>
  );
}

/** No more boxes than fit; the rest is said. */
const boxes = (count: number) => Array.from({ length: Math.min(count, MOST) }, (_, k) => k);
const more = (count: number) => (count > MOST ? `, ${count} in all` : "");

/** Plus of one to minus of the next: volts add. */
function InSeries({ count }: { count: number }) {
  const width = boxes(count).length * (BOX.width + GAP) + GAP;
  return (
    <figure className="wiring">
      <svg viewBox={`0 0 ${width + 20} 48`} role="img" aria-label={`${count} supplies in series: plus of each to minus of the next`}>
        {boxes(count).map((k) => {
          const x = GAP + k * (BOX.width + GAP);
          return (
            <g key={k}>
              <path className="wire" d={`M${x - GAP},24 H${x}`} />
              <rect x={x} y={11} {...BOX} rx={2} />
              <text x={x + 8} y={24}>
                −
              </text>
              <text x={x + BOX.width - 8} y={24}>
                +
              </text>
              <text className="wiring-name" x={x + BOX.width / 2} y={24}>
                {k + 1}
              </text>
            </g>
          );
        })}
        <path className="wire" d={`M${width - GAP},24 H${width}`} />
        <text x={6} y={12}>
          −
        </text>
        <text x={width + 6} y={12}>
          +
        </text>
      </svg>
      <figcaption>In series, cases apart{more(count)}</figcaption>
    </figure>
  );
}

/** Two buses; plus taken from one end, minus from the other, so that every path is as long. */
function InParallel({ count, what, fused }: { count: number; what: string; fused: boolean }) {
  const width = boxes(count).length * (BOX.width + GAP) + GAP;
  const ends = fused ? "a fuse in each plus" : "plus from one end, minus from the other";
  return (
    <figure className="wiring">
      <svg viewBox={`0 0 ${width + 20} 86`} role="img" aria-label={`${count} in parallel, ${what} 1 to ${count}: ${ends}`}>
        <path className="wire" d={`M${GAP + BOX.width / 2},12 H${width + 8} M0,76 H${width - GAP - BOX.width / 2}`} />
        {boxes(count).map((k) => {
          const x = GAP + k * (BOX.width + GAP);
          const middle = x + BOX.width / 2;
          return (
            <g key={k}>
              <path className="wire" d={`M${middle},12 V31 M${middle},57 V76`} />
              {fused && <rect className="wiring-fuse" x={middle - 4} y={15} width={8} height={12} />}
              <rect x={x} y={31} {...BOX} rx={2} />
              <text className="wiring-name" x={middle} y={44}>
                {what} {k + 1}
              </text>
            </g>
          );
        })}
        <text x={width + 14} y={12}>
          +
        </text>
        <text x={6} y={66}>
          −
        </text>
      </svg>
      <figcaption>
        In parallel: {ends}
        {more(count)}
      </figcaption>
    </figure>
  );
}
