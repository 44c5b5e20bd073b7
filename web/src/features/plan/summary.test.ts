import { expect, test } from "vitest";
import { result } from "../../testing/result";
import { summary } from "./Summary";

const end = (reason: "stalled" | "refused" | "discharging" | "goal_below_start", fill_voltage_v: number | null = null) => ({
  end: { soc: 0.63, after_s: 18_000, reason, fill_voltage_v },
});

test("a charge that ends says when, when 80 % is reached and what holds it up", () => {
  expect(summary(result())).toEqual(["full in 1 h 00", "80 % in 30 min", "limited by the pack's rate"]);
});

test("one that does not says why and what would help", () => {
  expect(summary(result(end("stalled", 14.6)))).toEqual(["stalls at 63 %", "14.6 V would fill it"]);
  expect(summary(result(end("refused")))).toEqual(["no settings: a stop stands"]);
  expect(summary(result({ ...end("discharging"), settings: null }))).toEqual(["runs for 5 h 00"]);
  expect(summary(result(end("discharging")))).toEqual(["runs down in 5 h 00"]);
  expect(summary(result(end("goal_below_start")))).toEqual(["it already holds more than the goal"]);
});
