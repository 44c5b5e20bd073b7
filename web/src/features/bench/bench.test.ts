import { expect, test, vi } from "vitest";
import { claimed } from "./alarm";
import { countdown } from "./countdown";

test("a look is counted down to the second, and stays due", () => {
  expect(countdown(19 * 60_000 + 52_400)).toEqual({ text: "19:53", due: false });
  expect(countdown(2 * 3600_000 + 1)).toEqual({ text: "2 h 01", due: false });
  expect(countdown(-30_000)).toEqual({ text: "Look now", due: true });
  expect(countdown(-12.5 * 60_000)).toEqual({ text: "Look now", due: true, late: "12 min" });
});

test("a look is told by one tab, once", async () => {
  const locks = { request: (_: string, held: () => boolean) => Promise.resolve(held()) };
  vi.stubGlobal("navigator", { locks });
  localStorage.clear();
  const tabs = await Promise.all([claimed("run 1 at 9"), claimed("run 1 at 9"), claimed("run 1 at 10")]);
  expect(tabs).toEqual([true, false, true]);
  for (let n = 0; n < 60; n++) await claimed(`run 2 at ${n}`);
  expect([await claimed("run 2 at 59"), await claimed("run 1 at 9")]).toEqual([false, true]);
  vi.unstubAllGlobals();
});
