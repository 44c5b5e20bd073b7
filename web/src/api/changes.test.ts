import { QueryClient } from "@tanstack/react-query";
import { beforeEach, expect, test, vi } from "vitest";
import { followChanges, refetch } from "./changes";

/** A stream that the test speaks through. */
class Stream extends EventTarget {
  static all: Stream[] = [];
  closed = false;
  constructor(readonly url: string) {
    super();
    Stream.all.push(this);
  }
  say(hint: string) {
    this.dispatchEvent(new MessageEvent("message", { data: hint }));
  }
  close() {
    this.closed = true;
  }
}

const last = () => Stream.all.at(-1) as Stream;

function client() {
  const queries = new QueryClient();
  const keys: [string, unknown?][] = [["packs", { archived: false }], ["runs", "a"], ["readings", "a"], ["readings", "b"], ["logbook", {}], ["log-mappings", {}], ["plan", {}]];
  for (const key of keys) queries.setQueryData(key, 1);
  const stale = () => keys.filter((key) => queries.getQueryState(key)?.isInvalidated).map((key) => (typeof key[1] === "string" ? key.join(" ") : key[0]));
  return { queries, stale };
}

beforeEach(() => {
  vi.useFakeTimers();
  Stream.all = [];
  vi.stubGlobal("EventSource", Stream);
  vi.stubGlobal("fetch", () => Promise.reject(new TypeError("away")));
});

test("a hint fetches again what it is about, and nothing that is computed", () => {
  const { queries, stale } = client();
  refetch(queries, "readings a");
  expect(stale()).toEqual(["readings a", "logbook"]);
  refetch(queries, "log_mappings");
  expect(stale()).toContain("log-mappings");
  refetch(queries, "everything");
  expect(stale()).toEqual(["packs", "runs a", "readings a", "readings b", "logbook", "log-mappings"]);
});

test("one tab holds the stream, tells the others, and opens it anew where it broke or the machine slept", async () => {
  const { queries, stale } = client();
  const heard: string[] = [];
  const other = new BroadcastChannel("rumek.changes");
  other.addEventListener("message", ({ data }: MessageEvent<string>) => heard.push(data));
  let held: Promise<never> | undefined;
  vi.stubGlobal("navigator", { locks: { request: (_: string, hold: () => Promise<never>) => (held = hold()) } });
  followChanges(queries);
  expect([held !== undefined, last().url]).toEqual([true, "/api/changes"]);
  last().say("packs");
  await vi.waitFor(() => {
    expect(heard).toEqual(["packs"]);
  });
  expect(stale()).toEqual(["packs"]);
  last().dispatchEvent(new Event("error"));
  expect(last().closed).toBe(true);
  vi.advanceTimersByTime(2000);
  expect(Stream.all.length).toBe(2);
  vi.advanceTimersByTime(60_000);
  expect(Stream.all.length, "a quiet minute is no sleep").toBe(2);
  vi.setSystemTime(Date.now() + 3_600_000);
  vi.advanceTimersByTime(10_001);
  expect(Stream.all.length, "an hour between two ticks is").toBe(3);
  other.close();
});
