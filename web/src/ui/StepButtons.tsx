import { Button } from "antd";
import { memo, useCallback, useEffect } from "react";
import type { Steps, Way } from "./steps";

/** Drawn anew only where it can be pressed or no more. */
const Press = memo(Button);

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || (/^(INPUT|TEXTAREA)$/.test(target.tagName) && target.getAttribute("type") !== "range"));

/** Back and forth over every change of a thing, by button and by key; in a field its own undo comes first. */
export function StepButtons<T>({ steps, of, go }: { steps: Steps<T>; of: string; go: (way: Way) => boolean }) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.defaultPrevented || typing(event.target)) return;
      const key = event.key.toLowerCase();
      const way = key === "y" || (key === "z" && event.shiftKey) ? "forth" : key === "z" ? "back" : undefined;
      if (way && go(way)) event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => {
      window.removeEventListener("keydown", press);
    };
  }, [go]);
  const back = useCallback(() => go("back"), [go]);
  const forth = useCallback(() => go("forth"), [go]);
  return (
    <>
      <Press size="small" type="text" aria-label={`Undo the last change of ${of}`} title="Undo (Ctrl Z)" disabled={!steps.has("back")} onClick={back}>
        Undo
      </Press>
      <Press size="small" type="text" aria-label={`Redo the last change of ${of}`} title="Redo (Ctrl Shift Z)" disabled={!steps.has("forth")} onClick={forth}>
        Redo
      </Press>
    </>
  );
}
