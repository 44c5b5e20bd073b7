import { get, update } from "idb-keyval";
import { useSyncExternalStore } from "react";
import { answered, api, OfflineError, ProblemError, type Schemas } from "../../api/client";
import { newId } from "../../api/id";
import { clockOffset } from "../../api/time";
import { capital } from "../../ui/documents/capital";
import { fieldWords } from "../../ui/documents/fieldWords";

type Reading = Schemas["RunReadingDoc"];

/** A reading on its way: kept in this browser until the server has acknowledged it. */
export interface Waiting {
  run: string;
  id: string;
  taken_at: string;
  /** The clock it was taken by minus the server's, as known then, ms. */
  clock_offset_ms?: number;
  reading: Reading;
  /** How often it was sent while the server answered others and not this one. */
  tries?: number;
  /** Why the server would not have it; it is shown, and goes only by the person's hand. */
  refused?: string;
  /** Its run ended before it was taken: it is asked whether it belongs there. */
  ended?: boolean;
  /** It belongs there all the same. */
  late?: boolean;
}

/** Has what was sent of a run fetched; done when it is there. */
export type Sent = (run: string) => Promise<unknown> | undefined;

const KEY = "rumek.outbox";
const AGAIN_MS = 3000;
/** What was acknowledged is not waited for any longer. */
const FETCHED_MS = 2000;
/** What is answered with nothing so often, while the server answers others, is set aside. */
export const MOST_TRIES = 10;

let waiting: readonly Waiting[] = [];
const listeners = new Set<() => void>();
let timer: ReturnType<typeof setTimeout> | undefined;

function show(next: readonly Waiting[]) {
  waiting = next;
  for (const listener of listeners) listener();
}

async function change(how: (all: Waiting[]) => Waiting[]) {
  let after: Waiting[] = [];
  await update<Waiting[]>(KEY, (all) => (after = how(all ?? [])));
  show(after);
}

/** Readings still to be acknowledged, or refused, of every run. */
export function useAllWaiting(): readonly Waiting[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => waiting,
  );
}

/** Keeps a reading here and sends it as soon as the server can be reached. */
export async function put(run: string, reading: Reading, taken: Date, sent: Sent) {
  await change((all) => [
    ...all,
    { run, id: newId(), taken_at: taken.toISOString(), clock_offset_ms: clockOffset(), reading },
  ]);
  await send(sent);
}

export const drop = (id: string) => change((all) => all.filter((one) => one.id !== id));

/** Sends one that was set aside once more. */
export async function retry(id: string, sent: Sent) {
  await change((all) =>
    all.map((one) => {
      if (one.id !== id) return one;
      const fresh = one.ended ? { ...one, late: true } : { ...one };
      delete fresh.refused;
      delete fresh.ended;
      delete fresh.tries;
      return fresh;
    }),
  );
  await send(sent);
}

const mark = (id: string, marks: Partial<Waiting>) =>
  change((all) => all.map((kept) => (kept.id === id ? { ...kept, ...marks } : kept)));

/** Whether the server answers anything at all, its database included. */
async function reachable(): Promise<boolean> {
  try {
    await answered(api.GET("/api/packs", { params: { query: {} } }));
    return true;
  } catch {
    return false;
  }
}

/**
 * Sends what waits, oldest first; what cannot be sent now is tried again. One that gets no answer while the
 * server answers others keeps none of them waiting, and is set aside after ten tries.
 */
export async function send(sent: Sent): Promise<void> {
  clearTimeout(timer);
  show((await get<Waiting[]>(KEY)) ?? []);
  let again = false;
  for (const one of waiting.filter(({ refused }) => refused === undefined)) {
    const path = { id: one.run, client_id: one.id };
    const body = { taken_at: one.taken_at, clock_offset_ms: one.clock_offset_ms ?? 0, reading: one.reading };
    try {
      const query = one.late ? { late: true } : {};
      await answered(api.PUT("/api/runs/{id}/readings/{client_id}", { params: { path, query }, body }));
      // Until it is among the server's own it stays here: what is typed in its row is not lost in between.
      await Promise.race([sent(one.run), new Promise((go) => setTimeout(go, FETCHED_MS))]);
      await drop(one.id);
    } catch (error) {
      if (error instanceof ProblemError && error.problem.status < 500) {
        const first = error.problem.problems[0];
        const ended = error.problem.type === "urn:rumek:ended";
        await mark(one.id, { ...(ended && { ended }), refused: first ? `${capital(fieldWords(first.pointer))}: ${first.message}` : error.problem.detail });
        continue;
      }
      if (!(error instanceof OfflineError) && !(error instanceof ProblemError)) throw error;
      again = true;
      if (!(await reachable())) break;
      const tries = (one.tries ?? 0) + 1;
      await mark(one.id, tries < MOST_TRIES ? { tries } : { tries, refused: "The server gave no answer to it ten times, while it answers others." });
    }
  }
  if (again && waiting.some(({ refused }) => refused === undefined)) timer = setTimeout(() => void send(sent), AGAIN_MS);
}
