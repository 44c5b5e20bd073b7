import { keepPreviousData, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { answered, api, ProblemError, type Schemas } from "../../api/client";
import { type Stored, useRow } from "../../api/shelves";
import { send, useWaiting } from "./outbox";
import type { Starting } from "./starting";

const AGAIN_MS = 3000;

const again = ({ state }: { state: { error: unknown } }) =>
  state.error instanceof ProblemError || !state.error ? false : AGAIN_MS;

/** The list before a charge, with what is off in its answers. */
export function usePreflight(starting: Starting | undefined) {
  const body = starting && { plan: starting.plan, answers: starting.answers };
  return useQuery({
    queryKey: ["preflight", body],
    enabled: body !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/run/preflight", { body: body ?? {}, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    refetchInterval: again,
  });
}

export interface Taken {
  taken_at: string;
  reading: Schemas["RunReadingDoc"];
  /** Not acknowledged yet. */
  waiting: boolean;
}

/** A run, its readings (those still on their way among them) and what they mean now. */
export function useRun(id: string | undefined, now_s: number) {
  const client = useQueryClient();
  const run = useRow("runs", id).data as Stored<"runs"> | undefined;
  const kept = useQuery({
    queryKey: ["readings", id],
    enabled: id !== undefined,
    queryFn: ({ signal }) =>
      answered(api.GET("/api/runs/{id}/readings", { params: { path: { id: id ?? "" } }, signal })) as Promise<Schemas["KeptReadingDoc"][]>,
  });
  const waiting = useWaiting(id ?? "");
  const sent = useCallback((of: string) => void client.invalidateQueries({ queryKey: ["readings", of] }), [client]);
  useEffect(() => {
    void send(sent);
  }, [sent]);
  const began = Date.parse(run?.document.started_at ?? "");
  const taken: Taken[] = [
    ...(kept.data ?? []).map(({ taken_at, reading }) => ({ taken_at, reading, waiting: false })),
    ...waiting.filter(({ refused }) => refused === undefined).map(({ taken_at, reading }) => ({ taken_at, reading, waiting: true })),
  ]
    .map((one) => ({ ...one, reading: { ...one.reading, t_s: Math.max(0, (Date.parse(one.taken_at) - began) / 1000) } }))
    .sort((a, b) => a.reading.t_s - b.reading.t_s);
  const ended = run?.document.ended_at != null;
  const moment = ended ? (taken.at(-1)?.reading.t_s ?? 0) : Math.floor(now_s / 15) * 15;
  const body = run && { plan: run.document.plan ?? {}, now_s: moment, readings: taken.map(({ reading }) => reading) };
  const state = useQuery({
    queryKey: ["understand", body],
    enabled: body !== undefined && kept.data !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/run/understand", { body: body ?? {}, signal })),
    placeholderData: keepPreviousData,
    retry: false,
    refetchInterval: again,
  });
  return { run, taken, waiting, sent, state: state.data, failed: kept.error ?? state.error };
}
