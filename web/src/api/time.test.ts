import { expect, test, vi } from "vitest";

const server = vi.hoisted(() => ({ now: undefined as string | undefined }));
vi.mock("./client", () => ({
  api: { GET: () => server },
  answered: ({ now }: { now: string | undefined }) => (now === undefined ? Promise.reject(new Error("away")) : Promise.resolve({ now })),
}));

const { atServer, clockOffset, measureClock } = await import("./time");

test("a clock that is ahead is put right, and stays so while the server is away", async () => {
  expect(clockOffset()).toBe(0);
  server.now = new Date(Date.now() - 7_200_000).toISOString();
  await measureClock();
  expect(Math.abs(clockOffset() - 7_200_000)).toBeLessThan(1000);
  const then = server.now;
  server.now = undefined;
  await measureClock();
  expect(Math.abs(atServer(new Date()).getTime() - Date.parse(then))).toBeLessThan(2000);
});
