import { expect, test } from "vitest";
import { layout } from "./layout";

const base = { stageA: [3, 4], weights: [1, 1], widestA: 4, narrowestA: 3, flowA: 3, teeA: 0, width: 600, height: 120 };

test("widths are amps to one scale, and the flow fills the narrowest", () => {
  const shape = layout(base);
  const [source, pack] = shape.stages;
  expect((source?.half ?? 0) / (pack?.half ?? 1)).toBeCloseTo(3 / 4);
  expect(shape.flowHalf).toBeCloseTo(source?.half ?? 0);
  expect(shape.ruler.length / (2 * (pack?.half ?? 1))).toBeCloseTo(shape.ruler.amps / 4);
});

test("a stage far wider than the narrowest is cut off rather than making that one a hair", () => {
  const shape = layout({ ...base, stageA: [200, 1], widestA: 200, narrowestA: 1, flowA: 1 });
  expect(shape.stages.map((stage) => stage.clipped)).toEqual([true, false]);
  expect(shape.stages[1]?.half).toBeGreaterThan(8);
});

test("what a load takes leaves before the pack", () => {
  expect(layout(base).tee).toBeUndefined();
  expect(layout({ ...base, flowA: 2, teeA: 1 }).tee).toMatch(/^M/);
});

test("nothing flowing draws finite paths", () => {
  const shape = layout({ ...base, stageA: [0, 0], widestA: 0, narrowestA: 0, flowA: 0 });
  expect(`${shape.wall}${shape.flow}`).not.toMatch(/NaN|Infinity/);
});

test("stages take their share of the length", () => {
  const shape = layout({ ...base, stageA: [3, 5, 4], weights: [1, 0.5, 1] });
  expect(shape.stages.map((stage) => stage.to)).toEqual([240, 360, 600]);
});
