import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { answered, api, OfflineError, type PlanDoc, ProblemError, type ResultDoc, type Schemas } from "../../api/client";

export interface Answer {
  /** The last good answer; the present one unless `stale`. */
  result: ResultDoc | undefined;
  stale: boolean;
  problems: readonly Schemas["FieldProblem"][];
  /** Why there is no answer, where it is not the document's fault. */
  failure: string | undefined;
}

const TYPING_MS = 60;
const AGAIN_MS = 2000;
const NONE: readonly Schemas["FieldProblem"][] = [];

/** The core's answer to a plan, asked at every keystroke; a stale answer never replaces a newer one. */
export function useAnswer(document: PlanDoc | undefined): Answer {
  const asked = useSettled(document, TYPING_MS);
  const query = useQuery({
    queryKey: ["answer", asked],
    enabled: asked !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/plan", { body: asked ?? {}, signal })),
    retry: false,
    networkMode: "always",
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 30_000,
    refetchInterval: ({ state }) => (state.error instanceof ProblemError || !state.error ? false : AGAIN_MS),
  });
  const [last, setLast] = useState<ResultDoc>();
  if (query.data && query.data !== last) setLast(query.data);
  const wrong = query.error instanceof ProblemError ? query.error.problem : undefined;
  const offline = query.error instanceof OfflineError ? query.error.message : undefined;
  return {
    result: query.data ?? last,
    stale: query.data === undefined,
    problems: wrong?.problems ?? NONE,
    failure: offline ?? (wrong && wrong.problems.length === 0 ? wrong.detail : undefined),
  };
}

/** A value once it has stood for a moment. */
export function useSettled<T>(value: T, ms: number): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => {
      setSettled(value);
    }, ms);
    return () => {
      clearTimeout(timer);
    };
  }, [value, ms]);
  return settled;
}
