import { Button } from "antd";
import { useEffect } from "react";
import { type Draft, step } from "./draft";
import { hasStep } from "./history";

const typing = (target: EventTarget | null) =>
  target instanceof HTMLElement && (target.isContentEditable || (/^(INPUT|TEXTAREA)$/.test(target.tagName) && target.getAttribute("type") !== "range"));

/** Back and forth over every change of the plan, by button and by key; in a field its own undo comes first. */
export function Steps({ draft }: { draft: Draft }) {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (!(event.ctrlKey || event.metaKey) || event.altKey || event.defaultPrevented || typing(event.target)) return;
      const key = event.key.toLowerCase();
      const way = key === "y" || (key === "z" && event.shiftKey) ? "forth" : key === "z" ? "back" : undefined;
      if (way && step(way)) event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => {
      window.removeEventListener("keydown", press);
    };
  }, []);
  const of = draft.document.name ?? "this plan";
  return (
    <>
      <Button size="small" type="text" aria-label={`Undo the last change of ${of}`} title="Undo (Ctrl Z)" disabled={!hasStep("back")} onClick={() => step("back")}>
        Undo
      </Button>
      <Button size="small" type="text" aria-label={`Redo on ${of}`} title="Redo (Ctrl Shift Z)" disabled={!hasStep("forth")} onClick={() => step("forth")}>
        Redo
      </Button>
    </>
  );
}
