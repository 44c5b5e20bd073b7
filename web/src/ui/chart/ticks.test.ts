import { expect, test } from "vitest";
import { spreadLabels, timeTicks } from "./ticks";

const times = (...of: Parameters<typeof timeTicks>) => timeTicks(...of).map(({ t_s }) => t_s);
const words = (...of: Parameters<typeof timeTicks>) => timeTicks(...of).map((tick) => tick.words);

test("times are round, start at the start and leave each other room", () => {
  expect(times(4500, 680)).toEqual([0, 900, 1800, 2700, 3600, 4500]);
  expect(times(4500, 210)).toEqual([0, 3600]);
  expect(times(20 * 86_400, 680).length).toBeLessThanOrEqual(8);
  expect(times(0, 680)).toEqual([0]);
  expect(times(3600, 420, -4000)).toEqual([-3600, -1800, 0, 1800, 3600]);
  expect(words(7200, 300, -3600)).toEqual(["−1 h", "0 min", "1 h", "2 h"]);
  expect(words(3670, 300, 3650)).toEqual(["1:00:50", "1:01:00", "1:01:10"]);
});

test("labels never lie on each other and keep their order", () => {
  const spread = spreadLabels([{ y: 40 }, { y: 38 }, { y: 100 }]);
  expect(spread).toEqual([{ y: 38 }, { y: 53 }, { y: 100 }]);
});
