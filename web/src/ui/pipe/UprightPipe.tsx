import { useLayoutEffect, useRef, useState } from "react";
import type { ChainProps } from "./chain";
import { layout } from "./layout";
import { StageButton } from "./StageButton";

const ACROSS = 92;

/** The chain from top to bottom, for a narrow window: the pipe beside its stages. */
export function UprightPipe({ stages, tee, widestA, narrowestA, flowA, flowWords, open, onOpen, dimmed, unknown, withheld }: ChainProps) {
  const list = useRef<HTMLOListElement>(null);
  const [heights, setHeights] = useState<number[]>([]);
  useLayoutEffect(() => {
    const items = [...(list.current?.children ?? [])];
    const measure = () => {
      const next = items.map((item) => item.getBoundingClientRect().height);
      setHeights((before) => (before.join() === next.join() ? before : next));
    };
    const observer = new ResizeObserver(measure);
    for (const item of items) observer.observe(item);
    return () => {
      observer.disconnect();
    };
  }, [stages.length]);
  const length = heights.reduce((a, b) => a + b, 0);
  const shape = layout({
    stageA: stages.map((stage) => stage.couldA),
    weights: heights.length === stages.length ? heights : stages.map(() => 1),
    widestA,
    narrowestA,
    flowA,
    teeA: tee?.couldA ?? 0,
    width: Math.max(length, 1),
    height: ACROSS,
  });
  return (
    <section className={`chain upright${dimmed ? " dimmed" : ""}${unknown ? " unknown" : ""}${withheld ? " withheld" : ""}`} aria-label="The chain, in the direction of the current">
      <svg width={ACROSS} height={length} aria-hidden="true" focusable="false">
        {/* Drawn lying, then turned about its diagonal. */}
        <g transform="matrix(0 1 1 0 0 0)">
          {shape.tee && <path className="pipe-flow" d={shape.tee} />}
          <path className="pipe-wall" d={shape.wall} />
          <path className="pipe-flow" d={shape.flow} />
          {stages.map((stage, k) => {
            const box = shape.stages[k];
            if (!box || !stage.pinch) return null;
            const centre = (box.from + box.to) / 2;
            const reach = Math.min(10, shape.middle - box.half);
            return (
              <path
                key={stage.at}
                className="pipe-mark"
                d={`M${centre},${shape.middle - box.half - 2} v${-reach} M${centre},${shape.middle + box.half + 2} v${reach}`}
              />
            );
          })}
        </g>
      </svg>
      <div>
        <ol ref={list} className="upright-stages">
          {stages.map((stage) => (
            <li key={stage.at} className={stage.pinch ? "chain-stage pinch" : "chain-stage"}>
              <StageButton stage={stage} flowA={flowA} open={open} onOpen={onOpen} />
              {stage.fields && <div className="chain-fields">{stage.fields}</div>}
              <p className={stage.pinch ? "upright-foot pinch-name" : "upright-foot"} aria-hidden="true">
                {stage.foot}
              </p>
            </li>
          ))}
        </ol>
        {tee && (
          <p className="upright-tee">
            <StageButton stage={tee} flowA={flowA} open={open} onOpen={onOpen} /> <span className="muted">teed off before the pack</span>
          </p>
        )}
        <p className="upright-flow">{flowWords}</p>
      </div>
    </section>
  );
}
