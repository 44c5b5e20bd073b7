import { Button, Slider } from "antd";
import { type PointerEvent, useState } from "react";
import { stopwatch } from "../../ui/clock";
import { useWidth } from "../../ui/useSize";
import { CellLines } from "./CellLines";
import { InputLine } from "./InputLine";
import { MARGIN, type Point, RunLines } from "./RunLines";
import { type Taken, useNearer } from "./useRun";

/** More readings than these are a line, not marks, and can be looked at closer. */
const DENSE = 60;
/** A drag shorter than this is a slip, CSS pixels. */
const SLIP = 8;

type Span = [from_s: number, to_s: number];

interface Props {
  id: string;
  began: string;
  planned: Point[];
  course: Point[];
  taken: Taken[];
  now_s: number;
}

/** What was planned, what was read, and how it goes on from there; of a log any span closer. */
export function RunChart({ id, began, planned, course, taken, now_s }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  // While it is moved the span is drawn from what is here; let go, it is fetched.
  const [span, setSpan] = useState<Span>();
  const [asked, setAsked] = useState<Span>();
  const [dragged, setDragged] = useState<Span>();
  const nearer = useNearer(id, began, asked);
  const end_s = Math.max(...[...planned, ...course].map((p) => p.t_s), ...taken.map(({ reading }) => reading.t_s), now_s, 60);
  const shown: Span = span ?? [0, end_s];
  const dense = taken.length > DENSE;
  const drawn = (span && asked === span && nearer) || taken;
  const show = (next: Span | undefined) => {
    setSpan(next);
    setAsked(next);
  };
  const plotWidth = Math.max(width - MARGIN.left - MARGIN.right, 1);
  const timeAt = (event: PointerEvent<HTMLElement>) => {
    const share = (event.clientX - event.currentTarget.getBoundingClientRect().left - MARGIN.left) / plotWidth;
    return shown[0] + Math.min(1, Math.max(0, share)) * (shown[1] - shown[0]);
  };
  const chosen: Span | undefined = dragged && [Math.min(...dragged), Math.max(...dragged)];
  return (
    <div className="run-chart">
      <div
        ref={ref}
        className={dense ? "run-plot" : undefined}
        onPointerDown={(event) => {
          // A finger scrolls the page.
          if (!dense || event.pointerType !== "mouse" || event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setDragged([timeAt(event), timeAt(event)]);
        }}
        onPointerMove={(event) => {
          if (dragged) setDragged([dragged[0], timeAt(event)]);
        }}
        onPointerUp={() => {
          if (chosen && (chosen[1] - chosen[0]) * plotWidth > SLIP * (shown[1] - shown[0])) show(chosen);
          setDragged(undefined);
        }}
        onPointerCancel={() => {
          setDragged(undefined);
        }}
      >
        {width > 0 && (
          <RunLines planned={planned} course={course} taken={drawn} now_s={now_s} shown={shown} chosen={chosen} dense={dense} width={width} />
        )}
      </div>
      {width > 0 && <CellLines taken={drawn} shown={shown} width={width} />}
      {width > 0 && <InputLine taken={drawn} shown={shown} width={width} />}
      {dense && (
        <>
          <Slider
            className="run-slider"
            range
            min={0}
            max={end_s}
            step={end_s / 500}
            value={shown}
            tooltip={{ open: false }}
            ariaLabelForHandle={["Shown from", "Shown until"]}
            ariaValueTextFormatterForHandle={[stopwatch, stopwatch]}
            onChange={([from, to]) => {
              if (from !== undefined && to !== undefined && to > from) setSpan([from, to]);
            }}
            onChangeComplete={() => {
              setAsked(span);
            }}
          />
          <p className="run-span">
            <span>
              Shown: <span className="figures">{stopwatch(shown[0])}</span> to <span className="figures">{stopwatch(shown[1])}</span>
            </span>
            {span && (
              <Button
                size="small"
                onClick={() => {
                  show(undefined);
                }}
              >
                The whole run
              </Button>
            )}
          </p>
        </>
      )}
      <p className="muted run-legend">
        {[
          planned.length > 0 && "Thin: as planned.",
          course.length > 0 && "Thick: how it goes on.",
          dense ? "Lines: volts, and dashed amps, as logged, with every peak and dip. Drag over a part to look closer." : "○ volts read, ◇ amps read.",
        ]
          .filter(Boolean)
          .join(" ")}
      </p>
    </div>
  );
}
