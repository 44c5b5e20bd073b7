import { beforeEach, expect, test, vi } from "vitest";
import { OfflineError, ProblemError } from "../../api/client";

const kept = vi.hoisted(() => ({ all: [] as unknown[] }));
vi.mock("idb-keyval", () => ({
  get: () => Promise.resolve(kept.all),
  update: (_: string, how: (all: unknown[]) => unknown[]) => {
    kept.all = how(kept.all);
    return Promise.resolve();
  },
}));
const server = vi.hoisted(() => ({ put: vi.fn<(id: string) => unknown>(), get: vi.fn<() => unknown>() }));
vi.mock("../../api/client", async (actual) => ({
  ...(await actual<typeof import("../../api/client")>()),
  api: {
    PUT: (_: string, { params }: { params: { path: { client_id: string } } }) => server.put(params.path.client_id),
    GET: () => server.get(),
  },
  answered: (value: unknown) => (value instanceof Error ? Promise.reject(value) : Promise.resolve(value)),
}));
const { MOST_TRIES, retry, send } = await import("./outbox");

type Kept = { id: string; tries?: number; refused?: string };
const now = () => kept.all as Kept[];
const reading = (id: string) => ({ run: "r", id, taken_at: "2026-11-25T09:00:00Z", reading: { terminal_v: 22 } });
const problem = (status: number) =>
  new ProblemError({ type: "", title: "", status, detail: "no", problems: status === 422 ? [{ pointer: "/taken_at", message: "no reading was taken then", allowed: "" }] : [] });

beforeEach(() => {
  vi.useFakeTimers();
  kept.all = [reading("bad"), reading("good")];
  server.put.mockReset();
  server.get.mockReset().mockReturnValue([]);
});

test("one that gets no answer keeps none of the others waiting, and is set aside after ten tries", async () => {
  server.put.mockImplementation((id) => (id === "bad" ? problem(500) : {}));
  await send(() => undefined);
  expect(now()).toEqual([{ ...reading("bad"), tries: 1 }]);
  for (let k = 2; k < MOST_TRIES; k++) await send(() => undefined);
  expect(now()[0]).toMatchObject({ tries: MOST_TRIES - 1 });
  expect(now()[0]?.refused).toBeUndefined();
  await send(() => undefined);
  expect(now()[0]?.refused).toContain("no answer to it ten times");
  const sent = server.put.mock.calls.length;
  await send(() => undefined);
  expect(server.put.mock.calls.length).toBe(sent);
  server.put.mockReturnValue({});
  await retry("bad", () => undefined);
  expect(now()).toEqual([]);
});

test("a server that is away, or whose database is, counts no tries and keeps everything", async () => {
  server.put.mockReturnValue(new OfflineError("away"));
  server.get.mockReturnValue(new OfflineError("away"));
  for (let k = 0; k < 2 * MOST_TRIES; k++) await send(() => undefined);
  server.put.mockReturnValue(problem(503));
  server.get.mockReturnValue(problem(503));
  await send(() => undefined);
  expect(now()).toEqual([reading("bad"), reading("good")]);
});

test("a refused one says in words what was wrong, and the next is sent", async () => {
  server.put.mockImplementation((id) => (id === "bad" ? problem(422) : {}));
  await send(() => undefined);
  expect(now()).toEqual([{ ...reading("bad"), refused: "Taken at: no reading was taken then" }]);
});

test("what the server has stays here until it is fetched, and not for ever", async () => {
  server.put.mockReturnValue({});
  kept.all = [reading("good")];
  let fetched: () => void = () => undefined;
  const sending = send(() => new Promise<void>((done) => (fetched = done)));
  await vi.advanceTimersByTimeAsync(1900);
  expect(now()).toEqual([reading("good")]);
  fetched();
  await sending;
  expect(now()).toEqual([]);
  kept.all = [reading("good")];
  const never = send(() => new Promise<void>(() => undefined));
  await vi.advanceTimersByTimeAsync(2100);
  await never;
  expect(now()).toEqual([]);
});
