import { expect, test } from "vitest";
import { spreadLabels, timeTicks } from "./ticks";

test("times are round, start at the start and leave each other room", () => {
  expect(timeTicks(4500, 680)).toEqual([0, 900, 1800, 2700, 3600, 4500]);
  expect(timeTicks(4500, 210)).toEqual([0, 3600]);
  expect(timeTicks(20 * 86_400, 680).length).toBeLessThanOrEqual(8);
  expect(timeTicks(0, 680)).toEqual([0]);
  expect(timeTicks(3600, 420, -4000)).toEqual([-3600, -1800, 0, 1800, 3600]);
});

test("labels never lie on each other and keep their order", () => {
  const spread = spreadLabels([{ y: 40 }, { y: 38 }, { y: 100 }]);
  expect(spread).toEqual([{ y: 38 }, { y: 53 }, { y: 100 }]);
});
