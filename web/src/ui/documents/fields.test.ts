import { expect, test } from "vitest";
import { readVoltages } from "./fields";

test.each([
  ["3.74 3.75 3.74", [3.74, 3.75, 3.74]],
  ["3.74, 3.75,3.74", [3.74, 3.75, 3.74]],
  ["3,74 3,75", [3.74, 3.75]],
  ["3,74; 3,75 V", [3.74, 3.75]],
  ["3.74V -0.2", [3.74, -0.2]],
  ["3.74 x", undefined],
])("%j", (text, volts) => {
  expect(readVoltages(text)).toEqual(volts);
});

test("every cell the same is written once", () => {
  expect(readVoltages("6x3.72")).toEqual([3.72, 3.72, 3.72, 3.72, 3.72, 3.72]);
  expect(readVoltages("3 × 3,7 V")).toEqual([3.7, 3.7, 3.7]);
});
