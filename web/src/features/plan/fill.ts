import type { SourceDoc } from "../../api/client";
import { withKind } from "../../ui/documents/kinds";
import { changeDraft, currentDraft } from "./draft";

/** Puts an answer into the plan; a supply's volts into the field that its kind has. */
export function fill(pointer: string, value: unknown) {
  const source = currentDraft()?.document.source;
  if (source && pointer === "/source/kind") {
    changeDraft("/source", withKind(source, value as SourceDoc["kind"]));
  } else if (pointer === "/source/voltage_v" || pointer === "/source/max_voltage_v") {
    const { voltage_v: _, max_voltage_v: __, ...rest } = source ?? {};
    // What feeds a charge by its volts alone is fixed, until somebody says otherwise.
    changeDraft("/source", withKind({ ...rest, voltage_v: Number(value) }, source?.kind ?? "fixed_supply"));
  } else {
    changeDraft(pointer, value);
  }
}
