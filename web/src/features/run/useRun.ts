import { byMark } from "../../api/marks";
import { type QueryClient, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { answered, api, ProblemError, type RunDoc, type RunStateDoc, type Schemas } from "../../api/client";
import type { paths } from "../../api/schema";
import { keptFor } from "../../api/kept";
import { useRow } from "../../api/shelves";
import { send, useAllWaiting, type Waiting } from "./outbox";
import type { Starting } from "./starting";

const AGAIN_MS = 3000;
/** A long log is drawn from so many of its readings; every extreme is among them. */
const AT_MOST = 800;

const again = ({ state }: { state: { error: unknown } }) =>
  state.error instanceof ProblemError || !state.error ? false : AGAIN_MS;

/** The list before a charge, with what is off in its answers. */
export function usePreflight(starting: Starting | undefined) {
  const body = starting && { plan: starting.plan, answers: starting.answers, ...(starting.discharge && { discharge: starting.discharge }) };
  const plan = JSON.stringify([starting?.plan, starting?.discharge]);
  return useQuery({
    queryKey: ["preflight", plan, body],
    enabled: body !== undefined,
    queryFn: ({ signal }) => answered(api.POST("/api/run/preflight", { params: { query: byMark(starting?.links.pack) }, body: body ?? {}, signal })),
    placeholderData: keptFor(plan),
    retry: false,
    refetchInterval: again,
  });
}

export interface Taken {
  /** When, by the server's clock. */
  at: string;
  reading: Schemas["RunReadingDoc"] & { t_s: number };
  /** Not acknowledged yet. */
  waiting: boolean;
  /** What it was sent with; none where a log was brought in. */
  id: string | undefined;
}

type Kept = Schemas["KeptReadingDoc"];

/** The readings of a run, few enough to draw. */
const readingsQuery = (id: string) => ({
  queryKey: ["readings", id],
  queryFn: ({ signal }: { signal: AbortSignal }) =>
    answered(api.GET("/api/runs/{id}/readings", { params: { path: { id }, query: { at_most: AT_MOST } }, signal })) as Promise<Kept[]>,
});

/** The readings of a span, s since the run began, as many as are drawn of the whole. */
export function useNearer(id: string, began: string, span: readonly [number, number] | undefined): Taken[] | undefined {
  const at = (t_s: number) => new Date(Date.parse(began) + 1000 * t_s).toISOString();
  const near = useQuery({
    queryKey: ["readings", id, span],
    enabled: span !== undefined,
    queryFn: ({ signal }) => {
      const [from, until] = span ?? [0, 0];
      const query = { at_most: AT_MOST, from: at(from), until: at(until) };
      return answered(api.GET("/api/runs/{id}/readings", { params: { path: { id }, query }, signal }));
    },
    gcTime: 0,
  });
  return near.data && takenOf(began, near.data, []);
}

export type Search = NonNullable<paths["/api/logbook"]["get"]["parameters"]["query"]>;

/** The runs that are looked for, known by what was asked. */
export const logbookQuery = (query: Search, key: object = query) => ({
  queryKey: ["logbook", key],
  queryFn: ({ signal }: { signal: AbortSignal }) => answered(api.GET("/api/logbook", { params: { query }, signal })),
});

/** What was read of a run, that still on its way included, by when it was taken; nothing that cannot be placed in it. */
function takenOf(began: string, kept: readonly Kept[], waiting: readonly Waiting[]): Taken[] {
  const begun = Date.parse(began);
  const known = new Set(kept.map(({ client_id }) => client_id));
  const all = [
    ...kept.flatMap(({ at, reading, client_id, struck_at }) =>
      at == null || struck_at != null ? [] : [{ at, reading, waiting: false, id: client_id ?? undefined }],
    ),
    ...waiting
      .filter(({ id, refused }) => refused === undefined && !known.has(id))
      .map(({ id, taken_at, clock_offset_ms = 0, reading }) => ({
        id,
        at: new Date(Date.parse(taken_at) - clock_offset_ms).toISOString(),
        reading,
        waiting: true,
      })),
  ];
  return all
    .map((one) => ({ ...one, reading: { ...one.reading, t_s: Math.max(0, (Date.parse(one.at) - begun) / 1000) } }))
    .sort((a, b) => a.reading.t_s - b.reading.t_s);
}

/** Readings whose clock puts them outside of their run: kept, and shown as that. */
const astrayOf = (kept: readonly Kept[]) => kept.filter(({ at, struck_at }) => at == null && struck_at == null);

/** Readings that were taken back: kept, shown, and not counted. */
const struckOf = (kept: readonly Kept[]) => kept.filter(({ struck_at }) => struck_at != null);

/** Takes a kept reading back, or lets it count again. */
export function useStrike(run: string) {
  const client = useQueryClient();
  return async (id: string, struck: boolean) => {
    await answered(api.PUT("/api/runs/{id}/readings/{client_id}/struck", { params: { path: { id: run, client_id: id } }, body: { struck } }));
    await client.invalidateQueries({ queryKey: ["readings", run] });
  };
}

/** How many readings the server has of a run. */
const countOf = (kept: readonly Kept[]) => kept.reduce((most, { n }) => Math.max(most, n), 0);

/** What all readings of a run mean at a moment, however many there are; the answer before is kept with the run. */
const stateQuery = (client: QueryClient, id: string, run: RunDoc | undefined, kept: readonly Kept[] | undefined, now_s: number) => ({
  queryKey: ["understand", id, kept && [countOf(kept), struckOf(kept).map(({ n }) => n)], run?.ended_at, now_s],
  enabled: run?.plan?.pack != null && kept !== undefined,
  queryFn: async ({ signal }: { signal: AbortSignal }) => {
    const state = await answered(api.GET("/api/runs/{id}/state", { params: { path: { id }, query: { now_s } }, signal }));
    client.setQueryData(["understood", id], state);
    return state;
  },
  placeholderData: keptFor(id),
  retry: false,
  refetchInterval: again,
});

/** What was made of its readings last, for while the server is away. */
const understood = (client: QueryClient, id: string) => client.getQueryData<RunStateDoc>(["understood", id]);

/** Sends what waits in this browser; tells the pages of the runs it belonged to. */
export function useSent() {
  const client = useQueryClient();
  const sent = useCallback((of: string) => client.invalidateQueries({ queryKey: ["readings", of] }), [client]);
  useEffect(() => {
    void send(sent);
  }, [sent]);
  return sent;
}

/** How long a run took, s; nothing while it goes on. */
export function lasted_s({ started_at, ended_at }: RunDoc): number | undefined {
  return ended_at ? (Date.parse(ended_at) - Date.parse(started_at ?? "")) / 1000 : undefined;
}

/** A run, its readings (those still on their way among them) and what they mean now. */
export function useRun(id: string, now_s: number) {
  const client = useQueryClient();
  const run = useRow("runs", id).data;
  const kept = useQuery(readingsQuery(id));
  const waiting = useAllWaiting().filter((one) => one.run === id);
  const sent = useSent();
  const taken = takenOf(run?.document.started_at ?? "", kept.data ?? [], waiting);
  const total_s = (run && lasted_s(run.document)) ?? Math.floor(now_s / 15) * 15;
  const state = useQuery(stateQuery(client, id, run?.document, kept.data, total_s));
  return { run, taken, astray: astrayOf(kept.data ?? []), struck: struckOf(kept.data ?? []), count: countOf(kept.data ?? []), waiting, sent, state: state.data ?? understood(client, id), failed: kept.error ?? state.error };
}

type EntryRun = Schemas["EntryDoc"]["run"];

/** Readings of some runs and what they mean, each at a moment of its own. */
function useUnderstood(runs: readonly EntryRun[], outbox: readonly Waiting[], at_s: (run: EntryRun, taken: readonly Taken[]) => number) {
  const client = useQueryClient();
  const kept = useQueries({ queries: runs.map(({ id }) => readingsQuery(id)) });
  const taken = runs.map(({ id, document }, k) =>
    takenOf(document.started_at ?? "", kept[k]?.data ?? [], outbox.filter((one) => one.run === id)),
  );
  const states = useQueries({
    queries: runs.map((run, k) => stateQuery(client, run.id, run.document, kept[k]?.data, at_s(run, taken[k] ?? []))),
  });
  return runs.map((run, k) => ({ run, taken: taken[k] ?? [], state: states[k]?.data ?? understood(client, run.id) }));
}

/** Ended runs, what was read of each, and what it came to. */
export const useEnded = (runs: readonly EntryRun[]) => useUnderstood(runs, [], ({ document }) => lasted_s(document) ?? 0);

export interface UnderWay {
  run: EntryRun;
  taken: Taken[];
  waiting: readonly Waiting[];
  state: RunStateDoc | undefined;
  /** When to look next, ms since 1970. */
  look_at: number | undefined;
}

/** Every charge going on, what its readings mean, and when each must be looked at. */
export function useUnderWay(): { all: UnderWay[]; failed: unknown; fetched: boolean } {
  const listed = useQuery(logbookQuery({ outcome: "going_on" }));
  const outbox = useAllWaiting();
  const runs = (listed.data ?? []).map(({ run }) => run);
  const all = useUnderstood(runs, outbox, (_, taken) => taken.at(-1)?.reading.t_s ?? 0).map((one) => {
    const began = Date.parse(one.run.document.started_at ?? "");
    const look_s = one.state?.next_look_s;
    return {
      ...one,
      waiting: outbox.filter(({ run }) => run === one.run.id),
      look_at: look_s == null ? undefined : began + 1000 * look_s,
    };
  });
  // What must be looked at first stands first.
  all.sort((a, b) => (a.look_at ?? Infinity) - (b.look_at ?? Infinity));
  return { all, failed: listed.error, fetched: listed.data !== undefined };
}
