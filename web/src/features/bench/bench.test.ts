import { expect, test } from "vitest";
import { countdown } from "./countdown";

test("a look is counted down to the second, and stays due", () => {
  expect(countdown(19 * 60_000 + 52_400)).toEqual({ text: "19:53", due: false });
  expect(countdown(2 * 3600_000 + 1)).toEqual({ text: "2 h 01", due: false });
  expect(countdown(-30_000)).toEqual({ text: "Look now", due: true });
  expect(countdown(-12.5 * 60_000)).toEqual({ text: "Look now", due: true, late: "12 min" });
});
