import { expect, test } from "vitest";
import { valueAt, withValue } from "./pointer";

const plan = { name: "Tow", pack: { series: 6, bms: { max_charge_a: 5 } } };

test("a value is found and changed without touching the rest", () => {
  expect(valueAt(plan, "/pack/bms/max_charge_a")).toBe(5);
  expect(valueAt(plan, "/source/kind")).toBeUndefined();
  const next = withValue(plan, "/pack/series", 5);
  expect(next.pack).toEqual({ series: 5, bms: { max_charge_a: 5 } });
  expect(plan.pack.series).toBe(6);
});

test("taking the last value out takes its holder along", () => {
  expect(withValue(plan, "/pack/bms/max_charge_a", undefined).pack).toEqual({ series: 6 });
  expect(withValue({}, "/settings/voltage_v", 25)).toEqual({ settings: { voltage_v: 25 } });
});
