import type { Place } from "../../api/client";
import { trimmed } from "../quantity/parse";
import { useNarrow } from "../useNarrow";
import { useWidth } from "../useSize";
import type { ChainProps } from "./chain";
import { layout, type PipeShape } from "./layout";
import { StageButton } from "./StageButton";
import { UprightPipe } from "./UprightPipe";
import "./pipe.css";


const HEIGHT = 76;
const RULER = 46;
/** From the foot of a tee to the name beside it. */
const TEE_ROOM = 50;
/** What flows, in words, takes this much. */
const LABEL_WIDTH = 236;
/** A stage that only carries or switches needs less room for its name. */
const SLIM: readonly Place[] = ["input_lead", "output_lead", "cut_off"];

/** The chain as one continuous pipe, as wide at each stage as the amps it could deliver at the pack. */
export function ChainPipe(props: ChainProps) {
  return useNarrow() ? <UprightPipe {...props} /> : <LyingPipe {...props} />;
}

function LyingPipe({ stages, tee, widestA, narrowestA, flowA, flowWords, open, onOpen, dimmed, unknown, withheld }: ChainProps) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const pipeWidth = Math.max(width - RULER, 1);
  const weights = stages.map((stage) => (SLIM.includes(stage.at) ? 0.62 : 1));
  const shape = layout({
    stageA: stages.map((stage) => stage.couldA),
    weights,
    widestA,
    narrowestA,
    flowA,
    teeA: tee?.couldA ?? 0,
    width: pipeWidth,
    height: HEIGHT,
  });
  const inside = shape.flowHalf >= 11;
  const columns = { gridTemplateColumns: weights.map((weight) => `minmax(0, ${weight}fr)`).join(" ") };
  const last = shape.stages.at(-1);
  return (
    <section className={`chain${dimmed ? " dimmed" : ""}${unknown ? " unknown" : ""}${withheld ? " withheld" : ""}${tee && stages.length > 2 ? " teed" : ""}`} aria-label="The chain, in the direction of the current">
      <ol className="chain-heads" style={columns}>
        {stages.map((stage) => (
          <li key={stage.at} className={stage.pinch ? "chain-stage pinch" : "chain-stage"}>
            <StageButton stage={stage} flowA={flowA} open={open} onOpen={onOpen} />
            {stage.fields && <div className="chain-fields">{stage.fields}</div>}
          </li>
        ))}
        {tee && last && (
          // Left of the branch where there is room; else under the pack's own foot.
          <li className="chain-tee" style={stages.length > 2 ? { left: last.from } : { right: width - last.from + TEE_ROOM }}>
            <StageButton stage={tee} flowA={flowA} open={open} onOpen={onOpen} />
          </li>
        )}
      </ol>
      <div ref={ref} className="chain-drawing">
        {width > 0 && (
          <svg width={width} height={HEIGHT} aria-hidden="true" focusable="false">
            {shape.tee && <path className="pipe-flow" d={shape.tee} />}
            <path className="pipe-wall" d={shape.wall} />
            <path className="pipe-flow" d={shape.flow} />
            {stages.map((stage, k) => {
              const box = shape.stages[k];
              if (!box) return null;
              const centre = (box.from + box.to) / 2;
              return (
                <g key={stage.at}>
                  {box.clipped && <Cut from={box.from} to={box.to} />}
                  {stage.pinch && <PinchMark x={centre} middle={shape.middle} half={box.half} />}
                </g>
              );
            })}
            <text className={inside ? "pipe-label inside" : "pipe-label"} {...labelPlace(shape, inside, pipeWidth)}>
              {flowWords}
            </text>
            <Ruler x={pipeWidth + 10} middle={shape.middle} {...shape.ruler} />
          </svg>
        )}
      </div>
      <div className="chain-feet" style={columns} aria-hidden="true">
        {stages.map((stage) => (
          <p key={stage.at} className={stage.pinch ? "pinch" : ""}>
            {stage.foot}
          </p>
        ))}
      </div>
    </section>
  );
}

/** Inside the flow where it is thick enough, else beside it in the widest stage that has the room. */
function labelPlace(shape: PipeShape, inside: boolean, pipeWidth: number) {
  if (inside) return { x: pipeWidth / 2, y: shape.middle };
  const roomy = shape.stages.filter((stage) => stage.to - stage.from >= LABEL_WIDTH);
  const widest = roomy.reduce((a, b) => (b.half > a.half ? b : a), roomy[0] ?? { from: 0, to: pipeWidth, half: 0 });
  const below = Math.max((shape.flowHalf + widest.half) / 2, shape.flowHalf + 12);
  return { x: (widest.from + widest.to) / 2, y: Math.min(shape.middle + below, HEIGHT - 7) };
}

/** Ticks on both sides of the narrowest place. */
function PinchMark({ x, middle, half }: { x: number; middle: number; half: number }) {
  const reach = 12;
  const top = Math.max(middle - half - 3, reach);
  const bottom = middle + half + 3;
  return (
    <g className="pipe-pinch">
      <path d={`M${x},${top} v${-reach} M${x},${bottom} v${reach}`} />
      <text x={x + 8} y={top - 2}>
        pinch
      </text>
    </g>
  );
}

/** A stage wider than can be drawn to scale: its edges are broken. */
function Cut({ from, to }: { from: number; to: number }) {
  const x = from + (to - from) * 0.2;
  const zigzag = (y: number) => `M${x - 9},${y} l6,-5 l6,10 l6,-5`;
  return <path className="pipe-cut" d={`${zigzag(8)} ${zigzag(HEIGHT - 8)}`} />;
}

/** What a width means. */
function Ruler({ x, middle, amps, length }: { x: number; middle: number; amps: number; length: number }) {
  const top = middle - length / 2;
  return (
    <g className="pipe-ruler">
      <path d={`M${x},${top} h6 M${x + 3},${top} v${length} M${x},${top + length} h6`} />
      <text x={x + 9} y={middle}>
        {trimmed(amps, 3)} A
      </text>
    </g>
  );
}
