import type { QueryClient } from "@tanstack/react-query";
import { setReached } from "./reach";
import { measureClock } from "./time";

const NAME = "rumek.changes";
const AGAIN_MS = 2000;
const TICK_MS = 10_000;
/** In a hidden tab a browser lets a clock tick once a minute; a longer silence is a machine that slept. */
const SLEPT_MS = 180_000;

/** What is kept on the server; everything else is computed and never stale. */
export const KEPT = ["packs", "supplies", "chargers", "leads", "plans", "rescues", "runs", "log-mappings", "records", "shelf", "logbook", "readings"];

/** Fetches again what a hint of the server's is about. */
export function refetch(client: QueryClient, hint: string) {
  const [table, run] = hint.split(" ");
  if (table === "everything") {
    void client.invalidateQueries({ predicate: ({ queryKey }) => KEPT.includes(String(queryKey[0])) });
    return;
  }
  void client.invalidateQueries({ queryKey: run === undefined ? [table?.replace("_", "-")] : [table, run] });
  if (table === "packs" || table === "records" || table === "runs") void client.invalidateQueries({ queryKey: ["shelf"] });
  if (table === "runs" || table === "readings") void client.invalidateQueries({ queryKey: ["logbook"] });
}

/**
 * Hears of changes: one tab of the browser holds the stream and tells the others, since a browser
 * opens only six connections to a server. When it closes, another takes its place.
 */
export function followChanges(client: QueryClient) {
  const channel = new BroadcastChannel(NAME);
  channel.addEventListener("message", ({ data }: MessageEvent<string>) => {
    refetch(client, data);
  });
  void navigator.locks.request(NAME, () => {
    listen((hint) => {
      channel.postMessage(hint);
      refetch(client, hint);
    });
    // The lock is held as long as this tab lives.
    return new Promise<never>(() => undefined);
  });
}

function listen(tell: (hint: string) => void) {
  const events = new EventSource("/api/changes");
  let ticked = Date.now();
  const over = (after_ms: number) => {
    clearInterval(tick);
    events.close();
    setTimeout(() => {
      listen(tell);
    }, after_ms);
  };
  // A machine that slept may hold a connection that is long gone.
  const tick = setInterval(() => {
    if (Date.now() - ticked > SLEPT_MS) over(0);
    ticked = Date.now();
  }, TICK_MS);
  events.addEventListener("message", ({ data }: MessageEvent<string>) => {
    tell(data);
  });
  events.addEventListener("open", () => {
    setReached(true);
    void measureClock();
  });
  // Whether the browser would try again depends on what went wrong: this always does.
  events.addEventListener("error", () => {
    setReached(false);
    over(AGAIN_MS);
  });
}
