import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { answered, api, OfflineError, type PlanDoc, ProblemError, type ResultDoc, type Schemas } from "../../api/client";
import { byMark } from "../../api/marks";

export interface Answer {
  /**
   * The answer to this very document; or, while it is asked anew, the last one as long as it was to the same
   * pack on the same chain.
   */
  result: ResultDoc | undefined;
  /** Whether the answer is not to this very document. */
  stale: boolean;
  /** The last answer to this thing on the bench, whatever its chain was: for a layout that does not jump. */
  last: ResultDoc | undefined;
  problems: readonly Schemas["FieldProblem"][];
  /** What the plan still lacks, where nothing is wrong with it. */
  unfinished: Schemas["UnfinishedDoc"] | undefined;
  /** Why there is no answer, where it is not the document's fault. */
  failure: string | undefined;
}

const AGAIN_MS = 2000;
const NONE: readonly Schemas["FieldProblem"][] = [];

/** A pack on the shelf; a later version of it may carry a mark. */
export interface Marked {
  id: string;
  version: number;
}

/** What makes a document one of the same pack on the same chain: figures of another never stand beside its fields. */
export function shapeOf(document: PlanDoc | undefined, of: number | undefined): string {
  const { pack, source, charger, leads, cut_off, load } = document ?? {};
  const there = [leads?.input, leads?.output, cut_off, load].map((part) => part != null);
  return JSON.stringify([of, pack?.chemistry, source?.kind, charger?.kind, charger?.topology, there]);
}

/** The core's answer to a plan, asked at every keystroke; a stale answer never replaces a newer one. `of`: which
 * thing on the bench the document is; `pack`: its pack on the shelf as it stands there, whose mark counts. */
export function useAnswer(document: PlanDoc | undefined, of?: number, pack?: Marked): Answer {
  const asked = useMemo(() => document && JSON.stringify(document), [document]);
  const shape = shapeOf(document, of);
  const query = useQuery({
    queryKey: ["answer", asked, pack?.id, pack?.version],
    enabled: asked !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/plan", { params: { query: byMark(pack) }, body: JSON.parse(asked ?? "{}") as PlanDoc, signal })),
    retry: false,
    networkMode: "always",
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
    refetchInterval: ({ state }) => (state.error instanceof ProblemError || !state.error ? false : AGAIN_MS),
  });
  const [last, setLast] = useState<{ result: ResultDoc; shape: string; of: number | undefined }>();
  const { data, error } = query;
  const unfinished = data && "unfinished" in data ? data.unfinished : undefined;
  const fresh = data && !("unfinished" in data) ? data : undefined;
  if (fresh && (fresh !== last?.result || shape !== last.shape)) setLast({ result: fresh, shape, of });
  const wrong = error instanceof ProblemError ? error.problem : undefined;
  const offline = error instanceof OfflineError ? error.message : undefined;
  return {
    result: fresh ?? (last?.shape === shape && !unfinished ? last.result : undefined),
    stale: fresh === undefined,
    unfinished,
    last: last?.of === of ? last?.result : undefined,
    problems: wrong?.problems ?? NONE,
    failure: offline ?? (wrong && wrong.problems.length === 0 ? wrong.detail : undefined),
  };
}
