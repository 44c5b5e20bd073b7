import { useDeferredValue, useMemo } from "react";
import type { ResultDoc } from "../../api/client";
import type { Draft } from "./draft";
import { type Answer, shapeOf } from "./useAnswer";

export interface Answered {
  draft: Draft;
  result: ResultDoc;
  stale: boolean;
}

/** What is drawn beside the card: it follows a moment later, so that the card never waits for a drawing; and never stands
 * there of another pack or chain than the card's. */
export function useFollowing(draft: Draft, { result, stale }: Answer): Answered | undefined {
  const now = useMemo(() => result && { draft, result, stale }, [draft, result, stale]);
  const before = useDeferredValue(now);
  const shape = ({ document, of }: Draft) => shapeOf(document, of);
  return now && before && shape(before.draft) === shape(now.draft) ? before : now;
}
