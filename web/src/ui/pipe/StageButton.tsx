import type { Place } from "../../api/client";
import { trimmed } from "../quantity/parse";
import type { PipeStage } from "./chain";

interface Props {
  stage: PipeStage;
  flowA: number;
  open: Place | undefined;
  onOpen: (place: Place) => void;
}

/** A stage's name, its rating and, spoken, its headroom; opens what changes it. */
export function StageButton({ stage, flowA, open, onOpen }: Props) {
  const spare = trimmed(Math.max(stage.couldA - flowA, 0), 2);
  const spoken = stage.at === "load" ? "" : `, ${spare} A to spare${stage.pinch ? ", the pinch" : ""}`;
  return (
    <button
      type="button"
      className="plain-button chain-name"
      aria-expanded={open === stage.at}
      aria-label={`${stage.name}: ${stage.rating}, ${stage.foot}${spoken}. Change it.`}
      onClick={() => {
        onOpen(stage.at);
      }}
    >
      <strong>{stage.name}</strong> {!stage.fields && <span className="muted">{stage.rating}</span>}
    </button>
  );
}
